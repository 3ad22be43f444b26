"""A street that stands in several columns: its number apart, the unit on a second line."""

from __future__ import annotations

from collections.abc import Iterable

import pyarrow as pa
import pyarrow.compute as pc

from brujula.intake.headings import folded

_SAMPLE = 2_000
_FITS = 0.6
_NUMBER = r"^\s*\d{1,5}\s?[a-zA-Z]?([-/]\s?\d{1,5}\s?[a-zA-Z]?)?\s*$"
_BEFORE = (
    "street number",
    "street no",
    "house number",
    "house no",
    "house num",
    "street num",
    "st no",
    "st number",
    "hse no",
    "civic number",
    "building number",
    "building",
    "bldg",
    "bldg no",
    "house",
    "housenumber",
    "addr housenumber",
    "numero voie",
    "numero de voie",
    "no",
    "number",
    "numero rue",
)
_BEHIND = """hausnummer | hausnr | haus nr | hnr | nr | huisnummer | huisnr | numer domu | nr domu | numero civico | civico | n civico | n | numero | num |
    numero exterior | nr budynku | numer budynku | no exterior | num exterior | husnummer | gatunummer | numero da rua"""
_ANY_NUMBER = ("n", "no", "number", "nr", "numero", "num", "civico", "building", "bldg", "house")
_SECOND = """address line 2 | address 2 | address2 | addr 2 | addr2 | line 2 | street line 2 | street 2 | street2 | address line2 | unit | unit number |
    apartment | apt | apt # | unit # | suite # | apt no | apt number | apartment number | suite | flat | adresszusatz | adresse 2 | zusatz | complement | complement d adresse | complemento | piso | numero interior |
    toevoeging | toev | huisnummertoevoeging | adresse ligne 2 | ligne 2 | linea 2 | zeile 2 | adresszeile 2 | direccion 2 | linha 2 | riga 2 | numer lokalu | nr lokalu | billing street 2 | mailing street 2 | mailing address line 2"""


def joined(
    table: pa.Table, values: dict[str, pa.ChunkedArray], fields: dict[str, str], free: list[str]
) -> tuple[dict[str, pa.ChunkedArray], dict[str, str], list[str]]:
    """The values with the street made of its own column, a column of house numbers and one of units, where the list has them.

    free : columns that no field was found for
    Returns values, field to columns, and a note where something was joined.
    """
    if "street" not in fields:
        return values, fields, []
    headed = {column: folded(column) for column in free}
    # Streets that have their numbers need no others: "No" may count the rows, a house number may stand twice.
    numbers = [c for c in free if share_that_fits(table.column(c), _NUMBER) >= _FITS]
    if share_that_fits(values["street"], r"\d") > 1 - _FITS:
        numbers = [c for c in numbers if headed[c] not in _ANY_NUMBER and not _holds(values["street"], table.column(c))]
    before = next((c for c in numbers if _is_headed(headed[c], _BEFORE)), "")
    behind = "" if before else next((c for c in numbers if _is_headed(headed[c], worded(_BEHIND))), "")
    lines = tuple(f" {w}" for w in worded(_SECOND) if w.endswith("2"))
    second = next((c for c, h in headed.items() if h in worded(_SECOND) or h.endswith(lines)), "")
    whole = values["street"]
    if before:
        whole = beside(table.column(before), whole, " ")
    if behind:
        whole = beside(whole, table.column(behind), " ")
    if second:
        whole = beside(whole, table.column(second), ", ")
    used = [c for c in (before, fields["street"], behind, second) if c]
    if len(used) == 1:
        return values, fields, []
    note = f"columns {', '.join(repr(c) for c in used)} read together as the street".replace("'", '"')
    return values | {"street": whole}, fields | {"street": " + ".join(used)}, [note]


def _is_headed(heading: str, wordings: Iterable[str]) -> bool:
    """Whether a folded heading is one of these, or begins or ends with one of several words."""
    padded = f" {heading} "
    return any(heading == w or (" " in w and (padded.startswith(f" {w} ") or padded.endswith(f" {w} "))) for w in wordings)


def is_house_number(heading: str) -> bool:
    """Whether a folded heading says that a column holds the numbers of houses."""
    return _is_headed(heading, _BEFORE) or _is_headed(heading, worded(_BEHIND))


def _holds(whole: pa.ChunkedArray, parts: pa.ChunkedArray) -> bool:
    """Whether most cells hold what stands in another column beside them."""
    pairs = zip(whole.slice(0, _SAMPLE).to_pylist(), parts.slice(0, _SAMPLE).to_pylist(), strict=True)
    found = [part.strip() in text for text, part in pairs if part and part.strip()]
    return sum(found) > (1 - _FITS) * len(found)


def worded(listed: str) -> set[str]:
    """The headings of a list with | between."""
    return {h.strip() for h in listed.split("|")}


def share_that_fits(values: pa.ChunkedArray, pattern: str) -> float:
    """Share of a column's filled values that fit a pattern; 0 for a column without any."""
    text = values.slice(0, _SAMPLE)
    text = text.filter(pc.not_equal(pc.utf8_trim_whitespace(text), ""))
    return float(pc.mean(pc.match_substring_regex(text, pattern).cast(pa.float64())).as_py()) if len(text) else 0.0


def beside(first: pa.ChunkedArray, second: pa.ChunkedArray, between: str) -> pa.ChunkedArray:
    """Two columns as one; what is blank on one side leaves the other as it is."""
    texts = [pc.utf8_trim_whitespace(x).cast(pa.large_string()) for x in (first, second)]
    both = pc.binary_join_element_wise(*texts, pa.scalar(between, pa.large_string()))
    blank = [pc.equal(x, "") for x in texts]
    return pc.if_else(blank[0], texts[1], pc.if_else(blank[1], texts[0], both))
