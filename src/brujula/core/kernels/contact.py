"""Loops over mailboxes and phone numbers."""

from __future__ import annotations

import numpy as np

from brujula.core.kernels.compiled import compiled, inner
from brujula.core.kernels.edits import osa, place_in

MOST_INITIALS = 3  # more letters are a name

# Country calling codes of one and two digits; all others have three (ITU-T E.164).
_TWO = np.zeros(100, np.bool_)
for _c in (
    20,
    27,
    28,
    30,
    31,
    32,
    33,
    34,
    36,
    39,
    40,
    41,
    43,
    44,
    45,
    46,
    47,
    48,
    49,
    51,
    52,
    53,
    54,
    55,
    56,
    57,
    58,
    60,
    61,
    62,
    63,
    64,
    65,
    66,
    81,
    82,
    84,
    86,
    90,
    91,
    92,
    93,
    94,
    95,
    98,
):
    _TWO[_c] = True


@compiled("void(int64[::1], uint8[::1], int32[::1], int32[::1], boolean, uint8[::1], uint64[::1])")
def text_distances(offsets, data, left, right, any_digits, out, pm):
    """Edit distance (capped at 9) of texts left[p] and right[p] into out[p]; 9 where a side is blank.

    Also 9 where the digits of the two differ, unless any may: a number is not a slip of another.
    """
    for p in range(left.size):
        x, y = left[p], right[p]
        if x < 0 or y < 0:
            out[p] = 9
            continue
        a0, a1, b0, b1 = offsets[x], offsets[x + 1], offsets[y], offsets[y + 1]
        if abs((a1 - a0) - (b1 - b0)) > 3:
            out[p] = 9
            continue
        i, j = a0, b0
        alike = True
        while alike and not any_digits:
            while i < a1 and not 48 <= data[i] <= 57:
                i += 1
            while j < b1 and not 48 <= data[j] <= 57:
                j += 1
            if i == a1 or j == b1:
                alike = i == a1 and j == b1
                break
            alike = data[i] == data[j]
            i += 1
            j += 1
        if not alike:
            out[p] = 9
            continue
        out[p] = min(osa(data, a0, a1, data, b0, b1, pm), 9)


@compiled("void(int64[::1], uint8[::1], uint64[::1], int8[::1], int32[::1], uint8[::1])")
def parse_phones(offsets, data, number, size, extension, digits):
    """National significant number of each text, as an integer, with its count of digits and its extension (-1 none).

    A leading + or 00, or 011 before ten digits and more, makes the number international and its country code goes; so do the trunk zero and
    the leading 1 of an 11-digit North American number, or one that stands by itself before nine: a digit is missing. Behind a word (Option 2) stands an extension. Two to four digits behind a dash at the end are an extension
    where a whole number stands before them and all of it were too long for one (+34 986 322 323-630). size 0 = not a
    number (under 6 or over 15 digits, or one digit repeated, or counting up). digits : uint8[24] scratch
    """
    for t in range(offsets.size - 1):
        n, value, ext, before_dash, behind = 0, np.uint64(0), -1, 0, 0
        plus, lone = False, False
        i, end = offsets[t], offsets[t + 1]
        in_ext = False
        while i < end:
            c = data[i]
            lone = lone or (n == 1 and (c < 48 or c > 57))
            if 48 <= c <= 57:
                if in_ext:
                    behind += 1
                    if behind <= 6:
                        ext = (0 if ext < 0 else ext) * 10 + (c - 48)
                elif n < digits.size:
                    digits[n] = c - 48
                    n += 1
            elif c == 45 and not in_ext:
                before_dash = n
            elif c == 43 and n == 0:
                plus = True
            elif n >= 6 and (
                c == 120 or c == 88 or c == 35 or ((c == 101 or c == 69) and i + 1 < end and (data[i + 1] | 32) == 120)
            ):
                in_ext = True
            elif n >= 8 and (97 <= c | 32 <= 122 or c == 0xD0 or c == 0xD1):
                in_ext = True  # Option 2, Durchwahl 12, доб. 12
            elif n >= 6 and not in_ext and (c == 44 or c == 59 or c == 47) and i + 2 < end and n >= 9:
                break  # a second number in the cell
            i += 1
        if behind > 6:
            ext = -1  # a second number in the cell
        start = 0
        if not plus and n > 9 and digits[0] == 0 and digits[1] == 0:
            plus, start = True, 2
        elif not plus and n >= 13 and digits[0] == 0 and digits[1] == 1 and digits[2] == 1:
            plus, start = True, 3
        if plus and n - start >= 8:
            if digits[start] == 1 or digits[start] == 7:
                start += 1
            elif _TWO[digits[start] * 10 + digits[start + 1]]:
                start += 2
            else:
                start += 3
        elif not plus and digits[0] == 1 and (n == 11 or (n == 10 and lone)):
            start = 1
        while start < n and digits[start] == 0:
            start += 1
        if n - start >= 12 and before_dash - start >= 9 and 2 <= n - before_dash <= 4 and not in_ext:
            ext = 0
            for k in range(before_dash, n):
                ext = ext * 10 + digits[k]
            n = before_dash
        length = n - start
        one, up = True, True
        for k in range(start, n):
            value = value * np.uint64(10) + np.uint64(digits[k])
            if k > start:
                one = one and digits[k] == digits[k - 1]
                up = up and digits[k] == (digits[k - 1] + 1) % 10
        if length < 6 or length > 15 or one or up:
            number[t], size[t], extension[t] = 0, 0, -1
        else:
            number[t], size[t], extension[t] = value, length, ext


