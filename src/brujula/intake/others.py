"""Mailboxes in rows that name somebody else than whose they are."""

from __future__ import annotations

import re

import numpy as np
import pyarrow as pa
from numpy.typing import NDArray

from brujula.core.batch import Batch, Texts
from brujula.core.steps.text import fold, keys_without_case
from brujula.intake.astray import LINE, may_spell, sets_of_words
from brujula.problems import Problem


def mailboxes_of_others(batch: Batch, group: NDArray[np.int32], ids: pa.Array, column: str) -> list[Problem]:
    """Rows whose mailbox one record alone has, another than they go into, and spells its name and not theirs; with no word of the names, no phone and no street the same.

    group : int32[n_records], of every record and row;  ids : of the existing records;  column : heading of the mailboxes
    """
    n, mail = batch.n_existing, keys_without_case(batch.column("email"))
    asked = np.unique(mail[n:][mail[n:] != 0])
    if n == 0 or len(asked) == 0:
        return []
    place = np.minimum(np.searchsorted(asked, mail), len(asked) - 1)
    held = np.flatnonzero(asked[place[:n]] == mail[:n])
    holders, holder = np.bincount(place[held], minlength=len(asked)), np.zeros(len(asked), np.int64)
    holder[place[held]] = held
    rows = n + np.flatnonzero((mail[n:] != 0) & (holders[place[n:]] == 1))
    records = holder[place[rows]]
    family = keys_without_case(batch.column("family_name"))
    apart = (group[rows] != group[records]) & ((family[rows] == 0) | (family[rows] != family[records]))
    rows, records = rows[apart], records[apart]
    mailboxes = _texts(batch, "email", rows)
    boxes = [re.sub(r"(\+[^@]*)?@.*$|[^a-z@+]", "", m.lower()) for m in mailboxes]
    alone = (
        bool(box) and may_spell(box, theirs) and not may_spell(box, mine) and mine.isdisjoint(theirs) and bool(mine)
        for box, mine, theirs in zip(boxes, _names(batch, rows), _names(batch, records), strict=True)
    )
    shared = zip(_places(batch, rows), _places(batch, records), strict=True)
    return [
        Problem("anothers-mailbox", int(row) - n + 1, column, f"{mailbox} ({ids[int(record)].as_py()})", field="email")
        for row, record, mailbox, told, (a, b) in zip(rows, records, mailboxes, alone, shared, strict=True)
        if told and a.isdisjoint(b)
    ]


def _texts(batch: Batch, field: str, records: NDArray[np.int64]) -> list[str]:
    column = batch.column(field)
    codes = column.codes[records]
    return [t or "" for t in column.values.arrow().take(pa.array(codes, mask=codes < 0)).to_pylist()]


def _names(batch: Batch, records: NDArray[np.int64]) -> list[set[str]]:
    """The words of each name."""
    parts = [_texts(batch, field, records) for field in ("given_name", "family_name", "full_name")]
    words = fold(Texts.of(pa.array([" ".join(name) for name in zip(*parts, strict=True)], pa.large_string())))
    return sets_of_words(words, np.arange(len(records)))


def _places(batch: Batch, records: NDArray[np.int64]) -> list[set[str]]:
    """The last digits of each one's phones, and the street without what is no letter and no digit."""
    lines = [[re.sub(r"\D", "", t)[-LINE:] for t in _texts(batch, field, records)] for field in ("phone", "mobile")]
    streets = [re.sub(r"[\W_]", "", t.lower()) for t in _texts(batch, "street", records)]
    return [set(filter(None, told)) for told in zip(*lines, streets, strict=True)]
