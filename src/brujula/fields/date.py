"""A date: a birth date as evidence; dates of records for saying which is newer."""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Batch, Column, Keys, Texts
from brujula.core.kind import Compared, Comparison, Example, Identity, Kind, Level, Who
from brujula.core.steps import joining
from brujula.core.steps.age import ONE_OFF, by_age
from brujula.core.steps.numbers import firsts, number
from brujula.core.steps.patterns import captured, matches, replaced
from brujula.core.steps.placeholders import PLACEHOLDERS
from brujula.core.steps.sharing import owners
from brujula.core.steps.text import hash_values, join_keys, of_records, reworded, without


class Days(NamedTuple):
    """Birth dates of n records as text keys: as written, whole (0 where it stands in for a date or a day nobody knew), with day and month in order of size, and
    without the year, the month, the day; and the years and months (0 = none, or of a date that stands in for others). slack : by so many years two
    that are told alone may differ and say nothing."""

    written: Keys
    key: Keys
    loose: Keys
    without: tuple[Keys, Keys, Keys]
    year: NDArray[np.int32]
    month: NDArray[np.int32]
    slack: int


_MONTHS = """jan|january|januar|januari|janv|janvier|jänner|ene|enero|gen|gennaio|janeiro|sty|stycznia|ledna|ianuarie|gener|január|ocak|января|янв|січня
    feb|february|februar|februari|fév|fev|févr|février|fevrier|febrero|febbraio|fevereiro|lut|lutego|února|februarie|febrer|február|şubat|февраля|фев|лютого
    mar|march|märz|marz|mrz|maart|mrt|mars|marts|marzo|março|marco|marca|března|martie|març|március|mart|марта|мар|березня
    apr|april|avr|avril|abr|abril|aprile|kwi|kwietnia|dubna|aprilie|április|nisan|апреля|апр|квітня
    may|mai|mei|mayo|mag|maggio|maio|maj|maja|května|maig|május|mayıs|мая|май|травня
    jun|june|juni|juin|junio|giu|giugno|junho|cze|czerwca|června|iunie|juny|június|haziran|июня|июн|червня
    jul|july|juli|juil|juillet|julio|lug|luglio|julho|lip|lipca|července|iulie|juliol|július|temmuz|июля|июл|липня
    aug|august|augusti|augustus|août|aout|ago|agosto|sie|sierpnia|srpna|agost|augusztus|ağustos|августа|авг|серпня
    sep|sept|september|septembre|septiembre|set|settembre|setembro|wrz|września|wrzesnia|září|septembrie|setembre|szeptember|eylül|сентября|сен|вересня
    oct|october|okt|oktober|octobre|octubre|ott|ottobre|out|outubro|paź|paz|października|pazdziernika|října|octombrie|október|ekim|октября|окт|жовтня
    nov|november|novembre|noviembre|novembro|lis|listopada|listopadu|noiembrie|kasım|ноября|ноя|листопада
    dec|december|desember|déc|décembre|decembre|dez|dezember|dezembro|dic|diciembre|dicembre|gru|grudnia|prosince|decembrie|desembre|aralık|декабря|дек|грудня""".split(
    "\n"
)
"""Months as people write them, January first."""
_SPELLED = (
    *((rf"(?i)(^|[\s\d.,/-])(?:{names.strip()})\.?([\s\d.,/-]|$)", rf"\1 #{month} \2") for month, names in enumerate(_MONTHS, 1)),
    (
        r"(?i)^(?:[^\s\d.,]+\.?,?\s+)?(\d{1,2})(?:st|nd|rd|th|er|º|\.)?[\s./-]*(?:(?:de|of)\s+)?#(\d+)\s[\s./,-]*(?:del?\s+)?(\d{4}|\d{2})$",
        r"\1.\2.\3",
    ),
    (r"(?i)^\s*(?:[^\s\d.,]+\.?,?\s+)?#(\d+)\s[\s./-]*(\d{1,2})(?:st|nd|rd|th)?[\s,./-]+(\d{4}|\d{2})$", r"\2.\1.\3"),
    (r"^(\d{4})[\s./-]*#(\d+)\s[\s./-]*(\d{1,2})\.?$", r"\3.\2.\1"),
    (r"^(\d{4})年(\d{1,2})月(\d{1,2})日$", r"\1-\2-\3"),
)
"""Dates with the month by its name: 2 March 1984, Mar 2, 1984, 02-Mar-84, 2 de marzo de 1984; they become 2.3.1984."""


