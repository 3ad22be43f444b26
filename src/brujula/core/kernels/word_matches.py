"""Matching the words of one phrase with those of another: equal, run together, parted otherwise, initials."""

from __future__ import annotations

import numpy as np
from numba import types

from brujula.core.kernels.compiled import inner
from brujula.core.kernels.edits import n_letters_apart, osa, same_bytes
from brujula.core.kernels.text import run_together
from brujula.core.kernels.words import (
    DIRECTION,
    FILLER,
    FLAGS,
    FLOAT,
    GIVEN,
    INT,
    JOINER,
    LEGAL,
    LETTER,
    NUMBER,
    SKIP,
    WORD,
    WORDS,
    worth_of,
)

_WHOLE = 6  # letters that are parted otherwise, at least
_FOUND = types.Tuple((types.float64, FLOAT, INT))
"""Bits matched, those of the rarest word of them, and how many words."""


@inner(types.Tuple((types.float64, FLOAT, types.boolean, INT))(WORDS, INT, INT, INT, INT, FLAGS, FLAGS))
def _match_equal(words, a0, na, b0, nb, used_a, used_b):
    """Match words that mean the same; bits matched, those of the rarest of them, whether they stand in one order, and how many they are."""
    ids, concepts, weights = words.ids, words.concepts, words.weights
    for k in range(na):
        used_a[k] = False
    for k in range(nb):
        used_b[k] = False
    matched, rarest, in_order, hits, last = 0.0, np.float32(0.0), True, 0, -1
    for i in range(na):
        a = ids[a0 + i]
        for j in range(nb):
            if not used_b[j] and concepts[a] == concepts[ids[b0 + j]]:
                used_a[i] = used_b[j] = True
                matched += weights[a]
                rarest = max(rarest, weights[a])
                in_order = in_order and j > last
                last = j
                hits += 1
                break
    return matched, rarest, in_order, hits


@inner(types.Tuple((types.float64, FLOAT, INT))(WORDS, INT, INT, INT, INT, FLAGS, FLAGS, types.float64, FLOAT))
def _match_akin(words, a0, na, b0, nb, used_a, used_b, matched, rarest):
    """Match words of which one has the other's meaning besides; what is matched, the rarest of it, and how many words more."""
    ids, concepts, akin, weights = words.ids, words.concepts, words.akin, words.weights
    found = 0
    for i in range(na):
        word = ids[a0 + i]
        for j in range(nb):
            other = ids[b0 + j]
            stands = (akin[word] != 0 and akin[word] == concepts[other]) or (akin[other] != 0 and akin[other] == concepts[word])
            if stands and not used_a[i] and not used_b[j]:
                used_a[i] = used_b[j] = True
                w = min(weights[word], weights[other])
                matched += w
                rarest = max(rarest, w)
                found += 1
    return matched, rarest, found


@inner("boolean(int32[::1], int64, int64, int64[::1], uint8[::1], uint8[::1], uint64[::1], boolean)")
def _reads_as(ids, at, word, voc_off, voc, buf, pm, slips):
    """Whether the words at and behind it run together make the word; slips : one slip in ten letters is let pass."""
    w0, w1 = voc_off[word], voc_off[word + 1]
    size = run_together(ids, at, at + 2, voc_off, voc, buf, False)
    return same_bytes(buf, 0, size, voc, w0, w1) or (
        slips and min(size, w1 - w0) >= 10 and osa(buf, 0, size, voc, w0, w1, pm) == 1
    )


@inner(_FOUND(WORDS, INT, INT, INT, INT, FLAGS, FLAGS, types.float64, FLOAT))
def _match_joined(words, a0, na, b0, nb, used_a, used_b, matched, rarest):
    """Match words that one side writes as one; what is matched, the rarest of it, and how many words more."""
    ids, cls, weights, voc_off, masks = words.ids, words.cls, words.weights, words.voc_off, words.masks
    found = 0
    for side in range(2):
        start, n, apart, apart_start, m = (a0, na, used_b, b0, nb) if side == 0 else (b0, nb, used_a, a0, na)
        whole = used_a if side == 0 else used_b
        for i in range(n):
            word = ids[start + i]
            if whole[i] or cls[word] >= NUMBER:
                continue
            length = voc_off[word + 1] - voc_off[word]
            for j in range(m - 1):
                one, two = ids[apart_start + j], ids[apart_start + j + 1]
                size = voc_off[one + 1] - voc_off[one] + voc_off[two + 1] - voc_off[two]
                # One slip: the length differs by one at most, the letters by two. Two of them made Health of Realty.
                reach = 1 if min(size, length) >= 10 else 0
                if (
                    abs(size - length) > reach
                    or apart[j]
                    or apart[j + 1]
                    or NUMBER <= cls[one] != DIRECTION
                    or NUMBER <= cls[two] != DIRECTION
                    or n_letters_apart(masks[one] | masks[two], masks[word]) > 2 * reach
                    or not _reads_as(
                        ids,
                        apart_start + j,
                        word,
                        voc_off,
                        words.voc,
                        words.run_a,
                        words.pm,
                        cls[one] != DIRECTION and cls[two] != DIRECTION,
                    )
                ):
                    continue
                whole[i] = apart[j] = apart[j + 1] = True
                found += 1
                w = min(weights[word], weights[one] + weights[two])
                matched += w
                rarest = max(rarest, w)
                break
    return matched, rarest, found


