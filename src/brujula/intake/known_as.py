"""Another name of each firm: a column that no field takes, beside the one that its name comes from."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from brujula.core.batch import Column
from brujula.intake.headings import folded
from brujula.intake.shape import Shaped
from brujula.intake.streets import worded

_HEADINGS = """aka | aka name | also known as | known as | alias | alias name | alternate name | alternative name | other name | other names | trading name | trade name | trading as |
    dba | dba name | d b a | doing business as | legal name | legal business name | registered name | official name | former name | formerly | previous name | old name |
    nome fantasia | razao social | nombre comercial | razon social | nom commercial | raison sociale | enseigne | nome commerciale | ragione sociale | insegna | handelsnaam |
    handelsname | firmierung | nazwa handlowa | nazwa skrocona | nazwa pelna"""


def of_firms(old: Shaped, new: Shaped) -> tuple[Column | None, Shaped, Shaped]:
    """Each firm's other name, the existing records first (None where neither list has such a column); and the lists, with a note which column it is."""
    (records, old), (rows, new) = _told(old), _told(new)
    both = Column.of(pa.chunked_array([*records.chunks, *rows.chunks], pa.large_string()))
    return (both if both.filled.any() else None), old, new


def _told(side: Shaped) -> tuple[pa.ChunkedArray, Shaped]:
    known = worded(_HEADINGS)
    found = [c for c in side.left_out if c in side.raw.table.column_names and folded(c) in known]
    filled = [Column.of(side.raw.table.column(c)).filled.sum() for c in found]
    if not found or max(filled) == 0:
        return pa.chunked_array([pa.nulls(side.raw.table.num_rows, pa.large_string())]), side
    name = found[int(np.argmax(filled))]
    notes = (*side.raw.notes, f'column "{name}" is no field, and is compared as another name')
    left_out = tuple(c for c in side.left_out if c != name)
    values = side.raw.table.column(name).cast(pa.large_string())
    return pc.utf8_trim_whitespace(values), replace(side, raw=replace(side.raw, notes=notes), left_out=left_out)
