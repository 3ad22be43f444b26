"""Grouping records by key and collecting each row's candidates."""

from __future__ import annotations

import numpy as np

from brujula.core.kernels.compiled import compiled
from brujula.core.kernels.hashing import mix

MOST_BITS = 24
"""What a key is worth at most."""


@compiled("int64(uint64[::1], boolean[::1], int32[::1], uint64[::1], int32[::1])")
def number_keys(keys, probe, group, slot_key, slot_group):
    """Number the keys that occur among the probing entries; group[i] = number of entry i's key, -1 if none probes for it.

    probe                : bool, false where the key is 0, which is no key
    slot_key, slot_group : scratch, slot_key zeros; a power of two, at least twice as many as probe
    Returns how many groups there are. Open addressing, linear probing.
    """
    n = keys.size
    mask = np.uint64(slot_key.size - 1)
    found = 0
    for i in range(n):
        if probe[i]:
            k = keys[i]
            s = mix(k) & mask
            while slot_key[s] != 0 and slot_key[s] != k:
                s = (s + np.uint64(1)) & mask
            if slot_key[s] == 0:
                slot_key[s] = k
                slot_group[s] = found
                found += 1
    for i in range(n):
        group[i] = -1
        k = keys[i]
        if k == 0:
            continue
        s = mix(k) & mask
        while slot_key[s] != 0 and slot_key[s] != k:
            s = (s + np.uint64(1)) & mask
        if slot_key[s] == k:
            group[i] = slot_group[s]
    return found


@compiled("void(int32[::1], int64[::1], int32[::1])")
def list_members(group, at, members):
    """Entries of each group in order, those of group g from members[at[g]] on; at[g] moves behind them."""
    for i in range(group.size):
        g = group[i]
        if g >= 0:
            members[at[g]] = i
            at[g] += 1


@compiled("void(int32[:, ::1], int64, int64[:, ::1])")
def count_sides(group, n_existing, sizes):
    """Add to sizes[g, 0] and sizes[g, 1] how many entries of existing records and of incoming rows group g has."""
    for d in range(group.shape[0]):
        for i in range(group.shape[1]):
            if group[d, i] >= 0:
                sizes[group[d, i], 1 if i >= n_existing else 0] += 1


@compiled(
    "int64(int32[::1], int64, int64[::1], int64[::1], int32[:, ::1], int64[::1], int32[::1], int64[::1], int32[::1], int64, int64, "
    "int32[::1], int32[::1], int32[::1], int32[::1], uint64[::1], int32[::1], int64[::1], int64[::1])"
)
def collect(
    rows,
    n_existing,
    pass_of,
    first_group,
    places,
    starts,
    members,
    whole,
    entry,
    window,
    cap,
    stamp,
    slot,
    left,
    right,
    mask,
    score,
    left_out,
    counts,
):
    """Candidates of each probing record, each once, with the passes that found it.

    rows         : ranks of the probing records (rank: existing records first, each part ordered by content)
    pass_of      : pass number of each key column
    first_group  : what to add to a column's numbers for the number of the group
    places       : int32[n_columns, n_ranks], number within the pass of the group each rank belongs to by that column, or -1
    starts, members : members of group g, by rank, are members[starts[g] : starts[g + 1]]
    whole        : the group that holds the existing records of group g: g itself, or the one that g is a part of (rows only)
    entry        : per rank, a number from what is compared of it: where in an oversized group of existing records its window begins
    window       : most members a row takes from one group on either side; the rest is counted in left_out per pass
    cap          : most candidates a row keeps; those that share most, and the rarest keys, stay, the rest is counted at the end of left_out
    stamp, slot  : int32[n_ranks] scratch, stamp filled with -1
    score        : int32 scratch, as long as left: bits that the shared keys are worth together
    counts       : int64[n_columns * MOST_BITS + 1] scratch
    Returns the number of pairs written to left, right (ranks) and mask; -1 when they have no room for all.
    """
    n = 0
    for at in range(rows.size):
        r = rows[at]
        first = n
        for c in range(places.shape[0]):
            if places[c, r] < 0:
                continue
            g = first_group[c] + places[c, r]
            start, end = starts[whole[g]], starts[whole[g] + 1]
            bit = np.uint64(1) << np.uint64(pass_of[c])
            # Members stand in rank order: existing records, then incoming ones.
            low, high = start, end
            while low < high:
                mid = (low + high) // 2
                if members[mid] < n_existing:
                    low = mid + 1
                else:
                    high = mid
            split = low
            first_row = split if whole[g] == g else starts[g]
            low, high = first_row, starts[g + 1]
            while low < high:
                mid = (low + high) // 2
                if members[mid] < r:
                    low = mid + 1
                else:
                    high = mid
            before = low
            existing = split - start
            worth = MOST_BITS  # bits of a key that nobody else has; one less each time twice as many share it
            shared = existing + before - first_row
            while shared > 1 and worth > 1:
                shared >>= 1
                worth -= 1
            skip = 0
            if existing > window:
                skip = (np.int64(entry[r]) & 0x7FFFFFFF) % existing
                left_out[pass_of[c]] += existing - window
                existing = window
            for k in range(existing + min(before - first_row, window)):
                if k < existing:
                    o = members[start + (skip + k) % (split - start)]
                else:
                    o = members[before - 1 - (k - existing)]
                if o == r:
                    continue
                if stamp[o] == r:
                    if not mask[slot[o]] & bit:
                        score[slot[o]] += worth
                    mask[slot[o]] |= bit
                    continue
                if n >= left.size:
                    return -1
                stamp[o] = r
                slot[o] = n
                left[n], right[n], mask[n], score[n] = r, o, bit, worth
                n += 1
            if before - first_row > window:
                left_out[pass_of[c]] += before - first_row - window
        if n - first > cap:
            # Among equals those stay that were found first.
            counts[:] = 0
            for k in range(first, n):
                counts[score[k]] += 1
            floor, room = counts.size - 1, cap
            while floor > 0 and counts[floor] <= room:
                room -= counts[floor]
                floor -= 1
            w = first
            for k in range(first, n):
                if score[k] > floor or (score[k] == floor and room > 0):
                    room -= score[k] == floor
                    left[w], right[w], mask[w] = left[k], right[k], mask[k]
                    w += 1
                else:
                    left_out[left_out.size - 1] += 1
            n = w
    return n
