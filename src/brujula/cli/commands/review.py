"""`brujula review`."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Annotated

import typer

from brujula.cli import show


def review(
    folder: Annotated[Path, typer.Argument(metavar="DIR", help="A plan folder.")],
    take: Annotated[
        Path | None, typer.Option("--take", metavar="FILE", help="Take answers from review.xlsx or review.csv, filled in.")
    ] = None,
    decided: Annotated[bool, typer.Option("--decided", help="List the decisions kept so far.")] = False,
    take_back: Annotated[
        int | None, typer.Option("--take-back", metavar="NO", help="Make decision NO of that list void.")
    ] = None,
    again: Annotated[bool, typer.Option("--again", help="Decide on the list anew with what has been decided.")] = False,
) -> None:
    """Settle what is open, once: what you decide is kept beside the records and used in every later plan and sweep."""
    from brujula.errors import UsageError
    from brujula.review import cases, decisions, terminal

    out, place = show.console(), cases.existing_of(folder)
    standing = decisions.latest(decisions.kept(place))
    if decided:
        show.rows(decisions.as_lines(standing), 1_000)
        out.print(f"{len(standing):,} decision{'s' * (len(standing) != 1)} kept with {place}", markup=False)
        return
    if take_back is not None:
        if not 1 <= take_back <= len(standing):
            raise UsageError(f"--take-back {take_back}: there are decisions 1 to {len(standing)}; see --decided")
        decisions.keep(place, [decisions.taken_back(standing[take_back - 1])])
        out.print(f"decision {take_back} is taken back", markup=False)
    elif take is not None:
        found = cases.taken_from(folder, take)
        decisions.keep(place, found)
        out.print(f"{len(found):,} decision{'s' * (len(found) != 1)} taken from {take}", markup=False)
    elif not again:
        given = terminal.go_through(folder, out, _key)
        out.print(f"\n{given:,} answer{'s' * (given != 1)} kept with {place}", markup=False)
    left = len(cases.unanswered(cases.open_pairs(folder), decisions.kept(place)))
    if again:
        _again(folder)
    else:
        out.print(
            f"{left:,} pairs are still open. brujula review {folder} --again decides on the list with what has been decided.",
            markup=False,
        )
    if left:
        raise typer.Exit(1)


def _key() -> str:
    """The next key, without Enter on a terminal; the next line of a file or pipe."""
    import click

    return click.getchar() if sys.stdin.isatty() else sys.stdin.readline().strip()[:1]


def _again(folder: Path) -> None:
    """Plan the same list again under the same policy, into the same folder."""
    from brujula import run
    from brujula.errors import UsageError
    from brujula.loading.folder import read_summary, summary
    from brujula.policy.model import Policy

    was = read_summary(folder)
    policy = Policy.model_validate(was["policy"])
    if was["rows"] == 0:
        made = run.sweep(was["existing"]["name"], policy, was["entity"])
    elif was["incoming"]["name"] == "frame":
        raise UsageError(f"{folder}: planned from a frame in memory; plan it again from there: decisions are used by themselves")
    else:
        made = run.plan(was["incoming"]["name"], was["existing"]["name"], policy, was["entity"])
    made.write(folder)
    show.summary(summary(made), str(folder))
