"""Whether lists are of people or of organisations."""

from __future__ import annotations

from collections.abc import Sequence

import pyarrow as pa

from brujula.intake.content import NAMED, SAMPLE, held_field, is_flag, names_in
from brujula.intake.headings import folded, in_full, is_of_a_head, leads, said_among, says_other
from brujula.intake.meanings import EITHER, SURELY, meanings, names_people

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
_OF_A_PERSON = frozenset(
    """member membership student pupil employee staff personnel payroll passport voter ssn soc social nhs medicare nino npi bar cedula mitglieds mitgliedsnummer matrikelnummer personalnummer
    sozialversicherungsnummer adherent socio matricule matricula pesel lidnummer personnummer personnr henkilotunnus rodne license licence lic card loyalty""".split()
)
"""Words of headings of numbers that people have, too."""
_MORE = 0.1  # distinct names a row: there are more of people than of firms, where they are the firms' people
_PLAINLY = 0.5  # share of values that are people's names
_NAMES = ("given_name", "family_name", "full_name", "account")
_CORPORATE = {"industry": 3, "registration_no": 3, "parent_id": 2, "website": 1}


def entity_of(*tables_of: pa.Table, otherwise: str = "account") -> str:
    """contact if the columns speak of people, account if of organisations, otherwise what they are taken for; several lists that belong together are asked together.

    A list with a name and an organisation beside it is of people; so is one of job titles, given names, birth dates.
    """
    balance, most, firms_plainly = 0, 0, any(_names_firms(c) for table in tables_of for c in table.column_names)
    for table in tables_of:
        # A store's manager is none of the list's people.
        headings = [c for c in table.column_names if not (firms_plainly and _is_anothers(c))]
        headed = [(folded(c), meanings(c, "contact"), meanings(c, "account")) for c in headings]
        given = any(
            people.get("given_name", 0) >= 0.6 and plain not in EITHER and not is_of_a_head(set(plain.split()))
            for plain, people, _ in headed
        )
        for heading, (plain, people, firms) in zip(headings, headed, strict=True):
            told = (given or plain not in EITHER) and not is_of_a_head(set(plain.split()))
            personal = max([w for f, w in _PERSONAL.items() if people.get(f, 0) >= 0.6 and told], default=0)
            if "job_title" in people and is_flag(table.column(heading).combine_chunks()):
                personal = 0  # Title I: yes, no
            corporate = _CORPORATE if _OF_A_PERSON.isdisjoint(plain.split()) else _CORPORATE | {"registration_no": 0}
            of_firms = sum(w for f, w in corporate.items() if firms.get(f, 0) >= 0.75)
            balance += personal - of_firms
            most = max(most, personal, of_firms)
        named = any(
            people.get("full_name", 0) >= 0.9 and not _holds_firms(table.column(c))
            for c, (_, people, _) in zip(headings, headed, strict=True)
        )
        employer = any(
            people.get("account", 0) >= 0.6
            and people.get("full_name", 0) < 0.9
            and firms.get("parent_id", 0) < 0.9
            and not said_among("customers", plain.split())
            for plain, people, firms in headed
        )
        both = 4 * ((named and employer) or any(names_people(c) for c in table.column_names))
        balance, most = balance + both, max(most, both)
    if balance == 0:
        balance = max(_by_names(tables_of, firms_plainly), 0)
    elif most == 1:  # a mobile phone or a website: people and firms may have either
        balance = _by_names(tables_of, firms_plainly) or balance
    return "contact" if balance > 0 else "account" if balance < 0 else otherwise


def _names_firms(heading: str) -> bool:
    """Whether a heading is plainly of firms."""
    people = meanings(heading, "contact")
    return people.get("account", 0) >= SURELY > people.get("full_name", 0) or {*people} == {"account"}


def _is_named(heading: str) -> bool:
    """Whether a heading may be of names, and not of owners alone."""
    meant = meanings(heading, "contact")
    return "owner" not in meant and any(f in meant for f in _NAMES)


def _holds_firms(column: pa.ChunkedArray) -> bool:
    """Whether what stands below a heading of names are firms' and not people's."""
    of_firms, of_people = names_in(column.combine_chunks() if isinstance(column, pa.ChunkedArray) else column)
    return of_firms >= NAMED > of_people


def _is_anothers(heading: str) -> bool:
    """Whether a heading is of somebody beside those that another column names: a manager, an assistant, a firm's representative. Teachers beside schools are the list."""
    words = set(in_full(folded(heading)).split())
    return says_other("anothers", words) or says_other("representatives", words)


def _by_names(tables_of: Sequence[pa.Table], firms_plainly: bool) -> int:
    """Where hardly anything but names is to go by, 1 where they are people's, -1 where they are firms' and nobody else's, 0 = they do not tell. They are people's where they stand alone, before the firms beside them, or more of them than of those (a town may be called like a person: Los Angeles, Sidney); not those of two who lead each firm."""
    people, firms, given, before = 0.0, 0.0, False, False
    leading, others = set[str](), False
    for table in tables_of:
        first = False
        elsewhere = any(_is_named(c) for c in table.column_names)
        for heading, column in zip(table.column_names, table.columns, strict=True):
            values = column.combine_chunks() if isinstance(column, pa.ChunkedArray) else column
            meant = meanings(heading, "contact")
            given |= not meant and held_field(values) == "given_name"
            surest = max(meant, key=lambda f: meant[f], default="full_name")
            # Owner Name is a name where nothing else is.
            named = surest in _NAMES or (surest == "owner" and "full_name" in meant and not elsewhere)
            if not named or is_of_a_head(set(folded(heading).split())) or (firms_plainly and _is_anothers(heading)):
                continue
            of_firms, of_people = names_in(values)
            some = values.slice(0, SAMPLE)
            several = len(some.unique()) / max(len(some), 1)
            of_a_firm = of_firms >= NAMED or (_names_firms(heading) and of_people < _PLAINLY)
            before |= first and of_a_firm
            first |= of_people >= _PLAINLY > of_firms
            firms = max(firms, several * of_a_firm)
            people = max(people, several * (of_people >= NAMED > of_firms))
            if of_people >= NAMED > of_firms:
                if leads(set(folded(heading).split())):
                    leading.add(heading)
                else:
                    others = True
    alone = people > 0 and firms == 0 and not firms_plainly
    if firms > 0 and not given and (people == 0 or (len(leading) > 1 and not others)):
        return -1
    return int(alone or before or people > firms + _MORE > _MORE) + given
