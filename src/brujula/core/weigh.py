"""Evidence: how much the grades of a pair speak for or against one person or one firm, in bits.

Fellegi and Sunter 1969. The share of random pairs at each level (u) comes from random pairs of the lists
themselves; the share of true pairs (m) is fitted by expectation maximisation (Winkler 1988) from starting values
the kinds declare. Agreement on a rare value weighs more than on a common one (Winkler 1989). What members of one
household or colleagues share is counted together up to a cap; what changes together when somebody moves or
changes jobs is counted against a pair down to a floor.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from brujula.core.arrays import Graded
from brujula.core.kernels.evidence import Weights, weigh_pairs
from brujula.core.kind import Comparison, Level
from brujula.core.steps.parallel import in_chunks

_PRIOR_TRUE = 300.0  # true pairs the starting values of m are worth
_PRIOR_RANDOM = 2_000.0  # random pairs the starting values of u are worth
_PRIOR_RECORDS = 1_500.0  # records the starting share of a value is worth: keeps small lists sane
_ROUNDS = 6
_LABEL = 3.0  # pairs of the fit a judged pair is worth
_HOLD = 4.0  # judged pairs that the calibration as it was is worth
_SCALE = 4096  # responsibilities are summed as whole numbers: the sum does not depend on the order of pairs


@dataclass(frozen=True)
class Model:
    """Fitted weights.

    comparisons : as in the graded pairs
    m, u        : per comparison float64[levels]
    typical     : per comparison float64[levels], median share of the agreed value
    prior       : log2 odds that a pair of records, taken at random, is a true one
    cap, floor  : bounds in bits of shared and of jointly changing evidence; 0 = none
    temper      : factor on the evidence for what dependence is left
    n_records   : records of both lists
    alone       : per comparison float64[levels], how many others are reckoned to bear a value that nobody else is seen to bear
    slope, shift: what judged pairs make of the odds, in bits: slope * (evidence + prior) + shift
    doubts      : what the lists or judged pairs make of the doubt of each rule; None = as the rules say
    lifts       : bits that what each rule holds gains, so that on average as much of it is one as the lists show; None = none does
    n_existing  : records that a row may be one of; they come first
    known       : bits that a pair of a row and a record of like names gains where no rule speaks, for the row is likely to be one of the
                  records, and no other is like it;  like : per comparison of the name, the least grade (`kind.GRADES`) of such
    exclusive   : kinds of which a value is one record's alone in either list, as far as they show
    """

    comparisons: tuple[Comparison, ...]
    m: tuple[NDArray[np.float64], ...]
    u: tuple[NDArray[np.float64], ...]
    typical: tuple[NDArray[np.float64], ...]
    prior: float
    n_records: int
    alone: tuple[NDArray[np.float64], ...]
    cap: float = 0.0
    floor: float = 0.0
    temper: float = 1.0
    changing: frozenset[str] = field(default_factory=frozenset)
    slope: float = 1.0
    shift: float = 0.0
    doubts: tuple[float, ...] | None = None
    lifts: tuple[float, ...] | None = None
    n_existing: int = 0
    known: float = 0.0
    like: tuple[tuple[int, int], ...] = ()
    exclusive: frozenset[str] = frozenset()


def starting(
    comparisons: tuple[Comparison, ...],
    random: Graded,
    graded: Graded,
    n_records: int,
    prior: float,
    cap: float,
    floor: float,
    temper: float,
    changing: frozenset[str],
    within: NDArray[np.bool_],
    between: Collection[str],
    namesakes: Mapping[str, float],
) -> Model:
    """The model before fitting: declared m, u from random pairs, typical shares from the candidates.

    within  : bool[n_random], pairs of one list. Of a short list and another many a pair is a true one; two of one list are two
    between : comparisons of what one list may have in common throughout, a town or a firm: their u comes from all random pairs
    namesakes : see `others_bearing`
    """
    m, u, typical = [], [], []
    for f, comparison in enumerate(comparisons):
        start_m = np.array([x.m for x in comparison.levels])
        start_u = np.array([x.u for x in comparison.levels])
        n_levels = len(start_m)
        seen = random.levels[:, f] if comparison.field in between else random.levels[within, f]
        counts = np.bincount(seen[seen >= 0], minlength=n_levels)
        u.append((counts + _PRIOR_RANDOM * start_u / start_u.sum()) / (counts.sum() + _PRIOR_RANDOM))
        others = np.array([x.others for x in comparison.levels])
        u[-1] = np.where(others > 0, others / max(n_records, 2), u[-1])
        m.append(start_m / start_m.sum())
        usual = np.zeros(n_levels)
        known = graded.common[:, f] > 0
        level_of, common = graded.levels[known, f], graded.common[known, f]
        for level in range(n_levels):
            shares = common[level_of == level]
            usual[level] = float(np.median(shares)) if len(shares) else 0.0
        typical.append(usual)
    return Model(
        comparisons,
        tuple(m),
        tuple(u),
        tuple(typical),
        prior,
        n_records,
        others_bearing(comparisons, namesakes),
        cap,
        floor,
        temper,
        changing,
    )


def others_bearing(comparisons: Sequence[Comparison], namesakes: Mapping[str, float]) -> tuple[NDArray[np.float64], ...]:
    """Per comparison and level, how many others are reckoned to bear a value that nobody else is seen to bear.

    namesakes : per comparison, how many do at most, as far as the lists show
    """

    def of(x: Level, most: float) -> float:
        return min(x.alone, most) if x.grade == "same" else x.alone

    return tuple(np.array([of(x, namesakes.get(c.field, np.inf)) for x in c.levels]) for c in comparisons)


def evidence(model: Model, graded: Graded) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Bits of each pair per comparison, float64[n_pairs, n_comparisons], and their sum after caps, float64[n_pairs].

    A level's weight is log2(m / u). For plain agreement on a value u is the value's share among the records, the two of the pair
    left out; for looser levels it is the level's own, moved by how common the value is against the usual one, in the square root.
    """
    n, width = len(graded.pairs), max((len(c.levels) for c in model.comparisons), default=1)
    bits, total = np.zeros((n, len(model.comparisons))), np.zeros(n)

    def table(rows: Sequence[Sequence[float]], kind: type = np.float64) -> NDArray[Any]:
        out: NDArray[Any] = np.ones((len(rows), width), kind)
        for f, row in enumerate(rows):
            out[f, : len(row)] = row
        return out

    def flags(name: str) -> NDArray[Any]:
        return table([[getattr(x, name) for x in c.levels] for c in model.comparisons], np.bool_)

    levels, common = np.ascontiguousarray(graded.levels), np.ascontiguousarray(graded.common)
    m, u = table([list(x) for x in model.m]), table([list(x) for x in model.u])
    weights = Weights(
        np.where(flags("silent"), u, m),
        u,
        table(
            [
                [x.u * a / x.alone for x, a in zip(c.levels, told, strict=True)]
                for c, told in zip(model.comparisons, model.alone, strict=True)
            ]
        ),
        table([list(x) for x in model.typical]),
        flags("rare") * table([list(x) for x in model.alone]),
        table([[x.grade == "same" for x in c.levels] for c in model.comparisons], np.bool_),
        flags("bounded"),
        flags("unit"),
        np.array([c.field in model.changing for c in model.comparisons], np.bool_),
        float(model.n_records),
        _PRIOR_RECORDS,
        model.cap,
        model.floor,
        model.temper,
    )
    in_chunks(lambda a, b: weigh_pairs(levels[a:b], common[a:b], weights, bits[a:b], total[a:b]), n)
    return bits, total


