"""Values that a system cut at a fixed width: UNITED BROTHERHOOD OF CARPENTERS LO, of 35 letters as everything long in its list."""

from __future__ import annotations

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Column, Texts
from brujula.core.steps.patterns import matches, replaced
from brujula.core.steps.text import Words, fold

_FEWEST, _NARROWEST, _HEAP, _OVER, _TORN = 34, 15, 5, 3, 0.2
"""Of so many values at least, a list may have been cut where its longest values, of so many letters at least, are so many, and so many times those a letter or three
shorter; it was where of so many of these the last word is nobody's, and the beginning of another."""
_MOST = 0.9
_LAST = r"[\pL\pN'’]+[^\pL\pN]*$"
_END = chr(0x10FFFF)


def completed(column: Column, n_existing: int) -> Column:
    """The column with the last word of each value that was cut as the lists have it whole behind the same two words, or the same one; what they have nowhere goes.

    Which is cut is asked of each list by itself. A word that may be several is left as it stands; a number goes, for digits of it may be missing.
    """
    if len(column.values) < _FEWEST:
        return column
    width = pc.utf8_length(column.values.arrow()).to_numpy()
    sides = [np.unique(part[part >= 0]) for part in (column.codes[:n_existing], column.codes[n_existing:])]
    heaps = [used[_heaped(width[used])] for used in sides]
    if not any(len(heap) for heap in heaps):
        return column
    words = fold(column.values)
    heaps = [heap[np.diff(words.offsets)[heap] > 1] for heap in heaps]
    at = np.unique(np.concatenate(heaps)).astype(np.int64)
    text, vocabulary = column.values.arrow().take(pa.array(at)), words.vocabulary.arrow()
    number = matches(text, r"\d[^\pL\pN]*$").to_numpy(zero_copy_only=False)
    word, known, begins = _whole(words, at)
    torn = begins & ~known & ~number
    cut = np.zeros(len(at), bool)
    for heap in heaps:
        here = np.isin(at, heap)
        cut |= here & bool(np.count_nonzero(torn & here) >= max(_TORN * len(heap), 1))
    gone = number | (word < 0)
    ending = pc.fill_null(vocabulary.take(pa.array(word, mask=gone)), "")
    mended = pc.utf8_trim_whitespace(pc.binary_join_element_wise(replaced(text, _LAST, ""), ending, pa.scalar("", text.type)))
    mended = pc.if_else(pa.array(~cut | (gone & ~number & known)), text, mended)
    mask = np.zeros(len(width), bool)
    mask[at] = True
    # Two values may have become one: each has its number still, and they are compared as equal.
    return Column(Texts.of(pc.replace_with_mask(column.values.arrow(), pa.array(mask), mended)), column.codes)


def _heaped(width: NDArray[np.int32]) -> NDArray[np.bool_]:
    """Which of one list's values have the width at which they may have been cut; none where they were not."""
    longest = int(width.max(initial=0))
    if longest < _NARROWEST:
        return np.zeros(len(width), bool)
    heap, *before = (int(np.count_nonzero(width == longest - k)) for k in range(4))
    return np.asarray((width == longest) & (heap >= _HEAP) & (heap >= _OVER * sum(before) / len(before)))


def _whole(words: Words, at: NDArray[np.int64]) -> tuple[NDArray[np.int64], NDArray[np.bool_], NDArray[np.bool_]]:
    """Of each text the word its last one begins, -1 = none or several; whether that one stands elsewhere; and whether another word begins so."""
    vocabulary, n = words.vocabulary.arrow(), len(words.vocabulary)
    order = pc.array_sort_indices(vocabulary).to_numpy().astype(np.int64)
    rank = np.empty(n, np.int64)
    rank[order] = np.arange(n)
    last = words.offsets[at + 1] - 1
    fragment = vocabulary.take(pa.array(words.ids[last])).to_numpy(zero_copy_only=False)
    in_order = vocabulary.take(pa.array(order)).to_numpy(zero_copy_only=False)
    low, high = np.searchsorted(in_order, fragment), np.searchsorted(in_order, fragment + _END)
    # What stands behind which words, but for what may have been cut itself.
    place = np.arange(len(words.ids))
    fresh = np.ones(len(place), bool)
    fresh[last] = False
    start = np.repeat(words.offsets[:-1], np.diff(words.offsets))
    whole = np.zeros(n, bool)
    whole[words.ids[fresh]] = True
    out = np.full(len(at), -1, np.int64)
    for back in (2, 1):
        here = np.flatnonzero(fresh & (place - back >= start))
        asked = np.flatnonzero((out < 0) & (last - back >= start[last]))
        context = _behind(words, np.concatenate([here, last[asked]]), back)
        out[asked] = _usual(context[: len(here)], rank[words.ids[here]], context[len(here) :], low[asked], high[asked], n)
    return np.where(out >= 0, order[out], -1), whole[words.ids[last]], high > low + 1


def _behind(words: Words, place: NDArray[np.int64], back: int) -> NDArray[np.int64]:
    """A number for the one or two words before each place."""
    before = words.ids[place - 1].astype(np.int64)
    if back == 2:
        before += words.ids[place - 2].astype(np.int64) * len(words.vocabulary)
    return np.unique(before, return_inverse=True)[1].astype(np.int64)


def _usual(
    context: NDArray[np.int64],
    rank: NDArray[np.int64],
    asked: NDArray[np.int64],
    low: NDArray[np.int64],
    high: NDArray[np.int64],
    n: int,
) -> NDArray[np.int64]:
    """The rank of the word that nearly always stands in each context asked, of those from low to high; -1 = none does."""
    pairs, times = np.unique(context * n + rank, return_counts=True)
    total = np.concatenate([[0], np.cumsum(times)])
    first, end = np.searchsorted(pairs, asked * n + low), np.searchsorted(pairs, asked * n + high)
    out = np.full(len(asked), -1, np.int64)
    some = np.flatnonzero(end > first)
    if len(some) == 0:
        return out
    bounds = np.stack([first[some], end[some]], axis=1).ravel()
    best = np.maximum.reduceat(np.append(times * len(pairs) + np.arange(len(pairs)), 0), bounds)[::2]
    usual = best % len(pairs)
    sure = times[usual] >= _MOST * (total[end[some]] - total[first[some]])
    out[some[sure]] = pairs[usual[sure]] % n
    return out
