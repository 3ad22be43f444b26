"""The plan: all outcomes, actions and field changes for one list, with reasons, before anything is written."""

from __future__ import annotations

import html
import re
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.claiming import Taking
from brujula.core import decide as deciding
from brujula.core.arrays import UNSURE, VERDICTS
from brujula.core.batch import Batch
from brujula.core.decide import OUTCOMES, Decided
from brujula.core.kind import GRADES
from brujula.core.survive import WHY, Actions, FieldChanges
from brujula.core.why import glued, sentences
from brujula.errors import UsageError
from brujula.intake.raw import RawList
from brujula.intake.shape import Shaped
from brujula.matching import Matched
from brujula.policy.model import Policy
from brujula.problems import Problem

if TYPE_CHECKING:
    import pandas as pd

SHOWN = ("given_name", "family_name", "full_name", "name", "email", "phone", "mobile", "website", "account", "street", "city")


_NAME, _WORDS, _TOGETHER, _FATAL, _SUPPRESSED = "\x01", "\x02", "\x03", "\x04", "\x05"
"""Marks in a sentence where something is filled in."""
_MARKS = re.compile("([\x01-\x03])")


class Explanation(str):
    """All that is known about a row, as text; a notebook shows it as it stands."""

    def _repr_html_(self) -> str:
        return f"<pre>{html.escape(self)}</pre>"


