"""Survivorship of a batch under a policy: rules by field, joins and blocks from the kinds."""

from __future__ import annotations

from collections.abc import Callable, Mapping

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.actions import Actions, FieldChanges
from brujula.core.arrays import Pairs
from brujula.core.batch import Batch, Keys, Texts
from brujula.core.compare import compare
from brujula.core.kind import GRADES, Standards
from brujula.core.steps import name_cells
from brujula.core.steps.text import hash_values, of_records
from brujula.core.survive import Survivorship, names_apart
from brujula.fields import kinds
from brujula.fields.date import iso
from brujula.fields.person_name import TITLES, known_degrees
from brujula.fields.phone import last_nine
from brujula.policy.entities import blocks, kind_of
from brujula.policy.model import Policy

Agrees = Callable[[NDArray[np.int32], NDArray[np.int32]], NDArray[np.bool_]]


_BY_SCORE = ("newest", "most_trusted", "longest")


def survivorship_of(
    batch: Batch, standards: Standards, policy: Policy, name: str = "", returned: NDArray[np.bool_] | None = None
) -> Survivorship:
    """How each field of the batch survives: what the policy says, else what its kind does.

    standards : the batch's standard forms, as matching made them
    name : what the list is called, where the policy gives it no label;  returned : rows of a list that came back with our ids
    """
    of = kind_of(batch.entity)
    rules = {f: policy.update.get(f, kinds()[of[f]].survivorship) for f in batch.columns}
    strict = {f: kinds()[of[f]].strict(batch.columns[f].values) for f, rule in rules.items() if rule == "strictest"}
    joins = {f: _join_of(f, of[f], policy, name) for f, rule in rules.items() if rule in ("union", "append")}
    every = {n: tuple(f for f in fields if f in batch.columns) for n, fields in blocks(batch.entity).items()}
    whole = {
        n: (next(rules[f] for f in fields if rules[f] in _BY_SCORE), fields)
        for n, fields in every.items()
        if any(rules[f] in _BY_SCORE for f in fields)
    }
    own = {
        n: tuple(f for f in fields if rules.get(f, "fill") == "fill")
        for n, fields in blocks(batch.entity).items()
        if len(fields) > 1 and n not in whole
    }
    came_back = np.zeros(len(batch), bool)
    if returned is not None:
        came_back[batch.n_existing :] = returned
    return Survivorship(
        rules,
        strict,
        joins,
        own,
        frozenset(("prefix", "middle_name", "suffix", "street", "city", "region", "postal_code", "country")),
        {n: _agrees(batch, standards, n) for n in own},
        _held(batch, standards),
        {f: _score(batch, f, rule, policy, name) for f, rule in rules.items() if rule in _BY_SCORE},
        came_back,
        whole,
        {f: _spelled_alike(batch, f) for f in _SPELLING if rules.get(f) == "replace"},
    )


_SPELLING = {
    "phone": r"\D",
    "mobile": r"\D",
    "email": r"\s",
    "other_email": r"\s",
    "website": r"^\s*([a-zA-Z]+:)?/*(www\.)?|/+\s*$",
    "postal_code": r"[\s-]",
}
"""What does not count in a field's spelling."""


def _spelled_alike(batch: Batch, field: str) -> Keys:
    """A key per record, equal for two spellings of one value."""
    column = batch.column(field)
    text = pc.replace_substring_regex(pc.utf8_lower(column.values.arrow()), _SPELLING[field], "")
    text = last_nine(text) if field in ("phone", "mobile") else text
    return of_records(hash_values(Texts.of(text)), column)


def _join_of(field: str, kind: str, policy: Policy, name: str) -> Callable[[str, str], str]:
    """How two values are joined; notes say which list a line came from."""
    join = kinds()[kind].join
    if field != "notes" or policy.update.get("notes") != "append":
        return join
    label = policy.list.label or name

    def noted(first: str, second: str) -> str:
        line = f"{label}: {second}" if label and second else second
        return first if second in first else f"{first}\n{line}" if first else line

    return noted


def _score(batch: Batch, field: str, rule: str, policy: Policy, name: str) -> NDArray[np.int64]:
    """A number per record: the value of the highest stays."""
    if rule == "longest":
        lengths = pc.utf8_length(batch.columns[field].values.arrow()).to_numpy(zero_copy_only=False)
        return np.append(lengths, 0)[batch.columns[field].codes].astype(np.int64)
    if rule == "newest":
        return changed_at(batch, policy)
    return trust_of(batch, policy, name, policy.trust.fields.get(field, policy.trust.order))


def trust_of(batch: Batch, policy: Policy, name: str, order: tuple[str, ...]) -> NDArray[np.int64]:
    """How trusted each record's source is, the highest most: by its source field, a row without one by the list's label."""
    ranks = {source.strip().lower(): len(order) - i for i, source in enumerate(order)}
    column = batch.column("source")
    of_value = np.array([ranks.get(t.strip().lower(), 0) for t in column.values.arrow().to_pylist()] + [0], np.int64)
    out = of_value[column.codes]
    own = ranks.get((policy.list.label or name).strip().lower(), 0)
    blank = column.codes < 0
    blank[: batch.n_existing] = False
    out[blank] = own
    return out


