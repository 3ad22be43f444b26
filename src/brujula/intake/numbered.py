"""Names with a number before or behind them, as systems print them: 10234 - Harrow Reed Works, Harrow Reed Works [10234]."""

from __future__ import annotations

from collections import Counter

import pyarrow as pa
import pyarrow.compute as pc

from brujula.core.steps.patterns import captured
from brujula.intake.content import ENOUGH, filled
from brujula.tables.places import places

NAMES = ("name", "account", "full_name")
_NO = r"(?P<no>[A-Za-z]{0,3}[-_/#]?\d[\d-]*\d\d)"
_LAYOUTS = {
    "before": rf"^\W*{_NO}(?P<mark>\s*[-–:.|)\]]*)\s+(?P<name>\S.*\pL.*)$",
    "behind": rf"^(?P<name>\S.*?\pL.*?)\s*(?P<mark>[-–:|(\[]+)\s*#?{_NO}[\])]?\s*$",
}
_MOSTLY, _HARDLY, _ALL = 0.8, 0.1, 0.98  # shares of cells, and of names that have one number


def apart(values: dict[str, pa.ChunkedArray], fields: dict[str, str]) -> tuple[dict[str, pa.ChunkedArray], list[str]]:
    """The values with names freed from the numbers that stand beside most of a column's. The number is nobody's key: it is theirs."""
    notes = []
    for field in [f for f in NAMES if f in values]:
        text = values[field].combine_chunks()
        sample = filled(text)
        for where, layout in _LAYOUTS.items():
            if _is_so(sample, layout):
                name = pc.struct_field(captured(text, layout), "name")
                values = values | {field: pa.chunked_array([pc.coalesce(name, text)])}
                notes.append(f'column "{fields[field]}": the number {where} each name is no part of it')
                break
    return values, notes


def _is_so(text: pa.Array, layout: str) -> bool:
    """Whether most of a column's cells have a number there, set apart by a mark, or each as long as the others: 12 Harrow Place Ltd. is a name.

    Not where it tells apart what is called alike: Harrow Band - 101 and Harrow Band - 102. Of 1412 Mill Street LLC it is the door's.
    """
    found = captured(text, layout).drop_null() if len(text) >= ENOUGH else []
    if len(found) < max(_MOSTLY * len(text), ENOUGH):
        return False
    names, numbers = (pc.struct_field(found, part) for part in ("name", "no"))
    called = pc.utf8_lower(names)
    both = pc.binary_join_element_wise(called, numbers, pa.scalar("\n", text.type))
    if pc.count_distinct(called).as_py() < _ALL * pc.count_distinct(both).as_py():
        return False
    marked = pc.mean(pc.not_equal(pc.utf8_trim_whitespace(pc.struct_field(found, "mark")), "").cast(pa.float64())).as_py()
    if marked >= _MOSTLY:
        return True
    lengths = Counter(pc.utf8_length(numbers).to_pylist())
    return max(lengths.values()) >= _MOSTLY * len(found) and bool(places().street(names).mean() < _HARDLY)
