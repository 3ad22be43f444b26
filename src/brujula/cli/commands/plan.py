"""`brujula plan`."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from brujula.cli import begin, options, show


def plan(
    incoming: Annotated[str, typer.Argument(metavar="INCOMING", help="The list to decide on: a file.")],
    against: options.Against,
    out: options.Out,
    policy: options.PolicyFile = None,
    as_entity: options.AsEntity = None,
    accounts: Annotated[
        str | None,
        typer.Option(
            "--accounts", metavar="EXISTING", help="Existing accounts: decide on the accounts a list of contacts names as well."
        ),
    ] = None,
    account_policy: Annotated[
        Path | None, typer.Option("--account-policy", metavar="FILE", help="A policy for the accounts.")
    ] = None,
    json: options.Json = False,
) -> None:
    """Decide what becomes of every row, and write the plan folder. Nothing else is touched."""
    from brujula.intake.formats import check_lists
    from brujula.loading.place import check_place

    entity = options.entity(as_entity)
    check_place(out)
    check_lists(incoming, against, *filter(None, [accounts]))
    begin.matching(draws=True)
    from brujula import run
    from brujula.loading.folder import summary

    with show.steps() as on_step:
        if accounts:
            from brujula.together import plan_together

            said = str(account_policy) if account_policy else None
            made = plan_together(incoming, against, accounts, str(policy) if policy else None, said, on_step)
        else:
            made = run.plan(incoming, against, str(policy) if policy else None, entity, on_step)
        on_step("writing the plan folder")
        made.write(out)
    found = summary(made)
    if made.accounts is not None:
        theirs = summary(made.accounts)
        found["accounts"] = theirs
        if not json:
            show.summary(theirs, str(out / "accounts"))
            show.console().print()
    show.as_json(found) if json else show.summary(found, str(out))
    if any(p.counts["review"] or p.counts["reject"] for p in (made, made.accounts) if p is not None):
        raise typer.Exit(1)
