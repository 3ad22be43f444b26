"""The command line as a process of its own, its output and exit code.

The process is forked off one that has planned once: starting Python, loading what commands are made of, and the tables and patterns
made once are most of what a short command takes. `real` starts the installed command itself, from nothing.
"""

import multiprocessing
import os
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import NamedTuple

BRUJULA = str(Path(sys.executable).parent / "brujula")
_forks = multiprocessing.get_context("forkserver")
_forks.set_forkserver_preload(["tests.warmed"])


class Done(NamedTuple):
    """What a command left behind."""

    returncode: int
    stdout: str
    stderr: str


def _command(args, folder, files, environment):
    for descriptor, file in zip((1, 2), files, strict=True):
        os.dup2(os.open(file, os.O_WRONLY), descriptor)
    os.dup2(os.open(os.devnull, os.O_RDONLY), 0)
    sys.stdin = open(0, encoding="utf-8")  # noqa: SIM115
    os.chdir(folder)
    os.environ.clear()
    os.environ.update(environment)
    sys.argv = ["brujula", *args]
    from brujula.cli.main import run

    run()


def forked(*args, cwd=None):
    """The command's output and exit code, whatever they are."""
    with tempfile.TemporaryDirectory() as place:
        files = [Path(place) / name for name in ("out", "err")]
        for file in files:
            file.touch()
        process = _forks.Process(
            target=_command, args=([str(a) for a in args], str(cwd or Path.cwd()), [str(f) for f in files], dict(os.environ))
        )
        process.start()
        process.join()
        return Done(process.exitcode, *(file.read_text("utf-8") for file in files))


def real(*args, cwd=None):
    """The same of the installed command."""
    done = subprocess.run([BRUJULA, *map(str, args)], cwd=cwd, capture_output=True, text=True)
    return Done(done.returncode, done.stdout, done.stderr)


def run(*args, cwd=None, code=0, how=forked):
    """What the command prints (of an error: what it says), its exit code checked; a stack trace is never shown."""
    done = how(*args, cwd=cwd)
    assert done.returncode == code, done.stdout + done.stderr
    assert "Traceback" not in done.stderr
    return done.stdout if code != 2 and code != 3 else done.stderr
