"""The steps in the order of the work: read, map, clean, match, decide, survive. No step calls the next."""

from __future__ import annotations

import hashlib
import json
import time
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from brujula import matching
from brujula.core import candidates, decide as deciding, standardise, survive as survivorship
from brujula.core.batch import Batch, Column
from brujula.core.steps.parallel import spread
from brujula.fields import kinds
from brujula.intake import mapping, problems as finding, shape as shaping, sources
from brujula.intake.labels import NO_LABELS, read_labels
from brujula.planning import Plan
from brujula.policy.entities import ENTITIES, kind_of
from brujula.policy.model import Policy
from brujula.problems import Problem
from brujula.surviving import age_of, survivorship_of

OnStep = Callable[[str], None]


def plan(
    incoming: Any, against: Any, policy: Policy | str | None = None, entity: str | None = None, on_step: OnStep = matching.quiet
) -> Plan:
    """Decide what becomes of every row of a list; nothing is written anywhere.

    incoming : path of a list, or a pandas frame
    against  : existing records: a path, a store's URL, or a frame
    policy   : a Policy, the path of one, or None for the default one
    entity   : "contact" or "account"; None: the policy's, or found from the columns

    Raises InputError for lists that cannot be read, PolicyError for policies that cannot be used, StoreError for stores that fail.
    """
    start = time.perf_counter()
    chosen = _policy(policy, entity)
    on_step("reading")
    new = sources.read_source(incoming, chosen.list if chosen else None, entity)
    entity = entity or (chosen.entity if chosen else None)
    old = sources.read_source(against, None, entity or mapping.entity_of(new.table))
    entity = entity or mapping.entity_of(new.table, *([] if sources.is_url(against) else [old.table]))
    chosen = chosen or Policy.default(entity)
    listed = shaping.shape(new, chosen, entity)
    return decide_on(
        listed,
        shaping.as_it_is(old, entity, not sources.is_url(against)),
        chosen,
        sources.remembered(against, entity),
        on_step,
        start,
    )


def sweep(existing: Any, policy: Policy | str | None = None, entity: str | None = None, on_step: OnStep = matching.quiet) -> Plan:
    """Find duplicates among existing records, as a plan of merges; nothing is written anywhere.

    Raises as `plan` does.
    """
    start = time.perf_counter()
    chosen = _policy(policy, entity)
    on_step("reading")
    old = sources.read_source(existing, None, entity)
    entity = entity or (chosen.entity if chosen else mapping.entity_of(old.table))
    nothing = shaping.Shaped(sources.RawList("no list", pa.table({})), {}, {})
    return decide_on(
        nothing, shaping.as_it_is(old, entity, not sources.is_url(existing)), chosen or Policy.default(entity), {}, on_step, start
    )


def decide_on(
    new: shaping.Shaped,
    old: shaping.Shaped,
    policy: Policy,
    remembered: dict[str, str] | None = None,
    on_step: OnStep = matching.quiet,
    start: float | None = None,
) -> Plan:
    """The steps from two lists that are read to the plan. remembered : digests of rows a store loaded before, to their records."""
    start = time.perf_counter() if start is None else start
    read_at = time.perf_counter()
    entity = policy.entity
    ids = sources.record_ids(old)
    batch = combine(entity, old, new)
    cleaned = standardise.clean(batch, kinds(), kind_of(entity))
    found = finding.find(cleaned, batch, new, policy)
    known = loaded_before(batch, remembered or {}, ids, policy)
    labels = read_labels(policy.match.labels, ids, batch.n_incoming) if policy.match.labels else NO_LABELS
    matched = matching.match(cleaned, policy, on_step, known, labels)
    made = decided(new, old, policy, ids, batch, cleaned, matched, found, known, on_step)
    seconds = {"read": round(read_at - start, 3), **made.seconds, "all": round(time.perf_counter() - start, 3)}
    return replace(made, seconds=seconds)


