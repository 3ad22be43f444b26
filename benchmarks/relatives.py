"""`python -m benchmarks.relatives families|firms LOCALE SEED OUT`: labelled lists full of what is nearly the same, planned and scored.

Beside nearly every known row stands a relative of it: of a person wife, children and a son of one name, at one address, some with one line or
mailbox; of a firm its branches, numbered units, sister firms, foundation, and others of its building. Names, towns and streets are Faker's, of
the country asked for; phones are of the range kept for fiction (555-01xx), domains end in .example. OUT gets `existing.csv`, `incoming.csv`,
`truth.csv` (list, key, entity) and the plan folder.
"""

from __future__ import annotations

import random
import re
import sys
from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path

import pandas as pd
from anyascii import anyascii
from faker import Faker

import brujula

FORMS = {
    "en": ["Inc.", "LLC", "Corp.", "Ltd."], "de": ["GmbH", "AG", "e.K.", "GmbH & Co. KG"], "fr": ["SARL", "SAS", "SA"], "es": ["S.L.", "S.A."],
    "it": ["S.r.l.", "S.p.A."], "nl": ["B.V.", "N.V."], "pt": ["Ltda.", "S.A."], "pl": ["Sp. z o.o.", "S.A."],
}  # fmt: skip
TRADES = {
    "en": "Plumbing Dental Logistics Bakery Roofing Travel Books Consulting Motors Optics Farms Music",
    "de": "Bau Logistik Bäckerei Reisen Optik Druck Elektro Metallbau Apotheke Immobilien",
    "fr": "Transports Boulangerie Plomberie Conseil Optique Immobilier Voyages Menuiserie",
    "es": "Transportes Panadería Fontanería Consultores Óptica Viajes Muebles",
    "it": "Trasporti Panificio Idraulica Consulenza Ottica Viaggi Mobili",
    "nl": "Transport Bakkerij Loodgieters Advies Optiek Reizen Bouw",
    "pt": "Transportes Padaria Encanamentos Consultoria Ótica Viagens Móveis",
    "pl": "Transport Piekarnia Hydraulika Doradztwo Optyka Podróże Meble",
}
FOUNDATIONS = dict(
    zip(FORMS, "Foundation Stiftung Fondation Fundación Fondazione Stichting Fundação Fundacja".split(), strict=True)
)


@dataclass
class One:
    """A person (name, family) or a firm (name, and no family), at a place; entity says who it is."""

    entity: str
    name: str
    family: str
    mail: str
    web: str
    phone: str
    street: str
    city: str
    code: str


