"""What all pages share: the template engine, the style, the manner of figures."""

from __future__ import annotations

import io
import re
import warnings
from collections.abc import Sequence
from functools import cache
from importlib.resources import files
from typing import TYPE_CHECKING, Any

from rich.cells import cell_len, set_cell_size

if TYPE_CHECKING:
    from jinja2 import Environment
    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

INK, SOFT, LINE, GROUND = "#1d2733", "#5b6875", "#d5dbe1", "#fbfbf9"
DARK, MIDDLE, LIGHT = "#1f4e79", "#b26a00", "#c9d1d9"
"""Three tones that stay apart in grey and for colour-blind eyes."""
_LETTER = 0.078  # inches of a letter of 9 points, rather more than the average
_LONGEST = 28  # letters of a name beside the axes, half as many of wide ones
_LEGEND, _LABEL, _NUMBERS, _EDGE, _RIGHT = 0.3, 0.42, 0.24, 0.06, 0.18
"""Inches around the axes: above, below with and without a label, where nothing stands, on the right."""


def rendered(template: str, **values: Any) -> str:
    """A page from one of our templates. Values are escaped: text of the lists is never markup."""
    return _templates().get_template(template).render(style=(files(__package__) / "style.css").read_text("utf-8"), **values)


@cache
def _templates() -> Environment:
    from jinja2 import Environment, PackageLoader

    found = Environment(autoescape=True, trim_blocks=True, lstrip_blocks=True, loader=PackageLoader(__package__, ""))
    found.filters["count"] = lambda n: f"{n:,}"
    return found


def brief(names: Sequence[str]) -> list[str]:
    """Names short enough to stand beside the axes."""
    return [name if cell_len(name) <= _LONGEST else set_cell_size(name, _LONGEST - 1).rstrip() + "…" for name in names]


def figure(wide: float, high: float, names: Sequence[str], label: bool = False, legend: bool = False) -> tuple[Figure, Axes]:
    """An empty figure in our manner: inches, what stands on the left (`brief`), whether a label stands below and a legend above.

    The margins are reckoned here, not by a layout engine, which draws everything once more to measure it: a third of a page's time.
    """
    import matplotlib
    from matplotlib.figure import Figure

    matplotlib.rcParams.update(
        {"font.family": "DejaVu Sans", "font.size": 9, "svg.fonttype": "none", "text.parse_math": False, "svg.hashsalt": "brujula", "axes.edgecolor": LINE,
         "text.color": INK, "axes.labelcolor": SOFT, "xtick.color": SOFT, "ytick.color": INK}
    )  # fmt: skip
    # Text stays text in the page: the browser has the letters that this font lacks.
    warnings.filterwarnings("ignore", "Glyph .* missing from font")
    left = 0.14 + _LETTER * max(map(cell_len, names), default=0)
    below, above = _LABEL if label else _NUMBERS, _LEGEND if legend else _EDGE
    made = Figure(figsize=(wide, high))
    made.patch.set_alpha(0)
    axes = made.add_axes((left / wide, below / high, 1 - (left + _RIGHT) / wide, 1 - (below + above) / high))
    axes.patch.set_alpha(0)
    axes.spines[["top", "right"]].set_visible(False)
    axes.tick_params(length=0)
    return made, axes


def as_svg(made: Figure, title: str) -> str:
    """The figure as SVG for a page, named for screen readers; the same bytes for the same figure."""
    from matplotlib.backends.backend_svg import FigureCanvasSVG

    out = io.StringIO()
    # Not by savefig, which draws everything twice: once to lay it out, once to write it.
    canvas: Any = FigureCanvasSVG(made)
    canvas.print_svg(out, metadata={"Date": None, "Creator": None})
    svg = out.getvalue()
    svg = svg[svg.index("<svg") :]
    # Ids are made distinct by title: several figures stand in one page.
    mark = re.sub(r"\W+", "-", title.lower())
    svg = re.sub(r'(id="|url\(#|href="#)', rf"\1{mark}-", svg)
    return svg.replace("<svg", f'<svg role="img" aria-label="{title}"', 1)


def stacked_bars(names: Sequence[str], parts: Sequence[tuple[str, Sequence[float], str]], title: str) -> str:
    """Horizontal bars of shares that add up to 1, one per name. parts : label, shares, colour."""
    names = brief(names)
    made, axes = figure(7.2, 0.6 + 0.24 * max(len(names), 1), names, legend=True)
    left = [0.0] * len(names)
    for label, shares, colour in parts:
        axes.barh(range(len(names)), shares, left=left, color=colour, height=0.66, label=label)
        left = [a + b for a, b in zip(left, shares, strict=True)]
    axes.set_yticks(range(len(names)), names)
    axes.invert_yaxis()
    axes.set_xlim(0, 1)
    axes.xaxis.set_major_formatter(lambda x, _: f"{x:.0%}")
    axes.spines["left"].set_visible(False)
    axes.legend(ncols=len(parts), loc="lower left", bbox_to_anchor=(0, 1), frameon=False, borderaxespad=0)
    return as_svg(made, title)
