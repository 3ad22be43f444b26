"""Options that several commands share."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

Against = Annotated[
    str, typer.Option("--against", metavar="EXISTING", help="Existing records: a file, or a store's URL (sqlite:///crm.db).")
]
AsEntity = Annotated[
    str | None, typer.Option("--as", metavar="ENTITY", help="contact or account; found from the columns when left out.")
]
Json = Annotated[bool, typer.Option("--json", help="Print the result for machines.")]
Out = Annotated[Path, typer.Option("--out", metavar="DIR", help="The plan folder to write.")]
PolicyFile = Annotated[
    Path | None, typer.Option("--policy", metavar="FILE", help="A policy (TOML); the default one when left out.")
]
Into = Annotated[
    str, typer.Option("--into", metavar="STORE", help="The store's URL: sqlite:///crm.db, postgresql://user@host/name.")
]


def entity(name: str | None) -> str | None:
    """The entity a call names. Raises UsageError for another word."""
    from brujula.errors import UsageError

    if name not in (None, "contact", "account"):
        raise UsageError(f'--as: "{name}" is no entity; accepted: contact, account')
    return name
