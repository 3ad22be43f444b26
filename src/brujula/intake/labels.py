"""Pairs a person has judged: read from a list with the columns left, right, verdict, as pairs.csv has them, or an answered sample."""

from __future__ import annotations

import re
from dataclasses import replace
from pathlib import Path
from typing import NamedTuple

import numpy as np
import pyarrow as pa
from numpy.typing import NDArray

from brujula.errors import InputError
from brujula.intake.read import read_list

_SAME, _DIFFERENT = {"same", "yes", "1", "true"}, {"different", "no", "0", "false"}


class Labels(NamedTuple):
    """Judged pairs: record numbers int32[n] of either side, and whether they are the same, bool[n]."""

    left: NDArray[np.int32]
    right: NDArray[np.int32]
    same: NDArray[np.bool_]


NO_LABELS = Labels(np.zeros(0, np.int32), np.zeros(0, np.int32), np.zeros(0, bool))


def read_labels(path: str | Path, ids: pa.Array, n_incoming: int) -> Labels:
    """Judged pairs of a file. A side is a record's id, or `row 12` of the incoming list; a line without a verdict is passed over.

    ids : the existing records' ids, in order

    Raises InputError naming file, line, column and value for a side that does not exist or a verdict that is none.
    """
    raw = read_list(path)
    if "verdict" not in raw.table.column_names and "decision" in raw.table.column_names:
        raw = replace(raw, table=raw.table.append_column("verdict", raw.table["decision"]))
    lacking = [c for c in ("left", "right", "verdict") if c not in raw.table.column_names]
    if lacking:
        raise InputError(
            f'{path}: no column "{lacking[0]}"; accepted: left, right (a record\'s id, or "row 12") and verdict (same, different)'
        )
    place = {str(x): i for i, x in enumerate(ids.to_pylist())}
    n_existing = len(ids)
    lefts, rights, same = [], [], []
    for number, line in enumerate(raw.table.select(["left", "right", "verdict"]).to_pylist(), 1):
        said = line["verdict"].strip().lower()
        if said in ("", "unsure", "none"):
            continue
        if said not in _SAME | _DIFFERENT:
            raise InputError(
                f'{path}, {raw.place_of(number)}, column "verdict": "{line["verdict"]}"; accepted: same, different, or blank'
            )
        sides = []
        for column in ("left", "right"):
            text = line[column].strip()
            row = re.fullmatch(r"row (\d+)", text)
            at = place.get(text, -1) if not row else n_existing + int(row[1]) - 1 if 1 <= int(row[1]) <= n_incoming else -1
            if at < 0:
                raise InputError(
                    f'{path}, {raw.place_of(number)}, column "{column}": "{text}" is no existing record and no row; '
                    f'accepted: an id of the existing records, or "row N" with N from 1 to {n_incoming}'
                )
            sides.append(at)
        lefts.append(max(sides))
        rights.append(min(sides))
        same.append(said in _SAME)
    return Labels(np.array(lefts, np.int32), np.array(rights, np.int32), np.array(same, bool))
