"""`brujula export`."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer
from rich.markup import escape

from brujula.cli import options, show


def export(
    store: Annotated[str, typer.Argument(metavar="STORE", help="The store's URL.")],
    out: Annotated[
        Path,
        typer.Option(
            "--out",
            metavar="FILE",
            help="The file to write; its suffix names the format: .csv, .tsv, .xlsx, .jsonl, .parquet, .vcf.",
        ),
    ],
    as_entity: options.AsEntity = None,
) -> None:
    """All of a store's contacts (or accounts) as a list, ids included: fit to be edited and brought back."""
    import pyarrow.compute as pc

    from brujula.intake.write import write_list
    from brujula.stores import open_store

    entity = options.entity(as_entity) or "contact"
    with open_store(store) as opened:
        records = opened.read(entity)
    used = [c for c in records.column_names if c == "id" or pc.any(pc.not_equal(records[c], "")).as_py()]
    write_list(records.select(used), out)
    show.console().print(f"{records.num_rows:,} {entity}s in {escape(str(out))}")
