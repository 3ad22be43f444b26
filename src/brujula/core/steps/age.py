"""Years of birth from ages: two lists made in two years tell two ages of everybody."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from brujula.core.batch import Keys

_SOME_YEAR = 2000  # in which all were as old as they are said to be: what counts is how many years two are apart
_NAMESAKES = 20  # people of one name in both lists, and nobody else of it in either, from whom it is learnt in which years the lists were made
_FOREMOST = 0.3
"""Of them, the share whose years lie as far apart as those of most: the others are two who share a name."""
ONE_OFF = 1  # an age may be a year more or less a day later
UNKNOWN = 14  # less than a generation: in which years the lists were made is not known


def by_age(years: NDArray[np.int32], ages: NDArray[np.int16], who: Keys, n_existing: int) -> tuple[NDArray[np.int32], int]:
    """Years of birth (0 = none), with those that ages tell where no date does, and by how many years two of them may differ and say nothing.

    years, ages : of n records, the existing ones first, -1 = no age;  who : uint64[n], who each is by name, 0 = not told
    """
    told = (years == 0) & (ages >= 0)
    out = np.where(told, _SOME_YEAR - ages, years).astype(np.int32)
    sides = slice(0, n_existing), slice(n_existing, len(out))
    reckoned = [bool(told[side].any()) for side in sides]
    if n_existing in (0, len(out)):
        return out, ONE_OFF
    (keys, at), (others, there) = (_alone(np.where(out[side] > 0, who[side], np.uint64(0))) for side in sides)
    both, mine, theirs = np.intersect1d(keys, others, assume_unique=True, return_indices=True)
    apart = out[sides[1]][there[theirs]] - out[sides[0]][at[mine]]
    shift, times = np.unique(apart, return_counts=True)
    if len(both) < _NAMESAKES or times.max() < _FOREMOST * len(both):
        if reckoned == [True, True]:
            return out, UNKNOWN
        return np.where(told, 0, out).astype(np.int32), ONE_OFF  # ages on one side, dates on the other, and nothing ties them
    later = int(shift[np.argmax(times)])
    moved, side = (-later, sides[1]) if reckoned[1] else (later, sides[0])
    out[side] += np.where(told[side], moved, 0).astype(np.int32)
    return out, ONE_OFF


def _alone(who: Keys) -> tuple[Keys, NDArray[np.int64]]:
    """The names that one record bears, and which."""
    keys, first, times = np.unique(who, return_index=True, return_counts=True)
    once = (times == 1) & (keys != 0)
    return keys[once], first[once]
