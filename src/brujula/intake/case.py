"""Writing names in title case: McAllister, O'Neil, van der Berg, DVM."""

from __future__ import annotations

import re
from functools import cache

import pyarrow as pa
import pyarrow.compute as pc

from brujula import tables

CASES = ("as-is", "title", "upper", "lower")


@cache
def _words() -> tuple[frozenset[str], dict[str, str]]:
    rows = {head: members for head, *members in tables.groups("case_words")}
    return frozenset(rows["small"]), {w.lower().rstrip("."): w for w in rows["exact"]}


_LEADING = frozenset("van von der den ter ten zu zum zur af de del della di da do dos du".split())


def title(text: str, family: bool = False) -> str:
    """A text in title case; what is written in mixed case already stays as it is. family : a family name may begin with a particle."""
    letters = [c for c in text if c.isalpha()]
    if any(c.isupper() for c in letters) and any(c.islower() for c in letters):
        return text
    small, exact = _words()
    out = []
    for i, word in enumerate(re.split(r"(\s+)", text.lower())):
        bare = word.strip(".,;()")
        if bare in exact and i:
            out.append(word.replace(bare, exact[bare] if not word.rstrip(",;)").endswith(".") else exact[bare].rstrip(".")))
        elif bare in small and (i or (family and bare in _LEADING and " " in text.strip())):
            out.append(word)
        else:
            out.append(re.sub(r"[^\W\d_]+", _capital, word))
    return "".join(out)


def _capital(found: re.Match[str]) -> str:
    word = found[0]
    before = found.string[: found.start()]
    if before.endswith(("'", "\N{RIGHT SINGLE QUOTATION MARK}")) and len(word) == 1:
        return word  # the s of a possessive
    if word.startswith("mc") and len(word) > 3:
        return "Mc" + word[2:].capitalize()
    return word.capitalize()


def in_case(values: pa.ChunkedArray, case: str, field: str = "") -> pa.ChunkedArray:
    """Values in a case of CASES, worked out once per distinct value."""
    if case == "as-is":
        return values
    if case in ("upper", "lower"):
        return pc.utf8_upper(values) if case == "upper" else pc.utf8_lower(values)
    coded = values.combine_chunks().dictionary_encode()
    coded = coded.combine_chunks() if isinstance(coded, pa.ChunkedArray) else coded
    written = pa.array([title(t, field == "family_name") for t in coded.dictionary.to_pylist()], pa.large_string())
    return pa.chunked_array([written.take(coded.indices)])
