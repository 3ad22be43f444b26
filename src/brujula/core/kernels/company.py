"""Loops over firm names."""

from __future__ import annotations

import numpy as np

from brujula.core.kernels.compiled import compiled
from brujula.core.kernels.hashing import hash_range


@compiled("void(int64[::1], int32[::1], int64[::1], uint8[::1], uint8[::1], uint64[::1])")
def first_letters(off, ids, voc_off, voc, buf, out):
    """Hash of the first letters of each text's words run together, as many as buf has room for (0 where there are under five)."""
    for t in range(off.size - 1):
        n = 0
        for k in range(off[t], off[t + 1]):
            for i in range(voc_off[ids[k]], voc_off[ids[k] + 1]):
                if n < buf.size:
                    buf[n] = voc[i]
                    n += 1
        out[t] = hash_range(buf, 0, n) if n >= 5 else np.uint64(0)


@compiled("void(int64[::1], int32[::1], int64[::1], uint8[::1], uint8[::1], uint64[:, ::1])")
def acronyms(off, ids, voc_off, voc, buf, out):
    """Hash of each text's initials, or of its one short word, which may be the initials of another (0 for neither).

    out : uint64[2, n]; the second is that of the short word but for its last letter, which may be a legal form's: HRL for Harrow Reeds Ltd.
    buf : uint8[8]
    """
    for t in range(off.size - 1):
        n = 0
        size = off[t + 1] - off[t]
        out[1, t] = np.uint64(0)
        if size == 1:
            a, b = voc_off[ids[off[t]]], voc_off[ids[off[t]] + 1]
            out[0, t] = hash_range(voc, a, b) if 2 <= b - a <= 6 else np.uint64(0)
            out[1, t] = hash_range(voc, a, b - 1) if 3 <= b - a <= 6 else np.uint64(0)
            continue
        for k in range(off[t], off[t + 1]):
            if n < 8:
                buf[n] = voc[voc_off[ids[k]]]
                n += 1
        out[0, t] = hash_range(buf, 0, n) if n >= 2 else np.uint64(0)
