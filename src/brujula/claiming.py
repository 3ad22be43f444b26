"""What is settled before any evidence: who takes part, and which record a row names by id, by the policy's key, or was loaded into."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Collection, Mapping
from dataclasses import dataclass, field, replace
from pathlib import Path

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula import tables
from brujula.core.arrays import BY_ID, BY_KEY, KEY_SHARED, LOADED, Claims
from brujula.core.batch import Batch, Column, Texts
from brujula.core.candidates import content_keys
from brujula.core.steps.text import hash_values, of_records
from brujula.errors import InputError
from brujula.fields.phone import last_nine
from brujula.intake import conditions
from brujula.intake.content import counts_on
from brujula.intake.read import read_list
from brujula.intake.shape import Shaped, as_it_is
from brujula.loading.opened import read_table
from brujula.policy.entities import ENTITIES
from brujula.policy.model import Policy
from brujula.problems import Problem

_OURS = 0.5  # share of a column's ids that must be the records' for it to be taken for ours
_NUMBERS = 0.9  # the same where they are numbers, as any list's may be, and no name stands beside them


@dataclass(frozen=True)
class Taking:
    """Who takes part.

    existing : the records that do;  left_out : in words, how many do not and why
    suppressed : per row why it is left alone, "" where it is not
    decisions_used, decisions_stale : kept decisions that hold, and those that do not any more, in words
    pointing : id of a record to how many others point at it
    """

    existing: Shaped
    left_out: dict[str, int]
    suppressed: tuple[str, ...]
    decisions_used: int = 0
    decisions_stale: tuple[str, ...] = ()
    pointing: Mapping[str, int] = field(default_factory=dict)


def who_takes_part(new: Shaped, old: Shaped, policy: Policy, merged: Collection[str] = ()) -> Taking:
    """merged : ids of records that were merged into others and may still be there. The records the policy's selection, marks and inactive records leave, and the rows it suppresses. Raises InputError for a list that cannot be read."""
    n = old.raw.table.num_rows
    keep, left_out = np.ones(n, bool), {}

    def leave(out: NDArray[np.bool_], why: str) -> None:
        out = out & keep
        if out.any():
            left_out[why] = int(out.sum())
            keep[out] = False

    if merged and "id" in old.values:
        gone = pc.is_in(old.values["id"].combine_chunks(), value_set=pa.array(list(merged), pa.large_string()))
        leave(np.asarray(gone.to_numpy(zero_copy_only=False), bool), "merged into others")
    if policy.select.existing:
        leave(~conditions.meets(policy.select.existing, old.values, n), "not selected by the policy")
    for condition in policy.suppress.records:
        leave(conditions.meets((condition,), old.values, n), f"kept out: {condition}")
    if policy.outcomes.inactive == "leave-out":
        leave(inactive(old.values, n), "inactive")
    existing = old if keep.all() else _only(old, keep)
    return Taking(existing, left_out, _suppressed(new, policy))


def inactive(values: dict[str, pa.ChunkedArray], n: int) -> NDArray[np.bool_]:
    """Which records say that they are not active."""
    if "active" not in values:
        return np.zeros(n, bool)
    text = pc.utf8_lower(pc.utf8_trim_whitespace(values["active"]))
    out = pa.array(sorted(tables.members("standing_words", "inactive")), pa.large_string())
    return np.asarray(pc.is_in(text, value_set=out).to_numpy(zero_copy_only=False), bool)


def _only(old: Shaped, keep: NDArray[np.bool_]) -> Shaped:
    mask = pa.array(keep)
    return replace(
        old, raw=replace(old.raw, table=old.raw.table.filter(mask)), values={f: v.filter(mask) for f, v in old.values.items()}
    )


def _suppressed(new: Shaped, policy: Policy) -> tuple[str, ...]:
    """Per row why it is left alone."""
    n = new.raw.table.num_rows
    why = np.full(n, "", object)
    for condition in policy.suppress.rows:
        why[conditions.meets((condition,), new.values, n) & (why == "")] = f"the policy leaves alone rows whose {condition}"
    if policy.suppress.list and n:
        listed = as_it_is(read_list(policy.suppress.list), policy.entity)
        shared = [f for f in ("id", "email", "other_email", "phone", "mobile", "website") if f in listed.values]
        if not shared:
            raise InputError(
                f"{policy.suppress.list}: no column of mail addresses, phones, websites or ids; accepted: a list with one of them"
            )
        for field in shared:
            places = next((p for p in (("phone", "mobile"), ("email", "other_email")) if field in p), (field,))
            for own in places:
                if own in new.values:
                    them = _plain(listed.values[field], field)
                    hit = pc.and_(pc.is_in(mine := _plain(new.values[own], own), value_set=them), pc.not_equal(mine, ""))
                    at = np.asarray(hit.to_numpy(zero_copy_only=False), bool) & (why == "")
                    why[at] = f"its {own} is on the list of those to be left alone ({policy.suppress.list})"
    return tuple(why.tolist())


