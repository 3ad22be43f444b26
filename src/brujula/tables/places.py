"""Countries, their parts, and what addresses call streets, from ISO 3166 and tables of our own."""

from __future__ import annotations

import gettext
import json
from collections.abc import Iterable
from dataclasses import replace
from functools import cache
from pathlib import Path

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
import pycountry
from numpy.typing import NDArray

from brujula import tables
from brujula.core.batch import Texts
from brujula.core.steps import one_cell
from brujula.core.steps.listed import Table, among, meant
from brujula.core.steps.patterns import matches, replaced
from brujula.core.steps.text import fold, reworded

_COUNTIES = """greater london | greater manchester | west midlands | merseyside | tyne and wear | west yorkshire | south yorkshire | north yorkshire |
    east yorkshire | east riding of yorkshire | east sussex | west sussex | berkshire | bedfordshire | cheshire | lanarkshire | ayrshire | aberdeenshire |
    mid glamorgan | south glamorgan | west glamorgan | county down | county antrim | county durham"""
_SAINTS = {"saint", "sankt", "sainte", "san", "santa"}
_STREETS_ONLY = "st ave rd blvd dr ln pkwy hwy r c cta pso ul al imp ch via vle cso pza".split()
_ONE_TIER = ("US", "CA", "AU", "DE", "MX", "BR", "IN")


_IN_TONGUES = "de es fr it pt pt_BR nl pl sv da nb fi cs sk hu ro hr sl tr ca lt lv et".split()
"""Languages of lists, in which ISO 3166 names come with pycountry."""


def _named() -> list[tuple[str, str]]:
    """Names of countries as ISO 3166 has them, and their codes of two letters."""
    kinds = ("name", "common_name", "official_name")
    return [(name, c.alpha_2) for c in pycountry.countries for kind in kinds if (name := getattr(c, kind, ""))]


def _by_word(named: Iterable[tuple[str, str]]) -> dict[str, str]:
    """Codes by folded name, also without what stands in brackets and with what stands behind a comma before it: Korea, Republic of."""
    spelled = []
    for name, code in named:
        bare = name.partition(" (")[0]
        first, _, behind = bare.partition(", ")
        spelled += [(s, code) for s in (name, bare, f"{behind} {first}")]
    words = joined(Texts.of(pa.array([s for s, _ in spelled], pa.large_string()))).to_pylist()
    codes: dict[str, set[str]] = {}
    for word, (_, code) in zip(words, spelled, strict=True):
        codes.setdefault(word, set()).add(code)
    return {word: min(of) for word, of in codes.items() if len(of) == 1}


@cache
def country_table() -> dict[str, str]:
    """Folded country names and codes to the ISO 3166 two-letter code."""
    found = {c.lower(): country.alpha_2 for country in pycountry.countries for c in (country.alpha_2, country.alpha_3)}
    found |= _by_word(_named())
    for code, *names in tables.groups("countries"):
        found |= dict.fromkeys(names, code)
    return found


@cache
def _translated() -> dict[str, str]:
    """Folded names of countries in further languages, to the code."""
    spoken = [gettext.translation("iso3166-1", pycountry.LOCALES_DIR, [tongue]) for tongue in _IN_TONGUES]
    return _by_word((words.gettext(name), code) for words in spoken for name, code in _named())


def country_of(names: pa.Array) -> pa.Array:
    """ISO 3166 code of each folded name or code of a country; null where none is known."""
    found = meant(names, country_table)
    unknown = pc.and_(found.is_null(), pc.not_equal(names, ""))
    if not pc.any(unknown).as_py():
        return found
    # Most lists know no such name, and making this table takes a tenth of a second.
    return pc.coalesce(found, meant(names, _translated))


@cache
def _subdivisions() -> tuple[tuple[str, str, str], ...]:
    """Every part of a country in ISO 3166-2: the country's code, its own (tx), and its name."""
    # As the package keeps them: its objects of them take ten times as long to make as all we make of them.
    listed = json.loads((Path(pycountry.DATABASE_DIR) / "iso3166-2.json").read_text("utf-8"))["3166-2"]
    coded = ((*part["code"].split("-"), part["name"]) for part in listed)
    return tuple((country, code.lower(), name) for country, code, name in coded)


@cache
def _parts() -> tuple[tuple[str, str, str], ...]:
    """The same with their names folded."""
    countries, codes, names = zip(*_subdivisions(), strict=True)
    return tuple(zip(countries, codes, joined(Texts.of(pa.array(names, pa.large_string()))).to_pylist(), strict=True))


