"""Names that mailboxes give: whose word the local part of an address spells."""

from __future__ import annotations

import numpy as np

from brujula.core.kernels.compiled import compiled, inner
from brujula.core.kernels.edits import is_prefix, same_bytes, slip, stands_in
from brujula.core.kernels.hashing import hash_range
from brujula.core.kernels.names import PARTICLE

_BEGINNING = 3  # letters by which a short name is known for one of a longer: kath in kathy, and in Katherine


@inner("boolean(uint64[::1], uint64)")
def _holds(known, word):
    """True when the sorted hashes hold the word's."""
    low, high = 0, known.size
    while low < high:
        mid = (low + high) // 2
        if known[mid] < word:
            low = mid + 1
        else:
            high = mid
    return low < known.size and known[low] == word


@compiled(
    "void(int32[::1], int64[::1], uint8[::1], int64[::1], int32[::1], int32[::1], int64[::1], uint8[::1], uint64[::1], uint64[::1], uint64[::1], "
    "int64[:, ::1], int32[::1], int64[:, ::1], uint64[::1])"
)
def mailbox_names(codes, box_off, box, off, ids, cls, voc_off, voc, known, listed, families, span, beside, parts, pm):
    """The name a mailbox gives that its record does not: paul in paul.roberts@ of P. Roberts, wren in awren@ of Ada Lind.

    codes       : int32[n], which mailbox each record has, -1 = none;  box_off, box : their local parts, lower case
    known, listed, families : sorted hashes of words that are given names here, and by the tables, and of family names
    span, beside: start and end in box of the other name (0, 0 = none), and the name word of the record it stands with
    parts       : int64[2, 8] scratch
    """
    starts, ends = parts[0], parts[1]
    for r in range(codes.size):
        span[r, 0] = span[r, 1] = 0
        beside[r] = -1
        if codes[r] < 0:
            continue
        s, e, n = box_off[codes[r]], box_off[codes[r] + 1], 0
        i = s
        while i < e and n < 8:
            while i < e and not 97 <= box[i] <= 122:
                i += 1
            starts[n] = i
            while i < e and 97 <= box[i] <= 122:
                i += 1
            ends[n] = i
            n += ends[n] > starts[n]
        if n == 0 or n > 3:
            continue
        x, y, word = 0, 0, -1
        for k in range(off[r + 1] - 1, off[r] - 1, -1):  # the family name first
            w = ids[k]
            w0, w1 = voc_off[w], voc_off[w + 1]
            if cls[w] == PARTICLE or w1 - w0 < 3 or word >= 0:
                continue
            for t in range(n):
                a, b = starts[t], ends[t]
                if n > 1 and (
                    same_bytes(box, a, b, voc, w0, w1)
                    or (w1 - w0 >= 5 and slip(box, a, b, voc, w0, w1, pm) == 1)
                    or (b - a >= 4 and is_prefix(box, a, b, voc, w0, w1))
                ):
                    other = t + 1 if t == 0 else t - 1
                    x, y, word = starts[other], ends[other], w
                    break
                if n == 1 and b - a > w1 - w0 + 2:
                    if is_prefix(voc, w0, w1, box, a, b):
                        x, y, word = a + (w1 - w0), b, w
                    elif same_bytes(box, b - (w1 - w0), b, voc, w0, w1):
                        x, y, word = a, b - (w1 - w0), w
        if word < 0 and n == 1 and ends[0] - starts[0] >= 3:
            a, b = starts[0], ends[0]
            w = ids[off[r + 1] - 1] if off[r + 1] > off[r] else -1
            whole, but_last = hash_range(box, a, b), hash_range(box, a, b - 1)
            if w >= 0 and (_holds(known, whole) or _holds(listed, whole)):
                x, y, word = a, b, w
            elif (
                w >= 0 and b - a >= 4 and box[b - 1] == voc[voc_off[w]] and (_holds(known, but_last) or _holds(listed, but_last))
            ):
                x, y, word = a, b - 1, w
        if word < 0 and n <= 2 and off[r + 1] > off[r]:
            # The given name shortened, or its initial, and a family name: the one somebody had before marrying.
            w = ids[off[r]]
            initial = voc[voc_off[w]]
            for t in range(n):
                a, b = starts[t], ends[t]
                if n == 2:
                    lone, least = starts[1 - t], min(ends[1 - t] - starts[1 - t], _BEGINNING)
                    if (
                        b - a >= 4
                        and least != 2
                        and same_bytes(box, lone, lone + least, voc, voc_off[w], min(voc_off[w] + least, voc_off[w + 1]))
                    ):
                        x, y = a, b
                elif box[a] == initial and b - a >= 5 and _holds(families, hash_range(box, a + 1, b)):
                    x, y = a + 1, b
                elif box[b - 1] == initial and b - a >= 5:
                    x, y = a, b - 1
            if y > x and _holds(families, hash_range(box, x, y)):
                word = w
        if word < 0 or y - x < 3:
            continue
        own = False
        for k in range(off[r], off[r + 1]):
            w0, w1 = voc_off[ids[k]], voc_off[ids[k] + 1]
            own = own or (w1 - w0 > 1 and slip(box, x, y, voc, w0, w1, pm) <= 1)
        if not own:
            span[r, 0], span[r, 1], beside[r] = x, y, word


