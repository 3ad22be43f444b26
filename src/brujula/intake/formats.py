"""Which formats lists may have, found out before anything is read."""

from __future__ import annotations

from pathlib import Path

from brujula.errors import InputError

TEXTS = (".csv", ".tsv", ".txt")
LINES = (".jsonl", ".ndjson")
JSON = (".json",)
CARDS = (".vcf", ".vcard")
PACKED = (".xlsx", ".xlsm", ".ods", ".parquet")


def format_of(path: Path) -> tuple[str, bool]:
    """A file's format by its suffix, and whether it is gzipped. Raises InputError for a suffix no format is known for."""
    suffixes = [s.lower() for s in path.suffixes]
    gzipped = bool(suffixes) and suffixes[-1] == ".gz"
    kind = ((suffixes[:-1] if gzipped else suffixes)[-1:] or [""])[0]
    if kind not in TEXTS + LINES + JSON + CARDS + (() if gzipped else PACKED):
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
