"""The steps in the order of the work: read, map, clean, match, decide, survive. No step calls the next."""

from __future__ import annotations

import time
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa
from numpy.typing import NDArray

from brujula import besides, claiming, matching
from brujula.core import decide as deciding, standardise, survive as survivorship
from brujula.core.actions import FieldChanges, also_update, make_actions
from brujula.core.arrays import LOADED, Claims
from brujula.core.batch import Batch
from brujula.core.kind import Standards
from brujula.core.steps.parallel import one_thread
from brujula.fields import kinds
from brujula.fitting import OnStep, quiet
from brujula.intake import astray, known_as, numbers, problems as finding, shape as shaping, sources, turned
from brujula.intake.entity import entity_of
from brujula.intake.labels import NO_LABELS, read_labels
from brujula.intake.unfielded import unfielded
from brujula.loading.matched import kept_matching
from brujula.others import mailboxes_of_others
from brujula.planning import Plan
from brujula.policy.entities import kind_of
from brujula.policy.model import Policy
from brujula.problems import Problem
from brujula.review.holding import applied
from brujula.surviving import changed_at, staying, survivorship_of, with_names_apart


def plan(
    incoming: Any,
    against: Any,
    policy: Policy | str | None = None,
    entity: str | None = None,
    on_step: OnStep = quiet,
    kept_in: Path | None = None,
) -> Plan:
    """Decide what becomes of every row of a list; nothing is written anywhere.

    incoming : path of a list, or a pandas frame
    against  : existing records: a path, a store's URL, or a frame
    policy   : a Policy, the path of one, or None for the default one
    entity   : "contact" or "account"; None: the policy's, or found from the columns
    kept_in  : the file of a plan folder that keeps what matching found, to be used again where nothing has changed

    Raises InputError for lists that cannot be read, PolicyError for policies that cannot be used, StoreError for stores that fail.
    """
    start = time.perf_counter()
    chosen = _policy(policy, entity)
    on_step("reading")
    new = sources.read_source(incoming, chosen.list if chosen else None, entity)
    entity = entity or (chosen.entity if chosen else None)
    own = chosen.store if chosen else None
    if entity is None and sources.is_url(against):
        entity = entity_of(new.table, otherwise="") or None
    if entity is None and sources.is_url(against):
        entity, old = sources.of_whom(against, new.table, own)
    else:
        old = sources.read_source(against, None, entity, own)
    entity = entity or entity_of(new.table, old.table)
    chosen = chosen or Policy.default(entity)
    with one_thread(new.table.num_rows + old.table.num_rows):
        held = shaping.as_it_is(old, entity, not sources.is_url(against))
        listed = turned.in_place(shaping.shape(new, chosen, entity, held), held, chosen.columns.values())
        listed, held = numbers.agreed(astray.not_used(listed, held), held)
        if "account_id" not in chosen.columns.values():
            listed = numbers.without_foreign_accounts(listed, held)
        return decide_on(listed, held, chosen, sources.memory(against, entity, own), on_step, start, kept_in=kept_in)


def sweep(
    existing: Any,
    policy: Policy | str | None = None,
    entity: str | None = None,
    on_step: OnStep = quiet,
    kept_in: Path | None = None,
    since: Path | None = None,
) -> Plan:
    """Find duplicates among existing records, as a plan of merges; nothing is written anywhere.

    since : the folder of an earlier sweep: only records that are new or changed since then are looked at, against all of them

    Raises as `plan` does.
    """
    start = time.perf_counter()
    chosen = _policy(policy, entity)
    on_step("reading")
    own = chosen.store if chosen else None
    old = sources.read_source(existing, None, entity or (chosen.entity if chosen else None), own)
    entity = entity or (chosen.entity if chosen else entity_of(old.table))
    nothing = shaping.no_list()
    with one_thread(old.table.num_rows):
        held = shaping.as_it_is(old, entity, not sources.is_url(existing))
        memory = sources.memory(existing, entity, own)
        return decide_on(nothing, held, chosen or Policy.default(entity), memory, on_step, start, None, kept_in, since)