@compiled("void(int32[::1], int32[::1], int32[::1], int32[::1], int64[::1], uint8[::1], int64[::1], uint8[::1], boolean[::1])")
def own_mailboxes(word, other_word, mailbox, other_mailbox, box_off, box, voc_off, voc, out):
    """Whether each side's mailbox has its own word in it, and not both of them both: weber in aweber@, and weller in aweller@.

    word, mailbox : int32[n_pairs], a word of each side's name, -1 = none, and its mailbox (letters before the @), one on each side
    """
    for p in range(word.size):
        x, y = word[p], other_word[p]
        out[p] = False
        if x < 0 or y < 0:
            continue
        a0, a1, b0, b1 = box_off[mailbox[p]], box_off[mailbox[p] + 1], box_off[other_mailbox[p]], box_off[other_mailbox[p] + 1]
        x0, x1, y0, y1 = voc_off[x], voc_off[x + 1], voc_off[y], voc_off[y + 1]
        if min(x1 - x0, y1 - y0) >= 3 and stands_in(box, a0, a1, voc, x0, x1) and stands_in(box, b0, b1, voc, y0, y1):
            out[p] = not (stands_in(box, a0, a1, voc, y0, y1) and stands_in(box, b0, b1, voc, x0, x1))


@compiled("void(int32[::1], int32[::1], int32[::1], int64[::1], uint8[::1], int64[::1], uint8[::1], boolean[::1])")
def says_one(word, other_word, mailbox, box_off, box, voc_off, voc, out):
    """Whether a mailbox two share has one's word in it and not the other's: paul in jeanpaulorme@, and no pierre. word, other_word, mailbox : as in `says_neither`"""
    for p in range(word.size):
        s, e, n = box_off[mailbox[p]], box_off[mailbox[p] + 1], 0
        for w in (word[p], other_word[p]):
            n += w >= 0 and voc_off[w + 1] - voc_off[w] >= _BEGINNING and stands_in(box, s, e, voc, voc_off[w], voc_off[w + 1])
        out[p] = n == 1


@compiled("void(int32[::1], int32[::1], int32[::1], int64[::1], uint8[::1], int64[::1], uint8[::1], boolean[::1])")
def says_neither(word, other_word, mailbox, box_off, box, voc_off, voc, out):
    """Whether a mailbox two share says neither's given name: it has no three letters that one begins with, nor begins or ends with its initial.

    word, other_word, mailbox : int32[n_pairs], given words, -1 = none, and the mailbox (letters before the @)
    """
    for p in range(word.size):
        s, e = box_off[mailbox[p]], box_off[mailbox[p] + 1]
        while e > s and 48 <= box[e - 1] <= 57:
            e -= 1
        out[p] = e > s
        for w in (word[p], other_word[p]):
            if w < 0:
                out[p] = False
            elif out[p]:
                w0, w1 = voc_off[w], voc_off[w + 1]
                out[p] = (
                    box[s] != voc[w0] and box[e - 1] != voc[w0] and not stands_in(box, s, e, voc, w0, min(w1, w0 + _BEGINNING))
                )


@compiled(
    "void(int32[::1], int32[::1], int64[::1], uint8[::1], int64[::1], int32[::1], int32[::1], int32[::1], int64[::1], uint8[::1], uint8[::1])"
)
def other_initials(records, codes, box_off, box, off, ids, n_given, cls, voc_off, voc, out):
    """The initial a mailbox sets to its record's family name where none of the record's own words begins so: R in levyr@ of Adilson Levy; 0 = none.

    records : int32[m], which records are asked for;  codes : int32[n], which mailbox each has, -1 = none;  box_off, box : their letters
    out     : uint8[m]
    """
    for m in range(records.size):
        r = records[m]
        out[m] = 0
        if codes[r] < 0 or n_given[r] == 0:
            continue
        s, e = box_off[codes[r]], box_off[codes[r] + 1]
        while e > s and 48 <= box[e - 1] <= 57:
            e -= 1
        letter = np.uint8(0)
        for k in range(off[r] + n_given[r], off[r + 1]):
            w0, w1 = voc_off[ids[k]], voc_off[ids[k] + 1]
            if cls[ids[k]] == PARTICLE or w1 - w0 < 3 or e - s != w1 - w0 + 1:
                continue
            if same_bytes(box, s, e - 1, voc, w0, w1):
                letter = box[e - 1]
            elif same_bytes(box, s + 1, e, voc, w0, w1):
                letter = box[s]
        for k in range(off[r], off[r + 1]):
            if voc[voc_off[ids[k]]] == letter:
                letter = np.uint8(0)
        if 97 <= letter <= 122:
            out[m] = letter
