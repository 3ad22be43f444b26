"""Comparing parts of personal names over word ids: how given names stand to each other, and family names."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import types
from numpy.typing import NDArray

from brujula.core.kernels.compiled import inner, record_type
from brujula.core.kernels.edits import is_prefix, jaro_winkler, n_letters_apart, same_but_i, same_but_umlauts, same_bytes, slip
from brujula.core.kernels.names import GIVEN, PARTICLE
from brujula.core.kernels.text import run_together

# Level codes; the kind's level tables stand in this order. OTHER and MAILBOX: a mailbox of one record gives the other's name;
# OWN: each mailbox gives its own; BEGINS: two names, one initial; LETTER: a mailbox of one gives the other's initial;
# ALONE: one side has a word that nobody else is called by, and nothing more; SCRIPT: one is in letters that do not tell;
# NEITHER: alike, and their one mailbox says neither;
# HALF: either side has two family names, and they share one;
# TWO: each is a name, and a letter or an ending makes one the other.
(
    G_DIFFERS,
    G_INITIAL,
    G_TWO,
    G_SIMILAR,
    G_MIDDLE,
    G_NICKNAME,
    G_TYPO,
    G_SAME,
    G_OTHER,
    G_MAILBOX,
    G_OWN,
    G_BEGINS,
    G_LETTER,
    G_SCRIPT,
    G_NEITHER,
) = range(15)
F_DIFFERS, F_INITIAL, F_SIMILAR, F_PART, F_TYPO, F_SAME, F_MAILBOX, F_OWN, F_ALONE, F_SCRIPT, F_HALF = range(11)
M_DIFFERS, M_SAME, M_SAID = range(3)  # SAID: others, and their one mailbox gives one of them


class NameWords(NamedTuple):
    """The words of names one behind another, what is known of each word, and room to work in.

    ids : the words, numbers in the vocabulary, by which all else but nick_ids is found;  cls : their classes
    voc_off, voc : their letters;  sounds, masks : how they sound, and which letters they have
    nick_off, nick_ids : what each is short for, see `steps.name_facts`
    given_counts, family_counts : how many bear it, of n;  often : how many make a word a usual one
    run_a, run_b : room for a name's words run together, 96 letters each;  pm : `edits.scratch`
    """

    ids: NDArray[np.int32]
    cls: NDArray[np.int32]
    voc_off: NDArray[np.int64]
    voc: NDArray[np.uint8]
    sounds: NDArray[np.uint64]
    masks: NDArray[np.uint32]
    nick_off: NDArray[np.int64]
    nick_ids: NDArray[np.int32]
    given_counts: NDArray[np.int64]
    family_counts: NDArray[np.int64]
    n: int
    often: float
    run_a: NDArray[np.uint8]
    run_b: NDArray[np.uint8]
    pm: NDArray[np.uint64]


NAME_WORDS = record_type(NameWords)
_SPOKEN = np.arange(256, dtype=np.uint8)
for _letter, _spelled in ("wv", "yi", "ji", "zs", "ck", "qk", "ei", "ou"):
    _SPOKEN[ord(_letter)] = ord(_spelled)
_INT = types.int64
_LEVEL = types.UniTuple(_INT, 2)
"""A level, and how many bear what agrees (0 unknown, -1 everybody)."""


@inner("int64(int64, int64, int64[::1], int32[::1])")
def _nicknames(a, b, nick_off, nick_ids):
    """2 = one is the formal name of the other, 1 = both are short for one formal name, 0 = neither;
    -1 = one is, but for a slip, the formal name of the other or short for it."""
    best = 0
    for i in range(nick_off[a], nick_off[a + 1]):
        for j in range(nick_off[b], nick_off[b + 1]):
            x, y = nick_ids[i], nick_ids[j]
            slipped = x < 0 or y < 0
            x, y = max(x, ~x), max(y, ~y)
            if x >> 1 == y >> 1:
                if slipped:
                    best = -1 if (x ^ y) & 1 else best
                elif x & 1 or y & 1:
                    return 2
                else:
                    best = 1
    return best


@inner("boolean(int64, int64[::1], int32[::1])")
def _is_known(a, nick_off, nick_ids):
    """Whether a word is a name that has short forms, or one of these."""
    return nick_off[a] < nick_off[a + 1] and nick_ids[nick_off[a]] >= 0


@inner("boolean(int64, int64[::1], int32[::1])")
def _is_formal(a, nick_off, nick_ids):
    """Whether a word is a name that is short for no other, as far as is known."""
    for i in range(nick_off[a], nick_off[a + 1]):
        if nick_ids[i] < 0 or not nick_ids[i] & 1:
            return False
    return nick_off[a] < nick_off[a + 1]


@inner("boolean(int32[::1], int64, int64, int64, int64, int64[::1], uint8[::1])")
def _rest_fits(ids, a0, a1, b0, b1, voc_off, voc):
    """Whether what a goes by besides its first word is among b's words, or an initial of one: Raymond F. and Francis Raymond, not María José and Ana María."""
    for k in range(a0 + 1, a1):
        s, e = voc_off[ids[k]], voc_off[ids[k] + 1]
        fits = False
        for j in range(b0, b1):
            t = voc_off[ids[j]]
            fits = fits or ids[j] == ids[k] or (voc[s] == voc[t] and (e - s == 1 or voc_off[ids[j] + 1] - t == 1))
        if not fits:
            return False
    return True


