"""Existing records in SQLite or PostgreSQL, with the journal of loads beside them, through SQLAlchemy Core."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from types import TracebackType
from typing import Any

import pyarrow as pa
import sqlalchemy as sa
from sqlalchemy.engine import Connection, make_url

from brujula.errors import StoreError
from brujula.loading.naming import MERGED, MERGED_LEFT
from brujula.policy.entities import ENTITIES
from brujula.policy.model import StorePolicy
from brujula.review.decisions import NAMES as DECISION_FIELDS
from brujula.stores.target import Target, insert_many, our_target, own_target

_META = sa.MetaData()

RECORDS = {
    name: sa.Table(
        name, _META, sa.Column("id", sa.Text, primary_key=True), *(sa.Column(f, sa.Text) for f in entity.fields if f != "id")
    )
    for name, entity in ENTITIES.items()
}
LOADS = sa.Table(
    "brujula_load",
    _META,
    sa.Column("number", sa.Integer, primary_key=True, autoincrement=False),
    sa.Column("entity", sa.Text, nullable=False),
    sa.Column("list", sa.Text, nullable=False),
    sa.Column("digest", sa.Text, nullable=False),
    sa.Column("state", sa.Text, nullable=False),
    sa.Column("loaded_at", sa.Text, nullable=False),
    sa.Column("undone_at", sa.Text),
    sa.Column("who", sa.Text, nullable=False),
    sa.Column("created", sa.Integer, nullable=False),
    sa.Column("updated", sa.Integer, nullable=False),
    sa.Column("merged", sa.Integer, nullable=False),
    sa.Column("fields", sa.Integer, nullable=False),
    sa.Column("held", sa.Integer, nullable=False),
)
CHANGES = sa.Table(
    "brujula_change",
    _META,
    sa.Column("load", sa.Integer, primary_key=True),
    sa.Column("seq", sa.Integer, primary_key=True),
    sa.Column("action", sa.Text, nullable=False),
    sa.Column("record_id", sa.Text, nullable=False, index=True),
    sa.Column("field", sa.Text, nullable=False),
    sa.Column("before", sa.Text),
    sa.Column("after", sa.Text),
    sa.Column("source", sa.Text, nullable=False),
    sa.Column("why", sa.Text, nullable=False),
)
MOVES = sa.Table(
    "brujula_record",
    _META,
    sa.Column("load", sa.Integer, primary_key=True),
    sa.Column("record_id", sa.Text, primary_key=True),
    sa.Column("action", sa.Text, nullable=False),
    sa.Column("what", sa.Text, nullable=False),
    sa.Column("survivor", sa.Text),
    sa.Column("content", sa.Text),
)
ROWS = sa.Table(
    "brujula_row",
    _META,
    sa.Column("load", sa.Integer, primary_key=True),
    sa.Column("digest", sa.Text, primary_key=True),
    sa.Column("entity", sa.Text, nullable=False),
    sa.Column("record_id", sa.Text, nullable=False),
)
TARGETS = sa.Table(
    "brujula_target", _META, sa.Column("load", sa.Integer, primary_key=True), sa.Column("content", sa.Text, nullable=False)
)
OPERATIONS = sa.Table(
    "brujula_operation",
    _META,
    sa.Column("load", sa.Integer, primary_key=True),
    sa.Column("seq", sa.Integer, primary_key=True),
    sa.Column("action", sa.Text, nullable=False),
    sa.Column("kind", sa.Text, nullable=False),
    sa.Column("do", sa.Text, nullable=False),
    sa.Column("record_id", sa.Text, nullable=False),
    sa.Column("version", sa.Integer, nullable=False),
    sa.Column("key", sa.Text, nullable=False),
    sa.Column("values", sa.Text, nullable=False),
    sa.Column("before", sa.Text),
    sa.Column("state", sa.Text, nullable=False),
    sa.Column("answer", sa.Text),
)
"""What a load asks of a service, request by request: kind is its path, state planned, done or failed."""
CHILDREN = sa.Table(
    "brujula_child",
    _META,
    sa.Column("name", sa.Text, primary_key=True),
    sa.Column("key", sa.Text, primary_key=True),
    sa.Column("entity", sa.Text, nullable=False),
    sa.Column("record_id", sa.Text, nullable=False, index=True),
    sa.Column("content", sa.Text, nullable=False),
)
DECISIONS = sa.Table(
    "brujula_decision",
    _META,
    sa.Column("number", sa.Integer, primary_key=True),
    *(sa.Column(n, sa.Text, nullable=False) for n in DECISION_FIELDS),
)


_JOURNAL = [t for t in _META.sorted_tables if t.name.startswith("brujula_")]


def _lacking(connection: Connection, table: sa.Table) -> tuple[str, ...]:
    """Columns of one of our tables that an older store does not have."""
    have = {c["name"] for c in sa.inspect(connection).get_columns(table.name)}
    return tuple(c.name for c in table.columns if c.name not in have)


class SqlStore:
    """Records and journal in one database. Use as a context manager; `writing()` opens the one transaction of a load.

    own : the user's table that holds the records, where they are not in ours
    journal_only : keep a journal and no records
    """

    def __init__(self, url: str, create: bool, own: StorePolicy | None = None, journal_only: bool = False) -> None:
        self._own = own if own is not None and own.table else None
        parsed = make_url(url)
        self.sqlite = parsed.get_backend_name() == "sqlite"
        self.shown = parsed.render_as_string(hide_password=True)
        if self.sqlite and not create and parsed.database and not Path(parsed.database).exists():
            raise StoreError(
                f"{self.shown}: no such store; `brujula load LIST --into {self.shown}` makes one from a list of your records"
            )
        driver = parsed if self.sqlite else parsed.set(drivername="postgresql+psycopg")
        try:
            self.engine = sa.create_engine(driver, connect_args={"timeout": 60} if self.sqlite else {"connect_timeout": 10})
            if self.sqlite:
                _own_transactions(self.engine)
            with self.engine.connect() as connection:
                have = set(sa.inspect(connection).get_table_names())
                self._lacking = {
                    n: _lacking(connection, t) for n, t in RECORDS.items() if {n, "brujula_load"} <= have and not self._own
                }
            if create and not self._own and not journal_only:
                _META.create_all(self.engine)
            elif create or "brujula_load" in have:
                _META.create_all(self.engine, tables=_JOURNAL)
            elif not self._own and not journal_only and not {"contact", "account"} & have:
                raise StoreError(f"{self.shown}: holds no records of ours (no table contact or account)")
        except sa.exc.SQLAlchemyError as error:
            raise StoreError(f"{self.shown}: cannot be opened: {_plain(error)}") from None

    def _widen(self, connection: Connection) -> None:
        """Columns of fields that there were none of when the store was made; a table without our journal is somebody else's, and left alone."""
        for name, fields in self._lacking.items():
            for field in fields:
                connection.execute(sa.text(f"ALTER TABLE {name} ADD COLUMN {field} TEXT"))
        self._lacking = {}

    def __enter__(self) -> SqlStore:
        return self

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None) -> None:
        self.engine.dispose()

    @contextmanager
    def reading(self) -> Iterator[Connection]:
        """A connection that writes nothing."""
        try:
            with self.engine.connect() as connection:
                yield connection
        except sa.exc.SQLAlchemyError as error:
            raise StoreError(f"{self.shown}: {_plain(error)}") from None

    @contextmanager
    def writing(self) -> Iterator[Connection]:
        """One transaction, and no other writer beside it: all of it lands or nothing does."""
        try:
            with self.engine.connect() as connection:
                if self.sqlite:
                    # Kept in the file. Whoever only reads leaves it as it is, and need not be allowed to write.
                    connection.exec_driver_sql("PRAGMA journal_mode=WAL")
                    connection.exec_driver_sql("BEGIN IMMEDIATE")
                else:
                    connection.begin()
                    connection.exec_driver_sql("LOCK TABLE brujula_load IN EXCLUSIVE MODE")
                lacking = self._lacking
                try:
                    self._widen(connection)
                    yield connection
                except BaseException:
                    self._lacking = lacking
                    connection.exec_driver_sql("ROLLBACK") if self.sqlite else connection.rollback()
                    raise
                connection.exec_driver_sql("COMMIT") if self.sqlite else connection.commit()
        except sa.exc.SQLAlchemyError as error:
            raise StoreError(f"{self.shown}: {_plain(error)}; nothing of the load was kept") from None

    def target(self, entity: str, load: int = 0) -> Target:
        """Where an entity's records live; or where they lived for a load. Raises StoreError for a table of the user's that is not there."""
        how = self._own
        if load:
            with self.reading() as connection:
                told = connection.execute(sa.select(TARGETS.c.content).where(TARGETS.c.load == load)).scalar()
            how = StorePolicy.model_validate_json(told) if told else None
        return (
            own_target(self.engine, entity, how, self.shown)
            if how
            else our_target(entity, RECORDS[entity], self._lacking.get(entity, ()))
        )

    def read(self, entity: str) -> pa.Table:
        """All records of an entity as text columns, by id."""
        if not self._own and not self._has(entity):
            return pa.table({c.name: pa.array([], pa.large_string()) for c in RECORDS[entity].columns})
        with self.reading() as connection:
            return self.target(entity).read(connection)

    def _has(self, table: str) -> bool:
        with self.reading() as connection:
            return table in sa.inspect(connection).get_table_names()

    def pointing(self, entity: str) -> dict[str, int]:
        """Id to how many point at that record: contacts and accounts below at an account, child rows at either."""
        asked = [sa.select(CHILDREN.c.record_id).where(CHILDREN.c.entity == entity)] if self._has(CHILDREN.name) else []
        if entity == "account" and not self._own:
            asked += [sa.select(RECORDS["contact"].c.account_id)] if self._has("contact") else []
            asked += [sa.select(RECORDS["account"].c.parent_id)] if self._has("account") else []
        counts: Counter[str] = Counter()
        with self.reading() as connection:
            for one in asked:
                counts.update(connection.execute(one).scalars())
        return {str(i): n for i, n in counts.items() if i}

    def remembered(self, entity: str) -> dict[str, str]:
        """Digest of each row loaded before and not undone, to the record it stands for."""
        with self.reading() as connection:
            if "brujula_row" not in sa.inspect(connection).get_table_names():
                return {}
            found = connection.execute(
                sa.select(ROWS.c.digest, ROWS.c.record_id).where(ROWS.c.entity == entity).order_by(ROWS.c.load)
            ).fetchall()
        return {row.digest: row.record_id for row in found}

    def aliases(self, entity: str) -> dict[str, str]:
        """Id of each record merged away by a load not undone, to the record that stands for it now."""
        with self.reading() as connection:
            if "brujula_record" not in sa.inspect(connection).get_table_names():
                return {}
            found = connection.execute(
                sa.select(MOVES.c.record_id, MOVES.c.survivor)
                .join(LOADS, LOADS.c.number == MOVES.c.load)
                .where(MOVES.c.what.in_((MERGED, MERGED_LEFT)), LOADS.c.state == "loaded", LOADS.c.entity == entity)
                .order_by(MOVES.c.load)
            ).fetchall()
        into = {row.record_id: row.survivor for row in found}
        for gone in into:
            end = into[gone]
            while end in into:
                end = into[end]
            into[gone] = end
        return into

    def decisions(self) -> list[dict[str, str]]:
        """What people decided of pairs, in order."""
        with self.reading() as connection:
            if "brujula_decision" not in sa.inspect(connection).get_table_names():
                return []
            found = connection.execute(sa.select(DECISIONS).order_by(DECISIONS.c.number)).mappings().fetchall()
        return [{n: row[n] for n in DECISION_FIELDS} for row in found]

    def add_decisions(self, lines: Sequence[dict[str, str]]) -> None:
        """Keep more decisions behind those there are."""
        _META.create_all(self.engine, tables=_JOURNAL)
        with self.writing() as connection:
            insert_many(connection, DECISIONS, lines)

    def dump(self) -> dict[str, list[tuple[Any, ...]]]:
        """Every record of every entity, by id: what undo must bring back."""
        with self.reading() as connection:
            return {name: [tuple(r) for r in connection.execute(sa.select(t).order_by(t.c.id))] for name, t in RECORDS.items()}


def _own_transactions(engine: sa.Engine) -> None:
    """The driver's own BEGINs are turned off: a load's transaction begins before its first read."""

    @sa.event.listens_for(engine, "connect")
    def connect(connection: Any, _: Any) -> None:
        connection.isolation_level = None
        connection.execute("PRAGMA synchronous=FULL")


def _plain(error: sa.exc.SQLAlchemyError) -> str:
    """The database's own message, without the statement and its values: these are people's data."""
    said = str(getattr(error, "orig", None) or error).splitlines()[0]
    if "readonly database" in said:
        said += "; SQLite writes beside a store even to read it: ask to be let write to its folder, or work on a copy of the file"
    return said
