"""Character trigrams: keys that survive a slip of the finger and words run together."""

from __future__ import annotations

import numpy as np
from numba import njit

from brujula.core.kernels.hashing import mix
from brujula.core.kernels.text import run_together

_BUCKETS = 1 << 20
MOST = 6
"""Trigrams kept of a text."""


@njit("void(int64[::1], int32[::1], int64[::1], uint8[::1], uint64[:, ::1])", cache=True, nogil=True)
def rarest_trigrams(off, ids, voc_off, voc, out):
    """Keys of each text's rarest trigrams that at least one other text shares, into out (uint64[MOST, n]; 0 = none).

    off, ids : words of each text, run together before trigrams are taken; texts of fewer than 5 letters have none
    Two passes over the text: counting, then choosing; linear.
    """
    n = off.size - 1
    if n < 2:
        return  # nobody to share a trigram with
    counts = np.zeros(_BUCKETS, np.int32)
    last = np.full(_BUCKETS, -1, np.int32)  # the text a trigram was last counted for: once a text is enough
    buf = np.empty(120, np.uint8)
    mask = np.uint64(_BUCKETS - 1)
    best_key, best_count = np.zeros(MOST, np.uint64), np.zeros(MOST, np.int32)
    for turn in range(2):
        for t in range(n):
            size = run_together(ids, off[t], off[t + 1], voc_off, voc, buf, False)
            if size < 5:
                continue
            held = 0
            for i in range(size - 2):
                gram = (np.uint64(buf[i]) << np.uint64(16)) | (np.uint64(buf[i + 1]) << np.uint64(8)) | np.uint64(buf[i + 2])
                key = mix(gram + np.uint64(1))
                at = np.int64(key & mask)
                if turn == 0:
                    if last[at] != t:
                        last[at] = t
                        counts[at] += 1
                    continue
                c = counts[at]
                if c < 2:
                    continue
                repeated = False
                for k in range(held):
                    repeated = repeated or best_key[k] == key
                if repeated:
                    continue
                k = held if held < MOST else MOST - 1
                if held == MOST and (c > best_count[k] or (c == best_count[k] and key > best_key[k])):
                    continue
                if held < MOST:
                    held += 1
                while k > 0 and (best_count[k - 1] > c or (best_count[k - 1] == c and best_key[k - 1] > key)):
                    best_key[k], best_count[k] = best_key[k - 1], best_count[k - 1]
                    k -= 1
                best_key[k], best_count[k] = key, c
            for k in range(held):
                out[k, t] = best_key[k]
