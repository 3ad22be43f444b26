"""Choosing values among the members of an action."""

from __future__ import annotations

from brujula.core.kernels.compiled import compiled


@compiled("void(int64[::1], int32[::1], int32[::1], int32[::1])")
def first_filled(off, members, codes, out):
    """Per action, the position in `members` of its first member with a value; -1 if none."""
    for a in range(off.size - 1):
        out[a] = -1
        for k in range(off[a], off[a + 1]):
            if codes[members[k]] >= 0:
                out[a] = k
                break


@compiled("void(int64[::1], int32[::1], int32[:, ::1], boolean[::1], boolean[::1], int32[::1])")
def block_source(off, members, parts, open_part, agrees, out):
    """Per action, the position in `members` of the one member a block is completed from; -1 if none.

    parts     : int32[n_parts, n_records], codes of the block's fields
    open_part : bool[n_parts], parts that may be filled when the first member has the block at all
    agrees    : bool[members], the member's block does not contradict the first member's
    An empty block is taken whole from the first member that has one.
    """
    for a in range(off.size - 1):
        out[a] = -1
        base = members[off[a]]
        empty = True
        for p in range(parts.shape[0]):
            if parts[p, base] >= 0:
                empty = False
        for k in range(off[a] + 1, off[a + 1]):
            m = members[k]
            useful = False
            for p in range(parts.shape[0]):
                if parts[p, base] < 0 and parts[p, m] >= 0 and (empty or open_part[p]):
                    useful = True
            if useful and (empty or agrees[k]):
                out[a] = k
                break
