"""What stands behind a name: degrees, licences, honours, orders; what is before a comma is the family name but for them."""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

import pyarrow as pa
import pyarrow.compute as pc

from brujula.core.steps.patterns import matches_any

GENERATION = r"(?i:jr|sr|ii|iii|iv)"
_SUFFIX = rf"(?i),\s*(?:{GENERATION}|m\.?\s?d)\.?\s*$"  # Md elsewhere is short for Mohammed


class Degrees(NamedTuple):
    """Patterns of one degree or several, to the end of a cell.

    behind   : those that are nothing else
    capitals : from a comma on, in capitals only; elsewhere they are names or initials
    """

    behind: str
    capitals: str


def degrees(letters: Iterable[str], pointed: Iterable[str], capitals: Iterable[str]) -> Degrees:
    """Patterns of post-nominals by their letters, between which there may be points.

    letters  : those that are nothing else; a point where a blank may stand, too
    pointed  : those that are so with their points only
    capitals : those that are so in capitals only; so are capitals without a vowel, three at least, and two runs of them with a hyphen (CCC-SLP)
    """
    behind = [r"\.?\s?".join(r"\.?".join(part) for part in word.split(".")) for word in letters]
    behind += [r"\.".join(word) for word in pointed]
    one = rf"(?:{'|'.join(behind)})\.?"
    shapes = (*(r"\.?".join(word) for word in capitals), "[B-DF-HJ-NP-TV-XZ]{3,6}", "[A-Z]{2,5}-[A-Z]{1,4}")
    capital = rf"(?:(?i:{one})|(?:{'|'.join(shapes)})\.?)"
    more = r"(?:\s*[,/]\s*|\s+)"
    return Degrees(rf"{one}(?:{more}{one})*\s*$", rf"(?-i:,\s*{capital}(?:{more}{capital})*\s*$)")


def family_in_front(text: pa.Array, known: Degrees) -> pa.Array:
    """Which cells have the family name before a comma: those with no suffix and no degree behind it. Those in capitals are degrees where two names stand in front."""
    comma = pc.match_substring(text, ",")
    some = text.filter(comma)
    if len(some) == 0:
        return comma  # as most columns of names
    others = (_SUFFIX, rf"(?i),\s*{known.behind}", rf"^\s*\S+\s+[^,]*[^,\s]\s*{known.capitals}")
    return pc.replace_with_mask(comma, comma, pc.invert(matches_any(some, others)))