_LEAP = r"(?:\d\d(?:0[48]|[2468][048]|[13579][26])|(?:[02468][048]|[13579][26])00)"
_DAYS = r"(?:0[13578]|1[02])-(?:0[1-9]|[12]\d|3[01])|(?:0[469]|11)-(?:0[1-9]|[12]\d|30)|02-(?:0[1-9]|1\d|2[0-8])"
_REAL = rf"(?:\d{{4}}-(?:{_DAYS})|{_LEAP}-02-29)"
"""Days of the Gregorian calendar."""


def iso(texts: Texts) -> pa.Array:
    """ISO 8601 date of each text, written with or without dashes, or with the month's name; null where it is none. Day before month, unless only month first is
    possible or / is used."""
    text = texts.arrow()
    if pc.all(matches(text, rf"^{_REAL}([T ]\d{{1,2}}:\d\d.*)?$")).as_py():
        return pc.utf8_slice_codeunits(text, 0, 10)
    text = replaced(text, r"(?i),?[T ]\d{1,2}:\d\d.*$|T\d{2,6}.*$|,? \d{1,2} ?[ap]\.?m.*$", "")
    text = reworded(Texts.of(pc.utf8_trim_whitespace(text)), _SPELLED, r"[^\s\d.,:/+-]{3}|年").arrow()
    text = replaced(text, r"^\pL[\pL .'-]*, *(\d{1,4}[-/.]\d)", r"\1")  # Harrow, 02-03-1984: where, too
    text = replaced(text, r"^(\d+)([./-]) *(\d+)([./-]) *(\d+)\.?$", r"\1\2\3\4\5")  # 23. 1. 1978.
    text = replaced(text, r"^((?:19|20)\d\d)(\d\d)(\d\d)$", r"\1-\2-\3")
    text = replaced(text, r"^(\d{1,2}[-/. ]\d{1,2}[-/. ])([0-3]\d)$", r"\120\2")
    text = replaced(text, r"^(\d{1,2}[-/. ]\d{1,2}[-/. ])([4-9]\d)$", r"\119\2")
    ymd = replaced(text, r"^(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})$", r"\1-0\2-0\3")
    mdy = replaced(ymd, r"^(0?[1-9]|1[0-2])/(\d{1,2})/(\d{4})$", r"\3-0\1-0\2")
    dmy = replaced(mdy, r"^(\d{1,2})[-/. ](\d{1,2})[-/. ](\d{4})$", r"\3-0\2-0\1")
    padded = replaced(dmy, r"^(\d{4})-0?(\d\d)-0?(\d\d)$", r"\1-\2-\3")
    real = matches(padded, rf"^{_REAL}$")
    return pc.if_else(real, padded, pa.scalar(None, padded.type))


_SOME_YEAR = r"(?P<year>(?:1[5-9]|20)\d\d)"
_PARTLY = (
    rf"^\s*(?i:(?:ca?|circa|about|abt|approx)\b\.?|~)?\s*{_SOME_YEAR}\s*\??(?P<month>)\s*$",
    rf"^\s*{_SOME_YEAR}[-/.\s]+#?0?(?P<month>[1-9]|1[0-2])\s*$",
    rf"^\s*#?0?(?P<month>[1-9]|1[0-2])[-/.\s]+{_SOME_YEAR}\s*$",
)
"""A year, or a year and a month, and no day."""


def _partly(texts: Texts) -> tuple[pa.Array, pa.Array]:
    """Year and month of each text that tells no day, "" where it tells none."""
    text = reworded(texts, _SPELLED, r"[^\s\d.,:/+-]{3}").arrow()
    year = month = pa.nulls(len(text), pa.large_string())
    for pattern in _PARTLY:
        found = captured(text, pattern)
        year, month = pc.coalesce(year, pc.struct_field(found, "year")), pc.coalesce(month, pc.struct_field(found, "month"))
    return pc.fill_null(year, ""), pc.fill_null(month, "")


