"""A postal address, street to country, cleaned, compared and replaced as a block."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, NamedTuple

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Batch, Column, Keys, Texts
from brujula.core.kernels import phrases as kernel
from brujula.core.kernels.streets import ARTICLE, NUMERAL, TYPE, UNIT_MARKER, parse_streets
from brujula.core.kernels.words import NUMBER, WORD
from brujula.core.kind import Compared, Comparison, Example, Identity, Kind, Level
from brujula.core.steps import one_cell, phrases, street_cells
from brujula.core.steps.distinct import distances
from brujula.core.steps.patterns import captured, matches, replaced
from brujula.core.steps.placeholders import NOTHING, PLACEHOLDERS
from brujula.core.steps.sharing import Counts, shares
from brujula.core.steps.text import (
    fold,
    hash_values,
    join_keys,
    letters,
    letters_for_digits,
    of_records,
    unlike_letters,
    without,
    word_set,
)
from brujula.tables.places import (
    TOWN_WORDS,
    by_the_river,
    city_table,
    country_of,
    joined,
    places,
    region_table,
    state_country_table,
    state_table,
    street_short,
    street_synonyms,
    without_river,
)

_UNITS = [
    "suite",
    "ste",
    "apt",
    "apartment",
    "unit",
    "room",
    "rm",
    "floor",
    "fl",
    "flat",
    "dept",
    "bldg",
    "building",
    "no",
    "nr",
    "num",
    "numero",
    "int",
    "interior",
    "piso",
    "apto",
    "ap",
    "lok",
    "wohnung",
    "whg",
    "bus",
    "bte",
]
_ARTICLES = "the of de del la el los las les le du des d da do dos di der die das y et und".split()
_SIDES = ("n", "s", "e", "w", "ne", "nw", "se", "sw")
_S_DIFFERS, _S_ELSEWHERE, _S_STREET, _S_NEAR, _S_UNIT, _S_CLOSE, _S_SAME = range(7)
_P_COUNTRY, _P_DIFFERS, _P_CODES, _P_LAND, _P_NEAR, _P_TOWNS, _P_CITY, _P_CODE, _P_BOTH = range(9)


class Addresses(NamedTuple):
    """Addresses of n records; keys are 0 where blank.

    state : the region where it is one that has no others in it or above it;  in_town : how many records name the town
    city_letters, street_letters : which letters they are written in (`text.letters`)
    city_texts, city_written : towns by the name the tables have for them, and as they are written, folded
    """

    street: phrases.Phrases
    number: Keys
    unit: Keys
    city_codes: NDArray[np.int32]
    city_texts: Texts
    city_written: Texts
    city: Keys
    city_short: Keys
    city_first: Keys
    postal: Keys
    postal_area: Keys
    postal_shape: Keys
    region: Keys
    state: Keys
    country: Keys
    street_key: Keys
    street_shares: NDArray[np.float32]
    city_shares: NDArray[np.float32]
    postal_shares: NDArray[np.float32]
    in_town: NDArray[np.int32]
    city_letters: NDArray[np.int8]
    street_letters: NDArray[np.int8]


_DISTRICT = r"(?i)\s+(cedex|bezirk|sector|district)?\s*\d{1,2}\s*(e|er|[èe]me|th|st|nd|rd|\.)?(\s+arr\S*)?\s*$|\s+cedex\s*$|\s+(?-i:[NSEW][CEW]?\d{1,2}[A-Z]?)\s*$"
"""A number behind a town is one of its districts: Paris 15e, Praha 1, London W1, Lyon Cedex 03."""
_WITH_DISTRICTS = frozenset(
    """berlin hamburg munchen muenchen koln koeln frankfurt stuttgart dusseldorf duesseldorf leipzig dortmund essen bremen dresden hannover nurnberg
    nuernberg duisburg bochum wuppertal bielefeld bonn munster muenster mannheim karlsruhe augsburg wiesbaden aachen kiel halle magdeburg freiburg mainz erfurt
    lubeck luebeck rostock kassel hagen potsdam saarbrucken heidelberg darmstadt wien graz linz salzburg innsbruck zurich zuerich basel bern praha brno warszawa
    krakow budapest wroclaw gdansk munich cologne nuremberg vienna prague warsaw""".split()
)


Table = Callable[[], tuple[pa.Array, pa.Array]]


def _mapped(plain: pa.Array, column: Column, table: Table, known_only: bool = False) -> tuple[Texts, Keys]:
    """Standard texts of a column's values, through a table of synonyms, and their keys per record.

    plain : the values' words run together;  known_only : what the table does not know gets no key
    """
    words, meanings = table()
    at = pc.index_in(plain, value_set=words)
    meant = meanings.take(at) if len(plain) else plain
    texts = Texts.of(pc.fill_null(meant, "") if known_only else pc.coalesce(meant, plain))
    return texts, of_records(hash_values(texts), column)


def country_codes(values: pa.ChunkedArray) -> pa.ChunkedArray:
    """ISO 3166 code of each country name or code; blank where it is none known."""
    plain = values.combine_chunks().dictionary_encode()
    plain = plain.combine_chunks() if isinstance(plain, pa.ChunkedArray) else plain
    codes = pc.fill_null(country_of(joined(Texts.of(plain.dictionary))), "")
    return pa.chunked_array([codes.take(plain.indices)])


def _countries(country: Column, plain_region: pa.Array, region: Column) -> Keys:
    """Keys of the countries of records: those they name, else the one that has such a state."""
    named = hash_values(Texts.of(pc.fill_null(country_of(joined(country.values)), "")))
    given = of_records(named, country)
    return np.where(given == 0, _mapped(plain_region, region, state_country_table, known_only=True)[1], given)


def parts_of(values: pa.ChunkedArray, towns: pa.ChunkedArray | None = None) -> tuple[NDArray[np.bool_], dict[str, pa.Array]]:
    """Which values hold more of an address than a street, and their street, city, region, postal code and country (null = none).

    towns : those that other records name
    """
    coded = pc.utf8_trim_whitespace(values.cast(pa.large_string())).combine_chunks().dictionary_encode()
    coded = coded.combine_chunks() if isinstance(coded, pa.ChunkedArray) else coded
    names = pa.array([], pa.large_string()) if towns is None else pc.unique(pc.drop_null(towns.cast(pa.large_string())))
    whole, parts = one_cell.read(coded.dictionary, lambda: places(names), len(names) > 0)
    return whole[coded.indices.to_numpy()], {part: found.take(coded.indices) for part, found in parts.items()}


class PostalAddress(Kind):
    """Street words in several languages, house number, unit, city by any of its names, postal code, region, country."""

    name = "postal_address"
    parts = ("street", "city", "region", "postal_code", "country")
    headings = {
        "street": """street | line 1 | line1 | address line1 | address | address line 1 | street address | address 1 | addr | addr1 | mailing address |
            strasse | strasse nr | strasse und hausnummer | adresse | anschrift | calle | direccion | domicilio |
            rue | adresse 1 | rua | endereco | logradouro | via | indirizzo | straat | adres | ulica | billing
            street | mailing street | street line | street 1 | business address | address street | street and number | strasse hausnummer | straatnaam | street name | strasse hausnr | via e numero | calle y numero | adres ulica | ulica i numer | adres zamieszkania | straat en huisnummer | postal address | full address | morada | postanschrift | anschrift""",
        "city": """city | town | municipality | locality | place | location | sitz | gemeinde | township | ort | stadt | ciudad | localidad | poblacion | municipio | ville |
            commune | cidade | citta | comune | plaats | stad | woonplaats | miasto | miejscowosc | city town | cty | ortschaft | plaatsnaam | localite | localidade | gemeente | gmina | municipality | ciudad poblacion | localita | lokalitat |
            billing city | mailing city | wohnort | suburb""",
        "region": """state | region | province | county | state province | county state | state region | prov | bundesland |
            land kreis | estado | provincia | comunidad | departement | uf | regione | provincie | wojewodztwo | st
            | mailing state | kanton | department | stan | wojewodztwo | landkreis | provincia estado | state code | prov state""",
        "postal_code": """postal code | postcode | zip | zip code | zipcode | zip postcode | zip postal code | postal | plz |
            postleitzahl | codigo postal | cp | c p | code postal | cep | cap | postcode plaats | kod pocztowy |
            mailing zip | post code | eircode | kod | plz ort code | zipcode | pincode | pin code | postnummer | pc""",
        "country": """country | country code | nation | land code | land | pais | pays | paese | country region | staat | country
            name""",
    }
    comparisons = (
        Comparison(
            "street",
            (
                Level("different", "differs", 0.13, 0.9955),
                Level("the same in another place", "differs", 0.008, 0.002, unit=True),
                Level("other number", "partial", 0.02, 0.002, unit=True),
                Level("similar street", "partial", 0.03, 0.0004, unit=True),
                Level("other unit", "close", 0.02, 0.0002, rare=True, unit=True),
                Level("spelled differently", "close", 0.11, 0.00008, rare=True, unit=True),
                Level("same", "same", 0.69, 0.00015, rare=True, unit=True),
            ),
        ),
        Comparison(
            "place",
            (
                Level("another country", "differs", 0.002, 0.35),
                Level("another place", "differs", 0.03, 0.58),
                Level("another postal code of the region", "partial", 0.005, 0.005, unit=True),
                Level("same country", "partial", 0.03, 0.10, unit=True),
                Level("same region", "partial", 0.03, 0.045, unit=True),
                Level("another town of the postal code", "close", 0.004, 0.0004, unit=True),
                Level("same city", "close", 0.40, 0.02, rare=True, unit=True),
                Level("same postal code", "close", 0.02, 0.0005, rare=True, unit=True),
                Level("same place", "same", 0.52, 0.0015, rare=True, unit=True),
            ),
        ),
    )
    examples = (
        Example({"city": "Vtória"}, {"city": "Vitória"}, {"place": "close"}),
        Example(
            {"street": "12 North Mill Street, Suite 40", "city": "Saint Paul"},
            {"street": "12 N. Mill St #40", "city": "St. Paul"},
            {"street": "same", "place": "close"},
        ),
        Example({"street": "Weststraße 113"}, {"street": "Weststr. 113"}, {"street": "same"}),
        Example({"street": "Weststraße113"}, {"street": "Weststr. 113"}, {"street": "same"}),
        Example({"street": "12 Mill St"}, {"street": "14 Mill St"}, {"street": "partial"}),
        Example({"street": "12 N Mill St"}, {"street": "12 South Mill Street"}, {"street": "partial"}),
        Example({"street": "12 Saint Ann Rd"}, {"street": "12 St. Ann Road"}, {"street": "same"}),
        Example({"street": "Avenida de la Paz 5 b"}, {"street": "Av. Paz, 5B"}, {"street": "same"}),
        Example({"street": "12 Mill St", "city": "Orme"}, {"street": "12 Mill St", "city": "Pinecrest"}, {"street": "differs"}),
        Example({"street": "Calle Larios, 18"}, {"street": "C/ Larios 18"}, {"street": "same"}),
        Example({"city": "München", "country": "Germany"}, {"city": "Munich", "country": "DE"}, {"place": "close"}),
        Example({"city": "Orme a. d. Saale"}, {"city": "Orme an der Saale"}, {"place": "close"}),
        Example(
            {"street": "12 CEDAR HOLW", "city": "Orme Fls"},
            {"street": "12 Cedar Hollow", "city": "Orme Falls"},
            {"street": "same", "place": "close"},
        ),
        Example({"street": "12 Hill St"}, {"street": "12 Lake St"}, {"street": "differs"}),
        Example({"city": "תל אביב"}, {"city": "Tel Aviv"}, {"place": "blank"}),
        Example({"city": "Portland", "region": "OR"}, {"city": "Portland", "region": "Maine"}, {"place": "differs"}),
        Example(
            {"street": "12 Mill Street, Suite 4, Orme, TX 75272, USA"},
            {"street": "12 Mill St #4", "city": "Orme", "postal_code": "75272"},
            {"street": "same", "place": "same"},
        ),
        Example({"city": "Orme", "postal_code": "85093"}, {"city": "Orme", "postal_code": "LS1 3FS"}, {"place": "differs"}),
        Example({"street": "Weststraße 113, 80331 München"}, {"street": "Weststr. 113", "city": "Munich"}, {"place": "close"}),
        Example({"postal_code": "55101-2201"}, {"postal_code": "55101"}, {"place": "close"}),
    )

    def clean(self, column: Column) -> Column:
        """Placeholders are blank."""
        return without(column, PLACEHOLDERS, NOTHING + "|^0+$")

    def standardise(self, batch: Batch, identity: Identity) -> Addresses:
        """Street taken apart; city, postal code, region and country as keys."""
        columns = one_cell.apart({part: batch.column(part) for part in self.parts}, places, self.clean)
        street = street_cells.plain(columns["street"])
        classes = (
            dict.fromkeys(_ARTICLES, ARTICLE)
            | dict.fromkeys(_UNITS, UNIT_MARKER)
            | {"#": UNIT_MARKER}
            | dict.fromkeys(street_synonyms().values(), TYPE)
        )
        words = fold(street.values)
        text = words.vocabulary.arrow()
        cls = words.lookup(classes)
        if len(words.vocabulary):
            digits = matches(text, r"^[0-9]+[a-z]?$").to_numpy(zero_copy_only=False)
            cls = np.where(digits, NUMERAL, cls).astype(np.int32)
        n = len(street.values)
        number, unit, off = np.zeros(n, np.uint64), np.zeros(n, np.uint64), np.zeros(n + 1, np.int64)
        parse_streets(words.offsets, words.ids, cls, words.hashes, number, unit, off, np.zeros(1, np.int32), False)
        off = np.cumsum(off)
        ids = np.zeros(int(off[-1]), np.int32)
        parse_streets(words.offsets, words.ids, cls, words.hashes, number, unit, off, ids, True)
        # Westring and Westringstrasse differ; Weststraße, Weststr. and Weststrasse do not.
        concepts = phrases.concept_of(words, street_short() | street_synonyms(), "strasse|straat|str", "st")
        weights = np.where(
            np.isin(concepts, np.unique(hash_values(Texts.of(sorted(set(street_synonyms().values())))))), 0.5, 6.0
        ).astype(np.float32)
        spoken = phrases.Phrases(
            street.codes,
            words,
            off,
            ids,
            np.where(
                matches(text, r"^[0-9]+(st|nd|rd|th)$|^[a-z]{2,3}[0-9]+$").to_numpy(zero_copy_only=False), NUMBER, WORD
            ).astype(np.int32),
            concepts,
            np.zeros(len(cls), np.uint64),
            weights,
            len(batch),
        )
        # Wierzbowa 12 and ul. Wierzbowa 12, 12 Mill and 12 Mill Street come together; how far they agree is for the comparison.
        whole = phrases.keys(spoken._replace(concepts=np.where(weights < 1.0, np.uint64(0), concepts)))[0]
        whole = np.where(whole == 0, phrases.keys(spoken)[0], whole)
        number, unit = of_records(number, street), of_records(unit, street)
        street_key = join_keys(whole, number)
        towns = columns["city"]
        # Before digits are taken for letters: SW1 is no slip.
        town = letters_for_digits(Texts.of(by_the_river(replaced(towns.values.arrow(), _DISTRICT, "")))).arrow()
        towns = Column(Texts.of(town), towns.codes)
        written = joined(towns.values, TOWN_WORDS)
        city_texts, city = _mapped(written, towns, city_table)
        brief = Column(Texts.of(_without_district(without_river(town))), towns.codes)
        first, region, country = _first_words(brief), columns["region"], columns["country"]
        plain_region = joined(region.values)
        postal_column = columns["postal_code"]
        code = replaced(pc.utf8_upper(postal_column.values.arrow()), r"[^A-Z0-9]", "")
        code = replaced(code, r"^([0-9]{5})[0-9]{4}$", r"\1")
        code = replaced(
            code, r"^(?:[A-Z]{1,3})?0*([0-9]{3,6})$", r"\1"
        )  # D-80331 is 80331, and 1234 what a spreadsheet leaves of 01234
        digits = matches(code, "^[0-9]{3,5}$")
        area = pc.if_else(digits, pc.utf8_slice_codeunits(code, 0, -2), pc.utf8_slice_codeunits(code, 0, 3))
        # 85093 and LS1 3FS are codes of two countries, whatever the lists say of them; D-80331 may be 80331.
        shape = pc.if_else(matches(code, "^[0-9]{4,}$"), 1, pc.if_else(matches(code, "[0-9][0-9A-Z]*[A-Z]"), 2, 0))
        postal = of_records(hash_values(Texts.of(code)), postal_column)
        in_town = shares(city)
        return Addresses(
            spoken,
            number,
            unit,
            columns["city"].codes,
            city_texts,
            Texts.of(written),
            city,
            _mapped(joined(brief.values, TOWN_WORDS), brief, city_table)[1],
            _mapped(joined(first.values), first, city_table)[1],
            postal,
            of_records(hash_values(Texts.of(area)), postal_column),
            of_records(shape.to_numpy(zero_copy_only=False).astype(np.uint64), postal_column),
            _mapped(plain_region, region, region_table)[1],
            _mapped(plain_region, region, state_table, known_only=True)[1],
            _countries(country, plain_region, region),
            street_key,
            shares(street_key),
            in_town,
            shares(postal),
            np.rint(in_town * np.float32(len(batch))).astype(np.int32),
            letters(towns),
            letters(street),
        )

    def counts(self, standard: Addresses) -> Counts:
        """Records per town."""
        return Counts(standard.city, standard.in_town)

    def settle(self, standard: Addresses, counts: Counts) -> Addresses:
        """Towns as often named as among all records."""
        return standard._replace(in_town=np.maximum(counts.of(standard.city, 0), standard.in_town).astype(np.int32))

    def keys(self, standard: Addresses) -> dict[str, Keys]:
        """`street` (name and number), `house` (number alone), `city`, `city_ends` (its first and last letter, which slips seldom touch), `postal`."""
        towns = standard.city_texts
        ends = np.zeros(len(towns), np.uint64)
        full = np.flatnonzero(np.diff(towns.offsets))
        first, last = towns.data[towns.offsets[full]], towns.data[towns.offsets[full + 1] - 1]
        ends[full] = (first.astype(np.uint64) << np.uint64(8)) | last
        return {
            "street": standard.street_key,
            "house": standard.number,
            "city": standard.city,
            "city_ends": np.append(ends, np.uint64(0))[standard.city_codes],
            "postal": standard.postal,
        }

    def compare(self, standard: Addresses, left: Any, right: Any) -> dict[str, Compared]:
        """Two comparisons: street, and place (city, postal code, region, country together, for each implies the next)."""
        place = _compare_place(standard, left, right)
        return {"street": _compare_street(standard, left, right, place.levels), "place": place}


_KNOWN, _KNOWN_OF = 3, 0.05
"""A town is no slip of another's where so many records name it, and so many for each that names the other."""
_TOWNS_ALIKE = frozenset(
    """gross klein ober unter nieder hohen markt sankt saint sainte santa alten neuen ostseebad seebad west east north south mount fort port lake
    glen great little upper lower city town villa ville mont monte castel castle pont puerto ciudad barrio puente torre valle""".split()
)
"""First words of towns that many others begin with."""


