"""Which formats lists may have, found out before anything is read."""

from __future__ import annotations

import re
from pathlib import Path

from brujula.errors import InputError

TEXTS = (".csv", ".tsv", ".txt")
LINES = (".jsonl", ".ndjson")
JSON = (".json",)
CARDS = (".vcf", ".vcard")
_STORES = (".db", ".sqlite", ".sqlite3")
PACKED = (".xlsx", ".xlsm", ".ods", ".parquet")

_BOOKS = (".xlsx", ".xlsm", ".ods")
_SIGNS = (
    (
        rb"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1",
        "an old workbook (.xls), or one locked with a password",
        "the same saved as .xlsx or .csv",
        _BOOKS,
    ),
    (rb"PK\x03\x04", "a workbook, or another archive", "the same file named .xlsx or .ods, if it is a workbook", _BOOKS),
    (rb"PAR1[\x00-\x1f]", "a Parquet file", "the same file named .parquet", (".parquet",)),
    (rb"\x1f\x8b", "gzipped bytes", "the same file named .csv.gz", ()),
    (rb"SQLite format 3\0", "a SQLite database", "sqlite:///PATH for its records, or a list exported from it", ()),
    (rb"%PDF-", "a PDF", "the list it was printed from", ()),
    (rb"\x89PNG|\xff\xd8\xff", "a picture", "the list that it shows", ()),
    (rb"\{\\rtf", "a text of a word processor", "its table saved as .csv", ()),
    (
        rb"(?i)(<!--.*?-->\s*)*<(!doctype\s+html|html|head|body|table)\b",
        "a web page (what a site shows to those who are not signed in, or a table of one)",
        "the list itself, saved as .csv or .xlsx",
        (),
    ),
    (rb"<\?xml", "XML", "a list exported as .csv, .json or .xlsx", ()),
    (
        rb"(\[\s*)?\{\s*\"[^\"\r\n]*\"\s*:",
        "JSON",
        "the same file named .json, or .jsonl where each line is an object",
        (*JSON, *LINES),
    ),
    (rb"(?i)BEGIN:VCARD\r?\n", "vCards", "the same file named .vcf", CARDS),
)
"""How files of other formats begin, what they are, what is accepted, and the suffixes they may have."""
FIRST = 4096
"""Bytes that tell what a file is."""


def check_content(path: Path, head: bytes, kind: str) -> None:
    """Raises InputError for a file that is something else than its name says: a web page, a workbook or a PDF under .csv.

    head : its first bytes, as many as FIRST
    """
    head = head.removeprefix(b"\xef\xbb\xbf").lstrip(b" \t\r\n")
    for sign, what, accepted, suffixes in _SIGNS:
        if kind not in suffixes and re.match(sign, head, re.DOTALL):
            raise InputError(f"{path}: holds {what}, though its name ends in {kind}; accepted: {accepted}")


def format_of(path: Path) -> tuple[str, bool]:
    """A file's format by its suffix, and whether it is gzipped. Raises InputError for a suffix no format is known for."""
    suffixes = [s.lower() for s in path.suffixes]
    gzipped = bool(suffixes) and suffixes[-1] == ".gz"
    kind = ((suffixes[:-1] if gzipped else suffixes)[-1:] or [""])[0]
    if kind not in TEXTS + LINES + JSON + CARDS + (() if gzipped else PACKED):
        if path.suffix.lower() in _STORES:
            raise InputError(f"{path}: a list is wanted here, not a database; as a store it is named sqlite:///{path}")
        known = ", ".join((*TEXTS, *LINES, *JSON, *CARDS, *PACKED))
        raise InputError(
            f'{path}: no format known for "{path.suffix or path.name}"; accepted: {known}; the text ones also with .gz'
        )
    return kind, gzipped


def check_list(path: Path) -> tuple[str, bool]:
    """The format of a file to be read. Raises InputError for one that is missing, a folder, or of no known format."""
    if not path.exists():
        raise InputError(f"{path}: no such file")
    if path.is_dir():
        raise InputError(f"{path}: is a folder; name a list in it")
    return format_of(path)


def check_lists(*sources: str) -> None:
    """Raises InputError for a source that is no store's URL and no file that could be read; nothing is opened."""
    for source in sources:
        if "://" not in source:
            check_list(Path(source))