_CROWD = 10
_TIMES = 6
"""So many more people than on a usual date, and so many times as many, are born on a date that stands in for one nobody knew; and on a day of the year that does: 1 January, mostly."""
_GENERATION = 15
"""Years between parent and child, at least."""


def _year_slip(a: NDArray[np.int32], b: NDArray[np.int32]) -> NDArray[np.bool_]:
    """Years that are one slip of the finger apart: a digit, or two neighbours exchanged. A son is born a generation later, and may have his father's birthday."""
    x, y = (np.stack([year // 1000, year // 100 % 10, year // 10 % 10, year % 10]) for year in (a, b))
    wrong = x != y
    exchanged = ((x[:-1] == y[1:]) & (x[1:] == y[:-1]) & wrong[:-1] & wrong[1:]).any(axis=0)
    return np.asarray((wrong.sum(axis=0) <= 1) | ((wrong.sum(axis=0) == 2) & exchanged))


def _as_usual(column: Column) -> bool:
    """Whether the year 1900 stands by itself about as often as the years about it do, and so is a year of birth."""
    texts, counts = column.values.arrow(), column.counts()
    often, about = (
        int(counts[matches(texts, years).to_numpy(zero_copy_only=False)].sum()) for years in ("^1900$", "^(?:189[5-9]|190[1-5])$")
    )
    return 10 * often <= _TIMES * about


def _stand_in(dates: Keys, who: Keys) -> NDArray[np.bool_]:
    """On which of n dates so many are born that it stands in for one nobody knew. dates : uint64[n], 0 = none;  who : uint64[n], who each is by name, 0 = not told"""
    people = owners(dates, who)
    date, n_dates = number(np.where(people > 0, dates, np.uint64(0)))
    each = np.zeros(n_dates, np.int32)
    each[date[date >= 0]] = people[date >= 0]
    return np.asarray(people > _CROWD + _TIMES * (np.median(each) if n_dates else 0.0))


def _days_alone(days: Keys, dates: Keys, who: Keys) -> NDArray[np.bool_]:
    """On which of n days of the year so many are born, in one year or another, that they stand in for days nobody knew.

    Of one date, ten at most count: many are the sign of a date that stands in for others, and of no day.
    """
    people, (day, n_days), (person, n_people) = owners(dates, who), number(days), number(join_keys(dates, who))
    first = firsts(person, n_people)
    born = np.bincount(day[first], np.minimum(people[first], _CROWD) / people[first], n_days) if n_people else np.zeros(n_days)
    return np.asarray((np.append(born, 0.0) > _CROWD + _TIMES * born.mean() if n_days else np.zeros(1, bool))[day])


class Date(Kind):
    """ISO dates, and the common orders of day and month."""

    name = "date"
    alone = "birth"
    personal = ("birth",)
    parts = ("birth_date", "created_at", "updated_at")
    survivorship = "fill"
    headings = {
        "birth_date": """birth date | date of birth | dob | birthday | geburtsdatum | fecha de nacimiento | date de naissance |
            data di nascita | year of birth | birth year | yob | geburtsjahr | ano de nacimiento | annee de naissance | anno di nascita | rok urodzenia | geboortejaar | geboortedatum | data urodzenia | data de nascimento | birthdate | born | geboren | geboren am | nacimiento | naissance | ne le | nascita | urodzony | d o b | birth dt | brth dt | dt of birth | geburtstag | fec nac | fecha nac | f nac | data nasc | dt nasc | dt nascimento | date naiss | geb datum | geb dat | data ur""",
        "created_at": """created at | created | created on | created date | date created | creation date | erstellt | added |
            date added | create date | creation | angelegt | angelegt am | fecha de alta | fecha de creacion | date de creation | data di creazione | aangemaakt | data utworzenia | data de criacao | entry date | timestamp | submitted at | submission time | submitted on | signup date | sign up date | registered on | registered at | zeitstempel | eingegangen am""",
        "updated_at": """updated at | updated | updated on | last modified | modified | last update | date modified | last
            changed | last contacted | geandert | geandert am | letzte anderung | fecha de modificacion | date de modification | data modifica | gewijzigd | modify date | last update date | changed on | last change | modifie le | ultima modificacion | ultima modifica | zuletzt geandert""",
    }
    comparisons = (
        Comparison(
            "birth_date",
            (
                Level("a generation apart", "differs", 0.005, 0.62),
                Level("different", "differs", 0.025, 0.375),
                Level("the year or the age, and no more is known", "partial", 0.01, 0.015),
                Level("the year and month, and no more is known", "partial", 0.01, 0.002),
                Level("one of day, month, year differs", "partial", 0.02, 0.005),
                Level("day and month changed over", "close", 0.01, 0.00001),
                Level("same", "same", 0.95, 0.0001),
            ),
        ),
    )
    examples = (
        Example({"birth_date": "1984-03-02"}, {"birth_date": "2.3.1984"}, {"birth_date": "same"}),
        Example({"birth_date": "1984-03-02"}, {"birth_date": "1984-02-03"}, {"birth_date": "close"}),
        Example({"birth_date": "March 2nd, 1984"}, {"birth_date": "02-Mar-84"}, {"birth_date": "same"}),
        Example({"birth_date": "2 de marzo de 1984"}, {"birth_date": "1984-03-02"}, {"birth_date": "same"}),
        Example({"birth_date": "19840302"}, {"birth_date": "1984-03-02"}, {"birth_date": "same"}),
        Example({"birth_date": "1984-03-02"}, {"birth_date": "2. 3. 1984."}, {"birth_date": "same"}),
        Example({"birth_date": "1984-03-02"}, {"birth_date": "Harrow, 02-03-1984"}, {"birth_date": "same"}),
        Example({"birth_date": "1984-03-02"}, {"birth_date": "1948-03-02"}, {"birth_date": "partial"}),
        Example({"birth_date": "1984-03-02"}, {"birth_date": "1994-03-02"}, {"birth_date": "partial"}),
        Example({"birth_date": "1984-03-02"}, {"birth_date": "1957-03-02"}, {"birth_date": "differs"}),
        Example({"birth_date": "1984-03-02"}, {"birth_date": "1984"}, {"birth_date": "partial"}),
        Example({"birth_date": "1984"}, {"birth_date": "1957"}, {"birth_date": "differs"}),
        Example({"birth_date": "1984-03-02"}, {"birth_date": "03/1984"}, {"birth_date": "partial"}),
        Example({"birth_date": "March 1984"}, {"birth_date": "1984-04"}, {"birth_date": "differs"}),
        Example({"birth_date": "c. 1984"}, {"birth_date": "1984-04"}, {"birth_date": "partial"}),
        Example({"birth_date": "1984"}, {"birth_date": "1985"}, {"birth_date": "blank"}),
    )

    def is_told(self, batch: Batch) -> bool:
        """Ages tell a year of birth."""
        return super().is_told(batch) or batch.ages is not None

    def clean(self, column: Column) -> Column:
        """Placeholders and what is no date are blank; a year may stand alone, 1900 where it is as usual as those about it."""
        year = "" if _as_usual(column) else r"|^1900$"
        column = without(column, PLACEHOLDERS, rf"^\D*$|^0000|^1900-01-01{year}|^9999|^1111-11-11")
        if not len(column.values):
            return column
        real = iso(column.values).is_valid().to_numpy(zero_copy_only=False).copy()
        rest = np.flatnonzero(~real)
        years, _ = _partly(Texts.of(column.values.arrow().take(pa.array(rest))))
        real[rest] = pc.not_equal(years, "").to_numpy(zero_copy_only=False)
        return column.where(real)

    def standardise(self, batch: Batch, identity: Identity) -> Days:
        """Birth dates as keys."""
        column = batch.column("birth_date")
        day = pc.fill_null(iso(column.values), "")
        turned = replaced(day, r"^(\d{4})-(\d\d)-(\d\d)$", r"\1-\3-\2")
        loose = pc.if_else(pc.less(day, turned), day, turned)
        parts = [pc.utf8_slice_codeunits(day, start, stop) for start, stop in ((0, 4), (5, 7), (8, 10))]
        year, month, date = (of_records(hash_values(Texts.of(part)), column) for part in parts)
        apart = join_keys(month, date), join_keys(year, date), join_keys(year, month)
        written, both = (of_records(hash_values(Texts.of(text)), column) for text in (day, loose))
        told = (
            pc.if_else(pc.equal(whole, ""), partly, whole)
            for whole, partly in zip((parts[0], parts[1]), _partly(column.values), strict=True)
        )
        years, months = (
            np.append(pc.cast(pc.if_else(pc.equal(digits, ""), "0", digits), pa.int32()), 0).astype(np.int32)[column.codes]
            for digits in told
        )
        crowded, day_alone = np.zeros((2, len(batch)), bool)
        if column.filled.any():
            who = identity().exact
            sides = slice(0, batch.n_existing), slice(batch.n_existing, None)
            day_alone = np.concatenate([_days_alone(apart[0][side], written[side], who[side]) for side in sides])
            crowded = _stand_in(np.where(day_alone, np.uint64(0), written), who)
            crowded |= _stand_in(np.where(day_alone, written, np.uint64(0)), who)
        years, months, slack = np.where(crowded, 0, years), np.where(crowded | day_alone, 0, months), ONE_OFF
        if batch.ages is not None:
            years, slack = by_age(years, batch.ages, identity().exact, batch.n_existing)
        return Days(written, np.where(crowded | day_alone, np.uint64(0), written), both, apart, years, months, slack)

    def joined(self, held: Days, records: NDArray[np.int32], asked: Days, who: Who) -> Days:
        """Days of some of the records held, and of others behind them."""
        without = tuple(joining.rows(a, records, b) for a, b in zip(held.without, asked.without, strict=True))
        return joining.of_records(held, records, asked, without=without, slack=held.slack)

    def counts(self, standard: Days) -> tuple[Keys, Keys]:
        """The dates that stand in for one nobody knew, and the days of the year that do."""
        day_alone = (standard.key == 0) & (standard.year > 0)
        return standard.written[(standard.key == 0) & ~day_alone & (standard.written != 0)], standard.without[0][
            day_alone & (standard.without[0] != 0)
        ]

    def settle(self, standard: Days, counts: tuple[Keys, Keys]) -> Days:
        """Dates and days that stand in for others among all records do so here."""
        date, day = np.isin(standard.written, counts[0]), np.isin(standard.without[0], counts[1])
        return standard._replace(
            key=np.where(date | day, np.uint64(0), standard.key),
            year=np.where(date, 0, standard.year),
            month=np.where(date | day, 0, standard.month),
        )

    def keys(self, standard: Days) -> dict[str, Keys]:
        """`birth`, `year`, and `day`: the day of the year."""
        day = np.where(standard.key != 0, standard.without[0], np.uint64(0))
        return {"birth": standard.key, "year": standard.year.astype(np.uint64), "day": day}

    def compare(self, standard: Days, left: Any, right: Any) -> dict[str, Compared]:
        """One comparison, birth_date."""
        a, b = standard.key.take(left), standard.key.take(right)
        generation, differs, year_alone, month_alone, part, turned, same = range(7)
        years = standard.year.take(left), standard.year.take(right)
        out = np.where(np.abs(years[0] - years[1]) >= _GENERATION, generation, differs).astype(np.int8)
        for key in standard.without:
            out[key.take(left) == key.take(right)] = part
        slip = _year_slip(*years)
        out[(out == generation) & slip] = differs
        out[(out == part) & ~slip] = differs
        out[standard.loose.take(left) == standard.loose.take(right)] = turned
        out[a == b] = same
        bare = np.flatnonzero((a == 0) | (b == 0))
        apart = np.abs(years[0] - years[1])[bare]
        by_year = np.where((apart >= _GENERATION) & ~slip[bare], generation, differs)
        by_year = np.where((apart == 0) & (standard.slack == ONE_OFF), year_alone, np.where(apart <= standard.slack, -1, by_year))
        months = standard.month.take(left)[bare], standard.month.take(right)[bare]
        both = (months[0] > 0) & (months[1] > 0) & (apart <= ONE_OFF)
        by_year[both] = np.where((months[0] == months[1]) & (apart == 0), month_alone, differs)[both]
        out[bare] = np.where((years[0] > 0)[bare] & (years[1] > 0)[bare], by_year, -1)
        return {"birth_date": Compared(out, np.zeros(len(left), np.float32))}
