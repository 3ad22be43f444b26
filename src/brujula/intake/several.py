"""Cells that hold several of a thing: mail addresses, phone numbers, people."""

from __future__ import annotations

import re

import numpy as np
import pyarrow as pa

from brujula.intake.damage import Mended, matches, rewritten
from brujula.problems import Problem

_MOST = 100_000
_MAIL = re.compile(r"[^\s@,;:<>()\[\]\"]+@[^\s@,;:<>()\[\]\"]*[^\s@,;:<>()\[\]\".]")
_SEVERAL_PHONES = r"\d{3}\D{0,3}\d{2,}.*([;/|\n]|\s(or|oder|ou|o|und|and|y)\s|,).*\d{3}\D{0,3}\d{2,}"
_BETWEEN_PHONES = re.compile(r"\s*(?:[;|\n]|\s/\s|/(?=\s*[+(]?\d{3}\D?\d)|,|\s(?:or|oder|ou|o|und|and|y)\s)\s*")
_PAIR = r"(?i)^\s*[\pL.'-]{2,}\s*(&|\+|/|\s(and|und|et)\s)\s*[\pL.'-]{2,}(\s+[\pL.' -]+)?\s*$"
_GIVEN_PAIR = r"(?i)^\s*[\pL.'-]{2,}\s+(y|e|i|en|o|ou|or)\s+[\pL.'-]{2,}\s*$"


def mails(values: pa.ChunkedArray, column: str) -> Mended:
    """Addresses freed from `mailto:`, names and brackets; of several in a cell the first is used, and that is said."""
    wrapped = matches(values, r"@.*[\s,;<>]|[\s:<\"(].*@")
    if not wrapped.any():
        return values, []

    def first(text: str) -> str:
        found = _MAIL.findall(re.sub(r"(?i)mailto:", "", text))
        return found[0] if found else text

    freed, told = rewritten(values, wrapped, first, "several-mails", column, "email")
    several = [p for p in told if len(set(_MAIL.findall(p.value.rpartition(" -> ")[0].lower()))) > 1]
    return freed, several


def phones(values: pa.ChunkedArray, column: str, field: str) -> tuple[pa.ChunkedArray, list[Problem], pa.ChunkedArray | None]:
    """Of several numbers in a cell the first, and that is said; and the second of each, or None where no cell holds two."""
    hit = matches(values, _SEVERAL_PHONES)
    at = np.flatnonzero(hit)
    several = [_numbers(t) for t in values.take(pa.array(at)).to_pylist()]
    hit[at[[len(s) < 2 for s in several]]] = False
    if not hit.any():
        return values, [], None
    first, problems = rewritten(values, hit, lambda text: _numbers(text)[0], "several-phones", column, field)
    second = np.full(len(values), "", object)
    second[at[[len(s) > 1 for s in several]]] = [s[1] for s in several if len(s) > 1]
    return first, problems, pa.chunked_array([pa.array(second, pa.large_string())])


def _numbers(text: str) -> list[str]:
    return [part for part in _BETWEEN_PHONES.split(text) if sum(c.isdigit() for c in part) >= 6]


def two_people(values: pa.ChunkedArray, column: str, field: str) -> list[Problem]:
    """Names of two people in one cell: `Ana & Luis Prado`. Family names are joined by the same words, so they are let be."""
    hit = matches(values, _PAIR)
    if field == "given_name":
        hit |= matches(values, _GIVEN_PAIR)
    at = np.flatnonzero(hit)[:_MOST]
    texts = values.take(pa.array(at)).to_pylist()
    return [Problem("two-people", int(r) + 1, column, t, field=field) for r, t in zip(at.tolist(), texts, strict=True)]
