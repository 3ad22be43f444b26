"""Record types that steps hand to each other, and their public checkers."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.kind import Comparison

NONE, DIFFERENT, UNSURE, SAME = 0, 1, 2, 3
VERDICTS = ("none", "different", "unsure", "same")
"""`none`: nothing speaks for the pair; it neither links nor forbids."""


def _places(keep: NDArray[Any]) -> NDArray[Any]:
    """The places an index or a mask means; taking whole rows by places is several times as fast as by a mask."""
    return np.flatnonzero(keep) if keep.dtype == np.bool_ else keep


@dataclass(frozen=True)
class Pairs:
    """Pairs of records that at least one pass brought together.

    left, right : int32[n], record numbers (an incoming row on the left, or on both sides)
    passes      : uint64[n], one bit per pass that found the pair
    """

    left: NDArray[np.int32]
    right: NDArray[np.int32]
    passes: NDArray[np.uint64]

    def __len__(self) -> int:
        return len(self.left)

    def take(self, keep: NDArray[Any]) -> Pairs:
        """Only the pairs of an index or mask."""
        at = _places(keep)
        return Pairs(self.left.take(at), self.right.take(at), self.passes.take(at))


LOADED, BY_ID, BY_KEY, KEY_SHARED = range(4)
"""How a row names its record: loaded into it before, by its id, by the policy's key; or by a key that several records share."""


@dataclass(frozen=True)
class Claims:
    """Records that rows name themselves, whatever the evidence says: record numbers row by row, and how (LOADED ...)."""

    row: NDArray[np.int32]
    record: NDArray[np.int32]
    how: NDArray[np.int8]

    @classmethod
    def none(cls) -> Claims:
        """Nobody names anybody."""
        return cls(np.zeros(0, np.int32), np.zeros(0, np.int32), np.zeros(0, np.int8))


def no_pairs() -> Pairs:
    """A table without a pair."""
    return Pairs(np.zeros(0, np.int32), np.zeros(0, np.int32), np.zeros(0, np.uint64))


def among(pairs: Pairs, others: Pairs) -> NDArray[np.bool_]:
    """Which pairs are also among the others, either way round."""
    found = pc.is_in(pa.array(_numbered(pairs)), value_set=pa.array(_numbered(others)))
    return np.asarray(found.to_numpy(zero_copy_only=False), bool)


def each_once(pairs: Pairs) -> Pairs:
    """Each pair once, by its lower record, then the other one; what found them is left out."""
    numbers = np.unique(_numbered(pairs))
    left, right = (numbers >> 32).astype(np.int32), (numbers & 0xFFFFFFFF).astype(np.int32)
    return Pairs(left, right, np.zeros(len(numbers), np.uint64))


def _numbered(pairs: Pairs) -> NDArray[np.int64]:
    """A number per pair, whichever way round it is."""
    low, high = np.minimum(pairs.left, pairs.right).astype(np.int64), np.maximum(pairs.left, pairs.right).astype(np.int64)
    return (low << 32) | high


def row_of(pairs: Pairs, n_existing: int) -> NDArray[np.int32]:
    """Of pairs of a row and an existing record the row, -1 of others: int32[n_pairs]."""
    row, record = np.maximum(pairs.left, pairs.right), np.minimum(pairs.left, pairs.right)
    return np.where((row >= n_existing) & (record < n_existing), row, -1).astype(np.int32)


@dataclass(frozen=True)
class Graded:
    """Pairs with the level of every comparison.

    levels : int8[n_pairs, n_comparisons], -1 = a side is blank
    common : float32[n_pairs, n_comparisons], share of records with the agreed value, 0 = not known
    """

    pairs: Pairs
    comparisons: tuple[Comparison, ...]
    levels: NDArray[np.int8]
    common: NDArray[np.float32]

    def take(self, keep: NDArray[Any]) -> Graded:
        """Only the pairs of an index or mask."""
        at = _places(keep)
        return Graded(self.pairs.take(at), self.comparisons, self.levels.take(at, axis=0), self.common.take(at, axis=0))

    def grades(self) -> NDArray[np.int8]:
        """Rank in `kind.GRADES` per pair and comparison (0 = blank)."""
        out = np.zeros(self.levels.shape, np.int8)
        for f, comparison in enumerate(self.comparisons):
            out[:, f] = comparison.grade_ranks[self.levels[:, f]]
        return out

    def column(self, name: str) -> int:
        """The position of a comparison by its field name."""
        return next(i for i, c in enumerate(self.comparisons) if c.field == name)


def join_pairs(*parts: Pairs) -> Pairs:
    """Several lists of pairs as one."""
    return Pairs(*(np.concatenate([getattr(p, name) for p in parts]) for name in ("left", "right", "passes")))


def join(parts: Sequence[Graded]) -> Graded:
    """Several tables of graded pairs as one."""
    first = parts[0]
    pairs = join_pairs(*(p.pairs for p in parts))
    return Graded(pairs, first.comparisons, np.concatenate([p.levels for p in parts]), np.concatenate([p.common for p in parts]))


@dataclass(frozen=True)
class Judged:
    """Graded pairs with their evidence and verdict.

    bits        : float64[n_pairs, n_comparisons], weight of evidence per comparison
    total       : float64[n_pairs], their sum after caps
    probability : float64[n_pairs], calibrated
    rule        : int32[n_pairs], index of the rule that spoke, -1 = none
    verdict     : int8[n_pairs], NONE, DIFFERENT, UNSURE or SAME
    """

    graded: Graded
    bits: NDArray[np.float64]
    total: NDArray[np.float64]
    probability: NDArray[np.float64]
    rule: NDArray[np.int32]
    verdict: NDArray[np.int8]

    def take(self, keep: NDArray[Any]) -> Judged:
        """Only the pairs of an index or mask."""
        at = _places(keep)
        return Judged(
            self.graded.take(at),
            self.bits.take(at, axis=0),
            self.total.take(at),
            self.probability.take(at),
            self.rule.take(at),
            self.verdict.take(at),
        )


def join_judged(first: Judged, second: Judged) -> Judged:
    """Two tables of judged pairs as one."""
    return Judged(
        join([first.graded, second.graded]),
        *(np.concatenate([getattr(first, n), getattr(second, n)]) for n in ("bits", "total", "probability", "rule", "verdict")),
    )


@dataclass(frozen=True)
class PassReport:
    """What each pass did: records with a key, groups that were too large and were narrowed, pairs left out."""

    names: tuple[str, ...]
    keyed: tuple[int, ...]
    narrowed: tuple[int, ...]
    left_out: tuple[int, ...]
    pairs: dict[str, int] = field(default_factory=dict)
    alone: dict[str, int] = field(default_factory=dict)

    def as_dict(self) -> list[Mapping[str, object]]:
        """One mapping a pass, for summary.json."""
        return [
            {
                "pass": n,
                "records": k,
                "narrowed": w,
                "left_out": o,
                "pairs": self.pairs.get(n, 0),
                "pairs_no_other_pass_found": self.alone.get(n, 0),
            }
            for n, k, w, o in zip(self.names, self.keyed, self.narrowed, self.left_out, strict=True)
        ]


def check_groups(groups: NDArray[np.int32], n_records: int) -> None:
    """Each record in one group, numbered densely in order of first member; AssertionError otherwise."""
    assert len(groups) == n_records, f"{len(groups)} group numbers for {n_records} records"
    if n_records:
        _, first = np.unique(groups, return_index=True)
        assert bool(np.all(np.diff(first) > 0)) and int(groups.max()) + 1 == len(first), (
            "groups are not numbered by their first member"
        )