@inner("boolean(uint8[::1], int64, int64, int64, int64)")
def is_pet_form(voc, a0, a1, b0, b1):
    """True when a is b's beginning with a fond ending: Tobby and Tobias, Steffie and Stephanie (ph read as f, doubled letters once)."""
    end = a1
    if end - a0 > 4 and (voc[end - 2] == 105 or voc[end - 2] == 101) and (voc[end - 1] == 101 or voc[end - 1] == 121):
        end -= 2  # -ie, -ey, -ee
    elif end - a0 > 3 and (voc[end - 1] == 121 or voc[end - 1] == 105):
        end -= 1  # -y, -i
    else:
        return False
    i, j, matched = a0, b0, 0
    while i < end and j < b1:
        x, y = voc[i], voc[j]
        if y == 112 and j + 1 < b1 and voc[j + 1] == 104:
            y, j = 102, j + 1
        if x != y:
            return False
        matched += 1
        while i + 1 < end and voc[i + 1] == x:
            i += 1
        while j + 1 < b1 and voc[j + 1] == voc[j]:
            j += 1
        i, j = i + 1, j + 1
    return i == end and matched >= 3 and j < b1


@inner("boolean(uint8[::1], int64, int64, int64, int64)")
def is_other_gender(voc, a0, a1, b0, b1):
    """True when one name may be the man's and the other the woman's form of it: Mario and Maria, Erik and Erika, Michel and Michelle, Paul and Pauline."""
    if a1 - a0 > b1 - b0:
        a0, a1, b0, b1 = b0, b1, a0, a1
    more = (b1 - b0) - (a1 - a0)
    a, e, i, n, o, t, ell = 97, 101, 105, 110, 111, 116, 108
    last, other = voc[b1 - 1], voc[a1 - 1]
    if more == 0:
        vowels = (last == a and (other == o or other == e)) or (other == a and (last == o or last == e))
        return vowels and same_bytes(voc, a0, a1 - 1, voc, b0, b1 - 1)
    if (last != a and last != e) or more > 4:
        return False
    for vowels_off in range(2):  # Claude and Claudine, Pierre and Pierrette, Paolo and Paolina
        end = a1 - vowels_off
        if vowels_off == 1 and (more < 2 or end - a0 < 4 or (other != e and other != o and other != a)):
            return False
        if not is_prefix(voc, a0, end, voc, b0, b1):
            continue
        first, next_, before = voc[b0 + end - a0], voc[min(b0 + end - a0 + 1, b1 - 1)], voc[b1 - 2]
        n_more = more + vowels_off
        if n_more == 1:
            fits = last == a or voc[end - 1] != a
        elif n_more == 2:
            fits = before == voc[end - 1]
        elif n_more == 3:
            fits = (first == i and (next_ == n or next_ == t)) or (first == e and next_ == n)  # -ine, -ina, -ita, -ene
        else:
            fits = n_more == 4 and first == e and next_ == before and (before == t or before == ell)  # -ette, -elle
        if fits:
            return True
    return False


