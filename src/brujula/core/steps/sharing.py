"""How many different people or firms give one mailbox or number: what many share says little about one."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from brujula.core.batch import Keys


def owners(values: Keys, identity: Keys) -> NDArray[np.int32]:
    """Per record, how many distinct identities carry its value (0 where it has none).

    values, identity : uint64[n]; 0 = none. Records without an identity are not counted.
    """
    out = np.zeros(len(values), np.int32)
    has = np.flatnonzero(values)
    if len(has) == 0:
        return out
    order = has[np.lexsort((identity[has], values[has]))]
    v, who = values[order], identity[order]
    first = np.append(True, v[1:] != v[:-1])
    fresh = (first | np.append(True, who[1:] != who[:-1])) & (who != 0)
    group = np.cumsum(first) - 1
    out[order] = np.bincount(group, weights=fresh).astype(np.int32)[group]
    return out


def shares(values: Keys) -> NDArray[np.float32]:
    """Per record, the share of all records that carry its value (0 where it has none)."""
    out = np.zeros(len(values), np.float32)
    has = np.flatnonzero(values)
    if len(has):
        _, group, counts = np.unique(values[has], return_inverse=True, return_counts=True)
        out[has] = counts[group] / np.float32(len(values))
    return out


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
