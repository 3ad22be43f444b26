"""Which column is which field: by its heading, in several languages, and by what it holds."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

import pyarrow as pa
import pyarrow.compute as pc

from brujula.errors import PolicyError
from brujula.fields import kinds
from brujula.intake import addresses, consents, whose
from brujula.intake.content import (
    BARE,
    ENOUGH,
    NAMED,
    PLACES,
    SAMPLE,
    TELLING,
    Samples,
    are_pages,
    contents_of,
    filled,
    held_field,
    held_fields,
    holds_countries,
    is_flag,
    is_for_all,
    is_prefix,
    is_repeated,
    is_running,
    is_words,
    most_like_names,
    names_in,
    names_of,
    on_one_site,
    says_who_is_there,
)
from brujula.intake.headings import OF_A_SORT, folded, in_full, is_of_a_head, says_of_what_sort, says_other
from brujula.intake.meanings import SURELY, meanings
from brujula.intake.raw import BY_PLACE
from brujula.intake.reached import is_reached_by
from brujula.intake.streets import is_house, is_part
from brujula.policy.entities import ENTITIES, kind_of

_NAMED_PLACES = ("city", "region", "country")
_WORDED = ("person_name", "company", "job_title", "choice", "tags", "text")  # kinds whose values are hardly ever bare numbers
_NAMED = ("person_name", "company", "job_title")
_REACHED = frozenset(("email", "phone", "postal_address"))
_KINDS_OF_A_PERSON = _REACHED | {"person_name", "job_title", "date", "profile"}
_KINDS_OF_A_FIRM = _REACHED | {"company", "website", "coordinates"}
_FLAGS = ("consent", "choice", "tags", "text")
"""Kinds that a yes or a no may be of: who to contact, yes or no, is nobody's name."""
_BLANK = 0.6  # a column without a value gives way to one that has some
_LEAST = 0.4
"""How sure it must be that a column holds a field."""


@dataclass(frozen=True)
class Suggestion:
    """One column's field ("" = left out), how sure, why, and three sample values."""

    column: str
    field: str
    confidence: float
    why: str
    samples: tuple[str, ...]


_WHOLE_ADDRESS = r"^[^,\n\d]*\d{1,4}[A-Za-z]?\b[^,\n]*[,\n][^,\n]+[,\n]"
"""A number that is no postal code's, and two parts more behind what it stands in: 12 Reed Lane, Orme, TX."""
_DEGREES = r"^[^A-Za-z]*\d[.,]\d|(?i:^point)"
"""A number with a fraction, or a point of two."""
_HARDLY = 0.2  # share of values
_KIN = 0.1  # so much surer is a heading that names its field among other words, where one of these stands over the names


_OF_THEM = (*addresses.PARTS, "email", "phone", "mobile")
"""Fields that lists have of several people or firms in a row."""


class _Option(NamedTuple):
    """A field that a column may be; filled : the share of its cells that are, to choose by between two as sure."""

    score: float
    at: int
    field: str
    why: str
    filled: float = 0.0


