"""Work on all cores: kernels over parts of an array, and steps over independent things. Results come in the order asked for."""

from __future__ import annotations

import os
import threading
from collections import deque
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor, wait
from contextlib import contextmanager
from contextvars import copy_context
from functools import cache
from typing import Any, TypeVar

_PART = 65_536
_FEW = 1_000  # records of which one thread makes as quick work as several
_inside = threading.local()
T = TypeVar("T")
R = TypeVar("R")


@cache
def _pool(threads: int) -> ThreadPoolExecutor:
    return ThreadPoolExecutor(threads)


os.register_at_fork(after_in_child=_pool.cache_clear)  # threads do not follow into a child


def n_threads() -> int:
    """Cores to use: BRUJULA_THREADS, or as many as the process may run on; one inside work that is already spread."""
    if getattr(_inside, "busy", False):
        return 1
    return max(int(os.environ.get("BRUJULA_THREADS", 0)) or len(os.sched_getaffinity(0)), 1)


@contextmanager
def one_thread(n_records: int = 0) -> Iterator[None]:
    """Work so small that starting threads would take longer than it does: on so few records, else nothing changes."""
    before = getattr(_inside, "busy", False)
    _inside.busy = before or n_records < _FEW
    try:
        yield
    finally:
        _inside.busy = before


def spread(work: Callable[[T], R], items: Iterable[T]) -> Iterator[R]:
    """work(item) for each item, on all cores, results in order; at most two items a core are held at once.

    The kernels and Arrow release the interpreter lock, so threads are enough.
    """
    threads = n_threads()
    if threads == 1:
        yield from map(work, items)
        return

    def alone(item: T) -> R:
        _inside.busy = True
        return work(item)

    waiting: deque[Future[Any]] = deque()
    pool = _pool(threads)
    try:
        for item in items:
            waiting.append(pool.submit(copy_context().run, alone, item))
            if len(waiting) > threads:
                yield waiting.popleft().result()
        while waiting:
            yield waiting.popleft().result()
    finally:
        # What failed or was not asked for leaves nothing at work behind it.
        for future in waiting:
            future.cancel()
        wait(waiting)


def in_chunks(work: Callable[[int, int], None], n: int, part: int = _PART) -> None:
    """Call work(start, end) over range(n) in parts, on all cores; the parts write to places of their own."""
    if n <= part:
        if n:
            work(0, n)
        return
    for _ in spread(lambda start: work(start, min(start + part, n)), range(0, n, part)):
        pass
