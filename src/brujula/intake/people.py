"""Several people in one row: `Contact 1 name ... Contact 3 mail` become several rows that remember where they came from."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import pyarrow as pa
from numpy.typing import NDArray

from brujula.intake.raw import is_filled

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
