"""Mailboxes in rows that name somebody else than whose they are."""

from __future__ import annotations

import numpy as np
import pyarrow as pa
from numpy.typing import NDArray

from brujula.core import compare
from brujula.core.arrays import Graded, Pairs
from brujula.core.batch import Batch
from brujula.core.kind import GRADES, Standards
from brujula.fields import kinds
from brujula.problems import Problem

_ELSES = ("mailbox gives", "different", "another name of one initial")
"""How the levels are called of names that differ, or that only the mailbox makes alike."""


def mailboxes_of_others(
    batch: Batch, standards: Standards, group: NDArray[np.int32], ids: pa.Array, column: str
) -> list[Problem]:
    """Rows whose mailbox is made of the name of the one record that has it, not of theirs, and that go into another: with nothing of the names, no phone and no street in common.

    group : int32[n_records], of every record and row;  ids : of the existing records;  column : heading of the mailboxes
    """
    n, mailboxes = batch.n_existing, standards.of.get("email")
    if mailboxes is None or "person_name" not in standards.of:
        return []
    mail, own = mailboxes.full[: len(batch)], mailboxes.named[: len(batch)] != 0
    asked, place = np.unique(np.where(own[n:], np.uint64(0), mail[n:]), return_inverse=True)
    at = np.minimum(np.searchsorted(asked, mail[:n]), max(len(asked) - 1, 0))
    held = np.flatnonzero((asked[at] == mail[:n]) & (mail[:n] != 0)) if len(asked) else np.zeros(0, np.int64)
    holders, holder = np.bincount(at[held], minlength=len(asked)), np.zeros(len(asked), np.int64)
    holder[at[held]] = held
    single = np.flatnonzero(holders[place] == 1)
    rows, records = n + single, holder[place[single]]
    other = own[records] & (group[rows] != group[records])
    pairs = Pairs(rows[other].astype(np.int32), records[other].astype(np.int32), np.zeros(int(other.sum()), np.uint64))
    pairs = pairs.take(np.flatnonzero(_nothing_shared(pairs, standards)))
    told = zip(pairs.left.tolist(), pairs.right.tolist(), batch.column("email").texts(pairs.left).to_pylist(), strict=True)
    return [
        Problem("anothers-mailbox", row - n + 1, column, f"{mailbox} ({ids[record].as_py()})", field="email")
        for row, record, mailbox in told
    ]


def _nothing_shared(pairs: Pairs, standards: Standards) -> NDArray[np.bool_]:
    """Which pairs have another given and another family name, and neither phone nor street in common."""
    known = {name: kinds()[name] for name in ("person_name", "phone", "postal_address") if name in standards.of}
    wanted = tuple(
        c for kind in known.values() for c in kind.comparisons if c.field in ("given_name", "family_name", "phone", "street")
    )
    graded = compare.compare(pairs, Standards({name: standards.of[name] for name in known}), known, wanted)
    apart = graded.grades() <= GRADES.index("differs")
    for field in ("given_name", "family_name"):
        at = graded.column(field)
        apart[:, at] = _elses(graded, at)
    return np.asarray(apart.all(axis=1))


def _elses(graded: Graded, at: int) -> NDArray[np.bool_]:
    """Which pairs' names differ, but for what the mailbox gives."""
    levels = graded.comparisons[at].levels
    return np.array([any(said in level.name for said in _ELSES) for level in levels] + [False], bool)[graded.levels[:, at]]
