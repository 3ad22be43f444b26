"""Is one person or organisation already there? An index that can be kept and asked again."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from difflib import get_close_matches
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from brujula.errors import UsageError
from brujula.intake import sources
from brujula.intake.raw import RawList
from brujula.intake.shape import Shaped, as_it_is
from brujula.planning import SHOWN, Plan
from brujula.policy.entities import ENTITIES
from brujula.policy.model import Policy

_NAMED = 5  # records shown


@dataclass(frozen=True)
class Answer:
    """answer: yes, unsure or no; record_ids: the records meant, or that it may be; sentence and lines: why."""

    answer: str
    record_ids: tuple[str, ...]
    confidence: float
    sentence: str
    lines: tuple[str, ...]

    def as_dict(self) -> dict[str, Any]:
        """For machines."""
        return {
            "answer": self.answer,
            "record_ids": list(self.record_ids),
            "confidence": self.confidence,
            "reason": self.sentence,
        }


class Lookup:
    """Existing records read once, to be asked about again and again."""

    def __init__(self, existing: Any, entity: str = "contact", policy: Policy | None = None) -> None:
        self.entity = entity
        self.policy = policy or Policy.default(entity)
        self.existing = as_it_is(sources.read_source(existing, None, entity), entity)

    def check(self, values: Mapping[str, str]) -> Answer:
        """Look for one person or organisation. Raises UsageError for a field that does not exist or when nothing is said."""
        from brujula.run import decide_on

        known = ENTITIES[self.entity].fields
        for field in values:
            if field not in known:
                near = get_close_matches(field, known, 1)
                raise UsageError(
                    f'no field "{field}" of a {self.entity}'
                    + (f'; did you mean "{near[0]}"?' if near else f"; fields: {', '.join(known)}")
                )
        if not any(v.strip() for v in values.values()):
            raise UsageError("nothing to look for; accepted: field=value, such as email=ada@harrow.example")
        given = {f: pa.chunked_array([[v]], pa.large_string()) for f, v in values.items()}
        row = Shaped(RawList("the question", pa.table(given)), given, {f: f for f in values})
        plan = decide_on(row, self.existing, self.policy)
        return _answer(plan)


def check(values: Mapping[str, str], against: Any, entity: str = "contact") -> Answer:
    """Look once for one person or organisation; a kept `Lookup` reads the records only once."""
    return Lookup(against, entity).check(values)


def _answer(plan: Plan) -> Answer:
    line = plan.outcomes_table.to_pylist()[0]
    ids = tuple(i for i in line["record_id"].split(";") if i)
    answer = {"create": "no", "review": "unsure", "reject": "no"}.get(line["outcome"], "yes")
    lead = {"yes": f"Yes: {', '.join(ids)}", "unsure": f"Perhaps: {', '.join(ids)}", "no": "No"}[answer]
    at = pc.index_in(pa.array(ids[:_NAMED], pa.large_string()), value_set=plan.ids.cast(pa.large_string())).to_pylist()
    shown = [plan.values(f, np.array(at, np.int32)).to_pylist() for f in SHOWN if f in plan.batch.columns]
    lines = [" | ".join([record, *(column[k] for column in shown if column[k])]) for k, record in enumerate(ids[:_NAMED])]
    return Answer(answer, ids, line["confidence"], f"{lead}. {line['reason'][:1].upper()}{line['reason'][1:]}.", tuple(lines))
