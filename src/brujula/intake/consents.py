"""Who may be written to and who called: columns that say who agreed, and several that say who did not, become one opt-out a channel."""

from __future__ import annotations

import re
from collections.abc import Collection, Sequence
from functools import cache, reduce
from typing import NamedTuple

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula import tables
from brujula.core.batch import Column
from brujula.fields.consent import Consent
from brujula.intake.content import YES, is_flag
from brujula.intake.headings import folded

FIELDS = MAIL, CALL = "email_opt_out", "phone_opt_out"
_MOSTLY = 0.9
"""Share of the filled cells that must be a yes or a no for a column to say who agreed."""


class Said(NamedTuple):
    """What a column says: of which channels' opt-outs, and whether a yes in it agrees."""

    fields: tuple[str, ...]
    agreed: bool


@cache
def _words() -> dict[str, re.Pattern[str]]:
    """Each line of the table as a pattern."""
    found = {}
    for line in tables.lines("consent_words"):
        name, words = line.split(":", 1)
        each = (re.escape(w.strip()).replace(r"\*", r"\w*").replace(r"\ ", " ") for w in words.split("|"))
        found[name] = re.compile(rf"\b({'|'.join(each)})\b")
    return found


@cache
def said(heading: str) -> Said | None:
    """What a column of this heading would say of consent; None where it speaks of something else."""
    plain, words = folded(heading), _words()
    plain = re.sub(rf" {words['answers'].pattern}$", "", plain)
    has = {name: pattern.search(plain) is not None for name, pattern in words.items()}
    channels = tuple(f for f, named in ((MAIL, has["mail"]), (CALL, has["call"])) if named)
    if has["others"] and not (channels or has["contact"]):
        return None  # to photographs
    both = (MAIL, CALL) if has["contact"] or has["consents"] or has["bars"] else ()
    if has["bars"] or (has["refuses"] and (channels or both)):
        return Said(channels or both, False)
    if has["agrees"] or has["consents"] or (has["allows"] and (channels or has["contact"])):
        return Said(channels or both or (MAIL,), True)
    return None


def agrees(heading: str, values: pa.Array | pa.ChunkedArray) -> Said | None:
    """What a column says of consent where a yes in it agrees: by its heading, and only where it holds yes and no."""
    found = said(heading)
    return found if found and found.agreed and is_flag(values, _MOSTLY) else None


def of_another(heading: str, field: str) -> bool:
    """Whether a column speaks of consent, but of another channel than this opt-out's."""
    found = said(heading)
    return found is not None and field not in found.fields


def _turned(values: pa.ChunkedArray) -> pa.ChunkedArray:
    """Answers of who agreed as opt-outs: all but a clear yes is one, a blank says nothing."""
    text = pc.utf8_trim_whitespace(values)
    out = pc.if_else(pc.match_substring_regex(text, f"(?i)^({YES})$"), "no", "yes")
    return pa.chunked_array([pc.if_else(pc.equal(text, ""), "", out).combine_chunks().cast(pa.large_string())])


def joined(
    table: pa.Table, values: dict[str, pa.ChunkedArray], fields: dict[str, str], free: Sequence[str], but: Collection[str] = ()
) -> tuple[dict[str, pa.ChunkedArray], dict[str, str], list[str]]:
    """The values with one opt-out a channel, made of every column that speaks of it: the strictest counts.

    free : columns that no field was found for;  but : fields that are made otherwise
    Returns values, field to columns, and notes of what was read as what.
    """
    notes = []
    found: dict[str, list[tuple[str, pa.ChunkedArray]]] = {f: [] for f in FIELDS if f not in but}
    for column in dict.fromkeys([*(fields[f] for f in found if fields.get(f) in table.column_names), *free]):
        cells, speaks = table.column(column), said(column)
        own = tuple(f for f in found if fields.get(f) == column)
        answers = speaks is not None and is_flag(cells, _MOSTLY)
        turned = speaks is not None and speaks.agreed and answers
        of = tuple(dict.fromkeys([*own, *(f for f in (speaks.fields if speaks and answers else ()) if f in found)]))
        for field in of:
            found[field].append((column, _turned(cells) if turned else cells))
        if turned and of:
            notes.append(f'column "{column}" says who agreed: a no there is an opt-out ({", ".join(of)})')
        elif set(of) - set(own):
            notes.append(f'column "{column}" counts as {", ".join(of)}')
    made = {f: reduce(_strictest, (v for _, v in parts)) for f, parts in found.items() if parts}
    return values | made, fields | {f: " + ".join(c for c, _ in found[f]) for f in made}, notes


def _strictest(first: pa.ChunkedArray, other: pa.ChunkedArray) -> pa.ChunkedArray:
    """Of two columns of opt-outs, row by row: the one that is one, else the one that says anything."""
    (opted, says), (other_opted, other_says) = _told(first), _told(other)
    takes = pa.array(other_says & (~says | (other_opted & ~opted)))
    return pa.chunked_array([pc.if_else(takes, other.combine_chunks(), first.combine_chunks())])


def _told(values: pa.ChunkedArray) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Which cells are opt-outs, and which say anything."""
    kind = Consent()
    column = kind.clean(Column.of(values))
    opted = np.append(kind.strict(column.values), False)[column.codes]
    return opted & column.filled, column.filled
