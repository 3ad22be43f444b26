"""The page of an inspected list."""

from __future__ import annotations

from pathlib import Path

from brujula.errors import UsageError
from brujula.intake.profile import Profile
from brujula.problems import CATALOGUE
from brujula.reporting.look import DARK, LIGHT, MIDDLE, rendered, stacked_bars


def write_page(profile: Profile, path: Path) -> None:
    """Write the page. Raises UsageError when it cannot be written."""
    problems = [(count, CATALOGUE[code][0], example) for code, count, example in profile.problems]
    try:
        path.write_text(rendered("inspect.html", found=profile, gaps=_gaps(profile), problems=problems), "utf-8")
    except OSError as error:
        raise UsageError(f"{path}: cannot be written: {error.strerror}") from None


def _gaps(profile: Profile) -> str:
    """Fill of each field: what is there, what is there but unusable, what is blank."""
    names = [f.replace("_", " ") for f in profile.gaps]
    filled, unusable, blank = ([g[i] for g in profile.gaps.values()] for i in range(3))
    usable = [f - u for f, u in zip(filled, unusable, strict=True)]
    parts = (("usable", usable, DARK), ("placeholder or unusable", unusable, MIDDLE), ("blank", blank, LIGHT))
    return stacked_bars(names, parts, "Fill of each field")
