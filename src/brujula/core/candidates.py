"""Candidate pairs: records that share at least one key, brought together by several independent passes."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import product
from math import prod
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from brujula.core.arrays import Pairs, PassReport
from brujula.core.batch import Batch, Column, Keys
from brujula.core.kernels import blocks as kernel
from brujula.core.steps.numbers import number
from brujula.core.steps.parallel import spread
from brujula.core.steps.text import hash_values, join_keys, of_records

LIMIT = 20
"""Most records of one side that share a key before the key is narrowed."""
CAP = 32
"""Most candidates one row keeps."""
MOST_PASSES = 64
"""Most passes over a batch: a pair has a bit for each."""
_ROWS = 16_384


@dataclass(frozen=True)
class Pass:
    """One key over all records: the named keys that must agree together (`person_name.family`, ...), and what narrows it."""

    parts: tuple[str, ...]
    narrow: str

    @classmethod
    def read(cls, text: str, narrow: str) -> Pass:
        """From a policy's words: `key + key`, or `key + key / key` where the last one narrows; narrow : what does so otherwise."""
        keys, _, second = text.partition("/")
        return cls(tuple(k.strip() for k in keys.split("+")), second.strip() or narrow)

    @property
    def name(self) -> str:
        """As written in the policy."""
        return " + ".join(self.parts)


def content_keys(batch: Batch, fields: Collection[str] | None = None) -> Keys:
    """A key per record of all it holds, or holds in some fields, whatever its place in the list."""
    columns = {f: c for f, c in batch.columns.items() if fields is None or f in fields}
    # What no field takes and is compared all the same makes another record of one that is else alike.
    columns |= {f"line {n}": c for n, c in enumerate(batch.lines)} | ({"known as": batch.known_as} if batch.known_as else {})

    def salted(one: tuple[str, Column]) -> Keys:
        field, column = one
        salt = np.uint64(sum(ord(c) * 131**i for i, c in enumerate(field)) % (1 << 61) * 2 + 1)
        return of_records(hash_values(column.values), column) * salt

    total = np.zeros(len(batch), np.uint64)
    for keys in spread(salted, columns.items()):
        total += keys
    if batch.ages is not None:
        total += (batch.ages.astype(np.int64) + 1).astype(np.uint64) * np.uint64(0x9E3779B97F4A7C15)
    return total


@dataclass
class Index:
    """Records ranked by what they hold (existing first), and per key column the group each belongs to (`kernels.blocks.collect`)."""

    ranks: NDArray[np.int32]  # record of each rank
    entry: NDArray[np.int32]  # per rank, a number from what is compared of it that says where an oversized group is entered
    n_existing: int
    pass_of: NDArray[np.int64]
    first_group: NDArray[np.int64]
    places: NDArray[np.int32]
    starts: NDArray[np.int64]
    members: NDArray[np.int32]
    whole: NDArray[np.int64]  # per group, the one that holds its existing records
    report: PassReport


def index(batch: Batch, keys: Mapping[str, Keys], passes: Sequence[Pass], order: Keys, saying: Keys) -> Index:
    """Group the records by every pass. Incoming rows probe; with no incoming rows the existing records probe one another.

    keys    : "kind.key" to uint64[n], or uint64[k, n] where a record has several of a kind
    order   : uint64[n], the rank of the records by what they hold;  saying : a key of what is compared of each, mixed well
    Cost linear in records and passes. A group over LIMIT is narrowed by the pass's second key.
    """
    n_existing = batch.n_existing if batch.n_incoming else 0
    incoming = np.arange(len(batch)) >= n_existing
    ranks = np.lexsort((order, incoming)).astype(np.int32)
    probe = incoming[ranks]
    usable = [number for number, one in enumerate(passes) if all(p in keys for p in one.parts)]

    depth = [prod(_depth(keys[p]) for p in passes[number].parts) for number in usable]
    column = np.concatenate([[0], np.cumsum(depth)]).astype(np.int64)
    places = np.empty((int(column[-1]), len(batch)), np.int32)

    def build(at: int) -> _Built:
        one = passes[usable[at]]
        return _build(
            _joined(keys, one, ranks), probe, n_existing, keys.get(one.narrow), ranks, places[column[at] : column[at + 1]]
        )

    # The longest first, so that no core waits for one that came last.
    turns = sorted(range(len(usable)), key=lambda at: -depth[at])
    came = dict(zip(turns, spread(build, turns), strict=True))
    built = {number: came[at] for at, number in enumerate(usable)}
    starts, members, whole = [np.zeros(0, np.int64)], [np.zeros(0, np.int32)], [np.zeros(0, np.int64)]
    n_groups, n_members, first_group = 0, 0, []
    for one in built.values():
        starts.append(one.starts + n_members)
        members.append(one.members)
        whole.append(np.append(one.whole, len(one.whole)) + n_groups)
        first_group.append(n_groups)
        n_groups += len(one.starts)
        n_members += len(one.members)
    told = [built.get(number, _NOTHING) for number in range(len(passes))]
    report = PassReport(
        tuple(p.name for p in passes),
        tuple(b.n_keyed for b in told),
        tuple(b.n_narrowed for b in told),
        tuple(b.n_lost for b in told),
    )
    entry = (saying[ranks] >> np.uint64(33)).astype(np.int32)
    return Index(
        ranks,
        entry,
        n_existing,
        np.repeat(np.array(usable, np.int64), depth),
        np.repeat(np.array(first_group, np.int64), depth),
        places,
        np.concatenate(starts),
        np.concatenate(members),
        np.concatenate(whole),
        report,
    )


