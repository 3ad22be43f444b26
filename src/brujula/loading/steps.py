"""What a plan folder asks of a store, step by step, whatever kind of store it is."""

from __future__ import annotations

import hashlib
from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from brujula.errors import StoreError
from brujula.loading.naming import PREFIX
from brujula.loading.opened import ACCOUNTS, read_summary, read_table
from brujula.policy.model import StorePolicy


@dataclass(frozen=True)
class Step:
    """One action of a plan. record : the record it is about, "" for a new one; losers : those merged into it; changes : what it writes."""

    label: str
    kind: str
    record: str
    losers: tuple[str, ...]
    changes: tuple[Mapping[str, str], ...]

    @property
    def values(self) -> dict[str, str]:
        """Field to the text written."""
        return {c["field"]: c["after"] for c in self.changes}


@dataclass(frozen=True)
class Work:
    """A plan to be carried out. rows : what is to be remembered of the list's rows; accounts : the work to do first, where the plan has accounts;
    insists : the policy allows duplicates;  leaves : records merged into others are left in as inactive."""

    path: Path
    entity: str
    name: str
    digest: str
    actions: list[dict[str, str]]
    steps: tuple[Step, ...]
    rows: list[dict[str, str]]
    children: list[dict[str, str]]
    store: StorePolicy
    insists: bool = False
    leaves: bool = False
    accounts: Work | None = None

    @property
    def touched(self) -> list[str]:
        """Ids of the records it is about."""
        return sorted({i for s in self.steps for i in (s.record, *s.losers) if i})


def work_of(path: Path) -> Work:
    """Read a plan folder. Raises PlanError for a folder that is none."""
    summary = read_summary(path)
    actions, changes, rows = (read_table(path, name).to_pylist() for name in ("actions", "changes", "rows"))
    by_action: dict[str, list[dict[str, str]]] = defaultdict(list)
    for change in changes:
        by_action[change["action"]].append(change)
    steps = tuple(
        Step(
            a["action"],
            a["kind"],
            a["record_id"],
            tuple(i for i in a["merged_ids"].split(";") if i),
            tuple(by_action[a["action"]]),
        )
        for a in actions
    )
    said = [(path / f"{n}.csv").read_bytes() for n in ("actions", "changes", "rows")]
    for child in sorted(path.glob(f"{PREFIX}*.csv")):
        # A load writes the ids of new records into such a file: it is the same plan for all that.
        table = read_table(path, child.stem)
        kept = [n for n in table.column_names if n.removeprefix("brujula ") != "record_id"]
        said.append(repr(table.select(kept).to_pylist()).encode())
    digest = hashlib.sha256(b"".join(said)).hexdigest()
    policy = summary["policy"]
    accounts = work_of(path / ACCOUNTS) if (path / ACCOUNTS).is_dir() else None
    store = StorePolicy.model_validate(policy.get("store", {}))
    name = summary["incoming"]["name"]
    insists = policy["outcomes"]["mode"] == "allow-duplicates"
    leaves = policy["outcomes"].get("losers") == "deactivate"
    children = policy.get("child", [])
    return Work(path, summary["entity"], name, digest, actions, steps, rows, children, store, insists, leaves, accounts)


def trouble(stored: Mapping[str, Mapping[str, Any]], step: Step) -> str:
    """Why a step cannot be carried out as planned, or ""."""
    gone = [i for i in (step.record, *step.losers) if i not in stored]
    if gone:
        return f"record {gone[0]} is no longer in the store"
    for change in step.changes:
        value = (stored[step.record].get(change["field"]) or "").strip()
        if value != change["before"]:
            return f'{change["field"]} of record {step.record} is now "{value}"; the plan saw "{change["before"]}"'
    return ""


def stop_if_changed(work: Work, held: list[tuple[str, str]], shown: str) -> None:
    """Raises StoreError where the policy wants nothing written once a record was changed since the plan."""
    if held and work.store.changed == "stop":
        why = "; ".join(reason for _, reason in held[:5])
        raise StoreError(
            f"{shown}: changed since the plan was made: {why}. The policy says to stop then: nothing was written; plan the list again"
        )


def remembered(work: Work, number: int, record_of: Mapping[str, str], held: set[str]) -> list[dict[str, Any]]:
    """What the store remembers of each row: its digest and the record it stands for."""
    kept = {}
    for row in work.rows:
        record = record_of.get(row["action"], row["record_id"] if row["action"] not in held else "")
        if record:
            kept[row["digest"]] = {"load": number, "digest": row["digest"], "entity": work.entity, "record_id": record}
    return list(kept.values())
