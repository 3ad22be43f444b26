"""Lists in other open formats than text: workbooks (ISO 29500), JSON Lines, Parquet. Every cell becomes text."""

from __future__ import annotations

import datetime
import json
import zipfile
from pathlib import Path
from typing import Any

import pyarrow as pa
import pyarrow.compute as pc

from brujula.errors import InputError
from brujula.intake.read import RawList, header_row, headings, limit
from brujula.problems import Problem

_MOST_UNPACKED = 4 << 30
_MOST_RATIO = 300  # a workbook that unpacks to more than this many times its size is a bomb


def read_workbook(path: Path, sheet: str | None, told: int | None) -> RawList:
    """The chosen sheet, or the first visible one with rows; the others are named. told : the header's row, from 1.

    Raises InputError for a file that is no workbook, is locked with a password, unpacks too large, or lacks the sheet.
    """
    import python_calamine as calamine

    _check_size(path)
    try:
        book = calamine.CalamineWorkbook.from_path(str(path))
    except calamine.PasswordError:
        raise InputError(f"{path}: the workbook is locked with a password; save it without one") from None
    except calamine.CalamineError as error:
        raise InputError(f"{path}: not a workbook that can be read ({error}); save it as .xlsx again, or as .csv") from None
    visible = [m.name for m in book.sheets_metadata if m.visible == calamine.SheetVisibleEnum.Visible] or book.sheet_names
    if sheet and sheet not in book.sheet_names:
        raise InputError(f'{path}: no sheet "{sheet}"; it has {", ".join(book.sheet_names)}')
    filled = {name: book.get_sheet_by_name(name).to_python(skip_empty_area=False) for name in ([sheet] if sheet else visible)}
    chosen = sheet or next((n for n, rows in filled.items() if any(any(_text(c).strip() for c in row) for row in rows)), "")
    if not chosen:
        raise InputError(f"{path}: every sheet is empty; accepted: a header row, then a row for each record")
    rows = [[_text(cell) for cell in row] for row in filled[chosen]]
    at = header_row(str(path), list(enumerate(rows, 1)), told)
    names = headings(_without_empty_end(rows[at]))
    body = [row[: len(names)] for row in rows[at + 1 :] if any(c.strip() for c in row)]
    notes = [f'sheet "{chosen}"']
    if at:
        notes.append(f"header found in row {at + 1}; {at} row{'s' * (at > 1)} above it passed over")
    others = [n for n in book.sheet_names if n != chosen]
    if others:
        notes.append(f"not read: {', '.join(others)} (list.sheet in a policy chooses another)")
    return RawList(str(path), _columns(names, body), tuple(notes))


def _check_size(path: Path) -> None:
    if not zipfile.is_zipfile(path):
        return
    with zipfile.ZipFile(path) as packed:
        size = sum(info.file_size for info in packed.infolist())
    if size > _MOST_UNPACKED or size > _MOST_RATIO * max(path.stat().st_size, 1 << 16):
        raise InputError(f"{path}: unpacks to {size >> 20:,} MiB, more than a list would; it is not read")


def _without_empty_end(cells: list[str]) -> list[str]:
    while cells and not cells[-1].strip():
        cells = cells[:-1]
    return cells


def _text(value: Any) -> str:
    """A cell as text: whole numbers without decimals, dates in ISO 8601."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "TRUE" if value else "FALSE"
    if isinstance(value, float):
        return str(int(value)) if value.is_integer() and abs(value) < 1e15 else repr(value)
    if isinstance(value, datetime.datetime):
        return value.date().isoformat() if value.time() == datetime.time() else value.isoformat(sep=" ")
    return str(value)


def _columns(names: list[str], rows: list[list[str]]) -> pa.Table:
    width = len(names)
    padded = (row + [""] * (width - len(row)) for row in rows)
    columns = list(zip(*padded, strict=True)) if rows else [()] * width
    return pa.table({n: pa.array(c, pa.large_string()) for n, c in zip(names, columns, strict=True)})


def read_json_lines(path: Path, data: bytes) -> RawList:
    """One object a line; nested values stay JSON text. A line that cannot be read is rejected, with its text.

    Raises InputError when no line holds an object.
    """
    names: dict[str, None] = {}
    records: list[dict[str, str]] = []
    problems = []
    for line in data.decode("utf-8-sig", "replace").splitlines():
        if not line.strip():
            continue
        try:
            value = json.loads(line)
        except ValueError:
            value = None
        if not isinstance(value, dict):
            problems.append(Problem("bad-line", len(records) + 1, value=limit(line), fatal=True))
            value = {}
        record = {
            str(k): v if isinstance(v, str) else "" if v is None else json.dumps(v, ensure_ascii=False) for k, v in value.items()
        }
        names |= dict.fromkeys(record)
        records.append(record)
    if not names:
        raise InputError(f"{path}: no line holds a JSON object; accepted: one object a line")
    table = pa.table({n: pa.array([r.get(n, "") for r in records], pa.large_string()) for n in names})
    return RawList(str(path), table, ("JSON Lines, utf-8",), tuple(problems))


def read_parquet(path: Path) -> RawList:
    """All columns as text. Raises InputError for a file that is no Parquet file, or holds nested columns."""
    import pyarrow.parquet as pq

    try:
        table = pq.read_table(path)
    except (pa.ArrowInvalid, pa.ArrowNotImplementedError, OSError) as error:
        raise InputError(f"{path}: not a Parquet file that can be read ({str(error).splitlines()[0]})") from None
    columns = {}
    for name, column in zip(headings(table.column_names), table.columns, strict=True):
        if pa.types.is_floating(column.type):
            text = [None if v is None else _text(v) for v in column.to_pylist()]
            columns[name] = pa.array(text, pa.large_string()).fill_null("")
            continue
        try:
            columns[name] = pc.cast(column, pa.large_string()).fill_null("").combine_chunks()
        except (pa.ArrowInvalid, pa.ArrowNotImplementedError):
            raise InputError(
                f'{path}, column "{name}": {column.type} cannot be read as text; accepted: text, numbers, dates'
            ) from None
    return RawList(str(path), pa.table(columns), ("Parquet",))
