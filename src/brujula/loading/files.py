"""Carrying a plan out on a file of existing records: a new file is written, the old one is never touched."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Collection
from itertools import chain, count
from pathlib import Path
from typing import Any

import pyarrow as pa

from brujula.errors import PlanError, UsageError
from brujula.intake import consents, numbered, sources
from brujula.intake.headings import OURS
from brujula.intake.raw import RawList
from brujula.intake.read import read_list
from brujula.intake.shape import Shaped, as_it_is
from brujula.intake.write import write_list
from brujula.loading.journal import Load
from brujula.loading.opened import read_summary, read_table
from brujula.loading.results import write_results
from brujula.policy.entities import ENTITIES


def load_into_file(plan: Path, into: Path, at: str, who: str) -> Load:
    """The existing records with the plan carried out, as a new file in the format its suffix names.

    The file's own columns stay as they are and in their order; a field that has none gets one of its own name behind them, and so do all
    fields of a column that holds several, once one of them is written: from then on they are read from there. New records are called
    `new-` and their action. Actions whose records changed since the plan are held, as in a store.

    Raises UsageError when the new file is there already, PlanError for a plan that was not made against a file.
    """
    summary = read_summary(plan)
    name = summary["existing"]["name"]
    if "://" in name or name == "frame":
        raise PlanError(f"{plan}: planned against {name}, not against a file; load it into a store")
    if into.exists():
        raise UsageError(f"{into}: there already; a load into a file writes a new one and never over another")
    raw = read_list(name)
    held = as_it_is(raw, summary["entity"], apart=True)
    actions, changes = (read_table(plan, n).to_pylist() for n in ("actions", "changes"))
    file = _File(name, raw, held, sources.record_ids(held).to_pylist())
    file.lay_out(summary, [change["field"] for change in changes])
    by_action: dict[str, list[dict[str, str]]] = defaultdict(list)
    for change in changes:
        by_action[change["action"]].append(change)
    records: dict[str, str] = {}
    reasons: list[tuple[str, str]] = []
    counts: Counter[str] = Counter()
    written = 0
    for action in actions:
        label, mine = action["action"], by_action[action["action"]]
        if why := file.changed_since(action, mine):
            reasons.append((label, why))
            continue
        records[label] = file.carry_out(action, mine)
        written += len(mine)
        counts[action["kind"]] += 1
    write_list(file.table(), into)
    load = Load(
        str(into), summary["entity"], summary["incoming"]["name"], "written", at, "", who, counts["create"], counts["update"],
        counts["merge"], written, len(reasons), tuple(reasons),
    )  # fmt: skip
    write_results(plan, load, actions, records)
    return load


def _losers(action: dict[str, str]) -> list[str]:
    return [i for i in action["merged_ids"].split(";") if i]


class _File:
    """The existing records' file as it is changed.

    columns : its cells, and behind them those of fields that had no column;  column_of : the column of each field that is written
    leaves  : records merged into another stay, as inactive;  place : the row of each record;  gone : rows that are left out
    """

    def __init__(self, name: str, raw: RawList, held: Shaped, ids: list[str]) -> None:
        self.name, self.raw, self.held = name, raw, held
        self.columns: dict[str, list[str]] = {c: raw.table[c].to_pylist() for c in raw.table.column_names}
        self.column_of: dict[str, str] = {}
        self.leaves = False
        self.place = {i: n for n, i in enumerate(ids)}
        self.gone: set[int] = set()

    def lay_out(self, summary: dict[str, Any], written: list[str]) -> None:
        """A column for each field that is written, new ones behind the file's own."""
        raw, held, columns = self.raw, self.held, self.columns
        shared = Counter(held.columns.values())
        told = {f: c for f, c in summary["existing"]["fields"].items() if f not in held.columns and c in columns}
        # Where records go by their own number, the id's column and the number's are one.
        column_of = told | {f: c for f, c in held.columns.items() if shared[c] == 1 or f in ("id", "registration_no")}
        # A column of who agreed, or of names with numbers, keeps what it says; what was read from it stands behind.
        column_of = {
            f: c
            for f, c in column_of.items()
            if c in columns
            and not (f in consents.FIELDS and consents.agrees(c, raw.table[c]))
            and not (f in numbered.NAMES and f in held.values and not held.values[f].equals(raw.table[c]))
        }
        homeless, naming = set(written) - column_of.keys(), set(ENTITIES[summary["entity"]].naming)
        for column in [c for c, n in shared.items() if n > 1 and c in columns]:
            parts = {f for f, c in held.columns.items() if c == column} - column_of.keys() - set(consents.FIELDS)
            # A name in a column of its own, and nothing is looked for in the one that holds it besides an address.
            if parts & homeless or (homeless & naming and parts & naming):
                column_of |= {f: f"{OURS} {f}" for f in held.columns if f in parts}
        for field in [f for f in written if f not in column_of]:
            read_apart = field in numbered.NAMES and field in held.columns
            column_of[field] = f"{OURS} {field}" if read_apart else _fresh(field, columns)
        for field, column in column_of.items():
            if column not in columns:
                columns[column] = held.values[field].to_pylist() if field in held.values else [""] * raw.table.num_rows
        self.leaves = summary["policy"]["outcomes"].get("losers") == "deactivate"
        if self.leaves and "active" not in column_of:
            column_of["active"] = _fresh("active", columns)
            columns[column_of["active"]] = [""] * raw.table.num_rows
        self.column_of = column_of

    def _cells(self, field: str) -> list[str]:
        return self.columns[self.column_of[field]]

    def changed_since(self, action: dict[str, str], mine: list[dict[str, str]]) -> str:
        """Why the action cannot be carried out: a record is no longer there, or says something else than the plan saw; "" = it can."""
        if action["kind"] == "create":
            return ""
        record = action["record_id"]
        lost = [i for i in (record, *_losers(action)) if i not in self.place]
        if lost:
            return f"record {lost[0]} is no longer in {self.name}"
        for change in mine:
            now = self._cells(change["field"])[self.place[record]]
            if now.strip() != change["before"]:
                return f'{change["field"]} of record {record} is now "{now}"; the plan saw "{change["before"]}"'
        return ""

    def carry_out(self, action: dict[str, str], mine: list[dict[str, str]]) -> str:
        """Writes the values of an action, and gives the record they went to as the file calls it."""
        if action["kind"] == "create":
            for cells in self.columns.values():
                cells.append("")
            at = len(self._cells("id")) - 1
            self._cells("id")[at] = f"new-{action['action'][1:]}"
        else:
            at = self.place[action["record_id"]]
            for loser in _losers(action):
                if self.leaves:
                    self._cells("active")[self.place[loser]] = "no"
                else:
                    self.gone.add(self.place[loser])
        for change in mine:
            self._cells(change["field"])[at] = change["after"]
        return self._cells("id")[at]

    def table(self) -> pa.Table:
        """The records as they are now."""
        keep = [n for n in range(len(self._cells("id"))) if n not in self.gone]
        return pa.table({c: pa.array([cells[n] for n in keep], pa.large_string()) for c, cells in self.columns.items()})


def _fresh(field: str, columns: Collection[str]) -> str:
    """A name for a field's column that no other has, however spelled."""
    taken = {c.lower() for c in columns}
    names = chain((field, f"{OURS} {field}"), (f"{OURS} {field} {n}" for n in count(2)))
    return next(name for name in names if name not in taken)
