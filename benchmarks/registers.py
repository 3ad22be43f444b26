"""`python -m benchmarks.registers people|guides SEED OUT`: lists as offices and guides keep them, planned and scored.

people : a register of a district in two years, two years apart: households with fathers and sons of one name, an age, half of the phones with
         the area in a column of its own; every sixth has moved, some have married, cells have slips
guides : the shops and workshops of three cities in two guides, which call a place by its city or by its quarter, and leave out what the shop
         does or have it in front

OUT gets `existing.csv`, `incoming.csv`, `truth.csv` (list, key, entity) and the plan folder.
"""

from __future__ import annotations

import sys
from collections.abc import Iterator
from pathlib import Path

import pandas as pd

import brujula
from benchmarks.relatives import Maker, One, scored

YEARS = 2  # between the two registers
TRADES = "Violins Brass Horns Reeds Pianos Strings Drums Repairs Workshop Music House Studio".split()
TYPES = {"St": "Street", "Ave": "Avenue", "Rd": "Road", "Blvd": "Boulevard", "Ln": "Lane"}
CROSSINGS = ("at 54th St.", "off Main Street", "between 5th and 6th Aves.")
Row = dict[str, str]


class Registers(Maker):
    """Draws of one seed."""

    def __init__(self, seed: int) -> None:
        super().__init__("en_US", seed)
        self.towns = [(self.faker.city(), f"{27000 + n}") for n in range(25)]
        self.streets = [self.faker.last_name() for _ in range(500)]
        self.cities = [[self.faker.city() for _ in range(self.draw.choice([2, 5, 8]))] for _ in range(3)]

    def slipped(self, text: str, share: float) -> str:
        """With a letter left out, doubled or exchanged, that often."""
        if len(text) < 4 or not self.chance(share):
            return text
        at = self.draw.randrange(1, len(text) - 1)
        return self.draw.choice(
            [
                text[:at] + text[at + 1 :],
                text[:at] + text[at:][:1] + text[at:],
                text[:at] + text[at + 1] + text[at] + text[at + 2 :],
            ]
        )

    def home(self) -> Row:
        """An address and its line."""
        town, code = self.draw.choice(self.towns)
        kind = self.draw.choice(list(TYPES))
        area, line = self.line() if self.chance(0.5) else ("", "")
        return {
            "number": f"{self.draw.randrange(1, 9999)}",
            "street": f"{self.draw.choice(self.streets)} {kind}",
            "city": town,
            "zip": code,
            "area_cd": area,
            "phone": line,
        }

    def line(self) -> tuple[str, str]:
        """An area, and a line there of those kept for fiction."""
        return f"{self.draw.randrange(201, 990)}", f"555-{self.draw.randrange(100, 200):04}"

    def people(self) -> Iterator[tuple[str, list[Row]]]:
        """Who they are, and how the two registers have them."""
        for _ in range(5000):
            home, family, eldest = self.home(), self.faker.last_name(), self.draw.randrange(25, 75)
            for place in range(self.draw.choice([1, 1, 2, 2, 3, 4])):
                age = eldest + self.draw.randrange(-4, 5) if place < 2 else eldest - self.draw.randrange(20, 36)
                given, middle, junior = self.faker.first_name(), self.faker.first_name() if self.chance(0.85) else "", ""
                if place == 0:
                    father = given, middle
                elif place > 1 and self.chance(0.12):
                    (given, middle), junior = father, "Jr"
                if age >= 18:
                    one = {"last": family, "first": given, "middle": middle, "suffix": junior, "age": str(age), **home}
                    yield self.entity(), [one, self.later(one)]

    def later(self, one: Row) -> Row:
        """The same person two years on."""
        out = {**one, "age": str(int(one["age"]) + YEARS)}
        if self.chance(0.17):
            out |= self.home()
        if int(one["age"]) < 45 and self.chance(0.03):
            out["last"] = self.faker.last_name()
        out |= {
            "last": self.slipped(out["last"], 0.04),
            "first": self.slipped(one["first"], 0.04),
            "street": self.slipped(out["street"], 0.03),
        }
        out["middle"] = self.draw.choice([one["middle"]] * 7 + [one["middle"][:1], ""])
        return out | {"suffix": "" if self.chance(0.2) else one["suffix"]}

    def guides(self) -> Iterator[tuple[str, list[Row]]]:
        """Which shops they are, and how the two guides have them."""
        for _ in range(2500):
            quarters = self.draw.choice(self.cities)
            called = " ".join([self.draw.choice(self.streets) for _ in range(self.draw.choice([1, 2]))])
            one = {
                "name": f"{called} {self.draw.choice(TRADES)}",
                "number": f"{self.draw.randrange(1, 9999)}",
                "street": f"{self.draw.choice(self.streets)} {self.draw.choice(list(TYPES))}",
                "city": self.draw.choice(quarters),
                "phone": "-".join(self.line()),
            }
            yield self.entity(), [self.listed(one, quarters[0]) for _ in range(2)]

    def listed(self, one: Row, city: str) -> Row:
        """A shop as one guide has it."""
        words, street = self.slipped(one["name"], 0.05).split(), one["street"].split()
        words = self.draw.choice([words] * 8 + [words[:-1], words[-1:] + words[:-1], ["The", *words]])
        number = one["number"] if self.chance(0.96) else f"{self.draw.randrange(1, 9999)}"
        kind = street[-1] if self.chance(0.5) else TYPES[street[-1]]
        crossing = self.draw.choice(CROSSINGS) if self.chance(0.06) else ""
        return {
            "name": " ".join(words),
            "street": f"{number} {' '.join(street[:-1])} {kind} {crossing}".strip(),
            "city": city if self.chance(0.4) else one["city"],
            "phone": one["phone"] if self.chance(0.9) else "-".join(self.line()),
        }


def main(kind: str, seed: int, out: Path) -> None:
    """Make, plan, score."""
    maker = Registers(seed)
    everybody = list(getattr(maker, kind)())
    known = {entity for entity, _ in everybody if maker.chance(0.75)}
    sides = [
        [(entity, each[0]) for entity, each in everybody if entity in known],
        [(entity, each[1]) for entity, each in everybody if maker.chance(0.35)],
    ]
    out.mkdir(parents=True, exist_ok=True)
    truth = []
    for name, side in zip(("existing", "incoming"), sides, strict=True):
        maker.draw.shuffle(side)
        frame = pd.DataFrame([row for _, row in side])
        keys = [f"K{n}" for n in range(len(side))] if name == "existing" else [*range(1, len(side) + 1)]
        if name == "existing":
            frame.insert(0, "id", keys)
        frame.to_csv(out / f"{name}.csv", index=False)
        truth += [(name, key, entity) for key, (entity, _) in zip(keys, side, strict=True)]
    pd.DataFrame(truth, columns=["list", "key", "entity"]).to_csv(out / "truth.csv", index=False)
    plan = brujula.plan(out / "incoming.csv", against=out / "existing.csv", entity="contact" if kind == "people" else "account")
    plan.write(out / "plan")
    old, rows = ([One(entity, "", "", "", "", "", "", "", "") for entity, _ in side] for side in sides)
    print(kind, seed, scored(plan, old, rows))


if __name__ == "__main__":
    main(sys.argv[1], int(sys.argv[2]), Path(sys.argv[3]))
