"""Verdicts: what the rules say, and where they are silent, what the evidence says."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from brujula.core import rules as rulebook, weigh
from brujula.core.arrays import NONE, SAME, UNSURE, VERDICTS, Graded, Judged, row_of
from brujula.core.rules import Columns, Rule

AS_SAID = 10.0
"""Pairs that what a rule says of its doubt is worth, beside pairs that are known to be one or two."""
_SILENCE = 1.5
_HALF = 0.5  # of what a rule holds
_LARGE = -14.0  # prior of lists of some ten thousand: a short one does not show how many bear a name


def said_by_rules(graded: Graded, rules: Sequence[Rule], columns: Columns | None = None) -> NDArray[np.int64]:
    """What rules say of each pair; SAME where none speaks. Those that the lists must show are not asked."""
    always = [r for r in rules if not r.beside]
    verdicts = np.array([VERDICTS.index(r.verdict) for r in always] + [SAME])
    return np.asarray(verdicts[rulebook.apply(always, graded, columns)])


def doubts_of(rules: Sequence[Rule], model: weigh.Model) -> NDArray[np.float64]:
    """The doubt of each rule, float64[n_rules]: as fitted, or as it says itself."""
    return np.array([r.doubted for r in rules] if model.doubts is None else model.doubts, np.float64)


def speaking(rules: Sequence[Rule], doubts: Iterable[float]) -> tuple[Rule, ...]:
    """The rules, and in the place of one that speaks only where the lists show why (`beside`), and they do not, one that never does.

    doubts : of each rule; 0 of one that does not speak
    """
    return tuple(replace(r, until=0.0) if r.beside and not d else r for r, d in zip(rules, doubts, strict=True))


def silence(rules: Sequence[Rule]) -> float:
    """Bits that a pair gains by no rule speaking on it: rules that forbid name most pairs that look alike and are two."""
    return _SILENCE if any(r.verdict == "different" for r in rules) else 0.0


def judge(
    graded: Graded,
    model: weigh.Model,
    rules: Sequence[Rule],
    same_from: float,
    unsure_from: float,
    columns: Columns | None = None,
) -> Judged:
    """Evidence, probability, rule and verdict of each pair. Evidence alone never says `different`: only a rule forbids."""
    bits, total = weigh.evidence(model, graded)
    p = weigh.probability(model, total + silence(rules) + _known(model, graded, total))
    rule = rulebook.apply(speaking(rules, doubts_of(rules, model)), graded, columns, _in_large(model, total))
    verdict = np.where(p >= same_from, SAME, np.where(p >= unsure_from, UNSURE, NONE)).astype(np.int8)
    said = np.append([VERDICTS.index(r.verdict) for r in rules], -1).take(rule)
    alone, by_lists = _undoubted(model, total, rules, rule)
    # What a rule holds open, the evidence must still make likely enough to be worth a person's time.
    held = (said == UNSURE) & (np.where(by_lists, alone, p) < unsure_from)
    verdict = np.where((said >= 0) & ~held, said, verdict).astype(np.int8)
    sure = 1.0 - np.append(doubts_of(rules, model), 0.0).take(rule)
    ruled = np.where(said == SAME, np.maximum(p, sure), alone * sure)
    free = held | (rule < 0)
    # What chance may have brought together must be likely enough once the rule's doubt is taken in, too.
    crowded, within = (
        np.array([*(bool(x) for x in kinds), False]).take(rule)
        for kinds in ([r.crowded for r in rules], [r.within or r.beside for r in rules])
    )
    mostly_two = within & (sure < _HALF) & (np.where(by_lists, alone, p) * sure < unsure_from)
    little = (crowded & (ruled < unsure_from)) | mostly_two
    verdict = np.where(little & ~held, NONE, verdict).astype(np.int8)
    # Evidence that the lists show to be worth less merges nothing.
    verdict = np.where(by_lists & held & (verdict == SAME), UNSURE, verdict).astype(np.int8)
    return Judged(graded, bits, total, np.where(free, p, ruled), np.where(held, -1, rule).astype(np.int32), verdict)


def _undoubted(
    model: weigh.Model, total: NDArray[np.float64], rules: Sequence[Rule], rule: NDArray[np.int32]
) -> tuple[NDArray[np.float64], NDArray[np.bool_]]:
    """Probability of each pair before its rule's doubt: by the evidence, or as the lists show; and which is the latter."""
    shown = np.array([*(r.shown for r in rules), False]).take(rule)
    lift = np.append([0.0] * len(rules) if model.lifts is None else model.lifts, 0.0).take(rule)
    return np.where(shown, 1.0, weigh.probability(model, total + lift)), np.asarray(shown | (lift != 0.0))


