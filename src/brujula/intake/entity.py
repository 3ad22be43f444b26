"""Whether lists are of people or of organisations."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from functools import cache

import pyarrow as pa

from brujula.intake.content import (
    ENOUGH,
    NAMED,
    SAMPLE,
    filled,
    is_bare,
    is_flag,
    is_repeated,
    is_words,
    most_like_names,
    names_in,
)
from brujula.intake.headings import folded, in_full, is_of_a_head, leads, said_among, says_other
from brujula.intake.held import held_field
from brujula.intake.mail_names import has_role_mailboxes, names_in_mailboxes
from brujula.intake.meanings import EITHER, SURELY, meanings, names_people
from brujula.intake.raw import BY_PLACE

_PERSONAL = {
    "given_name": 4,
    "family_name": 4,
    "middle_name": 3,
    "birth_date": 3,
    "job_title": 3,
    "mobile": 1,
    "email_opt_out": 1,
    "phone_opt_out": 1,
    "suffix": 1,
    "prefix": 1,
}
_SAID_OF_PEOPLE = frozenset((*_PERSONAL, "full_name"))
_OF_A_PERSON = frozenset(
    """member membership student pupil employee staff personnel payroll passport voter ssn soc social nhs medicare nino npi bar cedula mitglieds mitgliedsnummer matrikelnummer personalnummer
    sozialversicherungsnummer adherent socio matricule matricula pesel lidnummer personnummer personnr henkilotunnus rodne license licence lic card loyalty""".split()
)
"""Words of headings of numbers that people have, too."""
_PEOPLES_NUMBERS = frozenset(
    "pesel ssn personnummer personnr henkilotunnus hetu rodne fodselsnummer bsn dni nie curp nino".split()
)
"""And of numbers that none but people have."""
_MORE = 0.1  # distinct names a row: there are more of people than of firms, where they are the firms' people
_HARDLY, _NEARLY_ALL = 0.1, 0.9  # shares of values
_WORDS = r"^\s*\pL[\pL'’.-]*( \pL[\pL'’.-]*){1,3}\s*$"
_PLAINLY = 0.5  # share of values that are people's names
_OF_PLACES = ("street", "city", "region", "notes")
"""What may have words of firms in it, and names none."""
_NAMES = ("given_name", "family_name", "full_name", "account")
_Named = Callable[[str], tuple[float, float]]
"""By heading, the shares of a column that are names of firms and of people."""
_CORPORATE = {"industry": 3, "registration_no": 3, "parent_id": 2, "website": 1}


def entity_of(*tables_of: pa.Table, otherwise: str = "account") -> str:
    """contact if the columns speak of people, account if of organisations, otherwise what they are taken for; several lists that belong together are asked together.

    A list with a name and an organisation beside it is of people; so is one of job titles, given names, birth dates.
    """
    named_in = [_named(table) for table in tables_of]
    firms_plainly = any(
        _plainly_of_firms(c, names) for table, names in zip(tables_of, named_in, strict=True) for c in table.column_names
    )
    balance = most = 0
    for table, names in zip(tables_of, named_in, strict=True):
        # A store's manager is none of the list's people.
        headings = [c for c in table.column_names if not (firms_plainly and _is_anothers(c))]
        headed = [(folded(c), meanings(c, "contact"), meanings(c, "account")) for c in headings]
        given = any(
            people.get("given_name", 0) >= 0.6 and plain not in EITHER and not is_of_a_head(set(plain.split()))
            for plain, people, _ in headed
        )
        vain = {
            c
            for c, (plain, people, _) in zip(headings, headed, strict=True)
            if not people.keys().isdisjoint(_SAID_OF_PEOPLE)
            and _says_it_in_vain(table.column(c).combine_chunks(), plain, people, names(c))
        }
        for heading, (plain, people, firms) in zip(headings, headed, strict=True):
            told = (given or plain not in EITHER) and not is_of_a_head(set(plain.split()))
            surest = max(people.values(), default=0.0)
            told &= heading not in vain
            personal = max([w for f, w in _PERSONAL.items() if people.get(f, 0) >= max(surest, 0.6) and told], default=0)
            if not _PEOPLES_NUMBERS.isdisjoint(plain.split()):
                personal = max(personal, 2)
            corporate = _CORPORATE if _OF_A_PERSON.isdisjoint(plain.split()) else _CORPORATE | {"registration_no": 0}
            of_firms = sum(w for f, w in corporate.items() if firms.get(f, 0) >= 0.75)
            balance += personal - of_firms
            most = max(most, personal, of_firms)
        named = any(
            people.get("full_name", 0) >= 0.9 and c not in vain and not leads(set(plain.split()))
            for c, (plain, people, _) in zip(headings, headed, strict=True)
        )
        employer = any(
            people.get("account", 0) >= 0.6
            and people.get("full_name", 0) < 0.9
            and firms.get("parent_id", 0) < 0.9
            and not said_among("customers", plain.split())
            for plain, people, firms in headed
        )
        both = 4 * (
            (named and employer)
            or any(names_people(c) and c not in vain and not _holds_firms(names(c)) for c in table.column_names)
        )
        balance, most = balance + both, max(most, both)
    if balance == 0:
        balance = max(_by_names(tables_of, named_in, firms_plainly), 0)
    elif most == 1:  # a mobile phone or a website: people and firms may have either
        balance = _by_names(tables_of, named_in, firms_plainly) or balance
    if balance <= 0 and not firms_plainly and any(map(_names_people_alone, tables_of, named_in)):
        return "contact"
    if (
        balance == 0
        and not firms_plainly
        and (any(map(_named_by_mailboxes, tables_of)) or any(map(_named_without_a_heading, tables_of, named_in)))
    ):
        return "contact"
    return "contact" if balance > 0 else "account" if balance < 0 else otherwise


def _named_without_a_heading(table: pa.Table, names: _Named) -> bool:
    """Whether, in a list without headings, what is most like names are two or three words and hardly ever a firm's."""
    if not all(BY_PLACE.fullmatch(heading) for heading in table.column_names):
        return False
    at = most_like_names(table, list(range(table.num_columns)))
    if has_role_mailboxes(table):
        return False
    return at is not None and names(table.column_names[at])[0] < _HARDLY and is_words(table, at, _WORDS, _NEARLY_ALL)


