"""Where the records of an entity live in a database: in a table of ours, or in one the user has, whose types and other columns are kept."""

from __future__ import annotations

import base64
import json
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time
from decimal import Decimal
from functools import cached_property
from operator import itemgetter
from typing import Any

import pyarrow as pa
import sqlalchemy as sa
from sqlalchemy.engine import Connection

from brujula.errors import StoreError, instead
from brujula.policy.entities import ENTITIES
from brujula.policy.model import StorePolicy

_IN = 500  # ids in one question
_BATCH = 5_000
_YES, _NO = ("yes", "true", "1", "y", "t"), ("no", "false", "0", "n", "f")


@dataclass(frozen=True)
class Target:
    """A table of records. Values go in and come out as text; the columns keep their types.

    id      : the column that holds the records' ids;  columns : field to column, without the id
    stamp   : the column that says when a record was last changed, to be set by a load; None = none
    """

    entity: str
    table: sa.Table
    id: sa.Column[Any]
    columns: Mapping[str, sa.Column[Any]]
    stamp: sa.Column[Any] | None = None

    @cached_property
    def all_text(self) -> bool:
        """Whether every column is plain text, as ours are: nothing has to be cast."""
        return all(isinstance(c.type, sa.Text) for c in (self.id, *self.columns.values()))

    @property
    def gives_ids(self) -> bool:
        """Whether the database names new records itself."""
        return self.id.server_default is not None or self.id.identity is not None or _python_type(self.id) is int

    def read(self, connection: Connection) -> pa.Table:
        """All records as text columns, by id."""
        rows = connection.execute(sa.select(self.id, *self.columns.values()).order_by(self.id)).fetchall()
        names = ["id", *self.columns]
        cells: Sequence[Sequence[Any]] = list(zip(*rows, strict=True)) if rows else [()] * len(names)
        plain = [_python_type(c) is str for c in (self.id, *self.columns.values())]
        made = {
            name: pa.array(["" if v is None else v if as_is else as_text(v) for v in values], pa.large_string())
            for name, values, as_is in zip(names, cells, plain, strict=True)
        }
        return pa.table(made)

    def fetch(self, connection: Connection, ids: Sequence[str]) -> dict[str, dict[str, str | None]]:
        """Records by id, as text by field."""
        asked = sa.select(self.id, *self.columns.values())
        names = ["id", *self.columns]
        found = (dict(zip(names, map(as_text, row), strict=True)) for row in self._of(connection, asked, ids))
        return {str(record["id"]): record for record in found}

    def whole(self, connection: Connection, ids: Sequence[str]) -> dict[str, str]:
        """Records by id with every column of the table, as JSON: what `restore` brings back."""
        found = {}
        for row in self._of(connection, sa.select(self.table), ids):
            told = dict(row._mapping)
            found[str(as_text(told[self.id.name]))] = json.dumps(told, ensure_ascii=False, default=_as_json)
        return found

    def insert(self, connection: Connection, records: Sequence[Mapping[str, str]]) -> list[str]:
        """New records, as text by field with the id they are to have; where the database gives ids, those it gave come back."""
        made, names = [], ["id", *self.columns]
        by_columns: dict[tuple[str, ...], list[dict[str, Any]]] = defaultdict(list)
        for record in records:
            if self.all_text:
                line: dict[str, Any] = {**dict.fromkeys(names), **record}
            else:
                line = {self.columns[f].name: self.cast(f, v) for f, v in record.items() if f != "id"}
            if self.gives_ids:
                line |= {self.stamp.name: self._now()} if self.stamp is not None else {}
                made.append(str(connection.execute(self.table.insert().values(line).returning(self.id)).scalar_one()))
                continue
            line[self.id.name] = typed(self.id, record["id"])
            made.append(str(record["id"]))
            by_columns[tuple(line)].append(line)
        for lines in by_columns.values():
            insert_many(connection, self.table, lines)
        return made

    def update(self, connection: Connection, changes: Mapping[str, Mapping[str, str | None]]) -> None:
        """Set fields of records: id to field to text."""
        by_fields: dict[tuple[str, ...], list[dict[str, Any]]] = defaultdict(list)
        for record, values in changes.items():
            if values:
                by_fields[tuple(sorted(values))].append(
                    {f"b_{f}": self.cast(f, v) for f, v in values.items()} | {"b_id": typed(self.id, record)}
                )
        for fields, lines in by_fields.items():
            set_to = {self.columns[f].name: sa.bindparam(f"b_{f}", type_=self.columns[f].type) for f in fields}
            statement = self.table.update().where(self.id == sa.bindparam("b_id", type_=self.id.type)).values(set_to)
            for start in range(0, len(lines), _BATCH):
                connection.execute(statement, lines[start : start + _BATCH])

    def remove(self, connection: Connection, ids: Sequence[str]) -> None:
        """Take records out."""
        for start in range(0, len(ids), _IN):
            some = [typed(self.id, i) for i in ids[start : start + _IN]]
            connection.execute(self.table.delete().where(self.id.in_(some)))

    def restore(self, connection: Connection, contents: Sequence[str]) -> None:
        """Records as `whole` gave them, with their ids."""
        for content in contents:
            told = {n: typed(self.table.c[n], v) for n, v in json.loads(content).items() if n in self.table.c}
            connection.execute(self.table.insert().values(told))

    def cast(self, field: str, text: str | None) -> Any:
        """A field's text as its column takes it. Raises ValueError, in words, for a text that cannot be one."""
        return typed(self.columns[field], text)

    def named_wrongly(self, values: Mapping[str, str | None]) -> str:
        """What is wrong with values of a record, or ""."""
        if self.all_text and values.keys() <= self.columns.keys():
            return ""
        for field, text in values.items():
            if field not in self.columns:
                return f"{self.table.name} has no column for {field}"
            try:
                self.cast(field, text)
            except ValueError as error:
                return f"{field}: {error}"
        return ""

    def _now(self) -> Any:
        return typed(self.stamp, datetime.now(UTC).isoformat(timespec="seconds")) if self.stamp is not None else None

    def _of(self, connection: Connection, asked: Any, ids: Sequence[str]) -> list[Any]:
        found: list[Any] = []
        fit = []
        for i in ids:
            try:
                fit.append(typed(self.id, i))
            except ValueError:
                continue  # no id of this table
        for start in range(0, len(fit), _IN):
            found += connection.execute(asked.where(self.id.in_(fit[start : start + _IN]))).fetchall()
        return found


