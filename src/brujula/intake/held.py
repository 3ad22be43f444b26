"""What a column without a heading we know tells by itself: places, addresses, titles, given names."""

from __future__ import annotations

from collections import Counter

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Texts
from brujula.core.steps.listed import among
from brujula.core.steps.patterns import matches, replaced
from brujula.core.steps.text import fold
from brujula.intake.content import (
    BARE,
    NAMED,
    TELLING,
    Samples,
    content_of,
    is_repeated,
    name_words,
    names_in,
    title_words,
    with_one,
)
from brujula.tables.places import countries_of_code, country_table, joined, region_table

_COUNTRY = "(?:[abdefhilnps]|at|be|ch|cz|de|dk|ee|es|fi|fin|fl|fr|hr|it|li|lt|lu|lv|md|nl|no|pl|pt|ro|se|si|sk|sl|ua|us)"
"""Of vehicles, or of ISO 3166, ahead of a postal code: D-80331."""
_PATTERNS = {
    "postal_code": rf"(?i)^({_COUNTRY}-)?"
    r"(\d{4,6}|\d{5}-\d{3,4}|\d{4}-\d{3})$|^[a-z]\d[a-z] ?\d[a-z]\d$|^[a-z]{1,2}\d[a-z\d]? ?\d[a-z]{2}$|^\d{3} ?\d\d$|^\d\d-\d{3}$"
    r"|^\d{4} ?[a-z]{2}$|^\d{3} \d{3}$|^[a-z]\d[\dw] ?[a-z\d]{4}$",
    "city": r"^[^\d,]{2,},\s*[A-Z]{2}\.?,?\s+\d{5}(-\d{4})?$",
    "street": r"(?i)^\d+[a-z]?,?\s+[^\d\s].{2}|^[^\d@]{3,}\s\d+\s?[a-z]?(\W|$)",
}
_HELD = {"country": 0.7, "region": 0.6, "postal_code": 0.8, "city": 0.8, "street": 0.6, "job_title": 0.4, "given_name": 0.35}
"""Shares of values that tell a column without a heading that is known; the first that does."""
_MANY, _OFTEN = 12, 0.3  # different streets, or such a share of the values
_SOME = 0.2  # share of values
_CODE = 3  # letters of a region's code at most
_HALF_DAYS = frozenset(("am", "pm"))
_YEARS = 0.9  # a column of these is no postal code's
_OTHER_LENGTHS = 0.15  # share of bare numbers that are longer or shorter than most, up to which they may be postal codes: leading zeros get lost
PLACES = frozenset(("country", "region"))  # one heading may mean either: Kraj in Warsaw and in Prague


