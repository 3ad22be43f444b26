"""Workbooks (ISO 29500, and OpenDocument): the chosen sheet as text, dates as ISO 8601, formulas by their last value."""

from __future__ import annotations

import datetime
import re
import zipfile
from collections.abc import Sequence
from pathlib import Path
from typing import Any

import numpy as np

from brujula.errors import InputError
from brujula.intake import no_records, raw
from brujula.intake.raw import RawList
from brujula.policy.model import ListPolicy

_Cell = tuple[int, int]
_MOST_UNPACKED = 4 << 30
_MOST_RATIO = 300  # a workbook that unpacks to more than this many times its size is a bomb


def read_workbook(path: Path, how: ListPolicy) -> RawList:
    """The chosen sheet, or the first visible one with rows; the others are named, and so are hidden rows.

    Raises InputError for a file that is no workbook, is locked with a password, unpacks too large, or lacks the sheet.
    """
    import python_calamine as calamine

    _check_size(path)
    sheet = how.sheet
    try:
        book = calamine.CalamineWorkbook.from_path(str(path))
        visible = [m.name for m in book.sheets_metadata if m.visible == calamine.SheetVisibleEnum.Visible] or book.sheet_names
        if sheet and sheet not in book.sheet_names:
            raise InputError(f'{path}: no sheet "{sheet}"; it has {", ".join(book.sheet_names)}')
        wanted = [sheet] if sheet else visible
        sheets = {name: book.get_sheet_by_name(name) for name in wanted}
        filled = {name: found.to_python(skip_empty_area=False) for name, found in sheets.items()}
    except calamine.PasswordError:
        raise InputError(f"{path}: the workbook is locked with a password; save it without one") from None
    except (InputError, KeyboardInterrupt, SystemExit):
        raise
    # The reader is compiled code; what it makes of a damaged file is not all of one class, nor all an Exception.
    except BaseException as error:
        message = str(error).splitlines()[0][:120] if str(error) else type(error).__name__
        raise InputError(f"{path}: not a workbook that can be read ({message}); save it as .xlsx again, or as .csv") from None
    chosen = sheet or next((n for n, rows in filled.items() if any(any(cell_text(c).strip() for c in row) for row in rows)), "")
    if not chosen or not filled[chosen]:
        raise InputError(f"{path}: every sheet is empty; accepted: a header row, then a row for each record")
    rows = [[cell_text(cell) for cell in row] for row in filled[chosen]]
    at, cells, first = raw.header(str(path), list(enumerate(rows, 1)), how.header_row)
    names = raw.headings(str(path), cells if first == at else _without_empty_end(cells))
    notes = [f'sheet "{chosen}"']
    notes += raw.above(at + 1, at, first - at, "row")
    others = [n for n in book.sheet_names if n != chosen]
    notes += _filled_down(rows, names, first, sheets[chosen].merged_cell_ranges or [])
    if others:
        notes.append(f"not read: {', '.join(others)} (list.sheet in a policy chooses another)")
    hidden = [r for r in _hidden_rows(path, chosen) if first < r <= len(rows)]
    if hidden:
        shown = ", ".join(map(str, hidden[:5])) + (", ..." if len(hidden) > 5 else "")
        notes.append(f"{len(hidden):,} hidden row{'s' * (len(hidden) > 1)} read like the others: {shown}")
    beyond = sum(any(c.strip() for c in row[len(names) :]) for row in rows[first:])
    if beyond:
        notes.append(f"{beyond:,} row{'s' * (beyond > 1)} with cells right of the last heading; those cells were left out")
    lines = np.arange(first + 1, len(rows) + 1)
    found = RawList(str(path), raw.text_table(names, rows[first:]), tuple(notes), (), lines, f'sheet "{chosen}", row')
    return no_records.told(raw.without_blank_rows(found))


def _check_size(path: Path) -> None:
    if not zipfile.is_zipfile(path):
        return
    try:
        with zipfile.ZipFile(path) as packed:
            size = sum(info.file_size for info in packed.infolist())
    except (zipfile.BadZipFile, NotImplementedError, ValueError) as error:
        raise InputError(f"{path}: not a workbook that can be read ({error}); save it as .xlsx again, or as .csv") from None
    if size > _MOST_UNPACKED or size > _MOST_RATIO * max(path.stat().st_size, 1 << 16):
        raise InputError(f"{path}: unpacks to {size >> 20:,} MiB, more than a list would; it is not read")


def _filled_down(rows: list[list[str]], names: list[str], first: int, merged: Sequence[tuple[_Cell, _Cell]]) -> list[str]:
    """Cells merged over several rows say the same of each: of those that have a cell of their own. A note says which.

    Where names or mail addresses are, the rows are one person's, who is not to become several.
    merged : first and last row and column of each, from 0
    """
    inside = ((top, min(bottom, len(rows) - 1), column) for (top, column), (bottom, _) in merged if column < len(names))
    tall = [(top, bottom, column) for top, bottom, column in inside if first <= top < bottom]
    if not tall:
        return []
    # What headings mean is asked for here only: it takes the compiler along.
    from brujula.intake.meanings import of_a_name

    if any("@" in rows[top][column] or of_a_name(names[column]) for top, _, column in tall):
        return []
    filled = set()
    for top, bottom, column in tall:
        for at in range(top + 1, bottom + 1) if rows[top][column].strip() else ():
            if any(cell.strip() for cell in rows[at]):
                rows[at][column] = rows[top][column]
                filled.add((at, column))
    below, columns = {at for at, _ in filled}, sorted({column for _, column in filled})
    said = ", ".join(f'"{names[column]}"' for column in columns)
    return [f"{said} in cells merged over several rows: said of the {len(below):,} rows below as well"] if filled else []


def _hidden_rows(path: Path, sheet: str) -> list[int]:
    """Rows of a sheet that do not show when it is opened; none for formats other than ISO 29500."""
    import xml.etree.ElementTree as ET

    try:
        with zipfile.ZipFile(path) as packed:
            book = ET.fromstring(packed.read("xl/workbook.xml"))
            links = ET.fromstring(packed.read("xl/_rels/workbook.xml.rels"))
            target = {link.get("Id"): link.get("Target", "") for link in links}
            part = next(e for e in book.iter() if e.tag.endswith("}sheet") and e.get("name") == sheet)
            relation = next((v for k, v in part.attrib.items() if k.endswith("}id")), "")
            data = packed.read("xl/" + target[relation].removeprefix("/xl/"))
    except (zipfile.BadZipFile, KeyError, StopIteration, ET.ParseError):
        return []
    tags = re.findall(rb"<row\b[^>]*\bhidden=\"(?:1|true)\"[^>]*>", data)
    return [int(m[1]) for m in (re.search(rb"\br=\"(\d+)\"", tag) for tag in tags) if m]


def _without_empty_end(cells: list[str]) -> list[str]:
    while cells and not cells[-1].strip():
        cells = cells[:-1]
    return cells


def cell_text(value: Any) -> str:
    """A typed value as text: whole numbers without decimals, dates in ISO 8601."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "TRUE" if value else "FALSE"
    if isinstance(value, float):
        return str(int(value)) if value.is_integer() and abs(value) < 1e15 else repr(value)
    if isinstance(value, datetime.datetime):
        return value.date().isoformat() if value.time() == datetime.time() else value.isoformat(sep=" ")
    return str(value)
