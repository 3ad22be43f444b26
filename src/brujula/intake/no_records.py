"""Rows of a list that are no records: totals, lines under it, the headings once more, what a form's columns are to hold. Each is named as such, and kept with what cannot be used."""

from __future__ import annotations

import re
from dataclasses import replace

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from brujula.intake.raw import RawList, limit, trimmed
from brujula.problems import Problem

_TOTAL = re.compile(r"(?i)(grand |sub)?(totals?|summe|gesamt(summe)?|sum|suma|totale|totaal|razem|somme)\s*(:\s*\d*)?$")
_NUMBER = re.compile(r"[-+\d.,\s%$€£]*$")
_FOOT = re.compile(
    r"""(?i)\W*(exported|generated|printed|produced|downloaded|prepared|report(ed)?|confidential|page|source|notes?|nb|records?|rows?|end\ of|copyright|©|as\ of
    |exportiert|erstellt|gedruckt|bericht|vertraulich|seite|quelle|hinweis|stand|ende|export[ée]|imprim[ée]|g[ée]n[ée]r[ée]|rapport|confidentiel|remarque|fin|exportado
    |generado|impreso|informe|confidencial|p[áa]gina|fuente|nota|esportato|stampato|pagina|fonte|wygenerowano|strona|[źz]r[óo]d[łl]o)\b|\W*\d[\d,.]*\ (rows?|records?|zeilen|lignes|filas|righe)\b""",
    re.VERBOSE,
)
"""How a line under a list begins that says where it comes from; and Page, Robert."""
_SAID = re.compile(r"[\d:©]|(?:\s[a-z]+\b.*){2}|^\W*(?i:confidential|vertraulich|confidentiel|confidencial)\W*$")
_ENTERED = re.compile(
    r"""(?ix)\W*(?:required|optional|mandatory|recommended|if\ (?:known|any|applicable|available)|(?:free\ )?text|string|number|numeric|integer|date|boolean|e-?mail|phone|url
    |(?:var)?char\s*\(\d+\)|(?:max(?:imum|imal)?\.?\s*(?:of\s*)?)?\d+\s*(?:characters|chars|letters|digits|zeichen|caract[eè]res|znak[óo]w)(?:\ max\.?)?|max\.?\s*\d+
    |pflicht(?:feld|angabe)?|freiwillig|wahlweise|zahl|datum|obligatoire|facultatif|texte|nombre|obligatorio|opcional|requerido|texto|n[úu]mero|fecha|obbligatorio|facoltativo
    |testo|obrigat[óo]rio|verplicht|optioneel|tekst|wymagane|opcjonalne|liczba)\W*"""
)
"""What a form to fill in says below a heading: required, max. 40 characters, varchar(20)."""
_EXAMPLE = re.compile(r"[\d@]")
CODES = ("totals-row", "foot-line", "headings-again", "what-to-enter")
_AT_THE_TOP = 2  # rows
_AT_THE_END = 12  # rows
_ENOUGH = 2


def told(raw: RawList) -> RawList:
    """The list with each row that is no record named as such."""
    unread = {p.row for p in raw.problems if p.fatal}
    found = [p for p in (*_to_enter(raw), *_headings_again(raw), *reversed(_at_the_end(raw))) if p.row not in unread]
    return replace(raw, problems=(*raw.problems, *found)) if found else raw


def _to_enter(raw: RawList) -> list[Problem]:
    """The first rows as long as they say what the columns are to hold, with a mail address or a number for an example at most."""
    names, found = raw.table.column_names, list[Problem]()
    for row, cells in enumerate(zip(*raw.table.slice(0, _AT_THE_TOP).to_pydict().values(), strict=True), 1):
        filled = [(name, str(cell).strip()) for name, cell in zip(names, cells, strict=True) if str(cell or "").strip()]
        said = [(name, cell) for name, cell in filled if _ENTERED.fullmatch(cell)]
        if len(said) < _ENOUGH or not all(_ENTERED.fullmatch(cell) or _EXAMPLE.search(cell) for _, cell in filled):
            break
        found.append(Problem("what-to-enter", row, *said[0], fatal=True))
    return found


def _at_the_end(raw: RawList) -> list[Problem]:
    """The last rows as long as they are sums, or say where the list comes from; the last first. A list has one row at least."""
    names, n = raw.table.column_names, raw.table.num_rows
    held = raw.table.slice(max(n - _AT_THE_END, 1)).to_pydict()
    rows = [[str(v or "").strip() for v in cells] for cells in zip(*held.values(), strict=True)]
    found = []
    for back, cells in enumerate(reversed(rows)):
        word = _total(cells)
        if not word and not (len(names) >= _ENOUGH and _is_foot(cells)):
            break
        word = word or next(filter(None, cells))
        code = "totals-row" if _total(cells) else "foot-line"
        found.append(Problem(code, n - back, names[cells.index(word)], limit(word), fatal=True))
    return found


def _total(cells: list[str]) -> str:
    """The word for a sum in a row that holds hardly more than numbers beside it, "" = it is none."""
    filled = [c for c in cells if c]
    word = next((c for c in filled if _TOTAL.match(c)), "")
    return word if len(filled) <= max(2, len(cells) // 2 + 1) and all(_NUMBER.match(c) for c in filled if c != word) else ""


def _is_foot(cells: list[str]) -> bool:
    filled = [c for c in cells if c]
    return len(filled) == 1 and bool(_FOOT.match(filled[0]) and _SAID.search(filled[0]))


def _headings_again(raw: RawList) -> list[Problem]:
    """Rows whose cells are the headings, as pages put together have them."""
    names = raw.table.column_names
    if len(names) < _ENOUGH or raw.table.num_rows == 0:
        return []
    at = np.flatnonzero(pc.equal(trimmed(raw.table.column(0), lower=False), names[0].strip()).to_numpy(zero_copy_only=False))
    again, more = np.zeros(len(at), np.int64), np.zeros(len(at), bool)
    for name in names if len(at) else []:
        cells = trimmed(raw.table.column(name).take(pa.array(at)), lower=False)
        is_heading, is_filled = (
            x.to_numpy(zero_copy_only=False).astype(bool) for x in (pc.equal(cells, name.strip()), pc.not_equal(cells, ""))
        )
        again += is_heading
        more |= is_filled & ~is_heading
    rows = at[(again >= _ENOUGH) & ~more].tolist()
    return [Problem("headings-again", row + 1, names[0], names[0].strip(), fatal=True) for row in rows]
