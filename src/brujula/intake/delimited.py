"""Delimited text (RFC 4180 and its neighbours): delimiter, encoding and header found; ragged rows told."""

from __future__ import annotations

import csv
import io
import re
from collections import Counter
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import NamedTuple

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
import pyarrow.csv as pacsv
from numpy.typing import NDArray

from brujula.core.kernels.text import survey
from brujula.core.steps.parallel import spread
from brujula.errors import InputError
from brujula.intake import fixed, no_records, raw
from brujula.intake.encodings import decoded, guessed, marked
from brujula.intake.raw import MOST_CELL, RawList, limit
from brujula.policy.model import ListPolicy
from brujula.problems import Problem

DELIMITERS = {",": "comma", ";": "semicolon", "\t": "tab", "|": "pipe"}
_HEAD = 1 << 18
_BLOCK = 4 << 20
_FEW_LINES = 20
_ONE_CELL = re.compile(r'\s*"(?:[^"]|"")*"\s*')
_OPEN_LINES = 200  # a quoted cell over more lines than this was never closed
_OPEN_CELL = 32_768  # bytes: a longer quoted cell may be one that was never closed, so it is looked at line by line


def read_delimited(path: Path, data: bytes | None, how: ListPolicy, suffix: str) -> RawList:
    """A delimited text. data : the file's bytes where they were unpacked already; else the file is read as it is needed.

    UTF-8 goes from the file to columns without a copy; anything else is made UTF-8 first.
    Raises InputError for a text that cannot be read as the policy says, or holds nothing.
    """
    head = data[:_HEAD] if data is not None else _first(path, _HEAD)
    if not head.strip(b"\xef\xbb\xbf\xff\xfe \r\n\t\0"):
        raise InputError(f"{path}: the file is empty; accepted: a header row, then a row for each record")
    notes: list[str] = []
    encoding = how.encoding or marked(head)
    unicode = encoding.replace("_", "-").lower() in ("utf-8", "utf8", "utf-8-sig")
    held = _survey(path, data)
    if not unicode or held.nulls:
        data = _made_unicode(path, data, encoding, bool(how.encoding))
        if held.nulls and unicode:
            notes.append("NUL bytes left out")
        held = _survey(path, data)
    try:
        if held.wrong:
            raise UnicodeError
        return _read(path, data, how, suffix, "utf-8" if unicode else encoding, notes, held)
    except UnicodeError:
        if how.encoding:
            raise InputError(
                f"{path}: cannot be read as {encoding}, as the policy says; it holds bytes that are no {encoding}"
            ) from None
        text, encoding = guessed(data if data is not None else path.read_bytes())
        data = text.encode()
        return _read(path, data, how, suffix, encoding, notes, _survey(path, data))


def _read(
    path: Path, data: bytes | None, how: ListPolicy, suffix: str, encoding: str, notes: list[str], held: _Survey
) -> RawList:
    """The list, from UTF-8. Raises UnicodeError when it is not."""
    head = data[:_HEAD] if data is not None else _first(path, _HEAD)
    notes, foreign = notes.copy(), not encoding.startswith(("utf", "UTF"))
    start = 3 if head.startswith(b"\xef\xbb\xbf") else 0
    text = head[start:].decode("utf-8", "ignore")
    if not how.delimiter and _is_quoted_whole(text) and (inside := _inside(path, data, start)):
        again = [*notes, "each line was quoted as one cell; what stands in it was read"]
        return _read(path, inside, how, suffix, encoding, again, _survey(path, inside))
    told = re.match(r"(?i)sep=(.)\r?\n", text)
    start += len(told[0].encode()) if told else 0
    text = text[told.end() :] if told else text
    delimiter = how.delimiter or (told[1] if told else _delimiter(text, suffix))
    skipped, header, below, high = _header(path, text, delimiter, how.header_row)
    if not how.delimiter and (
        printed := _printed(path, data, start, text, skipped if header and header[0] and len(header) == 1 else -1, encoding)
    ):
        return replace(printed, notes=(*printed.notes, *notes))
    first_line = bool(told) + text[:below].count("\n")
    notes.insert(0, f"{DELIMITERS.get(delimiter, repr(delimiter))}-separated, {encoding}")
    notes += raw.above(skipped + 1, skipped, high, "line")
    start += len(text[:below].encode())
    names = raw.headings(str(path), header)
    table, problems, lines = _table(path, data, start, names, delimiter, held.quotes)
    if lines is None and table.num_rows == held.lines + (not _ends_in_line(path, data)) - first_line:
        lines = np.arange(table.num_rows)
    found = RawList(str(path), table, tuple(notes), tuple(problems), None if lines is None else lines + first_line + 1)
    found = raw.without_blank_rows(found)
    return no_records.told(raw.wrong_characters(found, foreign) if foreign or held.twice else found)


