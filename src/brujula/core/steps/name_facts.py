"""What is known of names, and what of it each word of a list says."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from functools import cache
from typing import NamedTuple

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Keys, Texts
from brujula.core.steps.degrees import Degrees
from brujula.core.steps.joining import taken
from brujula.core.steps.listed import among
from brujula.core.steps.patterns import matches
from brujula.core.steps.slips import Known
from brujula.core.steps.text import Words, fold, hash_values


class Syllabic(NamedTuple):
    """Names made of syllables, where another syllable is another name and no slip: the family names, and a pattern (RE2) of a given name's words."""

    families: frozenset[str]
    given: str


class Facts(NamedTuple):
    """What is known of names.

    classes   : folded word to word class (`kernels.names`)
    nicknames : groups of given names for one another, the formal one first; ONE_NAME first: spellings of one name
    short     : names, each with the ways it is shortened in writing
    syllabic  : which names are made of syllables
    eastern   : patterns of names written without a space (`name_cells.unspaced`)
    degrees   : what stands behind a name
    titles    : those of men and those of women, with | between
    names_too : titles that are given names as well, where the lists do not show otherwise
    desks     : words that are nobody's name where there are no others
    """

    classes: Mapping[str, int]
    nicknames: tuple[tuple[str, ...], ...]
    short: tuple[tuple[str, ...], ...]
    syllabic: Syllabic
    eastern: tuple[str, ...]
    degrees: Degrees
    titles: tuple[str, str]
    names_too: frozenset[str]
    desks: frozenset[str]


ONE_NAME = "="
_ENDINGS = ("ie", "ey", "y", "i")


@cache
def _nickname_columns(groups: tuple[tuple[str, ...], ...]) -> tuple[pa.Array, NDArray[np.int32]]:
    """Every word of every group, and its membership: 2 * group + (1 if it is the formal name, or a spelling of the one name), and the formal name's first letter from bit 24 on."""
    listed = {w for group in groups for w in group}
    members = []
    for g, (first, *more) in enumerate(groups):
        spelled = first == ONE_NAME
        names = more if spelled else [first, *more]
        members += [(w, (ord(names[0][0]) << 24) + 2 * g + (k == 0 or spelled)) for k, w in enumerate(names)]
    # Pet names are spelled as one likes: Micky, Mickey, Mickie.
    for w, member in list(members):
        stem = next((w[: -len(e)] for e in _ENDINGS if w.endswith(e)), "")
        if len(stem) >= 3 and not member & 1:
            members += [(stem + e, member) for e in _ENDINGS if stem + e not in listed]
    return pa.array([w for w, _ in members], pa.large_string()), np.array([m for _, m in members], np.int32)


@cache
def given_names_of(groups: tuple[tuple[str, ...], ...]) -> frozenset[str]:
    """Every name of every group."""
    return frozenset(w for group in groups for w in group)


@cache
def nickname_hashes(groups: tuple[tuple[str, ...], ...]) -> Keys:
    """The same as hashes, in order."""
    return np.sort(hash_values(Texts.of(sorted(given_names_of(groups)))))


def nickname_lists(
    words: Words, groups: tuple[tuple[str, ...], ...], given: NDArray[np.int64]
) -> tuple[NDArray[np.int64], NDArray[np.int32]]:
    """Per word its memberships; ~membership of those that a word hardly ever seen may be a slip of. given : how often each is a given name"""
    word, member = _nickname_columns(groups)
    index = words.vocabulary.arrow()
    at = pc.index_in(word, value_set=index) if len(index) else pa.nulls(len(word), pa.int32())
    where = at.fill_null(-1).to_numpy(zero_copy_only=False)
    used = where >= 0
    counts = np.bincount(where[used], minlength=len(words.vocabulary))
    slipped, meant = _slips(words, groups, np.flatnonzero((counts == 0) & (given > 0) & (given <= _SLIPPED)))
    where, member = np.append(where[used], slipped), np.append(member[used], ~meant)
    order = np.lexsort((member, where))
    counts = np.bincount(where, minlength=len(words.vocabulary))
    return np.concatenate([[0], np.cumsum(counts)]).astype(np.int64), member[order].astype(np.int32)


_SLIPPED, _MOST = 2, 4  # times a slip is made at most, and names it may be one of
_LONG = 5  # letters of a word at least: shorter ones are mostly other names


@cache
def _known(groups: tuple[tuple[str, ...], ...]) -> tuple[Known, NDArray[np.int64], NDArray[np.int32]]:
    """Every word of every group, and their memberships: offsets, and numbers."""
    word, member = _nickname_columns(groups)
    known = Known.of(word.to_pylist())
    at = pc.index_in(word, value_set=known.words.vocabulary.arrow()).to_numpy(zero_copy_only=False)
    off = np.append(0, np.cumsum(np.bincount(at, minlength=len(known.words.vocabulary))))
    return known, off, member[np.argsort(at, kind="stable")]


