"""Going through open cases on a terminal: side by side, one key an answer, leave any time."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from rich.console import Console
from rich.markup import escape
from rich.table import Table

from brujula.review import cases as opened
from brujula.review.decisions import contradictions, keep, kept

_HELP = "[bold]s[/] same   [bold]d[/] different   [bold]a[/] all of this case the same   [bold]x[/] none of it   [bold]n[/] next, undecided   [bold]b[/] back   [bold]q[/] leave, what was answered is kept"

_WHOLE = {"a": "same", "x": "different"}  # answers that settle all that is left of a case


def go_through(folder: Path, out: Console, ask: Callable[[], str]) -> int:
    """Ask for each open pair in turn; every answer is kept at once. Returns how many were given.

    ask : gives the next key pressed; "" when there are no more
    """
    place = opened.existing_of(folder)
    left = opened.unanswered(opened.open_pairs(folder), kept(place))
    order = [(number, case, pair) for number, case in enumerate(opened.cases(left), 1) for pair in case.pairs]
    total = order[-1][0] if order else 0
    at = given = 0
    if order:
        out.print(f"{len(order):,} open pairs in {total:,} cases, those that bear on most rows and records first.")
        out.print(_HELP)
    while at < len(order):
        number, case, pair = order[at]
        _show(
            out,
            f"case {number} of {total}" + (f", {len(case.pairs)} pairs that hang together" if len(case.pairs) > 1 else ""),
            pair,
        )
        key = ask().lower()
        if key in ("q", "", "\x03", "\x04", "\x1b"):
            break
        if key == "b":
            at = max(at - 1, 0)
        elif key == "n":
            at += 1
        elif key in opened.ANSWERS or key in _WHOLE:
            verdict = opened.ANSWERS.get(key) or _WHOLE[key]
            pairs = [p for n, _, p in order[at:] if n == number] if key in _WHOLE else [pair]
            decisions = [p.decided(verdict) for p in pairs]
            torn = [t for t in contradictions([*kept(place), *decisions]) if t not in contradictions(kept(place))]
            if torn:
                out.print(f"[color(160)]not kept: {escape(torn[0])}[/]")
                continue
            keep(place, decisions)
            given += len(pairs)
            at += len(pairs)
            out.print(f"[dim]{verdict}[/dim]")
        else:
            out.print(_HELP)
    return given


def _show(out: Console, title: str, pair: opened.Pair) -> None:
    out.print()
    out.print(f"[bold]{title}[/bold]  probability {pair.probability:.2f}  [dim]{escape(pair.cells['reason'])}[/dim]")
    table = Table(box=None, pad_edge=False, padding=(0, 3, 0, 0), show_header=True)
    for name in ("", pair.cells["left"], pair.cells["right"], ""):
        table.add_column(escape(name), overflow="fold", header_style="bold")
    for field, a, b in pair.fields():
        same = _bare(field, a) == _bare(field, b)
        mark = "" if not a or not b else "[dim]=[/dim]" if same else "[color(160)]differs[/]"
        table.add_row(f"[dim]{field}[/dim]", escape(a), escape(b), mark)
    out.print(table)


def _bare(field: str, text: str) -> str:
    """What of a value counts for saying that two are alike at a glance."""
    if field in ("phone", "mobile"):
        return "".join(c for c in text if c.isdigit())[-9:]
    return text.strip().lower()