def decide_on(
    new: shaping.Shaped,
    old: shaping.Shaped,
    policy: Policy,
    memory: sources.Memory | None = None,
    on_step: OnStep = quiet,
    start: float | None = None,
    accounts: pa.Array | None = None,
    kept_in: Path | None = None,
    since: Path | None = None,
) -> Plan:
    """The steps from two lists that are read to the plan.

    memory   : what is remembered beside the existing records
    accounts : per row the id of the account it is tied to; contacts tied to one account count as of one firm
    kept_in  : a file of what matching found of these records before, to be used again
    since    : the folder of an earlier sweep, to look only at records that are new or changed since
    """
    start = time.perf_counter() if start is None else start
    read_at = time.perf_counter()
    memory = memory or sources.Memory({}, {}, [], {})
    taking = claiming.who_takes_part(new, old, policy, memory.aliases)
    ids = sources.record_ids(taking.existing)
    batch = sources.combine(policy.entity, taking.existing, new)
    told, held, new = unfielded(policy.entity, taking.existing, new)
    batch = replace(batch, known_as=told.names.firms, lines=told.lines, ages=told.ages)
    batch = replace(batch, left_out=besides.columns(held, new))
    cleaned = standardise.clean(batch, kinds(), kind_of(policy.entity))
    held = replace(held, raw=replace(held.raw, notes=(*held.raw.notes, *finding.of_no_names(cleaned))))
    taking = replace(taking, existing=held)
    loaded = claiming.loaded_before(batch, memory.rows, ids, policy, accounts is not None)
    claims, wrong, returned, note = claiming.claims(new, batch, cleaned, ids, policy, loaded, memory.aliases)
    found = [*finding.find(cleaned, batch, new, policy), *wrong]
    if note:
        new = replace(new, raw=replace(new.raw, notes=(*new.raw.notes, note)))
    labels = read_labels(policy.match.labels, ids, batch.n_incoming) if policy.match.labels else NO_LABELS
    answered = applied(memory.decisions, batch, ids)
    taking = replace(taking, decisions_used=len(answered.left), decisions_stale=answered.stale, pointing=memory.pointing)
    tied = np.full(len(batch), -1, np.int64) if accounts is None else claiming.tied(batch)
    compared = known_as.spoken(cleaned if accounts is None else claiming.of_one_firm(cleaned, tied), told.names)
    kept = kept_matching(kept_in, compared, policy) if kept_in else None
    fresh = claiming.changed_since(since, batch, ids) if since else None
    matched = matching.match(compared, policy, on_step, claims, labels, answered, kept, fresh)
    new, taking = besides.counting(new, matched.besides), replace(taking, existing=besides.counting(held, matched.besides))
    made = decided(new, taking, policy, ids, batch, cleaned, matched, found, claims, returned, tied, on_step)
    seconds = {"read": round(read_at - start, 3), **made.seconds, "all": round(time.perf_counter() - start, 3)}
    return replace(made, seconds=seconds)


