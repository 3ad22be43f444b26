"""`brujula plan`."""

from __future__ import annotations

from typing import Annotated

import typer

from brujula.cli import options, show


def plan(
    incoming: Annotated[str, typer.Argument(metavar="INCOMING", help="The list to decide on: a file.")],
    against: options.Against,
    out: options.Out,
    policy: options.PolicyFile = None,
    as_entity: options.AsEntity = None,
    json: options.Json = False,
) -> None:
    """Decide what becomes of every row, and write the plan folder. Nothing else is touched."""
    from brujula.core.kernels.ready import compile_kernels

    entity = options.entity(as_entity)
    compile_kernels(show.notice)
    from brujula import run
    from brujula.loading.folder import summary

    with show.steps() as on_step:
        made = run.plan(incoming, against, str(policy) if policy else None, entity, on_step)
        on_step("writing the plan folder")
        made.write(out)
    found = summary(made)
    show.as_json(found) if json else show.summary(found, str(out))
    if made.counts["review"] or made.counts["reject"]:
        raise typer.Exit(1)
