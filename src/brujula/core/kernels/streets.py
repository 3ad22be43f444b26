"""Taking street lines apart."""

from __future__ import annotations

import numpy as np

from brujula.core.kernels.compiled import compiled, inner
from brujula.core.kernels.words import MAX_WORDS

STREET_WORD, UNIT_MARKER, NUMERAL, TYPE, ARTICLE, NUMBER_MARK = 0, 1, 2, 3, 4, 5


@inner("boolean(int32[::1], int32[::1], int64, int64)")
def _numbered_street(ids, cls, start, end):
    """Whether a street's word and a numeral begin the words ids[start:end] and the house is told behind them: Calle 5 No. 12."""
    if end - start < 4 or cls[ids[start]] != TYPE or cls[ids[start + 1]] != NUMERAL:
        return False
    for k in range(start + 2, end - 1):
        if cls[ids[k]] == NUMBER_MARK and cls[ids[k + 1]] == NUMERAL:
            return True
    return False


@compiled(
    "void(int64[::1], int32[::1], int32[::1], uint64[::1], uint64[::1], uint64[::1], uint64[::1], int64[::1], int32[::1], boolean)"
)
def parse_streets(offsets, ids, cls, hashes, as_unit, number, unit, out_off, out_ids, write):
    """House number, unit and name words of each text.

    A word that may be a unit is one behind a unit marker (suite, apt); before any other word the marker is the street's: Flat Rock Road. Of
    other numerals the first is the house number and a later one the unit; one behind a mark of numbers (no, #) is the unit beside another
    house number, before it or behind, else the house number. In Calle 5 No. 12 the first is the street's. Articles go where a name word
    is left. At most MAX_WORDS name words are kept.

    as_unit : uint64 hash of a vocabulary word's unit, 0 = no unit is called so
    number, unit : uint64 hash of the word, 0 = none
    """
    for t in range(offsets.size - 1):
        number[t], unit[t] = 0, 0
        start, end = offsets[t], offsets[t + 1]
        n, behind, told, told_at = 0, STREET_WORD, np.uint64(0), start - 2
        named = False
        for k in range(start, end):
            named = named or cls[ids[k]] == STREET_WORD
        numbered = _numbered_street(ids, cls, start, end)
        for k in range(start, end):
            w = ids[k]
            c = cls[w]
            marks = c == NUMBER_MARK or (
                c == UNIT_MARKER
                and (k + 1 == end or as_unit[ids[k + 1]] != 0 or cls[ids[k + 1]] == NUMBER_MARK or cls[ids[k + 1]] == UNIT_MARKER)
            )
            if marks:
                behind = UNIT_MARKER if behind == UNIT_MARKER else c
                continue
            if behind == UNIT_MARKER and as_unit[w] != 0:
                unit[t] = as_unit[w]
            elif c == NUMERAL and not (numbered and k == start + 1):
                first = number[t] == 0 and (
                    told == 0 or (k == told_at + 1 and not numbered and k + 1 < end and cls[ids[k + 1]] == STREET_WORD)
                )
                if behind == NUMBER_MARK and told == 0:
                    told, told_at = hashes[w], k
                elif first:
                    number[t] = hashes[w]
                elif unit[t] == 0:
                    unit[t] = hashes[w]
            elif n < MAX_WORDS and not (named and c == ARTICLE):
                if write:
                    out_ids[out_off[t] + n] = w
                n += 1
            behind = STREET_WORD
        if number[t] == 0:
            number[t] = told
        elif unit[t] == 0:
            unit[t] = told
        if not write:
            out_off[t + 1] = n