def _plain(values: pa.ChunkedArray, field: str) -> pa.Array:
    """Values to be compared word for word: case, spaces and, of numbers, everything but the last nine digits do not count."""
    whole = values.combine_chunks()
    text = pc.utf8_lower(pc.utf8_trim_whitespace(pa.concat_arrays(whole.chunks) if isinstance(whole, pa.ChunkedArray) else whole))
    if field in ("phone", "mobile"):
        return last_nine(text)
    if field == "website":
        return pc.replace_substring_regex(pc.replace_substring_regex(text, r"^([a-z]+:)?/*(www\.)?", ""), r"[/?#].*$", "")
    return text


def claims(
    new: Shaped, batch: Batch, cleaned: Batch, ids: pa.Array, policy: Policy, loaded: Claims, aliases: dict[str, str]
) -> tuple[Claims, list[Problem], NDArray[np.bool_], str]:
    """What rows name their record by; problems of ids; which rows came by id; and a note, or "".

    loaded  : rows this store loaded before
    aliases : ids of records merged away, to the ids of those that took them in
    """
    found, problems, returned, note = _by_id(new, ids, policy, aliases, batch)
    mine = np.isin(loaded.row, found.row)
    parts = [found, Claims(loaded.row[~mine], loaded.record[~mine], loaded.how[~mine])]
    if policy.match.key:
        named = np.concatenate([p.row for p in parts])
        by_key = _by_key(cleaned.column(policy.match.key), policy.match.key, batch)
        fresh = ~np.isin(by_key.row, named)
        parts.append(Claims(by_key.row[fresh], by_key.record[fresh], by_key.how[fresh]))
    joined = Claims(*(np.concatenate([getattr(p, f) for p in parts]) for f in ("row", "record", "how")))
    return joined, problems, returned, note


def _by_id(
    new: Shaped, ids: pa.Array, policy: Policy, aliases: dict[str, str], batch: Batch
) -> tuple[Claims, list[Problem], NDArray[np.bool_], str]:
    nobody, none = Claims.none(), np.zeros(batch.n_incoming, bool)
    if "id" not in new.values or policy.match.ids == "ignore" or len(ids) == 0:
        return nobody, [], none, ""
    whole = pc.utf8_trim_whitespace(new.values["id"]).combine_chunks()
    text = pa.concat_arrays(whole.chunks) if isinstance(whole, pa.ChunkedArray) else whole
    if aliases:
        at = pc.index_in(text, value_set=pa.array(list(aliases), pa.large_string()))
        text = pc.coalesce(pa.array(list(aliases.values()), pa.large_string()).take(at), text)
    at = pc.index_in(text, value_set=ids.cast(pa.large_string())).fill_null(-1).to_numpy(zero_copy_only=False)
    given = pc.not_equal(text, "").to_numpy(zero_copy_only=False)
    known = at >= 0
    if policy.match.ids == "auto":
        if not known.any() or known[given].mean() < _OURS:
            return nobody, [], none, ""
        if not _agree(batch, np.flatnonzero(known), at[known]) and not _only_ids(batch, text, float(known[given].mean())):
            return nobody, [], none, f'"{new.columns["id"]}" holds ids that are not the records\': it was not used'
    rows = np.flatnonzero(known)
    column = new.columns["id"]
    texts = new.values["id"].to_pylist() if (given & ~known).any() else []
    problems = [
        Problem("unknown-id", int(r) + 1, column, texts[r], fatal=True, field="id")
        for r in np.flatnonzero(given & ~known).tolist()
    ]
    found = Claims((rows + batch.n_existing).astype(np.int32), at[rows].astype(np.int32), np.full(len(rows), BY_ID, np.int8))
    return found, problems, known, f'"{column}" holds the records\' ids: they decide'


