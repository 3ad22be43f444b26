"""What the service keeps: records with versions, what became of those removed, and its answers to keyed requests; in one SQLite file."""

from __future__ import annotations

import json
import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from brujula.policy.entities import ENTITIES

KINDS = {"contacts": "contact", "accounts": "account"}
FIELDS = {kind: tuple(f for f in ENTITIES[entity].fields if f != "id") for kind, entity in KINDS.items()}
REQUIRED = {"contacts": ("family_name", "full_name"), "accounts": ("name",)}
"""Of which a record must have one."""
LISTED = {"active": ("yes", "no")}
LONGEST = 4_000
_TABLES = """
CREATE TABLE IF NOT EXISTS record (kind TEXT, number INTEGER, id TEXT, version INTEGER, content TEXT, gone INTEGER, same TEXT, PRIMARY KEY (kind, id));
CREATE UNIQUE INDEX IF NOT EXISTS record_number ON record (kind, number);
CREATE INDEX IF NOT EXISTS record_same ON record (kind, same) WHERE gone = 0;
CREATE TABLE IF NOT EXISTS answer (key TEXT PRIMARY KEY, asked TEXT, status INTEGER, body TEXT);
"""


class RefusalError(Exception):
    """A request the service does not carry out: status, title, detail, and more members of the problem."""

    def __init__(self, status: int, title: str, detail: str, **more: Any) -> None:
        super().__init__(detail)
        self.status, self.title, self.detail, self.more = status, title, detail, more


class Records:
    """All records of the service. Every method is one transaction."""

    def __init__(self, path: str) -> None:
        self._db = sqlite3.connect(path, check_same_thread=False, isolation_level=None)
        self._db.executescript("PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL;" + _TABLES)
        self._lock = threading.RLock()

    def close(self) -> None:
        """Leave the file; when what is at work is done."""
        with self._lock:
            self._db.close()

    @contextmanager
    def transaction(self) -> Iterator[None]:
        """All of it or nothing; one writer at a time; may be nested."""
        with self._lock:
            if self._db.in_transaction:
                yield
                return
            self._db.execute("BEGIN IMMEDIATE")
            try:
                yield
            except BaseException:
                self._db.execute("ROLLBACK")
                raise
            self._db.execute("COMMIT")

    def page(self, kind: str, after: int, limit: int) -> tuple[list[dict[str, Any]], int | None]:
        """Records behind a number, in order, and the number to go on from."""
        with self._lock:
            rows = self._db.execute(
                "SELECT number, id, version, content FROM record WHERE kind = ? AND gone = 0 AND number > ? ORDER BY number LIMIT ?", (kind, after, limit + 1)
            ).fetchall()  # fmt: skip
        more = rows[limit - 1][0] if len(rows) > limit else None
        return [_shown(i, version, content) for _, i, version, content in rows[:limit]], more

    def one(self, kind: str, record: str) -> dict[str, Any]:
        """A record. Raises RefusalError (404)."""
        with self._lock:
            row = self._row(kind, record)
        return _shown(record, row[0], row[1])

    def create(self, kind: str, values: dict[str, Any], allow_duplicates: bool) -> dict[str, Any]:
        """A new record with an id the service gives. Raises RefusalError for values it does not take, and for a likely duplicate."""
        values = _checked(kind, values, {})
        with self.transaction():
            same = _same(kind, values)
            if same and not allow_duplicates:
                there = [
                    r[0] for r in self._db.execute("SELECT id FROM record WHERE kind = ? AND same = ? AND gone = 0", (kind, same))
                ]
                if there:
                    raise RefusalError(
                        409, "likely duplicate", f"there already: {', '.join(sorted(there))}", candidates=sorted(there)
                    )
            number = (self._db.execute("SELECT max(number) FROM record WHERE kind = ?", (kind,)).fetchone()[0] or 0) + 1
            record = f"{kind[0].upper()}{number:06d}"
            self._db.execute(
                "INSERT INTO record VALUES (?, ?, ?, 1, ?, 0, ?)",
                (kind, number, record, json.dumps(values, ensure_ascii=False), same),
            )
        return _shown(record, 1, json.dumps(values, ensure_ascii=False))

    def change(self, kind: str, record: str, version: int, patch: dict[str, Any]) -> dict[str, Any]:
        """A record with a merge patch (RFC 7396) laid over it. Raises RefusalError: 404, 412 when it is at another version, 422."""
        with self.transaction():
            held, content = self._row(kind, record)
            _must_be(held, version)
            values = _checked(kind, patch, json.loads(content))
            text = json.dumps(values, ensure_ascii=False)
            self._db.execute(
                "UPDATE record SET version = ?, content = ?, same = ? WHERE kind = ? AND id = ?",
                (held + 1, text, _same(kind, values), kind, record),
            )
        return _shown(record, held + 1, text)

    def remove(self, kind: str, record: str, version: int) -> None:
        """Take a record out. Raises RefusalError: 404, 412."""
        with self.transaction():
            held, _ = self._row(kind, record)
            _must_be(held, version)
            self._db.execute("UPDATE record SET gone = 1, version = ? WHERE kind = ? AND id = ?", (held + 1, kind, record))

    def bring_back(self, kind: str, record: str, values: dict[str, Any]) -> dict[str, Any]:
        """A removed record again, with its id. Raises RefusalError: 404 for an id that never was, 412 where it is there."""
        values = _checked(kind, values, {})
        with self.transaction():
            row = self._db.execute("SELECT version, gone FROM record WHERE kind = ? AND id = ?", (kind, record)).fetchone()
            if row is None:
                raise RefusalError(404, "no such record", f"{record} never was; new records get their id from the service")
            if not row[1]:
                raise RefusalError(412, "it is there", f"{record} is there; If-None-Match: * asks for one that is not")
            text = json.dumps(values, ensure_ascii=False)
            self._db.execute(
                "UPDATE record SET gone = 0, version = ?, content = ?, same = ? WHERE kind = ? AND id = ?",
                (row[0] + 1, text, _same(kind, values), kind, record),
            )
        return _shown(record, row[0] + 1, text)

    def answered(self, key: str, asked: str) -> tuple[int, str] | None:
        """The answer given to a keyed request before. Raises RefusalError (409) when the key was used for another request."""
        row = self._db.execute("SELECT asked, status, body FROM answer WHERE key = ?", (key,)).fetchone()
        if row is None:
            return None
        if row[0] != asked:
            raise RefusalError(409, "key used before", "the Idempotency-Key was used for another request")
        return row[1], row[2]

    def answer(self, key: str, asked: str, status: int, body: str) -> None:
        """Remember the answer to a keyed request, in the transaction of what it did."""
        self._db.execute("INSERT INTO answer VALUES (?, ?, ?, ?)", (key, asked, status, body))

    def _row(self, kind: str, record: str) -> tuple[int, str]:
        row = self._db.execute(
            "SELECT version, content FROM record WHERE kind = ? AND id = ? AND gone = 0", (kind, record)
        ).fetchone()
        if row is None:
            raise RefusalError(404, "no such record", f"there is no {KINDS[kind]} {record}")
        return row[0], row[1]