def _known(model: weigh.Model, graded: Graded, total: NDArray[np.float64]) -> NDArray[np.float64]:
    """Bits that each pair of a row and a record gains, where their names are like, and no other record is about as like the row."""
    out = np.zeros(len(total))
    if model.known == 0.0:
        return out
    rows, grades = row_of(graded.pairs, model.n_existing), graded.grades()
    like = rows >= 0
    for comparison, least in model.like:
        like &= grades[:, comparison] >= least
    at = np.flatnonzero(like)
    row = rows[at]
    order = np.lexsort((-total[at], row))
    row, bits = row[order], total[at[order]]
    first = np.append(True, row[1:] != row[:-1])[: len(row)]
    rivalled = np.append(~first[1:] & (bits[1:] > bits[:-1] - _RIVAL), False)[: len(row)]
    out[at[order[first & ~rivalled]]] = model.known
    return out


_UNSEEN = 0.1  # share of the rows that are known and do not look like their record
_RIVAL = 5.0  # bits by which another record must be less like the row


def known_bits(judged: Judged, n_existing: int, n_incoming: int, share: float) -> float:
    """Bits by which it speaks for a pair that its row is likely to be one of the records, and one in ten at most is none that looks like it.

    A row is one of the records, or none. That a pair is two leaves the row to be none, or another record; the others do not look like it.
    """
    row = row_of(judged.graded.pairs, n_existing)
    at, best = row >= 0, np.zeros(n_incoming)
    np.maximum.at(best, row[at] - n_existing, judged.probability[at])
    known = min(float(best.sum()) / share / n_incoming, 1.0)
    return float(np.round(-np.log2(1.0 - (1.0 - _UNSEEN) * known), 6))


def _in_large(model: weigh.Model, total: NDArray[np.float64]) -> NDArray[np.float64]:
    """Probability of each pair by the evidence alone, were it of a large list: what a rule gives way to."""
    return weigh.probability(replace(model, prior=min(model.prior, _LARGE)), total)


def learnt_doubts(
    graded: Graded, same: NDArray[np.bool_], model: weigh.Model, rules: Sequence[Rule], columns: Columns | None = None
) -> tuple[float, ...]:
    """The doubt of each rule after pairs a person has judged: what the rule says, or the lists, counts like AS_SAID of them."""
    total = weigh.evidence(model, graded)[1]
    rule = rulebook.apply(speaking(rules, doubts_of(rules, model)), graded, columns, _in_large(model, total))
    alone, _ = _undoubted(model, total, rules, rule)
    weight = np.where(np.array([r.verdict == "same" for r in rules] + [False]).take(rule), 1.0, alone)
    seen = np.bincount(rule + 1, weight, len(rules) + 1)[1:]
    two = np.bincount(rule + 1, weight * ~same, len(rules) + 1)[1:]
    return tuple(((two + AS_SAID * doubts_of(rules, model)) / (seen + AS_SAID)).tolist())


def same_for_risk(probability: NDArray[np.float64], risk: float) -> float:
    """The lowest probability from which pairs may be called the same so that, by their probabilities, a share of at most `risk` is wrong."""
    p = np.sort(probability[probability > 0.5])[::-1]
    if len(p) == 0:
        return 0.95
    wrong = np.cumsum(1.0 - p) / np.arange(1, len(p) + 1)
    borne = np.flatnonzero(wrong <= risk)
    return float(np.clip(p[borne[-1]] if len(borne) else 0.9999, 0.5, 0.9999))


def unsure_for_staff(
    probability: NDArray[np.float64], row: NDArray[np.int32], same_from: float, most_rows: int, at_least: float
) -> float:
    """The lowest probability from which pairs may be held so that at most so many rows are. row : of each pair, -1 = none of its own."""
    open_now = np.flatnonzero((probability >= at_least) & (probability < same_from) & (row >= 0))
    best = np.full(int(row.max(initial=-1)) + 1, -1.0)
    np.maximum.at(best, row[open_now], probability[open_now])
    held = np.sort(best[best >= 0])[::-1]
    if len(held) <= most_rows:
        return at_least
    return float(np.nextafter(held[most_rows], 1.0)) if most_rows < len(held) else at_least
