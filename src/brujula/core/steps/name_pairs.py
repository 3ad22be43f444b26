"""How two personal names stand to each other, and what the mailboxes beside them say of it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from brujula.core.kernels import mailboxes as boxed, name_levels, name_parts as level
from brujula.core.kernels.edits import scratch
from brujula.core.kernels.names import two_families
from brujula.core.steps.distinct import distances, distinct_pairs
from brujula.core.steps.name_keys import first_words
from brujula.core.steps.names import Names
from brujula.core.steps.parallel import in_chunks
from brujula.core.steps.text import unlike_letters

_APART = (level.G_DIFFERS, level.G_BEGINS)
_ALIKE = (level.G_TWO, level.G_SIMILAR)


def compare(names: Names, left: NDArray[np.int32], right: NDArray[np.int32]) -> tuple[NDArray[np.int8], NDArray[np.float32]]:
    """Levels int8[n_pairs, 4] (given, family, middle, generation) and shares float32[n_pairs, 2] (given, family).

    Where names are apart, the name that one record's mailbox gives is laid beside the other's name, unless they share the mailbox:
    what a couple shares says nothing of who is who.
    """
    levels, common = _compared(names, left, right)
    family_only = np.flatnonzero((names.n_given.take(left) == 0) & (names.n_given.take(right) == 0))
    levels[family_only[~(names.whole[left[family_only]] & names.whole[right[family_only]])], 0] = -1
    loose = (levels[:, 0] < level.G_MIDDLE) | (levels[:, 0] == level.G_BEGINS) | (levels[:, 1] < level.F_PART)
    # Two letters are as good as a name with the same family name, and no more than one with another: J.P. Lind and J.P. Quist of one mailbox.
    short, other_short = names.lettered.take(left), names.lettered.take(right)
    initials = (short == 1) | (other_short == 1) | (((short == 2) | (other_short == 2)) & (levels[:, 1] < level.F_PART))
    letter = (levels[:, 0] == level.G_SAME) & initials
    loose |= letter
    a, b = names.alias.take(left), names.alias.take(right)
    apart = np.flatnonzero(loose & ((a >= 0) | (b >= 0)))
    box = names.box[left[apart]]
    apart = apart[(box != names.box[right[apart]]) | (box == 0)]
    for x, y in ((a, right), (left, b), (a, b)) if len(apart) else ():
        at = apart[(x[apart] >= 0) & (y[apart] >= 0)]
        found, shares = _compared(names, x[at], y[at])
        # M. Gomez of miguel.gomez@ is not Molly, nor M. Gomez of molly.gomez@.
        spelled = _spelled_out(names, left[at], x[at]) | _spelled_out(names, right[at], y[at])
        another = ((levels[at, 0] == level.G_INITIAL) | letter[at]) & np.isin(found[:, 0], _APART) & spelled
        levels[at[another], 0] = found[another, 0]
        # Names that look alike may be twins': there the mailbox must say the very name.
        least = np.where(np.isin(levels[at, 0], _ALIKE), level.G_SAME, level.G_MIDDLE)
        hit = (found[:, 0] >= least) & ~np.isin(found[:, 0], _APART) & (found[:, 1] >= level.F_PART)
        at, shares = at[hit], shares[hit]
        given, family = levels[at, 0], levels[at, 1]
        two = np.isin(given, _APART)
        unsure = (given < level.G_MIDDLE) & ~two
        levels[at, 0] = np.where(two, level.G_OTHER, np.where(unsure, level.G_MAILBOX, given))
        levels[at, 1] = np.where(family < level.F_PART, level.F_MAILBOX, family)
        common[at] = shares
        letter[at] = False
    # Two equal initials are as good as one: S. Parks and S. Parks of one address may be two.
    levels[letter & (levels[:, 0] == level.G_SAME), 0] = level.G_INITIAL
    given_away = np.flatnonzero((levels[:, 0] == level.G_DIFFERS) & (levels[:, 1] >= level.F_PART))
    levels[given_away[_initial_given(names, left[given_away], right[given_away])], 0] = level.G_LETTER
    # Elisabeth, elisabeth.lind@, and Elizabeth, elizabeth.lind@; not Bob, bob.lind@, and Robert, robert.lind@.
    spelled = levels[:, 0] == level.G_NICKNAME
    word, other_word = (first_words(names, side[spelled])[0] for side in (left, right))
    spelled[spelled] = distances(names.words.vocabulary, word, other_word) <= 2
    for column, nearly, own in ((0, (*_ALIKE, level.G_TYPO), level.G_OWN), (1, (level.F_SIMILAR, level.F_TYPO), level.F_OWN)):
        like = np.flatnonzero(np.isin(levels[:, column], nearly) | (spelled & (column == 0)))
        levels[like[_own_mailboxes(names, left[like], right[like], family=column == 1)], column] = own
    # Kayla and Kylie of jason.lee@ are Jason's daughters.
    alike = np.isin(levels[:, 0], _ALIKE)
    like = np.flatnonzero(alike & (names.box.take(left) == names.box.take(right)) & (a >= 0) & (b >= 0))
    levels[like[_of_a_third(names, left[like], right[like])], 0] = level.G_BEGINS
    second = (levels[:, 0] == level.G_SAME) & (levels[:, 2] == level.M_DIFFERS)  # Jean-Paul, Jean-Pierre
    like = np.flatnonzero((np.isin(levels[:, 0], _ALIKE) | second) & (levels[:, 1] >= level.F_SIMILAR))
    levels[like[_said_by_none(names, left[like], right[like])], 0] = level.G_NEITHER
    other_second = np.flatnonzero(second & (levels[:, 0] == level.G_SAME))
    levels[other_second[_second_said(names, left[other_second], right[other_second])], 2] = level.M_SAID
    # Many characters are one word in Latin letters, or the beginning of another: what is left to say is that the names sound alike.
    mine, other = names.characters.take(left), names.characters.take(right)
    apart_written = (mine != 0) & (other != 0) & (mine != other)
    sound = apart_written & (levels[:, 1] == level.F_SAME)
    levels[sound & (levels[:, 0] < 0), 1] = level.F_SIMILAR
    levels[sound & (levels[:, 0] == level.G_SAME), 0] = level.G_SIMILAR
    levels[apart_written & ((levels[:, 0] == level.G_NICKNAME) | (levels[:, 0] == level.G_TYPO)), 0] = level.G_SIMILAR
    # Letters that leave out vowels, and characters, do not tell whether a name in Latin ones is another.
    unlike = unlike_letters(names.letters, left, right)
    levels[unlike & np.isin(levels[:, 0], (*_APART, level.G_OTHER, level.G_LETTER)), 0] = level.G_SCRIPT
    levels[unlike & (levels[:, 1] == level.F_DIFFERS), 1] = level.F_SCRIPT
    like = np.flatnonzero(levels[:, 1] == level.F_SIMILAR)
    levels[like[_half_another(names, left[like], right[like])], 1] = level.F_HALF
    # User1 and User2 are two, as Test1 and Test2 are.
    for column, numbers, differs in ((0, names.given_number, level.G_DIFFERS), (1, names.family_number, level.F_DIFFERS)):
        number, other_number = numbers.take(left), numbers.take(right)
        levels[(number != 0) & (other_number != 0) & (number != other_number), column] = differs
    # Sales Team is everybody's: that two desks are called so says little, however few of a list are.
    common[names.nobodys.take(left) & names.nobodys.take(right)] = 2.0
    return levels, common


_SLIPS = 2


def _half_another(names: Names, left: NDArray[np.int32], right: NDArray[np.int32]) -> NDArray[np.bool_]:
    """Which pairs have two family names each, of which one is the same and the others are no slip of one another: Prado Lind, Prado Wren."""
    words = np.empty((2, len(left), 2), np.int32)
    for side, found in zip((left, right), words, strict=True):
        two_families(side, names.off, names.n_given, names.ids, names.cls, found)
    out: NDArray[np.bool_] = np.asarray((words >= 0).all(axis=(0, 2)))
    (a, b), (x, y) = words[0, out].T, words[1, out].T
    first, last, other, end = ((a == x) | (a == y), (b == x) | (b == y), (x == a) | (x == b), (y == a) | (y == b))
    mine, theirs = np.where(first, b, a), np.where(other, y, x)
    whole = np.minimum(*(names.words.vocabulary.sizes(word) for word in (mine, theirs))) > 1
    out[out] = (first != last) & (other != end) & whole & (distances(names.words.vocabulary, mine, theirs) > _SLIPS)
    return np.asarray(out)


def _of_a_third(names: Names, left: NDArray[np.int32], right: NDArray[np.int32]) -> NDArray[np.bool_]:
    """Which pairs share a mailbox that gives a given name neither bears: a parent's, or one partner's."""
    out = names.box[left] != 0
    for own in (left, right):
        found = _compared(names, own[out], names.alias[own[out]])[0]
        out[out] = np.isin(found[:, 0], _APART) & (found[:, 1] >= level.F_PART)
    return np.asarray(out)


def _second_said(names: Names, left: NDArray[np.int32], right: NDArray[np.int32]) -> NDArray[np.bool_]:
    """Which pairs share a mailbox that gives the second given name of one only: jeanpaul.orme@ of Jean-Paul and of Jean-Pierre."""
    out = (names.box[left] == names.box[right]) & (names.box[left] != 0)
    left, right = left[out], right[out]
    found, letters, voc = np.zeros(len(left), bool), names.boxes, names.words.vocabulary
    words = [np.full(len(side), -1, np.int32) for side in (left, right)]
    for side, word in zip((left, right), words, strict=True):
        two = names.n_given[side] > 1  # one whose halves stand the wrong way round has its family name there
        word[two] = names.ids[names.off[side[two]] + 1]
    boxed.says_one(*words, names.box_codes[left], letters.offsets, letters.data, voc.offsets, voc.data, found)
    out[out] = found
    return np.asarray(out)


def _said_by_none(names: Names, left: NDArray[np.int32], right: NDArray[np.int32]) -> NDArray[np.bool_]:
    """Which pairs share a mailbox that says neither's given name: home12@ of Luis and of Luisa."""
    out = (names.box[left] == names.box[right]) & (names.box[left] != 0)
    left, right = left[out], right[out]
    found, letters, voc = np.zeros(len(left), bool), names.boxes, names.words.vocabulary
    words = (first_words(names, side)[0] for side in (left, right))
    boxed.says_neither(*words, names.box_codes[left], letters.offsets, letters.data, voc.offsets, voc.data, found)
    out[out] = found
    return np.asarray(out)


