"""Weighing graded pairs: one pass over them, level by level."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import types
from numpy.typing import NDArray

from brujula.core.kernels.compiled import Table, compiled, inner, record_type

_ONE_OTHER = 3.0  # bearers of a name that one beside the pair has
_NOBODYS = 0.1  # so many are reckoned to bear what anybody may


class Weights(NamedTuple):
    """What bits are reckoned from (`core.weigh.evidence` says what they mean); tables are by comparison and level.

    m, u, typical, exact, bounded, unit : of each level;  counted : starting shares of the levels
    alone : how many others bear a value nobody else is seen to bear; 0 = how rare it is does not count
    changing : of each comparison;  prior : records the starting shares are worth;  cap, floor : 0 = none
    """

    m: Table[np.float64]
    u: Table[np.float64]
    counted: Table[np.float64]
    typical: Table[np.float64]
    alone: Table[np.float64]
    exact: Table[np.bool_]
    bounded: Table[np.bool_]
    unit: Table[np.bool_]
    changing: NDArray[np.bool_]
    n_records: float
    prior: float
    cap: float
    floor: float
    temper: float


@inner("float64(float64, float64, float64, float64, float64)")
def _exact_share(c, alone, counted, n_records, prior):
    """The share of others that agree on a value of which a share c of the records is the bearer."""
    count = c * n_records
    share = (max(count - 2.0, alone) + prior * counted * 0.5) / (n_records + prior)
    if count < 0.5:
        share = min(share, c + 0.005 / n_records)  # not counted but reckoned from words
    # What very many of a short list bear is common, whatever is usual elsewhere.
    return max(share, (count - 2.0 - 2.0 * np.sqrt(count)) / n_records) if c <= 1.0 else _NOBODYS


@compiled(types.void(types.int8[:, ::1], types.float32[:, ::1], record_type(Weights), types.float64[:, ::1], types.float64[::1]))
def weigh_pairs(levels, common, weights, bits, total):
    """Bits of each pair and comparison into bits, their sum after caps into total.

    common : share of the records that bear the value; over 1 = it is nobody's own, and says little
    """
    m, u, counted, alone, typical = weights.m, weights.u, weights.counted, weights.alone, weights.typical
    exact, bounded, unit, changing = weights.exact, weights.bounded, weights.unit, weights.changing
    n_records, prior, cap, floor = weights.n_records, weights.prior, weights.cap, weights.floor
    for p in range(levels.shape[0]):
        whole, shared, lost = 0.0, 0.0, 0.0
        for f in range(levels.shape[1]):
            level = levels[p, f]
            if level < 0:
                bits[p, f] = 0.0
                continue
            share = u[f, level]
            c = np.float64(common[p, f])
            if alone[f, level] > 0.0 and c > 0.0:
                if exact[f, level]:
                    share = _exact_share(c, alone[f, level], counted[f, level], n_records, prior)
                elif typical[f, level] > 0.0:
                    share *= min(max(np.sqrt(c / typical[f, level]), 0.2), 5.0)
                for same in range(exact.shape[1] if bounded[f, level] else 0):
                    if exact[f, same]:
                        # A name spelled otherwise says no more than the name. Its share is reckoned from its words, which is too much
                        # where they are common: as of a name that one other has.
                        likely = min(c, _ONE_OTHER / n_records)
                        least = _exact_share(likely, alone[f, same], counted[f, same], n_records, prior)
                        share = max(share, least * m[f, level] / m[f, same])
                share = min(max(share, 1e-9), 0.9)
            w = np.log2(m[f, level] / share)
            bits[p, f] = w
            whole += w
            if unit[f, level] and w > 0.0:
                shared += w
            if changing[f] and w < 0.0:
                lost += w
        if cap > 0.0:
            whole -= max(shared - cap, 0.0)
        if floor < 0.0:
            whole += max(floor - lost, 0.0)
        total[p] = whole * weights.temper
