"""Taking a load back: the store is then as it was, value for value."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Mapping, Sequence
from typing import Any

import sqlalchemy as sa

from brujula.errors import StoreError, UsageError
from brujula.loading.apply import Clock, digest_of, now
from brujula.loading.children import detach
from brujula.loading.journal import Load, load_of, number_of
from brujula.loading.naming import MERGED
from brujula.stores import is_service, open_database
from brujula.stores.sql import CHANGES, LOADS, MOVES, RECORDS, ROWS

_NAMED = 5
Records = Mapping[str, Mapping[str, Any]]


def undo(load: str, into: str, clock: Clock = now, keep_newer: bool = False, override: bool = False) -> Load:
    """Take a load back, in one transaction: created records go, changed fields get their former values, merged records return.

    load : its id, `L3`
    keep_newer : values that somebody changed since the load stay as they are now, and records it created that were changed since stay
    override : values go back to what they were before the load whatever they are now, and records it created go
    Raises UsageError for a load the store does not have or that is undone already; StoreError, naming record, field and values, when
    somebody changed since what the load wrote: then nothing is undone.
    """
    number = number_of(load)
    if is_service(into):
        from brujula.loading.remote import undo_in_service

        return undo_in_service(number, into, clock, keep_newer, override)
    with open_database(into, journal_only=True) as store, store.writing() as connection:
        line = connection.execute(sa.select(LOADS).where(LOADS.c.number == number)).mappings().first()
        if line is None:
            raise UsageError(f"{store.shown}: no load {load}; `brujula history {store.shown}` lists them")
        if line["state"] == "undone":
            raise UsageError(f"{store.shown}: {load} was undone already, at {line['undone_at']}")
        target = store.target(line["entity"], number)
        moves = connection.execute(sa.select(MOVES).where(MOVES.c.load == number)).mappings().all()
        changes = connection.execute(sa.select(CHANGES).where(CHANGES.c.load == number).order_by(CHANGES.c.seq)).mappings().all()
        created = {m["record_id"] for m in moves if m["what"] == "created"}
        touched = sorted({c["record_id"] for c in changes} | created | {m["record_id"] for m in moves if m["what"] == MERGED})
        stored = target.fetch(connection, touched)
        if keep_newer:
            changes, moves, created = untouched(stored, changes, moves, created)
        elif override:
            changes, moves, created = still_there(stored, changes, moves, created)
        else:
            later = sa.select(LOADS.c.number).where(LOADS.c.number > number, LOADS.c.state == "loaded").order_by(LOADS.c.number)
            check_unchanged(stored, store.shown, load, connection.execute(later).scalars().all(), changes, moves, created)
        target.remove(connection, sorted(created))
        former: dict[str, dict[str, str | None]] = defaultdict(dict)
        for change in reversed(changes):
            if change["record_id"] not in created:
                former[change["record_id"]][change["field"]] = change["before"]
        target.update(connection, former)
        target.restore(connection, [m["content"] for m in moves if m["what"] == MERGED])
        detach(connection, moves)
        for move in (m for m in moves if m["what"] == "pointed elsewhere"):
            told, people = json.loads(move["content"]), RECORDS["contact"]
            # One that was tied to a third account since is left there: it no longer points at what the merge made.
            here = (people.c.id == told["id"]) & (people.c.account_id == told["after"])
            connection.execute(people.update().where(here).values(account_id=told["before"]))
        connection.execute(ROWS.delete().where(ROWS.c.load == number))
        at = clock().isoformat(timespec="seconds")
        connection.execute(LOADS.update().where(LOADS.c.number == number).values(state="undone", undone_at=at))
        return load_of({**line, "state": "undone", "undone_at": at})


def _altered(moves: Any, stored: Records) -> set[str]:
    """Records that filled an empty store and no longer say what they said then."""
    said = {m["record_id"]: m["content"] for m in moves if m["what"] == "created" and m["content"]}
    return {r for r, content in said.items() if r in stored and digest_of(stored[r]) != content}


def untouched(stored: Records, changes: Any, moves: Any, created: set[str]) -> tuple[list[Any], list[Any], set[str]]:
    """What of a load nobody touched since: its changes that still stand, its merges whose records are not back, its records as it made them."""
    back = {m["record_id"] for m in moves if m["what"] == MERGED and m["record_id"] in stored}
    stands = [c for c in changes if (stored.get(c["record_id"], {}).get(c["field"]) or "") == (c["after"] or "")]
    wrote = {(c["record_id"], c["field"]): c["after"] for c in changes}
    created = created - _altered(moves, stored)
    as_made = {
        r
        for r in created & set(stored)
        if not changes or all((v or "") == (wrote.get((r, f)) or "") for f, v in stored[r].items() if f != "id")
    }
    kept = [m for m in moves if m["record_id"] not in back and (m["what"] != "created" or m["record_id"] in as_made)]
    return [c for c in stands if c["record_id"] in stored and c["record_id"] not in created], kept, as_made


def still_there(stored: Records, changes: Any, moves: Any, created: set[str]) -> tuple[list[Any], list[Any], set[str]]:
    """What of a load can be taken back at all: of records that are there, and merged ones that are not back."""
    left = [m for m in moves if m["what"] != MERGED or m["record_id"] not in stored]
    return [c for c in changes if c["record_id"] in stored], left, created & set(stored)


def check_unchanged(
    stored: Records, shown: str, load: str, later: Sequence[int], changes: Any, moves: Any, created: set[str]
) -> None:
    """Raise StoreError when a value the load wrote is no longer there, or a later load builds on it.

    stored : the records it touched, as they stand;  later : numbers of the loads after it
    """
    back = {m["record_id"] for m in moves if m["what"] == MERGED and m["record_id"] in stored}
    wrong = [f"record {r} is gone" for r in sorted(created | {c["record_id"] for c in changes}) if r not in stored]
    wrong += [f"record {r} is there again" for r in sorted(back)]
    for change in changes:
        value = stored.get(change["record_id"], {}).get(change["field"])
        if change["record_id"] in stored and (value or "") != (change["after"] or ""):
            wrong.append(
                f'{change["field"]} of record {change["record_id"]} is now "{value or ""}", the load wrote "{change["after"]}"'
            )
    wrote = {(c["record_id"], c["field"]) for c in changes}
    wrong += [f"record {r}, which the load made, has been changed since" for r in sorted(_altered(moves, stored))]
    for record in sorted(created & set(stored)):
        more = [f for f, v in stored[record].items() if f != "id" and v and (record, f) not in wrote]
        if changes and more:
            wrong.append(f"{more[0]} of record {record}, which the load created, has been filled since")
    if wrong:
        hint = f" Later loads: {', '.join(f'L{n}' for n in later)}; undo those first." if later else ""
        shown_first = "; ".join(wrong[:_NAMED]) + (f"; and {len(wrong) - _NAMED} more" if len(wrong) > _NAMED else "")
        raise StoreError(
            f"{shown}: {load} cannot be undone, for the store changed since: {shown_first}.{hint} Nothing was undone; --keep-newer undoes "
            "the rest and leaves what was changed since, --override undoes all."
        )