@dataclass(frozen=True)
class Plan:
    """What becomes of every row. The tables are Arrow tables; `outcomes`, `actions`, `changes`, `pairs`, `groups` give pandas frames."""

    policy: Policy
    listed: Shaped
    taking: Taking
    ids: pa.Array
    batch: Batch
    cleaned: Batch
    matched: Matched
    decided: Decided
    action_table: Actions
    action_of_row: NDArray[np.int64]
    field_changes: list[FieldChanges]
    problems: tuple[Problem, ...]
    seconds: dict[str, float]
    accounts: Plan | None = None

    @property
    def incoming(self) -> RawList:
        """The list as it was read."""
        return self.listed.raw

    @property
    def existing(self) -> RawList:
        """The existing records as they were read."""
        return self.taking.existing.raw

    @cached_property
    def outcome(self) -> NDArray[np.int8]:
        """Outcome code of every row: an update that would change nothing is `unchanged`."""
        writes = np.zeros(len(self.action_table) + 1, bool)
        for change in self.field_changes:
            writes[change.action] = True
        out = self.decided.outcome.copy()
        idle = (out == deciding.UPDATE) & ~writes[self.action_of_row]
        out[idle] = deciding.UNCHANGED
        counts = np.bincount(out, minlength=len(OUTCOMES))
        if int(counts.sum()) != self.incoming.table.num_rows:
            raise AssertionError(f"{self.incoming.table.num_rows} rows were read, {int(counts.sum())} have an outcome")
        return out

    @cached_property
    def counts(self) -> dict[str, int]:
        """Rows by outcome; they add up to the rows read."""
        return dict(zip(OUTCOMES, np.bincount(self.outcome, minlength=len(OUTCOMES)).tolist(), strict=True))

    @cached_property
    def live(self) -> NDArray[np.int64]:
        """Number of each action in the plan, from 1; 0 for those that would change nothing."""
        writes = self.action_table.kind != deciding.UPDATE
        for change in self.field_changes:
            writes[change.action] = True
        return np.where(writes, np.cumsum(writes), 0)

    def action_label(self, action: NDArray[np.int64]) -> pa.Array:
        """`A1`, ...; blank for none (-1) and for actions that would change nothing."""
        return _labels("A", np.append(self.live, 0).take(action))

    @cached_property
    def group_label(self) -> pa.Array:
        """Per record and row the label of its group, blank where it is alone; numbered by first row, then by first record."""
        group = self.decided.group
        n = self.batch.n_existing
        size = np.bincount(group, minlength=1)
        order = np.concatenate([group[n:], group[:n]])
        first = np.empty(len(size), np.int64)
        first[order[::-1]] = np.arange(len(order) - 1, -1, -1)  # the first of a group is written last, and stays
        big = np.flatnonzero(size > 1)
        rank = np.zeros(len(size), np.int64)
        rank[big[np.argsort(first[big], kind="stable")]] = np.arange(1, len(big) + 1)
        return _labels("G", rank.take(group))

    @cached_property
    def _names(self) -> pa.Array:
        """Ids of the records, `row N` of the rows, and "" behind them."""
        rows = glued("row ", pa.array(np.arange(1, self.batch.n_incoming + 1)).cast(pa.large_string()))
        return pa.concat_arrays([self.ids.cast(pa.large_string()), rows, pa.array([""], pa.large_string())])

    def name_of(self, record: NDArray[np.int32]) -> pa.Array:
        """`row 12` for a row, the id for a record; blank for -1."""
        return self._names.take(pa.array(np.where(record < 0, len(self._names) - 1, record)))

    @cached_property
    def _record_ids(self) -> pa.Array:
        """Per row the ids it stands for, the survivor first; the candidates for a row under review."""
        n, group = self.batch.n_existing, self.decided.group
        members = self.action_table.members
        owner = np.repeat(np.arange(len(self.action_table)), np.diff(self.action_table.off))
        old = members < n
        by_action = _joined(self.ids, members[old], owner[old], len(self.action_table))
        text = (
            by_action.take(pa.array(np.where(self.action_of_row >= 0, self.action_of_row, 0)))
            if len(by_action)
            else pa.array([""] * self.batch.n_incoming, pa.large_string())
        )
        text = pc.if_else(pa.array(self.action_of_row >= 0), text, "")
        if len(self.decided.also_row):
            more = _joined(self.ids, self.decided.also_record, self.decided.also_row, self.batch.n_incoming)
            text = pc.if_else(
                pc.equal(more, ""), text, pc.binary_join_element_wise(text, more, pa.scalar(";", pa.large_string()))
            )
        review = _joined(self.ids, self.decided.open_record, self.decided.open_row, self.batch.n_incoming)
        skipped = np.flatnonzero((self.outcome == deciding.SKIP) | (self.outcome == deciding.REVIEW))
        found = np.argsort(group[:n], kind="stable").astype(np.int32)
        low = np.searchsorted(group[:n][found], group[n:][skipped], "left")
        high = np.searchsorted(group[:n][found], group[n:][skipped], "right")
        counts = high - low
        at = np.repeat(low, counts) + np.arange(counts.sum()) - np.repeat(np.cumsum(counts) - counts, counts)
        skip = _joined(self.ids, found[at], np.repeat(skipped, counts), self.batch.n_incoming)
        is_review = pa.array(self.outcome == deciding.REVIEW)
        open_ids = pc.if_else(pc.equal(review, ""), skip, review)
        return pc.if_else(is_review, open_ids, pc.if_else(pa.array(self.outcome == deciding.SKIP), skip, text))

    @cached_property
    def outcomes_table(self) -> pa.Table:
        """One line an incoming row, in order."""
        rows = np.arange(1, self.batch.n_incoming + 1)
        made = pa.table(
            {
                "row": rows,
                "outcome": pa.array([OUTCOMES[o] for o in range(len(OUTCOMES))], pa.large_string()).take(pa.array(self.outcome)),
                "action": self.action_label(self.action_of_row),
                "record_id": self._record_ids,
                "group": self.group_label.slice(self.batch.n_existing),
                "confidence": self.decided.confidence,
                "reason": self.reasons,
            }
        )
        if self.listed.row is not None:
            made = made.append_column("list_row", pa.array(self.listed.row)).append_column("person", pa.array(self.listed.person))
        return made

    @cached_property
    def reasons(self) -> pa.Array:
        """A sentence a row: which records, which fields agreed and how well, which rule or how many bits."""
        judged, rules = self.matched.judged, self.matched.rules
        cause, n = self.decided.cause, self.batch.n_incoming
        pair = np.where(cause >= 0, cause, self.nearest)
        has = np.flatnonzero(pair >= 0)
        at = np.full(n, -1, np.int64)
        at[has] = np.arange(len(has))
        other = np.full(n, -1, np.int32)
        other[has] = judged.graded.pairs.right[pair[has]]
        shared = self._shared_rows
        sizes, which = np.unique(shared, return_inverse=True)
        together = [f"; one of {s} rows of this list that stand for the same" if s > 1 else "" for s in sizes.tolist()]
        fillings = {
            _NAME: self.name_of(other),
            _WORDS: pc.fill_null(sentences(judged, rules, pair[has]).take(pa.array(at, mask=at < 0)), ""),
            _TOGETHER: pa.array(together, pa.large_string()).take(pa.array(which.reshape(-1))),
        }
        # Few kinds of sentences: each is made once, and filled in for its rows.
        facts = (self.outcome, self.decided.because, other >= 0, pair >= 0, cause >= 0)
        case = np.zeros(n, np.int64)
        for fact in facts:
            case = (case << 8) | fact.astype(np.int64)
        texts, order = [], []
        for one in np.unique(case).tolist():
            rows = np.flatnonzero(case == one)
            code, why, named, worded, linked = (int(fact[rows[0]]) for fact in facts)
            sentence = self._sentence(code, why, _NAME if named else "", _WORDS if worded else "", bool(linked))
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
        return self._with_notes(glued(pa.concat_arrays(texts).take(pa.array(place)), self._differences))

    def _with_notes(self, sentences: pa.Array) -> pa.Array:
        """The sentences with what stands of single rows: why they cannot be used, why they are left alone, what was odd in them."""
        fatal = {p.row: p.sentence for p in reversed(self.problems) if p.fatal}
        noted: dict[int, str] = {}
        for p in self.problems:
            if not p.fatal:
                noted[p.row] = noted.get(p.row, "") + f"; {p.effect}: {p.sentence}"
        alone = np.flatnonzero((self.decided.because == deciding.B_SUPPRESSED) | (self.outcome == deciding.REJECT))
        rows = np.unique(np.concatenate([np.array(sorted({*fatal, *noted}), np.int64) - 1, alone]))
        if len(rows) == 0:
            return sentences
        own = [
            text.replace(_FATAL, fatal.get(i + 1, "")).replace(_SUPPRESSED, self.taking.suppressed[i]) + noted.get(i + 1, "")
            for i, text in zip(rows.tolist(), sentences.take(pa.array(rows)).to_pylist(), strict=True)
        ]
        hit = np.zeros(len(sentences), bool)
        hit[rows] = True
        return pc.replace_with_mask(sentences, pa.array(hit), pa.array(own, pa.large_string()))

    def _sentence(self, code: int, why: int, name: str, words: str, linked: bool) -> str:
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
            return f"nobody like it among {self.batch.n_existing:,} existing records{together}"
        if code in (deciding.UPDATE, deciding.UNCHANGED):
            nothing = "; nothing would change" if code == deciding.UNCHANGED else ""
            nothing += {
                deciding.B_ALL: "; several records are like it, and the policy updates them all",
                deciding.B_NEWEST: "; several records are like it, and the policy takes the newest",
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

    @cached_property
    def nearest(self) -> NDArray[np.int64]:
        """Per row the pair with an existing record that came nearest without linking, -1 = none."""
        pairs, n = self.matched.judged.graded.pairs, self.batch.n_existing
        across = np.flatnonzero((pairs.left >= n) & (pairs.right < n))
        order = across[np.lexsort((pairs.right[across], np.round(self.matched.judged.total[across], 6)))]
        out = np.full(self.batch.n_incoming, -1, np.int64)
        out[pairs.left[order] - n] = order
        return out

    @cached_property
    def _differences(self) -> pa.Array:
        """Per row that shares its action with others, the fields in which these rows contradict each other, in words; else blank."""
        n, acting = self.batch.n_existing, self.action_of_row
        size = np.bincount(acting[acting >= 0], minlength=len(self.action_table) + 1)
        rows = np.flatnonzero((acting >= 0) & (size[acting] > 1))
        torn = np.zeros(self.batch.n_incoming, np.int64)  # a bit a field
        order = rows[np.argsort(acting[rows], kind="stable")]
        bounds = np.flatnonzero(np.append(True, acting[order][1:] != acting[order][:-1])) if len(rows) else rows
        fields = list(self.cleaned.columns)
        for bit, column in enumerate(self.cleaned.columns.values()) if len(rows) else ():
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

    @cached_property
    def _shared_rows(self) -> NDArray[np.int64]:
        """How many rows of the list are in each row's group."""
        group = self.decided.group[self.batch.n_existing :]
        return np.bincount(group, minlength=1)[group]

    @cached_property
    def actions_table(self) -> pa.Table:
        """One line an action that writes something."""
        n = self.batch.n_existing
        acts = self.action_table
        live = np.flatnonzero(self.live)
        owner = np.repeat(np.arange(len(acts)), np.diff(acts.off))
        first = np.zeros(len(acts.members), bool)
        first[acts.off[:-1]] = True
        old, row = acts.members < n, acts.members >= n
        survivors = self.name_of(np.where(acts.base < n, acts.base, -1))
        merged = _joined(self.ids, acts.members[old & ~first], owner[old & ~first], len(acts))
        numbers = pa.array(np.arange(1, self.batch.n_incoming + 1).astype(str), pa.large_string())
        order = np.flatnonzero(row)
        order = order[np.lexsort((acts.members[order], owner[order]))]
        rows = _joined(numbers, acts.members[order] - n, owner[order], len(acts))
        kinds = pa.array(list(OUTCOMES), pa.large_string()).take(pa.array(acts.kind))
        table = pa.table(
            {
                "action": self.action_label(np.arange(len(acts))),
                "kind": kinds,
                "record_id": survivors,
                "merged_ids": merged,
                "rows": rows,
            }
        )
        return table.take(pa.array(live))

    @cached_property
    def changes_table(self) -> pa.Table:
        """One line a field written, by action, then by field."""
        acts, n = self.action_table, self.batch.n_existing
        parts = []
        for position, change in enumerate(self.field_changes):
            column = self.batch.column(change.field)
            texts = pa.concat_arrays([column.values.arrow(), pa.array([""], pa.large_string())])
            base = acts.base[change.action]
            before = texts.take(
                pa.array(np.where((column.codes[base] >= 0) & (base < n), column.codes[base], len(column.values)))
            )
            after = texts.take(pa.array(column.codes[change.source])) if change.text is None else change.text
            source = self.name_of(change.source)
            record = pc.if_else(
                pa.array(change.source < n),
                pc.binary_join_element_wise(pa.scalar("record", pa.large_string()), source, pa.scalar(" ", pa.large_string())),
                source,
            )
            parts.append(
                pa.table(
                    {
                        "number": change.action,
                        "position": np.full(len(base), position),
                        "action": self.action_label(change.action),
                        "record_id": self.name_of(np.where(base < n, base, -1)),
                        "field": pa.array([change.field] * len(base), pa.large_string()),
                        "before": before,
                        "after": after,
                        "from": record,
                        "why": pa.array(list(WHY), pa.large_string()).take(pa.array(change.why)),
                    }
                )
            )
        names = ["action", "record_id", "field", "before", "after", "from", "why"]
        if not parts:
            return pa.table({c: pa.array([], pa.large_string()) for c in names})
        return pa.concat_tables(parts).sort_by([("number", "ascending"), ("position", "ascending")]).select(names)

    @cached_property
    def pairs_table(self) -> pa.Table:
        """One line a pair that is same or unsure, with each compared field's grade."""
        judged = self.matched.judged
        take = np.flatnonzero(judged.verdict >= UNSURE)
        pairs = judged.graded.pairs
        order = take[np.lexsort((pairs.right[take], pairs.left[take]))]
        grades = judged.graded.grades()[order]
        words = pa.array(list(GRADES), pa.large_string())
        rules = pa.array([*(r.name for r in self.matched.rules), ""], pa.large_string())
        columns = {
            "left": self.name_of(pairs.left[order]),
            "right": self.name_of(pairs.right[order]),
            "verdict": pa.array(list(VERDICTS), pa.large_string()).take(pa.array(judged.verdict[order])),
            "bits": np.round(judged.total[order], 2),
            "probability": np.round(judged.probability[order], 5),
            "rule": rules.take(pa.array(np.where(judged.rule[order] < 0, len(self.matched.rules), judged.rule[order]))),
        }
        columns |= {c.field: words.take(pa.array(grades[:, f])) for f, c in enumerate(judged.graded.comparisons)}
        return pa.table(columns)

    @cached_property
    def groups_table(self) -> pa.Table:
        """One line a member of a group of two or more."""
        label = self.group_label
        member = np.flatnonzero(pc.not_equal(label, "").to_numpy(zero_copy_only=False)).astype(np.int32)
        number = (
            pc.cast(pc.utf8_replace_slice(label.take(pa.array(member)), 0, 1, ""), pa.int64()).to_numpy(zero_copy_only=False)
            if len(member)
            else member
        )
        member = member[np.lexsort((member, number))]
        n = self.batch.n_existing
        rows = pa.array(np.where(member >= n, member - n + 1, -1))
        columns: dict[str, Any] = {
            "group": label.take(pa.array(member)),
            "record_id": self.name_of(np.where(member < n, member, -1)),
            "row": pc.if_else(pc.greater(rows, 0), rows.cast(pa.large_string()), ""),
            "verdict": pa.array(["same"] * len(member), pa.large_string()),
        }
        columns |= {f: self.values(f, member) for f in SHOWN if f in self.batch.columns}
        return pa.table(columns)

    def values(self, field: str, records: NDArray[np.int32]) -> pa.Array:
        """A field's original values of some records, blank where it is blank."""
        column = self.batch.columns[field]
        codes = column.codes[records]
        return pc.fill_null(column.values.arrow().take(pa.array(codes, mask=codes < 0)), "")

    @property
    def outcomes(self) -> pd.DataFrame:
        """One line an incoming row."""
        return self.outcomes_table.to_pandas()

    @property
    def actions(self) -> pd.DataFrame:
        """One line an action."""
        return self.actions_table.to_pandas()

    @property
    def changes(self) -> pd.DataFrame:
        """One line a field written."""
        return self.changes_table.to_pandas()

    @property
    def pairs(self) -> pd.DataFrame:
        """One line a pair that is same or unsure."""
        return self.pairs_table.to_pandas()

    @property
    def groups(self) -> pd.DataFrame:
        """One line a member of a group of two or more."""
        return self.groups_table.to_pandas()

    def explain(self, row: int) -> Explanation:
        """All that is known about one row (1-based): its outcome, its candidates field by field, what is written.

        Raises UsageError for a row the list does not have.
        """
        if not 1 <= row <= self.batch.n_incoming:
            raise UsageError(f"row {row}: the list has rows 1 to {self.batch.n_incoming}")
        judged, n = self.matched.judged, self.batch.n_existing
        line = self.outcomes_table.slice(row - 1, 1).to_pylist()[0]
        out = [
            f"row {row}: {line['outcome']}"
            + (f" ({line['action']})" if line["action"] else "")
            + f", confidence {line['confidence']:.2f}",
            line["reason"],
        ]
        pairs = judged.graded.pairs
        mine = np.flatnonzero((pairs.left == n + row - 1) | (pairs.right == n + row - 1))
        mine = mine[np.argsort(-judged.total[mine], kind="stable")][:10]
        names = self.name_of(np.where(pairs.left[mine] == n + row - 1, pairs.right[mine], pairs.left[mine])).to_pylist()
        for pair, name in zip(mine.tolist(), names, strict=True):
            rule = f', rule "{self.matched.rules[judged.rule[pair]].name}"' if judged.rule[pair] >= 0 else ""
            out.append(
                f"  {name}: {VERDICTS[judged.verdict[pair]]}{rule}, {judged.total[pair]:+.1f} bits, probability {judged.probability[pair]:.3f}"
            )
            for f, comparison in enumerate(judged.graded.comparisons):
                level = judged.graded.levels[pair, f]
                if level >= 0:
                    out.append(f"    {comparison.field:16}{comparison.levels[level].name:32}{judged.bits[pair, f]:+7.1f} bits")
        if line["action"]:
            for change in self.changes_table.filter(pc.equal(self.changes_table["action"], line["action"])).to_pylist():
                out.append(
                    f"  writes {change['field']}: {change['before']!r} -> {change['after']!r} from {change['from']} ({change['why']})"
                )
        return Explanation("\n".join(out))

    def group(self, label: str) -> pd.DataFrame:
        """The members of a group (`G3`), side by side. Raises UsageError for a group the plan does not have."""
        table = self.groups_table.filter(pc.equal(self.groups_table["group"], label))
        if table.num_rows == 0:
            raise UsageError(f'no group "{label}" in this plan; groups.csv lists them')
        names = [r or f"row {n}" for r, n in zip(table["record_id"].to_pylist(), table["row"].to_pylist(), strict=True)]
        return table.to_pandas().set_axis(names, axis=0).drop(columns=["group", "record_id", "row"]).T

    def _repr_html_(self) -> str:
        """How a notebook shows a plan: rows by outcome, and the first rows that need a person or change something."""
        from brujula.reporting.page import in_notebook

        return in_notebook(self)

    def write(self, folder: str | Path) -> Path:
        """Write the plan folder; it appears only when complete. Raises PlanError when something else stands there."""
        from brujula.loading.folder import write_plan

        return write_plan(self, Path(folder))


def _labels(letter: str, number: NDArray[np.int64]) -> pa.Array:
    """The letter with each number behind it; blank for 0."""
    every = glued(letter, pa.array(np.arange(1, int(number.max(initial=0)) + 1)).cast(pa.large_string()))
    return pa.concat_arrays([pa.array([""], pa.large_string()), every]).take(pa.array(number))


def _joined(names: pa.Array, record: NDArray[np.int32], owner: NDArray[Any], n: int) -> pa.Array:
    """Names of each owner's records joined with `;`, in the order given within each owner; blank for none."""
    order = np.argsort(owner, kind="stable")
    offsets = np.concatenate([[0], np.cumsum(np.bincount(owner, minlength=n))]).astype(np.int64)
    lists = pa.LargeListArray.from_arrays(pa.array(offsets), names.cast(pa.large_string()).take(pa.array(record[order])))
    return pc.fill_null(pc.binary_join(lists, pa.scalar(";", pa.large_string())), "")
