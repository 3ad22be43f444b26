"""Carrying a plan out on a service: request by request, each in the journal before it is sent, so that a load cut off anywhere can be finished.

Every request carries a key of its own, kept in the journal: sent twice, it is done once.
"""

from __future__ import annotations

import hashlib
import json
import uuid
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import sqlalchemy as sa
from sqlalchemy.engine import Connection

from brujula.errors import PlanError, StoreError, UsageError
from brujula.loading.apply import (
    Clock,
    OnStep,
    backup,
    change_line,
    load_line,
    move_line,
    next_number,
    quiet,
    refuse_twice,
    with_account,
)
from brujula.loading.children import attach, detach, follow
from brujula.loading.journal import Load, load_of
from brujula.loading.naming import MERGED, MERGED_LEFT
from brujula.loading.results import write_results
from brujula.loading.steps import Step, Work, remembered, stop_if_changed, trouble
from brujula.loading.undo import check_unchanged, still_there, untouched
from brujula.stores.http import BATCH, PATHS, HttpStore
from brujula.stores.sql import CHANGES, LOADS, MOVES, OPERATIONS, ROWS
from brujula.stores.target import insert_many

_Asked = tuple[str, str, int, Mapping[str, Any]]
LOADING, UNDOING = "loading", "undoing"
_DONE, _FAILED, _PLANNED = "done", "failed", "planned"
_INSIST, _ANEW = "create anyway", "-anew"


@dataclass(frozen=True)
class Operation:
    """One request: create, change, remove or bring-back a record. action : what it is part of; before : the record as it stood."""

    seq: int
    action: str
    kind: str
    do: str
    record_id: str
    version: int
    key: str
    values: Mapping[str, str | None]
    before: Mapping[str, Any] | None = None
    state: str = _PLANNED
    answer: str = ""

    def line(self, load: int) -> dict[str, Any]:
        """Its line in the journal."""
        told = {**self.__dict__, "load": load, "values": json.dumps(self.values, ensure_ascii=False)}
        return told | {"before": json.dumps(self.before, ensure_ascii=False) if self.before else None}

    def request(self) -> dict[str, Any]:
        """What is sent."""
        do = {"do": "create", "duplicates": "allow"} if self.do == _INSIST else {"do": self.do}
        return {**do, "id": self.record_id, "version": self.version, "key": self.key, "values": self.values}


def load_into_service(work: Work, into: str, clock: Clock, roll_back: bool = False, on_step: OnStep = quiet) -> Load:
    """Carry a plan out on a service, or finish a load of it that was cut off; `roll_back` takes such a one back instead.

    Raises PlanError for a plan that was loaded already, UsageError when there is nothing to roll back, StoreError when the service fails.
    """
    with HttpStore(into) as service, service.alone():
        if roll_back:
            return _rolled_back(service, work, clock)
        with service.reading() as connection:
            refuse_twice(connection, work)
        new: dict[str, str] = {}
        if work.accounts and work.accounts.steps:
            first, new = _carried_out(service, work.accounts, {}, clock, on_step)
            write_results(work.accounts.path, first, work.accounts.actions, new)
        found, records = _carried_out(service, work, new, clock, on_step)
    write_results(work.path, found, work.actions, records)
    return found


def _carried_out(
    service: HttpStore, work: Work, new: Mapping[str, str], clock: Clock, on_step: OnStep
) -> tuple[Load, dict[str, str]]:
    """The load, begun or finished, and the record of every action that was carried out."""
    with service.reading() as connection:
        known = (
            connection.execute(sa.select(LOADS).where(LOADS.c.digest == work.digest, LOADS.c.state.in_((LOADING, "loaded"))))
            .mappings()
            .first()
        )
    if known and known["state"] == "loaded":
        return load_of(known), _records_of(service, known["number"])
    number = known["number"] if known else _begun(service, work, new, clock)
    _send(service, number, on_step)
    return _finished(service, work, number, clock)