class Maker:
    """Draws of one country and seed."""

    def __init__(self, locale: str, seed: int) -> None:
        self.draw, self.faker, self.tongue, self.made = random.Random(seed), Faker(locale), locale[:2], 0
        self.faker.seed_instance(seed)
        self.taken: set[str] = set()

    def chance(self, share: float) -> bool:
        """True that often."""
        return self.draw.random() < share

    def entity(self) -> str:
        """A new one."""
        self.made += 1
        return f"E{self.made}"

    def phone(self) -> str:
        """A number kept for fiction, written in one of three ways."""
        area, last = self.draw.randrange(201, 990), self.draw.randrange(100, 200)
        return self.draw.choice(["{}-555-0{}", "({}) 555-0{}", "+1 {} 555 0{}"]).format(area, last)

    def mailbox(self, local: str, domain: str) -> str:
        """A mailbox that nobody has yet."""
        tries = [local, *(f"{local}{self.draw.randrange(10, 1000)}" for _ in range(20))]
        if self.chance(0.5):
            del tries[0]
        found = next(x for x in tries if f"{x}@{domain}" not in self.taken)
        self.taken.add(f"{found}@{domain}")
        return f"{found}@{domain}"

    def place(self) -> dict[str, str]:
        """A street, town and code."""
        return {
            "street": self.faker.street_address().replace("\n", ", "),
            "city": self.faker.city(),
            "code": self.faker.postcode(),
        }

    def slip(self, text: str) -> str:
        """A letter left out, two exchanged, or another one."""
        if len(text) < 4:
            return text
        at = self.draw.randrange(1, len(text) - 1)
        ends = (text[at + 1 :], text[at + 1] + text[at] + text[at + 2 :], self.draw.choice("aeinrst") + text[at + 1 :])
        return text[:at] + self.draw.choice(ends)

    def family(self) -> list[One]:
        """One to five people of one address, and at times a son of his father's name."""
        name, place, line = self.faker.last_name(), self.place(), self.phone()
        couple = self.mailbox(plain(name), "mail.example")
        given: list[str] = []
        for _ in range(self.draw.choice([1, 2, 2, 3, 4, 5])):
            own = next((g for g in (self.faker.first_name() for _ in range(40)) if not any(g[:2] == x[:2] for x in given)), "Ada")
            given.append(own)
        people = []
        for n, own in enumerate(given):
            family = name if self.chance(0.9) else self.faker.last_name()
            box = self.mailbox(f"{plain(own)}.{plain(family)}", self.draw.choice(["post.example", "box.example"]))
            mail = couple if n < 2 and self.chance(0.3) else box
            people.append(One(self.entity(), own, family, mail, "", line if self.chance(0.55) else self.phone(), **place))
        if len(people) > 1 and self.chance(0.15):
            father = people[0]
            family, box = father.family + self.draw.choice([" Jr.", " jr", " Jr"]), f"{plain(father.name)}.{plain(father.family)}"
            people.append(replace(father, entity=self.entity(), family=family, mail=self.mailbox(box, "post.example")))
        return people

    def firms(self) -> list[One]:
        """A firm, and at times a branch, a unit, a sister firm, a foundation, and another of its building."""
        a, b = self.faker.last_name(), self.faker.last_name()
        stem, trades = self.draw.choice([a, f"{a} {b}", f"{a} & {b}", f"{a}-{b}"]), TRADES[self.tongue].split()
        trade, form = self.draw.choice(trades), self.draw.choice([*FORMS[self.tongue], ""])
        site, line = f"{plain(stem)}{self.draw.choice(['', '-' + plain(trade)])}.example", self.phone()
        base = One(self.entity(), f"{stem} {trade} {form}".strip(), "", "", site, line, **self.place())
        found = [base]

        def beside(share: float, **other: str) -> None:
            if self.chance(share):
                found.append(replace(base, entity=self.entity(), **other))

        beside(0.3, phone=line if self.chance(0.3) else self.phone(), **self.place())
        beside(0.12, name=f"{stem} {trade} {self.draw.choice(['2', '3', 'B', 'No. 4'])} {form}".strip())
        sister = self.draw.choice([t for t in trades if t != trade])
        own_site = site if self.chance(0.5) else f"{plain(stem)}2.example"
        beside(0.2, name=f"{stem} {sister} {form}".strip(), web=own_site, phone=line if self.chance(0.5) else self.phone())
        other = self.faker.last_name()
        beside(
            0.3,
            name=f"{other} {self.draw.choice(trades)}",
            web=f"{plain(other)}{self.draw.randrange(99)}.example",
            phone=self.phone(),
        )
        beside(0.08, name=f"{stem} {trade} {FOUNDATIONS[self.tongue]}", phone=self.phone())
        return found

    def varied(self, one: One) -> One:
        """As somebody else writes it: slips, initials, another form or mailbox, a move, gaps."""
        q = replace(one)
        if not one.family:
            words = [w for w in re.split(r"[ -]+", one.name) if w[:1].isalpha()]
            if self.chance(0.25):
                bare = re.sub(rf" ({'|'.join(map(re.escape, FORMS[self.tongue]))})$", "", one.name)
                q.name = f"{bare} {self.draw.choice([*FORMS[self.tongue], ''])}".strip()
            q.name = self.slip(q.name) if self.chance(0.12) else q.name
            q.name = "".join(w[0] for w in words).upper() if self.chance(0.07) and len(words) > 2 else q.name
        else:
            q.name = one.name[0] + self.draw.choice(["", "."]) if self.chance(0.15) else q.name
            q.name = self.slip(q.name) if self.chance(0.12) else q.name
            q.family = self.slip(q.family) if self.chance(0.1) else q.family
            if self.chance(0.04):
                q.name, q.family = q.family, q.name
        for field, gap, change, new in (
            ("mail", 0.35, 0.1, self.mailbox(plain(one.name) + plain(one.family), "other.example")),
            ("web", 0.4, 0.05, f"{plain(one.name)}-group.example"),
            ("phone", 0.35, 0.08, self.phone()),
        ):
            if getattr(q, field):
                setattr(q, field, "" if self.chance(gap) else new if self.chance(change) else getattr(q, field))
        q = replace(q, **self.place()) if self.chance(0.08) and one.family else q
        return replace(q, street="" if self.chance(0.25) else q.street, code="" if self.chance(0.2) else q.code)


