"""`brujula history`."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated

import typer

from brujula.cli import options, show


def history(store: Annotated[str, typer.Argument(metavar="STORE", help="The store's URL.")], json: options.Json = False) -> None:
    """Loads so far, their counts and states."""
    from brujula.loading.journal import history as loads_of

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
