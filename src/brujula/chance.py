"""What shares a value by chance: how often two of one list do tells how often a row and a record do that are two."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from functools import partial
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from brujula import judging
from brujula.core import compare, judge, rules as rulebook, weigh
from brujula.core.arrays import Graded, Pairs, row_of
from brujula.core.batch import Batch, Keys
from brujula.core.kind import GRADES, Comparison, Kind, Standards
from brujula.core.rules import Rule
from brujula.core.steps import sharing
from brujula.core.steps.text import join_keys
from brujula.core.weigh import Model
from brujula.policy.entities import ENTITIES

_FAR, _HALVINGS = 40.0, 40  # bits of a lift at most, and how often that is halved
_ENOUGH = 200_000  # records that show how many are relatives or namesakes
_LEAST = 0.05  # of what a rule holds, the share that is never put down to chance
_USUAL = 2000.0  # records that what is usual is worth
_HALF, _MOST, _OFTEN = 0.5, 0.9, 0.08
_EVERY = "every"
_PAIRS, _OTHERS = 500_000, 64  # pairs of one list to be compared at most, and others of each
_SITES = ("postal_address", "website", "phone", "coordinates")  # what a firm and its sister share
_AGAIN = 0.3  # times a record stands in the base again, under its name, to times a row does: a base that holds as many twice shows no sisters


class Seen(NamedTuple):
    """The lists as they are compared. order : as `fitting.Fitted` has it"""

    batch: Batch
    standards: Standards
    order: Keys
    known: Mapping[str, Kind]
    comparisons: tuple[Comparison, ...]

    def values(self, kind: str) -> Keys:
        """Per record, the key of a kind that is one record's alone, where no other shares it; of several the first."""
        keys = self.standards.keys[f"{kind}.{self.known[kind].alone}"]
        return keys if keys.ndim == 1 else keys[0]

    def relatives(self, kind: str) -> tuple[Keys, Keys]:
        """Per record, the key of a kind with that of its family name, and who it is besides: by name, or of names themselves by all it says."""
        if kind == ENTITIES[self.batch.entity].identifying:
            return self.values(kind), self.order
        return join_keys(self.values(kind), self.standards.keys["person_name.family_sound"]), self.named()

    def named(self) -> Keys:
        """Per record, who it is by name."""
        naming = ENTITIES[self.batch.entity].identifying
        return self.standards.keys[f"{naming}.{self.known[naming].identity[0]}"] if naming in self.standards.of else self.order


def strangers(seen: Seen) -> dict[str, float]:
    """Per kind of which a value may be one record's alone: how many rows are likely to share a record's and be another, by name."""
    return {
        name: sharing.strangers(seen.values(name), seen.named(), seen.batch.n_existing)
        for name in judging.EXCLUSIVE
        if name in seen.standards.of and seen.batch.n_incoming
    }


def namesakes(seen: Seen) -> dict[str, float]:
    """Per comparison by which firms are known, how many others bear the name of one, as far as each list shows by its own records.

    People are born with their names, and share them; of lists in which no two firms have one name, a firm of that name is the firm.
    """
    if seen.batch.entity != "account" or "company" not in seen.standards.of:
        return {}
    values = seen.named()
    usual = max(x.alone for c in seen.comparisons if c.field == "company" for x in c.levels if x.grade == "same")
    n, others = int(np.count_nonzero(values)), sharing.namesakes(values, seen.order, seen.batch.n_existing)
    return {"company": (others * n + usual * _USUAL) / (n + _USUAL)}


