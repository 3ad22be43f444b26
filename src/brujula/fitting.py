"""What is known of a batch before any pair has a verdict: standard forms, candidate pairs with their grades, the weights fitted to them."""

from __future__ import annotations

import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import cache, partial

import numpy as np
from numpy.typing import NDArray

from brujula import chance, judging
from brujula.core import arrays, candidates, compare, judge, rules as rulebook, standardise, weigh
from brujula.core.arrays import Graded, Pairs, PassReport
from brujula.core.attributes import Attribute
from brujula.core.batch import Batch, Keys
from brujula.core.kind import Comparison, Kind, Standards, Who
from brujula.core.steps import sharing
from brujula.core.steps.parallel import spread
from brujula.errors import PolicyError, instead
from brujula.fields import kinds
from brujula.intake.labels import NO_LABELS, Labels
from brujula.policy.entities import ENTITIES
from brujula.policy.model import Policy

_RANDOM = 500_000  # random pairs at most, and so many a record
_RANDOM_A_RECORD = 20
_FIT_ON = 400_000
_KEEP_FROM = -10.0  # bits of posterior odds under which a candidate is not kept
_THROUGHOUT = {"contact": ("place", "company", "job_title"), "account": ("place",)}
"""What all of one list may have in common: who comes from one workshop or one town."""
_TOLD_BY_NAMES = {"contact": {("place", "same country"): 1.0}}
"""Bits that levels say at most, since names say part of it: every other two people of one name are of one country."""
_NAMESAKES = 0.2
"""Others that bear the name of a firm, on average, at most."""
OnStep = Callable[[str], None]


def quiet(_: str) -> None:
    """No progress shown."""


def compared(policy: Policy) -> tuple[Comparison, ...]:
    """Comparisons the policy asks for, in its order. Raises PolicyError for one that no kind makes."""
    known = {c.field: c for kind in kinds().values() for c in kind.comparisons}
    for field in policy.match.compare:
        if field not in known:
            raise PolicyError(f'match.compare: nothing is compared as "{field}"; {instead(field, known)}')
    most = _TOLD_BY_NAMES.get(policy.entity, {})
    bounded = {field for field, _ in most}
    return tuple(_at_most(known[f], most) if f in bounded else known[f] for f in policy.match.compare)


def _at_most(comparison: Comparison, most: Mapping[tuple[str, str], float]) -> Comparison:
    """The comparison with its levels saying no more than so many bits, by field and level."""
    levels = (replace(x, most=most.get((comparison.field, x.name), x.most)) for x in comparison.levels)
    return replace(comparison, levels=tuple(levels))


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


class Clock:
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
    wanted = compared(policy)
    check_matching(policy)
    clock = Clock(on_step)
    clock.step("standardise", "standard forms")
    content, saying = candidates.content_keys(batch), _saying(batch, known)
    order, counting = sharing.in_order(saying, content)
    batch = replace(batch, counting=counting)
    standards = standardise.standardise(batch, known, ENTITIES[batch.entity].identifying)
    passes = tuple(candidates.Pass.read(p, policy.match.narrow) for p in policy.match.passes)
    fitted = partial(Fitted, standards, content, saying, order, counting, wanted, passes)
    if kept is not None:
        clock.step("")
        return fitted(kept.graded, kept.model, kept.report, kept.n_candidates, clock.seconds)
    clock.step("candidates", "candidate pairs")
    found = candidates.index(batch, standards.keys, passes, order, saying)
    clock.step("compare", "comparing")
    lists = _Lists(batch, policy, known, wanted, passes, standards, saying, order)
    begin = _beginning(lists, compare.compare_many(_random_pairs(counting, saying), standards, known, wanted))
    graded, n_candidates = _likely(lists, begin, found, fresh)
    clock.step("weigh", "evidence")
    model = _learnt(lists, begin, graded, labels)
    clock.step("")
    return fitted(graded, model, found.report, n_candidates, clock.seconds)


@dataclass(frozen=True)
class _Lists:
    """The records of a batch as they are compared."""

    batch: Batch
    policy: Policy
    known: dict[str, Kind]
    wanted: tuple[Comparison, ...]
    passes: tuple[candidates.Pass, ...]
    standards: Standards
    saying: Keys
    order: Keys

    @property
    def seen(self) -> chance.Seen:
        return chance.Seen(self.batch, self.standards, self.order, self.known, self.wanted)

    def compared(self, pairs: Pairs, gate: compare.Gate | None = None) -> Graded:
        return compare.compare(pairs, self.standards, self.known, self.wanted, gate)


@dataclass(frozen=True)
class _Beginning:
    """What is reckoned of the lists before any weight is fitted.

    random    : the grades of pairs taken at random
    weights   : the weights to begin with, where these are the candidates
    possible  : pairs that the lists could form
    namesakes : others that bear a record's name, on average, by kind of name
    """

    random: Graded
    weights: Callable[[Graded], weigh.Model]
    possible: float
    namesakes: dict[str, float]


