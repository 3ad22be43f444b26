"""The matching steps in order: standard forms, candidate pairs, grades, evidence, verdicts, groups."""

from __future__ import annotations

import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import cache, partial

import numpy as np
from numpy.typing import NDArray

from brujula import besides, chance, judging
from brujula.core import arrays, attributes, candidates, compare, group, judge, rules as rulebook, standardise, third, weigh
from brujula.core.arrays import Claims, Graded, Judged, Pairs, PassReport
from brujula.core.attributes import Attribute
from brujula.core.batch import Batch, Keys
from brujula.core.kind import GRADES, Comparison, Kind, Standards, Who
from brujula.core.rules import Rule
from brujula.core.steps import numbers, sharing
from brujula.core.steps.parallel import one_thread, spread
from brujula.core.steps.text import keys_without_case
from brujula.errors import PolicyError, instead
from brujula.fields import kinds
from brujula.intake.labels import NO_LABELS, Labels
from brujula.policy.entities import ENTITIES
from brujula.policy.model import Policy
from brujula.review.holding import Applied

_RANDOM = 500_000  # random pairs at most, and so many a record
_RANDOM_A_RECORD = 20
_FIT_ON = 400_000
_KEEP_FROM = -10.0  # bits of posterior odds under which a candidate is not kept
_SHARED = 0.75  # keys of the name to names, at most, for a key to be several people's
OnStep = Callable[[str], None]


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


def quiet(_: str) -> None:
    """No progress shown."""


def compared(policy: Policy) -> tuple[Comparison, ...]:
    """Comparisons the policy asks for, in its order. Raises PolicyError for one that no kind makes."""
    known = {c.field: c for kind in kinds().values() for c in kind.comparisons}
    for field in policy.match.compare:
        if field not in known:
            raise PolicyError(f'match.compare: nothing is compared as "{field}"; {instead(field, known)}')
    return tuple(known[f] for f in policy.match.compare)


def check_matching(policy: Policy) -> None:
    """Raises PolicyError for a rule that cannot be read or can never speak, and for a pass or a field of matching there is none of."""
    wanted = compared(policy)
    rulebook.check(judging.rules_of(policy), wanted, ENTITIES[policy.entity].fields)
    how = policy.match
    for name, fields in (("gate", how.gate), ("changing", how.changing)):
        for field in fields:
            if field not in (known := [c.field for kind in kinds().values() for c in kind.comparisons]):
                raise PolicyError(f'match.{name}: nothing is compared as "{field}"; {instead(field, known)}')
    if len(how.passes) > candidates.MOST_PASSES:
        raise PolicyError(f"match.passes: {len(how.passes)} passes; at most {candidates.MOST_PASSES} are made")
    for text in how.passes:
        one = candidates.Pass.read(text, how.narrow)
        for key in (*one.parts, *filter(None, [one.narrow])):
            if key not in (keys := _keys(policy.entity, tuple(sorted(kinds())))):
                raise PolicyError(f'match.passes, "{text}": no key "{key}"; {instead(key, keys)}')


@cache
def _keys(entity: str, names: tuple[str, ...]) -> tuple[str, ...]:
    """The keys that passes may be made of, as `kind.key`: what the kinds of these names give for a record that holds nothing."""
    nothing, known = Batch(entity, 1, 0, {}), kinds()
    given = {n: known[n].keys(known[n].standardise(nothing, lambda: Who.nobody(1))) for n in names if known[n].comparisons}
    return tuple(f"{name}.{key}" for name, keys in given.items() for key in keys)


@dataclass(frozen=True)
class Kept:
    """Graded candidates and weights that were found before, of the very same records."""

    graded: Graded
    model: weigh.Model
    report: PassReport
    n_candidates: int


@dataclass(frozen=True)
class Fitted:
    """What is known of a batch before any pair has a verdict: standard forms, graded candidates, weights.

    content    : uint64[n_records], a key of all that each record holds;  saying : of what is compared of it
    order      : uint64[n_records], the rank of each by what is compared of it, then by all that it holds; those that hold the same have one
    counting   : bool[n_records], of those that say the same one
    attributes : columns that no field takes, and that are evidence
    """

    standards: Standards
    content: Keys
    saying: Keys
    order: Keys
    counting: NDArray[np.bool_]
    comparisons: tuple[Comparison, ...]
    passes: tuple[candidates.Pass, ...]
    graded: Graded
    model: weigh.Model
    report: PassReport
    n_candidates: int
    seconds: dict[str, float]
    attributes: tuple[Attribute, ...] = ()