def _own_mailboxes(names: Names, left: NDArray[np.int32], right: NDArray[np.int32], family: bool) -> NDArray[np.bool_]:
    """Which pairs have two mailboxes at one place, and each gives its own record's given or family name: a slip would have to be made twice."""
    box, other, host = names.box.take(left), names.box.take(right), names.host.take(left)
    at = np.flatnonzero((host == names.host.take(right)) & (host != 0) & (box != other) & (box != 0) & (other != 0))
    out, found = np.zeros(len(left), bool), np.zeros(len(at), bool)
    left, right, letters, voc = left[at], right[at], names.boxes, names.words.vocabulary
    words = [first_words(names, side)[1 if family else 0] for side in (left, right)]
    mailboxes = names.box_codes[left], names.box_codes[right]
    boxed.own_mailboxes(*words, *mailboxes, letters.offsets, letters.data, voc.offsets, voc.data, found)
    out[at] = found
    return out


def _initial_given(names: Names, left: NDArray[np.int32], right: NDArray[np.int32]) -> NDArray[np.bool_]:
    """Which pairs of two given names have a mailbox of one that gives the other's initial: levyr@ of Adilson Levy, beside Robert Levy. A mailbox both have gives nobody away."""
    mine, other = _other_initials(names, left), _other_initials(names, right)
    starts, other_starts = _given_starts(names, left), _given_starts(names, right)
    hit = ((mine > 0) & (mine == other_starts)) | ((other > 0) & (other == starts))
    return np.asarray(hit & (names.box.take(left) != names.box.take(right)))


