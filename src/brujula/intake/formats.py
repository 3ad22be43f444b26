"""Which formats lists may have, found out before anything is read."""

from __future__ import annotations

import lzma
import re
import struct
import zipfile
import zlib
from pathlib import Path
from typing import NamedTuple

from brujula.errors import InputError

TEXTS = (".csv", ".tsv", ".txt")
LINES = (".jsonl", ".ndjson")
JSON = (".json",)
CARDS = (".vcf", ".vcard")
PAGES = (".html", ".htm")
_ZIPPED = TEXTS + LINES + JSON + CARDS + PAGES
DAMAGED = (zipfile.BadZipFile, RuntimeError, ValueError, IndexError, EOFError, zlib.error, lzma.LZMAError, struct.error)
"""What opening and reading a zip raises whose bytes are not as they were."""
_LOCKED = 1
"""The bit of a file in a zip that a password locks."""
_STORES = (".db", ".sqlite", ".sqlite3")
PACKED = (".xlsx", ".xlsm", ".ods", ".parquet")

_BOOKS = (".xlsx", ".xlsm", ".ods")
_EXPORT = ".xls"
"""What sites call an export that is a web page, a text or a workbook."""
_OLD = rb"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1"
_SIGNS = (
    (_OLD, "an old workbook (.xls), or one locked with a password", "the same saved as .xlsx or .csv", _BOOKS),
    (rb"PK\x03\x04", "a workbook, or another archive", "the same file named .xlsx or .ods, if it is a workbook", _BOOKS),
    (rb"PAR1[\x00-\x1f]", "a Parquet file", "the same file named .parquet", (".parquet",)),
    (rb"\x1f\x8b", "gzipped bytes", "the same file named .csv.gz", ()),
    (rb"SQLite format 3\0", "a SQLite database", "sqlite:///PATH for its records, or a list exported from it", ()),
    (rb"%PDF-", "a PDF", "the list it was printed from", ()),
    (rb"\x89PNG|\xff\xd8\xff", "a picture", "the list that it shows", ()),
    (rb"\{\\rtf", "a text of a word processor", "its table saved as .csv", ()),
    (
        rb"(?i)(<\?xml[^>]*>\s*)?(<!--.*?-->\s*)*<(!doctype\s+html|html|head|meta|title|style|link|script|body|div|table)\b",
        "a web page (what a site shows to those who are not signed in, or a table of one)",
        "the list itself, saved as .csv or .xlsx; or the same file named .html, if the list is a table of it",
        PAGES,
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
    head = _begin(head)
    for sign, what, accepted, suffixes in _SIGNS:
        if kind not in suffixes and re.match(sign, head, re.DOTALL):
            raise InputError(f"{path}: holds {what}, though its name ends in {kind}; accepted: {accepted}")


def _begin(head: bytes) -> bytes:
    """The first bytes that say something."""
    return head.removeprefix(b"\xef\xbb\xbf").lstrip(b" \t\r\n")


class Format(NamedTuple):
    """What a file to be read is, going by its name, and by its first bytes where the name does not tell.

    kind   : the suffix a file of its format has
    packed : "gz", "zip", or "" for neither
    inside : the list's name in a zip
    """

    kind: str
    packed: str = ""
    inside: str = ""


def format_of(path: Path, more: tuple[str, ...] = ()) -> tuple[str, bool]:
    """A file's format by its suffix, and whether it is gzipped. Raises InputError for a suffix no format is known for.

    more : suffixes that are accepted as well, and told apart by who asks
    """
    kind, gzipped = _suffix(path.name)
    if kind not in TEXTS + LINES + JSON + CARDS + (() if gzipped else PACKED):
        if path.suffix.lower() in _STORES:
            raise InputError(f"{path}: a list is wanted here, not a database; as a store it is named sqlite:///{path}")
        known = ", ".join((*TEXTS, *LINES, *JSON, *CARDS, *PACKED, *more))
        raise InputError(
            f'{path}: no format known for "{path.suffix or path.name}"; accepted: {known}; the text ones also with .gz'
        )
    return kind, gzipped


def check_list(path: Path) -> Format:
    """The format of a file to be read. Raises InputError for one that is missing, no file, of no known format, or a zip without one list."""
    if not path.exists():
        raise InputError(f"{path}: no such file")
    if path.is_dir():
        raise InputError(f"{path}: is a folder; name a list in it")
    if not path.is_file():
        raise InputError(f"{path}: is a pipe or a device, and a list is read more than once; save it as a file")
    kind, gzipped = _suffix(path.name)
    if kind in PAGES:
        return Format(kind, "gz" * gzipped)
    try:
        if kind == _EXPORT and not gzipped:
            return Format(_export(path))
        if kind == ".zip" and not gzipped:
            return _zipped(path)
    except OSError as error:
        raise InputError(f"{path}: cannot be read: {error.strerror or error}") from None
    kind, gzipped = format_of(path, (*PAGES, ".zip"))
    return Format(kind, "gz" * gzipped)


def _suffix(name: str) -> tuple[str, bool]:
    """The suffix that tells the format, in small letters, and whether .gz stands behind it."""
    suffixes = [s.lower() for s in Path(name).suffixes]
    gzipped = suffixes[-1:] == [".gz"]
    return ((suffixes[:-1] if gzipped else suffixes)[-1:] or [""])[0], gzipped


def _export(path: Path) -> str:
    """What a file named .xls is by its first bytes: a web page, a workbook of today, or a text. Raises InputError for an old workbook."""
    with path.open("rb") as stream:
        head = _begin(stream.read(FIRST))
    sign, what, accepted, suffixes = next(
        (known for known in _SIGNS if re.match(known[0], head, re.DOTALL)), (b"", "", "", TEXTS[-1:])
    )
    if sign == _OLD or not suffixes:
        raise InputError(f"{path}: holds {what}; accepted: {accepted}")
    return suffixes[0]


def _zipped(path: Path) -> Format:
    """The one list in a zip."""
    try:
        with zipfile.ZipFile(path) as packed:
            held = [
                info for info in packed.infolist() if not info.is_dir() and not re.search(r"(^|/)(\.|__MACOSX/)", info.filename)
            ]
    except DAMAGED as error:
        raise InputError(f"{path}: the zip file is damaged ({error}); pack it again") from None
    names = [info.filename for info in held]
    # Beside a list a text is what is to be read about it.
    lists = [name for name in names if len(names) == 1 or not name.lower().endswith(".txt")]
    kind, gzipped = _suffix(lists[0]) if len(lists) == 1 else ("", False)
    if kind not in _ZIPPED or gzipped:
        shown = ", ".join(names[:5]) + (", ..." if len(names) > 5 else "")
        raise InputError(
            f"{path}: holds {shown or 'nothing'}; accepted: a zip with one list in it ({', '.join(_ZIPPED)}), or the list itself"
        )
    if any(info.flag_bits & _LOCKED for info in held):
        raise InputError(f"{path}: is locked with a password; accepted: the list itself, or a zip without one")
    return Format(kind, "zip", lists[0])


def check_lists(*sources: str) -> None:
    """Raises InputError for a source that is no store's URL and no file that could be read; nothing is opened but what its name does not tell."""
    for source in sources:
        if "://" not in source:
            check_list(Path(source))
