"""What is a part of an organisation, and not the organisation: its departments, and the schools, clinics and libraries of a large one."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from brujula.core.batch import Keys, Texts
from brujula.core.kernels.phrases import WORD_IN_WHOLE
from brujula.core.steps import phrases
from brujula.core.steps.text import hash_values

_DEPARTMENTS = ("department", "faculty", "division")
_HOUSES = ("university", "polytechnic", "college", "institute", "hospital", "school", "academy", "conservatory", "clinic", "library", "museum")  # fmt: skip
_SITES = ("church", "airport", "station", "club", "theatre", "mall")
_TENANTS = ("pharmacy", "shop", "cafe", "restaurant", "cemetery", "band", "hotel", "parking")
_LARGE = (1 << 5) - 1  # the first five: they have others within
_HOUSE, _HOST = (1 << len(_HOUSES)) - 1, (1 << len(_HOUSES) + len(_SITES)) - 1  # all but tenants have tenants


def without_department(spoken: phrases.Phrases, whole: Keys) -> Keys:
    """Per record the key of its whole name without the word that says it is a department, 0 = none does."""
    said, out = _said(spoken, _DEPARTMENTS), np.zeros(len(whole), np.uint64)
    for bit, part in enumerate(hash_values(Texts.of(list(_DEPARTMENTS))) * WORD_IN_WHOLE):
        at = said == 1 << bit
        out[at] = whole[at] - part
    return out


def houses(spoken: phrases.Phrases) -> NDArray[np.int32]:
    """Per record which of the words for a house of learning or healing its name has, for another that has tenants, and for these, a bit each."""
    return _said(spoken, (*_HOUSES, *_SITES, *_TENANTS))


def _said(spoken: phrases.Phrases, words: Sequence[str]) -> NDArray[np.int32]:
    bits = np.zeros(len(spoken.concepts), np.int32)
    for bit, key in enumerate(hash_values(Texts.of(list(words)))):
        bits[spoken.concepts == key] = 1 << bit
    return phrases.word_bits(spoken, bits)


def is_department(within: tuple[Keys, Keys], whole: tuple[Keys, Keys]) -> NDArray[np.bool_]:
    """Of which pairs one side is a department of the other: Orme University, Department of Physics; not Public Works Department.

    within, whole : of either side, the keys of the name without and with that word
    """
    (ours, theirs), (mine, other) = within, whole
    only_word = (ours == other) | (theirs == mine)
    return np.asarray(((ours == 0) != (theirs == 0)) & ~only_word)


def is_house_of(ours: NDArray[np.int32], theirs: NDArray[np.int32]) -> NDArray[np.bool_]:
    """Of which pairs one side is a house of the other, a large one, or is in it: Orme University School of Law, Orme Hospital Pharmacy. ours, theirs : `houses` of either side"""
    both, other = ours & theirs, ours ^ theirs
    within = ((both & _LARGE != 0) & (other & _HOUSE != 0)) | ((both & _HOST != 0) & (other & _HOST == 0))
    return np.asarray((ours != theirs) & within & ((both == ours) | (both == theirs)))
