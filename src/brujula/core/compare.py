"""Grades for pairs: every comparison of every kind."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

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
