"""Evidence: how much the grades of a pair speak for or against one person or one firm, in bits.

Fellegi and Sunter 1969. The share of random pairs at each level (u) comes from random pairs of the lists
themselves; the share of true pairs (m) is fitted by expectation maximisation (Winkler 1988) from starting values
the kinds declare. Agreement on a rare value weighs more than on a common one (Winkler 1989). What members of one
household or colleagues share is counted together up to a cap; what changes together when somebody moves or
changes jobs is counted against a pair down to a floor.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from brujula.core.arrays import Graded
from brujula.core.kind import Comparison

_PRIOR_TRUE = 300.0  # true pairs the starting values of m are worth
_PRIOR_RANDOM = 2_000.0  # random pairs the starting values of u are worth
_PRIOR_RECORDS = 1_500.0  # records the starting share of a value is worth: keeps small lists sane
_ROUNDS = 6
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
    """

    comparisons: tuple[Comparison, ...]
    m: tuple[NDArray[np.float64], ...]
    u: tuple[NDArray[np.float64], ...]
    typical: tuple[NDArray[np.float64], ...]
    prior: float
    n_records: int
    cap: float = 0.0
    floor: float = 0.0
    temper: float = 1.0
    changing: frozenset[str] = field(default_factory=frozenset)


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
) -> Model:
    """The model before fitting: declared m, u from random pairs, typical shares from the candidates."""
    m, u, typical = [], [], []
    for f, comparison in enumerate(comparisons):
        start_m = np.array([x.m for x in comparison.levels])
        start_u = np.array([x.u for x in comparison.levels])
        n_levels = len(start_m)
        seen = random.levels[:, f]
        counts = np.bincount(seen[seen >= 0], minlength=n_levels)
        u.append((counts + _PRIOR_RANDOM * start_u / start_u.sum()) / (counts.sum() + _PRIOR_RANDOM))
        m.append(start_m / start_m.sum())
        usual = np.zeros(n_levels)
        for level in range(n_levels):
            shares = graded.common[(graded.levels[:, f] == level) & (graded.common[:, f] > 0), f]
            usual[level] = float(np.median(shares)) if len(shares) else 0.0
        typical.append(usual)
    return Model(comparisons, tuple(m), tuple(u), tuple(typical), prior, n_records, cap, floor, temper, changing)


def evidence(model: Model, graded: Graded) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Bits of each pair per comparison, float64[n_pairs, n_comparisons], and their sum after caps, float64[n_pairs]."""
    n = len(graded.pairs)
    bits = np.zeros((n, len(model.comparisons)))
    shared, lost = np.zeros(n), np.zeros(n)
    for f, comparison in enumerate(model.comparisons):
        level = graded.levels[:, f]
        m, u = model.m[f], model.u[f]
        weight = np.append(np.log2(m / u), 0.0)[level]
        rare = np.append([x.rare for x in comparison.levels], False)[level] & (graded.common[:, f] > 0)
        if rare.any():
            at = level[rare]
            weight[rare] = np.log2(m[at] / _share(model, f, at, graded.common[rare, f]))
        bits[:, f] = weight
        unit = np.append([x.unit for x in comparison.levels], False)[level]
        shared += np.where(unit & (weight > 0), weight, 0.0)
        if comparison.field in model.changing:
            lost += np.minimum(weight, 0.0)
    total = bits.sum(axis=1)
    if model.cap:
        total -= np.maximum(shared - model.cap, 0.0)
    if model.floor:
        total += np.maximum(model.floor - lost, 0.0)
    return bits, total * model.temper


def _share(model: Model, f: int, level: NDArray[np.int8], common: NDArray[np.float32]) -> NDArray[np.float64]:
    """Chance that two random records agree at this level on this very value.

    For plain agreement that is the value's share among the records, the two of the pair left out; for looser levels
    the level's own chance, moved by how common the value is against the usual one, in the square root.
    """
    levels = model.comparisons[f].levels
    start = np.array([x.u for x in levels])[level]
    exact = np.array([x.grade == "same" for x in levels])[level]
    n = model.n_records
    counted = (np.maximum(common * n - 2.0, 0.15) + _PRIOR_RECORDS * start * 0.5) / (n + _PRIOR_RECORDS)
    own = np.where(
        common * n < 0.5, common + 0.005 / n, counted
    )  # below one record the share was not counted but reckoned from words
    usual = np.maximum(model.typical[f][level], 1e-9)
    loose = model.u[f][level] * np.clip(np.sqrt(common / usual), 0.2, 5.0)
    return np.clip(np.where(exact, own, loose), 1e-9, 0.9)


def probability(model: Model, total: NDArray[np.float64]) -> NDArray[np.float64]:
    """Probability of each pair from its evidence and the prior."""
    return 1.0 / (1.0 + np.exp2(-np.clip(total + model.prior, -60, 60)))


def fit(
    model: Model, graded: Graded, barred: NDArray[np.bool_], n_possible: float, made_by: NDArray[np.uint32], share: float = 1.0
) -> Model:
    """Refine m and the prior by expectation maximisation over the candidates.

    barred     : bool[n_pairs], pairs a rule calls different: they are no true pairs
    n_possible : how many pairs the lists could form
    share      : which share of all candidates these are
    made_by    : uint32[n_comparisons], the passes that use the comparison; a pair found by those alone does not count for it
    """
    for _ in range(_ROUNDS):
        _, total = evidence(model, graded)
        p = np.where(barred, 0.0, probability(model, total))
        whole = np.rint(p * _SCALE).astype(np.int64)
        tables = []
        for f, comparison in enumerate(model.comparisons):
            counted = (graded.levels[:, f] >= 0) & ((graded.pairs.passes & ~made_by[f]) > 0)
            n_levels = len(comparison.levels)
            sums = np.bincount(graded.levels[counted, f], weights=whole[counted], minlength=n_levels) / _SCALE
            start = np.array([x.m for x in comparison.levels])
            start = start / start.sum()
            tables.append(
                _monotone((sums + _PRIOR_TRUE * start) / (sums.sum() + _PRIOR_TRUE), model.u[f], comparison, model.n_records)
            )
        matches = max(whole.sum() / _SCALE / share, 0.5) + 0.5
        prior = float(np.log2(matches / max(n_possible - matches, matches)))
        model = Model(
            model.comparisons,
            tuple(tables),
            model.u,
            model.typical,
            prior,
            model.n_records,
            model.cap,
            model.floor,
            model.temper,
            model.changing,
        )
    return model


def _monotone(m: NDArray[np.float64], u: NDArray[np.float64], comparison: Comparison, n_records: int) -> NDArray[np.float64]:
    """m with no looser level weighing more than plain agreement on a usual value: lowered where it would, then scaled to sum to one."""
    same = next(i for i, x in enumerate(comparison.levels) if x.grade == "same")
    most = m[same] / (min(u[same], 2.0 / (n_records + 2.0)) if comparison.levels[same].rare else u[same])
    out = np.where([x.grade == "same" for x in comparison.levels], m, np.minimum(m, u * most))
    return np.asarray(out / out.sum())