class _Column:
    """What is to be seen of one column: its heading and what that may mean, its values and what they look like."""

    def __init__(
        self, table: pa.Table, at: int, entity: str, content: dict[str, float], names: tuple[float, float], held: str | None
    ) -> None:
        self._told = held
        self.table, self.at, self.heading, self.entity = table, at, table.column_names[at], entity
        self.values = table.column(at).combine_chunks() if table.num_rows else pa.array([], pa.large_string())
        self.content = content
        self.firms, self.persons = names
        telling = {k: s for k, s in self.content.items() if s >= TELLING[k]}
        self.numbers, self.codes = (telling.pop(kind, 0.0) for kind in BARE)
        self.strongest = max(telling, key=lambda k: telling[k]) if telling else ""
        self.headed = meanings(self.heading, entity)
        if table.num_rows and not pc.any(pc.not_equal(pc.utf8_trim_whitespace(self.values), "")).as_py():
            self.headed = {f: s * _BLANK for f, s in self.headed.items()}
        self.words = set(folded(self.heading).split())
        self.is_own = False  # whether its heading says that it is the list's people's
        self.of_another = frozenset[str]()  # kinds that it cannot be, for it is of somebody else

    @cached_property
    def _held(self) -> str:
        return held_field(self.values) if self._told is None else self._told

    @cached_property
    def _is_elsewhere(self) -> set[str]:
        """Fields that the heading may mean, though the values tell of another part of an address: the street under Addr. post, where postal
        codes are; the town under Location, where whole addresses are; the website under Site."""
        doubted = {f for f in ("street", "postal_code") if self.headed.get(f, 1.0) < SURELY}
        if not self.headed.keys() & (doubted | {"city", "website"}) or self._held not in ("street", "postal_code"):
            return set()
        doubted -= {self._held}
        if self._held == "street":
            doubted |= {"city"} if is_words(self.table, self.at, _WHOLE_ADDRESS, 0.5) else set()
            doubted |= {"website"} if self.content["website"] < _HARDLY else set()
        return doubted & self.headed.keys()

    @cached_property
    def _pages(self) -> bool:
        """Whether it holds a page of each person on one network, or of each firm in one register: under Web, or a heading of such."""
        of_one = are_pages if self.entity == "contact" else on_one_site
        return self.strongest in ("", "website") and of_one(self.values)

    def _are_handles(self) -> bool:
        """Whether it may hold names that people go by on a network: in one word, each there once."""
        return not self.content or (_mostly_once(self.values) and is_words(self.table, self.at, r"^\S+$"))

    def beside(self, plainly: set[str], placed: set[str]) -> _Column:
        """The same column beside others. plainly : fields that columns of the list's own people or firms may be;  placed : parts of an address that columns may be which are not of somebody else's"""
        self.placed = placed if says_other("places", self.words) else set[str]()
        self.phones_plainly = not plainly.isdisjoint({"phone", "mobile"})
        # Manager's e-mail is the manager's, but where the list is one of managers.
        self.anothers = (
            not self.is_own and not plainly.isdisjoint(ENTITIES[self.entity].naming) and _is_anothers(self.words, self.entity)
        )
        # So is the mother's name, beside a child's.
        told = {"given_name", "family_name"} <= plainly or "full_name" in plainly
        self.relatives = told and not self.is_own and says_other("relatives", self.words)
        partners = self.relatives and says_other("partners", self.words)
        self.elses = ((self.anothers or partners) and self.strongest in ("email", "phone")) or (
            not self.headed and self._is_elses()
        )
        self.elses |= bool(self.of_another) and (self.strongest or "person_name") in self.of_another
        self.elses |= not self.words.isdisjoint({"id", "ip"}) and self.strongest == "phone"  # Location ID: 0000001-01-001
        return self

    def _is_elses(self) -> bool:
        """Whether a column under a heading that means no field of ours holds something that none does."""
        return (
            "fax" in self.words
            or is_house(self.heading)
            or says_other("any", self.words)
            or (says_other("numbers", self.words) and is_words(self.table, self.at, r"^\s*-?[\d.,]+\s*$"))
            or is_running(self.values)
        )

    def options(self) -> Iterator[_Option]:
        """The fields it may be."""
        field_kind = kind_of(self.entity)
        if (agreed := consents.agrees(self.heading, self.values)) and agreed.fields[0] in field_kind:
            yield _Option(0.9, self.at, agreed.fields[0], f'heading "{self.heading}" says who agreed: a no is an opt-out')
            return
        share = len(filled(self.values)) / max(min(len(self.values), SAMPLE), 1)
        for field in self.headed:
            if not self._is_out(field):
                score, why = self._headed(field)
                yield _Option(score, self.at, field, why, round(share, 1))
        yield from self._by_content()

    def _is_out(self, field: str) -> bool:
        """Whether the column cannot be a field that its heading may mean."""
        kind, score = kind_of(self.entity)[field], self.headed[field]
        surest = max(self.headed, key=lambda f: self.headed[f])
        weak, flags = self.headed[surest] < SURELY, kind in _FLAGS
        flag = (weak or bool(self.numbers)) and is_flag(self.values)
        numbered = (self.numbers or self.codes) and not (flag or self.strongest == "date")
        return bool(
            (flag and weak and not flags)
            or kind in self.of_another
            # The district's number
            or (self.of_another and field in ("id", "registration_no"))
            or (self.anothers and kind in ("email", "phone", "person_name"))
            or (self.relatives and kind == "person_name")
            or (self.relatives and says_other("partners", self.words) and kind in ("email", "phone"))
            # Phone type: Home, Cell
            or (self.words & OF_A_SORT and not flags and (kind == "company" or is_repeated(self.values)))
            or (kind in ("email", "phone", "website", "postal_address") and says_of_what_sort(self.heading))
            # Agent City beside Principal City
            or field in self.placed
            # Song title
            or (field in ("job_title", "prefix") and says_other("works", self.words))
            # Owner type: private, state
            or (self.words & OF_A_SORT and field == "owner")
            # Account Manager First Name, Sales Rep Phone
            or (
                field == "owner"
                and (self.strongest == "phone" or not self.headed.keys().isdisjoint(("given_name", "family_name")))
            )
            # A department of France, or of a firm.
            or (field == "region" and "department" in self.words and self._held != "region")
            # Suffix: St, Ave; ST_PREFIX: N, SW
            or is_part(self.heading, self.values)
            # Parent ID is a parent's, be there another column of parents or not; a second cell phone is a phone.
            or (score < SURELY < self.headed[surest] and (kind == "identifier" or kind != kind_of(self.entity)[surest]))
            # An id that many rows give is of something else: a firm, an owner, a campaign.
            or (field == "id" and ("account_id" in self.headed or (score < SURELY and not _mostly_once(self.values))))
            # Order ID: a number of ours by chance
            or (field == "id" and score < SURELY and says_other("deeds", self.words))
            # Where somebody was born; which licence somebody has
            or (field in ("birth_date", "registration_no") and is_words(self.table, self.at, r"^\D*$"))
            # Source URL: the one page on which all signed up
            or (field == "website" and score < SURELY and self.entity == "contact" and is_for_all(self.values))
            # The number of a campaign
            or (field == "source" and "id" in self.words)
            # Long: a description
            or (kind == "coordinates" and bool(self.content) and not is_words(self.table, self.at, _DEGREES))
            # Profile: gold, silver; a frequent customer
            or (kind == "profile" and self.strongest != "website" and not self._are_handles())
            # Lead status: new, won, lost
            or (field == "active" and "status" in self.words and not says_who_is_there(self.values))
            # N° contact is a number; the day somebody opted out is an opt-out.
            or (kind == "consent" and (consents.of_another(self.heading, field) or numbered))
        )

    def _headed(self, field: str) -> tuple[float, str]:
        """How sure it is that the column is a field its heading may mean, going by what it holds as well, and why."""
        kind, score, strongest = kind_of(self.entity)[field], self.headed[field], self.strongest
        why, dated = f'heading "{self.heading}"', strongest == "date"
        if field == "website" and self._pages:
            score, why = score * 0.3, f"{why}, though it holds a page of each on one site"
        elif kind == strongest:
            score = min(score + 0.02, 0.99)
            why += " and content"
        elif kind == "profile" and strongest == "website":
            pass
        elif strongest and not (dated and kind == "consent") and strongest != "phone" and kind != "text":
            score *= 0.3
            why += f", though it holds {strongest} values"
        elif (
            kind in ("email", "website", "phone")
            and self.content
            and self.content[kind] < _HARDLY
            and not (kind == "phone" and strongest == "" and not self.codes)
        ):
            score *= 0.4
        # An order's number may stand under Name.
        bare = (
            self.numbers or (strongest == "phone" and kind in _NAMED) or (self.codes and (score < SURELY or field == "full_name"))
        )
        # Dr. under Titel is no job title, Director no form of address.
        other = field == "prefix" or (field == "job_title" and "prefix" in self.headed and self.content)
        if (bare and (kind in _WORDED or field in _NAMED_PLACES)) or (other and is_prefix(self.values) != (field == "prefix")):
            score *= 0.3
        if field in PLACES and self.headed.keys() >= PLACES and holds_countries(self.values) != (field == "country"):
            score, why = score * 0.5, f"{why}, though it seems to hold the other"
        if kind == "person_name" and score < SURELY and is_reached_by(self.values):
            score, why = score * 0.3, f"{why}, though it holds mail addresses and numbers"
        if field in self._is_elsewhere:
            score, why = score * 0.5, f"{why}, though it holds {'streets' if self._held == 'street' else 'postal codes'}"
        if self.firms >= NAMED and (kind == "person_name" or field == "city"):
            score, why = score * 0.3, f"{why}, though it holds names of organisations"
        elif self.persons >= NAMED and self.firms < 0.1 and (kind == "company" or (field == "given_name" and score < SURELY)):
            score, why = score * 0.5, f"{why}, though it holds {'whole ' * (kind != 'company')}names of people"
        return score, why

    def _by_content(self) -> Iterator[_Option]:
        """The fields it may be by what it holds, whatever its heading."""
        fields, field_kind, strongest = ENTITIES[self.entity].fields, kind_of(self.entity), self.strongest
        told = ""
        if self.firms >= NAMED:
            told = "account" if self.entity == "contact" else "name"
        elif self.persons >= NAMED and self.entity == "contact":
            told = "full_name"
        if (
            told
            and told not in self.headed
            and not self.elses
            and (self.headed or self.words & _OF_WORK or not is_repeated(self.values))
            and not strongest
            and not (self.headed and max(self.headed.values()) > SURELY and self.firms < NAMED)
            and self.words.isdisjoint(OF_A_SORT | _WITHIN_A_FIRM)
        ):
            yield _Option(0.55, self.at, told, f"holds names of {'organisations' if self.firms >= NAMED else 'people'}")
        unsaid = not self.headed or (self._is_elsewhere and self._held not in self.headed)
        held = self._held if unsaid and not strongest and not told and not self.elses else ""
        if held in field_kind and not (held == "street" and is_repeated(self.values)) and not is_flag(self.values):
            yield _Option(0.5, self.at, held, f"holds what a {held.replace('_', ' ')} is")
        if strongest == "website" and not self.headed and (self._pages or is_for_all(self.values)):
            return  # where each record is found in some program, or one page for all
        if "website" in self.headed and self._pages and not self.elses:
            if "profile" in fields:
                yield _Option(0.6, self.at, "profile", "holds a page of each person on one network")
            return
        # Seven or eight bare digits under a heading nobody knows are hardly phones, and none are beside a column of such.
        digits = r"^\s*\d+\s*$" if self.phones_plainly else r"^\s*\d{1,8}\s*$"
        bare = strongest == "phone" and not BY_PLACE.fullmatch(self.heading) and is_words(self.table, self.at, digits)
        bare |= strongest == "phone" and (is_running(self.values, _NUMBERED) or is_for_all(self.values))
        if (
            strongest in ("email", "website", "phone")
            and not bare
            and not self.elses
            and strongest in {field_kind[f] for f in fields}
        ):
            for field in kinds()[strongest].parts:
                if field in fields and field not in self.headed:
                    yield _Option(0.6 if strongest != "phone" else 0.45, self.at, field, f"holds {strongest} values")


