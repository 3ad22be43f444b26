"""Verdicts on graded pairs: what the policy's rules say, our own, what rows say themselves and people have decided."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from brujula import besides
from brujula.core import arrays, group, judge, rules as rulebook, weigh
from brujula.core.arrays import Claims, Graded, Judged, Pairs
from brujula.core.batch import Batch, Keys
from brujula.core.kind import GRADES, Comparison
from brujula.core.rules import Rule
from brujula.fields import kinds
from brujula.policy.entities import ENTITIES
from brujula.policy.model import Policy

_RIVAL = 5.0  # bits by which another record must speak louder than the one an id names, for the id to be doubted
_OF_MANY = ("place", "job_title")  # what strangers have in common
_HARDLY = 3.0  # bits


def rules_of(policy: Policy) -> tuple[Rule, ...]:
    """The policy's rules, the steward's own first."""
    of_two = [kind.by_two for kind in kinds().values() if kind.by_two]
    return tuple(
        Rule(
            r.name, r.verdict, r.all, r.unless, r.why, r.doubt, r.bridge, r.until, r.alone, r.crowded, r.within, r.beside,
            bool(r.crowded) and any(level in line for level in of_two for line in r.all),
        )
        for r in policy.rule
    )  # fmt: skip


IDENTICAL = Rule("the very same", "same", (), (), "it says word for word what the record says, and nothing else")
DOUBTED = Rule(
    "the record's id, and nothing else", "unsure", (), (), "the id is this record's, and all the rest says somebody else"
)
CLAIMED = (
    Rule("loaded before", "same", (), (), "this very row was loaded into this record before"),
    Rule("the record's id", "same", (), (), "the row carries this record's id"),
    Rule("the policy's key", "same", (), (), "it has the key that the policy goes by"),
    Rule("the policy's key, shared", "unsure", (), (), "several records share the key that the policy goes by"),
)
"""Rules of our own, in the order of `arrays.LOADED` and the others."""
DECIDED = (
    Rule("decided: the same", "same", (), (), "somebody looked at the two and said so"),
    Rule("decided: different", "different", (), (), "somebody looked at the two and said so"),
)


APART = Rule(
    "each list has both",
    "unsure",
    (),
    (),
    "both lists have the two side by side, word for word, under names not quite alike",
    0.9,
)


NAMESAKES = Rule(
    "two records, one name",
    "unsure",
    (),
    (),
    "two existing records have a name and a region or country in common, and neither a town nor anything else: a merge would need more",
    0.5,
)
TWICE = Rule(
    "a name its list has twice",
    "unsure",
    (),
    (),
    "one of the lists has two of this name, and nothing but a region or country, if that, says which of them is meant",
    0.3,
)

SEVERAL = Rule(
    "one of several alike",
    "unsure",
    (),
    (),
    "several existing records say the very same, a name and nothing else, and nothing tells which of them is meant",
)


EXCLUSIVE = {
    "website": Rule(
        "one website, one organisation",
        "same",
        (),
        (),
        "in neither list do two share a website, so whoever has it is the one that has it in the other, by whatever name",
        0.02,
    )
}
"""Rules of kinds of which a value is one record's alone, as far as the lists show."""
_SELDOM = 0.5  # of what is usual: what the lists show, if next to no two have one name
_PATTERN = 10  # pairs in question from which they show it: a single one may be the one stranger


OURS = (IDENTICAL, DOUBTED, *CLAIMED, *DECIDED, APART, *EXCLUSIVE.values(), besides.RULE, NAMESAKES, TWICE, SEVERAL)


def every_rule(policy: Policy) -> tuple[Rule, ...]:
    """The policy's rules, and those that are ours."""
    return (*rules_of(policy), *OURS)


def judged_of(graded: Graded, model: weigh.Model, policy: Policy, batch: Batch, content: Keys) -> Judged:
    """Verdicts of graded pairs: the policy's rules, then the evidence; records alike word for word are the same where no rule speaks.

    Two existing records with nothing but a name and a town are so where the evidence makes it likely, for many share both; with nothing
    but a name, or a name and a region, where it would do by itself: ten fire departments are not one.
    """
    how = policy.match
    judged = judge.judge(graded, model, rules_of(policy), how.same_from, how.unsure_from, batch.columns)
    naming = {c.field for c in kinds()[ENTITIES[batch.entity].identifying].comparisons}
    judged = _by_rule_alone(judged, model, naming, policy, batch)
    enough = (graded.levels[:, _personal(batch.entity, graded.comparisons)] >= 0).any(axis=1)
    enough |= judged.probability >= np.where(_in_a_town(graded), how.unsure_from, how.same_from)
    enough |= np.maximum(graded.pairs.left, graded.pairs.right) >= batch.n_existing
    judged = ruled(judged, identical(graded.pairs, content) & (judged.rule < 0) & enough, len(policy.rule))
    judged = _held(judged, _kept_apart(judged, batch, content), APART, policy)
    within, across = _namesakes(judged, model, batch, content)
    judged = _held(_held(judged, within, NAMESAKES, policy), across, TWICE, policy)
    for kind in sorted(model.exclusive):
        alone = _in_question(judged, kind, policy, batch)
        judged = ruled(judged, alone, _number(EXCLUSIVE[kind], policy))
        sure = np.maximum(judged.probability, 1.0 - EXCLUSIVE[kind].doubted)
        judged = replace(judged, probability=np.where(alone, sure, judged.probability))
    return judged


