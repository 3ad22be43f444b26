"""Comparing whole personal names: which of their words are given and which family names, and how they stand to each other."""

from __future__ import annotations

import numpy as np
from numba import types

from brujula.core.kernels.compiled import compiled, inner
from brujula.core.kernels.edits import slip, stands_behind
from brujula.core.kernels.name_parts import (
    F_ALONE,
    F_DIFFERS,
    F_INITIAL,
    F_PART,
    F_SAME,
    F_SIMILAR,
    G_BEGINS,
    G_DIFFERS,
    G_INITIAL,
    G_MIDDLE,
    G_SAME,
    G_SIMILAR,
    G_TYPO,
    M_DIFFERS,
    M_SAME,
    NAME_WORDS,
    family_level,
    given_level,
)
from brujula.core.kernels.names import PARTICLE

_G_WORTH = np.array([-4, 1, 2, 2, 4, 4, 5, 6])
_F_WORTH = np.array([-4, 1, 2, 4, 5, 6])
_INT = types.int64
_SPANS = types.UniTuple(_INT, 6)
"""Where two names stand among the words: the first one's given words from a0, its family words from a1, to a2; the other's from b0, b1, to b2."""
_READING = types.UniTuple(_INT, 8)
"""One way to lay two names beside each other: level and count of the given names, of the family names, and where either's given words stand."""


@inner("int64(int32[::1], int64, int64, int32[::1])")
def _second(ids, start, end, cls):
    """Where the second of the given words ids[start:end] stands, particles before another passed over (Maria del Carmen; not Ada E.); -1 = nowhere."""
    for k in range(start + 1, end):
        if cls[ids[k]] != PARTICLE or k == end - 1:
            return k
    return -1


@inner("boolean(int32[::1], int64, int64, int64, int64, int32[::1])")
def _middle_in_family(ids, g0, g1, f0, f1, cls):
    """True when a family word of one side stands among the later given words of the other."""
    for k in range(g0 + 1, g1):
        for j in range(f0, f1):
            if ids[k] == ids[j] and cls[ids[k]] != PARTICLE:
                return True
    return False


@inner("boolean(int32[::1], int64, int64, int64, int64, int64, int64, int64[::1], uint8[::1])")
def _begin_crosswise(ids, a0, a1, a2, b0, b1, b2, voc_off, voc):
    """True when some given word of each side begins like some family word of the other, or one is the other: only then may names be
    turned round."""
    first, second = False, False
    for k in range(a0, a1):
        for j in range(b1, b2):
            if ids[k] == ids[j]:
                return True
            first = first or voc[voc_off[ids[k]]] == voc[voc_off[ids[j]]]
    for k in range(a1, a2):
        for j in range(b0, b1):
            if ids[k] == ids[j]:
                return True
            second = second or voc[voc_off[ids[k]]] == voc[voc_off[ids[j]]]
    return first and second


@inner("int64(int32, int32, int64[::1], int64[::1])")
def _other_way(given, family, given_counts, family_counts):
    """By how many more others bear a given and a family word the other way round."""
    return given_counts[family] + family_counts[given] - given_counts[given] - family_counts[family]


@inner(types.boolean(_READING))
def _differs(reading):
    """Whether the given or the family names of a reading are others."""
    return reading[0] == G_DIFFERS or reading[2] == F_DIFFERS


@inner(_INT(_INT, _INT))
def _worth(given, family):
    """How good a reading is."""
    return (0 if given < 0 else _G_WORTH[given]) + (0 if family < 0 else _F_WORTH[family])