def _first_words(towns: Column) -> Column:
    """How towns begin, where that tells them from others: Kakuda of Kakuda-City; nothing of Groß Kreutz."""
    first = pc.struct_field(captured(towns.values.arrow(), r"^\W*(?P<first>[^\s,;./()\d-]{4,})"), "first")
    telling = pc.and_(
        first.is_valid(), pc.invert(pc.is_in(joined(Texts.of(pc.fill_null(first, ""))), value_set=word_set(_TOWNS_ALIKE)))
    )
    column = Column(Texts.of(pc.fill_null(first, "")), towns.codes)
    return column.where(telling.to_numpy(zero_copy_only=False))


def _without_district(towns: pa.Array) -> pa.Array:
    """Large towns without the district behind a hyphen or a space: Berlin-Mitte, Hamburg Altona."""
    first = pc.struct_field(captured(towns, r"^\s*(?P<town>[^\s\d,;()/-]{4,})[ -]\s*[^\s\d]"), "town")
    known = pc.is_in(joined(Texts.of(pc.fill_null(first, ""))), value_set=word_set(_WITH_DISTRICTS))
    return pc.if_else(known, first, towns)


def _sides(spoken: phrases.Phrases) -> NDArray[np.uint8]:
    """Which sides of the compass each text names, a bit each."""
    bits = np.zeros(len(spoken.concepts), np.uint8)
    for bit, key in enumerate(hash_values(Texts.of(list(_SIDES)))):
        bits[spoken.concepts == key] = 1 << bit
    out, filled = np.zeros(len(spoken.off) - 1, np.uint8), np.diff(spoken.off) > 0
    out[filled] = np.bitwise_or.reduceat(bits[spoken.ids], spoken.off[:-1][filled]) if len(spoken.ids) else 0
    return out