def _named_by_mailboxes(table: pa.Table) -> bool:
    """Whether two columns whose headings say nothing hold the names that mailboxes are made of."""
    unknown = [at for at, heading in enumerate(table.column_names) if not meanings(heading, "contact")]
    return names_in_mailboxes(table, unknown) is not None


def _says_it_in_vain(values: pa.Array, plain: str, people: Mapping[str, float], names: tuple[float, float]) -> bool:
    """Whether a heading seems to be of people, and what stands below it does not: Nome azienda, Nombre d'élèves, Member?, Title I, Session Title."""
    surest, words = max(people, key=lambda f: people[f]), set(plain.split())
    if surest in _NAMES and (_holds_firms(names) or is_bare(values)):
        return True
    several = surest in _NAMES and len(filled(values)) >= ENOUGH
    return (("job_title" in people or several) and is_flag(values)) or (
        "job_title" in people and (says_other("works", words) or leads(words))
    )


def _named(table: pa.Table) -> _Named:
    """What names a list's columns hold, each looked at once, and when it is asked for."""
    return cache(lambda heading: names_in(table.column(heading).combine_chunks()))


def _names_people_alone(table: pa.Table, names: _Named) -> bool:
    """Whether a list that speaks of firms names none of them, and people: Owner, Owner Address; Head First Name."""
    parts, people, unknown = set[str](), False, list[int]()
    for at, heading in enumerate(table.column_names):
        meant, as_firms = meanings(heading, "contact"), meanings(heading, "account")
        surest = max(meant, key=lambda f: meant[f], default="")
        if surest not in _OF_PLACES and names(heading)[0] >= NAMED:
            return False
        if surest in ("given_name", "family_name"):
            parts.add(surest)
        elif _holds_people(names(heading)) or (meant.get("full_name", 0) >= SURELY and "name" not in as_firms):
            people = True
        elif "name" in as_firms:
            return False
        elif not meant and not as_firms:
            unknown.append(at)
    return (people or len(parts) == 2) and most_like_names(table, unknown) is None