def _begun(service: HttpStore, work: Work, new: Mapping[str, str], clock: Clock) -> int:
    """Check the plan against the service as it is, keep what is to be touched, write every request into the journal. Returns the load's number."""
    stored = service.fetch(work.entity, work.touched)
    backup(work.path, (json.dumps(r, ensure_ascii=False) for r in stored.values()))
    held = [(s.label, why) for s in work.steps if s.kind != "create" and (why := trouble(stored, s))]
    stopped = {label for label, _ in held}
    stop_if_changed(work, held, service.shown)
    pointing = _pointing(service, work) if work.entity == "account" else {}
    with service.reading() as connection:
        number = next_number(connection)
    mark = uuid.uuid4().hex  # of this load and no other, wherever its journal is
    out: list[Operation] = []
    for step in work.steps:
        if step.label not in stopped:
            for kind, do, record, values, before in _requests(step, work, new, stored, pointing):
                version = before["version"] if before else 0
                out.append(Operation(len(out), step.label, kind, do, record, version, f"{mark}-{len(out)}", values, before))
    with service.writing() as connection:
        connection.execute(LOADS.insert(), load_line(work, number, clock().isoformat(timespec="seconds"), (), 0, 0, LOADING))
        insert_many(connection, OPERATIONS, [o.line(number) for o in out])
        failed = [
            Operation(len(out) + i, label, PATHS[work.entity], "held", "", 0, "", {}, None, _FAILED, why)
            for i, (label, why) in enumerate(held)
        ]
        insert_many(connection, OPERATIONS, [o.line(number) for o in failed])
    return number


def _requests(
    step: Step,
    work: Work,
    new: Mapping[str, str],
    stored: Mapping[str, dict[str, Any]],
    pointing: Mapping[str, list[tuple[str, str, dict[str, Any]]]],
) -> Iterator[tuple[str, str, str, dict[str, str | None], dict[str, Any] | None]]:
    """What one action asks of the service, in order: kind, what to do, record, values, the record as it stood."""
    kind, insist = PATHS[work.entity], work.insists
    values: dict[str, str | None] = {c["field"]: with_account(c, new)["after"] or None for c in step.changes}
    if step.kind == "create":
        yield kind, _INSIST if insist else "create", "", values, None
        return
    if values:
        yield kind, "change", step.record, values, stored[step.record]
    for gone in step.losers:
        for their_kind, field, record in pointing.get(gone, ()):
            if record["id"] == step.record and their_kind == kind:
                continue  # what belonged to its own double is not made to belong to itself
            yield their_kind, "change", record["id"], {field: step.record}, record
        if work.leaves:
            yield kind, "change", gone, {"active": "no"}, stored[gone]
        else:
            yield kind, "remove", gone, {}, stored[gone]


def _pointing(service: HttpStore, work: Work) -> dict[str, list[tuple[str, str, dict[str, Any]]]]:
    """What points at accounts that are merged away."""
    gone = {i for s in work.steps for i in s.losers}
    out: dict[str, list[tuple[str, str, dict[str, Any]]]] = {}
    for entity, field in (("contact", "account_id"), ("account", "parent_id")) if gone else ():
        for record in service.records(entity):
            if record.get(field) in gone and record["id"] not in gone:
                out.setdefault(record[field], []).append((PATHS[entity], field, record))
    return out


def _send(service: HttpStore, number: int, on_step: OnStep = quiet) -> None:
    """Send what is planned and not done yet, in order, and write down what came of each."""
    with service.reading() as connection:
        waiting = _operations(connection, number, (_PLANNED,))
    at = 0
    while at < len(waiting):
        on_step(f"{at:,} of {len(waiting):,} requests answered")
        some = [o for o in waiting[at : at + BATCH] if o.kind == waiting[at].kind]
        run = next((i for i, o in enumerate(waiting[at : at + BATCH]) if o.kind != waiting[at].kind), len(some))
        # What an action removes waits until all it changes before is done: a batch ends ahead of a removal.
        run = next((i for i in range(1, run) if waiting[at + i].do == "remove"), run)
        some = waiting[at : at + run]
        stopped = _failed_actions(service, number) if some[0].do == "remove" else set()
        going = [o for o in some if o.action not in stopped]
        results = (
            dict(zip([o.seq for o in going], service.batch(going[0].kind, [o.request() for o in going]), strict=True))
            if going
            else {}
        )
        outcome = []
        for o in some:
            state, record, answer = _outcome(service, o, results.get(o.seq))
            outcome.append({"b_seq": o.seq, "b_state": state, "b_record": record, "b_answer": answer})
        with service.writing() as connection:
            here = (OPERATIONS.c.load == number) & (OPERATIONS.c.seq == sa.bindparam("b_seq"))
            set_to: dict[str, Any] = {
                "state": sa.bindparam("b_state"),
                "record_id": sa.bindparam("b_record"),
                "answer": sa.bindparam("b_answer"),
            }
            connection.execute(OPERATIONS.update().where(here).values(set_to), outcome)
        at += run


