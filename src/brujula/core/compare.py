"""Grades for pairs: every comparison of every kind."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from brujula.core.arrays import Graded, Pairs, join
from brujula.core.kind import Compared, Comparison, Kind, Standards
from brujula.core.steps.parallel import spread

_PART = 50_000  # pairs compared at once


@dataclass(frozen=True)
class Gate:
    """Comparisons that come first; a pair that only passes of their own kind brought together, and that differs on one of them, goes no further.

    A pair found by half of a name and then found to differ in the other half is nobody's candidate; most pairs are of that sort.
    made_by : per gating field, the passes (bits) that use its kind
    """

    made_by: Mapping[str, np.uint64]


def compare(
    pairs: Pairs, standards: Standards, kinds: Mapping[str, Kind], comparisons: tuple[Comparison, ...], gate: Gate | None = None
) -> Graded:
    """Level of every pair on every comparison asked for (columns in that order); with a gate, of the pairs that pass it."""
    at = {c.field: i for i, c in enumerate(comparisons)}
    names = [n for n in standards.of if any(c.field in at for c in kinds[n].comparisons)]
    names.sort(key=lambda n: gate is None or not any(c.field in gate.made_by for c in kinds[n].comparisons))
    done: list[tuple[int, Compared]] = []
    for name in names:
        found = kinds[name].compare(standards.of[name], pairs.left, pairs.right)
        done += [(at[c.field], found[c.field]) for c in kinds[name].comparisons if c.field in at]
        if gate is not None and any(f in gate.made_by for f in found):
            keep = np.flatnonzero(_passes(pairs, gate, kinds[name].comparisons, found))
            pairs = pairs.take(keep)
            done = [(column, Compared(one.levels[keep], one.common[keep])) for column, one in done]
    levels = np.full((len(pairs), len(comparisons)), -1, np.int8)
    common = np.zeros((len(pairs), len(comparisons)), np.float32)
    for column, one in done:
        levels[:, column], common[:, column] = one.levels, one.common
    return Graded(pairs, comparisons, levels, common)


def compare_many(pairs: Pairs, standards: Standards, kinds: Mapping[str, Kind], comparisons: tuple[Comparison, ...]) -> Graded:
    """`compare` of many pairs, on all cores."""
    parts = [pairs.take(np.arange(at, min(at + _PART, len(pairs)))) for at in range(0, max(len(pairs), 1), _PART)]
    return join(list(spread(lambda part: compare(part, standards, kinds, comparisons), parts)))


def _passes(pairs: Pairs, gate: Gate, comparisons: tuple[Comparison, ...], found: Mapping[str, Compared]) -> NDArray[np.bool_]:
    """Which pairs pass the gate's comparisons of one kind."""
    keep = np.ones(len(pairs), bool)
    for comparison in comparisons:
        if comparison.field in gate.made_by:
            differs = np.append([x.grade == "differs" for x in comparison.levels], False).take(found[comparison.field].levels)
            keep &= ~(differs & ((pairs.passes & ~gate.made_by[comparison.field]) == 0))
    return keep
