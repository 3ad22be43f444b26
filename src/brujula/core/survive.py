"""Survivorship: which value stays, field by field, when rows update a record and records are merged."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.actions import (
    W_APART,
    W_BEFORE,
    W_BLOCK,
    W_FILL,
    W_FREQUENT,
    W_JOIN,
    W_LONGEST,
    W_MOVED,
    W_NEW,
    W_NEWEST,
    W_OWNER,
    W_REPLACE,
    W_RETURNED,
    W_REVIVED,
    W_STRICT,
    W_TRUSTED,
    Actions,
    FieldChanges,
)
from brujula.core.batch import Column, Keys
from brujula.core.decide import CREATE, UPDATE
from brujula.core.kernels import members as kernel


def _made(field: str, action: NDArray[np.int64], source: NDArray[np.int32], why: int, text: pa.Array | None) -> FieldChanges:
    """Changes that all have one reason."""
    return FieldChanges(field, action, source.astype(np.int32), np.full(len(action), why, np.int8), text)


@dataclass(frozen=True)
class Survivorship:
    """How each field survives. rules: field to fill, replace, keep, union, append or strictest.

    strict : per consent field, bool per distinct value: it opts out
    joins  : per union or append field, how two texts are joined
    blocks : fields that move together; open_parts : those that may be completed one by one from a member that agrees
    agrees : per block, for (base, member) record pairs, whether the blocks are compatible
    scores : per field that survives by a score (newest, most_trusted, longest), a number per record: the highest stays
    whole    : per block that survives by a score, its rule and its fields: all of them come from one member
    alike    : per field, a key per record that is equal for two spellings of one value: such a value does not replace the other
    returned : bool[n_records], rows of a list that was exported from here and came back: what they say replaces
    held   : per field whose kind has several places for one thing (phone, mobile), its key per record and the keys of all
             the record's places, uint64[n] and uint64[places, n]: what the record holds elsewhere is not written again
    """

    rules: Mapping[str, str]
    strict: Mapping[str, NDArray[np.bool_]]
    joins: Mapping[str, Callable[[str, str], str]]
    blocks: Mapping[str, tuple[str, ...]]
    open_parts: frozenset[str]
    agrees: Mapping[str, Callable[[NDArray[np.int32], NDArray[np.int32]], NDArray[np.bool_]]]
    held: Mapping[str, tuple[Keys, Keys]]
    scores: Mapping[str, NDArray[np.int64]]
    returned: NDArray[np.bool_]
    whole: Mapping[str, tuple[str, tuple[str, ...]]]
    alike: Mapping[str, Keys]


def survive(actions: Actions, columns: Mapping[str, Column], n_existing: int, how: Survivorship) -> list[FieldChanges]:
    """Values every action writes, field by field.

    columns : cleaned columns: placeholders and unusable values are blank there, so they never replace a value
    """
    out: list[FieldChanges] = []
    base = actions.base
    new = actions.kind == CREATE
    in_block = {f: name for name, fields in how.blocks.items() for f in fields}
    sources = {name: _block(actions, columns, how, name) for name in how.blocks}
    whole = {f: (rule, _whole_block(actions, columns, how, rule, fields)) for rule, fields in how.whole.values() for f in fields}
    for field, column in columns.items():
        codes = column.codes
        own = codes[base]
        rule = how.rules.get(field, "fill")
        picked = np.full(len(actions), -1, np.int32)
        why = np.full(len(actions), W_FILL, np.int8)
        if rule in ("union", "append"):
            out.append(_joined(actions, column, field, new, how.joins[field]))
            continue
        if field in whole:
            rule, best = whole[field]
            take = (best >= 0) & (np.append(codes, -1)[best] >= 0) & (np.append(codes, -1)[best] != own)
            picked[take], why[take] = best[take], _WHY_BY[rule]
        elif field in in_block:
            at, all_of_it = sources[in_block[field]]
            member = np.append(actions.members, np.int32(-1))[at]
            take = (at >= 0) & (own < 0) & (np.append(codes, -1)[member] >= 0) & (all_of_it | (field in how.open_parts))
            picked[take] = member[take]
            why[take & ~all_of_it] = W_BLOCK
        elif rule == "strictest":
            opted = np.append(how.strict[field], False)
            out_codes = np.where(opted[codes], codes, -1).astype(np.int32)
            picked, why = _first(actions, out_codes), np.full(len(actions), W_STRICT, np.int8)
            picked[opted[own]] = -1
            free = (picked < 0) & (own < 0)
            filled = _first(actions, codes)
            picked[free], why[free] = filled[free], W_FILL
        elif rule == "fill":
            take = own < 0
            picked[take] = _first(actions, codes)[take]
            if field in how.held:
                own_key, places = how.held[field]
                known = np.any(places[:, base] == np.append(own_key, np.uint64(0))[picked], axis=0)
                picked[known & (picked >= 0) & (picked != base)] = -1
        elif rule in _BY_SCORE or rule == "most_frequent":
            score = how.scores[field] if rule in _BY_SCORE else _how_often(actions, codes)
            best = _highest(actions, codes, score if rule in _BY_SCORE else None, score)
            take = (best >= 0) & (codes[best] != own)
            picked[take], why[take] = best[take], np.where(own[take] < 0, W_FILL, _WHY_BY[rule])
        if rule == "replace":
            given = np.where(np.arange(len(codes)) >= n_existing, codes, -1).astype(np.int32)
            latest = _first(actions, given)
            take = (latest >= 0) & (given[latest] != own)
            if field in how.alike:
                key = np.append(how.alike[field], np.uint64(0))
                take &= key[latest] != key[base]
            picked[take], why[take] = latest[take], W_REPLACE
        if rule in ("fill", "most_trusted", "newest", "longest", "most_frequent") and how.returned.any():
            changed = _first(actions, np.where(how.returned, codes, -1).astype(np.int32))
            take = (changed >= 0) & (codes[changed] != own) & ~new
            picked[take], why[take] = changed[take], W_RETURNED
        picked = np.where(new & (own >= 0) & (picked < 0), base, picked)
        why[new & (picked == base)] = W_NEW
        hit = np.flatnonzero(picked >= 0)
        out.append(FieldChanges(field, hit, picked[hit].astype(np.int32), why[hit]))
    return [c for c in out if len(c.action)]


def give_out(
    actions: Actions,
    changes: list[FieldChanges],
    field: str,
    to: Sequence[Sequence[str]],
    of_row: NDArray[np.int64],
    n_existing: int,
) -> list[FieldChanges]:
    """The changes, and a value for each new record without one: by the rule its row falls under, of several values each in turn.

    to : values per rule;  of_row : per incoming row its rule, -1 = none
    """
    new = np.flatnonzero(actions.kind == CREATE)
    rule = of_row[actions.base[new] - n_existing]
    given = np.concatenate([c.action for c in changes if c.field == field] or [np.zeros(0, np.int64)])
    free = (rule >= 0) & ~np.isin(new, given)
    new, rule = new[free], rule[free]
    if len(new) == 0:
        return changes
    sizes = np.array([len(values) for values in to])
    turn, order = np.zeros(len(new), np.int64), np.argsort(rule, kind="stable")
    turn[order] = np.arange(len(new)) - np.searchsorted(rule[order], rule[order])
    at = (np.cumsum(sizes) - sizes)[rule] + turn % sizes[rule]
    text = pa.array([value for values in to for value in values], pa.large_string()).take(pa.array(at))
    others, whole = [c for c in changes if c.field != field], [c for c in changes if c.field == field]
    return [*others, *whole, _made(field, new, actions.base[new], W_OWNER, text)]


def names_apart(
    actions: Actions, changes: list[FieldChanges], whole: Column, parts: Mapping[str, pa.Array]
) -> list[FieldChanges]:
    """The changes, and the parts of the whole name of each new record that has no other.

    whole : the column of whole names;  parts : per field, of each of its distinct values that part, null = not plain
    """
    named = [c for c in changes if c.field == "full_name"]
    known = [c.action for c in changes if c.field in parts]
    made = []
    for change in named:
        free = (actions.kind[change.action] == CREATE) & ~np.isin(change.action, np.concatenate([*known, np.zeros(0, np.int64)]))
        code = pa.array(whole.codes[change.source], mask=whole.codes[change.source] < 0)
        for field, texts in parts.items():
            part = texts.take(code)
            hit = np.flatnonzero(free & part.is_valid().to_numpy(zero_copy_only=False))
            if len(hit):
                made.append(_made(field, change.action[hit], change.source[hit], W_APART, part.take(pa.array(hit))))
    return [*changes, *made]


def revive(actions: Actions, changes: list[FieldChanges], inactive: NDArray[np.bool_], n_existing: int) -> list[FieldChanges]:
    """The changes, and inactive records that rows are made active again. inactive : bool[n_records]"""
    owner = np.repeat(np.arange(len(actions)), np.diff(actions.off))
    row = np.full(len(actions), -1, np.int32)
    of_row = actions.members >= n_existing
    row[owner[of_row][::-1]] = actions.members[of_row][::-1]
    hit = np.flatnonzero(inactive[actions.base] & (row >= 0)) if len(actions) else np.zeros(0, np.int64)
    others = [c for c in changes if c.field != "active"]
    if len(hit) == 0:
        return changes
    return [*others, _made("active", hit, row[hit], W_REVIVED, pa.array(["yes"] * len(hit), pa.large_string()))]


def move(
    actions: Actions, changes: list[FieldChanges], account: NDArray[np.int64], columns: Mapping[str, Column], n_existing: int
) -> list[FieldChanges]:
    """The changes, and people who are at another account now tied to it; where they were is noted.

    account : int64[n_records], number of the account each record and row is tied to, -1 = none
    """
    owner = np.repeat(np.arange(len(actions)), np.diff(actions.off))
    row = np.full(len(actions), -1, np.int32)
    tied = (actions.members >= n_existing) & (account[actions.members] >= 0)
    row[owner[tied][::-1]] = actions.members[tied][::-1]
    base = actions.base
    if len(actions) == 0:
        return changes
    elsewhere = (row >= 0) & (account[base] >= 0) & (account[base] != account[row])
    gone = np.flatnonzero((actions.kind == UPDATE) & elsewhere)
    if len(gone) == 0:
        return changes
    settled = ("account", "account_id", "notes")
    out = [c.take(np.flatnonzero(~np.isin(c.action, gone))) if c.field in settled else c for c in changes]
    for field in settled[:2]:
        hit = gone[columns[field].codes[row[gone]] >= 0]
        out.append(_made(field, hit, row[hit], W_MOVED, None))
    firms, notes = columns["account"], columns.get("notes")
    was = gone[firms.codes[base[gone]] >= 0]
    if notes is not None and len(was):
        said, between, ending = (pa.scalar(text, pa.large_string()) for text in ("before: ", "", "\n"))
        line = pc.binary_join_element_wise(said, firms.texts(base[was]), between)
        code = notes.codes[base[was]]
        held = notes.values.arrow().take(pa.array(code, mask=code < 0))
        text = pc.coalesce(pc.binary_join_element_wise(held, line, ending), line)
        out.append(_made("notes", was, base[was], W_BEFORE, text))
    return [c for c in out if len(c.action)]


_BY_SCORE = ("newest", "most_trusted", "longest")
_WHY_BY = {"newest": W_NEWEST, "most_trusted": W_TRUSTED, "longest": W_LONGEST, "most_frequent": W_FREQUENT}


def _highest(
    actions: Actions, codes: NDArray[np.int32], score: NDArray[np.int64] | None, by_member: NDArray[np.int64]
) -> NDArray[np.int32]:
    """Record of each action's member with a value and the highest score, the first of equals; -1 if none has a value.

    score : per record; by_member : per member, where there is no score per record
    """
    owner = np.repeat(np.arange(len(actions)), np.diff(actions.off))
    full = np.flatnonzero(codes[actions.members] >= 0)
    worth = score[actions.members[full]] if score is not None else by_member[full]
    order = full[np.lexsort((full, -worth, owner[full]))]
    out = np.full(len(actions), -1, np.int32)
    out[owner[order][::-1]] = actions.members[order][::-1]
    return out


def _whole_block(
    actions: Actions, columns: Mapping[str, Column], how: Survivorship, rule: str, fields: tuple[str, ...]
) -> NDArray[np.int32]:
    """Member each action's block comes from: of those that fill all the first one fills, the one with the highest score."""
    parts = np.stack([columns[f].codes >= 0 for f in fields])
    owner = np.repeat(np.arange(len(actions)), np.diff(actions.off))
    fills = (parts[:, actions.members] | ~parts[:, actions.base[owner]]).all(axis=0) & parts[:, actions.members].any(axis=0)
    scored = next(f for f in fields if f in how.scores)
    worth = np.where(fills, how.scores[scored][actions.members], np.iinfo(np.int64).min)
    order = np.flatnonzero(fills)
    order = order[np.lexsort((order, -worth[order], owner[order]))]
    out = np.full(len(actions), -1, np.int32)
    out[owner[order][::-1]] = actions.members[order][::-1]
    return out


