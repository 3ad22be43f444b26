"""Keeping rows that belong to records (loans, orders) in a store."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from pathlib import Path
from typing import Any

import sqlalchemy as sa
from sqlalchemy.engine import Connection

from brujula.loading.naming import OURS, PREFIX, name_of
from brujula.loading.opened import read_table
from brujula.policy.model import ChildPolicy
from brujula.stores.sql import CHILDREN, MOVES
from brujula.stores.target import insert_many

ADDED, CHANGED, FOLLOWED = "child added", "child changed", "child pointed elsewhere"


def attach(
    connection: Connection, number: int, entity: str, folder: Path, children: list[dict[str, str]], record_of: Mapping[str, str]
) -> int:
    """Keep the plan's child rows with their records; a row that is there already is replaced, and the journal holds what it said. Returns how many."""
    made: list[dict[str, Any]] = []
    for child in children:
        name = name_of(ChildPolicy.model_validate(child))
        table = read_table(folder, f"{PREFIX}{name}")
        ours = [n if f"brujula {n}" not in table.column_names else f"brujula {n}" for n in OURS]
        for line in table.to_pylist():
            record = record_of.get(line[ours[1]], line[ours[0]])
            if line[ours[2]] or not record:
                continue
            content = json.dumps({k: v for k, v in line.items() if k not in ours}, ensure_ascii=False)
            made.append(
                {"name": name, "key": line[child["key"]].strip(), "entity": entity, "record_id": record, "content": content}
            )
    there = {
        (c["name"], c["key"]): dict(c)
        for c in connection.execute(sa.select(CHILDREN).where(CHILDREN.c.entity == entity)).mappings()
    }
    fresh = [c for c in made if there.get((c["name"], c["key"])) != c]
    for child in fresh:
        connection.execute(CHILDREN.delete().where(CHILDREN.c.name == child["name"], CHILDREN.c.key == child["key"]))
    insert_many(connection, CHILDREN, fresh)
    insert_many(connection, MOVES, [_move(number, c, there.get((c["name"], c["key"])), c["record_id"]) for c in fresh])
    return len(fresh)


def follow(connection: Connection, number: int, entity: str, into: Mapping[str, str]) -> list[dict[str, Any]]:
    """Child rows of records merged away go to those that took them in. Returns the moves."""
    if not into:
        return []
    made = []
    for child in connection.execute(sa.select(CHILDREN).where(CHILDREN.c.entity == entity)).mappings().all():
        if child["record_id"] in into:
            here = (CHILDREN.c.name == child["name"]) & (CHILDREN.c.key == child["key"])
            connection.execute(CHILDREN.update().where(here).values(record_id=into[child["record_id"]]))
            made.append(_move(number, dict(child), dict(child), into[child["record_id"]], FOLLOWED))
    return made


def detach(connection: Connection, moves: Iterable[Any]) -> None:
    """Child rows as they were before a load."""
    mine = [m for m in moves if m["what"] in (ADDED, CHANGED, FOLLOWED)]
    # One that followed its record and then was written is first what it was when it had followed.
    for move in sorted(mine, key=lambda m: m["what"] == FOLLOWED):
        told = json.loads(move["content"])
        connection.execute(CHILDREN.delete().where(CHILDREN.c.name == told["name"], CHILDREN.c.key == told["key"]))
        if told["before"]:
            connection.execute(CHILDREN.insert(), told["before"])


def _move(number: int, child: Mapping[str, Any], before: dict[str, Any] | None, record: str, what: str = "") -> dict[str, Any]:
    told = json.dumps({"name": child["name"], "key": child["key"], "before": before}, ensure_ascii=False)
    what = what or (CHANGED if before else ADDED)
    return {
        "load": number,
        "record_id": f"{child['name']} {child['key']}" + (" (followed)" if what == FOLLOWED else ""),
        "action": "",
        "what": what,
        "survivor": record,
        "content": told,
    }
