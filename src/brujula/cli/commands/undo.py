"""`brujula undo`."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated

import typer

from brujula.cli import options, show


def undo(
    load: Annotated[
        str, typer.Argument(metavar="LOAD", help="The load to take back: L1, L2, ...; `brujula history` lists them.")
    ],
    into: options.Into,
    keep_newer: Annotated[
        bool, typer.Option("--keep-newer", help="Leave what somebody changed since the load, and take the rest back.")
    ] = False,
    override: Annotated[
        bool, typer.Option("--override", help="Take all of it back, also what somebody changed since the load.")
    ] = False,
    json: options.Json = False,
) -> None:
    """Take a load back: the store is then as it was, value for value."""
    from brujula.loading.undo import undo as take_back

    done = take_back(load, into, keep_newer=keep_newer, override=override)
    if json:
        show.as_json(asdict(done))
        return
    show.console().print(
        f"[bold]{done.id}[/bold] undone: {done.created:,} created records removed, {done.updated:,} updates taken back, "
        f"{done.merged:,} merges taken apart."
    )