@inner("int64(uint8[::1], int64, int64, uint8[::1])")
def _spoken(voc, start, end, out):
    """Writes a name's letters as its other spellings may have them, and gives their count: no h, doubled letters once, others as in _SPOKEN,
    but for the vowel at the end. Khaled and Khalid, Mounir and Munir, Wendy and Wendie come out alike."""
    c, e, f, h, i, k, o, p, s, x, y = 99, 101, 102, 104, 105, 107, 111, 112, 115, 120, 121
    n = 0
    if end - start > 3 and voc[end - 1] == e and (voc[end - 2] == i or voc[end - 2] == e):
        end -= 1  # -ie, -ee as -i
    for at in range(start, min(end, start + 40)):
        letter, last = voc[at], at == end - 1
        behind = 0 if last else voc[at + 1]
        if letter == h:
            continue
        if letter == p and behind == h:
            letter = f
        elif letter == c and (behind == e or behind == i or behind == y):
            letter = s
        elif letter == x:
            letter = s
            out[n] = k
            n += 1
        elif not last or (letter != e and letter != o):
            letter = _SPOKEN[letter]
        if n == 0 or out[n - 1] != letter:
            out[n] = letter
            n += 1
    return n


@inner("boolean(uint8[::1], int64, int64, int64, int64, uint8[::1], uint8[::1])")
def _spelled_otherwise(voc, a0, a1, b0, b1, buf_a, buf_b):
    """Whether two names may be one that is spelled in two ways."""
    return same_bytes(buf_a, 0, _spoken(voc, a0, a1, buf_a), buf_b, 0, _spoken(voc, b0, b1, buf_b))


