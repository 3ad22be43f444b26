"""What a column holds, told by its values: patterns, words of names and titles, places."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import cache
from typing import NamedTuple

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula import tables
from brujula.core.batch import Texts
from brujula.core.steps.listed import among
from brujula.core.steps.parallel import spread
from brujula.core.steps.patterns import captured, matches, replaced
from brujula.core.steps.text import Words, fold
from brujula.fields.person_name import TITLES
from brujula.fields.profile import pages
from brujula.tables.places import country_table, joined

SAMPLE = 2_000
NAMED = 0.4  # share of values that makes a column one of names
ENOUGH = 4  # fewer filled cells say nothing about a column
CONTENT = {
    "email": r"(?i)^[^@<>]*<\s*[^@<>\s]+@[^@<>\s]+\s*>$|^[^@\s]+\s?(@|＠)+\s?[^@\s]+[.,][^@\s]+$|^\S+\s?[\[({]\s?at\s?[\])}]\s?\S+$",
    "website": r"(?i)^(https?://|www\.)[^@\s]+$|^[a-z0-9-]+(\.[a-z0-9-]+)*\.(com|org|net|example|de|fr|es|uk|io|edu)$",
    "phone": r"(?i)^(((t[eé]l([eé](ph|f)on[eo]?)?|(mobile |cell )?phone|fon|ph|mob(ile?)?|cell)\b\.? ?:?|[tpm][.:]) *)?\+?[\d\s().\-/]{7,22}( ?(x|ext\.?) ?\d+)?$",
    "number": r"^[\d\s.,/-]*\d[\d\s.,/-]*$",
    "code": r"^#?([A-Za-z]{1,4}[-_/#]|[A-Za-z]?)\d[\w/.-]*$",
    "date": r"(?i)^\d{4}-\d\d-\d\d|^\d{1,2}[./] ?\d{1,2}[./] ?\d{4}\.?$|^(19|20)\d\d([./] ?\d{1,2}){2}\.?$"
    r"|^(\d{1,2}\.?[ -])?(jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec)[a-z]*[ .-](\d{1,2},? )?\d{4}$",
}
TELLING = {"email": 0.6, "website": 0.6, "phone": 0.6, "number": 0.95, "code": 0.95, "date": 0.7}
BARE = ("number", "code")
"""Tell what a column does not hold: names, titles, words."""


def filled(values: pa.Array | pa.ChunkedArray) -> pa.Array | pa.ChunkedArray:
    """The values of a column's sample that are not blank."""
    text = pc.utf8_trim_whitespace(values.slice(0, SAMPLE).cast(pa.large_string()))
    return text.filter(pc.not_equal(text, ""))


class Samples(NamedTuple):
    """The filled sample values of several columns behind each other, and which column each is of: a pattern takes as long for one column as for all.

    columns : how many there are
    """

    text: pa.Array
    owner: NDArray[np.int64]
    columns: int

    @classmethod
    def of(cls, columns: Sequence[pa.Array | pa.ChunkedArray]) -> Samples:
        """The samples of columns."""
        parts = [filled(values) for values in columns]
        parts = [part.combine_chunks() if isinstance(part, pa.ChunkedArray) else part for part in parts]
        text = pa.concat_arrays([pa.array([], pa.large_string()), *parts])
        return cls(text, np.repeat(np.arange(len(parts)), [len(part) for part in parts]), len(parts))

    def some(self, which: Sequence[int]) -> Samples:
        """The samples of some of the columns, which are in ascending order."""
        chosen = np.isin(self.owner, which)
        return Samples(self.text.filter(pa.array(chosen)), np.searchsorted(which, self.owner[chosen]), len(which))

    def sizes(self) -> NDArray[np.int64]:
        """How many values there are of each column."""
        return np.bincount(self.owner, minlength=self.columns)

    def enough(self) -> NDArray[np.bool_]:
        """Which columns have values enough to say anything."""
        return self.sizes() >= ENOUGH

    def shares(self, hits: pa.Array | NDArray[np.bool_]) -> NDArray[np.float64]:
        """The share of the values of each column that are hit."""
        hit = hits if isinstance(hits, np.ndarray) else hits.to_numpy(zero_copy_only=False)
        return np.bincount(self.owner, weights=hit, minlength=self.columns) / np.maximum(self.sizes(), 1)


