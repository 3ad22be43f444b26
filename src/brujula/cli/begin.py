"""What commands begin with, so that they wait for less."""

from __future__ import annotations

import sys
from collections.abc import Sequence
from importlib.machinery import ModuleSpec
from types import ModuleType

from brujula.cli import show


def matching(draws: bool = False) -> None:
    """Kernels are compiled, and what would only be waited for later is begun. draws : figures will be asked for"""
    from brujula.core.kernels.ready import compile_kernels
    from brujula.reporting import drawing

    compile_kernels(show.notice)
    if draws:
        drawing.begin()
    without_frames()


class _NoFrames:
    """Finds that there is no pandas."""

    @staticmethod
    def find_spec(name: str, path: Sequence[str] | None, target: ModuleType | None = None) -> ModuleSpec | None:
        if name == "pandas":
            raise ModuleNotFoundError(name)
        return None


def without_frames() -> None:
    """At its first array Arrow imports pandas, to know a frame when it sees one: a third of a second, and a command sees none.

    Having found none it does not look again, unless it is asked for a frame; whoever imports pandas gets it.
    """
    import pyarrow as pa

    sys.meta_path.insert(0, _NoFrames)
    try:
        pa.array([])
    finally:
        sys.meta_path.remove(_NoFrames)