def own_target(engine: sa.Engine, entity: str, how: StorePolicy, shown: str) -> Target:
    """The user's table that a policy names. Raises StoreError when it, or a column named, is not there."""
    schema, _, name = how.table.rpartition(".")
    found = sa.inspect(engine)
    tables = [*found.get_table_names(schema or None), *found.get_view_names(schema or None)]
    if name not in tables:
        raise StoreError(f'{shown}: no table "{how.table}"; {instead(name, tables)}')
    table = sa.Table(name, sa.MetaData(), schema=schema or None, autoload_with=engine)

    def column(wanted: str, what: str) -> sa.Column[Any]:
        if wanted not in table.c:
            raise StoreError(f'{shown}, table {how.table}: no column "{wanted}" ({what}); {instead(wanted, table.c.keys())}')
        return table.c[wanted]

    stamp = column(how.updated_at, "store.updated_at") if how.updated_at else None
    fields = {f: column(c, "store.columns") for c, f in how.columns.items() if f != "id"}
    if stamp is not None:
        fields.setdefault("updated_at", stamp)
    return Target(entity, table, column(how.id, "store.id"), fields, stamp)


def our_target(entity: str, table: sa.Table, lacking: Sequence[str] = ()) -> Target:
    """One of our own tables. lacking : columns it does not have, having been made before there were such fields."""
    return Target(entity, table, table.c.id, {f: table.c[f] for f in ENTITIES[entity].fields if f != "id" and f not in lacking})


def insert_many(connection: Connection, table: sa.Table, rows: Sequence[Mapping[str, Any]]) -> None:
    """Insert rows that all have the same columns, by the quickest way the driver has: COPY, or many at once."""
    if not rows:
        return
    names, quoted = list(rows[0]), connection.dialect.identifier_preparer
    into = f"{quoted.format_table(table)} ({', '.join(quoted.quote(n) for n in names)})"
    picked = itemgetter(*names)
    if connection.dialect.name == "postgresql":
        with connection.connection.cursor() as cursor, cursor.copy(f"COPY {into} FROM STDIN") as copy:  # type: ignore[attr-defined]
            for row in rows:
                copy.write_row(picked(row))
    elif all(isinstance(table.c[n].type, (sa.Text, sa.Integer)) for n in names):
        statement = f"INSERT INTO {into} VALUES ({', '.join('?' * len(names))})"
        connection.exec_driver_sql(statement, [picked(row) for row in rows])
    else:
        for start in range(0, len(rows), _BATCH):
            connection.execute(table.insert(), [dict(r) for r in rows[start : start + _BATCH]])


def as_text(value: Any) -> Any:
    """A value of a database as text; None stays None."""
    if value is None or isinstance(value, str):
        return value
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, (date, datetime, time)):
        return value.isoformat()
    return str(value)


def typed(column: sa.Column[Any], value: Any) -> Any:
    """A text, or a value out of JSON, as a column takes it; blank is NULL. Raises ValueError in words."""
    kind = _python_type(column)
    if value is None or (value == "" and kind is not str):
        return None
    if kind is str:
        return value or None
    if not isinstance(value, str):
        return value
    text = value.strip()
    try:
        if kind is bool:
            if text.lower() not in _YES + _NO:
                raise ValueError
            return text.lower() in _YES
        if kind is datetime:
            at = datetime.fromisoformat(text)
            return at if at.tzinfo is None or getattr(column.type, "timezone", False) else at.astimezone(UTC).replace(tzinfo=None)
        if kind in (date, time):
            return kind.fromisoformat(text)
        if kind is bytes:
            return base64.b64decode(text)
        return kind(text) if kind in (int, float) else Decimal(text) if kind is Decimal else value
    except (ValueError, ArithmeticError):
        raise ValueError(f'"{value}" is no {_WORDS.get(kind, kind.__name__)}, which column {column.name} takes') from None


_WORDS = {int: "whole number", float: "number", Decimal: "number", bool: "yes or no", date: "date such as 2026-03-04", datetime: "point in time such as 2026-03-04T10:00:00"}  # fmt: skip


def _python_type(column: sa.Column[Any]) -> type:
    try:
        return column.type.python_type
    except NotImplementedError:
        return str


def _as_json(value: Any) -> Any:
    if isinstance(value, (bytes, memoryview)):
        return base64.b64encode(bytes(value)).decode()
    return as_text(value)
