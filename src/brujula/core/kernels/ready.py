"""Compiling all kernels once, on two cores, so that the first run waits seconds."""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Callable
from importlib.util import find_spec
from pathlib import Path

_PACKAGE = __name__.rpartition(".")[0]
# Two processes at once. Each begins with what the other needs later, and finds that in the cache when it gets there.
_HALVES = (
    ("edits", "contact", "phrases", "streets", "evidence", "members", "cluster"),
    ("hashing", "text", "names", "company", "grams", "blocks"),
)


def is_compiled() -> bool:
    """Whether numba's disk cache has been filled for this version of the kernels."""
    spec = find_spec(f"{_PACKAGE}.names")
    if spec is None or spec.origin is None:
        return True
    source = Path(spec.origin)
    found = [f for place in _caches(source) for f in place.glob("names.compare_names-*.nbi")]
    return any(f.stat().st_mtime >= source.stat().st_mtime for f in found)


def _caches(source: Path) -> list[Path]:
    """Where numba keeps what it compiled: where its variable says, else beside the kernels or in the user's cache folder."""
    chosen = os.environ.get("NUMBA_CACHE_DIR")
    root = Path(chosen) if chosen else Path.home() / ".cache" / "numba"
    return list(root.glob(f"{source.parent.name}_*")) + ([] if chosen else [source.parent / "__pycache__"])


def compile_kernels(say: Callable[[str], None]) -> None:
    """Fill the cache if it is cold, saying so. What fails here is compiled later, where it is used."""
    if is_compiled():
        return
    say("First run on this machine: compiling the comparison kernels, once. This takes about 15 seconds.")
    for process in [_import(half) for half in _HALVES]:
        process.wait()


def _import(modules: tuple[str, ...]) -> subprocess.Popen[bytes]:
    # Compiling makes a million objects and keeps them: looking for rubbish among them takes a fifth of the time.
    code = "import gc; gc.disable();" + ";".join(f"import {_PACKAGE}.{m}" for m in modules)
    return subprocess.Popen([sys.executable, "-c", code], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
