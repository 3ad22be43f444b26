"""A plan folder opened again: its summary and its tables."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pyarrow as pa
import pyarrow.csv as pacsv

from brujula.errors import PlanError
from brujula.loading.place import SUMMARY

FORMAT = 1
ACCOUNTS = "accounts"
"""The folder, inside that of a plan of contacts, of the plan of their accounts."""


def read_summary(folder: Path) -> dict[str, Any]:
    """The summary of a plan folder. Raises PlanError when it is none."""
    if not folder.is_dir():
        raise PlanError(f"{folder}: no such plan folder; `brujula plan ... --out {folder}` writes one")
    try:
        found: dict[str, Any] = json.loads((folder / SUMMARY).read_text("utf-8"))
    except FileNotFoundError:
        raise PlanError(f"{folder}: no {SUMMARY} in it, so it is no plan folder") from None
    except ValueError as error:
        raise PlanError(f"{folder}/{SUMMARY}: damaged ({error}); plan again") from None
    if found.get("format") != FORMAT:
        raise PlanError(f"{folder}/{SUMMARY}: format {found.get('format')}; this version reads format {FORMAT}; plan again")
    return found


def read_table(folder: Path, name: str) -> pa.Table:
    """One CSV file of a plan folder as text columns. Raises PlanError when it is missing or damaged."""
    path = folder / f"{name}.csv"
    try:
        with path.open("rb") as stream:
            header = stream.readline().decode().strip().split(",")
        kinds = {h.strip('"'): pa.large_string() for h in header}
        return pacsv.read_csv(
            path,
            parse_options=pacsv.ParseOptions(newlines_in_values=True),
            convert_options=pacsv.ConvertOptions(column_types=kinds, strings_can_be_null=False),
        )
    except (FileNotFoundError, pa.ArrowInvalid) as error:
        raise PlanError(
            f"{path}: {'missing' if isinstance(error, FileNotFoundError) else f'damaged ({error})'}; plan again"
        ) from None
