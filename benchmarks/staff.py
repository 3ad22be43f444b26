"""`python -m benchmarks.staff initials|extensions|dots|numbers|two SEED OUT`: the people of one firm, planned and scored.

Everything but the name and one thing more is everybody's: the firm, its address and its line. There are namesakes by the hundred, and half of
the rows are new people.

initials   : mailboxes of both initials and the family name, a number behind where one is taken; an extension each
extensions : a mailbox of the office, an extension each
dots       : given and family name in the mailbox, one line for all
numbers    : a number for a mailbox, and no phone
two        : two family names of few, their initials in the mailbox, one line for all

OUT gets `existing.csv`, `incoming.csv`, `truth.csv` (list, key, entity) and the plan folder.
"""

from __future__ import annotations

import sys
from pathlib import Path

import pandas as pd

import brujula
from benchmarks.relatives import Maker, One, scored

TITLES = ("Teacher", "Player", "Technician", "Librarian", "Administrator", "Music Director", "Choir Director", "Luthier")
RECORDS, ROWS = 20_000, 5_000
FIELDS = ["given", "family", "mail", "phone", "title", "firm", "town"]


class Staff(Maker):
    """Draws of one seed."""

    def __init__(self, kind: str, seed: int) -> None:
        super().__init__("es_ES" if kind == "two" else "en_US", seed)
        self.kind, self.boxes = kind, dict[str, int]()
        few = kind == "two"
        self.names = [self.faker.first_name() for _ in range(60 if few else 700)]
        self.families = [self.faker.last_name() for _ in range(60 if few else 900)]
        self.numbers = self.draw.sample(range(100_000, 160_000), RECORDS + ROWS)

    def own(self, box: str) -> str:
        """The mailbox, with a number where others have it."""
        box = "".join(c for c in box.lower() if c.isalpha() or c == ".")
        self.boxes[box] = self.boxes.get(box, 0) + 1
        return f"{box}{self.boxes[box] if self.boxes[box] > 1 else ''}@harrow-works.example"

    def person(self, n: int) -> list[str]:
        """Somebody who works there."""
        given, family, middle = (
            self.draw.choice(self.names),
            self.draw.choice(self.families),
            self.draw.choice("abcdefghjklmnprst"),
        )
        second = self.draw.choice(self.families)
        line = "+1 212 555 0100"
        mail = {
            "initials": f"{given[0]}{middle}{family}",
            "dots": f"{given}.{family}",
            "two": f"{given[0]}{family}{second[0]}",
        }.get(self.kind)
        box = self.own(mail) if mail else f"s{self.numbers[n]}@harrow-works.example"
        if self.kind == "extensions":
            box = f"{self.draw.choice(['info', 'office', 'lessons'])}@harrow-works.example"
        if self.kind in ("initials", "extensions"):
            line += f" ext {10_000 + n}"
        if self.kind == "two":
            family += f" {second}"
        return [given, family, box, "" if self.kind == "numbers" else line, self.draw.choice(TITLES), "Harrow Works", "Orme"]

    def again(self, person: list[str]) -> list[str]:
        """The same in another list."""
        given, family, mail, phone, title, firm, town = person
        at = self.draw.randrange(1, len(family))
        return [
            given[0] if self.chance(0.08) else given,
            family[:at] + family[at + 1 :] if self.chance(0.12) else family,
            "" if self.chance(0.15) else mail,
            "" if self.chance(0.15) else phone,
            self.draw.choice(TITLES) if self.chance(0.1) else title,
            firm,
            town,
        ]


def main(kind: str, seed: int, out: Path) -> None:
    """Make, plan, score."""
    maker = Staff(kind, seed)
    people = [maker.person(n) for n in range(RECORDS + ROWS // 2)]
    asked = maker.draw.sample(range(RECORDS), ROWS // 2) + list(range(RECORDS, len(people)))
    maker.draw.shuffle(asked)
    old = pd.DataFrame([[f"K{n}", *p] for n, p in enumerate(people[:RECORDS])], columns=["id", *FIELDS])
    heads = ["First name", "Surname", "E-mail", "Phone", "Position", "Company", "Town"]
    new = pd.DataFrame([maker.again(people[n]) for n in asked], columns=heads)
    out.mkdir(parents=True, exist_ok=True)
    old.to_csv(out / "existing.csv", index=False)
    new.to_csv(out / "incoming.csv", index=False)
    truth = [*(("existing", f"K{n}", n) for n in range(RECORDS)), *(("incoming", k, n) for k, n in enumerate(asked, 1))]
    pd.DataFrame(truth, columns=["list", "key", "entity"]).to_csv(out / "truth.csv", index=False)
    plan = brujula.plan(str(out / "incoming.csv"), against=str(out / "existing.csv"), entity="contact")
    plan.write(out / "plan")
    sides = ([One(str(n), "", "", "", "", "", "", "", "") for n in side] for side in (range(RECORDS), asked))
    print(kind, seed, scored(plan, *sides))


if __name__ == "__main__":
    main(sys.argv[1], int(sys.argv[2]), Path(sys.argv[3]))
