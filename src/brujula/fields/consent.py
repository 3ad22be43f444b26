"""Consent: whether a person has opted out. It only ever tightens."""

from __future__ import annotations

from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Batch, Column, Texts
from brujula.core.kind import Identity, Kind
from brujula.core.steps.placeholders import NOTHING
from brujula.core.steps.text import without

_FREE = {
    "false",
    "no",
    "n",
    "f",
    "0",
    "opted in",
    "opt in",
    "opt-in",
    "subscribed",
    "nein",
    "non",
    "falsch",
    "faux",
    "falso",
    "nee",
    "nie",
    "off",
    "0.0",
}


class Consent(Kind):
    """An opt-out on any side stays."""

    name = "consent"
    parts = ("email_opt_out", "phone_opt_out")
    survivorship = "strictest"
    headings = {
        "email_opt_out": """email opt out | opt out | unsubscribed | do not email | no mail | email optout | has opted out of email
            | do not mail | do not contact | opted out | opted out of email | no e mail | no email | no contact | desinscrit | newsletter opt out | no newsletter | kein newsletter | no emails | baja | desuscrito | desabonne | disiscritto | uitgeschreven | wypisany | abgemeldet | unsubscribe | email unsubscribed | marketing opt out""",
        "phone_opt_out": "phone opt out | do not call | dnc | no calls | no phone | nicht anrufen | no llamar | ne pas appeler | non chiamare | niet bellen | nie dzwonic",
    }

    def clean(self, column: Column) -> Column:
        """Only what says nothing at all is blank."""
        return without(column, {"n/a", "na", "unknown", "-", "null", "none"}, NOTHING)

    def strict(self, values: Texts) -> NDArray[np.bool_]:
        """Everything but a clear "no opt-out" is an opt-out."""
        plain = pc.utf8_lower(pc.utf8_trim_whitespace(values.arrow()))
        return ~np.asarray(
            pc.is_in(plain, value_set=pa.array(sorted(_FREE), pa.large_string())).to_numpy(zero_copy_only=False), bool
        )

    def standardise(self, batch: Batch, identity: Identity) -> Any:
        """Not compared: nothing to prepare."""
        return None
