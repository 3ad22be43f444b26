"""Character trigrams: keys that survive a slip of the finger and words run together."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from brujula.core.batch import Keys, Texts
from brujula.core.kernels.grams import LONGEST, MOST, choose_trigrams

_BUCKETS = 1 << 20
_A_TEXT = 1 << 10  # buckets for each of a few texts


def index_trigrams(asked: bool) -> dict[str, int]:
    """Which trigrams an index takes: of records what a question may share, though nobody does yet; of the question all, as which are rare is for the records to say."""
    return {"most": LONGEST if asked else MOST, "least": 1}


def rarest_trigrams(off: NDArray[np.int64], ids: NDArray[np.int32], vocabulary: Texts, most: int = MOST, least: int = 2) -> Keys:
    """Keys of each text's rarest trigrams, uint64[most, n]; 0 = none.

    off, ids : words of each text, run together before trigrams are taken; texts of fewer than 5 letters have none
    least    : texts that must have a trigram: nobody is found by what he shares with none
    """
    n = len(off) - 1
    size = min(_BUCKETS, _A_TEXT << max(n - 1, 0).bit_length())
    counts, last = np.zeros(size, np.int32), np.full(size, -1, np.int32)
    out = np.zeros((most, n), np.uint64)
    room = np.empty(LONGEST, np.uint8), np.empty(most, np.uint64), np.empty(most, np.int32)
    choose_trigrams(off, ids, vocabulary.offsets, vocabulary.data, counts, last, *room, least, out)
    return out