def _agree(batch: Batch, rows: NDArray[np.int64], records: NDArray[np.int64]) -> bool:
    """Whether rows say of themselves what the records of their ids say: in one of five at least some field is the same, word for word."""
    same = np.zeros(len(rows), bool)
    for column in batch.columns.values():
        own, theirs = column.codes[batch.n_existing + rows], column.codes[records]
        common = column.counts()
        same |= (own >= 0) & (own == theirs) & (np.append(common, 0)[own] <= max(3, len(batch) // 50))
    return bool(same.mean() >= 0.2) if len(same) else False


def _only_ids(batch: Batch, ids: pa.Array, known: float) -> bool:
    """Whether rows name nobody but by ids, and these are no running number: then what they say besides may all be new. known : share of the ids that are records'."""
    named = np.concatenate([batch.column(f).codes[batch.n_existing :] for f in ENTITIES[batch.entity].naming])
    numbers = pc.all(pc.match_substring_regex(ids, r"^\d{0,18}$")).as_py()
    if (named >= 0).any() or (numbers and known < _NUMBERS):
        return False
    return not numbers or not counts_on(ids)


def _by_key(column: Column, field: str, batch: Batch) -> Claims:
    """Rows whose value of the key some record has: that record where it is one, all of them, held, where several share it."""
    key = of_records(hash_values(Texts.of(_key_text(column, field))), column)
    n = batch.n_existing
    order = np.argsort(key[:n], kind="stable").astype(np.int32)
    held = key[:n][order]
    own = key[n:]
    low, high = np.searchsorted(held, own, "left"), np.searchsorted(held, own, "right")
    count = np.where(own == 0, 0, high - low)
    rows = np.repeat(np.arange(len(own)), count)
    at = np.repeat(low, count) + np.arange(count.sum()) - np.repeat(np.cumsum(count) - count, count)
    how = np.where(count[rows] == 1, BY_KEY, KEY_SHARED).astype(np.int8)
    return Claims((rows + n).astype(np.int32), order[at], how)


def _key_text(column: Column, field: str) -> pa.Array:
    text = pc.utf8_lower(column.values.arrow())
    if field in ("phone", "mobile"):
        return last_nine(text)
    return pc.replace_substring_regex(text, r"\s+", "" if field == "email" else " ")


def tied(batch: Batch) -> NDArray[np.int64]:
    """Number of the account each record and row is tied to by its account_id, -1 = none."""
    column = batch.column("account_id")
    return column.codes.astype(np.int64)


def of_one_firm(cleaned: Batch, accounts: NDArray[np.int64]) -> Batch:
    """The batch with one spelling of the firm for all who are tied to one account: for comparing only."""
    column = cleaned.column("account")
    known = np.flatnonzero((accounts >= 0) & (column.codes >= 0))
    if len(known) == 0:
        return cleaned
    chosen = np.full(int(accounts.max()) + 1, -1, np.int32)
    chosen[accounts[known][::-1]] = column.codes[known][::-1]  # the first record's spelling
    codes = np.where(accounts >= 0, chosen[accounts], column.codes)
    codes = np.where(codes < 0, column.codes, codes).astype(np.int32)
    return replace(cleaned, columns={**cleaned.columns, "account": Column(column.values, codes)})


def owner_rules(new: Shaped, policy: Policy) -> NDArray[np.int64]:
    """Per row the first rule of owners that it meets, -1 = none."""
    n = new.raw.table.num_rows
    out = np.full(n, -1, np.int64)
    for number, rule in enumerate(policy.owner):
        out[(out < 0) & conditions.meets(rule.when, new.values, n)] = number
    return out


def loaded_before(batch: Batch, remembered: dict[str, str], ids: pa.Array, policy: Policy, tied: bool) -> Claims:
    """Rows that the store remembers loading, and the records they went into."""
    row, record = np.zeros(0, np.int32), np.zeros(0, np.int32)
    if remembered and len(ids):
        digests = pa.array(row_digests(batch, policy, tied), pa.large_string())
        held = pc.index_in(digests, value_set=pa.array(list(remembered), pa.large_string()))
        at = pc.index_in(pa.array(list(remembered.values()), pa.large_string()).take(held), value_set=ids.cast(pa.large_string()))
        known = np.flatnonzero(pc.and_(pc.is_valid(held), pc.is_valid(at)).to_numpy(zero_copy_only=False))
        row, record = (
            (known + batch.n_existing).astype(np.int32),
            at.take(pa.array(known)).to_numpy(zero_copy_only=False).astype(np.int32),
        )
    return Claims(row, record, np.full(len(row), LOADED, np.int8))


def row_digests(batch: Batch, policy: Policy, tied: bool) -> list[str]:
    """What a store remembers a row by: all it says, and how the policy lets it change a record. tied : its account was found for it."""
    if tied:
        said = {f: c for f, c in batch.columns.items() if f != "account_id"}
        batch = Batch(batch.entity, batch.n_existing, batch.n_incoming, said)
    how = hashlib.sha256(json.dumps([policy.outcomes.mode, sorted(policy.update.items())]).encode()).digest()
    keys = content_keys(batch)[batch.n_existing :] ^ np.uint64(int.from_bytes(how[:8], "big"))
    return [f"{d:016x}" for d in keys.tolist()]


SEEN = "seen.csv"
"""Of a sweep's folder: every record and a digest of what it said."""


def seen_of(batch: Batch, ids: pa.Array) -> pa.Table:
    """Every existing record and a digest of what it says."""
    keys = content_keys(batch)[: batch.n_existing]
    return pa.table(
        {"record_id": ids.cast(pa.large_string()), "digest": pa.array([f"{k:016x}" for k in keys.tolist()], pa.large_string())}
    )


def changed_since(folder: Path, batch: Batch, ids: pa.Array) -> NDArray[np.bool_]:
    """Records that the sweep in a folder did not see as they are now. Raises PlanError for a folder that holds no sweep."""
    before = read_table(folder, SEEN.removesuffix(".csv"))
    now = seen_of(batch, ids)
    both = [pc.binary_join_element_wise(t["record_id"], t["digest"], pa.scalar("|", pa.large_string())) for t in (now, before)]
    return np.asarray(~pc.is_in(both[0], value_set=both[1].combine_chunks()).to_numpy().astype(bool))
