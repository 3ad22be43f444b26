"""Which encoding a text is in that is not UTF-8.

Text in other letters than Latin is told by charset-normalizer. Names in Latin letters are too short for it: it takes French for Polish. They are told
by how often languages use the letters that ASCII lacks, one language at a time, as a naive Bayes classifier does.
"""

from __future__ import annotations

import codecs
import re
from functools import cache
from math import log
from pathlib import Path

from brujula.errors import InputError

_WESTERN, _CENTRAL = ("cp1252", "mac_roman", "cp850"), ("cp1250", "iso8859_2", "cp852", "mac_latin2")
_LANGUAGES = {
    "é55 è12 à12 ç5 ê4 ô3 â2 î2 ï2 ë2 û1 ù1 œ1": _WESTERN,  # French
    "á22 í22 é20 ó20 ñ9 ú5 ü1": _WESTERN,  # Spanish
    "ã22 ç18 á14 é14 ó8 í8 ê5 õ4 â4 ú2 ô2 à1": _WESTERN,  # Portuguese
    "à30 è25 ò15 ù12 ì10 é8": _WESTERN,  # Italian
    "à25 é15 è15 ò15 í10 ó8 ç7 ú5": _WESTERN,  # Catalan
    "ü38 ö24 ä22 ß16": _WESTERN,  # German
    "ë45 é25 ï15 ö5 è5 ü3": _WESTERN,  # Dutch
    "ö38 ä32 å25 é5": _WESTERN,  # Swedish
    "ä80 ö18 å2": _WESTERN,  # Finnish
    "ø42 å32 æ24 é2": _WESTERN,  # Danish, Norwegian
    "í15 á15 ð15 ö12 ó10 þ6 æ5 é5 ú5 ý4": _WESTERN,  # Icelandic
    "ł24 ó14 ż12 ś11 ą10 ń10 ę9 ć6 ź2": _CENTRAL,  # Polish
    "í17 á16 č10 ř9 š9 ý9 é8 ě8 ž8 ů3 ú1 ó1 ň1 ť1 ď1": _CENTRAL,  # Czech
    "á22 í12 č12 š9 ž9 é8 ý8 ú6 ľ5 ť3 ň2 ô2 ó2 ä1 ď1": _CENTRAL,  # Slovak
    "á34 é28 ó10 ö8 ő6 í5 ü4 ú3 ű2": _CENTRAL,  # Hungarian
    "ă30 ş18 ţ16 â14 î10 á4 é4": _CENTRAL,  # Romanian
    "ć28 č25 š22 ž18 đ7": _CENTRAL,  # Croatian, Serbian, Slovene
    "ı22 ü20 ş16 ö12 ç12 ğ12 İ6": ("cp1254", "cp857"),  # Turkish
    "ė20 š18 ž14 ų12 ū10 č10 į8 ą6 ę2": ("cp1257",),  # Lithuanian
    "ā28 ī16 ē14 š12 ņ8 ļ6 ū6 ž5 č3 ķ3 ģ2": ("cp1257",),  # Latvian
    "ä30 õ25 ü25 ö15 š3 ž2": ("cp1257", "cp1252"),  # Estonian
}
"""Of the letters of names and places beyond ASCII, how many of a hundred are which, by language, and what its lists are written in."""
_USUAL = "cp1252"
_DOUBT = {"latin-1": 1.0, "cp1250": 5.0, "cp1254": 5.0, "cp1257": 7.0, "iso8859_2": 6.0, "mac_roman": 6.0, "cp850": 6.0}
"""Nats by which another encoding must speak louder than the usual one; 8 where it stands not here."""
_OTHER, _SIGN, _NONE, _WITHIN = log(1e-3), log(0.05), log(1e-5), log(0.02)
"""A letter the language has not, a sign any may have, a sign within a word, a letter behind a digit or a capital behind a small letter."""
_SIGNS = "’‘“”„‚–—…•·‹›«»´¨¯¸€£¥¢¤™®©§¶†‡‰°ºª¹²³¼½¾±×÷¬µ¿¡\xa0"
_JOINING = "’‘´·–—…"  # may stand between two letters
_BEYOND = re.compile(rb"[\x80-\xff]")
_WORD = rb"[^\s,;|\"]*[\x80-\xff][^\s,;|\"]*"
_ENOUGH = 60_000  # bytes
_FEW = 10  # bytes
_MIXED = 0.9  # of lines that are not ASCII, as many that are not UTF-8 are all of them: the others are by chance
_FOREIGN = 0.1  # letters of another language's names


