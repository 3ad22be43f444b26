"""A street that stands in several columns: its number apart, the unit on a second line."""

from __future__ import annotations

import re
from collections.abc import Iterable
from functools import cache, reduce
from itertools import takewhile

import pyarrow as pa
import pyarrow.compute as pc

from brujula.intake.content import NAMED, SAMPLE, counts_on, filled, names_in
from brujula.intake.headings import folded, which_address
from brujula.tables.places import street_short, street_synonyms

_FITS = 0.6
_MOSTLY = 0.8
_NUMBER = r"^\s*\d{1,5}\s?[a-zA-Z]?([-/]\s?\d{1,5}\s?[a-zA-Z]?)?\s*$"
_BEFORE = """street no | house no | st no | hse no | civic no | building no | building | bldg | bldg no | house | housenumber | addr housenumber | addr no |
    address no | numero voie | numero de voie | no voie | no | numero rue"""
_HOUSES = "house name no | house name number | house name or number | house name and number | house no name | house name | building name | building name number | building name no | building number name | building number or name"
"""Over names of houses and numbers alike."""
_BEHIND = """hausnummer | hausnr | haus nr | hs nr | hnr | nr | huisnummer | huisnr | huisnummer toevoeging | numer domu | nr domu | cislo p | cislo popisne | cislo domu | numero civico | civico | n civico | n | numero |
    n civ | num civico | numero exterior | no ext | num ext | n ext | nr budynku | numer budynku | no exterior | husnummer | gatunummer | numero da rua"""
_ANY_NUMBER = ("n", "no", "nr", "numero", "civico", "building", "bldg", "house")
_ANY_LANGUAGE = ("n", "no", "numero")
_SECOND = """address line 2 | address 2 | add 2 | address2 | addr 2 | addr2 | line 2 | street line 2 | street 2 | street2 | address line2 | unit | unit no |
    apartment | apt | apt no | suite no | apartment no | suite | flat | adresszusatz | adresse 2 | zusatz | complement | complement d adresse | complemento | compl | piso | numero interior | no int | num int | n int | app |
    toevoeging | toev | huisnummertoevoeging | adresse ligne 2 | ligne 2 | linea 2 | zeile 2 | adresszeile 2 | direccion 2 | linha 2 | riga 2 | numer lokalu | nr lokalu | nr lok | nr mieszkania | billing street 2 | mailing street 2 | mailing address line 2"""
_SAID = frozenset(
    "bl block bloque bloco bloc blok sc stiege top stair staircase scala escalera esc klatka et ap apart int interno".split()
)
"""Words for what lies between the street and somebody's door that stand before its number: bl. B2, sc. A."""
_DOORS = _SAID | frozenset(
    "floor etage etaj planta andar piano emelet door side dor tur dvere puerta pta porta ajto apartament lakas".split()
)
_SHORT = r"^[\pL\d./ªº-]{1,6}( [\pL\d.]{1,4})?$"
_ADDED = "zusatz"
"""What is added to a name, or to the street it stands beside."""
_NUMBER_WORDS = ("number", "num", "nbr", "#")
_OF_TYPES = frozenset("type typ tipo toponimo dug suffix sfx sufx suf".split())
_OF_STREETS = frozenset(
    "st str street road rd addr address house thoroughfare strasse voie via viale calle rue rua logradouro toponimo ulica straat".split()
)
_OF_SIDES = frozenset(
    "dir direction directional predir postdir predirection postdirection prefix pre suffix sfx sufx suf post quadrant".split()
)


_SECOND_LINE = frozenset(("second", "line", "address"))


