"""Rows that belong to a list's rows by a key (loans, orders): to whom they go, and keeping them in a store."""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Iterable, Mapping
from pathlib import Path
from typing import Any

import pyarrow as pa
import sqlalchemy as sa
from sqlalchemy.engine import Connection

from brujula.core import decide as deciding
from brujula.errors import InputError
from brujula.intake.read import read_list
from brujula.loading.opened import read_table
from brujula.planning import Plan
from brujula.policy.model import ChildPolicy
from brujula.stores.sql import CHILDREN, MOVES
from brujula.stores.target import insert_many

PREFIX = "child-"
_OURS = ("record_id", "action", "problem")
ADDED, CHANGED, FOLLOWED = "child added", "child changed", "child pointed elsewhere"


def name_of(child: ChildPolicy) -> str:
    """What child rows are called: by the policy, or by their file."""
    return child.name or Path(child.list).stem


def child_tables(plan: Plan) -> dict[str, pa.Table]:
    """Per list of child rows: its own columns untouched, then the record or action each row goes to, or what is wrong.

    Raises InputError for a list that lacks a column the policy names.
    """
    return {f"{PREFIX}{name_of(child)}": _placed(plan, child) for child in plan.policy.child}


def _placed(plan: Plan, child: ChildPolicy) -> pa.Table:
    raw = read_list(child.list)
    for column in (child.key, child.parent):
        _has(raw.table, column, child.list)
    if child.of:
        _has(plan.incoming.table, child.of, plan.incoming.name)
    place = _places(plan, child.of)
    outcomes = plan.outcomes_table
    known, acts, codes = outcomes["record_id"].to_pylist(), outcomes["action"].to_pylist(), plan.outcome.tolist()
    keys = [k.strip() for k in raw.table[child.key].to_pylist()]
    often = Counter(keys)
    found: list[tuple[str, str, str]] = []
    for key, parent in zip(keys, raw.table[child.parent].to_pylist(), strict=True):
        to, action, problem = "", "", ""
        at = place.get(parent.strip().lower(), [])
        if not key:
            problem = f'"{child.key}" is blank'
        elif often[key] > 1:
            problem = f'"{child.key}" "{key}" stands more than once'
        elif not at:
            problem = f'nobody whose "{child.of or "id"}" is "{parent}"'
        elif not child.of:
            to = str(at[0])
        elif len({known[r] or acts[r] for r in at}) > 1:
            problem = f'several rows whose "{child.of}" is "{parent}", and they are not one'
        else:
            row = at[0]
            action = acts[row] if codes[row] == deciding.CREATE else ""
            to = "" if codes[row] in (deciding.REVIEW, deciding.SKIP) else known[row].split(";")[0]
            problem = "" if to or action else f"its row {row + 1} is under {deciding.OUTCOMES[codes[row]]}"
        found.append((to, action, problem))
    table = raw.table
    for name, values in zip(_OURS, zip(*found, strict=True) if found else ((), (), ()), strict=True):
        table = table.append_column(
            name if name not in table.column_names else f"brujula {name}", pa.array(values, pa.large_string())
        )
    return table


def _places(plan: Plan, of: str) -> dict[str, list[Any]]:
    """Rows of the incoming list by the value of a column; or records by id."""
    if not of:
        return {i.lower(): [i] for i in plan.ids.to_pylist()}
    place: dict[str, list[Any]] = {}
    for row, value in enumerate(plan.incoming.table[of].to_pylist()):
        if value.strip():
            place.setdefault(value.strip().lower(), []).append(row)
    return place


def _has(table: pa.Table, column: str, name: str) -> None:
    if column not in table.column_names:
        raise InputError(
            f'{name}: no column "{column}", which the policy names for child rows; columns are {", ".join(table.column_names)}'
        )


def attach(
    connection: Connection, number: int, entity: str, folder: Path, children: list[dict[str, str]], record_of: Mapping[str, str]
) -> int:
    """Keep the plan's child rows with their records; a row that is there already is replaced, and the journal holds what it said. Returns how many."""
    made: list[dict[str, Any]] = []
    for child in children:
        name = name_of(ChildPolicy.model_validate(child))
        table = read_table(folder, f"{PREFIX}{name}")
        ours = [n if f"brujula {n}" not in table.column_names else f"brujula {n}" for n in _OURS]
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
    for move in moves:
        if move["what"] not in (ADDED, CHANGED, FOLLOWED):
            continue
        told = json.loads(move["content"])
        connection.execute(CHILDREN.delete().where(CHILDREN.c.name == told["name"], CHILDREN.c.key == told["key"]))
        if told["before"]:
            connection.execute(CHILDREN.insert(), told["before"])


def _move(number: int, child: Mapping[str, Any], before: dict[str, Any] | None, record: str, what: str = "") -> dict[str, Any]:
    told = json.dumps({"name": child["name"], "key": child["key"], "before": before}, ensure_ascii=False)
    what = what or (CHANGED if before else ADDED)
    return {
        "load": number,
        "record_id": f"{child['name']} {child['key']}",
        "action": "",
        "what": what,
        "survivor": record,
        "content": told,
    }
