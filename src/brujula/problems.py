"""Coded problems of the data: code, wording, what would be accepted. A bad row never raises; it becomes a Problem."""

from __future__ import annotations

from dataclasses import dataclass

CATALOGUE = {
    "no-name": ("the row names nobody", "a given or family name, or a full name"),
    "no-account-name": ("the row names no organisation", "a name"),
    "required-blank": ("a required field is blank", "a value"),
    "bad-email": ("this is no mail address", "an address such as ada@harrow.example"),
    "bad-email-mended": ("a mail address that was spoiled was mended", "an address such as ada@harrow.example"),
    "bad-phone": ("this is no phone number", "at least six digits, not all alike"),
    "bad-value": ("the value cannot be used", "a value the field's kind accepts"),
    "wrong-cells": ("the row has more cells than the header", "as many cells as the header has"),
    "bad-line": ("the line is no JSON object", "one object a line"),
    "bad-card": ("the card cannot be read", "BEGIN:VCARD, properties, END:VCARD"),
    "open-quote": ("a quoted cell is never closed", 'every " at the start of a cell closed by another'),
    "long-cell": ("a cell is too long to be a value", "at most 1,048,576 characters"),
    "totals-row": ("this is the row of totals, no record", "records only"),
    "foot-line": ("this is a line under the list, no record", "records only"),
    "what-to-enter": ("this row says what the columns are to hold, no record", "records only"),
    "headings-again": ("these are the headings once more, no record", "records only"),
    "short-row": (
        "the row has fewer cells than the header",
        "as many cells as the header has; the missing ones were taken as blank",
    ),
    "rounded-number": ("a spreadsheet rounded this number; it was left out", "the number as text, all its digits"),
    "rounded-number-mended": ("a number written as a power of ten, with no digit lost, was written out", "the number as text"),
    "digits-mended": ("digits of another script, or a number with a decimal point, became plain digits", "the number as text"),
    "characters-mended": ("characters that a web page spells out became themselves, and its tags went", "& for &amp;, no <b>"),
    "twice-encoded-mended": ("letters that had been encoded twice became themselves", "García for GarcÃ­a"),
    "spelled-phone-mended": ("letters in a phone number became the digits of their keys", "the number in digits"),
    "lost-zeros-mended": ("a postal code that lost its leading zeros got them back", "the code as text"),
    "date-number-mended": ("a spreadsheet's day number was read as a date", "a date such as 2026-03-02"),
    "which-order": ("day and month could be either way round; the date was left out", "a date such as 2026-03-02"),
    "bad-date": ("this is no date, or stands in for one nobody knew", "a date such as 2026-03-02"),
    "two-people": ("this names two people, and was taken as one", "one person a row"),
    "misspelled-domain": ("the domain is likely misspelled; the address was kept as it stands", "an address at the domain meant"),
    "anothers-mailbox": (
        "the mailbox is another record's, whose name it spells; a record that is there does not get it",
        "a mailbox of the person named",
    ),
    "throwaway-domain": ("an address made to be thrown away; it was kept as it stands", "an address the person reads"),
    "several-mails-mended": (
        "of several addresses the first was used, and the second as the other one if that was blank",
        "one address",
    ),
    "several-phones-mended": (
        "of several numbers the first was used, and the second as the other one (mobile or not) if that was blank; a fax is none",
        "one number",
    ),
    "no-split": (
        "the cell does not fit the policy's pattern; it was kept whole in the pattern's first field",
        "text of the pattern",
    ),
    "not-allowed": (
        "the value is not among the allowed ones; it was left out",
        "a value of the policy's list, or a synonym of one",
    ),
    "unknown-id": ("no existing record has this id", "the id of a record, or none"),
    "repeated-id": ("this id stands more than once among the existing records", "each id once"),
    "blank-id": ("an existing record has no id", "an id"),
}
"""Code to (wording, what would be accepted)."""


_USED = ("no-split", "short-row", "two-people", "misspelled-domain", "throwaway-domain", "anothers-mailbox")


@dataclass(frozen=True)
class Problem:
    """One problem of one cell or row.

    row : 1-based number of the data row; column : heading as it stands in the list, "" for the whole row
    fatal : True when the row cannot be used
    text : the whole row as it stood, where it could not be split into cells
    """

    code: str
    row: int
    column: str = ""
    value: str = ""
    fatal: bool = False
    field: str = ""
    text: str = ""

    @property
    def effect(self) -> str:
        """What became of the value: `mended`, `noted` (used as it stands) or `not used`."""
        return "mended" if self.code.endswith("-mended") else "noted" if self.code in _USED else "not used"

    @property
    def sentence(self) -> str:
        """The problem in words, with the value and what would be accepted."""
        wording, accepted = CATALOGUE[self.code]
        where = f'{self.column}: "{self.value}": ' if self.column and self.value else f"{self.column}: " if self.column else ""
        return f"{where}{wording}; accepted: {accepted}"
