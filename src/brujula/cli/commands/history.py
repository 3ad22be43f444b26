"""`brujula history`."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated

import typer

from brujula.cli import options, show


def history(
    store: Annotated[str, typer.Argument(metavar="STORE", help="The store's URL.")],
    load: Annotated[str | None, typer.Argument(metavar="LOAD", help="A load, for every value it wrote.")] = None,
    record: Annotated[str | None, typer.Option("--record", metavar="ID", help="A record, for all that loads did to it.")] = None,
    json: options.Json = False,
) -> None:
    """Loads so far, their counts and states; or what one load wrote, or what became of one record."""
    from brujula.loading.journal import changes_of, history as loads_of

    if load or record:
        found = changes_of(store, load or "", record or "")
        if json:
            show.as_json(found)
            return
        show.rows(found, 200)
        show.console().print(f"{len(found):,} entries of {record or load}", markup=False)
        return
    loads = loads_of(store)
    if json:
        show.as_json([asdict(x) for x in loads])
        return
    if not loads:
        show.console().print("No loads yet.")
        return
    rows = [
        (
            x.id,
            x.loaded_at[:16].replace("T", " "),
            x.who,
            x.entity,
            f"{x.created:,}",
            f"{x.updated:,}",
            f"{x.merged:,}",
            x.state + (f" {x.undone_at[:16].replace('T', ' ')}" if x.undone_at else ""),
            x.list,
        )
        for x in loads
    ]
    show.console().print(
        show.table(
            ("load", "when (UTC)", "who", "entity", "created", "updated", "merged", "state", "list"),
            rows,
            right=(4, 5, 6),
            wide=8,
        )
    )
