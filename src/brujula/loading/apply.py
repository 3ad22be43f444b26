"""Carrying a plan out: one transaction, with before and after of every field in the journal of the same store."""

from __future__ import annotations

import getpass
import hashlib
import json
import os
from collections import Counter
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import sqlalchemy as sa
from sqlalchemy.engine import Connection

from brujula.errors import PlanError, StoreError, UsageError, path_as_text
from brujula.loading.children import attach, follow
from brujula.loading.journal import Load, load_of
from brujula.loading.naming import MERGED, MERGED_LEFT, NEW
from brujula.loading.results import write_results
from brujula.loading.steps import Step, Work, remembered, stop_if_changed, trouble, work_of
from brujula.stores import is_service, open_database
from brujula.stores.sql import CHANGES, LOADS, MOVES, RECORDS, ROWS, TARGETS, SqlStore
from brujula.stores.target import insert_many

Clock = Callable[[], datetime]
OnStep = Callable[[str], None]
_IN = 500  # ids in one question


def now() -> datetime:
    """The time of day, as loads record it."""
    return datetime.now(UTC)


def quiet(_: str) -> None:
    """No progress shown."""


def load(plan: str | Path, into: str, clock: Clock = now, roll_back: bool = False, on_step: OnStep = quiet) -> Load:
    """Carry a plan folder out, or fill an empty store with a list as it stands, ids kept.

    into : a store's URL; or, for a plan made against a file, the path of a new file to write (`loading.files`)
    on_step : is told what is being done
    roll_back : take a load of this plan that was cut off back, where the store is a service, instead of finishing it

    Actions whose records changed or vanished since the plan was made are held and named in `Load.reasons`; the others go on, unless the
    policy says to stop. In a database everything is one transaction: a load that is killed leaves nothing behind, and running it again does
    it once. To a service it goes step by step, with a journal beside it: running it again finishes it (`loading.remote`).

    Raises PlanError for a folder that is no plan, or a plan this store has loaded already; StoreError when the store fails.
    """
    path = Path(plan)
    if "://" not in str(into):
        from brujula.loading.files import load_into_file

        return load_into_file(path, Path(into), clock().isoformat(timespec="seconds"), who())
    if is_service(into):
        if path.is_file():
            raise UsageError(
                f"{path}: a service gives records their ids itself; `brujula plan {path} --against {into}` and load that"
            )
        from brujula.loading.remote import load_into_service

        return load_into_service(work_of(path), into, clock, roll_back, on_step)
    if roll_back:
        raise UsageError(
            f"{into.split('@')[-1]}: a database holds no half of a load: it was done as a whole, or nothing of it was"
        )
    if path.is_file():
        return _fill(path, into, clock)
    work = work_of(path)
    with open_database(into, create=True, own=work.store) as store, store.writing() as connection:
        refuse_twice(connection, work)
        number = next_number(connection)
        new: dict[str, str] = {}
        if work.accounts and work.accounts.steps:
            first, new = _carry_out(connection, store, number, work.accounts, clock)
            number += 1
        found, records = _carry_out(connection, store, number, _with_accounts(work, new), clock)
    if work.accounts and new:
        write_results(work.accounts.path, first, work.accounts.actions, new)
    write_results(path, found, work.actions, records)
    return found


def refuse_twice(connection: Connection, work: Work) -> None:
    """Raises PlanError for a plan that was loaded already."""
    done = connection.execute(sa.select(LOADS).where(LOADS.c.digest == work.digest, LOADS.c.state == "loaded")).mappings().first()
    if done and (work.steps or work.rows):
        raise PlanError(
            f"{work.path}: this plan was loaded as L{done['number']} at {done['loaded_at']}; plan the list again to see what is left to do"
        )


def next_number(connection: Connection) -> int:
    """The number of the next load."""
    return int(connection.execute(sa.select(sa.func.max(LOADS.c.number))).scalar() or 0) + 1


def _with_accounts(work: Work, new: dict[str, str]) -> Work:
    """The work on contacts with the ids of the accounts that were made for them."""
    if not new:
        return work
    steps = tuple(replace(s, changes=tuple(with_account(c, new) for c in s.changes)) for s in work.steps)
    return replace(work, steps=steps)


def with_account(change: Mapping[str, str], new: Mapping[str, str]) -> dict[str, str]:
    """A change with the id of the account that an action of the same plan made. new : action to id"""
    after = change["after"]
    if change["field"] == "account_id" and after.startswith(NEW):
        after = new.get(after[len(NEW) :], "")
    return {**change, "after": after}