def _how_often(actions: Actions, codes: NDArray[np.int32]) -> NDArray[np.int64]:
    """Per member how many members of its action have its value."""
    owner = np.repeat(np.arange(len(actions)), np.diff(actions.off)).astype(np.int64)
    key = owner * (int(codes.max(initial=0)) + 2) + codes[actions.members] + 1
    _, which, counts = np.unique(key, return_inverse=True, return_counts=True)
    return np.asarray(counts[which], np.int64)


def _first(actions: Actions, codes: NDArray[np.int32]) -> NDArray[np.int32]:
    """Record of each action's first member with a value, -1 if none."""
    at = np.empty(len(actions), np.int32)
    kernel.first_filled(actions.off, actions.members, np.ascontiguousarray(codes), at)
    return np.append(actions.members, np.int32(-1))[at]


def _block(
    actions: Actions, columns: Mapping[str, Column], how: Survivorship, name: str
) -> tuple[NDArray[np.int32], NDArray[np.bool_]]:
    """Position in `members` that completes each action's block, and whether the block is taken whole."""
    fields = [f for f in how.blocks[name] if f in columns]
    at = np.full(len(actions), -1, np.int32)
    if not fields or len(actions) == 0:
        return at, np.zeros(len(actions), bool)
    parts = np.ascontiguousarray(np.stack([columns[f].codes for f in fields]))
    owner = np.repeat(actions.base, np.diff(actions.off))
    agrees = how.agrees[name](owner, actions.members)
    kernel.block_source(actions.off, actions.members, parts, np.array([f in how.open_parts for f in fields]), agrees, at)
    return at, np.all(parts[:, actions.base] < 0, axis=0)