def probability(model: Model, total: NDArray[np.float64]) -> NDArray[np.float64]:
    """Probability of each pair from its evidence and the prior."""
    return 1.0 / (1.0 + np.exp2(-np.clip(model.slope * (total + model.prior) + model.shift, -60, 60)))


def fit(
    model: Model,
    graded: Graded,
    barred: NDArray[np.bool_],
    n_possible: float,
    made_by: NDArray[np.uint64],
    share: float = 1.0,
    labelled: Graded | None = None,
    same: NDArray[np.bool_] | None = None,
    free: NDArray[np.bool_] | None = None,
    silence: float = 0.0,
    least: float = 0.5,
) -> Model:
    """Refine m and the prior by expectation maximisation over the candidates.

    barred     : bool[n_pairs], pairs a rule calls different: they are no true pairs
    n_possible : how many pairs the lists could form
    share      : which share of all candidates these are
    made_by    : uint64[n_comparisons], the passes that use the comparison; a pair found by those alone does not count for it
    labelled, same : pairs a person has judged; each that is the same counts like _LABEL pairs the fit is sure of
    free       : those of them no rule speaks on: probabilities are fitted to these
    silence    : bits these gain by that
    least      : as many true pairs there are at least. With little but names to go by, few true pairs make names weigh too little to find
                 more of them: the rounds would run down to none
    """
    taught = labelled.take(same) if labelled is not None and same is not None else None
    counted = [
        np.flatnonzero((graded.levels[:, f] >= 0) & ((graded.pairs.passes & ~made_by[f]) > 0)) for f in range(len(made_by))
    ]
    level_of = [graded.levels[at, f] for f, at in enumerate(counted)]
    for _ in range(_ROUNDS):
        _, total = evidence(model, graded)
        p = np.where(barred, 0.0, probability(model, total))
        whole = np.rint(p * _SCALE).astype(np.int64)
        tables = []
        for f, comparison in enumerate(model.comparisons):
            n_levels = len(comparison.levels)
            sums = np.bincount(level_of[f], weights=whole[counted[f]], minlength=n_levels) / _SCALE
            if taught is not None:
                seen = taught.levels[:, f]
                sums = sums + _LABEL * np.bincount(seen[seen >= 0], minlength=n_levels)
            start = np.array([x.m for x in comparison.levels])
            start = start / start.sum()
            tables.append(
                _monotone((sums + _PRIOR_TRUE * start) / (sums.sum() + _PRIOR_TRUE), model.u[f], comparison, model.n_records)
            )
        matches = max(whole.sum() / _SCALE / share, least) + 0.5
        prior = float(np.log2(matches / max(n_possible - matches, matches)))
        model = replace(model, m=tuple(tables), prior=prior)
    if labelled is not None and same is not None and free is not None and free.any():
        model = _calibrated(model, labelled.take(free), same[free], silence)
    return model


