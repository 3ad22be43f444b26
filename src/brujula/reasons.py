"""Why each row of a plan has its outcome: a sentence each, and all that is known of one row."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core import decide as deciding
from brujula.core.arrays import VERDICTS
from brujula.core.why import glued, sentences
from brujula.errors import UsageError

if TYPE_CHECKING:
    from brujula.planning import Plan

_NAME, _WORDS, _TOGETHER, _FATAL, _SUPPRESSED = "\x01", "\x02", "\x03", "\x04", "\x05"
"""Marks in a sentence where something is filled in."""
_MARKS = re.compile("([\x01-\x03])")


def of_rows(plan: Plan) -> pa.Array:
    """A sentence a row: which records, which fields agreed and how well, which rule or how many bits."""
    judged, rules = plan.matched.judged, plan.matched.rules
    cause, n = plan.decided.cause, plan.batch.n_incoming
    pair = np.where(cause >= 0, cause, plan.nearest)
    has = np.flatnonzero(pair >= 0)
    at = np.full(n, -1, np.int64)
    at[has] = np.arange(len(has))
    other = np.full(n, -1, np.int32)
    other[has] = judged.graded.pairs.right[pair[has]]
    shared = _shared_rows(plan)
    sizes, which = np.unique(shared, return_inverse=True)
    together = [f"; one of {s} rows of this list that stand for the same" if s > 1 else "" for s in sizes.tolist()]
    fillings = {
        _NAME: plan.name_of(other),
        _WORDS: pc.fill_null(sentences(judged, rules, pair[has]).take(pa.array(at, mask=at < 0)), ""),
        _TOGETHER: pa.array(together, pa.large_string()).take(pa.array(which.reshape(-1))),
    }
    # Few kinds of sentences: each is made once, and filled in for its rows.
    facts = (plan.outcome, plan.decided.because, other >= 0, pair >= 0, cause >= 0)
    case = np.zeros(n, np.int64)
    for fact in facts:
        case = (case << 8) | fact.astype(np.int64)
    texts, order = [], []
    for one in np.unique(case).tolist():
        rows = np.flatnonzero(case == one)
        code, why, named, worded, linked = (int(fact[rows[0]]) for fact in facts)
        sentence = _sentence(plan, code, why, _NAME if named else "", _WORDS if worded else "", bool(linked))
        parts = [
            fillings[x].take(pa.array(rows)) if x in fillings else pa.array([x], pa.large_string()).take(pa.array(rows * 0))
            for x in _MARKS.split(sentence)
        ]
        texts.append(glued(*parts))
        order.append(rows)
    if not texts:
        return pa.array([], pa.large_string())
    place = np.empty(n, np.int64)
    place[np.concatenate(order)] = np.arange(n)
    return _with_notes(plan, glued(pa.concat_arrays(texts).take(pa.array(place)), _differences(plan)))


def _with_notes(plan: Plan, sentences: pa.Array) -> pa.Array:
    """The sentences with what stands of single rows: why they cannot be used, why they are left alone, what was odd in them."""
    fatal = {p.row: p.sentence for p in reversed(plan.problems) if p.fatal}
    noted: dict[int, str] = {}
    for p in plan.problems:
        if not p.fatal:
            noted[p.row] = noted.get(p.row, "") + f"; {p.effect}: {p.sentence}"
    alone = np.flatnonzero((plan.decided.because == deciding.B_SUPPRESSED) | (plan.outcome == deciding.REJECT))
    rows = np.unique(np.concatenate([np.array(sorted({*fatal, *noted}), np.int64) - 1, alone]))
    if len(rows) == 0:
        return sentences
    own = [
        text.replace(_FATAL, fatal.get(i + 1, "")).replace(_SUPPRESSED, plan.taking.suppressed[i]) + noted.get(i + 1, "")
        for i, text in zip(rows.tolist(), sentences.take(pa.array(rows)).to_pylist(), strict=True)
    ]
    hit = np.zeros(len(sentences), bool)
    hit[rows] = True
    return pc.replace_with_mask(sentences, pa.array(hit), pa.array(own, pa.large_string()))


def _sentence(plan: Plan, code: int, why: int, name: str, words: str, linked: bool) -> str:
    """What is said of all rows of one outcome, decided for one reason. name, words : marks to be filled in, or blank."""
    together = _TOGETHER
    if code == deciding.REJECT:
        return f"cannot be used: {_FATAL}"
    if why == deciding.B_MOVED:
        return f"is {name}, who is at another account now: {words}"
    if why == deciding.B_SUPPRESSED:
        return f"left alone: {_SUPPRESSED}"
    if why == deciding.B_INACTIVE:
        return f"is {name or 'a record'}, which is not active, and the policy leaves such records alone: {words}"
    if why == deciding.B_TWICE:
        return "another row of this list stands for the same, and the policy uses only one of them"
    if why == deciding.B_INSISTED:
        return (
            f"created although it is like {name}: {words}; the policy allows duplicates"
            if name
            else "created: the policy allows duplicates"
        )
    if code == deciding.CREATE:
        if name:
            return f"nobody like it; nearest is {name}, {words}{together}"
        return f"nobody like it among {plan.existing.table.num_rows:,} existing records{together}"
    if code in (deciding.UPDATE, deciding.UNCHANGED):
        nothing = "; nothing would change" if code == deciding.UNCHANGED else ""
        nothing += {
            deciding.B_ALL: "; several records are like it, and the policy updates them all",
            deciding.B_NEWEST: "; several records are like it, and the policy takes the newest",
            deciding.B_FIRST: "; another record that it is like may be the same",
            deciding.B_LEFT: "; it is there more than once, and the policy leaves the others as they are",
        }.get(why, "")
        return (
            f"is {name}: {words}{nothing}{together}"
            if linked
            else f"is the same as another row of this list that is an existing record{nothing}{together}"
        )
    if code == deciding.MERGE:
        return (
            f"is {name}, which is there more than once: {words}{together}"
            if linked
            else f"is the same as another row of this list, whose record is there more than once{together}"
        )
    if code == deciding.REVIEW:
        lead = {
            deciding.B_CLAIMED: "two records claim it",
            deciding.B_SPLIT: "it links records that are not surely the same as each other",
            deciding.B_SEVERAL: "existing records are duplicates of each other",
        }.get(why, "it may be")
        return f"{lead}{':' if lead != 'it may be' else ''} {name or 'the record of another row'}: {words or 'through another row of this list'}{together}"
    return {
        deciding.B_UPDATE_ONLY: "the policy only updates, and nobody like it exists",
        deciding.B_CREATE_ONLY: f"the policy only creates, and it is {name}: {words}",
    }.get(why, f"the policy skips unsure rows; it may be {name}: {words}")


def _differences(plan: Plan) -> pa.Array:
    """Per row that shares its action with others, the fields in which these rows contradict each other, in words; else blank."""
    n, acting = plan.batch.n_existing, plan.action_of_row
    size = np.bincount(acting[acting >= 0], minlength=len(plan.action_table) + 1)
    rows = np.flatnonzero((acting >= 0) & (size[acting] > 1))
    torn = np.zeros(plan.batch.n_incoming, np.int64)  # a bit a field
    order = rows[np.argsort(acting[rows], kind="stable")]
    bounds = np.flatnonzero(np.append(True, acting[order][1:] != acting[order][:-1])) if len(rows) else rows
    fields = list(plan.cleaned.columns)
    for bit, column in enumerate(plan.cleaned.columns.values()) if len(rows) else ():
        used, at = np.unique(column.codes[n + order], return_inverse=True)
        text = pc.utf8_lower(column.values.arrow().take(pa.array(used, mask=used < 0))).dictionary_encode().indices
        code = pc.fill_null(text, -1).to_numpy(zero_copy_only=False)[at.reshape(-1)].astype(np.int64)
        high = np.maximum.reduceat(code, bounds)
        low = np.minimum.reduceat(np.where(code < 0, np.iinfo(np.int64).max, code), bounds)
        torn[order] |= np.repeat((high >= 0) & (low < high), np.diff(np.append(bounds, len(order)))).astype(np.int64) << bit
    distinct, which = np.unique(torn, return_inverse=True)
    named = [", ".join(f for bit, f in enumerate(fields) if mask >> bit & 1) for mask in distinct.tolist()]
    worded = [f"; these rows differ in {names}" if names else "" for names in named]
    return pa.array(worded, pa.large_string()).take(pa.array(which.reshape(-1)))


def _shared_rows(plan: Plan) -> NDArray[np.int64]:
    """How many rows of the list are in each row's group."""
    group = plan.decided.group[plan.batch.n_existing :]
    return np.bincount(group, minlength=1)[group]


