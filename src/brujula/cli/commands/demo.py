"""`brujula demo`."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from brujula.cli import begin


def demo(
    out: Annotated[Path, typer.Option("--out", metavar="DIR", help="The folder to work in.")] = Path("brujula-demo"),
) -> None:
    """The whole job on made-up data: inspect, plan, load, a second plan that finds nothing to do, undo."""
    begin.matching(draws=True)
    from brujula.cli.tour import tour

    tour(out)
