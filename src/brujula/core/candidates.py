"""Candidate pairs: records that share at least one key, brought together by several independent passes."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from brujula.core.arrays import Pairs, PassReport
from brujula.core.batch import Batch, Keys
from brujula.core.kernels import blocks as kernel
from brujula.core.steps.parallel import spread
from brujula.core.steps.text import hash_values, join_keys, of_records

LIMIT = 20
"""Most records of one side that share a key before the key is narrowed."""
CAP = 32
"""Most candidates one row keeps."""
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


def content_keys(batch: Batch) -> Keys:
    """A key per record of all it holds, whatever its place in the list."""
    total = np.zeros(len(batch), np.uint64)
    for field in sorted(batch.columns):
        column = batch.columns[field]
        salt = np.uint64(sum(ord(c) * 131**i for i, c in enumerate(field)) % (1 << 61) * 2 + 1)
        total += of_records(hash_values(column.values), column) * salt
    return total


@dataclass
class Index:
    """Records ranked by content (existing first), and per key column the group each belongs to."""

    ranks: NDArray[np.int32]  # record of each rank
    entry: NDArray[np.int32]  # per rank, a number from its content that says where an oversized group is entered
    n_existing: int
    pass_of: NDArray[np.int64]
    places: NDArray[np.int64]
    starts: NDArray[np.int64]
    members: NDArray[np.int32]
    report: PassReport


def index(batch: Batch, keys: Mapping[str, Keys], passes: Sequence[Pass], content: Keys) -> Index:
    """Group the records by every pass. Incoming rows probe; with no incoming rows the existing records probe one another.

    keys : "kind.key" to uint64[n], or uint64[k, n] where a record has several of a kind
    Cost linear in records and passes. A group over LIMIT is narrowed by the pass's second key.
    """
    n_existing = batch.n_existing if batch.n_incoming else 0
    incoming = np.arange(len(batch)) >= n_existing
    ranks = np.lexsort((content, incoming)).astype(np.int32)
    probe = incoming[ranks]
    usable = [number for number, one in enumerate(passes) if all(p in keys for p in one.parts)]

    def build(number: int) -> _Built:
        columns = _joined(keys, passes[number], ranks)
        return _build(np.stack(columns), probe, n_existing, keys.get(passes[number].narrow), ranks)

    built = dict(zip(usable, spread(build, usable), strict=True))
    places, pass_of, starts, members = [], [], [np.zeros(0, np.int64)], [np.zeros(0, np.int32)]
    group_base, member_base = 0, 0
    for number, one in built.items():
        for group in one.groups:
            places.append(np.where(group >= 0, group.astype(np.int64) + group_base, -1))
            pass_of.append(number)
        starts.append(one.starts + member_base)
        members.append(one.members)
        group_base += len(one.starts)
        member_base += len(one.members)
    told = [built.get(number, _NOTHING) for number in range(len(passes))]
    report = PassReport(
        tuple(p.name for p in passes),
        tuple(b.n_keyed for b in told),
        tuple(b.n_narrowed for b in told),
        tuple(b.n_lost for b in told),
    )
    entry = (content[ranks] >> np.uint64(33)).astype(np.int32)
    found = np.stack(places) if places else np.zeros((0, len(batch)), np.int64)
    return Index(
        ranks, entry, n_existing, np.array(pass_of, np.int64), found, np.concatenate(starts), np.concatenate(members), report
    )


def _joined(keys: Mapping[str, Keys], one: Pass, order: NDArray[np.int32]) -> list[Keys]:
    """The pass's keys of the records in an order; several where a record has several of a kind."""
    parts = [keys[p] for p in one.parts]
    columns = []
    for d in range(max(p.shape[0] if p.ndim == 2 else 1 for p in parts)):
        flat = [np.ascontiguousarray(p[d] if p.ndim == 2 else p) for p in parts]
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
        """Records that share a key with the one record keys are of, at most CAP, those found by most passes first."""
        found = [np.zeros(0, np.int32)]
        first = np.zeros(1, np.int32)
        for one, (column, record) in zip(self._passes, self._sorted, strict=True):
            narrow = keys.get(one.narrow)
            for key in _joined(keys, one, first):
                if key[0] == 0:
                    continue
                low, high = np.searchsorted(column, key[0], "left"), np.searchsorted(column, key[0], "right")
                hits = record[low:high]
                if len(hits) > LIMIT and narrow is not None:
                    own, theirs = (k if k.ndim == 1 else k[0] for k in (narrow, self._keys[one.narrow]))
                    hits = hits[theirs[hits] == own[0]]
                found.append(hits[:CAP])
        records, counts = np.unique(np.concatenate(found), return_counts=True)
        return records[np.lexsort((records, -counts))][:CAP].astype(np.int32)


class _Built(NamedTuple):
    """One pass: per key column the group of each rank (-1 = none), the groups' members, and counts for the report."""

    groups: NDArray[np.int32]
    starts: NDArray[np.int64]
    members: NDArray[np.int32]
    n_keyed: int
    n_narrowed: int
    n_lost: int


