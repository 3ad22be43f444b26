"""Which texts are among words of ours, and what those stand for.

Arrow makes an index of the words at every call: that pays for many texts. A handful, as of a question to a kept index, are asked one by one.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import cache, lru_cache

import pyarrow as pa
import pyarrow.compute as pc

Table = Callable[[], Mapping[str, str]]
"""Words, and what each stands for: a function that makes the table once and gives the same one ever after."""
_FEW = 32


def _few(n_texts: int, n_words: int) -> bool:
    """Whether asking text by text is quicker than an index: a text takes as long as four words of an index."""
    return n_texts <= max(_FEW, n_words // 4)


@lru_cache(64)  # also of words of somebody's lists, which are not kept for ever
def _index(words: frozenset[str]) -> pa.Array:
    return pa.array(sorted(words), pa.large_string())


@cache
def _columns(table: Table) -> tuple[pa.Array, pa.Array]:
    words = table()
    return pa.array(list(words), pa.large_string()), pa.array(list(words.values()), pa.large_string())


def among(texts: pa.Array, words: frozenset[str]) -> pa.Array:
    """Whether each text is one of the words; false for null."""
    if not _few(len(texts), len(words)):
        return pc.is_in(texts, value_set=_index(words))
    return pa.array([text in words for text in texts.to_pylist()], pa.bool_())


def meant(texts: pa.Array, table: Table) -> pa.Array:
    """What each text stands for; null where the table does not know it."""
    known = table()
    if not _few(len(texts), len(known)):
        words, meanings = _columns(table)
        return meanings.take(pc.index_in(texts, value_set=words))
    return pa.array([known.get(text) for text in texts.to_pylist()], pa.large_string())
