"""`brujula inspect`."""

from __future__ import annotations

from dataclasses import asdict
from pathlib import Path
from typing import Annotated

import typer
from rich.markup import escape

from brujula.cli import begin, options, show


def inspect(
    source: Annotated[str, typer.Argument(metavar="LIST", help="A list: a file, or a store's URL.")],
    against: Annotated[
        str | None,
        typer.Option("--against", metavar="EXISTING", help="Existing records to try the keys on: a file, or a store's URL."),
    ] = None,
    page: Annotated[Path | None, typer.Option("--page", metavar="FILE", help="Write it as a page (.html), too.")] = None,
    as_entity: options.AsEntity = None,
    json: options.Json = False,
) -> None:
    """What is in a list: columns, fill, distinct values, the field each would be taken for, and what could serve as a key."""
    from brujula.intake.formats import check_lists

    entity = options.entity(as_entity)
    check_lists(source, *filter(None, [against]))
    begin.matching()
    from brujula.intake.profile import inspect as look

    found = look(source, entity, against)
    if page:
        from brujula.reporting.inspected import write_page

        write_page(found, page)
    if json:
        show.as_json(asdict(found))
        return
    out = show.console()
    out.print(
        f"[bold]{escape(found.name)}[/bold]: {found.rows:,} rows, read as {found.entity}s; {escape('; '.join(found.notes))}"
    )
    rows = [
        (
            c.column,
            f"{c.fill:.0%}",
            f"{c.distinct:,}",
            f"{c.placeholders:,}" if c.placeholders else "",
            c.field or "-",
            f"{c.confidence:.0%}" if c.field else "",
            " | ".join(s[:28] for s in c.samples),
        )
        for c in found.columns
    ]
    out.print(
        show.table(
            ("column", "filled", "distinct", "placeholders", "field", "sure", "for example"), rows, right=(1, 2, 3, 5), wide=6
        )
    )
    out.print("\n[bold]As a key[/bold]" + (f", tried on {escape(found.against)}" if found.against else ""))
    tried = ("finds one", "several", "none") if found.against else ()
    tried_rows = [
        (
            k.field,
            f"{k.identified:.0%}",
            *(("-" if v is None else f"{v:,}") for v in (k.found, k.found_several, k.missed) if found.against),
            f"{k.verdict}" + (f"; {k.example}" if k.example else ""),
        )
        for k in found.keys
    ]
    out.print(
        show.table(("key", "identifies", *tried, ""), tried_rows, right=tuple(range(1, 2 + len(tried))), wide=2 + len(tried))
    )
    if found.repeated_rows:
        out.print(f"[color(130)]{found.repeated_rows:,} rows stand more than once, word for word[/]")
    for code, count, example in found.problems:
        out.print(f"[color(130)]{count:,} × {code}[/]: {escape(example)}")
