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
from brujula.intake import merged, no_records, raw
from brujula.intake.raw import RawList
from brujula.policy.model import ListPolicy

ALL = "*"
"""What a policy calls all sheets under the headings of the first."""
_SHEET = "Sheet"
_MOST_UNPACKED = 4 << 30
_MOST_RATIO = 300  # a workbook that unpacks to more than this many times its size is a bomb


def read_workbook(path: Path, how: ListPolicy) -> RawList:
    """The chosen sheet, or the first visible one with rows, but for one of instructions; the others are named, and so are hidden rows.

    Of all sheets (`*`) those are read that have the headings of the first; a column says which sheet a row is from.
    Raises InputError for a file that is no workbook, is locked with a password, unpacks too large, or lacks the sheet.
    """
    _check_size(path)
    every, filled, spans = _opened(path, how.sheet if how.sheet != ALL else None)
    with_rows = [name for name, rows in filled.items() if any(any(cell.strip() for cell in row) for row in rows)]
    if not with_rows:
        raise InputError(f"{path}: every sheet is empty; accepted: a header row, then a row for each record")
    chosen = with_rows[0] if len(with_rows) == 1 or how.header_row is not None else _of_records(filled, with_rows)
    at, cells, first = raw.header(str(path), list(enumerate(filled[chosen], 1)), how.header_row)
    names = raw.headings(str(path), cells if first == at else _without_empty_end(cells))
    others = {name: rows for name, rows in filled.items() if name != chosen and first > at}
    same = {name: raw.rows_above(str(path), rows, cells, how.header_row) for name, rows in others.items()}
    alike = [name for name, n in same.items() if n]
    parts = {chosen: first} | {name: same[name] for name in alike if how.sheet == ALL}
    quoted = ", ".join(f'"{name}"' for name in parts)
    notes = [f"sheet{'s' * (len(parts) > 1)} {quoted}", *raw.above(at + 1, at, first - at, "row")]
    for name, n in parts.items():
        said = _said_of_rows(path, name, filled[name], names, n, spans[name])
        notes += [f'in "{name}" {note}' if len(parts) > 1 else note for note in said]
    if unread := [name for name in every if name not in parts]:
        all_alike = "" if how.sheet == ALL or not alike else f'; "{ALL}" reads all under the same headings'
        notes.append(f"not read: {', '.join(unread)} (list.sheet in a policy chooses another{all_alike})")
    rows = [row for name, n in parts.items() for row in filled[name][n:]]
    if how.sheet == ALL:
        names = raw.headings(str(path), [*names, _SHEET])
        width = len(names) - 1
        of_sheet = [name for name, n in parts.items() for _ in filled[name][n:]]
        rows = [[*row[:width], *[""] * (width - len(row)), name] for row, name in zip(rows, of_sheet, strict=True)]
    places = tuple(f'sheet "{name}", row' for name in parts)
    lines = [raw.in_part(at, np.arange(n + 1, len(filled[name]) + 1)) for at, (name, n) in enumerate(parts.items())]
    found = RawList(str(path), raw.text_table(names, rows), tuple(notes), (), np.concatenate(lines), places)
    return no_records.told(raw.without_blank_rows(found))


def _of_records(filled: dict[str, list[list[str]]], with_rows: Sequence[str]) -> str:
    """The first sheet, but the first longer one under headings that are known where those of the first are not: it may say how to fill in the others."""
    from brujula.intake.two_rows import are_headings

    def is_list(name: str) -> bool:
        _, cells, _ = raw.header(name, list(enumerate(filled[name][: raw.LOOKED_AT], 1)), None)
        return sum(bool(c) for c in cells) > 1 and are_headings(cells)

    first, *others = with_rows
    longer = (name for name in others if len(filled[name]) > len(filled[first]) and is_list(name))
    return first if is_list(first) else next(longer, first)


def _opened(
    path: Path, sheet: str | None
) -> tuple[list[str], dict[str, list[list[str]]], dict[str, list[tuple[merged.Cell, merged.Cell]]]]:
    """The names of all sheets; the cells of the one wanted, or of those that show, and what is merged in them."""
    import python_calamine as calamine

    try:
        # By its name a workbook of today that is called .xls would be taken for an old one.
        with path.open("rb") as stream:
            book = calamine.CalamineWorkbook.from_filelike(stream)
        visible = [m.name for m in book.sheets_metadata if m.visible == calamine.SheetVisibleEnum.Visible] or book.sheet_names
        if sheet and sheet not in book.sheet_names:
            raise InputError(f'{path}: no sheet "{sheet}"; it has {", ".join(book.sheet_names)}')
        sheets = {name: book.get_sheet_by_name(name) for name in ([sheet] if sheet else visible)}
        filled = {
            name: [[cell_text(cell) for cell in row] for row in found.to_python(skip_empty_area=False)]
            for name, found in sheets.items()
        }
    except calamine.PasswordError:
        raise InputError(f"{path}: the workbook is locked with a password; save it without one") from None
    except (InputError, KeyboardInterrupt, SystemExit):
        raise
    # The reader is compiled code; what it makes of a damaged file is not all of one class, nor all an Exception.
    except BaseException as error:
        message = str(error).splitlines()[0][:120] if str(error) else type(error).__name__
        raise InputError(f"{path}: not a workbook that can be read ({message}); save it as .xlsx again, or as .csv") from None
    return book.sheet_names, filled, {name: found.merged_cell_ranges or [] for name, found in sheets.items()}


def _said_of_rows(
    path: Path, name: str, rows: list[list[str]], names: list[str], first: int, spans: Sequence[tuple[merged.Cell, merged.Cell]]
) -> list[str]:
    """What is to be said of a sheet's rows; what is merged over several of them is filled in. first : how many stand above"""
    notes = merged.filled_down(rows, names, first, spans)
    hidden = [r for r in _hidden_rows(path, name) if first < r <= len(rows)]
    if hidden:
        shown = ", ".join(map(str, hidden[:5])) + (", ..." if len(hidden) > 5 else "")
        notes.append(f"{len(hidden):,} hidden row{'s' * (len(hidden) > 1)} read like the others: {shown}")
    beyond = sum(any(c.strip() for c in row[len(names) :]) for row in rows[first:])
    if beyond:
        notes.append(f"{beyond:,} row{'s' * (beyond > 1)} with cells right of the last heading; those cells were left out")
    return notes


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
