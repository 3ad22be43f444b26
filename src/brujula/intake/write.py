"""Writing lists in the formats they are read in; the file appears only when complete."""

from __future__ import annotations

import gzip
import json
import os
import tempfile
from pathlib import Path

import pyarrow as pa
import pyarrow.csv as pacsv

from brujula.errors import InputError
from brujula.intake.formats import CARDS, LINES, format_of

_SHEET_ROWS = 1_048_575


def write_list(table: pa.Table, path: Path) -> None:
    """Write text columns in the format the suffix names: CSV, TSV, XLSX, JSON Lines, Parquet, vCard; the text ones also gzipped.

    Raises InputError for a suffix no format is known for, a folder that cannot be written to, or more rows than a sheet holds.
    """
    kind, gzipped = format_of(path)
    if kind in (".ods", ".xlsm", ".json"):
        raise InputError(f"{path}: {kind} is read, not written; name {'a .jsonl' if kind == '.json' else 'an .xlsx'}")
    try:
        handle, beside = tempfile.mkstemp(prefix=f".{path.name}-", suffix=kind, dir=path.parent)
        os.close(handle)
    except OSError as error:
        raise InputError(f"{path}: cannot be written: {error.strerror}") from None
    try:
        _write(table, Path(beside), kind)
        if gzipped:
            data = Path(beside).read_bytes()
            Path(beside).write_bytes(gzip.compress(data, mtime=0))
        Path(beside).chmod(0o644)
        Path(beside).replace(path)
    except BaseException:
        Path(beside).unlink(missing_ok=True)
        raise


def _write(table: pa.Table, path: Path, kind: str) -> None:
    if kind == ".parquet":
        import pyarrow.parquet as pq

        pq.write_table(table, path)
    elif kind == ".xlsx":
        write_workbook(table, path)
    elif kind in LINES:
        with path.open("w", encoding="utf-8") as out:
            for batch in table.to_batches(10_000):
                out.writelines(json.dumps(row, ensure_ascii=False) + "\n" for row in batch.to_pylist())
    elif kind in CARDS:
        from brujula.intake.vcard import write_cards

        path.write_text(write_cards(table), "utf-8", newline="")
    else:
        write_csv(table, path, "," if kind == ".csv" else "\t")


def write_csv(table: pa.Table, path: Path, delimiter: str = ",") -> None:
    """A table as RFC 4180 text, UTF-8, quoted where needed."""
    with path.open("wb") as out:
        out.write((delimiter.join(_quoted(n, delimiter) for n in table.column_names) + "\n").encode())
        pacsv.write_csv(table, out, pacsv.WriteOptions(include_header=False, quoting_style="needed", delimiter=delimiter))


def _quoted(text: str, delimiter: str) -> str:
    plain = not any(c in text for c in ('"', delimiter, "\n", "\r"))
    return text if plain else '"' + text.replace('"', '""') + '"'


def write_workbook(table: pa.Table, path: Path) -> None:
    """One sheet, every cell as text: nothing a list holds becomes a formula, a link or a number. Raises InputError for too many rows."""
    import xlsxwriter

    if table.num_rows > _SHEET_ROWS:
        raise InputError(f"{path}: a sheet holds {_SHEET_ROWS:,} rows, the list has {table.num_rows:,}; name a .csv or .parquet")
    plain = {"strings_to_formulas": False, "strings_to_urls": False, "strings_to_numbers": False, "constant_memory": True}
    with xlsxwriter.Workbook(str(path), plain) as book:
        sheet = book.add_worksheet("list")
        bold, text = book.add_format({"bold": True, "num_format": "@"}), book.add_format({"num_format": "@"})
        sheet.freeze_panes(1, 0)
        for i, name in enumerate(table.column_names):
            sheet.write_string(0, i, name[:32_767], bold)
        for r, row in enumerate(zip(*(c.to_pylist() for c in table.columns), strict=True), 1):
            for i, value in enumerate(row):
                if value:
                    sheet.write_string(r, i, str(value)[:32_767], text)
