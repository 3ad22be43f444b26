"""Running a kernel over parts of an array on all cores; the parts write to places of their own."""

from __future__ import annotations

import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor

_PART = 65_536


def n_threads() -> int:
    """Cores to use: BRUJULA_THREADS, or as many as the process may run on."""
    return max(int(os.environ.get("BRUJULA_THREADS", 0)) or len(os.sched_getaffinity(0)), 1)


def in_chunks(work: Callable[[int, int], None], n: int, part: int = _PART) -> None:
    """Call work(start, end) over range(n) in parts, on several threads. The kernels release the interpreter lock."""
    bounds = [(i, min(i + part, n)) for i in range(0, n, part)]
    threads = min(n_threads(), len(bounds))
    if threads <= 1:
        for a, b in bounds:
            work(a, b)
        return
    with ThreadPoolExecutor(threads) as pool:
        list(pool.map(lambda bound: work(*bound), bounds))
