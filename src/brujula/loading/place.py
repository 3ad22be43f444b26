"""The place of a plan folder: whether one may be made there, found out before any work is done."""

from __future__ import annotations

import tempfile
from pathlib import Path

from brujula.errors import PlanError, path_as_text

SUMMARY = "summary.json"


def check_place(folder: Path) -> None:
    """Raises PlanError when the place holds something that is no plan folder, or nothing can be made there. Leaves nothing behind."""
    if folder.exists() and (not folder.is_dir() or (any(folder.iterdir()) and not (folder / SUMMARY).exists())):
        raise PlanError(f"{folder}: something that is no plan folder stands there; name another folder")
    if (shown := path_as_text(folder)) != str(folder):
        raise PlanError(f"{shown}: the name of a plan folder has to be text (UTF-8); name another folder")
    try:
        nearest = next(p for p in folder.absolute().parents if p.exists())
        Path(tempfile.mkdtemp(prefix=f".{folder.name}-", dir=nearest)).rmdir()
    except OSError as error:
        raise cannot(folder, error) from None


def cannot(folder: Path, error: OSError) -> PlanError:
    """The message that a folder cannot be made."""
    return PlanError(f"{folder}: cannot be made: {error.strerror}; name a folder you may write to")
