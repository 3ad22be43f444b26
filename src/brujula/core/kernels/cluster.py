"""Union of records pair by pair, never across a verdict of different."""

from __future__ import annotations

from brujula.core.kernels.compiled import compiled


@compiled("int64(int32[::1], int64)")
def find(parent, i):
    """Root of i, with path halving."""
    while parent[i] != i:
        parent[i] = parent[parent[i]]
        i = parent[i]
    return i


@compiled("int64(int32[::1], int32[::1], int32[::1], int32[::1], int64, int32[:, ::1], int32[:, ::1], int32[::1], boolean[::1])")
def unite(left, right, apart_left, apart_right, most, held, foes, parent, refused):
    """Join left[i] and right[i] in the order given, unless their groups hold a pair of (apart_left, apart_right) or would exceed `most`.

    held    : int32[4, n], the first row how much each record counts towards `most`, the others scratch; foes : int32[2, 2 * n_apart] scratch
    parent  : int32[n], filled; parent[r] leads to the group's root
    refused : bool[n_links], links not followed
    Each group keeps its list of foes, the smaller list being appended to the larger: O(links * log).
    Returns the number of links refused.
    """
    size, n_foes, head, tail = held[0], held[1], held[2], held[3]
    foe, nxt = foes[0], foes[1]
    for i in range(parent.size):
        parent[i] = i
        n_foes[i], head[i], tail[i] = 0, -1, -1
    for i in range(apart_left.size):
        for side in range(2):
            a = apart_left[i] if side == 0 else apart_right[i]
            b = apart_right[i] if side == 0 else apart_left[i]
            e = 2 * i + side
            foe[e], nxt[e] = b, -1
            if head[a] < 0:
                head[a] = tail[a] = e
            else:
                nxt[tail[a]] = e
                tail[a] = e
            n_foes[a] += 1
    count = 0
    for i in range(left.size):
        a, b = find(parent, left[i]), find(parent, right[i])
        refused[i] = False
        if a == b:
            continue
        if n_foes[a] > n_foes[b]:
            a, b = b, a
        hostile = size[a] + size[b] > most
        e = head[a]
        while e >= 0 and not hostile:
            hostile = find(parent, foe[e]) == b
            e = nxt[e]
        if hostile:
            refused[i] = True
            count += 1
            continue
        parent[a] = b
        size[b] += size[a]
        n_foes[b] += n_foes[a]
        if head[a] >= 0:
            if head[b] < 0:
                head[b], tail[b] = head[a], tail[a]
            else:
                nxt[tail[b]] = head[a]
                tail[b] = tail[a]
    return count
