"""What is in a list: columns, fill, distinct values, what could serve as a key and why not."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Batch, Column
from brujula.core.standardise import clean
from brujula.fields import kinds
from brujula.intake import bands, mapping, problems, sources
from brujula.intake.entity import entity_of
from brujula.intake.shape import Shaped, as_it_is, no_list, shape
from brujula.intake.unfielded import unfielded
from brujula.policy.entities import kind_of
from brujula.policy.model import Policy

_KEYS = {
    "contact": (
        "id", "email", "phone", "mobile", "family_name", "full_name", "given_name + family_name", "family_name + postal_code",
        "family_name + account", "full_name + account", "full_name + city", "family_name + phone", "given_name + family_name + city",
    ),
    "account": ("id", "name", "website", "email", "phone", "registration_no", "name + city", "name + postal_code", "website + city"),
}  # fmt: skip
_NAMES = {"family_name", "full_name", "name", "given_name"}


@dataclass(frozen=True)
class ColumnProfile:
    """One column.

    fill as a share; distinct values; repeats, rows whose value stands elsewhere too; placeholders counted as blank; shortest
    and longest value; suggested field with confidence; three samples
    """

    column: str
    fill: float
    distinct: int
    repeats: int
    placeholders: int
    shortest: str
    longest: str
    field: str
    confidence: float
    why: str
    samples: tuple[str, ...]


@dataclass(frozen=True)
class KeyProfile:
    """One field, or several together, as a key.

    filled, identified, shared : shares of rows that have it, that it identifies alone, that share theirs with another (of the filled)
    collisions : values that stand more than once; example : one of them
    found, found_several, missed : rows it finds one record for, more than one, none, where existing records are given; else None
    """

    field: str
    filled: float
    identified: float
    shared: float
    collisions: int
    example: str
    verdict: str
    found: int | None = None
    found_several: int | None = None
    missed: int | None = None


@dataclass(frozen=True)
class Profile:
    """What is in a list. gaps : per field, share filled, share of placeholders and unusable values, share blank."""

    name: str
    entity: str
    rows: int
    notes: tuple[str, ...]
    columns: tuple[ColumnProfile, ...]
    keys: tuple[KeyProfile, ...]
    repeated_rows: int
    problems: tuple[tuple[str, int, str], ...]
    gaps: dict[str, tuple[float, float, float]]
    against: str = ""


def _repeated(table: pa.Table) -> int:
    """Rows that stand word for word what an earlier row is."""
    if table.num_rows == 0:
        return 0
    # Arrow reads a column's name as a path when it begins with a dot: columns are grouped by numbers.
    numbers = [str(i) for i in range(table.num_columns)]
    return int(table.num_rows - table.rename_columns(numbers).group_by(numbers).aggregate([]).num_rows)


def inspect(source: Any, entity: str | None = None, against: Any = None) -> Profile:
    """Look through a list; nothing is written. against : existing records on which the keys are tried.

    Raises InputError or StoreError when one cannot be read.
    """
    raw = sources.read_source(source, None, entity)
    entity = entity or entity_of(raw.table)
    raw = bands.apart(raw) if entity == "contact" else raw
    policy = Policy.default(entity)
    listed = unfielded(entity, no_list(), shape(raw, policy, entity))[2]
    old = None if against is None else as_it_is(sources.read_source(against, None, entity), entity, not sources.is_url(against))
    n_old = 0 if old is None else old.raw.table.num_rows
    n = listed.raw.table.num_rows
    batch = Batch(entity, n_old, n, {f: _column(f, old, listed, n_old) for f in listed.values})
    plain = Batch(entity, n_old, n, {f: c for f, c in batch.columns.items() if f != "id"})
    cleaned = clean(plain, kinds(), kind_of(entity))
    gaps = {}
    for field, column in plain.columns.items():
        had, has = column.filled[n_old:], cleaned.columns[field].filled[n_old:]
        size = max(n, 1)
        gaps[field] = (float(has.sum()) / size, float((had & ~has).sum()) / size, float((~had).sum()) / size)
    found: dict[str, list[Any]] = {}
    nobody = problems.of_nobody(cleaned.entity, np.flatnonzero(problems.nameless(cleaned)[cleaned.n_existing :]))
    for problem in sorted([*problems.find(cleaned, plain, listed, policy), *nobody], key=problems.in_order):
        found.setdefault(problem.code, []).append(problem)
    repeated = _repeated(raw.table)
    return Profile(
        listed.raw.name,
        entity,
        raw.table.num_rows,
        listed.raw.notes,
        tuple(_columns(raw, listed, entity, gaps)),
        tuple(_keys(batch, cleaned, entity, old is not None)),
        repeated,
        tuple((code, len(ps), f"{listed.raw.place_of(ps[0].row)}: {ps[0].sentence}") for code, ps in found.items()),
        gaps,
        old.raw.name if old is not None else "",
    )


def _column(field: str, old: Shaped | None, listed: Shaped, n_old: int) -> Column:
    """A field of the existing records and the list, one after the other."""
    before = old.values[field].chunks if old is not None and field in old.values else [pa.nulls(n_old, pa.large_string())]
    return Column.of(pa.chunked_array([*before, *listed.values[field].chunks], pa.large_string()))


_READ_WITH = 0.9
"""How sure a column is that makes a field together with others: heading and values both said so."""


def _columns(
    raw: sources.RawList, listed: Shaped, entity: str, gaps: dict[str, tuple[float, float, float]]
) -> list[ColumnProfile]:
    """Every column of the list as it stands, and the field it went to."""
    suggested = {s.column: s for s in mapping.suggest(raw.table, entity)}
    # A column taken apart is its first field's; columns read together are all of one.
    fields = {c: f for f, said in reversed(listed.columns.items()) for c in (said, *said.split(" + "))}
    out = []
    for name in raw.table.column_names:
        column, s = Column.of(raw.table.column(name)), suggested[name]
        field = fields.get(name, s.field)
        alone = field == s.field
        counts = column.counts()
        texts = column.values.arrow()
        texts = texts.filter(pc.not_equal(texts, ""))
        length = pc.utf8_length(texts).to_numpy(zero_copy_only=False)
        ends = [texts[int(i)].as_py() for i in (np.argmin(length), np.argmax(length))] if len(texts) else ["", ""]
        blanked = round(gaps[field][1] * len(column)) if field in gaps and listed.row is None else 0
        out.append(
            ColumnProfile(
                name,
                float(column.filled.mean()) if len(column) else 0.0,
                len(texts),
                int(counts[counts > 1].sum()),
                blanked,
                ends[0],
                ends[1],
                field,
                s.confidence if alone else _READ_WITH,
                s.why if alone else "by its heading and values, with other columns",
                s.samples,
            )  # fmt: skip
        )
    return out


def _keys(batch: Batch, cleaned: Batch, entity: str, tried: bool) -> list[KeyProfile]:
    """Every tempting field, and fields together, as a key."""
    n_old = batch.n_existing
    out = []
    for name in _KEYS[entity]:
        fields = name.split(" + ")
        if not all(f in batch.columns for f in fields) or (
            len(fields) > 1 and "full_name" in fields and "family_name" in batch.columns
        ):
            continue
        codes = [_codes(batch.columns[f] if f == "id" else cleaned.columns[f]) for f in fields]
        key = codes[0].astype(np.int64)
        for more in codes[1:]:
            key = np.where((key >= 0) & (more >= 0), key * (int(more.max(initial=0)) + 1) + more, -1)
            key = np.unique(key, return_inverse=True)[1] - int((key < 0).any())
        there = tried and all(batch.columns[f].filled[:n_old].any() for f in fields)
        out.append(_key(name, fields, key, n_old, batch, there))
    return out


def _codes(column: Column) -> NDArray[np.int64]:
    """Per record a number of its value without regard to case; -1 where blank."""
    if len(column.values) == 0:
        return np.full(len(column), -1, np.int64)
    lowered = pc.utf8_lower(column.values.arrow()).dictionary_encode().indices.to_numpy(zero_copy_only=False).astype(np.int64)
    return np.append(lowered, -1)[column.codes]


def _key(name: str, fields: list[str], key: NDArray[np.int64], n_old: int, batch: Batch, tried: bool) -> KeyProfile:
    mine, theirs = key[n_old:], key[:n_old]
    n = max(len(mine), 1)
    own = mine[mine >= 0]
    counts = np.bincount(own, minlength=int(key.max(initial=0)) + 1)
    filled, shared = len(own) / n, float((counts[own] > 1).mean()) if len(own) else 0.0
    often = int(np.argmax(counts)) if len(own) else 0
    example = ""
    if len(own) and counts[often] > 1:
        row = n_old + int(np.flatnonzero(mine == often)[0])
        parts = [batch.columns[f] for f in fields]
        example = f"{counts[often]:,} × {' | '.join(c.values.arrow()[int(c.codes[row])].as_py() for c in parts)}"
    blank = f"; {1 - filled:.0%} of rows have none" if filled < 0.995 else ""
    if shared == 0 and filled > 0.995:
        verdict = "identifies every row"
    elif shared == 0:
        verdict = f"each value stands once{blank}"
    elif set(fields) <= _NAMES and len(fields) == 1:
        verdict = f"no key: {shared:.0%} of rows share theirs with another{blank}"
    else:
        verdict = f"no key by itself: {shared:.0%} of the filled rows share theirs with another (colleagues, couples, duplicates){blank}"
    hits = np.bincount(theirs[theirs >= 0], minlength=len(counts))[mine] * (mine >= 0) if tried else None
    once = None if hits is None else int((hits == 1).sum())
    many = None if hits is None else int((hits > 1).sum())
    missed = None if hits is None else int((hits == 0).sum())
    return KeyProfile(name, filled, filled * (1 - shared), shared, int((counts > 1).sum()), example, verdict, once, many, missed)
