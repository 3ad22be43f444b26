"""Whether lists are of people or of organisations."""

from __future__ import annotations

import pyarrow as pa

from brujula.intake.content import NAMED, held_field, names_in
from brujula.intake.headings import folded, is_of_a_head
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
_NAMES = ("given_name", "family_name", "full_name", "account")
_CORPORATE = {"industry": 3, "registration_no": 3, "parent_id": 2, "website": 1}


def entity_of(*tables_of: pa.Table, otherwise: str = "account") -> str:
    """contact if the columns speak of people, account if of organisations, otherwise what they are taken for; several lists that belong together are asked together.

    A list with a name and an organisation beside it is of people; so is one of job titles, given names, birth dates.
    """
    balance, firms_plainly = 0, False
    for table in tables_of:
        headed = [(folded(c), meanings(c, "contact"), meanings(c, "account")) for c in table.column_names]
        given = any(
            people.get("given_name", 0) >= 0.6 and plain not in EITHER and not is_of_a_head(set(plain.split()))
            for plain, people, _ in headed
        )
        for plain, people, firms in headed:
            told = (given or plain not in EITHER) and not is_of_a_head(set(plain.split()))
            balance += max([w for f, w in _PERSONAL.items() if people.get(f, 0) >= 0.6 and told], default=0)
            balance -= sum(w for f, w in _CORPORATE.items() if firms.get(f, 0) >= 0.75)
        named = any(people.get("full_name", 0) >= 0.9 for _, people, _ in headed)
        employer = any(
            people.get("account", 0) >= 0.6 and people.get("full_name", 0) < 0.9 and firms.get("parent_id", 0) < 0.9
            for _, people, firms in headed
        )
        balance += 4 * ((named and employer) or any(names_people(c) for c in table.column_names))
        firms_plainly |= any(people.get("account", 0) >= SURELY > people.get("full_name", 0) for _, people, _ in headed)
    if balance == 0:
        # Nothing but names to go by: whose are they? A town may be called like a person (Los Angeles, Sidney).
        shares = [
            names_in(c.combine_chunks() if isinstance(c, pa.ChunkedArray) else c)
            for t in tables_of
            for heading, c in zip(t.column_names, t.columns, strict=True)
            if max((found := meanings(heading, "contact")), key=lambda f: found[f], default="full_name") in _NAMES
        ]
        people_named = any(p >= NAMED for _, p in shares) and not any(f >= NAMED for f, _ in shares)
        balance += int(people_named and not firms_plainly)
        balance += int(
            any(
                held_field(c.combine_chunks() if isinstance(c, pa.ChunkedArray) else c) == "given_name"
                for t in tables_of
                for heading, c in zip(t.column_names, t.columns, strict=True)
                if not meanings(heading, "contact")
            )
        )
    return "contact" if balance > 0 else "account" if balance < 0 else otherwise
