"""Comparing phrases (firms, streets, titles) word by word, each word weighed by how distinctive it is."""

from __future__ import annotations

import numpy as np
from numba import types

from brujula.core.kernels.compiled import compiled, inner
from brujula.core.kernels.edits import is_prefix, n_letters_apart, osa, same_bytes, stands_behind
from brujula.core.kernels.text import run_together
from brujula.core.kernels.word_matches import match_words
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
    LEVEL,
    MAX_WORDS,
    NUMBER,
    PART,
    SCHOOL,
    SKIP,
    WORDS,
    YEAR,
    match_near,
    worth_of,
)

# Level codes; the kinds' level tables stand in this order.
DIFFERS, APART, SHARES, ACRONYM, ADDED, LONGER, NEARLY, CLOSE, SAME = 0, 1, 2, 3, 4, 5, 6, 7, 8
_TELLS = np.float32(7.0)
"""Bits from which on a word tells whose name it stands in: one record of 128 has it. With a slip in the only such word there may be two."""
WORD_IN_WHOLE = np.uint64(0x9E3779B97F4A7C15)
"""What the key of a word is taken times in the key of a whole phrase, which is their sum, in any order."""
_TWO_SLIPS = 6  # letters of a word that may have two


@inner("int64(int32[::1], int32[::1], int64, int64)")
def _form_start(ids, cls, start, end):
    """Where the legal form that ends the words ids[start:end] begins; end where there is none."""
    last = end
    while last > start:
        c = cls[ids[last - 1]]
        letter = c == LETTER or c == JOINER
        # A letter belongs to the legal form in "S. de R.L." and "GmbH u. Co.", to the name in "Branch E Inc." and "Harrow Inc. E".
        formal = letter and start + 1 < last < end and (cls[ids[last]] == SKIP or cls[ids[last - 2]] == LEGAL)
        if c == LEGAL or (c == SKIP and last < end) or formal:
            last -= 1
        else:
            break
    return last


@compiled("int64(int32[::1], int64[::1], int64[::1], int32[::1], int64[::1], boolean)")
def core_words(ids, offsets, out_off, cls, out_at, write):
    """Where the words of each text stand, but for articles and the legal form behind; all words when nothing else is left.

    Fills out_off[t + 1] with the count when write is False; writes places in ids into out_at at out_off[t] when True.
    """
    for t in range(offsets.size - 1):
        start, end = offsets[t], offsets[t + 1]
        last = _form_start(ids, cls, start, end)
        if last <= start:
            last = end
        # One or two words may stand behind the form: S.A. de C.V. Monterrey.
        form, behind = last, last
        while behind > start and last - behind < 2 and cls[ids[behind - 1]] != LEGAL:
            behind -= 1
        if last == end and behind < last and behind > start and cls[ids[behind - 1]] == LEGAL:
            form = _form_start(ids, cls, start, behind)
        if form <= start:
            form = behind = last
        n, telling = 0, False
        for k in range(start, last):
            telling = telling or cls[ids[k]] != SKIP
        unit = form if form < last else last  # where the letters and numbers begin that end the name: Fund V-A
        while unit > start and NUMBER <= cls[ids[unit - 1]] <= JOINER:
            unit -= 1
        for k in range(start, last):
            if form <= k < behind or (cls[ids[k]] == SKIP and telling):
                continue
            if cls[ids[k]] == JOINER and start < k < last - 1 and not unit <= k < form:
                continue
            if n < MAX_WORDS:
                if write:
                    out_at[out_off[t] + n] = k
                n += 1
        if not write:
            out_off[t + 1] = n
    return 0


@inner("int64(int32[::1], int32[::1], int64[::1], int64, int64)")
def _brief(ids, cls, voc_off, start, end):
    """Where what may be initials ends in the words ids[start:end], be a group or a legal form behind it or not; start = it is none.

    One word of two to eight letters, or several of one or two: HRW, H&RW, HRW Group.
    """
    last = end
    while last > start + 1 and (cls[ids[last - 1]] == FILLER or SKIP <= cls[ids[last - 1]] <= LEGAL):
        last -= 1
    size = 0
    for k in range(start, last):
        letters = voc_off[ids[k] + 1] - voc_off[ids[k]]
        size += letters
        if (letters > 2 and last - start > 1) or cls[ids[k]] == NUMBER or cls[ids[k]] == YEAR:
            return start
    return last if 2 <= size <= 8 else start