def doubts(
    seen: Seen, rules: Sequence[Rule], graded: Graded, share: float, model: Model, n_possible: float
) -> tuple[tuple[float, ...] | None, tuple[float, ...] | None]:
    """The doubt of each rule, and the bits that what it holds gains (`weigh.Model`), where some may hold what chance brings together or speak only where the lists show why; None where none does.

    Two of one list are two. The share of either list that meets such a rule with another of the list, times the rows, is how many rows
    meet it with a record and are another; what is held beyond that is more than chance. Of records alone as many are held as are
    likely to be there twice under two names. A rule that the lists must show (`beside`) has a doubt of 0, and does not speak, where less than half of
    what it would hold is so by chance: of a base in which firms stand several times, going by the list in which fewer do. Of records alone one in twelve must.
    Nor does it where in every list more stand there several times under one name: what stands beside those is another wording, too.
    Of some rules (`within`) the same share is how many of what they hold are two; their own doubt is worth ten pairs.
    Of a rule about the words of names the evidence says which pairs are likelier, and the lists how many are one: what it holds is lifted to that.

    graded, share : pairs of the lists, and which share of all such they are
    model         : fitted; it tells how many true pairs there are, and how many of them bear names with nothing in common
    n_possible    : how many pairs the lists could form
    """
    batch, out, lifts = seen.batch, [r.doubted for r in rules], [0.0] * len(rules)
    asked = [n for n, r in enumerate(rules) if (r.crowded or r.within or r.beside) in seen.standards.of]
    if not asked:
        return None, None
    rows, true = row_of(graded.pairs, batch.n_existing), n_possible / (1.0 + 2.0**-model.prior)
    naming, near = ENTITIES[batch.entity].identifying, dict[tuple[str, str], _Near]()
    # Where a rule that the lists must show does not speak, another may.
    for first in (True, False):
        these = [n for n in asked if bool(rules[n].beside) == first]
        speaking = rules if first else judge.speaking(rules, out)
        spoke = rulebook.apply(speaking, graded, batch.columns, np.zeros(len(rows))) if these else np.zeros(0)
        told: dict[tuple[str, str], NDArray[np.int32]] = {}
        meeting = partial(_meeting, seen, speaking, near, told)
        for number in these:
            rule = rules[number]
            kind = rule.crowded or rule.within or rule.beside
            if rule.within == "company":
                out[number] = _sisters(seen, graded, out[number], rows, spoke == number, share, partial(meeting, number))
                continue
            lifted = rule.crowded == naming and not rule.shown
            if (lifted or rule.within) and not batch.n_incoming:
                continue  # one list alone does not tell its own duplicates from those that are two
            values, who = seen.relatives(kind) if rule.within else (seen.values(kind), seen.named())
            values, every = _some(values) if rule.within else (values, 1)
            shared, n_meeting = meeting(number, (kind, rule.within), values, who)
            at = (rows >= 0) & (spoke == number)
            if rule.beside:  # like with like: what the lists show are pairs at one value
                value, other = values[graded.pairs.left], values[graded.pairs.right]
                at &= (value == other) & (value != 0)
            held = len(np.unique(rows[at])) / share
            if rule.within:
                two, said = min(sharing.likely(values, shared, batch.n_existing) * every, held), out[number]
                out[number] = (two + judge.AS_SAID * said) / (held + judge.AS_SAID)
                best = _likeliest(model, graded.take(np.flatnonzero(at)), rows[at])
                if kind == naming and len(best):  # which names many bear the evidence says, and the lists how many are one
                    as_said = judge.AS_SAID * (1.0 - said) * weigh.probability(model, best).mean()
                    lifts[number] = max(_lift(model, best, (held - two + as_said) / (held + judge.AS_SAID)), 0.0)
                    out[number] = 0.0 if lifts[number] > 0.0 else out[number]
                continue
            held = max(held, 1.0)
            if rule.beside:
                out[number] = _beside(seen, values, shared, held)
                continue
            if batch.n_incoming:
                by_chance = sharing.two_by_chance if rule.shown else partial(sharing.by_chance, values)
                beyond = 1.0 - by_chance(shared, batch.n_existing) / held
                # Lists that have next to nobody in common share words of names all the same: those of towns.
                beyond = min(beyond, true / held) if kind == naming else beyond
            else:
                renamed = true * max((model.m[f][0] for f in judging.naming_columns(batch.entity, seen.comparisons)), default=0.0)
                beyond = (renamed + 1.0) / (n_meeting + 1.0)
            if lifted:
                lifts[number] = _lift(model, _likeliest(model, graded.take(np.flatnonzero(at)), rows[at]), beyond)
            else:
                out[number] = 1.0 - (1.0 - out[number]) * float(np.clip(beyond, _LEAST, 1.0))
    return tuple(out), tuple(lifts)