_NUMBERED = (
    50  # of the numbers of members, of all there are, one in so many at least is in a list; of phones hardly one in a hundred
)
_WITHIN_A_FIRM = frozenset("department departments dept division abteilung team section beat".split())
"""What firms are divided in: Music, Technology."""
_OF_WORK = frozenset("building campus worksite workplace".split())
"""Where people work, under which a firm's few sites or a district's few schools stand over and over."""


def _mostly_once(values: pa.Array) -> bool:
    """Whether hardly a value of a column stands there twice."""
    text = filled(values)
    return int(pc.count_distinct(text).as_py()) >= 0.9 * len(text)


def suggest(table: pa.Table, entity: str, known: Mapping[str, pa.ChunkedArray] | None = None) -> list[Suggestion]:
    """A field for each column; each field is given once, to the column that is surest.

    known : values of the existing records by field: what a column without a heading we know holds may be theirs
    """
    samples = Samples.of(table.columns)
    contents, names = contents_of(samples), names_of(samples)
    unknown = [i for i, column in enumerate(table.column_names) if not meanings(column, entity)]
    held = dict(zip(unknown, held_fields(samples.some(unknown)), strict=True))
    columns = [_Column(table, at, entity, contents[at], names[at], held.get(at)) for at in range(table.num_columns)]
    own = [column for column in columns if not _is_of_another(column.words, entity)]
    named = [meanings(column.heading, entity) for column in own]
    # School name may be a name; it is the school's.
    plainly = {f for m in named for f, s in m.items() if s == max(m.values()) or f not in ENTITIES[entity].naming}
    plainly |= (
        {"full_name"}
        if entity == "contact" and any(column.persons >= NAMED and not column.strongest for column in own)
        else set()
    )
    placed = {f for c in columns if not says_other("places", c.words) for f in c.headed if f in addresses.PARTS}
    _told_by_people(own)
    _told_apart(columns, entity)
    options = [o for column in columns for o in column.beside(plainly, placed).options()]
    for i, field in _as_known(table, unknown, known or {}, set(ENTITIES[entity].fields)).items():
        # Without any heading the records tell more than what such values mostly are.
        score = 0.6 if BY_PLACE.fullmatch(table.column_names[i]) else 0.45
        options.append(_Option(score, i, field, f"holds what the existing records hold as {field.replace('_', ' ')}"))
    kin = _kin(table, _named_beside(table, _given_once(options, entity, _of_one(table))))
    # Beside Recipient Org the city is Recipient Org:City, and not the Funder City; beside Ticket Holder Name the mailbox is the Ticket Holder Email.
    options = [o._replace(score=o.score + _KIN) if kin[o.at] and o.score < SURELY and o.field in _OF_THEM else o for o in options]
    chosen = _named_beside(table, _given_once(options, entity, kin))
    _without_others(columns, chosen)
    _of_one_address(columns, chosen)
    _told_by_neighbours(table, chosen, entity)
    if entity == "contact":
        _by_initials(columns, chosen)
    if not {o.field for o in chosen.values()} & ({"name"} if entity == "account" else {"given_name", "family_name", "full_name"}):
        left = [i for i in unknown if i not in chosen]
        if (found := most_like_names(table, left)) is not None:
            field = "name" if entity == "account" else "full_name"
            chosen[found] = _Option(_LEAST, found, field, "no other column could hold the name")
    out = []
    for i, column in enumerate(table.column_names):
        score, _, field, why, _ = chosen.get(i, _Option(0.0, i, "", "no field fits"))
        text = pc.unique(table.column(i).slice(0, SAMPLE)).to_pylist()
        out.append(Suggestion(column, field, round(score, 2), why, tuple([t for t in text if t and t.strip()][:3])))
    return out


