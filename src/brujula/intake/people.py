"""Several people in one row: `Contact 1 name ... Contact 3 mail`, or `Husband ... Her mail`, become several rows that remember where they came from."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import pyarrow as pa
from numpy.typing import NDArray

from brujula.intake.headings import folded, says_other, which_address
from brujula.intake.meanings import meanings, of_a_name
from brujula.intake.raw import is_filled
from brujula.intake.whose import names_its_own

_NUMBERED = re.compile(r"^(?P<before>.*?[^\d]|)#?(?P<number>[1-9])(?P<after>[^\d].*|)$")


@dataclass(frozen=True)
class Places:
    """Where the people of a row stand.

    shared : columns that bear on all of them
    slots  : per person, heading without its number to column
    """

    shared: tuple[str, ...]
    slots: tuple[dict[str, str], ...]


def without_number(heading: str) -> tuple[str, int] | None:
    """A heading without the one digit in it, and the digit; None where there is none."""
    found = _NUMBERED.match(heading.strip())
    if not found:
        return None
    plain = re.sub(r"[\s_.\-#]+", " ", f"{found['before']} {found['after']}").strip()
    return (plain, int(found["number"])) if plain else None


def places_of(names: Sequence[str], naming: Sequence[str]) -> Places | None:
    """The places of several people, if headings say so: numbered alike, and a name among them with something beside it.

    naming : the headings, without their numbers, that name a person
    """
    slots: dict[int, dict[str, str]] = {}
    for name in names:
        found = without_number(name)
        if found:
            slots.setdefault(found[1], {}).setdefault(found[0], name)
    numbers = [n for n in sorted(slots) if any(h in naming for h in slots[n])]
    if len(numbers) < 2 or max(len(slots[n]) for n in numbers) < 2:
        return None
    heads = set(slots[numbers[0]])
    numbers = [n for n in numbers if heads & set(slots[n])]
    if len(numbers) < 2:
        return None
    mine = {column for n in numbers for column in slots[n].values()}
    return Places(tuple(n for n in names if n not in mine), tuple(slots[n] for n in numbers))


_COUPLE = (frozenset("his husband husbands head".split()), frozenset("her wife wifes spouse spouses".split()))
_BESIDE = frozenset("s of the household house family".split())
"""What may stand beside: Head of Household, Wife's mail."""


def couple_of(names: Sequence[str]) -> Places | None:
    """The places of a couple, where each has a name under a heading of their own (Husband, Wife; His first name, Her first name) and something beside it."""
    slots: tuple[dict[str, str], dict[str, str]] = ({}, {})
    whole = not any("family_name" in meanings(n, "contact") and not _whose(n) for n in names)
    for name in names:
        if len(which := _whose(name)) == 1:
            rest = " ".join(w for w in folded(name).split() if w not in _COUPLE[which[0]] | _BESIDE)
            slots[which[0]].setdefault(rest or ("Full name" if whole else "First name"), name)
    if any(len(slot) < 2 or not any(of_a_name(h) for h in slot) for slot in slots):
        return None
    mine = {column for slot in slots for column in slot.values()}
    return Places(tuple(n for n in names if n not in mine), slots)


def _whose(heading: str) -> list[int]:
    """Whether a heading is of the one (0) or the other (1) of a couple."""
    return [i for i, words in enumerate(_COUPLE) if not words.isdisjoint(folded(heading).split())]


def of_people(names: Sequence[str]) -> Places | None:
    """The places of several people in a row, if its headings say so. Beside a given name of the row's own the others are guests of its person's, and parents beside a child's name are none of the list's."""
    # Member? is a yes or a no.
    named = [n for n in names if not n.endswith("?") and without_number(n) is None and of_a_name(n) and names_its_own(n)]
    own = {_surest(n) for n in named if not which_address(n)}  # a Mailing Name is of all in the house
    if "given_name" in own:
        return None
    naming = [h for n in names for h in _named(n) if not ("full_name" in own and _is_a_relatives(n))]
    return places_of(names, naming) or (None if "full_name" in own else couple_of(names))


def _surest(heading: str) -> str:
    """The field a heading is surest to mean."""
    headed = meanings(heading, "contact")
    return max(headed, key=lambda f: headed[f])


def _is_a_relatives(heading: str) -> bool:
    return says_other("relatives", set(folded(heading).split()))


def _named(heading: str) -> list[str]:
    """The heading without the number in it, when that names a person of the list's; nothing otherwise."""
    found = without_number(heading)
    if found and says_other("anothers", set(folded(heading).split())):
        return []  # Reference 1 Name
    return [found[0]] if found and of_a_name(found[0]) else []


def spread_people(table: pa.Table, places: Places) -> tuple[pa.Table, pa.Table, NDArray[np.int64], NDArray[np.int64]]:
    """A row for each person: the row as it stands, its cells under plain headings, the row it comes from, which person (from 1).

    A place of which every cell is blank gives no row, but each row gives one at least.
    """
    n = table.num_rows
    filled = np.zeros((len(places.slots), n), bool)
    for k, slot in enumerate(places.slots):
        for column in slot.values():
            filled[k] |= is_filled(table.column(column))
    filled[0] |= ~filled.any(axis=0)
    row, person = np.nonzero(filled.T)
    whole = table.take(pa.array(row))
    heads = dict.fromkeys(h for slot in places.slots for h in slot)
    columns = {name: whole.column(name) for name in places.shared}
    for head in heads:
        name = head if head not in columns else f"{head} (of the person)"
        parts = [
            table.column(slot[head]) if head in slot else pa.chunked_array([[""] * n], pa.large_string()) for slot in places.slots
        ]
        stacked = pa.chunked_array([chunk for part in parts for chunk in part.chunks], pa.large_string())
        columns[name] = stacked.take(pa.array(person * n + row))
    return whole, pa.table(columns), row, person + 1
