"""Words that are a slip of a known one."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, NamedTuple

import numpy as np
import pyarrow as pa
from numpy.typing import NDArray

from brujula.core.batch import Texts
from brujula.core.kernels.edits import a_slip_from, scratch
from brujula.core.steps.text import Words


class Known(NamedTuple):
    """Known words in order, and where those that begin with each byte do: int64[257]."""

    words: Words
    begin: NDArray[np.int64]

    @classmethod
    def of(cls, words: Iterable[str]) -> Known:
        """Of folded words, each once."""
        texts = Texts.of(pa.array(list(words), pa.large_string()).unique().sort())
        first = texts.data[texts.offsets[:-1]]
        return cls(Words(np.zeros(1, np.int64), np.zeros(0, np.int32), texts), np.searchsorted(first, np.arange(257)))

    def near(self, words: Words, which: NDArray[np.int64], most: int) -> NDArray[Any]:
        """Which of the known words each of some words of a vocabulary is an edit away from, int32[n, most]; -1 = none."""
        own, known = words.vocabulary, self.words.vocabulary
        out = np.full((len(which), most), -1, np.int32)
        a_slip_from(
            which, own.offsets, own.data, words.masks, self.begin, known.offsets, known.data, self.words.masks, out, scratch()
        )
        return out
