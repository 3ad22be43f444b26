"""Standard forms of a batch, kind by kind, and the keys that passes are made of."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from brujula.core.batch import Batch, Keys
from brujula.core.kind import Kind, Standards
from brujula.core.steps.parallel import spread


def clean(batch: Batch, kinds: Mapping[str, Kind], kind_of: Mapping[str, str]) -> Batch:
    """The batch with placeholders and unusable values made blank. kind_of: field to kind name."""
    fields = [f for f in batch.columns if f in kind_of]
    cleaned = spread(lambda f: kinds[kind_of[f]].clean(batch.columns[f]), fields)
    return Batch(batch.entity, batch.n_existing, batch.n_incoming, dict(zip(fields, cleaned, strict=True)))


def standardise(batch: Batch, kinds: Mapping[str, Kind], identifying: str, with_keys: bool = True) -> Standards:
    """Standard forms of every kind that compares something; `identifying` names the kind that says who a record is.

    with_keys : also the keys that passes are made of, named "kind.key"
    """
    nobody: Keys = np.zeros(len(batch), np.uint64)
    form = kinds[identifying].standardise(batch, nobody)
    forms: dict[str, object] = {identifying: form}
    keys = {f"{identifying}.{key}": value for key, value in kinds[identifying].keys(form).items()}
    identity = keys[f"{identifying}.{kinds[identifying].identity}"]
    others = [name for name in sorted(kinds) if kinds[name].comparisons and name != identifying]

    def one(name: str) -> tuple[object, dict[str, Keys]]:
        form = kinds[name].standardise(batch, identity)
        return form, kinds[name].keys(form) if with_keys else {}

    for name, (form, found) in zip(others, spread(one, others), strict=True):
        forms[name] = form
        keys |= {f"{name}.{key}": value for key, value in found.items()}
    return Standards(forms, keys)
