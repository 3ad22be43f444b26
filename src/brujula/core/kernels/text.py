"""Folding text to plain lower-case words: UTF-8 in, ASCII words out."""

from __future__ import annotations

import numpy as np

from brujula.core.kernels.compiled import compiled, inner

# What one character does to the word being built.
LETTER, DIGIT, BREAK, DROP, DOT, AND, HASH, LOST = 0, 1, 2, 3, 4, 5, 6, 7


@compiled("UniTuple(int64, 2)(uint8[::1], int64, int64)")
def decode(data, i, end):
    """The code point at data[i] and the index after it; a broken byte stands for U+FFFD."""
    c = np.int64(data[i])
    if c < 0x80:
        return c, i + 1
    if c >= 0xF0:
        need, value = 3, c & 0x07
    elif c >= 0xE0:
        need, value = 2, c & 0x0F
    elif c >= 0xC0:
        need, value = 1, c & 0x1F
    else:
        return 0xFFFD, i + 1
    if i + need >= end + 0 and i + need > end - 1:
        return 0xFFFD, i + 1
    for k in range(need):
        value = (value << 6) | (np.int64(data[i + 1 + k]) & 0x3F)
    return value, i + 1 + need


@compiled("void(uint8[::1], uint8[::1])")
def mark_code_points(data, seen):
    """Mark in seen (uint8, one per code point) which code points over 127 occur."""
    i, n = 0, data.size
    while i < n:
        if data[i] < 0x80:
            i += 1
            continue
        c, i = decode(data, i, n)
        seen[min(c, seen.size - 1)] = 1


@compiled(
    "void(int64[::1], uint8[::1], int8[::1], int32[::1], int32[::1], uint8[::1], boolean, int64[::1], int64[::1], uint8[::1], int64[::1])"
)
def fold_words(offsets, data, ascii_class, rep_start, rep_end, rep_bytes, write, n_bytes, n_words, out, ends):
    """Split every text into folded words.

    offsets, data       : texts
    ascii_class         : int8[128], what each ASCII character does
    rep_start, rep_end  : int32, per code point, its replacement in rep_bytes (ASCII, lower case; empty = a break)
    write               : False counts into n_bytes, n_words (int64 per text); True writes, and then these
                          hold each text's first byte and first word
    out, ends           : uint8 words without gaps; int64 end of each word in out
    """
    for t in range(offsets.size - 1):
        i, end = offsets[t], offsets[t + 1]
        pos = n_bytes[t] if write else 0
        word = n_words[t] if write else 0
        first_pos, first_word = pos, word
        start = pos  # where the word being built began
        run = 0  # letters since the last dot inside the word
        while i < end:
            c, after = decode(data, i, end)
            if c < 128:
                what = ascii_class[c]
                if what == LETTER or what == DIGIT:
                    if write:
                        out[pos] = c + 32 if 65 <= c <= 90 else c
                    pos += 1
                    run += 1
                elif what == DOT:
                    # "S.A." and "J.P." are one word each; "St. Louis" and "ada.quist" are two.
                    joins = run == 1 and after < end and ascii_class[min(data[after], 127)] == LETTER and data[after] < 128
                    if joins and after + 1 < end:
                        nxt = data[after + 1]
                        joins = nxt >= 128 or (ascii_class[nxt] != LETTER and ascii_class[nxt] != DIGIT)
                    if not joins and pos > start:
                        if write:
                            ends[word] = pos
                        word += 1
                        start = pos
                    run = 0
                elif what == DROP:
                    pass
                elif what == LOST and pos > start and after < end and (data[after] >= 128 or ascii_class[data[after]] == LETTER):
                    pass  # a letter that could not be written: Mu?oz
                else:
                    if pos > start:
                        if write:
                            ends[word] = pos
                        word += 1
                    if what == AND:
                        if write:
                            out[pos], out[pos + 1], out[pos + 2] = 97, 110, 100
                            ends[word] = pos + 3
                        pos += 3
                        word += 1
                    elif what == HASH:
                        if write:
                            out[pos] = 35
                            ends[word] = pos + 1
                        pos += 1
                        word += 1
                    start = pos
                    run = 0
            else:
                c = min(c, rep_start.size - 1)
                s, e = rep_start[c], rep_end[c]
                if s < 0:
                    pass  # combining marks and apostrophes vanish
                elif e == s:
                    if pos > start:
                        if write:
                            ends[word] = pos
                        word += 1
                    start = pos
                    run = 0
                else:
                    for k in range(s, e):
                        if write:
                            out[pos] = rep_bytes[k]
                        pos += 1
                    run += 1
            i = after
        if pos > start:
            if write:
                ends[word] = pos
            word += 1
        if not write:
            n_bytes[t] = pos - first_pos
            n_words[t] = word - first_word


