"""Character trigrams: keys that survive a slip of the finger and words run together."""

from __future__ import annotations

import numpy as np

from brujula.core.kernels.compiled import compiled
from brujula.core.kernels.hashing import mix
from brujula.core.kernels.text import run_together

_BUCKETS = 1 << 20
MOST = 6
"""Trigrams kept of a text."""
LONGEST = 120
"""Letters of a text that are looked at."""


@compiled(
    "void(int64[::1], int32[::1], int64[::1], uint8[::1], int32[::1], int32[::1], uint8[::1], uint64[::1], int32[::1], int64, uint64[:, ::1])"
)
def choose_trigrams(off, ids, voc_off, voc, counts, last, buf, best_key, best_count, least, out):
    """Keys of each text's rarest trigrams, of those that at least so many texts have, into out. Two passes over the texts: counting, then choosing; linear.

    counts, last         : int32, a power of two: how many texts have a trigram (zeros), and the text it was last counted for (-1)
    buf                  : scratch for the letters of a text;  best_key, best_count : scratch for the trigrams kept of it, out.shape[0]
    """
    n, most = off.size - 1, best_key.size
    mask = np.uint64(counts.size - 1)
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
                if c < least:
                    continue
                repeated = False
                for k in range(held):
                    repeated = repeated or best_key[k] == key
                if repeated:
                    continue
                k = held if held < most else most - 1
                if held == most and (c > best_count[k] or (c == best_count[k] and key > best_key[k])):
                    continue
                if held < most:
                    held += 1
                while k > 0 and (best_count[k - 1] > c or (best_count[k - 1] == c and best_key[k - 1] > key)):
                    best_key[k], best_count[k] = best_key[k - 1], best_count[k - 1]
                    k -= 1
                best_key[k], best_count[k] = key, c
            for k in range(held):
                out[k, t] = best_key[k]
