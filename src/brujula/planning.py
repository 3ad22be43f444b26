"""The plan: all outcomes, actions and field changes for one list, with reasons, before anything is written."""

from __future__ import annotations

import html
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula import reasons
from brujula.claiming import Taking
from brujula.core import decide as deciding
from brujula.core.actions import WHY, Actions, FieldChanges
from brujula.core.arrays import UNSURE, VERDICTS
from brujula.core.batch import Batch
from brujula.core.decide import OUTCOMES, Decided
from brujula.core.kind import GRADES
from brujula.core.why import glued
from brujula.errors import UsageError
from brujula.intake.raw import RawList
from brujula.intake.shape import Shaped
from brujula.matching import Matched
from brujula.policy.model import Policy
from brujula.problems import Problem

if TYPE_CHECKING:
    import pandas as pd

SHOWN = ("given_name", "family_name", "full_name", "name", "email", "phone", "mobile", "website", "account", "street", "city")


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
        return reasons.of_rows(self)

    @cached_property
    def nearest(self) -> NDArray[np.int64]:
        """Per row the pair with an existing record that came nearest without linking, -1 = none."""
        pairs, n = self.matched.judged.graded.pairs, self.batch.n_existing
        across = np.flatnonzero((pairs.left >= n) & (pairs.right < n))
        order = across[np.lexsort((self.matched.order[pairs.right[across]], np.round(self.matched.judged.total[across], 6)))]
        out = np.full(self.batch.n_incoming, -1, np.int64)
        out[pairs.left[order] - n] = order
        return out

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
        return self.batch.columns[field].texts(records)

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
        return Explanation("\n".join(reasons.explain(self, row)))

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
