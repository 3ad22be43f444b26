"""The plan's page: one file, no network, what will happen and why, what needs a person."""

from __future__ import annotations

import json
from importlib.resources import files
from typing import Any

import numpy as np

from brujula.core import decide as deciding
from brujula.core.decide import OUTCOMES
from brujula.loading.folder import summary
from brujula.planning import Plan
from brujula.problems import CATALOGUE

_MOST = 1_500  # rows shown; the rest lie in the files, and the page says so
_FIRST = (deciding.REVIEW, deciding.REJECT, deciding.MERGE, deciding.UPDATE, deciding.CREATE, deciding.SKIP, deciding.UNCHANGED)
_FIELDS = (
    "given_name",
    "family_name",
    "full_name",
    "name",
    "email",
    "phone",
    "mobile",
    "website",
    "job_title",
    "account",
    "street",
    "city",
    "region",
    "postal_code",
    "country",
)
_MEANING = {
    "create": "new records",
    "update": "existing records that change",
    "unchanged": "existing records, nothing to write",
    "merge": "existing duplicates that become one",
    "review": "held for a person",
    "skip": "left out by the policy",
    "reject": "cannot be used",
}


def page(plan: Plan) -> str:
    """The page as HTML. Text of the lists goes in as data, never as markup."""
    from jinja2 import Environment

    environment = Environment(autoescape=True, trim_blocks=True, lstrip_blocks=True)
    environment.filters["count"] = lambda n: f"{n:,}"
    template = environment.from_string((files(__package__) / "report.html").read_text("utf-8"))
    found = summary(plan)
    shown = _rows(plan)
    swept = plan.batch.n_incoming == 0
    data = json.dumps(
        {"rows": shown, "fields": _fields(plan), "groups": _groups(plan) if swept else []}, ensure_ascii=False, default=str
    )
    problems = [(count, *CATALOGUE[code]) for code, count in found["problems"].items()]
    return template.render(
        found=found,
        meaning=_MEANING,
        problems=problems,
        n_shown=len(shown),
        swept=swept,
        data=data.replace("<", "\\u003c"),
        total=max(found["rows"], 1),
        same=plan.pairs_table["verdict"].to_pylist().count("same") if swept else 0,
        unsure=plan.pairs_table["verdict"].to_pylist().count("unsure") if swept else 0,
    )


def _fields(plan: Plan) -> list[str]:
    return [f for f in _FIELDS if f in plan.batch.columns and plan.batch.has(f)]


def _rows(plan: Plan) -> list[dict[str, Any]]:
    """Rows to show: what needs a person first, then what changes most; at most _MOST."""
    rank = np.array([_FIRST.index(o) for o in range(len(OUTCOMES))])
    order = np.lexsort((np.arange(len(plan.outcome)), rank[plan.outcome]))[:_MOST]
    table = plan.outcomes_table
    n = plan.batch.n_existing
    position = {record: i for i, record in enumerate(plan.ids.to_pylist())}
    lines = {i: table.slice(i, 1).to_pylist()[0] for i in order.tolist()}
    wanted = {line["action"] for line in lines.values() if line["action"]}
    written: dict[str, list[list[str]]] = {}
    for change in plan.changes_table.to_pylist():
        if change["action"] in wanted:
            written.setdefault(change["action"], []).append(
                [change["field"], change["before"], change["after"], change["from"], change["why"]]
            )
    fields = _fields(plan)
    out = []
    for i, line in sorted(lines.items()):
        ids = [r for r in line["record_id"].split(";") if r][:4]
        records = np.array([n + i, *(position[r] for r in ids)], np.int32)
        sides = [plan.values(f, records).to_pylist() for f in fields]
        out.append(
            {
                "row": line["row"],
                "outcome": line["outcome"],
                "action": line["action"],
                "ids": ids,
                "sure": line["confidence"],
                "why": line["reason"],
                "sides": sides,
                "writes": written.get(line["action"], []) if line["outcome"] != "unchanged" else [],
            }
        )
    return out


def _groups(plan: Plan) -> list[dict[str, Any]]:
    """Groups of duplicates of a sweep, the largest first."""
    fields = _fields(plan)
    of: dict[str, list[int]] = {}
    for i, label in enumerate(plan.group_label.to_pylist()):
        if label:
            of.setdefault(label, []).append(i)
    ids = plan.ids.to_pylist()
    out = []
    for label, members in sorted(of.items(), key=lambda g: (-len(g[1]), int(g[0][1:])))[:_MOST]:
        sides = [plan.values(f, np.array(members, np.int32)).to_pylist() for f in fields]
        out.append({"group": label, "ids": [ids[m] for m in members], "sides": sides})
    return out