def _beginning(lists: _Lists, random: Graded) -> _Beginning:
    batch, how, n = lists.batch, lists.policy.match, len(lists.batch)
    cap = float(np.clip(np.log2(max(n, 2) / 4.0), 4.0, 11.0)) if how.cap == "auto" else float(how.cap)
    one_list = (random.pairs.left < batch.n_existing) == (random.pairs.right < batch.n_existing)
    # Of records alone, it is their duplicates that bear one name.
    namesakes = chance.namesakes(lists.seen) if batch.n_incoming else {}
    possible = _possible(batch)
    prior = float(np.log2(max(min(batch.n_incoming or batch.n_existing, batch.n_existing) * 0.3, 0.5) / possible))
    habits = (frozenset(how.changing), one_list, _THROUGHOUT[batch.entity], namesakes)

    def weights(graded: Graded) -> weigh.Model:
        return weigh.starting(lists.wanted, random, graded, n, prior, cap, how.floor, how.temper, *habits)

    return _Beginning(random, weights, possible, namesakes)


def _likely(lists: _Lists, begin: _Beginning, found: candidates.Index, fresh: NDArray[np.bool_] | None) -> tuple[Graded, int]:
    """The candidates that may be one, with their grades, and how many all were; made, compared and thinned in chunks."""
    by_name = _made_by(lists.wanted, lists.passes, lists.known, but_telling=True)
    gate = compare.Gate({c.field: by_name[i] for i, c in enumerate(lists.wanted) if c.field in lists.policy.match.gate})
    thinning = begin.weights(begin.random)

    def graded_of(pairs: Pairs) -> tuple[int, Graded]:
        if fresh is not None:
            pairs = pairs.take(fresh.take(pairs.left) | fresh.take(pairs.right))
        graded = lists.compared(pairs, gate)
        _, total = weigh.evidence(thinning, graded)
        return len(pairs), graded.take((total + thinning.prior > _KEEP_FROM) | judging.identical(graded.pairs, lists.order))

    counts, kept = [0], []
    for count, part in spread(graded_of, candidates.collect(found)):
        counts.append(count)
        kept.append(part)
    return arrays.join(kept) if kept else lists.compared(arrays.no_pairs()), sum(counts)


def _learnt(lists: _Lists, begin: _Beginning, graded: Graded, labels: Labels) -> weigh.Model:
    """The weights fitted to the candidates, to what the lists show of chance, and to what a person has judged."""
    batch, how, own, seen = lists.batch, lists.policy.match, judging.rules_of(lists.policy), lists.seen
    model = begin.weights(graded)
    chosen, share = _sample(graded, lists.saying)
    told = Pairs(labels.left, labels.right, np.zeros(len(labels.left), np.uint64))
    taught = lists.compared(told) if len(told) else None
    free = judge.said_by_rules(taught, own, batch.columns) == arrays.SAME if taught is not None else None
    # Nothing is learnt from pairs a rule calls different, not worth a verdict, or a person's to decide.
    said = judge.said_by_rules(chosen, own, batch.columns)
    barred = said != arrays.SAME
    # What a person is to decide may be one, too: of a list of names alone half the names are reckoned to be those of records.
    out = barred & (said != arrays.UNSURE) if batch.n_incoming else barred
    least = max(chance.alike(seen, chosen.take(~out)), 0.5)
    made_by = _made_by(lists.wanted, lists.passes, lists.known)
    model = weigh.fit(model, chosen, barred, begin.possible, made_by, share, taught, labels.same, free, judge.silence(own), least)
    strangers = {name: n * share for name, n in chance.strangers(seen).items()}
    model = replace(model, exclusive=judging.exclusive(chosen, model, lists.policy, batch, strangers))
    doubts, lifts = chance.doubts(seen, own, chosen, share, model, begin.possible)
    model = replace(model, doubts=doubts, lifts=lifts)
    if taught is not None:
        model = replace(model, doubts=judge.learnt_doubts(taught, labels.same, model, own, batch.columns))
    # Lists in which many have one name say little of a name that one record has.
    if batch.n_incoming and max(begin.namesakes.values(), default=0.0) <= _NAMESAKES:
        first = judge.judge(chosen, model, own, how.same_from, how.unsure_from, batch.columns)
        gained = judge.known_bits(first, batch.n_existing, batch.n_incoming, share)
        like = judging.like_names(batch.entity, lists.wanted)
        model = replace(model, n_existing=batch.n_existing, known=gained, like=like)
    return model


def _saying(batch: Batch, known: dict[str, Kind]) -> Keys:
    """A key of what each record says of what is compared: what it says besides (a note, an order's number) makes it no other."""
    return candidates.content_keys(
        batch, {part for kind in known.values() if kind.comparisons for part in (*kind.parts, *kind.beside)}
    )


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
    wanted: tuple[Comparison, ...], passes: tuple[candidates.Pass, ...], known: dict[str, Kind], but_telling: bool = False
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
