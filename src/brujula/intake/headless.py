"""Lists without headings: whether what stands in their place is the first row of values."""

from __future__ import annotations

import re
from collections.abc import Collection

import pyarrow as pa
import pyarrow.compute as pc

from brujula.core.steps.patterns import matches
from brujula.intake.content import ENOUGH, SAMPLE
from brujula.intake.held import held_field, told_by
from brujula.intake.meanings import SURELY, meanings, surest
from brujula.tables.firm_words import legal_forms

_MAIL, _PHONE = r"[^@\s]+@[^@\s]+\.[^@\s]+", r"\+?(?:[\s().\-/]*\d){9,15}"
_NEVER_A_HEADING = re.compile(rf"(?i){_MAIL}|{_PHONE}|(https?://|www\.)\S+")
_TOLD, _LIKELY = ("city", "region", "postal_code", "country", "phone", "mobile", "email"), 0.55
_PLAINLY = ("person", "given_name")
"""What no heading is that stands over such: Bo Lind over names of people."""


def headings_are_values(table: pa.Table, among: Collection[str]) -> bool:
    """Whether no heading is known, and one is a mail address, a website, a phone number, a person's name over such, or a value of its column
    (School over schools and bands: there it is not known, either), or two are what their columns hold (a country over countries).

    among : those that are values of their columns
    """
    others = [h for h in table.column_names if h not in among]
    known = sum(surest(h) > SURELY for h in others)
    never = any(_NEVER_A_HEADING.fullmatch(h.strip()) for h in table.column_names)
    # Markus is Estonian for a remark, too.
    if known > never or _are_parts({_part_said(h) for h in others}):
        return False
    if never:
        return True
    alike = 2 * len(among)
    for heading, column in zip(table.column_names, table.columns, strict=True):
        if table.num_rows and alike < 2:
            alike += _is_alike(heading, column.combine_chunks())
    return alike >= 2


def _part_said(heading: str) -> str:
    """Which part of an address or way to reach somebody a heading of several words names: the town in Mail City, "" = none. A town may be Studio City, but no row has a zip of that kind, too."""
    found = {} if any(c.isdigit() for c in heading) else meanings(heading, "contact")
    return next((f for f in _TOLD if found.get(f, 0.0) > _LIKELY), "")


def _are_parts(told: set[str]) -> bool:
    """Whether headings name two parts of an address and more: towns are called Lake City, and counties Orme County, but nothing in a row Mail Zip."""
    return len(told - {""}) > 1 and not told <= {"", "city", "region", "country"}


def _is_alike(heading: str, values: pa.Array) -> int:
    """How much a heading is what the values below it are: 1 = it may be, 2 = it is one of them."""
    if any(_holds(heading, values, pattern) for pattern in (_MAIL, _PHONE)):
        return 2
    held = told_by(values)
    if not held or held not in (read(pa.array([heading] * ENOUGH, pa.large_string())) for read in (told_by, held_field)):
        return 0
    if held == "firm":
        return 1 + (re.sub(r"[^\w\s]", "", heading.lower()).rpartition(" ")[2] in legal_forms())
    # A year may stand over numbers like it; 98-637 over codes is no heading.
    return 1 + (held in _PLAINLY or (held == "postal_code" and not re.fullmatch(r"\d{4}", heading.strip())))


def _holds(heading: str, values: pa.Array, pattern: str) -> bool:
    """Whether a mail address or a number stands within the heading, and within most of the values below it."""
    return (
        bool(re.search(pattern, heading)) and pc.mean(matches(values.slice(0, SAMPLE), pattern).cast(pa.float64())).as_py() > 0.5
    )