def _some(values: Keys) -> tuple[Keys, int]:
    """Values of which no more than some are left, and every how manieth: of long lists some show what all do."""
    every = max(len(values) // _ENOUGH, 1)
    return np.where(values % np.uint64(every) == 0, values, np.uint64(0)), every


def _meeting(
    seen: Seen,
    rules: Sequence[Rule],
    near: dict[tuple[str, str], _Near],
    told: dict[tuple[str, str], NDArray[np.int32]],
    number: int,
    at: tuple[str, str],
    values: Keys,
    who: Keys,
) -> tuple[NDArray[np.bool_], int]:
    """Which records meet a rule with another of their list at one value, and how many such pairs there are.

    near, told : the pairs at each value, and which rule speaks on each: made once, whatever rules are asked about
    """
    if at not in near:
        near[at] = _Near.of(seen, values, who, at[0] == _EVERY)
    if at not in told:
        told[at] = near[at].said(rules, seen.batch.columns)
    return near[at].meeting(told[at] == number)


def _sisters(
    seen: Seen,
    graded: Graded,
    said: float,
    rows: NDArray[np.int32],
    spoke: NDArray[np.bool_],
    share: float,
    meeting: Callable[..., tuple[NDArray[np.bool_], int]],
) -> float:
    """The doubt of a rule about firms at one website, number or door: how many rows that meet it with a record there are another firm.

    Firms of the base that share one and meet the rule are two, unless many stand there twice.
    said : its own doubt;  meeting : which records meet it with another of their list (`_meeting`)
    """
    batch, kinds = seen.batch, [kind for kind in _SITES if kind in seen.standards.of]
    if not batch.n_incoming or not kinds or sharing.again(seen.values(kinds[0]), seen.named(), batch.n_existing) > _AGAIN:
        return said
    shared, met, every = np.zeros(len(batch), bool), np.zeros(len(rows), bool), 1
    for kind in kinds:
        values, every = _some(seen.values(kind))
        shared |= meeting((_EVERY, kind), values, seen.named())[0]
        value, other = values[graded.pairs.left], values[graded.pairs.right]
        met |= spoke & (rows >= 0) & (value == other) & (value != 0)
    held = len(np.unique(rows[met])) / share * every
    two = min(np.count_nonzero(shared[: batch.n_existing]) / batch.n_existing * batch.n_incoming * every, held)
    # A list brings sisters of the base's firms that the base has not: it shows how many there are at least.
    return max(float((two + judge.AS_SAID * said) / (held + judge.AS_SAID)), said)


def _beside(seen: Seen, values: Keys, shared: NDArray[np.bool_], held: float) -> float:
    """The doubt of a rule that the lists must show (`beside`), 0 = they do not. held : how many rows meet it with a record"""
    n = seen.batch.n_existing
    two = sharing.side_by_side(values, shared, n) / held
    if not seen.batch.n_incoming:
        two = _HALF if np.count_nonzero(shared) > _OFTEN * np.count_nonzero(values) else 0.0
    shown = two >= _HALF and not sharing.mostly_repeated(values, seen.named(), shared, n)
    return min(two, _MOST) if shown else 0.0


def _likeliest(model: Model, graded: Graded, rows: NDArray[np.int32]) -> NDArray[np.float64]:
    """Bits of evidence of the likeliest pair of each row that has any."""
    best = np.full(int(rows.max(initial=-1)) + 1, -np.inf)
    np.maximum.at(best, rows, weigh.evidence(model, graded)[1])
    return np.asarray(best[np.isfinite(best)])


def _lift(model: Model, best: NDArray[np.float64], wanted: float) -> float:
    """Bits to be added to the evidence of pairs so that on average they are as likely as wanted."""
    if len(best) == 0:
        return 0.0
    low, high = -_FAR, _FAR
    for _ in range(_HALVINGS):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if weigh.probability(model, best + middle).mean() < wanted else (low, middle)
    return float(np.round(high, 6))


class _Near(NamedTuple):
    """Pairs of records of one list that share a value and are two, by name or by what they say, and their grades."""

    graded: Graded
    n_records: int

    @classmethod
    def of(cls, seen: Seen, values: Keys, who: Keys, every: bool) -> _Near:
        """every : each with all others at its value, as far as they are not too many; else each with one other"""
        n = int(np.clip(_PAIRS // max(int(np.count_nonzero(values)), 1), 1, _OTHERS)) if every else 1
        left, right = sharing.neighbours(values, who, seen.order, seen.batch.n_existing, n)
        pairs = Pairs(left, right, np.zeros(len(left), np.uint64))
        return cls(compare.compare_many(pairs, seen.standards, seen.known, seen.comparisons), len(values))

    def said(self, rules: Sequence[Rule], columns: rulebook.Columns) -> NDArray[np.int32]:
        """The number of the rule that speaks on each pair."""
        return rulebook.apply(rules, self.graded, columns, np.zeros(len(self.graded.pairs)))

    def meeting(self, meets: NDArray[np.bool_]) -> tuple[NDArray[np.bool_], int]:
        """Which records meet a rule with another of their list, and how many such pairs there are. meets : of each pair, whether it does"""
        pairs = self.graded.pairs
        shared = np.zeros(self.n_records, bool)
        shared[pairs.left[meets]] = shared[pairs.right[meets]] = True
        return shared, int(np.count_nonzero(meets))


def alike(seen: Seen, graded: Graded) -> float:
    """How many rows (of records alone: records) are true ones of others at least, judging by names alone; no field may be against it.

    Half of those that bear the very name of another; or all that bear one of a record, or nearly so, beyond as many as do by chance: those that
    bear one of another row, for as many more records as there are.
    """
    batch, pairs = seen.batch, graded.pairs
    grades, named = graded.grades(), judging.naming_columns(batch.entity, seen.comparisons)
    if not named:
        return 0.0
    agreed = ~(grades == GRADES.index("differs")).any(axis=1)
    same = agreed & (grades[:, named] == GRADES.index("same")).all(axis=1)
    one_name = 0.5 * len(np.unique(pairs.left[same]))
    if not batch.n_incoming:
        return one_name
    near = agreed & (grades[:, named] >= GRADES.index("close")).all(axis=1)
    rows = row_of(graded.pairs, batch.n_existing)
    with_rows = near & (np.minimum(pairs.left, pairs.right) >= batch.n_existing)
    both = len(np.unique(np.concatenate([pairs.left[with_rows], pairs.right[with_rows]])))
    # Rows that have such a row, (both + 1) / (n + 1), and rows that would by chance have such a record: there are that many more of them.
    without = (batch.n_incoming - both) / (batch.n_incoming + 1)
    by_chance = batch.n_incoming * (1.0 - max(without, 0.0) ** (batch.n_existing / batch.n_incoming))
    return max(one_name, float(len(np.unique(rows[(rows >= 0) & near])) - by_chance))