def _products(parts: Sequence[Keys]) -> Keys:
    """Keys of one record in a pass, each of a kind with each of the others; those it lacks are left out."""
    first, *others = (np.unique(p[p != 0]) for p in parts)
    for other in others:
        first = join_keys(np.repeat(first, len(other)), np.tile(other, len(first)))
    return first


def _depth(keys: Keys) -> int:
    """How many keys of a kind a record may have."""
    return keys.shape[0] if keys.ndim == 2 else 1


def _joined(keys: Mapping[str, Keys], one: Pass, order: NDArray[np.int32]) -> list[Keys]:
    """The pass's keys of the records in an order; several where a record has several of a kind, each with each of the other kinds'."""
    parts = [keys[p] for p in one.parts]
    columns = []
    for chosen in product(*(range(_depth(p)) for p in parts)):
        flat = [np.ascontiguousarray(p[d] if p.ndim == 2 else p) for p, d in zip(parts, chosen, strict=True)]
        columns.append(join_keys(flat[0], *flat[1:])[order])
    return columns


class Finder:
    """Keys of existing records, sorted, to find the candidates of one record at a time."""

    def __init__(self, keys: Mapping[str, Keys], passes: Sequence[Pass], n_records: int) -> None:
        every = np.arange(n_records, dtype=np.int32)
        self._passes = [p for p in passes if all(part in keys for part in p.parts)]
        self._keys = keys
        self._sorted = []
        for one in self._passes:
            columns = np.stack(_joined(keys, one, every)).reshape(-1)
            order = np.argsort(columns, kind="stable")
            self._sorted.append((columns[order], (order % max(n_records, 1)).astype(np.int32)))

    def find(self, keys: Mapping[str, Keys]) -> NDArray[np.int32]:
        """Records that share a key with the one record keys are of, at most CAP: those that share a rare one first, then those that share most."""
        found, rarely = [np.zeros(0, np.int32)], [np.zeros(0, np.int32)]
        for one, (column, record) in zip(self._passes, self._sorted, strict=True):
            if not all(part in keys for part in one.parts):
                continue
            narrow, asked = keys.get(one.narrow), _products([keys[part] for part in one.parts])
            low, high = np.searchsorted(column, asked, "left"), np.searchsorted(column, asked, "right")
            for at in np.flatnonzero(high > low):
                hits = record[low[at] : high[at]]
                if len(hits) > LIMIT and narrow is not None:
                    own, theirs = (k if k.ndim == 1 else k[0] for k in (narrow, self._keys[one.narrow]))
                    hits = hits[theirs[hits] == own[0]]
                found.append(hits[:CAP])
                if len(hits) <= kernel.RARE:
                    rarely.append(hits)
        records, counts = np.unique(np.concatenate(found), return_counts=True)
        common = ~np.isin(records, np.concatenate(rarely))
        return records[np.lexsort((records, -counts, common))][:CAP].astype(np.int32)


class _Built(NamedTuple):
    """One pass: the members of its groups, the group that holds the existing records of each, and counts for the report."""

    starts: NDArray[np.int64]
    members: NDArray[np.int32]
    whole: NDArray[np.int64]
    n_keyed: int
    n_narrowed: int
    n_lost: int


_NOTHING = _Built(np.zeros(1, np.int64), np.zeros(0, np.int32), np.zeros(0, np.int64), 0, 0, 0)