def _carry_out(connection: Connection, store: SqlStore, number: int, work: Work, clock: Clock) -> tuple[Load, dict[str, str]]:
    """The load, and the record of every action that was carried out."""
    target = store.target(work.entity)
    stored = target.fetch(connection, work.touched)
    whole = target.whole(connection, work.touched)
    backup(work.path, whole.values())
    at = clock().isoformat(timespec="seconds")
    held: list[tuple[str, str]] = []
    going: list[Step] = []
    for step in work.steps:
        why = (trouble(stored, step) if step.kind != "create" else "") or target.named_wrongly(
            step.values | ({"active": "no"} if work.leaves and step.losers else {})
        )
        if why:
            held.append((step.label, why))
        else:
            going.append(step)
    stop_if_changed(work, held, store.shown)
    creates = [s for s in going if s.kind == "create"]
    made = target.insert(connection, [s.values | {"id": f"L{number}-{s.label[1:]}"} for s in creates])
    record_of = {s.label: s.record for s in going} | {s.label: record for s, record in zip(creates, made, strict=True)}
    moves = [move_line(number, record, s.label, "created") for s, record in zip(creates, made, strict=True)]
    into = {gone: s.record for s in going for gone in s.losers}
    what = MERGED_LEFT if work.leaves else MERGED
    moves += [
        move_line(number, gone, s.label, what, s.record, None if work.leaves else whole[gone]) for s in going for gone in s.losers
    ]
    stamped = {"updated_at": at} if target.stamp is not None else {}
    target.update(connection, {s.record: s.values | stamped for s in going if s.record and (s.values or s.losers)})
    log: list[dict[str, Any]] = []
    for step in going:
        before = stored.get(step.record, {})
        changes = [*step.changes]
        if stamped and step.record and (step.values or step.losers):
            changes = [c for c in changes if c["field"] != "updated_at"]
            changes.append({"field": "updated_at", "after": at, "from": "the load", "why": "when it was changed"})
        for change in changes:
            log.append(change_line(number, len(log), step.label, record_of[step.label], change, before.get(change["field"])))
    if work.leaves:
        target.update(connection, dict.fromkeys(into, {"active": "no"}))
        for step in going:
            for gone in step.losers:
                change = {"field": "active", "after": "no", "from": f"record {step.record}", "why": "it was merged into it"}
                log.append(change_line(number, len(log), step.label, gone, change, stored[gone].get("active")))
    if work.store.table:
        log = _as_stored(number, log, target.fetch(connection, sorted({*record_of.values(), *into})), set(made))
    if work.entity == "account" and into and not work.store.table:
        moves += _pointed_elsewhere(connection, number, into, log)
    moves += follow(connection, number, work.entity, into)
    if not work.leaves:
        target.remove(connection, sorted(into))
    insert_many(connection, CHANGES, log)
    insert_many(connection, MOVES, moves)
    attach(connection, number, work.entity, work.path, work.children, record_of)
    insert_many(connection, ROWS, remembered(work, number, record_of, {label for label, _ in held}))
    if work.store.table:
        connection.execute(TARGETS.insert(), {"load": number, "content": work.store.model_dump_json()})
    line = load_line(work, number, at, going, len(log), len(held))
    connection.execute(LOADS.insert(), line)
    return replace(load_of(line), reasons=tuple(held)), record_of


def _as_stored(
    number: int, log: list[dict[str, Any]], now: Mapping[str, Mapping[str, str | None]], made: set[str]
) -> list[dict[str, Any]]:
    """The values written as the table's columns hold them (3.5 as 3.50), and what it gave new records itself."""
    out = [{**line, "after": now[line["record_id"]][line["field"]]} for line in log]
    wrote = {(line["record_id"], line["field"]) for line in out}
    action = {line["record_id"]: line["action"] for line in out}
    for record in sorted(made):
        for field, value in now[record].items():
            if value is not None and field != "id" and (record, field) not in wrote:
                change = {"field": field, "after": value, "from": "the store", "why": "the store gives it"}
                out.append(change_line(number, len(out), action.get(record, ""), record, change, None))
    return out


def load_line(
    work: Work, number: int, at: str, done: Sequence[Step], fields: int, held: int, state: str = "loaded"
) -> dict[str, Any]:
    """A load's line in the journal."""
    counts = Counter(s.kind for s in done)
    return {
        "number": number,
        "entity": work.entity,
        "list": work.name,
        "digest": work.digest,
        "state": state,
        "loaded_at": at,
        "undone_at": None,
        "who": who(),
        "created": counts["create"],
        "updated": counts["update"],
        "merged": counts["merge"],
        "fields": fields,
        "held": held,
    }


def move_line(
    number: int, record: str, label: str, what: str, survivor: str | None = None, content: str | None = None
) -> dict[str, Any]:
    """A line of the journal: a record made, merged away or pointed elsewhere."""
    return {"load": number, "record_id": record, "action": label, "what": what, "survivor": survivor, "content": content}


def change_line(number: int, seq: int, label: str, record: str, change: Mapping[str, str], before: str | None) -> dict[str, Any]:
    """A line of the journal: a value written."""
    return {
        "load": number,
        "seq": seq,
        "action": label,
        "record_id": record,
        "field": change["field"],
        "before": before,
        "after": change["after"],
        "source": change["from"],
        "why": change["why"],
    }