def marked(head: bytes) -> str:
    """The encoding a byte order mark, or the NULs of plain letters, tell; utf-8 for want of any."""
    if head.startswith((b"\xff\xfe", b"\xfe\xff")):
        return "utf-16"
    part = head[:2_000]
    even, odd = part[0::2].count(0), part[1::2].count(0)
    if odd > len(part) // 4 and even < odd // 8:
        return "utf-16-le"
    if even > len(part) // 4 and odd < even // 8:
        return "utf-16-be"
    return "utf-8"


def text_of(path: Path, data: bytes, encoding: str | None) -> tuple[str, str]:
    """A text whole, and the encoding taken, in words. encoding : as the policy says; None = to be found out.

    Raises InputError for a text that is in another encoding than the policy or its first bytes say.
    """
    found = encoding or marked(data)
    if encoding or found != "utf-8":
        return decoded(path, data, found, bool(encoding)), found
    try:
        return data.decode("utf-8-sig"), found
    except UnicodeDecodeError:
        return guessed(data)


def decoded(path: Path, data: bytes, encoding: str, told: bool) -> str:
    """A text in a named encoding, without its mark. told : the policy names it.

    Raises InputError for an encoding there is none of, and for bytes that are not in it.
    """
    try:
        return data.decode(encoding).lstrip("\ufeff")
    except LookupError:
        raise InputError(
            f'{path}: list.encoding: no encoding "{encoding}"; accepted: utf-8, utf-16, cp1252, latin-1, ...'
        ) from None
    except UnicodeError as error:
        what = f"cannot be read as {encoding}, as the policy says" if told else f"begins as {encoding} but is damaged"
        raise InputError(f"{path}: {what}: {error}") from None


