"""Problems of a list's rows: what is missing, what cannot be used."""

from __future__ import annotations

import numpy as np
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Batch
from brujula.core.steps.listed import among
from brujula.intake import no_records
from brujula.intake.shape import Shaped
from brujula.policy.entities import ENTITIES, kind_of
from brujula.policy.model import Policy
from brujula.problems import Problem
from brujula.tables.mailboxes import mail_words, misspelled_domains

_CODES = {"email": "bad-email", "phone": "bad-phone", "date": "bad-date"}
_MOST = 100_000


def find(cleaned: Batch, batch: Batch, incoming: Shaped, policy: Policy) -> list[Problem]:
    """Every problem of the incoming rows; a fatal one means the row is rejected. Placeholders are no problem, only blank."""
    n = batch.n_existing
    found, fields = list(incoming.raw.problems), incoming.columns
    for field in policy.required:
        missing = np.flatnonzero(cleaned.column(field).codes[n:] < 0)
        found += [Problem("required-blank", int(r) + 1, fields.get(field, field), fatal=True, field=field) for r in missing]
    for field, column in fields.items():
        code = _CODES.get(kind_of(batch.entity).get(field, ""))
        if code is None or field not in batch.columns:
            continue
        raw, clean = batch.columns[field], cleaned.columns[field].codes[n:]
        lost = np.flatnonzero((raw.codes[n:] >= 0) & (clean < 0))
        texts = raw.values.arrow()
        for r in lost[:_MOST].tolist():
            value = texts[int(raw.codes[n + r])].as_py()
            if _tries(value, field):
                found.append(Problem(code, r + 1, column, value, field=field))
    found += _doubtful_domains(batch, fields)
    # Of headings, totals and lines under a list there is nothing more to say.
    none = {p.row for p in found if p.code in no_records.CODES}
    return [p for p in found if p.code in no_records.CODES or p.row not in none]


def in_order(problem: Problem) -> tuple[int, str, str]:
    """What problems are sorted by."""
    return problem.row, problem.column, problem.code


def nameless(cleaned: Batch) -> NDArray[np.bool_]:
    """Records of both lists that name nobody: rows may be somebody who is there, by an id or a mailbox, but nobody is made of them."""
    out = np.ones(len(cleaned), bool)
    for field in ENTITIES[cleaned.entity].naming:
        out &= cleaned.column(field).codes < 0
    return out


def of_no_names(cleaned: Batch) -> tuple[str, ...]:
    """That most existing records name nobody, for the steward to see: names are what most is found by."""
    none = int(np.count_nonzero(nameless(cleaned)[: cleaned.n_existing]))
    return (f"{none:,} of {cleaned.n_existing:,} records give no name",) if 2 * none > cleaned.n_existing else ()


def of_nobody(entity: str, rows: NDArray[np.int64]) -> list[Problem]:
    """The problem of rows, by their place from 0, that name nobody and are nobody who is there."""
    return [Problem(ENTITIES[entity].no_name, int(r) + 1, fatal=True) for r in rows]


def _doubtful_domains(batch: Batch, fields: dict[str, str]) -> list[Problem]:
    """Addresses at a domain that is likely a slip of the finger, or made to be thrown away; they are used all the same."""
    if "email" not in batch.columns or "email" not in fields:
        return []
    column = batch.columns["email"].take(np.arange(batch.n_existing, len(batch), dtype=np.int32))
    domain = pc.utf8_lower(pc.replace_substring_regex(column.values.arrow(), r"^.*@|[>\s]+$", ""))
    found = []
    meant = misspelled_domains()
    for code, words in (("misspelled-domain", frozenset(meant)), ("throwaway-domain", mail_words("throwaway"))):
        hit = among(domain, words).to_numpy(zero_copy_only=False)
        rows = np.flatnonzero(np.append(hit, False)[column.codes])[:_MOST]
        for r in rows.tolist():
            value = column.values.arrow()[int(column.codes[r])].as_py()
            told = f"{value} ({meant[d]}?)" if (d := value.lower().rpartition("@")[2].strip(" >")) in meant else value
            found.append(Problem(code, r + 1, fields["email"], told, field="email"))
    return found


def _tries(value: str, field: str) -> bool:
    """Whether a value was meant as one of its kind, so that failing is a problem: placeholders are not."""
    from brujula.core.steps.placeholders import PLACEHOLDERS

    plain = value.strip().lower()
    if plain in PLACEHOLDERS or plain in mail_words("placeholder"):
        return False
    if field in ("email", "other_email"):
        return len(plain) > 3 and not plain.startswith(("noemail@", "none@", "na@", "test@", "nomail@", "no@", "unknown@"))
    if field not in ("phone", "mobile"):
        return any(c.isdigit() for c in plain)
    if plain in ("123-456-7890", "(123) 456-7890", "1234567890"):
        return False
    return len({c for c in plain if c.isdigit()}) > 1 or (len(plain) > 3 and any(c.isalpha() for c in plain))
