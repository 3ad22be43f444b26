"""Taking street lines apart."""

from __future__ import annotations

from brujula.core.kernels.compiled import compiled
from brujula.core.kernels.words import MAX_WORDS

STREET_WORD, UNIT_MARKER, NUMERAL, TYPE, ARTICLE = 0, 1, 2, 3, 4


@compiled("void(int64[::1], int32[::1], int32[::1], uint64[::1], uint64[::1], uint64[::1], int64[::1], int32[::1], boolean)")
def parse_streets(offsets, ids, cls, hashes, number, unit, out_off, out_ids, write):
    """House number, unit and name words of each text.

    A numeral behind a unit marker (suite, apt, #) is the unit; of the others the first is the house number
    and a later one the unit. Articles go where a name word is left. At most MAX_WORDS name words are kept. number, unit : uint64 hash of the word, 0 = none.
    """
    for t in range(offsets.size - 1):
        number[t], unit[t] = 0, 0
        n = 0
        marked, named = False, False
        for k in range(offsets[t], offsets[t + 1]):
            named = named or cls[ids[k]] == STREET_WORD
        for k in range(offsets[t], offsets[t + 1]):
            w = ids[k]
            if cls[w] == UNIT_MARKER:
                marked = True
            elif marked:
                unit[t] = hashes[w]
                marked = False
            elif cls[w] == NUMERAL:
                if number[t] == 0:
                    number[t] = hashes[w]
                elif unit[t] == 0:
                    unit[t] = hashes[w]
            elif n < MAX_WORDS and not (named and cls[w] == ARTICLE):
                if write:
                    out_ids[out_off[t] + n] = w
                n += 1
        if not write:
            out_off[t + 1] = n
