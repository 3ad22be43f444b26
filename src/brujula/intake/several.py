"""Cells that hold several of a thing: mail addresses, phone numbers, people."""

from __future__ import annotations

import re
import unicodedata

import numpy as np
import pyarrow as pa

from brujula.intake.damage import matches, rewritten
from brujula.problems import Problem

_MOST = 100_000
_MAIL = re.compile(r"[^\s@,;:|/<>()\[\]\"]+@[^\s@,;:|/<>()\[\]\"]*[^\s@,;:|/<>()\[\]\".]")
_WRAPPED = r"@.*[\s,;|<>]|@.*/.*@|[\s:<\"(].*@"
_ONE_MAIL = re.compile(r"[^\s@,;:<>()\[\]\"]+@[\w-]+(\.[\w-]+)+")
_SPOILED = (
    r"(?i)^[^@]*\S\s*([\[({]\s*(at|arroba)\s*[\])}]|\s(at|arroba)\s)\s*\w[^@]*([.\])}]|\s)\s*\w+\s*$"
    r"|^[^@＠]*(＠|@@|\s@|@\s)[^@＠]*$|^[^@]*@[^@\s,;]+,\s?[a-z]{2,}\s*$|^[^@\s]*@[^@\s]*\.(\.[^@\s]*)?\s*$|^[^@\s]*\.\.[^@\s]*@[^@\s]*$"
    r"|^\s*[^\s<>:\"',;/|@]+\s+[^\s<>:\"',;/|@]+@[^@\s]+\s*$"
)
"""Cells with one address that a slip or the wish to hide it from machines has spoiled."""
_LABELS = """c|w|h|m|o|f|p|t|d|cell|mobile|mob|work|home|office|fax|telefax|tel|phone|ph|direct|main|handy|mobil|privat|tél|fijo|movil|móvil|casa|cel|
celular|cellulare|kom""".replace("\n", "")
_LABEL = rf"\b(?:{_LABELS})\b\.?\s*:?"
_BRACKETED = rf"\(\s*(?:{_LABELS})\.?\s*\)"
_SEVERAL_PHONES = (
    r"(?i)(\d[^\d\pL]{0,3}){6}.*([;/|\n]|::|\s(or|oder|ou|o|und|and|y)\s|,|"
    + rf"\s{_LABEL}|{_BRACKETED}"
    + r").*(\d[^\d\pL]{0,3}){6}"
)
_NUMBER_AHEAD = r"(?=\s*\+?\(?\d)"
_BETWEEN_PHONES = re.compile(
    r"(?i)\s*(?:[;|\n]|:{2,}|\s/\s|/(?=\s*[+(]?\d{3}\D?\d)|,|\s(?:or|oder|ou|o|und|and|y)\s)\s*"
    rf"|\s+(?={_LABEL}{_NUMBER_AHEAD})"
)
_BRACKETED_AHEAD = re.compile(rf"(?i)({_BRACKETED})\s*{_NUMBER_AHEAD}")
_OF_A_FAX = re.compile(r"(?i)^\W*(?:f|fax|telefax)\b|\(\s*(?:f|fax)\W*\)\s*$")
_SAID_OF_PHONE = re.compile(rf"(?i)^\s*(?:{_LABEL}|{_BRACKETED})\s*|\s*(?:{_BRACKETED}|{_LABEL})\s*$")
_AND = r"\s*(&|\+|/|\s(and|und|et)\s)\s*"
_PAIR = rf"(?i)^\s*[\pL.'-]{{2,}}{_AND}[\pL.'-]{{2,}}(\s+[\pL.' -]+)?\s*$"
_WHOLE = r"[\pL.'-]+(\s+[\pL.'-]+)+"
_WHOLE_PAIR = rf"(?i)^\s*{_WHOLE}{_AND}{_WHOLE}\s*$|^\s*[\pL.' -]{{2,}},\s*[\pL.' -]*[\pL.'-]{{2,}}{_AND}[\pL.' -]{{2,}}\s*$"
_NOBLE = r"(?i)\s(von|auf|aus)\s+und\s"
"""Von und zu is one family's."""
_GIVEN_PAIR = r"(?i)^\s*[\pL.'-]{2,}\s+(y|e|i|en|o|ou|or)\s+[\pL.'-]{2,}\s*$"


