"""Words of phrases: their classes, what is known of each, and which are one but for a slip, or short for another."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import types
from numpy.typing import NDArray

from brujula.core.kernels.compiled import Table, compiled, inner, record_type
from brujula.core.kernels.edits import is_prefix, is_skeleton, n_letters_apart, same_bytes, slip
from brujula.core.kernels.hashing import hash_range

# Word classes, given by the kind's tables.
LEVEL, SCHOOL, GIVEN, PART, FILLER, WORD = -5, -4, -3, -2, -1, 0
SKIP, LEGAL, NUMBER, LETTER, DIRECTION, JOINER, YEAR = 1, 2, 3, 4, 5, 6, 7
# A GIVEN is somebody's given name: two of them are two names, however alike (St. Mary's, St. Mark's).
# A FILLER (group, services) says little; a PART (youth, high, foundation) names one of several firms of a name; a JOINER is a letter that joins words inside a name (y, e) and names a unit at its end;
# a YEAR is a number that is often left out. A LEVEL (middle, high) is a PART that says which years a SCHOOL takes, LEVEL - 1, LEVEL - 2, LEVEL - 4 and their sums,
# a bit for each part of the years: schools with none in common are two, and where it agrees the word school goes without saying.
MAX_WORDS = 24
_STEM = 5  # letters
_SHORTEST_STEM, _LONGEST_STEM, _ENDING = 4, 14, 6
_OFTENER = 6.6  # bits: a hundred times as common


@compiled("void(int64[::1], uint8[::1], uint64[::1], uint32[::1])")
def compound_heads(voc_off, voc, ends, out):
    """A bit k of each word whose letters behind the first k are one of some words: of Stadtwerke, where werke is, the fifth.

    ends : hashes of the words, sorted
    """
    for w in range(out.size):
        start, end = voc_off[w], voc_off[w + 1]
        out[w] = np.uint32(0)
        for k in range(3, min(end - start - 2, 32)):
            h = hash_range(voc, start + k, end)
            at = np.searchsorted(ends, h)
            if at < ends.size and ends[at] == h:
                out[w] |= np.uint32(1 << k)


@compiled("void(int64[::1], uint8[::1], uint64[::1], int64[::1])")
def stems_of(voc_off, voc, stems, out):
    """Where among some stems the longest one is that each word begins with, up to six letters standing behind it; else as it was.

    stems : hashes of four to fourteen letters, sorted
    """
    for w in range(out.size):
        start, end = voc_off[w], voc_off[w + 1]
        for size in range(min(end - start - 1, _LONGEST_STEM), max(end - start - _ENDING, _SHORTEST_STEM) - 1, -1):
            h = hash_range(voc, start, start + size)
            at = np.searchsorted(stems, h)
            if at < stems.size and stems[at] == h:
                out[w] = at
                break


@inner("float32(int32[::1], float32[::1], int64, int64)")
def worth_of(ids, weights, start, n):
    """Bits that n words are worth together: the rarest in full, the others at 0.4."""
    top, total = np.float32(0.0), np.float32(0.0)
    for k in range(start, start + n):
        top = max(top, weights[ids[k]])
        total += weights[ids[k]]
    return top + np.float32(0.4) * (total - top)


class PhraseWords(NamedTuple):
    """The words of phrases one behind another, what is known of each word, and room to work in.

    ids : the words, numbers in the vocabulary, by which all else is found;  cls : their classes
    with_article : each word run together with the article before it, and with the two, hashed, 0 = there is none;  hashes : of words
    concepts, akin : what each means, and another meaning near that, 0 = none;  weights : bits it is worth
    voc_off, voc : their letters;  masks, sounds : which letters they have, and how they sound;  heads : see `compound_heads`
    usual : bits of a word at most that many have
    run_a, run_b : room for a phrase's words run together, 160 letters each;  pm : `edits.scratch`
    """

    ids: NDArray[np.int32]
    with_article: Table[np.uint64]
    hashes: NDArray[np.uint64]
    cls: NDArray[np.int32]
    concepts: NDArray[np.uint64]
    akin: NDArray[np.uint64]
    weights: NDArray[np.float32]
    voc_off: NDArray[np.int64]
    voc: NDArray[np.uint8]
    masks: NDArray[np.uint32]
    sounds: NDArray[np.uint64]
    heads: NDArray[np.uint32]
    usual: np.float32
    run_a: NDArray[np.uint8]
    run_b: NDArray[np.uint8]
    pm: NDArray[np.uint64]


WORDS = record_type(PhraseWords)
INT, FLOAT, FLAGS = types.int64, types.float32, types.boolean[::1]


@inner("int64(int64, int64, int64[::1], uint8[::1], uint32[::1], uint64[::1], uint32[::1], uint64[::1])")
def word_distance(a, b, voc_off, voc, masks, sounds, heads, pm):
    """0 equal, 1 a slip, 2 an abbreviation of the other, 3 neither. heads : see `compound_heads`; a word is not short for its compound"""
    a0, a1, b0, b1 = voc_off[a], voc_off[a + 1], voc_off[b], voc_off[b + 1]
    short = min(a1 - a0, b1 - b0)
    # Slips that leave the sound as it was count in shorter words, and more of them: Akademy, Acadmey.
    sound, first = sounds[a] == sounds[b], voc[a0] == voc[b0]
    reach = 3 if sound and first and short >= 8 else 2 if (sound and short >= 6) or (first and short >= 8) else 1
    # Words of three letters with one of them changed are two words: ABC and ABD, Sun and Son.
    other = short == 3 and a1 - a0 == b1 - b0 and masks[a] != masks[b]
    if (
        short >= 3
        and not other
        and abs((a1 - a0) - (b1 - b0)) <= reach
        and n_letters_apart(masks[a], masks[b]) <= min(2 * reach, 4)
    ):
        s = slip(voc, a0, a1, voc, b0, b1, pm)
        if s <= 1 or (s == 2 and sound and short >= 6):
            return min(s, 1)
    if a1 - a0 > b1 - b0:
        a0, a1, b0, b1 = b0, b1, a0, a1
        a, b = b, a
    if masks[a] & ~masks[b]:
        return 3  # the shorter has a letter the longer lacks: no abbreviation of it
    # Long beginnings of much longer words are two words run together: Harbour and Harbourfoods. So are a word and what it is a word with.
    if short >= 3 and (short <= 6 or b1 - b0 - short <= 3) and is_prefix(voc, a0, a1, voc, b0, b1):
        return 3 if short < 32 and heads[b] >> short & 1 else 2
    if (
        short >= 2
        and short <= 6
        and b1 - b0 >= (7 if short <= 3 else short + 2)
        and (short >= 4 or voc[a1 - 1] == voc[b1 - 1])
        and is_skeleton(voc, a0, a1, voc, b0, b1)
    ):
        return 2
    return 3


@inner("boolean(int32[::1], int64, int64, boolean[::1], int64, int32[::1], int64[::1], uint8[::1])")
def _tail(ids, at, n, used_behind, word, cls, voc_off, voc):
    """Whether the word behind the short one at `at` (n words from it on) is how the long word ends: Masch.bau, Maschinenbau."""
    if n < 2 or used_behind[0] or cls[ids[at + 1]] >= NUMBER:
        return False
    t0, t1 = voc_off[ids[at + 1]], voc_off[ids[at + 1] + 1]
    head, whole = voc_off[ids[at] + 1] - voc_off[ids[at]], voc_off[word + 1] - voc_off[word]
    end = voc_off[word + 1]
    return t1 - t0 >= 2 and head + t1 - t0 < whole and same_bytes(voc, t0, t1, voc, end - (t1 - t0), end)


@inner("boolean(int64, int64, int64[::1], uint8[::1])")
def _one_stem(a, b, voc_off, voc):
    """Whether two words begin alike for five letters (network, networks), or one is the other and an s (club, clubs)."""
    n, m = voc_off[a + 1] - voc_off[a], voc_off[b + 1] - voc_off[b]
    if n > m:
        a, b, n, m = b, a, m, n
    size = n if m == n + 1 and voc[voc_off[b + 1] - 1] == ord("s") else _STEM
    return n >= size and same_bytes(voc, voc_off[a], voc_off[a] + size, voc, voc_off[b], voc_off[b] + size)


@inner(types.Tuple((types.float64, FLOAT, INT, INT))(WORDS, INT, INT, INT, INT, FLAGS, FLAGS, types.float64, FLOAT))
def match_near(words, a0, na, b0, nb, used_a, used_b, matched, rarest):
    """Match words with a slip, and abbreviations; what is matched, the rarest of it, and how many words more, how many of them abbreviated.

    Two words at most that many have (usual) are two words (Tower, Power; Hanson, Hansen), no slip, unless they are of one stem (network,
    networks) or the one is a hundred times as common: in long lists slips in their usual words repeat, too (Voilins).
    """
    ids, cls, weights, voc_off, voc, masks = words.ids, words.cls, words.weights, words.voc_off, words.voc, words.masks
    found = shortened = 0
    for i in range(na):
        if used_a[i] or cls[ids[a0 + i]] >= NUMBER:
            continue
        best, at = 3, -1
        for j in range(nb):
            if used_b[j] or cls[ids[b0 + j]] >= NUMBER:
                continue
            own, other = masks[ids[a0 + i]], masks[ids[b0 + j]]
            worth, rival = weights[ids[a0 + i]], weights[ids[b0 + j]]
            if own & ~other and other & ~own and n_letters_apart(own, other) > 4:
                continue  # neither a slip nor an abbreviation: most pairs of words end here, without a call
            d = word_distance(ids[a0 + i], ids[b0 + j], voc_off, voc, masks, words.sounds, words.heads, words.pm)
            if d < 2 and cls[ids[a0 + i]] == GIVEN and cls[ids[b0 + j]] == GIVEN:
                d = 3
            elif d < 2 and max(worth, rival) <= words.usual and abs(worth - rival) < _OFTENER and cls[ids[a0 + i]] != FILLER:
                d = d if _one_stem(ids[a0 + i], ids[b0 + j], voc_off, voc) else 3
            if d < best:
                best, at = d, j
        if at >= 0:
            used_a[i] = used_b[at] = True
            found += 1
            shortened += best == 2
            if best == 2 and _tail(ids, a0 + i, na - i, used_a[i + 1 : na], ids[b0 + at], cls, voc_off, voc):
                used_a[i + 1] = True
                shortened -= 1
            elif best == 2 and _tail(ids, b0 + at, nb - at, used_b[at + 1 : nb], ids[a0 + i], cls, voc_off, voc):
                used_b[at + 1] = True
                shortened -= 1
            w = min(weights[ids[a0 + i]], weights[ids[b0 + at]])
            matched += w
            rarest = max(rarest, w)
    return matched, rarest, found, shortened
