"""`brujula policy`."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from brujula.cli import options, show

app = typer.Typer(no_args_is_help=True, help="Write a starting policy, check one, show what it means.", rich_markup_mode=None)


@app.command("check")
def check_policy(
    file: Annotated[Path, typer.Argument(metavar="FILE", help="A policy (TOML).")], as_entity: options.AsEntity = None
) -> None:
    """Say whether a policy can be used; name every mistake."""
    from brujula.policy.read import read_policy

    policy = read_policy(file, options.entity(as_entity))
    show.console().print(
        f"{file}: a policy for {policy.entity}s, {len(policy.columns)} columns, {len(policy.rule)} rules", markup=False
    )


@app.command("show")
def show_policy(
    file: Annotated[Path | None, typer.Argument(metavar="FILE", help="A policy; the default one when left out.")] = None,
    as_entity: options.AsEntity = None,
) -> None:
    """What a policy does, in plain words."""
    from brujula.policy.read import default_policy, read_policy
    from brujula.policy.words import in_words

    entity = options.entity(as_entity)
    policy = read_policy(file, entity) if file else default_policy(entity or "contact")
    for line in in_words(policy):
        show.console().print(line, markup=False)
