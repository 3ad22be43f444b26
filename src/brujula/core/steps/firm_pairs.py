"""How two firms' names stand to each other."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from brujula.core.batch import Codes, Keys
from brujula.core.kernels.company import digit_apart
from brujula.core.kernels.edits import scratch
from brujula.core.kernels.phrases import ACRONYM, ADDED, APART, CLOSE, DIFFERS, LONGER, NEARLY, SAME, SHARES
from brujula.core.kind import Compared
from brujula.core.steps import initials, mail_firms, part_of, phrases
from brujula.core.steps.text import unlike_letters

_RARE = 1.5
"""As many firms at most as are reckoned to have the words that two have in common, where that is a rare name."""
_ABROAD = ACRONYM + 1
"""The level of a name that has a legal form of another country on the other side; the kernel's levels above it are one more."""
_SPELLED, _ONE_NUMBERED, _DIGIT_APART, _THEIRS, _LETTERS, _ONE_UNIT = 10, 11, 12, 13, 14, 15
"""The levels of a firm that the other side's mailbox spells, of one whose long number the other leaves out, of one whose number is another but for a digit, of two that share a word, or whose initials, no third has, and of one whose short number, letter or side the other leaves out."""
_PARTLY = (SHARES, ADDED, LONGER, NEARLY, CLOSE)


class Companies(NamedTuple):
    """Firm names of n records.

    phrases   : the name;  other : another reading of it (code -1 = none), one of the next four:
    listed    : the trading name behind `dba` or in another column
    called    : what it is called for short (2 where these are its letters, else 1)
    apart     : its words apart that run together
    local     : the name without the firm's own town, where a word stands before it
    bare      : the name without that town wherever it stands (code -1 = it does not);  placename : it is that town and nothing else
    town      : a key of the firm's own town;  placed : whether any is told, or a postal code
    script    : 1 where it has words in Latin letters, 2 in others, 3 both, 0 neither
    numbered  : a bit where the name has a number of three digits or more, another where it has a shorter one, a letter or a side
    whole     : a key of the whole name;  rare, second : of its rarest word and the next
    of_two    : a bit where no third firm has its rarest word, another where none has its second
    within    : the whole name without the word that says it is a department (0 = none does)
    houses    : which words it has for a house of learning or healing, or another, and for what is within one, a bit each
    shares    : the share of firms that have the whole name;  forms : where its legal form is known, a bit each
    initials  : the letters its words begin with
    short     : short words the lists themselves showed to stand for long ones
    domains   : of people whose firm is not named, the one their mailbox is at
    size      : how many firms there are (0 of people: colleagues share a name)
    """

    phrases: phrases.Phrases
    other: NDArray[np.int32]
    listed: NDArray[np.bool_]
    apart: NDArray[np.bool_]
    called: NDArray[np.int8]
    local: NDArray[np.bool_]
    bare: Codes
    placename: NDArray[np.bool_]
    town: Keys
    placed: NDArray[np.bool_]
    script: NDArray[np.int8]
    numbered: NDArray[np.int8]
    whole: Keys
    rare: Keys
    second: Keys
    of_two: NDArray[np.int8]
    within: Keys
    houses: NDArray[np.int32]
    shares: NDArray[np.float32]
    forms: NDArray[np.int32]
    initials: initials.Initials
    short: tuple[tuple[str, str], ...]
    domains: mail_firms.Domains
    size: int


_Which = NDArray[np.int32]
_Levels = NDArray[np.int8]
_Bits = NDArray[np.float32]


def compare(firms: Companies, left: _Which, right: _Which) -> Compared:
    """Level and share of each pair of records; -1 where names are blank, or written in letters that cannot be compared."""
    level, bits = phrases.compare(firms.phrases, left, right)
    _without_own_town(firms, left, right, level, bits)
    _read_otherwise(firms, left, right, level, bits)
    spelt = initials.spelling(firms.initials, left, right)
    level[spelt & (level == DIFFERS)] = ACRONYM
    level[unlike_letters(firms.script, left, right) & (level <= SHARES) & (level != APART)] = -1
    _within_another(firms, left, right, level)
    common = _by_chance(firms, left, right, level, bits)
    ours, theirs = firms.forms.take(left), firms.forms.take(right)
    abroad = (level == SAME) & (ours != 0) & (theirs != 0) & (ours & theirs == 0)
    rare = (common * np.float32(firms.size) <= _RARE) & (firms.size > 0)
    level[(level == LONGER) & ~rare] = ADDED
    level[level > ACRONYM] += 1
    level[abroad] = _ABROAD
    _numbered(firms, left, right, level)
    if firms.size:
        _no_third(firms, left, right, level, spelt)
    at, bits = mail_firms.spelled(firms.domains, firms.phrases, left, right)
    level[at], common[at] = _SPELLED, np.exp2(-bits)
    return Compared(level, common)


def _without_own_town(firms: Companies, left: _Which, right: _Which, level: _Levels, bits: _Bits) -> None:
    """Two that both name the town they are in do not have that in common: City of Orme, Orme State University."""
    bare = firms.bare >= 0
    partly = np.flatnonzero(bare.take(left) & bare.take(right) & np.isin(level, _PARTLY))
    if len(partly):
        again, worth = phrases.compare(firms.phrases._replace(codes=firms.bare), left[partly], right[partly])
        less = again < level[partly]
        level[partly[less]], bits[partly[less]] = again[less], worth[less]
    lone = (firms.placename.take(left) & bare.take(right)) | (firms.placename.take(right) & bare.take(left))
    level[lone & (level > SHARES)] = SHARES