def _plainly_of_firms(heading: str, names: _Named) -> bool:
    """Whether a heading is plainly of firms, and what it has below it is not of people: Landlord Name, Bidder."""
    people = meanings(heading, "contact")
    either = people.get("account", 1.0) < SURELY or (not people and names(heading)[0] < _HARDLY / 2)
    return _names_firms(heading) and not (either and _holds_people(names(heading)))


def _names_firms(heading: str) -> bool:
    """Whether a heading is plainly of firms."""
    people = meanings(heading, "contact")
    if not people:
        return meanings(heading, "account").get("name", 0) >= SURELY  # Shop
    return people.get("account", 0) >= SURELY > people.get("full_name", 0) or {*people} == {"account"}


def _is_named(heading: str) -> bool:
    """Whether a heading may be of names, and not of owners alone."""
    meant = meanings(heading, "contact")
    return "owner" not in meant and any(f in meant for f in _NAMES)


def _holds_firms(shares: tuple[float, float]) -> bool:
    """Whether what stands below a heading of names are firms' and not people's."""
    of_firms, of_people = shares
    return of_firms >= NAMED > of_people


def _holds_people(shares: tuple[float, float]) -> bool:
    """Whether what stands in a column are people's names."""
    of_firms, of_people = shares
    return of_people >= _PLAINLY > of_firms


def _is_anothers(heading: str) -> bool:
    """Whether a heading is of somebody beside those that another column names: a manager, an assistant, a firm's representative. Teachers beside schools are the list."""
    words = set(in_full(folded(heading)).split())
    return says_other("anothers", words) or says_other("representatives", words)


def _by_names(tables_of: Sequence[pa.Table], named_in: Sequence[_Named], firms_plainly: bool) -> int:
    """Where hardly anything but names is to go by, 1 where they are people's, -1 where they are firms' and nobody else's, 0 = they do not tell. They are people's where they stand alone, before the firms beside them, or more of them than of those (a town may be called like a person: Los Angeles, Sidney); not those of two who lead each firm."""
    people, firms, given, before = 0.0, 0.0, False, False
    leading, others = set[str](), False
    for table, names in zip(tables_of, named_in, strict=True):
        first = False
        elsewhere = any(_is_named(c) for c in table.column_names)
        for heading, column in zip(table.column_names, table.columns, strict=True):
            values = column.combine_chunks() if isinstance(column, pa.ChunkedArray) else column
            meant, words = meanings(heading, "contact"), set(folded(heading).split())
            # Beside firms it is whoever serves them: Sælger.
            given |= (
                not (meant or firms_plainly or is_repeated(values))
                and held_field(values) == "given_name"
                and names(heading)[1] < NAMED
            )
            surest = max(meant, key=lambda f: meant[f], default="full_name")
            # Owner Name is a name where nothing else is.
            named = surest in _NAMES or (surest == "owner" and "full_name" in meant and not elsewhere)
            named |= surest == "id" and names(heading)[0] >= NAMED  # Debitor
            if not named or is_of_a_head(words) or (firms_plainly and _is_anothers(heading)):
                continue
            of_firms, of_people = names(heading)
            some = values.slice(0, SAMPLE)
            several = len(some.unique()) / max(len(some), 1)
            of_a_firm = of_firms >= NAMED or (_names_firms(heading) and of_people < _PLAINLY)
            before |= first and of_a_firm and (bool(meant) or several > _MORE)
            first |= _holds_people(names(heading))
            firms = max(firms, several * of_a_firm)
            people = max(people, several * (of_people >= NAMED > of_firms))
            if of_people >= NAMED > of_firms:
                if leads(words):
                    leading.add(heading)
                else:
                    others = True
    alone = people > 0 and firms == 0 and not firms_plainly
    if firms > 0 and not given and (people == 0 or (len(leading) > 1 and not others)):
        return -1
    return int(alone or before or people > firms + _MORE > _MORE) + given
