"""Groups: records and rows taken to be one person or one organisation."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from brujula.core.arrays import DIFFERENT, SAME, Judged, Pairs, among, check_groups
from brujula.core.batch import Keys
from brujula.core.kernels import cluster as kernel

MOST, COPIES = 60, 100
"""Most members of a group; COPIES of one another count as one. Links that would make a larger group are refused and reported."""


class Groups(NamedTuple):
    """Group number per record (dense, by first member), and the pairs whose link was refused."""

    of: NDArray[np.int32]
    refused: NDArray[np.int64]


def unite(
    links: tuple[NDArray[np.int32], NDArray[np.int32]],
    apart: tuple[NDArray[np.int32], NDArray[np.int32]],
    n: int,
    most: int,
    counts: NDArray[np.int32] | None = None,
) -> tuple[NDArray[np.int32], NDArray[np.bool_]]:
    """The parent of each of n records, leading to the root of its group, and the links refused.

    Links are followed in the order given, unless the groups joined hold a pair that is apart or count more than `most` members.

    counts : int32[n], as how many members each record counts, None = one
    """
    parent, refused = np.empty(n, np.int32), np.zeros(len(links[0]), bool)
    held = np.empty((4, n), np.int32)
    held[0] = 1 if counts is None else counts
    kernel.unite(*links, *apart, most, held, np.empty((2, 2 * len(apart[0])), np.int32), parent, refused)
    return parent, refused


def roots(parent: NDArray[np.int32]) -> NDArray[np.int32]:
    """The root that each record's chain of parents leads to."""
    while not np.array_equal(up := parent[parent], parent):
        parent = up
    return parent


def group(
    judged: Judged, n_records: int, content: Keys, lone: Sequence[int] = (), counting: NDArray[np.bool_] | None = None
) -> Groups:
    """Join pairs judged same, the strongest first, never two groups with a pair judged different between them.

    lone     : numbers of rules whose pairs no third joins either
    content  : uint64[n_records], ties are broken by content, so that the order of records changes nothing
    counting : bool[n_records], of copies of a record one, None = all: the hundred orders of somebody are one to a group
    Greedy additive correlation clustering with must-not links (Bansal, Blum, Chawla 2004). O(links log links).
    """
    pairs = judged.graded.pairs
    same = np.flatnonzero(judged.verdict == SAME)
    apart = np.flatnonzero((judged.verdict == DIFFERENT) | np.isin(judged.rule, lone))
    low = np.minimum(content[pairs.left[same]], content[pairs.right[same]])
    high = np.maximum(content[pairs.left[same]], content[pairs.right[same]])
    strongest = same[np.lexsort((high, low, -np.round(judged.total[same], 6), -(judged.rule[same] >= 0).astype(np.int8)))]
    parent, refused = unite(
        (pairs.left[strongest], pairs.right[strongest]),
        (pairs.left[apart], pairs.right[apart]),
        n_records,
        MOST * COPIES,
        np.where(True if counting is None else counting, COPIES, 1).astype(np.int32),
    )
    _, first, number = np.unique(roots(parent), return_index=True, return_inverse=True)
    order = np.argsort(np.argsort(first))
    of = order[number].astype(np.int32)
    check_groups(of, n_records)
    return Groups(of, strongest[refused])


def within(groups: Groups, pairs: Pairs) -> NDArray[np.bool_]:
    """Which pairs are members of one group of three or more."""
    of = groups.of.take(pairs.left)
    return np.asarray((of == groups.of.take(pairs.right)) & (np.bincount(groups.of, minlength=1)[of] >= 3))


def unseen(groups: Groups, known: Pairs, said: Keys, content: Keys) -> Pairs:
    """Pairs of members of one group that are not among the known ones, for a chain of links brought them together.

    Of members that say the very same (said) one stands for all, the first by its content: what is true of it is true of them.
    """
    many = np.flatnonzero(np.bincount(groups.of, minlength=1)[groups.of] >= 3).astype(np.int32)
    order = many[np.lexsort((content[many], said[many], groups.of[many]))]
    of, saying = groups.of[order], said[order]
    first = np.append(True, (of[1:] != of[:-1]) | (saying[1:] != saying[:-1])) if len(order) else np.zeros(0, bool)
    order, of = order[first], of[first]
    lefts, rights = [np.zeros(0, np.int32)], [np.zeros(0, np.int32)]
    for apart in range(1, len(of)):
        same = np.flatnonzero(of[apart:] == of[:-apart])
        if not len(same):
            break
        lefts.append(np.maximum(order[same], order[same + apart]))
        rights.append(np.minimum(order[same], order[same + apart]))
    pairs = Pairs(np.concatenate(lefts), np.concatenate(rights), np.zeros(sum(map(len, lefts)), np.uint64))
    return pairs.take(~among(pairs, known.take(groups.of.take(known.left) == groups.of.take(known.right))))
