"""Letters that languages read differently, as passports and street signs of their countries have them: Гліб is Hlib, Търново Tarnovo, Παπαδόπουλος Papadopoulos."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from contextvars import ContextVar
from typing import NamedTuple

import numpy as np
import pyarrow as pa
from numpy.typing import NDArray

from brujula.core.steps.patterns import matches, replaced

VOWELS = dict.fromkeys("اأإآٱىعאע", "a") | {"ئ": "y", "ؤ": "w", "ء": ""}
"""Letters of Arabic and Hebrew that stand for a vowel, or for a sound that Latin letters lack. Without them names of four letters are left with two: Lara and Lama."""


class Reading(NamedTuple):
    """A language in Cyrillic letters: letters that it has, some that it lacks (or never has in that order), and its spelling of those that others read otherwise."""

    own: tuple[str, ...]
    lacks: tuple[str, ...]
    spelling: dict[str, str]


_READINGS = tuple(
    Reading(
        tuple(f"{own} {own.upper()}".split()),
        tuple(f"{lacks} {lacks.upper()}".split()),
        spelling | {x.upper(): y for x, y in spelling.items()},
    )
    for own, lacks, spelling in (
        # Ukraine: Resolution 55 of 2010; Bulgaria: Transliteration Act of 2009; Serbian in its other alphabet, without marks; Macedonia as well, as far as the two agree.
        ("і ї є ґ", "ы э ъ ё", {"г": "h", "ґ": "g", "и": "y", "і": "i", "й": "i"}),
        ("ђ ћ", "ы э ъ ё й щ ю я", {"х": "h", "ц": "c", "ч": "c", "ж": "z", "ш": "s", "џ": "dz"}),
        ("ѓ ќ ѕ љ њ ј", "ы э ъ ё й щ ю я", {"х": "h", "ц": "c"}),
        ("ъ", "ы э ё ъе ъю ъя", {"х": "h", "щ": "sht", "ъ": "a"}),
    )
)
_UNTOLD = Reading((), (), {})
"""Cyrillic letters of which none tells: spelled as in Russian."""
_CYRILLIC = 0xD0, 0xD3  # lead bytes
_GREEK = (
    # ELOT 743: two letters for one sound, and υ behind another vowel, which sounds as what follows has it.
    (r"(?i)[οό][υύ]", "ou"),
    (r"(?i)([αάεέηή])[υύ]([αάεέηήιίοόυύωώβγδζλμνρ])", r"\1v\2"),
    (r"(?i)([αάεέηή])[υύ]", r"\1f"),
    (r"(?i)γ([γξχ])", r"n\1"),
    (r"(?i)(^|\PL)μπ", r"\1b"),
)


class _Around(NamedTuple):
    """What texts are read as: those whose letters do not tell, or all."""

    reading: Reading | None
    always: bool


_TOLD = _Around(None, False)
_around: ContextVar[_Around] = ContextVar("around")


def reading_of(data: NDArray[np.uint8]) -> Reading | None:
    """The language whose own letters are more than those it lacks; None without Cyrillic letters. data : UTF-8 of all texts"""
    if not bool(((data >= _CYRILLIC[0]) & (data <= _CYRILLIC[1])).any()):
        return None
    text = data.tobytes()
    for reading in _READINGS:
        own, other = (sum(text.count(x.encode()) for x in letters) for letters in reading[:2])
        if own > other:
            return reading
    return _UNTOLD


@contextmanager
def read_as(reading: Reading | None, always: bool = False) -> Iterator[None]:
    """Texts whose letters do not tell are read in this language, if one is given: towns as the names beside them.

    always : all are, whatever their letters tell, and nothing within says otherwise: questions, as the records they are asked of, if these have such letters
    """
    around = _around.get(_TOLD)
    before = _around.set(around if around.always else _Around(reading or around.reading, always and reading is not None))
    try:
        yield
    finally:
        _around.reset(before)


def spelling_of(data: NDArray[np.uint8], seen: NDArray[np.uint8]) -> Mapping[str, str]:
    """Spellings of letters in one language of those that share them. data : UTF-8 of all texts;  seen : per code point whether it occurs"""
    around, always = _around.get(_TOLD)
    reading = around if always else reading_of(data)
    if reading is _UNTOLD and around is not None and not any(seen[ord(x)] for x in around.lacks if len(x) == 1):
        reading = around
    return VOWELS | reading.spelling if reading else VOWELS


def two_for_one(text: pa.Array) -> pa.Array:
    """Greek texts with the letters that stand for one sound together as that sound."""
    if matches(text, r"[\x{370}-\x{3FF}]").true_count == 0:
        return text
    for pattern, sound in _GREEK:
        text = replaced(text, pattern, sound)
    return text
