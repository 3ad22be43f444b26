"""The figures of a plan: how sure, on what evidence, where duplicates come from, what becomes of the gaps."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

import numpy as np
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core import decide as deciding
from brujula.core.arrays import SAME
from brujula.planning import Plan
from brujula.reporting import drawing
from brujula.reporting.drawing import Sketch

_MOST_BARS = 8
_FEW = 20  # pairs
_BINS = 20


class Drawn(NamedTuple):
    """A figure: its heading, what to see in it, and the SVG."""

    heading: str
    told: str
    svg: str


_Planned = tuple[str, str, Sketch]  # heading, what to see, what is drawn


def figures(plan: Plan) -> Callable[[], list[Drawn]]:
    """The figures that have something to show; none for a plan of a handful of pairs, which is read quicker than drawn.

    What comes back waits until they are drawn: see `drawing`.
    """
    enough = len(plan.matched.judged.probability) >= _FEW
    every = (_probabilities(plan), _evidence(plan), _gaps(plan), _sources(plan), _sizes(plan)) if enough else ()
    found = [planned for planned in every if planned is not None]
    svgs = drawing.draw([sketch for _, _, sketch in found]) if found else list
    return lambda: [Drawn(heading, told, svg) for (heading, told, _), svg in zip(found, svgs(), strict=True)]


def _probabilities(plan: Plan) -> _Planned:
    judged = plan.matched.judged
    how, ruled = plan.policy.match, judged.rule >= 0
    by_evidence, by_rule = (np.histogram(judged.probability[which], _BINS, (0, 1))[0].tolist() for which in (~ruled, ruled))
    marks = ((how.unsure_from, "unsure"), (how.same_from, "same"))
    told = f"{len(judged.probability):,} pairs that came near; where no rule spoke, unsure and same begin at the lines; counts on a logarithmic scale"
    return "How sure the pairs are", told, drawing.Probabilities(by_evidence, by_rule, marks)


def _evidence(plan: Plan) -> _Planned | None:
    judged = plan.matched.judged
    linked = judged.verdict == SAME
    if not linked.any():
        return None
    bits = judged.bits[linked]
    names = [c.field.replace("_", " ") for c in judged.graded.comparisons]
    speaks = np.flatnonzero(np.abs(bits).mean(axis=0) > 0.02)
    if len(speaks) == 0:
        return None
    pro, con = np.maximum(bits, 0).mean(axis=0)[speaks], np.minimum(bits, 0).mean(axis=0)[speaks]
    order = np.argsort(pro, kind="stable")
    shown = drawing.Evidence([names[speaks[i]] for i in order], pro[order].tolist(), con[order].tolist())
    return "What the links rest on", f"of the {int(linked.sum()):,} pairs taken to be the same", shown


def _gaps(plan: Plan) -> _Planned | None:
    n = plan.batch.n_existing
    if n == 0 or plan.batch.n_incoming == 0:
        return None
    acts = plan.action_table
    created = acts.kind == deciding.CREATE
    owner = np.repeat(np.arange(len(acts)), np.diff(acts.off))
    first = np.zeros(len(acts.members), bool)
    first[acts.off[:-1]] = True
    lost = acts.members[(acts.members < n) & ~first & ~created[owner]]
    changed = {c.field: c for c in plan.field_changes}
    names, before, after = [], [], []
    for field, column in plan.cleaned.columns.items():
        if field in ("created_at", "updated_at", "account_id") or not column.filled.any():
            continue
        filled = column.filled[:n]
        change = changed.get(field)
        more = 0
        if change is not None:
            base = acts.base[change.action]
            more = int(np.sum(created[change.action] | ~np.append(filled, np.zeros(plan.batch.n_incoming, bool))[base]))
        names.append(field.replace("_", " "))
        before.append(float(filled.mean()))
        after.append((int(filled.sum()) - int(filled[lost].sum()) + more) / max(n - len(lost) + int(created.sum()), 1))
    if not names:
        return None
    told = "share of records with a usable value, before and after"
    return "How full the records are", told, drawing.Gaps(names, before, after)


def _doubled(plan: Plan) -> NDArray[np.int64]:
    """Existing records that are duplicates of others."""
    group = plan.decided.group[: plan.batch.n_existing]
    return np.flatnonzero(np.bincount(group, minlength=1)[group] > 1) if len(group) else np.zeros(0, np.int64)


def _sources(plan: Plan) -> _Planned | None:
    double = _doubled(plan)
    for field, words in (("source", "source"), ("owner", "owner"), ("created_at", "month of creation")):
        column = plan.batch.column(field)
        known = column.codes[: plan.batch.n_existing]
        if len(double) == 0 or (known >= 0).mean() < 0.3:
            continue
        text = column.values.arrow()
        if field == "created_at":
            text = pc.utf8_slice_codeunits(text, 0, 7)
        coded = text.dictionary_encode()
        label = np.append(coded.indices.to_numpy(zero_copy_only=False), -1)[known]
        every = np.bincount(label[label >= 0], minlength=len(coded.dictionary))
        twice = np.bincount(label[double][label[double] >= 0], minlength=len(coded.dictionary))
        top = np.argsort(-twice, kind="stable")[:_MOST_BARS]
        top = top[twice[top] > 0]
        if len(top) == 0:
            continue
        names = coded.dictionary.take(top).to_pylist()
        told = f"existing records that are there more than once, by {words}: one faulty feed is often behind many of them"
        return "Where duplicates come from", told, drawing.Shares(names, twice[top].tolist(), every[top].tolist(), words)
    return None


def _sizes(plan: Plan) -> _Planned | None:
    size = np.bincount(plan.decided.group, minlength=1)
    size = size[size > 1]
    if len(size) == 0:
        return None
    counts = np.bincount(np.minimum(size, 8))[2:]
    names = [str(i + 2) if i + 2 < 8 else "8 or more" for i in range(len(counts))]
    told = f"{len(size):,} groups, by how many rows and records are taken to be one"
    return "How many stand for one", told, drawing.Counts(names, counts.tolist())