@inner("boolean(uint8[::1], uint8[::1], int64)")
def _same_letters(a, b, n):
    """Whether the first n letters of both, at most eight, are the same in some order."""
    used = 0
    for i in range(n):
        found = -1
        for j in range(n):
            if found < 0 and not used >> j & 1 and a[i] == b[j]:
                found = j
        if found < 0:
            return False
        used |= 1 << found
    return True


@inner("boolean(int32[::1], int32[::1], int64[::1], uint8[::1], int64, int64, int64, int64, uint8[::1], uint8[::1])")
def _is_acronym(ids, cls, voc_off, voc, first, behind, start, end, buf_a, buf_b):
    """Whether the letters of ids[first:behind] are the initials of the words ids[start:end], with or without those of a group, services
    or company behind and but for a letter more, or, from three on, all of them in another order, as the words are; or all of them run
    together. Sides have initials, numbers and lettered units have none; a word that the other has, too, is none: HRW Group, HRW Brass."""
    size = run_together(ids, first, behind, voc_off, voc, buf_a, False)
    for k in range(start, end):
        if NUMBER <= cls[ids[k]] != DIRECTION or (behind == first + 1 and ids[k] == ids[first]):
            return False
    least = end
    while least > start and cls[ids[least - 1]] == FILLER:
        least -= 1
    n = run_together(ids, start, end, voc_off, voc, buf_b, True)
    # A letter more is a legal form's or a word's left out; a B is a branch's, an N a number's, an F a foundation's.
    more = buf_a[size - 1] != ord("b") and buf_a[size - 1] != ord("n") and buf_a[size - 1] != ord("f")
    if n >= 2 and least - start >= 2 and least - start <= size <= n + more and is_prefix(buf_b, 0, min(n, size), buf_a, 0, size):
        return True
    if size >= 3 and size == n and _same_letters(buf_a, buf_b, size):
        return True
    n, sides = 0, False
    for k in range(start, end):
        sides = sides or cls[ids[k]] == DIRECTION
        if cls[ids[k]] != FILLER and cls[ids[k]] != LEGAL and n < buf_b.size:
            buf_b[n] = voc[voc_off[ids[k]]]
            n += 1
    # Beside a side it may be the other side's.
    if n >= 2 and n <= size <= n + (more and not sides) and is_prefix(buf_b, 0, n, buf_a, 0, size):
        return True
    if size >= 3 and size == n and _same_letters(buf_a, buf_b, size):
        return True
    n = run_together(ids, start, end, voc_off, voc, buf_b, False)
    return same_bytes(buf_a, 0, size, buf_b, 0, n)


