"""Whether a column of digits holds phones, where its heading does not say so: dates, amounts, years and numbers of other things look like some."""

from __future__ import annotations

import pyarrow as pa
import pyarrow.compute as pc

from brujula.core.steps.patterns import matches
from brujula.intake.content import filled

_DAY = r"(?:0?[1-9]|[12]\d|3[01])"
_YEAR = r"(?:19|20)\d\d"
_TIME = r"(?:[01]?\d|2[0-3])[.:]?[0-5]\d"
_OF_OTHER_THINGS = (
    rf"{_DAY}[./-]{_DAY}[./-](?:{_YEAR}|\d\d)",
    rf"(?:{_YEAR}|\d\d)[./-]{_DAY}[./-]{_DAY}",
    rf"(?:0?[1-9]|1[0-2])[./-]{_YEAR}|{_YEAR}[./-](?:0?[1-9]|1[0-2])",
    rf"{_YEAR} ?[-/–] ?(?:{_YEAR}|\d\d)",
    rf"{_TIME} ?[-–] ?{_TIME}",
    r"[-(]?\d{1,3}(?:[ .,']?\d{3})*[.,]\d\d?\)?-?",  # amounts, to the cent
    r"\d(?:[ .,']\d{3})+",  # and in thousands: no area is one digit
    r"-?\d{1,3}\.\d{3,}[ /;]+-?\d{1,3}\.\d{3,}",  # a point on the map
    rf"{_YEAR}[-/]\d{{3,6}}|\d{{1,5}}[-/]{_YEAR}",  # the number of a bill or a lease, begun anew each year
    r"97[89][- ]?\d[- \d]{8,12}\d",  # of a book
    r"\d{3}-\d\d-\d{4}|[1-9]\d-\d{7}|\d{7,9}-\d",  # of people and firms at offices
    r"[0-8]\d{4}-\d{4}",  # of a district the post divides; mobile numbers of Brazil begin with 9
    r"\d\d-\d\d-\d\d \d{6,8}",  # of an account at a bank
    r"\D*(?:\d\D*){1,6}|\D*(?:\d\D*){16,}",  # fewer digits than a phone's, or more (E.164)
)
"""Written with digits and strokes as phones are, in ways that hardly any phone is."""
_OTHERS = rf"^\s*(?:{'|'.join(_OF_OTHER_THINGS)})\s*$"
_MOSTLY = 0.7  # of a column's values
_BARE = r"^\s*\d+\s*$"
_DIALLED = r"^\s*(?:0\d{8,13}|1?[2-9]\d\d[2-9]\d{6}|1[3-9]\d{9}|[5-9]\d{8,9}|(?:3[0-9]|4[0-9]|5[1-8]|6[0-6]|7|8[1246]|9[0-58])\d{8,11})\s*$"
"""With the digit that is dialled before an area, as North America's, China's or a mobile's national number, or begun with a country's."""
_NEARLY_ALL = 0.9


def may_be_phones(values: pa.Array | pa.ChunkedArray) -> bool:
    """Whether digits may be phones: most are written as hardly anything else is, and bare ones as they are dialled."""
    text = filled(values)

    def share(pattern: str) -> float:
        return float(pc.mean(matches(text, pattern).cast(pa.float64())).as_py() or 0.0)

    if share(_OTHERS) >= _MOSTLY:
        return False
    return share(_BARE) < _MOSTLY or share(_DIALLED) >= _NEARLY_ALL