@inner(_READING(NAME_WORDS, _SPANS, _INT, _INT, types.boolean, types.boolean, _READING))
def _best_turned(words, spans, wrong_a, wrong_b, whole_a, whole_b, reading):
    """The best of a reading in which not all agrees and of those with a side's words in other places. wrong_a, wrong_b : see `_other_way`, 0 = not both halves there"""
    ids, voc_off, given_counts, family_counts = words.ids, words.voc_off, words.given_counts, words.family_counts
    a0, a1, a2, b0, b1, b2 = spans
    halves = a2 > a1 and b2 > b1 and a1 > a0 and b1 > b0
    g, f = reading[0], reading[2]
    apart = g <= G_DIFFERS or f <= F_DIFFERS
    if halves and apart and _begin_crosswise(ids, a0, a1, a2, b0, b1, b2, voc_off, words.voc):
        # Given beside family names. An initial and a family name with a slip do where nothing agrees as the names stand.
        best = max(_worth(g, f), 4 if g == G_DIFFERS and f == F_DIFFERS else 6)
        # Which side is the wrong way round, others who bear the words say: Prado Marta is no Maria Prado with a slip in the family name.
        for turned in range(2):
            if (turned == 0 and wrong_a > 0 and wrong_b < 0) or (turned == 1 and wrong_b > 0 and wrong_a < 0):
                continue
            s0, s1, t0, t1 = (a0, a1, b1, b2) if turned == 0 else (a1, a2, b0, b1)
            v0, v1, w0, w1 = (a1, a2, b0, b1) if turned == 0 else (a0, a1, b1, b2)
            g, gc = given_level(words, s0, s1, t0, t1)
            f, fc = family_level(words, v0, v1, w0, w1)
            if g > G_DIFFERS and f > F_INITIAL and _worth(g, f) > best:
                best = _worth(g, f)
                reading = (g, gc, f, fc, s0, s1, t0, t1)
    if _differs(reading) and (a2 - a0) + (b2 - b0) > 4 and min(a2 - a0, b2 - b0) > 1:
        # Of three words or more the first may be the family's: Wang Xiao Ming and Xiaoming Wang.
        for turned in range(2):
            s0, s1, t0, t1 = (a0 + 1, a2, b0, b1) if turned == 0 else (a0, a1, b0 + 1, b2)
            v0, v1, w0, w1 = (a0, a0 + 1, b1, b2) if turned == 0 else (a1, a2, b0, b0 + 1)
            if min(s1 - s0, t1 - t0, v1 - v0, w1 - w0) <= 0 or v1 - v0 != w1 - w0 or ids[v0] != ids[w0]:
                continue
            g, gc = given_level(words, s0, s1, t0, t1)
            if g == G_SAME:
                reading = (g, gc, F_SAME, family_counts[ids[v0]], s0, s1, t0, t1)
    if halves and (reading[0] < G_TYPO or reading[2] <= F_PART):
        # In a column of whole names the family's may be in front, as many as there are: Prado Lind Ana Rosa, and Ana Rosa Prado.
        best = _worth(reading[0], reading[2])
        for turned in range(2):
            p0, p2, q0, q1, q2 = (a0, a2, b0, b1, b2) if turned == 0 else (b0, b2, a0, a1, a2)
            for k in range(p0 + 1, p2 if p2 - p0 > 2 and (whole_a if turned == 0 else whole_b) else 0):
                if ids[k] != ids[q0] or voc_off[ids[k] + 1] - voc_off[ids[k]] < 2:
                    continue
                f, fc = family_level(words, p0, k, q1, q2)
                g, gc = given_level(words, k, p2, q0, q1)
                if f >= F_PART and g > G_DIFFERS and _worth(g, f) > best:
                    best = _worth(g, f)
                    s0, s1, t0, t1 = (k, p2, q0, q1) if turned == 0 else (q0, q1, k, p2)
                    reading = (g, gc, f, fc, s0, s1, t0, t1)
    x0, x1, y0, y1 = reading[4], reading[5], reading[6], reading[7]
    if reading[0] == G_DIFFERS and reading[2] == F_DIFFERS:
        # Somebody who married may stand there the wrong way round: Nicole Obrien and one entered as Rivera Nicole.
        for turned in range(2):
            s0, s1, t0, t1 = (a0, a1, b1, b2) if turned == 0 else (b0, b1, a1, a2)
            if s1 - s0 == 1 and t1 - t0 == 1 and ids[s0] == ids[t0] and given_counts[ids[s0]] > family_counts[ids[s0]]:
                reading = (G_SAME, given_counts[ids[s0]], reading[2], reading[3], x0, x1, y0, y1)
    if (a2 - a0 == 1) != (b2 - b0 == 1) and _differs(reading):
        # The only word of one side may stand in the wrong column: it is laid beside the other's other half.
        if (a2 - a0 == 1 and a1 == a2) or (b2 - b0 == 1 and b1 == b2):
            s0, s1, t0, t1 = (a0, a1, b1, b2) if a2 - a0 == 1 else (a1, a2, b0, b1)
            f, fc = family_level(words, s0, s1, t0, t1)
            if f > F_INITIAL:
                reading = (-1, 0, f, fc, x0, x1, y0, y1)
        else:
            s0, s1, t0, t1 = (a1, a2, b0, b1) if a2 - a0 == 1 else (a0, a1, b1, b2)
            g, gc = given_level(words, s0, s1, t0, t1)
            if g > G_SIMILAR:
                reading = (g, gc, -1, 0, x0, x1, y0, y1)
    return reading


@inner(_INT(NAME_WORDS, _INT, _INT, _INT, _INT))
def _middle(words, x0, x1, y0, y1):
    """Level of the second given names: M_SAME also by an initial, -1 = a side has none, or it is the other's first."""
    ids, voc_off, voc = words.ids, words.voc_off, words.voc
    i, j = _second(ids, x0, x1, words.cls), _second(ids, y0, y1, words.cls)
    if i < 0 or j < 0 or ids[x0] == ids[j] or ids[y0] == ids[i]:
        return -1
    x, y = ids[i], ids[j]
    s, e, t, u = voc_off[x], voc_off[x + 1], voc_off[y], voc_off[y + 1]
    if x == y or ((e - s == 1 or u - t == 1) and voc[s] == voc[t]):
        return M_SAME
    # A slip, and no other name: Mohammad Asif and Mohammad Arif are brothers.
    slipped = slip(voc, s, e, voc, t, u, words.pm) <= 1 and given_level(words, i, i + 1, j, j + 1)[0] > G_SIMILAR
    return M_SAME if slipped else M_DIFFERS


