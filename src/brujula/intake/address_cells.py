"""Whole addresses where no column is the town's: in one cell, beside a postal code, or in lines of which a town is the last in one row and not in the next."""

from __future__ import annotations

import re
from collections.abc import Collection
from functools import reduce

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.steps.one_cell import BREAK
from brujula.fields.postal_address import parts_of
from brujula.intake.addresses import PARTS
from brujula.intake.content import SAMPLE
from brujula.intake.headings import folded, which_address
from brujula.intake.meanings import meanings
from brujula.intake.raw import is_filled
from brujula.intake.streets import beside, but
from brujula.policy.entities import ENTITIES

FITS = 0.6
"""Share of cells that fit from which a column is taken apart."""
_GAP = r"([^\s,])\s{2,}(\S)"
"""Parts the lines of an address, where most cells of a column have it; in a few it is a slip."""
_LINES = frozenset(("add", "line", "address line", "addr line"))
"""What lines of an address are called that are no street by their heading."""

_Values = dict[str, pa.ChunkedArray]
_Fields = dict[str, str]


def apart(
    table: pa.Table, values: _Values, fields: _Fields, entity: str, towns: pa.ChunkedArray | None, told: Collection[str]
) -> tuple[_Values, _Fields, list[str]]:
    """The values with whole addresses taken apart, where most are some; the other cells stay whole in the street, also those of which anything would be lost.

    towns : those that the records name;  told : columns whose field a person has chosen
    Returns values, field to columns, and a note where anything was taken apart.
    """
    lines = _lines(table, fields, entity, told)
    # What a line was taken for by its values is not all that it holds.
    open_fields = {f: c for f, c in fields.items() if f == "street" or f not in PARTS or c not in lines}
    if "street" not in values or "city" in open_fields:
        return values, fields, []
    own = {f: v for f, v in values.items() if f in open_fields}
    # Bill to 1: who it is, before where.
    names = [values[f] for f in (*ENTITIES[entity].naming, "account") if f in values]
    cells = [but(table.column(c), names) for c in lines] if len(lines) > 1 else [own["street"]]
    whole = reduce(lambda first, line: beside(first, line, ", "), cells)
    columns = " + ".join(lines) if len(lines) > 1 else fields["street"]
    found, parts = _read(whole, own, towns)
    if not found.any():
        return values, fields, []
    mask = pa.array(found)
    parts = {f: v for f, v in parts.items() if f == "street" or pc.any(pc.not_equal(v, "")).as_py()}
    said = {f: mask if f == "street" else pc.and_(mask, pc.not_equal(v, "")) for f, v in parts.items()}
    others = own | {"street": whole}
    parts = {f: pc.if_else(said[f], v, others[f].combine_chunks() if f in others else "") for f, v in parts.items()}
    named = {f: f"{columns} + {open_fields[f]}" if f in open_fields and f != "street" else columns for f in parts}
    quoted = ", ".join(f'"{c}"' for c in (lines if len(lines) > 1 else [columns]))
    note = f"column{'s' * (len(lines) > 1)} {quoted} taken apart into {', '.join(parts)}"
    return own | {f: pa.chunked_array([v]) for f, v in parts.items()}, open_fields | named, [note]


def _read(whole: pa.ChunkedArray, own: _Values, towns: pa.ChunkedArray | None) -> tuple[NDArray[np.bool_], dict[str, pa.Array]]:
    """Which cells are whole addresses, and their parts; none, where most are not.

    own : values that have columns of their own; a postal code is read as if it stood behind the cell's
    """
    nothing = np.zeros(len(whole), bool), dict[str, pa.Array]()
    code = own.get("postal_code")
    sampled = np.flatnonzero(is_filled(whole.slice(0, SAMPLE)))
    if len(sampled) <= 3:
        return nothing
    sample = whole.take(pa.array(sampled))
    codes = None if code is None else code.take(pa.array(sampled))
    gaps = pc.mean(pc.match_substring_regex(sample, _GAP).cast(pa.float64())).as_py() >= FITS

    def read(
        cells: pa.ChunkedArray, codes: pa.ChunkedArray | None, alone: set[str]
    ) -> tuple[NDArray[np.bool_], dict[str, pa.Array]]:
        cells = pc.replace_substring_regex(cells, _GAP, r"\1, \2") if gaps else cells
        cells = cells if codes is None else beside(cells, codes, ", ")
        found, parts = parts_of(cells, towns)
        taken = {f: pc.fill_null(v, "") for f, v in parts.items() if f not in alone}
        found &= sum(_n_letters(v) for v in taken.values()) == _n_letters(cells.combine_chunks())
        if codes is not None:
            # Beside a code Harbour Point may be a house as well as a town.
            found &= (_n_letters(taken["street"]) > 0) & (_n_letters(taken["city"]) > 0)
            taken.pop("postal_code")
        return found, taken

    # Where the cells say mostly of which region they are, a column of regions beside them is of something else (of where a machine stands).
    alone: set[str] = {"region", "country"} & own.keys()
    found, parts = read(sample, codes, set())
    alone -= {f for f in alone if np.mean(_n_letters(parts[f].filter(pa.array(found))) > 0) >= FITS} if found.any() else set()
    return read(whole, code, alone) if read(sample, codes, alone)[0].mean() >= FITS else nothing


def _lines(table: pa.Table, fields: _Fields, entity: str, told: Collection[str]) -> list[str]:
    """The columns of an address in numbered lines, the street's alone where it has no others. It is the first of them, but under a heading that says no more than which address it is (Bill to 1 to 5)."""
    street = fields.get("street", "")
    if street not in table.column_names:
        return []
    numbered = {_numbered(c): c for c in table.column_names if c not in told}
    stem, first = _numbered(street)
    headed = meanings(stem, entity)
    begins_with_a_name = not headed and bool(which_address(stem))
    if not (begins_with_a_name or (first == 1 and ("street" in headed or stem in _LINES))):
        return [street]
    taken = {c for f, c in fields.items() if f not in PARTS}
    lines = [c for c in (numbered.get((stem, i)) for i in range(1, 10)) if c is not None and c not in taken]
    return lines if street in lines and numbered.get((stem, 1)) in lines else [street]


def _numbered(heading: str) -> tuple[str, int]:
    """A heading folded, without the number behind it, and that; 1 where it has none."""
    told = re.fullmatch(r"(.*[a-z]) ?([1-9])", plain := folded(heading))
    return (told[1], int(told[2])) if told else (plain, 1)


def _n_letters(texts: pa.Array) -> NDArray[np.int64]:
    """How many characters of each text are neither space nor punctuation."""
    found = pc.utf8_length(pc.replace_substring_regex(texts, rf"(?:[\s,;.|()/#'\"–-]|{BREAK})+", ""))
    return np.asarray(found.to_numpy(zero_copy_only=False), np.int64)