def _is_quoted_whole(text: str) -> bool:
    """Whether each of the first lines is one quoted cell that holds a line of cells, as a text does that was saved once more from a single column."""
    lines = [line for line in text[: text.rfind("\n") + 1].splitlines()[:_FEW_LINES] if line.strip()]
    if len(lines) < 2 or not all(_ONE_CELL.fullmatch(line) for line in lines):
        return False
    inner = [line.strip()[1:-1].replace('""', '"') for line in lines]
    try:
        widths = {len(row) for row in csv.reader(inner, delimiter=_delimiter("\n".join(inner), ""))}
    except csv.Error:
        return False
    # "Quist, Ada" is one cell: twice quoted, or of many cells.
    return len(widths) == 1 and min(widths) > 1 and (min(widths) > 3 or sum('""' in line for line in lines) > len(lines) / 2)


def _inside(path: Path, data: bytes | None, start: int) -> bytes:
    """What stands in the one cell of each line; nothing where some line has more cells, or cannot be read."""
    try:
        rows = list(csv.reader(io.StringIO(b"".join(_blocks(path, data, start)).decode(), newline="")))
    except csv.Error:
        return b""
    return b"" if any(len(row) > 1 for row in rows) else "".join(f"{row[0] if row else ''}\n" for row in rows).encode()


def _printed(path: Path, data: bytes | None, start: int, text: str, skipped: int, encoding: str) -> RawList | None:
    """A text that nothing delimits, as it is printed: mail addresses one after another, or columns of a fixed width. skipped : lines above the headings, -1 = columns there are"""
    listed = bool(fixed.addresses("\n".join(text.splitlines()[:_FEW_LINES])))
    if not listed and (skipped < 0 or not fixed.starts(text.splitlines()[skipped:])):
        return None
    whole = b"".join(_blocks(path, data, start)).decode()
    if listed and (mailboxes := fixed.addresses(whole)):
        names = ["name", "mail address"]
        return RawList(str(path), raw.text_table(names, mailboxes), (f"mail addresses one after another, {encoding}",))
    lines = whole.splitlines()[max(skipped, 0) :]
    if not (at := fixed.starts(lines)):
        return None
    rows = [(n, line) for n, line in enumerate(lines[1:], skipped + 2) if line.strip() and not fixed.is_rule(line)]
    table = raw.text_table(raw.headings(str(path), fixed.cut(lines[0], at)), [fixed.cut(line, at) for _, line in rows])
    found = RawList(str(path), table, (f"columns of a fixed width, {encoding}",), (), np.array([n for n, _ in rows], np.int64))
    return no_records.told(found)


def _first(path: Path, most: int) -> bytes:
    with path.open("rb") as stream:
        return stream.read(most)


def _blocks(path: Path, data: bytes | None, start: int = 0) -> Iterator[bytes]:
    """The bytes in blocks, from the file or from memory."""
    if data is not None:
        yield data[start:]
        return
    with path.open("rb") as stream:
        stream.seek(start)
        while block := stream.read(_BLOCK):
            yield block


class _Survey(NamedTuple):
    """What a file holds, counted in one go over its bytes."""

    nulls: int
    lines: int
    quotes: int
    twice: int
    wrong: int


