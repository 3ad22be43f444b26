"""Columns that stand beside other people or firms than theirs: sorted, or moved by a row, apart from the rest of the list."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Keys, Texts
from brujula.core.steps.patterns import replaced
from brujula.core.steps.text import Words, fold, hash_values, join_keys
from brujula.errors import InputError
from brujula.intake.raw import trimmed
from brujula.intake.shape import Shaped

_SAMPLE = 30_000
_READ = 5_000  # rows at most that are read word by word
_WORD = 4  # letters of a word that a mailbox has hardly by chance
_TELL = 20  # rows at least whose value is somebody's
_OWN = 0.05  # of these, the share that may be the row's own where the column is astray
_SAME_PEOPLE = 0.5  # of those that tell by mailbox, the share whose given name is the record's
_NOTHING = {"email": r"\s", "phone": r"\D", "mobile": r"\D", "website": r"^[a-z]+://|^www\.|/.*$|\s", "street": r"[^\pL\d]"}
"""Fields that few share with anybody, and what of their values does not count."""
_LINES = {"phone": "mobile", "mobile": "phone"}
_LINE = 9  # the last digits of a phone, which are the same with and without a country's code


@dataclass(frozen=True)
class _Found:
    """A column that is astray: how many rows tell, how many of them have their own value, and one that has not, with what says whose it is."""

    column: str
    rows: int
    own: int
    row: int
    value: str
    whose: str


def not_used(new: Shaped, old: Shaped) -> Shaped:
    """The list without a column whose values are those of other people or firms than its rows name, as the records or the list itself have it; that is said.

    A row tells where its value is one record's whose name some row of the list bears, or where its mailbox spells the name of somebody on
    the list; values that several rows or records give tell nothing.
    Raises InputError where several columns are astray, or the names.
    """
    found = {f.column: f for f in (*_by_mailboxes(new), *_by_records(new, old))}
    # A mailbox that is astray says nothing of the family names.
    found = found or {f.column: f for f in _by_family_names(new, old)}
    if not found:
        return new
    told = "; ".join(
        f'"{f.column}" does not go with the rows it stands in ({new.raw.place_of(f.row)}: {f.value} {f.whose}; of {f.rows:,} rows that tell {f.own:,} have their own)'
        for f in found.values()
    )
    if len(found) > 1 or new.columns.get("family_name") in found:
        raise InputError(
            f"{new.raw.name}: {told}. Columns were sorted or moved apart from each other; accepted: a list in which they stand as they were, "
            f'or a policy that leaves them out ([columns] "{next(iter(found))}" = "")'
        )
    (column,) = found
    return replace(
        new,
        values={f: v for f, v in new.values.items() if new.columns[f] != column},
        columns={f: c for f, c in new.columns.items() if c != column},
        set_aside=(f"{told}: it is not used. Was it sorted or moved apart from the other columns?",),
    )


def _by_records(new: Shaped, old: Shaped) -> list[_Found]:
    """Columns whose values are records' whose names the list has, but hardly ever in the row of that name."""
    asked, known = _bearers(new), _bearers(old)
    mine, spoken = _names(new), _names(old)
    found = []
    for field in _NOTHING:
        theirs = next((f for f in (field, _LINES.get(field, field)) if f in old.values), "")
        if not _has(new, field) or not theirs:
            continue
        rows, records = _whose(_bare(new, field), _bare(old, theirs))
        there = (known[records] != 0) & np.isin(known[records], asked)
        rows, records = rows[there][:_READ], records[there][:_READ]
        own = known[records] == asked[rows]
        if mine is not None and spoken is not None:
            # Ana García López on one side may be Ana García on the other.
            own |= _share(_sets_of_words(mine, rows), _sets_of_words(spoken, records), 2)
        if _is_astray(own):
            at = int(np.flatnonzero(~own)[0])
            found.append(_told(new, field, own, int(rows[at]), f"is that of {_called(old, int(records[at]))}"))
    return found