_LINE = np.uint64(10**7)


@inner("int64(uint64, int64, uint64, int64, uint8[::1], uint8[::1], uint64[::1])")
def _number_level(x, nx, y, ny, buf_a, buf_b, pm):
    """0 different, 1 same but for the last digits, 2 a slip, 3 the same number, 4 one is the other with an extension behind, 5 the last seven digits behind another area."""
    if x == y:
        return 3
    if nx > ny:
        x, nx, y, ny = y, ny, x, nx
    if nx >= 7 and ny - nx <= 3:
        mod = np.uint64(1)
        for _ in range(nx):
            mod *= np.uint64(10)
        if y % mod == x:
            return 3
    if nx >= 9 and 2 <= ny - nx <= 4:
        mod = np.uint64(100) if ny - nx == 2 else np.uint64(1000) if ny - nx == 3 else np.uint64(10000)
        if y // mod == x:
            return 4
    if ny - nx > 1 or nx < 8:
        return 0
    a, b = x, y
    for k in range(nx):
        buf_a[nx - 1 - k] = a % np.uint64(10)
        a //= np.uint64(10)
    for k in range(ny):
        buf_b[ny - 1 - k] = b % np.uint64(10)
        b //= np.uint64(10)
    d = osa(buf_a, 0, nx, buf_b, 0, ny, pm)
    if d == 1:
        return 2
    if nx == ny and x // np.uint64(10000) == y // np.uint64(10000):
        return 1
    if nx >= 9 and x % _LINE == y % _LINE:
        return 5
    return 0


N_AREAS = 1000
P_DIFFERS, P_AREA, P_ELSEWHERE, P_EXCHANGE, P_SHARED, P_SLIP, P_SAME = 0, 1, 2, 3, 4, 5, 6


@compiled(
    "void(int32[::1], int32[::1], int32[:, ::1], uint64[::1], int8[::1], int32[::1], int16[::1], int32[::1], boolean[::1], int8[::1], "
    "int32[::1], uint8[:, ::1], uint64[::1])"
)
def compare_phones(left, right, codes, number, size, extension, area, owners, placed, out, agreed, bufs, pm):
    """Best level over the numbers of both sides into out (-1 blank).

    agreed = text index of the shared number; behind all texts nothing, then area by area, then the texts once more for number and extension

    codes  : int32[n_records, n_columns], text index, -1 blank
    area   : per text, 0 = not known
    owners : int32 per text, how many different people or firms give the number
    placed : per record, its place is known: where both are, their areas say nothing more
    bufs   : uint8[2, 20] scratch
    """
    buf_a, buf_b = bufs[0], bufs[1]
    for p in range(left.size):
        best, at, desk = -1, -1, False
        free = not (placed[left[p]] and placed[right[p]])
        for i in range(codes.shape[1]):
            x = codes[left[p], i]
            if x < 0 or size[x] == 0:
                continue
            for j in range(codes.shape[1]):
                y = codes[right[p], j]
                if y < 0 or size[y] == 0:
                    continue
                level = _number_level(number[x], size[x], number[y], size[y], buf_a, buf_b, pm)
                same_ext = False
                if level == 3:
                    same_ext = extension[x] >= 0 and extension[x] == extension[y]
                    other_ext = extension[x] >= 0 and extension[y] >= 0 and extension[x] != extension[y]
                    level = P_SHARED if other_ext or (max(owners[x], owners[y]) >= 3 and not same_ext) else P_SAME
                elif level == 4:
                    level = P_SHARED
                elif level == 2:
                    level = P_SLIP
                elif level == 1:
                    level = P_EXCHANGE
                elif level == 5:
                    level = P_ELSEWHERE
                elif free and area[x] > 0 and area[x] == area[y]:
                    level = P_AREA
                if level > best:
                    # Of a number and one with a slip in it that which more have: it is the one both were meant for.
                    more = owners[y] > owners[x] or (owners[y] == owners[x] and number[y] > number[x])
                    best, at, desk = level, y if more else x, same_ext
        out[p] = best
        agreed[p] = at if best >= P_SHARED else number.size + 1 + area[at] if best == P_AREA else number.size
        if desk:
            agreed[p] = number.size + 1 + N_AREAS + at