def contents_of(samples: Samples) -> list[dict[str, float]]:
    """Per column, the share of its values that look like a mail, website, phone or date; nothing for one with hardly a value."""
    found = spread(lambda pattern: samples.shares(matches(samples.text, pattern)), CONTENT.values())
    shares = dict(zip(CONTENT, found, strict=True))
    is_date, is_phone = (shares[kind] >= TELLING[kind] for kind in ("date", "phone"))
    no_phone = is_date  # a date is digits and strokes, too
    if (is_phone & ~is_date).any():
        of_machines = [samples.shares(matches(samples.text, pattern)) >= _NEARLY_ALL for pattern in _MACHINES]
        degrees = samples.shares(matches(samples.text, _ON_A_MAP)) >= 1 - TELLING["phone"]
        districts = samples.shares(matches(samples.text, _OF_THE_POST)) >= _NEARLY_ALL
        districts &= samples.shares(matches(samples.text, r"\D")) >= _NOW_AND_THEN
        birthdays = [is_phone & _are_birthdays(samples, pattern) for pattern in _BEGIN_WITH_A_DAY]
        no_phone = np.logical_or.reduce([no_phone, np.logical_and.reduce(of_machines), degrees, districts, *birthdays])
    shares["phone"] = np.where(no_phone, 0.0, shares["phone"])
    return [{kind: float(of[i]) for kind, of in shares.items()} if enough else {} for i, enough in enumerate(samples.enough())]


def _are_birthdays(samples: Samples, pattern: str) -> NDArray[np.bool_]:
    """Which columns hold numbers that begin with a day, and hardly ever with the same: those of phones in one area may look like one (0211 for 2 November)."""
    hits = matches(samples.text, pattern).to_numpy(zero_copy_only=False)
    most = samples.shares(hits) >= _NEARLY_ALL
    if not most.any():
        return most
    hits &= most[samples.owner]
    found = captured(samples.text.filter(pa.array(hits)), pattern)
    day = pc.struct_field(pa.concat_arrays(found.chunks) if isinstance(found, pa.ChunkedArray) else found, "day")
    told = {*zip(samples.owner[hits].tolist(), day.to_pylist(), strict=True)}
    several = np.bincount([at for at, _ in told], minlength=samples.columns)
    return np.asarray(most & (several >= np.maximum(np.minimum(_OFTEN * samples.sizes(), _MANY_DAYS), ENOUGH)))


def content_of(values: pa.Array) -> dict[str, float]:
    """The same of one column."""
    return contents_of(Samples.of([values]))[0]


_OCTET = r"(?:25[0-5]|2[0-4]\d|1\d\d|[1-9]?\d)"
_MACHINES = (rf"^{_OCTET}(?:\.{_OCTET}){{3}}$", r"(?:^|\.)(?:\d|\d{3})(?:\.|$)")
"""Addresses of machines; what has two digits in each part is a phone of Denmark or Norway."""
_ON_A_MAP = r"^-?(\d|[1-9]\d|1[0-7]\d)\.\d+$"
"""Degrees."""
_OF_THE_POST = r"^\d{5}-?\d{3}$|^\d{3} \d{3}$"
_NOW_AND_THEN = 0.2
"""Postal codes of Brazil and of India; without a stroke anywhere they may be anything."""
_MONTH, _DAY = "(?:0[1-9]|1[0-2])", "(?:0[1-9]|[12][0-9]|3[01])"
_BEGIN_WITH_A_DAY = (
    rf"^(?:19|20)?\d\d(?P<day>{_MONTH}{_DAY})[-+/ ]?\d{{3,7}}$",
    rf"^(?P<day>{_DAY}{_MONTH})\d\d[-+/ ]?\d{{3,7}}$",
    rf"^\d{{1,6}}[-/](?P<day>{_DAY}{_MONTH})\d\d[-/]\d{{1,4}}$",
)
"""Numbers of people that begin with the day of their birth: 19681206-4111, 120668-4111. Of phones four in a hundred do."""
_OFTEN, _MANY_DAYS = 0.4, 60.0  # share of the numbers that begin each with another day, and so many days as tell in any case


def is_code(values: pa.Array | pa.ChunkedArray) -> bool:
    """Whether a column holds numbers or codes, not dates."""
    return is_bare(values) and content_of(values)["date"] < TELLING["date"]


