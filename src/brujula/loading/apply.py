"""Carrying a plan out: one transaction, with before and after of every field in the journal of the same store."""

from __future__ import annotations

import getpass
import hashlib
import json
from collections import defaultdict
from collections.abc import Callable, Mapping
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import sqlalchemy as sa
from sqlalchemy.engine import Connection

from brujula.errors import PlanError, StoreError
from brujula.intake import mapping, sources
from brujula.intake.read import read_list
from brujula.intake.shape import as_it_is
from brujula.loading.files import load_into_file
from brujula.loading.folder import ACCOUNTS, read_summary, read_table
from brujula.loading.journal import Load, load_of
from brujula.loading.naming import NEW
from brujula.loading.results import write_results
from brujula.stores import open_store
from brujula.stores.sql import CHANGES, LOADS, MOVES, RECORDS, ROWS, SqlStore, insert_many

Clock = Callable[[], datetime]
_IN = 500  # ids in one question


def now() -> datetime:
    """The time of day, as loads record it."""
    return datetime.now(UTC)


def load(plan: str | Path, into: str, clock: Clock = now) -> Load:
    """Carry a plan folder out, or fill an empty store with a list as it stands, ids kept.

    into : a store's URL; or, for a plan made against a file, the path of a new file to write (`loading.files`)

    Actions whose records changed or vanished since the plan was made are held and named in `Load.reasons`; the others go on.
    Everything is one transaction: a load that is killed leaves nothing behind, and running it again does it once.

    Raises PlanError for a folder that is no plan, or a plan this store has loaded already; StoreError when the store fails.
    """
    path = Path(plan)
    if "://" not in str(into):
        return load_into_file(path, Path(into), clock().isoformat(timespec="seconds"), _who())
    if path.is_file():
        return _fill(path, into, clock)
    summary = read_summary(path)
    entity = summary["entity"]
    actions, changes, rows = (read_table(path, name).to_pylist() for name in ("actions", "changes", "rows"))
    digest = hashlib.sha256(b"".join((path / f"{n}.csv").read_bytes() for n in ("actions", "changes", "rows"))).hexdigest()
    with open_store(into, create=True) as store, store.writing() as connection:
        done = connection.execute(sa.select(LOADS).where(LOADS.c.digest == digest, LOADS.c.state == "loaded")).mappings().first()
        if done and (actions or rows):
            raise PlanError(
                f"{path}: this plan was loaded as L{done['number']} at {done['loaded_at']}; plan the list again to see what is left to do"
            )
        number = (connection.execute(sa.select(sa.func.max(LOADS.c.number))).scalar() or 0) + 1
        if (path / ACCOUNTS).is_dir():
            number = _accounts_first(connection, path / ACCOUNTS, number, changes, clock)
        found, records = _carry_out(
            connection, number, entity, summary["incoming"]["name"], digest, actions, changes, rows, clock
        )
    write_results(path, found, actions, records)
    return found


def _accounts_first(connection: Connection, path: Path, number: int, changes: list[dict[str, str]], clock: Clock) -> int:
    """Carry the plan of the accounts out, as a load of its own in the same transaction; contacts' new accounts get their ids.

    Returns the number of the contacts' load.
    """
    summary = read_summary(path)
    actions, theirs, rows = (read_table(path, name).to_pylist() for name in ("actions", "changes", "rows"))
    digest = hashlib.sha256(b"".join((path / f"{n}.csv").read_bytes() for n in ("actions", "changes", "rows"))).hexdigest()
    if actions:
        _carry_out(connection, number, "account", summary["incoming"]["name"], digest, actions, theirs, rows, clock)
    for change in changes:
        if change["field"] == "account_id" and change["after"].startswith(NEW):
            change["after"] = f"L{number}-{change['after'][len(NEW) + 1 :]}"
    return number + bool(actions)


