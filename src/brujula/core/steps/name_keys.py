"""Keys of names, by which records are brought together."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from brujula.core.batch import Keys
from brujula.core.kernels import names as kernel
from brujula.core.steps import joining
from brujula.core.steps.grams import rarest_trigrams
from brujula.core.steps.names import Names
from brujula.core.steps.text import join_keys


def first_words(names: Names, entries: NDArray[np.int32]) -> tuple[NDArray[np.int32], NDArray[np.int32], NDArray[np.int32]]:
    """The first given word, the first and the last family word of each entry; -1 = none."""
    given, family, last = (np.empty(len(entries), np.int32) for _ in range(3))
    kernel.first_words(entries, names.off, names.ids, names.n_given, names.cls, given, family, last)
    return given, family, last


def keys(names: Names) -> dict[str, Keys]:
    """Keys of each record: family, its sound, given, initial, both together in either order, also as its mailbox gives them.

    initials : those of the given and the family name in either order, or the sound of all of a name that is one word
    formal_initial : the initial, and those of names that the given one is short for (Bill: W)
    abridged : the sound of the family name with each of these; that of the given name with the first and last letter of the
        family name, which slips seldom touch, or with its initial where the names look turned round
    """
    n, total = len(names.alias), len(names.n_given)
    given, family, last = first_words(names, np.arange(total, dtype=np.int32))
    hashes, sounds = np.append(names.words.hashes, np.uint64(0)), np.append(names.words.sounds, np.uint64(0))
    low_sound, high_sound = np.minimum(sounds[given], sounds[family]), np.maximum(sounds[given], sounds[family])
    # Who goes by one name only is looked for by it.
    low_sound = np.where((low_sound == 0) & names.whole, high_sound, low_sound)
    every_sound = np.append(join_keys(low_sound, high_sound), np.uint64(0))
    given, family, last = given[:n], family[:n], last[:n]
    voc = names.words.vocabulary
    starts = np.append(voc.data[voc.offsets[:-1]] if len(voc) else np.zeros(0, np.uint8), np.uint8(0)).astype(np.uint64)
    ends = (starts << np.uint64(8)) | np.append(voc.data[voc.offsets[1:] - 1] if len(voc) else np.zeros(0, np.uint8), np.uint8(0))
    part_of_family = np.where(_turned_round(names, given, family), starts[family], ends[family])
    low, high = np.minimum(hashes[given], hashes[family]), np.maximum(hashes[given], hashes[family])
    formal = np.stack([of_word[given] for of_word in (starts, *_formal_initials(names, starts))])
    initials = join_keys(*(f(starts[given], starts[family]) for f in (np.minimum, np.maximum)))
    return {
        "family": hashes[family],
        "family_sound": sounds[family],
        "family_last": np.where(last == family, np.uint64(0), hashes[last]),
        "given": hashes[given],
        "given_sound": sounds[given],
        "initial": starts[given],
        "name": join_keys(low, high),
        "name_sound": every_sound[:n],
        "initials": np.where(initials == 0, every_sound[:n], initials),
        "either_sound": np.stack([every_sound[:n], every_sound[names.alias]]),
        "formal_initial": formal,
        "abridged": np.stack(
            [*(join_keys(sounds[family], initial) for initial in formal), join_keys(sounds[given], part_of_family)]
        ),
        "gram": trigram_keys(names),
    }


def _formal_initials(names: Names, starts: Keys) -> Keys:
    """Initials of names that each word is short for, other than its own: of several the first two, which nearly all have at most. uint64[2, words + 1], 0 = none"""
    known = names.nick_ids >= 0
    word = np.repeat(np.arange(len(names.nick_off) - 1), np.diff(names.nick_off))[known]
    initial = (names.nick_ids[known] >> 24).astype(np.int64)
    word, initial = np.unique(np.stack([word, initial])[:, initial != starts.astype(np.int64)[word]], axis=1)
    nth = np.arange(len(word)) - np.searchsorted(word, word)
    out = np.zeros((2, len(starts)), np.uint64)
    for k in range(2):
        out[k, word[nth == k]] = initial[nth == k]
    return out


def _turned_round(names: Names, given: NDArray[np.int32], family: NDArray[np.int32]) -> NDArray[np.bool_]:
    """Which records seem to have their names the wrong way round: an initial for a family name, or two words that more others bear the other way."""
    sizes = np.append(np.diff(names.words.vocabulary.offsets), 0)
    as_given, as_family = np.append(names.given_counts, 0), np.append(names.family_counts, 0)
    other_way = as_family[given] + as_given[family] > as_given[given] + as_family[family]
    return np.asarray((given >= 0) & (family >= 0) & (other_way | (sizes[family] == 1)))


def trigram_keys(names: Names, **which: int) -> Keys:
    """Keys of the rarest trigrams of each record's name, uint64[most, n]; a name is looked at once, however many bear it. which : as `rarest_trigrams` takes it"""
    off, ids = joining.taken(names.off, names.ids, names.first)
    return rarest_trigrams(off, ids, names.words.vocabulary, **which)[:, names.code[: len(names.alias)]]
