"""The matching steps in order: what is known of a batch (`fitting`), verdicts, groups."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from brujula import besides, chance, fitting, judging
from brujula.core import arrays, attributes, compare, group, judge, third, weigh
from brujula.core.arrays import Claims, Graded, Judged, Pairs, PassReport
from brujula.core.batch import Batch, Keys
from brujula.core.kind import GRADES, Standards
from brujula.core.rules import Rule
from brujula.core.steps import numbers
from brujula.core.steps.parallel import one_thread
from brujula.core.steps.text import keys_without_case
from brujula.fields import kinds
from brujula.fitting import Clock, Fitted, Kept, OnStep, quiet
from brujula.intake.labels import NO_LABELS, Labels
from brujula.policy.entities import ENTITIES
from brujula.policy.model import Policy
from brujula.review.holding import Applied

_SHARED = 0.75  # keys of the name to names, at most, for a key to be several people's


@dataclass(frozen=True)
class Matched:
    """All that matching found out. content, order : as `Fitted` has them;  besides : headings of columns that no field takes, and that count"""

    judged: Judged
    groups: group.Groups
    content: Keys
    order: Keys
    standards: Standards
    graded: Graded
    model: weigh.Model
    rules: tuple[Rule, ...]
    report: PassReport
    n_candidates: int
    seconds: dict[str, float]
    besides: tuple[str, ...] = ()


@dataclass(frozen=True)
class _Bench:
    """How the pairs of a batch are graded and judged: by what was fitted, under a policy."""

    batch: Batch
    policy: Policy
    fitted: Fitted

    def graded(self, pairs: Pairs) -> Graded:
        """Pairs with their grades, and what they agree in besides."""
        return self.widened(compare.compare(pairs, self.fitted.standards, dict(kinds()), self.fitted.comparisons))

    def widened(self, graded: Graded) -> Graded:
        """Graded pairs with what they agree in besides."""
        batch, fitted = self.batch, self.fitted
        if not fitted.attributes:
            return graded
        named = judging.naming_columns(batch.entity, graded.comparisons)
        counts = np.asarray((graded.grades()[:, named] == GRADES.index("same")).all(axis=1))
        if batch.n_incoming:
            counts &= (graded.pairs.left < batch.n_existing) != (graded.pairs.right < batch.n_existing)
        return attributes.widened(graded, fitted.attributes, counts)

    def judged(self, graded: Graded, model: weigh.Model | None = None) -> Judged:
        """Verdicts of graded pairs. model : other weights than those fitted"""
        return judging.judged_of(graded, model or self.fitted.model, self.policy, self.batch, self.fitted.order)


def match(
    batch: Batch,
    policy: Policy,
    on_step: OnStep = quiet,
    claims: Claims | None = None,
    labels: Labels = NO_LABELS,
    decisions: Applied | None = None,
    kept: Kept | None = None,
    fresh: NDArray[np.bool_] | None = None,
) -> Matched:
    """Bring together, grade, weigh, judge and group the records of a cleaned batch.

    With no incoming rows the existing records are matched with one another.
    claims : records that rows name themselves
    labels : pairs a person has judged, to learn from
    decisions : pairs a person has decided, which stand
    kept : what was found before, to be used again
    fresh : records of which at least one is in every pair that is looked at; None = all
    """
    with one_thread(len(batch)):
        plain = fitting.fit(batch, policy, on_step, labels, kept, fresh)
    clock = Clock(on_step)
    clock.step("weigh")
    policy = with_thresholds(policy, plain.graded, plain.model, batch)
    bench, judged, telling = _with_what_is_besides(_Bench(batch, policy, plain))
    judged = judging.besides_held(judged, batch, policy, telling)
    if claims is not None and len(claims.row):
        judged = _claimed(bench, judged, claims)
    if decisions is not None and len(decisions.left):
        judged = _decided(bench, judged, decisions)
    beside = _existing_pairs(judged, batch.n_existing) if batch.n_incoming else arrays.no_pairs()
    if len(beside):
        twice = replace(bench.fitted.model, prior=min(bench.fitted.model.prior, _prior_of_records(judged, batch.n_existing)))
        more = judging.besides_held(bench.judged(bench.graded(beside), twice), batch, policy, telling)
        judged = judging.one_of_several(arrays.join_judged(judged, more), batch, plain.order, policy)
    clock.step("group", "groups")
    judged, groups = _grouped(bench, judged)
    clock.step("")
    return Matched(
        judged=judged,
        groups=groups,
        content=plain.content,
        order=plain.order,
        standards=plain.standards,
        graded=plain.graded,
        model=plain.model,
        rules=tuple(besides.named(r, telling) for r in judging.every_rule(policy)),
        report=plain.report,
        n_candidates=plain.n_candidates,
        seconds=plain.seconds | {k: round(plain.seconds.get(k, 0.0) + v, 3) for k, v in clock.seconds.items()},
        besides=tuple(a.heading for a in bench.fitted.attributes),
    )


def _with_what_is_besides(bench: _Bench) -> tuple[_Bench, Judged, dict[str, besides.Telling]]:
    """The verdicts, with the columns that no field takes as evidence where the lists show that they tell who is who."""
    batch, fitted = bench.batch, bench.fitted
    judged = bench.judged(fitted.graded)
    if not batch.left_out:
        return bench, judged, {}
    little = judging.little(judged, batch.entity)
    named = chance.Seen(batch, fitted.standards, fitted.order, dict(kinds()), fitted.comparisons).named()
    telling = besides.telling(judged, batch, little)
    if more := besides.evidence(judged, batch, little, named, lambda: _shared(fitted, batch, named)):
        bench = replace(bench, fitted=replace(fitted, attributes=more, model=attributes.learnt(fitted.model, more)))
        judged = bench.judged(bench.widened(fitted.graded))
    return bench, judged, telling


def _claimed(bench: _Bench, judged: Judged, claims: Claims) -> Judged:
    """The verdicts, with those of records that rows name themselves."""
    found = bench.judged(bench.graded(Pairs(claims.row, claims.record, np.zeros(len(claims.row), np.uint64))))
    naming = {c.field for c in kinds()[ENTITIES[bench.batch.entity].identifying].comparisons}
    return judging.claimed(judged, found, claims, len(bench.policy.rule), bench.batch.n_existing, naming)


def _decided(bench: _Bench, judged: Judged, decisions: Applied) -> Judged:
    """The verdicts, with those of a person in the place of ours."""
    pairs = Pairs(decisions.left, decisions.right, np.zeros(len(decisions.left), np.uint64))
    answered = bench.judged(bench.graded(pairs))
    first = len(bench.policy.rule) + 2 + len(judging.CLAIMED)
    for number, rule in enumerate(judging.DECIDED):
        said = arrays.VERDICTS.index(rule.verdict)
        answered = judging.ruled(answered, decisions.verdict == said, first + number, said)
    return arrays.join_judged(judged.take(~arrays.among(judged.graded.pairs, pairs)), answered)


def _shared(fitted: Fitted, batch: Batch, named: Keys) -> dict[str, Keys]:
    """The keys of what several records may share; not those of the name that are hardly fewer than the names."""
    one_row = {k: keys for k, keys in fitted.standards.keys.items() if keys.ndim == 1}
    most = _SHARED * len(np.unique(named))
    naming = f"{ENTITIES[batch.entity].identifying}."
    shared = {k: keys for k, keys in one_row.items() if not k.startswith(naming) or len(np.unique(keys)) <= most}
    # Of regions and countries no key is made: too many share them.
    return shared | {f: keys_without_case(batch.columns[f]) for f in ("region", "country") if f in batch.columns}


def _grouped(bench: _Bench, judged: Judged) -> tuple[Judged, group.Groups]:
    """Groups of the pairs judged, and the pairs with those that the groups brought together and forbid, or made doubtful."""
    batch, policy, fitted = bench.batch, bench.policy, bench.fitted
    order, saying, counting = fitted.order, fitted.saying, fitted.counting
    lone = [n for n, rule in enumerate(judging.rules_of(policy)) if not rule.bridge]
    groups = group.group(judged, len(batch), order, lone, counting)
    seen, beside = judged.graded.pairs, judged.take(np.zeros(0, np.int64))
    while len(more := group.unseen(groups, seen, saying, order)):
        # A chain of links may join two whom a rule keeps apart, and who are too unlike to have been kept as a pair.
        found = bench.judged(bench.graded(more))
        hard = (found.verdict == arrays.DIFFERENT) & ~judging.said(judged, len(policy.rule), len(batch), more)
        beside = arrays.join_judged(beside, found.take(~hard))
        if not hard.any():
            break
        judged, seen = arrays.join_judged(judged, found.take(hard)), arrays.join_pairs(seen, more)
        groups = group.group(judged, len(batch), order, lone, counting)
    inside = np.flatnonzero(group.within(groups, judged.graded.pairs))
    beside = beside.take(group.within(groups, beside.graded.pairs))
    links, left = third.doubtful(
        arrays.join_judged(judged.take(inside), beside),
        numbers.number(saying)[0],
        fitted.model,
        policy.match.same_from,
        judge.silence(judging.rules_of(policy)),
    )
    if len(ours := np.flatnonzero(links < len(inside))):  # those behind join nobody
        judged = _held(judged, inside[links[ours]], left[ours])
        groups = group.group(judged, len(batch), order, lone, counting)
    return judged, groups


def _held(judged: Judged, at: NDArray[np.int64], probability: NDArray[np.float64]) -> Judged:
    """Some pairs left open, with the probability that is left of each."""
    verdict, left = judged.verdict.copy(), judged.probability.copy()
    verdict[at], left[at] = arrays.UNSURE, probability
    return replace(judged, verdict=verdict, probability=left)


def with_thresholds(policy: Policy, graded: Graded, model: weigh.Model, batch: Batch) -> Policy:
    """The policy with the thresholds that follow from the risk it bears and the people it has, where it states them."""
    how = policy.match
    if how.risk is None and how.staff is None:
        return policy
    rules = judging.rules_of(policy)
    judged = judge.judge(graded, model, rules, how.same_from, how.unsure_from, batch.columns)
    free = judged.rule < 0
    same, unsure = how.same_from, how.unsure_from
    if how.risk is not None:
        same = judge.same_for_risk(judged.probability[free], how.risk)
        unsure = min(unsure, same)
    if how.staff is not None and batch.n_incoming:
        row = np.where(graded.pairs.left >= batch.n_existing, graded.pairs.left - batch.n_existing, -1)[free].astype(np.int32)
        unsure = judge.unsure_for_staff(judged.probability[free], row, same, int(how.staff * batch.n_incoming), unsure)
    return policy.model_copy(update={"match": how.model_copy(update={"same_from": same, "unsure_from": min(unsure, same)})})


def _prior_of_records(judged: Judged, n_existing: int) -> float:
    """Log2 odds that a pair of existing records is a true one: of the rows found, the share that is the same as two of them shows how many have another beside them."""
    row = arrays.row_of(judged.graded.pairs, n_existing)
    _, records = np.unique(row[(judged.verdict == arrays.SAME) & (row >= 0)], return_counts=True)
    return float(np.log2(2.0 * (np.count_nonzero(records > 1) + 1.0) / (len(records) + 1.0) / n_existing))


def _existing_pairs(judged: Judged, n_existing: int) -> Pairs:
    """Pairs of existing records that one row is taken to be the same as."""
    pairs = judged.graded.pairs
    take = np.flatnonzero((judged.verdict == arrays.SAME) & (pairs.left >= n_existing) & (pairs.right < n_existing))
    order = take[np.lexsort((pairs.right[take], pairs.left[take]))]
    row, record = pairs.left[order], pairs.right[order]
    lefts, rights = [], []
    for apart in range(1, 13):  # the n-th next record of the same row
        if len(row) <= apart:
            break
        same = row[apart:] == row[:-apart]
        lefts.append(record[:-apart][same])
        rights.append(record[apart:][same])
    if not lefts:
        return arrays.no_pairs()
    left, right = np.concatenate(lefts), np.concatenate(rights)
    return arrays.each_once(Pairs(left, right, np.zeros(len(left), np.uint64)))
