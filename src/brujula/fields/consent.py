"""Consent: whether a person has opted out. It only ever tightens."""

from __future__ import annotations

from typing import Any

from brujula.core.batch import Batch, Column, Keys
from brujula.core.kind import Kind
from brujula.core.steps.text import without


class Consent(Kind):
    """An opt-out on any side stays."""

    name = "consent"
    parts = ("email_opt_out", "phone_opt_out",)
    survivorship = "strictest"
    headings = {
        "email_opt_out": ("email opt out", "opt out", "unsubscribed", "do not email", "no mail", "email optout", "has opted out of email", "do not mail", "newsletter opt out", "no newsletter",),
        "phone_opt_out": ("phone opt out", "do not call", "dnc", "no calls", "no phone",),
    }

    def clean(self, column: Column) -> Column:
        """Only what says nothing at all is blank."""
        return without(column, {"n/a", "na", "unknown", "-", "null", "none"}, r"^[^\pL\d]*$")

    def standardise(self, batch: Batch, identity: Keys) -> Any:
        """Not compared: nothing to prepare."""
        return None
