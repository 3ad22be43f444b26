"""What the made-up data of Second Reed is made of: places, organisations, people, and how lists differ about them."""

from __future__ import annotations

import random
import unicodedata
from dataclasses import dataclass, field

from brujula import tables


def _words(name: str) -> list[str]:
    """One list of the table of words."""
    rows = (line.partition(": ") for line in tables.lines("second_reed"))
    return [word.strip() for head, _, rest in rows if head == name for word in rest.split("|")]


GIVEN, FAMILY, STREETS, STEMS, ROLES = (_words(n) for n in ("given", "family", "streets", "stems", "roles"))
SCHOOLS, BANDS, WORKSHOPS, AREA_CODES = (_words(n) for n in ("schools", "bands", "workshops", "area_codes"))
TOWNS = [tuple(town.split(", ")) for town in _words("towns")]
SHORT = dict(pair.split("=") for pair in _words("short"))
FREE = ["postbox.example", "mailhaven.example", "quickmail.example"]


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
