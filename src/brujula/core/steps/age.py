"""Years of birth from ages: two lists made in two years tell two ages of everybody."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from brujula.core.batch import Keys

Years = NDArray[np.int32]

_SOME_YEAR = 2000  # in which all were as old as they are said to be: what counts is how many years two are apart
_NAMESAKES = 20  # people of one name in both lists, and nobody else of it in either, from whom it is learnt in which years the lists were made
_OWN = 5  # people whose date and age a list gives, from whom it is learnt in which year it was made
_FOREMOST = 0.3
"""Of them, the share for whom it is one and the same year: the others are two who share a name, or have had their birthday."""
ONE_OFF = 1  # an age may be a year more or less a day later
UNKNOWN = 14  # less than a generation: in which years the lists were made is not known


def by_age(years: Years, ages: NDArray[np.int16], who: Keys, n_existing: int) -> tuple[Years, int]:
    """Years of birth (0 = none), with those that ages tell where no date does, and by how many years two of them may differ and say nothing.

    years, ages : of n records, the existing ones first, -1 = no age;  who : uint64[n], who each is by name, 0 = not told
    """
    out, sides = years.astype(np.int32), (slice(0, n_existing), slice(n_existing, len(years)))
    dated = [bool((years[side] > 0).any()) for side in sides]
    for side, has_dates in zip(sides, dated, strict=True):
        out[side] = _reckoned(years[side], ages[side], has_dates)
    ours, theirs = ((out[side] > 0).any() for side in sides)
    if all(dated) or not (ours and theirs):
        return out, ONE_OFF
    later = _between(out, who, n_existing)
    if later is not None:
        relative = sides[0] if dated[1] else sides[1]
        out[relative] += np.where(out[relative] > 0, later if dated[1] else -later, 0).astype(np.int32)
        return out, ONE_OFF
    if any(dated):  # ages on one side, dates on the other, and nothing ties them
        return years.astype(np.int32), ONE_OFF
    return out, UNKNOWN


def _reckoned(years: Years, ages: NDArray[np.int16], dated: bool) -> Years:
    """One list's years of birth. Where it gives dates as well, they say in which year it was made; where they do not, its ages tell nothing."""
    made = _SOME_YEAR
    if dated:
        both = (years > 0) & (ages >= 0)
        told, times = np.unique(years[both] + ages[both], return_counts=True)
        if times.sum() < _OWN or times.max() < _FOREMOST * times.sum():
            return years
        made = int(told[np.argmax(times)])
    return np.where((years == 0) & (ages >= 0), made - ages, years).astype(np.int32)


def _between(years: Years, who: Keys, n_existing: int) -> int | None:
    """How many years later the incoming list has those born whom both have; None where too few show it."""
    (ours, at), (others, there) = (
        _alone(np.where(years[side] > 0, who[side], np.uint64(0))) for side in (slice(0, n_existing), slice(n_existing, None))
    )
    both, mine, theirs = np.intersect1d(ours, others, assume_unique=True, return_indices=True)
    shift, times = np.unique(years[n_existing:][there[theirs]] - years[:n_existing][at[mine]], return_counts=True)
    if len(both) < _NAMESAKES or times.max() < _FOREMOST * len(both):
        return None
    return int(shift[np.argmax(times)])


def _alone(who: Keys) -> tuple[Keys, NDArray[np.int64]]:
    """The names that one record bears, and which."""
    keys, first, times = np.unique(who, return_index=True, return_counts=True)
    once = (times == 1) & (keys != 0)
    return keys[once], first[once]
