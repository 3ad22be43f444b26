"""Decisions that hold among the records at hand: both sides are there and say what they said when they were seen."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import pyarrow as pa
from numpy.typing import NDArray

from brujula.core.arrays import DIFFERENT, SAME
from brujula.core.batch import Batch
from brujula.core.candidates import content_keys
from brujula.review.decisions import Decision, latest

_IDENTIFYING = (
    "prefix given_name middle_name family_name suffix full_name email other_email phone mobile account name website street city postal_code "
    "birth_date registration_no profile"
).split()


@dataclass(frozen=True)
class Applied:
    """Decisions that hold in a batch: record numbers and verdict of each; and those that do not any more, in words."""

    left: NDArray[np.int32]
    right: NDArray[np.int32]
    verdict: NDArray[np.int8]
    stale: tuple[str, ...]


def seen_keys(batch: Batch, records: NDArray[np.int32] | None = None) -> list[str]:
    """Per record, of all or of those chosen, the key of its identifying values as they stand."""
    held = {f: c for f, c in batch.columns.items() if f in _IDENTIFYING}
    keys = content_keys(Batch(batch.entity, batch.n_existing, batch.n_incoming, held))
    return [f"{k:016x}" for k in (keys if records is None else keys[records]).tolist()]


def applied(decisions: Sequence[Decision], batch: Batch, ids: pa.Array) -> Applied:
    """The decisions that hold: both sides are there and say what they said when they were seen."""
    nobody = np.zeros(0, np.int32)
    if not decisions:
        return Applied(nobody, nobody, nobody.astype(np.int8), ())
    seen, n = seen_keys(batch), batch.n_existing
    place: dict[str, list[int]] = {str(x): [i] for i, x in enumerate(ids.to_pylist())}
    for row in range(n, len(batch)):
        place.setdefault(f"row:{seen[row]}", []).append(row)
    lefts, rights, verdicts, stale = [], [], [], []
    for d in latest(decisions):
        for a in place.get(d.left, ()):
            for b in place.get(d.right, ()):
                if seen[a] != d.seen_left or seen[b] != d.seen_right:
                    stale.append(
                        f"{d.left} and {d.right} were called {d.verdict} on {d.decided_at[:10]}; what they say has changed since"
                    )
                    continue
                lefts.append(max(a, b))
                rights.append(min(a, b))
                verdicts.append(SAME if d.verdict == "same" else DIFFERENT)
    return Applied(np.array(lefts, np.int32), np.array(rights, np.int32), np.array(verdicts, np.int8), tuple(stale))
