"""Coded problems of the data: code, wording, what would be accepted. A bad row never raises; it becomes a Problem."""

from __future__ import annotations

from dataclasses import dataclass

CATALOGUE = {
    "no-name": ("the row names nobody", "a given or family name, or a full name"),
    "no-account-name": ("the row names no organisation", "a name"),
    "required-blank": ("a required field is blank", "a value"),
    "bad-email": ("this is no mail address", "an address such as ada@harrow.example"),
    "bad-phone": ("this is no phone number", "at least six digits, not all alike"),
    "bad-value": ("the value cannot be used", "a value the field's kind accepts"),
    "wrong-cells": ("the row has more cells than the header", "as many cells as the header has"),
    "bad-line": ("the line is no JSON object", "one object a line"),
    "short-row": (
        "the row has fewer cells than the header",
        "as many cells as the header has; the missing ones were taken as blank",
    ),
    "repeated-id": ("this id stands more than once among the existing records", "each id once"),
    "blank-id": ("an existing record has no id", "an id"),
}
"""Code to (wording, what would be accepted)."""


@dataclass(frozen=True)
class Problem:
    """One problem of one cell or row.

    row : 1-based number of the data row; column : heading as it stands in the list, "" for the whole row
    fatal : True when the row cannot be used
    """

    code: str
    row: int
    column: str = ""
    value: str = ""
    fatal: bool = False
    field: str = ""

    @property
    def sentence(self) -> str:
        """The problem in words, with the value and what would be accepted."""
        wording, accepted = CATALOGUE[self.code]
        where = f'{self.column}: "{self.value}": ' if self.column and self.value else f"{self.column}: " if self.column else ""
        return f"{where}{wording}; accepted: {accepted}"
