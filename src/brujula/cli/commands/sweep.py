"""`brujula sweep`."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer
from rich.markup import escape

from brujula.cli import begin, options, show


def sweep(
    existing: Annotated[str, typer.Argument(metavar="EXISTING", help="Existing records: a file, or a store's URL.")],
    out: options.Out,
    policy: options.PolicyFile = None,
    as_entity: options.AsEntity = None,
    since: Annotated[
        Path | None,
        typer.Option(
            "--since",
            metavar="DIR",
            help="The folder of an earlier sweep: look only at what is new or changed since, against all.",
        ),
    ] = None,
    json: options.Json = False,
) -> None:
    """Find duplicates among the existing records, as a plan of merges."""
    from brujula.intake.formats import check_lists
    from brujula.loading.place import check_place

    entity = options.entity(as_entity)
    check_place(out)
    check_lists(existing)
    begin.matching(draws=True)
    from brujula import run
    from brujula.loading.folder import summary

    with show.steps() as on_step:
        made = run.sweep(existing, str(policy) if policy else None, entity, on_step, since=since)
        made.write(out)
    found = summary(made)
    unsure = made.pairs_table["verdict"].to_pylist().count("unsure")
    if json:
        show.as_json(found)
        raise typer.Exit(1 if unsure else 0)
    merges = found["actions"]["merge"]
    gone = sum(len(ids.split(";")) for ids in made.actions_table["merged_ids"].to_pylist())
    show.console().print(
        f"[bold]{found['existing_records']:,} {found['entity']}s[/bold]: {merges:,} groups of duplicates; merging them would remove {gone:,} "
        f"records and write {found['fields_written']:,} values. {unsure:,} pairs are left open.\nPlan in [bold]{escape(str(out))}[/bold]: "
        "groups.csv for who is with whom, report.html to read."
    )
    if unsure:
        raise typer.Exit(1)
