"""A job title: weak evidence, for people change jobs and lists change words."""

from __future__ import annotations

from functools import cache
from typing import Any

import numpy as np

from brujula import tables
from brujula.core.batch import Batch, Column, Keys
from brujula.core.kernels.phrases import ACRONYM, APART, NEARLY, SAME, SHARES
from brujula.core.kernels.words import SKIP
from brujula.core.kind import Compared, Comparison, Example, Identity, Kind, Level, Who
from brujula.core.steps import phrases
from brujula.core.steps.placeholders import NO_LETTER, PLACEHOLDERS
from brujula.core.steps.text import without


@cache
def _synonyms() -> dict[str, str]:
    return {w: head for head, *members in tables.groups("title_words") for w in members}


class JobTitle(Kind):
    """Abbreviations and word order do not count."""

    name = "job_title"
    parts = ("job_title",)
    survivorship = "fill"
    headings = {
        "job_title": """job title | title | position | role | job | function | designation | occupation | beruf | funktion |
            stelle | cargo | puesto | poste | fonction | ruolo | posizione | mansione | functie | stanowisko |
            instrument taught | profession | job role | berufsbezeichnung | qualifica | intitule du poste | position title | stellung | rolle | rol | papel | puesto de trabajo | zawod | beroep | dienstbezeichnung"""
    }
    comparisons = (
        Comparison(
            "job_title",
            (
                Level("different", "differs", 0.20, 0.93),
                Level("shares words", "partial", 0.10, 0.04),
                Level("spelled differently", "close", 0.15, 0.008),
                Level("same", "same", 0.55, 0.022, rare=True),
            ),
        ),
    )
    examples = (
        Example({"job_title": "Sr. Workshop Mgr"}, {"job_title": "Senior Workshop Manager"}, {"job_title": "same"}),
        Example({"job_title": "Band Director"}, {"job_title": "Violin Technician"}, {"job_title": "differs"}),
    )

    def clean(self, column: Column) -> Column:
        """Placeholders are blank."""
        return without(column, PLACEHOLDERS, NO_LETTER)

    def standardise(self, batch: Batch, identity: Identity) -> phrases.Phrases:
        """Core words."""
        return phrases.parse(batch.column("job_title"), dict.fromkeys(("of", "the", "and", "de", "for", "in"), SKIP), _synonyms())

    def joined(self, held: phrases.Phrases, records: Any, asked: phrases.Phrases, who: Who) -> phrases.Phrases:
        """Titles of some of the records held, and of others behind them."""
        return phrases.joined(held, records, asked)[0]

    def keys(self, standard: phrases.Phrases) -> dict[str, Keys]:
        """`words`: all core words in any order."""
        return {"words": phrases.keys(standard)[0]}

    def compare(self, standard: phrases.Phrases, left: Any, right: Any) -> dict[str, Compared]:
        """One comparison, job_title."""
        level, bits = phrases.compare(standard, left, right)
        out = np.select(
            [level < 0, level == SAME, level >= NEARLY, (level >= SHARES) | (level == ACRONYM), level <= APART], [-1, 3, 2, 1, 0]
        ).astype(np.int8)
        return {"job_title": Compared(out, np.where(out == 3, np.exp2(-bits), 0).astype(np.float32))}
