"""review.xlsx: one line a pair, side by side, with a drop-down for the decision; everything else is locked."""

from __future__ import annotations

from datetime import UTC, datetime
from pathlib import Path

import pyarrow as pa

_WHEN = datetime(2000, 1, 1, tzinfo=UTC).replace(tzinfo=None)  # the same plan gives the same bytes on any day
_HELP = (
    "Choose same or different in the column decision; leave it empty where you do not know. A remark is kept with the decision.",
    "Sort and filter as you like. Then: brujula review {folder} --take {file}",
)


def write_workbook(table: pa.Table, path: Path, folder: str) -> None:
    """The open pairs as a workbook (ISO 29500). Cells are text: nothing in them is evaluated."""
    import xlsxwriter

    with xlsxwriter.Workbook(
        str(path), {"strings_to_formulas": False, "strings_to_urls": False, "strings_to_numbers": False}
    ) as book:
        book.set_properties({"created": _WHEN})
        sheet, how_to = book.add_worksheet("open pairs"), book.add_worksheet("how to")
        head = book.add_format({"bold": True, "bottom": 1, "bg_color": "#eef1f4", "text_wrap": True, "valign": "top"})
        locked = book.add_format({"num_format": "@", "valign": "top", "text_wrap": True})
        differs = book.add_format({"num_format": "@", "valign": "top", "text_wrap": True, "bg_color": "#fbe9d0"})
        free = book.add_format({"num_format": "@", "valign": "top", "text_wrap": True, "locked": False, "bg_color": "#fffbe0"})
        names = table.column_names
        for c, name in enumerate(names):
            sheet.write_string(0, c, name, head)
        sides = [
            name.rpartition(" (")[0] if name.endswith((" (left)", " (right)")) and name[:6] != "seen (" else "" for name in names
        ]
        for r, line in enumerate(table.to_pylist(), 1):
            apart = {side for side in {*sides} - {""} if _differ(line, side)}
            for c, (name, side) in enumerate(zip(names, sides, strict=True)):
                if name in ("decision", "remark"):
                    sheet.write(r, c, line[name] or None, free)
                elif line[name] or line[name] == 0:
                    sheet.write_string(r, c, str(line[name]), differs if side in apart else locked)
        last = max(table.num_rows, 1)
        at = names.index("decision")
        sheet.data_validation(
            1, at, last, at, {"validate": "list", "source": ["same", "different"], "error_message": "same, different, or nothing"}
        )
        sheet.autofilter(0, 0, last, len(names) - 1)
        sheet.freeze_panes(1, at + 2)
        for c, name in enumerate(names):
            sheet.set_column(
                c,
                c,
                30 if name == "reason" else 12 if name in ("left", "right", "decision", "probability") else 18,
                free if name in ("decision", "remark") else locked,
                {"hidden": name.startswith("seen (")},
            )
        sheet.protect(options={"sort": True, "autofilter": True, "format_columns": True, "format_rows": True})
        for r, text in enumerate(_HELP):
            how_to.write_string(r, 0, text.format(folder=folder, file=path.name))
        how_to.set_column(0, 0, 100)


def _differ(line: dict[str, str], field: str) -> bool:
    left, right = line.get(f"{field} (left)") or "", line.get(f"{field} (right)") or ""
    return bool(left and right) and left.strip().lower() != right.strip().lower()