def _personal(entity: str, comparisons: Sequence[Comparison]) -> list[int]:
    """Which of the comparisons are neither of the name nor of what strangers have in common."""
    naming = {c.field for c in kinds()[ENTITIES[entity].identifying].comparisons}
    return [f for f, c in enumerate(comparisons) if c.field not in naming and c.field not in _OF_MANY]


def _held(judged: Judged, hit: NDArray[np.bool_], rule: Rule, policy: Policy) -> Judged:
    """The chosen pairs left open by a rule of our own, and less likely by its doubt."""
    judged = ruled(judged, hit, _number(rule, policy), arrays.UNSURE)
    return replace(judged, probability=np.where(hit, judged.probability * (1.0 - rule.doubted), judged.probability))


def little(judged: Judged, entity: str) -> NDArray[np.bool_]:
    """Pairs with hardly any evidence for them but a name and what strangers have in common."""
    more = _personal(entity, judged.graded.comparisons)
    return np.asarray(np.maximum(judged.bits[:, more], 0.0).sum(axis=1) < _HARDLY)


def _namesakes(judged: Judged, model: weigh.Model, batch: Batch, content: Keys) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Pairs taken for one by a name and a region or country, and no town: of existing records, for schools of one name are many in a state;
    and of a row and a record of lists in which next to no two firms have one name, where the list of either has two of it all the same.

    Of existing records that say nothing of a place nobody knows that it matters.
    """
    pairs, grades = judged.graded.pairs, judged.graded.grades()
    place = [f for f, c in enumerate(judged.graded.comparisons) if c.field == "place"]
    nowhere = (grades[:, place] == GRADES.index("partial")).any(axis=1)
    hardly = (judged.verdict == arrays.SAME) & ~_in_a_town(judged.graded) & little(judged, batch.entity)
    within = np.maximum(pairs.left, pairs.right) < batch.n_existing
    across = arrays.row_of(pairs, batch.n_existing) >= 0
    named = naming_columns(batch.entity, judged.graded.comparisons)
    usual = [np.array([x.alone for x in judged.graded.comparisons[f].levels]) for f in named]
    if not any((model.alone[f] < _SELDOM * u).any() for f, u in zip(named, usual, strict=True)):
        return np.asarray(hardly & within & nowhere), np.zeros(len(hardly), bool)
    two = ~across & (grades[:, named] == GRADES.index("same")).all(axis=1) & ~identical(judged.graded.pairs, content)
    twice = np.zeros(len(content), bool)
    twice[pairs.left[two]] = twice[pairs.right[two]] = True
    return np.asarray(hardly & within & nowhere), np.asarray(hardly & across & (twice[pairs.left] | twice[pairs.right]))


def one_of_several(judged: Judged, batch: Batch, content: Keys, policy: Policy) -> Judged:
    """Rows that say the very same as several records of which nothing says that they are one: as likely to be any of them as another."""
    pairs, alike = judged.graded.pairs, identical(judged.graded.pairs, content)
    within = np.maximum(pairs.left, pairs.right) < batch.n_existing
    apart = np.unique(content[pairs.left[alike & within & (judged.verdict != arrays.SAME)]])
    # What a row or a person has said of them stands.
    hit = (judged.rule < 0) | (judged.rule == _number(IDENTICAL, policy))
    hit &= alike & (arrays.row_of(pairs, batch.n_existing) >= 0) & np.isin(content[pairs.left], apart)
    if not hit.any():
        return judged
    told, records = np.unique(content[: batch.n_existing], return_counts=True)
    each = judged.probability[hit] / records[np.searchsorted(told, content[pairs.left[hit]])]
    judged = ruled(judged, hit, _number(SEVERAL, policy), arrays.UNSURE)
    probability = judged.probability.copy()
    probability[hit] = each
    return replace(judged, probability=probability)


def _in_a_town(graded: Graded) -> NDArray[np.bool_]:
    """Pairs that agree in more of their place than a region or country."""
    place = [f for f, c in enumerate(graded.comparisons) if c.field == "place"]
    return np.asarray((graded.grades()[:, place] > GRADES.index("partial")).any(axis=1))


def besides_held(judged: Judged, batch: Batch, policy: Policy, telling: Mapping[str, besides.Telling]) -> Judged:
    """Pairs with little in common that differ in a column no field takes (`besides.telling`), left open."""
    if not telling:
        return judged
    return _held(judged, besides.apart(judged, batch, telling) & little(judged, batch.entity), besides.RULE, policy)


def _number(rule: Rule, policy: Policy) -> int:
    return len(policy.rule) + OURS.index(rule)


def exclusive(graded: Graded, model: weigh.Model, policy: Policy, batch: Batch, strangers: Mapping[str, float]) -> frozenset[str]:
    """Kinds of which a value is one record's alone, judging by the lists themselves.

    Where few of one list share a value, few rows share a record's and are others. If many rows that do are held only because they
    might be, they are the same: the few are a small part of them. Lists of firms with branches and sisters show it by sharing as
    many sites among themselves.

    strangers : per kind, how many of the pairs are likely to share a value and be two (`core.steps.sharing.strangers`)
    """
    how = policy.match
    if not strangers:
        return frozenset()
    judged = judge.judge(graded, model, rules_of(policy), how.same_from, how.unsure_from, batch.columns)
    held = {kind: np.count_nonzero(_in_question(judged, kind, policy, batch)) for kind in strangers}
    return frozenset(kind for kind, n in held.items() if n >= _PATTERN and strangers[kind] <= EXCLUSIVE[kind].doubted * n)


def _in_question(judged: Judged, kind: str, policy: Policy, batch: Batch) -> NDArray[np.bool_]:
    """Rows and records that share a value of a kind, and that a rule which gives way to it holds, or the evidence leaves open or
    finds unlikely."""
    graded, pairs = judged.graded, judged.graded.pairs
    telling = {c.field for c in kinds()[kind].comparisons if any(x.rare for x in c.levels)}
    fields = [f for f, c in enumerate(graded.comparisons) if c.field in telling]
    same = (graded.grades()[:, fields] == GRADES.index("same")).all(axis=1) & bool(fields)
    across = arrays.row_of(pairs, batch.n_existing) >= 0
    gives_way = np.append([r.alone == kind for r in policy.rule] + [False] * len(OURS), True)  # the last: no rule spoke
    undecided = (judged.verdict == arrays.UNSURE) | (judged.verdict == arrays.NONE)
    return np.asarray(same & across & gives_way.take(judged.rule) & undecided)


def _by_rule_alone(judged: Judged, model: weigh.Model, naming: Collection[str], policy: Policy, batch: Batch) -> Judged:
    """Pairs of which one side names nobody, held by a rule made for such: of what is left to go by, evidence never makes enough.

    naming : the compared fields that say who somebody is; a rule that asks for one to be blank is made for such pairs
    """
    rules, columns = rules_of(policy), [f for f, c in enumerate(judged.graded.comparisons) if c.field in naming]
    made = [n for n, r in enumerate(rules) if r.verdict == "unsure" and {f"{f} is blank" for f in naming} & {*r.all}]
    at = np.flatnonzero((judged.graded.levels[:, columns] < 0).all(axis=1) & (judged.rule < 0))
    if len(at) == 0:
        return judged
    spoke = rulebook.apply(rules, judged.graded.take(at), batch.columns)
    at, spoke = at[np.isin(spoke, made)], spoke[np.isin(spoke, made)]
    rule, verdict, probability = judged.rule.copy(), judged.verdict.copy(), judged.probability.copy()
    rule[at], verdict[at] = spoke, arrays.UNSURE
    probability[at] = 1.0 - judge.doubts_of(rules, model)[spoke]
    return replace(judged, rule=rule, verdict=verdict, probability=probability)


def naming_columns(entity: str, comparisons: Sequence[Comparison]) -> list[int]:
    """Which of the comparisons are those of the name."""
    naming = kinds()[ENTITIES[entity].identifying]
    fields = {c.field for c in naming.comparisons if any(x.rare for x in c.levels)}
    return [f for f, c in enumerate(comparisons) if c.field in fields]


_LIKE = {"contact": "partial", "account": "same"}
"""The least grade of names that are like: people's are shortened, misspelled and initials; a firm's with another letter or word may be another's."""


