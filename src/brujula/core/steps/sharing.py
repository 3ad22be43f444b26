"""How many different people or firms give one mailbox or number: what many share says little about one."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from brujula.core.batch import Keys
from brujula.core.steps.numbers import firsts, number
from brujula.core.steps.text import join_keys

_KNOWN, _KNOWN_OF = 3, 0.05


def both_known(shared: NDArray[np.int32], other: NDArray[np.int32]) -> NDArray[np.bool_]:
    """Of which pairs of values, that so many have each, neither is a slip of the other: slips are seldom, and either has some of its own."""
    few, many = np.minimum(shared, other), np.maximum(shared, other)
    return np.asarray((few >= _KNOWN) & (few >= _KNOWN_OF * many))


def owners(values: Keys, identity: Keys) -> NDArray[np.int32]:
    """Per record, how many distinct identities carry its value (0 where it has none).

    values, identity : uint64[n]; 0 = none. Records without an identity are not counted.
    """
    out = np.zeros(len(values), np.int32)
    group, n_groups = number(values)
    both, n_both = number(join_keys(values, identity))
    first = firsts(both, n_both)
    has = group >= 0
    out[has] = np.bincount(group[first], minlength=n_groups).astype(np.int32)[group[has]]
    return out


def share_shared(values: Keys, owned: NDArray[np.int32]) -> np.float32:
    """Share of the records with a value that have it with another identity, one more reckoned: where next to none do, a value tells who it is, however few
    have any. owned : `owners`"""
    return np.float32((np.count_nonzero(owned > 1) + 1.0) / (np.count_nonzero(values) + 1.0))


def in_order(values: Keys, content: Keys) -> tuple[Keys, NDArray[np.bool_]]:
    """The rank of each record by a value and then by all its content, and one record of all that carry each value: in any order of the records the same.

    values, content : uint64[n]. Returns uint64[n] from 1, the same for records of one value and content, and bool[n].
    """
    order = np.lexsort((content, values))
    first = np.append(True, values[order[1:]] != values[order[:-1]])[: len(order)]
    ranks, counting = np.empty(len(order), np.uint64), np.zeros(len(order), bool)
    ranks[order] = np.cumsum(first | np.append(True, content[order[1:]] != content[order[:-1]])[: len(order)])
    counting[order[first]] = True
    return ranks, counting


def mostly(values: Keys, others: Keys) -> NDArray[np.float32]:
    """Per record, of those that carry its value, the share that has the commonest other one (0 where none has any).

    values, others : uint64[n]; 0 = none. Records without an other one are not counted.
    """
    both = join_keys(values, others)
    told = _times(np.where(both != 0, values, np.uint64(0)))
    return (most(values, _times(both)) / np.maximum(most(values, told), 1)).astype(np.float32)


def most(values: Keys, numbers: NDArray[np.int32]) -> NDArray[np.int32]:
    """Per record, the largest number of those that carry its value (0 where it has none)."""
    out = np.zeros(len(values), np.int32)
    group, n_groups = number(values)
    has, largest = group >= 0, np.zeros(n_groups, np.int32)
    np.maximum.at(largest, group[has], numbers[has])
    out[has] = largest[group[has]]
    return out


def _times(values: Keys, counting: NDArray[np.bool_] | None = None) -> NDArray[np.int32]:
    """Per record, how many of the records that count carry its value (0 where it has none)."""
    out = np.zeros(len(values), np.int32)
    group, n_groups = number(values)
    has = group >= 0
    out[has] = np.bincount(group[has if counting is None else has & counting], minlength=n_groups)[group[has]]
    return out


def shares(values: Keys, counting: NDArray[np.bool_] | None = None) -> NDArray[np.float32]:
    """Per record, the share of all records that carry its value (0 where it has none). counting : which count, None = all"""
    return (_times(values, counting) / np.float32(max(len(values), 1))).astype(np.float32)


def strangers(values: Keys, identity: Keys, n_existing: int) -> float:
    """How many rows are likely to share a record's value and be another all the same, judging by how many share one within either list.

    values, identity : uint64[n], the existing records first; records of one identity and value count once
    """
    sides = slice(0, n_existing), slice(n_existing, len(values))
    return by_chance(values, np.concatenate([owners(values[side], identity[side]) > 1 for side in sides]), n_existing)


def namesakes(values: Keys, content: Keys, n_existing: int) -> float:
    """How many others of its own list bear a record's value, on average.

    values, content : uint64[n], the existing records first; 0 = none. Records that say the very same count once
    """
    both = join_keys(values, content)
    sides = slice(0, n_existing), slice(n_existing, len(values))
    others = [int((owners(values[side], both[side]) - 1).clip(0).sum()) for side in sides]
    return sum(others) / max(int(np.count_nonzero(values)), 1)


def by_chance(values: Keys, shared: NDArray[np.bool_], n_existing: int) -> float:
    """How many rows share a record's value by chance, if as many do as share one within a list: the list where more do counts.

    One more is reckoned to share one, for nobody may in a list of a few.

    values : uint64[n], the existing records first; 0 = none;  shared : bool[n], who shares a value within the own list
    """
    return likely(values, shared, n_existing, 1)


def likely(values: Keys, shared: NDArray[np.bool_], n_existing: int, more: int = 0) -> float:
    """The same, `more` reckoned to share one besides those seen."""
    sides = slice(0, n_existing), slice(n_existing, len(values))
    share = max((np.count_nonzero(shared[side]) + more) / (np.count_nonzero(values[side]) + 1) for side in sides)
    return float(share * np.count_nonzero(values[n_existing:]))


def again(values: Keys, identity: Keys, n_existing: int) -> float:
    """How often a record stands among the records again, one identity at one value, to how often a row does; 1 where no row does.

    values, identity : uint64[n], the existing records first; 0 = none
    """
    whole = np.where((values != 0) & (identity != 0), join_keys(values, identity), np.uint64(0))
    old, new = whole[:n_existing][whole[:n_existing] != 0], whole[n_existing:][whole[n_existing:] != 0]
    found = np.count_nonzero(np.isin(new, old)) / max(len(new), 1)
    return np.count_nonzero(_times(old) > 1) / max(len(old), 1) / found if found else 1.0


def two_by_chance(shared: NDArray[np.bool_], n_existing: int) -> float:
    """How many rows share with a record, by chance, a value that no third has: of pairs drawn at random those of one and one are twice the root of those of two records times those of two rows.

    One more of either list is reckoned to share one, for nobody may in a list of a few.

    shared : bool[n], the existing records first; who shares such a value with another of the own list
    """
    return float(np.sqrt((np.count_nonzero(shared[:n_existing]) + 1.0) * (np.count_nonzero(shared[n_existing:]) + 1.0)))


def side_by_side(values: Keys, shared: NDArray[np.bool_], n_existing: int) -> float:
    """How many rows share a record's value and are another, if as many do as share one within a list: the list where fewer do, for a base may hold the same several times.

    0 where the records show fewer than five; where the rows are too few to show three, the records are all there is to go by.

    values : uint64[n], the existing records first; 0 = none;  shared : bool[n], who shares a value within the own list
    """
    old, new = slice(0, n_existing), slice(n_existing, len(values))
    seen, rows = int(np.count_nonzero(shared[old])), int(np.count_nonzero(values[new]))
    likely = seen / max(int(np.count_nonzero(values[old])), 1) * rows
    if seen < _FEW:
        return 0.0
    return likely if likely < _TELLING else min(likely, float(np.count_nonzero(shared[new])))


_FEW, _TELLING = 5, 3


def mostly_repeated(values: Keys, identity: Keys, shared: NDArray[np.bool_], n_existing: int) -> bool:
    """Whether in either list no more records share a value with another identity than with another record of their own.

    values, identity : uint64[n], the existing records first; 0 = none;  shared : bool[n], who shares a value with another identity
    """
    whole = np.where((values != 0) & (identity != 0), join_keys(values, identity), np.uint64(0))
    sides = slice(0, n_existing), slice(n_existing, len(values))
    return all(np.count_nonzero(shared[side]) <= np.count_nonzero(_times(whole[side]) > 1) for side in sides)


def neighbours(
    values: Keys, identity: Keys, content: Keys, n_existing: int, n: int = 1
) -> tuple[NDArray[np.int32], NDArray[np.int32]]:
    """Pairs of records of one list that share a value under two identities: each with the next `n` that share it.

    values, identity, content : uint64[n], the existing records first; 0 = none. Records are taken in the order of what they hold.
    """
    some = np.flatnonzero((values != 0) & (_times(values) > 1))  # of mailboxes few are anybody else's
    order = some[np.lexsort((content[some], identity[some], values[some], some >= n_existing))].astype(np.int32)
    pairs = [(order[:0], order[:0])]
    for step in range(1, n + 1):
        left, right = order[step:], order[:-step]
        here = ((left >= n_existing) == (right >= n_existing)) & (values[left] == values[right])
        if not here.any():
            break
        here &= identity[left] != identity[right]
        pairs.append((left[here], right[here]))
    left, right = (np.concatenate(side) for side in zip(*pairs, strict=True))
    return left, right


class Counts:
    """A number per key, to be looked up by key."""

    def __init__(self, keys: Keys, numbers: NDArray[Any]) -> None:
        self._keys, first = np.unique(keys, return_index=True)
        self._numbers = numbers[first]

    def of(self, keys: Keys, otherwise: float) -> NDArray[Any]:
        """The number of each key; `otherwise` where there is none, and for no key (0)."""
        if len(self._keys) == 0:
            return np.full(len(keys), otherwise)
        at = np.minimum(np.searchsorted(self._keys, keys), len(self._keys) - 1)
        return np.where((self._keys[at] == keys) & (keys != 0), self._numbers[at], otherwise)


def counts_of(standard: Any) -> tuple[Counts, Counts]:
    """Share and owners of each key of standard forms that are `key`, `shares` and `owners`."""
    return Counts(standard.key, standard.shares), Counts(standard.key, standard.owners)


def as_common(standard: Any, counts: tuple[Counts, Counts]) -> Any:
    """Such standard forms: the keys of a few records as common as among all that were counted."""
    return standard._replace(
        shares=np.maximum(counts[0].of(standard.key, 0), standard.shares).astype(np.float32),
        owners=np.maximum(counts[1].of(standard.key, 0), standard.owners).astype(np.int32),
    )
