"""JSON Lines and Parquet: records with named values. Every value becomes text."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from brujula.errors import InputError
from brujula.intake import raw
from brujula.intake.raw import MOST_BYTES, MOST_CELL, RawList, limit
from brujula.intake.workbook import cell_text
from brujula.problems import Problem


def read_json_lines(path: Path, data: bytes) -> RawList:
    """One object a line; nested values stay JSON text. A line that cannot be read is rejected, with its text.

    Raises InputError when no line holds an object.
    """
    names: dict[str, None] = {}
    records: list[dict[str, str]] = []
    problems, lines = [], []
    for number, line in enumerate(data.decode("utf-8-sig", "replace").split("\n"), 1):
        if not line.strip():
            continue
        try:
            value = json.loads(line)
        except (ValueError, RecursionError):
            value = None
        if not isinstance(value, dict) or len(line) > MOST_CELL:
            text = line[:MOST_CELL].rstrip("\r")
            problems.append(Problem("bad-line", len(records) + 1, value=limit(line.strip()), fatal=True, text=text))
            value = {}
        record = {
            k.strip() or "column": v if isinstance(v, str) else "" if v is None else json.dumps(v, ensure_ascii=False)
            for k, v in value.items()
        }
        names |= dict.fromkeys(record)
        records.append(record)
        lines.append(number)
    if not names:
        raise InputError(f"{path}: no line holds a JSON object; accepted: one object a line")
    raw.headings(str(path), list(names))
    table = pa.table({n: pa.array([_whole(r.get(n, "")) for r in records], pa.large_string()) for n in names})
    found = RawList(str(path), table, ("JSON Lines, utf-8",), tuple(problems), np.array(lines, np.int64))
    return raw.wrong_characters(found, False)


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
    columns = {}
    for name, column in zip(raw.headings(str(path), table.column_names), table.columns, strict=True):
        if pa.types.is_floating(column.type):
            columns[name] = pa.array([cell_text(v) for v in column.to_pylist()], pa.large_string())
            continue
        try:
            text = pc.cast(column, pa.large_string()).fill_null("").combine_chunks()
        except pa.ArrowException:
            raise InputError(
                f'{path}, column "{name}": {column.type} cannot be read as text; accepted: text, numbers, dates'
            ) from None
        columns[name] = (
            pc.replace_substring_regex(text, r" 00:00:00(\.0+)?Z?$", "") if pa.types.is_timestamp(column.type) else text
        )
    return RawList(str(path), pa.table(columns), ("Parquet",))