class _Clock:
    """Seconds by step, and what is being done, for who wants to know."""

    def __init__(self, on_step: OnStep) -> None:
        self.seconds: dict[str, float] = {}
        self._on_step, self._name, self._since = on_step, "", time.perf_counter()

    def step(self, name: str, told: str = "") -> None:
        """The step before is done, this one begins."""
        now = time.perf_counter()
        if self._name:
            self.seconds[self._name] = round(self.seconds.get(self._name, 0.0) + now - self._since, 3)
        self._name, self._since = name, now
        if told:
            self._on_step(told)


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
        fitted = fit(batch, policy, on_step, labels, kept, fresh)
    clock = _Clock(on_step)
    clock.step("weigh")
    known: dict[str, Kind] = dict(kinds())
    plain, order = fitted, fitted.order
    policy = with_thresholds(policy, fitted.graded, fitted.model, batch)
    judged = judging.judged_of(fitted.graded, fitted.model, policy, batch, order)
    telling: dict[str, besides.Telling] = {}
    if batch.left_out:
        little, named = judging.little(judged, batch.entity), _seen(fitted, batch, known).named()
        telling = besides.telling(judged, batch, little)
        if more := besides.evidence(judged, batch, little, named, lambda: _shared(plain, batch, named)):
            fitted = replace(fitted, attributes=more, model=attributes.learnt(fitted.model, more))
            judged = judging.judged_of(_widened(plain.graded, fitted, batch), fitted.model, policy, batch, order)
    judged = judging.besides_held(judged, batch, policy, telling)
    if claims is not None and len(claims.row):
        pairs = Pairs(claims.row, claims.record, np.zeros(len(claims.row), np.uint64))
        claimed = judging.judged_of(_graded(pairs, fitted, batch, known), fitted.model, policy, batch, order)
        naming = {c.field for c in known[ENTITIES[batch.entity].identifying].comparisons}
        judged = judging.claimed(judged, claimed, claims, len(policy.rule), batch.n_existing, naming)
    if decisions is not None and len(decisions.left):
        pairs = Pairs(decisions.left, decisions.right, np.zeros(len(decisions.left), np.uint64))
        graded = _graded(pairs, fitted, batch, known)
        answered = judging.judged_of(graded, fitted.model, policy, batch, order)
        first = len(policy.rule) + 2 + len(judging.CLAIMED)
        for number, rule in enumerate(judging.DECIDED):
            said = arrays.VERDICTS.index(rule.verdict)
            answered = judging.ruled(answered, decisions.verdict == said, first + number, said)
        judged = arrays.join_judged(judged.take(~arrays.among(judged.graded.pairs, pairs)), answered)
    beside = _existing_pairs(judged, batch.n_existing) if batch.n_incoming else arrays.no_pairs()
    if len(beside):
        extra = _graded(beside, fitted, batch, known)
        twice = replace(fitted.model, prior=min(fitted.model.prior, _prior_of_records(judged, batch.n_existing)))
        extra_judged = judging.judged_of(extra, twice, policy, batch, order)
        judged = arrays.join_judged(judged, judging.besides_held(extra_judged, batch, policy, telling))
        judged = judging.one_of_several(judged, batch, order, policy)
    clock.step("group", "groups")
    judged, groups = _grouped(judged, fitted, policy, batch)
    clock.step("")
    seconds = fitted.seconds | {k: round(fitted.seconds.get(k, 0.0) + v, 3) for k, v in clock.seconds.items()}
    rules, n = tuple(besides.named(r, telling) for r in judging.every_rule(policy)), fitted.n_candidates
    headings = tuple(a.heading for a in fitted.attributes)
    return Matched(
        judged,
        groups,
        fitted.content,
        order,
        fitted.standards,
        plain.graded,
        plain.model,
        rules,
        fitted.report,
        n,
        seconds,
        headings,
    )


def _graded(pairs: Pairs, fitted: Fitted, batch: Batch, known: Mapping[str, Kind]) -> Graded:
    """Pairs with their grades, and what they agree in besides."""
    return _widened(compare.compare(pairs, fitted.standards, known, fitted.comparisons), fitted, batch)


def _widened(graded: Graded, fitted: Fitted, batch: Batch) -> Graded:
    if not fitted.attributes:
        return graded
    named = judging.naming_columns(batch.entity, graded.comparisons)
    counts = np.asarray((graded.grades()[:, named] == GRADES.index("same")).all(axis=1))
    if batch.n_incoming:
        counts &= (graded.pairs.left < batch.n_existing) != (graded.pairs.right < batch.n_existing)
    return attributes.widened(graded, fitted.attributes, counts)


def _seen(fitted: Fitted, batch: Batch, known: Mapping[str, Kind]) -> chance.Seen:
    return chance.Seen(batch, fitted.standards, fitted.order, known, fitted.comparisons)


