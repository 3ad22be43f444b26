"""Kernels over whole columns, to be timed beside duckdb's."""

from __future__ import annotations

from numba import njit

from brujula.core.kernels.edits import jaro_winkler, osa


@njit(cache=True, nogil=True)
def measure_pairs(a_off, a, b_off, b, which, out, pm):
    """The distance (which = 0) or the similarity (1) of text i of a and text i of b into out."""
    for i in range(out.size):
        if which == 0:
            out[i] = osa(a, a_off[i], a_off[i + 1], b, b_off[i], b_off[i + 1], pm)
        else:
            out[i] = jaro_winkler(a, a_off[i], a_off[i + 1], b, b_off[i], b_off[i + 1], pm)
