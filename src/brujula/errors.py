"""Exceptions for the caller, each with the exit code of the command line, and words for messages."""

from __future__ import annotations

from collections.abc import Iterable
from difflib import get_close_matches
from pathlib import Path


class BrujulaError(Exception):
    """Something the caller can act on; the message names the thing, the value, what is allowed and the next step."""

    exit_code = 2


class InputError(BrujulaError):
    """A list cannot be read."""


class PolicyError(BrujulaError):
    """A policy cannot be used; the message lists every mistake."""


class PlanError(BrujulaError):
    """A plan folder is missing, damaged or belongs to another store."""


class UsageError(BrujulaError):
    """The call itself is wrong."""


class StoreError(BrujulaError):
    """The store failed or refused."""

    exit_code = 3


def path_as_text(path: str | Path) -> str:
    r"""How messages, reports and journals call a file: by its path. What of it is no text (a name from an old disk, in another encoding) is written \xe9."""
    return str(path).encode("utf-8", "surrogateescape").decode("utf-8", "backslashreplace")


def instead(word: str, known: Iterable[str]) -> str:
    """What a message says of a word that is none of those known: the nearest of them, or all that are accepted."""
    names = list(known)
    near = get_close_matches(word, names, 1)
    return f'did you mean "{near[0]}"?' if near else f"accepted: {', '.join(names)}"
