"""JSON, JSON Lines and Parquet: records with named values. Every value becomes text; what is nested gets a column each."""

from __future__ import annotations

import json
import re
from collections.abc import Sequence
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.errors import InputError
from brujula.intake import raw
from brujula.intake.encodings import text_of
from brujula.intake.raw import MOST_BYTES, MOST_CELL, RawList, limit
from brujula.intake.workbook import cell_text
from brujula.problems import Problem


def read_json_lines(path: Path, data: bytes, encoding: str | None = None) -> RawList:
    """One object a line; what is nested in it gets a column each. A line that cannot be read is rejected, with its text.

    Raises InputError when no line holds an object.
    """
    records: list[dict[str, str]] = []
    problems, lines = [], []
    whole, taken = text_of(path, data, encoding)
    for number, line in enumerate(whole.split("\n"), 1):
        if not line.strip():
            continue
        record = _record(line) if len(line) <= MOST_CELL else None
        if record is None:
            text = line[:MOST_CELL].rstrip("\r")
            problems.append(Problem("bad-line", len(records) + 1, value=limit(line.strip()), fatal=True, text=text))
        records.append(record or {})
        lines.append(number)
    if not any(records):
        raise InputError(f"{path}: no line holds a JSON object; accepted: one object a line")
    return _listed(path, records, "JSON Lines", taken, problems, np.array(lines, np.int64))


def read_json(path: Path, data: bytes, encoding: str | None = None) -> RawList:
    """An array of objects, alone or as the one such member of an object or of one within it; objects of one form by their keys; what is nested in them gets a column each.

    A feature of GeoJSON (RFC 7946) is its properties and its point. Raises InputError when it is none of these. What stands among the objects and is
    none is rejected.
    """
    whole, taken = text_of(path, data, encoding)
    try:
        held = json.loads(whole)
    except (ValueError, RecursionError) as error:
        raise InputError(
            f"{path}: not JSON that can be read ({error}); accepted: an array of objects, or JSON Lines as .jsonl"
        ) from None
    arrays = _arrays(held)
    if len(arrays) != 1:
        raise InputError(
            f"{path}: {len(arrays) or 'no'} array{'s' * (len(arrays) > 1)} of objects; accepted: one, alone or as a member of an object"
        )
    records: list[dict[str, str]] = []
    problems = []
    for item in map(_feature, arrays[0]):
        try:
            record, text = _flattened(item), "" if isinstance(item, dict) else json.dumps(item, ensure_ascii=False)[:MOST_CELL]
        except RecursionError:
            record, text = None, "an object nested too deep"
        if record is None:
            problems.append(Problem("bad-line", len(records) + 1, value=limit(text), fatal=True, text=text))
        records.append(record or {})
    return _listed(path, records, "JSON", taken, problems, None)


def _arrays(held: Any) -> list[list[Any]]:
    """The arrays of objects that stand nearest to the top, three levels deep at most."""
    level = [held] if isinstance(held, list) else [*held.values()] if isinstance(held, dict) else []
    keyed = [held]
    for _ in range(3):
        arrays = [v for v in level if isinstance(v, list) and any(isinstance(x, dict) for x in v)]
        arrays = arrays or [found for v in keyed if (found := _by_keys(v))]
        if arrays:
            return arrays
        keyed = [v for v in level if isinstance(v, dict)]
        level = [inner for v in keyed for inner in v.values()]
    return []


def _by_keys(held: Any) -> list[Any]:
    """Objects of one form that stand under keys with digits, the key as their id: a name and an address of one object have no form in common, billing and shipping are no ids."""
    if (
        not isinstance(held, dict)
        or len(held) < 2
        or not all(isinstance(v, dict) and re.search(r"\d", k) for k, v in held.items())
    ):
        return []
    names = [set(v) for v in held.values()]
    common, all_ = set.intersection(*names), set.union(*names)
    return [{"id": key, **value} for key, value in held.items()] if common and 2 * len(common) >= len(all_) else []


def _feature(item: Any) -> Any:
    """A point of GeoJSON as its properties, longitude and latitude; anything else as it is."""
    if not isinstance(item, dict) or item.get("type") != "Feature" or not isinstance(item.get("properties"), dict):
        return item
    placed = item.get("geometry")
    point = placed.get("coordinates") if isinstance(placed, dict) and placed.get("type") == "Point" else None
    own = {"id": item["id"]} if "id" in item else {}
    on_map = dict(zip(("longitude", "latitude"), point, strict=False)) if isinstance(point, list) else {}
    return own | item["properties"] | on_map


