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
from brujula.core.steps.text import reworded, without

_OFFICERS = (
    ("e", "executive"),
    ("f", "financial"),
    ("t", "technology"),
    ("o", "operating"),
    ("m", "marketing"),
    ("i", "information"),
)
_WORDINGS = (
    *((rf"(?i)\bc\.?{letter}\.?o\b\.?", f"chief {what} officer") for letter, what in _OFFICERS),
    *(
        (rf"(?i)\b{letter}vp\b", f"{what} vice president")
        for letter, what in (("s", "senior"), ("e", "executive"), ("a", "assistant"))
    ),
    (r"(?i)\bvp\b", "vice president"),
    (r"(?i)\bhr\b", "human resources"),
    (r"\bIT\b", "information technology"),
    (r"\bGM\b", "general manager"),
    (
        r"(?i)\bhead of (sales|marketing|operations|purchasing|finance|production|service|human resources|information technology)\b",
        r"\1 director",
    ),
    (r"(?i)\bhead ?(?:master|mistress|teacher)\b|\bschulleiter(?:in)?\b|\bschool principal\b", "principal"),
    (
        r"(?i)\bgesch[äa]e?ftsf[üu]e?hrer(?:in)?\b|\bg[ée]rante?\b|\bamministrat(?:ore|rice) delegat[oa]\b|\bdirect(?:eu|o)r g[ée]n[ée]ral\b|\bjednatel(?:ka)?\b|\bprezes zarz[ąa]du\b",
        "managing director",
    ),
    (r"(?i)\b(musik|sport|grundschul|gymnasial|berufsschul)(lehrer(?:in)?|lehrkraft)\b", r"\1 \2"),
    (
        r"(?i)\b(vertriebs|verkaufs|einkaufs|personal|werkstatt|marketing|projekt|produktions|b[üu]ro|orchester|chor)leiter(in)?\b",
        r"\1 leiter",
    ),
    (r"(?i)\b(?:de m[úu]sica|de musique|di musica|muzyki|musik|hudby)\b", "music"),
)
"""What initials, compounds and several words say that the table of words cannot show."""


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
        title = batch.column("job_title")
        title = Column(reworded(title.values, _WORDINGS), title.codes)
        return phrases.parse(title, dict.fromkeys(("of", "the", "and", "de", "for", "in"), SKIP), _synonyms())

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
