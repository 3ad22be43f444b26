"""Reading lists: delimiter, encoding and header found; every cell kept verbatim."""

from __future__ import annotations

import csv
import gzip
import io
import re
import zlib
from collections import Counter
from dataclasses import dataclass, field
from pathlib import Path

import pyarrow as pa
import pyarrow.csv as pacsv

from brujula.errors import InputError
from brujula.policy.model import ListPolicy
from brujula.problems import Problem

_DELIMITERS = {",": "comma", ";": "semicolon", "\t": "tab", "|": "pipe"}
_SUFFIXES = (".csv", ".tsv", ".txt")
_LINES = (".jsonl", ".ndjson")
_PACKED = (".xlsx", ".xlsm", ".ods", ".parquet")
_MOST_BYTES = 8 << 30


@dataclass(frozen=True)
class RawList:
    """A list as it was read.

    name     : how messages call it
    table    : every column as text, cells verbatim, headings as they stand
    notes    : what was taken for what, for the steward to see
    problems : rows that were short, too long or could not be read
    """

    name: str
    table: pa.Table
    notes: tuple[str, ...] = ()
    problems: tuple[Problem, ...] = field(default=())


def read_list(path: str | Path, how: ListPolicy | None = None) -> RawList:
    """Read a list: CSV or TSV text and JSON Lines, each plain or gzipped; a workbook; Parquet.

    Raises InputError for a file that is missing, empty, of another format, damaged, or larger than 8 GiB unpacked.
    """
    path, how = Path(path), how or ListPolicy()
    suffixes = [s.lower() for s in path.suffixes]
    if not path.exists():
        raise InputError(f"{path}: no such file")
    if path.is_dir():
        raise InputError(f"{path}: is a folder; name a list in it")
    gzipped = bool(suffixes) and suffixes[-1] == ".gz"
    kind = (suffixes[:-1] if gzipped else suffixes)[-1:] or [""]
    if kind[0] not in _SUFFIXES + _LINES + (() if gzipped else _PACKED):
        known = ", ".join((*_SUFFIXES, *_LINES, *_PACKED))
        raise InputError(
            f'{path}: no format known for "{path.suffix or path.name}"; accepted: {known}; the text ones also with .gz'
        )
    from brujula.intake import formats

    if kind[0] == ".parquet":
        return formats.read_parquet(path)
    if kind[0] in _PACKED:
        return formats.read_workbook(path, how.sheet, how.header_row)
    data = _bytes(path, gzipped)
    if not data.strip(b"\xef\xbb\xbf\xff\xfe \r\n\t\0"):
        raise InputError(f"{path}: the file is empty; accepted: a header row, then a row for each record")
    return formats.read_json_lines(path, data) if kind[0] in _LINES else _read_text(path, data, how, kind[0])


def _read_text(path: Path, data: bytes, how: ListPolicy, suffix: str) -> RawList:
    """A delimited text."""
    text, encoding = _decode(path, data, how.encoding)
    told = re.match(r"(?i)sep=(.)\r?\n", text)
    text = text[told.end() :] if told else text
    delimiter = how.delimiter or (told[1] if told else _delimiter(text, suffix))
    skipped, header, body = _header(path, text, delimiter, how.header_row)
    names = headings(header)
    table, problems = _table(body, names, delimiter)
    notes = [f"{_DELIMITERS.get(delimiter, repr(delimiter))}-separated, {encoding}"]
    if skipped:
        notes.append(f"header found in line {skipped + 1}; {skipped} line{'s' * (skipped > 1)} above it passed over")
    return RawList(str(path), table, tuple(notes), tuple(problems))


def _bytes(path: Path, gzipped: bool) -> bytes:
    try:
        if not gzipped:
            if path.stat().st_size > _MOST_BYTES:
                raise InputError(f"{path}: larger than {_MOST_BYTES >> 30} GiB; split it")
            return path.read_bytes()
        with gzip.open(path) as stream:
            data = stream.read(_MOST_BYTES + 1)
        if len(data) > _MOST_BYTES:
            raise InputError(f"{path}: unpacks to more than {_MOST_BYTES >> 30} GiB; split it")
        return data
    except (gzip.BadGzipFile, EOFError, zlib.error) as error:
        raise InputError(f"{path}: the gzip file is damaged ({error}); pack it again") from None
    except OSError as error:
        raise InputError(f"{path}: cannot be read: {error.strerror}") from None