def is_bare(values: pa.Array | pa.ChunkedArray) -> bool:
    """Whether a column holds numbers or codes, dates among them."""
    text = filled(values)
    return len(text) >= ENOUGH and any(
        pc.mean(matches(text, CONTENT[kind]).cast(pa.float64())).as_py() >= TELLING[kind] for kind in BARE
    )


_OF_TOWNS = ("saint", "mount", "fort", "city", "park", "village", "county")
"""Words of firms that towns are called by as often: San Diego, Studio City."""


@cache
def name_words() -> tuple[frozenset[str], frozenset[str]]:
    """Words that stand in names of organisations, and given names."""
    apart = ("skip", "direction", "akin", "ends", "number", "#", *_OF_TOWNS)
    words = (
        w.partition(":")[0] for head, *members in tables.groups("company_words") if head not in apart for w in (head, *members)
    )
    firms = {w for w in words if len(w) > 2}
    people = {w for group in tables.groups("nicknames") for w in group if len(w) > 2}
    return frozenset(firms - people), frozenset(people - firms)


_COUNTRIES = r"(?i)\bunited (states|kingdom|arab)\b"
"""Have a word of firms' names in them, and end addresses."""


_BUILT_LIKE_A_FIRM = (
    r"\pL\S*\s+(?:(?:AB|HB|KB|AG|KG|UG|SA|SL|SC|BV|NV|OY|Oy|LP|GK|KK)|(?:S\.\s?[ALCp]\.|S/A|A/S|B\.V\.|N\.V\.|[Ss]p\.\s?[jkz]\.(?:\s?o\.\s?o\.)?|[akos]\.\s?[sc]\.|Co\.))$"
    r"|\pL - (?:ME|EI|EPP)$"
    r"|^\pL[\pL'’-]+, \pL[\pL'’-]+,? (?:and|&|und|et|y|e|i|en|och|og) \pL[\pL'’-]+$"
)
"""Ends in a legal form of two letters (Quist AB), or is three family names: Lind, Quist and Orme."""
_TWO = r"^\pL[\pL'’ -]+ & \pL[\pL'’ -]+$"
"""Two family names, or a couple."""
_MARKS = r"^#\pL|^[^\s\p{Lu}]+(?:[,;|][^\s\p{Lu}]+)+$|^[^\s_]+_\S+$"
"""Words that things are marked with: #band, band,choir, pty_51545."""


def names_of(samples: Samples) -> list[tuple[float, float]]:
    """Per column, the share of its values that are like an organisation's name, by a word in them or as they are built, and with a given name among several words.

    A column of what people do (Band Director, School Secretary) names no organisations.
    """
    words = fold(Texts.of(replaced(samples.text, _COUNTRIES, "")))
    if len(words.vocabulary) == 0:
        return [(0.0, 0.0)] * samples.columns
    worded, given, role = with_one(words, len(samples.text), (*name_words(), _roles()))
    built, two, mails, marks = (
        matches(samples.text, p).to_numpy(zero_copy_only=False).astype(bool) for p in (_BUILT_LIKE_A_FIRM, _TWO, "@", _MARKS)
    )
    firms, people, roles = (
        samples.shares(hit) * samples.enough()
        for hit in ((worded & ~marks) | built | (two & ~given), given & ~(built | mails), role)
    )
    several = samples.shares(np.diff(words.offsets) >= 2)
    # Streets are called after people, and have numbers.
    numbered = samples.shares(matches(samples.text, r"\d"))
    of_firms, of_people = firms * (roles < NAMED), people * (several > 0.5) * (numbered < 0.5)
    return [(float(a), float(b)) for a, b in zip(of_firms, of_people, strict=True)]


def names_in(values: pa.Array) -> tuple[float, float]:
    """The same of one column."""
    return names_of(Samples.of([values]))[0]


def with_one(words: Words, n: int, known: Iterable[frozenset[str]]) -> list[NDArray[np.bool_]]:
    """Whether each of n texts has a word of a set, by set."""
    owner = np.repeat(np.arange(n), np.diff(words.offsets))
    hits = (among(words.vocabulary.arrow(), some).to_numpy(zero_copy_only=False)[words.ids] for some in known)
    return [np.bincount(owner, weights=hit, minlength=n) > 0 for hit in hits]


