"""Addresses that stand in one cell (12 Mill Street, Orme, TX 75272) taken apart: street, city, region, postal code, country."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Column, Texts
from brujula.core.steps.patterns import captured, matches, replaced

PARTS = ("street", "city", "region", "postal_code", "country")
_BRITISH, _CANADIAN = r"[A-Za-z]{1,2}\d[A-Za-z\d]? ?\d[A-Za-z]{2}", r"[A-Za-z]\d[A-Za-z] ?\d[A-Za-z]\d"
_FIVE = r"\d{5}(?:-\d{3,4})?|\d{6}|\d{8}|\d{3}-\d{4}|\d{4}-\d{3}"
_AHEAD = r"(?:\d{4} ?[A-Z]{2}|\d{4}-\d{3}|\d{4,6}|\d{8}|\d{2}-\d{3}|\d{3} \d{2}|\d{5}-\d{3,4}|[A-Z]{1,2}\d[A-Z\d]? \d[A-Z]{2})"
CODE = rf"{_FIVE}|{_BRITISH}|{_CANADIAN}|\d{{3}} \d{{2}}|\d{{2}}-\d{{3}}|\d{{4}} [A-Z]{{2}}"
"""Postal codes as they stand behind a town."""
_LETTER = r"[^\d\s,;.()/#'\"-]"  # as good as any letter here, and RE2 compiles it in a hundredth of the time
_NO_DIGIT = rf"{_LETTER}[^,\d]*"

_COUNTRY = rf"^(?P<rest>.+), (?P<country>{_NO_DIGIT})$"
_EITHER = r"^(?P<rest>.+), (?P<either>[A-Z]{2})$"
# 12 Mill Street Orme US 75272: where the town begins nobody can tell. 1200 FM 1960 is a road.
_COUNTRY_CODE = rf"^(?P<rest>[^,]*{_LETTER}.*?) (?P<country>[A-Z]{{2}}) (?:[A-Z]{{1,3}}-)?(?P<postal_code>{_FIVE}|\d[\d -]{{2,8}}\d|{_BRITISH}|{_CANADIAN}|\d{{4}} ?[A-Z]{{2}})$"
# Hauptstraße 5, 80331 München; 3 rue Haute, F-75011 Paris; Via Alta 1, 20121 Milano (MI); Na Hrádku 15, 110 00 Praha 1
_CODE_AHEAD = rf"^(?:(?P<street>.*?[^, ]),? )?(?:[A-Z]{{1,3}}-)?(?P<postal_code>{_AHEAD}) (?P<city>{_LETTER}[^,\d(][^,\d(]+?(?: \d\d?)?)(?:,? \(?(?P<region>[A-Z]{{2}})\)?)?$"
# Orme, TX 75272; Orme LS1 4AP; Sydney NSW 2000
_CODE_BEHIND = rf"^(?P<rest>.*{_LETTER})[, ]+(?P<postal_code>{CODE})$"
_AUSTRALIAN = r"^(?P<rest>.+ [A-Z]{2,3}),? (?P<postal_code>\d{4})$"
_REGION_CODE = rf"^(?:(?P<street>.+), )?(?P<city>{_NO_DIGIT}?),? (?:- )?(?P<region>[A-Z]{{2,4}})$"
_REGION_NAME = rf"^(?:(?P<street>.+), )?(?P<city>{_NO_DIGIT}), (?P<region>{_NO_DIGIT})$"
_COUNTY = rf"^(?P<street>.*\d[^,]*), (?P<city>{_NO_DIGIT}), (?P<region>{_NO_DIGIT})$"
# Two names and no number may be a town and its region, or a house and its town.
_TWO_NAMES = rf"^(?P<first>{_NO_DIGIT}), {_NO_DIGIT}$"
_TOWN = rf"^(?:(?P<street>.+), )?(?P<city>{_NO_DIGIT})$"
_TOWN_CODE = rf"^(?:(?P<street>.+), )?(?P<city>{_NO_DIGIT}) (?P<postal_code>{CODE})$"
_CODE_TOWN = rf"^(?:(?P<street>.+), )?(?P<postal_code>{_AHEAD}) (?P<city>{_NO_DIGIT})$"
_STREET_TOWN = rf"^(?P<street>.*\d.*), (?P<city>{_NO_DIGIT})$"
_NO_TOWN = r"(?i)^(p\.? ?o\.? ?box|box|postfach|apartado|casilla|caixa|b\.?p\.?|unit|suite|ste|apt|building|bldg|floor|fl|flat|room|rear)\b"
_MOSTLY = 0.5
"""Where so many cells of a column hold whole addresses, the others hold a town, too, which may be misspelled."""

# Towns that share a cell with their code: 12489 Berlin, DK-2000 Frederiksberg, 10077 San Maurizio (TO)
_NAME = rf"(?:{_LETTER}{{4}}|{_LETTER}+ {_LETTER})"
_TOWN_BEHIND = (
    rf"^(?:[A-Z]{{1,3}}[- ]{{1,3}})?(?P<postal_code>{_AHEAD}),? +(?P<city>{_NAME}.*?)(?:,? \((?P<region>[A-Z]{{2}})\))?$"
)
_BOTH = r"\d.*\pL{2}|\pL{2}.*\d"
# Moscow 103305; Orme, TX 75272; Sydney NSW 2000; Wien 1010
_ITS_CODE = rf",? +(?:[A-Z]{{1,3}}-)?(?P<postal_code>{CODE}|\d{{4}}|\d{{3}} \d{{3}})$"
_TOWN_AHEAD = (
    rf"^(?P<city>{_NAME}.*?), ?(?P<region>[A-Z]{{2,3}}){_ITS_CODE}",
    rf"^(?P<city>{_NAME}.*?\p{{Ll}}) (?P<region>[A-Z]{{2,3}}){_ITS_CODE}",
    rf"^(?P<city>{_NAME}.*?)(?P<region>){_ITS_CODE}",
)
# Portland, OR; Portland (Oregon); Paris, France; Portland OR
_MAY_SAY_MORE = r"[,(]| [A-Z]{2,3}$"
_TOWN_AND = rf"^(?P<city>{_NAME}[^,(]*?)\s*[,(]\s*(?P<%s>[^,\d()]{{2,}}?)\s*\)?$"
_TOWN_STATE = (_TOWN_AND % "region", rf"^(?P<city>{_NAME}[^,]*?) (?P<region>[A-Z]{{2,3}})$")
_TOWN_COUNTRY = _TOWN_AND % "country"
_SEVERAL, _CODE_SIZE = 3, 3
BREAK = r"(?:[;\r\n|\t·•$]|<[Bb][Rr]\s*/?>|_x000[Dd]_|\\[rn])"
"""Ends a line within a cell, be it written as pages, workbooks and directories write it."""
STROKES = (r"\s+/\s+", r"\s+[-–]\s+")
"""May part lines, where a cell has more than one of them."""
# Commas or lines; a country and a code, or a code and a town, behind; names and nothing else.
_HOPEFUL = r"[,;\r\n|\t·•$]|<[Bb]|\\[rn]|_x0| [/–-] .* [/–-] | [A-Z][A-Z] +(?:[A-Z]+-)?[A-Z]*\d[\dA-Z -]+$|\d ?[a-z]? +(?:[A-Z]+-)?\d\d\d\d\d +\D|^\D+$"

Parts = dict[str, pa.Array]
Known = Callable[..., NDArray[np.bool_]]


@dataclass(frozen=True)
class Places:
    """What is known of words in addresses; each gives a flag per text.

    country, state, region : whether it names a country, a state of a country where addresses end in states, any part of any country
    within : whether the second text names a part of the country the first one names
    street : whether it has a word that streets are called by
    town : whether records name it as their town in a column of its own
    """

    country: Known
    state: Known
    region: Known
    within: Known
    street: Known
    town: Known | None = None

    def only_a_country(self, parts: Parts) -> NDArray[np.bool_]:
        """Which countries are named as no state is."""
        return self.country(parts["country"]) & ~self.state(parts["country"])


def apart(
    columns: Mapping[str, Column], places: Callable[[pa.Array], Places], clean: Callable[[Column], Column]
) -> dict[str, Column]:
    """The columns of PARTS, with the parts of streets that hold a whole address where a record has neither city nor postal code.

    places : what is known of words, given the towns that records name; asked for where there is something to read
    clean : makes values blank that say nothing
    Cost: a few regular expressions per distinct street of such records that has a comma, or ends in a code.
    """
    street = columns["street"]
    lone = (columns["city"].codes < 0) & (columns["postal_code"].codes < 0) & street.filled
    used = np.zeros(len(street.values), bool)
    used[street.codes[lone]] = True
    values = street.values.arrow().filter(pa.array(used))
    towns = columns["city"].values.arrow()
    whole, parts = read(values, lambda: places(towns), len(towns) > 0) if len(values) else (np.zeros(0, bool), {})
    if not whole.any():
        return dict(columns)
    return _put(columns, "street", np.flatnonzero(used), whole, parts, clean, lone)


def _put(
    columns: Mapping[str, Column],
    cell: str,
    values: NDArray[np.int64],
    done: NDArray[np.bool_],
    parts: Parts,
    clean: Callable[[Column], Column],
    records: NDArray[np.bool_] | None = None,
) -> dict[str, Column]:
    """The columns with what was read of a column's cells: its own part in place of the cell, the others where a record has none.

    values : which of the cell's distinct values were looked at, and per such value done: whether it was read, and its parts
    records : those whose cells were read; None = all
    """
    at = np.full(len(columns[cell].values) + 1, -1)
    at[values[done]] = np.arange(int(done.sum()))
    split = at[columns[cell].codes]
    split = split if records is None else np.where(records, split, -1)
    out = dict(columns)
    for part, texts in parts.items():
        found = clean(Column.of(texts.filter(pa.array(done))))
        if part == cell or found.filled.any():
            out[part] = _with(columns[part], found, split, part == cell)
    return out


def read(
    texts: pa.Array, places: Callable[[], Places], with_towns: bool = False
) -> tuple[NDArray[np.bool_], dict[str, pa.Array]]:
    """Which texts hold more of an address than a street, and the PARTS of each text (null where it has none). with_towns : towns are known."""
    n = len(texts)
    hopeful = matches(texts, r"\pL" if with_towns else _HOPEFUL)
    whole = hopeful.to_numpy(zero_copy_only=False).copy()
    parts = {part: pa.nulls(n, pa.large_string()) for part in PARTS}
    if whole.any():
        text = texts.filter(hopeful)
        for stroke in STROKES:
            twice = matches(text, f"{stroke}.*{stroke}")
            text = pc.replace_with_mask(text, twice, replaced(text.filter(twice), stroke, ", "))
        text = replaced(text, rf"\s*(?:,|{BREAK})\s*", ", ")
        text = pc.utf8_trim(replaced(text, r"\s+", " "), characters=" ,.")
        reading = _Reading(replaced(text, r"^(\d{1,4} ?[A-Za-z]?), ", r"\1 "))
        _read(reading, places())
        whole[whole] = reading.done
        parts = {part: pc.replace_with_mask(parts[part], hopeful, reading.found[part]) for part in PARTS}
    return whole, parts


def towns_and_codes(columns: Mapping[str, Column], clean: Callable[[Column], Column]) -> dict[str, Column]:
    """The columns of PARTS, with towns and postal codes that share a cell, be it the town's or the code's, in the column of each.

    clean : makes values blank that say nothing
    """
    out = dict(columns)
    for cell in ("city", "postal_code"):
        texts = out[cell].values.arrow()
        hopeful = np.flatnonzero(matches(texts, _BOTH).to_numpy(zero_copy_only=False))
        if len(hopeful) == 0:
            continue
        reading = _Reading(pc.utf8_trim_whitespace(replaced(texts.take(pa.array(hopeful)), r"\s+", " ")))
        for layout in (_TOWN_BEHIND, *_TOWN_AHEAD):
            reading.take(layout, ~reading.done, _always)
        out = _put(out, cell, hopeful, reading.done, reading.found, clean)
    return out


def towns_and_states(
    columns: Mapping[str, Column], places: Callable[[], Places], clean: Callable[[Column], Column]
) -> dict[str, Column]:
    """The columns of PARTS, with a state or country behind the town in the town's cell in the column of its own.

    What may be either (ME: Maine, Montenegro) is a state where records name it as their region, or other states, and it not as their country;
    elsewhere it says nothing.
    """
    towns, regions, lands = (columns[part].values.arrow() for part in ("city", "region", "country"))
    hopeful = np.flatnonzero(matches(towns, _MAY_SAY_MORE).to_numpy(zero_copy_only=False))
    if len(hopeful) == 0:
        return dict(columns)
    known, reading = places(), _Reading(pc.utf8_trim_whitespace(towns.take(pa.array(hopeful))))

    def among(texts: pa.Array, told: pa.Array) -> NDArray[np.bool_]:
        return np.asarray(pc.is_in(pc.utf8_upper(texts), value_set=pc.unique(pc.utf8_upper(told))).to_numpy(zero_copy_only=False))

    def is_state(parts: Parts) -> NDArray[np.bool_]:
        return known.state(parts["region"]) & ~known.country(parts["region"])

    def may_be_state(parts: Parts) -> NDArray[np.bool_]:
        either = parts["region"]
        return known.state(either) & (among(either, regions) | (with_states & ~among(either, lands)))

    for layout in _TOWN_STATE:
        reading.take(layout, ~reading.done, is_state)
    with_states = bool(reading.done.any() or is_state({"region": regions}).any())
    reading.take(_TOWN_COUNTRY, ~reading.done, known.only_a_country)
    for layout in _TOWN_STATE:
        reading.take(layout, ~reading.done, may_be_state)
    return _put(columns, "city", hopeful, reading.done, reading.found, clean)


def towns_as_regions(
    columns: Mapping[str, Column], places: Callable[[], Places], clean: Callable[[Column], Column]
) -> dict[str, Column]:
    """The columns of PARTS, with a town and its state or country in the region's or the country's cell (Orme, Washington) in the town's, where that is blank.

    Korea, Republic of is a country, as lists of countries have it.
    """
    out = dict(columns)
    for cell in ("region", "country"):
        column, town = out[cell], out["city"]
        used = np.unique(column.codes[column.filled & ~town.filled]).astype(np.int64)
        if len(used) == 0:
            continue
        texts = column.values.arrow().take(pa.array(used))
        behind = pc.struct_field(captured(texts, _TOWN_AND % "region"), "region")
        if behind.null_count == len(texts):
            continue
        known = places()
        done = (known.state(behind) | known.country(behind)) & ~known.country(texts) & ~known.region(texts)
        if done.any():
            parts = {"city": texts, cell: pa.nulls(len(texts), pa.large_string())}
            out = _put(out, cell, used, done, parts, clean, ~town.filled)
    return out


def lands_alone(
    columns: Mapping[str, Column], places: Callable[[], Places], clean: Callable[[Column], Column]
) -> dict[str, Column]:
    """The columns of PARTS, with a country in the town's or the region's cell, and nothing else of a place, in the column of its own.

    Only where several countries stand so: Lebanon alone is a town, too.
    """
    out = dict(columns)
    for cell, others in (("city", ("region", "postal_code", "country")), ("region", ("city", "postal_code", "country"))):
        column = out[cell]
        lone = column.filled & ~np.logical_or.reduce([out[part].filled for part in others])
        used = np.unique(column.codes[lone]).astype(np.int64)
        if len(used) < _SEVERAL:
            continue
        texts = pc.utf8_trim_whitespace(column.values.arrow().take(pa.array(used)))
        done = places().only_a_country({"country": texts}) & (pc.utf8_length(texts).to_numpy(zero_copy_only=False) > _CODE_SIZE)
        if np.count_nonzero(done) >= _SEVERAL:
            parts = {"country": texts, cell: pa.nulls(len(texts), pa.large_string())}
            out = _put(out, cell, used, done, parts, clean, lone)
    return out


def _always(parts: Parts) -> NDArray[np.bool_]:
    return np.ones(len(next(iter(parts.values()))), bool)


@dataclass
class _Reading:
    """Texts being read from behind: what is left of each, the parts found, and which are read to their beginning."""

    text: pa.Array
    found: dict[str, pa.Array] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.found = {part: pa.nulls(len(self.text), pa.large_string()) for part in PARTS}
        self.done = np.zeros(len(self.text), bool)

    def has(self, part: str) -> NDArray[np.bool_]:
        """Which texts have shown the part."""
        return np.asarray(pc.is_valid(self.found[part]).to_numpy(zero_copy_only=False))

    def take(self, layout: str, chosen: NDArray[np.bool_], fits: Callable[[Parts], NDArray[np.bool_]]) -> None:
        """Take the parts a layout names from the chosen texts it fits; a layout without `rest` reads a text to its beginning."""
        rows = np.flatnonzero(chosen & ~self.done)
        if len(rows) == 0:
            return
        read = captured(self.text.take(pa.array(rows)), layout)
        parts = {f.name: pc.struct_field(read, f.name) for f in read.type}
        hit = pc.is_valid(read).to_numpy(zero_copy_only=False) & fits(parts)
        rows, mask = rows[hit], np.zeros(len(self.text), bool)
        mask[rows] = True
        for part, values in parts.items():
            values = values.filter(pa.array(hit))
            values = pc.if_else(pc.equal(values, ""), pa.scalar(None, values.type), values)
            if part == "rest":
                self.text = pc.replace_with_mask(self.text, pa.array(mask), values)
            elif part in self.found:
                self.found[part] = pc.replace_with_mask(self.found[part], pa.array(mask), values.cast(pa.large_string()))
        if "rest" not in parts:
            self.done |= mask


def _read(reading: _Reading, known: Places) -> None:
    """Country, then postal code, then region and city from behind; what is left is the street."""

    def of_country_before(parts: Parts) -> NDArray[np.bool_]:
        before = pc.struct_field(captured(pc.fill_null(parts["rest"], ""), "^.*, (?P<last>[^,]+)$"), "last")
        return known.within(parts["country"], before)

    def is_town(parts: Parts) -> NDArray[np.bool_]:
        return ~known.street(parts["city"])

    def box_or_unit(parts: Parts) -> NDArray[np.bool_]:
        return np.asarray(matches(pc.fill_null(parts["city"], ""), _NO_TOWN).to_numpy(zero_copy_only=False))

    def known_town(parts: Parts) -> NDArray[np.bool_]:
        return known.town(parts["city"]) if known.town else ~_always(parts)

    every = np.ones(len(reading.text), bool)
    reading.take(_COUNTRY, every, of_country_before)
    reading.take(_COUNTRY, ~reading.has("country"), known.only_a_country)
    reading.take(r"^(?P<country>[^\d,;/#()]+)$", ~reading.has("country"), known.only_a_country)
    # DE is Delaware or Germany: where both are possible it says no more than that the town stands before it.
    before = reading.text
    reading.take(_EITHER, ~reading.has("country"), lambda parts: known.country(parts["either"]))
    either = pc.not_equal(before, reading.text).to_numpy(zero_copy_only=False)
    reading.take(_COUNTRY_CODE, ~reading.has("country") & ~either, known.only_a_country)
    townless = reading.has("postal_code")
    # 12345 Broadway begins as 12345 Orme does: only a country behind tells.
    begins = matches(reading.text, rf"^{_AHEAD} {_LETTER}").to_numpy(zero_copy_only=False)
    placed = reading.has("country") | either
    reading.take(_CODE_AHEAD, ~townless & (~begins | placed), is_town)
    behind = ~townless & (placed | pc.match_substring(reading.text, ",").to_numpy(zero_copy_only=False))
    reading.take(_CODE_BEHIND, behind, _always)
    reading.take(_AUSTRALIAN, behind & ~reading.has("postal_code"), _always)
    placed = (placed | reading.has("postal_code")) & ~townless
    if (town := known.town) is not None:
        # 12, Taneja Ganj, Ramgarh: a part of the town before it, which is no region. Brooklyn, New York may be.
        def is_known(parts: Parts) -> NDArray[np.bool_]:
            before = pc.struct_field(captured(pc.fill_null(parts["street"], ""), "^(?:.*, )?(?P<last>[^,]+)$"), "last")
            return town(parts["city"]) & ~town(before)

        reading.take(_TOWN, every, is_known)
    reading.take(_REGION_CODE, placed, is_town)
    reading.take(_REGION_NAME, placed, lambda parts: is_town(parts) & known.region(parts["region"]))
    reading.take(_REGION_CODE, ~placed & ~townless, lambda parts: is_town(parts) & known.state(parts["region"]))
    reading.take(_REGION_NAME, ~placed & ~townless, lambda parts: is_town(parts) & known.state(parts["region"]))
    # Before a code of six digits (India, Russia) the town is last, and a part of it before it.
    six = matches(pc.fill_null(reading.found["postal_code"], ""), r"^\d{6}$").to_numpy(zero_copy_only=False)
    reading.take(_COUNTY, placed & ~six, lambda parts: is_town(parts) & ~known.street(parts["region"]))
    reading.take(_COUNTY, (~placed | six) & ~townless, lambda parts: is_town(parts) & known.region(parts["region"]))
    reading.take(_TWO_NAMES, placed, lambda parts: ~known.street(parts["first"]))
    reading.take(_TOWN, placed, is_town)
    reading.take(r"^(?P<street>.+)$", placed | townless, _always)
    if town is not None:
        for layout in (_TOWN_CODE, _CODE_TOWN, _TOWN):
            reading.take(layout, every, known_town)
        mostly = np.full(len(reading.text), reading.done.mean() >= _MOSTLY)
        for layout in (_TOWN_CODE, _CODE_TOWN, _STREET_TOWN):
            reading.take(layout, mostly, lambda parts: is_town(parts) & ~box_or_unit(parts))


def _with(column: Column, parts: Column, split: NDArray[np.int64], anyway: bool) -> Column:
    """The column with the value split[r] of parts (-1 = none) for the records r that have no value of their own, or for all of them."""
    codes = np.append(parts.codes, np.int32(-1))[split]
    codes = np.where(codes >= 0, codes + len(column.values), -1)
    codes = np.where((split >= 0) & (anyway | ((column.codes < 0) & (codes >= 0))), codes, column.codes)
    return Column(Texts.of(pa.concat_arrays([column.values.arrow(), parts.values.arrow()])), codes.astype(np.int32))