@compiled("void(int32[::1], int64[::1], uint8[::1], int32[::1], int64[::1], int32[::1], int64[::1], uint8[::1], uint64[::1])")
def letters_of_name(box, box_off, boxes, name, word_off, word_ids, voc_off, voc, out):
    """Set in out the letters of a record's mailbox (texts boxes, codes box) in which a word of its name stands, a bit each; all where the
    mailbox is no longer than an initial or two. name : codes of the texts whose folded words are word_ids[word_off[t]:]; -1 = none on either side."""
    for r in range(box.size):
        b, t = box[r], name[r]
        if b < 0:
            continue
        start, end = box_off[b], box_off[b + 1]
        if end - start <= 2:
            out[r] = ~np.uint64(0)
            continue
        if t < 0:
            continue
        for k in range(word_off[t], word_off[t + 1]):
            w0, w1 = voc_off[word_ids[k]], voc_off[word_ids[k] + 1]
            if w1 - w0 >= 3:
                s, e = place_in(boxes, start, end, voc, w0, w1)
                letters = np.uint64(0)
                for i in range(s - start, min(e - start, 64)):
                    letters |= np.uint64(1) << np.uint64(i)
                # In adanell@ of Ada Danell the family name leaves an initial, and no Ada.
                out[r] |= letters if not out[r] & letters else np.uint64(0)


@inner("int64(uint8[::1], int64, int64, uint64, int64)")
def _letters_beside(data, start, end, named, i):
    """How many letters stand together outside the name around the i-th of a mailbox; 0 where that is no such letter."""
    first, after = i, i
    while first >= 0 and 97 <= data[start + first] <= 122 and not named & (np.uint64(1) << np.uint64(first)):
        first -= 1
    while after < min(end - start, 64) and 97 <= data[start + after] <= 122 and not named & (np.uint64(1) << np.uint64(after)):
        after += 1
    return max(after - first - 1, 0)


@compiled("void(int32[::1], int32[::1], int64[::1], uint8[::1], uint64[::1], uint64[::1], boolean[::1])")
def other_initials_beside(mailbox, other, off, data, named, other_named, out):
    """Whether two mailboxes that are an edit apart differ in an initial beside the name: klind@ and kslind@, kslind@ and ktlind@; not in the first.

    mailbox, other : codes of the texts;  named, other_named : the letters in which the name stands, as `letters_of_name` gives them
    A letter doubled, or two changed about, is a slip.
    """
    for p in range(mailbox.size):
        a0, a1, b0, b1 = off[mailbox[p]], off[mailbox[p] + 1], off[other[p]], off[other[p] + 1]
        mine, others = named[p], other_named[p]
        if a1 - a0 < b1 - b0:
            a0, a1, b0, b1, mine, others = b0, b1, a0, a1, others, mine
        equal = a1 - a0 == b1 - b0
        if equal:  # a name misspelled stands nowhere: then it is where the other's is
            mine, others = mine | (others if mine == 0 else np.uint64(0)), others | (mine if others == 0 else np.uint64(0))
        i, last = 0, min(b1 - b0, 64) - 1
        while i < last and data[a0 + i] == data[b0 + i]:
            i += 1
        beside = _letters_beside(data, a0, a1, mine, i)
        if equal:
            turned = i < last and data[a0 + i] == data[b0 + i + 1] and data[a0 + i + 1] == data[b0 + i]
            beside = 0 if turned else min(beside, _letters_beside(data, b0, b1, others, i))
        elif data[a0 + i - 1] == data[a0 + i]:
            beside = 0
        out[p] = i > 0 and mine != 0 and 0 < beside <= MOST_INITIALS