@inner(_LEVEL(NAME_WORDS, _INT, _INT, _INT, _INT))
def given_level(words, a0, a1, b0, b1):
    """Level of two lists of given words, and the count of the agreed word (0 unknown)."""
    ids, voc_off, voc, sounds, counts = words.ids, words.voc_off, words.voc, words.sounds, words.given_counts
    nick_off, nick_ids, buf_a, buf_b, pm = words.nick_off, words.nick_ids, words.run_a, words.run_b, words.pm
    often, masks = words.often, words.masks
    if a1 <= a0 or b1 <= b0:
        return -1, 0
    a, b = ids[a0], ids[b0]
    if a == b:
        return G_SAME, counts[a]
    sa, ea, sb, eb = voc_off[a], voc_off[a + 1], voc_off[b], voc_off[b + 1]
    la, lb = ea - sa, eb - sb
    top = max(counts[a], counts[b])
    if a1 - a0 + b1 - b0 > 2:
        na, nb = run_together(ids, a0, a1, voc_off, voc, buf_a, False), run_together(ids, b0, b1, voc_off, voc, buf_b, False)
        if (
            same_bytes(buf_a, 0, na, buf_b, 0, nb)
            or same_bytes(buf_a, 0, na, voc, sb, eb)
            or same_bytes(voc, sa, ea, buf_b, 0, nb)
        ):
            return G_SAME, top
    if la == 1 or lb == 1:
        if voc[sa] == voc[sb]:
            return G_INITIAL, top
        for k in range(a0 + 1, a1):
            if lb == 1 and voc[voc_off[ids[k]]] == voc[sb] and a1 - a0 > 1:
                return G_SIMILAR, top
        for k in range(b0 + 1, b1):
            if la == 1 and voc[voc_off[ids[k]]] == voc[sa] and b1 - b0 > 1:
                return G_SIMILAR, top
        for k in range(a0 + 1, a1):
            if la == 1 and ids[k] == b:
                return G_MIDDLE, counts[b]  # J. Edgar and Edgar
        for k in range(b0 + 1, b1):
            if lb == 1 and ids[k] == a:
                return G_MIDDLE, counts[a]
        known, letter = (b, voc[sa]) if la == 1 else (a, voc[sb])
        for i in range(nick_off[known], nick_off[known + 1]):
            if nick_ids[i] > 0 and nick_ids[i] >> 24 == letter:
                return G_SIMILAR, top  # R. for Bob
        return G_DIFFERS, 0
    nick = _nicknames(a, b, nick_off, nick_ids)
    if nick == 2:
        return G_NICKNAME, top
    if min(a1 - a0, b1 - b0) > 1 and ids[a0 + 1] == b and ids[b0 + 1] == a:
        return G_SIMILAR, top  # María José and José María
    if _rest_fits(ids, b0, b1, a0, a1, voc_off, voc):
        for k in range(a0 + 1, a1):
            if ids[k] == b or _nicknames(ids[k], b, nick_off, nick_ids) == 2:
                return G_MIDDLE, counts[b]  # Francis Raymond and Ray
    if _rest_fits(ids, a0, a1, b0, b1, voc_off, voc):
        for k in range(b0 + 1, b1):
            if ids[k] == a or _nicknames(ids[k], a, nick_off, nick_ids) == 2:
                return G_MIDDLE, counts[a]
    # Two names that both occur often, or are both known, are two names, however few letters apart (Maria and Mario, Jon and Joan).
    a_known, b_known = _is_known(a, nick_off, nick_ids), _is_known(b, nick_off, nick_ids)
    both_known = a_known and b_known
    a_in_use, b_in_use = a_known or words.cls[a] == GIVEN, b_known or words.cls[b] == GIVEN
    both_in_use = a_in_use and b_in_use
    two_names = both_known or (counts[a] >= often and counts[b] >= often)
    if min(la, lb) >= 4 and same_but_i(voc, sa, ea, voc, sb, eb):
        return G_TYPO, top
    apart = n_letters_apart(masks[a], masks[b])
    s = 3 if apart > 6 else slip(voc, sa, ea, voc, sb, eb, pm)
    if min(la, lb) >= 3 and voc[sa] == voc[sb] and is_other_gender(voc, sa, ea, sb, eb):
        # Brother and sister, or a slip: Sandr is nobody else's name.
        return (G_TWO if (a_in_use or counts[a] > 1) and (b_in_use or counts[b] > 1) else G_SIMILAR), top
    if s == 1:
        if nick == 1:
            return G_SIMILAR, top  # Alec and Alex are short for one name
        two_names = two_names or (both_in_use and not _spelled_otherwise(voc, sa, ea, sb, eb, buf_a, buf_b))
        return (G_TWO if two_names else G_TYPO), top
    if min(la, lb) >= 3 and voc[sa] == voc[sb] and (is_prefix(voc, sa, ea, voc, sb, eb) or is_prefix(voc, sb, eb, voc, sa, ea)):
        # Maria is not short for Mariana, nor Victor for Victoria.
        shorter = a if la < lb else b
        if both_in_use and (words.cls[shorter] == GIVEN or _is_formal(shorter, nick_off, nick_ids)):
            return G_TWO, top
        return (G_NICKNAME if min(counts[a], counts[b]) < often or abs(la - lb) > 1 else G_SIMILAR), top
    if not both_known and (is_pet_form(voc, sa, ea, sb, eb) or is_pet_form(voc, sb, eb, sa, ea)):
        return G_SIMILAR, top  # likely, but two of one household may be called so
    if nick != 0 or s == 2:
        if s == 2 and nick == 0 and (both_known or (two_names and sounds[a] != sounds[b])):
            return G_DIFFERS, 0
        two = s == 2 and nick == 0 and both_in_use and not _spelled_otherwise(voc, sa, ea, sb, eb, buf_a, buf_b)
        return (G_TWO if two else G_SIMILAR), top
    if not both_known and sounds[a] == sounds[b] and sounds[a] != 0 and voc[sa] == voc[sb] and min(la, lb) >= 4:
        return G_SIMILAR, top
    if apart <= 4 and jaro_winkler(voc, sa, ea, voc, sb, eb, pm) >= 0.9 and min(counts[a], counts[b]) < often:
        two = both_in_use and not _spelled_otherwise(voc, sa, ea, sb, eb, buf_a, buf_b)
        return (G_TWO if two else G_SIMILAR), top  # Stephen and Stephanie
    return G_DIFFERS, 0


