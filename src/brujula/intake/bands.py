"""Rows that head those below them: the school's name alone, then its teachers. They become a column of their own."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.intake.content import with_words
from brujula.intake.damage import matches
from brujula.intake.raw import RawList, is_filled, limit

_FEW = 2  # such rows at least
_HARDLY = 0.2  # share of the other names
HEADING = "heads these rows"


def apart(raw: RawList) -> RawList:
    """A file of people without its rows that head others, and with a column of what each row stands under; the list as it is where it has none.

    In such a row the one cell, in the column of the names, has a word of an organisation's name, or is one word (Clarinets), as hardly another cell of the
    column is. The first row is one, and behind each comes one that is not.
    """
    table = raw.table
    unread = {p.row - 1 for p in raw.problems if p.fatal}
    if raw.lines is None or table.num_columns < 3 or table.num_rows < 2 * _FEW or 0 in unread or HEADING in table.column_names:
        return raw
    if sum(is_filled(c.slice(0, 1)).any() for c in table.columns) != 1:
        return raw  # as nearly every list
    filled = np.array([is_filled(c) for c in table.columns])
    usable = np.ones(table.num_rows, bool)
    usable[list(unread)] = False
    at = int(np.argmax(filled[:, 0]))
    lone = (filled.sum(axis=0) == 1) & filled[at] & usable
    if not lone[0] or lone.sum() < _FEW:
        return raw
    text = pc.utf8_trim_whitespace(table.column(at).combine_chunks())
    named, odd = filled[at] & usable, _of_firms(text)
    if not odd[0]:
        odd = ~matches(text, r"\S\s+\S")
    heads = lone & odd
    next_is_a_row = np.append((usable & ~heads)[1:], False)
    others = odd[named & ~heads]
    if not heads[0] or heads.sum() < _FEW or not next_is_a_row[heads].all() or not len(others) or others.mean() > _HARDLY:
        return raw
    names, number = text.filter(pa.array(heads)), np.cumsum(~heads)
    under = names.take(pa.array(np.cumsum(heads) - 1)).filter(pa.array(~heads))
    note = f'{len(names):,} rows head those below them ("{limit(names[0].as_py(), 40)}"); they are read as a column of their own'
    return replace(
        raw,
        table=table.filter(pa.array(~heads)).append_column(HEADING, under),
        lines=raw.lines[~heads],
        problems=tuple(replace(p, row=int(number[p.row - 1])) for p in raw.problems if not heads[p.row - 1]),
        notes=(*raw.notes, note),
    )


def _of_firms(text: pa.Array) -> NDArray[np.bool_]:
    """Whether each text has a word of an organisation's name, and none of what somebody does."""
    firm, _, role = with_words(text)
    return firm & ~role