def _carry_out(
    connection: Connection,
    number: int,
    entity: str,
    name: str,
    digest: str,
    actions: list[dict[str, str]],
    changes: list[dict[str, str]],
    rows: list[dict[str, str]],
    clock: Clock,
) -> tuple[Load, dict[str, str]]:
    """The load, and the record of every action that was carried out."""
    table = RECORDS[entity]
    by_action: dict[str, list[dict[str, str]]] = defaultdict(list)
    for change in changes:
        by_action[change["action"]].append(change)
    wanted = {a["record_id"] for a in actions if a["record_id"]} | {i for a in actions for i in a["merged_ids"].split(";") if i}
    stored = _fetch(connection, table, sorted(wanted))
    held: list[tuple[str, str]] = []
    creates: list[dict[str, Any]] = []
    updates: dict[tuple[str, ...], list[dict[str, Any]]] = defaultdict(list)
    log: list[dict[str, Any]] = []
    moves: list[dict[str, Any]] = []
    removed: list[str] = []
    record_of: dict[str, str] = {}
    counts = {"create": 0, "update": 0, "merge": 0}
    for action in actions:
        label, kind, record = action["action"], action["kind"], action["record_id"]
        mine = by_action[label]
        losers = [i for i in action["merged_ids"].split(";") if i]
        if kind == "create":
            record = f"L{number}-{label[1:]}"
            creates.append(dict.fromkeys(table.c.keys()) | {c["field"]: c["after"] for c in mine} | {"id": record})
            moves.append(
                {"load": number, "record_id": record, "action": label, "what": "created", "survivor": None, "content": None}
            )
        else:
            trouble = _trouble(stored, record, losers, mine)
            if trouble:
                held.append((label, trouble))
                continue
            updates[tuple(sorted(c["field"] for c in mine))].append({c["field"]: c["after"] for c in mine} | {"_id": record})
            for loser in losers:
                removed.append(loser)
                content = json.dumps(dict(stored[loser]), ensure_ascii=False)
                moves.append(
                    {
                        "load": number,
                        "record_id": loser,
                        "action": label,
                        "what": "merged away",
                        "survivor": record,
                        "content": content,
                    }
                )
        record_of[label] = record
        counts[kind] += 1
        before = stored.get(record, {})
        log += [
            {
                "load": number,
                "seq": len(log) + i,
                "action": label,
                "record_id": record,
                "field": c["field"],
                "before": before.get(c["field"]),
                "after": c["after"],
                "source": c["from"],
                "why": c["why"],
            }
            for i, c in enumerate(mine)
        ]
    insert_many(connection, table, creates)
    for fields, values in updates.items():
        if fields:
            connection.execute(
                table.update().where(table.c.id == sa.bindparam("_id")).values({f: sa.bindparam(f) for f in fields}), values
            )
    if entity == "account" and moves:
        moves += _pointed_elsewhere(connection, number, moves, log)
    for start in range(0, len(removed), _IN):
        connection.execute(table.delete().where(table.c.id.in_(removed[start : start + _IN])))
    insert_many(connection, CHANGES, log)
    insert_many(connection, MOVES, moves)
    insert_many(connection, ROWS, _remembered(number, entity, rows, record_of, {a for a, _ in held}))
    line = {
        "number": number,
        "entity": entity,
        "list": name,
        "digest": digest,
        "state": "loaded",
        "loaded_at": clock().isoformat(timespec="seconds"),
        "undone_at": None,
        "who": _who(),
        "created": counts["create"],
        "updated": counts["update"],
        "merged": counts["merge"],
        "fields": len(log),
        "held": len(held),
    }
    connection.execute(LOADS.insert(), line)
    found = load_of(line)
    return Load(**{**found.__dict__, "reasons": tuple(held)}), record_of


