"""How two postal addresses stand to each other: street and number, and the place together."""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from brujula.core.batch import Keys, Texts
from brujula.core.kernels import phrases as kernel
from brujula.core.kind import Compared, Who
from brujula.core.steps import joining, phrases
from brujula.core.steps.distinct import distances
from brujula.core.steps.sharing import both_known, most, owners
from brujula.core.steps.text import hash_values, join_keys, unlike_letters
from brujula.core.steps.towns import Towns, either_way

_SIDES = ("n", "s", "e", "w", "ne", "nw", "se", "sw")
_BOXES = ("box", "postfach", "postbus", "apartado", "casella", "skrytka", "postboks", "bp")
_S_DIFFERS, _S_ELSEWHERE, _S_STREET, _S_NEAR, _S_UNIT, _S_CLOSE, _S_SAME, _S_TOWNS, _S_BRANCH, _S_WHICH = range(10)
_P_ABROAD, _P_COUNTRY, _P_DIFFERS, _P_CODES, _P_LAND, _P_NEAR, _P_TOWNS, _P_GIVEN, _P_CITY, _P_CODE, _P_BOTH = range(11)


class Addresses(NamedTuple):
    """Addresses of n records; keys are 0 where blank.

    state : the region where it is one that has no others in it or above it;  in_town : how many records name the town
    city_letters, street_letters : which letters they are written in (`text.letters`);  sides : which sides of the compass the street names, a bit each;  boxes : whether it is a box at the post office
    house : whose place it is, of firms;  spread : how far that firm is spread (`spread_of`)
    named : how the lists name towns
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
    sides: NDArray[np.uint8]
    boxes: NDArray[np.bool_]
    house: Keys
    spread: NDArray[np.int8]
    named: Towns


_MANY_TOWNS, _SEVERAL = 3, 2


def spread_of(who: Who, town: Keys, door: Keys, n_existing: int) -> NDArray[np.int8]:
    """How far the firm of each record is spread in a list: 1 = over three towns or more, 2 = and at two doors in one of them, or at three doors in one town; else 0.

    Two of one list are two; who moved, or is there twice, has two doors in one town, and seldom three. Counted are those whose name does not
    give the town: every town has a Public Library, and Orme Public Library is no branch of it.

    town, door : uint64[n], the existing records first; 0 = none
    """
    plain = np.where(who.house == who.exact, who.house, np.uint64(0))
    towns, doors, near = np.zeros(len(plain), np.int32), np.zeros(len(plain), np.int32), join_keys(plain, town)
    for side in (slice(0, n_existing), slice(n_existing, len(plain))):
        towns[side], doors[side] = owners(plain[side], town[side]), owners(near[side], door[side])
    towns, doors = most(who.house, towns), most(who.house, doors)
    far = towns >= _MANY_TOWNS
    return np.where((doors > _SEVERAL) | (far & (doors >= _SEVERAL)), 2, far).astype(np.int8)


def joined(held: Addresses, records: NDArray[np.int32], asked: Addresses) -> Addresses:
    """The addresses of some of the records held, and of those asked about behind them."""
    towns = held.city_codes[records]
    values = joining.Values.of(towns)
    return joining.of_records(
        held,
        records,
        asked,
        street=phrases.joined(held.street, records, asked.street)[0],
        city_codes=values.codes(towns, asked.city_codes),
        city_texts=values.texts(held.city_texts, asked.city_texts),
        city_written=values.texts(held.city_written, asked.city_written),
        named=held.named,
    )


def sides_named(spoken: phrases.Phrases) -> NDArray[np.uint8]:
    """Which sides of the compass each record's street names, a bit each."""
    bits = np.zeros(len(spoken.concepts), np.uint8)
    for bit, key in enumerate(hash_values(Texts.of(list(_SIDES)))):
        bits[spoken.concepts == key] = 1 << bit
    return phrases.word_bits(spoken, bits)


def boxes_named(spoken: phrases.Phrases) -> NDArray[np.bool_]:
    """Which records give a box at the post office for a street."""
    return phrases.word_bits(spoken, np.isin(spoken.concepts, hash_values(Texts.of(list(_BOXES)))))


def _numbered_twice(s: Addresses, records: Any) -> NDArray[np.bool_]:
    """Which of some records are in a country whose houses have two numbers: Lipová 123/12 is house 123 of the town and 12 of the street, and either alone says which."""
    return np.isin(s.country.take(records), hash_values(Texts.of(["CZ", "SK"])))


