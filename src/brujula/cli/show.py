"""Showing results on a terminal: summaries, tables, progress."""

from __future__ import annotations

import json
import sys
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from contextlib import contextmanager
from typing import Any

from rich.console import Console
from rich.markup import escape
from rich.table import Table

MEANING = {
    "create": "nobody like them exists: new records",
    "update": "one existing record is meant, and something changes",
    "unchanged": "one existing record is meant, and nothing would change",
    "merge": "existing records are duplicates of each other: they become one",
    "review": "left open for a person: nothing is written for them",
    "skip": "left out, because the policy says so",
    "reject": "cannot be used: see rejects.csv",
}
COLOURS = {"create": "color(28)", "update": "color(25)", "merge": "color(91)", "review": "color(130)", "reject": "color(160)"}


def console() -> Console:
    """Standard output; plain text when it is no terminal."""
    return Console(highlight=False) if sys.stdout.isatty() else Console(highlight=False, width=150, soft_wrap=True)


def notice(text: str) -> None:
    """A line for the person, on standard error, out of the way of --json."""
    Console(stderr=True, highlight=False).print(escape(text), style="dim")


def as_json(value: Any) -> None:
    """A value for machines on standard output, every letter in ASCII where it does not take them all."""
    few = not (sys.stdout.encoding or "").lower().startswith("utf")
    sys.stdout.write(json.dumps(value, indent=2, ensure_ascii=few, default=str) + "\n")


@contextmanager
def steps() -> Iterator[Callable[[str], None]]:
    """A function that shows the step at work, on a terminal only."""
    err = Console(stderr=True)
    if not err.is_terminal:
        yield lambda _: None
        return
    with err.status("starting") as status:
        yield lambda step: status.update(step)


def table(headings: Sequence[str], rows: Sequence[Sequence[Any]], right: Sequence[int] = (), wide: int | None = None) -> Table:
    """A table with plain cells: text of the lists is data, never markup."""
    made = Table(box=None, pad_edge=False, header_style="bold", show_edge=False, padding=(0, 2, 0, 0))
    for i, heading in enumerate(headings):
        made.add_column(
            heading, justify="right" if i in right else "left", overflow="fold", no_wrap=i != wide, ratio=1 if i == wide else None
        )
    for row in rows:
        made.add_row(*(escape(str(cell)) for cell in row))
    return made


def summary(found: Mapping[str, Any], folder: str) -> None:
    """What a plan will do, for a person to act on."""
    out = console()
    entity = found["entity"]
    out.print(
        f"[bold]{found['rows']:,} rows[/bold] of {escape(found['incoming']['name'])} against [bold]{found['existing_records']:,} "
        f"existing {entity}s[/bold] of {escape(found['existing']['name'])}"
    )
    for side in ("incoming", "existing"):
        out.print(f"[dim]{side}: {escape('; '.join(found[side]['taken_as']))}; {escape(columns(found[side]['fields']))}[/dim]")
    for why in found["incoming"]["set_aside"]:
        out.print(f"[color(130)]{escape(why)}[/]")
    no_field(out, found["incoming"]["left_out"], "kept in incoming_with_ids.csv only")
    for why, count in found["existing"]["left_out"].items():
        out.print(f"[color(130)]{count:,} existing records take no part[/]: {escape(why)}")
    out.print()
    made = Table(box=None, pad_edge=False, show_header=False, padding=(0, 2, 0, 0))
    for name, count in found["outcomes"].items():
        if count or name in ("create", "update", "unchanged", "review", "reject"):
            style = COLOURS.get(name, "") if count else "dim"
            made.add_row(
                f"[{style}]{count:>8,}[/]" if style else f"{count:>8,}",
                f"[{style}]{name}[/]" if style else name,
                f"[dim]{MEANING[name]}[/dim]",
            )
    out.print(made)
    acts = found["actions"]
    out.print(
        f"\nA load would create {acts['create']:,}, update {acts['update']:,} and merge {acts['merge']:,} records, writing {found['fields_written']:,} values. "
        f"Expected wrong matches among the automatic ones: {found['expected_wrong_matches']:.1f}."
    )
    problems(out, found)
    out.print(
        f"Plan in [bold]{escape(folder)}[/bold]: report.html to read, outcomes.csv for every row"
        + (", review.csv for what is open" if found["outcomes"]["review"] else "")
        + ("" if not found["outcomes"]["reject"] else ", rejects.csv to mend")
        + "."
    )


def columns(fields: Mapping[str, str]) -> str:
    """Which column is which field, or which fields where it holds several."""
    held: dict[str, list[str]] = {}
    for field, column in fields.items():
        held.setdefault(column, []).append(field)
    return ", ".join(column if of == [column] else f"{column} = {' + '.join(of)}" for column, of in held.items())


def no_field(out: Console, left_out: Collection[str], what: str) -> None:
    """The columns that no field takes, and what becomes of them."""
    if left_out:
        out.print(f"[color(130)]no field found for: {escape(', '.join(left_out))}[/]; {what}")


def problems(out: Console, found: Mapping[str, Any]) -> None:
    """What is wrong with the list, and what was left out."""
    from brujula.problems import CATALOGUE

    for code, count in found["problems"].items():
        out.print(f"[color(130)]{count:,} × {CATALOGUE[code][0]}[/]; accepted: {CATALOGUE[code][1]}")
    if found["short_words"]:
        told = ", ".join(f"{short} is {long}" for short, long in found["short_words"].items())
        out.print(f"[dim]short words, as the lists show: {escape(told)}[/dim]", highlight=False)
    for one in found["passes"]:
        if one["narrowed"]:
            out.print(
                f"[dim]pass {one['pass']}: {one['narrowed']:,} keys are shared by too many records and were narrowed; {one['left_out']:,} comparisons "
                "left out[/dim]"
            )


def rows(lines: Sequence[Mapping[str, str]], most: int) -> None:
    """A table of lines; what does not fit is counted."""
    if not lines:
        return
    made = Table(box=None, pad_edge=False, padding=(0, 2, 0, 0))
    for name in lines[0]:
        made.add_column(name, overflow="fold")
    for line in lines[:most]:
        made.add_row(*(escape(v) for v in line.values()))
    console().print(made)
    if len(lines) > most:
        console().print(f"... and {len(lines) - most:,} more; --json lists all")
