"""Made-up data of Second Reed, a network that lends musical instruments: contacts, accounts, a workshop's roster, and the truth.

Everything is invented: domains end in .example, phone numbers are from ranges reserved for fiction. The same seed gives the same data.
`python -m brujula.demo.generate DIR` writes the files that ship.
"""

from __future__ import annotations

import csv
import random
import sys
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass, field
from pathlib import Path

from brujula import tables

SEED = 20_417


def _words(name: str) -> list[str]:
    """One list of the table of words."""
    rows = (line.partition(": ") for line in tables.lines("second_reed"))
    return [word.strip() for head, _, rest in rows if head == name for word in rest.split("|")]


GIVEN, FAMILY, STREETS, STEMS, ROLES = (_words(n) for n in ("given", "family", "streets", "stems", "roles"))
SCHOOLS, BANDS, WORKSHOPS, AREA_CODES = (_words(n) for n in ("schools", "bands", "workshops", "area_codes"))
TOWNS = [tuple(town.split(", ")) for town in _words("towns")]
SHORT = dict(pair.split("=") for pair in _words("short"))
FREE = ["postbox.example", "mailhaven.example", "quickmail.example"]
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
class Account:
    """An organisation at a place."""

    name: str
    domain: str
    phone: str
    street: str
    city: str
    state: str
    postal: str
    industry: str


@dataclass
class Person:
    """A person as they are; lists show parts of this, spelled in some way."""

    given: str
    family: str
    suffix: str
    email: str
    phone: str
    mobile: str
    role: str
    account: Account | None
    street: str
    city: str
    state: str
    postal: str
    tags: list[str] = field(default_factory=list)


@dataclass
class World:
    """The lists, as rows of text under their headings, and the entity of every row."""

    contacts: list[list[str]]
    accounts: list[list[str]]
    roster: list[list[str]]
    contact_entity: list[str]
    roster_entity: list[str]
    roster_tags: list[str]


def plain(text: str) -> str:
    """Letters and digits only, without marks, lower case."""
    folded = unicodedata.normalize("NFKD", text.replace("ł", "l").replace("ø", "o").replace("ß", "ss"))
    return "".join(c for c in folded if c.isascii() and c.isalnum()).lower()


