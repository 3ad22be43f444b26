"""Grades for pairs: every comparison of every kind."""

from __future__ import annotations

from collections.abc import Collection, Mapping

import numpy as np
from numpy.typing import NDArray

from brujula.core.arrays import Graded, Pairs
from brujula.core.kind import Comparison, Kind, Standards


def compare(pairs: Pairs, standards: Standards, kinds: Mapping[str, Kind], comparisons: tuple[Comparison, ...]) -> Graded:
    """Level of every pair on every comparison asked for (columns in that order)."""
    levels = np.full((len(pairs), len(comparisons)), -1, np.int8)
    common = np.zeros((len(pairs), len(comparisons)), np.float32)
    at = {c.field: i for i, c in enumerate(comparisons)}
    for name, form in standards.of.items():
        wanted = [c for c in kinds[name].comparisons if c.field in at]
        if not wanted:
            continue
        found = kinds[name].compare(form, pairs.left, pairs.right)
        for comparison in wanted:
            levels[:, at[comparison.field]] = found[comparison.field].levels
            common[:, at[comparison.field]] = found[comparison.field].common
    return Graded(pairs, comparisons, levels, common)


def passes_gate(
    pairs: Pairs, standards: Standards, kinds: Mapping[str, Kind], gate: Collection[str], made_by: NDArray[np.uint32]
) -> NDArray[np.bool_]:
    """Which pairs are worth comparing further: not those that only passes of a gating comparison's own kind brought together, and that differ on it.

    gate : fields of the gating comparisons, all of one kind;  made_by : uint32 per gating comparison, the passes that use its kind
    A pair found by half of a name and then found to differ in the other half is nobody's candidate; most pairs are of that sort.
    """
    keep = np.ones(len(pairs), bool)
    for name, form in standards.of.items():
        fields = [c for c in kinds[name].comparisons if c.field in gate]
        if not fields or len(pairs) == 0:
            continue
        found = kinds[name].compare(form, pairs.left, pairs.right)
        for comparison, passes in zip(fields, made_by, strict=True):
            level = found[comparison.field].levels
            differs = np.append([x.grade == "differs" for x in comparison.levels], False)[level]
            keep &= ~(differs & ((pairs.passes & ~passes) == 0))
    return keep
