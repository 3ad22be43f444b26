"""Compiling all kernels once, on two cores, so that the first run waits seconds."""

from __future__ import annotations

import subprocess
import sys
from collections.abc import Callable
from importlib.util import find_spec
from pathlib import Path

_PACKAGE = __name__.rpartition(".")[0]
# Two processes at once. Each begins with what the other needs later, and finds that in the cache when it gets there.
_HALVES = (
    ("edits", "names", "streets", "company", "members", "cluster", "evidence"),
    ("text", "hashing", "blocks", "grams", "phrases", "contact"),
)


def is_compiled() -> bool:
    """Whether numba's disk cache beside the kernels, or in the user's cache folder, has been filled for this file's version."""
    spec = find_spec(f"{_PACKAGE}.names")
    if spec is None or spec.origin is None:
        return True
    source = Path(spec.origin)
    places = [source.parent / "__pycache__", *_user_caches(source)]
    found = [f for place in places if place.is_dir() for f in place.glob("names.compare_names-*.nbi")]
    return any(f.stat().st_mtime >= source.stat().st_mtime for f in found)


def _user_caches(source: Path) -> list[Path]:
    root = Path.home() / ".cache" / "numba"
    return list(root.glob(f"{source.parent.name}_*")) if root.is_dir() else []


def compile_kernels(say: Callable[[str], None]) -> None:
    """Fill the cache if it is cold, saying so. What fails here is compiled later, where it is used."""
    if is_compiled():
        return
    say("First run on this machine: compiling the comparison kernels, once. This takes about 20 seconds.")
    for process in [_import(half) for half in _HALVES]:
        process.wait()


def _import(modules: tuple[str, ...]) -> subprocess.Popen[bytes]:
    code = ";".join(f"import {_PACKAGE}.{m}" for m in modules)
    return subprocess.Popen([sys.executable, "-c", code], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
