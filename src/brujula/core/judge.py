"""Verdicts: what the rules say, and where they are silent, what the evidence says."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from brujula.core import rules as rulebook, weigh
from brujula.core.arrays import DIFFERENT, NONE, SAME, UNSURE, VERDICTS, Graded, Judged
from brujula.core.rules import Columns, Rule


def barred(graded: Graded, rules: Sequence[Rule], columns: Columns | None = None) -> NDArray[np.bool_]:
    """Pairs a rule calls different, or not worth a verdict."""
    verdicts = np.array([VERDICTS.index(r.verdict) for r in rules] + [UNSURE])
    return np.asarray(np.isin(verdicts[rulebook.apply(rules, graded, columns)], (NONE, DIFFERENT)))


def judge(
    graded: Graded,
    model: weigh.Model,
    rules: Sequence[Rule],
    same_from: float,
    unsure_from: float,
    columns: Columns | None = None,
) -> Judged:
    """Evidence, probability, rule and verdict of each pair. Evidence alone never says `different`: only a rule forbids."""
    bits, total = weigh.evidence(model, graded)
    p = weigh.probability(model, total)
    rule = rulebook.apply(rules, graded, columns)
    verdict = np.where(p >= same_from, SAME, np.where(p >= unsure_from, UNSURE, NONE)).astype(np.int8)
    said = np.append([VERDICTS.index(r.verdict) for r in rules], -1)[rule]
    # What a rule holds open, the evidence must still make likely enough to be worth a person's time.
    held = (said == UNSURE) & (p < unsure_from)
    verdict = np.where((said >= 0) & ~held, said, verdict).astype(np.int8)
    return Judged(graded, bits, total, p, np.where(held, -1, rule).astype(np.int32), verdict)
