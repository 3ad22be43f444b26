"""`brujula export`."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer
from rich.markup import escape

from brujula.cli import begin, options, show


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
    where: Annotated[
        list[str] | None,
        typer.Option(
            "--where", metavar="CONDITION", help="Only records that meet it, such as 'city is \"Yarrow\"'; may be given again."
        ),
    ] = None,
    as_entity: options.AsEntity = None,
) -> None:
    """A store's contacts (or accounts), all or some, as a list, ids included: fit to be edited and brought back."""
    begin.without_frames()
    import pyarrow as pa
    import pyarrow.compute as pc

    from brujula.intake import conditions
    from brujula.intake.write import write_list
    from brujula.policy.entities import ENTITIES
    from brujula.stores import open_store

    entity = options.entity(as_entity) or "contact"
    with open_store(store) as opened:
        records = opened.read(entity)
    if where:
        conditions.check(where, ENTITIES[entity].fields, "--where")
        held = dict(zip(records.column_names, records.columns, strict=True))
        records = records.filter(pa.array(conditions.meets(where, held, records.num_rows)))
    used = [c for c in records.column_names if c == "id" or pc.any(pc.not_equal(records[c], "")).as_py()]
    write_list(records.select(used), out)
    show.console().print(f"{records.num_rows:,} {entity}s in {escape(str(out))}")
