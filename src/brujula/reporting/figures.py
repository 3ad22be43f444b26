"""Figures of a plan: how sure, on what evidence, where duplicates come from, what becomes of the gaps."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core import decide as deciding
from brujula.core.arrays import SAME
from brujula.planning import Plan
from brujula.reporting.look import DARK, INK, LIGHT, LINE, MIDDLE, SOFT, as_svg, brief, figure

_MOST_BARS = 8
_FEW = 20  # pairs


class Drawn(NamedTuple):
    """A figure: its heading, what to see in it, and the SVG."""

    heading: str
    told: str
    svg: str


def figures(plan: Plan) -> list[Drawn]:
    """The figures that have something to show; none for a plan of a handful of pairs, which is read quicker than drawn."""
    if len(plan.matched.judged.probability) < _FEW:
        return []
    found = [_probabilities(plan), _evidence(plan), _gaps(plan), _sources(plan), _sizes(plan)]
    return [f for f in found if f is not None]


def _probabilities(plan: Plan) -> Drawn | None:
    judged = plan.matched.judged
    if len(judged.probability) == 0:
        return None
    how = plan.policy.match
    edges = np.linspace(0, 1, 21)
    ruled = judged.rule >= 0
    counted = [np.histogram(judged.probability[chosen], edges)[0].astype(float) for chosen in (~ruled, ruled)]
    made, axes = figure(5.6, 2.3, [f"{len(ruled):,}"], label=True, legend=True)
    below = np.zeros(20)
    for counts, colour, label in zip(counted, (DARK, LIGHT), ("by evidence", "a rule spoke"), strict=True):
        axes.bar(edges[:-1] + 0.025, counts, 0.045, bottom=below, color=colour, label=label)
        below += counts
    axes.set_yscale("symlog", linthresh=1)
    axes.set_ylim(0, max(below.max() * 1.6, 2))
    axes.yaxis.set_major_formatter(lambda y, _: f"{y:,.0f}")
    for at, name in ((how.unsure_from, "unsure"), (how.same_from, "same")):
        axes.axvline(at, color=MIDDLE, linewidth=1.2)
        axes.annotate(
            name,
            (at, 1),
            xycoords=("data", "axes fraction"),
            xytext=(-3, -9),
            textcoords="offset points",
            ha="right",
            color=MIDDLE,
        )
    axes.set_xlabel("probability that the two are one")
    axes.legend(frameon=False, ncols=2, loc="lower left", bbox_to_anchor=(0, 1), borderaxespad=0, fontsize=8)
    told = f"{len(judged.probability):,} pairs that came near; where no rule spoke, unsure and same begin at the lines; counts on a logarithmic scale"
    return Drawn("How sure the pairs are", told, as_svg(made, "Pairs by probability"))


def _evidence(plan: Plan) -> Drawn | None:
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
    named = brief([names[speaks[i]] for i in order])
    made, axes = figure(5.6, 0.5 + 0.24 * len(speaks), named, label=True)
    axes.barh(range(len(speaks)), pro[order], color=DARK, height=0.66, label="for")
    axes.barh(range(len(speaks)), con[order], color=MIDDLE, height=0.66, label="against")
    axes.set_yticks(range(len(speaks)), named)
    axes.axvline(0, color=SOFT, linewidth=0.8)
    axes.set_xlabel("bits a pair, on average")
    axes.spines["left"].set_visible(False)
    axes.legend(frameon=False, loc="lower right", fontsize=8)
    return Drawn(
        "What the links rest on", f"of the {int(linked.sum()):,} pairs taken to be the same", as_svg(made, "Evidence by field")
    )


def _gaps(plan: Plan) -> Drawn | None:
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
        names += brief([field.replace("_", " ")])
        before.append(float(filled.mean()))
        after.append((int(filled.sum()) - int(filled[lost].sum()) + more) / max(n - len(lost) + int(created.sum()), 1))
    if not names:
        return None
    made, axes = figure(5.6, 0.6 + 0.22 * len(names), names, legend=True)
    at = np.arange(len(names))
    axes.hlines(at, before, after, color=LINE, linewidth=3)
    axes.scatter(before, at, color=LIGHT, edgecolors=SOFT, s=28, label="before", zorder=3)
    axes.scatter(after, at, color=DARK, s=28, label="after the load", zorder=3)
    axes.set_yticks(at, names)
    axes.invert_yaxis()
    axes.set_xlim(-0.03, 1.03)
    axes.xaxis.set_major_formatter(lambda x, _: f"{x:.0%}")
    axes.spines["left"].set_visible(False)
    axes.legend(frameon=False, ncols=2, loc="lower left", bbox_to_anchor=(0, 1), borderaxespad=0, fontsize=8)
    return Drawn(
        "How full the records are",
        "share of records with a usable value, before and after",
        as_svg(made, "Fill rates before and after"),
    )


def _doubled(plan: Plan) -> NDArray[np.int64]:
    """Existing records that are duplicates of others."""
    group = plan.decided.group[: plan.batch.n_existing]
    return np.flatnonzero(np.bincount(group, minlength=1)[group] > 1) if len(group) else np.zeros(0, np.int64)


def _sources(plan: Plan) -> Drawn | None:
    from matplotlib.ticker import MaxNLocator, PercentFormatter

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
        named = brief(coded.dictionary.take(top).to_pylist())
        made, axes = figure(5.6, 0.4 + 0.26 * len(top), named)
        share = twice[top] / np.maximum(every[top], 1)
        axes.barh(range(len(top)), share, color=DARK, height=0.66)
        for i, t in enumerate(top):
            axes.annotate(
                f"{twice[t]:,} of {every[t]:,}",
                (share[i], i),
                xytext=(4, 0),
                textcoords="offset points",
                va="center",
                fontsize=8,
                color=INK,
            )
        axes.set_yticks(range(len(top)), named)
        axes.invert_yaxis()
        axes.set_xlim(0, max(share.max() * 1.35, 0.01))
        axes.xaxis.set_major_locator(MaxNLocator(5))
        axes.xaxis.set_major_formatter(PercentFormatter(1))
        axes.spines["left"].set_visible(False)
        told = f"existing records that are there more than once, by {words}: one faulty feed is often behind many of them"
        return Drawn("Where duplicates come from", told, as_svg(made, f"Duplicates by {words}"))
    return None


def _sizes(plan: Plan) -> Drawn | None:
    size = np.bincount(plan.decided.group, minlength=1)
    size = size[size > 1]
    if len(size) == 0:
        return None
    counts = np.bincount(np.minimum(size, 8))[2:]
    names = [str(i + 2) if i + 2 < 8 else "8 or more" for i in range(len(counts))]
    made, axes = figure(5.6, 0.4 + 0.26 * len(counts), names)
    axes.barh(range(len(counts)), counts, color=DARK, height=0.66)
    for i, n in enumerate(counts.tolist()):
        axes.annotate(f"{n:,}", (n, i), xytext=(4, 0), textcoords="offset points", va="center", fontsize=8, color=INK)
    axes.set_yticks(range(len(counts)), names)
    axes.invert_yaxis()
    axes.set_xlim(0, counts.max() * 1.15)
    axes.spines["left"].set_visible(False)
    return Drawn(
        "How many stand for one",
        f"{len(size):,} groups, by how many rows and records are taken to be one",
        as_svg(made, "Group sizes"),
    )