def _by_mailboxes(new: Shaped) -> list[_Found]:
    """The column of mailboxes, where these spell names of the list, but hardly ever that of their row."""
    words = _names(new) if _has(new, "email") else None
    if words is None:
        return []
    first, last, two = _ends(words)
    ends = [words.vocabulary.arrow().take(pa.array(x)) for x in (first, last)]
    starts = [pc.utf8_slice_codeunits(x, 0, 1) for x in ends]
    # adaquist, quistada, aquist, qada, adaq, quista
    ways = [(x[i], y[1 - i]) for i in (0, 1) for x, y in ((ends, ends), (starts, ends), (ends, starts))]
    spelled = np.stack([_hashed(pc.binary_join_element_wise(x, y, pa.scalar("", pa.large_string()))) for x, y in ways])
    local = pc.replace_substring_regex(_trimmed(new, "email"), r"(\+[^@]*)?@.*$", "")
    given = _hashed(pc.replace_substring_regex(local, "[^a-z]", ""))
    rows = np.flatnonzero(two & _once(given) & np.isin(given, spelled[:, two]))[:_READ]
    boxes = pc.replace_substring_regex(local, "[^a-z]", "").take(pa.array(rows)).to_pylist()
    own = np.array([_may_spell(box, name) for box, name in zip(boxes, _sets_of_words(words, rows), strict=True)], bool)
    own |= (spelled[:, rows] == given[rows]).any(axis=0)
    if not _is_astray(own):
        return []
    row = int(rows[np.flatnonzero(~own)[0]])
    other = int(np.flatnonzero(two & (spelled == given[row]).any(axis=0))[0])
    return [_told(new, "email", own, row, f"spells the name in {new.raw.place_of(other + 1)}")]


def _by_family_names(new: Shaped, old: Shaped) -> list[_Found]:
    """The column of family names, where mailbox and given name are a record's, but hardly ever the family name."""
    fields = ("email", "given_name", "family_name")
    if not all(_has(new, f) and f in old.values for f in fields):
        return []
    rows, records = _whose(_bare(new, "email"), _bare(old, "email"))
    rows, records = rows[:_READ], records[:_READ]
    (given, known), (family, theirs) = ((_words(new, f, rows), _words(old, f, records)) for f in fields[1:])
    there = np.array([bool(a and b) for a, b in zip(family, theirs, strict=True)], bool)
    initial = np.array([any(w[0] == a for w in b for a in some) for some, b in zip(family, theirs, strict=True)], bool)
    own, alike = (_share(family, theirs, 1) | initial)[there], _share(given, known, 1)[there]
    if not _is_astray(own) or alike.mean() < _SAME_PEOPLE:
        return []  # a child has a parent's mailbox and family name
    at = int(np.flatnonzero(there)[np.flatnonzero(~own)[0]])
    mailbox, known = new.values["email"][int(rows[at])].as_py(), old.values["family_name"][int(records[at])].as_py()
    return [
        _told(new, "family_name", own, int(rows[at]), f"beside {mailbox}, which is {known}'s, {_called(old, int(records[at]))}")
    ]


def _has(new: Shaped, field: str) -> bool:
    """Whether the list has the field in a column of its own."""
    return field in new.values and " + " not in new.columns[field]


def _whose(given: Keys, held: Keys) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Rows whose value no other row has and one record only, and that record."""
    values, at, count = np.unique(held, return_index=True, return_counts=True)
    values, records = values[count == 1], at[count == 1]
    if len(values) == 0:
        return np.zeros(0, np.int64), np.zeros(0, np.int64)
    place = np.minimum(np.searchsorted(values, given), len(values) - 1)
    rows = np.flatnonzero(_once(given) & (values[place] == given))
    return rows, records[place[rows]]


def _called(old: Shaped, record: int) -> str:
    """A record, for people to read."""
    name = old.values["id"][record].as_py() if "id" in old.values else old.raw.place_of(record + 1)
    return f"{name} in {old.raw.name}"


def _once(given: Keys) -> NDArray[np.bool_]:
    """Which values stand in the list once: a firm's line or mailbox, which all its people give, tells nothing."""
    _, value, count = np.unique(given, return_inverse=True, return_counts=True)
    return np.asarray((given != 0) & (count[value] == 1))