def _shown(record: str, version: int, content: str) -> dict[str, Any]:
    return {"id": record, "version": version, **json.loads(content)}


def _must_be(held: int, version: int) -> None:
    if held != version:
        raise RefusalError(412, "changed since", f"the record is at version {held}, not {version}")


def _checked(kind: str, patch: dict[str, Any], held: dict[str, Any]) -> dict[str, Any]:
    """The values after a patch; null takes a field out. Raises RefusalError (422) naming every field that cannot be."""
    wrong = []
    for field, value in patch.items():
        if field not in FIELDS[kind]:
            wrong.append({"field": field, "detail": "no such field"})
        elif value is not None and not isinstance(value, str):
            wrong.append({"field": field, "detail": "must be a text or null"})
        elif value == "" and field in REQUIRED[kind]:
            wrong.append({"field": field, "detail": "must not be empty"})
        elif value is not None and len(value) > LONGEST:
            wrong.append({"field": field, "detail": f"longer than {LONGEST} characters"})
        elif value is not None and field in LISTED and value not in LISTED[field]:
            wrong.append({"field": field, "detail": f"must be one of {', '.join(LISTED[field])}"})
    values = {f: v for f, v in {**held, **patch}.items() if v is not None and v != ""}
    if not any(f in values for f in REQUIRED[kind]):
        wrong.append({"field": " or ".join(REQUIRED[kind]), "detail": "is required"})
    if wrong:
        raise RefusalError(422, "values not taken", "; ".join(f"{w['field']} {w['detail']}" for w in wrong), errors=wrong)
    return values


def _same(kind: str, values: dict[str, Any]) -> str | None:
    """What the service goes by to call a new record a likely duplicate: a contact's mail address, an account's name and city."""
    if kind == "contacts":
        return values["email"].strip().lower() if values.get("email") else None
    return f"{values.get('name', '')}|{values.get('city', '')}".strip().lower()
