"""A value from a list: industry, source, owner, active."""

from __future__ import annotations

from typing import Any

from brujula.core.batch import Batch, Column
from brujula.core.kind import Identity, Kind
from brujula.core.steps.placeholders import NOTHING, PLACEHOLDERS
from brujula.core.steps.text import without


class Choice(Kind):
    """Kept as written; not compared."""

    name = "choice"
    parts = ("industry", "source", "owner", "active")
    survivorship = "fill"
    headings = {
        "industry": "industry | sector | branch | line of business | branche | sector de actividad | secteur | settore | bedrijfstak | actividad | activite | attivita | branza | setor | ramo | rubro | sektor | type of organisation | type of organization | category | account type | kind",
        "source": "source | lead source | origin | quelle | origen | herkunft | how did you hear | fuente | fonte | bron | zrodlo | provenance | came from | campaign | record source | origine | acquisition channel | channel | kanal | canal",
        "owner": "owner | account owner | contact owner | assigned to | responsible | betreuer | propietario | eigentumer | proprietaire | proprietario | eigenaar | wlasciciel | sales rep | rep | account manager | company owner | record owner | account exec | account executive | relationship manager | ansprechpartner intern | zustandig | sachbearbeiter | responsable | responsabile | opiekun",
        "active": "active | status | is active | aktiv | activo | actif | attivo | ativo | aktywny | actief | record status",
    }

    def clean(self, column: Column) -> Column:
        """Placeholders are blank."""
        return without(column, PLACEHOLDERS, NOTHING)

    def standardise(self, batch: Batch, identity: Identity) -> Any:
        """Not compared: nothing to prepare."""
        return None