@inner(_FOUND(WORDS, INT, INT, INT, INT, FLAGS, FLAGS, types.float64, FLOAT))
def _match_articles(words, a0, na, b0, nb, used_a, used_b, matched, rarest):
    """Match a word with the article before it and the two written as one (De Boer, DeBoer); what is matched, the rarest of it, and how many words more."""
    ids, joined, hashes, found = words.ids, words.with_article, words.hashes, 0
    for i in range(na):
        for j in range(nb):
            a, b = a0 + i, b0 + j
            if used_a[i] or used_b[j]:
                continue
            for k in range(2):
                if joined[a, k] == hashes[ids[b]] or joined[b, k] == hashes[ids[a]]:
                    used_a[i] = used_b[j] = True
            if used_a[i]:
                found += 1
                w = min(words.weights[ids[a]], words.weights[ids[b]])
                matched += w
                rarest = max(rarest, w)
    return matched, rarest, found


@inner(INT(WORDS, INT, INT, FLAGS, types.uint8[::1]))
def _left_together(words, start, n, used, buf):
    """The letters of the words not used, run together into buf; how many they are, 0 where these are not two words at least, or numbers."""
    size = left = 0
    for i in range(n):
        if not used[i]:
            left += 1
            if NUMBER <= words.cls[words.ids[start + i]] != DIRECTION:
                return 0
            size += run_together(words.ids, start + i, start + i + 1, words.voc_off, words.voc, buf[size:], False)
    return size if left > 1 else 0


@inner(types.boolean(WORDS, INT, INT, INT, INT, FLAGS, FLAGS))
def _match_torn(words, a0, na, b0, nb, used_a, used_b):
    """Match what is left of both sides where it has the same letters in order and is parted otherwise: Souther nHill, Southern Hill."""
    size_a = _left_together(words, a0, na, used_a, words.run_a)
    size_b = _left_together(words, b0, nb, used_b, words.run_b) if size_a else 0
    if size_b < _WHOLE or not same_bytes(words.run_a, 0, size_a, words.run_b, 0, size_b):
        return False
    for i in range(na):
        used_a[i] = True
    for j in range(nb):
        used_b[j] = True
    return True


@inner(_FOUND(WORDS, INT, INT, INT, INT, FLAGS, FLAGS, types.float64, FLOAT))
def _match_initials(words, a0, na, b0, nb, used_a, used_b, matched, rarest):
    """Match a short word with words behind one another whose initials it is (CC, Community College); what is matched, the rarest of it, and how many words more."""
    ids, cls, weights, voc_off, voc = words.ids, words.cls, words.weights, words.voc_off, words.voc
    found = 0
    for side in range(2):
        start, n, apart, apart_start, m = (a0, na, used_b, b0, nb) if side == 0 else (b0, nb, used_a, a0, na)
        short = used_a if side == 0 else used_b
        for i in range(n):
            word = ids[start + i]
            begin, size = voc_off[word], voc_off[word + 1] - voc_off[word]
            # What stands in front is no legal form: AS Orme, Association Sportive Orme; SM Orme, Sociedad Musical Orme.
            if short[i] or not (cls[word] < SKIP or (cls[word] == LEGAL and i == 0)) or size < 2 or size > 5:
                continue
            for j in range(m - size + 1):
                spelled = True
                for k in range(size):
                    other = ids[apart_start + j + k]
                    length = voc_off[other + 1] - voc_off[other]
                    spelled = spelled and not apart[j + k] and voc[voc_off[other]] == voc[begin + k] and length != 2
                    c = cls[other]
                    spelled = spelled and (c < SKIP or c == DIRECTION or (c == LETTER and k > 0) or (c == LEGAL and j + k == 0))
                if spelled:
                    short[i] = True
                    for k in range(size):
                        apart[j + k] = True
                    found += 1
                    matched += weights[word]
                    rarest = max(rarest, weights[word])
                    break
    return matched, rarest, found


@inner(types.boolean(WORDS, INT, INT, FLAGS, FLAGS))
def _match_owner(words, a0, b0, used_a, used_b):
    """Match the initial that begins somebody's own firm on one side with the name on the other: A. Wren Violins, Ada Wren Violins."""
    ids, cls, voc_off, voc = words.ids, words.cls, words.voc_off, words.voc
    x, y = (ids[a0], ids[b0]) if cls[ids[a0]] == LETTER or cls[ids[a0]] == JOINER else (ids[b0], ids[a0])
    named = (cls[x] == LETTER or cls[x] == JOINER) and (cls[y] == WORD or cls[y] == GIVEN) and voc_off[y + 1] - voc_off[y] >= 3
    if named and not used_a[0] and not used_b[0] and voc[voc_off[x]] == voc[voc_off[y]]:
        used_a[0] = used_b[0] = True
        return True
    return False


