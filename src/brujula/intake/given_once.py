"""What a list says in the first row of several only: the school beside its first teacher, and blanks below it, as a pivot table or a hand writes it."""

from __future__ import annotations

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.steps.patterns import replaced
from brujula.fields.phone import last_nine
from brujula.intake.raw import is_filled

_WITH_IT = ("street", "city", "region", "postal_code", "country")
_INSIDE, _ACROSS = 5, 3  # rows that follow another under one firm, and under two, that can tell
_FIRMS = 3  # that show it, at least: under the last may stand those who have none
_ALIKE = 0.3  # share of the former that give the mail domain, or the phone, of the row before: a third of people give a private mailbox
_OFTENER = 2.5  # how much oftener than the latter: a firm that is written in two ways begins twice

_Values = dict[str, pa.ChunkedArray]


def filled_down(values: _Values, columns: dict[str, str]) -> tuple[_Values, list[str]]:
    """The values with the account, and its address, that stand once over several rows said of each, and a note; as they are where the list does not show that they are meant so.

    It shows it by what those under one account share: a row gives the domain or the phone of the row before far oftener than where the next account begins.
    Where nobody knows most people's firms, rows are as like at a firm that is named as elsewhere. columns : field to where its values come from
    """
    if "account" not in values or len(values["account"]) < _INSIDE + _ACROSS:
        return values, []
    begins = is_filled(values["account"])
    if not begins[0] or begins.all() or not (_shared(values, "email", begins) or _shared(values, "phone", begins)):
        return values, []
    at = pa.array(np.maximum.accumulate(np.where(begins, np.arange(len(begins)), 0)))
    fields = ["account", *(f for f in _WITH_IT if f in values and not (is_filled(values[f]) & ~begins).any())]
    named = ", ".join(f'"{columns[f]}"' for f in fields)
    note = f"{named} stand{'s' * (len(fields) == 1)} in the first row of several: said of the {int((~begins).sum()):,} rows below as well"
    return values | {f: values[f].take(at) for f in fields}, [note]


def _shared(values: _Values, field: str, begins: NDArray[np.bool_]) -> bool:
    """Whether rows share a domain, or a phone, with the row before under one account, and not with the last of the account before."""
    if field not in values:
        return False
    text = pc.utf8_lower(values[field].combine_chunks())
    keys = replaced(text, r"^[^@]*@|\s+$", "") if field == "email" else last_nine(text)
    told = np.flatnonzero(is_filled(keys))
    same = pc.equal(keys.take(pa.array(told[1:])), keys.take(pa.array(told[:-1]))).to_numpy(zero_copy_only=False)
    group = np.cumsum(begins)[told]
    inside = group[1:] == group[:-1]
    if inside.sum() < _INSIDE or (~inside).sum() < _ACROSS or len(np.unique(group[1:][inside & same])) < _FIRMS:
        return False
    return bool(same[inside].mean() >= max(_ALIKE, _OFTENER * same[~inside].mean()))