@inner("uint64(uint8[::1], int64, int64)")
def sound_hash(data, start, end):
    """Key of how a word sounds, across English, Spanish, German, French and Slavic spelling.

    Consonants in broad classes after the first sound, vowels and doubled sounds dropped; sch, sh, cz, ch, tz
    count as one sibilant, ph as f, qu/ck/x/hard c/g as k, v/w as f. Our own code, in the manner of Russell 1918 and
    Daitch-Mokotoff 1985.
    """
    h = np.uint64(0xCBF29CE484222325)
    prev = 0
    i = start
    count = 0
    while i < end and count < 6:
        c = data[i]
        nxt = data[i + 1] if i + 1 < end else 0
        code = 0
        if c == 112 and nxt == 104:
            code, i = 102, i + 1
        elif c == 115 and (nxt == 99 or nxt == 122 or nxt == 104):
            code, i = 115, i + 1
        elif (c == 99 or c == 116) and (nxt == 122 or nxt == 104 or nxt == 115):
            code = 115 if c == 99 or nxt != 104 else 116
            i += 1
        elif c == 99:
            code = 115 if nxt == 101 or nxt == 105 or nxt == 121 else 107
        elif c == 107 or c == 113 or c == 103:
            code = 107
        elif c == 120:
            h = (h ^ np.uint64(107)) * np.uint64(0x100000001B3) if prev != 107 else h
            code = 115
        elif c == 98 or c == 112:
            code = 98
        elif c == 100 or c == 116:
            code = 116
        elif c == 102 or c == 118:
            code = 102
        elif c == 119:
            code = 102 if i == start else 0
        elif c == 115 or c == 122 or c == 106:
            code = 115
            if c == 106:
                code = 106 if i == start else 0
        elif c == 109 or c == 110:
            code = 110
        elif c == 108 or c == 114:
            code = c
        elif 48 <= c <= 57:
            code = c
        elif i == start:
            code = 97
        if code != 0 and code != prev:
            h = (h ^ np.uint64(code)) * np.uint64(0x100000001B3)
            count += 1
        prev = code
        i += 1
    if count == 0:
        return np.uint64(0)
    h ^= h >> np.uint64(29)
    h *= np.uint64(0x94D049BB133111EB)
    h ^= h >> np.uint64(31)
    return h if h != np.uint64(0) else np.uint64(1)


@compiled("void(int64[::1], uint8[::1], uint64[::1])")
def sound_hashes(offsets, data, out):
    """`sound_hash` of each word into out (uint64)."""
    for i in range(out.size):
        out[i] = sound_hash(data, offsets[i], offsets[i + 1])


@compiled("void(int64[::1], uint8[::1], uint32[::1])")
def letter_masks(offsets, data, out):
    """Which letters (bits 0 to 25) and whether any digit (bit 26) each word holds, into out (uint32).

    Two words one edit apart differ in at most two letters: a mask tells quickly which need no comparing.
    """
    for t in range(out.size):
        mask = np.uint32(0)
        for i in range(offsets[t], offsets[t + 1]):
            c = data[i]
            mask |= np.uint32(1) << np.uint32(c - 97 if 97 <= c <= 122 else 26)
        out[t] = mask


@inner("int64(int32[::1], int64, int64, int64[::1], uint8[::1], uint8[::1], boolean)")
def run_together(ids, start, end, voc_off, voc, buf, initials):
    """Words run together (or their initials) into buf; the length."""
    n = 0
    for k in range(start, end):
        a, b = voc_off[ids[k]], voc_off[ids[k] + 1]
        if initials:
            b = min(b, a + 1)
        for i in range(a, b):
            if n < buf.size:
                buf[n] = voc[i]
                n += 1
    return n


@compiled("void(uint8[::1], int64[::1])")
def survey(data, found):
    """Add to found what a block of a file holds: NUL bytes, line feeds, quotes, signs of text encoded twice, what is no UTF-8."""
    nulls = lines = quotes = high = 0
    for c in data:
        nulls += c == 0
        lines += c == 10
        quotes += c == 34
        high += c >= 0x80
    twice = wrong = 0
    if high:
        i, n = 0, data.size
        while i < 3 and data[i] & 0xC0 == 0x80:  # the rest of a letter that began in the block before
            i += 1
        while i < n:
            a = data[i]
            i += 1
            if a < 0x80:
                continue
            more = 1 if 0xC2 <= a < 0xE0 else 2 if 0xE0 <= a < 0xF0 else 3 if 0xF0 <= a < 0xF5 else 0
            if i + more > n:
                break  # goes on in the next block
            b = data[i] if more else 0
            if (
                more == 0
                or (a == 0xE0 and b < 0xA0)
                or (a == 0xED and b > 0x9F)
                or (a == 0xF0 and b < 0x90)
                or (a == 0xF4 and b > 0x8F)
            ):
                wrong += 1
                continue
            for k in range(i, i + more):
                wrong += data[k] & 0xC0 != 0x80
            twice += (a == 0xC3 and (b == 0x83 or (b == 0xA2 and i + 1 < n and data[i + 1] == 0xE2))) or (a == 0xEF and b == 0xBF)
            i += more
    found[0] += nulls
    found[1] += lines
    found[2] += quotes
    found[3] += twice
    found[4] += wrong
