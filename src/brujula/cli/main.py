"""`brujula COMMAND`: the commands, and what becomes of errors."""

from __future__ import annotations

import gc
import io
import os
import sys
from typing import Annotated

import typer

from brujula import __version__
from brujula.cli.commands import check, demo, export, history, inspect, load, plan, policy, review, sweep, undo
from brujula.errors import BrujulaError

app = typer.Typer(
    no_args_is_help=True,
    add_completion=False,
    rich_markup_mode=None,
    pretty_exceptions_enable=False,
    help="Decides what becomes of every row of a contact or account list before anything is loaded; loads it, and can take it back.",
)
app.command("demo")(demo.demo)
app.command("inspect")(inspect.inspect)
app.command("plan")(plan.plan)
app.command("review")(review.review)
app.command("load")(load.load)
app.command("undo")(undo.undo)
app.command("history")(history.history)
app.command("sweep")(sweep.sweep)
app.command("check")(check.check)
app.command("export")(export.export)
app.add_typer(policy.app, name="policy")


def _version(wanted: bool) -> None:
    if wanted:
        typer.echo(f"brujula {__version__}")
        raise typer.Exit


@app.callback()
def main(
    version: Annotated[bool, typer.Option("--version", callback=_version, is_eager=True, help="Show the version.")] = False,
) -> None:
    """Exit codes: 0 done; 1 done, and something needs a person; 2 the input or the call is wrong; 3 the store failed."""


def run() -> None:
    """The console entry: errors become one message and an exit code, never a stack trace."""
    if isinstance(sys.stdout, io.TextIOWrapper):
        sys.stdout.reconfigure(errors="replace")  # a terminal of few letters shows "?" for the others
    gc.disable()  # a command does one thing and ends: looking for rubbish in cycles costs a tenth of its time and finds next to none
    try:
        app()
    except BrujulaError as error:
        sys.stderr.write(f"brujula: {error}\n")
        sys.exit(error.exit_code)
    except BrokenPipeError:
        os._exit(0)
    except KeyboardInterrupt:
        sys.stderr.write("brujula: stopped; nothing was left half-written\n")
        sys.exit(2)
    except MemoryError:
        sys.stderr.write("brujula: not enough memory for lists of this size\n")
        sys.exit(2)
    except Exception as error:
        if os.environ.get("BRUJULA_DEBUG"):
            raise
        sys.stderr.write(
            f"brujula: this should not happen ({type(error).__name__}: {error}); set BRUJULA_DEBUG=1 for the details and report it\n"
        )
        sys.exit(3)
