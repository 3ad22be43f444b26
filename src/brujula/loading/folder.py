"""The plan folder: open formats, stable column names; it appears only when complete."""

from __future__ import annotations

import json
import os
import shutil
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.claiming import SEEN, row_digests, seen_of
from brujula.core import decide as deciding
from brujula.core.arrays import SAME, UNSURE
from brujula.core.steps.parallel import spread
from brujula.core.why import sentences
from brujula.errors import PlanError
from brujula.intake.write import write_csv
from brujula.loading.matched import FILE, keep_matched
from brujula.loading.opened import ACCOUNTS, FORMAT
from brujula.loading.place import SUMMARY, cannot, check_place
from brujula.loading.placing import child_tables
from brujula.planning import Plan
from brujula.policy.entities import ENTITIES
from brujula.review.holding import seen_keys
from brujula.review.workbook import write_workbook

_MOST_IN_WORKBOOK = 5_000  # pairs; the rest is in review.csv, the likeliest of each row first


def write_plan(plan: Plan, folder: Path) -> Path:
    """Write a plan beside its place, then rename it there. An earlier plan in that place is replaced.

    Raises PlanError when the place holds something that is no plan folder.
    """
    check_place(folder)
    try:
        folder.parent.mkdir(parents=True, exist_ok=True)
        beside = Path(tempfile.mkdtemp(prefix=f".{folder.name}-", dir=folder.parent))
    except OSError as error:
        raise cannot(folder, error) from None
    try:
        _fill(plan, beside, str(folder))
        beside.chmod(0o777 & ~_umask())
        if folder.exists():
            shutil.rmtree(folder)
        beside.rename(folder)
    except BaseException as error:
        shutil.rmtree(beside, ignore_errors=True)
        if isinstance(error, OSError):
            raise PlanError(f"{folder}: cannot be written: {error.strerror}; nothing was left behind") from None
        raise
    return folder


def _fill(plan: Plan, beside: Path, name: str) -> None:
    """Write a plan's parts into a folder that will have a name."""
    for _ in spread(lambda write: write(beside, name), _writers(plan)):
        pass


def _writers(plan: Plan) -> list[Callable[[Path, str], None]]:
    """What writes the parts of the folder, given where, and how the folder will be called; each on its own, the longest first."""
    open_pairs = review_table(plan)

    def workbook(beside: Path, name: str) -> None:
        write_workbook(open_pairs.slice(0, _MOST_IN_WORKBOOK), beside / "review.xlsx", name)

    def rows(beside: Path, _: str) -> None:
        for name, table in (row_tables(plan) | {"review": open_pairs}).items():
            write_csv(table, beside / f"{name}.csv")

    def actions(beside: Path, _: str) -> None:
        for name, table in action_tables(plan).items():
            write_csv(table, beside / f"{name}.csv")
        if plan.batch.n_incoming == 0:
            write_csv(seen_of(plan.batch, plan.ids), beside / SEEN)

    def matching(beside: Path, _: str) -> None:
        keep_matched(beside / FILE, plan.matched, plan.batch.n_existing, plan.policy)

    def report(beside: Path, _: str) -> None:
        from brujula.reporting.page import page

        (beside / SUMMARY).write_text(json.dumps(summary(plan), indent=2, ensure_ascii=False) + "\n", "utf-8")
        (beside / "report.html").write_text(page(plan), "utf-8")

    def accounts(beside: Path, name: str) -> None:
        if plan.accounts is not None:
            (beside / ACCOUNTS).mkdir()
            _fill(plan.accounts, beside / ACCOUNTS, f"{name}/{ACCOUNTS}")

    return [report, actions, workbook, rows, matching, accounts]


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask


