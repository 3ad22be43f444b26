"""What one column may be: by its heading, by what it holds, and by what stands beside it."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property
from typing import NamedTuple

import pyarrow as pa
import pyarrow.compute as pc

from brujula.fields import kinds
from brujula.intake import consents
from brujula.intake.content import (
    BARE,
    NAMED,
    SAMPLE,
    TELLING,
    are_pages,
    filled,
    holds_countries,
    is_flag,
    is_for_all,
    is_prefix,
    is_repeated,
    is_running,
    is_words,
    on_one_site,
    says_who_is_there,
)
from brujula.intake.digits import may_be_phones
from brujula.intake.headings import OF_A_SORT, WITHIN_A_FIRM, folded, in_full, is_of_numbers, says_of_what_sort, says_other
from brujula.intake.held import PLACES, held_field
from brujula.intake.meanings import SURELY, meanings
from brujula.intake.raw import BY_PLACE
from brujula.intake.reached import is_reached_by
from brujula.intake.streets import is_house, is_of_a_door, is_part
from brujula.policy.entities import ENTITIES, kind_of

_NAMED_PLACES = ("city", "region", "country")
_WORDED = ("person_name", "company", "job_title", "choice", "tags", "text")  # kinds whose values are hardly ever bare numbers
_NAMED = ("person_name", "company", "job_title")
_FLAGS = ("consent", "choice", "tags", "text")
"""Kinds that a yes or a no may be of: who to contact, yes or no, is nobody's name."""
_BLANK = 0.6  # a column without a value gives way to one that has some
_WHOLE_ADDRESS = r"^[^,\n\d]*\d{1,4}[A-Za-z]?\b[^,\n]*[,\n][^,\n]+[,\n]"
"""A number that is no postal code's, and two parts more behind what it stands in: 12 Reed Lane, Orme, TX."""
_A_MAIL_WITHIN = r"[^\s@]@[^\s@]+\.[^\s@]"
_DEGREES = r"^[^A-Za-z]*\d[.,]\d|(?i:^point)"
"""A number with a fraction, or a point of two."""
_HARDLY = 0.2  # share of values
_SEVERAL = 20  # rows; firms of a longer list are not all called the same
_ITS_OWN = 0.1  # by which a firm's own mailbox goes before its head's


_CODED = frozenset("id ip code kod codigo codice".split())
"""Over what is no phone, however it looks."""
_OF_A_PART = frozenset("first last given family fname lname surname forename title".split())
"""Over a part of what is to be known of somebody, and not who it is: Rep First, Rep Title."""
_NUMBERS = frozenset("no nr number num nbr id code".split())


class Option(NamedTuple):
    """A field that a column may be; filled : the share of its cells that are, to choose by between two as sure."""

    score: float
    at: int
    field: str
    why: str
    filled: float = 0.0