def with_words(text: pa.Array) -> tuple[NDArray[np.bool_], NDArray[np.bool_], NDArray[np.bool_]]:
    """Whether each text has a word of an organisation's name in it, a given name, and a word that says who somebody is."""
    words = fold(Texts.of(text))
    if len(words.vocabulary) == 0:
        return np.zeros(len(text), bool), np.zeros(len(text), bool), np.zeros(len(text), bool)
    firm, person, role = with_one(words, len(text), (*name_words(), _roles()))
    return firm, person, role


_FEW_VALUES, _OF_MANY = 12, 40


def is_repeated(values: pa.Array) -> bool:
    """Whether a column has a few values only, over and over: kinds, stages and terms rather than firms or streets."""
    text = filled(values)
    return len(text) >= _OF_MANY and int(pc.count_distinct(text).as_py()) < _FEW_VALUES


def is_for_all(values: pa.Array) -> bool:
    """Whether a column has hardly a value that is one row's own: a few over and over, or one for all."""
    text = filled(values)
    return is_repeated(values) or (len(text) >= ENOUGH and int(pc.count_distinct(text).as_py()) == 1)


_NEARLY_ALL = 0.9


def are_pages(values: pa.Array) -> bool:
    """Whether nearly all values are pages of one site, each there once: those that people have on a network."""
    text = filled(values)
    if len(text) < ENOUGH:
        return False
    site, page = pages(Texts.of(text))
    most = pc.max(pc.struct_field(pc.value_counts(site.filter(pc.not_equal(site, ""))), "counts")).as_py() or 0
    return min(most, int(pc.count_distinct(page.filter(pc.not_equal(page, ""))).as_py())) >= _NEARLY_ALL * len(text)


def on_one_site(values: pa.Array) -> bool:
    """Whether nearly all values are addresses within one site: a register's pages, and nobody's own."""
    text = filled(values)
    if len(text) < ENOUGH:
        return False
    address = replaced(pc.utf8_lower(text), r"^(?:https?:/+)?(?:www\.)?", "")
    site = replaced(address, r"^([^/]+)/+[^/].*$", r"\1")
    within = site.filter(pc.not_equal(site, address))
    return len(within) > 0 and pc.max(pc.struct_field(pc.value_counts(within), "counts")).as_py() >= _NEARLY_ALL * len(text)


def is_running(values: pa.Array, apart: int = 2) -> bool:
    """Whether a column counts: whole numbers, each once, and from the lowest to the highest less than so many times as many as there are."""
    text = filled(values)
    if len(text) < ENOUGH or not pc.all(matches(text, r"^\d{1,12}$")).as_py():
        return False
    numbers = np.unique(pc.cast(text, pa.int64()).to_numpy())
    return len(numbers) == len(text) and int(numbers[-1] - numbers[0]) < apart * len(numbers)


def counts_on(values: pa.Array) -> bool:
    """Whether values are numbers that count on from row to row, as a list numbers its lines; blank ones are passed over."""
    text = values.filter(pc.not_equal(values, ""))
    if len(text) < 2 or not pc.all(matches(text, r"^\d{1,18}$")).as_py():
        return False
    return bool((np.diff(pc.cast(text, pa.int64()).to_numpy()) == 1).all())


def holds_countries(values: pa.Array) -> bool:
    """Whether most values of a column of places, if it has more than a few, are known as countries, by name or code: of codes of states every other one is a country's too."""
    text = filled(values)
    known = among(joined(Texts.of(text)), frozenset(country_table()))
    return len(text) < ENOUGH or bool(pc.mean(known.cast(pa.float64())).as_py() >= 0.6)


@cache
def title_words() -> frozenset[str]:
    """Words of job titles."""
    return frozenset(w for head, *members in tables.groups("title_words") for w in (head, *members) if len(w) > 2) | _ROLES


_ROLES = frozenset(
    """teacher owner founder analyst consultant accountant nurse lehrer instructor secretary principal librarian clerk tutor lecturer officer
    trainer specialist counselor""".split()
)
_NO_ROLES = frozenset(
    "senior junior associate executive vice customer service operations marketing department development information human".split()
)


@cache
def _roles() -> frozenset[str]:
    """Words of job titles that say who somebody is rather than what of, or how high."""
    groups = (group for group in tables.groups("title_words") if group[0] not in _NO_ROLES)
    return frozenset(w for group in groups for w in group if len(w) > 2) | _ROLES


