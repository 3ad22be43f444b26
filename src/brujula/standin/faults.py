"""Faults on demand: every so many requests the service is slow, fails, loses its answer or gives half of it."""

from __future__ import annotations

import threading
import time
from dataclasses import dataclass, field


@dataclass
class Faults:
    """Every how many requests each fault strikes, 0 = never.

    error : answers 500 and does nothing;  lost : does what it was asked, then drops the connection;  half : breaks off in the middle of
    its answer;  slow : waits `seconds` first;  rate : requests a second beyond which it answers 429, 0 = no limit
    """

    error: int = 0
    lost: int = 0
    half: int = 0
    slow: int = 0
    seconds: float = 0.2
    rate: int = 0
    _count: int = 0
    _second: int = 0
    _in_second: int = 0
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def next(self) -> str:
        """What is to go wrong with this request: "" for nothing, else error, lost, half or busy."""
        with self._lock:
            self._count += 1
            count = self._count
            now = int(time.monotonic())
            self._in_second = self._in_second + 1 if now == self._second else 1
            self._second = now
            if self.rate and self._in_second > self.rate:
                return "busy"
        if self.slow and count % self.slow == 0:
            time.sleep(self.seconds)
        for name in ("error", "lost", "half"):
            every = getattr(self, name)
            if every and count % every == 0:
                return name
        return ""