def _pointed_elsewhere(
    connection: Connection, number: int, moves: list[dict[str, Any]], log: list[dict[str, Any]]
) -> list[dict[str, Any]]:
    """What pointed at accounts merged away points at those that took them in: contacts, and accounts below them. Returns the moves."""
    into = {m["record_id"]: m["survivor"] for m in moves if m["what"] == "merged away"}
    made = []
    people, firms = RECORDS["contact"], RECORDS["account"]
    gone = sorted(into)
    for start in range(0, len(gone), _IN):
        some = gone[start : start + _IN]
        for row in connection.execute(
            sa.select(people.c.id, people.c.account_id).where(people.c.account_id.in_(some))
        ).fetchall():
            after = into[row.account_id]
            connection.execute(people.update().where(people.c.id == row.id).values(account_id=after))
            content = json.dumps({"id": row.id, "before": row.account_id, "after": after})
            made.append(
                {
                    "load": number,
                    "record_id": f"contact {row.id}",
                    "action": "",
                    "what": "pointed elsewhere",
                    "survivor": after,
                    "content": content,
                }
            )
        below = sa.select(firms.c.id, firms.c.parent_id).where(firms.c.parent_id.in_(some), firms.c.id.not_in(gone))
        for row in connection.execute(below).fetchall():
            connection.execute(firms.update().where(firms.c.id == row.id).values(parent_id=into[row.parent_id]))
            log.append(
                {
                    "load": number,
                    "seq": len(log),
                    "action": "",
                    "record_id": row.id,
                    "field": "parent_id",
                    "before": row.parent_id,
                    "after": into[row.parent_id],
                    "source": f"record {row.parent_id}",
                    "why": "what it belonged to was merged away",
                }
            )
    return made


def _fetch(connection: Connection, table: sa.Table, ids: list[str]) -> dict[str, Any]:
    """Records by id."""
    found = {}
    for start in range(0, len(ids), _IN):
        for row in connection.execute(sa.select(table).where(table.c.id.in_(ids[start : start + _IN]))).mappings():
            found[row["id"]] = row
    return found


def _trouble(stored: dict[str, Any], record: str, losers: list[str], changes: list[dict[str, str]]) -> str:
    """Why an action cannot be carried out as planned, or ""."""
    gone = [i for i in (record, *losers) if i not in stored]
    if gone:
        return f"record {gone[0]} is no longer in the store"
    for change in changes:
        value = (stored[record][change["field"]] or "").strip()
        if value != change["before"]:
            return f'{change["field"]} of record {record} is now "{value}"; the plan saw "{change["before"]}"'
    return ""


def _remembered(
    number: int, entity: str, rows: list[dict[str, str]], record_of: dict[str, str], held: set[str]
) -> list[dict[str, Any]]:
    """What the store remembers of each row: its digest and the record it stands for."""
    kept = {}
    for row in rows:
        record = record_of.get(row["action"], row["record_id"] if row["action"] not in held else "")
        if record:
            kept[row["digest"]] = {"load": number, "digest": row["digest"], "entity": entity, "record_id": record}
    return list(kept.values())


def _fill(path: Path, into: str, clock: Clock) -> Load:
    """Fill an entity's empty table with a list as it stands. Raises StoreError when records are there already."""
    raw = read_list(path)
    entity = mapping.entity_of(raw.table)
    listed = as_it_is(raw, entity)
    sources.record_ids(listed)
    columns = {field: values.to_pylist() for field, values in listed.values.items()}
    records = [dict(zip(columns, values, strict=True)) for values in zip(*columns.values(), strict=True)]
    with open_store(into, create=True) as store, store.writing() as connection:
        _must_be_empty(connection, store, entity, path)
        number = (connection.execute(sa.select(sa.func.max(LOADS.c.number))).scalar() or 0) + 1
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
            "list": str(path),
            "digest": hashlib.sha256(path.read_bytes()).hexdigest(),
            "state": "loaded",
            "loaded_at": clock().isoformat(timespec="seconds"),
            "undone_at": None,
            "who": _who(),
            "created": len(full),
            "updated": 0,
            "merged": 0,
            "fields": 0,
            "held": 0,
        }
        connection.execute(LOADS.insert(), line)
    return load_of(line)


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


def _who() -> str:
    try:
        return getpass.getuser()
    except (KeyError, OSError):
        return "unknown"
