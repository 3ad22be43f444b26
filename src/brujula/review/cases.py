"""Open cases of a plan folder, in the order that matters; answers taken from a person or a file."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from brujula.errors import InputError
from brujula.intake.read import read_list
from brujula.loading.opened import read_summary, read_table
from brujula.review.decisions import NAMES, Decision, contradictions, decided_now, kept, latest, read_decisions
from brujula.review.linked import parts

ANSWERS = {"same": "same", "s": "same", "different": "different", "d": "different"}
_NAME = ("prefix", "given_name", "middle_name", "family_name", "suffix")
_KEYS = ("left", "right", "seen (left)", "seen (right)")


@dataclass(frozen=True)
class Pair:
    """One open pair: the line of review.csv."""

    line: int
    cells: Mapping[str, str]

    @property
    def sides(self) -> tuple[str, str]:
        """How a decision names the two: a record's id, or the key of what a row said."""
        left, right = self.cells["left"], self.cells["right"]
        return (f"row:{self.cells['seen (left)']}" if left.startswith("row ") else left), right

    @property
    def probability(self) -> float:
        """As the plan reckoned it."""
        return float(self.cells["probability"])

    def decided(self, verdict: str, remark: str = "") -> Decision:
        """What is kept of an answer."""
        return decided_now(*self.sides, verdict, (self.cells["seen (left)"], self.cells["seen (right)"]), remark)

    def fields(self) -> list[tuple[str, str, str]]:
        """Field, and what either side says of it; fields both leave blank are left out."""
        names = [c[: -len(" (left)")] for c in self.cells if c.endswith(" (left)") and c != "seen (left)"]
        whole = "full_name" in names
        lines = [("name", self._name("left"), self._name("right"))] if whole else []
        lines += [
            (n, self.cells[f"{n} (left)"], self.cells[f"{n} (right)"])
            for n in names
            if not (whole and n in (*_NAME, "full_name"))
        ]
        return [line for line in lines if line[1] or line[2]]

    def _name(self, side: str) -> str:
        """A person's name in one piece, however the list has it."""
        parts = (self.cells.get(f"{n} ({side})", "") for n in _NAME)
        return self.cells.get(f"full_name ({side})", "") or " ".join(p for p in parts if p)


@dataclass(frozen=True)
class Case:
    """Open pairs that hang together."""

    pairs: tuple[Pair, ...]

    @property
    def members(self) -> int:
        """Rows and records it bears on."""
        return len({side for p in self.pairs for side in (p.cells["left"], p.cells["right"])})


def open_pairs(folder: Path, name: str = "review") -> list[Pair]:
    """The open pairs of a plan folder; or with the name `sample`, those drawn for a check. Raises PlanError when it is none."""
    return [Pair(i + 2, line) for i, line in enumerate(read_table(folder, name).to_pylist())]


def cases(pairs: Sequence[Pair]) -> list[Case]:
    """Pairs that share a row or a record together; those that bear on most first, then the least certain."""
    part = parts((p.cells["left"], p.cells["right"]) for p in pairs)
    together: dict[str, list[Pair]] = {}
    for p in pairs:
        together.setdefault(part[p.cells["left"]], []).append(p)
    found = [Case(tuple(sorted(group, key=lambda p: -p.probability))) for group in together.values()]
    return sorted(found, key=lambda c: (-c.members, min(abs(p.probability - 0.5) for p in c.pairs), c.pairs[0].line))


def unanswered(pairs: Iterable[Pair], decisions: Iterable[Decision]) -> list[Pair]:
    """Pairs no standing decision settles."""
    settled = {(d.left, d.right) for d in latest(decisions)}
    return [p for p in pairs if tuple(sorted(p.sides)) not in settled]


def existing_of(folder: Path) -> str:
    """Where the plan's existing records live. Raises InputError for a frame, beside which nothing can be kept."""
    name: str = read_summary(folder)["existing"]["name"]
    if name == "frame":
        raise InputError(
            f"{folder}: planned against a frame in memory, beside which no decision can be kept; plan against a file or a store"
        )
    return name


def _imported(source: Path, place: str) -> list[Decision]:
    """Decisions that were exported elsewhere. Raises InputError where they contradict those kept here."""
    there = {(d.left, d.right, d.verdict) for d in latest(kept(place))}
    found = [d for d in read_decisions(source) if (d.left, d.right, d.verdict) not in there]
    if wrong := contradictions([*kept(place), *found]):
        raise InputError("\n".join(f"{source}: {c}" for c in wrong))
    return found


def taken_from(folder: Path, source: Path) -> list[Decision]:
    """Answers filled in in review.xlsx or review.csv. Raises InputError naming each cell that is wrong, all at once."""
    raw = read_list(source)
    if set(raw.table.column_names) == set(NAMES):
        return _imported(source, existing_of(folder))
    drawn = "stands for" in raw.table.column_names
    asked = {tuple(p.cells[k] for k in _KEYS): p for p in open_pairs(folder, "sample" if drawn else "review")}
    lacking = [c for c in (*_KEYS, "decision") if c not in raw.table.column_names]
    if lacking:
        raise InputError(
            f'{source}: no column "{lacking[0]}"; accepted: review.xlsx or review.csv of {folder}, with decisions filled in'
        )
    wrong: list[str] = []
    found: list[Decision] = []
    said: dict[tuple[Any, ...], tuple[str, str]] = {}
    for number, line in enumerate(raw.table.to_pylist(), 1):
        answer = line["decision"].strip().lower()
        if not answer:
            continue
        place, key = raw.place_of(number), tuple(line[k].strip() for k in _KEYS)
        if answer not in ANSWERS:
            wrong.append(f'{source}, {place}, column "decision": "{line["decision"]}"; accepted: same, different, or blank')
        elif key not in asked:
            wrong.append(
                f'{source}, {place}: "{line["left"]}" and "{line["right"]}" are no open pair of {folder}; were their cells changed?'
            )
        elif said.setdefault(key, (ANSWERS[answer], place))[0] != ANSWERS[answer]:
            wrong.append(f"{source}, {place}: {said[key][1]} says {said[key][0]} of the same pair")
        else:
            found.append(asked[key].decided(ANSWERS[answer], line.get("remark", "").strip()))
    wrong += [f"{source}: {c}" for c in contradictions([*kept(existing_of(folder)), *found])]
    if wrong:
        raise InputError("\n".join(wrong))
    return found
