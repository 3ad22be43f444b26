"""What spreadsheets and web pages did to values: recognised, mended where there is one way to mend it, and said either way."""

from __future__ import annotations

import html
import re
import unicodedata
from collections.abc import Callable

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.steps import patterns
from brujula.intake import twice
from brujula.problems import Problem

Mended = tuple[pa.ChunkedArray, list[Problem]]
_MOST = 100_000
_ROUNDED = r"^\s*\d(?:(?:[.,]\d+)?[eE]\+|[.,]\d+[eE])\d{1,2}\s*$"
"""A sign or a fraction: without either, 1e36 is a code in sixteen digits."""
_DIGITS = {"US": 5, "DE": 5, "FR": 5, "ES": 5, "IT": 5, "MX": 5, "FI": 5, "SE": 5, "TR": 5, "HR": 5, "EE": 5, "KR": 5, "AU": 4}
"""Countries whose postal codes are this many digits and may begin with 0."""
_OTHER_DIGITS = r"[\x{0660}-\x{0669}\x{06F0}-\x{06F9}\x{0966}-\x{096F}\x{09E6}-\x{09EF}\x{0E50}-\x{0E59}\x{FF10}-\x{FF19}]"
"""Digits of Arabic, Persian, Indian and Thai script, and wide ones."""
_SPELLED = r"^\W*(?:1\W+)?\(?([2-9]\d\d)\)?\W+([\dA-Za-z -]*[A-Za-z][\dA-Za-z -]*[A-Za-z]{2}[\dA-Za-z -]*)$"
"""An area code and a number of which at least three places are letters."""
_TAG = r"</?(?:a|b|i|u|em|strong|span|font|p|div|small|big|sub|sup|td|li|ul)(?:\s[^<>]*)?/?>"
_ESCAPED = r"&(?:#\d{1,7}|#x[0-9A-Fa-f]{1,6}|[A-Za-z]{2,8});|(?i:" + _TAG + ")"
_DAY_ZERO = np.datetime64("1899-12-30")


def unwrapped(values: pa.ChunkedArray) -> pa.ChunkedArray:
    """Cells written as `="00123"`, the way to keep a spreadsheet's hands off, as what they hold."""
    if not pc.any(pc.starts_with(values, '="')).as_py():
        return values
    return pc.replace_substring_regex(values, r'^="([^"]*)"$', r"\1")


def rewritten(
    values: pa.ChunkedArray, hit: NDArray[np.bool_], mend: Callable[[str], str], code: str, column: str, field: str
) -> Mended:
    """The values with those hit mended; each named. What cannot be mended becomes blank and is named too."""
    at = np.flatnonzero(hit)
    if len(at) == 0:
        return values, []
    before = values.take(pa.array(at)).to_pylist()
    after = [mend(b) for b in before]
    problems = [
        Problem(f"{code}-mended" if a else code, int(r) + 1, column, b if not a else f"{b} -> {a}", field=field)
        for r, b, a in zip(at[:_MOST].tolist(), before, after, strict=False)
    ]
    whole = values.combine_chunks()
    whole = pa.concat_arrays(whole.chunks) if isinstance(whole, pa.ChunkedArray) else whole
    return pa.chunked_array([pc.replace_with_mask(whole, pa.array(hit), pa.array(after, pa.large_string()))]), problems


def matches(values: pa.ChunkedArray, pattern: str) -> NDArray[np.bool_]:
    """Which of the values hold the pattern."""
    return np.asarray(patterns.matches(values, pattern).to_numpy(zero_copy_only=False), bool)


def characters(values: pa.ChunkedArray, column: str, field: str) -> Mended:
    """Characters that a web page spells out (Smith &amp; Sons, M&uuml;ller), as themselves, and its tags (<b>Smith</b>) gone."""

    def mend(text: str) -> str:
        plain = html.unescape(html.unescape(text))  # what was escaped once is often escaped twice
        return re.sub(_TAG, "", plain, flags=re.IGNORECASE)

    hit = matches(values, _ESCAPED)
    hit[hit] = [mend(t) != t for t in values.take(pa.array(np.flatnonzero(hit))).to_pylist()]
    return rewritten(values, hit, mend, "characters", column, field)


def encoded_twice(values: pa.ChunkedArray, column: str, field: str) -> Mended:
    """Text that was encoded twice (GarcÃ­a) as it was; in a column that has some, also where one value could be meant so (Ã‘uñez)."""
    sure = matches(values, twice.FOUND)
    if not sure.any():
        return values, []
    hit = matches(values, r"[\x{C2}-\x{EF}][^\x00-\x7F]")
    hit[hit] = [twice.once(t) != t for t in values.take(pa.array(np.flatnonzero(hit))).to_pylist()]
    return rewritten(values, hit, twice.once, "twice-encoded", column, field)


def numbers(values: pa.ChunkedArray, column: str, field: str) -> Mended:
    """Phone numbers and ids a spreadsheet turned into powers of ten: whole where no digit was lost, else blank."""

    def mend(text: str) -> str:
        mantissa, _, power = text.strip().lower().replace(",", ".").partition("e")
        whole, _, fraction = mantissa.partition(".")
        lost = int(power) - len(fraction)
        return whole + fraction if lost == 0 else ""

    return rewritten(values, matches(values, _ROUNDED), mend, "rounded-number", column, field)