def _listed(
    path: Path, records: list[dict[str, str]], kind: str, taken: str, problems: list[Problem], lines: NDArray[np.int64] | None
) -> RawList:
    found = RawList(str(path), table_of(str(path), _columns(records)), (f"{kind}, {taken}",), tuple(problems), lines)
    return raw.wrong_characters(found, not taken.startswith("utf"))


def _columns(records: Sequence[dict[str, str]]) -> list[tuple[str, pa.Array]]:
    """Each name's values; null where others have an object is no column of its own."""
    told = dict.fromkeys(n for record in records for n, text in record.items() if text)
    names = [n for n in dict.fromkeys(n for r in records for n in r) if n in told or not any(t.startswith(f"{n}.") for t in told)]
    return [(n, pa.array([_whole(r.get(n, "")) for r in records], pa.large_string())) for n in names]


def _record(line: str) -> dict[str, str] | None:
    """The object a line holds; None where it holds none that can be read."""
    try:
        return _flattened(json.loads(line))
    except (ValueError, RecursionError):
        return None


def _flattened(value: object) -> dict[str, str] | None:
    """An object's members as text, those of objects in it by their path (name.first, emails.1.value), plain arrays in one cell."""
    if not isinstance(value, dict):
        return None
    if not any(isinstance(inner, (dict, list)) for inner in value.values()):
        return {key.strip() or "column": _text(inner) for key, inner in value.items()}
    out: dict[str, str] = {}

    def put(name: str, value: object) -> None:
        if isinstance(value, dict):
            for key, inner in value.items():
                put(f"{name}.{key.strip()}", inner)
        elif isinstance(value, list) and any(isinstance(x, (dict, list)) for x in value):
            for number, inner in enumerate(value, 1):
                put(f"{name}.{number}", inner)
        else:
            while name in out:
                name += " (2)"
            out[name] = "; ".join(map(_text, value)) if isinstance(value, list) else _text(value)

    for key, inner in value.items():
        put(key.strip() or "column", inner)
    return out


def _text(value: object) -> str:
    return value if isinstance(value, str) else "" if value is None else json.dumps(value, ensure_ascii=False, default=str)


def _whole(text: str) -> str:
    """A text without halves of surrogate pairs, which UTF-8 cannot hold."""
    return text if text.isascii() else text.encode("utf-8", "replace").decode()


def read_parquet(path: Path) -> RawList:
    """All columns as text. Raises InputError for a file that is no Parquet file, or holds nested columns."""
    import pyarrow.parquet as pq

    try:
        described = pq.read_metadata(path)
        size = sum(described.row_group(i).total_byte_size for i in range(described.num_row_groups))
        if size > MOST_BYTES:
            raise InputError(f"{path}: unpacks to more than {MOST_BYTES >> 30} GiB; split it")
        table = pq.read_table(path)
        table.validate(full=True)
    except (pa.ArrowException, OSError, UnicodeDecodeError) as error:
        raise InputError(f"{path}: not a Parquet file that can be read ({str(error).splitlines()[0]})") from None
    while any(pa.types.is_struct(column.type) for column in table.columns):
        table = table.flatten()
    columns: list[tuple[str, pa.Array]] = []
    for name, column in zip(table.column_names, table.columns, strict=True):
        if pa.types.is_list(column.type) or pa.types.is_large_list(column.type) or pa.types.is_floating(column.type):
            columns += of_values(name, column.to_pylist())
            continue
        try:
            text = pc.cast(column, pa.large_string()).fill_null("").combine_chunks()
        except pa.ArrowException:
            raise InputError(
                f'{path}, column "{name}": {column.type} cannot be read as text; accepted: text, numbers, dates'
            ) from None
        days = pa.types.is_timestamp(column.type)
        columns.append((name, pc.replace_substring_regex(text, r" 00:00:00(\.0+)?Z?$", "") if days else text))
    return RawList(str(path), table_of(str(path), columns), ("Parquet",))


def of_values(name: str, values: Sequence[Any]) -> list[tuple[str, pa.Array]]:
    """A column of any values as text, of nested ones as many columns as they have: plain arrays in one cell, the members of objects in a column each."""
    values = [v.tolist() if isinstance(v, np.ndarray) else [*v] if isinstance(v, (tuple, set, frozenset)) else v for v in values]
    if not any(isinstance(v, (dict, list)) for v in values):
        return [(name, pa.array([_whole(v if isinstance(v, str) else cell_text(v)) for v in values], pa.large_string()))]
    return _columns([_flattened({name: value}) or {} for value in values])


def table_of(name: str, columns: Sequence[tuple[str, pa.Array]]) -> pa.Table:
    """The columns under headings made distinct. Raises InputError for more than a list has."""
    return pa.table([values for _, values in columns], raw.headings(name, [heading for heading, _ in columns]))
