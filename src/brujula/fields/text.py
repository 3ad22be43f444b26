"""Free text: notes."""

from __future__ import annotations

from typing import Any

from brujula.core.batch import Batch, Column
from brujula.core.kind import Identity, Kind
from brujula.core.steps.text import without


class Text(Kind):
    """Appended, never compared."""

    name = "text"
    parts = ("notes",)
    survivorship = "append"
    headings = {
        "notes": """notes | note | kommentar | kommentare | commentaire | commentaires | comentario | comentarios | opmerking | opmerkingen | uwagi | anmerkung |
            anmerkungen | comments | comment | remarks | remark | description | bemerkung | notizen | notas | observaciones | remarques | anything else | message | bemerkungen | notiz | nota | note interne | notatki | komentarz | memo | additional info | additional information | free text | freitext"""
    }

    def clean(self, column: Column) -> Column:
        """Only white space is blank."""
        return without(column, set(), r"^\s*$")

    def join(self, first: str, second: str) -> str:
        """The second behind the first, unless it stands there already, in lines of its own: order 1 is no part of order 10."""
        return first if f"\n{second}\n" in f"\n{first}\n" else f"{first}\n{second}" if first else second

    def standardise(self, batch: Batch, identity: Identity) -> Any:
        """Not compared: nothing to prepare."""
        return None