def digits(values: pa.ChunkedArray, column: str, field: str) -> Mended:
    """Numbers in digits of another script, and whole numbers written with a decimal point, in plain digits."""

    def mend(text: str) -> str:
        plain = "".join(str(unicodedata.decimal(c, c)) for c in unicodedata.normalize("NFKC", text))
        return re.sub(r"^(\s*\d+)\.0+\s*$", r"\1", plain)

    return rewritten(values, matches(values, r"^\s*\d+\.0+\s*$|" + _OTHER_DIGITS), mend, "digits", column, field)


_KEYS = str.maketrans("ABCDEFGHIJKLMNOPQRSTUVWXYZ", "22233344455566677778889999")


def spelled_phones(values: pa.ChunkedArray, column: str, field: str) -> Mended:
    """North American numbers spelled in letters (1-800-555-REED) in digits, by the keys that bear the letters (ITU-T E.161)."""

    def mend(text: str) -> str:
        area, rest = re.findall(_SPELLED, text)[0]
        return f"{area}-{rest.upper().translate(_KEYS)}" if sum(c.isalnum() for c in rest) == 7 else text

    hit = matches(values, _SPELLED)
    hit[hit] = [mend(t) != t for t in values.take(pa.array(np.flatnonzero(hit))).to_pylist()]
    return rewritten(values, hit, mend, "spelled-phone", column, field)


def postal_codes(values: pa.ChunkedArray, country: pa.ChunkedArray | str, column: str) -> Mended:
    """Codes that lost their leading zeros: given back where the country's are so many digits; else told.

    country : ISO 3166 code for all rows, or one per row
    """
    short = matches(values, r"^\s*\d{3,4}\s*$")
    if not short.any():
        return values, []
    of = np.full(len(values), country, object) if isinstance(country, str) else country.to_numpy()
    wide = np.array([_DIGITS.get(str(c), 0) for c in of[short]])
    lost = np.flatnonzero(short)
    width = np.array([len(v.strip()) for v in values.take(pa.array(lost)).to_pylist()])
    hit = np.zeros(len(values), bool)
    hit[lost[wide > width]] = True
    digits = dict(zip(lost.tolist(), wide.tolist(), strict=True))
    at = iter(np.flatnonzero(hit).tolist())
    return rewritten(values, hit, lambda text: text.strip().zfill(digits[next(at)]), "lost-zeros", column, "postal_code")


def dates(values: pa.ChunkedArray, column: str, field: str, month_first: bool) -> tuple[pa.ChunkedArray, list[Problem], str]:
    """Dates in one order, ISO 8601: serial numbers counted from the spreadsheet's day zero; day and month as the column as a whole shows.

    month_first : what holds where no value of the column shows its order
    A column that shows both orders leaves those that could be read either way blank, each named.
    """
    # Programs that keep dates as numbers write a blank one as zeros (0/0/00).
    values = pc.replace_substring_regex(values, r"^\s*0{1,4}[-/.]0{1,2}[-/.]0{1,4}([T ][0:.]*)?\s*$", "")
    values, problems = rewritten(
        values, matches(values, r"^\s*[1-6]\d{4}(\.0+)?\s*$"), _from_serial, "date-number", column, field
    )
    parts = pc.extract_regex(
        values, r"^\s*(?P<a>\d{1,2})(?:[-/.] ?| )(?P<b>\d{1,2})(?:[-/.] ?| )(?P<y>\d{4}|\d{2})\.?(?P<t>[T ,].*)?$"
    )
    parts = parts.combine_chunks()
    parts = pa.concat_arrays(parts.chunks) if isinstance(parts, pa.ChunkedArray) else parts
    held = parts.is_valid().to_numpy(zero_copy_only=False)
    if not held.any():
        return values, problems, ""
    a, b = (np.array(pc.struct_field(parts, k).fill_null("0").to_pylist(), dtype=object).astype(int) for k in "ab")
    day_first, both = int(np.sum(held & (a > 12) & (b <= 12))), int(np.sum(held & (b > 12) & (a <= 12)))
    mixed = bool(day_first and both) and min(day_first, both) > 0.02 * (day_first + both)
    month = month_first if day_first == both else both > day_first
    text = values.combine_chunks()
    text = pa.concat_arrays(text.chunks) if isinstance(text, pa.ChunkedArray) else text

    def iso(value: str) -> str:
        x, y, year = (int(g) for g in _split(value))
        day, mon = (y, x) if (y > 12 or (month and x <= 12)) else (x, y)
        if mixed and x <= 12 and y <= 12 and x != y:
            return ""
        year += 0 if year > 99 else 2000 if year < 40 else 1900
        return f"{year:04}-{mon:02}-{day:02}" if 1 <= mon <= 12 and 1 <= day <= 31 else value

    at = np.flatnonzero(held)
    before = text.take(pa.array(at)).to_pylist()
    distinct = {v: iso(v) for v in set(before)}
    after = [distinct[v] for v in before]
    problems += [
        Problem("which-order", int(r) + 1, column, v, field=field)
        for r, v, w in zip(at[:_MOST].tolist(), before, after, strict=False)
        if not w
    ]
    said = "day and month stand in both orders" if mixed else f"read as {'month' if month else 'day'} first"
    return pa.chunked_array([pc.replace_with_mask(text, pa.array(held), pa.array(after, pa.large_string()))]), problems, said


def _split(value: str) -> list[str]:
    return re.findall(r"\d+", value)[:3]


def _from_serial(text: str) -> str:
    return str(_DAY_ZERO + np.timedelta64(int(float(text)), "D"))