@inner(types.Tuple((INT, FLOAT))(WORDS, INT, INT, INT, INT, FLOAT, types.boolean))
def _as_whole(words, a0, na, b0, nb, rarest, plain):
    """Level of two texts that are not alike word by word, all run together, and the bits it is worth; -1 = nothing to say, NEARLY = but for a slip.

    plain : slips may be let pass: no number, letter, direction or part stands on one side only, nor on each a word too short for one
    """
    ids, cls, weights, voc_off, voc = words.ids, words.cls, words.weights, words.voc_off, words.voc
    masks, buf_a, buf_b, pm = words.masks, words.run_a, words.run_b, words.pm
    size_a, size_b, letters_a, letters_b = 0, 0, np.uint32(0), np.uint32(0)
    for k in range(a0, a0 + na):
        size_a += voc_off[ids[k] + 1] - voc_off[ids[k]]
        letters_a |= masks[ids[k]]
    for k in range(b0, b0 + nb):
        size_b += voc_off[ids[k] + 1] - voc_off[ids[k]]
        letters_b |= masks[ids[k]]
    if abs(size_a - size_b) <= 2 and n_letters_apart(letters_a, letters_b) <= 4:
        top = min(worth_of(ids, weights, a0, na), worth_of(ids, weights, b0, nb))
        ja = run_together(ids, a0, a0 + na, voc_off, voc, buf_a, False)
        jb = run_together(ids, b0, b0 + nb, voc_off, voc, buf_b, False)
        if same_bytes(buf_a, 0, ja, buf_b, 0, jb):
            return CLOSE, top
        if plain:
            d = osa(buf_a, 0, ja, buf_b, 0, jb, pm)
            # Two slips in one of the words: it must begin as the other does and be long, or Garcins is Martins and Crown Cross.
            alike = d == 2 and min(ja, jb) >= 14
            for k in range(na if alike and na == nb else 0):
                i, j = ids[a0 + k], ids[b0 + k]
                alike = alike and voc[voc_off[i]] == voc[voc_off[j]]
                short = min(voc_off[i + 1] - voc_off[i], voc_off[j + 1] - voc_off[j]) < _TWO_SLIPS
                alike = alike and not (short and osa(voc, voc_off[i], voc_off[i + 1], voc, voc_off[j], voc_off[j + 1], pm) > 1)
            if (d <= 1 and min(ja, jb) >= 6) or alike:
                return NEARLY, max(rarest, top * np.float32(0.5))
    end_a, end_b = _brief(ids, cls, voc_off, a0, a0 + na), _brief(ids, cls, voc_off, b0, b0 + nb)
    if end_a > a0 and nb > 1 and _is_acronym(ids, cls, voc_off, voc, a0, end_a, b0, b0 + nb, buf_a, buf_b):
        return ACRONYM, min(weights[ids[a0]], np.float32(10.0))
    if end_b > b0 and na > 1 and _is_acronym(ids, cls, voc_off, voc, b0, end_b, a0, a0 + na, buf_a, buf_b):
        return ACRONYM, min(weights[ids[b0]], np.float32(10.0))
    return -1, np.float32(0.0)


@inner("int64(int32[::1], int32[::1], int64[::1], uint8[::1], int64, int64, boolean[::1])")
def _founded(ids, cls, voc_off, voc, start, n, used):
    """How many years before 2000 are not used; they are now."""
    found = 0
    for k in range(n):
        word = ids[start + k]
        if cls[word] == YEAR and not used[k] and voc[voc_off[word]] == ord("1"):
            used[k] = True
            found += 1
    return found


@inner("int64(int32[::1], int32[::1], int64, int64, boolean[::1])")
def _levels(ids, cls, start, n, used):
    """Bits of the levels not used, 0 = none; a school whose level is used is so itself: Lind Elementary, Lind Elementary School."""
    bits, agreed = 0, False
    for k in range(n):
        c = cls[ids[start + k]]
        agreed = agreed or (c < LEVEL and used[k])
        bits |= LEVEL - c if c < LEVEL and not used[k] else 0
    for k in range(n if agreed else 0):
        used[k] = used[k] or cls[ids[start + k]] == SCHOOL
    return bits


@inner(types.UniTuple(INT, 3)(WORDS, INT, INT, FLAGS))
def _alone(words, start, n, used):
    """How many numbers, letters and directions of one side are not used, how many of them letters, how many years."""
    alone = letters = years = 0
    for i in range(n):
        c = words.cls[words.ids[start + i]]
        if not used[i] and c >= NUMBER:
            alone += 1
            letters += c == LETTER or c == JOINER
            years += c == YEAR
    return alone, letters, years


_REST = types.Tuple((INT, types.float64, INT, types.boolean, types.boolean, types.boolean, types.uint32))


@inner(_REST(WORDS, INT, INT, FLAGS))
def _rest(words, start, n, used):
    """What of one side is not used: how many words, their bits, how many of them tell, whether a part, a usual word, a given name is among
    them, and the letters of those too short for a slip."""
    ids, cls, weights, voc_off = words.ids, words.cls, words.weights, words.voc_off
    left, over, telling, part, common, given, tiny = 0, 0.0, 0, False, False, False, np.uint32(0)
    for i in range(n):
        if used[i]:
            continue
        word = ids[start + i]
        left += 1
        if voc_off[word + 1] - voc_off[word] <= 3:
            tiny |= words.masks[word]
        formal = cls[word] == LEGAL  # one behind the name is left out before: SARL Orme, Orme
        over += np.float32(0.0) if formal else weights[word]
        common = common or weights[word] <= words.usual
        given = given or cls[word] == GIVEN
        telling += cls[word] != FILLER and not formal
        part = part or cls[word] == PART or cls[word] < LEVEL
    return left, over, telling, part, common, given, tiny


