"""Numbering the distinct keys of an array."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from brujula.core.batch import Keys
from brujula.core.kernels.blocks import number_keys


def firsts(numbers: NDArray[np.int32], n: int) -> NDArray[np.int64]:
    """The first record of each of n numbers; -1 = a record has none."""
    out, known = np.zeros(n, np.int64), np.flatnonzero(numbers >= 0)
    out[numbers[known[::-1]]] = known[::-1]
    return out


def number(keys: Keys, probe: NDArray[np.bool_] | None = None) -> tuple[NDArray[np.int32], int]:
    """The number of each key, by first occurrence, and how many there are; -1 for no key (0).

    probe : bool[n], only keys of these are numbered, -1 for all others. Linear: a hash table, no sorting.
    """
    among = keys != 0 if probe is None else probe & (keys != 0)
    size = 1 << max(2 * int(np.count_nonzero(among)) - 1, 15).bit_length()
    group = np.empty(len(keys), np.int32)
    n = number_keys(np.ascontiguousarray(keys), among, group, np.zeros(size, np.uint64), np.empty(size, np.int32))
    return group, n
