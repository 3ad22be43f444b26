"""Loops over firm names."""

from __future__ import annotations

import numpy as np

from brujula.core.kernels.compiled import compiled, inner
from brujula.core.kernels.edits import osa, same_bytes
from brujula.core.kernels.hashing import hash_range
from brujula.core.kernels.text import run_together
from brujula.core.kernels.words import NUMBER, worth_of

_WHOLE, _BEGINNING = 4, 8  # letters a domain and a name must share: where they are alike, and where one goes on


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
    """Hash of each text's initials, eight at most, or of its one short word, which may be the initials of another (0 for neither).

    out : uint64[2, n]; the second is that of the short word but for its last letter, which may be a legal form's: HRL for Harrow Reeds Ltd.
    buf : uint8[8]
    """
    for t in range(off.size - 1):
        n = 0
        size = off[t + 1] - off[t]
        out[1, t] = np.uint64(0)
        if size == 1:
            a, b = voc_off[ids[off[t]]], voc_off[ids[off[t]] + 1]
            out[0, t] = hash_range(voc, a, b) if 2 <= b - a <= buf.size else np.uint64(0)
            out[1, t] = hash_range(voc, a, b - 1) if 3 <= b - a <= buf.size else np.uint64(0)
            continue
        for k in range(off[t], off[t + 1]):
            if n < buf.size:
                buf[n] = voc[voc_off[ids[k]]]
            n += 1
        out[0, t] = hash_range(buf, 0, n) if 2 <= n <= buf.size else np.uint64(0)


@compiled(
    "void(int32[::1], int32[::1], int64[::1], int32[::1], int64[::1], uint8[::1], int64[::1], int64[::1], int32[::1], int64[::1], uint8[::1], "
    "uint8[:, ::1], boolean[::1])"
)
def spell_firms(site, name, site_off, site_ids, site_voc_off, site_voc, short, off, ids, voc_off, voc, bufs, out):
    """Whether each domain spells its firm's name, all run together: the whole of it, or one goes on where the other ends.

    site, name : int32[n_pairs], a domain and a firm's name;  bufs : uint8[2, 96]
    short : int64[n_sites], letters of each domain without a legal form behind, 0 = there is none. Its last word may be a place's, too.
    """
    spelled, told = bufs[0], bufs[1]
    for p in range(site.size):
        s, t = site[p], name[p]
        a, b = site_off[s], site_off[s + 1]
        n = run_together(site_ids, a, b, site_voc_off, site_voc, spelled, False)
        m = run_together(ids, off[t], off[t + 1], voc_off, voc, told, False)
        out[p] = False
        for reading in range(3):
            size = n
            if reading == 1:
                size = min(short[s], n)  # counted in the letters as written, which may be more
            elif reading == 2:
                size = n - (site_voc_off[site_ids[b - 1] + 1] - site_voc_off[site_ids[b - 1]]) if b - a > 1 else 0
            both = min(size, m)
            if both >= (_WHOLE if size == m else _BEGINNING) and same_bytes(spelled, 0, both, told, 0, both):
                out[p] = True


@compiled("void(int32[::1], int64[::1], int32[::1], float32[::1], float32[::1])")
def firms_worth(name, off, ids, weights, out):
    """Bits that the words of each name are worth together."""
    for p in range(name.size):
        out[p] = worth_of(ids, weights, off[name[p]], off[name[p] + 1] - off[name[p]])


@inner("int64(int32[::1], int32[::1], int64, int64)")
def _one_number(ids, cls, start, end):
    """The only number among the words ids[start:end], or letter or side; -1 where there is none or more than one."""
    found = -1
    for k in range(start, end):
        if cls[ids[k]] >= NUMBER:
            if found >= 0:
                return -1
            found = ids[k]
    return found


@compiled("void(int32[::1], int32[::1], int64[::1], int32[::1], int32[::1], int64[::1], uint8[::1], uint64[::1], boolean[::1])")
def digit_apart(left, right, off, ids, cls, voc_off, voc, pm, out):
    """Whether the one number that each name of a pair has is the other's but for a digit: 3318 and 318.

    left, right : int32[n_pairs], texts;  pm : scratch, see `edits.osa`
    """
    for p in range(left.size):
        a = _one_number(ids, cls, off[left[p]], off[left[p] + 1])
        b = _one_number(ids, cls, off[right[p]], off[right[p] + 1])
        out[p] = a >= 0 and b >= 0 and osa(voc, voc_off[a], voc_off[a + 1], voc, voc_off[b], voc_off[b + 1], pm) <= 1
