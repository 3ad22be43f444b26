"""The drawing of a plan's figures, out of a few numbers and names: here, or in a process of its own that was begun before they were known.

Most of what figures cost is the import of the library that draws them, as much as matching a small list; another core does it meanwhile.
"""

from __future__ import annotations

import atexit
import contextlib
import gc
import pickle
import subprocess
import sys
from collections.abc import Callable, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from functools import partial
from typing import NamedTuple

from brujula.reporting.look import DARK, INK, LIGHT, LINE, MIDDLE, SOFT, as_svg, brief, figure

Numbers = Sequence[float]


class Probabilities(NamedTuple):
    """Pairs by probability, in bins of equal width. marks : probabilities from which something holds, with its name"""

    evidence: Numbers
    ruled: Numbers
    marks: tuple[tuple[float, str], ...]

    def svg(self) -> str:
        """Counts on a logarithmic scale."""
        pairs, width = sum(self.evidence) + sum(self.ruled), 1 / len(self.evidence)
        made, axes = figure(5.6, 2.3, [f"{pairs:,.0f}"], label=True, legend=True)
        at, below = [(i + 0.5) * width for i in range(len(self.evidence))], [0.0] * len(self.evidence)
        for counts, colour, label in ((self.evidence, DARK, "by evidence"), (self.ruled, LIGHT, "a rule spoke")):
            axes.bar(at, counts, 0.9 * width, bottom=below, color=colour, label=label)
            below = [a + b for a, b in zip(below, counts, strict=True)]
        axes.set_yscale("symlog", linthresh=1)
        axes.set_ylim(0, max(max(below) * 1.6, 2))
        axes.yaxis.set_major_formatter(lambda y, _: f"{y:,.0f}")
        for mark, name in self.marks:
            axes.axvline(mark, color=MIDDLE, linewidth=1.2)
            axes.annotate(
                name,
                (mark, 1),
                xycoords=("data", "axes fraction"),
                xytext=(-3, -9),
                textcoords="offset points",
                ha="right",
                color=MIDDLE,
            )
        axes.set_xlabel("probability that the two are one")
        axes.legend(frameon=False, ncols=2, loc="lower left", bbox_to_anchor=(0, 1), borderaxespad=0, fontsize=8)
        return as_svg(made, "Pairs by probability")


class Evidence(NamedTuple):
    """Bits for and against, by field."""

    fields: Sequence[str]
    pro: Numbers
    con: Numbers

    def svg(self) -> str:
        """Bars to both sides."""
        names, at = brief(self.fields), range(len(self.fields))
        made, axes = figure(5.6, 0.5 + 0.24 * len(names), names, label=True)
        axes.barh(at, self.pro, color=DARK, height=0.66, label="for")
        axes.barh(at, self.con, color=MIDDLE, height=0.66, label="against")
        axes.set_yticks(at, names)
        axes.axvline(0, color=SOFT, linewidth=0.8)
        axes.set_xlabel("bits a pair, on average")
        axes.spines["left"].set_visible(False)
        axes.legend(frameon=False, loc="lower right", fontsize=8)
        return as_svg(made, "Evidence by field")


class Gaps(NamedTuple):
    """Shares of records with a value, by field."""

    fields: Sequence[str]
    before: Numbers
    after: Numbers

    def svg(self) -> str:
        """Two dots and the way between them."""
        names, at = brief(self.fields), range(len(self.fields))
        made, axes = figure(5.6, 0.6 + 0.22 * len(names), names, legend=True)
        axes.hlines(at, self.before, self.after, color=LINE, linewidth=3)
        axes.scatter(self.before, at, color=LIGHT, edgecolors=SOFT, s=28, label="before", zorder=3)
        axes.scatter(self.after, at, color=DARK, s=28, label="after the load", zorder=3)
        axes.set_yticks(at, names)
        axes.invert_yaxis()
        axes.set_xlim(-0.03, 1.03)
        axes.xaxis.set_major_formatter(lambda x, _: f"{x:.0%}")
        axes.spines["left"].set_visible(False)
        axes.legend(frameon=False, ncols=2, loc="lower left", bbox_to_anchor=(0, 1), borderaxespad=0, fontsize=8)
        return as_svg(made, "Fill rates before and after")