def _shared(fitted: Fitted, batch: Batch, named: Keys) -> dict[str, Keys]:
    """The keys of what several records may share; not those of the name that are hardly fewer than the names."""
    one_row = {k: keys for k, keys in fitted.standards.keys.items() if keys.ndim == 1}
    most = _SHARED * len(np.unique(named))
    naming = f"{ENTITIES[batch.entity].identifying}."
    shared = {k: keys for k, keys in one_row.items() if not k.startswith(naming) or len(np.unique(keys)) <= most}
    # Of regions and countries no key is made: too many share them.
    return shared | {f: keys_without_case(batch.columns[f]) for f in ("region", "country") if f in batch.columns}


def _grouped(judged: Judged, fitted: Fitted, policy: Policy, batch: Batch) -> tuple[Judged, group.Groups]:
    """Groups of the pairs judged, and the pairs with those that the groups brought together and forbid, or made doubtful."""
    known: dict[str, Kind] = dict(kinds())
    order, saying, counting = fitted.order, fitted.saying, fitted.counting
    lone = [n for n, rule in enumerate(judging.rules_of(policy)) if not rule.bridge]
    groups = group.group(judged, len(batch), order, lone, counting)
    seen, beside = judged.graded.pairs, judged.take(np.zeros(0, np.int64))
    while len(more := group.unseen(groups, seen, saying, order)):
        # A chain of links may join two whom a rule keeps apart, and who are too unlike to have been kept as a pair.
        between = _graded(more, fitted, batch, known)
        found = judging.judged_of(between, fitted.model, policy, batch, order)
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


def _saying(batch: Batch, known: Mapping[str, Kind]) -> Keys:
    """A key of what each record says of what is compared: what it says besides (a note, an order's number) makes it no other."""
    return candidates.content_keys(
        batch, {part for kind in known.values() if kind.comparisons for part in (*kind.parts, *kind.beside)}
    )


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


_THROUGHOUT = {"contact": ("place", "company", "job_title"), "account": ("place",)}
"""What all of one list may have in common: who comes from one workshop or one town."""


def fit(
    batch: Batch,
    policy: Policy,
    on_step: OnStep = quiet,
    labels: Labels = NO_LABELS,
    kept: Kept | None = None,
    fresh: NDArray[np.bool_] | None = None,
) -> Fitted:
    """Standard forms, candidate pairs with their grades, and the weights fitted to them; or those that were kept.

    fresh : bool[n_records], only pairs with at least one of these are looked at; None = all
    """
    known: dict[str, Kind] = dict(kinds())
    wanted, own = compared(policy), judging.rules_of(policy)
    check_matching(policy)
    clock = _Clock(on_step)
    clock.step("standardise", "standard forms")
    content, saying = candidates.content_keys(batch), _saying(batch, known)
    order, counting = sharing.in_order(saying, content)
    batch = replace(batch, counting=counting)
    standards = standardise.standardise(batch, known, ENTITIES[batch.entity].identifying)
    passes = [candidates.Pass.read(p, policy.match.narrow) for p in policy.match.passes]
    fitted = partial(Fitted, standards, content, saying, order, counting, wanted, tuple(passes))
    if kept is not None:
        clock.step("")
        return fitted(kept.graded, kept.model, kept.report, kept.n_candidates, clock.seconds)
    clock.step("candidates", "candidate pairs")
    found = candidates.index(batch, standards.keys, passes, order, saying)
    clock.step("compare", "comparing")
    random = compare.compare_many(_random_pairs(counting, saying), standards, known, wanted)
    n = len(batch)
    possible = _possible(batch)
    prior = float(np.log2(max(min(batch.n_incoming or batch.n_existing, batch.n_existing) * 0.3, 0.5) / possible))
    cap = float(np.clip(np.log2(max(n, 2) / 4.0), 4.0, 11.0)) if policy.match.cap == "auto" else float(policy.match.cap)
    one_list = (random.pairs.left < batch.n_existing) == (random.pairs.right < batch.n_existing)
    habits = (one_list, _THROUGHOUT[batch.entity])
    found_out = chance.Seen(batch, standards, order, known, wanted)
    # Of records alone, it is their duplicates that bear one name.
    namesakes = chance.namesakes(found_out) if batch.n_incoming else {}
    bounds = (cap, policy.match.floor, policy.match.temper, frozenset(policy.match.changing), *habits, namesakes)
    made_by = _made_by(wanted, passes, known)
    by_name = _made_by(wanted, passes, known, but_telling=True)
    gate = compare.Gate({c.field: by_name[i] for i, c in enumerate(wanted) if c.field in policy.match.gate})
    thinning = weigh.starting(wanted, random, random, n, prior, *bounds)

    def graded_of(pairs: Pairs) -> tuple[int, Graded]:
        if fresh is not None:
            pairs = pairs.take(fresh.take(pairs.left) | fresh.take(pairs.right))
        graded = compare.compare(pairs, standards, known, wanted, gate)
        _, total = weigh.evidence(thinning, graded)
        return len(pairs), graded.take((total + thinning.prior > _KEEP_FROM) | judging.identical(graded.pairs, order))

    counts, kept_pairs = [0], []
    for count, part in spread(graded_of, candidates.collect(found)):
        counts.append(count)
        kept_pairs.append(part)
    graded = arrays.join(kept_pairs) if kept_pairs else compare.compare(arrays.no_pairs(), standards, known, wanted)
    clock.step("weigh", "evidence")
    model = weigh.starting(wanted, random, graded, n, prior, *bounds)
    chosen, share = _sample(graded, saying)
    told = Pairs(labels.left, labels.right, np.zeros(len(labels.left), np.uint64))
    taught = compare.compare(told, standards, known, wanted) if len(told) else None
    free = judge.said_by_rules(taught, own, batch.columns) == arrays.SAME if taught is not None else None
    # Nothing is learnt from pairs a rule calls different, not worth a verdict, or a person's to decide.
    said = judge.said_by_rules(chosen, own, batch.columns)
    barred = said != arrays.SAME
    # What a person is to decide may be one, too: of a list of names alone half the names are reckoned to be those of records.
    out = barred & (said != arrays.UNSURE) if batch.n_incoming else barred
    least = max(chance.alike(found_out, chosen.take(~out)), 0.5)
    model = weigh.fit(model, chosen, barred, possible, made_by, share, taught, labels.same, free, judge.silence(own), least)
    strangers = {name: n * share for name, n in chance.strangers(found_out).items()}
    model = replace(model, exclusive=judging.exclusive(chosen, model, policy, batch, strangers))
    doubts, lifts = chance.doubts(found_out, own, chosen, share, model, possible)
    model = replace(model, doubts=doubts, lifts=lifts)
    if taught is not None:
        model = replace(model, doubts=judge.learnt_doubts(taught, labels.same, model, own, batch.columns))
    # Lists in which many have one name say little of a name that one record has.
    if batch.n_incoming and max(namesakes.values(), default=0.0) <= _NAMESAKES:
        first = judge.judge(chosen, model, own, policy.match.same_from, policy.match.unsure_from, batch.columns)
        gained = judge.known_bits(first, batch.n_existing, batch.n_incoming, share)
        model = replace(model, n_existing=batch.n_existing, known=gained, like=judging.like_names(batch.entity, wanted))
    clock.step("")
    return fitted(graded, model, found.report, sum(counts), clock.seconds)