def _failed_actions(service: HttpStore, number: int) -> set[str]:
    with service.reading() as connection:
        return {o.action for o in _operations(connection, number, (_FAILED,))}


def _outcome(service: HttpStore, o: Operation, result: Mapping[str, Any] | None) -> tuple[str, str, str]:
    """State of an operation after its answer, its record, and the service's words where it refused."""
    if result is None:
        return _FAILED, o.record_id, "not tried, for what goes before it failed"
    status = result["status"]
    if status < 300:
        return _DONE, result.get("record", {}).get("id", o.record_id), ""
    if status == 404 and o.do == "remove":
        return _DONE, o.record_id, ""
    problem = result.get("problem", {})
    words = f"{problem.get('title', status)}: {problem.get('detail', '')}"
    if status == 412 and o.do == "change":
        now = service.fetch(_entity_of(o.kind), [o.record_id]).get(o.record_id)
        if now and all((now.get(f) or "") == (v or "") for f, v in o.values.items()):
            return _DONE, o.record_id, ""
        if now and not o.key.endswith(_ANEW) and all(now.get(f) == (o.before or {}).get(f) for f in o.values):
            # Something else of it was changed, perhaps by this load: what is to be written still stands as it was seen.
            anew = replace(o, version=now["version"], key=o.key + _ANEW)
            return _outcome(service, anew, service.batch(o.kind, [anew.request()])[0])
    return _FAILED, o.record_id, words


def _finished(service: HttpStore, work: Work, number: int, clock: Clock) -> tuple[Load, dict[str, str]]:
    """Write down what the load did, as loads into databases do."""
    with service.writing() as connection:
        done, failed = (_operations(connection, number, (s,)) for s in (_DONE, _FAILED))
        why: dict[str, str] = {}
        for o in failed:
            why.setdefault(o.action, o.answer)
        moves: list[dict[str, Any]] = []
        log: list[dict[str, Any]] = []
        record_of: dict[str, str] = {}
        steps = {s.label: s for s in work.steps}
        for o in done:
            step = steps[o.action]
            record_of.setdefault(o.action, step.record or o.record_id)
            if o.do in ("create", _INSIST):
                moves.append(move_line(number, o.record_id, o.action, "created"))
            elif o.do == "remove":
                moves.append(
                    move_line(number, o.record_id, o.action, MERGED, step.record, json.dumps(o.before, ensure_ascii=False))
                )
            elif o.kind == PATHS[work.entity] and o.record_id in step.losers:
                moves.append(move_line(number, o.record_id, o.action, MERGED_LEFT, step.record))
                change = {"field": "active", "after": "no", "from": f"record {step.record}", "why": "it was merged into it"}
                log.append(change_line(number, len(log), o.action, o.record_id, change, (o.before or {}).get("active")))
                continue
            elif o.record_id != step.record or o.kind != PATHS[work.entity]:
                (field, after), before = next(iter(o.values.items())), o.before or {}
                told = json.dumps(
                    {"kind": o.kind, "id": o.record_id, "field": field, "before": before.get(field), "after": after}
                )
                moves.append(move_line(number, f"{_entity_of(o.kind)} {o.record_id}", "", "pointed elsewhere", str(after), told))
                continue
            if o.do != "remove":
                for change in ({**c, "after": o.values.get(c["field"]) or ""} for c in step.changes):
                    log.append(
                        change_line(number, len(log), o.action, o.record_id, change, (o.before or {}).get(change["field"]))
                    )
        going = [s for s in work.steps if s.label in record_of and s.label not in why]
        into = {m["record_id"]: m["survivor"] for m in moves if m["what"] in (MERGED, MERGED_LEFT)}
        moves += follow(connection, number, work.entity, into)
        insert_many(connection, CHANGES, log)
        insert_many(connection, MOVES, moves)
        attach(connection, number, work.entity, work.path, work.children, record_of)
        insert_many(connection, ROWS, remembered(work, number, record_of, set(why)))
        line = load_line(work, number, clock().isoformat(timespec="seconds"), going, len(log), len(why))
        connection.execute(
            LOADS.update().where(LOADS.c.number == number).values({k: v for k, v in line.items() if k != "number"})
        )
    return replace(load_of(line), reasons=tuple(why.items())), {s.label: record_of[s.label] for s in going}


