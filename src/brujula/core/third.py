"""Links that a third makes doubtful: what two who are one know of a member together counts, not what the one says that says least."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from brujula.core import weigh
from brujula.core.arrays import DIFFERENT, SAME, Graded, Judged, Pairs


def doubtful(
    inside: Judged, saying: NDArray[np.int32], model: weigh.Model, same_from: float, silence: float
) -> tuple[NDArray[np.int64], NDArray[np.float64]]:
    """The links by evidence that do not hold once a third is asked, and the probability that is left of each.

    inside  : the pairs of members of one group;  same_from : probability from which a pair is one
    saying  : int32[n_records], a number of what each says: those who say the same are one to the others
    silence : bits that a pair gains by no rule speaking on it (`judge.silence`)

    Two records hardly one (another website) may both be like a row that leaves the website out. The row and the one it is more
    like are one, and what they say of the other together is what the better informed of the two says: where both say something
    the better agreement of the two counts, for people and firms have more than one phone. What rules hold open they hold of the
    two alone, and a third may settle it (one mailbox in common): evidence decides.
    """
    left, right = saying.take(inside.graded.pairs.left), saying.take(inside.graded.pairs.right)
    pair = np.minimum(left, right).astype(np.int64) << 32 | np.maximum(left, right)
    # Of copies a rule may speak on some: one on which none does stands for all, whatever their order.
    order = np.lexsort((inside.rule, -inside.verdict, pair))
    _, at_first, number = np.unique(pair[order], return_index=True, return_inverse=True)
    one_of, number = order[at_first], number[np.argsort(order, kind="stable")]
    once = inside.take(one_of)
    total, at = np.round(once.total, 6), inside.graded.pairs.take(one_of)
    verdict = np.where(left[one_of] == right[one_of], DIFFERENT, once.verdict).astype(np.int8)  # with itself nobody is compared
    first, second, unlike = triangles(Pairs(left[one_of], right[one_of], at.passes), verdict)
    # The stronger link is made first; of two as strong both may be the later one.
    later = np.concatenate(
        [np.where(total[first] <= total[second], first, -1), np.where(total[second] <= total[first], second, -1)]
    )
    asked = np.flatnonzero((later >= 0) & (once.rule.take(later) < 0))
    later, other = later[asked], np.concatenate([unlike, unlike])[asked]
    p = weigh.probability(model, weigh.evidence(model, _better(once, later, other))[1] + silence)
    less = np.flatnonzero(p < same_from)
    rest = np.ones(len(one_of))
    np.minimum.at(rest, later[less], p[less])
    links = np.flatnonzero((rest[number] < 1.0) & (inside.verdict == SAME) & (inside.rule < 0))
    return links, rest[number[links]]


def triangles(pairs: Pairs, verdict: NDArray[np.int8]) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.int64]]:
    """Every two links that have a member in common and whose other two are a pair that is neither the same nor different: the links, and that pair."""
    size = int(max(pairs.left.max(initial=-1), pairs.right.max(initial=-1))) + 1

    def key(a: NDArray[np.int32], b: NDArray[np.int32]) -> NDArray[np.int64]:
        return np.minimum(a, b).astype(np.int64) * size + np.maximum(a, b)

    same, unlike = np.flatnonzero(verdict == SAME), np.flatnonzero((verdict != SAME) & (verdict != DIFFERENT))
    ends = np.concatenate([pairs.left[same], pairs.right[same]]), np.concatenate([pairs.right[same], pairs.left[same]])
    order = np.argsort(ends[0], kind="stable")
    start, end, link = ends[0][order], ends[1][order], np.concatenate([same, same])[order]
    low, high = (np.searchsorted(start, pairs.left[unlike], side) for side in ("left", "right"))
    counts = high - low
    at = np.repeat(low, counts) + np.arange(counts.sum()) - np.repeat(np.cumsum(counts) - counts, counts)
    open_pair, first = np.repeat(unlike, counts), link[at]
    wanted, known = key(end[at], pairs.right[open_pair]), key(pairs.left[same], pairs.right[same])
    by_key = np.argsort(known, kind="stable")
    place = np.searchsorted(known[by_key], wanted)
    hit = np.flatnonzero(np.append(known[by_key], -1)[place] == wanted)
    return first[hit], same[by_key[place[hit]]], open_pair[hit]


def _better(inside: Judged, a: NDArray[np.int64], b: NDArray[np.int64]) -> Graded:
    """Per comparison the pair of the two that says more for the two: that which is not blank, or the better agreement."""
    graded, bits = inside.graded, inside.bits
    levels, others = graded.levels[a], graded.levels[b]
    swap = (others >= 0) & ((levels < 0) | (bits[b] > bits[a]))
    common = np.where(swap, graded.common[b], graded.common[a])
    return Graded(graded.pairs.take(a), graded.comparisons, np.where(swap, others, levels), common)
