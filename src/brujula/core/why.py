"""Reasons in words: which fields agree and how well, which rule spoke, how many bits."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from brujula.core.arrays import Judged
from brujula.core.rules import Rule

LABELS = {
    "given_name": "given name",
    "family_name": "family name",
    "middle_name": "middle name",
    "job_title": "job title",
    "birth_date": "birth date",
    "registration_no": "registration number",
    "email": "e-mail",
}


def sentences(judged: Judged, rules: Sequence[Rule], pairs: NDArray[np.int64]) -> list[str]:
    """For each pair (index into judged) the grades that speak for and against, and what decided; each distinct pattern is worded once."""
    if len(pairs) == 0:
        return []
    pattern = np.concatenate([judged.graded.levels[pairs], judged.rule[pairs, None].astype(np.int8)], axis=1)
    distinct, which = np.unique(pattern, axis=0, return_inverse=True)
    worded = [_words(judged, rules, row.tolist()) for row in distinct]
    bits = np.round(judged.total[pairs], 1)
    p = judged.probability[pairs]
    decided = [
        "" if rule >= 0 else f" ({b:+.1f} bits, probability {q:.3f})"
        for rule, b, q in zip(judged.rule[pairs].tolist(), bits.tolist(), p.tolist(), strict=True)
    ]
    return [worded[w] + d for w, d in zip(which.reshape(-1).tolist(), decided, strict=True)]


def _words(judged: Judged, rules: Sequence[Rule], row: list[int]) -> str:
    """One pattern of levels, and the rule if one spoke, in words."""
    agree, differ = [], []
    for comparison, level in zip(judged.graded.comparisons, row[:-1], strict=True):
        if level < 0:
            continue
        label = LABELS.get(comparison.field, comparison.field.replace("_", " "))
        named = comparison.levels[level]
        if named.grade == "differs":
            differ.append(label if named.name == "different" else f"{label} ({named.name})")
        else:
            agree.append(label if named.name == "same" else f"{label} ({named.name})")
    said = []
    if agree:
        said.append("agree: " + ", ".join(agree))
    if differ:
        said.append("differ: " + ", ".join(differ))
    if row[-1] >= 0:
        said.append(f'rule "{rules[row[-1]].name}": {rules[row[-1]].why}')
    return "; ".join(said) or "nothing to compare"
