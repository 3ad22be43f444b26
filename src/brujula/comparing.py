"""Two policies on one list: which rows have another outcome, another record, or other values written."""

from __future__ import annotations

from collections import defaultdict
from typing import Any

from brujula import run
from brujula.planning import Plan
from brujula.policy.model import Policy


def compare_policies(
    first: Policy | str, second: Policy | str, incoming: Any, against: Any, entity: str | None = None
) -> list[dict[str, str]]:
    """Rows whose outcome or changes differ under two policies, in order.

    Each has row, outcome (first), record_id (first), outcome (second), record_id (second), and changes: the fields written
    differently, as `field: value | value`.

    Raises as `plan` does.
    """
    one, other = run.plan(incoming, against, first, entity), run.plan(incoming, against, second, entity)
    found = []
    writes = _written(one), _written(other)
    lines = one.outcomes_table.to_pylist(), other.outcomes_table.to_pylist()
    for a, b in zip(*lines, strict=True):
        own, theirs = writes[0][a["action"]], writes[1][b["action"]]
        changed = [
            f"{field}: {own.get(field, '-')} | {theirs.get(field, '-')}"
            for field in dict.fromkeys([*own, *theirs])
            if own.get(field) != theirs.get(field)
        ]
        if a["outcome"] != b["outcome"] or a["record_id"] != b["record_id"] or changed:
            found.append(
                {
                    "row": str(a["row"]),
                    "outcome (first)": a["outcome"],
                    "record_id (first)": a["record_id"],
                    "outcome (second)": b["outcome"],
                    "record_id (second)": b["record_id"],
                    "changes": "; ".join(changed),
                }
            )
    return found


def _written(plan: Plan) -> dict[str, dict[str, str]]:
    """Field to value by action."""
    out: dict[str, dict[str, str]] = defaultdict(dict)
    for change in plan.changes_table.select(["action", "field", "after"]).to_pylist():
        out[change["action"]][change["field"]] = change["after"]
    return out