def like_names(entity: str, comparisons: Sequence[Comparison]) -> tuple[tuple[int, int], ...]:
    """Per comparison of the name, the least grade of names that are like."""
    return tuple((f, GRADES.index(_LIKE[entity])) for f in naming_columns(entity, comparisons))


def _kept_apart(judged: Judged, batch: Batch, content: Keys) -> NDArray[np.bool_]:
    """Pairs the evidence takes for one, under names not quite alike, of which either stands word for word in both lists: two lists hardly keep the same duplicate."""
    out, pairs = np.zeros(len(judged.verdict), bool), judged.graded.pairs
    named = naming_columns(batch.entity, judged.graded.comparisons)
    at = np.flatnonzero((judged.rule < 0) & (judged.verdict == arrays.SAME)) if batch.n_incoming else np.zeros(0, np.int64)
    at = at[(judged.graded.take(at).grades()[:, named] < GRADES.index("same")).any(axis=1)]
    if len(at) == 0:
        return out
    told = np.unique(np.concatenate([content[pairs.left[at]], content[pairs.right[at]]]))
    place = np.minimum(np.searchsorted(told, content), len(told) - 1)
    known, old = told[place] == content, np.arange(len(content)) < batch.n_existing
    both = np.ones(len(told), bool)
    for side in (known & old, known & ~old):
        both &= np.bincount(place[side], minlength=len(told)) > 0
    out[at] = both[place[pairs.left[at]]] & both[place[pairs.right[at]]]
    return out


