"""Mail addresses and phone numbers that share a column: how to reach somebody, whichever way there is."""

from __future__ import annotations

import pyarrow as pa
import pyarrow.compute as pc

from brujula.core.steps.patterns import matches, replaced
from brujula.intake.content import ENOUGH, filled

_MAIL = r"[^\s@,;:|/<>()\[\]\"]+@[^\s@,;:|/<>()\[\]\"]+"
_SAID = r"(?i)\b(mailto|e-?mail|mail|e)\b\s*[:.]"
_AROUND = r"^[\s,;:|/<>)\-]+|[\s,;:|/<>(\-]+$"
_NUMBER = r"^(\pL{1,8}\.?:?\s*)?[+(]?\d(\D{0,3}\d){5,}[^@]*$"
_BOTH, _FEW = 0.1, 3  # share of the cells that has a mail, and that has a number, at least, and how many
_ALL = 0.8  # share of them that has either, where the heading says neither


def apart(
    table: pa.Table, values: dict[str, pa.ChunkedArray], fields: dict[str, str], free: list[str]
) -> tuple[dict[str, pa.ChunkedArray], dict[str, str], list[str]]:
    """The values with mails and phones of their own, where one column holds the ones and the others, and there is none for one of them.

    free : columns that no field was found for
    Returns values, field to columns, and a note where a column was taken apart. What is neither stays where the column went, to be told.
    """
    own = [f for f, other in (("email", "phone"), ("phone", "email")) if f in fields and other not in fields]
    for column in [fields[f] for f in own] if own or "email" in fields else free:
        if column not in table.column_names:
            continue
        cells = table.column(column).combine_chunks()
        mail, phone = _parts(cells)
        n_filled, *found = (_n_filled(text) for text in (cells, mail, phone))
        rest = pc.and_(pc.equal(mail, ""), pc.equal(phone, ""))
        n_rest = _n_filled(cells.filter(rest))
        if min(found) < max(_FEW, _BOTH * n_filled) or (column in free and n_rest > (1 - _ALL) * n_filled):
            continue
        both = {"email": mail, "phone": phone}
        kept = "phone" if own == ["phone"] else "email"
        both[kept] = pc.if_else(rest, cells, both[kept])
        note = f'column "{column}" taken apart into email, phone'
        return values | {f: pa.chunked_array([v]) for f, v in both.items()}, fields | dict.fromkeys(both, column), [note]
    return values, fields, []


def is_reached_by(values: pa.Array) -> bool:
    """Whether a column's values are mails and phone numbers, and hardly anything else."""
    text = filled(values)
    rest = _beside_mail(text)
    plain = pc.or_(pc.equal(rest, ""), matches(rest, _NUMBER))
    return len(text) >= ENOUGH and bool(pc.mean(plain.cast(pa.float64())).as_py() >= _ALL)


def _n_filled(cells: pa.Array) -> int:
    return int(pc.sum(pc.not_equal(pc.utf8_trim_whitespace(cells), "")).as_py() or 0)


def _beside_mail(cells: pa.Array) -> pa.Array:
    return replaced(replaced(replaced(cells, _MAIL, " "), _SAID, " "), _AROUND, "")


def _parts(cells: pa.Array) -> tuple[pa.Array, pa.Array]:
    """The mail of each cell, and the number that stands beside it or alone, "" = none; with more than these in it a cell with a mail stays whole."""
    rest = _beside_mail(cells)
    phone = pc.if_else(matches(rest, _NUMBER), rest, "")
    only = pc.coalesce(pc.struct_field(pc.extract_regex(cells, f"(?P<mail>{_MAIL})"), "mail"), "")
    whole = pc.or_(pc.equal(phone, ""), pc.greater(pc.count_substring(cells, "@"), 1))
    return pc.if_else(pc.equal(only, ""), "", pc.if_else(whole, cells, only)), phone
