"""Firms by their initials: one short word, and the longer name whose words begin so."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from brujula.core.batch import Codes, Column, Keys, Texts
from brujula.core.kernels.company import acronyms
from brujula.core.kernels.words import DIRECTION, NUMBER
from brujula.core.steps.phrases import Phrases
from brujula.core.steps.text import of_records

_SHOWN = 1500  # firms from which on the lists show that no third has them
_TELLING = 4  # letters that few names share by chance; three are a third firm's as often as not


class Initials(NamedTuple):
    """Initials of n records, as keys; 0 = none.

    letters : of the words of the name that count, or the one short word it is;  but_one : that word without its last letter
    spelt   : of all words, those that join the others as well (SOB for State of Brass)
    short   : whether it is one short word;  theirs : whether one other name in all lists has these initials, and no third
    """

    letters: Keys
    but_one: Keys
    spelt: Keys
    short: NDArray[np.bool_]
    theirs: NDArray[np.bool_]


def of_firms(spoken: Phrases, whole: Keys) -> Initials:
    """The initials of each record's firm. whole : uint64[n], a key of each name"""
    words, voc = spoken.words, spoken.words.vocabulary
    core, every = (np.zeros((2, n), np.uint64) for n in (len(spoken.off) - 1, len(words)))
    acronyms(spoken.off, spoken.ids, voc.offsets, voc.data, np.empty(8, np.uint8), core)
    # Behind the texts as they are written stand some without a part; all words of those are not told apart.
    acronyms(words.offsets, words.ids, voc.offsets, voc.data, np.empty(8, np.uint8), every)
    # What has a number is told by it, and initials leave it out.
    numbered = (spoken.cls >= NUMBER) & (spoken.cls != DIRECTION)
    core[:, _having(spoken.off, spoken.ids, numbered)] = 0
    every[:, _having(words.offsets, words.ids, numbered)] = 0
    one = np.diff(spoken.off) == 1
    # The article and the legal form of a name of one word are not what it is called by.
    every = np.where(one, np.uint64(0), np.pad(every[0], (0, len(one) - len(words))))
    length = np.zeros(len(one), np.int64)
    length[one] = np.diff(voc.offsets)[spoken.ids[spoken.off[:-1][one]]]
    column = Column(Texts.of([]), spoken.codes)
    letters, but_one, spelt = (of_records(keys, column) for keys in (core[0], core[1], every))
    short = np.append(one, False)[spoken.codes] & (letters != 0)
    telling = short & (np.append(length, 0)[spoken.codes] >= _TELLING)
    return Initials(letters, but_one, spelt, short, _of_two(letters, spelt, short, telling, whole))


def _having(off: NDArray[np.int64], ids: NDArray[np.int32], which: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Which texts have any of some words of the vocabulary."""
    text = np.repeat(np.arange(len(off) - 1), np.diff(off))
    return np.bincount(text[which[ids]], minlength=len(off) - 1) > 0


def _of_two(letters: Keys, spelt: Keys, short: NDArray[np.bool_], telling: NDArray[np.bool_], whole: Keys) -> NDArray[np.bool_]:
    """Which records are called by letters that are the initials of one other name, or bear that name."""
    out = np.zeros(len(whole), bool)
    asked = np.unique(letters[telling])
    if len(whole) < _SHOWN or len(asked) == 0:
        return out
    at = [np.flatnonzero(~short & np.isin(keys, asked)) for keys in (letters, spelt)]
    keys, rows = np.concatenate([letters[at[0]], spelt[at[1]]]), np.concatenate(at)
    # Once for each name, however many bear it.
    names = np.unique(np.stack([keys, whole[rows]]), axis=1)
    found, times = np.unique(names[0], return_counts=True)
    alone = found[times == 1]
    out[telling & np.isin(letters, alone)] = True
    out[rows[np.isin(keys, alone)]] = True
    return out


def spelling(initials: Initials, left: Codes, right: Codes) -> NDArray[np.bool_]:
    """Of which pairs of records one is the initials of the other."""
    a, b = initials.letters.take(left), initials.letters.take(right)
    other_a, other_b = initials.spelt.take(left), initials.spelt.take(right)
    short_a, short_b = initials.short.take(left), initials.short.take(right)
    return np.asarray(
        (short_a & ~short_b & (a != 0) & ((a == b) | (a == other_b)))
        | (short_b & ~short_a & (b != 0) & ((b == a) | (b == other_a)))
    )
