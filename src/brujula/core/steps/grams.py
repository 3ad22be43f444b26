"""Character trigrams: keys that survive a slip of the finger and words run together."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from brujula.core.batch import Keys, Texts
from brujula.core.kernels.grams import MOST, choose_trigrams

_BUCKETS = 1 << 20


def rarest_trigrams(off: NDArray[np.int64], ids: NDArray[np.int32], vocabulary: Texts) -> Keys:
    """Keys of each text's rarest trigrams that at least one other text shares, uint64[MOST, n]; 0 = none.

    off, ids : words of each text, run together before trigrams are taken; texts of fewer than 5 letters have none
    """
    out = np.zeros((MOST, len(off) - 1), np.uint64)
    if len(off) > 2:  # else nobody to share a trigram with
        counts, last = np.zeros(_BUCKETS, np.int32), np.full(_BUCKETS, -1, np.int32)
        room = np.empty(120, np.uint8), np.empty(MOST, np.uint64), np.empty(MOST, np.int32)
        choose_trigrams(off, ids, vocabulary.offsets, vocabulary.data, counts, last, *room, out)
    return out