def _compare_street(s: Addresses, left: Any, right: Any, place: NDArray[np.int8]) -> Compared:
    """Level of the streets; every town has a Main Street, so streets alike in two places say next to nothing, however rare the number."""
    names, _ = phrases.compare(s.street, left, right)
    x, y = s.number.take(left), s.number.take(right)
    numbered, alike = (x != 0) & (y != 0), x == y
    sides = np.append(_sides(s.street), np.uint8(0))
    x, y = sides[s.street.codes.take(left)], sides[s.street.codes.take(right)]
    opposite = (x != 0) & (y != 0) & (x & y == 0)
    u, v = s.unit.take(left), s.unit.take(right)
    other_unit = (u != 0) & (v != 0) & (u != v)
    unlike = unlike_letters(s.street_letters, left, right) & (names < kernel.SHARES)
    out = np.where((names < 0) | unlike, -1, _S_DIFFERS).astype(np.int8)
    near, same = names >= kernel.SHARES, names >= kernel.CLOSE
    out[same & numbered & ~alike] = _S_STREET
    out[near & numbered & alike] = _S_NEAR
    out[((names >= kernel.ADDED) & numbered & alike) | (same & ~numbered)] = _S_CLOSE
    out[(names == kernel.SAME) & (alike | ~numbered)] = _S_SAME
    out[(out >= _S_CLOSE) & other_unit] = _S_UNIT
    out[(out >= _S_UNIT) & opposite] = _S_NEAR  # North Main Street and South Main Street
    elsewhere = (place == _P_DIFFERS) | (place == _P_COUNTRY)
    out[elsewhere & (out == _S_STREET)] = _S_DIFFERS
    out[elsewhere & (out >= _S_NEAR)] = _S_ELSEWHERE
    common, told = np.zeros(len(left), np.float32), np.flatnonzero(out >= _S_UNIT)
    common[told] = np.maximum(s.street_shares[left[told]], s.street_shares[right[told]])
    return Compared(out, common)


