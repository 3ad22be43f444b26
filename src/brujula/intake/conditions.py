"""Conditions on the fields of one record: `city is "Yarrow"`, `email ends with "rival.example"`, `updated_at since 2026-01-01`."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Texts
from brujula.errors import PolicyError, instead
from brujula.fields.date import iso

_FORM = re.compile(
    r"^\s*(?P<field>\w+)\s+(?P<how>is blank|is filled|is not|is|in|contains|begins with|ends with|before|since)\s*(?P<what>.*?)\s*$"
)
Values = Mapping[str, pa.ChunkedArray]


def check(conditions: Sequence[str], known: Sequence[str], where: str) -> None:
    """Raises PolicyError naming the condition that cannot be read, or the field that does not exist."""
    for condition in conditions:
        for part in re.split(r"\s+or\s+(?=\w+ (?:is|in|contains|begins|ends|before|since)\b)", condition):
            match = _FORM.match(part)
            if not match:
                raise PolicyError(
                    f'{where}: "{part}" is no condition; accepted: FIELD is, is not, in, contains, begins with, ends with, before, since, '
                    'is blank, is filled; such as email ends with "rival.example"'
                )
            if match["field"] not in known:
                raise PolicyError(f'{where}: no field "{match["field"]}"; {instead(match["field"], known)}')
            if match["how"] in ("before", "since") and not _day(_words(match["what"])[:1]):
                raise PolicyError(f'{where}: "{part}": "{match["what"]}" is no date; accepted: a date such as 2026-03-02')


def meets(conditions: Sequence[str], values: Values, n: int) -> NDArray[np.bool_]:
    """Which of n records meet every condition; `or` joins alternatives within one. A field nobody has is blank everywhere."""
    out = np.ones(n, bool)
    for condition in conditions:
        any_of = np.zeros(n, bool)
        for part in re.split(r"\s+or\s+(?=\w+ (?:is|in|contains|begins|ends|before|since)\b)", condition):
            match = _FORM.match(part)
            if match:
                any_of |= _one(match, values, n)
        out &= any_of
    return out


def _words(text: str) -> list[str]:
    """The values a condition names: quoted ones, or those between commas."""
    quoted = re.findall(r'"([^"]*)"', text)
    return [w.strip().lower() for w in (quoted or text.split(","))]


def _day(words: list[str]) -> str:
    return iso(Texts.of(words))[0].as_py() or "" if words and words[0] else ""


def _one(match: re.Match[str], values: Values, n: int) -> NDArray[np.bool_]:
    held = values.get(match["field"])
    column = pa.chunked_array([pa.repeat(pa.scalar("", pa.large_string()), n)]) if held is None else held
    text = pc.utf8_lower(pc.utf8_trim_whitespace(column.combine_chunks()))
    text = pa.concat_arrays(text.chunks) if isinstance(text, pa.ChunkedArray) else text
    how, words = match["how"], _words(match["what"])
    if how == "is blank":
        found = pc.equal(text, "")
    elif how == "is filled":
        found = pc.not_equal(text, "")
    elif how in ("is", "in", "is not"):
        found = pc.is_in(text, value_set=pa.array(words, pa.large_string()))
        found = pc.invert(found) if how == "is not" else found
    elif how in ("before", "since"):
        day = pc.fill_null(iso(Texts.of(text)), "")
        later = pc.greater_equal(day, _day(words))
        found = pc.and_(pc.not_equal(day, ""), later if how == "since" else pc.invert(later))
    else:
        test = {"contains": pc.match_substring, "begins with": pc.starts_with, "ends with": pc.ends_with}[how]
        found = test(text, words[0])
    return np.asarray(found.to_numpy(zero_copy_only=False), bool)