def _read_otherwise(firms: Companies, left: _Which, right: _Which, level: _Levels, bits: _Bits) -> None:
    """A trading name may be the other side's only name, a capital within may begin a word or not: the best of all readings counts."""
    named = (firms.other.take(left) >= 0) | (firms.other.take(right) >= 0)
    # In one town its name says nothing; in two it is what tells them apart: First Church of X.
    named &= ~(firms.local.take(left) | firms.local.take(right)) | (firms.town.take(left) == firms.town.take(right))
    at = np.flatnonzero(named)
    if not len(at):
        return
    a, b = left[at], right[at]
    bare = (firms.bare[a] >= 0) & (firms.bare[b] >= 0)
    for mine, theirs in ((True, False), (False, True), (True, True)):
        codes = firms.phrases.codes
        both = firms.phrases._replace(codes=np.concatenate([firms.other if mine else codes, firms.other if theirs else codes]))
        read, worth = phrases.compare(both, a, (b + len(codes)).astype(np.int32))
        if mine != theirs:
            read[bare & ((mine & firms.local[a]) | (theirs & firms.local[b]))] = -1
        # Shops of one owner have his name in another column: it is the name of who bears no other.
        read[(mine & theirs) & (firms.listed[a] | firms.listed[b])] = -1
        # Read as one word, a name with a capital within says something only where the other is that word too.
        as_one = firms.apart[a] | firms.apart[b]
        # One word that stays without the town is the whole name or nothing: Lindhorns (Orme) and Lindhorns Quist.
        brief = (mine & _one_word(firms, a)) | (theirs & _one_word(firms, b))
        read[(read < NEARLY) & (read != ACRONYM) & brief] = -1
        # Two that are called alike for short have that in common, and at least one of them must be known to be called so.
        called, also = mine * firms.called[a], theirs * firms.called[b]
        short = (called > 0) | (also > 0)
        read[short] = np.where((read[short] == SAME) & (np.maximum(called, also)[short] == 2), ADDED, -1)
        better = (read > level[at]) | ((read >= 0) & as_one & (level[at] < NEARLY))
        level[at[better]], bits[at[better]] = read[better], worth[better]


def _one_word(firms: Companies, at: _Which) -> NDArray[np.bool_]:
    """Of which records one word stays when their town is left out."""
    other, off = firms.other.take(at), firms.phrases.off
    return np.asarray(firms.local.take(at) & (off[other + 1] - off[other] == 1))


def _within_another(firms: Companies, left: _Which, right: _Which, level: _Levels) -> None:
    """A department or a school is not what it is one of. Who works in it works there."""
    more = np.flatnonzero((level == ADDED) | (level == LONGER)) if firms.size else np.zeros(0, np.int64)
    a, b = left[more], right[more]
    department = part_of.is_department((firms.within[a], firms.within[b]), (firms.whole[a], firms.whole[b]))
    level[more[department | part_of.is_house_of(firms.houses[a], firms.houses[b])]] = SHARES


def _by_chance(firms: Companies, left: _Which, right: _Which, level: _Levels, bits: _Bits) -> _Bits:
    """The share of firms that would have by chance what two have in common: as rare as its words are, or as the whole name is in the lists."""
    alike = np.flatnonzero(level > SHARES)
    common = np.zeros(len(left), np.float32)
    common[alike] = np.exp2(-bits[alike])
    # Beyond the pair itself, how often the whole name stands in the lists is the better estimate where it is the higher.
    same = alike[firms.whole[left[alike]] == firms.whole[right[alike]]]
    share = firms.shares[left[same]]
    few = share * max(len(firms.whole), 1) <= 2.5
    # Of many firms that would be called so by chance, none is there: it is no name that chance makes (Bank of Orme). One word is what it is.
    words = np.diff(firms.phrases.off)[firms.phrases.codes[left[same]]]
    most = np.where((words > 1) & (firms.size > 0), share + np.float32(1.0 / max(firms.size, 1)), common[same])
    common[same] = np.where(few, np.minimum(common[same], most), np.maximum(share, common[same]))
    return common


def _numbered(firms: Companies, left: _Which, right: _Which, level: _Levels) -> None:
    """Which of two told apart by a number leave out a long one or a short one, or have a digit of a long one apart."""
    apart = level == APART
    ours, theirs = firms.numbered.take(left), firms.numbered.take(right)
    level[apart & (ours + theirs == 1)] = _ONE_NUMBERED
    level[apart & ((ours == 0) != (theirs == 0)) & (level == APART)] = _ONE_UNIT
    long = np.flatnonzero(apart & (ours == 1) & (theirs == 1))
    by_digit, voc = np.zeros(len(long), bool), firms.phrases.words.vocabulary
    texts = firms.phrases.codes.take(left[long]), firms.phrases.codes.take(right[long])
    digit_apart(*texts, firms.phrases.off, firms.phrases.ids, firms.phrases.cls, voc.offsets, voc.data, scratch(), by_digit)
    level[long[by_digit]] = _DIGIT_APART


def _no_third(firms: Companies, left: _Which, right: _Which, level: _Levels, spelt: NDArray[np.bool_]) -> None:
    """Which pairs share a word that no third firm has, or are the only two that the initials stand for."""
    partly = np.flatnonzero(level == SHARES)
    a, b = left[partly], right[partly]
    alone = np.zeros(len(partly), bool)
    for bit, mine in ((1, firms.rare), (2, firms.second)):
        known, key = firms.of_two.take(a) & bit > 0, mine.take(a)
        alone |= known & ((key == firms.rare.take(b)) | (key == firms.second.take(b)))
    level[partly[alone]] = _THEIRS
    lettered = firms.initials.theirs
    level[spelt & (level == ACRONYM) & lettered.take(left) & lettered.take(right)] = _LETTERS
