"""Tables of facts the kinds use: names, words, abbreviations. Plain text, one fact a line, `#` comments."""

from __future__ import annotations

from functools import cache
from importlib.resources import files


@cache
def lines(name: str) -> tuple[str, ...]:
    """The facts of one table, in order."""
    text = (files(__name__) / f"{name}.txt").read_text("utf-8")
    return tuple(x for line in text.splitlines() if (x := line.split("#")[0].strip()))


@cache
def groups(name: str) -> tuple[tuple[str, ...], ...]:
    """A table of `head: member member ...` lines, as (head, member, ...)."""
    rows = []
    for line in lines(name):
        head, _, rest = line.partition(":")
        rows.append((head.strip(), *rest.split()))
    return tuple(rows)


@cache
def words(name: str) -> frozenset[str]:
    """All the words of a table."""
    return frozenset(w for line in lines(name) for w in line.split())


@cache
def members(name: str, head: str) -> frozenset[str]:
    """The members of one line of a table of `head: member member ...` lines."""
    return next(frozenset(rest) for first, *rest in groups(name) if first == head)