@inner(_INT(_INT, _INT))
def _generation(x, y):
    """Level of two generations (Jr., III): 2 = the same, 3 = one is not known, 1 = only one has one, 0 = they differ, -1 = none has."""
    if x == 0 or y == 0:
        return 3 if x > 0 or y > 0 or x == -2 or y == -2 else -1
    if x < 0 or y < 0:
        return -1 if x < 0 and y < 0 else 1
    return 2 if x == y else 0


@compiled(
    types.void(
        types.int32[::1],
        types.int32[::1],
        types.int64[::1],
        types.int32[::1],
        types.boolean[::1],
        types.int8[::1],
        NAME_WORDS,
        types.int8[:, ::1],
        types.float32[:, ::1],
    )
)
def compare_names(left, right, off, n_given, whole, suffix, words, out, common):
    """Levels of each pair: out int8[n, 4] = given, family, middle, generation; common float32[n, 2] = counts, -1 = everybody's.

    off, n_given, whole, suffix : of each name, where its words begin, how many are given, whether that is a guess, its generation
    The names are also laid crosswise (given against family); the better of the readings counts.
    """
    ids, cls, voc_off, voc = words.ids, words.cls, words.voc_off, words.voc
    given_counts, family_counts = words.given_counts, words.family_counts
    for p in range(left.size):
        a, b = left[p], right[p]
        a0, a2, b0, b2 = off[a], off[a + 1], off[b], off[b + 1]
        if a2 > a0 and b2 > b0:
            first, other = voc[voc_off[ids[a0]]], voc[voc_off[ids[b0]]]  # mostly these tell
            if first > other or (first == other and stands_behind(ids, a0, a2, b0, b2, voc_off, voc)):
                a, b, a0, a2, b0, b2 = b, a, b0, b2, a0, a2
        a1, b1 = a0 + n_given[a], b0 + n_given[b]
        halves = a2 > a1 and b2 > b1 and a1 > a0 and b1 > b0
        wrong_a = _other_way(ids[a0], ids[a1], given_counts, family_counts) if halves else 0
        wrong_b = _other_way(ids[b0], ids[b1], given_counts, family_counts) if halves else 0
        if wrong_a > 0 and wrong_b > 0 and ids[a0] == ids[b0] and ids[a1] != ids[b1]:
            # Both the wrong way round: Prado Marta and Prado Maria are sisters, none of whom has married.
            x0, x1, y0, y1, v0, v1, w0, w1 = a1, a2, b1, b2, a0, a1, b0, b1
        else:
            x0, x1, y0, y1, v0, v1, w0, w1 = a0, a1, b0, b1, a1, a2, b1, b2
        f, fc = family_level(words, v0, v1, w0, w1)
        g, gc = given_level(words, x0, x1, y0, y1)
        if f == F_DIFFERS and (_middle_in_family(ids, a0, a1, b1, b2, cls) or _middle_in_family(ids, b0, b1, a1, a2, cls)):
            f, fc = F_SIMILAR, 0
        if g < G_TYPO or f <= F_PART:
            reading = (g, gc, f, fc, x0, x1, y0, y1)
            spans = (a0, a1, a2, b0, b1, b2)
            g, gc, f, fc, x0, x1, y0, y1 = _best_turned(words, spans, wrong_a, wrong_b, whole[a], whole[b], reading)
        if g < 0 and f == F_SAME and a1 == a0 and b1 == b0:
            g, gc = G_SAME, -1  # all that either side has of a name
        told = g >= G_INITIAL and g != G_MIDDLE
        out[p, 2] = _middle(words, x0, x1, y0, y1) if told else -1
        if g == G_DIFFERS and a1 > a0 and b1 > b0:
            x, y = ids[a0], ids[b0]
            written_out = voc_off[x + 1] - voc_off[x] > 1 and voc_off[y + 1] - voc_off[y] > 1
            g = G_BEGINS if written_out and voc[voc_off[x]] == voc[voc_off[y]] else g
        if f == F_PART and g == G_SAME and a2 - a0 == b2 - b0 and (whole[a] or whole[b]):
            # The very words, of which one side does not say where the family name begins: García López, Ana, and Ana García López.
            alike = 0
            for k in range(a2 - a0):
                alike += ids[a0 + k] == ids[b0 + k]
            f = F_SAME if alike == a2 - a0 else f
        if f == F_DIFFERS and g < 0 and (a2 - a0 == 1) != (b2 - b0 == 1):
            # A word that nobody else is called by may be a nickname, a desk or a firm: it says nothing of the other name.
            word = ids[a0] if a2 - a0 == 1 else ids[b0]
            f = F_ALONE if family_counts[word] <= 1 and given_counts[word] == 0 else f
        out[p, 0], out[p, 1], out[p, 3] = g, f, _generation(suffix[a], suffix[b])
        common[p, 0], common[p, 1] = gc, fc