def joined(
    table: pa.Table, values: dict[str, pa.ChunkedArray], fields: dict[str, str], free: list[str]
) -> tuple[dict[str, pa.ChunkedArray], dict[str, str], list[str]]:
    """The values with the street made of its own column, those of its type and direction, of house numbers and of units, where the list has them.

    Type and direction come where their column stands, before the street's or behind it.
    free : columns that no field was found for
    Returns values, field to columns, and a note where something was joined.
    """
    if "street" not in fields:
        return values, fields, []
    headed = {column: _plain(column) for column in free}
    # Streets that have their numbers need no others: "No" may count the rows, a house number may stand twice.
    numbers = [c for c in free if share_that_fits(table.column(c), _NUMBER) >= _FITS]
    numbers = [c for c in numbers if headed[c] not in _ANY_NUMBER or not counts_on(table.column(c))]
    if share_that_fits(values["street"], r"\d") > 1 - _FITS:
        numbers = [c for c in numbers if headed[c] not in _ANY_NUMBER and not _holds(values["street"], table.column(c))]
    number = next((c for words in (_BEFORE, _BEHIND) for c in numbers if _is_headed(headed[c], worded(words))), "")
    which = which_address(fields["street"])
    # Res_Num and Res_Unit beside Res_Street
    its = {c: " ".join(w for w in headed[c].split() if w not in which) for c in free if which and which_address(c) == which}
    if not number and share_that_fits(values["street"], r"\d") < 1 - _FITS:
        number = next((c for c in numbers if its.get(c) == "no"), "")
    seconds = (c for c in free if is_second_line(c) or its.get(c) in worded(_SECOND))
    # A Unit may be a department.
    seconds = (c for c in seconds if not headed[c].endswith("unit") or share_that_fits(table.column(c), r"^\D{3,}$") < _FITS)
    seconds = (c for c in seconds if not _has_a_first(c, fields["street"], table.column_names))
    seconds = (c for c in seconds if headed[c] != _ADDED or abs(_at(table, c) - _at(table, fields["street"])) <= 2)
    second = next((c for c in seconds if not which or which_address(c) in (which, frozenset())), "")
    order = [c for c in table.column_names if c == fields["street"] or (c in free and is_part(c, table.column(c)))]
    at = order.index(fields["street"]) if fields["street"] in order else len(order)
    parts = [c for c in order if c != fields["street"] and not _holds(values["street"], table.column(c))]
    ahead, after = ([c for c in parts if (order.index(c) < at) is side] for side in (True, False))
    houses = (c for c in free if headed[c] in worded(_HOUSES) and names_in(table.column(c).combine_chunks())[0] < NAMED)
    house = next((c for c in houses if not _holds(values["street"], table.column(c))), "")
    house = "" if number else house
    ahead = [*filter(None, [house]), *ahead]
    if number:
        ahead, after = (
            ([number, *ahead], after)
            if _is_before(number, headed[number], fields["street"], table)
            else (ahead, [*after, number])
        )
    whole = reduce(
        lambda made, c: beside(_as_line(table.column(c)) if c == house else table.column(c), made, " "),
        reversed(ahead),
        values["street"],
    )
    whole = reduce(lambda made, c: beside(made, table.column(c), " "), after, whole)
    # Line 3 may be the town's, which has a column of its own.
    placed = [values[f] for f in ("city", "region", "country", "postal_code") if f in values]
    further = [second, *_lines_behind(second, free)] if second else []
    for line in further:
        whole = beside(whole, table.column(line) if line == second else but(table.column(line), placed), ", ")
    doors = [
        c
        for c in free
        if is_of_a_door(c) and c not in (*ahead, *after, *further) and share_that_fits(table.column(c), _SHORT) > _MOSTLY
    ]
    # A Floor or a Top by itself may be anything's.
    doors = [c for c in doors if not _holds(values["street"], table.column(c))] if number or len(doors) > 1 else []
    for door in doors:
        whole = beside(whole, _with_its_word(table.column(door), headed[door]), ", ")
    used = [*ahead, fields["street"], *after, *further, *doors]
    if len(used) == 1:
        return values, fields, []
    note = f"columns {', '.join(repr(c) for c in used)} read together as the street".replace("'", '"')
    return values | {"street": whole}, fields | {"street": " + ".join(used)}, [note]


def _at(table: pa.Table, column: str) -> int:
    """Which column it is; -2 = none of the list's, far from any other."""
    return table.column_names.index(column) if column in table.column_names else -2


def _as_line(houses: pa.ChunkedArray) -> pa.ChunkedArray:
    """Names of houses (Rose Cottage) with a comma behind, as they stand before a street; numbers as they are."""
    return pc.replace_substring_regex(pc.utf8_trim_whitespace(houses), r"^(\D.*[^,])$", r"\1,")


def _is_before(number: str, heading: str, street: str, table: pa.Table) -> bool:
    """Whether house numbers stand before the street: as the language of their heading has it or, where that may be several, as the columns stand."""
    if heading in _ANY_LANGUAGE and street in table.column_names:
        return bool(table.column_names.index(number) < table.column_names.index(street))
    return _is_headed(heading, worded(_BEFORE)) or not _is_headed(heading, worded(_BEHIND))


def _is_headed(heading: str, wordings: Iterable[str]) -> bool:
    """Whether a folded heading is one of these, or begins or ends with one of several words."""
    padded = f" {heading} "
    return any(heading == w or (" " in w and (padded.startswith(f" {w} ") or padded.endswith(f" {w} "))) for w in wordings)


def _plain(heading: str) -> str:
    """A heading folded, its words for a number as one."""
    return " ".join("no" if word in _NUMBER_WORDS else word for word in folded(heading).split())


def is_second_line(heading: str) -> bool:
    """Whether a heading is of the second line of an address."""
    plain = _plain(heading)
    lines = tuple(f" {w}" for w in worded(_SECOND) if w.endswith("2"))
    return plain in worded(_SECOND) or plain.endswith(lines) or set(plain.split()) >= _SECOND_LINE


def _lines_behind(second: str, free: list[str]) -> list[str]:
    """The columns of the third line of an address and those behind it, by the heading of the second."""
    plain, headed = folded(second), {folded(c): c for c in free}
    numbered = [plain[: plain.rindex("2")] + str(i) + plain[plain.rindex("2") + 1 :] for i in range(3, 7)] if "2" in plain else []
    return [headed[wanted] for wanted in takewhile(headed.__contains__, numbered)]