class Shares(NamedTuple):
    """So many of so many, by name. by : what the names are"""

    names: Sequence[str]
    some: Sequence[int]
    every: Sequence[int]
    by: str

    def svg(self) -> str:
        """Bars of shares, with both counts."""
        from matplotlib.ticker import MaxNLocator, PercentFormatter

        names, at = brief(self.names), range(len(self.names))
        made, axes = figure(5.6, 0.4 + 0.26 * len(names), names)
        share = [some / max(every, 1) for some, every in zip(self.some, self.every, strict=True)]
        axes.barh(at, share, color=DARK, height=0.66)
        for i in at:
            axes.annotate(
                f"{self.some[i]:,} of {self.every[i]:,}",
                (share[i], i),
                xytext=(4, 0),
                textcoords="offset points",
                va="center",
                fontsize=8,
                color=INK,
            )
        axes.set_yticks(at, names)
        axes.invert_yaxis()
        axes.set_xlim(0, max(max(share) * 1.35, 0.01))
        axes.xaxis.set_major_locator(MaxNLocator(5))
        axes.xaxis.set_major_formatter(PercentFormatter(1))
        axes.spines["left"].set_visible(False)
        return as_svg(made, f"Duplicates by {self.by}")


class Counts(NamedTuple):
    """Groups by their size."""

    sizes: Sequence[str]
    counts: Sequence[int]

    def svg(self) -> str:
        """Bars, with their counts."""
        at = range(len(self.sizes))
        made, axes = figure(5.6, 0.4 + 0.26 * len(at), self.sizes)
        axes.barh(at, self.counts, color=DARK, height=0.66)
        for i, n in enumerate(self.counts):
            axes.annotate(f"{n:,}", (n, i), xytext=(4, 0), textcoords="offset points", va="center", fontsize=8, color=INK)
        axes.set_yticks(at, self.sizes)
        axes.invert_yaxis()
        axes.set_xlim(0, max(self.counts) * 1.15)
        axes.spines["left"].set_visible(False)
        return as_svg(made, "Group sizes")


Sketch = Probabilities | Evidence | Gaps | Shares | Counts
"""What a figure shows; numbers and names of Python only, for another process to read."""


class _Hand:
    """The other process, and the one thread that speaks with it."""

    def __init__(self) -> None:
        # Without the folder the command runs in among the places to import from: a file there may have the name of a library.
        command = [sys.executable, "-P", "-c", f"from {__name__} import serve; serve()"]
        self._process = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL)
        self._thread = ThreadPoolExecutor(1)
        atexit.register(self._end)

    def ask(self, sketches: Sequence[Sketch]) -> Future[list[str]]:
        return self._thread.submit(self._drawn, list(sketches))

    def _drawn(self, sketches: list[Sketch]) -> list[str]:
        asking, answering = self._process.stdin, self._process.stdout
        try:
            assert asking is not None and answering is not None
            pickle.dump(sketches, asking)
            asking.flush()
            answer: list[str] = pickle.load(answering)
        except (OSError, EOFError, pickle.UnpicklingError):
            return _here(sketches)
        return answer

    def _end(self) -> None:
        self._process.kill()
        self._process.communicate()


_hand: _Hand | None = None


def begin() -> None:
    """Begin the process, where the library is not here already. It ends with this one; where it cannot begin, or fails, figures are drawn here."""
    global _hand
    if _hand is None and "matplotlib.figure" not in sys.modules:
        with contextlib.suppress(OSError):
            _hand = _Hand()


def draw(sketches: Sequence[Sketch]) -> Callable[[], list[str]]:
    """Have figures drawn; what comes back waits for them. One SVG a sketch, the same bytes wherever they were drawn."""
    return partial(_here, sketches) if _hand is None else _hand.ask(sketches).result


def _here(sketches: Sequence[Sketch]) -> list[str]:
    return [sketch.svg() for sketch in sketches]


def serve() -> None:
    """What the process does: import, draw one figure that nobody sees, for fonts are read at the first; then figures as long as they are asked for."""
    gc.disable()  # as `cli.main` does: a third of the time of drawing
    Counts(["2"], [1]).svg()
    with contextlib.suppress(EOFError):
        while True:
            pickle.dump(_here(pickle.load(sys.stdin.buffer)), sys.stdout.buffer)
            sys.stdout.buffer.flush()