def compare_streets(s: Addresses, left: Any, right: Any, place: NDArray[np.int8]) -> Compared:
    """Level of the streets; every town has a Main Street, so streets alike in two places say next to nothing, however rare the number."""
    names, _ = phrases.compare(s.street, left, right)
    x, y = s.number.take(left), s.number.take(right)
    numbered, alike = (x != 0) & (y != 0), x == y
    u, v = s.unit.take(left), s.unit.take(right)
    alike |= numbered & ((u == y) | (v == x)) & (_numbered_twice(s, left) | _numbered_twice(s, right))
    x, y = s.sides.take(left), s.sides.take(right)
    opposite = (x != 0) & (y != 0) & (x & y == 0)
    other_unit = (u != 0) & (v != 0) & (u != v)
    unlike = unlike_letters(s.street_letters, left, right) & (names < kernel.SHARES)
    out = np.where((names < 0) | unlike, -1, _S_DIFFERS).astype(np.int8)
    near, same = names >= kernel.SHARES, names >= kernel.NEARLY
    out[same & numbered & ~alike] = _S_STREET
    out[(near & numbered & alike) | ((names >= kernel.ADDED) & ~numbered)] = _S_NEAR
    out[((names >= kernel.ADDED) & numbered & alike) | (same & ~numbered)] = _S_CLOSE
    out[(names == kernel.SAME) & (alike | ~numbered)] = _S_SAME
    out[(out >= _S_CLOSE) & other_unit] = _S_UNIT
    out[(out >= _S_UNIT) & opposite] = _S_NEAR  # North Main Street and South Main Street
    elsewhere = (place >= 0) & (place <= _P_DIFFERS)
    out[elsewhere & (out == _S_STREET)] = _S_DIFFERS
    out[elsewhere & (out >= _S_NEAR)] = _S_ELSEWHERE
    one_boxed = s.boxes.take(left) != s.boxes.take(right)
    out[one_boxed & (out == _S_DIFFERS)] = -1  # a box at the post office is no other house
    far = np.maximum(s.spread.take(left), s.spread.take(right))
    doors = numbered & ~alike & ~s.boxes.take(left) & ~s.boxes.take(right) & (far > 0)
    doors &= ((out == _S_DIFFERS) | (out == _S_STREET)) & ~elsewhere
    out[doors] = _S_TOWNS + far[doors] - 1
    out[(out < 0) & (far == _SEVERAL) & (place >= _P_CITY)] = _S_WHICH
    common, told = np.zeros(len(left), np.float32), np.flatnonzero((out >= _S_UNIT) & (out <= _S_SAME))
    common[told] = np.maximum(s.street_shares[left[told]], s.street_shares[right[told]])
    return Compared(out, common)


def compare_places(s: Addresses, left: Any, right: Any) -> Compared:
    """Level of town, postal code, region and country together."""

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
    length, other_length = s.city_texts.sizes(town), s.city_texts.sizes(other_town)
    short = np.minimum(length, other_length)
    # Vitoria stands for Vitoria-Gasteiz: with a slip in it, it is like the one and unlike the other.
    written, other_written = s.city_written.sizes(town), s.city_written.sizes(other_town)
    renamed = (written != length) | (other_written != other_length)
    at = np.flatnonzero(renamed & (distance > 1))
    at = at[distances(s.city_written, town[at], other_town[at]) <= 1]
    distance[at], short[at] = 1, np.minimum(written[at], other_written[at])
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
    two_towns = both_known(s.in_town.take(x), s.in_town.take(y)) & ~area[rest]
    once = (distance <= 1) & ((short >= 4) | ((short == 3) & around & (start == other_start)))
    near = rest[short_of | begins | ((once | twice) & ~two_towns)]
    city[near], other_city[near] = True, False
    out = np.full(len(left), -1, np.int8)
    out[other_city | (other_code & ~city)] = _P_DIFFERS
    out[(out == _P_DIFFERS) & region & ~other_city] = _P_CODES
    out[((out == _P_DIFFERS) | (out == _P_CODES)) & area & ~other_city] = _P_NEAR
    out[(out == -1) & region] = _P_NEAR
    out[(out == -1) & country] = _P_LAND
    given = np.zeros(len(left), bool)
    if len(s.named.given):
        given[rest] = np.isin(either_way(s.city.take(x), s.city.take(y)), s.named.given)
    if s.named.loosely:
        given[rest] |= (s.street_key.take(x) == s.street_key.take(y)) & (s.number.take(x) != 0)
    given &= other_city & ~other_code
    out[given] = _P_GIVEN
    out[city] = _P_CITY
    out[other_state & ~area] = _P_DIFFERS  # Portland in Oregon and Portland in Maine
    out[code & ~city] = np.where((other_city & ~given)[code & ~city], _P_TOWNS, _P_CODE)
    out[code & city] = _P_BOTH
    out[(other_country | other_shape) & (out < _P_CODE)] = _P_COUNTRY
    out[(out == _P_COUNTRY) & ~(city | other_city | code | other_code)] = _P_ABROAD
    common, told = np.zeros(len(left), np.float32), np.flatnonzero(out >= _P_CITY)
    # With a slip in it a town is as common as the one it was meant for.
    of_city, of_code = (np.maximum(shares[left[told]], shares[right[told]]) for shares in (s.city_shares, s.postal_shares))
    level = out[told]
    common[told] = np.where(level == _P_CITY, of_city, np.where(level == _P_CODE, of_code, np.minimum(of_city, of_code)))
    return Compared(out, common)