def decided(
    new: shaping.Shaped,
    old: shaping.Shaped,
    policy: Policy,
    ids: pa.Array,
    batch: Batch,
    cleaned: Batch,
    matched: matching.Matched,
    found: list[Problem],
    known: matching.Known,
    on_step: OnStep = matching.quiet,
    only_find: bool = False,
) -> Plan:
    """The steps from what matching found out to the plan. only_find : what would change is not worked out."""
    on_step("deciding")
    deciding_at = time.perf_counter()
    rejected = np.zeros(batch.n_incoming, bool)
    rejected[[p.row - 1 for p in found if p.fatal]] = True
    how = policy.outcomes
    decided = deciding.decide(
        matched.judged, matched.groups, batch.n_existing, batch.n_incoming, rejected, how.mode, how.unsure, how.duplicates
    )
    filled = np.sum([c.filled for c in cleaned.columns.values()] or [np.zeros(len(batch), bool)], axis=0).astype(np.int32)
    idle = np.isin(np.arange(batch.n_incoming), known.row - batch.n_existing)
    actions, action_of_row = survivorship.make_actions(
        decided.outcome, decided.group, batch.n_existing, filled, age_of(cleaned, matched.content), idle
    )
    columns = {} if only_find else cleaned.columns
    changes = survivorship.survive(actions, columns, batch.n_existing, survivorship_of(cleaned, policy)) if columns else []
    seconds = {**matched.seconds, "decide": round(time.perf_counter() - deciding_at, 3)}
    return Plan(policy, new, old, ids, batch, cleaned, matched, decided, actions, action_of_row, changes, tuple(found), seconds)


def _policy(policy: Policy | str | None, entity: str | None) -> Policy | None:
    return Policy.read(policy, entity) if isinstance(policy, str) or hasattr(policy, "__fspath__") else policy


def loaded_before(batch: Batch, remembered: dict[str, str], ids: pa.Array, policy: Policy) -> matching.Known:
    """Rows that the store remembers loading, and the records they went into."""
    row, record = np.zeros(0, np.int32), np.zeros(0, np.int32)
    if remembered and len(ids):
        digests = pa.array(row_digests(batch, policy), pa.large_string())
        held = pc.index_in(digests, value_set=pa.array(list(remembered), pa.large_string()))
        at = pc.index_in(pa.array(list(remembered.values()), pa.large_string()).take(held), value_set=ids.cast(pa.large_string()))
        known = np.flatnonzero(pc.and_(pc.is_valid(held), pc.is_valid(at)).to_numpy(zero_copy_only=False))
        row, record = (
            (known + batch.n_existing).astype(np.int32),
            at.take(pa.array(known)).to_numpy(zero_copy_only=False).astype(np.int32),
        )
    return matching.Known(row, record)


def row_digests(batch: Batch, policy: Policy) -> list[str]:
    """What a store remembers a row by: all it says, and how the policy lets it change a record."""
    how = hashlib.sha256(json.dumps([policy.outcomes.mode, sorted(policy.update.items())]).encode()).digest()
    keys = candidates.content_keys(batch)[batch.n_existing :] ^ np.uint64(int.from_bytes(how[:8], "big"))
    return [f"{d:016x}" for d in keys.tolist()]


def combine(entity: str, old: shaping.Shaped, new: shaping.Shaped) -> Batch:
    """One table of both lists' fields: existing records first. The id is no field of comparison."""
    chosen = [f for f in ENTITIES[entity].fields if f != "id" and (f in old.values or f in new.values)]

    def column(field: str) -> Column:
        parts: list[pa.Array] = []
        for side in (old, new):
            parts += side.values[field].chunks if field in side.values else [pa.nulls(side.raw.table.num_rows, pa.large_string())]
        return Column.of(pa.chunked_array(parts, pa.large_string()))

    return Batch(entity, old.raw.table.num_rows, new.raw.table.num_rows, dict(zip(chosen, spread(column, chosen), strict=True)))
