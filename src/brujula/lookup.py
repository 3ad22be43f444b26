"""Is one person or organisation already there? An index that can be kept and asked again."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula import chance, fitting, judging, matching
from brujula.claiming import Taking, who_takes_part
from brujula.core import candidates, compare, group, standardise, weigh
from brujula.core.arrays import SAME, Claims, Graded, Pairs, join_judged
from brujula.core.batch import Batch, blank_column
from brujula.core.kind import GRADES, Standards, Who
from brujula.core.steps import alphabets
from brujula.core.steps.parallel import one_thread
from brujula.errors import UsageError, instead
from brujula.fields import kinds
from brujula.intake import lines, sources
from brujula.intake.entity import entity_of
from brujula.intake.raw import RawList
from brujula.intake.shape import Shaped, as_it_is, no_list
from brujula.planning import SHOWN, Plan
from brujula.policy.entities import ENTITIES, kind_of
from brujula.policy.model import Policy
from brujula.run import decided

_NAMED = 5  # records shown
_THERE = 0.5  # share of the questions whose answer is yes


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
    """Existing records read once, to be asked about again and again.

    The weights are fitted to the records among themselves when the index is made; a question then compares its candidates only.
    """

    def __init__(self, existing: Any, entity: str | None = None, policy: Policy | None = None) -> None:
        """entity : "contact" or "account"; None: the policy's, or found from the columns. Raises InputError or StoreError as reading does."""
        chosen = entity or (policy.entity if policy else None)
        own = policy.store if policy else None
        found = sources.read_source(existing, None, chosen, own)
        self.entity = entity = chosen or ("contact" if sources.is_url(existing) else entity_of(found.table))
        self.policy = policy or Policy.default(entity)
        read = as_it_is(found, entity, not sources.is_url(existing))
        nothing = no_list()
        self.existing = who_takes_part(nothing, read, self.policy, sources.memory(existing, entity, own).aliases).existing
        self._ids = sources.record_ids(self.existing).cast(pa.large_string())
        self._batch = sources.combine(entity, self.existing, nothing)
        self._reading = standardise.reading_of(self._batch, kinds()[ENTITIES[entity].identifying])
        cleaned = standardise.clean(self._batch, kinds(), kind_of(entity))
        self._cleaned = replace(cleaned, lines=lines.lines(entity, self.existing, nothing)[0])
        with alphabets.read_as(self._reading, always=True):
            fitted = fitting.fit(self._cleaned, self.policy)
        # Records are hardly ever there twice; of those somebody asks about, half are reckoned to be there.
        likely = max(fitted.model.prior, float(np.log2(_THERE / max(len(self._batch), 1))))
        seen = chance.Seen(self._cleaned, fitted.standards, fitted.order, kinds(), fitted.comparisons)
        alone = weigh.others_bearing(fitted.comparisons, chance.namesakes(seen))
        self._fitted = replace(fitted, model=replace(fitted.model, prior=likely, alone=alone))
        self._counts = {name: kinds()[name].counts(form) for name, form in self._fitted.standards.of.items()}
        self._kinds = {name: kinds()[name] for name in fitted.standards.of}
        each = np.arange(len(self._batch), dtype=np.int32)
        with_itself = Pairs(each, each, np.ones(len(each), np.uint64))
        self._common = compare.compare_many(with_itself, fitted.standards, dict(kinds()), fitted.comparisons).common
        keys = standardise.index_keys(self._fitted.standards, kinds(), asked=False)
        self._finder = candidates.Finder(keys, self._fitted.passes, len(self._batch))

    def check(self, values: Mapping[str, str]) -> Answer:
        """Look for one person or organisation. Raises UsageError for a field that does not exist or when nothing is said."""
        known = ENTITIES[self.entity].fields
        for field in values:
            if field not in known:
                raise UsageError(
                    f'no field "{field}" of {"an" if self.entity[0] == "a" else "a"} {self.entity}; {instead(field, known)}'
                )
        if not any(v.strip() for v in values.values()):
            raise UsageError("nothing to look for; accepted: field=value, such as email=ada@harrow.example")
        with one_thread(), alphabets.read_as(self._reading, always=True):
            return self._answered(values)

    def _answered(self, values: Mapping[str, str]) -> Answer:
        given = {f: pa.chunked_array([[v]], pa.large_string()) for f, v in values.items()}
        row = Shaped(RawList("the question", pa.table(given)), given, {f: f for f in values})
        alone = sources.combine(self.entity, Shaped(RawList("", pa.table({})), {}, {}), row)
        asked = standardise.clean(alone, kinds(), kind_of(self.entity))
        given_away = (kind for kind in self._kinds.values() if any(f in asked.columns for f in kind.beside))
        blank = {p: blank_column(1) for kind in given_away for p in kind.parts if p in self._cleaned.columns}
        whole = replace(asked, columns={**blank, **asked.columns})
        own = standardise.standardise(whole, self._kinds, ENTITIES[self.entity].identifying)
        own = replace(own, of={k: self._kinds[k].settle(form, self._counts[k]) for k, form in own.of.items()})
        found = self._finder.find(standardise.index_keys(own, self._kinds, asked=True))
        return self._answer(self._plan(row, asked, own, found), found)

    def _plan(self, row: Shaped, asked: Batch, own: Standards, found: NDArray[np.int32]) -> Plan:
        """The plan of the one row against its candidates, weighed as among all records."""
        n, how = len(found), dict(kinds())
        held = replace(self.existing, values={})
        # Only what is asked can agree or differ, or gives away what does.
        said = {*asked.columns}
        parts = {p for k in kinds().values() if said & {*k.parts, *k.beside} for p in (*k.parts, *k.beside)}
        fields = (parts & {*self._cleaned.columns}) | {*asked.columns}
        cleaned = _joined(self._cleaned, asked, found, fields)
        batch = Batch(self.entity, n, 1, {})
        naming = ENTITIES[self.entity].identifying
        keys = (f"{naming}.{name}" for name in self._kinds[naming].identity)
        who = Who(*(np.concatenate([self._fitted.standards.keys[key][found], own.keys[key]]) for key in keys))
        joined = {k: self._kinds[k].joined(self._fitted.standards.of[k], found, form, who) for k, form in own.of.items()}
        standards = Standards(joined)
        content = candidates.content_keys(cleaned)
        pairs = Pairs(np.full(n, n, np.int32), np.arange(n, dtype=np.int32), np.ones(n, np.uint64))
        judged = judging.judged_of(self._graded(pairs, standards, found), self._fitted.model, self.policy, cleaned, content)
        same = np.flatnonzero(judged.verdict == SAME).astype(np.int32)
        high, low = (same[side].astype(np.int32) for side in np.triu_indices(len(same), 1)[::-1])
        if len(low):
            model, passes = self._fitted.model, np.ones(len(low), np.uint64)
            more = compare.compare(Pairs(found[high], found[low], passes), self._fitted.standards, how, self._fitted.comparisons)
            more = replace(more, pairs=Pairs(high, low, passes))
            judged = join_judged(judged, judging.judged_of(more, model, self.policy, cleaned, content))
            judged = judging.one_of_several(judged, cleaned, content, self.policy)
        groups = group.group(judged, n + 1, content)
        rules, report = judging.every_rule(self.policy), self._fitted.report
        matched = matching.Matched(
            judged, groups, content, content, standards, judged.graded, self._fitted.model, rules, report, n, {}
        )
        ids, taking = self._ids.take(pa.array(found)), Taking(held, {}, ("",))
        nobody, alone_all = np.zeros(1, bool), np.full(len(batch), -1, np.int64)
        return decided(
            row, taking, self.policy, ids, batch, cleaned, matched, [], Claims.none(), nobody, alone_all, only_find=True
        )

    def _answer(self, plan: Plan, found: NDArray[np.int32]) -> Answer:
        """What the plan of the one row says, and what the records it names hold."""
        line = plan.outcomes_table.to_pylist()[0]
        ids = tuple(i for i in line["record_id"].split(";") if i)
        answer = {"create": "no", "review": "unsure", "reject": "no"}.get(line["outcome"], "yes")
        lead = {"yes": f"Yes: {', '.join(ids)}", "unsure": f"Perhaps: {', '.join(ids)}", "no": "No"}[answer]
        named = pc.index_in(pa.array(ids[:_NAMED], pa.large_string()), value_set=self._ids.take(pa.array(found)))
        at = found[named.to_numpy(zero_copy_only=False)]
        shown = [self._batch.columns[f].texts(at).to_pylist() for f in SHOWN if f in self._batch.columns]
        held = (" | ".join([record, *(texts[k] for texts in shown if texts[k])]) for k, record in enumerate(ids[:_NAMED]))
        return Answer(answer, ids, line["confidence"], f"{lead}. {line['reason'][:1].upper()}{line['reason'][1:]}.", tuple(held))

    def _graded(self, pairs: Pairs, standards: Standards, found: NDArray[np.int32]) -> Graded:
        """Grades of the one row with its candidates; how common a value is comes from all records: what a record shares with itself."""
        graded = compare.compare(pairs, standards, dict(kinds()), self._fitted.comparisons)
        common = self._common[found]
        whole = (graded.common > 0) & (common > 0) & (graded.grades() > GRADES.index("differs"))
        return replace(graded, common=np.where(whole, common, graded.common).astype(np.float32))


def _joined(held: Batch, asked: Batch, found: NDArray[np.int32], fields: Collection[str]) -> Batch:
    """Some fields of some existing records, and of the one asked about behind them."""
    columns = {f: held.column(f).joined(found, asked.column(f)) for f in sorted(fields)}
    return Batch(held.entity, len(found), 1, columns)


def check(values: Mapping[str, str], against: Any, entity: str | None = None) -> Answer:
    """Look once for one person or organisation; a kept `Lookup` reads the records only once.

    entity : None: found from the columns; of a store, which has both, the one that has the fields asked about
    """
    if entity is None and sources.is_url(against):
        entity = next((e.name for e in ENTITIES.values() if set(values) <= set(e.fields)), None)
    return Lookup(against, entity).check(values)
