"""What is compared though no field takes it: other names, further phones, ages."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from brujula.core.batch import Column
from brujula.intake import ages, known_as, lines
from brujula.intake.shape import Shaped


class Unfielded(NamedTuple):
    """Columns of two lists, the existing records first: other names; phones, column by column; and ages (`Batch.ages`)."""

    names: known_as.Others
    lines: tuple[Column, ...]
    ages: NDArray[np.int16] | None


def unfielded(entity: str, old: Shaped, new: Shaped) -> tuple[Unfielded, Shaped, Shaped]:
    """What two lists tell besides their fields; and the lists, with a note for each column."""
    names, old, new = known_as.others(entity, old, new)
    further, old, new = lines.lines(entity, old, new)
    years = None
    if entity == "contact":
        years, old, new = ages.of_people(old, new)
    return Unfielded(names, further, years), old, new
