"""`brujula load`."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated

import typer
from rich.markup import escape

from brujula.cli import begin, options, show


def load(
    plan: Annotated[str, typer.Argument(metavar="DIR", help="A plan folder; or a list of records, to fill an empty store with.")],
    into: options.Into,
    roll_back: Annotated[
        bool,
        typer.Option(
            "--roll-back", help="Take a load of this plan into a service that was cut off back, instead of finishing it."
        ),
    ] = False,
    json: options.Json = False,
) -> None:
    """Carry a plan out: in one transaction, with a journal that `undo` takes back. A load that was cut off is finished by running it again."""
    begin.without_frames()
    from brujula.loading.apply import load as carry_out

    with show.steps() as on_step:
        done = carry_out(plan, into, roll_back=roll_back, on_step=on_step)
    if json:
        show.as_json(asdict(done))
    elif done.state == "undone":
        show.console().print(f"[bold]{done.id}[/bold] was cut off and is rolled back: nothing of it is left.")
    else:
        out = show.console()
        out.print(
            f"[bold]{done.id}[/bold]: {done.created:,} created, {done.updated:,} updated, {done.merged:,} merged; {done.fields:,} values written to "
            f"{escape(into)}"
        )
        if done.read:
            out.print(f"[dim]{escape(plan)}: {escape(show.columns(dict(done.read)))}[/dim]")
            show.no_field(out, done.left_out, "not in the store")
        for action, why in done.reasons[:20]:
            out.print(f"[color(130)]held {action}[/]: {escape(why)}")
        if done.held:
            out.print(
                f"{done.held:,} actions were held: the store changed since the plan, or refused them. Their rows are in failed.csv, to be mended and planned again."
            )
        if done.state == "loaded":
            out.print(f"[dim]`brujula undo {done.id} --into {escape(into)}` takes it back.[/dim]")
    if done.held:
        raise typer.Exit(1)
