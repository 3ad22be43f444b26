"""Where records come from: a file, a frame, a store."""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from brujula.core.batch import Batch, Column
from brujula.core.steps.parallel import spread
from brujula.errors import InputError, UsageError
from brujula.intake import mapping
from brujula.intake.raw import RawList
from brujula.intake.read import read_list
from brujula.intake.shape import Shaped
from brujula.policy.entities import ENTITIES
from brujula.policy.model import ListPolicy, StorePolicy
from brujula.review.decisions import Decision, kept

__all__ = ["RawList", "is_url", "read_source", "record_ids"]


def is_url(source: Any) -> bool:
    """Whether a source is a store's URL."""
    return isinstance(source, str) and "://" in source


def read_source(source: Any, how: ListPolicy | None, entity: str | None, own: StorePolicy | None = None) -> RawList:
    """Read a path, a store's URL or a pandas frame as text columns. own : the user's table, where a store keeps the records there.

    Raises InputError, StoreError, or UsageError for anything else.
    """
    if is_url(source):
        from brujula.stores import open_store

        with open_store(source, own=own) as store:
            return RawList(source_name(source), store.read(entity or "contact"), ("store",))
    if isinstance(source, str) or hasattr(source, "__fspath__"):
        return read_list(source, how)
    if hasattr(source, "columns") and hasattr(source, "itertuples"):
        return from_frame(source)
    raise UsageError(f"a list is a path, a store's URL or a pandas frame, not {type(source).__name__}")


def of_whom(source: str, table: pa.Table, own: StorePolicy | None = None) -> tuple[str, RawList]:
    """The entity of a list that does not tell it itself, and a store's records of it: contacts, unless there are none or none has an id the list gives."""
    people = read_source(source, None, "contact", own)
    column = next((s.column for s in mapping.suggest(table, "contact") if s.field == "id"), "")
    found = people.table.num_rows > 0
    if found and column:
        ids = people.table.column("id").combine_chunks().cast(pa.large_string())
        found = bool(pc.any(pc.is_in(pc.utf8_trim_whitespace(table.column(column)), value_set=ids)).as_py())
    return ("contact", people) if found else ("account", read_source(source, None, "account", own))


def combine(entity: str, old: Shaped, new: Shaped) -> Batch:
    """One table of both lists' fields: existing records first. The id is no field of comparison."""
    chosen = [f for f in ENTITIES[entity].fields if f != "id" and (f in old.values or f in new.values)]

    def column(field: str) -> Column:
        parts: list[pa.Array] = []
        for side in (old, new):
            parts += side.values[field].chunks if field in side.values else [pa.nulls(side.raw.table.num_rows, pa.large_string())]
        return Column.of(pa.chunked_array(parts, pa.large_string()))

    return Batch(entity, old.raw.table.num_rows, new.raw.table.num_rows, dict(zip(chosen, spread(column, chosen), strict=True)))


class Memory(NamedTuple):
    """What is remembered beside existing records: digests of rows loaded before, to their records; ids merged away, to the ids that
    took them in; what people decided of pairs; how many others point at a record (contacts at an account, accounts below it, child rows)."""

    rows: dict[str, str]
    aliases: dict[str, str]
    decisions: list[Decision]
    pointing: dict[str, int]


def memory(source: Any, entity: str, own: StorePolicy | None = None) -> Memory:
    """What is remembered beside the source of the existing records; of files only decisions, of frames nothing."""
    if not is_url(source):
        return Memory({}, {}, kept(source), {})
    from brujula.stores import open_store

    with open_store(source, own=own) as store:
        return Memory(store.remembered(entity), store.aliases(entity), kept(source), store.pointing(entity))


def source_name(source: str) -> str:
    """A store's URL without its password."""
    head, _, tail = source.partition("://")
    user, at, rest = tail.rpartition("@")
    return f"{head}://{user.split(':')[0]}{at}{rest}" if at else source


def from_frame(frame: Any, name: str = "frame") -> RawList:
    """A pandas frame as text columns, as a file with these cells would be read: missing values are blank, whole numbers keep no decimals,
    days no time, what is nested gets a column each.

    Raises InputError for more columns than a list has.
    """
    from brujula.intake import records

    columns: list[tuple[str, pa.Array]] = []
    for i, label in enumerate(frame.columns):
        column = frame.iloc[:, i]
        if (text := _plain(column)) is not None:
            columns.append((str(label), text))
            continue
        values, missing = column.tolist(), column.isna().tolist()
        columns += records.of_values(str(label), [None if gone else v for v, gone in zip(values, missing, strict=True)])
    return RawList(name, records.table_of(name, columns), ("a frame in memory",))


def _plain(column: Any) -> pa.Array | None:
    """A column of texts or of whole numbers as text, all at once; None for any other, whose values are taken one by one."""
    try:
        values = pa.array(column, from_pandas=True)
    except (pa.ArrowException, TypeError, ValueError, OverflowError):
        return None  # of several types, or a text that UTF-8 cannot hold
    kind = values.type
    if not (pa.types.is_string(kind) or pa.types.is_large_string(kind) or pa.types.is_integer(kind)):
        return None
    text = pc.fill_null(pc.cast(values, pa.large_string()), "")
    return text.combine_chunks() if isinstance(text, pa.ChunkedArray) else text


def record_ids(existing: Shaped) -> pa.Array:
    """Ids of the existing records. Raises InputError where the list has none, a blank one, or one twice."""
    raw = existing.raw
    if "id" not in existing.values:
        raise InputError(
            f"{raw.name}: no column holds the records' ids; columns are {', '.join(raw.table.column_names) or 'none'}; "
            "accepted: a column headed id, record id, contact id or account id"
        )
    ids = pc.utf8_trim_whitespace(existing.values["id"].combine_chunks())
    if isinstance(ids, pa.ChunkedArray):
        ids = pa.concat_arrays(ids.chunks) if ids.num_chunks else pa.array([], pa.large_string())
    blank = np.flatnonzero(pc.equal(ids, "").to_numpy(zero_copy_only=False)) if len(ids) else np.zeros(0, int)
    if len(blank):
        raise InputError(
            f'{raw.name}, row {blank[0] + 1}, column "{existing.columns["id"]}": the id is blank; accepted: an id for every existing record'
        )
    counts = pc.value_counts(ids)
    twice = counts.filter(pc.greater(pc.struct_field(counts, "counts"), 1)) if len(counts) else counts
    if len(twice):
        value = twice[0]["values"].as_py()
        row = pc.index(ids, value).as_py() + 1
        raise InputError(
            f'{raw.name}, row {row}, column "{existing.columns["id"]}": the id "{value}" stands more than once '
            f"({len(twice)} id{'s' * (len(twice) > 1)} in all do); accepted: each id once"
        )
    return ids
