"""Reading lists: which format a file is, and whom to ask; every cell is kept verbatim."""

from __future__ import annotations

import gzip
import re
import zipfile
from contextlib import ExitStack
from dataclasses import replace
from pathlib import Path

from brujula.errors import InputError, path_as_text
from brujula.intake.formats import DAMAGED, FIRST, JSON, LINES, PACKED, PAGES, TEXTS, Format, check_content, check_list
from brujula.intake.raw import BY_PLACE, MOST_BYTES, RawList, found_among_values
from brujula.policy.model import ListPolicy

_VALUE, _FEW = re.compile(r"[\d@]"), 5


def read_list(path: str | Path, how: ListPolicy | None = None) -> RawList:
    """Read a list: CSV or TSV text, JSON, JSON Lines, vCards and tables of web pages, each plain, gzipped or alone in a zip; a workbook; Parquet.

    Where the headings of a text or sheet are values like those below them, they are its first row.

    Raises InputError for a file that is missing, empty, of another format, damaged, or larger than 8 GiB unpacked.
    """
    path, how = Path(path), how or ListPolicy()
    form = check_list(path)
    try:
        if path.stat().st_size > MOST_BYTES:
            raise InputError(f"{path}: larger than {MOST_BYTES >> 30} GiB; split it")
        found = _read(path, form, how)
        if how.header_row is None and form.kind in (*TEXTS, *PACKED, *PAGES) and _has_no_headings(found):
            found = _read(path, form, how.model_copy(update={"header_row": 0}))
        return replace(found, name=path_as_text(path))
    except OSError as error:
        raise InputError(f"{path}: cannot be read: {error.strerror or error}") from None


def _has_no_headings(found: RawList) -> bool:
    """Whether what was taken for headings is a row of values; of many columns asked only where one has a digit or an @ in it, as few headings have, or
    stands among its column's values."""
    among, names = found_among_values(found.table), found.table.column_names
    if len(names) > _FEW and not among and not any(_VALUE.search(h) for h in names if not BY_PLACE.fullmatch(h)):
        return False
    # What headings mean takes the compiler along, for which answers that were filled in need not wait.
    from brujula.intake.headless import headings_are_values

    return headings_are_values(found.table, among)


def _read(path: Path, form: Format, how: ListPolicy) -> RawList:
    kind = form.kind
    data = _unpacked(path, form) if form.packed else None
    check_content(path, _first(path) if data is None else data[:FIRST], kind)
    # Each format is loaded when it is met: a plain text list waits for none of them.
    if kind == ".parquet":
        from brujula.intake.records import read_parquet

        return read_parquet(path)
    if kind in PACKED:
        from brujula.intake.workbook import read_workbook

        return read_workbook(path, how)
    if kind in TEXTS:
        from brujula.intake.delimited import read_delimited

        return read_delimited(path, data, how, kind)
    data = path.read_bytes() if data is None else data
    if not data.strip(b"\xef\xbb\xbf \r\n\t\0"):
        raise InputError(f"{path}: the file is empty; accepted: a record at least")
    if kind in PAGES:
        from brujula.intake.page import read_page

        return read_page(path, data, how)
    if kind in LINES:
        from brujula.intake.records import read_json_lines

        return read_json_lines(path, data, how.encoding)
    if kind in JSON:
        from brujula.intake.records import read_json

        return read_json(path, data, how.encoding)
    from brujula.intake.vcard import read_cards

    return read_cards(path, data, how.encoding)


def _first(path: Path) -> bytes:
    with path.open("rb") as stream:
        return stream.read(FIRST)


def _unpacked(path: Path, form: Format) -> bytes:
    try:
        with ExitStack() as opened:
            stream = (
                opened.enter_context(gzip.open(path))
                if form.packed == "gz"
                else opened.enter_context(opened.enter_context(zipfile.ZipFile(path)).open(form.inside))
            )
            data = stream.read(MOST_BYTES + 1)
    except (gzip.BadGzipFile, *DAMAGED) as error:
        raise InputError(f"{path}: the {form.packed.replace('gz', 'gzip')} file is damaged ({error}); pack it again") from None
    if len(data) > MOST_BYTES:
        raise InputError(f"{path}: unpacks to more than {MOST_BYTES >> 30} GiB; split it")
    return data
