"""A postal address, street to country, cleaned, compared and replaced as a block."""

from __future__ import annotations

from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Batch, Column, Keys, Texts
from brujula.core.kernels.streets import ARTICLE, NUMBER_MARK, NUMERAL, TYPE, UNIT_MARKER, parse_streets
from brujula.core.kernels.words import NUMBER, WORD
from brujula.core.kind import Compared, Comparison, Example, Identity, Kind, Level, Who
from brujula.core.steps import address_pairs, cut, one_cell, phrases, street_cells
from brujula.core.steps.address_pairs import Addresses, boxes_named, compare_places, compare_streets, sides_named, spread_of
from brujula.core.steps.listed import Table, among
from brujula.core.steps.patterns import captured, matches, replaced
from brujula.core.steps.placeholders import NOTHING, PLACEHOLDERS
from brujula.core.steps.sharing import Counts, shares
from brujula.core.steps.text import fold, hash_values, join_keys, letters, letters_for_digits, of_records, without
from brujula.core.steps.towns import named_by
from brujula.tables.places import (
    by_one_name,
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
    town_words,
    without_river,
)

_NUMBER_MARKS = "# no nr num numero nro".split()
_ARTICLES = "the of de del la el los las les le du des d da do dos di der die das y et und".split()


_DISTRICT = r"(?i)\s+(cedex|bezirk|sector|district)?\s*\d{1,2}\s*(e|er|[èe]me|th|st|nd|rd|\.)?(\s+arr\S*)?\s*$|\s+cedex\s*$|\s+(?-i:[NSEW][CEW]?\d{1,2}[A-Z]?)\s*$"
"""A number behind a town is one of its districts: Paris 15e, Praha 1, London W1, Lyon Cedex 03."""
_WITH_DISTRICTS = frozenset(
    """berlin hamburg munchen muenchen koln koeln frankfurt stuttgart dusseldorf duesseldorf leipzig dortmund essen bremen dresden hannover nurnberg
    nuernberg duisburg bochum wuppertal bielefeld bonn munster muenster mannheim karlsruhe augsburg wiesbaden aachen kiel halle magdeburg freiburg mainz erfurt
    lubeck luebeck rostock kassel hagen potsdam saarbrucken heidelberg darmstadt wien graz linz salzburg innsbruck zurich zuerich basel bern praha brno warszawa
    krakow budapest wroclaw gdansk munich cologne nuremberg vienna prague warsaw""".split()
)


def _mapped(plain: pa.Array, column: Column, table: Table, known_only: bool = False) -> tuple[Texts, Keys]:
    """Standard texts of a column's values, through a table of synonyms, and their keys per record.

    plain : the values' words run together;  known_only : what the table does not know gets no key
    """
    texts = by_one_name(plain, table, known_only)
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


def _streets(street: Column, n_records: int) -> tuple[phrases.Phrases, Keys, Keys]:
    """Streets without their numbers, and per record the number and the unit; 0 = none."""
    classes = (
        dict.fromkeys(_ARTICLES, ARTICLE)
        | dict.fromkeys(street_cells.UNITS, UNIT_MARKER)
        | dict.fromkeys(_NUMBER_MARKS, NUMBER_MARK)
        | dict.fromkeys((*street_synonyms(), *street_synonyms().values()), TYPE)
    )
    words = fold(street.values)
    text = words.vocabulary.arrow()
    cls = words.lookup(classes)
    if len(words.vocabulary):
        digits = matches(text, r"^[0-9]+[a-z]?$").to_numpy(zero_copy_only=False)
        cls = np.where(digits, NUMERAL, cls).astype(np.int32)
    n = len(street.values)
    number, unit, off = np.zeros(n, np.uint64), np.zeros(n, np.uint64), np.zeros(n + 1, np.int64)
    as_unit = street_cells.as_units(words)
    parse_streets(words.offsets, words.ids, cls, words.hashes, as_unit, number, unit, off, np.zeros(1, np.int32), False)
    off = np.cumsum(off)
    ids = np.zeros(int(off[-1]), np.int32)
    parse_streets(words.offsets, words.ids, cls, words.hashes, as_unit, number, unit, off, ids, True)
    # Westring and Westringstrasse differ; Weststraße, Weststr. and Weststrasse do not.
    concepts = phrases.concept_of(words, street_short() | street_synonyms(), "strasse|straat|str", "st")
    types = hash_values(Texts.of(sorted(set(street_synonyms().values()))))
    numbered = matches(
        text, r"^[0-9]+(st|nd|rd|th|[a-z]?)$|^(hwy|cr|fm)[0-9]+$|^(carrera|calle|diagonal|transversal)[0-9][0-9a-z]*$"
    ).to_numpy(zero_copy_only=False)
    spoken = phrases.Phrases(
        codes=street.codes,
        words=words,
        off=off,
        ids=ids,
        with_article=np.zeros((len(ids), 2), np.uint64),
        cls=np.where(numbered, NUMBER, WORD).astype(np.int32),
        concepts=concepts,
        akin=np.zeros(len(cls), np.uint64),
        heads=np.zeros(len(cls), np.uint32),
        weights=np.where(np.isin(concepts, types), 0.5, 6.0).astype(np.float32),
        n_records=n_records,
    )
    return spoken, of_records(number, street), of_records(unit, street)


