"""What shares a value by chance: how often two of one list do tells how often a row and a record do that are two."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import NamedTuple

import numpy as np

from brujula import judging
from brujula.core import compare, rules as rulebook
from brujula.core.arrays import Graded, Pairs
from brujula.core.batch import Batch, Keys
from brujula.core.kind import GRADES, Comparison, Kind, Standards
from brujula.core.rules import Rule
from brujula.core.steps import sharing
from brujula.policy.entities import ENTITIES

_LEAST = 0.05  # of what a rule holds, the share that is never put down to chance


class Seen(NamedTuple):
    """The lists as they are compared."""

    batch: Batch
    standards: Standards
    content: Keys
    known: Mapping[str, Kind]
    comparisons: tuple[Comparison, ...]

    def values(self, kind: str) -> Keys:
        """Per record, the key of a kind that is one record's alone, where no other shares it."""
        return self.standards.keys[f"{kind}.{self.known[kind].alone}"]

    def named(self) -> Keys:
        """Per record, who it is by name."""
        naming = ENTITIES[self.batch.entity].identifying
        return self.standards.keys[f"{naming}.{self.known[naming].identity[0]}"] if naming in self.standards.of else self.content


def strangers(seen: Seen) -> dict[str, float]:
    """Per kind of which a value may be one record's alone: how many rows are likely to share a record's and be another, by name."""
    return {
        name: sharing.strangers(seen.values(name), seen.named(), seen.batch.n_existing)
        for name in judging.EXCLUSIVE
        if name in seen.standards.of and seen.batch.n_incoming
    }


def doubts(seen: Seen, rules: Sequence[Rule], graded: Graded, share: float) -> tuple[float, ...] | None:
    """The doubt of each rule, where some may hold what chance brings together; None where none does.

    Two of one list are two. The share of either list that meets such a rule with another of the list, times the rows, is how many rows
    meet it with a record and are another; what is held beyond that is more than chance.

    graded, share : pairs of rows and records, and which share of all such they are
    """
    batch = seen.batch
    asked = [n for n, r in enumerate(rules) if r.crowded in seen.standards.of]
    if not asked or not batch.n_incoming:
        return None
    out = [r.doubted for r in rules]
    across = graded.take(
        (np.minimum(graded.pairs.left, graded.pairs.right) < batch.n_existing)
        & (np.maximum(graded.pairs.left, graded.pairs.right) >= batch.n_existing)
    )
    spoke = rulebook.apply(rules, across, batch.columns)
    for number in asked:
        values = seen.values(rules[number].crowded)
        left, right = sharing.neighbours(values, seen.named(), batch.n_existing)
        near = Pairs(left, right, np.zeros(len(left), np.uint64))
        meets = (
            rulebook.apply(rules, compare.compare(near, seen.standards, seen.known, seen.comparisons), batch.columns) == number
        )
        both = np.unique(np.concatenate([left[meets], right[meets]]))
        usual = 0.0
        for side, some in (
            (slice(0, batch.n_existing), both < batch.n_existing),
            (slice(batch.n_existing, None), both >= batch.n_existing),
        ):
            usual = max(usual, (np.count_nonzero(some) + 1) / (np.count_nonzero(values[side]) + 1))
        by_chance = usual * np.count_nonzero(values[batch.n_existing :])
        pairs = across.pairs.take(spoke == number)
        held = len(np.unique(np.maximum(pairs.left, pairs.right))) / share
        beyond = float(np.clip(1.0 - by_chance / max(held, 1.0), _LEAST, 1.0))
        out[number] = 1.0 - (1.0 - out[number]) * beyond
    return tuple(out)


def alike(seen: Seen, graded: Graded) -> float:
    """How many rows (of records alone: records) are true ones of others at least, judging by names alone; no field may be against it.

    Half of those that bear the very name of another; or all that bear one of a record, or nearly so, beyond as many as do by chance: those that
    bear one of another row, for as many more records as there are.
    """
    batch, pairs = seen.batch, graded.pairs
    fields = {c.field for c in seen.known[ENTITIES[batch.entity].identifying].comparisons if any(x.rare for x in c.levels)}
    grades, named = graded.grades(), [f for f, c in enumerate(graded.comparisons) if c.field in fields]
    if not named:
        return 0.0
    agreed = ~(grades == GRADES.index("differs")).any(axis=1)
    same = agreed & (grades[:, named] == GRADES.index("same")).all(axis=1)
    one_name = 0.5 * len(np.unique(pairs.left[same]))
    if not batch.n_incoming:
        return one_name
    near = agreed & (grades[:, named] >= GRADES.index("close")).all(axis=1)
    row, other = np.maximum(pairs.left, pairs.right), np.minimum(pairs.left, pairs.right)
    across = near & (row >= batch.n_existing) & (other < batch.n_existing)
    with_rows = near & (other >= batch.n_existing)
    both = len(np.unique(np.concatenate([row[with_rows], other[with_rows]])))
    # Rows that have such a row, (both + 1) / (n + 1), and rows that would by chance have such a record: there are that many more of them.
    without = (batch.n_incoming - both) / (batch.n_incoming + 1)
    by_chance = batch.n_incoming * (1.0 - max(without, 0.0) ** (batch.n_existing / batch.n_incoming))
    return max(one_name, float(len(np.unique(row[across])) - by_chance))
