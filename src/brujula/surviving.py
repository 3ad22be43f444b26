"""Survivorship of a batch under a policy: rules by field, joins and blocks from the kinds."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.arrays import Pairs
from brujula.core.batch import Batch, Keys
from brujula.core.compare import compare
from brujula.core.kind import GRADES, Standards
from brujula.core.survive import Survivorship
from brujula.fields import kinds
from brujula.fields.date import iso
from brujula.policy.entities import blocks, kind_of
from brujula.policy.model import Policy

Agrees = Callable[[NDArray[np.int32], NDArray[np.int32]], NDArray[np.bool_]]


def survivorship_of(batch: Batch, policy: Policy) -> Survivorship:
    """How each field of the batch survives: what the policy says, else what its kind does."""
    of = kind_of(batch.entity)
    rules = {f: policy.update.get(f, kinds()[of[f]].survivorship) for f in batch.columns}
    strict = {f: kinds()[of[f]].strict(batch.columns[f].values) for f, rule in rules.items() if rule == "strictest"}
    joins = {f: kinds()[of[f]].join for f, rule in rules.items() if rule in ("union", "append")}
    own = {
        n: tuple(f for f in fields if rules.get(f, "fill") == "fill")
        for n, fields in blocks(batch.entity).items()
        if len(fields) > 1
    }
    return Survivorship(
        rules,
        strict,
        joins,
        own,
        frozenset(("prefix", "middle_name", "suffix", "street", "city", "region", "postal_code", "country")),
        {n: _agrees(batch, n) for n in own},
        _held(batch),
    )


def _held(batch: Batch) -> dict[str, tuple[Keys, Keys]]:
    """Keys of what a record holds in any place of its kind: a number that stands as phone is not written as mobile."""
    kind = kinds()["phone"]
    if not batch.has("phone") or not batch.has("mobile"):
        return {}
    places = kind.keys(kind.standardise(batch, np.zeros(len(batch), np.uint64)))["number"]
    return {part: (places[i], places) for i, part in enumerate(kind.parts)}


def _agrees(batch: Batch, name: str) -> Agrees:
    """Whether two records' blocks of a kind may be laid together."""
    kind = kinds()[name]

    def agrees(left: NDArray[np.int32], right: NDArray[np.int32]) -> NDArray[np.bool_]:
        if len(left) == 0:
            return np.zeros(0, bool)
        standards = Standards({name: kind.standardise(batch, np.zeros(len(batch), np.uint64))})
        graded = compare(Pairs(left, right, np.zeros(len(left), np.uint32)), standards, {name: kind}, kind.comparisons)
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