_SOME, _MOST = 0.2, 0.7  # shares of values with words of firms, and that are people's names


def _told_apart(columns: list[_Column], entity: str) -> None:
    """Say of columns that are of other people or firms than those the list is of what they cannot be."""
    seen = [whose.Seen(c.heading, c.headed, c.strongest, c.firms, c.persons) for c in columns]
    firms = whose.firms(seen, entity)
    people = whose.people(seen) if entity == "contact" else None
    for column in columns:
        if column.at in firms.others:
            column.of_another |= _KINDS_OF_A_FIRM
        if people is not None:
            column.is_own = column.at in people.own
            if column.at in people.others:
                column.of_another |= _KINDS_OF_A_PERSON - (_REACHED if column.at in people.parents else frozenset())


def _told_by_people(columns: list[_Column]) -> None:
    """Customers some of whom are plainly firms are the firms of the people in a column beside them: Customer, Main Contact."""
    headed = [c for c in columns if c.entity == "contact" and "full_name" in c.headed and not c.strongest]
    if any(c.persons >= _MOST and c.firms < 0.1 for c in headed):
        for column in headed:
            if column.firms >= _SOME and column.persons < 0.5:
                column.firms, column.persons = max(column.firms, NAMED), 0.0


_INITIALS = frozenset("initials voorletters initialen iniciales initiales inicjaly".split())


