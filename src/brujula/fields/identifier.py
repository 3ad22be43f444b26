"""An identifier somebody gave: a record's own id, an account's, a registration number."""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
import pyarrow.compute as pc

from brujula.core.batch import Batch, Column, Keys, Texts
from brujula.core.kind import Compared, Comparison, Example, Identity, Kind, Level
from brujula.core.steps.patterns import replaced
from brujula.core.steps.placeholders import NOTHING, PLACEHOLDERS
from brujula.core.steps.sharing import shares
from brujula.core.steps.text import hash_values, of_records, without


class Numbers(NamedTuple):
    """Registration numbers of n records, 0 where blank, and how common each is."""

    key: Keys
    shares: Any


class Identifier(Kind):
    """Case, spaces and punctuation do not count; leading zeros do."""

    name = "identifier"
    parts = ("id", "account_id", "parent_id", "registration_no")
    headings = {
        "id": "id | record id | crm id | contact id | our id | uuid | guid | record | external id | record number | uid",
        "account_id": "account id | company id | organisation id | organization id",
        "parent_id": "parent id | parent | parent account | parent organisation | parent company | parent organization",
        "registration_no": """registration no | registration number | company number | vat | vat id | vat number | tax id | ein | nif
            | cif | siret | ust id | ustid | nip | cnpj | rfc | partita iva | charity number | kvk | kvk nummer | kvk number | siren | krs | regon | handelsregister | hrb | steuernummer | usc | duns | company registration | uid nummer | umsatzsteuer id | ust idnr | cif nif | cnpj cpf""",
    }
    comparisons = (
        Comparison(
            "registration_no", (Level("different", "differs", 0.04, 0.9999), Level("same", "same", 0.96, 0.0001, rare=True))
        ),
    )
    examples = (Example({"registration_no": "GB 123-4567"}, {"registration_no": "gb1234567"}, {"registration_no": "same"}),)

    def clean(self, column: Column) -> Column:
        """Placeholders are blank."""
        return without(column, PLACEHOLDERS, NOTHING)

    def standardise(self, batch: Batch, identity: Identity) -> Numbers:
        """Registration numbers as keys."""
        column = batch.column("registration_no")
        plain = replaced(pc.utf8_lower(column.values.arrow()), r"[^\pL\d]", "")
        key = of_records(hash_values(Texts.of(plain)), column)
        return Numbers(key, shares(key))

    def keys(self, standard: Numbers) -> dict[str, Keys]:
        """`registration`."""
        return {"registration": standard.key}

    def compare(self, standard: Numbers, left: Any, right: Any) -> dict[str, Compared]:
        """One comparison, registration_no."""
        a, b = standard.key.take(left), standard.key.take(right)
        out = np.where((a == 0) | (b == 0), -1, a == b).astype(np.int8)
        return {"registration_no": Compared(out, np.where(out == 1, standard.shares[left], 0).astype(np.float32))}
