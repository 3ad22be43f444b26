"""Loops over firm names."""

from __future__ import annotations

import numpy as np
from numba import njit

from brujula.core.kernels.hashing import hash_range


@njit("void(int64[::1], int32[::1], int64[::1], uint8[::1], int64, uint64[::1])", cache=True, nogil=True)
def first_letters(off, ids, voc_off, voc, most, out):
    """Hash of the first letters of each text's words run together, at most so many (0 where there are under five)."""
    buf = np.empty(most, np.uint8)
    for t in range(off.size - 1):
        n = 0
        for k in range(off[t], off[t + 1]):
            for i in range(voc_off[ids[k]], voc_off[ids[k] + 1]):
                if n < most:
                    buf[n] = voc[i]
                    n += 1
        out[t] = hash_range(buf, 0, n) if n >= 5 else np.uint64(0)


@njit("void(int64[::1], int32[::1], int64[::1], uint8[::1], uint64[::1])", cache=True, nogil=True)
def acronyms(off, ids, voc_off, voc, out):
    """Hash of each text's initials, or of its one short word, which may be the initials of another (0 for neither)."""
    buf = np.empty(8, np.uint8)
    for t in range(off.size - 1):
        n = 0
        size = off[t + 1] - off[t]
        if size == 1:
            a, b = voc_off[ids[off[t]]], voc_off[ids[off[t]] + 1]
            out[t] = hash_range(voc, a, b) if 2 <= b - a <= 6 else np.uint64(0)
            continue
        for k in range(off[t], off[t + 1]):
            if n < 8:
                buf[n] = voc[voc_off[ids[k]]]
                n += 1
        out[t] = hash_range(buf, 0, n) if n >= 2 else np.uint64(0)