def _slips(
    words: Words, groups: tuple[tuple[str, ...], ...], which: NDArray[np.int64]
) -> tuple[NDArray[np.int64], NDArray[np.int32]]:
    """Of some words those an edit away from a known name, and what that is a member of."""
    which = which[np.diff(words.vocabulary.offsets)[which] >= _LONG]
    if len(which) == 0:
        return which, np.zeros(0, np.int32)
    known, off, member = _known(groups)
    near = known.near(words, which, _MOST)
    row, _ = np.nonzero(near >= 0)
    name = near[near >= 0]
    sizes = off[name + 1] - off[name]
    return np.repeat(which[row], sizes), taken(off, member, name)[1]


@cache
def _short_words(table: tuple[tuple[str, ...], ...]) -> tuple[pa.Array, pa.Array]:
    pairs = [(word, whole) for whole, *more in table for word in more]
    return pa.array([p[0] for p in pairs], pa.large_string()), pa.array([p[1] for p in pairs], pa.large_string())


def written_out(words: Words, table: tuple[tuple[str, ...], ...]) -> Words:
    """Words with each that is a name shortened in writing (Fdez., Wm.) put as the name itself."""
    short, whole = _short_words(table)
    own = words.vocabulary.arrow()
    found = pc.index_in(own, value_set=short)
    at = np.flatnonzero(found.is_valid().to_numpy(zero_copy_only=False))
    if len(at) == 0:
        return words
    meant = whole.take(found.take(pa.array(at)))
    more = fold(Texts.of(pc.unique(meant.filter(pc.invert(pc.is_in(meant, value_set=own))))))
    vocabulary = Texts.of(pa.concat_arrays([own, more.vocabulary.arrow()]))
    become = np.arange(len(own), dtype=np.int32)
    become[at] = pc.index_in(meant, value_set=vocabulary.arrow()).to_numpy()
    return Words(words.offsets, become[words.ids], vocabulary)


_TITLED = 0.005  # share of the records that a list addresses by a title, where it does so throughout
_ALONE = 3  # times as often before two names as before one


def titles_for_names(
    words: Words, given: NDArray[np.int32], full: NDArray[np.int32], names_too: Collection[str]
) -> NDArray[np.int32]:
    """Words of the vocabulary that are titles elsewhere and names here: Don Prado and Don Wilson Prado, unless two names follow it in more than a few of a list, and seldom one.

    given, full : per record its text in either column, -1 = blank
    """
    found = pc.index_in(pa.array(sorted(names_too), pa.large_string()), value_set=words.vocabulary.arrow()).drop_null()
    out, sizes = [], np.diff(words.offsets)
    for word in found.to_numpy(zero_copy_only=False):
        at = np.flatnonzero(sizes > 0)
        at = at[words.ids[words.offsets[at]] == word]
        often = np.stack([np.bincount(texts[texts >= 0], minlength=len(words))[at] for texts in (given, full)])
        behind = sizes[at] - 1 - np.array([[0], [1]])
        alone, in_front = int(often[behind == 0].sum()), int(often[behind > 0].sum())
        if in_front <= max(_ALONE * alone, _TITLED * len(given)):
            out.append(word)
    return np.array(out, np.int32)


def only(of_them: NDArray[np.bool_], off: NDArray[np.int64], ids: NDArray[np.int32]) -> NDArray[np.bool_]:
    """Which entries have words, and only such. of_them : bool[vocabulary]"""
    others = np.concatenate([[0], np.cumsum(~of_them[ids])])
    return np.asarray((others[off[1:]] == others[off[:-1]]) & (off[1:] > off[:-1]))


def of_syllables(
    vocabulary: Texts, off: NDArray[np.int64], ids: NDArray[np.int32], n_given: NDArray[np.int32], rule: Syllabic
) -> NDArray[np.bool_]:
    """Whether each entry's name is made of syllables: all of its given words, before one family name of such names."""
    out, start, given = np.zeros(len(n_given), bool), off[:-1], n_given.astype(np.int64)
    family = among(vocabulary.arrow(), rule.families).to_numpy(zero_copy_only=False)
    one = np.flatnonzero((given > 0) & (np.diff(off) == given + 1))
    one = one[family[ids[start[one] + given[one]]]]
    if len(one):
        whole = matches(vocabulary.arrow(), rule.given).to_numpy(zero_copy_only=False)
        until = np.concatenate([[0], np.cumsum(~whole[ids])])
        out[one] = until[start[one] + given[one]] == until[start[one]]
    return out
