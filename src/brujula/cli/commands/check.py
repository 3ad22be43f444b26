"""`brujula check`."""

from __future__ import annotations

from typing import Annotated

import typer

from brujula.cli import begin, options, show
from brujula.errors import UsageError


def check(
    existing: Annotated[str, typer.Argument(metavar="EXISTING", help="Existing records: a file, or a store's URL.")],
    values: Annotated[
        list[str], typer.Argument(metavar="FIELD=VALUE...", help='What is known: given_name=Ada family_name="de Quist" email=...')
    ],
    as_entity: options.AsEntity = None,
    json: options.Json = False,
) -> None:
    """Is this one person or organisation already there?"""
    from brujula.intake.formats import check_lists

    known = {}
    for value in values:
        field, sign, text = value.partition("=")
        if not sign:
            raise UsageError(f'"{value}": accepted: field=value, such as email=ada@harrow.example')
        known[field.strip()] = text
    entity = options.entity(as_entity)
    check_lists(existing)
    begin.matching()
    from brujula.lookup import check as look

    found = look(known, existing, entity)
    if json:
        show.as_json(found.as_dict())
        return
    out = show.console()
    out.print(found.sentence, markup=False)
    for line in found.lines:
        out.print(f"  {line}", markup=False)
    if found.answer == "unsure":
        raise typer.Exit(1)
