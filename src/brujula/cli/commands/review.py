"""`brujula review`."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from brujula.cli import show

if TYPE_CHECKING:
    from brujula.planning import Plan


def review(
    folder: Annotated[Path, typer.Argument(metavar="DIR", help="A plan folder.")],
    take: Annotated[
        Path | None, typer.Option("--take", metavar="FILE", help="Take answers from review.xlsx or review.csv, filled in.")
    ] = None,
    decided: Annotated[bool, typer.Option("--decided", help="List the decisions kept so far.")] = False,
    export: Annotated[
        Path | None,
        typer.Option("--export", metavar="FILE", help="Write the decisions kept so far to a CSV file that --take reads."),
    ] = None,
    take_back: Annotated[
        int | None, typer.Option("--take-back", metavar="NO", help="Make decision NO of that list void.")
    ] = None,
    sample: Annotated[
        int | None,
        typer.Option(
            "--sample", metavar="N", help="Draw N automatic matches for a check by eye, into sample.xlsx and sample.csv.", min=1
        ),
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
    if export is not None:
        decisions.write_decisions(export, standing)
        out.print(f"{len(standing):,} decision{'s' * (len(standing) != 1)} in {export}", markup=False)
        return
    if sample is not None:
        _draw(folder, sample)
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
        if _measured(take):
            return
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


def _measured(take: Path) -> bool:
    """Say what a sample's answers tell of all automatic matches; False for answers that are no sample's."""
    from brujula.intake.read import read_list
    from brujula.review.sample import measured

    table = read_list(take).table
    if "stands for" not in table.column_names:
        return False
    told = measured(table.to_pylist())
    show.console().print(
        f"{told.looked_at:,} looked at, {told.same:,} the same: measured precision of the automatic matches {told.precision:.3f} "
        f"(95 % interval {told.low:.3f} to {told.high:.3f}). As labels for fitting: [match] labels in a policy.",
        markup=False,
    )
    return True


def _draw(folder: Path, size: int) -> None:
    from brujula.intake.write import write_csv
    from brujula.review.sample import sample_table
    from brujula.review.workbook import write_workbook

    table = sample_table(_planned(folder), size)
    write_csv(table, folder / "sample.csv")
    write_workbook(table, folder / "sample.xlsx", str(folder))
    show.console().print(
        f"{table.num_rows:,} automatic matches drawn, the less certain ones more densely: fill in {folder}/sample.xlsx, then "
        f"brujula review {folder} --take {folder}/sample.xlsx",
        markup=False,
    )


def _again(folder: Path) -> None:
    """Plan the same list again under the same policy, into the same folder."""
    from brujula.loading.folder import summary

    made = _planned(folder)
    made.write(folder)
    show.summary(summary(made), str(folder))


def _planned(folder: Path) -> Plan:
    """The same list planned again under the same policy, without matching anew where nothing has changed. Raises UsageError for a list that was a frame."""
    from brujula import run
    from brujula.errors import UsageError
    from brujula.loading.matched import FILE
    from brujula.loading.opened import read_summary
    from brujula.policy.model import Policy

    was = read_summary(folder)
    policy = Policy.model_validate(was["policy"])
    if was["rows"] == 0:
        return run.sweep(was["existing"]["name"], policy, was["entity"], kept_in=folder / FILE)
    if was["incoming"]["name"] == "frame":
        raise UsageError(f"{folder}: planned from a frame in memory; plan it again from there: decisions are used by themselves")
    return run.plan(was["incoming"]["name"], was["existing"]["name"], policy, was["entity"], kept_in=folder / FILE)
