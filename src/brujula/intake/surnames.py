"""A family name that stands in two columns: both surnames of Spanish and Portuguese use, or the words in front of a Dutch one."""

from __future__ import annotations

import pyarrow as pa

from brujula.intake.headings import folded
from brujula.intake.streets import beside, worded

_SECOND = """apellido 2 | apellido2 | segundo apellido | 2 apellido | 2do apellido | 2o apellido | apellido segundo | apellido materno | ap materno | materno | surname 2 |
    surname2 | second surname | second last name | second family name | last name 2 | last name2 | family name 2 | segundo sobrenome | apelido 2 | ultimo sobrenome"""
_BEFORE = "tussenvoegsel | tussenvoegsels | tussenv | voorvoegsel | voorvoegsels | infix | name infix | surname prefix | last name prefix | family name prefix"


def joined(
    table: pa.Table, values: dict[str, pa.ChunkedArray], fields: dict[str, str], free: list[str]
) -> tuple[dict[str, pa.ChunkedArray], dict[str, str], list[str]]:
    """The values with the family name made of its own column and the one that holds the rest of it, where the list has such.

    free : columns that no field was found for
    Returns values, field to columns, and a note where something was joined.
    """
    if "family_name" not in fields or " + " in fields["family_name"]:
        return values, fields, []
    own = fields["family_name"]
    second = next((c for c in free if _is_headed(c, own, _SECOND)), "")
    before = next((c for c in free if _is_headed(c, own, _BEFORE)), "")
    whole = values["family_name"]
    if before:
        whole = beside(table.column(before), whole, " ")
    if second:
        whole = beside(whole, table.column(second), " ")
    used = [c for c in (before, own, second) if c]
    if len(used) == 1:
        return values, fields, []
    note = f"columns {', '.join(repr(c) for c in used)} read together as the family name".replace("'", '"')
    return values | {"family_name": whole}, fields | {"family_name": " + ".join(used)}, [note]


def _is_headed(column: str, own: str, wordings: str) -> bool:
    """Whether a heading is one of these, or one with words that the family name's own has, too: Segundo apellido alumno beside Primer apellido alumno."""
    plain, shared = folded(column).split(), set(folded(own).split())
    return any(
        plain == said or (plain[: len(said)] == said and shared.issuperset(plain[len(said) :]))
        for said in map(str.split, worded(wordings))
    )
