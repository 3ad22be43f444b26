"""A value from a list: industry, source, owner, active."""

from __future__ import annotations

from typing import Any

from brujula.core.batch import Batch, Column, Keys
from brujula.core.kind import Kind
from brujula.core.steps.placeholders import PLACEHOLDERS
from brujula.core.steps.text import without


class Choice(Kind):
    """Kept as written; not compared."""

    name = "choice"
    parts = ("industry", "source", "owner", "active")
    survivorship = "fill"
    headings = {
        "industry": "industry | sector | branch | line of business | branche | sector de actividad | secteur | settore",
        "source": "source | lead source | origin | quelle | origen | herkunft | how did you hear",
        "owner": "owner | account owner | contact owner | assigned to | responsible | betreuer | propietario",
        "active": "active | status | is active | aktiv | activo",
    }

    def clean(self, column: Column) -> Column:
        """Placeholders are blank."""
        return without(column, PLACEHOLDERS, r"^[^\pL\d]*$")

    def standardise(self, batch: Batch, identity: Keys) -> Any:
        """Not compared: nothing to prepare."""
        return None
