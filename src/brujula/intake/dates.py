"""A birth date that stands in several columns: its year, month and day apart."""

from __future__ import annotations

from collections.abc import Sequence

import pyarrow as pa
import pyarrow.compute as pc

from brujula.intake.headings import folded
from brujula.intake.streets import share_that_fits, worded

_FITS = 0.9
_PARTS = (
    (r"^\s*(?:18[5-9]|19\d|20\d)\d(?:\.0)?\s*$", "year | yyyy | yy | y | yr | jahr | ano | annee | anno | rok | jaar"),
    (r"^\s*0?(?:[1-9]|1[0-2])(?:\.0)?\s*$", "month | mm | mon | m | monat | mes | mois | mese | miesiac | maand"),
    (r"^\s*0?(?:[1-9]|[12]\d|3[01])(?:\.0)?\s*$", "day | dd | d | tag | dia | jour | giorno | dzien | dag"),
)
"""Year, month, day: what such a column holds, and the words for it."""
_BORN = "birth | b | dob | born | geburt | geburts | geb | nacimiento | nac | naissance | naiss | nascita | urodzenia | geboorte | nascimento | nasc"


def joined(
    table: pa.Table, values: dict[str, pa.ChunkedArray], fields: dict[str, str], free: Sequence[str]
) -> tuple[dict[str, pa.ChunkedArray], dict[str, str], list[str]]:
    """The values with the birth date made of columns of its year, month and day, where the list has all three.

    free : columns that no field was found for
    Returns values, field to columns, and a note where a date was joined.
    """
    own = fields.get("birth_date")
    parts = [next((c for c in [*free, *([own] if own else [])] if _is_part(table, c, n)), "") for n in range(3)]
    if not all(parts) or (own and own not in parts):
        return values, fields, []
    year, month, day = (pc.replace_substring_regex(pc.utf8_trim_whitespace(table.column(c)), r"\.0$", "") for c in parts)
    two = [pc.utf8_lpad(x, 2, "0") for x in (month, day)]
    whole = pc.binary_join_element_wise(year, *two, pa.scalar("-", pa.large_string()))
    known = pc.and_(pc.not_equal(month, ""), pc.not_equal(day, ""))
    # Of a date with a gap the year is what can be used.
    date = pc.if_else(pc.and_(known, pc.not_equal(year, "")), whole, year)
    note = f"columns {', '.join(repr(c) for c in parts)} read together as the birth date".replace("'", '"')
    return values | {"birth_date": date}, fields | {"birth_date": " + ".join(parts)}, [note]


def _is_part(table: pa.Table, column: str, part: int) -> bool:
    """Whether a column's heading speaks of a birth and of this part, and holds nothing else."""
    pattern, words = _PARTS[part]
    wordings = {f"{born}{word}" for born in worded(_BORN) for word in worded(words)}
    return bool(wordings & set(_run_together(folded(column)))) and share_that_fits(table.column(column), pattern) >= _FITS


def _run_together(plain: str) -> list[str]:
    """A heading run together, small words left out, and the same from behind: day of birth is birthday, ano de nacimiento nacimientoano."""
    words = [w for w in plain.split() if w not in ("of", "de", "di", "da", "date")]
    return ["".join(words), "".join(reversed(words))]
