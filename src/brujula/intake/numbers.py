"""Whose numbers a list's are: a number both lists know their people or firms by, which one is the record's own id, ids of accounts that are not ours."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from brujula.intake.content import TELLING, content_of, counts_on
from brujula.intake.headings import folded
from brujula.intake.raw import trimmed
from brujula.intake.shape import Shaped

_SAMPLE = 200_000
_DISTINCT = 0.95
_AT_LEAST = 4
_DIGITS = 0.8  # of the values have one
_CODES = 0.95  # of the values are capitals and digits in one word
_WRITTEN = 0.5  # of them have blanks, points or strokes, where they look like phones, dates or addresses
_AGREE = 0.5
_ALIKE = 0.3  # of rows and records of one account; firms' first words are written in more than one way
_ASKED = 1_000
_SAYING = (
    (("email",), r"\S+"),
    (("given_name", "family_name", "full_name", "name"), r"[^\W\d_]{3,}"),
    (("phone", "mobile"), r"\d{4}\b"),
)
"""Fields of which one must agree where the number does, and what is a word of them: half the words must be the same."""


def agreed(new: Shaped, old: Shaped) -> tuple[Shaped, Shaped]:
    """Both lists with a column of one heading as `registration_no`, where most of those who share a value share a name, mailbox or phone too.

    Row numbers, prices and dates are found in both lists as well, but beside other names. Columns that a field was found for are left
    alone, but for an id of the incoming list where the existing records have another.
    """
    told = [side.columns.get("registration_no") for side in (new, old)]
    if all(told):
        return new, old
    used = _used(old.columns)
    theirs = [told[1]] if told[1] else [c for c in old.raw.table.column_names if c not in used]
    free = [told[0]] if told[0] else [*new.left_out, *([new.columns["id"]] if "id" in new.columns else [])]
    theirs, free = _numbered(old, theirs), _numbered(new, free)
    pairs = [(column, other) for column in free for other in theirs]
    # One heading first; else what they hold says that two are one, those first that more rows and records share.
    for column, other in sorted(pairs, key=lambda pair: (folded(pair[0]) != folded(pair[1]), -_n_shared(new, old, pair))):
        if _tells(new, column, old, other):
            return (new if told[0] else _with_number(new, column, other), old if told[1] else _with_number(old, other, column))
    return new, old


def _numbered(side: Shaped, columns: Sequence[str]) -> list[str]:
    """Columns of values with digits, or of codes, that hardly two rows share."""
    out = []
    for column in dict.fromkeys(c for c in columns if c in side.raw.table.column_names):
        values = _plain(side.raw.table.column(column))
        filled = values.filter(pc.not_equal(values, ""))
        if len(filled) < _AT_LEAST or pc.count_distinct(filled).as_py() < _DISTINCT * len(filled):
            continue
        looks = content_of(filled)
        plain = _share(filled, r"[()\s.+/-]") < _WRITTEN
        # A fax number changes, and so do the dates and sums of what was done last; ten digits and nothing else may be anything.
        if any(looks.get(kind, 0.0) >= TELLING[kind] for kind in ("phone", "date", "email", "website")) and not plain:
            continue
        written = trimmed(side.raw.table.column(column).slice(0, _SAMPLE), lower=False)
        codes = _share(written.filter(pc.not_equal(written, "")), r"^[A-Z0-9-]{2,12}$")
        if _share(filled, r"\d") >= _DIGITS or codes >= _CODES:
            out.append(column)
    return out


def _share(values: pa.Array, pattern: str) -> float:
    return float(pc.mean(pc.match_substring_regex(values, pattern).cast(pa.float64())).as_py())


def _n_shared(new: Shaped, old: Shaped, columns: tuple[str, str]) -> int:
    """How many rows have a value of one column that a record has in the other."""
    mine, known = (_plain(side.raw.table.column(c)) for side, c in zip((new, old), columns, strict=True))
    return int(pc.sum(pc.and_(pc.is_in(mine, value_set=known), pc.not_equal(mine, ""))).as_py() or 0)


def without_foreign_accounts(new: Shaped, old: Shaped) -> Shaped:
    """The list without account ids of somebody else's numbering: written to a record they would tie it to whichever account of ours has that number.

    They are ours where rows name the firm, or write from the domain, that records of that account do; where neither is given, where
    most are records' and they are no bare numbers.
    """
    if not ("account_id" in new.values and "account_id" in old.values):
        return new
    mine, theirs = _plain(new.values["account_id"]), _plain(old.values["account_id"])
    known = pc.and_(pc.is_in(mine, value_set=theirs), pc.not_equal(mine, ""))
    given = pc.not_equal(mine, "")
    if not pc.any(given).as_py() or not pc.any(pc.not_equal(theirs, "")).as_py():
        return new
    for field, pattern in (("account", r"^.*?(\pL{2,}|\d+).*$"), ("email", r"^.*@(.*)$")):
        if field not in new.values or field not in old.values:
            continue
        own, other = (_told(ids, _plain(x.values[field]), pattern) for ids, x in ((mine, new), (theirs, old)))
        said = other.filter(pc.is_valid(other))
        asked = pc.and_(pc.is_valid(own), pc.is_in(mine, value_set=theirs.filter(pc.is_valid(other))))
        if pc.sum(asked).as_py() or 0:
            if pc.mean(pc.is_in(own.filter(asked), value_set=said).cast(pa.float64())).as_py() >= _ALIKE:
                return new
            break
    else:
        bare = pc.all(pc.match_substring_regex(mine.filter(given), r"^\d+$")).as_py()
        if not bare and pc.sum(known).as_py() >= _AGREE * pc.sum(given).as_py():
            return new
    column = new.columns["account_id"]
    note = f'"{column}" holds ids of accounts that are not the records\': they were not used'
    return replace(
        new,
        raw=replace(new.raw, notes=(*new.raw.notes, note)),
        values={f: v for f, v in new.values.items() if f != "account_id"},
        columns={f: c for f, c in new.columns.items() if f != "account_id"},
        left_out=(*new.left_out, column),
    )


def _told(ids: pa.Array, texts: pa.Array, pattern: str) -> pa.Array:
    """Each id with the part of its text that a pattern names; null where either is blank."""
    part = pc.replace_substring_regex(texts, pattern, r"\1")
    fits = pc.and_(pc.match_substring_regex(texts, pattern), pc.not_equal(ids, ""))
    return pc.if_else(
        fits, pc.binary_join_element_wise(ids, part, pa.scalar("|", pa.large_string())), pa.scalar(None, pa.large_string())
    )


def _used(columns: Mapping[str, str]) -> set[str]:
    return {c for where in columns.values() for c in (where, *where.split(" + "))}


def _with_number(shaped: Shaped, column: str, other: str) -> Shaped:
    """The list with a column as `registration_no`. other : the heading it has in the other list"""
    what = "stands in both lists" if folded(column) == folded(other) else f'holds the numbers of "{other}"'
    note = f'column "{column}" {what} and tells who is who: compared as registration_no'
    values, columns = (
        {f: v for f, v in x.items() if not (f == "id" and shaped.columns["id"] == column)}
        for x in (shaped.values, shaped.columns)
    )
    return replace(
        shaped,
        raw=replace(shaped.raw, notes=(*shaped.raw.notes, note)),
        values=values | {"registration_no": shaped.raw.table.column(column)},
        columns=columns | {"registration_no": column},
        left_out=tuple(c for c in shaped.left_out if c != column),
    )


def _tells(new: Shaped, column: str, old: Shaped, other: str) -> bool:
    """Whether who shares a value is mostly one by a name, a mailbox or a phone."""
    mine, known = (_plain(t.column(c)) for t, c in ((new.raw.table, column), (old.raw.table, other)))
    if counts_on(mine) and counts_on(known):
        return False
    at = pc.index_in(mine, value_set=known)
    rows = np.flatnonzero(pc.and_(at.is_valid(), pc.not_equal(mine, "")).to_numpy(zero_copy_only=False))
    if len(rows) < _AT_LEAST:
        return False
    rows = rows[:: max(len(rows) // _ASKED, 1)]
    records = at.take(pa.array(rows))
    alike = np.zeros(len(rows), bool)
    for fields, pattern in _SAYING:
        a, b = (_words(side, fields, pattern, of) for side, of in ((new, pa.array(rows)), (old, records)))
        alike |= np.array([2 * len(x & y) >= max(len(x | y), 1) for x, y in zip(a, b, strict=True)], bool)
    return bool(alike.mean() >= _AGREE)


def _words(side: Shaped, fields: Sequence[str], pattern: str, rows: pa.Array) -> list[set[str]]:
    """What some rows say in fields that stand for each other, word by word."""
    texts = [_plain(side.values[f]).take(rows) for f in fields if f in side.values]
    said = (
        pc.binary_join_element_wise(*texts, pa.scalar(" ", pa.large_string()), null_handling="replace")
        if texts
        else pa.nulls(len(rows), pa.large_string())
    )
    return [set(re.findall(pattern, (text or "").casefold())) for text in said.to_pylist()]


def _plain(values: pa.ChunkedArray) -> pa.Array:
    return trimmed(values.slice(0, _SAMPLE))