def row_tables(plan: Plan) -> dict[str, pa.Table]:
    """The CSV files that have a line for rows of the list, by name, but the one of open pairs."""
    raw = plan.incoming.table
    outcomes = plan.outcomes_table
    rejected = np.flatnonzero(plan.outcome == deciding.REJECT)
    problem: dict[int, str] = {}
    unread: dict[int, str] = {}
    for p in plan.problems:
        if p.fatal:
            problem.setdefault(p.row, f"{plan.incoming.place_of(p.row)}: {p.sentence}")
        if p.text:
            unread[p.row] = p.text
    rejects = raw.take(pa.array(rejected))
    if unread:
        # What could not be split into cells is given back as it stood.
        rejects = rejects.append_column(_free("as it stood", raw.column_names), _texts(unread, rejected))
    rejects = rejects.append_column(_free("problem", raw.column_names), _texts(problem, rejected))
    with_ids = raw.append_column(_free("record_id", raw.column_names), _known_ids(plan)).append_column(
        _free("outcome", raw.column_names), outcomes["outcome"]
    )
    with_ids = _given_back(plan, with_ids)
    digests = pa.array(row_digests(plan.batch, plan.policy, plan.accounts is not None), pa.large_string())
    acted = np.flatnonzero(np.isin(plan.outcome, (deciding.CREATE, deciding.UPDATE, deciding.UNCHANGED, deciding.MERGE)))
    first_id = pc.replace_substring_regex(outcomes["record_id"], ";.*$", "")
    rows = pa.table(
        {
            "row": acted + 1,
            "digest": digests.take(pa.array(acted)),
            "action": outcomes["action"].take(pa.array(acted)),
            "record_id": first_id.take(pa.array(acted)),
        }
    )
    return {"outcomes": outcomes, "rejects": rejects, "incoming_with_ids": with_ids, "rows": rows}


def action_tables(plan: Plan) -> dict[str, pa.Table]:
    """The CSV files of what is to be done, and of who is taken to be one, by name."""
    out = {
        "actions": plan.actions_table,
        "changes": plan.changes_table,
        "pairs": plan.pairs_table,
        "groups": plan.groups_table,
    } | child_tables(plan)
    for kind in ("create", "update", "merge"):
        ready = _load_ready(plan, kind)
        most = plan.policy.files.most or max(ready.num_rows, 1)
        for part, start in enumerate(range(0, max(ready.num_rows, 1), most), 1):
            out[kind if part == 1 else f"{kind}-{part}"] = ready.slice(start, most)
    return out


def _texts(by_row: dict[int, str], rows: NDArray[np.int64]) -> pa.Array:
    return pa.array([by_row.get(int(r) + 1, "") for r in rows], pa.large_string())


def _free(name: str, taken: list[str]) -> str:
    """The name, or the name with brujula before it when the list has such a column."""
    return name if name not in taken else f"brujula {name}"


def _known_ids(plan: Plan) -> pa.Array:
    """Ids to give back: of the records rows stand for, not of mere candidates."""
    ids = plan.outcomes_table["record_id"].combine_chunks()
    return pc.if_else(pa.array(plan.outcome == deciding.REVIEW), "", ids)


def _given_back(plan: Plan, table: pa.Table) -> pa.Table:
    """The list with the fields of the rows' records that the policy gives back."""
    how = plan.policy.give_back
    if not how.fields:
        return table
    lists = pc.split_pattern(_known_ids(plan), ";")
    owner = pc.list_parent_indices(lists).to_numpy(zero_copy_only=False)
    at = (
        pc.index_in(pc.list_flatten(lists), value_set=plan.ids.cast(pa.large_string()))
        .fill_null(-1)
        .to_numpy(zero_copy_only=False)
    )
    owner, at = owner[at >= 0], at[at >= 0].astype(np.int32)
    count = np.bincount(owner, minlength=table.num_rows)
    if how.several != "all":
        first = np.append(True, owner[1:] != owner[:-1]) if len(owner) else np.zeros(0, bool)
        first &= (how.several == "first") | (count[owner] == 1)
        owner, at = owner[first], at[first]
    offsets = pa.array(np.concatenate([[0], np.cumsum(np.bincount(owner, minlength=table.num_rows))]).astype(np.int64))
    for field in how.fields:
        known = field in plan.batch.columns
        values = plan.ids.take(pa.array(at)) if field == "id" else plan.values(field, at) if known else pa.array([""] * len(at))
        text = pc.binary_join(
            pa.LargeListArray.from_arrays(offsets, values.cast(pa.large_string())), pa.scalar("; ", pa.large_string())
        )
        table = table.append_column(_free(f"{field} (record)", table.column_names), pc.fill_null(text, ""))
    return table


