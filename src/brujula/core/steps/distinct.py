"""Comparing once per distinct pair of values: pairs of records share far fewer pairs of values. Distances of texts."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from brujula.core.batch import Texts
from brujula.core.kernels.contact import text_distances
from brujula.core.kernels.edits import scratch
from brujula.core.steps.numbers import number


def distinct_pairs(
    left: NDArray[np.int32], right: NDArray[np.int32]
) -> tuple[NDArray[np.int32], NDArray[np.int32], NDArray[np.int32]]:
    """The distinct pairs among (left[i], right[i]), either way round, and for each i the index of its pair.

    left, right : codes of values, -1 = blank; comparing must be symmetric. Linear: a hash table, no sorting.
    """
    low, high = np.minimum(left, right).astype(np.int64), np.maximum(left, right).astype(np.int64)
    keys = (((low + 1) << 32) | (high + 1)).astype(np.uint64) + np.uint64(1)
    which, n = number(keys)
    first = np.empty(n, np.int64)
    first[which[::-1]] = np.arange(len(keys) - 1, -1, -1)
    return low.take(first).astype(np.int32), high.take(first).astype(np.int32), which


def distances(texts: Texts, left: NDArray[np.int32], right: NDArray[np.int32], any_digits: bool = False) -> NDArray[np.uint8]:
    """Edit distance of texts left[i] and right[i]; 9 = that or more, other digits (unless any may differ), or a blank (-1)."""
    out = np.empty(len(left), np.uint8)
    text_distances(texts.offsets, texts.data, left, right, any_digits, out, scratch())
    return out