_NAMESAKES = 0.2
"""Others that bear the name of a firm, on average, at most."""


def _possible(batch: Batch) -> float:
    """How many pairs the lists could form: rows with records and with each other, or records with each other."""
    rows, records = float(batch.n_incoming), float(batch.n_existing)
    return max(rows * records + 0.5 * rows**2 if rows else 0.5 * records**2, 1.0)


def _sample(graded: Graded, saying: Keys) -> tuple[Graded, float]:
    """The pairs to fit on, and which share of all they are: chosen by what is compared where there are many, so in any order the same."""
    every = max(len(graded.pairs) // _FIT_ON, 1)
    if every == 1:
        return graded, 1.0
    mixed = (saying.take(graded.pairs.left) + saying.take(graded.pairs.right)) >> np.uint64(20)
    return graded.take(mixed % np.uint64(every) == 0), 1.0 / every


def _random_pairs(counting: NDArray[np.bool_], saying: Keys) -> Pairs:
    """Pairs taken at random of the records that count, the same for any order of the records."""
    once = np.flatnonzero(counting)
    order, n = once[np.argsort(saying[once], kind="stable")].astype(np.int32), len(once)
    if n < 2:
        return arrays.no_pairs()
    count = min(_RANDOM, _RANDOM_A_RECORD * n, n * (n - 1) // 2)
    at = np.arange(count, dtype=np.int64)
    step = 1 + (at // n * 7919 + n // 3) % (n - 1)  # another neighbour in every round
    left, right = order[at % n], order[(at + step) % n]
    return Pairs(left, right, np.zeros(count, np.uint64))


def _made_by(
    wanted: tuple[Comparison, ...], passes: list[candidates.Pass], known: dict[str, Kind], but_telling: bool = False
) -> NDArray[np.uint64]:
    """Per comparison, the passes that use its kind. but_telling : not those that also use a key that one person only has, or two things more."""
    by_kind = dict.fromkeys(known, 0)
    for number, one in enumerate(passes):
        parts = [part.split(".") for part in one.parts]
        personal = any(key in known[kind].personal for kind, key in parts)
        for kind in {kind for kind, _ in parts}:
            others = sum(other != kind for other, _ in parts)
            if not (but_telling and (others > 1 or personal)):
                by_kind[kind] |= 1 << number
    kind_of = {c.field: name for name, kind in known.items() for c in kind.comparisons}
    return np.array([by_kind[kind_of[c.field]] for c in wanted], np.uint64)


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