def review_table(plan: Plan) -> pa.Table:
    """One line an open pair: a row under review and a candidate, or two records that may be one; side by side, with room for a decision."""
    decided, n = plan.decided, plan.batch.n_existing
    judged = plan.matched.judged
    if plan.batch.n_incoming:
        order = np.lexsort((np.arange(len(decided.open_row)), decided.open_row))
        left, right = (decided.open_row[order] + n).astype(np.int32), decided.open_record[order]
        pair = decided.open_pair[order]
    else:
        pair = np.flatnonzero(judged.verdict == UNSURE)
        pair = pair[np.lexsort((judged.graded.pairs.right[pair], judged.graded.pairs.left[pair]))]
        left, right = judged.graded.pairs.left[pair], judged.graded.pairs.right[pair]
    return _side_by_side(plan, left, right, pair)


def pairs_to_judge(plan: Plan, pair: NDArray[np.int64]) -> pa.Table:
    """Chosen judged pairs, laid out as in review.csv."""
    pairs = plan.matched.judged.graded.pairs
    return _side_by_side(plan, pairs.left[pair], pairs.right[pair], pair)


def _side_by_side(plan: Plan, left: NDArray[np.int32], right: NDArray[np.int32], pair: NDArray[np.int64]) -> pa.Table:
    judged = plan.matched.judged
    blank = pa.array([""] * len(left), pa.large_string())
    columns: dict[str, Any] = {
        "left": plan.name_of(left),
        "right": plan.name_of(right),
        "decision": blank,
        "remark": blank,
        "probability": np.round(judged.probability[pair], 4),
        "reason": sentences(judged, plan.matched.rules, pair),
    }
    for field in plan.batch.columns:
        columns[f"{field} (left)"] = plan.values(field, left)
        columns[f"{field} (right)"] = plan.values(field, right)
    seen = {
        f"seen ({side})": pa.array(seen_keys(plan.batch, which), pa.large_string())
        for side, which in (("left", left), ("right", right))
    }
    return pa.table(columns | seen)


def _load_ready(plan: Plan, kind: str) -> pa.Table:
    """Records of one kind of action for a CRM that takes files: the id where there is one, and only the fields that are written."""
    actions = plan.actions_table.filter(pc.equal(plan.actions_table["kind"], kind))
    labels = actions["action"].combine_chunks()
    changes = plan.changes_table
    columns: dict[str, Any] = {"action": labels}
    if kind != "create":
        columns["id"] = actions["record_id"]
    if kind == "merge":
        columns["merged_ids"] = actions["merged_ids"]
    at = pc.index_in(changes["action"], value_set=labels)
    mine = changes.append_column("at", at).filter(pc.is_valid(at))
    for field in ENTITIES[plan.batch.entity].fields:
        of_field = mine.filter(pc.equal(mine["field"], field))
        if of_field.num_rows == 0:
            continue
        where = np.full(len(labels), of_field.num_rows, np.int64)
        where[of_field["at"].to_numpy()] = np.arange(of_field.num_rows)
        values = pa.concat_arrays([_flat(of_field["after"]), pa.array([""], pa.large_string())])
        columns[field] = values.take(pa.array(where))
    if plan.policy.files.follow_up is not None:
        acting = plan.action_of_row
        unsure = np.flatnonzero((acting >= 0) & (plan.decided.confidence < plan.policy.files.follow_up))
        marked = plan.action_label(np.unique(acting[unsure]))
        columns["follow_up"] = pc.if_else(pc.is_in(labels, value_set=marked), "yes", "")
    return pa.table(columns)


def _flat(column: pa.ChunkedArray) -> pa.Array:
    chunk = column.combine_chunks()
    return pa.concat_arrays(chunk.chunks) if isinstance(chunk, pa.ChunkedArray) else chunk