@inner(_LEVEL(NAME_WORDS, _INT, _INT, _INT, _INT))
def family_level(words, a0, a1, b0, b1):
    """Level of two lists of family words, and the count of the agreed word (0 unknown)."""
    ids, cls, voc_off, voc, sounds = words.ids, words.cls, words.voc_off, words.voc, words.sounds
    masks, counts, often, buf_a, buf_b, pm = words.masks, words.family_counts, words.often, words.run_a, words.run_b, words.pm
    if a1 <= a0 or b1 <= b0:
        return -1, 0
    if a1 - a0 == 1 and b1 - b0 == 1:  # most names: settled here without copying them
        x, y = ids[a0], ids[b0]
        if x == y:
            return F_SAME, counts[x]
        sx, ex, sy, ey = voc_off[x], voc_off[x + 1], voc_off[y], voc_off[y + 1]
        far = n_letters_apart(masks[x], masks[y]) > 6 and (sounds[x] != sounds[y] or sounds[x] == 0)
        if far and ex - sx > 1 and ey - sy > 1:
            begins = voc[sx] == voc[sy] and (is_prefix(voc, sx, ex, voc, sy, ey) or is_prefix(voc, sy, ey, voc, sx, ex))
            return (F_SIMILAR, max(counts[x], counts[y])) if begins and min(ex - sx, ey - sy) >= 4 else (F_DIFFERS, 0)
    na, nb = run_together(ids, a0, a1, voc_off, voc, buf_a, False), run_together(ids, b0, b1, voc_off, voc, buf_b, False)
    # Particles are often dropped: they count only where nothing else stands.
    fa, fb, ka, kb = -1, -1, 0, 0
    shared, rarest, together = 0, 0, 1.0
    letters_a, letters_b = np.uint32(0), np.uint32(0)
    for k in range(a0, a1):
        letters_a |= masks[ids[k]]
        if cls[ids[k]] != PARTICLE:
            fa = ids[k] if fa < 0 else fa
            ka += 1
            for j in range(b0, b1):
                if ids[j] == ids[k]:
                    shared += 1
                    rarest = counts[ids[k]] if rarest == 0 else min(rarest, counts[ids[k]])
                    together *= counts[ids[k]] / words.n
                    break
    for j in range(b0, b1):
        letters_b |= masks[ids[j]]
        if cls[ids[j]] != PARTICLE:
            fb = ids[j] if fb < 0 else fb
            kb += 1
    if shared > 1:  # a father's and a mother's name, which have nothing to do with each other
        rarest = max(int(together * words.n), 1)
    fa = ids[a0] if fa < 0 else fa
    fb = ids[b0] if fb < 0 else fb
    top = max(counts[fa], counts[fb])
    if (shared > 0 and shared == ka and shared == kb) or same_bytes(buf_a, 0, na, buf_b, 0, nb):
        return F_SAME, (rarest if shared > 0 else top)
    if shared > 0:
        return (F_PART if shared == min(ka, kb) else F_SIMILAR), rarest
    if na == 1 or nb == 1:
        return (F_INITIAL if buf_a[0] == buf_b[0] else F_DIFFERS), top
    s = 3 if n_letters_apart(letters_a, letters_b) > 6 else slip(buf_a, 0, na, buf_b, 0, nb, pm)
    if s > 0 and ka + kb > 2:
        t = slip(voc, voc_off[fa], voc_off[fa + 1], voc, voc_off[fb], voc_off[fb + 1], pm)
        if t == 0:
            return F_PART, top
        if t == 1 and s != 1:
            return F_SIMILAR, top
    if s == 0:
        return F_SAME, top
    if min(na, nb) >= 5 and same_but_umlauts(buf_a, 0, na, buf_b, 0, nb):
        return F_SAME, top
    rare = min(counts[fa], counts[fb]) < often
    if s == 1 or (min(na, nb) >= 4 and same_but_i(buf_a, 0, na, buf_b, 0, nb)):
        return (F_TYPO if rare else F_SIMILAR), top
    if sounds[fa] == sounds[fb] and sounds[fa] != 0 and jaro_winkler(buf_a, 0, na, buf_b, 0, nb, pm) >= 0.85:
        return F_SIMILAR, top
    if s == 2 and rare:
        return F_SIMILAR, top
    if min(na, nb) >= 4 and (is_prefix(buf_a, 0, na, buf_b, 0, nb) or is_prefix(buf_b, 0, nb, buf_a, 0, na)):
        return F_SIMILAR, top
    return F_DIFFERS, 0
