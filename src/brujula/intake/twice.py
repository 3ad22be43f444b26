"""Text that was encoded twice: UTF-8 taken for windows-1252 and written as UTF-8 again, GarcÃ­a for García."""

from __future__ import annotations

import re

_SIGNS = "€‚ƒ„…†‡ˆ‰Š‹ŒŽ‘’“”•–—˜™š›œžŸ"
"""What windows-1252 has where Latin-1 has control codes."""
_BYTES = {char: char.encode("cp1252") for char in _SIGNS} | {chr(c): bytes([c]) for c in range(0x80, 0x100)}
_RUN = re.compile(f"[\x80-\xff{_SIGNS}]{{2,}}")
_FIRST = r"[\x{C2}-\x{D1}\x{D7}-\x{DB}\x{E1}-\x{EF}]"
FOUND = rf"{_FIRST}[\x{{80}}-\x{{9F}}\x{{A1}}-\x{{AA}}\x{{AC}}-\x{{BA}}\x{{BC}}-\x{{BF}}€‚ƒ„†‡ˆ‰‹˜™›]|(?:^|[^\p{{Lu}}]){_FIRST}\x{{A0}}"
"""A letter that begins a character in UTF-8, and a sign that goes on with one and stands behind no letter otherwise.

(Quotation marks, dashes and letters do: CAFÉ’S, «CAFÉ», Groß–Gerau. So does a space that breaks no line, behind capitals: IRMÃ ROSA.)
"""
_PLAUSIBLE = re.compile(
    "[\xa0-\u01df\u01e1-\u021f\u0221-\u024f\u0370-\u052f\u05d0-\u06ff\u0900-\u0dff\u0e00-\u0eff\u1e00-\u206f\u20ac\u2122\u3000-\u9fff\uac00-\ud7af\uff00-\uffef]+"
)
"""Letters of living alphabets, but the two that Ç or È and a space that breaks no line would be: È un caffè."""


def once(text: str) -> str:
    """The text as it was before it was encoded a second time, or a third; what cannot be that stays."""
    return _RUN.sub(_as_it_was, text)


def _as_it_was(run: re.Match[str]) -> str:
    text = found = run[0]
    if text[1:] == "\xa0" and run.string[max(run.start() - 1, 0) : run.start()].isupper():
        return text
    for _ in range(2):
        try:
            text = b"".join(_BYTES[char] for char in text).decode()
        except (KeyError, UnicodeDecodeError):
            break
        if _PLAUSIBLE.fullmatch(text):
            found = text
    return found