def _postal(column: Column) -> tuple[Keys, Keys, Keys]:
    """Per record its postal code, the area it lies in, and what shape it has: 85093 and LS1 3FS are codes of two countries, whatever the lists say of them; D-80331 may be 80331."""
    code = replaced(pc.utf8_upper(column.values.arrow()), r"[^A-Z0-9]", "")
    code = replaced(code, r"^([0-9]{5})(?:[0-9]{4}|[A-Z]{2})$", r"\1")  # 55101-2201; 10077 TO
    # D-80331 is 80331, and 1234 what a spreadsheet leaves of 01234
    code = replaced(code, r"^(?:[A-Z]{1,3})?0*([0-9]{3,6})$", r"\1")
    digits = matches(code, "^[0-9]{3,5}$")
    area = pc.if_else(digits, pc.utf8_slice_codeunits(code, 0, -2), pc.utf8_slice_codeunits(code, 0, 3))
    shape = pc.if_else(matches(code, "^[0-9]{4,}$"), 1, pc.if_else(matches(code, "[0-9][0-9A-Z]*[A-Z]"), 2, 0))
    codes, areas = (of_records(hash_values(Texts.of(texts)), column) for texts in (code, area))
    return codes, areas, of_records(shape.to_numpy(zero_copy_only=False).astype(np.uint64), column)


