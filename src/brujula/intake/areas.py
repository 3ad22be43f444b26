"""A phone number that stands in two columns: its area code, and the line there."""

from __future__ import annotations

import re

import pyarrow as pa
import pyarrow.compute as pc

from brujula.intake.headings import folded
from brujula.intake.streets import beside, share_that_fits, worded

_AREA = """area code | area cd | areacode | area | phone area code | phone area | acode | tel area code | vorwahl | ortsvorwahl | telefonvorwahl | prefijo | codigo de area | cod area |
    indicatif | prefisso | ddd | codigo area | kierunkowy | nr kierunkowy | netnummer | kengetal | std code | std | lada"""
_CODE, _LINE = r"^\(?\+?0?\d{2,5}\)?$", r"^\D*(\d\D*){5,9}$"
_MOST = 0.8  # share of the cells that are an area code, and of the numbers that lack one


def joined(
    table: pa.Table, values: dict[str, pa.ChunkedArray], fields: dict[str, str], free: list[str]
) -> tuple[dict[str, pa.ChunkedArray], dict[str, str], list[str]]:
    """The values with the phone made of its own column and the one that holds its area code, where the numbers lack one.

    free : columns that no field was found for
    Returns values, field to columns, and a note where something was joined.
    """
    own = fields.get("phone", "")
    area = next((c for c in free if re.sub(r" 1$", "", folded(c)) in worded(_AREA)), "")
    if not own or not area or " + " in own:
        return values, fields, []
    shares = share_that_fits(table.column(area), _CODE), share_that_fits(values["phone"], _LINE)
    if min(shares) < _MOST:
        return values, fields, []
    whole = beside(table.column(area), values["phone"], " ")
    # A code and no number is no phone.
    blank = pc.equal(pc.utf8_trim_whitespace(values["phone"]), "")
    whole = pc.if_else(blank, values["phone"], whole)
    note = f'columns "{area}", "{own}" read together as the phone'
    return values | {"phone": whole}, fields | {"phone": f"{area} + {own}"}, [note]
