"""What is to be done to the store, record by record and value by value."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import pyarrow as pa
from numpy.typing import NDArray

from brujula.core.decide import CREATE, MERGE, UPDATE

WHY = (
    "the record had none",
    "the policy says the list replaces it",
    "the opt-out stays",
    "what the others add is joined",
    "new record",
    "completes the block it belongs to",
    "it was changed in the list that came back",
    "the newest value stays",
    "the most trusted source",
    "the longest value stays",
    "most of them say so",
    "the record is active again",
    "the person is at another account now",
    "where the person was before",
    "the policy gives it out",
    "the whole name, taken apart",
)
(
    W_FILL,
    W_REPLACE,
    W_STRICT,
    W_JOIN,
    W_NEW,
    W_BLOCK,
    W_RETURNED,
    W_NEWEST,
    W_TRUSTED,
    W_LONGEST,
    W_FREQUENT,
    W_REVIVED,
    W_MOVED,
    W_BEFORE,
    W_OWNER,
    W_APART,
) = range(16)


@dataclass(frozen=True)
class Actions:
    """Things to do to the store.

    kind    : int8[n], decide.CREATE, UPDATE or MERGE
    off, members : members of each action in order: the survivor (or, for create, the most complete row), then the other
              existing records, then the rows
    """

    kind: NDArray[np.int8]
    off: NDArray[np.int64]
    members: NDArray[np.int32]

    def __len__(self) -> int:
        return len(self.kind)

    @property
    def base(self) -> NDArray[np.int32]:
        """First member of each action."""
        return self.members[self.off[:-1]]


@dataclass(frozen=True)
class FieldChanges:
    """Values of one field to be written: parallel arrays, one entry per action that writes it.

    action : int64; source : int32, the record or row the value comes from; why : int8 in WHY
    text   : the values themselves where they were made or joined, string[n]; None where each is its source's own
    """

    field: str
    action: NDArray[np.int64]
    source: NDArray[np.int32]
    why: NDArray[np.int8]
    text: pa.Array | None = None

    def take(self, at: NDArray[np.int64]) -> FieldChanges:
        """Some of the entries."""
        text = None if self.text is None else self.text.take(pa.array(at))
        return FieldChanges(self.field, self.action[at], self.source[at], self.why[at], text)


def make_actions(
    outcome: NDArray[np.int8], group: NDArray[np.int32], n_existing: int, rank: NDArray[np.int64], idle: NDArray[np.bool_]
) -> tuple[Actions, NDArray[np.int64]]:
    """One action for each group with a row that acts, in order of its first row; and per row its action (-1 = none).

    Without rows, one merge for each group of existing records.
    idle   : bool[n_rows], rows that were loaded before: they have their action, and nothing to add to it
    rank   : int64[n_records], who stays before whom
    The members of an action: existing records in that order, then rows likewise.
    """
    n_groups = int(group.max(initial=-1)) + 1
    number = np.full(n_groups, -1, np.int64)
    action_of_row = np.full(len(outcome), -1, np.int64)
    if len(outcome):
        rows = np.flatnonzero(np.isin(outcome, (CREATE, UPDATE, MERGE)))
        row_group = group[n_existing + rows]
        chosen, first = np.unique(row_group, return_index=True)
        order = np.argsort(first, kind="stable")
        number[chosen[order]] = np.arange(len(chosen))
        action_of_row[rows] = number[row_group]
        kind = outcome[rows[first[order]]].astype(np.int8)
    else:
        several = np.flatnonzero(np.bincount(group, minlength=n_groups) > 1)
        number[several] = np.arange(len(several))
        kind = np.full(len(several), MERGE, np.int8)
    takes_part = number[group] >= 0
    takes_part[n_existing:] &= (action_of_row >= 0) & ~idle
    takes_part[:n_existing] &= np.append(kind, -1)[number[group[:n_existing]]] != CREATE
    members = np.flatnonzero(takes_part).astype(np.int32)
    sort = np.lexsort((rank[members], members >= n_existing, number[group[members]]))
    members = members[sort]
    off = np.concatenate([[0], np.cumsum(np.bincount(number[group[members]], minlength=len(kind)))]).astype(np.int64)
    return Actions(kind, off, members), action_of_row


def also_update(
    actions: Actions, group: NDArray[np.int32], row: NDArray[np.int32], record: NDArray[np.int32], n_existing: int
) -> Actions:
    """The actions, with rows that go into further records too: into the action of the record's group, or into an update of its own behind.

    row, record : int32[n], row by row; group : int32[n_records], of every record and row
    """
    if len(row) == 0:
        return actions
    number = np.full(int(group.max()) + 1, -1, np.int64)
    number[group[actions.base]] = np.arange(len(actions))
    fresh = np.unique(group[record[number[group[record]] < 0]])
    number[fresh] = len(actions) + np.arange(len(fresh))
    alone = record[number[group[record]] >= len(actions)]
    owner = np.concatenate(
        [np.repeat(np.arange(len(actions)), np.diff(actions.off)), number[group[np.unique(alone)]], number[group[record]]]
    )
    members = np.concatenate([actions.members, np.unique(alone), row + n_existing]).astype(np.int32)
    order = np.argsort(owner, kind="stable")
    off = np.concatenate([[0], np.cumsum(np.bincount(owner, minlength=len(actions) + len(fresh)))]).astype(np.int64)
    return Actions(np.append(actions.kind, np.full(len(fresh), UPDATE, np.int8)).astype(np.int8), off, members[order])
