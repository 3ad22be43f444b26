"""How every kernel is compiled."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from numba import njit

_UNCOUNTED: dict[str, Any] = {"_nrt": False}


def compiled(signature: str) -> Callable[[Callable[..., Any]], Any]:
    """Compile a loop for one signature: kept on disk, run without the interpreter lock, a division by zero no error.

    A kernel allocates nothing, its caller gives it scratch: then arrays need no counting of references (`_nrt`). That counting is
    an atomic operation a call, on a place all threads share: it took half the time of comparing, and made the threads wait for each other.
    """
    made: Callable[[Callable[..., Any]], Any] = njit(signature, cache=True, nogil=True, error_model="numpy", **_UNCOUNTED)
    return made