def _decode(path: Path, data: bytes, told: str | None) -> tuple[str, str]:
    """The text, and the name of the encoding taken."""
    if told:
        try:
            return data.decode(told).lstrip("\ufeff"), told
        except (UnicodeDecodeError, LookupError) as error:
            raise InputError(f"{path}: cannot be read as {told}, as the policy says: {error}") from None
    for mark, encoding in ((b"\xef\xbb\xbf", "utf-8-sig"), (b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16")):
        if data.startswith(mark):
            try:
                return data.decode(encoding), encoding.replace("-sig", "")
            except UnicodeDecodeError as error:
                raise InputError(f"{path}: begins as {encoding} but is damaged at byte {error.start}") from None
    try:
        return data.decode("utf-8"), "utf-8"
    except UnicodeDecodeError:
        pass
    try:
        return data.decode("cp1252"), "windows-1252 (it is not UTF-8)"
    except UnicodeDecodeError:
        return data.decode("latin-1"), "latin-1 (it is neither UTF-8 nor windows-1252)"


def _delimiter(text: str, suffix: str) -> str:
    """The delimiter by which most of the first lines fall into the same number of cells, more than one."""
    first = text[: text.find("\n", 65_536) + 1 or 131_072].splitlines()
    best, score = "\t" if suffix == ".tsv" else ",", 0.0
    for delimiter in _DELIMITERS:
        widths = Counter(len(row) for row in csv.reader(first[:200], delimiter=delimiter) if row)
        width, count = max(widths.items(), key=lambda w: (w[1] * (w[0] > 1), w[0]), default=(1, 0))
        found = count / max(sum(widths.values()), 1) * (width > 1) + min(width, 50) / 1000
        if width > 1 and found > score:
            best, score = delimiter, found
    return best


def _header(path: Path, text: str, delimiter: str, told: int | None) -> tuple[int, list[str], str]:
    """Lines above the header, the header's cells, and the text below it."""
    stream = io.StringIO(text, newline="")
    reader = csv.reader(stream, delimiter=delimiter)
    rows: list[tuple[int, list[str]]] = []
    try:
        for row in reader:
            rows.append((reader.line_num, row))
            if len(rows) >= 60:
                break
    except csv.Error as error:
        name = _DELIMITERS.get(delimiter, delimiter)
        raise InputError(f"{path}, line {reader.line_num}: {error}; is it a {name}-separated text file?") from None
    chosen = header_row(str(path), rows, told)
    stream.seek(0)
    for _ in range(rows[chosen][0]):
        stream.readline()
    return rows[chosen - 1][0] if chosen else 0, rows[chosen][1], text[stream.tell() :]


def header_row(name: str, rows: list[tuple[int, list[str]]], told: int | None) -> int:
    """Index of the header among the first rows, each with its line number.

    The header is the first row with as many cells as rows usually have, at least half of them filled.
    Raises InputError when the policy names a line the file does not have.
    """
    if told:
        chosen = next((i for i, (line, _) in enumerate(rows) if line >= told), None)
        if chosen is None:
            raise InputError(f"{name}: list.header_row says {told}, the file has {len(rows)} rows")
        return chosen
    full = [sum(bool(c.strip()) for c in row) for _, row in rows[:60]]
    widest = max(Counter(n for n in full if n).items(), key=lambda w: (w[1], w[0]), default=(1, 0))[0]
    width = max(Counter(len(r) for _, r in rows[:60] if r).items(), key=lambda w: (w[1], w[0]), default=(1, 0))[0]
    return next(
        (i for i, n in enumerate(full) if n >= max(0.5 * widest, 1) and (n > 1 or widest == 1) and len(rows[i][1]) >= width), 0
    )


def limit(text: str, most: int = 80) -> str:
    """A text cut for a message."""
    return text if len(text) <= most else text[: most - 1] + "…"


def headings(header: list[str]) -> list[str]:
    """Headings made distinct: an empty one is named by its place, a repeated one numbered."""
    seen: Counter[str] = Counter()
    names = []
    for i, cell in enumerate(header):
        name = cell.strip().lstrip("\ufeff") or f"column {i + 1}"
        seen[name] += 1
        names.append(name if seen[name] == 1 else f"{name} ({seen[name]})")
    return names


def _table(body: str, names: list[str], delimiter: str) -> tuple[pa.Table, list[Problem]]:
    """Rows below the header as text columns; short and long rows are told."""
    kinds = dict.fromkeys(names, pa.large_string())
    if not body.strip():
        return pa.table({n: pa.array([], pa.large_string()) for n in names}), []
    if "\0" not in body:
        try:
            table = pacsv.read_csv(
                io.BytesIO(body.encode()),
                read_options=pacsv.ReadOptions(column_names=names, block_size=8 << 20),
                parse_options=pacsv.ParseOptions(delimiter=delimiter, newlines_in_values=True),
                convert_options=pacsv.ConvertOptions(column_types=kinds, strings_can_be_null=False),
            )
            return table.combine_chunks(), []
        except pa.ArrowInvalid:
            pass
    return _table_slowly(body, names, delimiter)


def _table_slowly(body: str, names: list[str], delimiter: str) -> tuple[pa.Table, list[Problem]]:
    """The same, row by row, for files with ragged rows."""
    csv.field_size_limit(1 << 24)
    rows: list[list[str]] = []
    problems: list[Problem] = []
    for cells in csv.reader(io.StringIO(body.replace("\0", ""), newline=""), delimiter=delimiter):
        if not cells:
            continue
        number = len(rows) + 1
        if len(cells) < len(names):
            problems.append(Problem("short-row", number, value=str(len(cells))))
            cells += [""] * (len(names) - len(cells))
        elif len(cells) > len(names):
            extra = [c for c in cells[len(names) :] if c.strip()]
            if extra:
                problems.append(Problem("wrong-cells", number, value=extra[0], column=f"cell {len(names) + 1}", fatal=True))
            cells = [*cells[: len(names) - 1], delimiter.join(cells[len(names) - 1 :])] if extra else cells[: len(names)]
        rows.append(cells)
    columns = list(zip(*rows, strict=True)) if rows else [()] * len(names)
    return pa.table({n: pa.array(c, pa.large_string()) for n, c in zip(names, columns, strict=True)}), problems
