"""Made-up data of Second Reed, a network that lends musical instruments: contacts, accounts, a workshop's roster, and the truth.

Everything is invented: domains end in .example, phone numbers are from ranges reserved for fiction. The same seed gives the same data.
`python -m brujula.demo.generate DIR` writes the files that ship.
"""

from __future__ import annotations

import csv
import random
import sys
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from brujula.demo.maker import FREE, GIVEN, Account, Maker, Person, plain

SEED = 20_417
CONTACT_HEADINGS = """id | first_name | last_name | email | phone | mobile | job_title | account | street | city | state |
postal_code | country | source | email_opt_out | created_at | updated_at""".replace("\n", " ").split(" | ")
ACCOUNT_HEADINGS = """id | name | website | phone | street | city | state | postal_code | country | industry""".replace(
    "\n", " "
).split(" | ")
DISTRICT_HEADINGS = (
    "School",
    "School street",
    "Town",
    "State",
    "ZIP",
    "Teacher first name",
    "Teacher last name",
    "E-mail",
    "Phone",
    "Position",
)
ROSTER_HEADINGS = (
    """Name | E-Mail | Telephone | School or band | Role | Street | Town | State | ZIP | Do not mail | Note""".replace(
        "\n", " "
    ).split(" | ")
)


@dataclass
class World:
    """The lists, as rows of text under their headings, and the entity of every row."""

    contacts: list[list[str]]
    accounts: list[list[str]]
    roster: list[list[str]]
    contact_entity: list[str]
    roster_entity: list[str]
    roster_tags: list[str]


