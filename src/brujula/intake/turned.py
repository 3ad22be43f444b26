"""Given and family names that stand in each other's columns, or the other way round in one, all through a list."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import replace

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.steps.degrees import GENERATION
from brujula.core.steps.name_cells import PARTICLES
from brujula.fields.person_name import TITLES
from brujula.intake.raw import trimmed
from brujula.intake.shape import Shaped

_SAMPLE = 20_000
_RECORDS = 200_000
_TELL = 20  # rows at least that say which is which
_MOSTLY = 0.8
_NAMES = ("given_name", "family_name")
_HEAD = rf"(?:(?i:{PARTICLES})\s+)*[^\s,]+(?:\s+{GENERATION}\b\.?)?"
_Known = tuple[pa.Array, NDArray[np.int64]]
"""Words, and how many records' names begin with each."""


def in_place(new: Shaped, old: Shaped, told: Collection[str]) -> Shaped:
    """The list with given and family names exchanged, or whole names read from the family name on, where the records bear them so; that is said.

    told : fields whose columns the policy names itself; these are believed
    A row tells where more records bear its two words one way than the other; of those that tell, four in five must be turned.
    """
    if not set(_NAMES) <= set(old.values) or {*_NAMES, "full_name"} & set(told):
        return new
    known = _counts(old.values["given_name"].slice(0, _RECORDS)), _counts(old.values["family_name"].slice(0, _RECORDS))
    if set(_NAMES) <= set(new.values):
        given, family = (_first_words(new.values[field].slice(0, _SAMPLE)) for field in _NAMES)
        return _exchanged(new) if _are_turned(given, family, *known) else new
    if "full_name" in new.values:
        text = trimmed(new.values["full_name"].slice(0, _SAMPLE))
        two = text.filter(pc.match_substring_regex(text, r"^[^\s,]+\s+[^\s,]+$"))
        if _are_turned(_first_words(two), pc.replace_substring_regex(two, r"^\S+\s+", ""), *known):
            return _family_first(new, *known)
    return new


def _are_turned(given: pa.Array, family: pa.Array, as_given: _Known, as_family: _Known) -> bool:
    """Whether most rows that tell have a family name where the given one should be, and a given one for it."""
    straight = _borne(given, as_given) + _borne(family, as_family)
    turned = _borne(family, as_given) + _borne(given, as_family)
    tell = np.count_nonzero(straight != turned)
    return bool(tell >= _TELL and np.count_nonzero(turned > straight) >= _MOSTLY * tell)


def _exchanged(new: Shaped) -> Shaped:
    swap = dict(zip(_NAMES, reversed(_NAMES), strict=True))
    first, last = (new.columns[field] for field in _NAMES)
    note = f'"{first}" holds family names and "{last}" given names, going by the records: each was taken for the other'
    return replace(
        new,
        raw=replace(new.raw, notes=(*new.raw.notes, note)),
        values={field: new.values[swap.get(field, field)] for field in new.values},
        columns={field: new.columns[swap.get(field, field)] for field in new.columns},
    )


def _family_first(new: Shaped, as_given: _Known, as_family: _Known) -> Shaped:
    """Whole names with a comma behind the family name, which of three words or more may be the first two."""
    text = trimmed(new.values["full_name"], lower=False)
    words = pc.utf8_lower(pc.replace_substring_regex(text, rf"^{_HEAD}\s+([^\s,]+)\s.*$", r"\1"))
    second = _borne(words, as_family) > _borne(words, as_given)
    two = pc.replace_substring_regex(text, rf"^({_HEAD}\s+[^\s,]+)\s+([^,]+)$", r"\1, \2")
    one = pc.replace_substring_regex(text, rf"^({_HEAD})\s+([^,]+)$", r"\1, \2")
    # Behind a title nobody knows which comes first.
    titled = pc.match_substring_regex(text, rf"(?i)^(?:{'|'.join(TITLES)})[.\s]")
    read = pc.if_else(titled, text, pc.if_else(pa.array(second), two, one))
    column = new.columns["full_name"]
    note = f'"{column}" gives the family name first, going by the records: it was read so'
    return replace(
        new, raw=replace(new.raw, notes=(*new.raw.notes, note)), values=new.values | {"full_name": pa.chunked_array([read])}
    )


def _first_words(values: pa.ChunkedArray | pa.Array) -> pa.Array:
    return pc.replace_substring_regex(trimmed(values), r"[\s,.-].*$", "")


def _counts(values: pa.ChunkedArray) -> _Known:
    """Words that begin the names, and how many names each begins."""
    counted = _first_words(values).value_counts()
    return counted.field("values"), counted.field("counts").to_numpy()


def _borne(words: pa.Array, known: _Known) -> NDArray[np.int64]:
    """How many records bear each word; none bears a blank."""
    at = pc.index_in(words, value_set=known[0])
    at = pc.if_else(pc.equal(words, ""), None, at).fill_null(-1).to_numpy(zero_copy_only=False)
    return np.asarray(np.append(known[1], 0)[at])
