"""vCards, versions 2.1, 3.0 and 4.0 (RFC 2426, RFC 6350), read as a list and written from one."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa

from brujula.errors import InputError
from brujula.intake import raw
from brujula.intake.encodings import text_of
from brujula.intake.raw import MOST_CELL, RawList, limit
from brujula.problems import Problem

_COLUMNS = (
    "uid prefix given_name middle_name family_name suffix full_name email phone mobile job_title account street city region "
    "postal_code country website birth_date tags notes updated_at"
).split()
_PLAIN = {
    "uid": "uid",
    "fn": "full_name",
    "title": "job_title",
    "url": "website",
    "note": "notes",
    "rev": "updated_at",
    "socialprofile": "profile",
    "x-socialprofile": "profile",
}


def read_cards(path: Path, data: bytes, encoding: str | None = None) -> RawList:
    """One row a card. A second mail or number of a kind has a column of its own; a card that cannot be read is rejected with its text.

    Raises InputError when there is no card.
    """
    text, taken = text_of(path, data, encoding)
    rows: list[dict[str, str]] = []
    problems, lines = [], []
    versions: set[str] = set()
    for line, card in _cards(text):
        row, version = _row(card)
        if not row:
            shown = limit(" ".join(card.split()))
            problems.append(Problem("bad-card", len(rows) + 1, value=shown, fatal=True, text=card[:MOST_CELL]))
        versions |= {version} if version else set()
        rows.append(row)
        lines.append(line)
    if not rows:
        raise InputError(f"{path}: no card in it; accepted: BEGIN:VCARD ... END:VCARD, version 2.1, 3.0 or 4.0")
    used = dict.fromkeys(n for row in rows for n in row)
    names = [n for n in _COLUMNS if n in used] + [n for n in used if n not in _COLUMNS]
    table = raw.text_table(names or ["full_name"], [[row.get(n, "") for n in names] for row in rows])
    note = f"vCard {', '.join(sorted(versions))}, {taken}"
    found = RawList(str(path), table, (note,), tuple(problems), np.array(lines, np.int64))
    return raw.wrong_characters(found, not taken.startswith("utf"))


def _cards(text: str) -> Iterator[tuple[int, str]]:
    """Line number and text of each card; one that is never closed ends where the next begins."""
    start = 0
    held: list[str] = []
    for number, line in enumerate(text.splitlines(), 1):
        word = line.strip().upper()
        if word == "BEGIN:VCARD":
            if held:
                yield start, "\n".join(held)
            start, held = number, [line]
        elif held:
            held.append(line)
            if word == "END:VCARD":
                yield start, "\n".join(held)
                held = []
    if held:
        yield start, "\n".join(held)


_LINE = re.compile(r"(?:[\w-]+\.)?[\w-]+(?:;[\w-]+(?:=(?:\"[^\"]*\"|[^\";:,]*)(?:,(?:\"[^\"]*\"|[^\";:,]*))*)?)*:", re.ASCII)


def _well_formed(card: str) -> bool:
    """Whether every line of the card is a property: checked in one pass, for the parser takes for ever over lines that are none."""
    whole: list[str] = []
    soft = False  # a quoted-printable line that goes on
    for line in card.splitlines():
        if whole and (soft or line[:1] in (" ", "\t")):
            whole[-1] += line
        else:
            whole.append(line)
        soft = line.endswith("=") and "QUOTED-PRINTABLE" in whole[-1].upper()
    return all(_LINE.match(line) for line in whole if line.strip())


def _row(card: str) -> tuple[dict[str, str], str]:
    """Column to text of one card, and its version; nothing when it cannot be read."""
    import vobject

    if not _well_formed(card):
        return {}, ""
    try:
        parsed = next(vobject.readComponents(card, allowQP=True))
        children = list(parsed.getChildren())
    # The parser's errors on damaged cards are of many classes, its own among them.
    except Exception:
        return {}, ""
    row: dict[str, str] = {}
    version = ""
    for child in children:
        name = child.name.lower()
        if name == "version":
            version = str(child.value)
            continue
        for column, value in _values(name, child):
            value = value.encode("utf-8", "replace").decode().strip()
            made, k = column, 2
            while made in row and row[made] != value:
                made, k = f"{column} {k}", k + 1
            if value:
                row[made] = value
    if row.pop("kind", "").lower() in ("org", "organization"):
        row["name"] = row.pop("account", "") or row.pop("full_name", "")
        row.pop("full_name", None)
    return row, version


def _values(name: str, child: Any) -> list[tuple[str, str]]:
    """Column and text of what one property says."""
    value = child.value
    types = {t.strip().lower() for given in child.params.get("TYPE", []) for t in str(given).split(",")}
    types |= {t.lower() for t in getattr(child, "singletonparams", ())}
    if name == "n":
        parts = {
            "family_name": "family",
            "given_name": "given",
            "middle_name": "additional",
            "prefix": "prefix",
            "suffix": "suffix",
        }
        return [(column, _flat(getattr(value, part, ""))) for column, part in parts.items()]
    if name == "adr":
        parts = {"street": "street", "city": "city", "region": "region", "postal_code": "code", "country": "country"}
        found = {column: _flat(getattr(value, part, "")) for column, part in parts.items()}
        more = [_flat(getattr(value, p, "")) for p in ("box", "extended")]
        found["street"] = ", ".join(p for p in (found["street"], *more) if p)
        return list(found.items())
    if name == "org":
        units = [str(v) for v in value] if isinstance(value, list) else [str(value)]
        return [("account", units[0]), *(("department", u) for u in units[1:2])]
    if name == "tel":
        number = re.sub(r"(?i)^tel:", "", _flat(value))
        return [("mobile" if "cell" in types else "fax" if "fax" in types else "phone", number)]
    if name == "email":
        return [("email", re.sub(r"(?i)^mailto:", "", _flat(value)))]
    if name == "bday":
        return [("birth_date", re.sub(r"^(\d{4})(\d\d)(\d\d)$", r"\1-\2-\3", _flat(value)))]
    if name == "categories":
        return [("tags", "; ".join(map(str, value)) if isinstance(value, list) else _flat(value))]
    return [(_PLAIN.get(name, name), _flat(value))]


def _flat(value: Any) -> str:
    return " ".join(_flat(v) for v in value if v) if isinstance(value, (list, tuple)) else "" if value is None else str(value)


def write_cards(table: pa.Table) -> str:
    """vCard 4.0 text of a table whose columns are fields; line ends and folding as RFC 6350 asks, a page on a network as RFC 9554 does."""
    return "".join(_card(row) for row in table.to_pylist())


def _card(row: Mapping[str, str]) -> str:
    def has(*fields: str) -> bool:
        return any(row.get(f) for f in fields)

    def parts(*fields: str) -> str:
        return ";".join(_escaped(row.get(f, "")) for f in fields)

    named = " ".join(row[f] for f in ("given_name", "middle_name", "family_name") if row.get(f))
    full = row.get("full_name") or named or row.get("name") or row.get("account") or row.get("email") or row.get("id", "")
    lines = ["BEGIN:VCARD", "VERSION:4.0", f"FN:{_escaped(full)}"]
    if has("id"):
        lines.append(f"UID:{_escaped(row['id'])}")
    if has("family_name", "given_name", "middle_name", "prefix", "suffix"):
        lines.append(f"N:{parts('family_name', 'given_name', 'middle_name', 'prefix', 'suffix')}")
    if has("name"):
        lines += ["KIND:org", f"ORG:{_escaped(row['name'])}"]
    if has("street", "city", "region", "postal_code", "country"):
        lines.append(f"ADR:;;{parts('street', 'city', 'region', 'postal_code', 'country')}")
    if has("tags"):
        lines.append("CATEGORIES:" + ",".join(_escaped(t.strip()) for t in re.split("[;,]", row["tags"]) if t.strip()))
    names = {
        "account": "ORG",
        "email": "EMAIL",
        "other_email": "EMAIL",
        "phone": "TEL;TYPE=voice",
        "mobile": "TEL;TYPE=cell",
        "job_title": "TITLE",
    }
    names |= {"website": "URL", "profile": "SOCIALPROFILE", "birth_date": "BDAY", "notes": "NOTE"}
    lines += [f"{name}:{_escaped(row[field])}" for field, name in names.items() if row.get(field)]
    return "".join(_folded(line) + "\r\n" for line in (*lines, "END:VCARD"))


def _escaped(text: str) -> str:
    text = text.replace("\\", "\\\\").replace(";", "\\;").replace(",", "\\,")
    return text.replace("\r\n", "\n").replace("\r", "\n").replace("\n", "\\n")


def _folded(line: str) -> str:
    """A line of at most 75 octets, the rest on lines that begin with a space."""
    out, size = [], 0
    for c in line:
        width = len(c.encode("utf-8", "replace"))
        if size + width > 75:
            out.append("\r\n ")
            size = 1
        out.append(c)
        size += width
    return "".join(out)
