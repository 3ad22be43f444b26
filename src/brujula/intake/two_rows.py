"""Headings that stand in two rows: a group's over those of its columns (Address over Street, Town), or words that were broken (First over name)."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence
from functools import lru_cache

from brujula.intake.meanings import meanings
from brujula.intake.raw import fills_gaps, said_once
from brujula.policy.entities import ENTITIES

_HEADING = re.compile(r"[^@]{1,40}")
_NUMBER = re.compile(r"\d{3}")
_NO_GROUPS = {"email", "phone", "mobile", "website", "job_title"}
"""Fields whose heading stands over one column: E-mail over address."""
_MOSTLY = 0.6  # share of a row's cells that name a field, where the row holds headings


def are_headings(cells: Sequence[str]) -> bool:
    """Whether most of the cells that are filled name fields."""
    filled = [c for c in cells if c]
    return sum(map(_known, filled)) >= _MOSTLY * len(filled)


def joined(top: Sequence[str], bottom: Sequence[str]) -> list[str] | None:
    """The headings of two rows in one, None where the two are not both of headings, or neither fills a gap of the other.

    A group's heading may stand over each of its columns, or over the first.
    """
    top = said_once(top)
    if not fills_gaps(top, bottom):
        return None
    width = max(len(top), len(bottom))
    above, below = ([cell.strip() for cell in (*row, *[""] * (width - len(row)))] for row in (top, bottom))
    lone, often = [a for a, b in zip(above, below, strict=True) if a and not b], Counter(b for b in below if b)
    # A title over a whole row of headings says nothing of any column; groups do where two of them have such a column, and where most are over several.
    groups = [at for at, a in enumerate(above) if a]
    several = sum(at + 1 < width and not above[at + 1] for at in groups) > len(groups) / 2
    if not lone and not (len(groups) > 1 and (several or max(often.values(), default=0) > 1)):
        return None
    if not all(_HEADING.fullmatch(c) and not _NUMBER.search(c) for c in (*above, *below) if c):
        return None
    if not (are_headings(below) and are_headings(lone)):
        return None
    out, group = [], ""
    for at, (a, b) in enumerate(zip(above, below, strict=True)):
        spans = at + 1 < width and not above[at + 1] and below[at + 1] and _fields(a).isdisjoint(_NO_GROUPS)
        group = a or (group if b else "")
        # A group's heading says nothing that the column's own does not, but where another group has such a column.
        own = bool(b) and _known(b) and often[b] == 1 and (spans or not a)
        out.append(b if own else " ".join(x for x in (group, b) if x))
    return out


def _known(heading: str) -> bool:
    return bool(_fields(heading))


@lru_cache(1024)
def _fields(heading: str) -> frozenset[str]:
    return frozenset(field for entity in ENTITIES for field in meanings(heading, entity))
