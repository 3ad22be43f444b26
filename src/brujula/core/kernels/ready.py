"""Compiling all kernels once, on two cores, so that the first run waits seconds."""

from __future__ import annotations

import hashlib
import os
import re
import subprocess
import sys
from collections.abc import Callable
from importlib.metadata import version
from pathlib import Path

_PACKAGE = __name__.rpartition(".")[0]
_HERE = Path(__file__).parent
_MARK = "brujula-kernels"
# Two processes at once. Each begins with what the other needs later, and finds that in the cache when it gets there.
_HALVES = (
    ("edits", "contact", "words", "word_matches", "phrases", "streets", "evidence", "members"),
    ("hashing", "text", "names", "name_parts", "name_levels", "mailboxes", "company", "grams", "blocks", "cluster"),
)


def is_compiled() -> bool:
    """Whether these kernels were compiled here before, by this numba, for this processor."""
    wanted = _mark()
    return any((place / _MARK).is_file() and (place / _MARK).read_text() == wanted for place in _places())


def _places() -> list[Path]:
    """Where numba keeps what it compiled: where its variable says, else beside the kernels or, where it may not write there, at home."""
    chosen = os.environ.get("NUMBA_CACHE_DIR")
    return [Path(chosen)] if chosen else [_HERE / "__pycache__", Path.home() / ".cache" / "numba"]


def of_sources(directory: Path) -> str:
    """A digest of a directory's Python files: the code of a kernel may lie within any other's."""
    return hashlib.sha256(b"".join(source.read_bytes() for source in sorted(directory.glob("*.py")))).hexdigest()


def _mark() -> str:
    """What compiled code depends on, as a digest."""
    digest = hashlib.sha256(f"{sys.version} {version('numba')} {of_sources(_HERE)}".encode())
    cpu = Path("/proc/cpuinfo")
    flags = re.search(r"^(flags|Features)\s*:.*$", cpu.read_text(), re.MULTILINE) if cpu.is_file() else None
    digest.update((flags[0] if flags else "").encode())
    return digest.hexdigest()


def compile_kernels(say: Callable[[str], None]) -> None:
    """Fill the cache if it is cold, saying so. What fails here is compiled later, where it is used."""
    if is_compiled():
        return
    say("First run on this machine: compiling the comparison kernels, once. This takes 15 to 40 seconds.")
    if any(process.wait() for process in [_import(half) for half in _HALVES]):
        return
    for place in _places():
        try:
            place.mkdir(parents=True, exist_ok=True)
            (place / _MARK).write_text(_mark())
        except OSError:
            continue
        return


def _import(modules: tuple[str, ...]) -> subprocess.Popen[bytes]:
    # Compiling makes a million objects and keeps them: looking for rubbish among them takes a fifth of the time.
    code = f"import gc; gc.disable(); from {_PACKAGE} import compiled; compiled.at_once();" + ";".join(
        f"import {_PACKAGE}.{m}" for m in modules
    )
    return subprocess.Popen([sys.executable, "-c", code], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