def _by_initials(columns: list[_Column], chosen: dict[int, _Option]) -> None:
    """Beside a family name and no given one, initials in a column of their own are the given name."""
    fields = {option.field for option in chosen.values()}
    at = next((c.at for c in columns if c.words & _INITIALS and c.at not in chosen), None)
    if at is None or "family_name" not in fields or fields & {"given_name", "full_name"}:
        return
    if is_words(columns[at].table, at, r"^(\pL(\.\s*|\s+|$))+$"):
        chosen[at] = _Option(_LEAST, at, "given_name", "initials, and no other column holds given names")


def _is_anothers(words: set[str], entity: str) -> bool:
    """Whether a heading of these words may be of somebody who leads or helps the list's people, or of an assistant of its firms."""
    return says_other("anothers", words) or (entity == "contact" and says_other("leaders", words))


def _is_of_another(words: set[str], entity: str) -> bool:
    """Whether a heading of these words says that what is below it is somebody else's than the list's people or firms."""
    return _is_anothers(words, entity) or says_other("relatives", words) or is_of_a_head(words)


def _given_once(options: list[_Option], entity: str, kin: Mapping[int, int]) -> dict[int, _Option]:
    """The option of each column that has one: the surest first, and each field once. kin : of columns as sure that of the most goes before"""
    order, taken, chosen = ENTITIES[entity].fields, set[str](), dict[int, _Option]()
    for option in sorted(options, key=lambda o: (-o.score, -kin.get(o.at, 0), -o.filled, o.at, order.index(o.field))):
        if option.at not in chosen and option.field not in taken and option.score >= _LEAST:
            chosen[option.at] = option
            taken.add(option.field)
    return chosen


