"""The plan's page: one file, no network, what will happen and why, what needs a person."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core import decide as deciding
from brujula.core.decide import OUTCOMES
from brujula.loading.folder import summary
from brujula.planning import Plan
from brujula.problems import CATALOGUE
from brujula.reporting.figures import figures
from brujula.reporting.look import rendered

_MOST = 1_500  # rows shown; the rest lie in the files, and the page says so
_IN_NOTEBOOK = 3  # rows of each outcome
_SIDES = 4  # records shown beside a row
_FIRST = (deciding.REVIEW, deciding.REJECT, deciding.MERGE, deciding.UPDATE, deciding.CREATE, deciding.SKIP, deciding.UNCHANGED)
_FIELDS = (
    "given_name",
    "family_name",
    "full_name",
    "name",
    "email",
    "other_email",
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
BECAUSE = (
    "nobody like it",
    "one record",
    "several records that are one",
    "not sure enough",
    "two records claim it",
    "links records that may differ",
    "nobody to update",
    "somebody is there",
    "cannot be used",
    "not sure, created",
    "not sure, skipped",
    "left alone",
    "inactive record",
    "stands twice in the list",
    "created all the same",
    "the newest of several",
    "one of several, left",
    "at another account now",
    "several, all of them updated",
    "by far the likeliest of several",
)
"""Kinds of reasons, in the order of `core.decide`'s B_ codes, for picking rows."""
_STAYS = {
    "most-complete": "its most complete record",
    "oldest": "its oldest record",
    "newest": "its newest record",
    "most-trusted": "the record of its most trusted source",
    "most-linked": "the record most others point at",
}
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
    drawn = figures(plan)
    found = summary(plan)
    shown = _rows(plan)
    swept = plan.batch.n_incoming == 0
    data = json.dumps(
        {"rows": shown, "fields": _fields(plan), "groups": _groups(plan) if swept else []}, ensure_ascii=False, default=str
    )
    problems = [(count, *CATALOGUE[code]) for code, count in found["problems"].items()]
    return rendered(
        "report.html",
        found=found,
        meaning=_MEANING,
        problems=problems,
        n_shown=len(shown),
        swept=swept,
        stays=_STAYS[plan.policy.outcomes.survivor],
        figures=drawn(),
        data=data.replace("<", "\\u003c"),
        total=max(found["rows"], 1),
        same=plan.pairs_table["verdict"].to_pylist().count("same") if swept else 0,
        unsure=plan.pairs_table["verdict"].to_pylist().count("unsure") if swept else 0,
    )


def in_notebook(plan: Plan) -> str:
    """A plan as a notebook shows it: rows by outcome, and of each outcome the first rows with their reasons."""
    lines = plan.outcomes_table.to_pylist()
    first: list[dict[str, Any]] = []
    for outcome in (OUTCOMES[o] for o in _FIRST):
        first += [line for line in lines if line["outcome"] == outcome][:_IN_NOTEBOOK]
    return rendered("notebook.html", counts=plan.counts, lines=first, meaning=_MEANING, name=plan.incoming.name, total=len(lines))


def _fields(plan: Plan) -> list[str]:
    return [f for f in _FIELDS if f in plan.batch.columns and plan.batch.has(f)]


def _rows(plan: Plan) -> list[dict[str, Any]]:
    """Rows to show: what needs a person first, then what changes most; at most _MOST."""
    rank = np.array([_FIRST.index(o) for o in range(len(OUTCOMES))])
    order = np.sort(np.lexsort((np.arange(len(plan.outcome)), rank[plan.outcome]))[:_MOST])
    lines = plan.outcomes_table.take(pa.array(order)).to_pylist()
    ids = [[r for r in line["record_id"].split(";") if r][:_SIDES] for line in lines]
    wanted = pa.array([r for some in ids for r in some], pa.large_string())
    position = iter(pc.index_in(wanted, value_set=plan.ids.cast(pa.large_string())).to_pylist())
    records = [[plan.batch.n_existing + i, *(next(position) for _ in some)] for i, some in zip(order.tolist(), ids, strict=True)]
    sides = _sides(plan, records)
    incoming = (plan.batch.n_existing + order).astype(np.int32)
    sources = plan.values("source", incoming).to_pylist() if "source" in plan.batch.columns else [""] * len(lines)
    changes = plan.changes_table
    shown = pa.array(sorted({line["action"] for line in lines if line["action"]}), pa.large_string())
    written: dict[str, list[list[str]]] = {}
    for change in changes.filter(pc.is_in(changes["action"], value_set=shown)).to_pylist():
        written.setdefault(change["action"], []).append([change[c] for c in ("field", "before", "after", "from", "why")])
    return [
        {
            "row": line["row"],
            "outcome": line["outcome"],
            "action": line["action"],
            "ids": some,
            "sure": line["confidence"],
            "why": line["reason"],
            "kind": BECAUSE[because],
            "source": source,
            "sides": side,
            "writes": written.get(line["action"], []) if line["outcome"] != "unchanged" else [],
            "evidence": evidence,
        }
        for line, some, side, because, source, evidence in zip(
            lines, ids, sides, plan.decided.because[order].tolist(), sources, _evidence(plan, order), strict=True
        )
    ]


def _evidence(plan: Plan, rows: NDArray[np.int64]) -> list[dict[str, Any]]:
    """Per row what spoke for and against the pair that decided it, or came nearest: field, how they stand, bits; empty for none."""
    judged = plan.matched.judged
    pairs = np.where(plan.decided.cause[rows] >= 0, plan.decided.cause[rows], plan.nearest[rows])
    others = np.append(judged.graded.pairs.right, np.int32(-1))[pairs]
    out: list[dict[str, Any]] = []
    for pair, name in zip(pairs.tolist(), plan.name_of(others).to_pylist(), strict=True):
        if pair < 0:
            out.append({})
            continue
        rule = int(judged.rule[pair])
        fields = [
            [c.field, c.levels[level].name, round(float(judged.bits[pair, f]), 1)]
            for f, c in enumerate(judged.graded.comparisons)
            if (level := int(judged.graded.levels[pair, f])) >= 0
        ]
        out.append(
            {
                "with": name,
                "fields": fields,
                "sum": round(float(judged.total[pair]), 1),
                "probability": round(float(judged.probability[pair]), 3),
                "rule": plan.matched.rules[rule].name if rule >= 0 else "",
            }
        )
    return out


def _sides(plan: Plan, records: list[list[int]]) -> list[list[list[str]]]:
    """For each list of records, field by field their values side by side."""
    flat = np.array([r for some in records for r in some], np.int32)
    columns = [plan.values(f, flat).to_pylist() for f in _fields(plan)]
    ends = np.cumsum([len(some) for some in records]).tolist()
    return [[column[end - len(some) : end] for column in columns] for some, end in zip(records, ends, strict=True)]


def _groups(plan: Plan) -> list[dict[str, Any]]:
    """Groups of duplicates of a sweep, the largest first."""
    of: dict[str, list[int]] = {}
    for i, label in enumerate(plan.group_label.to_pylist()):
        if label:
            of.setdefault(label, []).append(i)
    ids = plan.ids.to_pylist()
    chosen = sorted(of.items(), key=lambda g: (-len(g[1]), int(g[0][1:])))[:_MOST]
    sides = _sides(plan, [members for _, members in chosen])
    return [
        {"group": label, "ids": [ids[m] for m in members], "sides": side}
        for (label, members), side in zip(chosen, sides, strict=True)
    ]