class OneColumn:
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
        plain = folded(self.heading)
        self.words = {*plain.split(), *in_full(plain).split()}
        self.is_own = False  # whether its heading says that it is the list's people's
        self.of_another = frozenset[str]()  # kinds that it cannot be, for it is of somebody else

    @cached_property
    def share(self) -> float:
        """Share of its cells that are filled; 1 for a list without rows."""
        return len(filled(self.values)) / min(len(self.values), SAMPLE) if len(self.values) else 1.0

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
    def _is_dealt_with(self) -> bool:
        """Whether its heading is of firms that the people of a list deal with: who insures them. What stands first is what a list is about."""
        return self.entity == "contact" and self.at > 0 and says_other("dealings", self.words)

    @cached_property
    def _pages(self) -> bool:
        """Whether it holds a page of each person on one network, or of each firm in one register: under Web, or a heading of such."""
        of_one = are_pages if self.entity == "contact" else on_one_site
        return self.strongest in ("", "website") and of_one(self.values)

    def _is_one_code(self) -> bool:
        """Whether all its values are the same two to four letters, which are of a person or a thing as likely as of a place: Bo, Conn."""
        text = filled(self.values)
        return pc.count_distinct(text).as_py() == 1 and len(text[0].as_py()) <= 4

    def _are_handles(self) -> bool:
        """Whether it may hold names that people go by on a network: in one word, each there once."""
        return not self.content or (_mostly_once(self.values) and is_words(self.table, self.at, r"^\S+$"))

    def beside(self, plainly: set[str], placed: set[str]) -> OneColumn:
        """The same column beside others. plainly : fields that columns of the list's own people or firms may be;  placed : parts of an address that columns may be which are not of somebody else's"""
        self.placed = placed if says_other("places", self.words) else set[str]()
        self.phones_plainly = not plainly.isdisjoint({"phone", "mobile"})
        # Manager's e-mail is the manager's, but where the list is one of managers.
        self.anothers = (
            not self.is_own and not plainly.isdisjoint(ENTITIES[self.entity].naming) and is_anothers(self.words, self.entity)
        )
        # So is the mother's name, beside a child's.
        told = {"given_name", "family_name"} <= plainly or "full_name" in plainly
        self.relatives = told and not self.is_own and says_other("relatives", self.words)
        partners = self.relatives and says_other("partners", self.words)
        self.elses = ((self.anothers or partners) and self.strongest in ("email", "phone")) or (
            not self.headed and self._is_elses()
        )
        self.elses |= bool(self.of_another) and (self.strongest or "person_name") in self.of_another
        # Location ID: 0000001-01-001; a school's code
        self.elses |= (
            self.strongest == "phone" and not self.headed.keys() & {"phone", "mobile"} and not self.words.isdisjoint(_CODED)
        )
        return self

    def _is_elses(self) -> bool:
        """Whether a column under a heading that means no field of ours holds something that none does."""
        return (
            any(word.startswith("fax") for word in self.words)
            # Case no: 24-00001
            or (says_other("deeds", self.words) and not self.words.isdisjoint(_NUMBERS))
            or (is_house(self.heading) and self.firms < NAMED)  # the Building Name may be a school's
            or is_of_a_door(self.heading)
            or says_other("any", self.words)
            or says_other("anothers", self.words)
            or (says_other("numbers", self.words) and is_words(self.table, self.at, r"^\s*-?([A-Za-z]{1,3}[-/ ]?)?[\d.,-]+\s*$"))
            or is_running(self.values)
        )

    def options(self) -> Iterator[Option]:
        """The fields it may be."""
        field_kind = kind_of(self.entity)
        if (agreed := consents.agrees(self.heading, self.values)) and agreed.fields[0] in field_kind:
            yield Option(0.9, self.at, agreed.fields[0], f'heading "{self.heading}" says who agreed: a no is an opt-out')
            return
        for field in self.headed:
            if not self._is_out(field):
                score, why = self._headed(field)
                yield Option(score, self.at, field, why, round(self.share, 1))
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
            # Insurance company, Favourite store
            or (field == "account" and self._is_dealt_with)
            # The district's number
            or (self.of_another and field in ("id", "registration_no"))
            or (self.anothers and kind in ("email", "phone", "person_name"))
            or (self.relatives and (kind == "person_name" or field == "owner"))
            or (self.relatives and says_other("partners", self.words) and kind in ("email", "phone"))
            # Phone type: Home, Cell
            or (self.words & OF_A_SORT and not flags and (kind == "company" or is_repeated(self.values)))
            or (kind in ("email", "phone", "website", "postal_address") and says_of_what_sort(self.heading))
            # Agent City beside Principal City
            or field in self.placed
            # Pet Name, Event Name
            or (self.entity == "contact" and kind in _NAMED and says_other("things", self.words) and self.firms < NAMED)
            # Song title
            or (field in ("job_title", "prefix") and says_other("works", self.words))
            # Owner type: private, state
            or (self.words & OF_A_SORT and field == "owner")
            # Account Manager First Name, Sales Rep Phone; Rep 1, Rep 2
            or (
                field == "owner"
                and (
                    self.strongest == "phone"
                    or not self.headed.keys().isdisjoint(("given_name", "family_name"))
                    or self.headed.get("full_name", 0.0) >= SURELY
                    or any(word.isdigit() for word in self.words)
                    or not self.words.isdisjoint(_OF_A_PART)
                )
            )
            # Heard via: radio, a friend
            or (
                field == "street"
                and score < SURELY
                and is_words(self.table, self.at, r"^\s*\pL+\s*$")
                and is_repeated(self.values)
            )
            # A department of France, or of a firm.
            or (field == "region" and "department" in self.words and self._held != "region")
            # Suffix: St, Ave; ST_PREFIX: N, SW
            or is_part(self.heading, self.values)
            # Parent ID is a parent's, be there another column of parents or not; a second cell phone is a phone.
            or (score < SURELY < self.headed[surest] and (kind == "identifier" or kind != kind_of(self.entity)[surest]))
            # Debitor: names
            or (field == "id" and max(self.firms, self.persons) >= NAMED)
            # Account no.: of the bank at which all have theirs
            or (field == "id" and len(self.values) > _SEVERAL and is_for_all(self.values))
            # An id that many rows give is of something else: a firm, an owner, a campaign.
            or (field == "id" and ("account_id" in self.headed or (score < SURELY and not _mostly_once(self.values))))
            # Order ID: a number of ours by chance
            or (field == "id" and score < SURELY and says_other("deeds", self.words))
            # Kod: a code of something else
            or (field == "postal_code" and not self.words - _NUMBERS - {"kod", "cod"} and self._held != "postal_code")
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
            and not (kind == "email" and is_words(self.table, self.at, _A_MAIL_WITHIN))
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
        if (
            self.entity == "account"
            and kind in ("email", "phone")
            and (says_other("leaders", self.words) or says_other("anothers", self.words))
        ):
            score, why = score - _ITS_OWN, f"{why}, though it is somebody's"
        if field == "job_title" and "full_name" in self.headed and score < SURELY and self.persons >= NAMED:
            score *= 0.9  # Name / Title
        if field == "name" and len(self.values) > _SEVERAL and is_for_all(self.values):
            score, why = score * 0.3, f"{why}, though all rows have the same"
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

    def _by_content(self) -> Iterator[Option]:
        """The fields it may be by what it holds, whatever its heading."""
        fields, field_kind, strongest = ENTITIES[self.entity].fields, kind_of(self.entity), self.strongest
        told = ""
        if self.firms >= NAMED:
            told = "name" if self.entity == "account" else "" if self._is_dealt_with else "account"
        elif self.persons >= NAMED and self.entity == "contact":
            told = "full_name"
        if (
            told
            and told not in self.headed
            and "prefix" not in self.headed  # Briefanrede: Sehr geehrte Damen und Herren
            and not self.elses
            and (self.headed or self.words & _OF_WORK or not is_repeated(self.values))
            and not strongest
            and not (self.headed and max(self.headed.values()) > SURELY and self.firms < NAMED)
            and self.words.isdisjoint(OF_A_SORT | WITHIN_A_FIRM)
        ):
            yield Option(0.55, self.at, told, f"holds names of {'organisations' if self.firms >= NAMED else 'people'}")
        unsaid = not self.headed or (self._is_elsewhere and self._held not in self.headed)
        held = self._held if unsaid and not strongest and not told and not self.elses else ""
        if (
            (held == "postal_code" and is_of_numbers(self.heading))  # Member no
            or (held == "given_name" and says_other("seconds", self.words))  # NV phụ trách: who is in charge
            or (held in _NAMED_PLACES and (self.words & _OF_WORK or self._is_one_code()))  # Building: HS, MS
        ):
            held = ""
        if held in field_kind and not (held == "street" and is_repeated(self.values)) and not is_flag(self.values):
            yield Option(0.5, self.at, held, f"holds what a {held.replace('_', ' ')} is")
        if strongest == "website" and not self.headed and (self._pages or is_for_all(self.values)):
            return  # where each record is found in some program, or one page for all
        if "website" in self.headed and self._pages and not self.elses:
            if "profile" in fields:
                yield Option(0.6, self.at, "profile", "holds a page of each person on one network")
            return
        if (
            strongest in ("email", "website", "phone")
            and not (strongest == "phone" and self._counts_or_dates())
            and not self.elses
            and strongest in {field_kind[f] for f in fields}
        ):
            for field in kinds()[strongest].parts:
                if field in fields and field not in self.headed:
                    yield Option(0.6 if strongest != "phone" else 0.45, self.at, field, f"holds {strongest} values")

    def _counts_or_dates(self) -> bool:
        """Whether digits that look like phones are none, under a heading of none."""
        if self.entity == "account" and not meanings(self.heading, "contact").keys().isdisjoint({"phone", "mobile"}):
            return False
        # Seven or eight bare digits under a heading nobody knows are hardly phones, and none are beside a column of such.
        digits = r"^\s*\d+\s*$" if self.phones_plainly else r"^\s*\d{1,8}\s*$"
        return (
            (not BY_PLACE.fullmatch(self.heading) and is_words(self.table, self.at, digits))
            or not may_be_phones(self.values)
            # A number of each under CPF
            or max(self.headed.get("id", 0.0), self.headed.get("registration_no", 0.0)) >= SURELY
            or is_running(self.values, _NUMBERED)
            or is_for_all(self.values)
        )


_NUMBERED = (
    50  # of the numbers of members, of all there are, one in so many at least is in a list; of phones hardly one in a hundred
)
_OF_WORK = frozenset("building campus worksite workplace".split())
"""Where people work, under which a firm's few sites or a district's few schools stand over and over."""


def _mostly_once(values: pa.Array) -> bool:
    """Whether hardly a value of a column stands there twice."""
    text = filled(values)
    return int(pc.count_distinct(text).as_py()) >= 0.9 * len(text)


def is_anothers(words: set[str], entity: str) -> bool:
    """Whether a heading of these words may be of somebody who leads or helps the list's people, or of an assistant of its firms."""
    return says_other("anothers", words) or (entity == "contact" and says_other("leaders", words))