def changed_at(batch: Batch, policy: Policy) -> NDArray[np.int64]:
    """When each record was last changed, as a rank, the newest highest; rows without a date have the list's; 0 = not known."""
    day = np.zeros(len(batch), np.int64)
    known = [np.array([""], object)]
    for field in ("created_at", "updated_at"):  # the later one goes before
        column = batch.column(field)
        if len(column.values):
            text = pc.fill_null(iso(column.values), "").to_numpy(zero_copy_only=False)
            code = np.append(np.where(text == "", 0, np.arange(len(text)) + sum(map(len, known))), 0)[column.codes]
            day = np.where(code > 0, code, day)
            known.append(text)
    if policy.list.date:
        rows = np.arange(len(batch)) >= batch.n_existing
        day = np.where(rows & (day == 0), sum(map(len, known)), day)
        known.append(np.array([policy.list.date], object))
    return np.unique(np.concatenate(known).astype(str), return_inverse=True)[1].astype(np.int64)[day]


def staying(
    batch: Batch, policy: Policy, filled: NDArray[np.int32], content: Keys, name: str, ids: pa.Array, pointing: Mapping[str, int]
) -> NDArray[np.int64]:
    """Who stays when records are merged, as a rank per record: the lowest; among equals the fullest, then the oldest.

    ids : of the existing records;  pointing : id to how many others point at that record
    """
    age = age_of(batch, content)
    how = policy.outcomes.survivor
    first = {
        "most-complete": -filled.astype(np.int64),
        "oldest": age,
        "newest": -changed_at(batch, policy),
        "most-trusted": -trust_of(batch, policy, name, policy.trust.order),
        "most-linked": -_numbers(ids, pointing, len(batch)),
    }[how]
    chosen = -_numbers(ids, dict.fromkeys(policy.outcomes.stay, 1), len(batch))
    # One number instead of four to sort by: the first key weighs most.
    whole = age
    for key in (-filled.astype(np.int64), first, chosen):
        key = key - key.min(initial=0)
        if key.any():
            whole = key * (int(whole.max(initial=0)) + 1) + whole
    out = np.empty(len(batch), np.int64)
    out[np.argsort(whole, kind="stable")] = np.arange(len(batch))
    return out


def with_names_apart(actions: Actions, changes: list[FieldChanges], batch: Batch) -> list[FieldChanges]:
    """The changes, and the parts of plain whole names of new records, where the existing ones have given and family names and no whole ones."""
    whole, old = batch.column("full_name"), slice(0, batch.n_existing)
    if not len(whole.values) or whole.filled[old].any() or not batch.column("family_name").filled[old].any():
        return changes
    return names_apart(actions, changes, whole, name_cells.apart(whole.values.arrow(), TITLES, known_degrees()))


def _numbers(ids: pa.Array, of: Mapping[str, int], n: int) -> NDArray[np.int64]:
    """The number of each record by its id, 0 where there is none; n records, those with ids first."""
    out = np.zeros(n, np.int64)
    if of:
        at = pc.index_in(ids.cast(pa.large_string()), value_set=pa.array(list(of), pa.large_string())).fill_null(-1)
        out[: len(ids)] = np.append(np.fromiter(of.values(), np.int64, len(of)), 0)[at.to_numpy(zero_copy_only=False)]
    return out


def _held(batch: Batch, standards: Standards) -> dict[str, tuple[Keys, Keys]]:
    """Keys of what a record holds in any place of its kind: a number that stands as phone is not written as mobile, nor a mailbox twice."""
    held: dict[str, tuple[Keys, Keys]] = {}
    for name, key in (("phone", "number"), ("email", "mailbox")):
        kind = kinds()[name]
        if all(batch.has(part) for part in kind.parts):
            places = kind.keys(standards.of[name])[key]
            held |= {part: (places[i], places) for i, part in enumerate(kind.parts)}
    return held


def _agrees(batch: Batch, standards: Standards, name: str) -> Agrees:
    """Whether two records' blocks of a kind may be laid together."""
    kind = kinds()[name]

    def agrees(left: NDArray[np.int32], right: NDArray[np.int32]) -> NDArray[np.bool_]:
        if len(left) == 0:
            return np.zeros(0, bool)
        one = Standards({name: standards.of[name]})
        graded = compare(Pairs(left, right, np.zeros(len(left), np.uint64)), one, {name: kind}, kind.comparisons)
        grades = graded.grades()
        close, blank = GRADES.index("close"), GRADES.index("blank")
        fits = np.all((grades >= close) | (grades == blank), axis=1)
        if name == "postal_address":
            # One city with two postal codes is two addresses.
            code = batch.column("postal_code").codes
            both = (code[left] >= 0) & (code[right] >= 0)
            fits &= ~both | (grades[:, 1] == GRADES.index("same")) | (code[left] == code[right])
        return np.asarray(fits)

    return agrees


def age_of(batch: Batch, content: Keys) -> NDArray[np.int64]:
    """Order among equally complete records: created earlier first, then by content, whatever their place in the list."""
    created = batch.column("created_at")
    day = pc.fill_null(iso(created.values), "9999") if len(created.values) else created.values.arrow()
    rank = np.zeros(len(created.values) + 1, np.int64)
    if len(created.values):
        rank[:-1] = np.unique(day.to_numpy(zero_copy_only=False).astype(str), return_inverse=True)[1]
    rank[-1] = len(created.values) + 1
    order = np.lexsort((content, rank[created.codes]))
    age = np.empty(len(batch), np.int64)
    age[order] = np.arange(len(batch))
    return age
