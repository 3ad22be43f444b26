"""Grouping records by key and collecting each row's candidates."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import types
from numpy.typing import NDArray

from brujula.core.kernels.compiled import Table, compiled, inner, record_type
from brujula.core.kernels.hashing import mix

MOST_BITS = 24
"""What a key is worth at most."""
RARE = 3
"""Others that have a rare key, at most."""


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


class Blocks(NamedTuple):
    """Records grouped by key. A record's rank: existing records first, each part ordered by content.

    n_existing   : how many records exist
    pass_of      : pass number of each key column
    first_group  : what to add to a column's numbers for the number of the group
    places       : int32[n_columns, n_ranks], number within the pass of the group each rank belongs to by that column, or -1
    starts, members : members of group g, by rank, are members[starts[g] : starts[g + 1]]
    whole        : the group that holds the existing records of group g: g itself, or the one that g is a part of (rows only)
    entry        : per rank, a number from what is compared of it: where in an oversized group of existing records its window begins
    window       : most members a row takes from one group on either side
    cap          : most candidates a row keeps: those that share a rare key, then those that share most, and the rarest ones
    """

    n_existing: int
    pass_of: NDArray[np.int64]
    first_group: NDArray[np.int64]
    places: Table[np.int32]
    starts: NDArray[np.int64]
    members: NDArray[np.int32]
    whole: NDArray[np.int64]
    entry: NDArray[np.int32]
    window: int
    cap: int


class Room(NamedTuple):
    """Where candidates are collected.

    left, right, mask : the pairs, by rank, and the passes that found each;  score : bits that the shared keys are worth together
    stamp, slot  : per rank, scratch; stamp filled with -1
    left_out     : added to, per pass: how many a window left out, and at its end those that went beyond the cap
    counts       : int64[2 * n_columns * MOST_BITS + 1] scratch
    """

    left: NDArray[np.int32]
    right: NDArray[np.int32]
    mask: NDArray[np.uint64]
    score: NDArray[np.int32]
    stamp: NDArray[np.int32]
    slot: NDArray[np.int32]
    left_out: NDArray[np.int64]
    counts: NDArray[np.int64]


_INT, _ROOM = types.int64, record_type(Room)


@inner("int64(int32[::1], int64, int64, int64)")
def _first_from(members, low, high, rank):
    """Where in members[low:high], which stand in rank order, those of this rank and above begin."""
    while low < high:
        mid = (low + high) // 2
        if members[mid] < rank:
            low = mid + 1
        else:
            high = mid
    return low


@inner(_INT(_ROOM, _INT, _INT, _INT))
def _best_of(room, first, n, cap):
    """Keep the best of the pairs [first:n], in their order; returns where they end. Among equals those stay that were found first."""
    left, right, mask, score, counts = room.left, room.right, room.mask, room.score, room.counts
    counts[:] = 0
    for k in range(first, n):
        counts[score[k]] += 1
    floor, left_over = counts.size - 1, cap
    while floor > 0 and counts[floor] <= left_over:
        left_over -= counts[floor]
        floor -= 1
    w = first
    for k in range(first, n):
        if score[k] > floor or (score[k] == floor and left_over > 0):
            left_over -= score[k] == floor
            left[w], right[w], mask[w] = left[k], right[k], mask[k]
            w += 1
    room.left_out[room.left_out.size - 1] += n - w
    return w


@compiled(_INT(types.int32[::1], record_type(Blocks), _ROOM))
def collect(rows, blocks, room):
    """Candidates of each probing record (rows : their ranks), each once, with the passes that found it.

    Returns the number of pairs written to room.left, right and mask; -1 when they have no room for all.
    """
    places, first_group, starts, members, whole = blocks.places, blocks.first_group, blocks.starts, blocks.members, blocks.whole
    left, right, mask, score, stamp, slot = room.left, room.right, room.mask, room.score, room.stamp, room.slot
    left_out, window, cap = room.left_out, blocks.window, blocks.cap
    # What shares a rare key comes before all that share common ones, which say the same again and again in a list of one firm.
    rare = places.shape[0] * MOST_BITS
    n = 0
    for at in range(rows.size):
        r = rows[at]
        first = n
        for c in range(places.shape[0]):
            if places[c, r] < 0:
                continue
            g = first_group[c] + places[c, r]
            start, end = starts[whole[g]], starts[whole[g] + 1]
            bit = np.uint64(1) << np.uint64(blocks.pass_of[c])
            # Members stand in rank order: existing records, then incoming ones.
            split = _first_from(members, start, end, blocks.n_existing)
            first_row = split if whole[g] == g else starts[g]
            before = _first_from(members, first_row, starts[g + 1], r)
            existing = split - start
            worth = MOST_BITS  # bits of a key that nobody else has; one less each time twice as many share it
            shared = existing + before - first_row
            few = shared <= RARE
            while shared > 1 and worth > 1:
                shared >>= 1
                worth -= 1
            skip = 0
            if existing > window:
                skip = (np.int64(blocks.entry[r]) & 0x7FFFFFFF) % existing
                left_out[blocks.pass_of[c]] += existing - window
                existing = window
            for k in range(existing + min(before - first_row, window)):
                if k < existing:
                    o = members[start + (skip + k) % (split - start)]
                else:
                    o = members[before - 1 - (k - existing)]
                if o == r:
                    continue
                if stamp[o] == r:
                    score[slot[o]] += worth
                    if few and score[slot[o]] < rare:
                        score[slot[o]] += rare
                    mask[slot[o]] |= bit
                    continue
                if n >= left.size:
                    return -1
                stamp[o] = r
                slot[o] = n
                left[n], right[n], mask[n], score[n] = r, o, bit, worth + (rare if few else 0)
                n += 1
            if before - first_row > window:
                left_out[blocks.pass_of[c]] += before - first_row - window
        if n - first > cap:
            n = _best_of(room, first, n, cap)
    return n