def held_fields(samples: Samples) -> list[str]:
    """Per column, the field its values tell by themselves, "" = none: places, addresses, titles, given names."""
    text = samples.text
    words = fold(Texts.of(text))
    if len(words.vocabulary) == 0:
        return [""] * samples.columns
    size = np.diff(words.offsets)
    first = words.vocabulary.arrow().take(pa.array(words.ids[np.minimum(words.offsets[:-1], len(words.ids) - 1)]))
    given = among(first, name_words()[1]).to_numpy(zero_copy_only=False)
    (titled,) = with_one(words, len(text), (title_words(),))
    place, spelled = joined(Texts.of(text)), matches(text, r"\pL")
    country, region = (pc.and_(spelled, among(place, frozenset(known()))) for known in (country_table, region_table))
    # A code may be either (AZ, CA, DE): as one of a region it counts.
    country = pc.and_(country, pc.or_(pc.greater(pc.utf8_length(place), 3), pc.invert(region)))
    # One letter is a region somewhere, and more often a sex, a size or a yes.
    region = pc.and_(region, pc.greater(pc.utf8_length(place), 1))
    shares = {
        "country": samples.shares(country),
        # am and pm are parts of Brazil and of France, too
        "region": _in_one_country(samples, place, region) * (samples.shares(among(place, _HALF_DAYS)) < 1.0),
        "job_title": samples.shares(titled),
        "given_name": samples.shares(given & (size > 0)) * (samples.shares(size == 1) > 0.6),
    } | {field: samples.shares(matches(text, pattern)) for field, pattern in _PATTERNS.items()}
    shares["street"] *= ~_are_numbered(samples)
    # Brazil's, every other one without its stroke
    stroked, bare = (samples.shares(matches(text, pattern)) for pattern in (r"^\d{5}-\d{3}$", r"^\d{8}$"))
    shares["postal_code"] += bare * (stroked >= _SOME)
    shares["postal_code"] *= samples.shares(matches(text, r"^(19|20)\d\d$")) < _YEARS
    # Codes of one country have as many digits each; what counts something has fewer here and more there.
    most = np.max([samples.shares(matches(text, rf"^\d{{{n}}}$")) for n in range(4, 7)], axis=0)
    shares["postal_code"] *= samples.shares(matches(text, r"^\d{4,6}$")) - most <= _OTHER_LENGTHS
    for at in np.flatnonzero(shares["given_name"] >= _HELD["given_name"]):
        shares["given_name"][at] *= not is_repeated(text.filter(pa.array(samples.owner == at)))  # Austin, Denver
    told = ((field for field, least in _HELD.items() if shares[field][i] >= least) for i in range(samples.columns))
    return [next(fields, "") if enough else "" for fields, enough in zip(told, samples.enough(), strict=True)]


def _in_one_country(samples: Samples, place: pa.Array, region: pa.Array) -> NDArray[np.float64]:
    """Per column, the share of its values that are regions: names, and codes in capitals of the one country that has most of them (languages and initials are codes of a region somewhere)."""
    hit = region.to_numpy(zero_copy_only=False).astype(bool)
    coded = hit & (pc.utf8_length(samples.text).to_numpy(zero_copy_only=False) <= _CODE)
    shares = samples.shares(hit & ~coded)
    coded &= pc.equal(samples.text, pc.utf8_upper(samples.text)).to_numpy(zero_copy_only=False).astype(bool)
    for at in np.unique(samples.owner[coded]):
        counted = pc.value_counts(place.filter(pa.array(coded & (samples.owner == at)))).to_pylist()
        of: Counter[str] = Counter()
        for code in counted:
            of.update(dict.fromkeys(countries_of_code().get(code["values"], ()), code["counts"]))
        shares[at] += max(of.values(), default=0) / max(int((samples.owner == at).sum()), 1)
    return shares


def _are_numbered(samples: Samples) -> NDArray[np.bool_]:
    """Which columns number things by a word or a few: Room 12, Route 7. Streets of one word are several: Torstraße 12, Hauptstr. 7."""
    numbered = matches(samples.text, r"^\pL[^\d\s]* \d+ ?[a-zA-Z]?$")
    word = replaced(samples.text, r"\s.*$", "").filter(numbered)
    owner = samples.owner[numbered.to_numpy(zero_copy_only=False).astype(bool)]
    kinds = pa.table({"of": owner, "word": word}).group_by("of").aggregate([("word", "count_distinct")])
    several = np.zeros(samples.columns)
    several[kinds["of"].to_numpy()] = kinds["word_count_distinct"].to_numpy()
    most = samples.shares(numbered) >= _HELD["street"]
    return np.asarray(most & (several < np.minimum(_MANY, _OFTEN * samples.sizes())))


def held_field(values: pa.Array) -> str:
    """The same of one column."""
    return held_fields(Samples.of([values]))[0]


def told_by(values: pa.Array) -> str:
    """What a column's values are, by a pattern or by words that are known; "" = they do not tell."""
    content = {kind: share for kind, share in content_of(values).items() if share >= TELLING[kind] and kind not in BARE}
    firms, people = names_in(values)
    named = "firm" if firms >= NAMED else "person" if people >= NAMED else ""
    return max(content, key=lambda kind: content[kind], default="") or named or held_field(values)
