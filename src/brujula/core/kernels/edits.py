"""Edit distance and Jaro-Winkler over byte ranges of folded (ASCII) text.

Every function takes (data, start, end) for each side and, where it needs one, the table `pm` that `scratch` makes, of which
it leaves the first 256 zeroed.
"""

from __future__ import annotations

import numpy as np
from numba import types
from numpy.typing import NDArray

from brujula.core.kernels.compiled import compiled, inner

_PAIR = "uint8[::1], int64, int64, uint8[::1], int64, int64"
_SCRATCH = _PAIR + ", uint64[::1]"

_LONGEST = 512
_ONE = np.uint64(1)
_ALL = np.uint64(0xFFFFFFFFFFFFFFFF)
_ZERO = np.uint64(0)


def scratch() -> NDArray[np.uint64]:
    """What the kernels write to while they compare two texts: one for each thread."""
    return np.zeros(256 + 3 * (_LONGEST + 1), np.uint64)


@inner(f"boolean({_PAIR})")
def same_bytes(a, a0, a1, b, b0, b1):
    """True when the two ranges hold the same bytes."""
    if a1 - a0 != b1 - b0:
        return False
    for i in range(a1 - a0):
        if a[a0 + i] != b[b0 + i]:
            return False
    return True


@inner(f"int64({_SCRATCH})")
def _osa_rows(a, a0, a1, b, b0, b1, pm):
    """The same distance by dynamic programming, three rows kept, for texts over 64 bytes.

    What stands behind the first _LONGEST bytes is laid side by side: at most too far apart.
    """
    m, n = min(a1 - a0, _LONGEST), min(b1 - b0, _LONGEST)
    before, last, row = 256, 256 + _LONGEST + 1, 256 + 2 * (_LONGEST + 1)
    for j in range(n + 1):
        pm[last + j] = j
    for i in range(1, m + 1):
        pm[row] = i
        for j in range(1, n + 1):
            cost = 0 if a[a0 + i - 1] == b[b0 + j - 1] else 1
            best = min(np.int64(pm[last + j]) + 1, np.int64(pm[row + j - 1]) + 1, np.int64(pm[last + j - 1]) + cost)
            if i > 1 and j > 1 and a[a0 + i - 1] == b[b0 + j - 2] and a[a0 + i - 2] == b[b0 + j - 1]:
                best = min(best, np.int64(pm[before + j - 2]) + 1)
            pm[row + j] = best
        before, last, row = last, row, before
    apart = np.int64(pm[last + n])
    for k in range(_LONGEST, max(a1 - a0, b1 - b0)):
        apart += k >= a1 - a0 or k >= b1 - b0 or a[a0 + k] != b[b0 + k]
    return apart


@compiled(f"int64({_SCRATCH})")
def osa(a, a0, a1, b, b0, b1, pm):
    """Optimal string alignment distance: insert, delete, replace, swap neighbours, each at cost 1.

    Source: Hyyrö 2003, bit-parallel with transpositions; O(length of b) for up to 64 bytes in a.
    """
    m, n = a1 - a0, b1 - b0
    if m == 0:
        return n
    if n == 0:
        return m
    if m > 64:
        if n > 64:
            return _osa_rows(a, a0, a1, b, b0, b1, pm)
        a, a0, a1, b, b0, b1 = b, b0, b1, a, a0, a1
        m, n = n, m
    for i in range(m):
        pm[a[a0 + i]] |= _ONE << np.uint64(i)
    vp, vn, d0, old = _ALL, _ZERO, _ZERO, _ZERO
    dist = m
    top = _ONE << np.uint64(m - 1)
    for j in range(n):
        here = pm[b[b0 + j]]
        swap = (((~d0) & here) << _ONE) & old
        d0 = (((here & vp) + vp) ^ vp) | here | vn | swap
        hp = vn | ~(d0 | vp)
        hn = d0 & vp
        if hp & top:
            dist += 1
        if hn & top:
            dist -= 1
        hp = (hp << _ONE) | _ONE
        hn = hn << _ONE
        vp = hn | ~(d0 | hp)
        vn = hp & d0
        old = here
    for i in range(m):
        pm[a[a0 + i]] = _ZERO
    return dist


