"""Tables of web pages (HTML), as a site shows a list and as exports named .xls often are."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any, NamedTuple
from urllib.parse import unquote

import numpy as np

from brujula.errors import InputError
from brujula.intake import merged, no_records, raw
from brujula.intake.encodings import decoded, guessed, marked
from brujula.intake.formats import FIRST
from brujula.intake.raw import RawList
from brujula.policy.model import ListPolicy

_CHARSET = re.compile(rb"(?i)<meta[^>]*charset\s*=\s*[\"']?\s*([\w-]+)")
_AS_BROWSERS = dict.fromkeys(("iso-8859-1", "iso8859-1", "latin1", "us-ascii", "ascii"), "windows-1252")
"""What a page says of its encoding, and what it is read in then (the Encoding Standard of the WHATWG)."""
_LINE = "\u2028"
_NOT_SHOWN = ("script", "style", "template", "noscript")
_BREAKS = ("br", "p", "div", "li")
_MOST_SPANNED = 1_000  # rows or columns: browsers go no further than these
_ADDRESSES = "mail address"
"""What a column is called of addresses that links hold."""


class _Table(NamedTuple):
    """A table of a page: its rows of cells, what is merged over several, addresses that links of a row hold and no cell shows, and rows of the page before it."""

    rows: list[list[str]]
    spans: list[tuple[tuple[int, int], tuple[int, int]]]
    addresses: list[str]
    before: int


def read_page(path: Path, data: bytes, how: ListPolicy) -> RawList:
    """The table of a page that holds most, and those under the same headings as well; how many others there are is said.

    Mail addresses that links hold and no cell shows stand in a column of their own.
    Raises InputError for a page without a table.
    """
    text, encoding = _decoded(path, data, how.encoding)
    tables = _tables(_parsed(text))
    chosen = max(tables, key=_n_filled, default=None)
    if chosen is None or not _n_filled(chosen):
        raise InputError(
            f"{path}: a web page without a table (what a site shows to those who are not signed in?); accepted: a table with a row for each record"
        )
    at, cells, first = raw.header(str(path), list(enumerate(chosen.rows, 1)), how.header_row)
    others = [t for t in tables if t is not chosen and first > at]
    same = [(t, raw.rows_above(str(path), t.rows, cells, how.header_row)) for t in others]
    parts = sorted([(chosen, first), *((t, n) for t, n in same if n)], key=lambda part: part[0].before)
    width = max(len(cells), *(len(row) for table, n in parts for row in table.rows[n:]), 0)
    names = raw.headings(str(path), [*cells, *[""] * (width - len(cells))])
    notes = [f"table of a web page, {encoding}", *raw.above(at + 1, at, first - at, "row")]
    for table, n in parts:
        notes += merged.filled_down(table.rows, names, n, table.spans)
    addresses = [a for table, n in parts for a in table.addresses[n:]]
    rows = [row for table, n in parts for row in table.rows[n:]]
    if any(addresses):
        names = raw.headings(str(path), [*names, _ADDRESSES])
        rows = [[*row, *[""] * (width - len(row)), address] for row, address in zip(rows, addresses, strict=True)]
        notes.append(f'mail addresses that links hold stand in a column "{names[-1]}"')
    if len(parts) > 1:
        notes.append(f"{len(parts)} tables under the same headings")
    if unread := sum(_n_filled(table) > 0 for table in tables) - len(parts):
        notes.append(f"not read: {unread} other table{'s' * (unread > 1)} of the page")
    lines = np.concatenate([np.arange(n, len(table.rows)) + table.before + 1 for table, n in parts])
    return no_records.told(
        raw.without_blank_rows(RawList(str(path), raw.text_table(names, rows), tuple(notes), (), lines, "table row"))
    )


def _parsed(text: str) -> Any:
    """A page without what it does not show; a mark stands where a line ends."""
    import lxml.etree
    import lxml.html

    parser = lxml.html.HTMLParser(encoding="utf-8", huge_tree=True)
    try:
        page = lxml.html.document_fromstring(text.replace("\0", "").encode("utf-8", "replace"), parser=parser)
    except lxml.etree.LxmlError:
        return lxml.html.Element("html")  # there is nothing in it
    lxml.etree.strip_elements(page, *_NOT_SHOWN, with_tail=False)
    for broken in list(page.iter(*_BREAKS)):
        for put in (broken.addprevious, broken.append):
            line = lxml.html.Element("span")
            line.text = _LINE
            put(line)
    return page


def _tables(page: Any) -> list[_Table]:
    """The tables of a page that hold no other: a table around others lays the page out."""
    _drop_labels(page)
    tables: list[_Table] = []
    for table in page.iter("table"):
        if next(table.iterdescendants("table"), None) is None:
            tables.append(_table(table, tables[-1].before + len(tables[-1].rows) if tables else 0))
    return tables


def _decoded(path: Path, data: bytes, told: str | None) -> tuple[str, str]:
    """The text of a page, and its encoding: as the policy, its mark or the page itself says, or as it is found."""
    if told:
        return decoded(path, data, told, True), told
    named = _CHARSET.search(data[:FIRST])
    own = named[1].decode().lower() if named else "utf-8"
    for encoding in (marked(data[:FIRST]), _AS_BROWSERS.get(own, own)):
        try:
            return data.decode(encoding).lstrip("\ufeff"), encoding
        except (UnicodeError, LookupError):
            continue
    return guessed(data)


def _table(table: Any, before: int) -> _Table:
    """The cells of a table where they show: what a cell spans is blank, in its row and in those below."""
    rows: list[list[str]] = []
    spans, addresses = [], []
    until: dict[int, int] = {}  # columns that a cell above reaches into, and the last row it does
    for top, line in enumerate(table.iter("tr")):
        row: list[str] = []
        hidden: list[str] = []
        for cell in line.iterchildren("td", "th"):
            while until.get(len(row), -1) >= top:
                row.append("")
            text = _shown(cell)
            wide, tall = _spanned(cell, "colspan"), _spanned(cell, "rowspan")
            if tall > 1:
                spans.append(((top, len(row)), (top + tall - 1, len(row) + wide - 1)))
                until |= dict.fromkeys(range(len(row), len(row) + wide), top + tall - 1)
            hidden += [a for a in map(_mailed, cell.iter("a")) if a and a.lower() not in text.lower()]
            row += [text, *[""] * (wide - 1)]
            if len(row) > raw.MOST_COLUMNS:
                break  # as many are refused
        rows.append(row)
        addresses.append(", ".join(dict.fromkeys(hidden)))
    return _Table(rows, spans, addresses, before)


def _shown(cell: Any) -> str:
    lines = (" ".join(line.split()) for line in cell.text_content().split(_LINE))
    return "\n".join(filter(None, lines))


def _mailed(link: Any) -> str:
    """The address a link writes to, "" = none."""
    target = link.get("href", "").strip()
    return unquote(target[7:]).partition("?")[0].strip() if target[:7].lower() == "mailto:" and "@" in target else ""


def _drop_labels(page: Any) -> None:
    """Leave out what links to several addresses say alike (E-mail), which is nobody's name and no value."""
    links = [(link, _shown(link), _mailed(link)) for link in page.iter("a")]
    addresses: dict[str, set[str]] = {}
    for _, text, address in links:
        if address:
            addresses.setdefault(text, set()).add(address)
    for link, text, address in links:
        if address and len(addresses[text]) > 1:
            link.text = ""
            for inner in list(link):
                link.remove(inner)


def _spanned(cell: Any, what: str) -> int:
    number = re.match(r"\s*(\d{1,4})", cell.get(what, ""))
    return min(max(int(number[1]), 1), _MOST_SPANNED) if number else 1


def _n_filled(table: _Table) -> int:
    """Cells with something in them, of rows that have two or more."""
    filled = [sum(bool(cell) for cell in row) for row in table.rows]
    return sum(n for n in filled if n > 1) or (sum(filled) if len(filled) > 1 else 0)
