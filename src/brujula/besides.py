"""What lists hold besides the fields: columns that no field takes, and the pairs with little else in common that differ in one.

A name and a town are common to many: schools of one name in two districts, players of one name in two bands. Nobody said what such a
column means; but where it tells records apart as far as the lists show, a person decides, and where pairs agree in it that are one,
and hardly any others, it is evidence (`core.attributes`).
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from dataclasses import replace
from functools import cache
from typing import NamedTuple

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core import arrays, attributes, group
from brujula.core.arrays import Judged
from brujula.core.batch import Batch, Codes, Column, Keys
from brujula.core.rules import Rule
from brujula.core.steps.parallel import spread
from brujula.intake.content import TELLING, content_of
from brujula.intake.headings import folded
from brujula.intake.shape import Shaped, compared_as

_FILLED = 0.5  # share of a list's rows that have a value
_REPEATS = 0.9  # distinct values to filled rows of both lists at most: a number or a remark of each row tells every two apart
_AGREE, _CHANCE = 0.8, 0.5  # share of pairs that are one and agree, at least; of any two, at most
_SHOWN = 20  # pairs from which the lists show it
_COMMON = 0.6  # share of the rows' values that are also the records', at least, where two headings are one column
_MANY = 10  # distinct ones of them, at least
_TWICE = 0.1  # share of the rows, at most, that stand there twice where a row is somebody, and no order of theirs
_KINDS = 0.5  # distinct values to names, at most, where agreeing is evidence: what is written of each by itself may be made of the name
_RECORDS, _ROWS, _ACROSS = range(3)

RULE = Rule(
    "another value besides",
    "unsure",
    (),
    (),
    "they have little more than a name and a place in common, and differ in a column that no field takes",
    0.7,
)


def columns(old: Shaped, new: Shaped) -> dict[str, Column]:
    """Columns that no field takes and in which values repeat, by folded heading: the existing records first, blank for a list without it.

    One that stands under two headings (District, School district) is told by its values.
    """
    sides, sizes = [], [side.raw.table.num_rows for side in (old, new)]
    for side in (old, new):
        names = [n for n in side.left_out if n in side.raw.table.column_names and folded(n)]
        plain = spread(_plain, [side.raw.table.column(n) for n in names])
        sides.append({folded(n): p for n, p in zip(names, plain, strict=True) if p.null_count < len(p)})
    for mine, theirs in _under_two(*sides).items():
        both = f"{mine} / {theirs}"
        sides[0][both], sides[1][both] = sides[0].pop(mine), sides[1].pop(theirs)

    def column(heading: str) -> Column | None:
        found = Column.of(pa.chunked_array([side.get(heading, _nothing(n)) for side, n in zip(sides, sizes, strict=True)]))
        return found if len(found.values) <= _REPEATS * found.filled.sum() else None

    headings = sorted({*sides[0], *sides[1]})
    return {h: c for h, c in zip(headings, spread(column, headings), strict=True) if c is not None}


def _under_two(old: Mapping[str, pa.Array], new: Mapping[str, pa.Array]) -> dict[str, str]:
    """Of headings that one list has alone, those under which both have the same column: most rows' values are also among the records', and they are many."""
    mine, theirs = sorted(old.keys() - new.keys()), sorted(new.keys() - old.keys())
    known = {h: pc.unique(old[h]).drop_null() for h in mine if theirs}
    shared = {}
    for h, heading in ((h, heading) for heading in theirs for h in mine):
        values = new[heading].drop_null()
        found = values.filter(pc.is_in(values, value_set=known[h]))
        if len(found) >= _COMMON * len(values) and len(pc.unique(found)) >= _MANY:
            shared[h, heading] = len(found) / len(values)
    taken: dict[str, str] = {}
    for h, heading in sorted(shared, key=lambda pair: (-shared[pair], pair)):
        if h not in taken and heading not in taken.values():
            taken[h] = heading
    return taken


def _plain(values: pa.ChunkedArray) -> pa.Array:
    """A column in small letters; nothing where most rows have none, or dates, which change with what was done last."""
    column = Column.of(values)
    if column.filled.sum() < _FILLED * len(column) or content_of(column.values.arrow()).get("date", 0.0) >= TELLING["date"]:
        return _nothing(len(column))
    return pc.utf8_lower(column.values.arrow()).take(pa.array(column.codes, mask=column.codes < 0))


def _nothing(n: int) -> pa.Array:
    return pa.nulls(n, pa.large_string())


class Telling(NamedTuple):
    """Where a column tells records apart: among the existing ones, among the rows, and between the two."""

    records: bool
    rows: bool
    across: bool


def apart(judged: Judged, batch: Batch, telling: Mapping[str, Telling]) -> NDArray[np.bool_]:
    """Which pairs taken for one differ in a column that tells records apart (`telling`)."""
    pairs, out = judged.graded.pairs, np.zeros(len(judged.verdict), bool)
    at = np.flatnonzero(judged.verdict == arrays.SAME)
    sides = _sides(judged, batch, at)
    for heading, tells in telling.items():
        x, y = (batch.left_out[heading].codes[side[at]] for side in (pairs.left, pairs.right))
        out[at] |= (x >= 0) & (y >= 0) & (x != y) & np.array(tells).take(sides)
    return out


def telling(judged: Judged, batch: Batch, little: NDArray[np.bool_]) -> dict[str, Telling]:
    """Which columns tell records apart, and where.

    Those in which few of any two agree, and most of the pairs that are one by more than a name and a place; by any, between the lists,
    where those are too few (`little`: which pairs have hardly more). Within a list, records alike but for such a column are what is in question: there it counts unless shown not to;
    of a list in which many stand several times, as in one of orders, it is about what was ordered.
    """
    pairs, out = judged.graded.pairs, {}
    at = np.flatnonzero(judged.verdict == arrays.SAME)
    sides, rich = _sides(judged, batch, at), ~little[at]
    again = len(np.unique(np.concatenate([side[at[sides == _ROWS]] for side in (pairs.left, pairs.right)])))
    for heading, column in batch.left_out.items():
        if _by_chance(column.codes, batch.n_existing) > _CHANCE:
            continue
        x, y = column.codes[pairs.left[at]], column.codes[pairs.right[at]]
        both, agree = (x >= 0) & (y >= 0), x == y
        records, rows, across = (_mostly(agree[(sides == side) & both & rich]) for side in range(3))
        if (both & rich & (sides == _ACROSS)).sum() < _SHOWN:
            across = _mostly(agree[(sides == _ACROSS) & both])
        out[heading] = Telling(records, rows and again <= _TWICE * batch.n_incoming, across)
    return {heading: tells for heading, tells in out.items() if any(tells)}


def evidence(
    judged: Judged, batch: Batch, little: NDArray[np.bool_], named: Keys, shared: Callable[[], Mapping[str, Keys]]
) -> tuple[attributes.Attribute, ...]:
    """Columns that are evidence where two agree in them (`core.attributes.found`), between the lists, or of records alone.

    named, shared : per record, who it is by name, and what it may share with others
    """
    pairs, n = judged.graded.pairs, len(batch)
    one = judged.verdict == arrays.SAME
    links, nobody = (pairs.left[one], pairs.right[one]), np.zeros(0, np.int32)

    @cache
    def sharing() -> tuple[Keys, Mapping[str, Keys]]:
        return named[group.roots(group.unite(links, (nobody, nobody), n, n)[0])], shared()

    if batch.n_incoming:
        one = one & ((pairs.left < batch.n_existing) != (pairs.right < batch.n_existing))
    names = len(np.unique(named))
    few = {h: c.codes for h, c in batch.left_out.items() if len(c.values) <= _KINDS * names}
    return attributes.found(few, batch.n_existing, pairs.take(one), little[one], sharing)


def counting(side: Shaped, headings: Collection[str]) -> Shaped:
    """The list with a note for each of its columns that is evidence. headings : as `columns` has them"""
    known = {part for heading in headings for part in (heading, *heading.split(" / "))}
    return compared_as(side, [c for c in side.left_out if folded(c) in known], "it stands")


def _mostly(agree: NDArray[np.bool_]) -> bool:
    """Whether most of some pairs agree; of a few, whether any does: if none, the two lists may have words of their own for it."""
    return bool(agree.mean() >= _AGREE) if len(agree) >= _SHOWN else bool(len(agree) == 0 or agree.any())


def named(rule: Rule, headings: Collection[str]) -> Rule:
    """Our rule, with the columns that tell records apart."""
    said = " or ".join(f'"{heading}"' for heading in headings)
    return replace(rule, why=f"{rule.why}: {said}") if said and rule == RULE else rule


def _sides(judged: Judged, batch: Batch, at: NDArray[np.int64]) -> NDArray[np.int64]:
    """Of whom some pairs are: two existing records, two rows, or one of each."""
    old = [(side[at] < batch.n_existing).astype(np.int64) for side in (judged.graded.pairs.left, judged.graded.pairs.right)]
    return np.array([_ROWS, _ACROSS, _RECORDS]).take(old[0] + old[1])


def _by_chance(codes: Codes, n_existing: int) -> float:
    """The share of any two values that agree, in the list in which more do."""
    sides = [side[side >= 0] for side in (codes[:n_existing], codes[n_existing:])]
    return max((float(np.sum((np.bincount(side) / len(side)) ** 2)) for side in sides if len(side)), default=1.0)
