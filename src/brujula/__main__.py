"""`python -m brujula` is the command `brujula`."""

from brujula.cli.main import run

run()