def backup(folder: Path, records: Iterable[str]) -> None:
    """Every record to be touched as it stands, a JSON object a line, in the plan folder; kept there before anything is written."""
    path = folder / "backup.jsonl"
    beside = path.with_suffix(".part")
    try:
        with beside.open("w", encoding="utf-8") as out:
            out.writelines(f"{record}\n" for record in records)
            out.flush()
            os.fsync(out.fileno())
        beside.replace(path)
    except OSError as error:
        beside.unlink(missing_ok=True)
        raise StoreError(
            f"{path}: the records to be touched cannot be kept there first: {error.strerror}; nothing was written"
        ) from None


def _pointed_elsewhere(
    connection: Connection, number: int, into: Mapping[str, str], log: list[dict[str, Any]]
) -> list[dict[str, Any]]:
    """What pointed at accounts merged away points at those that took them in: contacts, and accounts below them. Returns the moves."""
    made = []
    people, firms = RECORDS["contact"], RECORDS["account"]
    gone = sorted(into)
    for start in range(0, len(gone), _IN):
        some = gone[start : start + _IN]
        tied = sa.select(people.c.id, people.c.account_id).where(people.c.account_id.in_(some))
        for row in connection.execute(tied).fetchall():
            after = into[row.account_id]
            connection.execute(people.update().where(people.c.id == row.id).values(account_id=after))
            told = json.dumps({"id": row.id, "before": row.account_id, "after": after})
            made.append(move_line(number, f"contact {row.id}", "", "pointed elsewhere", after, told))
        below = sa.select(firms.c.id, firms.c.parent_id).where(firms.c.parent_id.in_(some), firms.c.id.not_in(gone))
        for row in connection.execute(below).fetchall():
            # What belonged to its own double is not made to belong to itself.
            after = into[row.parent_id] if into[row.parent_id] != row.id else ""
            connection.execute(firms.update().where(firms.c.id == row.id).values(parent_id=after or None))
            change = {
                "field": "parent_id",
                "after": after,
                "from": f"record {row.parent_id}",
                "why": "what it belonged to was merged away",
            }
            log.append(change_line(number, len(log), "", row.id, change, row.parent_id))
    return made


def _fill(path: Path, into: str, clock: Clock) -> Load:
    """Fill an entity's empty table with a list, read as a plan reads the records. Raises StoreError when records are there already."""
    from brujula.intake import sources
    from brujula.intake.entity import entity_of
    from brujula.intake.read import read_list
    from brujula.intake.shape import as_it_is
    from brujula.policy.entities import ENTITIES

    raw = read_list(path)
    entity = entity_of(raw.table)
    # What this writes itself is taken back word for word.
    listed = as_it_is(raw, entity, apart=not set(ENTITIES[entity].fields).issuperset(raw.table.column_names))
    sources.record_ids(listed)
    columns = {field: values.to_pylist() for field, values in listed.values.items()}
    records = [dict(zip(columns, values, strict=True)) for values in zip(*columns.values(), strict=True)]
    with open_database(into, create=True) as store, store.writing() as connection:
        _must_be_empty(connection, store, entity, path)
        number = next_number(connection)
        full = [dict.fromkeys(RECORDS[entity].c.keys()) | {f: v or None for f, v in r.items()} for r in records]
        insert_many(connection, RECORDS[entity], full)
        insert_many(
            connection,
            MOVES,
            [
                {"load": number, "record_id": r["id"], "action": "", "what": "created", "survivor": None, "content": digest_of(r)}
                for r in full
            ],
        )
        line = {
            "number": number,
            "entity": entity,
            "list": path_as_text(path),
            "digest": hashlib.sha256(path.read_bytes()).hexdigest(),
            "state": "loaded",
            "loaded_at": clock().isoformat(timespec="seconds"),
            "undone_at": None,
            "who": who(),
            "created": len(full),
            "updated": 0,
            "merged": 0,
            "fields": sum(1 for r in full for field, value in r.items() if value is not None and field != "id"),
            "held": 0,
        }
        connection.execute(LOADS.insert(), line)
    return replace(load_of(line), read=tuple(listed.columns.items()), left_out=listed.left_out)


def digest_of(record: Mapping[str, Any]) -> str:
    """What a record that filled an empty store said, in short: undo asks whether it still does."""
    said = json.dumps({f: v for f, v in record.items() if v}, ensure_ascii=False, sort_keys=True)
    return hashlib.sha256(said.encode()).hexdigest()[:32]


def _must_be_empty(connection: Connection, store: SqlStore, entity: str, path: Path) -> None:
    there = connection.execute(sa.select(sa.func.count()).select_from(RECORDS[entity])).scalar() or 0
    if there:
        raise StoreError(
            f"{store.shown}: holds {there:,} {entity} records already; a list fills an empty store only. "
            f"`brujula plan {path} --against {store.shown} --out DIR` decides what becomes of its rows"
        )


def who() -> str:
    """Who is at the keyboard."""
    try:
        return getpass.getuser()
    except (KeyError, OSError):
        return "unknown"
