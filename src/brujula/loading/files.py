"""Carrying a plan out on a file of existing records: a new file is written, the old one is never touched."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Collection
from itertools import chain, count
from pathlib import Path

import pyarrow as pa

from brujula.errors import PlanError, UsageError
from brujula.intake import consents, numbered, sources
from brujula.intake.headings import OURS
from brujula.intake.read import read_list
from brujula.intake.shape import as_it_is
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
    ids = sources.record_ids(held).to_pylist()
    place = {i: n for n, i in enumerate(ids)}
    actions, changes = (read_table(plan, n).to_pylist() for n in ("actions", "changes"))
    shared = Counter(held.columns.values())
    columns = {c: raw.table[c].to_pylist() for c in raw.table.column_names}
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
    by_action: dict[str, list[dict[str, str]]] = defaultdict(list)
    for change in changes:
        by_action[change["action"]].append(change)
    written_to = {change["field"] for change in changes} - column_of.keys()
    names = written_to & set(ENTITIES[summary["entity"]].naming)
    for column in [c for c, n in shared.items() if n > 1 and c in columns]:
        parts = {f for f, c in held.columns.items() if c == column} - column_of.keys() - set(consents.FIELDS)
        # A name in a column of its own, and nothing is looked for in the one that holds it besides an address.
        if parts & written_to or (names and parts & set(ENTITIES[summary["entity"]].naming)):
            column_of |= {f: f"{OURS} {f}" for f in held.columns if f in parts}
    for field in [f for change in changes if (f := change["field"]) not in column_of]:
        read_apart = field in numbered.NAMES and field in held.columns
        column_of[field] = f"{OURS} {field}" if read_apart else _fresh(field, columns)
    for field, column in column_of.items():
        if column not in columns:
            columns[column] = held.values[field].to_pylist() if field in held.values else [""] * len(ids)
    leaves = summary["policy"]["outcomes"].get("losers") == "deactivate"
    if leaves and "active" not in column_of:
        column_of["active"] = _fresh("active", columns)
        columns[column_of["active"]] = [""] * len(ids)
    gone: set[int] = set()
    records: dict[str, str] = {}
    reasons: list[tuple[str, str]] = []
    counts: Counter[str] = Counter()
    written = 0
    for action in actions:
        label, record, mine = action["action"], action["record_id"], by_action[action["action"]]
        losers = [i for i in action["merged_ids"].split(";") if i]
        if action["kind"] == "create":
            record = f"new-{label[1:]}"
            for cells in columns.values():
                cells.append("")
            columns[column_of["id"]][-1] = record
            at_row = len(columns[column_of["id"]]) - 1
        else:
            lost = [i for i in (record, *losers) if i not in place]
            changed = [] if lost else [c for c in mine if columns[column_of[c["field"]]][place[record]].strip() != c["before"]]
            if lost or changed:
                why = (
                    f"record {lost[0]} is no longer in {name}"
                    if lost
                    else f'{changed[0]["field"]} of record {record} is now "{columns[column_of[changed[0]["field"]]][place[record]]}"; '
                    f'the plan saw "{changed[0]["before"]}"'
                )
                reasons.append((label, why))
                continue
            at_row = place[record]
            if leaves:
                for i in losers:
                    columns[column_of["active"]][place[i]] = "no"
            else:
                gone |= {place[i] for i in losers}
        for change in mine:
            columns[column_of[change["field"]]][at_row] = change["after"]
        written += len(mine)
        records[label] = columns[column_of["id"]][at_row]
        counts[action["kind"]] += 1
    keep = [n for n in range(len(columns[column_of["id"]])) if n not in gone]
    table = pa.table({c: pa.array([cells[n] for n in keep], pa.large_string()) for c, cells in columns.items()})
    write_list(table, into)
    load = Load(
        str(into), summary["entity"], summary["incoming"]["name"], "written", at, "", who, counts["create"], counts["update"],
        counts["merge"], written, len(reasons), tuple(reasons),
    )  # fmt: skip
    write_results(plan, load, actions, records)
    return load


def _fresh(field: str, columns: Collection[str]) -> str:
    """A name for a field's column that no other has, however spelled."""
    taken = {c.lower() for c in columns}
    names = chain((field, f"{OURS} {field}"), (f"{OURS} {field} {n}" for n in count(2)))
    return next(name for name in names if name not in taken)
