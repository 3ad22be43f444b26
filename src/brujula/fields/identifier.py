"""An identifier somebody gave: a record's own id, an account's, the number a firm or person is registered under."""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Batch, Column, Keys, Texts
from brujula.core.kind import Compared, Comparison, Example, Identity, Kind, Level, Who
from brujula.core.steps import joining
from brujula.core.steps.distinct import distances
from brujula.core.steps.patterns import replaced
from brujula.core.steps.placeholders import NOTHING, PLACEHOLDERS
from brujula.core.steps.sharing import Counts, as_common, counts_of, owners, share_shared, shares
from brujula.core.steps.text import hash_values, of_records, without


class Numbers(NamedTuple):
    """Registration numbers of n records, 0 where blank, how common each is, how many have it by their names, and the texts with each record's code (-1 where blank)."""

    key: Keys
    shares: NDArray[np.float32]
    owners: NDArray[np.int32]
    texts: Texts
    codes: NDArray[np.int32]


_SEVERAL = 3
"""A number that so many people or firms give is an employer's or a family's."""
_SLIP_FROM = 6
"""A character that differs in a shorter number makes another number."""


class Identifier(Kind):
    """Case, spaces and punctuation do not count; leading zeros do."""

    name = "identifier"
    parts = ("id", "account_id", "parent_id", "registration_no")
    personal = ("registration",)
    headings = {
        "id": "id | record id | crm id | contact id | our id | uuid | guid | external id | record number | uid | person id | our ref | our reference",
        "account_id": """account id | company id | organisation id | organization id | org id | employer id | firm id | business id | school id | institution id
            | account number | account no | account ref | associated company id | firmen id | firmennr | firmennummer | id societe
            | id entreprise | id empresa | id azienda | id firmy | bedrijfsnummer""",
        "parent_id": "parent id | parent | parent account | parent organisation | parent company | parent organization",
        "registration_no": """registration no | registration number | company number | vat | vat id | vat number | tax id | ein | nif
            | cif | siret | ust id | ustid | nip | cnpj | rfc | partita iva | p iva | piva | charity number | charity no | lei | reg no | company reg no | federal id | federal tax id | handelsregisternummer | kvk | kvk nummer | kvk number | siren | krs | regon | handelsregister | hrb | steuernummer | usc | duns | company registration | uid nummer | umsatzsteuer id | ust idnr | cif nif | cnpj cpf
            | tax no | tax number | taxpayer id | ssn | soc sec id | soc sec no | social security number | social security no | national id
            | national id number | national insurance number | national insurance no | ni number | nhs number | nhs no | medicare number
            | mrn | medical record number | medical record no | hospital number | hospital no
            | member id | member no | member number | membership id | membership no | membership number | student id | student no | student number
            | pupil no | pupil number | employee id | employee no | employee number | emp id | emp no | emp number | empl id | staff id | staff no | staff number | personnel number | payroll number
            | passport no | passport number | licence | licence no | licence number | license | license no | license number | lic no | bar number | npi | npi number | voter id | voter number | school code
            | card no | card number | loyalty number | cedula | numero de socio | n socio | seguridad social | matricula
            | mitgliedsnummer | mitglieds nr | mitglied nr | matrikelnummer | schulnummer | sozialversicherungsnummer | personalnummer | steuer id
            | numero de securite sociale | numero d adherent | no adherent | n adherent | personal number | personal no | matricule | numero tessera | pesel | nr legitymacji | lidnummer
            | personnummer | personnr | henkilotunnus | rodne cislo""",
    }
    comparisons = (
        Comparison(
            "registration_no",
            (
                Level("different", "differs", 0.04, 0.9989),
                Level("a number several have", "partial", 0.02, 0.0005, rare=True),
                Level("one character off", "close", 0.02, 0.001),
                Level("same", "same", 0.92, 0.0001, rare=True),
            ),
        ),
    )
    examples = (
        Example({"registration_no": "GB 123-4567"}, {"registration_no": "gb1234567"}, {"registration_no": "same"}),
        Example({"registration_no": "GB 123-4567"}, {"registration_no": "gb1234576"}, {"registration_no": "close"}),
        Example({"registration_no": "4567"}, {"registration_no": "4576"}, {"registration_no": "differs"}),
    )

    def clean(self, column: Column) -> Column:
        """Placeholders are blank."""
        return without(column, PLACEHOLDERS, NOTHING)

    def standardise(self, batch: Batch, identity: Identity) -> Numbers:
        """Registration numbers as keys."""
        column = batch.column("registration_no")
        plain = replaced(pc.utf8_lower(column.values.arrow()), r"[^\pL\d]", "")
        texts = Texts.of(plain)
        key = of_records(hash_values(texts), column)
        giving = owners(key, identity().rough) if column.filled.any() else np.zeros(len(batch), np.int32)
        common = shares(key, batch.counting) * share_shared(key, giving)
        return Numbers(key, common, giving, texts, np.where(key == 0, -1, column.codes).astype(np.int32))

    def joined(self, held: Numbers, records: NDArray[np.int32], asked: Numbers, who: Who) -> Numbers:
        """Numbers of some of the records held, and of others behind them."""
        codes = held.codes[records]
        values = joining.Values.of(codes)
        apart = {"texts": values.texts(held.texts, asked.texts), "codes": values.codes(codes, asked.codes)}
        joined = joining.of_records(held, records, asked, **apart)
        return joined._replace(owners=np.maximum(joined.owners, owners(joined.key, who.rough)))

    def counts(self, standard: Numbers) -> tuple[Counts, Counts]:
        """Share and owners of each number."""
        return counts_of(standard)

    def settle(self, standard: Numbers, counts: tuple[Counts, Counts]) -> Any:
        """Numbers as common as among all records."""
        return as_common(standard, counts)

    def keys(self, standard: Numbers) -> dict[str, Keys]:
        """`registration`."""
        return {"registration": standard.key}

    def compare(self, standard: Numbers, left: Any, right: Any) -> dict[str, Compared]:
        """One comparison, registration_no."""
        a, b = standard.key.take(left), standard.key.take(right)
        different, several, slip, same = range(4)
        out = np.where((a == 0) | (b == 0), -1, np.where(a == b, same, different)).astype(np.int8)
        apart = np.flatnonzero(out == different)
        mine, other = (standard.codes[side[apart]] for side in (left, right))
        lengths = np.diff(standard.texts.offsets)
        shorter = np.minimum(lengths[mine], lengths[other])
        out[apart[(distances(standard.texts, mine, other, any_digits=True) <= 1) & (shorter >= _SLIP_FROM)]] = slip
        agree = out == same
        out[agree & (np.maximum(standard.owners.take(left), standard.owners.take(right)) >= _SEVERAL)] = several
        return {"registration_no": Compared(out, np.where(agree, standard.shares[left], 0).astype(np.float32))}
