"""Several addresses in one list (billing and shipping, at work and at home): one is taken whole, and where a row has none of it another stands in."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Mapping

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.steps.patterns import matches
from brujula.intake.content import filled
from brujula.intake.headings import which_address
from brujula.intake.meanings import meanings
from brujula.intake.raw import is_filled
from brujula.intake.streets import beside, is_second_line

PARTS = ("street", "city", "region", "postal_code", "country")
PLACING = ("street", "city", "postal_code")
"""Without which there is no address: a country may stand for both."""
_LEAST = 0.6  # how sure a heading must be that it is of a part

_BOX = r"(?i)^\s*(p\.? ?o\.? ?box|post office box|g\.?p\.?o\.? box|postfach|postbus|postboks|apartado|casella postale|caixa postal|skrytka|bo[iî]te postale|b\.?p\.? \d)"
"""At the post office, where nobody is."""

_Addresses = dict[frozenset[str], dict[str, str]]


def taken_whole(table: pa.Table, chosen: Mapping[str, str], entity: str) -> dict[str, str]:
    """The columns of an address, part by part, all of one address; as they were chosen where they are.

    chosen : part to column
    Of several the one is taken of which most cells are filled, boxes at the post office apart, then the first; parts it lacks stay where their heading says of none.
    """
    named = Counter(which for c in chosen.values() if (which := which_address(c)))
    boxes = "street" in chosen and _placed(street := table.column(chosen["street"])) < len(filled(street)) / 2
    if not boxes and (not named or (len(named) == 1 and max(named.values()) in (1, len(chosen)))):
        return dict(chosen)
    addresses = _addresses(table, table.column_names, entity, plain=boxes)
    several = [parts for which, parts in addresses.items() if len(parts) > 1 and (boxes or len(named) > 1 or which in named)]
    if len(several) < 2:
        # The County beside Business State; the Location, an office, beside Primary City. Not Home Street and Post Office.
        return dict(chosen) | next((parts for parts in several if len(parts) > 2), {})
    whole = max(several, key=lambda parts: sum(_placed(table.column(c)) for c in parts.values()))
    return {part: c for part, c in chosen.items() if not which_address(c)} | whole


def _placed(column: pa.ChunkedArray) -> int:
    """How many cells of a column are filled with more than a box at the post office."""
    cells = filled(column)
    return len(cells) - int(pc.sum(matches(cells, _BOX)).as_py() or 0)


def joined(
    table: pa.Table,
    values: dict[str, pa.ChunkedArray],
    fields: dict[str, str],
    free: Collection[str],
    entity: str,
    told: Collection[str] = (),
) -> tuple[dict[str, pa.ChunkedArray], dict[str, str], list[str]]:
    """The values with another address in the rows that have neither street nor town nor code of the one taken.

    free : columns that no field was found for;  told : parts that are as a person has chosen
    Returns values, field to columns, and a note where something was put.
    """
    own = {part: fields[part].split(" + ") for part in PARTS if part in fields}
    taken = {which_address(c) for columns in own.values() for c in columns}
    others = {which: parts for which, parts in _addresses(table, free, entity).items() if which not in taken and len(parts) > 1}
    if not ("street" in own or "city" in own) or not others:
        return values, fields, []
    values, fields, used = dict(values), dict(fields), list[str]()
    for parts in others.values():
        there = {
            part: _with_second_line(table, c, free) if part == "street" else (table.column(c), [c])
            for part, c in parts.items()
            if part not in told
        }
        own_parts, other_parts = (
            [side[part] for part in PLACING if part in side] for side in (values, {p: v for p, (v, _) in there.items()})
        )
        lacking = ~_any_filled(own_parts, table.num_rows) & _any_filled(other_parts, table.num_rows)
        if not lacking.any():
            continue
        nothing = pa.chunked_array([pa.repeat(pa.scalar("", pa.large_string()), table.num_rows)])
        for part, (value, columns) in there.items():
            mask = pa.array(lacking & _any_filled([value], table.num_rows))
            values[part] = pa.chunked_array([pc.if_else(mask, value, values.get(part, nothing)).combine_chunks()])
            fields[part] = " + ".join([*filter(None, [fields.get(part, "")]), *columns])
            used += columns
    if not used:
        return values, fields, []
    named = ", ".join(f'"{c}"' for c in used)
    return values, fields, [f"where a row has no other address, columns {named} are its address"]


def _addresses(table: pa.Table, columns: Collection[str], entity: str, plain: bool = False) -> _Addresses:
    """The addresses that headings tell apart: which one to part to column, the surest heading first. plain : also of which headings say nothing"""
    found: dict[tuple[frozenset[str], str], tuple[float, str]] = {}
    for column in table.column_names:
        headed, which = meanings(column, entity), which_address(column)
        part = max((f for f in headed if f in PARTS), key=lambda f: headed[f], default="")
        if (
            part
            and (which or plain)
            and column in columns
            and headed[part] >= max(_LEAST, *headed.values())
            and not is_second_line(column)
        ):
            found[which, part] = max(found.get((which, part), (0.0, column)), (headed[part], column), key=lambda x: x[0])
    out: _Addresses = {}
    for (which, part), (_, column) in found.items():
        out.setdefault(which, {})[part] = column
    return out


def _with_second_line(table: pa.Table, street: str, free: Collection[str]) -> tuple[pa.ChunkedArray, list[str]]:
    second = next((c for c in free if is_second_line(c) and which_address(c) == which_address(street)), "")
    values = table.column(street)
    return (beside(values, table.column(second), ", "), [street, second]) if second else (values, [street])


def _any_filled(columns: list[pa.ChunkedArray], n: int) -> NDArray[np.bool_]:
    some = np.zeros(n, bool)
    for column in columns:
        some |= is_filled(column)
    return some
