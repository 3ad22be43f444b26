"""Parsing personal names over word ids: which words are given names, which the family's, which a suffix."""

from __future__ import annotations

from brujula.core.kernels.compiled import compiled, inner

# Word classes, given by the kind's tables.
NAME, TITLE, CREDENTIAL, PARTICLE, CONNECTOR, MAYBE_TITLE, GIVEN = range(7)
GENERATION = 10  # 10 + n: Jr. = 11, Sr. = 12, II = 13 (as Jr.), III = 14 ...

MAX_WORDS = 16


@inner("UniTuple(int64, 2)(int32[::1], int64, int64, int32[::1], int64[::1], int32[::1], int64, int64, int64, int64, boolean)")
def _take(ids, start, end, cls, voc_off, words, n, lead, least, suffix, given):
    """Append the name words of ids[start:end]; titles in front and credentials behind go, a generation is kept apart.

    lead  : name words before these
    least : as many there must be before a credential, VI or Neto, and behind Don: Jack Ma is no master of arts, Kim Vi not the sixth, Don Prado no don
    given : whether the given name is among these; a family name is no title (Rob, Pastor Jr.)
    """
    real, before = lead, n - lead
    for k in range(start, end):
        c = cls[ids[k]]
        if c == CONNECTOR:
            continue
        if c == TITLE and real == 0 and end - start > 1:
            continue
        if c == MAYBE_TITLE and given and real == 0 and end - k > least and voc_off[ids[k + 1] + 1] - voc_off[ids[k + 1]] > 1:
            continue
        enough = real > 0 and n - before >= least
        if enough and c == CREDENTIAL:
            continue
        if (enough if c >= GENERATION + 6 else real > 0) and c >= GENERATION:
            suffix = c - GENERATION
            continue
        if n < MAX_WORDS:
            words[n] = ids[k]
            n += 1
            if c != PARTICLE:
                real += 1
    return n, suffix


@inner("boolean(int32[::1], int64, int64, int32[::1])")
def _titles_only(ids, start, end, cls):
    """Whether the words ids[start:end] are titles and nothing else."""
    for k in range(start, end):
        if cls[ids[k]] != TITLE:
            return False
    return end > start


@compiled(
    "void(int64[::1], int32[::1], int32[::1], int64[::1], int32[:, ::1], int64[::1], int32[::1], int32[::1], int8[::1], int32[::1], boolean)"
)
def parse_names(offsets, ids, cls, voc_off, codes, out_off, out_ids, n_given, suffix, words, write):
    """Split each record's name into given and family words.

    offsets, ids : words of all distinct values
    codes        : int32[n, 5]: given, middle, family, suffix, full name; index of the text, -1 blank
    out_off      : int64[n + 1]: filled with counts when write is False, read as offsets when True
    out_ids, n_given, suffix : words of each record (given first), how many are given, generation (0 none)
    words        : int32[MAX_WORDS] scratch
    """
    for r in range(codes.shape[0]):
        n, gen = 0, 0
        g, m, f, x, u = codes[r, 0], codes[r, 1], codes[r, 2], codes[r, 3], codes[r, 4]
        if x >= 0:
            for k in range(offsets[x], offsets[x + 1]):
                if cls[ids[k]] >= GENERATION:
                    gen = cls[ids[k]] - GENERATION
        if g >= 0 and _titles_only(ids, offsets[g], offsets[g + 1], cls):
            g = -1  # Ms and Quist, Dr. and Ada Quist
        whole = -1
        if g < 0 and f < 0:
            whole = u
        elif f < 0 and g >= 0 and m < 0 and offsets[g + 1] - offsets[g] > 1:
            whole = g
        elif g < 0 and f >= 0 and offsets[f + 1] - offsets[f] > 1:
            whole = f
        if whole >= 0:
            n, gen = _take(ids, offsets[whole], offsets[whole + 1], cls, voc_off, words, n, 0, 2, gen, True)
            k = n - 1
            while k > 1 and cls[words[k - 1]] == PARTICLE:
                k -= 1
            given = max(k, 0)
        else:
            if g >= 0:
                n, gen = _take(ids, offsets[g], offsets[g + 1], cls, voc_off, words, n, 0, 1, gen, True)
            if m >= 0:
                n, gen = _take(ids, offsets[m], offsets[m + 1], cls, voc_off, words, n, 1, 1, gen, True)
            given = n
            if f >= 0:
                n, gen = _take(ids, offsets[f], offsets[f + 1], cls, voc_off, words, n, 0, 1, gen, False)
        if write:
            for k in range(n):
                out_ids[out_off[r] + k] = words[k]
            n_given[r] = given
            suffix[r] = gen
        else:
            out_off[r] = n


@compiled("void(int64[::1], int32[::1], int32[::1], boolean[::1], int64[::1], int64[::1])")
def count_words(off, ids, n_given, counting, given_counts, family_counts):
    """How many of the records that count carry each word as first given word, and as a family word."""
    for r in range(counting.size):
        if not counting[r]:
            continue
        if n_given[r] > 0:
            given_counts[ids[off[r]]] += 1
        for k in range(off[r] + n_given[r], off[r + 1]):
            family_counts[ids[k]] += 1


@compiled("void(int32[::1], int64[::1], int32[::1], int32[::1], int32[::1], int32[::1], int32[::1], int32[::1])")
def first_words(entries, off, ids, n_given, cls, given, family, last):
    """First given word, first and last family word (particles passed over) of each entry chosen; -1 if none."""
    for i in range(entries.size):
        r = entries[i]
        g = off[r] + n_given[r]
        given[i] = ids[off[r]] if n_given[r] > 0 else -1
        family[i], last[i] = -1, -1
        for k in range(g, off[r + 1]):
            if cls[ids[k]] != PARTICLE or off[r + 1] - g == 1:
                if family[i] < 0:
                    family[i] = ids[k]
                last[i] = ids[k]


@compiled("void(int32[::1], int64[::1], int32[::1], int32[::1], int32[::1], int32[:, ::1])")
def two_families(records, off, n_given, ids, cls, out):
    """The two family names of each record, particles passed over (Prado y Lind); -1, -1 = it has not just two. out : int32[n_records, 2]"""
    for p in range(records.size):
        r, n = records[p], 0
        out[p, 0] = out[p, 1] = -1
        for k in range(off[r] + n_given[r], off[r + 1]):
            if cls[ids[k]] != PARTICLE:
                if n < 2:
                    out[p, n] = ids[k]
                n += 1
        if n != 2:
            out[p, 0] = out[p, 1] = -1