@compiled(f"float64({_SCRATCH})")
def jaro_winkler(a, a0, a1, b, b0, b1, pm):
    """Jaro similarity with Winkler's common-prefix bonus (0.1 a letter, up to 4): 0..1.

    Source: Jaro 1989, Winkler 1990. Ranges are read up to 64 bytes; longer ones are cut there.
    """
    m, n = min(a1 - a0, 64), min(b1 - b0, 64)
    if m == 0 or n == 0:
        return 0.0
    reach = max(max(m, n) // 2 - 1, 0)
    for i in range(m):
        pm[a[a0 + i]] |= _ONE << np.uint64(i)
    taken = _ZERO
    common = 0
    window = (_ONE << np.uint64(reach + 1)) - _ONE if reach < 63 else _ALL  # the places in a that letter j of b may match
    # Without branches: whether a letter matches is a toss-up that no processor foresees.
    for j in range(n):
        c = b[b0 + j]
        free = pm[c] & window & ~taken
        taken |= free & (~free + _ONE)
        pm[256 + common] = c
        common += free != _ZERO
        window = (window << _ONE) | np.uint64(j < reach)
    moved = 0
    for k in range(common):
        first = taken & (~taken + _ONE)
        moved += pm[np.int64(pm[256 + k])] & first == _ZERO
        taken ^= first
    for i in range(m):
        pm[a[a0 + i]] = _ZERO
    if common == 0:
        return 0.0
    jaro = (common / m + common / n + (common - moved / 2) / common) / 3.0
    prefix = 0
    while prefix < min(4, m, n) and a[a0 + prefix] == b[b0 + prefix]:
        prefix += 1
    return jaro + prefix * 0.1 * (1.0 - jaro)


@compiled(f"int64({_SCRATCH})")
def slip(a, a0, a1, b, b0, b1, pm):
    """How far two words are apart by typing: 0 equal, 1 a slip, 2 similar, 3 not.

    A slip is one edit in a word of 4 or more, two in a word of 8 or more; the first letter weighs
    most, so a change there needs a longer word.
    """
    la, lb = a1 - a0, b1 - b0
    if same_bytes(a, a0, a1, b, b0, b1):
        return 0
    short = min(la, lb)
    if abs(la - lb) > 3 or short < 3:
        return 3
    d = osa(a, a0, a1, b, b0, b1, pm)
    first = a[a0] == b[b0]
    if d == 1 and (short >= 5 or (short >= 4 and first)):
        return 1
    if d == 2 and short >= 8 and first:
        return 1
    if d == 1 and short >= 3:
        return 2
    if d <= 2 and short >= 5:
        return 2
    if d <= 3 and short >= 8 and first:
        return 2
    return 3


@compiled(f"boolean({_PAIR})")
def is_prefix(a, a0, a1, b, b0, b1):
    """True when the first range begins the second."""
    if a1 - a0 > b1 - b0:
        return False
    for i in range(a1 - a0):
        if a[a0 + i] != b[b0 + i]:
            return False
    return True


@inner("boolean(int32[::1], int64, int64, int64, int64, int64[::1], uint8[::1])")
def stands_behind(ids, a0, a1, b0, b1, voc_off, voc):
    """Whether the words ids[a0:a1] stand behind ids[b0:b1] in a dictionary: which of two is compared with which must not hang on the order of a list."""
    for k in range(min(a1 - a0, b1 - b0)):
        a, b = ids[a0 + k], ids[b0 + k]
        if a != b:
            sa, ea, sb, eb = voc_off[a], voc_off[a + 1], voc_off[b], voc_off[b + 1]
            for i in range(min(ea - sa, eb - sb)):
                if voc[sa + i] != voc[sb + i]:
                    return voc[sa + i] > voc[sb + i]
            return ea - sa > eb - sb
    return a1 - a0 > b1 - b0


@compiled(f"boolean({_PAIR})")
def same_but_umlauts(a, a0, a1, b, b0, b1):
    """True when the ranges differ only in how umlauts are spelled out: Krueger and Kruger, Nygaard and Nygard."""
    i, j = a0, b0
    while i < a1 or j < b1:
        if i < a1 and j < b1 and a[i] == b[j]:
            i, j = i + 1, j + 1
        elif (
            i > a0
            and i < a1
            and ((a[i] == 101 and (a[i - 1] == 97 or a[i - 1] == 111 or a[i - 1] == 117)) or (a[i] == 97 and a[i - 1] == 97))
        ):
            i += 1  # ae, oe, ue, aa
        elif (
            j > b0
            and j < b1
            and ((b[j] == 101 and (b[j - 1] == 97 or b[j - 1] == 111 or b[j - 1] == 117)) or (b[j] == 97 and b[j - 1] == 97))
        ):
            j += 1
        else:
            return False
    return True


@compiled(f"boolean({_PAIR})")
def same_but_i(a, a0, a1, b, b0, b1):
    """True when the ranges differ only in how the sound of i is written, as in names from other letters: Volodymyr and Volodimir, Yaryna and Iarina, Andrij and Andrii.

    Not where a last letter behind a consonant is all that differs: Terry and Terri.
    """
    y, i, j = 121, 105, 106
    if a1 - a0 == b1 - b0 and a1 - a0 > 1:
        k = 0
        while k < a1 - a0 and a[a0 + k] == b[b0 + k]:
            k += 1
        before = a[a1 - 2]
        if k == a1 - a0 - 1 and before != y and before != i and before != j:
            return False
    p, q = a0, b0
    while p < a1 and q < b1:
        x = a[p] == y or a[p] == i or (a[p] == j and p > a0)
        z = b[q] == y or b[q] == i or (b[q] == j and q > b0)
        if x and z:
            while p < a1 and (a[p] == y or a[p] == i or a[p] == j):
                p += 1
            while q < b1 and (b[q] == y or b[q] == i or b[q] == j):
                q += 1
        elif a[p] == b[q]:
            p, q = p + 1, q + 1
        else:
            return False
    return p == a1 and q == b1


@compiled(f"boolean({_PAIR})")
def is_skeleton(a, a0, a1, b, b0, b1):
    """True when a's letters stand in b in order, beginning alike, behind the first gap without vowels: mfg in manufacturing, govt in government; not kota in kottayam."""
    la, lb = a1 - a0, b1 - b0
    if la < 2 or la >= lb or a[a0] != b[b0]:
        return False
    j, gap = b0, False
    for i in range(a0, a1):
        while j < b1 and b[j] != a[i]:
            gap = True
            j += 1
        c = a[i]
        vowel = c == 97 or c == 101 or c == 105 or c == 111 or c == 117
        if j == b1 or (gap and vowel):
            return False
        j += 1
    return True


@compiled("int64(uint32, uint32)")
def n_letters_apart(a, b):
    """How many letters stand in one of two letter masks only."""
    x = np.uint64(a ^ b)
    x -= (x >> np.uint64(1)) & np.uint64(0x55555555)
    x = (x & np.uint64(0x33333333)) + ((x >> np.uint64(2)) & np.uint64(0x33333333))
    x = (x + (x >> np.uint64(4))) & np.uint64(0x0F0F0F0F)
    return np.int64((x * np.uint64(0x01010101)) >> np.uint64(24)) & 0xFF


@compiled(types.UniTuple(types.int64, 2)(types.uint8[::1], types.int64, types.int64, types.uint8[::1], types.int64, types.int64))
def place_in(text, start, end, word, w0, w1):
    """From where to where the word stands in text[start:end], letter for letter (0, 0 = nowhere); an e behind a, o or u may be one more (mueller, Müller)."""
    for s in range(start, end - (w1 - w0) + 1):
        i, j = s, w0
        while i < end and j < w1:
            if text[i] == word[j]:
                j += 1
            elif not (text[i] == 101 and i > s and (text[i - 1] == 97 or text[i - 1] == 111 or text[i - 1] == 117)):
                break
            i += 1
        if j == w1:
            return s, i
    return 0, 0


@inner(f"boolean({_PAIR})")
def stands_in(text, start, end, word, w0, w1):
    """Whether the word stands in text[start:end], as `place_in` finds it."""
    return place_in(text, start, end, word, w0, w1)[1] > 0


@compiled(
    "void(int64[::1], int64[::1], uint8[::1], uint32[::1], int64[::1], int64[::1], uint8[::1], uint32[::1], int32[:, ::1], uint64[::1])"
)
def a_slip_from(asked, voc_off, voc, masks, begin, known_off, known, known_masks, out, pm):
    """The known words that each of some words is an edit away from, and begins as; as many as out has room for.

    asked : int64[n], words of the vocabulary;  begin : int64[257], where the known words that begin with each byte do, in their order
    out   : int32[n, most], numbers of known words, -1 = none;  pm : scratch, see `osa`
    """
    for k in range(asked.size):
        a0, a1 = voc_off[asked[k]], voc_off[asked[k] + 1]
        n = 0
        out[k] = -1
        for j in range(begin[voc[a0]], begin[np.int64(voc[a0]) + 1]):
            b0, b1 = known_off[j], known_off[j + 1]
            if n == out.shape[1] or abs((a1 - a0) - (b1 - b0)) > 1 or n_letters_apart(masks[asked[k]], known_masks[j]) > 2:
                continue
            if osa(voc, a0, a1, known, b0, b1, pm) == 1:
                out[k, n] = j
                n += 1
