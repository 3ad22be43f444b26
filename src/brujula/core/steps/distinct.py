"""Comparing once per distinct pair of values: pairs of records share far fewer pairs of values."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from brujula.core.kernels.blocks import number_keys


def distinct_pairs(
    left: NDArray[np.int32], right: NDArray[np.int32]
) -> tuple[NDArray[np.int32], NDArray[np.int32], NDArray[np.int32]]:
    """The distinct pairs among (left[i], right[i]), either way round, and for each i the index of its pair.

    left, right : codes of values, -1 = blank; comparing must be symmetric. Linear: a hash table, no sorting.
    """
    low, high = np.minimum(left, right).astype(np.int64), np.maximum(left, right).astype(np.int64)
    keys = (((low + 1) << 32) | (high + 1)).astype(np.uint64) + np.uint64(1)
    which = np.empty(len(keys), np.int32)
    n = number_keys(keys, np.ones(len(keys), bool), which)
    first = np.empty(n, np.int64)
    first[which[::-1]] = np.arange(len(keys) - 1, -1, -1)
    return low[first].astype(np.int32), high[first].astype(np.int32), which
