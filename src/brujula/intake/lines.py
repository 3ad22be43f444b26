"""Further phone numbers: of three columns or more two are fields, and the others of the same person or firm; so is the second number of a cell."""

from __future__ import annotations

import pyarrow as pa
import pyarrow.compute as pc

from brujula.core.batch import Column
from brujula.intake import several
from brujula.intake.content import TELLING, content_of, filled
from brujula.intake.headings import folded, says_of_what_sort, says_other
from brujula.intake.meanings import meanings
from brujula.intake.shape import Shaped, compared_as

_LEAST = 0.6  # how sure a heading must be that it is of a phone
_MORE = 2  # columns that are read besides


def lines(entity: str, old: Shaped, new: Shaped) -> tuple[tuple[Column, ...], Shaped, Shaped]:
    """Numbers beside those of the fields, the existing records first; and the lists, with a note which columns they are."""
    (records, old), (rows, new) = (_told(side, entity) for side in (old, new))
    records, rows = records + _seconds(old), rows + _seconds(new)
    found = []
    for at in range(max(len(records), len(rows))):
        parts = [
            own[at] if at < len(own) else pa.chunked_array([pa.nulls(side.raw.table.num_rows, pa.large_string())])
            for own, side in ((records, old), (rows, new))
        ]
        found.append(Column.of(pa.chunked_array([c for part in parts for c in part.chunks], pa.large_string())))
    return tuple(found), old, new


def _seconds(side: Shaped) -> list[pa.ChunkedArray]:
    """The second numbers of cells that hold two, but those that have the record's other field."""
    found = []
    for field, other in (("phone", "mobile"), ("mobile", "phone")):
        heading, second = side.columns.get(field, ""), None
        if heading in side.raw.table.column_names:
            second = several.phones(side.raw.table.column(heading), heading, field)[2]
        if second is not None:
            own, numbers = side.values.get(other), second.combine_chunks()
            spare = numbers if own is None else pc.if_else(pc.equal(own.combine_chunks(), numbers), "", numbers)
            found.append(pa.chunked_array([spare]))
    return found


def _told(side: Shaped, entity: str) -> tuple[list[pa.ChunkedArray], Shaped]:
    if "phone" not in side.columns:
        return [], side
    held = side.raw.table
    named = {c: len(filled(held.column(c))) for c in side.left_out if c in held.column_names and _is_of_theirs(c, entity)}
    # Of a handful of cells the heading must do.
    are = [c for c, n in named.items() if n and content_of(held.column(c).combine_chunks()).get("phone", 1.0) >= TELLING["phone"]]
    most = sorted(are, key=lambda c: -named[c])[:_MORE]
    found = [c for c in are if c in most]
    if not found:
        return [], side
    return [held.column(c).cast(pa.large_string()) for c in found], compared_as(side, found, "another number")


def _is_of_theirs(heading: str, entity: str) -> bool:
    """Whether a heading is of a phone, and of nobody else's, nor of a fax."""
    words, headed = set(folded(heading).split()), meanings(heading, entity)
    elses = (
        "fax" in words
        or says_of_what_sort(heading)
        or any(says_other(whose, words) for whose in ("anothers", "relatives", "leaders"))
    )
    return not elses and max(headed.get("phone", 0.0), headed.get("mobile", 0.0)) >= _LEAST