def _other_initials(names: Names, records: NDArray[np.int32]) -> NDArray[np.uint8]:
    """The initial each record's mailbox sets to its family name, where no word of its own begins so; 0 = none."""
    out, letters, voc = np.zeros(len(records), np.uint8), names.boxes, names.words.vocabulary
    boxed.other_initials(
        records,
        names.box_codes,
        letters.offsets,
        letters.data,
        names.off,
        names.ids,
        names.n_given,
        names.cls,
        voc.offsets,
        voc.data,
        out,
    )
    return out


def _given_starts(names: Names, records: NDArray[np.int32]) -> NDArray[np.uint8]:
    """The first letter of each record's first given word; 0 = none."""
    given, voc = first_words(names, records)[0], names.words.vocabulary
    out = np.zeros(len(records), np.uint8)
    out[given >= 0] = voc.data[voc.offsets[given[given >= 0]]]
    return out


def _spelled_out(names: Names, own: NDArray[np.int32], alias: NDArray[np.int32]) -> NDArray[np.bool_]:
    """Whether a record's given name is an initial, and the name its mailbox gives begins with it. alias : its own number where there is none."""
    starts = names.words.vocabulary.offsets
    given = np.full(len(own), -1)
    has = (names.n_given[own] > 0) & (names.n_given[alias] > 0)
    given[has] = names.ids[names.off[own[has]]]
    out: NDArray[np.bool_] = has & (own != alias)
    out[out] = names.words.vocabulary.sizes(given[out]) == 1
    meant = names.ids[names.off[alias[out]]]
    data = names.words.vocabulary.data
    out[out] = data[starts[meant]] == data[starts[given[out]]]
    return out