def _records_of(service: HttpStore, number: int) -> dict[str, str]:
    """Action to record of a load that is done."""
    with service.reading() as connection:
        return {o.action: o.record_id for o in _operations(connection, number, (_DONE,)) if o.do != "remove"}


def _operations(connection: Connection, number: int, states: tuple[str, ...]) -> list[Operation]:
    asked = sa.select(OPERATIONS).where(OPERATIONS.c.load == number, OPERATIONS.c.state.in_(states)).order_by(OPERATIONS.c.seq)
    return [
        Operation(**{k: v for k, v in o.items() if k not in ("load", "values", "before")}, values=json.loads(o["values"]), before=json.loads(o["before"]) if o["before"] else None)
        for o in connection.execute(asked).mappings()
    ]  # fmt: skip


def _entity_of(kind: str) -> str:
    return next(e for e, path in PATHS.items() if path == kind)


def _rolled_back(service: HttpStore, work: Work, clock: Clock) -> Load:
    """Take a load of the plan that was cut off back. Raises UsageError when there is none."""
    digests = [w.digest for w in (work, work.accounts) if w]
    with service.reading() as connection:
        halves = (
            connection.execute(
                sa.select(LOADS).where(LOADS.c.digest.in_(digests), LOADS.c.state == LOADING).order_by(LOADS.c.number.desc())
            )
            .mappings()
            .all()
        )
    if not halves:
        raise UsageError(f"{service.shown}: no load of {work.path} was cut off; there is nothing to roll back")
    found = None
    for half in halves:
        # What was sent last may be done without our knowing: it is sent again first, so that it is known.
        own = work if half["digest"] == work.digest else work.accounts
        assert own is not None
        _settle(service, half["number"])
        _finished(service, own, half["number"], clock)
        found = undo_in_service(half["number"], service.url, clock, service=service)
    assert found is not None
    if work.accounts:
        # Accounts that were made for contacts that are not there now go with them.
        whole = sa.select(LOADS.c.number).where(LOADS.c.digest == work.accounts.digest, LOADS.c.state == "loaded")
        with service.reading() as connection:
            number = connection.execute(whole).scalar()
        if number:
            undo_in_service(number, service.url, clock, service=service)
    return found


def _settle(service: HttpStore, number: int) -> None:
    """Learn what became of the requests under way when a load was cut off; what was never sent is left out."""
    with service.reading() as connection:
        waiting = _operations(connection, number, (_PLANNED,))
    # One batch was under way at most. Its keys tell the service which of it is done; the rest of it is done now, to be undone with it.
    last = waiting[:BATCH]
    rest = [o.seq for o in waiting[BATCH:]]
    with service.writing() as connection:
        for start in range(0, len(rest), 500):
            connection.execute(
                OPERATIONS.delete().where(OPERATIONS.c.load == number, OPERATIONS.c.seq.in_(rest[start : start + 500]))
            )
    if last:
        _send(service, number)


