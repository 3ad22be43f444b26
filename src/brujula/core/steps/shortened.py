"""Short words that two lists show to stand for long ones: one list writes Spk where the other has Sparkasse."""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from brujula.core.batch import Keys
from brujula.core.kernels.edits import is_skeleton
from brujula.core.kernels.words import LEGAL, SKIP, YEAR
from brujula.core.steps.phrases import Phrases

_NAMES = 3  # different names in which the one must stand for the other
_BOTH = 0.2  # of them, the share in which one list may have both, each with a record of its own: then they are two
_FOREMOST = 0.8  # share of all that a short word seems to stand for
_BITS = 22
_SUM = np.uint64(0x9E3779B97F4A7C15)  # as in the key of all words: a word can be taken out of it again


class _Seen(NamedTuple):
    """What stands in one list: a name but for one word, at a place (key); that name alone (rest); the word."""

    key: Keys
    rest: Keys
    word: NDArray[np.int32]


def learned(phrases: Phrases, whole: Keys, places: list[Keys], n_existing: int) -> NDArray[np.int64]:
    """Per vocabulary word the longer word it stands for, int64; -1 = none.

    whole  : per record the key of all its words;  places : keys of where it is, one array per way to tell; 0 = not told

    One word stands for another where names of the two lists at one place are alike but for it, at least in three different names;
    where its letters stand in the other in order; and where hardly ever one list has both: then they are two firms of a kind
    (a savings bank and a cooperative one in each town).
    """
    out = np.full(len(phrases.cls), -1)
    n_words = np.diff(phrases.off)
    # One list gives the year in which a club was founded.
    year = phrases.cls[phrases.ids] == YEAR
    years = np.zeros(len(n_words) + 1, np.uint64)
    np.add.at(years, np.repeat(np.arange(len(n_words)), n_words)[year], phrases.concepts[phrases.ids[year]] * _SUM)
    whole = np.where(whole == 0, whole, whole - years[phrases.codes])
    usable = (phrases.codes >= 0) & (np.append(n_words, 0)[phrases.codes] >= 2) & (whole != 0)
    is_word = (phrases.cls < SKIP) | (phrases.cls == LEGAL)  # a legal form that is left stands for something else here
    seen = []
    for there in (slice(0, n_existing), slice(n_existing, None)):
        parts = []
        for place in places:
            at = np.flatnonzero(usable[there] & (place[there] != 0)) + (there.start or 0)
            code = phrases.codes[at]
            each = n_words[code]
            behind = np.cumsum(each)
            word = phrases.ids[np.repeat(phrases.off[code] - (behind - each), each) + np.arange(int(each.sum()))]
            at = np.repeat(at, each)[is_word[word]]
            word = word[is_word[word]]
            rest = whole[at] - phrases.concepts[word] * _SUM
            parts.append(_Seen(rest ^ place[at], rest, word))
        keys, rests, words = zip(*parts, strict=True)
        seen.append(_Seen(np.concatenate(keys), np.concatenate(rests), np.concatenate(words)))
    old, new = (_once(_only(side, other)) for side, other in (seen, seen[::-1]))
    if len(old.key) == 0:
        return out
    # Every word of the one side with every word of the other that stands in the same place of the same name.
    start, end = np.searchsorted(old.key, new.key, "left"), np.searchsorted(old.key, new.key, "right")
    each = end - start
    behind = np.cumsum(each)
    right = np.repeat(start - (behind - each), each) + np.arange(int(each.sum()))
    left = np.repeat(np.arange(len(new.key)), each)
    a, b, key, rest = new.word[left], old.word[right], new.key[left], new.rest[left]
    differ = phrases.concepts[a] != phrases.concepts[b]
    a, b, key, rest = a[differ], b[differ], key[differ], rest[differ]
    n = len(phrases.cls)
    together = _among(_mixed(key, b), _mixed(new.key, new.word)) | _among(_mixed(key, a), _mixed(old.key, old.word))
    for one, other in ((a, b), (b, a)):
        _name(out, phrases, one.astype(np.int64) * n + other, rest, together)
    return out


def _name(out: NDArray[np.int64], phrases: Phrases, pair: NDArray[np.int64], rest: Keys, together: NDArray[np.bool_]) -> None:
    """Write what each short word stands for into out. pair : short word * number of words + long word, of each name seen with both."""
    n, voc = len(phrases.cls), phrases.words.vocabulary
    _, first = np.unique(_mixed(rest, pair), return_index=True)
    found, group = np.unique(pair[first], return_inverse=True)
    names = np.bincount(group, minlength=len(found))
    both = np.bincount(group, weights=together[first], minlength=len(found))
    short, long = found // n, found % n
    length = np.diff(voc.offsets)
    fits = (names >= _NAMES) & (length[short] >= 2) & (4 * length[short] <= 3 * length[long]) & (phrases.akin[short] == 0)
    # A town has its Stadtwerke, and is not they; so is it in every town.
    fits &= (phrases.heads[long] >> np.minimum(length[short], 31).astype(np.uint32) & 1) == 0
    # A handful of words: those that stand for others in three names.
    for i in np.flatnonzero(fits):
        s, e = short[i], long[i]
        fits[i] = is_skeleton(voc.data, voc.offsets[s], voc.offsets[s + 1], voc.data, voc.offsets[e], voc.offsets[e + 1])
    total = np.bincount(short[fits], weights=names[fits], minlength=n)
    sure = fits & (both <= _BOTH * names) & (names >= _FOREMOST * total[short])
    out[short[sure]] = long[sure]


def _only(side: _Seen, other: _Seen) -> _Seen:
    # Most keys stand in one list only, and need not be sorted to see that: their first bits do.
    there = np.zeros(1 << _BITS, bool)
    there[other.key >> np.uint64(64 - _BITS)] = True
    near = np.flatnonzero(there[side.key >> np.uint64(64 - _BITS)])
    return _of(side, near[_among(side.key[near], other.key)])


def _among(keys: Keys, others: Keys) -> NDArray[np.bool_]:
    """Which keys stand among the others; by sorting those once, for numpy's own way is many times slower on millions."""
    known = np.sort(others)
    at = np.searchsorted(known, keys)
    return np.append(known, np.uint64(0))[at] == keys if len(known) else np.zeros(len(keys), bool)


def _of(side: _Seen, chosen: NDArray[Any]) -> _Seen:
    return _Seen(side.key[chosen], side.rest[chosen], side.word[chosen])


def _once(side: _Seen) -> _Seen:
    """In the order of the keys, each word of each key once."""
    _, first = np.unique(_mixed(side.key, side.word), return_index=True)
    return _of(side, first[np.argsort(side.key[first], kind="stable")])


def _mixed(key: Keys, word: NDArray[np.int32] | NDArray[np.int64]) -> Keys:
    return key ^ ((word.astype(np.uint64) + np.uint64(1)) * np.uint64(0xD6E8FEB86659FD93))
