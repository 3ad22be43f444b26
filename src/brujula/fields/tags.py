"""Tags: a set of words, split at semicolons and commas."""

from __future__ import annotations

import re
from typing import Any

from brujula.core.batch import Batch, Column
from brujula.core.kind import Identity, Kind
from brujula.core.steps.placeholders import NOTHING, PLACEHOLDERS
from brujula.core.steps.text import without


class Tags(Kind):
    """Values of several records are united."""

    name = "tags"
    parts = ("tags",)
    survivorship = "union"
    headings = {
        "tags": "tags | tag | labels | keywords | categories | groups | etiquetas | schlagworte | schlagworter | mots cles | etichette | labels | tagi | categorie"
    }

    def clean(self, column: Column) -> Column:
        """Placeholders are blank."""
        return without(column, PLACEHOLDERS, NOTHING)

    def join(self, first: str, second: str) -> str:
        """All words of both, each once, in the order met."""
        sep = "," if "," in first and ";" not in first else ";"
        have = [x.strip() for x in re.split("[;,]", first) if x.strip()]
        known = {x.casefold() for x in have}
        more = list(dict.fromkeys(x.strip() for x in re.split("[;,]", second) if x.strip() and x.strip().casefold() not in known))
        return f"{sep} ".join(have + more) if more else first

    def standardise(self, batch: Batch, identity: Identity) -> Any:
        """Not compared: nothing to prepare."""
        return None
