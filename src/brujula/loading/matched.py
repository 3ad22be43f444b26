"""What matching found, kept in the plan folder (Parquet), so that after a review the plan is decided anew without matching again."""

from __future__ import annotations

import hashlib
import json
from dataclasses import asdict, fields
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq

from brujula.core import weigh
from brujula.core.arrays import Graded, Pairs, PassReport
from brujula.core.batch import Batch, Keys
from brujula.core.candidates import content_keys
from brujula.fitting import Kept, compared
from brujula.matching import Matched
from brujula.policy.model import Policy

FILE = "matching.parquet"
_ABOUT = b"brujula"


def keep_matched(path: Path, matched: Matched, n_existing: int, policy: Policy) -> None:
    """Write the graded candidate pairs and the fitted weights."""
    graded, model = matched.graded, matched.model
    columns: dict[str, Any] = {"left": graded.pairs.left, "right": graded.pairs.right, "passes": graded.pairs.passes}
    for f, comparison in enumerate(graded.comparisons):
        columns |= {f"{comparison.field} level": graded.levels[:, f], f"{comparison.field} common": graded.common[:, f]}
    told = {
        "mark": _mark(matched.content, n_existing, policy),
        "m": [x.tolist() for x in model.m],
        "u": [x.tolist() for x in model.u],
        "typical": [x.tolist() for x in model.typical],
        "alone": [x.tolist() for x in model.alone],
        "numbers": [model.prior, model.n_records, model.cap, model.floor, model.temper, model.slope, model.shift],
        "doubts": model.doubts,
        "lifts": model.lifts,
        "known": [model.n_existing, model.known, model.like],
        "exclusive": sorted(model.exclusive),
        "changing": sorted(model.changing),
        "report": asdict(matched.report),
        "candidates": matched.n_candidates,
    }
    table = pa.table({name: np.ascontiguousarray(column) for name, column in columns.items()})
    pq.write_table(table.replace_schema_metadata({_ABOUT: json.dumps(told).encode()}), path, compression="zstd")


def kept_matching(path: Path, batch: Batch, policy: Policy) -> Kept | None:
    """What an earlier plan of the very same records, under the same rules of matching, found; None where there is no such."""
    try:
        table = pq.read_table(path)
    except (OSError, pa.ArrowInvalid):
        return None
    told = json.loads((table.schema.metadata or {}).get(_ABOUT, b"{}"))
    if told.get("mark") != _mark(content_keys(batch), batch.n_existing, policy):
        return None
    wanted = compared(policy)
    pairs = Pairs(*(table[n].to_numpy() for n in ("left", "right", "passes")))
    levels = np.stack([table[f"{c.field} level"].to_numpy() for c in wanted], axis=1)
    common = np.stack([table[f"{c.field} common"].to_numpy() for c in wanted], axis=1)
    m, u, typical, alone = (tuple(np.array(x) for x in told[n]) for n in ("m", "u", "typical", "alone"))
    prior, n_records, cap, floor, temper, slope, shift = told["numbers"]
    changing, exclusive = frozenset(told["changing"]), frozenset(told["exclusive"])
    doubts, lifts = (None if told[n] is None else tuple(told[n]) for n in ("doubts", "lifts"))
    n_existing, known, like = told["known"]
    model = weigh.Model(
        wanted, m, u, typical, prior, int(n_records), alone, cap, floor, temper, changing, slope, shift, doubts, lifts,
        n_existing, known, tuple(tuple(x) for x in like), exclusive,
    )  # fmt: skip
    said = told["report"]
    names, keyed, narrowed, left_out = (tuple(said[n]) for n in ("names", "keyed", "narrowed", "left_out"))
    report = PassReport(names, keyed, narrowed, left_out, said["pairs"], said["alone"])
    graded = Graded(pairs, wanted, np.ascontiguousarray(levels), np.ascontiguousarray(common))
    return Kept(graded, model, report, told["candidates"])


def _mark(content: Keys, n_existing: int, policy: Policy) -> str:
    """What must be the same for matching to find the same: every record as it stands, and how the policy matches."""
    from brujula import __version__

    shape = [f.name for f in fields(weigh.Model)]
    how = json.dumps([__version__, shape, policy.match.model_dump(mode="json"), [r.model_dump(mode="json") for r in policy.rule]])
    digest = hashlib.sha256(how.encode())
    digest.update(np.ascontiguousarray(content).tobytes() + n_existing.to_bytes(8, "little"))
    return digest.hexdigest()