def _calibrated(model: Model, labelled: Graded, same: NDArray[np.bool_], silence: float) -> Model:
    """The model with slope and shift fitted to judged pairs by logistic regression (Platt 1999), held near 1 and 0 while they are few."""
    x = np.clip(evidence(model, labelled)[1] + silence + model.prior, -30, 30) * np.log(2.0)
    hold = np.array([_HOLD * 10.0, _HOLD])

    design, w = np.stack([x, np.ones_like(x)], axis=1), np.array([1.0, 0.0])

    def loss(w: NDArray[np.float64]) -> float:
        z = design @ w
        return float(np.sum(np.logaddexp(0.0, np.where(same, -z, z))) + 0.5 * np.sum(hold * (w - [1.0, 0.0]) ** 2))

    for _ in range(100):  # Newton's steps, halved until they help
        p = 1.0 / (1.0 + np.exp(-np.clip(design @ w, -40, 40)))
        slope = design.T @ (p - same) + hold * (w - [1.0, 0.0])
        step = np.linalg.solve((design * (p * (1 - p))[:, None]).T @ design + np.diag(hold), slope)
        size = 1.0
        while size > 1e-6 and loss(w - size * step) > loss(w):
            size /= 2
        w = w - size * step
        if np.abs(size * step).max() < 1e-9:
            break
    return replace(model, slope=float(np.clip(w[0], 0.2, 5.0)), shift=float(w[1] / np.log(2.0)))


def _monotone(m: NDArray[np.float64], u: NDArray[np.float64], comparison: Comparison, n_records: int) -> NDArray[np.float64]:
    """m with no looser level weighing more than plain agreement on a usual value: lowered where it would, then scaled to sum to one.

    Where a list says no more than the country, true pairs agree on the country and no more: m of such a level is no less than u.
    """
    same = next(i for i, x in enumerate(comparison.levels) if x.grade == "same")
    most = m[same] / (min(u[same], 2.0 / (n_records + 2.0)) if comparison.levels[same].rare else u[same])
    out = np.where([x.grade == "same" for x in comparison.levels], m, np.minimum(m, u * most))
    out = out / out.sum()
    least = np.array([x.little for x in comparison.levels]) & (out < u)
    rest = (1.0 - u[least].sum()) / max(out[~least].sum(), 1e-9)
    return np.minimum(np.where(least, u, out * rest), u * np.exp2([x.most for x in comparison.levels]))
