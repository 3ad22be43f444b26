"""`brujula policy`."""

from __future__ import annotations

from collections import Counter
from pathlib import Path
from typing import Annotated

import typer

from brujula.cli import begin, options, show
from brujula.problems import CATALOGUE

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
    file: Annotated[Path, typer.Argument(metavar="FILE", help="A policy (TOML).")],
    source: Annotated[Path | None, typer.Argument(metavar="LIST", help="A list to hold it against.")] = None,
    as_entity: options.AsEntity = None,
) -> None:
    """Say whether a policy can be used, and fits a list; name every mistake, and every column that is new."""
    from brujula.fitting import check_matching
    from brujula.policy.read import read_policy

    policy = read_policy(file, options.entity(as_entity))
    check_matching(policy)
    out = show.console()
    out.print(f"{file}: a policy for {policy.entity}s, {len(policy.columns)} columns, {len(policy.rule)} rules", markup=False)
    if source is None:
        return
    from brujula.intake.mapping import new_columns, suggest
    from brujula.intake.read import read_list
    from brujula.intake.shape import shape

    raw = read_list(source, policy.list)
    listed = shape(raw, policy, policy.entity)
    out.print(f"{source}: fits; {len(listed.values)} fields from {raw.table.num_columns} columns", markup=False)
    fields = {s.column: s for s in suggest(raw.table, policy.entity)}
    used = {c for c in raw.table.column_names if any(c in (said, *said.split(" + ")) for said in listed.columns.values())}
    for column in new_columns(raw.table, policy.columns):
        taken = next((f for f, said in listed.columns.items() if column in said.split(" + ")), "")
        said = f"taken as {taken}" if column in used else f"left out ({fields[column].why})"
        out.print(f'  the policy says nothing of column "{column}": {said}', markup=False)
    for code, count in Counter(p.code for p in listed.raw.problems).items():
        out.print(f"  {count:,} x {CATALOGUE[code][0]}", markup=False)


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


@app.command("compare")
def compare(
    first: Annotated[Path, typer.Argument(metavar="A", help="A policy (TOML).")],
    second: Annotated[Path, typer.Argument(metavar="B", help="Another one.")],
    incoming: Annotated[str, typer.Argument(metavar="INCOMING", help="The list to decide on.")],
    against: options.Against,
    as_entity: options.AsEntity = None,
    json: options.Json = False,
) -> None:
    """Decide on a list under two policies, and list the rows whose outcome or changes differ. Nothing is written."""
    from brujula.comparing import compare_policies

    begin.matching()
    found = compare_policies(str(first), str(second), incoming, against, options.entity(as_entity))
    if json:
        show.as_json({"rows": found})
        return
    show.rows(found, 40)
    show.console().print(
        f"{len(found):,} row{'s' * (len(found) != 1)} differ between {first} (first) and {second} (second)", markup=False
    )