def _of_one(table: pa.Table) -> dict[int, int]:
    """How many headings begin as each does: beside donor_city and donor_zip, donor_nm is the donor, and cand_nm somebody else."""
    firsts = [folded(c).partition(" ")[0] for c in table.column_names]
    return {i: firsts.count(first) for i, first in enumerate(firsts)}


def _kin(table: pa.Table, chosen: Mapping[int, _Option]) -> dict[int, int]:
    """Which headings share a word with those of the names: beside Attendee First Name, Attendee Email is theirs, and Buyer Email is not."""
    words = [set(in_full(folded(c)).split()) for c in table.column_names]
    named = set().union(*(words[i] for i, option in chosen.items() if option.field in _NAMING)) - _NAME_WORDS
    return {i: not named.isdisjoint(w) for i, w in enumerate(words)}


def _without_others(columns: list[_Column], chosen: dict[int, _Option]) -> None:
    """Leave out the second mailbox where its heading goes with names of others: Email (school) beside School name."""
    at = next((i for i, option in chosen.items() if option.field == "other_email"), None)
    named = [c for c in columns if c.headed and max(c.headed, key=lambda f: c.headed[f]) in _NAMING]
    own, others = (
        set().union(*(c.words for c in named if (c.at in chosen and chosen[c.at].field in _NAMING) == ours)) - _NAME_WORDS
        for ours in (True, False)
    )
    if at is not None and not (others - own).isdisjoint(columns[at].words):
        del chosen[at]


def _of_one_address(columns: list[_Column], chosen: dict[int, _Option]) -> None:
    """Take the parts of an address from one of several: the town of the billing address with its street, and not the shipping address's."""
    by_heading = {c.heading: c for c in columns}
    parts = {option.field: columns[i].heading for i, option in chosen.items() if option.field in addresses.PARTS}
    whole = addresses.taken_whole(columns[0].table, parts, columns[0].entity) if parts else parts
    if whole == parts:
        return
    for at in [i for i, option in chosen.items() if option.field in addresses.PARTS]:
        del chosen[at]
    for field, column in ((f, by_heading[h]) for f, h in whole.items() if by_heading[h].at not in chosen):
        heading = column.heading
        chosen[column.at] = _Option(column.headed.get(field, _LEAST), column.at, field, f'heading "{heading}", of one address')


def _named_beside(table: pa.Table, chosen: Mapping[int, _Option]) -> dict[int, _Option]:
    """The options with names and mailboxes as the columns beside them show them to be."""
    out, at = dict(chosen), {option.field: i for i, option in chosen.items()}

    def become(i: int, field: str, beside: str = "") -> None:
        out[i] = out[i]._replace(field=field, why=f"{out[i].why}{beside}")

    whole, given, family = (at.get(f) for f in ("full_name", "given_name", "family_name"))
    if whole is not None and given is not None and family is not None:
        # Beside given and family names a column of people, or of a name of some other sort, is somebody else's: an owner, a parent.
        if out[whole].score < SURELY:
            del out[whole]
    elif whole is not None and given is not None and names_in(table.column(whole).combine_chunks())[1] >= NAMED:
        del out[given]  # what somebody is called, beside the whole name
    elif whole is not None and given is not None:
        become(whole, "family_name", ", beside given names")
    elif whole is not None and family is not None and is_words(table, whole, r"^\s*[^\s\d@]+\s*$"):
        become(whole, "given_name", ", beside family names")
    if "other_email" in at and "email" not in at:
        # The only mailbox there is, whatever it is called, is no other one.
        become(at["other_email"], "email")
    return out


_NEIGHBOURS = (
    ("family_name", "given_name", 1),
    ("family_name", "given_name", -1),
    ("city", "region", -1),
    ("city", "postal_code", -1),
    ("city", "postal_code", 1),
    ("city", "street", 1),
)
"""Fields whose values tell nothing, found by the column they stand beside (how many columns behind it)."""


