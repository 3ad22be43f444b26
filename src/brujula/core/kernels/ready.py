"""Compiling all kernels once, on two cores, so that the first run waits seconds."""

from __future__ import annotations

import atexit
import contextlib
import fcntl
import hashlib
import os
import re
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Callable
from importlib.metadata import version
from pathlib import Path

_COMPILES = "BRUJULA_COMPILES"
looked = _COMPILES in os.environ
"""Whether this process has looked already, or is one of those that compile."""
_PACKAGE = __name__.rpartition(".")[0]
_HERE = Path(__file__).parent
_MARK = "brujula-kernels"
# Two processes at once. Each begins with what the other needs later, and finds that in the cache when it gets there.
_HALVES = (
    ("edits", "contact", "words", "word_matches", "phrases", "streets", "evidence", "members"),
    ("hashing", "text", "names", "name_parts", "name_levels", "mailboxes", "company", "grams", "blocks", "cluster"),
)


def _is_compiled(place: Path) -> bool:
    """Whether these kernels were compiled there before, by this numba, for this processor."""
    return (place / _MARK).is_file() and (place / _MARK).read_text() == _mark()


def _place() -> Path | None:
    """Where numba keeps what it compiled: where its variable says, else beside the kernels, else at home; the first it may write to."""
    places = [_HERE / "__pycache__"]
    if chosen := os.environ.get("NUMBA_CACHE_DIR"):
        places.insert(0, Path(chosen))
    with contextlib.suppress(RuntimeError):  # nobody's home
        places.append(Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "numba")
    return next(filter(_takes_files, places), None)


def _takes_files(place: Path) -> bool:
    try:
        place.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryFile(dir=place):
            return True
    except OSError:
        return False


def _place_for_now() -> Path:
    """Where no folder can be written to: one that ends with this process, for numba to keep what it compiles in.

    It refuses to compile otherwise: for a service without a home, say, whose programs belong to somebody else.
    """
    place = os.environ["NUMBA_CACHE_DIR"] = tempfile.mkdtemp(prefix=f"{_MARK}-")
    if numba := sys.modules.get("numba"):
        numba.config.CACHE_DIR = place  # it has read its variables already
    atexit.register(shutil.rmtree, place, ignore_errors=True)
    return Path(place)


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
    global looked
    looked = True
    kept = _place()
    place = kept or _place_for_now()
    if _is_compiled(place):
        return
    if kept:
        say("First run on this machine: compiling the comparison kernels, once. This takes 15 to 40 seconds.")
    else:
        say(
            "Compiling the comparison kernels takes 15 to 40 seconds at every run: there is no folder to keep them in, "
            "beside the program or at home; name one in NUMBA_CACHE_DIR."
        )
    if not sys.executable or getattr(sys, "frozen", False):
        return  # within a program that is not Python, which cannot be begun as another process
    with contextlib.suppress(OSError), (place / f"{_MARK}.lock").open("w") as lock:
        # Whoever waits here for another process finds its work done.
        fcntl.flock(lock, fcntl.LOCK_EX)
        if _is_compiled(place) or any(process.wait() for process in [_import(half) for half in _HALVES]):
            return
        (place / _MARK).write_text(_mark())


def _import(modules: tuple[str, ...]) -> subprocess.Popen[bytes]:
    # Compiling makes a million objects and keeps them: looking for rubbish among them takes a fifth of the time.
    code = f"import gc; gc.disable(); from {_PACKAGE} import compiled; compiled.at_once();" + ";".join(
        f"import {_PACKAGE}.{m}" for m in modules
    )
    environment = os.environ | {_COMPILES: "1"}
    return subprocess.Popen(
        [sys.executable, "-P", "-c", code], env=environment, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
    )
