"""Existing records in SQLite or PostgreSQL, with the journal of loads beside them, through SQLAlchemy Core."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from types import TracebackType
from typing import Any

import pyarrow as pa
import sqlalchemy as sa
from sqlalchemy.engine import Connection, make_url

from brujula.errors import StoreError
from brujula.policy.entities import ENTITIES
from brujula.review.decisions import NAMES as DECISION_FIELDS

_BATCH = 5_000
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


DECISIONS = sa.Table(
    "brujula_decision",
    _META,
    sa.Column("number", sa.Integer, primary_key=True),
    *(sa.Column(n, sa.Text, nullable=False) for n in DECISION_FIELDS),
)


class SqlStore:
    """Records and journal in one database. Use as a context manager; `writing()` opens the one transaction of a load."""

    def __init__(self, url: str, create: bool) -> None:
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
            if create or "brujula_load" in have:
                _META.create_all(self.engine)
            elif not {"contact", "account"} & have:
                raise StoreError(f"{self.shown}: holds no records of ours (no table contact or account)")
        except sa.exc.SQLAlchemyError as error:
            raise StoreError(f"{self.shown}: cannot be opened: {_plain(error)}") from None

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
                    connection.exec_driver_sql("BEGIN IMMEDIATE")
                else:
                    connection.begin()
                    connection.exec_driver_sql("LOCK TABLE brujula_load IN EXCLUSIVE MODE")
                try:
                    yield connection
                except BaseException:
                    connection.exec_driver_sql("ROLLBACK") if self.sqlite else connection.rollback()
                    raise
                connection.exec_driver_sql("COMMIT") if self.sqlite else connection.commit()
        except sa.exc.SQLAlchemyError as error:
            raise StoreError(f"{self.shown}: {_plain(error)}; nothing of the load was kept") from None

    def read(self, entity: str) -> pa.Table:
        """All records of an entity as text columns, by id."""
        table = RECORDS[entity]
        with self.reading() as connection:
            if entity not in sa.inspect(connection).get_table_names():
                return pa.table({c.name: pa.array([], pa.large_string()) for c in table.columns})
            rows = connection.execute(sa.select(table).order_by(table.c.id)).fetchall()
        columns: Sequence[Sequence[Any]] = list(zip(*rows, strict=True)) if rows else [()] * len(table.columns)
        return pa.table(
            {
                c.name: pa.array(["" if v is None else v for v in values], pa.large_string())
                for c, values in zip(table.columns, columns, strict=True)
            }
        )

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
                .where(MOVES.c.what == "merged away", LOADS.c.state == "loaded", LOADS.c.entity == entity)
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
        _META.create_all(self.engine)
        with self.writing() as connection:
            insert_many(connection, DECISIONS, lines)

    def dump(self) -> dict[str, list[tuple[Any, ...]]]:
        """Every record of every entity, by id: what undo must bring back."""
        with self.reading() as connection:
            return {name: [tuple(r) for r in connection.execute(sa.select(t).order_by(t.c.id))] for name, t in RECORDS.items()}


def insert_many(connection: Connection, table: sa.Table, rows: Sequence[dict[str, Any]]) -> None:
    """Insert rows in batches."""
    for start in range(0, len(rows), _BATCH):
        connection.execute(table.insert(), list(rows[start : start + _BATCH]))


def _own_transactions(engine: sa.Engine) -> None:
    """The driver's own BEGINs are turned off: a load's transaction begins before its first read."""

    @sa.event.listens_for(engine, "connect")
    def connect(connection: Any, _: Any) -> None:
        connection.isolation_level = None
        connection.execute("PRAGMA journal_mode=WAL")
        connection.execute("PRAGMA synchronous=FULL")


def _plain(error: sa.exc.SQLAlchemyError) -> str:
    """The database's own message, without the statement and its values: these are people's data."""
    return str(getattr(error, "orig", None) or error).splitlines()[0]
