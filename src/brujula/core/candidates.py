"""Candidate pairs: records that share at least one key, brought together by several independent passes."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from brujula.core.arrays import Pairs, PassReport
from brujula.core.batch import Batch, Keys
from brujula.core.kernels import blocks as kernel
from brujula.core.steps.parallel import spread
from brujula.core.steps.text import hash_values, join_keys, of_records

LIMIT = 40
"""Most records of one side that share a key before the key is narrowed."""
CAP = 120
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


def _groups(keys: Keys, probe: NDArray[np.bool_]) -> tuple[NDArray[np.int32], NDArray[np.int64], NDArray[np.int32]]:
    """Group of each rank, starts and members of the groups."""
    group = np.empty(len(keys), np.int32)
    n = kernel.number_keys(keys, probe, group)
    starts = np.concatenate([[0], np.cumsum(np.bincount(group[group >= 0], minlength=n))]).astype(np.int64)
    members = np.empty(int(starts[-1]), np.int32)
    kernel.list_members(group, starts, members)
    return group, starts, members


def _oversized(group: NDArray[np.int32], n: int, n_existing: int) -> NDArray[np.bool_]:
    """Which groups hold more than LIMIT records of one side."""
    old, new = group[:n_existing], group[n_existing:]
    too_many = np.bincount(old[old >= 0], minlength=n) > LIMIT
    return np.asarray(too_many | (np.bincount(new[new >= 0], minlength=n) > LIMIT), bool)


def index(batch: Batch, keys: Mapping[str, Keys], passes: Sequence[Pass], content: Keys) -> Index:
    """Group the records by every pass. Incoming rows probe; with no incoming rows the existing records probe one another.

    keys : "kind.key" to uint64[n], or uint64[k, n] where a record has several of a kind
    Cost linear in records and passes. A group over LIMIT is narrowed by the pass's second key.
    """
    n_existing = batch.n_existing if batch.n_incoming else 0
    incoming = np.arange(len(batch)) >= n_existing
    ranks = np.lexsort((content, incoming)).astype(np.int32)
    probe = incoming[ranks]
    columns: list[tuple[int, Keys]] = []
    for number, one in enumerate(passes):
        parts = [keys[p] for p in one.parts if p in keys]
        if len(parts) < len(one.parts):
            continue
        depth = max(p.shape[0] if p.ndim == 2 else 1 for p in parts)
        for d in range(depth):
            flat = [np.ascontiguousarray((p[d] if p.ndim == 2 else p)[ranks]) for p in parts]
            columns.append((number, join_keys(flat[0], *flat[1:])))
    keyed, narrowed, left_out = ([0] * len(passes) for _ in range(3))

    def build(column: tuple[int, Keys]) -> tuple[NDArray[np.int32], NDArray[np.int64], NDArray[np.int32], int, int, int]:
        number, key = column
        merged = key
        if sum(1 for c, _ in columns if c == number) > 1:
            merged = np.concatenate([k for c, k in columns if c == number])
        group, starts, members = (
            _groups(merged, np.tile(probe, len(merged) // len(probe))) if len(merged) != len(key) else _groups(key, probe)
        )
        if len(merged) != len(key):
            # A record's second number may be another's first: both columns share one numbering.
            which = [i for i, (c, _) in enumerate(columns) if c == number].index(
                next(i for i, x in enumerate(columns) if x is column)
            )
            here = group[which * len(key) : (which + 1) * len(key)]
            order = np.argsort(group * np.int64(len(key)) + np.tile(np.arange(len(key)), len(merged) // len(key)), kind="stable")
            order = order[group[order] >= 0]
            rank = (order % len(key)).astype(np.int32)
            fresh = (
                np.append(True, (rank[1:] != rank[:-1]) | (group[order][1:] != group[order][:-1]))
                if len(order)
                else np.zeros(0, bool)
            )
            members, of = rank[fresh], group[order][fresh]
            starts = np.concatenate([[0], np.cumsum(np.bincount(of, minlength=int(group.max(initial=-1)) + 1))]).astype(np.int64)
            group = here
        big = _oversized(group, len(starts) - 1, n_existing)
        n_big = int(big.sum())
        lost = 0
        if n_big and passes[number].narrow in keys:
            caught = np.append(big, False)[group]
            second = np.where(caught, keys[passes[number].narrow][ranks], np.uint64(1))
            lost = int((second[caught] == 0).sum())
            group, starts, members = _groups(join_keys(key, np.ascontiguousarray(second)), probe)
        return group, starts, members, int((key != 0).sum()), n_big, lost

    built = list(spread(build, columns))
    places = np.full((len(columns), len(batch)), -1, np.int64)
    starts_all, members_all = [np.zeros(0, np.int64)], [np.zeros(0, np.int32)]
    group_base, member_base = 0, 0
    for c, ((number, _), (group, starts, members, n_keyed, n_big, lost)) in enumerate(zip(columns, built, strict=True)):
        places[c] = np.where(group >= 0, group.astype(np.int64) + group_base, -1)
        starts_all.append(starts + member_base)
        members_all.append(members)
        group_base += len(starts)
        member_base += len(members)
        keyed[number] += n_keyed
        narrowed[number] += n_big
        left_out[number] += lost
    names = tuple(p.name for p in passes)
    entry = (content[ranks] >> np.uint64(33)).astype(np.int32)
    return Index(
        ranks,
        entry,
        n_existing,
        np.array([c for c, _ in columns], np.int64),
        places,
        np.concatenate(starts_all),
        np.concatenate(members_all),
        PassReport(names, tuple(keyed), tuple(narrowed), tuple(left_out)),
    )


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
            before = lost.copy()
            count = kernel.collect(
                rows,
                found.n_existing,
                found.pass_of,
                found.places,
                found.starts,
                found.members,
                found.entry,
                n,
                LIMIT,
                CAP,
                stamp,
                slot,
                left,
                right,
                mask,
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
