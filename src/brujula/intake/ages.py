"""Ages: a column that no field takes, for an age is true for a year, and says when somebody was born."""

from __future__ import annotations

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Column
from brujula.core.steps.patterns import captured
from brujula.intake.headings import folded
from brujula.intake.shape import Shaped, compared_as

_HEADINGS = frozenset("age ages alter edad eta idade leeftijd wiek alder vek kor".split())
_AGE = r"^\s*(?P<age>\d{1,3})(?:\.0)?(?:\s?(?:y|yr|yrs|years?|j|jahre|ans|años|anni|anos|lat|jaar)\.?(?: old)?)?\s*$"
_OLDEST = 120
_MOST = 0.9  # share of the values of a column of ages that are


def of_people(old: Shaped, new: Shaped) -> tuple[NDArray[np.int16] | None, Shaped, Shaped]:
    """Each person's age in years as their list has it, the existing records first, -1 = not told (None where neither list tells); and the lists, with a note which column it is."""
    (records, old), (rows, new) = _told(old), _told(new)
    if not ((records >= 0).any() or (rows >= 0).any()):
        return None, old, new
    return np.concatenate([records, rows]), old, new


def _told(side: Shaped) -> tuple[NDArray[np.int16], Shaped]:
    out = np.full(side.raw.table.num_rows, -1, np.int16)
    for name in side.left_out:
        if name not in side.raw.table.column_names or _HEADINGS.isdisjoint(folded(name).split()):
            continue
        column = Column.of(side.raw.table.column(name))
        age = pc.struct_field(captured(column.values.arrow(), _AGE), "age").cast(pa.int16())
        told = np.append(pc.fill_null(age, -1).to_numpy().astype(np.int16), np.int16(-1))[column.codes]
        told[told > _OLDEST] = -1
        if (told >= 0).sum() >= _MOST * max(column.filled.sum(), 1):
            return told, compared_as(side, [name], "an age")
    return out, side