@inner(types.Tuple((INT, FLOAT))(WORDS, INT, INT, INT, INT, FLAGS, FLAGS))
def _compare_two(words, a0, na, b0, nb, used_a, used_b):
    """Level of the words ids[a0:a0 + na] and ids[b0:b0 + nb], and the bits the shared ones are worth together."""
    ids, cls, voc_off, voc = words.ids, words.cls, words.voc_off, words.voc
    matched, rarest, in_order, hits, joined, near, spelled = match_words(words, a0, na, b0, nb, used_a, used_b)
    # Numbers, letters and directions are never fuzzy: one that stands on one side only sets apart.
    lone_a, letters_a, years_a = _alone(words, a0, na, used_a)
    lone_b, letters_b, years_b = _alone(words, b0, nb, used_b)
    founded = False
    if years_a + years_b == lone_a + lone_b and (lone_a == 0 or lone_b == 0):
        lone_a = lone_b = 0
        if hits > 0:
            # The year it was founded in, which one side leaves out; one of this century may be the year of what it is (Festival 2019).
            founded = _founded(ids, cls, voc_off, voc, a0, na, used_a) + _founded(ids, cls, voc_off, voc, b0, nb, used_b) > 0
    slips, shortened, known = 0, 0, rarest
    # One short word, and a letter of it another: two sets of initials, HRW and HRB of one house.
    size_a, size_b = voc_off[ids[a0] + 1] - voc_off[ids[a0]], voc_off[ids[b0] + 1] - voc_off[ids[b0]]
    initials = na == 1 and nb == 1 and size_a == size_b and size_a <= 5 and words.masks[ids[a0]] != words.masks[ids[b0]]
    if hits < na and hits < nb and not initials:
        matched, rarest, slips, shortened = match_near(words, a0, na, b0, nb, used_a, used_b, matched, rarest)
        near += slips
    levels_a, levels_b = _levels(ids, cls, a0, na, used_a), _levels(ids, cls, b0, nb, used_b)
    left_a, over_a, telling_a, part_a, usual_a, given_a, tiny_a = _rest(words, a0, na, used_a)
    left_b, over_b, telling_b, part_b, usual_b, given_b, tiny_b = _rest(words, b0, nb, used_b)
    telling, part = telling_a + telling_b, part_a or part_b
    weight = rarest + np.float32(0.4) * np.float32(matched - rarest)
    if left_a == 0 and left_b == 0:
        if spelled > 0:
            return ACRONYM, weight
        if slips > 0 and known < _TELLS:
            return NEARLY, weight
        return SAME if joined + near == 0 and in_order and not founded else CLOSE, weight
    if (lone_a > 0 and lone_b > 0) or (levels_a > 0 and levels_b > 0 and levels_a & levels_b == 0):
        return APART if matched > 0 else DIFFERS, weight
    plain = lone_a == 0 and lone_b == 0
    # Run together, ABC Reeds and ABD Reeds are a letter apart too.
    exact = (
        not plain or part or (usual_a and usual_b) or (given_a and given_b) or (tiny_a & ~tiny_b != 0 and tiny_b & ~tiny_a != 0)
    )
    level, worth = _as_whole(words, a0, na, b0, nb, rarest, not exact)
    if level >= 0:
        return CLOSE if level == NEARLY and known >= _TELLS else level, worth
    if hits + joined + near == 0:
        return DIFFERS, weight
    if not plain:
        # A letter on one side only may be a slip in a legal form; a number or a side is not.
        only = left_a == lone_a and left_b == lone_b and letters_a + letters_b < lone_a + lone_b
        return APART if only else (SHARES if matched > over_a + over_b else DIFFERS), weight
    if left_a == 0 or left_b == 0 or telling == 0:
        # A word cut short and others besides: Kreis Orme and Kreissparkasse Orme, with a bank's name before one of them; of a name that is one word,
        # any: Lindhorn Group is not Lind Holdings.
        exact = part or (shortened > 0 and (telling > 0 or hits + joined == 0)) or (slips > 0 and telling > 1)
        if matched < 0.45 * (matched + over_a + over_b) or exact:
            return SHARES, weight
        # What the longer name adds may be the name, and what they share a trade: Building Services Wren.
        longer = joined + near == 0 and (left_a == 0 or left_b == 0) and matched >= 1.5 * (over_a + over_b)
        return LONGER if longer else ADDED, weight
    return SHARES if matched >= 0.45 * (matched + max(over_a, over_b)) else DIFFERS, weight