def unseen(plan: Plan) -> float:
    """True pairs that no pass brought together: a lower bound from how many were found by one source only and by two (Chao 1987).

    A source is all passes that go by one kind of field besides names, or by names alone: such passes find and fail together. With fewer
    than three sources there is nothing to tell by, and each pass counts for itself.
    """
    judged, pairs, n = plan.matched.judged, plan.matched.judged.graded.pairs, plan.batch.n_existing
    found_by = pairs.passes[(judged.verdict == SAME) & (pairs.left >= n) & (pairs.right < n)]
    names = {entity.identifying for entity in ENTITIES.values()}
    sources: dict[str, int] = {}
    for number, text in enumerate(plan.policy.match.passes):
        kinds = [part.split(".")[0].strip() for part in text.partition("/")[0].split("+")]
        source = next((k for k in kinds if k not in names), "")
        sources[source] = sources.get(source, 0) | 1 << number
    for groups in (list(sources.values()), [1 << number for number in range(len(plan.policy.match.passes))]):
        times = np.sum([np.zeros(len(found_by), np.int64), *((found_by & np.uint64(group)) != 0 for group in groups)], axis=0)
        once, twice, thrice = np.bincount(times, minlength=4)[1:4].tolist()
        if thrice:
            break
    # No more than there are rows without a record.
    unfound = len(plan.outcome) - len(np.unique(pairs.left[(judged.verdict == SAME) & (pairs.left >= n) & (pairs.right < n)]))
    return float(min(once * (once - 1) / (2 * (twice + 1)), unfound))


def summary(plan: Plan) -> dict[str, Any]:
    """Counts, problems, key figures, policy, versions, seconds."""
    from brujula import __version__

    judged = plan.matched.judged
    auto = np.isin(plan.outcome, (deciding.UPDATE, deciding.UNCHANGED, deciding.MERGE))
    sure = np.append(judged.probability, 1.0)[plan.decided.cause]
    ruled = np.append(judged.rule >= 0, True)[plan.decided.cause]
    doubt = 1.0 - np.where(ruled, 1.0, sure)[auto]
    wrong, wide = float(np.sum(doubt)), 1.96 * float(np.sqrt(np.sum(doubt * (1.0 - doubt))))
    missed = float(np.sum(1.0 - plan.decided.confidence[plan.outcome == deciding.CREATE])) + unseen(plan)
    codes: dict[str, int] = {}
    for p in plan.problems:
        codes[p.code] = codes.get(p.code, 0) + 1
    kinds = plan.actions_table["kind"].to_pylist()
    return {
        "format": FORMAT,
        "entity": plan.batch.entity,
        "rows": plan.batch.n_incoming,
        "existing_records": plan.batch.n_existing,
        "outcomes": plan.counts,
        "actions": {k: kinds.count(k) for k in ("create", "update", "merge")},
        "fields_written": plan.changes_table.num_rows,
        "expected_wrong_matches": round(wrong, 2),
        "expected_wrong_interval": [round(max(wrong - wide, 0.0), 2), round(wrong + wide, 2)],
        "expected_missed_matches": round(missed, 2),
        "candidate_pairs": plan.matched.n_candidates,
        "passes": plan.matched.report.as_dict(),
        "short_words": dict(getattr(plan.matched.standards.of.get("company"), "short", ())),
        "groups_refused": len(plan.matched.groups.refused),
        "problems": codes,
        "incoming": {
            "name": plan.incoming.name,
            "taken_as": list(plan.incoming.notes),
            "fields": plan.listed.columns,
            "left_out": list(plan.listed.left_out),
            "set_aside": list(plan.listed.set_aside),
        },
        "existing": {
            "name": plan.existing.name,
            "left_out": plan.taking.left_out,
            "decisions_used": plan.taking.decisions_used,
            "decisions_stale": list(plan.taking.decisions_stale),
            "taken_as": list(plan.existing.notes),
            "fields": {
                f: c
                for f, c in plan.taking.existing.columns.items()
                if f == "id" or plan.batch.columns[f].codes[: plan.batch.n_existing].max(initial=-1) >= 0
            },
        },
        "policy": plan.policy.model_dump(mode="json", by_alias=True),
        "version": __version__,
        "seconds": plan.seconds,
    }
