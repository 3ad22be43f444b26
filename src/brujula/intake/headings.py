"""Headings as plain words."""

from __future__ import annotations

import re

import pyarrow as pa

from brujula.core.batch import Texts
from brujula.core.steps.text import fold
from brujula.intake.twice import once


def folded(heading: str) -> str:
    """A heading as plain lower-case words: `FirstName`, `first_name` and `First name` are one."""
    spaced = re.sub(r"([a-z])([A-Z])", r"\1 \2", once(heading).replace("°", "º"))
    words = fold(Texts.of([spaced]))
    if len(words.vocabulary) == 0:
        return ""
    return " ".join(words.vocabulary.arrow().take(pa.array(words.ids)).to_pylist())