_SHORT_REGIONS = """al ala | az ariz | ar ark | ca calif | co colo | ct conn | fl fla | il ill | ks kans | ma mass | mi mich | mn minn | ms miss | mt mont | ne nebr |
    nv nev | nm nmex | nc ncarolina | nd ndak ndakota | ok okla | or ore oreg | pa penn penna | sc scarolina | sd sdak sdakota | tn tenn | tx tex | vt verm | wa wash |
    wv wva wvirginia | wi wis wisc | wy wyo | on ont | qc pq | sk sask | ab alta | nw nrw | mex edomex edodemexico | nl nuevoleon nle | bc bajacalifornia bcn |
    or odisha orissa od | ct chhattisgarh cg | ut uttarakhand uttaranchal"""
"""Codes of regions, and what people shorten their names to where no other region of the country is shortened so: N.L. is Nuevo León, and Newfoundland; OR was Orissa's."""


@cache
def region_table() -> dict[str, str]:
    """Folded names and codes of regions to one code; a code used in several countries stays one."""
    found: dict[str, str] = {}
    for country, code, name in _parts():
        found.setdefault(code, code)
        if country in (*_ONE_TIER, "IT", "ES"):
            found[name] = code
        if country in ("US", "CA", "AU"):
            found |= dict.fromkeys((f"{country.lower()}{code}", f"{name}{code}", f"{code}{name}", f"stateof{name}"), code)
    found.pop("uk", None)  # a country, and not Uttarakhand
    found |= {"bavaria": "by", "cdmx": "cmx", "ciudaddemexico": "cmx", "ny": "ny", "newyorkstate": "ny"}
    found |= {word: code for code, *words in (line.split() for line in _SHORT_REGIONS.split("|")) for word in words}
    return found


@cache
def countries_of_code() -> dict[str, frozenset[str]]:
    """The countries that have a region of each code (tx); the United States and Canada, whose codes stand in one list, as one."""
    found: dict[str, set[str]] = {}
    for country, code, _ in _subdivisions():
        found.setdefault(code, set()).add("US" if country == "CA" else country)
    return {code: frozenset(countries) for code, countries in found.items()}


def joined(texts: Texts, written_out: Table | None = None) -> pa.Array:
    """Each text's folded words run together; written_out : short words, and what they are short for."""
    words = fold(texts) if texts.offsets[-1] > texts.offsets[0] else None
    if words is None or len(words.vocabulary) == 0:
        return texts.arrow()
    spelled = words.vocabulary.arrow()
    if written_out:
        spelled = pc.coalesce(meant(spelled, written_out), spelled)
    spelled = spelled.take(pa.array(words.ids))
    return pc.binary_join(pa.LargeListArray.from_arrays(pa.array(words.offsets), spelled), pa.scalar("", pa.large_string()))


@cache
def state_table() -> dict[str, str]:
    """Regions of countries that have one kind of them only: two of these that differ are two places, in whatever spelling."""
    states = {code for country, code, _ in _parts() if country in _ONE_TIER}
    return {word: code for word, code in region_table().items() if code in states}


_ELSEWHERE = {"uk", "df", "distritofederal", "victoria", "georgia", "mexico", "durango", "um", "up"}
"""States of one country by today's ISO 3166-2 whose names regions or countries elsewhere bear, or bore: D.F. was Mexico's, too."""


@cache
def state_country_table() -> dict[str, str]:
    """Folded names and codes of states that no other country has a region of, and the code of their country."""
    owners: dict[str, set[str]] = {}
    for country, *words in _parts():
        for word in words:
            owners.setdefault(word, set()).add(country)
    told = {word: min(of) for word, of in owners.items() if len(of) == 1 and word not in _ELSEWHERE}
    return {word: country for word, country in told.items() if country in _ONE_TIER}


_TOWN_WORDS = {
    "st": "saint", "sankt": "saint", "ste": "sainte", "sta": "santa", "sto": "santo", "mt": "mount", "ft": "fort", "pt": "point",
    "n": "north", "s": "south", "e": "east", "w": "west", "upr": "upper", "lwr": "lower", "gt": "great", "ltl": "little",
    "hts": "heights", "sprgs": "springs", "twp": "township", "isl": "island", "gdns": "gardens", "grv": "grove", "rdg": "ridge",
    "vw": "view", "pk": "park", "xing": "crossing", "pto": "puerto", "cd": "ciudad", "gral": "general", "vla": "villa", "vta": "vista",
    "pqe": "parque",
}  # fmt: skip


@cache
def town_words() -> dict[str, str]:
    """Words that names of towns shorten, and what they are short for."""
    return _shortened("address_short") | _TOWN_WORDS


def _shortened(table: str) -> dict[str, str]:
    return {w: head for head, *members in tables.groups(table) for w in members}


def by_one_name(plain: pa.Array, table: Table, known_only: bool = False) -> Texts:
    """Each name as a table of synonyms has it.

    plain : the names' words run together;  known_only : what the table does not know becomes blank
    """
    named = meant(plain, table)
    return Texts.of(pc.fill_null(named, "") if known_only else pc.coalesce(named, plain))


