"""Regular expressions over texts: Arrow's (RE2) for many, and for a handful the same patterns by `re` or `regex`, which keep what they compiled.

Arrow compiles a pattern at every call, a tenth of a millisecond each; a question to a kept index asks some three hundred of them of three texts.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Sequence
from functools import cache, reduce
from typing import NamedTuple, cast

import pyarrow as pa
import pyarrow.compute as pc
import regex

from brujula.core.steps.parallel import n_threads, spread

_FEW = 32
_PART = 65_536  # texts that one core takes at once
TOGETHER = 12  # patterns looked for in one go: what RE2 has to remember of a hundred is too much for it, and each text takes ten times as long
_LONG = 400  # letters: a longer text `re` may try to read in every way, where RE2 takes one
_OFTEN = 4  # questions of a few texts after which a pattern is worth compiling: that takes as long as a hundred calls of Arrow
_SETS = {
    "s": r"\t\n\f\r ",
    "S": r"\x00-\x08\x0b\x0e-\x1f!-\U0010ffff",
    "d": "0-9",
    "D": r"\x00-/:-\U0010ffff",
    "w": "0-9A-Za-z_",
    "W": r"\x00-/:-@\[-\^`{-\u012f\u0132-\u017e\u0180-\u2129\u212b-\U0010ffff",
}
"""What RE2 takes for blanks, digits and word characters, and for all others: ASCII only, while its letters are of any alphabet.