def plain(text: str) -> str:
    """Small letters a to z of a name, whatever letters it has."""
    return re.sub("[^a-z]", "", anyascii(text).lower())


HEADINGS = {
    "families": ("id", "First", "Last", "E-mail", "", "Phone", "Street", "Town", "Postcode"),
    "firms": ("id", "Company", "", "", "Web", "Tel", "Address", "Town", "Postcode"),
    "siblings": ("id", "First", "Last", "E-mail", "Date of birth", "Phone", "Street", "Town", "Postcode"),
}


def table(ones: list[One], kind: str, ids: bool) -> pd.DataFrame:
    """The list as a frame, its headings those of a list of the kind."""
    rows = [(f"K{n}", o.name, o.family, o.mail, o.web, o.phone, o.street, o.city, o.code) for n, o in enumerate(ones)]
    frame = pd.DataFrame(rows, columns=range(9))
    used = [n for n, heading in enumerate(HEADINGS[kind]) if heading and (n or ids)]
    return frame[used].set_axis([HEADINGS[kind][n] for n in used], axis=1)


def make(kind: str, locale: str, seed: int) -> tuple[list[One], list[One]]:
    """Existing and incoming records of families or firms."""
    maker = Maker(locale, seed)
    return lists(maker, maker.family, 1500, 800) if kind == "families" else lists(maker, maker.firms, 750, 600)


def lists(maker: Maker, each: Callable[[], list[One]], n_groups: int, n_known: int) -> tuple[list[One], list[One]]:
    """Existing and incoming records: six in ten are known, three in ten of these varied, one in twelve twice; then known and new rows, varied."""
    everybody = [one for _ in range(n_groups) for one in each()]
    maker.draw.shuffle(everybody)
    known, new = everybody[: int(len(everybody) * 0.6)], everybody[int(len(everybody) * 0.6) :]
    old = [maker.varied(x) if maker.chance(0.3) else x for x in known] + [maker.varied(x) for x in known if maker.chance(0.08)]
    rows = [maker.varied(x) for x in [*maker.draw.sample(known, min(n_known, len(known))), *new[:600]]]
    maker.draw.shuffle(old)
    maker.draw.shuffle(rows)
    return old, rows


def scored(plan: brujula.Plan, old: list[One], rows: list[One]) -> dict[str, float]:
    """Precision and recall of automatic outcomes, recall with candidates named for review, share of rows held."""
    known, who = {o.entity for o in old}, {f"K{n}": o.entity for n, o in enumerate(old)}
    frame = plan.outcomes
    named = [{who[i] for i in ids.split(";") if i} for ids in frame["record_id"].str.replace(" ", "")]
    truth, outcome = [rows[n - 1].entity for n in frame["row"].astype(int)], frame["outcome"].tolist()
    auto = [o in ("update", "unchanged", "merge") and bool(n) for o, n in zip(outcome, named, strict=True)]
    right = sum(a and n == {t} for a, n, t in zip(auto, named, truth, strict=True))
    shown = sum(o == "review" and t in n for o, n, t in zip(outcome, named, truth, strict=True))
    there = sum(t in known for t in truth)
    scores = {
        "precision": right / max(sum(auto), 1),
        "recall": right / there,
        "with review": (right + shown) / there,
        "held": outcome.count("review") / len(outcome),
    }
    return {name: round(score, 4) for name, score in scores.items()}


def main(kind: str, locale: str, seed: int, out: Path) -> None:
    """Make, plan, score."""
    report(f"{kind} {locale} {seed}", kind, *make(kind, locale, seed), out)


def report(title: str, kind: str, old: list[One], rows: list[One], out: Path) -> None:
    """Write the lists and the plan, and print its score."""
    out.mkdir(parents=True, exist_ok=True)
    table(old, kind, True).to_csv(out / "existing.csv", index=False)
    table(rows, kind, False).to_csv(out / "incoming.csv", index=False)
    truth = [("existing", f"K{n}", o.entity) for n, o in enumerate(old)] + [
        ("incoming", n, o.entity) for n, o in enumerate(rows, 1)
    ]
    pd.DataFrame(truth, columns=["list", "key", "entity"]).to_csv(out / "truth.csv", index=False)
    plan = brujula.plan(out / "incoming.csv", against=out / "existing.csv")
    plan.write(out / "plan")
    print(title, scored(plan, old, rows))


if __name__ == "__main__":
    main(sys.argv[1], sys.argv[2], int(sys.argv[3]), Path(sys.argv[4]))