def guessed(data: bytes) -> tuple[str, str]:
    """A text that is not UTF-8, and what it was taken for, in words."""
    lost = data.decode("utf-8", "replace")
    bad = lost.count("\ufffd")
    if bad <= max(1, len(data) // 100_000) and not lost.replace("\ufffd", "").isascii():
        # Here and there a byte among much that is UTF-8: a damaged file, not another encoding.
        return lost, f"utf-8 with {bad} damaged byte{'s' * (bad > 1)}"
    found = _lines(data)
    odd = [line for line in found if not _is_unicode(line)]
    mixed = len(odd) < _MIXED * len(found)
    lines = b"".join(odd)
    words = b"\n".join(dict.fromkeys(re.findall(_WORD, lines)))
    for tell in (_of_other_letters, _of_latin_letters):
        if not (encoding := tell(lines, words)):
            continue
        try:
            text = _line_by_line(data, encoding) if mixed else data.decode(encoding)
        except UnicodeDecodeError:
            continue
        named = f"utf-8 and {_named(encoding)}, line by line" if mixed else _named(encoding)
        overruled = "" if encoding == _USUAL else "; told by its letters; list.encoding in a policy overrules that"
        return text, f"{named} ({'some lines are' if mixed else 'it is'} not UTF-8{overruled})"
    return data.decode("latin-1"), "latin-1 (it is neither UTF-8 nor windows-1252)"


def _is_unicode(line: bytes) -> bool:
    try:
        line.decode()
    except UnicodeDecodeError:
        return False
    return True


def _line_by_line(data: bytes, encoding: str) -> str:
    """A text put together from others: each line as UTF-8 where it is, else in the other encoding."""
    return "\n".join(line.decode("utf-8" if _is_unicode(line) else encoding) for line in data.split(b"\n"))


def _named(encoding: str) -> str:
    return encoding.replace("cp125", "windows-125") if encoding.startswith("cp125") else codecs.lookup(encoding).name


def _of_other_letters(lines: bytes, words: bytes) -> str:
    """The encoding of a text most letters of which, but for ASCII, are not Latin; "" for another."""
    from charset_normalizer import from_bytes

    if sum(b >= 128 for b in words) <= max(len(words) / 2, _FEW):
        return ""  # a letter with a mark here and there, or too little to tell
    found = from_bytes(lines, cp_isolation=[*_SCRIPTS, _USUAL, "cp1250"]).best()
    if found is not None and found.encoding == "cp932" and 2 * len(_KATAKANA.findall(str(found))) > len(words):
        # Half-wide Katakana and no more: capitals of Greek and Russian are these bytes.
        found = from_bytes(lines, cp_isolation=[name for name in _SCRIPTS if name != "cp932"]).best()
    if found is None:
        return ""
    letters = [c for c in str(found) if not c.isascii() and c.isalpha()]
    if sum(c >= "\u0370" for c in letters) <= len(letters) / 2:
        return ""
    return max(_RIVALS.get(found.encoding, (found.encoding,)), key=lambda name: _of_one_script(lines.decode(name, "ignore")))


_SCRIPTS = "cp1251 koi8_r cp866 mac_cyrillic cp1253 iso8859_7 cp1255 cp1256 cp874 cp932 euc_jp gb18030 big5 cp949".split()
_KATAKANA = re.compile("[\uff61-\uff9f]")
_RIVALS = {"cp949": ("cp949", "gb18030")}
_RIVALS |= {"cp1253": ("cp1253", "iso8859_7"), "iso8859_7": ("iso8859_7", "cp1253")}
_RIVALS |= {"cp1251": ("cp1251", "mac_cyrillic"), "mac_cyrillic": ("mac_cyrillic", "cp1251")}
"""What is taken for one another: Chinese is half Korean syllables then, Greek capitals that bear an accent and Russian ones are signs."""


def _of_one_script(text: str) -> int:
    letters = [c for c in text if not c.isascii() and c.isalpha()]
    korean = sum("\uac00" <= c <= "\ud7a3" for c in letters)
    return max(korean, len(letters) - korean)


def _of_latin_letters(_: bytes, words: bytes) -> str:
    """The encoding in which the letters beyond ASCII are most like some language's; "" for none."""
    scores = {"": max(_likeness(words.decode("latin-1"), shares) for shares in _shares(_USUAL)) - _DOUBT["latin-1"]}
    for encoding in dict.fromkeys(name for names in _LANGUAGES.values() for name in names):
        try:
            text = words.decode(encoding)
        except UnicodeDecodeError:
            continue
        doubt = 0.0 if encoding == _USUAL else _DOUBT.get(encoding, 8.0)
        scores[encoding] = max(_likeness(text, shares) for shares in _shares(encoding)) - doubt
    return max(scores, key=lambda name: scores[name])


def _lines(data: bytes) -> list[bytes]:
    """The first lines that are not ASCII, until there are enough."""
    found: list[bytes] = []
    size, at = 0, 0
    while size < _ENOUGH and (hit := _BEYOND.search(data, at)):
        start, at = data.rfind(b"\n", at, hit.start()) + 1 or at, data.find(b"\n", hit.start()) + 1 or len(data)
        found.append(data[start:at][:_ENOUGH])
        size += at - start
    return found


@cache
def _shares(encoding: str) -> list[dict[str, float]]:
    """Logarithms of the shares of letters, for each language written so with some names of the others, and for all of them together."""
    alone = [{x[0]: float(x[1:]) / 100 for x in told.split()} for told, names in _LANGUAGES.items() if encoding in names]
    letters = {c for shares in alone for c in shares}
    several = {c: sum(shares.get(c, 0.0) for shares in alone) / len(alone) for c in letters}
    mixed = [{c: several[c] * _FOREIGN + shares.get(c, 0.0) * (1 - _FOREIGN) for c in letters} for shares in alone]
    return [{c: log(share) for c, share in shares.items()} for shares in (*mixed, several)]


def _likeness(text: str, shares: dict[str, float]) -> float:
    """Logarithm of the likelihood of the characters beyond ASCII."""
    total = 0.0
    for before, c, after in zip("\n" + text, text, text[1:] + "\n", strict=False):
        if c.isascii():
            continue
        if c in "ºª" and not before.isalpha():
            total += _SIGN  # 3º B
        elif c.isalpha():
            small, odd = c.lower() if len(c.lower()) == 1 else c, before.isdigit() or (c.isupper() and before.islower())
            total += shares.get(small, _OTHER) + (_WITHIN if odd else 0.0)
        else:
            total += _SIGN if c in _SIGNS and (c in _JOINING or not (before.isalpha() and after.isalpha())) else _NONE
    return total
