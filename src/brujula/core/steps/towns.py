"""Towns that two lists give for one another: a suburb and its city, a borough, a short form of a name."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from brujula.core.batch import Keys
from brujula.core.steps.numbers import number
from brujula.core.steps.text import join_keys

_DOORS = 2  # at which the one list has the one town, and the other the other
_ALL_DOORS = 6  # the same, of all towns together
_SHARE = 0.1
"""Of the doors at which the lists agree. By chance a firm has one street and number in two towns, and here and there a list is wrong."""
_BOTH = 0.2  # of the doors with both towns, the share at which one list may have both: then they are two places


class Towns(NamedTuple):
    """What two lists show of how they name towns.

    given : pairs of towns that they give for one another (`either_way`, ascending);  loosely : whether they do so of towns here and there
    """

    given: Keys
    loosely: bool


def either_way(town: Keys, other: Keys) -> Keys:
    """A key of two towns, the same in either order."""
    return join_keys(np.minimum(town, other), np.maximum(town, other))


def named_by(who: Keys, door: Keys, town: Keys, code: Keys, n_existing: int) -> Towns:
    """How two lists name towns, the existing records before the incoming ones.

    who, door, town, code : uint64[n], who each record is, its street and number, its town and its postal code; 0 = not told

    Records of one person or firm at one street and number are at one place, whatever its town is called. A door of three towns or of two
    postal codes tells nothing.
    """
    use = np.flatnonzero((who != 0) & (door != 0) & (town != 0))
    place = join_keys(who[use], door[use])
    numbered, n_places = number(place)
    several = np.bincount(numbered, minlength=n_places)[numbered] > 1
    use, place = use[several], place[several]
    if len(use) == 0 or n_existing in (0, len(who)):
        return Towns(np.zeros(0, np.uint64), False)
    order = np.lexsort((town[use], place))
    use, place = use[order], place[order]
    # One line for each town of a place: the lists that have it there, a bit each, and its codes.
    first = np.flatnonzero(_begins(join_keys(place, town[use])))
    lists = np.bitwise_or.reduceat(np.where(use < n_existing, 1, 2), first)
    highest = np.maximum.reduceat(code[use], first)
    lowest = np.minimum.reduceat(np.where(code[use] == 0, np.iinfo(np.uint64).max, code[use]), first)
    place, use = place[first], use[first]
    at = np.flatnonzero(_begins(place))
    towns = np.diff(np.append(at, len(place)))
    names, n_names = number(town[use])
    agreed = at[(towns == 1) & (lists[at] == 3)]
    known = np.bincount(names[agreed], minlength=n_names)
    two = at[towns == 2]
    two = two[np.minimum(lowest[two], lowest[two + 1]) >= np.maximum(highest[two], highest[two + 1])]
    together = (lists[two] & lists[two + 1]) != 0
    pairs = either_way(town[use[two]], town[use[two + 1]])
    # A door counts once, however many are behind it.
    once = np.unique(join_keys(pairs, door[use[two]]), return_index=True)[1]
    found, where, group = np.unique(pairs[once], return_index=True, return_inverse=True)
    both = np.bincount(group, weights=together[once], minlength=len(found))
    apart = np.bincount(group, minlength=len(found)) - both
    least = np.minimum(known[names[two]], known[names[two + 1]])[once[where]]
    sure = (apart >= _DOORS) & (apart >= _SHARE * least) & (both <= _BOTH * apart)
    apart_in_all, both_in_all = apart.sum(), both.sum()
    loosely = apart_in_all >= max(_ALL_DOORS, _SHARE * len(agreed)) and both_in_all <= _BOTH * apart_in_all
    return Towns(found[sure], bool(loosely))


def _begins(keys: Keys) -> NDArray[np.bool_]:
    """Where another key begins."""
    out = np.ones(len(keys), bool)
    out[1:] = keys[1:] != keys[:-1]
    return out
