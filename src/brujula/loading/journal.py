"""Loads so far: their counts, states and changes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import sqlalchemy as sa

from brujula.errors import UsageError
from brujula.stores import open_store
from brujula.stores.sql import CHANGES, LOADS, MOVES


@dataclass(frozen=True)
class Load:
    """One load. id is `L1`, `L2` ...; state is loaded or undone; held are actions that were not carried out, with the reason.

    read, left_out : of a list that filled an empty store, just now: field to column, and the columns that no field takes
    """

    id: str
    entity: str
    list: str
    state: str
    loaded_at: str
    undone_at: str
    who: str
    created: int
    updated: int
    merged: int
    fields: int
    held: int
    reasons: tuple[tuple[str, str], ...] = ()
    read: tuple[tuple[str, str], ...] = ()
    left_out: tuple[str, ...] = ()


def history(store: str) -> list[Load]:
    """All loads of a store, the oldest first. Raises StoreError when it cannot be read."""
    with open_store(store, journal_only=True) as opened, opened.reading() as connection:
        if LOADS.name not in sa.inspect(connection).get_table_names():
            return []
        return [load_of(row) for row in connection.execute(sa.select(LOADS).order_by(LOADS.c.number)).mappings()]


def load_of(row: Any) -> Load:
    """A load from its line in the journal."""
    return Load(
        f"L{row['number']}",
        row["entity"],
        row["list"],
        row["state"],
        row["loaded_at"],
        row["undone_at"] or "",
        row["who"],
        row["created"],
        row["updated"],
        row["merged"],
        row["fields"],
        row["held"],
    )


def number_of(load: str) -> int:
    """The number in `L3`. Raises UsageError for anything else."""
    if not (load[:1] in "Ll" and load[1:].isdigit()):
        raise UsageError(f'"{load}" is no load; loads are called L1, L2, ...; `brujula history STORE` lists them')
    return int(load[1:])


def changes_of(store: str, load: str = "", record: str = "") -> list[dict[str, str]]:
    """Values written by one load, or to one record by all loads, in order. Raises UsageError for a load the store does not have."""
    with open_store(store, journal_only=True) as opened, opened.reading() as connection:
        if LOADS.name not in sa.inspect(connection).get_table_names():
            return []
        chosen = CHANGES.c.record_id == record
        moved = MOVES.c.record_id == record
        if load:
            number = number_of(load)
            if connection.execute(sa.select(LOADS.c.number).where(LOADS.c.number == number)).first() is None:
                raise UsageError(f"{opened.shown}: no load {load}; `brujula history {opened.shown}` lists them")
            chosen, moved = CHANGES.c.load == number, MOVES.c.load == number
        states = {r.number: r.state for r in connection.execute(sa.select(LOADS.c.number, LOADS.c.state))}
        lines = [
            (m["load"], 0, m["record_id"], "", "", m["survivor"] or "", "", m["what"])
            for m in connection.execute(sa.select(MOVES).where(moved)).mappings()
        ]
        lines += [
            (c["load"], c["seq"] + 1, c["record_id"], c["field"], c["before"] or "", c["after"] or "", c["source"], c["why"])
            for c in connection.execute(sa.select(CHANGES).where(chosen)).mappings()
        ]
    names = ("record_id", "field", "before", "after", "from", "why")
    return [
        {"load": f"L{number}" + (" (undone)" if states[number] == "undone" else "")} | dict(zip(names, rest, strict=True))
        for number, _, *rest in sorted(lines)
    ]