_NOTHING = _Built(np.zeros((0, 0), np.int32), np.zeros(1, np.int64), np.zeros(0, np.int32), 0, 0, 0)


def _build(
    columns: NDArray[np.uint64], probe: NDArray[np.bool_], n_existing: int, narrow: Keys | None, ranks: NDArray[np.int32]
) -> _Built:
    """Groups of one pass. columns : uint64[depth, n], for a record with several keys of a kind; they share one numbering.

    Groups over LIMIT are narrowed by joining the second key to theirs.
    """
    n_lost = 0
    group, n_groups = _number(columns, probe)
    big = _oversized(group, n_groups, n_existing)
    n_narrowed = int(big.sum())
    if n_narrowed and narrow is not None:
        flat = narrow if narrow.ndim == 1 else narrow[0]
        second = np.where(np.append(big, False)[group], flat[ranks], np.uint64(1))
        n_lost = int((second == 0).sum())
        columns = np.stack([join_keys(column, np.ascontiguousarray(more)) for column, more in zip(columns, second, strict=True)])
        group, n_groups = _number(columns, probe)
    starts, members = _members(group, n_groups)
    return _Built(group, starts, members, int((columns != 0).any(axis=0).sum()), n_narrowed, n_lost)


def _number(columns: NDArray[np.uint64], probe: NDArray[np.bool_]) -> tuple[NDArray[np.int32], int]:
    """Group number of every key, int32[depth, n] (-1 where nobody probes for it), and how many groups there are."""
    flat = columns.reshape(-1)
    group = np.empty(len(flat), np.int32)
    n = kernel.number_keys(flat, np.tile(probe, len(columns)), group)
    return group.reshape(columns.shape), n


def _members(group: NDArray[np.int32], n_groups: int) -> tuple[NDArray[np.int64], NDArray[np.int32]]:
    """Starts of the groups, and their members by rank; who has a key twice is a member once."""
    # Ranks run slowest, so that the members of each group come in rank order.
    order = np.ascontiguousarray(group.T).reshape(-1)
    starts = np.concatenate([[0], np.cumsum(np.bincount(order[order >= 0], minlength=n_groups))]).astype(np.int64)
    entries = np.empty(int(starts[-1]), np.int32)
    kernel.list_members(order, starts, entries)
    if len(group) == 1:
        return starts, entries
    rank = entries // len(group)
    owner = np.repeat(np.arange(n_groups), np.diff(starts))
    fresh = np.append(True, (rank[1:] != rank[:-1]) | (owner[1:] != owner[:-1])) if len(rank) else np.zeros(0, bool)
    starts = np.concatenate([[0], np.cumsum(np.bincount(owner[fresh], minlength=n_groups))]).astype(np.int64)
    return starts, rank[fresh].astype(np.int32)


def _oversized(group: NDArray[np.int32], n_groups: int, n_existing: int) -> NDArray[np.bool_]:
    """Which groups hold more than LIMIT records of one side."""
    old, new = group[:, :n_existing].reshape(-1), group[:, n_existing:].reshape(-1)
    too_many = np.bincount(old[old >= 0], minlength=n_groups) > LIMIT
    return np.asarray(too_many | (np.bincount(new[new >= 0], minlength=n_groups) > LIMIT), bool)


def collect(found: Index) -> Iterator[Pairs]:
    """Candidate pairs in chunks of probing rows; the index's report counts them as they come.

    Each pair comes once, the incoming row on the left (of two rows the one later in content order).
    """
    n = len(found.ranks)
    stamp, slot = np.full(n, -1, np.int32), np.zeros(n, np.int32)
    lost = np.zeros(len(found.report.names) + 1, np.int64)
    report = found.report
    for start in range(found.n_existing, n, _ROWS):
        rows = np.arange(start, min(start + _ROWS, n), dtype=np.int32)
        room = len(rows) * CAP + len(report.names) * 2 * (LIMIT + 2) * 4
        while True:
            left, right, mask = np.empty(room, np.int32), np.empty(room, np.int32), np.empty(room, np.uint32)
            score = np.empty(room, np.int32)
            before = lost.copy()
            count = kernel.collect(
                rows,
                found.n_existing,
                found.pass_of,
                found.places,
                found.starts,
                found.members,
                found.entry,
                LIMIT,
                CAP,
                stamp,
                slot,
                left,
                right,
                mask,
                score,
                lost,
            )
            if count >= 0:
                break
            room *= 2
            stamp[:] = -1
            lost[:] = before
        mask = mask[:count].copy()
        for p, name in enumerate(report.names):
            here = (mask >> np.uint32(p)) & np.uint32(1) > 0
            report.pairs[name] = report.pairs.get(name, 0) + int(here.sum())
            report.alone[name] = report.alone.get(name, 0) + int((mask[here] == np.uint32(1 << p)).sum())
        yield Pairs(found.ranks[left[:count]], found.ranks[right[:count]], mask)
    found.report = PassReport(
        report.names,
        report.keyed,
        report.narrowed,
        tuple(int(a + b) for a, b in zip(report.left_out, lost, strict=False)),
        report.pairs,
        report.alone,
    )