_SPARE = 1000  # texts made on the way that are kept before they are let go


def _joined(
    actions: Actions, column: Column, field: str, new: NDArray[np.bool_], join: Callable[[str, str], str]
) -> FieldChanges:
    """Texts of all members joined, member by member; each distinct pair of texts is joined once."""
    texts: list[str] = column.values.arrow().to_pylist()
    index = {t: i for i, t in enumerate(texts)}
    sizes = np.diff(actions.off)
    start = column.codes[actions.base].astype(np.int64)
    now, source = start.copy(), actions.base.copy()
    for k in range(1, int(sizes.max(initial=1))):
        has = np.flatnonzero(sizes > k)
        member = actions.members[actions.off[has] + k]
        code = column.codes[member].astype(np.int64)
        full = code >= 0
        has, member, code = has[full], member[full], code[full]
        pairs, which = np.unique(np.stack([now[has], code], axis=1), axis=0, return_inverse=True)
        made = []
        for a, b in pairs.tolist():
            text = join(texts[a] if a >= 0 else "", texts[b])
            made.append(index.setdefault(text, len(texts)))
            if made[-1] == len(texts):
                texts.append(text)
        after = np.array(made, np.int64)[which.reshape(-1)] if made else np.zeros(0, np.int64)
        moved = after != now[has]
        now[has], source[has[moved]] = after, member[moved]
        if len(texts) > len(column.values) + 2 * len(actions) + _SPARE:
            # What was joined on the way is let go: of a thousand notes each step makes a longer text.
            used, at = np.unique(now[now >= len(column.values)], return_inverse=True)
            now[now >= len(column.values)] = len(column.values) + at
            texts[len(column.values) :] = [texts[i] for i in used.tolist()]
            index = {t: i for i, t in enumerate(texts)}
    hit = np.flatnonzero((now != start) | (new & (now >= 0)))
    why = np.where(new[hit], W_NEW, np.where(start[hit] < 0, W_FILL, W_JOIN)).astype(np.int8)
    return FieldChanges(
        field, hit, source[hit].astype(np.int32), why, pa.array(texts, pa.large_string()).take(pa.array(now[hit]))
    )