def _survey(path: Path, data: bytes | None) -> _Survey:
    size = len(data) if data is not None else path.stat().st_size
    half = (size // 2 + _BLOCK - 1) // _BLOCK * _BLOCK

    def part(start: int, end: int) -> NDArray[np.int64]:
        found, buffer = np.zeros(5, np.int64), np.empty(_BLOCK, np.uint8)
        with io.BytesIO(data) if data is not None else path.open("rb", buffering=0) as stream:
            stream.seek(start)
            while start < end and (got := stream.readinto(buffer[: end - start].data)):
                survey(buffer[:got], found)
                start += got
        return found

    halves = spread(lambda bounds: part(*bounds), [(0, half), (half, size)])
    found = np.sum(list(halves), axis=0)
    # A block may begin and end inside a letter; the file may not.
    found[4] += _cut_letter(
        data[:1] if data is not None else _first(path, 1), data[-3:] if data is not None else _last(path, size)
    )
    return _Survey(*found.tolist())


def _cut_letter(first: bytes, end: bytes) -> int:
    """Letters of UTF-8 that the beginning or the end of a text cuts through."""
    tail = next((end[i:] for i in reversed(range(len(end))) if end[i] >= 0xC0), b"")
    need = 4 if tail[:1] >= b"\xf0" else 3 if tail[:1] >= b"\xe0" else 2 if tail else 0
    return (first[:1] >= b"\x80" and first[:1] < b"\xc0") + (len(tail) < need)


def _last(path: Path, size: int) -> bytes:
    with path.open("rb") as stream:
        stream.seek(max(size - 3, 0))
        return stream.read()


def _made_unicode(path: Path, data: bytes | None, encoding: str, told: bool) -> bytes:
    """UTF-8 bytes of a text in a named encoding, without NULs."""
    data = data if data is not None else path.read_bytes()
    if encoding == "utf-8":
        return data.replace(b"\0", b"")
    return decoded(path, data, encoding, told).replace("\0", "").encode("utf-8", "replace")


def _ends_in_line(path: Path, data: bytes | None) -> bool:
    if data is not None:
        return data.endswith(b"\n")
    with path.open("rb") as stream:
        stream.seek(-1, io.SEEK_END)
        return stream.read(1) == b"\n"


def _delimiter(text: str, suffix: str) -> str:
    """The delimiter by which most of the first lines fall into the same number of cells, more than one."""
    first = text[: text.find("\n", 65_536) + 1 or 131_072].splitlines()
    best, score = "\t" if suffix == ".tsv" else ",", 0.0
    for delimiter in DELIMITERS:
        try:
            widths = Counter(len(row) for row in csv.reader(first[:200], delimiter=delimiter) if row)
        except csv.Error:
            continue
        width, count = max(widths.items(), key=lambda w: (w[1] * (w[0] > 1), w[0]), default=(1, 0))
        found = count / max(sum(widths.values()), 1) * (width > 1) + min(width, 50) / 1000
        if width > 1 and found > score:
            best, score = delimiter, found
    return best


def _header(path: Path, text: str, delimiter: str, told: int | None) -> tuple[int, list[str], int, int]:
    """Lines above the header, the header's cells (blank: there is none), where the text below it begins, and how many rows the header has."""
    stream = io.StringIO(text, newline="")
    reader = csv.reader(stream, delimiter=delimiter)
    rows: list[tuple[int, list[str]]] = []
    try:
        for row in reader:
            rows.append((reader.line_num, row))
            if len(rows) >= raw.LOOKED_AT:
                break
    except csv.Error as error:
        if not rows:
            name = DELIMITERS.get(delimiter, delimiter)
            raise InputError(f"{path}, line {reader.line_num}: {error}; is it a {name}-separated text file?") from None
    if not rows:
        raise InputError(f"{path}: no row in it; accepted: a header row, then a row for each record")
    chosen, cells, first = raw.header(str(path), rows, told)
    stream.seek(0)
    for _ in range(rows[first - 1][0] if first else 0):
        stream.readline()
    return rows[chosen - 1][0] if chosen else 0, cells, stream.tell(), first - chosen


def _table(
    path: Path, data: bytes | None, start: int, names: list[str], delimiter: str, quotes: int
) -> tuple[pa.Table, list[Problem], np.ndarray | None]:
    """Rows below the header as text columns; short and long rows are told; lines from 0 where they had to be counted."""
    kinds = dict.fromkeys(names, pa.large_string())
    if not any(block.strip() for block in _blocks(path, data, start)):
        return pa.table({n: pa.array([], pa.large_string()) for n in names}), [], None
    odd: list[tuple[int, str]] = []

    def ragged(row: pacsv.InvalidRow) -> str:
        odd.append((row.number or 0, row.text))
        return "skip" if row.number and len(odd) < 50_000 else "error"

    for threads in (True, False):
        odd.clear()
        try:
            with _stream(path, data, start) as stream:
                table = pacsv.read_csv(
                    stream,
                    read_options=pacsv.ReadOptions(column_names=names, block_size=1 << 20, use_threads=threads),
                    parse_options=pacsv.ParseOptions(
                        delimiter=delimiter, newlines_in_values=quotes > 0, invalid_row_handler=ragged
                    ),
                    convert_options=pacsv.ConvertOptions(column_types=kinds, strings_can_be_null=False),
                )
            if quotes % 2 == 0 and _longest(table) < (_OPEN_CELL if quotes else MOST_CELL):
                return (*_put_back(table, odd, names, delimiter), None)
        except pa.ArrowInvalid as error:
            if "UTF8" in str(error):
                raise UnicodeError from None
    return _table_slowly(b"".join(_blocks(path, data, start)).decode("utf-8"), names, delimiter)


def _longest(table: pa.Table) -> int:
    """Bytes of the longest cell."""
    return max((pc.max(pc.binary_length(c)).as_py() or 0 for c in table.columns), default=0)


def _stream(path: Path, data: bytes | None, start: int) -> pa.NativeFile:
    if data is not None:
        return pa.BufferReader(pa.py_buffer(data).slice(start))
    stream = pa.OSFile(str(path))
    stream.seek(start)
    return stream


def _put_back(table: pa.Table, odd: list[tuple[int, str]], names: list[str], delimiter: str) -> tuple[pa.Table, list[Problem]]:
    """The table with its short and long rows in their places. odd : row number from 1, and text, of each."""
    if not odd:
        return table, []
    problems: list[Problem] = []
    rows = []
    for number, text in odd:
        cells = next(iter(csv.reader(io.StringIO(text, newline=""), delimiter=delimiter)), [])
        rows.append(_fitted(cells, number, text, names, delimiter, problems))
    total = table.num_rows + len(odd)
    source = np.empty(total, np.int64)
    mine = np.zeros(total, bool)
    mine[[number - 1 for number, _ in odd]] = True
    source[~mine] = np.arange(table.num_rows)
    source[mine] = table.num_rows + np.arange(len(odd))
    return pa.concat_tables([table, raw.text_table(names, rows)]).take(pa.array(source)), problems


def _fitted(cells: list[str], number: int, text: str, names: list[str], delimiter: str, problems: list[Problem]) -> list[str]:
    """A row made as wide as the header; what was wrong with it is added to the problems."""
    if len(cells) < len(names):
        problems.append(Problem("short-row", number, value=str(len(cells))))
        return cells + [""] * (len(names) - len(cells))
    extra = [c for c in cells[len(names) :] if c.strip()]
    if not extra:
        return cells[: len(names)]
    problems.append(
        Problem("wrong-cells", number, f"cell {len(names) + 1}", limit(extra[0]), fatal=True, text=text.rstrip("\r\n"))
    )
    return [*cells[: len(names) - 1], delimiter.join(cells[len(names) - 1 :])]


def _table_slowly(body: str, names: list[str], delimiter: str) -> tuple[pa.Table, list[Problem], np.ndarray]:
    """The same, row by row, for texts that are no clean CSV: a quote that is never closed costs its line, not the rest."""
    csv.field_size_limit(2 * MOST_CELL)
    rows: list[list[str]] = []
    problems: list[Problem] = []
    lines: list[int] = []
    for line, text, closed in _records(body, delimiter):
        number = len(rows) + 1
        cells = text.rstrip("\r\n").split(delimiter)
        if closed:
            try:
                cells = next(iter(csv.reader(io.StringIO(text, newline=""), delimiter=delimiter)), [])
            except csv.Error:
                closed = False
        if not cells:
            continue
        lines.append(line)
        if not closed or max(map(len, cells)) > MOST_CELL:
            code = "long-cell" if len(text) > MOST_CELL else "open-quote"
            problems.append(Problem(code, number, value=limit(text.strip()), fatal=True, text=text[:MOST_CELL].rstrip("\r\n")))
            rows.append([limit(c, 200) for c in cells[: len(names)]])
        else:
            rows.append(_fitted(cells, number, text, names, delimiter, problems))
    return raw.text_table(names, rows), problems, np.array(lines, np.int64)


def _records(body: str, delimiter: str) -> Iterator[tuple[int, str, bool]]:
    """Line number from 0, text, and whether its quotes are closed, of each record."""
    edge = re.escape(delimiter)
    whole = re.compile(rf'(?:(?<=^)|(?<={edge}))"(?:[^"]|"")*"(?={edge}|[\r\n]*$)')
    opened = re.compile(rf'(?:^|{edge})"')
    lines = io.StringIO(body, newline="").readlines()
    at = 0
    while at < len(lines):
        text, last = lines[at], at + 1
        while '"' in text and len(text) <= MOST_CELL and opened.search(whole.sub("", text)):
            if last >= len(lines) or last - at >= _OPEN_LINES:
                text, last = lines[at], at + 1
                yield at, text, False
                break
            text += lines[last]
            last += 1
        else:
            yield at, text, len(text) <= MOST_CELL
        at = last