class Maker:
    """Makes one world from one seed."""

    def __init__(self, seed: int, hard: float = 1.0) -> None:
        self.random = random.Random(seed)
        self.hard = hard
        self.phones: set[str] = set()
        self.domains: set[str] = set()
        self.accounts: list[Account] = []

    def chance(self, share: float) -> bool:
        """True for a share of the calls; corruption grows with `hard`."""
        return self.random.random() < share

    def slip(self, share: float) -> bool:
        """Like chance, for what makes lists harder."""
        return self.random.random() < min(share * self.hard, 0.9)

    def phone(self) -> str:
        """A number of ten digits in the range kept for fiction, not used before while there are any."""
        while True:
            number = f"{self.random.choice(AREA_CODES)}55501{self.random.randrange(100):02d}"
            if number not in self.phones or len(self.phones) > 5_500:
                self.phones.add(number)
                return number

    def place(self) -> tuple[str, str, str, str]:
        """Street, town, state, ZIP."""
        town, state, zone = self.random.choice(TOWNS)
        street = f"{self.random.randrange(1, 990)} {self.random.choice(STREETS)}"
        if self.chance(0.15):
            street += f", Suite {self.random.randrange(100, 900)}"
        return street, town, state, f"{zone}{self.random.randrange(1000):03d}"

    def account(self) -> Account:
        """A school, a band or a workshop."""
        stem, kind = self.random.choice(STEMS), self.random.random()
        if self.chance(0.35):
            stem += f" {self.random.choice(STEMS)}"
        ending, industry = (
            (self.random.choice(SCHOOLS), "School")
            if kind < 0.5
            else (self.random.choice(BANDS), "Band")
            if kind < 0.75
            else (self.random.choice(WORKSHOPS), "Repair workshop")
        )
        street, city, state, postal = self.place()
        name = f"{stem} {ending}" + (
            self.random.choice([" Inc.", " LLC", " Co."]) if industry == "Repair workshop" and self.chance(0.6) else ""
        )
        domain = f"{plain(stem)}-{plain(ending.split()[0])}"
        while domain in self.domains:
            domain += str(self.random.randrange(10))
        self.domains.add(domain)
        return Account(name, f"{domain}.example", self.phone(), street, city, state, postal, industry)

    def person(self, account: Account | None) -> Person:
        """A person at an account, or at home."""
        given, family = self.random.choice(GIVEN), self.random.choice(FAMILY)
        if self.chance(0.06):
            family += f"{self.random.choice([' ', '-'])}{self.random.choice(FAMILY)}"
        if account and self.chance(0.75):
            local = self.random.choice([f"{plain(given)}.{plain(family)}", f"{plain(given)[0]}{plain(family)}", plain(given)])
            email = f"{local}@{account.domain}"
            if self.chance(0.08):
                email = f"{self.random.choice(['office', 'info', 'music'])}@{account.domain}"
        else:
            email = f"{plain(given)}{self.random.choice(['.', '', '_'])}{plain(family)}{self.random.randrange(10, 9999)}@{self.random.choice(FREE)}"
        street, city, state, postal = (
            (account.street, account.city, account.state, account.postal) if account and self.chance(0.8) else self.place()
        )
        phone = account.phone if account and self.chance(0.4) else self.phone()
        return Person(
            given,
            family,
            "",
            email,
            phone,
            self.phone() if self.chance(0.3) else "",
            self.random.choice(ROLES),
            account,
            street,
            city,
            state,
            postal,
        )

    def written(self, number: str) -> str:
        """A phone number in one of the ways people write it."""
        a, b, c = number[:3], number[3:6], number[6:]
        return (
            self.random.choice([f"({a}) {b}-{c}", f"{a}-{b}-{c}", f"{a}.{b}.{c}", f"+1 {a} {b} {c}", number, f"1-{a}-{b}-{c}"])
            if number
            else ""
        )

    def typo(self, word: str) -> str:
        """A word with one slip of the finger, not in its first letter."""
        if len(word) < 4:
            return word
        i = self.random.randrange(1, len(word) - 1)
        kind = self.random.randrange(4)
        if kind == 0:
            return word[:i] + word[i + 1 :]
        if kind == 1:
            return word[:i] + word[i + 1] + word[i] + word[i + 2 :]
        if kind == 2:
            return word[:i] + word[i] + word[i:]
        return word[:i] + self.random.choice("aeiourstln") + word[i + 1 :]

    def account_as(self, name: str) -> str:
        """An account's name as another list writes it."""
        if self.slip(0.25):
            for form in (" Inc.", " LLC", " Co."):
                name = name.replace(form, "")
        if self.slip(0.2):
            for long, short in (
                ("School", "Sch."),
                ("Community", "Comm."),
                ("Services", "Svcs"),
                ("Brass & Woodwind", "Brass and Woodwind"),
                ("Academy", "Acad."),
            ):
                name = name.replace(long, short)
        if self.slip(0.08):
            name = self.typo(name)
        return name.upper() if self.slip(0.06) else name

    def varied(self, p: Person) -> tuple[Person, list[str]]:
        """The person as a later list knows them: some things spelled otherwise, some changed, with tags for what was done."""
        q = Person(**{**p.__dict__, "tags": []})
        tags = []
        if p.given in SHORT and self.slip(0.35):
            q.given = SHORT[p.given]
            tags.append("nickname")
        elif self.slip(0.06):
            q.given = f"{p.given[0]}."
            tags.append("initial")
        elif self.slip(0.06):
            q.given = self.typo(p.given)
            tags.append("typo_given")
        if self.slip(0.07):
            q.family = self.typo(p.family)
            tags.append("typo_family")
        elif ("-" in p.family or " " in p.family) and self.slip(0.4):
            q.family = p.family.replace("-", " ").split()[0]
            tags.append("one_family_name")
        if self.slip(0.3) and plain(q.family) != q.family.lower():
            q.family = "".join(
                c
                for c in unicodedata.normalize("NFKD", q.family.replace("ł", "l").replace("ø", "o"))
                if not unicodedata.combining(c)
            )
            tags.append("marks_lost")
        if self.slip(0.12):
            q.email = f"{plain(p.given)}{plain(p.family)}{self.random.randrange(10, 999)}@{self.random.choice(FREE)}"
            tags.append("other_mailbox")
        elif self.slip(0.15):
            q.email = ""
        elif self.slip(0.05):
            local, _, domain = p.email.partition("@")
            q.email = f"{local}@{domain.replace('.example', '.exmaple')}"
            tags.append("mail_typo")
        if self.slip(0.2):
            q.phone = ""
        elif self.slip(0.15) and p.mobile:
            q.phone = p.mobile
        if not q.email and not q.phone:
            q.phone = p.phone
        if p.account and p.mobile and self.slip(0.08):
            # A new job: another employer, mailbox, desk and town; the mobile stays.
            new = self.random.choice(self.accounts)
            q.account, q.email, q.phone = new, f"{plain(p.given)}.{plain(p.family)}@{new.domain}", p.mobile
            q.street, q.city, q.state, q.postal = new.street, new.city, new.state, new.postal
            tags.append("new_job")
        if p.account and self.slip(0.04):
            q.street = ""
        return q, tags


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