def _told_by_neighbours(table: pa.Table, chosen: dict[int, _Option], entity: str) -> None:
    """Give columns without a heading we know the fields that stand beside those told by what they hold."""
    for field, beside, behind in _NEIGHBOURS:
        at = next((i for i, option in chosen.items() if option.field == beside and option.score == 0.5), None)
        near = None if at is None else at + behind
        taken = {option.field for option in chosen.values()}
        if (
            near is not None
            and field in kind_of(entity)
            and field not in taken
            and near not in chosen
            and _is_headless(table, near)
            and is_words(table, near)
        ):
            chosen[near] = _Option(0.45, near, field, f"stands beside the {beside.replace('_', ' ')}")


def _is_headless(table: pa.Table, i: int) -> bool:
    """Whether the column exists and has no heading that is known."""
    return 0 <= i < table.num_columns and not meanings(table.column_names[i], "contact")


_NAME_WORDS = frozenset("name first last full given family fore sur middle email mail phone address number no id".split())
_NAMING = ("given_name", "family_name", "full_name", "name")
_TOLD_BY_RECORDS = (*_NAMING, "account", "street", "city", "region", "country", "job_title")
_AS_KNOWN, _CLEARLY = 0.4, 1.2


def _as_known(table: pa.Table, left: list[int], known: Mapping[str, pa.ChunkedArray], free: set[str]) -> dict[int, str]:
    """Columns most of whose values existing records hold in one field, and clearly fewer in any other; under a heading names only, for towns may be anything's."""

    def plain(column: pa.ChunkedArray) -> pa.Array:
        text = pc.unique(pc.utf8_lower(pc.utf8_trim_whitespace(column.cast(pa.large_string()))))
        return text.filter(pc.fill_null(pc.not_equal(text, ""), False))

    columns = {i: text for i in left if len(text := plain(table.column(i).slice(0, SAMPLE))) >= ENOUGH}
    records = {f: plain(known[f]) for f in _TOLD_BY_RECORDS if f in known and f in free} if columns else {}
    found = []
    for i, text in columns.items():
        shares = {f: float(pc.mean(pc.is_in(text, value_set=values).cast(pa.float64())).as_py()) for f, values in records.items()}
        for field, share in shares.items():
            others = max((s for f, s in shares.items() if f != field), default=0.0)
            named = field in _NAMING or BY_PLACE.fullmatch(table.column_names[i])
            if named and share >= max(_AS_KNOWN, _CLEARLY * others):
                found.append((-share, i, field))
    out: dict[int, str] = {}
    for _, i, field in sorted(found):
        if i not in out and field not in out.values():
            out[i] = field
    return out


def apply_mapping(table: pa.Table, suggestions: list[Suggestion], told: Mapping[str, str], name: str) -> dict[str, str]:
    """Field to column: what the policy says, then what was suggested.

    Raises PolicyError naming every column the list lacks, with the one that is likely meant, and every field used twice.
    """
    out: dict[str, str] = {}
    free = {s.field: s.column for s in suggestions if s.field and s.column not in told}
    wrong = []
    for column, field in told.items():
        if column not in table.column_names:
            unnamed = [c for c in table.column_names if c not in told]
            likely = free.get(field, "")
            wrong.append(lacks(name, column, unnamed, likely))
        elif field and field in out:
            wrong.append(f'{name}: the policy maps both "{out[field]}" and "{column}" to {field}; a field is used once')
        elif field:
            out[field] = column
    if wrong:
        raise PolicyError("\n".join(wrong))
    for s in suggestions:
        if s.field and s.column not in told and s.field not in out:
            out[s.field] = s.column
    return out


def lacks(name: str, column: str, known: list[str], likely: str = "") -> str:
    """The message that a list lacks a column the policy names. likely : the column that holds what it held, where one does."""
    near = _nearest(column, known) or likely
    return f'{name}: the policy names the column "{column}", which the list lacks' + (
        f'; did you mean "{near}"? If it is called that now, change the policy' if near else ""
    )


def new_columns(table: pa.Table, told: Mapping[str, str]) -> list[str]:
    """Columns a policy that names columns says nothing of."""
    return [c for c in table.column_names if c not in told] if told else []


def _nearest(name: str, known: list[str]) -> str:
    from difflib import get_close_matches

    return next(iter(get_close_matches(name, known, 1, 0.5)), "")