@compiled(
    types.void(
        types.int32[::1], types.int32[::1], types.int64[::1], WORDS, types.int8[::1], types.float32[::1], types.boolean[:, ::1]
    )
)
def compare_phrases(left, right, off, words, out, matched_weight, used):
    """Level of each pair of texts (indices left, right; -1 blank) into out (-1 = blank).

    off : where the core words of each text begin
    matched_weight : float32[n], bits the shared words are worth together: the rarest in full, the others at 0.4 (0 = none)
    used : scratch, bool[2, MAX_WORDS]
    """
    ids, voc_off, voc = words.ids, words.voc_off, words.voc
    for p in range(left.size):
        x, y = left[p], right[p]
        matched_weight[p] = 0.0
        if x < 0 or y < 0 or off[x + 1] == off[x] or off[y + 1] == off[y]:
            out[p] = -1
            continue
        a0, b0 = off[x], off[y]
        na, nb = off[x + 1] - a0, off[y + 1] - b0
        if x == y:
            out[p] = SAME
            matched_weight[p] = worth_of(ids, words.weights, a0, na)
            continue
        first, other = voc[voc_off[ids[a0]]], voc[voc_off[ids[b0]]]  # mostly these tell
        if first > other or (first == other and stands_behind(ids, a0, a0 + na, b0, b0 + nb, voc_off, voc)):
            a0, na, b0, nb = b0, nb, a0, na
        out[p], matched_weight[p] = _compare_two(words, a0, na, b0, nb, used[0], used[1])


@compiled(
    "void(int32[::1], int32[::1], int64[::1], int32[::1], uint64[::1], int64[::1], int32[::1], uint64[::1], int64, int32[::1])"
)
def last_within(text, part, off, ids, hashes, part_off, part_ids, part_hashes, longest, out):
    """Where in each text another one's words last stand, side by side and with a word more; -1 = nowhere, -2 = they are all of it.

    text, part : int32[n_pairs];  longest : words a part may have;  hashes, part_hashes : per word of either vocabulary
    """
    for p in range(text.size):
        out[p] = -1
        a, n = off[text[p]], off[text[p] + 1] - off[text[p]]
        b, m = part_off[part[p]], part_off[part[p] + 1] - part_off[part[p]]
        if m == 0 or m > longest:
            continue
        for start in range(n - m, -1, -1):
            here = True
            for k in range(m):
                here = here and hashes[ids[a + start + k]] == part_hashes[part_ids[b + k]]
            if here:
                out[p] = start if n > m else -2
                break


@compiled("void(int64[::1], int32[::1], uint64[::1], float32[::1], uint64[::1], uint64[::1], uint64[::1])")
def phrase_keys(off, ids, concepts, weights, whole, rare, second):
    """Per text: a key of all its words in any order, of its rarest word, and of its second rarest."""
    for t in range(off.size - 1):
        total = np.uint64(0)
        best, other = np.float32(-1.0), np.float32(-1.0)
        rare[t], second[t] = 0, 0
        for k in range(off[t], off[t + 1]):
            w, c = weights[ids[k]], concepts[ids[k]]
            total += c * WORD_IN_WHOLE
            if w > best or (w == best and c < rare[t]):
                second[t], other = rare[t], best
                rare[t], best = c, w
            elif w > other:
                second[t], other = c, w
        whole[t] = total