def explain(plan: Plan, row: int) -> list[str]:
    """All that is known about one row (1-based): its outcome, its candidates field by field, what is written.

    Raises UsageError for a row the list does not have.
    """
    if not 1 <= row <= plan.batch.n_incoming:
        raise UsageError(f"row {row}: the list has rows 1 to {plan.batch.n_incoming}")
    judged, n = plan.matched.judged, plan.batch.n_existing
    line = plan.outcomes_table.slice(row - 1, 1).to_pylist()[0]
    out = [
        f"row {row}: {line['outcome']}"
        + (f" ({line['action']})" if line["action"] else "")
        + f", confidence {line['confidence']:.2f}",
        line["reason"],
    ]
    pairs = judged.graded.pairs
    mine = np.flatnonzero((pairs.left == n + row - 1) | (pairs.right == n + row - 1))
    others = np.where(pairs.left[mine] == n + row - 1, pairs.right[mine], pairs.left[mine])
    best = np.lexsort((plan.matched.order[others], -np.round(judged.total[mine], 6)))[:10]
    mine, names = mine[best], plan.name_of(others[best]).to_pylist()
    for pair, name in zip(mine.tolist(), names, strict=True):
        rule = f', rule "{plan.matched.rules[judged.rule[pair]].name}"' if judged.rule[pair] >= 0 else ""
        out.append(
            f"  {name}: {VERDICTS[judged.verdict[pair]]}{rule}, {judged.total[pair]:+.1f} bits, probability {judged.probability[pair]:.3f}"
        )
        for f, comparison in enumerate(judged.graded.comparisons):
            level = judged.graded.levels[pair, f]
            if level >= 0:
                out.append(f"    {comparison.field:16}{comparison.levels[level].name:32}{judged.bits[pair, f]:+7.1f} bits")
    if line["action"]:
        for change in plan.changes_table.filter(pc.equal(plan.changes_table["action"], line["action"])).to_pylist():
            out.append(
                f"  writes {change['field']}: {change['before']!r} -> {change['after']!r} from {change['from']} ({change['why']})"
            )
    return out