def mails(values: pa.ChunkedArray, column: str) -> tuple[pa.ChunkedArray, list[Problem], pa.ChunkedArray | None]:
    """Addresses spelled as they should be, freed from `mailto:`, names and brackets; of several in a cell the first, and that is said; and the second of each, or None where no cell holds two."""
    values, spoiled = rewritten(values, matches(values, _SPOILED), _unspoiled, "bad-email", column, "email")
    wrapped = matches(values, _WRAPPED)
    if not wrapped.any():
        return values, spoiled, None
    at = np.flatnonzero(wrapped)
    cells = values.take(pa.array(at)).to_pylist()
    found = {text: _addresses(text) for text in cells}
    freed, told = rewritten(values, wrapped, lambda text: next(iter(found[text]), text), "several-mails", column, "email")
    second = np.full(len(values), "", object)
    second[at] = [found[text][1] if len(found[text]) > 1 else "" for text in cells]
    kept = {int(row) + 1 for row in np.flatnonzero(second != "")}
    others = pa.chunked_array([pa.array(second, pa.large_string())]) if kept else None
    return freed, spoiled + [p for p in told if p.row in kept], others


def _addresses(text: str) -> list[str]:
    """The addresses of a cell, each once."""
    return list({mail.lower(): mail for mail in reversed(_MAIL.findall(re.sub(r"(?i)mailto:", "", text)))}.values())[::-1]


def _unspoiled(text: str) -> str:
    """The one address that was meant, "" where that is not plain: a blank within the mailbox may stand for a dot, or part two people's."""
    plain = unicodedata.normalize("NFKC", text).strip().strip("\"'<>")
    plain = re.sub(r"(?i)\s*([\[({]\s*(at|arroba)\s*[\])}]|\s(at|arroba)\s)\s*", "@", plain) if "@" not in plain else plain
    plain = re.sub(r"(?i)\s*([\[({]\s*(dot|punto|punkt|point)\s*[\])}]|\s(dot|punto|punkt|point)\s)\s*", ".", plain)
    plain = re.sub(r"\s*@+\s*", "@", plain)
    plain = re.sub(r"(@[\w.-]*\w),\s?([a-z]{2,})$", r"\1.\2", plain, flags=re.IGNORECASE)
    plain = re.sub(r"\.{2,}", ".", plain).strip(".,; ")
    named, _, address = plain.rpartition(" ")
    if named and " " not in named and address.lower().startswith(named.lower()):
        plain = address  # Ada ada@harrow.example
    return plain if _ONE_MAIL.fullmatch(plain) else ""


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
    second[at] = [s[1] if len(s) > 1 else "" for s in several]
    return first, problems, pa.chunked_array([pa.array(second, pa.large_string())]) if (second != "").any() else None


def _numbers(text: str) -> list[str]:
    """The numbers of a cell without what is said of each (w: 212-555-0147, (home)). Of a fax, where nobody answers, only its place is kept, "", and that last."""
    text = _BRACKETED_AHEAD.sub(r"\1, ", text)
    parts = [part for part in _BETWEEN_PHONES.split(text) if sum(c.isdigit() for c in part) >= 6]
    spoken = [_SAID_OF_PHONE.sub("", part) for part in parts if not _OF_A_FAX.search(part)]
    return spoken + [""] * (len(parts) - len(spoken)) if spoken else [text]


def two_people(values: pa.ChunkedArray, column: str, field: str) -> list[Problem]:
    """Names of two people in one cell: `Ana & Luis Prado`, `Prado, Ana & Luis`, `Ana Prado and Luis Vega`. Family names are joined by the same words, so they are let be."""
    hit = matches(values, _PAIR) | (matches(values, _WHOLE_PAIR) & ~matches(values, _NOBLE))
    if field == "given_name":
        hit |= matches(values, _GIVEN_PAIR)
    at = np.flatnonzero(hit)[:_MOST]
    texts = values.take(pa.array(at)).to_pylist()
    return [Problem("two-people", int(r) + 1, column, t, field=field) for r, t in zip(at.tolist(), texts, strict=True)]
