"""Rows below the headings that hold no record: what each column asks for, in full, or how a program calls it."""

from __future__ import annotations

import re
from collections.abc import Sequence

from brujula.intake.content import CONTENT
from brujula.intake.headings import folded
from brujula.intake.meanings import surest

_MOST, _ENOUGH, _LOOKED_AT = 2, 3, 60
_MOSTLY, _HALF = 0.8, 0.5
_WRITTEN = re.compile(r"\s*[\[{]")
_TOLD = re.compile("|".join(CONTENT[kind] for kind in ("email", "website", "number", "date")).replace("(?i)", ""), re.IGNORECASE)


def n_rows(header: Sequence[str], below: Sequence[Sequence[str]]) -> int:
    """How many rows right below the header say once more what its columns hold.

    They stand over dates, numbers and mail addresses without being any, in nearly all such columns and in two at least; and half of what they have
    there are headings that are known, or share a word with the header's. A first row of n/a is a row.
    """
    for n in range(min(_MOST, len(below) - _ENOUGH), 0, -1):
        told = _told(len(header), below[n:_LOOKED_AT])
        if len(told) > 1 and all(_says_again(header, row, told) for row in below[:n]):
            return n
    return 0


def clearest(rows: Sequence[Sequence[str]]) -> int:
    """Which of several rows of headings says most surely what fields they are; how a program writes it counts for nothing."""
    return max(range(len(rows)), key=lambda at: sum(surest(cell) for cell in rows[at] if not _WRITTEN.match(cell)))


def _told(width: int, rows: Sequence[Sequence[str]]) -> list[int]:
    """The columns in which all cells of the rows are dates, numbers, mail or web addresses."""
    columns = [[cell.strip() for row in rows for cell in row[at : at + 1] if cell.strip()] for at in range(width)]
    return [at for at, cells in enumerate(columns) if len(cells) >= _ENOUGH and all(map(_TOLD.search, cells))]


def _says_again(header: Sequence[str], row: Sequence[str], told: Sequence[int]) -> bool:
    here = [(header[at], cell) for at in told if (cell := "".join(row[at : at + 1]).strip())]
    others = [(heading, cell) for heading, cell in here if not _TOLD.search(cell)]
    again = sum(surest(cell) > 0.0 or not _words(heading).isdisjoint(_words(cell)) for heading, cell in others)
    return len(others) > 1 and len(others) >= _MOSTLY * len(here) and again >= _HALF * len(others)


def _words(heading: str) -> set[str]:
    return set(folded(heading).split())
