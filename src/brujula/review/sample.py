"""A sample of the automatic matches for a check by eye, and what the answers say of all of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import sqrt

import numpy as np
import pyarrow as pa

from brujula.core import decide as deciding
from brujula.planning import Plan

_STRATA = (0.0, 0.99, 0.999, 0.99999, 1.01)
"""Bounds of probability: the less certain matches are drawn more densely, for there errors are."""
_SEED = 20_261


@dataclass(frozen=True)
class Measured:
    """What was found: pairs looked at, those that were the same, the precision they speak for, and its 95 % interval."""

    looked_at: int
    same: int
    precision: float
    low: float
    high: float


def drawn(plan: Plan, size: int) -> tuple[np.ndarray, np.ndarray]:
    """Judged pairs to be looked at, and how many matches each stands for. The same plan gives the same sample."""
    judged, n = plan.matched.judged, plan.batch.n_existing
    auto = np.isin(plan.outcome, (deciding.UPDATE, deciding.UNCHANGED, deciding.MERGE))
    pairs = plan.decided.cause[auto & (plan.decided.cause >= 0)]
    pairs = np.sort(pairs[judged.graded.pairs.right[pairs] < n])
    stratum = np.digitize(judged.probability[pairs], _STRATA) - 1
    generator = np.random.default_rng(_SEED)
    chosen: list[np.ndarray] = []
    weights: list[np.ndarray] = []
    filled = [s for s in range(len(_STRATA) - 1) if (stratum == s).any()]
    for number, s in enumerate(filled):
        here = pairs[stratum == s]
        left = size - sum(len(c) for c in chosen)
        take = min(len(here), max(left // (len(filled) - number), 1)) if left else 0
        some = np.sort(generator.choice(here, take, replace=False))
        chosen.append(some)
        weights.append(np.full(take, len(here) / max(take, 1)))
    return (np.concatenate(chosen), np.concatenate(weights)) if chosen else (pairs, np.zeros(0))


def sample_table(plan: Plan, size: int) -> pa.Table:
    """The sample as review.csv has its pairs, with how many matches each pair stands for."""
    from brujula.loading.folder import pairs_to_judge

    pairs, weights = drawn(plan, size)
    return pairs_to_judge(plan, pairs).append_column("stands for", pa.array(np.round(weights, 3)))


def measured(lines: Sequence[Mapping[str, str]]) -> Measured:
    """The share of right matches among all automatic ones, from the answers: weighted by what each pair stands for.

    The interval is Wilson's (1927) with the number of pairs that a sample without weights would need for the same certainty (Kish 1965).
    """
    answered = [
        (line["decision"].strip().lower() in ("same", "s"), float(line["stands for"]))
        for line in lines
        if line["decision"].strip()
    ]
    if not answered:
        return Measured(0, 0, 0.0, 0.0, 1.0)
    total = sum(w for _, w in answered)
    p = sum(w for same, w in answered if same) / total
    n = total**2 / sum(w * w for _, w in answered)
    z = 1.96
    middle, wide = (p + z * z / (2 * n)) / (1 + z * z / n), z * sqrt(p * (1 - p) / n + z * z / (4 * n * n)) / (1 + z * z / n)
    return Measured(len(answered), sum(same for same, _ in answered), p, max(middle - wide, 0.0), min(middle + wide, 1.0))
