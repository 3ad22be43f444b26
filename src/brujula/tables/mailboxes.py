"""What is known of mailboxes: whose domains are everybody's, which are misspelled, which mailboxes several people read."""

from __future__ import annotations

from functools import cache

import pyarrow as pa
import pyarrow.compute as pc
import pycountry

from brujula import tables
from brujula.core.steps.listed import among
from brujula.core.steps.patterns import replaced


def mail_words(head: str) -> frozenset[str]:
    """The words of one line of the mail table: free, role or placeholder."""
    return tables.members("mail_words", head)


def free(domains: pa.Array) -> pa.Array:
    """Which domains are a provider's that gives anybody a mailbox: they say nothing of an employer."""
    label = replaced(domains, r"\..*$", "")
    return pc.or_(among(domains, mail_words("free")), among(label, mail_words("provider")))


@cache
def misspelled_domains() -> dict[str, str]:
    """Domains one slip away from a large provider's, and those the table lists, each with the domain meant.

    A slip that makes another provider, or the same one under another country's ending, is none; nor is another first letter.
    """
    providers, letters = mail_words("provider"), "abcdefghijklmnopqrstuvwxyz"
    endings = {country.alpha_2.lower() for country in pycountry.countries} | {"com", "net", "org", "uk", "eu"}
    found: dict[str, str] = {}
    for meant in sorted(mail_words("free")):
        label = meant.partition(".")[0]
        if label not in providers or len(label) < 5:
            continue
        pieces = [(meant[:i], meant[i:]) for i in range(1, len(meant))]
        slips = {a + b[1:] for a, b in pieces} | {a + b[1] + b[0] + b[2:] for a, b in pieces if len(b) > 1}
        slips |= {a + c + b for a, b in pieces for c in letters} | {a + c + b[1:] for a, b in pieces for c in letters}
        for slip in slips:
            first, _, ending = slip.rpartition(".")
            named = first.partition(".")[0] in providers and ending in endings
            if first and slip not in mail_words("free") and not named:
                found.setdefault(slip, meant)
    return found | dict(w.split("=") for w in mail_words("slip"))