@cache
def city_table() -> dict[str, str]:
    """Folded names of cities, and one name for each."""
    return _shortened("place_words")


_BY_THE_RIVER = (
    r"(?i)^\s*(.{4,}?)([ -](am|an der|an|upon|on|sur|sul|bei|nad|ob der|im|in der|unter|vor der|a\.? ?d\.?)[ -].+|\s*[(/,].+)$"
)


_BY_LETTERS = (
    (r"(?i)[ -][abio]\. ?(?:d\. ?)?[a-z]{1,2}\.?\s*$", ""),
    (r"(?i)([ -])a\. ?d\. ?", r"\1an der "),
    (r"(?i)([ -])o\. ?d\. ?", r"\1ob der "),
    (r"(?i)([ -])v\. ?d\. ?", r"\1vor der "),
    (r"(?i)([ -])a\. ?", r"\1am "),
    (r"(?i)([ -])b\. ?", r"\1bei "),
    (r"(?i)([ -])i\. ?", r"\1im "),
)
"""Neustadt a. d. Aisch, Burg b. Magdeburg; of Frankfurt a. M. no more is left than Frankfurt."""


def by_the_river(towns: Texts) -> Texts:
    """Towns with what stands behind them written out, or left out where letters are all of it."""
    return reworded(towns, _BY_LETTERS, r"(?i)[ -][abiov]\.")


def without_river(towns: pa.Array) -> pa.Array:
    """Towns without what stands behind to tell them from others: Newcastle upon Tyne, Schönebeck (Elbe)."""
    return replaced(towns, _BY_THE_RIVER, r"\1")


_POSTED_AS_STATES = frozenset(("fm", "mh", "pw", "aa", "ap"))
"""What mail of the United States calls by two letters as it does states: islands it serves, its forces overseas."""


def places(towns: pa.Array | None = None) -> one_cell.Places:
    """What the tables know of the words of an address written in one cell. towns : those that records name in a column of their own."""
    return (
        _places() if towns is None or len(towns) == 0 else replace(_places(), town=_listed(joined(Texts.of(towns)).to_pylist()))
    )


def _listed(values: Iterable[str]) -> one_cell.Known:
    known = frozenset(values)
    return lambda text: among(joined(Texts.of(pc.fill_null(text, ""))), known).to_numpy(zero_copy_only=False)


@cache
def _places() -> one_cell.Places:
    countries, codes, names = zip(*_subdivisions(), strict=True)
    names = joined(Texts.of(replaced(pa.array(names, pa.large_string()), r" *[\[(].*$", ""))).to_pylist()
    parts = tuple(zip(countries, codes, names, strict=True))
    states = {word for country, *words in parts if country in ("US", "CA", "AU") for word in words}
    states |= {code for country, code, _ in parts if country == "DE"} | _POSTED_AS_STATES
    # St. Paul, Orme Heights and West Orme are towns: words that streets share with them tell nothing.
    words = {w for head, *members in tables.groups("street_words") if head in _STREETS_ONLY for w in (head, *members)}
    streets = frozenset(w for w in words - _SAINTS if len(w) > 2 or w == "rd")

    def has_street_word(text: pa.Array) -> NDArray[np.bool_]:
        words = fold(Texts.of(pc.fill_null(text, "")))
        plain = words.vocabulary.arrow()
        named = pc.or_(among(plain, streets), matches(plain, "(strasse|str|straat|gasse|weg|gatan|vej|veien)$"))
        at = np.repeat(np.arange(len(words)), np.diff(words.offsets))
        return np.asarray(np.bincount(at[named.to_numpy(zero_copy_only=False)[words.ids]], minlength=len(words)) > 0)

    counties = joined(Texts.of([c.strip() for c in _COUNTIES.split("|")])).to_pylist()
    inside = frozenset(f"{country} {word}" for country, *words in parts for word in words)

    def within(country: pa.Array, region: pa.Array) -> NDArray[np.bool_]:
        code = country_of(joined(Texts.of(pc.fill_null(country, ""))))
        both = pc.binary_join_element_wise(code, joined(Texts.of(pc.fill_null(region, ""))), pa.scalar(" ", pa.large_string()))
        return np.asarray(among(both, inside).to_numpy(zero_copy_only=False))

    return one_cell.Places(
        _listed(country_table()),
        _listed(states),
        _listed([*names, *counties, *region_table(), *_POSTED_AS_STATES]),
        within,
        has_street_word,
    )


@cache
def street_synonyms() -> dict[str, str]:
    """Words for kinds of streets and their abbreviations, and one word for each."""
    return _shortened("street_words")


@cache
def street_short() -> dict[str, str]:
    """Other words of addresses, as they are shortened there, and the words themselves."""
    return _shortened("address_short") | _shortened("street_short")