def make(seed: int = SEED, n_contacts: int = 2_000, n_accounts: int = 400, n_rows: int = 300, hard: float = 1.0) -> World:
    """A world of made-up lists. hard : factor on how often lists differ; the truth stays known."""
    m = Maker(seed, hard)
    accounts = [m.account() for _ in range(n_accounts - n_accounts // 25)]
    for base in m.random.sample(accounts, n_accounts // 25):
        street, city, state, postal = m.place()
        accounts.append(Account(base.name, base.domain, m.phone(), street, city, state, postal, base.industry))
    m.accounts = accounts
    people = [m.person(m.random.choice(accounts) if m.chance(0.8) else None) for _ in range(n_contacts - n_contacts // 12)]
    for a, b in zip(people[0 : n_contacts // 25 : 2], people[1 : n_contacts // 25 : 2], strict=False):
        _relate(m, a, b)
    records: list[tuple[Person, str]] = [(p, f"P{i}") for i, p in enumerate(people)]
    for i in m.random.sample(range(len(people)), n_contacts - len(people)):
        records.append((m.varied(people[i])[0], f"P{i}"))
    m.random.shuffle(records)
    contacts = [_contact_row(m, i, p) for i, (p, _) in enumerate(records)]
    rows: list[tuple[list[str], str, str]] = []
    known = m.random.sample(range(len(people)), int(n_rows * 0.55))
    for i in known:
        q, tags = m.varied(people[i])
        rows.append((_roster_row(m, q), f"P{i}", ";".join(["known", *tags])))
    for i in m.random.sample(range(len(people)), max(int(n_rows * 0.1), 1)):
        rows.append((_roster_row(m, _lookalike(m, people[i])), f"N{len(rows)}", "new;lookalike"))
    while len(rows) < n_rows - max(n_rows // 60, 2) - 3:
        rows.append((_roster_row(m, m.person(m.random.choice(accounts) if m.chance(0.7) else None)), f"N{len(rows)}", "new"))
    for row in m.random.sample(rows, max(n_rows // 60, 2)):
        rows.append((list(row[0]), row[1], row[2] + ";twice"))
    m.random.shuffle(rows)
    _odd_rows(m, rows, accounts)
    account_rows = [
        [
            f"A-{1000 + i}",
            a.name,
            f"https://www.{a.domain}",
            m.written(a.phone),
            a.street,
            a.city,
            a.state,
            a.postal,
            "United States",
            a.industry,
        ]
        for i, a in enumerate(accounts)
    ]
    return World(
        contacts, account_rows, [r for r, _, _ in rows], [e for _, e in records], [e for _, e, _ in rows], [t for _, _, t in rows]
    )


def _relate(m: Maker, a: Person, b: Person) -> None:
    """Make two people of one kind that is easily taken for one: a couple, father and son, two of one name, colleagues."""
    kind = m.random.randrange(4)
    if kind == 0:
        b.family, b.email, b.street, b.city, b.state, b.postal, b.phone = (
            a.family,
            a.email,
            a.street,
            a.city,
            a.state,
            a.postal,
            a.phone,
        )
    elif kind == 1:
        b.given, b.family, b.street, b.city, b.state, b.postal, b.phone = (
            a.given,
            a.family,
            a.street,
            a.city,
            a.state,
            a.postal,
            a.phone,
        )
        a.suffix, b.suffix = "Sr.", "Jr."
        b.email = f"{plain(b.given)}.{plain(b.family)}jr{m.random.randrange(10, 99)}@{m.random.choice(FREE)}"
    elif kind == 2:
        b.given, b.family = a.given, a.family
    elif a.account:
        b.account, b.phone, b.email = a.account, a.account.phone, f"office@{a.account.domain}"
        a.phone, a.email = b.phone, b.email


def _lookalike(m: Maker, p: Person) -> Person:
    """A new person who resembles a known one: of the same household, office, or name."""
    q = m.person(p.account)
    kind = m.random.randrange(4)
    if kind == 0:
        q.family, q.street, q.city, q.state, q.postal, q.phone = p.family, p.street, p.city, p.state, p.postal, p.phone
    elif kind == 1:
        q.family, q.email = p.family, p.email
    elif kind == 2:
        other = m.person(None)
        q = Person(**{**other.__dict__, "given": p.given, "family": p.family})
    else:
        q.phone, q.street, q.city, q.state, q.postal = p.phone, p.street, p.city, p.state, p.postal
    while q.given == p.given and kind != 2:
        q.given = m.random.choice(GIVEN)
    return q


def _contact_row(m: Maker, i: int, p: Person) -> list[str]:
    """A line of the CRM's export."""
    created = f"{m.random.randrange(2016, 2025)}-{m.random.randrange(1, 13):02d}-{m.random.randrange(1, 29):02d}"
    updated = f"{m.random.randrange(int(created[:4]), 2026)}-{m.random.randrange(1, 13):02d}-{m.random.randrange(1, 29):02d}"
    job, street, phone = (
        p.role if m.chance(0.7) else "",
        p.street if m.chance(0.85) else "",
        m.written(p.phone) if m.chance(0.9) else "",
    )
    if m.chance(0.03):
        job, phone = "n/a", phone or "000-0000"
    return [
        f"C-{10_000 + i}",
        p.given,
        f"{p.family} {p.suffix}".strip(),
        p.email if m.chance(0.92) else "",
        phone,
        m.written(p.mobile),
        job,
        p.account.name if p.account else "",
        street,
        p.city,
        p.state,
        p.postal if street else "",
        "United States",
        m.random.choice(["Web form", "Workshop list", "Phone", "Import 2019"]),
        "yes" if m.chance(0.08) else "no",
        created,
        max(created, updated),
    ]


def _roster_row(m: Maker, p: Person) -> list[str]:
    """A line of a partner workshop's roster."""
    given, family = p.given, f"{p.family}, {p.suffix}" if p.suffix else p.family
    style = m.random.random()
    name = f"{p.family}, {given}" if style < 0.35 and not p.suffix else f"{given} {family}"
    if m.slip(0.04) and not p.suffix:
        name = f"{p.family} {given}"
    street = p.street
    for long, short in (
        ("Street", "St."),
        ("Avenue", "Ave"),
        ("Road", "Rd"),
        ("Suite ", "#"),
        ("North ", "N "),
        ("West ", "W. "),
    ):
        if m.chance(0.5):
            street = street.replace(long, short)
    return [
        name,
        p.email.upper() if m.chance(0.04) else p.email,
        m.written(p.phone),
        m.account_as(p.account.name) if p.account else "",
        p.role if m.chance(0.5) else "",
        street if m.chance(0.75) else "",
        p.city,
        p.state if m.chance(0.9) else "",
        p.postal if m.chance(0.6) else "",
        "x" if m.chance(0.05) else "",
        m.random.choice(["Needs a clarinet", "Returns in June", "Bring the mute"]) if m.chance(0.08) else "",
    ]


def _odd_rows(m: Maker, rows: list[tuple[list[str], str, str]], accounts: Sequence[Account]) -> None:
    """Rows every list has: no name, an impossible address, placeholders."""
    nobody = _roster_row(m, m.person(accounts[0]))
    nobody[0] = ""
    broken = _roster_row(m, m.person(accounts[1]))
    broken[1] = "ada.quist(at)harrow"
    hollow = _roster_row(m, m.person(accounts[2]))
    hollow[1], hollow[2], hollow[4] = "test@test.com", "000-0000", "TBD"
    for at, row, tag in ((40, nobody, "no_name"), (80, broken, "bad_mail"), (120, hollow, "placeholders")):
        rows.insert(min(at, len(rows)), (row, f"odd-{tag}", f"new;{tag}"))


def district(world: World, seed: int = SEED + 1, n_schools: int = 36) -> list[list[str]]:
    """A school district's roster: teachers of schools we know and of new ones, most people at new mailboxes of the district's."""
    m = Maker(seed)
    rows: list[list[str]] = []
    known = [a for a in world.accounts if a[9] == "School"]
    for i in range(n_schools):
        new = m.account() if m.chance(0.3) else None
        name, street, town, state, postal = (
            (new.name, new.street, new.city, new.state, new.postal)
            if new
            else (lambda a: (a[1], a[4], a[5], a[6], a[7]))(m.random.choice(known))
        )
        staff = [c for c in world.contacts if not new and c[7] == name][:2]
        for c in staff:
            rows.append([name, street, town, state, postal, c[1], c[2], c[3], c[4], c[6]])
        for _ in range(m.random.randrange(1, 4)):
            p = m.person(None)
            mail = f"{plain(p.given)}.{plain(p.family)}@{plain(name.split()[0])}{i}.district.example"
            rows.append(
                [
                    name.upper() if m.chance(0.15) else name,
                    street,
                    town,
                    state,
                    postal,
                    p.given,
                    p.family,
                    mail,
                    m.written(m.phone()),
                    "Music Teacher",
                ]
            )
    m.random.shuffle(rows)
    return rows


def leave_alone(world: World, seed: int = SEED + 2) -> list[list[str]]:
    """People of the workshop's roster who asked not to be written to."""
    chosen = random.Random(seed).sample([r for r in world.roster if "@" in r[1] and r[1] != "test@test.com"], 6)
    return [[r[0], r[1], "asked not to be written to"] for r in chosen]


def write(folder: Path, world: World) -> None:
    """Write the lists: comma-separated exports in UTF-8, and the roster as a workshop's spreadsheet saves it."""
    folder.mkdir(parents=True, exist_ok=True)
    for name, headings, rows, delimiter, encoding in (
        ("contacts.csv", CONTACT_HEADINGS, world.contacts, ",", "utf-8"),
        ("accounts.csv", ACCOUNT_HEADINGS, world.accounts, ",", "utf-8"),
        ("workshop-roster.csv", ROSTER_HEADINGS, world.roster, ";", "cp1252"),
        ("district-roster.csv", DISTRICT_HEADINGS, district(world), "\t", "utf-8"),
        ("leave-alone.csv", ("Name", "E-Mail", "Remark"), leave_alone(world), ",", "utf-8"),
    ):
        with (folder / name).open("w", encoding=encoding, errors="replace", newline="") as stream:
            csv.writer(stream, delimiter=delimiter).writerows([headings, *rows])


if __name__ == "__main__":
    write(Path(sys.argv[1]), make())
