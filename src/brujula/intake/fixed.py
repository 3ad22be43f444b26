"""Text in columns of a fixed width, as reports and terminals print it; and mail addresses one after another, as a letter's head has them."""

from __future__ import annotations

import re
from collections.abc import Sequence
from itertools import pairwise

_LOOKED_AT = 200
_MOSTLY, _RULED = 0.95, 0.5  # share of lines that have a gap before each column; where dashes show the columns
_RULE = re.compile(r"[-=_]{2,}(\s+[-=_]+)+\s*$")
_ADDRESS = re.compile(
    r"""\s*(?:(?:"(?P<quoted>[^"]*)"|(?P<plain>[^<>@,;"]*))\s*<\s*(?P<mail>[^<>@\s]+@[^<>@\s]+)\s*>|(?P<bare>[^\s,;<>@"]+@[^\s,;<>@"]+))\s*(?:[,;]+|\Z)"""
)

_TO = re.compile(r"(?i)^\s*(?:to|cc|bcc|from|reply-to|an|von|à|de|cci|para|cco|a|da|ccn|do|od|dw)\s*:")
"""How a line of a letter's head begins, as mail programs of several languages write it."""


def starts(lines: Sequence[str]) -> list[int]:
    """Where the columns of lines begin, the headings' line first; nothing where they have none.

    Under the headings a line of dashes may show them; else each begins with a heading behind two spaces or more.
    """
    rows = [line for line in lines[1:_LOOKED_AT] if line.strip()]
    if not rows:
        return []
    if ruled := is_rule(rows[0]):
        found, rows = [m.start() for m in re.finditer(r"\S+", rows[0])], rows[1:]
    else:
        found = [m.start() for m in re.finditer(r"\S+(?: \S+)*", lines[0])]
    if len(found) < 2 or not rows:
        return []
    apart = sum(_has_gaps(line, found) for line in rows)
    least = (_RULED if ruled else _MOSTLY) * len(rows)
    return found if apart >= least and any(len(line) > found[1] for line in rows) else []


def cut(line: str, at: Sequence[int]) -> list[str]:
    """The cells of a line whose columns begin there; one that has no gaps there is one cell."""
    if not _has_gaps(line, at):
        return [line.strip()]
    return [line[a:b].strip() for a, b in zip(at, [*at[1:], len(line)], strict=True)]


def _has_gaps(line: str, at: Sequence[int]) -> bool:
    return all(line[start - 1 : start] in ("", " ") for start in at[1:])


def is_rule(line: str) -> bool:
    """Whether a line has nothing but dashes, under the headings."""
    return _RULE.match(line) is not None


def addresses(text: str) -> list[list[str]]:
    """Name and address of each mailbox of a text that holds nothing else (RFC 5322: Ada Quist <ada@quist.example>, ...), some with a name, or several on a line; else nothing."""
    found: list[list[str]] = []
    first = list[int]()  # where each line's begin
    for line in (_TO.sub("", line) for line in text.splitlines() if line.strip()):
        first.append(len(found))
        at = 0
        while at < len(line.rstrip()):
            mailbox = _ADDRESS.match(line, at)
            if mailbox is None:
                return []
            found.append([(mailbox["quoted"] or mailbox["plain"] or "").strip(), mailbox["mail"] or mailbox["bare"]])
            at = mailbox.end()
    several = {b - a for a, b in pairwise([*first, len(found)])}
    # Two addresses in each of many lines are two columns.
    return (
        found if any(name for name, _ in found) or (max(several, default=1) > 1 and (len(several) > 1 or len(first) == 1)) else []
    )