def _build(
    columns: list[Keys],
    probe: NDArray[np.bool_],
    n_existing: int,
    narrow: Keys | None,
    ranks: NDArray[np.int32],
    group: NDArray[np.int32],
) -> _Built:
    """Groups of one pass. columns : several for a record with several keys of a kind; they share one numbering.

    group : int32[len(columns), n], is filled with the group of each rank, -1 = none
    Groups over LIMIT are narrowed by joining the second key to theirs; where only rows are too many, the existing records stay
    together, for every row of the group to be laid beside.
    """
    n, flat = len(ranks), columns[0] if len(columns) == 1 else np.concatenate(columns)
    keyed = (flat != 0).reshape(len(columns), n)
    flat_group = group.reshape(-1)
    flat_group[:], n_groups = number(flat, np.tile(probe, len(columns)))
    sizes = _sizes(group, n_existing, n_groups)
    big, whole = (sizes > LIMIT).any(axis=1), np.arange(n_groups)
    n_narrowed, n_lost = int(big.sum()), 0
    if n_narrowed and narrow is not None:
        at = np.flatnonzero(np.append(big, False)[flat_group])
        second = (narrow if narrow.ndim == 1 else narrow[0])[ranks[at % n]]
        few = (sizes[flat_group[at], 0] <= LIMIT) & (sizes[flat_group[at], 0] > 0)
        moved = ~few | ((at % n >= n_existing) & (second != 0))
        at, second, few = at[moved], second[moved], few[moved]
        n_lost = int((second == 0).sum())
        keyed.reshape(-1)[at[second == 0]] = False
        narrowed, n_more = number(join_keys(flat[at], second), probe[at % n])
        whole = np.arange(n_groups + n_more)
        whole[narrowed[few] + n_groups] = flat_group[at[few]]
        flat_group[at] = np.where(narrowed >= 0, narrowed + n_groups, -1)
        sizes = _sizes(group, n_existing, n_groups + n_more)
    starts, members = _members(group, sizes)
    return _Built(starts, members, whole, int(keyed.any(axis=0).sum()), n_narrowed, n_lost)


def _sizes(group: NDArray[np.int32], n_existing: int, n_groups: int) -> NDArray[np.int64]:
    """Entries of existing records and of incoming rows in each group, int64[n_groups, 2]."""
    sizes = np.zeros((n_groups, 2), np.int64)
    kernel.count_sides(group, n_existing, sizes)
    return sizes


def _members(group: NDArray[np.int32], sizes: NDArray[np.int64]) -> tuple[NDArray[np.int64], NDArray[np.int32]]:
    """Starts of the groups, and their members by rank; who has a key twice is a member once."""
    # Ranks run slowest, so that the members of each group come in rank order.
    order = np.ascontiguousarray(group.T).reshape(-1)
    starts = np.concatenate([[0], np.cumsum(sizes.sum(axis=1))]).astype(np.int64)
    entries = np.empty(int(starts[-1]), np.int32)
    kernel.list_members(order, starts[:-1].copy(), entries)
    if len(group) == 1:
        return starts, entries
    rank = entries // len(group)
    owner = np.repeat(np.arange(len(sizes)), np.diff(starts))
    fresh = np.append(True, (rank[1:] != rank[:-1]) | (owner[1:] != owner[:-1])) if len(rank) else np.zeros(0, bool)
    starts = np.concatenate([[0], np.cumsum(np.bincount(owner[fresh], minlength=len(sizes)))]).astype(np.int64)
    return starts, rank[fresh].astype(np.int32)


def collect(found: Index) -> Iterator[Pairs]:
    """Candidate pairs in chunks of probing rows; the index's report counts them as they come.

    Each pair comes once, the incoming row on the left (of two rows the one later in content order).
    """
    n = len(found.ranks)
    stamp, slot = np.full(n, -1, np.int32), np.zeros(n, np.int32)
    lost = np.zeros(len(found.report.names) + 1, np.int64)
    counts = np.empty(2 * len(found.places) * kernel.MOST_BITS + 1, np.int64)
    report = found.report
    blocks = kernel.Blocks(
        found.n_existing,
        found.pass_of,
        found.first_group,
        found.places,
        found.starts,
        found.members,
        found.whole,
        found.entry,
        LIMIT,
        CAP,
    )
    for start in range(found.n_existing, n, _ROWS):
        rows = np.arange(start, min(start + _ROWS, n), dtype=np.int32)
        room = len(rows) * CAP + len(report.names) * 2 * (LIMIT + 2) * 4
        while True:
            left, right, mask = np.empty(room, np.int32), np.empty(room, np.int32), np.empty(room, np.uint64)
            score = np.empty(room, np.int32)
            before = lost.copy()
            count = kernel.collect(rows, blocks, kernel.Room(left, right, mask, score, stamp, slot, lost, counts))
            if count >= 0:
                break
            room *= 2
            stamp[:] = -1
            lost[:] = before
        mask = mask[:count].copy()
        made_by, times = np.unique(mask, return_counts=True)
        for p, name in enumerate(report.names):
            bit = np.uint64(1 << p)
            report.pairs[name] = report.pairs.get(name, 0) + int(times[made_by & bit > 0].sum())
            report.alone[name] = report.alone.get(name, 0) + int(times[made_by == bit].sum())
        yield Pairs(found.ranks[left[:count]], found.ranks[right[:count]], mask)
    found.report = PassReport(
        report.names,
        report.keyed,
        report.narrowed,
        tuple(int(a + b) for a, b in zip(report.left_out, lost, strict=False)),
        report.pairs,
        report.alone,
    )
