"""Which columns hold given and family names, told by the mailboxes made of them, in any language: ada.quist@ beside Ada and Quist."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from brujula.core.batch import Texts
from brujula.core.steps.patterns import replaced
from brujula.intake.content import ENOUGH, is_repeated, is_words
from brujula.tables.places import joined

_ROWS = 300  # that tell enough
_LEAST = 0.3  # share of mailboxes that have a name in them; of towns and streets hardly one in a hundred has
_LONG = 3  # letters; a shorter name stands in many words


def names_in_mailboxes(table: pa.Table, columns: Sequence[int]) -> tuple[int, int] | None:
    """The columns of given and of family names among some, where mailboxes in another hold both, or the family name and an initial; None where they do not."""
    words = [i for i in columns if is_words(table, i) and not is_repeated(table.column(i).combine_chunks())]
    if len(words) < 2:
        return None
    if (boxes := _boxes(table)) is None:
        return None
    local = _folded(boxes)
    where = {i: np.array([_place(box, name) for box, name in zip(local, _folded(_first(table, i)), strict=True)]) for i in words}
    shares = {i: float((at >= 0).sum()) / max(int((at > _BLANK).sum()), 1) for i, at in where.items()}
    within = [i for i in words if shares[i] >= _LEAST and (where[i] > _BLANK).sum() >= ENOUGH]
    if len(within) > 1:
        one, other = sorted(within, key=lambda i: -shares[i])[:2]
        both = (where[one] >= 0) & (where[other] >= 0)
        before = (where[one] < where[other])[both].mean() if both.any() else 0.0
        return (one, other) if before > 0.5 else (other, one)
    if not within:
        return None
    (family,) = within
    initials = {
        i: _share_of_initials(local, _folded(_first(table, i)), _folded(_first(table, family))) for i in words if i != family
    }
    given = max(initials, key=lambda i: initials[i])
    return (given, family) if initials[given] >= _LEAST else None


def has_role_mailboxes(table: pa.Table) -> bool:
    """Whether mailboxes are called the same at many a domain, as those of firms are: info@, office@."""
    if (boxes := _boxes(table)) is None:
        return False
    most = pc.max(pc.struct_field(pc.value_counts(boxes.filter(pc.not_equal(boxes, ""))), "counts")).as_py() or 0
    return bool(most >= max(_LEAST * len(boxes), 2))


def _boxes(table: pa.Table) -> pa.Array | None:
    """What stands before the @ in the first column of mail addresses; None where there is none."""
    mails = (i for i in range(table.num_columns) if is_words(table, i, r"^\s*[^@\s]+@[^@\s]+\s*$"))
    mail = next(mails, None)
    return None if mail is None else replaced(_first(table, mail), r"@.*$", "")


_BLANK = -2  # where nothing can be said: no mailbox, or hardly a name


def _first(table: pa.Table, at: int) -> pa.Array:
    return pc.fill_null(table.column(at).slice(0, _ROWS).combine_chunks().cast(pa.large_string()), "")


def _folded(text: pa.Array) -> list[str]:
    return ["".join(c for c in x if not c.isdigit()) for x in joined(Texts.of(text)).to_pylist()]


def _place(box: str, name: str) -> int:
    """Where a name stands in a mailbox, -1 where it does not."""
    return box.find(name) if box and len(name) >= _LONG else _BLANK


def _share_of_initials(local: list[str], given: list[str], family: list[str]) -> float:
    """Of mailboxes with the family name in them, the share that has no more but the first letter of the other name."""
    rest = [
        (box.replace(last, "", 1), first) for box, first, last in zip(local, given, family, strict=True) if last and last in box
    ]
    told = [(letters, first) for letters, first in rest if letters and first]
    return sum(letters == first[0] for letters, first in told) / len(told) if len(told) >= ENOUGH else 0.0
