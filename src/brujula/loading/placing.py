"""Rows that belong to a list's rows by a key (loans, orders): to whom each goes."""

from __future__ import annotations

from collections import Counter
from typing import Any

import pyarrow as pa

from brujula.core import decide as deciding
from brujula.errors import InputError
from brujula.intake.read import read_list
from brujula.loading.naming import OURS, PREFIX, name_of
from brujula.planning import Plan
from brujula.policy.model import ChildPolicy


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
    for name, values in zip(OURS, zip(*found, strict=True) if found else ((), (), ()), strict=True):
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
