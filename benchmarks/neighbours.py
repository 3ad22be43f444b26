"""`python -m benchmarks.neighbours chains|groups|siblings SEED OUT`: lists whose records differ by one thing from their neighbours, planned and scored.

chains   : shops of one name, website and at times number, in many towns, and up to three in one; some bear a number of their own
groups   : firms, and firms called the same but for a word at the same address
siblings : children with a birth date who give a parent's mailbox and number; every fifth is called like a brother or a sister

They are written, damaged and scored as those of `benchmarks.relatives`.
"""

from __future__ import annotations

import sys
from dataclasses import replace
from pathlib import Path

from benchmarks.relatives import FORMS, TRADES, Maker, One, lists, plain, report

KINDS = {"chains": ("firms", 260, 600), "groups": ("firms", 800, 600), "siblings": ("siblings", 1500, 800)}
WORDS = "Properties Services Holding Consulting Digital Energy Finance Leasing Systems Medical".split()
ALIKE = "Emma/Ella Jayden/Jaden Mia/Maya Anna/Hannah Sofia/Sophie Kayla/Kylie Julia/Juliana Ryan/Rylan Marta/Maria Leo/Leon"


class Neighbours(Maker):
    """Draws of one seed."""

    def chains(self) -> list[One]:
        """A firm of one place, or one of up to ten towns."""
        name, own = f"{self.faker.last_name()} {self.draw.choice(TRADES['en'].split())}", self.phone()
        site, numbered, one_line = f"{plain(name)}.example", self.chance(0.4), self.chance(0.3)
        shops = []
        for _ in range(1 if self.chance(0.8) else self.draw.randrange(3, 11)):
            town = self.place()
            for _ in range(self.draw.choice([1, 1, 1, 2, 3])):
                at = {**town, "street": self.place()["street"]}
                called = f"{name} #{self.draw.randrange(100, 9999)}" if numbered else name
                shops.append(One(self.entity(), called, "", "", site, own if one_line else self.phone(), **at))
        return shops if len(shops) > 3 else shops[:1]

    def groups(self) -> list[One]:
        """A firm, and in three of ten others of its house."""
        stem, form = (
            f"{self.faker.last_name()} {self.draw.choice(['', *TRADES['en'].split()])}".strip(),
            self.draw.choice(FORMS["en"]),
        )
        base = One(self.entity(), f"{stem} {form}", "", "", f"{plain(stem)}.example", self.phone(), **self.place())
        house = self.draw.sample(WORDS, self.draw.choice([1, 1, 2])) if self.chance(0.3) else []
        named = [(f"{stem} {word} {self.draw.choice(FORMS['en'])}", self.chance(0.6)) for word in house]
        return [base, *(replace(base, entity=self.entity(), name=n, phone=base.phone if s else self.phone()) for n, s in named)]

    def siblings(self) -> list[One]:
        """One to four children of one address."""
        family, parent, line, place = self.faker.last_name(), self.faker.first_name(), self.phone(), self.place()
        mail, given = self.mailbox(f"{plain(parent)}.{plain(family)}", "post.example"), [self.faker.first_name()]
        for _ in range(self.draw.choice([0, 0, 1, 1, 2, 3])):
            given.append(self.faker.first_name())
        if len(given) > 1 and self.chance(0.2):
            given[:2] = self.draw.choice(ALIKE.split()).split("/")
        born = [self.faker.date_of_birth(minimum_age=8, maximum_age=18).isoformat() for _ in given]
        return [
            One(self.entity(), own, family, mail, day, line, **place) for own, day in dict(zip(given, born, strict=True)).items()
        ]

    def varied(self, one: One) -> One:
        """As somebody else writes it; a birth date is left out by one in ten, and one in thirty gives another day."""
        if not one.family:
            return super().varied(one)
        other = one.web[:-2] + f"{self.draw.randrange(1, 29):02}" if self.chance(0.03) else one.web
        return replace(super().varied(replace(one, web="")), web="" if self.chance(0.1) else other)


def main(kind: str, seed: int, out: Path) -> None:
    """Make, plan, score."""
    maker, (heads, n_groups, n_known) = Neighbours("en_US", seed), KINDS[kind]
    report(f"{kind} {seed}", heads, *lists(maker, getattr(maker, kind), n_groups, n_known), out)


if __name__ == "__main__":
    main(sys.argv[1], int(sys.argv[2]), Path(sys.argv[3]))
