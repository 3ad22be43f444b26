"""`brujula policy`."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from brujula.cli import options, show

app = typer.Typer(no_args_is_help=True, help="Write a starting policy, check one, show what it means.", rich_markup_mode=None)


@app.command("new")
def new_policy(
    source: Annotated[Path, typer.Argument(metavar="LIST", help="A list such as the policy is for.")],
    out: Annotated[Path, typer.Option("--out", metavar="FILE", help="The policy file to write; it must not exist.")],
    as_entity: options.AsEntity = None,
) -> None:
    """Write a commented starting policy: every column with the field it would be taken for."""
    from brujula.errors import UsageError
    from brujula.intake.read import read_list
    from brujula.policy.starting import starting_policy

    text = starting_policy(read_list(source), options.entity(as_entity))
    try:
        with out.open("x", encoding="utf-8") as stream:
            stream.write(text)
    except FileExistsError:
        raise UsageError(f"{out}: there already; name another file, or remove it") from None
    show.console().print(
        f"{out} written; change what is wrong in it, then: brujula plan {source} --policy {out} ...", markup=False
    )


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