def _may_spell(box: str, name: set[str]) -> bool:
    """Whether a mailbox has a word of a name, and begins or ends with another's initial: agarcia for Ana García López."""
    return any(len(w) >= _WORD and w in box and any(box[0] == o[0] or box[-1] == o[0] for o in name - {w}) for w in name)


def _is_astray(own: NDArray[np.bool_]) -> bool:
    return len(own) >= _TELL and int(own.sum()) <= _OWN * len(own)


def _share(some: list[set[str]], others: list[set[str]], least: int) -> NDArray[np.bool_]:
    """Which of two lists of words have so many in common."""
    return np.array([len(a & b) >= least for a, b in zip(some, others, strict=True)], bool)


def _words(shaped: Shaped, field: str, rows: NDArray[np.int64]) -> list[set[str]]:
    """The words of a field in some rows."""
    return _sets_of_words(fold(Texts.of(_trimmed(shaped, field).take(pa.array(rows)))), np.arange(len(rows)))


def _sets_of_words(words: Words, rows: NDArray[np.int64]) -> list[set[str]]:
    """The folded words of some rows' texts."""
    known = words.vocabulary.arrow().to_pylist()
    return [{known[i] for i in words.ids[words.offsets[row] : words.offsets[row + 1]].tolist()} for row in rows.tolist()]


def _told(new: Shaped, field: str, own: NDArray[np.bool_], row: int, whose: str) -> _Found:
    return _Found(new.columns[field], len(own), int(own.sum()), row + 1, new.values[field][row].as_py(), whose)


def _names(shaped: Shaped) -> Words | None:
    """The words of the name of each person; None where the list names none."""
    if {"given_name", "family_name"} <= set(shaped.values):
        parts = [_trimmed(shaped, field) for field in ("given_name", "family_name")]
        whole = pc.binary_join_element_wise(*parts, pa.scalar(" ", pa.large_string()))
    elif "full_name" in shaped.values:
        whole = _trimmed(shaped, "full_name")
    else:
        return None
    words = fold(Texts.of(whole))
    return words if len(words.vocabulary) else None


def _ends(words: Words) -> tuple[NDArray[np.int32], NDArray[np.int32], NDArray[np.bool_]]:
    """The first and last word of each name, and which have two."""
    ids = np.append(words.ids, np.int32(0))
    return ids[words.offsets[:-1]], ids[words.offsets[1:] - 1], np.diff(words.offsets) > 1


def _bearers(shaped: Shaped) -> Keys:
    """A key of each person's first and last word in either order, or of a firm's name; 0 for none."""
    if "name" in shaped.values:
        return _hashed(_trimmed(shaped, "name"))
    words = _names(shaped)
    if words is None:
        return np.zeros(min(shaped.raw.table.num_rows, _SAMPLE), np.uint64)
    first, last, two = _ends(words)
    a, b = words.hashes[first], words.hashes[last]
    return np.where(two, join_keys(np.minimum(a, b), np.maximum(a, b)), np.uint64(0))


def _trimmed(shaped: Shaped, field: str) -> pa.Array:
    return trimmed(shaped.values[field].slice(0, _SAMPLE))


def _bare(shaped: Shaped, field: str) -> Keys:
    """A key of what counts of each value; 0 for none."""
    text = replaced(_trimmed(shaped, field), _NOTHING[field], "")
    if field in _LINES:
        text = pc.if_else(pc.greater_equal(pc.utf8_length(text), _LINE), pc.utf8_slice_codeunits(text, -_LINE), "")
    return _hashed(text)


def _hashed(text: pa.Array) -> Keys:
    return hash_values(Texts.of(text))
