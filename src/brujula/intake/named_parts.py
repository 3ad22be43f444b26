"""Cells whose heading names their parts, one behind the other: Organization / Title, Name, Company."""

from __future__ import annotations

import re

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from brujula.intake.content import ENOUGH, filled, with_words
from brujula.intake.meanings import SURELY, meanings

_BETWEEN_HEADINGS = r"\s*[/|,&+]\s*|\s+-\s+"
_BETWEEN = (r"\s+/\s+", r"\s*\|\s*", r"\s+[-–—]\s+", r"\s*[;\n]\s*", r"\s*/\s*", r",\s+")
_PARTS = frozenset(("full_name", "account", "job_title"))
_MOSTLY = 0.5

_Values = dict[str, pa.ChunkedArray]
_Fields = dict[str, str]


def apart(
    table: pa.Table, values: _Values, fields: _Fields, told: frozenset[str] = frozenset()
) -> tuple[_Values, _Fields, list[str]]:
    """The values with each part of such cells in its field, where no other column has it; a cell of one part has the title or the firm, as its words tell.

    told : columns whose field a person has chosen
    """
    for column in table.column_names:
        parts = _named(column)
        others = {f for f, c in fields.items() if c != column}
        if (
            len(parts) < 2
            or column in told
            or others & {*parts}
            or ("full_name" in parts and others & {"given_name", "family_name"})
        ):
            continue
        cells = pc.fill_null(pc.utf8_trim_whitespace(table.column(column)), "").combine_chunks()
        sample = filled(cells)
        shares = {b: _share(sample, b, len(parts)) for b in _BETWEEN} if len(sample) >= ENOUGH else {}
        between = max(shares, key=lambda b: shares[b], default="")
        if not between or shares[between] < _MOSTLY:
            continue
        put = _cut(cells, between, parts)
        kept = {f: v for f, v in values.items() if fields.get(f) != column}
        named = {f: c for f, c in fields.items() if c != column}
        note = f'column "{column}" taken apart into {", ".join(parts)}'
        return kept | put, named | dict.fromkeys(parts, column), [note]
    return values, fields, []


def _named(heading: str) -> list[str]:
    """The fields that the parts of a heading name, nothing unless each names one of its own."""
    words = [w for w in re.split(_BETWEEN_HEADINGS, heading.strip()) if w]
    found = [_surest(w) for w in words] if len(words) > 1 else []
    return found if all(found) and len(set(found)) == len(found) else []


def _surest(word: str) -> str:
    headed = {f: s for f, s in meanings(word, "contact").items() if f in _PARTS}
    best = max(headed, key=lambda f: headed[f], default="")
    return best if best and headed[best] >= SURELY else ""


def _share(text: pa.Array, between: str, n: int) -> float:
    pieces = pc.list_value_length(pc.split_pattern_regex(text, between))
    return float(pc.mean(pc.equal(pieces, n).cast(pa.float64())).as_py())


def _cut(cells: pa.Array, between: str, parts: list[str]) -> _Values:
    """The parts of each cell by field. Of a cell with fewer parts than the heading names the first goes where its words say."""
    cut = pc.split_pattern_regex(cells, between, max_splits=len(parts) - 1)
    length = pc.list_value_length(cut).to_numpy(zero_copy_only=False)
    out = {}
    for at, field in enumerate(parts):
        here = pc.list_element(cut.filter(pa.array(length > at)), at)
        text = np.full(len(cells), "", object)
        text[length > at] = here.to_pylist()
        out[field] = text
    lone = (length == 1) & (out[parts[0]] != "")
    titles = lone & with_words(cells)[2] & ("job_title" in parts)
    whole = out[parts[0]].copy()
    out[parts[0]][lone] = ""
    for field, rows in ((next(f for f in parts if f != "job_title"), lone & ~titles), ("job_title", titles)):
        if rows.any():
            out[field][rows] = whole[rows]
    return {f: pa.chunked_array([pa.array(v, pa.large_string())]) for f, v in out.items()}