class PostalAddress(Kind):
    """Street words in several languages, house number, unit, city by any of its names, postal code, region, country."""

    name = "postal_address"
    parts = ("street", "city", "region", "postal_code", "country")
    alone = "door"
    headings = {
        "street": """street | line 1 | line1 | address line1 | address | address line 1 | street address | address 1 | addr | addr1 | mailing address |
            strasse | strasse nr | strasse und hausnummer | adresse | anschrift | calle | direccion | domicilio |
            rue | adresse 1 | rua | endereco | logradouro | via | indirizzo | straat | adres | ulica | billing
            street | mailing street | street line | street 1 | business address | address street | street and number | strasse hausnummer | straatnaam | street name | strasse hausnr | via e numero | calle y numero | adres ulica | ulica i numer | adres zamieszkania | straat en huisnummer | postal address | full address | morada | postanschrift | direccion postal | adresse postale | indirizzo postale | endereco postal | road | voie | libelle voie | libelle de voie | st name | str name |
            adr | adr 1 | add 1 | adresszeile | adresszeile 1""",
        "city": """city | town | municipality | locality | place | location | sitz | gemeinde | township | ort | stadt | ciudad | localidad | poblacion | municipio | ville |
            commune | cidade | citta | comune | plaats | stad | woonplaats | miasto | miejscowosc | city town | cty | ortschaft | plaatsnaam | localite | localidade | gemeente | gmina | municipality | ciudad poblacion | localita | lokalitat |
            billing city | mailing city | csz | city st zip | city state zip | wohnort | suburb | hometown | boro | borough | poczta | wohnhaft in""",
        "region": """state | region | province | state province | state region | prov | mailing state | billing state | state code | bundesland | provincia |
            estado | county | county state | land kreis | comunidad | departement | uf | regione | provincie | wojewodztwo | st
            | kanton | department | stan | landkreis | provincia estado | prov state""",
        "postal_code": """postal code | postcode | zip | zip code | zipcode | zip postcode | zip postal code | zippostal code | postal | plz |
            postleitzahl | codigo postal | cp | c p | code postal | cep | cap | postcode plaats | kod pocztowy |
            mailing zip | post code | eircode | kod | plz ort code | zipcode | pincode | pin code | postnummer | pc | c postal""",
        "country": """country | country code | nation | land code | land | pais | pays | paese | country region | staat | country
            name | ctry""",
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
                Level("another of a firm in many towns", "differs", 0.004, 0.008),
                Level("another of a firm that has several in a town", "differs", 0.002, 0.008),
                Level("which of several in a town", "differs", 0.003, 0.003, silent=True),
            ),
        ),
        Comparison(
            "place",
            (
                Level("another country, no towns to compare", "differs", 0.001, 0.1),
                Level("another country", "differs", 0.001, 0.25),
                Level("another place", "differs", 0.03, 0.58),
                Level("another postal code of the region", "partial", 0.005, 0.005, unit=True),
                Level("same country", "partial", 0.03, 0.10, unit=True, little=True),
                Level("same region", "partial", 0.03, 0.045, unit=True, little=True),
                Level("another town of the postal code", "close", 0.004, 0.0004, unit=True),
                Level("a town given for the other", "close", 0.004, 0.0004, unit=True),
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
        Example({"city": "DK-2000 Orme"}, {"city": "ORME", "postal_code": "2000"}, {"place": "same"}),
        Example({"city": "Orme TX 75272"}, {"city": "Orme", "region": "TX", "postal_code": "75272"}, {"place": "same"}),
        Example({"city": "Orme, OR"}, {"city": "Orme", "region": "Oregon"}, {"place": "close"}),
        Example({"country": "Korea, Republic of"}, {"country": "South Korea", "city": "Orme"}, {"place": "partial"}),
        Example({"country": "Orme, Oregon"}, {"city": "Orme", "region": "OR"}, {"place": "close"}),
        Example({"city": "Orme OR"}, {"city": "Orme", "region": "ME"}, {"place": "differs"}),
        Example({"city": "Orme (France)"}, {"city": "Orme", "country": "US"}, {"place": "differs"}),
        Example({"city": "Orme, DE"}, {"city": "Orme", "region": "Bavaria", "country": "DE"}, {"place": "close"}),
        Example({"postal_code": "10077 Orme"}, {"city": "Orme", "postal_code": "10077 TO"}, {"place": "same"}),
        Example({"city": "Orme 7"}, {"city": "Orme 8", "postal_code": "75272"}, {"place": "close"}),
        Example({"city": "Orme a. d. Saale"}, {"city": "Orme an der Saale"}, {"place": "close"}),
        Example(
            {"street": "12 CEDAR HOLW", "city": "Orme Fls"},
            {"street": "12 Cedar Hollow", "city": "Orme Falls"},
            {"street": "same", "place": "close"},
        ),
        Example({"street": "12 2nd Ave. between 50th and 51st"}, {"street": "12 Second Ave."}, {"street": "same"}),
        Example({"street": "Opp. City Mall, 12 Mill Road"}, {"street": "12 Mill Rd (near the lake)"}, {"street": "same"}),
        Example({"street": "12 Hill St"}, {"street": "12 Lake St"}, {"street": "differs"}),
        Example({"street": "12Mill Street"}, {"street": "12 Mill St"}, {"street": "same"}),
        Example({"street": "P O BOX 44"}, {"street": "PO Box 44"}, {"street": "same"}),
        Example({"street": "POB 44"}, {"street": "12 Mill Street"}, {"street": "blank"}),
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
        columns = one_cell.towns_as_regions(one_cell.towns_and_codes(columns, self.clean), places, self.clean)
        columns = one_cell.towns_and_states(columns, places, self.clean)
        columns = one_cell.lands_alone(columns, places, self.clean)
        street = street_cells.plain(cut.completed(columns["street"], batch.n_existing))
        spoken, number, unit = _streets(street, len(batch))
        # Wierzbowa 12 and ul. Wierzbowa 12, 12 Mill and 12 Mill Street come together; how far they agree is for the comparison.
        telling = np.where(spoken.weights < 1.0, np.uint64(0), spoken.concepts)
        whole = phrases.keys(spoken._replace(concepts=telling))[0]
        whole = np.where(whole == 0, phrases.keys(spoken)[0], whole)
        street_key = join_keys(whole, number)
        towns = columns["city"]
        # Before digits are taken for letters: SW1 is no slip.
        town = letters_for_digits(by_the_river(Texts.of(replaced(towns.values.arrow(), _DISTRICT, "")))).arrow()
        towns = Column(Texts.of(town), towns.codes)
        written = joined(towns.values, town_words)
        city_texts, city = _mapped(written, towns, city_table)
        brief = Column(Texts.of(_without_district(without_river(town))), towns.codes)
        first, region = _first_words(brief), columns["region"]
        plain_region = joined(region.values)
        postal, area, shape = _postal(columns["postal_code"])
        in_town = shares(city, batch.counting)
        door = np.where(number == 0, np.uint64(0), street_key)
        house, spread = np.zeros(len(batch), np.uint64), np.zeros(len(batch), np.int8)
        if batch.entity == "account":  # people have no branches
            house, spread = identity().house, spread_of(identity(), city, number, batch.n_existing)
        return Addresses(
            street=spoken,
            number=number,
            unit=unit,
            city_codes=towns.codes,
            city_texts=city_texts,
            city_written=Texts.of(written),
            city=city,
            city_short=_mapped(joined(brief.values, town_words), brief, city_table)[1],
            city_first=_mapped(joined(first.values), first, city_table)[1],
            postal=postal,
            postal_area=area,
            postal_shape=shape,
            region=_mapped(plain_region, region, region_table)[1],
            state=_mapped(plain_region, region, state_table, known_only=True)[1],
            country=_countries(columns["country"], plain_region, region),
            street_key=street_key,
            street_shares=shares(street_key, batch.counting),
            city_shares=in_town,
            postal_shares=shares(postal, batch.counting),
            in_town=np.rint(in_town * np.float32(len(batch))).astype(np.int32),
            city_letters=letters(towns),
            street_letters=letters(street),
            sides=sides_named(spoken),
            boxes=boxes_named(spoken),
            house=house,
            spread=spread,
            named=named_by(identity().house, door, city, postal, batch.n_existing),
        )

    def joined(self, held: Addresses, records: NDArray[np.int32], asked: Addresses, who: Who) -> Addresses:
        """Addresses of some of the records held, and of others behind them."""
        return address_pairs.joined(held, records, asked)

    def counts(self, standard: Addresses) -> tuple[Counts, Counts]:
        """Records per town, and how far each firm is spread."""
        return Counts(standard.city, standard.in_town), Counts(standard.house, standard.spread)

    def settle(self, standard: Addresses, counts: tuple[Counts, Counts]) -> Addresses:
        """Towns as often named, and firms as far spread, as among all records."""
        in_town = np.maximum(counts[0].of(standard.city, 0), standard.in_town).astype(np.int32)
        return standard._replace(in_town=in_town, spread=counts[1].of(standard.house, 0).astype(np.int8))

    def keys(self, standard: Addresses) -> dict[str, Keys]:
        """`street` (name and number), `door` (street and town), `house` (number alone), `city`, `city_ends` (its first and last letter, which slips seldom touch), `postal`."""
        towns = standard.city_texts
        ends = np.zeros(len(towns), np.uint64)
        full = np.flatnonzero(np.diff(towns.offsets))
        first, last = towns.data[towns.offsets[full]], towns.data[towns.offsets[full + 1] - 1]
        ends[full] = (first.astype(np.uint64) << np.uint64(8)) | last
        return {
            "street": standard.street_key,
            "door": join_keys(standard.street_key, np.where(standard.city == 0, standard.postal, standard.city)),
            "house": standard.number,
            "city": standard.city,
            "city_ends": np.append(ends, np.uint64(0))[standard.city_codes],
            "postal": standard.postal,
        }

    def compare(self, standard: Addresses, left: Any, right: Any) -> dict[str, Compared]:
        """Two comparisons: street, and place (city, postal code, region, country together, for each implies the next)."""
        place = compare_places(standard, left, right)
        return {"street": compare_streets(standard, left, right, place.levels), "place": place}


_TOWNS_ALIKE = frozenset(
    """gross klein ober unter nieder hohen markt sankt saint sainte santa alten neuen ostseebad seebad west east north south mount fort port lake
    glen great little upper lower city town villa ville mont monte castel castle pont puerto ciudad barrio puente torre valle""".split()
)
"""First words of towns that many others begin with."""


def _first_words(towns: Column) -> Column:
    """How towns begin, where that tells them from others: Kakuda of Kakuda-City; nothing of Groß Kreutz."""
    first = pc.struct_field(captured(towns.values.arrow(), r"^\W*(?P<first>[^\s,;./()\d-]{4,})"), "first")
    telling = pc.and_(first.is_valid(), pc.invert(among(joined(Texts.of(pc.fill_null(first, ""))), _TOWNS_ALIKE)))
    column = Column(Texts.of(pc.fill_null(first, "")), towns.codes)
    return column.where(telling.to_numpy(zero_copy_only=False))


def _without_district(towns: pa.Array) -> pa.Array:
    """Large towns without the district behind a hyphen or a space: Berlin-Mitte, Hamburg Altona."""
    first = pc.struct_field(captured(towns, r"^\s*(?P<town>[^\s\d,;()/-]{4,})[ -]\s*[^\s\d]"), "town")
    known = among(joined(Texts.of(pc.fill_null(first, ""))), _WITH_DISTRICTS)
    return pc.if_else(known, first, towns)