def said(judged: Judged, n_rules: int, n_records: int, pairs: Pairs) -> NDArray[np.bool_]:
    """Which pairs rows or people have said to be one, straight or by way of others: what the policy makes of them does not count."""
    told = np.flatnonzero(
        (judged.rule >= n_rules) & (judged.rule < n_rules + OURS.index(APART)) & (judged.verdict == arrays.SAME)
    )
    nobody = np.zeros(0, np.int32)
    links = judged.graded.pairs.left[told], judged.graded.pairs.right[told]
    root = group.roots(group.unite(links, (nobody, nobody), n_records, n_records)[0])
    return np.asarray(root[pairs.left] == root[pairs.right])


def claimed(judged: Judged, named: Judged, claims: Claims, n_rules: int, n_existing: int, naming: Collection[str]) -> Judged:
    """Verdicts with what rows say themselves: a named record is the row's, and nobody else is; but an id that all the row contradicts is held.

    A row is contradicted where it gives a name, no field agrees and two differ, or where another record is surely the row and the named one is not.
    naming : the compared fields that say who somebody is
    """
    pairs, grades = judged.graded.pairs, named.graded.grades()
    close, differs = GRADES.index("close"), GRADES.index("differs")
    lost = ~(grades >= close).any(axis=1) & ((grades == differs).sum(axis=1) >= 2)
    lost &= (grades[:, [f for f, c in enumerate(named.graded.comparisons) if c.field in naming]] > GRADES.index("blank")).any(
        axis=1
    )
    best = np.full(int(max(pairs.left.max(initial=-1), claims.row.max())) + 1, -np.inf)
    sure = (judged.verdict == arrays.SAME) & (pairs.right < n_existing)
    np.maximum.at(best, pairs.left[sure], judged.total[sure])
    rivalled = (named.verdict != arrays.SAME) & (best[claims.row] > named.total + _RIVAL)
    doubted = (claims.how == arrays.BY_ID) & (lost | rivalled)
    settled, held = claims.row[~doubted], claims.row[doubted]
    # Such a row belongs to its record and to nobody else; rows like it find that record themselves.
    judged = judged.take(~np.isin(pairs.left, settled) & ~np.isin(pairs.right, settled))
    judged = ruled(judged, np.isin(judged.graded.pairs.left, held) & (judged.verdict == arrays.SAME), n_rules + 1, arrays.UNSURE)
    for number, rule in enumerate(CLAIMED):
        verdict = arrays.SAME if rule.verdict == "same" else arrays.UNSURE
        named = ruled(named, (claims.how == number) & ~doubted, n_rules + 2 + number, verdict)
    return arrays.join_judged(judged, ruled(named, doubted, n_rules + 1, arrays.UNSURE))


def ruled(judged: Judged, hit: NDArray[np.bool_], rule: int, said: int = arrays.SAME) -> Judged:
    """The chosen pairs decided by a rule of our own."""
    spoke, verdict = np.where(hit, rule, judged.rule).astype(np.int32), np.where(hit, said, judged.verdict).astype(np.int8)
    return Judged(judged.graded, judged.bits, judged.total, judged.probability, spoke, verdict)


def identical(pairs: Pairs, content: Keys) -> NDArray[np.bool_]:
    """Pairs that hold the same values in the same fields, and nothing else."""
    return np.asarray(content.take(pairs.left) == content.take(pairs.right))