def decided(
    new: shaping.Shaped,
    taking: claiming.Taking,
    policy: Policy,
    ids: pa.Array,
    batch: Batch,
    cleaned: Batch,
    matched: matching.Matched,
    found: list[Problem],
    claims: Claims,
    returned: NDArray[np.bool_],
    tied: NDArray[np.int64],
    on_step: OnStep = quiet,
    only_find: bool = False,
) -> Plan:
    """The steps from what matching found out to the plan. only_find : what would change is not worked out."""
    on_step("deciding")
    deciding_at = time.perf_counter()
    n, name = batch.n_existing, Path(new.raw.name).stem
    rejected = np.zeros(batch.n_incoming, bool)
    rejected[[p.row - 1 for p in found if p.fatal]] = True
    couple = np.zeros(batch.n_incoming, bool)
    couple[[p.row - 1 for p in found if p.code == "two-people"]] = True
    filled = np.sum([c.filled for c in cleaned.columns.values()] or [np.zeros(len(batch), bool)], axis=0).astype(np.int32)
    rank = staying(cleaned, policy, filled, matched.order, name, ids, taking.pointing)
    idle_records = claiming.inactive(taking.existing.values, n)
    suppressed = np.array([bool(w) for w in taking.suppressed] or np.zeros(batch.n_incoming), bool)
    nameless = finding.nameless(cleaned)[n:]
    before = np.full(batch.n_incoming, -1, np.int32)
    before[claims.row[claims.how == LOADED] - n] = claims.record[claims.how == LOADED]
    facts = deciding.Facts(
        rejected,
        suppressed,
        nameless,
        couple,
        idle_records,
        ids,
        rank[:n],
        changed_at(cleaned, policy)[:n],
        filled[n:],
        tied,
        before,
    )
    how = policy.outcomes
    choices = deciding.Choices(how.mode, how.unsure, how.several, how.duplicates, how.twice, how.inactive, how.moved)
    settled = deciding.decide(matched.judged, matched.groups, n, batch.n_incoming, facts, choices)
    nobody = finding.of_nobody(batch.entity, np.flatnonzero(nameless & ~rejected & (settled.outcome == deciding.REJECT)))
    anothers = (
        [] if only_find else [p for p in _of_others(new, batch, matched.standards, settled, ids) if not returned[p.row - 1]]
    )
    found = sorted([*found, *nobody, *anothers], key=finding.in_order)
    actions, action_of_row = make_actions(settled.outcome, settled.group, n, rank, before >= 0)
    actions = also_update(actions, settled.group, settled.also_row, settled.also_record, n)
    changes: list[FieldChanges] = []
    if not only_find:
        rules = survivorship_of(cleaned, matched.standards, policy, name, returned)
        changes = survivorship.survive(actions, cleaned.columns, n, rules)
        changes = with_names_apart(actions, changes, cleaned)
        wrong = np.array([n + p.row - 1 for p in anothers], np.int32)
        changes = [c.take(_written(c, actions.base, n, wrong)) if c.field == "email" else c for c in changes]
        if how.moved == "update" and (tied >= 0).any():
            changes = survivorship.move(actions, changes, tied, cleaned.columns, n)
        if policy.owner:
            owners = claiming.owner_rules(new, policy)
            changes = survivorship.give_out(actions, changes, "owner", [r.to for r in policy.owner], owners, n)
        if how.inactive == "revive":
            changes = survivorship.revive(actions, changes, np.append(idle_records, np.zeros(batch.n_incoming, bool)), n)
    seconds = {**matched.seconds, "decide": round(time.perf_counter() - deciding_at, 3)}
    return Plan(
        policy, new, taking, ids, batch, cleaned, matched, settled, actions, action_of_row, changes, tuple(found), seconds
    )


def _of_others(
    new: shaping.Shaped, batch: Batch, standards: Standards, settled: deciding.Decided, ids: pa.Array
) -> list[Problem]:
    """Mailboxes of other records in rows that are decided."""
    if batch.entity != "contact" or "email" not in new.columns:
        return []
    found = mailboxes_of_others(batch, standards, settled.group, ids, new.columns["email"])
    done = np.isin(settled.outcome, (deciding.CREATE, deciding.UPDATE, deciding.MERGE, deciding.UNCHANGED))
    return [p for p in found if done[p.row - 1]]


def _written(change: FieldChanges, base: NDArray[np.int32], n_existing: int, wrong: NDArray[np.int32]) -> NDArray[np.int64]:
    """The entries that stay: of a mailbox that is another record's none goes into a record that is there."""
    return np.flatnonzero(~(np.isin(change.source, wrong) & (base[change.action] < n_existing)))


def _policy(policy: Policy | str | None, entity: str | None) -> Policy | None:
    return Policy.read(policy, entity) if isinstance(policy, str) or hasattr(policy, "__fspath__") else policy