def _compared(names: Names, left: NDArray[np.int32], right: NDArray[np.int32]) -> tuple[NDArray[np.int8], NDArray[np.float32]]:
    """Levels and shares of each pair of entries, each pair of different names compared once."""
    n = max(names.n_records, 1)
    low, high, which = distinct_pairs(names.code.take(left), names.code.take(right))
    left, right = names.first.take(low), names.first.take(high)
    levels, common = np.full((len(left), 4), -1, np.int8), np.zeros((len(left), 2), np.float32)
    often = max(3.0, n * 2e-4)
    voc = names.words.vocabulary

    def part(a: int, b: int) -> None:
        words = level.NameWords(
            names.ids,
            names.cls,
            voc.offsets,
            voc.data,
            names.words.sounds,
            names.words.masks,
            names.nick_off,
            names.nick_ids,
            names.given_counts,
            names.family_counts,
            n,
            often,
            np.empty(96, np.uint8),
            np.empty(96, np.uint8),
            scratch(),
        )
        name_levels.compare_names(
            left[a:b], right[a:b], names.off, names.n_given, names.whole, names.suffix, words, levels[a:b], common[a:b]
        )

    in_chunks(part, len(left))
    both, given = names.syllabic.take(left) & names.syllabic.take(right), levels[:, 0].copy()
    levels[both & np.isin(given, _ALIKE), 0] = level.G_DIFFERS
    levels[both & ((given == level.G_TYPO) | (given == level.G_NICKNAME)), 0] = level.G_SIMILAR
    return levels.take(which, axis=0), np.where(common < 0, np.float32(1.0), common / np.float32(n)).take(which, axis=0)
