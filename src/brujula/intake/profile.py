"""What is in a list: columns, fill, distinct values, what could serve as a key and why not."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import pyarrow.compute as pc

from brujula.core.batch import Batch, Column
from brujula.core.standardise import clean
from brujula.fields import kinds
from brujula.intake import mapping, problems, sources
from brujula.policy.entities import ENTITIES, kind_of
from brujula.policy.model import Policy

_TEMPTING = ("id", "email", "phone", "mobile", "family_name", "full_name", "name", "website", "registration_no")


@dataclass(frozen=True)
class ColumnProfile:
    """One column: fill as a share, distinct values, placeholders counted as blank, suggested field with confidence, three samples."""

    column: str
    fill: float
    distinct: int
    placeholders: int
    field: str
    confidence: float
    why: str
    samples: tuple[str, ...]


@dataclass(frozen=True)
class KeyProfile:
    """One field as a key: share of rows it identifies alone, share that share their value, and the verdict in words."""

    field: str
    filled: float
    shared: float
    verdict: str


@dataclass(frozen=True)
class Profile:
    """What is in a list."""

    name: str
    entity: str
    rows: int
    notes: tuple[str, ...]
    columns: tuple[ColumnProfile, ...]
    keys: tuple[KeyProfile, ...]
    repeated_rows: int
    problems: tuple[tuple[str, int, str], ...]


def inspect(source: Any, entity: str | None = None) -> Profile:
    """Look through a list; nothing is written. Raises InputError or StoreError when it cannot be read."""
    raw = sources.read_source(source, None, entity)
    entity = entity or mapping.entity_of(raw.table)
    suggestions = mapping.suggest(raw.table, entity)
    fields = mapping.apply_mapping(raw.table, suggestions, {}, raw.name)
    batch = Batch(entity, 0, raw.table.num_rows, {f: Column.of(raw.table.column(c)) for f, c in fields.items() if f != "id"})
    cleaned = clean(batch, kinds(), kind_of(entity))
    columns = []
    for s in suggestions:
        column = Column.of(raw.table.column(s.column))
        blanked = (
            int(batch.columns[s.field].filled.sum() - cleaned.columns[s.field].filled.sum()) if s.field in cleaned.columns else 0
        )
        columns.append(
            ColumnProfile(
                s.column,
                float(column.filled.mean()) if len(column) else 0.0,
                len(column.values),
                blanked,
                s.field,
                s.confidence,
                s.why,
                s.samples,
            )
        )
    found: dict[str, list[Any]] = {}
    for problem in problems.find(cleaned, batch, raw, fields, Policy.default(entity)):
        found.setdefault(problem.code, []).append(problem)
    repeated = raw.table.num_rows - raw.table.group_by(raw.table.column_names).aggregate([]).num_rows if raw.table.num_rows else 0
    return Profile(
        raw.name,
        entity,
        raw.table.num_rows,
        raw.notes,
        tuple(columns),
        tuple(_keys(raw, cleaned, fields, entity)),
        repeated,
        tuple((code, len(ps), f"row {ps[0].row}: {ps[0].sentence}") for code, ps in found.items()),
    )


def _keys(raw: sources.RawList, cleaned: Batch, fields: dict[str, str], entity: str) -> list[KeyProfile]:
    """Every tempting field as a key."""
    out = []
    n = max(raw.table.num_rows, 1)
    for field in _TEMPTING:
        if field not in fields or field not in ENTITIES[entity].fields:
            continue
        column = Column.of(raw.table.column(fields[field])) if field == "id" else cleaned.columns[field]
        text = pc.utf8_lower(column.values.arrow()) if len(column.values) else column.values.arrow()
        merged = (
            np.unique(text.to_numpy(zero_copy_only=False).astype(str), return_inverse=True)[1] if len(text) else np.zeros(0, int)
        )
        codes = merged[column.codes[column.filled]] if len(merged) else np.zeros(0, int)
        counts = np.bincount(codes, minlength=1)
        filled = len(codes) / n
        shared = float((counts[codes] > 1).mean()) if len(codes) else 0.0
        blank = f"; {1 - filled:.0%} of rows have none" if filled < 0.995 else ""
        if shared == 0 and filled > 0.995:
            verdict = "identifies every row"
        elif field in ("family_name", "full_name", "name"):
            verdict = f"no key: {shared:.0%} of rows share theirs with another{blank}"
        elif shared > 0:
            verdict = f"no key by itself: {shared:.0%} of the filled rows share theirs with another (colleagues, couples, duplicates){blank}"
        else:
            verdict = f"each value stands once{blank}"
        out.append(KeyProfile(field, filled, shared, verdict))
    return out