def but(line: pa.ChunkedArray, placed: list[pa.ChunkedArray]) -> pa.ChunkedArray:
    """A column's cells, blank where they say what one of these columns says."""
    text, *told = (pc.utf8_lower(pc.utf8_trim_whitespace(c)) for c in (line, *placed))
    again = reduce(pc.or_, (pc.equal(text, other) for other in told), pa.scalar(False))
    return pc.if_else(again, pa.scalar("", line.type), line)


def _has_a_first(second: str, street: str, headings: Iterable[str]) -> bool:
    """Whether the first line that a second one goes with is another column than the street: Business Street over Business Street 2."""
    first = folded(second).removesuffix("2").strip()
    return first != folded(street) and any(folded(h) == first for h in headings if h != second)


def is_house_number(heading: str) -> bool:
    """Whether a heading says that a column holds the numbers of houses."""
    return _is_headed(_plain(heading), worded(_BEFORE) | worded(_BEHIND))


def is_house(heading: str) -> bool:
    """Whether a heading says that a column holds names of houses and numbers."""
    return _plain(heading) in worded(_HOUSES)


def is_of_a_door(heading: str) -> bool:
    """Whether a heading says that a column holds a block, a staircase, a floor or a door."""
    words = [w for w in _plain(heading).split() if w not in ("no", "nr")]
    return len(words) == 1 and words[0] in _DOORS


def _with_its_word(doors: pa.ChunkedArray, heading: str) -> pa.ChunkedArray:
    """Bare numbers and letters of blocks and staircases with the word for them, as they are written in one line."""
    word = next((w for w in heading.split() if w in _SAID), "")
    text = pc.utf8_trim_whitespace(doors)
    return pc.replace_substring_regex(text, r"^(\d{1,4}\pL?|\pL\d{0,3})$", rf"{word}. \1") if word else text


def is_part(heading: str, values: pa.Array | pa.ChunkedArray) -> bool:
    """Whether a column holds what a street is, an avenue or a lane, or the side of the town it lies on. A ticket's type is none: General is a street's, too."""
    words = set(folded(heading).split()) - which_address(heading)
    if words - _OF_TYPES - _OF_SIDES and words.isdisjoint(_OF_STREETS):
        return False
    types, sides = _words_of_streets()
    return any(words & said and _share_among(values, known) > _MOSTLY for said, known in ((_OF_TYPES, types), (_OF_SIDES, sides)))


@cache
def _words_of_streets() -> tuple[frozenset[str], frozenset[str]]:
    """Words for kinds of streets, and for sides of the compass."""
    alike = street_synonyms()
    sides = frozenset({"n", "s", "e", "w", "ne", "nw", "se", "sw"})
    known = {*alike, *alike.values(), *street_short(), *street_short().values()}
    of_sides = sides | {word for word, side in alike.items() if side in sides}
    return frozenset(known - of_sides), of_sides


def _share_among(column: pa.Array | pa.ChunkedArray, known: frozenset[str]) -> float:
    """Share of a column's filled values that are one of these words."""
    counted = [(c["values"], c["counts"]) for c in pc.value_counts(filled(column)).to_pylist()]
    found = sum(count for value, count in counted if folded(value) in known)
    return float(found / max(sum(count for _, count in counted), 1))


def _holds(whole: pa.ChunkedArray, parts: pa.ChunkedArray) -> bool:
    """Whether most cells hold what stands in another column beside them: a number, or words of theirs (N is in no Neil Street)."""

    def words(text: str) -> str:
        return f" {' '.join(re.findall(r'[^ .,]+', text)).casefold()} "

    pairs = zip(whole.slice(0, SAMPLE).to_pylist(), parts.slice(0, SAMPLE).to_pylist(), strict=True)
    told = [(text, part.strip()) for text, part in pairs if part and part.strip()]
    found = [part in text if part.isdigit() else words(part) in words(text) for text, part in told]
    return sum(found) > (1 - _FITS) * len(found)


def worded(listed: str) -> set[str]:
    """The headings of a list with | between."""
    return {h.strip() for h in listed.split("|")}


def share_that_fits(values: pa.ChunkedArray, pattern: str) -> float:
    """Share of a column's filled values that fit a pattern; 0 for a column without any."""
    text = filled(values)
    return float(pc.mean(pc.match_substring_regex(text, pattern).cast(pa.float64())).as_py()) if len(text) else 0.0


def beside(first: pa.ChunkedArray, second: pa.ChunkedArray, between: str) -> pa.ChunkedArray:
    """Two columns as one; what is blank on one side leaves the other as it is."""
    texts = [pc.utf8_trim_whitespace(x).cast(pa.large_string()) for x in (first, second)]
    both = pc.binary_join_element_wise(*texts, pa.scalar(between, pa.large_string()))
    blank = [pc.equal(x, "") for x in texts]
    return pc.if_else(blank[0], texts[1], pc.if_else(blank[1], texts[0], both))
