"""Columns that no field takes and both lists have, as evidence: a place of birth, a district, a class, a party.

Nobody has said what such a column means. The lists show it: how many pairs that are one by all else agree in it, how common each
value is, and how much of it is said already by what is compared, for a district follows from the town and a salutation from the given
name. It never speaks against: two lists word the same in two ways.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from brujula.core.arrays import Graded, Pairs
from brujula.core.batch import Codes, Keys
from brujula.core.kind import Comparison, Level
from brujula.core.steps.numbers import firsts, number
from brujula.core.steps.text import join_keys
from brujula.core.weigh import Model

FIELD = "besides"
_SHOWN = 20  # pairs that are one, from which the lists show how often such agree
_AGREE, _MOSTLY = 0.5, 0.8  # of them, at least; of those that are so by a name and a place
_TELLS = 1.5  # bits of a usual value, at least, beside what is compared anyway
_SOME = 3  # people or firms who share something, at least, to show what it has to do with the column
_WIDELY = 0.1  # of those who have it, as many at least do: what hardly anybody shares shows the duplicates that are left
_ENOUGH = 100_000  # records that are looked at for that
_SALT = np.uint64(0x9E3779B97F4A7C15)


@dataclass(frozen=True)
class Attribute:
    """One such column.

    heading : as the lists have it
    codes   : int32[n_records], the value of each, -1 = blank
    common  : float32[n_values], share of the records that bear it, as among those who share what is compared anyway
    m, u    : share of pairs that are one that agree; and of any two, of those who share what is compared anyway if that is more
    """

    heading: str
    codes: Codes
    common: NDArray[np.float32]
    m: float
    u: float


def found(
    columns: Mapping[str, Codes],
    n_existing: int,
    same: Pairs,
    little: NDArray[np.bool_],
    sharing: Callable[[], tuple[Keys, Mapping[str, Keys]]],
) -> tuple[Attribute, ...]:
    """The columns that are evidence, for any pairs of the kind of `same`.

    columns : int32[n_records] by heading, -1 = blank, the existing records first
    same    : pairs that are one;  little : bool, those that are so by a name and a place: they count where the others are too few
    sharing : gives who each record is as far as that is known, and what several may share, uint64[n_records] each, 0 = none; it is
              asked only where some column agrees
    """
    out = []
    for heading, codes in columns.items():
        a, b = codes[same.left], codes[same.right]
        both, least = (a >= 0) & (b >= 0), _MOSTLY
        if np.count_nonzero(both & ~little) >= _SHOWN:
            both, least = both & ~little, _AGREE
        m = (np.count_nonzero(both & (a == b)) + 1.0) / (np.count_nonzero(both) + 2.0)
        if np.count_nonzero(both) < _SHOWN or m < least:
            continue
        sides = [side[side >= 0] for side in (codes[:n_existing], codes[n_existing:])]
        shares = [np.bincount(side, minlength=codes.max() + 1) / len(side) for side in sides if len(side)]
        u = max(float(np.sum(share**2)) for share in shares)
        if m < u * 2.0**_TELLS:
            continue
        who, shared = sharing()
        likely = max([u, *(_chance(codes, keys, who) for keys in shared.values())])
        if m >= likely * 2.0**_TELLS:
            common = np.minimum(np.max(shares, axis=0) * likely / u, 1.0).astype(np.float32)
            out.append(Attribute(heading, codes, common, m, likely))
    return tuple(out)


def _chance(codes: Codes, keys: Keys, who: Keys) -> float:
    """How many of two who share something agree, at least, for all that chance may do; each such group counts by its size."""
    keys = np.where((codes >= 0) & (who != 0), keys, np.uint64(0))
    every = np.uint64(max(int(np.count_nonzero(keys)) // _ENOUGH, 1))
    keys = np.where((keys * _SALT >> np.uint64(32)) % every == 0, keys, np.uint64(0))
    at = np.flatnonzero(keys)
    valued = join_keys(keys[at], codes[at].astype(np.uint64) + np.uint64(1))
    group, n_groups = number(keys[at])
    value, n_values = number(valued)
    once, n_once = number(join_keys(valued, who[at]))
    first = firsts(once, n_once)
    size = np.bincount(group[first], minlength=n_groups).astype(np.float64)
    alike = np.bincount(value[first], minlength=n_values).astype(np.float64)
    agree = np.bincount(group[firsts(value, n_values)], alike * (alike - 1.0), minlength=n_groups)
    some = size >= _SOME
    pairs = size[some] * (size[some] - 1.0)
    if size[some].sum() < _WIDELY * max(size.sum(), 1.0):
        return 0.0
    sure = np.maximum(agree[some].sum() - 2.0 * np.sqrt(2.0 * agree[some].sum()), 0.0) / max(agree[some].sum(), 1.0)
    return float(np.average(agree[some] / pairs, weights=size[some]) * sure)


def comparison(attributes: Sequence[Attribute]) -> Comparison:
    """What is compared: a level for each column."""
    return Comparison(FIELD, tuple(Level(a.heading, "same", a.m, a.u, rare=True, unit=True) for a in attributes))


def widened(graded: Graded, attributes: Sequence[Attribute], counts: NDArray[np.bool_]) -> Graded:
    """The pairs with the column in which they agree on the rarest value. counts : bool[n_pairs], those of which it is asked"""
    levels, common = np.full(len(graded.pairs), -1, np.int8), np.ones(len(graded.pairs), np.float32)
    left, right = graded.pairs.left, graded.pairs.right
    for level, one in enumerate(attributes):
        a, share = one.codes[left], np.append(one.common, np.float32(1.0))[one.codes[left]]
        rarer = counts & (a >= 0) & (a == one.codes[right]) & (share < common)
        levels[rarer], common[rarer] = level, share[rarer]
    common = np.where(levels < 0, np.float32(0.0), common)
    return replace(
        graded,
        comparisons=(*graded.comparisons, comparison(attributes)),
        levels=np.concatenate([graded.levels, levels[:, None]], axis=1),
        common=np.concatenate([graded.common, common[:, None]], axis=1),
    )


def learnt(model: Model, attributes: Sequence[Attribute]) -> Model:
    """The model with weights for them."""
    one = comparison(attributes)
    m, u, alone = (np.array([getattr(x, name) for x in one.levels]) for name in ("m", "u", "alone"))
    return replace(
        model,
        comparisons=(*model.comparisons, one),
        m=(*model.m, m),
        u=(*model.u, u),
        typical=(*model.typical, u),
        alone=(*model.alone, alone),
    )
