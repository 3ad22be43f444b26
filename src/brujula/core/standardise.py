"""Standard forms of a batch, kind by kind, and the keys that passes are made of."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from brujula.core.batch import Batch, Keys
from brujula.core.kind import Kind, Standards


def clean(batch: Batch, kinds: Mapping[str, Kind], kind_of: Mapping[str, str]) -> Batch:
    """The batch with placeholders and unusable values made blank. kind_of: field to kind name."""
    columns = {field: kinds[kind_of[field]].clean(column) for field, column in batch.columns.items() if field in kind_of}
    return Batch(batch.entity, batch.n_existing, batch.n_incoming, columns)


def standardise(batch: Batch, kinds: Mapping[str, Kind], identifying: str) -> Standards:
    """Standard forms and keys of every kind that compares something; `identifying` names the kind that says who a record is.

    Keys are named "kind.key".
    """
    identity: Keys = np.zeros(len(batch), np.uint64)
    forms: dict[str, object] = {}
    keys: dict[str, Keys] = {}
    for name in sorted(kinds, key=lambda k: (k != identifying, k)):
        kind = kinds[name]
        if not kind.comparisons:
            continue
        forms[name] = kind.standardise(batch, identity)
        keys |= {f"{name}.{key}": value for key, value in kind.keys(forms[name]).items()}
        if name == identifying:
            identity = keys[f"{name}.{kind.identity}"]
    return Standards(forms, keys)