def is_prefix(values: pa.Array) -> bool:
    """Whether a column holds forms of address (Mr, Dr, Frau) rather than job titles; an empty one may."""
    text = pc.utf8_lower(pc.utf8_trim_whitespace(values.slice(0, SAMPLE).cast(pa.large_string())))
    text = pc.replace_substring_regex(text.filter(pc.not_equal(text, "")), r"[. ].*$", "")
    return (
        len(text) == 0
        or float(pc.mean(pc.is_in(text, value_set=pa.array(TITLES, pa.large_string())).cast(pa.float64())).as_py()) >= 0.5
    )


YES = """yes|y|true|t|1|1[.,]0|x|✓|✔|☑|on|ja|j|s[ií]|oui|o|sim|tak|wahr|vrai|vero|verdadero|opt(ed)?[ -]?in|subscribed|accepted|granted|agreed|allowed
    |given""".replace("\n    ", "")
NO = """no|n|false|f|0|0[.,]0|☐|☒|✗|✘|off|nein|non|n[aã]o|nie|nee|nej|falsch|faux|falso|opt(ed)?[ -]?out|unsubscribed|declined|denied|refused|withdrawn|revoked
    |never|pending|none""".replace("\n    ", "")


_FEW = 200  # different values: no column of yes and no has more
_FIRST = 10_000  # cells, which mostly have more, and then the others need not be counted


def is_flag(values: pa.Array | pa.ChunkedArray, least: float = 1.0) -> bool:
    """Whether a column says yes and no, in at least that share of its filled cells."""
    if pc.count_distinct(values.slice(0, _FIRST)).as_py() > _FEW:
        return False
    counted = pc.value_counts(values.cast(pa.large_string()))
    if len(counted) > _FEW:
        return False
    text, counts = pc.utf8_trim_whitespace(counted.field("values")), counted.field("counts").to_numpy()
    filled = pc.fill_null(pc.not_equal(text, ""), False).to_numpy(zero_copy_only=False)
    fits = pc.fill_null(matches(text, f"(?i)^({YES}|{NO})$"), False).to_numpy(zero_copy_only=False)
    return bool(filled.any()) and float(counts[fits & filled].sum()) >= least * float(counts[filled].sum())


def says_who_is_there(values: pa.Array) -> bool:
    """Whether most values of a column, if it has any, say that somebody is active or is not; the state of a sale or an order is something else."""
    text = pc.utf8_lower(pc.utf8_trim_whitespace(filled(values)))
    said = tables.members("standing_words", "active") | tables.members("standing_words", "inactive")
    return len(text) == 0 or bool(pc.mean(pc.is_in(text, value_set=pa.array(sorted(said), pa.large_string()))).as_py() >= 0.8)


def is_words(table: pa.Table, i: int, pattern: str = r"^[^\d@]{2,40}$", most: float = 0.8) -> bool:
    """Whether most values of a column, such a share of them, fit a pattern: words without digits."""
    text = filled(table.column(i))
    return len(text) >= ENOUGH and bool(pc.mean(matches(text, pattern).cast(pa.float64())).as_py() >= most)


def most_like_names(table: pa.Table, columns: list[int]) -> int | None:
    """Of the columns whose values could be names (several words mostly, hardly one twice) the one most like names; None where there is none.

    Names are written with capitals, remarks mostly are not; of two alike the one with fewer repetitions, then the first.
    """
    best, likest = None, 0.0
    for i in columns:
        text = pc.utf8_trim_whitespace(table.column(i).slice(0, SAMPLE).cast(pa.large_string())).combine_chunks()
        text = text.filter(pc.not_equal(text, ""))
        if len(text) < ENOUGH or len(text) < 0.8 * min(table.num_rows, SAMPLE):
            continue
        named = matches(text, r"^[^@]*\pL{2}[^@]*$")
        long = pc.greater(pc.utf8_length(text), 60)
        several = matches(text, r"\S\s+\S")
        capitals = matches(text, r"^\W*\p{Lu}.*\s\W*\p{Lu}")
        shares = [float(pc.mean(x.cast(pa.float64())).as_py()) for x in (named, long, several, capitals)]
        distinct = pc.count_distinct(text).as_py() / len(text)
        like = shares[3] + distinct
        if shares[0] >= 0.9 and shares[1] < 0.1 and shares[2] >= 0.5 and distinct >= 0.3 and like > likest:
            best, likest = i, like
    return best