def undo_in_service(
    number: int, into: str, clock: Clock, keep_newer: bool = False, override: bool = False, service: HttpStore | None = None
) -> Load:
    """Take a load back from a service, request by request; one that was cut off is finished by running it again.

    Raises as `loading.undo.undo` does.
    """
    if service is None:
        with HttpStore(into) as opened, opened.alone():
            return undo_in_service(number, into, clock, keep_newer, override, opened)
    with service.reading() as connection:
        line = connection.execute(sa.select(LOADS).where(LOADS.c.number == number)).mappings().first()
        moves = connection.execute(sa.select(MOVES).where(MOVES.c.load == number)).mappings().all()
        changes = connection.execute(sa.select(CHANGES).where(CHANGES.c.load == number).order_by(CHANGES.c.seq)).mappings().all()
        later = (
            connection.execute(sa.select(LOADS.c.number).where(LOADS.c.number > number, LOADS.c.state == "loaded"))
            .scalars()
            .all()
        )
    if line is None:
        raise UsageError(f"{service.shown}: no load L{number}; `brujula history {service.shown}` lists them")
    if line["state"] == LOADING:
        raise PlanError(
            f"{service.shown}: L{number} was cut off; load its plan again to finish it, or with --roll-back to take it back"
        )
    if line["state"] == "undone":
        raise UsageError(f"{service.shown}: L{number} was undone already, at {line['undone_at']}")
    entity = line["entity"]
    created = {m["record_id"] for m in moves if m["what"] == "created"}
    gone = [m for m in moves if m["what"] == MERGED]
    touched = sorted({c["record_id"] for c in changes} | created | {m["record_id"] for m in gone})
    stored = service.fetch(entity, touched)
    plain = {i: {k: v for k, v in r.items() if k != "version"} for i, r in stored.items()}
    again = line["state"] == UNDOING
    if override and not again:
        kept, moves, created = still_there(plain, changes, moves, created)
        changes, gone = kept, [m for m in moves if m["what"] == MERGED]
    elif keep_newer or again:
        kept, moves, created = untouched(plain, changes, moves, created)
        changes = [*kept]
        gone = [m for m in moves if m["what"] == MERGED]
    else:
        check_unchanged(plain, service.shown, f"L{number}", later, changes, moves, created)
    with service.writing() as connection:
        connection.execute(LOADS.update().where(LOADS.c.number == number).values(state=UNDOING))
    former: dict[str, dict[str, str | None]] = {}
    for change in reversed(changes):
        if change["record_id"] not in created:
            former.setdefault(change["record_id"], {})[change["field"]] = change["before"]
    mark = _mark_of(service, number)
    asked = [("bring-back", m["record_id"], 0, _as_sent(json.loads(m["content"]))) for m in gone]
    asked += [("change", record, stored[record]["version"], values) for record, values in former.items()]
    _take_back(service, mark, PATHS[entity], asked)
    for kind, some in _pointed_back(service, moves).items():
        _take_back(service, mark, kind, some)
    _take_back(service, mark, PATHS[entity], [("remove", r, stored[r]["version"], {}) for r in sorted(created & set(stored))])
    at = clock().isoformat(timespec="seconds")
    with service.writing() as connection:
        detach(connection, moves)
        connection.execute(ROWS.delete().where(ROWS.c.load == number))
        connection.execute(LOADS.update().where(LOADS.c.number == number).values(state="undone", undone_at=at))
    return load_of({**line, "state": "undone", "undone_at": at})


def _pointed_back(service: HttpStore, moves: Iterable[Any]) -> dict[str, list[_Asked]]:
    """By kind, requests that point what was pointed elsewhere back; one tied to a third record since is left there."""
    told = [json.loads(m["content"]) for m in moves if m["what"] == "pointed elsewhere"]
    out: dict[str, list[_Asked]] = {}
    for kind in {t["kind"] for t in told}:
        mine = [t for t in told if t["kind"] == kind]
        now = service.fetch(_entity_of(kind), [t["id"] for t in mine])
        here = [t for t in mine if t["id"] in now and now[t["id"]].get(t["field"]) == t["after"]]
        out[kind] = [("change", t["id"], now[t["id"]]["version"], {t["field"]: t["before"]}) for t in here]
    return out


def _take_back(service: HttpStore, mark: str, kind: str, asked: Sequence[_Asked]) -> None:
    """Requests of an undo; each keyed by what it does, so that sent twice it is done once. Raises StoreError where the service refuses one."""
    requests = [{"do": do, "id": record, "version": version, "values": values} for do, record, version, values in asked]
    keyed = [
        r | {"key": f"undo-{mark}-{hashlib.sha256(json.dumps([kind, r], sort_keys=True).encode()).hexdigest()[:32]}"}
        for r in requests
    ]
    for start in range(0, len(keyed), BATCH):
        some = keyed[start : start + BATCH]
        for request, result in zip(some, service.batch(kind, some), strict=True):
            gone_already = result["status"] == 404 and request["do"] == "remove"
            if result["status"] >= 300 and not gone_already:
                problem = result.get("problem", {})
                raise StoreError(
                    f"{service.shown}: {request['id']}: {problem.get('title')}: {problem.get('detail')}; run the undo again to finish it"
                )


def _mark_of(service: HttpStore, number: int) -> str:
    """What the keys of a load begin with."""
    with service.reading() as connection:
        key = connection.execute(sa.select(OPERATIONS.c.key).where(OPERATIONS.c.load == number, OPERATIONS.c.key != "")).scalar()
    return str(key or number).partition("-")[0]


def _as_sent(record: Mapping[str, Any]) -> dict[str, Any]:
    """A record's values without what the service gives it."""
    return {k: v for k, v in record.items() if k not in ("id", "version")}