def _compare_place(s: Addresses, left: Any, right: Any) -> Compared:
    def equal(key: Keys) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
        a, b = key.take(left), key.take(right)
        both = (a != 0) & (b != 0)
        return both & (a == b), both & (a != b)

    (city, other_city), (code, other_code) = equal(s.city), equal(s.postal)
    other_city &= ~unlike_letters(s.city_letters, left, right)
    (area, other_area), (region, _), (country, other_country) = equal(s.postal_area), equal(s.region), equal(s.country)
    other_state, other_shape = equal(s.state)[1], equal(s.postal_shape)[1]
    rest = np.flatnonzero(other_city)
    x, y = left.take(rest), right.take(rest)
    town, other_town = s.city_codes.take(x), s.city_codes.take(y)
    distance = distances(s.city_texts, town, other_town)
    lengths = np.append(np.diff(s.city_texts.offsets), 0)
    short = np.minimum(lengths.take(town), lengths.take(other_town))
    # Vitoria stands for Vitoria-Gasteiz: with a slip in it, it is like the one and unlike the other.
    written = np.append(np.diff(s.city_written.offsets), 0)
    renamed = (written != lengths).take(town) | (written != lengths).take(other_town)
    at = np.flatnonzero(renamed & (distance > 1))
    at = at[distances(s.city_written, town[at], other_town[at]) <= 1]
    distance[at], short[at] = 1, np.minimum(written.take(town[at]), written.take(other_town[at]))
    # Newcastle and Newcastle upon Tyne; not Frankfurt am Main and Frankfurt an der Oder.
    a, b = s.city_short.take(x), s.city_short.take(y)
    short_of = (a == b) & (a != 0) & ((a == s.city.take(x)) | (b == s.city.take(y)))
    # Of one postal code: Kakuda and Kakuda-City.
    a, b = s.city_first.take(x), s.city_first.take(y)
    begins = code[rest] & (a == b) & (a != 0)
    around = region[rest] | area[rest]
    # Two slips, or two towns: where they begin otherwise, or the postal codes are of two areas, Lübben and Lübbenau.
    start, other_start = (s.city_texts.data.take(s.city_texts.offsets.take(c), mode="clip") for c in (town, other_town))
    twice = (distance <= 2) & (start == other_start) & ~other_area[rest] & ((short >= 8) | ((short >= 6) & around))
    # Palencia and Valencia: two towns that either list knows well are no slip of each other, unless their postal codes are of one area.
    few, many = (f(s.in_town.take(x), s.in_town.take(y)) for f in (np.minimum, np.maximum))
    two_towns = (few >= _KNOWN) & (few >= _KNOWN_OF * many) & ~around
    once = (distance <= 1) & ((short >= 4) | ((short == 3) & around & (start == other_start)))
    near = rest[short_of | begins | ((once | twice) & ~two_towns)]
    city[near], other_city[near] = True, False
    out = np.full(len(left), -1, np.int8)
    out[other_city | (other_code & ~city)] = _P_DIFFERS
    out[(out == _P_DIFFERS) & region & ~other_city] = _P_CODES
    out[((out == _P_DIFFERS) | (out == _P_CODES)) & area & ~other_city] = _P_NEAR
    out[(out == -1) & region] = _P_NEAR
    out[(out == -1) & country] = _P_LAND
    out[city] = _P_CITY
    out[other_state & ~area] = _P_DIFFERS  # Portland in Oregon and Portland in Maine
    out[code & ~city] = np.where(other_city[code & ~city], _P_TOWNS, _P_CODE)
    out[code & city] = _P_BOTH
    out[(other_country | other_shape) & (out < _P_CODE)] = _P_COUNTRY
    common, told = np.zeros(len(left), np.float32), np.flatnonzero(out >= _P_CITY)
    of_city, of_code, level = s.city_shares[left[told]], s.postal_shares[left[told]], out[told]
    common[told] = np.where(level == _P_CITY, of_city, np.where(level == _P_CODE, of_code, np.minimum(of_city, of_code)))
    return Compared(out, common)
