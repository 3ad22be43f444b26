"""A list as it was read, and what every format shares: limits, the header row, headings, rows that are none."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from itertools import zip_longest

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.errors import InputError
from brujula.intake import twice
from brujula.problems import Problem

BY_PLACE = re.compile(r"column \d+")
"""What a column is called whose heading is blank."""
MOST_BYTES = 8 << 30
MOST_CELL = 1 << 20  # characters: a longer cell is a damaged file, not a value
MOST_COLUMNS = 4_096
_PART = 1 << 40  # lines: no part of a list has more
LOOKED_AT = 60
"""Rows among which headings are."""
_NEAR_THE_TOP = 15
_VALUES_LOOKED_AT = 5_000
_NUMBER = re.compile(r"[-+\d.,\s%$€£]*$")


@dataclass(frozen=True)
class RawList:
    """A list as it was read.

    name     : how messages call it
    table    : every column as text, cells verbatim, headings as they stand
    notes    : what was taken for what, for the steward to see
    problems : rows that were short, too long or could not be read
    lines    : int64[rows], the line of the file (row of the sheet) on which each data row begins; None where not known
    place    : "line" or "row", what `lines` counts; of a list in several parts what each of them counts (`in_part`)
    """

    name: str
    table: pa.Table
    notes: tuple[str, ...] = ()
    problems: tuple[Problem, ...] = field(default=())
    lines: NDArray[np.int64] | None = None
    place: str | tuple[str, ...] = "line"

    def place_of(self, row: int) -> str:
        """Where a data row (from 1) stands in the file: `line 14`; its number where the line is not known."""
        if self.lines is None:
            return f"row {row}"
        part, line = divmod(int(self.lines[row - 1]), _PART)
        return f"{self.place if isinstance(self.place, str) else self.place[part]} {line}"


def in_part(part: int, lines: NDArray[np.int64]) -> NDArray[np.int64]:
    """Lines of one of the parts of a list, from 0, as `RawList.lines` has them."""
    return lines + part * _PART


def limit(text: str, most: int = 80) -> str:
    """A text cut for a message."""
    return text if len(text) <= most else text[: most - 1] + "…"


def header(name: str, rows: list[tuple[int, list[str]]], told: int | None) -> tuple[int, list[str], int]:
    """Index of the header among the first rows, each with its line number; its cells; and the index of the first row of values.
    Headings in two rows are made one; of rows that say the same of each column those that are known are taken.

    told : the line the policy says; 0 = there is none, then its cells are blank and the first row as wide as a header holds values.
    Raises InputError when it is a line the file does not have.
    """
    chosen = _header_row(name, rows, told or None)
    cells = rows[chosen][1]
    if told == 0:
        return chosen, [""] * len(cells), chosen
    for at in (chosen, chosen - 1) if not told else ():
        if 0 <= at < len(rows) - 1 and fills_gaps(said_once(rows[at][1]), rows[at + 1][1]):
            # What headings mean is asked for here only: it takes the compiler along.
            from brujula.intake import two_rows

            if both := two_rows.joined(rows[at][1], rows[at + 1][1]):
                return at, both, at + 2
    below = [row for _, row in rows[chosen + 1 :]]
    if not below or not _may_be_headings(below[0]):
        return chosen, cells, chosen + 1
    from brujula.intake import said_again

    high = said_again.n_rows(cells, below) + 1
    again = [cells, *below[: high - 1]]
    return chosen, cells if told else again[said_again.clearest(again)], chosen + high


def _may_be_headings(row: Sequence[str]) -> bool:
    """Whether a row might say what columns are: two cells have letters, and hardly one has nothing but digits and signs."""
    filled = [cell.strip() for cell in row if cell.strip()]
    return len(filled) > 1 and sum(_NUMBER.match(cell) is not None for cell in filled) <= len(filled) // 5


def fills_gaps(top: Sequence[str], bottom: Sequence[str]) -> bool:
    """Whether the lower of two rows has a cell where the upper one has none."""
    return any(b.strip() and not a.strip() for a, b in zip_longest(top, bottom, fillvalue=""))


def said_once(row: Sequence[str]) -> list[str]:
    """The row with cells that say what the one before says blank: a heading over several columns may stand over each."""
    return [cell if cell != before else "" for before, cell in zip(["", *row], row, strict=False)]


def above(line: int, skipped: int, high: int, place: str) -> list[str]:
    """What is said of the header: where it was found, or that there is none. high : its rows"""
    if not high:
        return [
            "no headings: the first row holds values, so columns are told by what they hold (list.header_row in a policy says otherwise)"
        ]
    if high > 1:
        return [f"headings in {'two' if high == 2 else 'three'} {place}s, from {place} {line} on"]
    return [f"header found in {place} {line}; {skipped} {place}{'s' * (skipped > 1)} above it passed over"] if skipped else []


def _header_row(name: str, rows: list[tuple[int, list[str]]], told: int | None) -> int:
    """The first row with as many cells as rows usually have, at least half of them filled."""
    if told:
        chosen = next((i for i, (line, _) in enumerate(rows) if line >= told), None)
        if chosen is None:
            raise InputError(f"{name}: list.header_row says {told}, the file has {len(rows)} rows")
        return chosen
    full = [sum(bool(c.strip()) for c in row) for _, row in rows[:LOOKED_AT]]
    widest = max(Counter(n for n in full if n).items(), key=lambda w: (w[1], w[0]), default=(1, 0))[0]
    width = max(Counter(len(r) for _, r in rows[:LOOKED_AT] if r).items(), key=lambda w: (w[1], w[0]), default=(1, 0))[0]
    chosen = next(
        (i for i, n in enumerate(full) if n >= max(0.5 * widest, 1) and (n > 1 or widest == 1) and len(rows[i][1]) >= width), 0
    )
    if full[chosen : chosen + 1] == [1] and max(full[:_NEAR_THE_TOP]) > 1:
        # Under a title, and over rows most of which head others, stand the headings that are known.
        from brujula.intake.two_rows import are_headings

        named = (i for i, n in enumerate(full[:_NEAR_THE_TOP]) if n > 1 and are_headings(rows[i][1]))
        return next(named, chosen)
    return chosen


def rows_above(name: str, rows: list[list[str]], wanted: Sequence[str], told: int | None) -> int:
    """How many rows of another sheet or table go before those under the same headings; 0 = it has others."""
    if len(rows) < max(told or 1, 1):
        return 0
    _, cells, first = header(name, list(enumerate(rows, 1)), told)
    same = all(a.strip() == b.strip() for a, b in zip_longest(cells, wanted, fillvalue=""))
    return first if same else 0


def headings(name: str, header: Sequence[str]) -> list[str]:
    """Headings made distinct: an empty one is named by its place, a repeated one numbered.

    Raises InputError for more columns than a list has.
    """
    if len(header) > MOST_COLUMNS:
        raise InputError(f"{name}: {len(header):,} columns; accepted: at most {MOST_COLUMNS:,}")
    plain = [cell.strip().lstrip("\ufeff") or f"column {i + 1}" for i, cell in enumerate(header)]
    names: list[str] = []
    taken: set[str] = set()
    for text in plain:
        made, k = text, 2
        while made in taken or (made != text and made in plain):
            made, k = f"{text} ({k})", k + 1
        taken.add(made)
        names.append(made)
    return names


def found_among_values(table: pa.Table) -> list[str]:
    """Headings that are cells of their own column too, in a row that is not the header once more; looked for among the first rows."""
    first = table.slice(0, _VALUES_LOOKED_AT)
    is_heading = [
        pc.equal(trimmed(column, lower=False), name.strip()).to_numpy(zero_copy_only=False)
        for name, column in zip(first.column_names, first.columns, strict=True)
    ]
    once_more = np.all(is_heading, axis=0) if is_heading else np.zeros(0, bool)
    return [name for name, cells in zip(first.column_names, is_heading, strict=True) if np.any(cells & ~once_more)]


def trimmed(values: pa.ChunkedArray | pa.Array, lower: bool = True) -> pa.Array:
    """Cells without the spaces around them, in small letters or as they are; null is blank."""
    text = pc.utf8_trim_whitespace(pc.fill_null(values.cast(pa.large_string()), ""))
    text = text.combine_chunks() if isinstance(text, pa.ChunkedArray) else text
    return pc.utf8_lower(text) if lower else text


def is_filled(cells: pa.ChunkedArray | pa.Array) -> NDArray[np.bool_]:
    """Whether each cell holds more than spaces."""
    return np.asarray(pc.not_equal(pc.utf8_trim_whitespace(cells), "").to_numpy(zero_copy_only=False), bool)


def without_blank_rows(raw: RawList) -> RawList:
    """The list without rows in which every cell is blank; how many they were is said."""
    blank = np.arange(raw.table.num_rows)
    for column in raw.table.columns:
        if len(blank) == 0:
            break
        part = column if len(blank) == raw.table.num_rows else column.take(pa.array(blank))
        blank = blank[~is_filled(part)]
    if len(blank) == 0:
        return raw
    keep = np.ones(raw.table.num_rows, bool)
    keep[blank] = False
    number = np.cumsum(keep)
    kept = tuple(replace(p, row=int(number[p.row - 1])) for p in raw.problems if keep[p.row - 1] or p.fatal)
    note = f"{len(blank):,} blank row{'s' * (len(blank) > 1)} passed over"
    lines = None if raw.lines is None else raw.lines[keep]
    return replace(raw, table=raw.table.filter(pa.array(keep)), notes=(*raw.notes, note), problems=kept, lines=lines)


_ANOTHER = "list.encoding in a policy names another encoding"
_WRONG = {
    "characters that could not be read": (r"\x{FFFD}", _ANOTHER),
    "characters that look twice encoded": (twice.FOUND, "in the columns that are used they are read as they were before"),
}
_FOREIGN = {"characters that fit no word": (r"\pL[£¹³¿¯¥§¶¤]|[£¹³¯¥¶¤]\pL", _ANOTHER)}


def wrong_characters(raw: RawList, foreign: bool) -> RawList:
    """The list with a note on cells that look as if read in the wrong encoding. foreign : it was not Unicode."""
    rows: dict[str, tuple[int, int, str, str]] = {}
    signs = _WRONG | _FOREIGN if foreign else _WRONG
    for name, column in zip(raw.table.column_names, raw.table.columns, strict=True):
        for what, (sign, _) in signs.items():
            at = np.flatnonzero(pc.match_substring_regex(column, sign).to_numpy(zero_copy_only=False))
            if len(at):
                count, first, where, shown = rows.get(what, (0, int(at[0]), name, ""))
                if int(at[0]) <= first:
                    first, where, shown = int(at[0]), name, limit(column[int(at[0])].as_py(), 40)
                rows[what] = (count + len(at), first, where, shown)
    notes = tuple(
        f'{count:,} cell{"s" * (count > 1)} with {what}, first in {raw.place_of(first + 1)}, column "{where}": "{shown}"; {signs[what][1]}'
        for what, (count, first, where, shown) in rows.items()
    )
    return replace(raw, notes=raw.notes + notes)


def text_table(names: Sequence[str], rows: Sequence[Sequence[str]]) -> pa.Table:
    """Rows of cells as text columns; what a row lacks is blank."""
    width = len(names)
    padded = (list(row[:width]) + [""] * (width - len(row)) for row in rows)
    columns = list(zip(*padded, strict=True)) if rows else [()] * width
    return pa.table({n: pa.array(c, pa.large_string()) for n, c in zip(names, columns, strict=True)})