@inner(INT(WORDS, INT, INT, INT, INT, FLAGS, FLAGS))
def _match_given(words, a0, na, b0, nb, used_a, used_b):
    """Match initials of the first side with given names of the other before the same word: Collège J. Quist, Collège Jean Quist; how many."""
    ids, cls, voc_off, voc, found = words.ids, words.cls, words.voc_off, words.voc, 0
    for i in range(na - 1):
        x = ids[a0 + i]
        if used_a[i] or not used_a[i + 1] or voc_off[x + 1] - voc_off[x] > 1:
            continue
        for j in range(nb - 1):
            y = ids[b0 + j]
            named = not used_b[j] and used_b[j + 1] and cls[y] == GIVEN and voc[voc_off[x]] == voc[voc_off[y]]
            if named and words.concepts[ids[a0 + i + 1]] == words.concepts[ids[b0 + j + 1]]:
                used_a[i] = used_b[j] = True
                found += 1
                break
    return found


@inner("int64(int32[::1], int32[::1], int64[::1], int64, int64, boolean[::1], boolean)")
def _middle_initials(ids, cls, voc_off, start, n, used, mark):
    """How many letters not used stand between somebody's given name and another word; mark : they are used now."""
    found = 0
    for i in range(1, n - 1):
        word = ids[start + i]
        letter = cls[word] == LETTER or cls[word] == JOINER or cls[word] == DIRECTION
        letter = letter and voc_off[word + 1] - voc_off[word] == 1
        if letter and not used[i] and cls[ids[start + i - 1]] == GIVEN:
            found += 1
            used[i] = used[i] or mark
    return found


@inner(types.Tuple((types.float64, FLOAT, types.boolean, INT, INT, INT, INT))(WORDS, INT, INT, INT, INT, FLAGS, FLAGS))
def match_words(words, a0, na, b0, nb, used_a, used_b):
    """Match what is one but for slips: bits matched, those of the rarest word of it, whether it stands in one order, and how many words are equal,
    joined, near, and initials that are all there is in common."""
    ids, cls = words.ids, words.cls
    matched, rarest, in_order, hits = _match_equal(words, a0, na, b0, nb, used_a, used_b)
    joined, near, spelled = 0, 0, 0
    if hits < na and hits < nb:
        matched, rarest, near = _match_akin(words, a0, na, b0, nb, used_a, used_b, matched, rarest)
    # Words that one side writes as one; before words alike, for a half is often short for the whole.
    if (na - hits >= 1 and nb - hits >= 2) or (na - hits >= 2 and nb - hits >= 1):
        matched, rarest, joined = _match_joined(words, a0, na, b0, nb, used_a, used_b, matched, rarest)
    if hits + joined < na and hits + joined < nb:
        matched, rarest, articles = _match_articles(words, a0, na, b0, nb, used_a, used_b, matched, rarest)
        joined += articles
    if na - hits >= 2 and nb - hits >= 2 and _match_torn(words, a0, na, b0, nb, used_a, used_b):
        w = min(worth_of(ids, words.weights, a0, na), worth_of(ids, words.weights, b0, nb))
        return max(matched, types.float64(w)), max(rarest, w), in_order, hits, joined + 1, near, spelled
    if hits + joined > 0 and hits < na and hits < nb:
        worded = joined > 0
        for i in range(na):
            worded = worded or (used_a[i] and cls[ids[a0 + i]] < SKIP and cls[ids[a0 + i]] != FILLER)
        matched, rarest, alike = _match_initials(words, a0, na, b0, nb, used_a, used_b, matched, rarest)
        near += alike
        # With no word of the name in common it is all initials: HRW 2, Harrow Reed Works 2.
        spelled = 0 if worded else alike
        near += _match_owner(words, a0, b0, used_a, used_b)
        near += _match_given(words, a0, na, b0, nb, used_a, used_b) + _match_given(words, b0, nb, a0, na, used_b, used_a)
    # The initial of somebody's own firm on one side only: Ada T. Wren, Ada Wren.
    middle_a = _middle_initials(ids, cls, words.voc_off, a0, na, used_a, False)
    middle_b = _middle_initials(ids, cls, words.voc_off, b0, nb, used_b, False)
    if middle_a + middle_b > 0 and (middle_a == 0 or middle_b == 0):
        _middle_initials(ids, cls, words.voc_off, a0, na, used_a, True)
        _middle_initials(ids, cls, words.voc_off, b0, nb, used_b, True)
    return matched, rarest, in_order, hits, joined, near, spelled