(The long s, the sign of the kelvin and two letters of Turkish are left out of W: where case does not count they are s, k and i.)
"""
_ALIKE = "bpPnrtfxuU"
_EDGE = rf"(?:(?<=[{_SETS['w']}])(?![{_SETS['w']}])|(?<![{_SETS['w']}])(?=[{_SETS['w']}]))"


class _Kept(NamedTuple):
    """A pattern as `re` or `regex` has it: what finds the same in ASCII, and whether that is the pattern itself."""

    loose: re.Pattern[str]
    whole: bool
    pattern: str

    def search(self, text: str) -> re.Match[str] | None:
        """What the pattern finds in a text first."""
        found = self.loose.search(text)
        return found if found is None or self.whole or text.isascii() else self._itself().search(text)

    def sub(self, by: str, text: str) -> str:
        """The text with whatever matches replaced."""
        if self.whole or text.isascii():
            return self.loose.sub(by, text)
        return self._itself().sub(by, text) if self.loose.search(text) else text

    def _itself(self) -> re.Pattern[str]:
        # Only its properties are otherwise in the loose one, which was translated; `regex` knows them.
        return cast("re.Pattern[str]", _translated(self.pattern))


_asked: Counter[str] = Counter()
_ready: dict[str, _Kept | None] = {}


def _kept(text: pa.Array, pattern: str) -> _Kept | None:
    """The pattern kept for a handful of texts that come after others; None where Arrow had better do it."""
    if len(text) > _FEW:
        return None
    if pattern not in _ready:
        _asked[pattern] += 1
        if _asked[pattern] <= _OFTEN:
            return None
        loose = _loose(pattern)
        compiled = _translated(loose)
        _ready[pattern] = _Kept(compiled, loose == pattern, pattern) if compiled else None
    return _ready[pattern]


def _long(texts: list[str | None]) -> bool:
    return any(x is not None and len(x) > _LONG for x in texts)


@cache
def _translated(pattern: str) -> re.Pattern[str] | None:
    """A pattern of RE2 in the words of `re` and `regex`; None for one with words that the two may read otherwise."""
    pattern = re.sub(r"\\x\{([0-9A-Fa-f]+)\}", lambda m: f"\\U{int(m[1], 16):08x}", pattern)
    out, i, inside = "", 0, False
    while i < len(pattern):
        c, escaped = pattern[i], pattern[i + 1 : i + 2]
        if c == "\\":
            if some := _SETS.get(escaped):
                out += some if inside else f"[{some}]"
            elif escaped.isalpha() and escaped not in _ALIKE:
                return None
            else:
                out += _EDGE if escaped == "b" else c + escaped
            i += 1
        elif c == "$" and not inside:
            out += r"\Z"
        else:
            inside = (inside or c == "[") and c != "]"
            out += c
        i += 1
    try:
        # The standard library's takes half the time, and does not know properties of characters.
        return re.compile(out)
    except re.error:
        other: re.Pattern[str] = regex.compile(out, regex.VERSION0)
        return other


@cache
def _template(by: str) -> str:
    return re.sub(r"\\(\d)", r"\\g<\1>", by)


_PROPERTY = re.compile(r"(\\[pP](?:\{\w+\}|[A-Z]))|\\.|(\[\^?|\])")
_IN_ASCII = {r"\pL": "A-Za-z", r"\p{L}": "A-Za-z", r"\p{Latin}": "A-Za-z", r"\p{Ll}": "a-z", r"\p{Lu}": "A-Z", r"\pN": "0-9"}
_IN_ASCII |= dict.fromkeys((r"\PL", r"\P{L}"), r"\x00-@\[-`{-\x7f")
_IN_ASCII |= dict.fromkeys((r"\p{Lm}", r"\p{Lo}", r"\p{Greek}", r"\p{Cyrillic}", r"\p{Armenian}", r"\p{Georgian}"), "")
"""What properties of characters are in ASCII."""


@cache
def _loose(pattern: str) -> str:
    """A pattern that finds the same in ASCII, and in other texts whatever the pattern finds, and more.

    A property of characters is several hundred ranges, and takes RE2 up to 50 ms to compile; whether a character is ASCII is one.
    A pattern with a property that is not known here is its own.
    """
    out, at, opened = "", 0, ""
    for found in _PROPERTY.finditer(pattern):
        out += pattern[at : found.start()]
        at = found.end()
        name, bracket = found.groups()
        if bracket:
            opened = "" if bracket == "]" else opened or bracket
        if name is None:
            out += found[0]
        elif name not in _IN_ASCII:
            return pattern
        else:
            some = _IN_ASCII[name] + ("" if opened == "[^" else r"\x{80}-\x{10FFFF}")
            out += some if opened else f"[{some}]"
    return pattern if "[^]" in out else out + pattern[at:]


def _not_ascii(text: pa.Array, found: pa.Array) -> pa.Array:
    """Which of the texts found have a character that is not ASCII."""
    return pc.fill_null(pc.and_(found, pc.invert(pc.string_is_ascii(text))), False)


def matches(text: pa.Array, pattern: str) -> pa.Array:
    """Whether a pattern is found in each text; null for null. The texts may be in chunks."""
    return matches_any(text, (pattern,))


def matches_any(text: pa.Array, patterns: Sequence[str]) -> pa.Array:
    """Whether one of the patterns is found in each text; null for null. Arrow finds many in one go, for a handful of texts they are quickest one by one."""
    if isinstance(text, pa.ChunkedArray):
        return pa.chunked_array(_of_each(lambda part: matches_any(part, patterns), text), pa.bool_())
    several = [one for pattern in patterns if (one := _kept(text, pattern))]
    if len(several) == len(patterns) and not _long(few := text.to_pylist()):
        return pa.array([None if x is None else any(one.search(x) for one in several) for x in few], pa.bool_())
    found = [_by_arrow(text, patterns[at : at + TOGETHER]) for at in range(0, len(patterns), TOGETHER)]
    return reduce(pc.or_, found)


def _by_arrow(text: pa.Array, patterns: Sequence[str]) -> pa.Array:
    """Whether Arrow finds one of the patterns in each text, all in one go."""
    loose = "|".join(_loose(pattern) for pattern in patterns)
    found = _in_parts(lambda part: pc.match_substring_regex(part, loose), text)
    if loose == (whole := "|".join(patterns)) or not pc.any(again := _not_ascii(text, found)).as_py():
        return found
    return pc.replace_with_mask(found, again, pc.match_substring_regex(text.filter(again), whole))


def _of_each(work: Callable[[pa.Array], pa.Array], text: pa.ChunkedArray) -> list[pa.Array]:
    """What is made of each chunk of a column, of a long one on all cores."""
    return list((map if len(text) < 2 * _PART else spread)(work, text.chunks))


def _in_parts(work: Callable[[pa.Array], pa.Array], text: pa.Array) -> pa.Array:
    """What Arrow makes of many texts, on all cores: it takes one for an array."""
    if len(text) < 2 * _PART or n_threads() == 1:
        return work(text)
    return pa.concat_arrays(list(spread(lambda start: work(text.slice(start, _PART)), range(0, len(text), _PART))))


def replaced(text: pa.Array, pattern: str, by: str) -> pa.Array:
    r"""Each text with whatever matches a pattern replaced; \1 in `by` stands for the first group."""
    if isinstance(text, pa.ChunkedArray):
        return pa.chunked_array(_of_each(lambda part: replaced(part, pattern, by), text), text.type)
    if (one := _kept(text, pattern)) and not _long(before := text.to_pylist()):
        template = _template(by)
        after = [None if x is None else one.sub(template, x) for x in before]
        return text if after == before else pa.array(after, text.type)
    if (loose := _loose(pattern)) == pattern:
        return _in_parts(lambda part: pc.replace_substring_regex(part, pattern, by), text)
    hit = pc.fill_null(_in_parts(lambda part: pc.match_substring_regex(part, loose), text), False)
    if not pc.any(hit).as_py():
        return text
    some = text.filter(hit)
    in_ascii = pc.all(pc.string_is_ascii(some)).as_py()
    return pc.replace_with_mask(text, hit, pc.replace_substring_regex(some, loose if in_ascii else pattern, by))


def captured(text: pa.Array, pattern: str) -> pa.Array:
    """The named groups of a pattern in each text, as a struct; null where it is not found, "" for a group that took no part."""
    if (one := _kept(text, pattern)) and not _long(few := text.to_pylist()):
        found = (None if x is None else one.search(x) for x in few)
        kind = pa.struct([(name, text.type) for name in one.loose.groupindex])
        return pa.array([None if m is None else {k: v or "" for k, v in m.groupdict().items()} for m in found], kind)
    loose = _loose(pattern)
    whole = loose != pattern and pc.any(_not_ascii(text, pc.match_substring_regex(text, loose))).as_py()
    return pc.extract_regex(text, pattern if whole else loose)
