"""Rows of a list that are no records: totals, lines under it, the headings once more. Each is named as such, and kept with what cannot be used."""

from __future__ import annotations

import re
from dataclasses import replace

import numpy as np
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
_AT_THE_END = 12  # rows
_ENOUGH = 2


def told(raw: RawList) -> RawList:
    """The list with each row that is no record named as such."""
    unread = {p.row for p in raw.problems if p.fatal}
    found = [p for p in (*_totals(raw), *_under_it(raw), *_headings_again(raw)) if p.row not in unread]
    first = {p.row: p for p in reversed(found)}
    return replace(raw, problems=(*raw.problems, *(first[row] for row in sorted(first)))) if first else raw


def _last_rows(raw: RawList, n: int) -> list[list[str]]:
    rows = raw.table.slice(max(raw.table.num_rows - n, 0)).to_pydict()
    return [[str(v or "").strip() for v in cells] for cells in zip(*rows.values(), strict=True)]


def _totals(raw: RawList) -> list[Problem]:
    """A last row of sums, or the last before what stands under the list."""
    for back, cells in enumerate(reversed(_last_rows(raw, _AT_THE_END))):
        filled = [c for c in cells if c]
        word = next((c for c in filled if _TOTAL.match(c)), None)
        if word is not None and len(filled) <= max(2, len(cells) // 2 + 1) and all(_NUMBER.match(c) for c in filled if c != word):
            row = raw.table.num_rows - back
            return [Problem("totals-row", row, raw.table.column_names[cells.index(word)], word, fatal=True)] if row > 1 else []
        if not _is_foot(cells):
            break
    return []


def _under_it(raw: RawList) -> list[Problem]:
    """Rows at the end of which one cell is filled, with words that say where the list comes from."""
    found = []
    for back, cells in enumerate(reversed(_last_rows(raw, _AT_THE_END))):
        total = sum(map(bool, cells)) <= _ENOUGH and any(map(_TOTAL.match, cells))
        if raw.table.num_columns < _ENOUGH or not (_is_foot(cells) or total):
            break
        if not total:
            at = next(i for i, cell in enumerate(cells) if cell)
            found.append(
                Problem("foot-line", raw.table.num_rows - back, raw.table.column_names[at], limit(cells[at]), fatal=True)
            )
    return found


def _is_foot(cells: list[str]) -> bool:
    filled = [c for c in cells if c]
    return len(filled) == 1 and bool(_FOOT.match(filled[0]) and _SAID.search(filled[0]))


def _headings_again(raw: RawList) -> list[Problem]:
    """Rows whose cells are the headings, as pages put together have them."""
    names = raw.table.column_names
    if len(names) < _ENOUGH or raw.table.num_rows == 0:
        return []
    first = trimmed(raw.table.column(0), lower=False)
    found = []
    for row in np.flatnonzero(pc.equal(first, names[0].strip()).to_numpy(zero_copy_only=False)).tolist():
        cells = {n: str(raw.table.column(n)[row].as_py() or "").strip() for n in names}
        again = [cell == name.strip() for name, cell in cells.items() if cell]
        if len(again) >= _ENOUGH and all(again):
            found.append(Problem("headings-again", row + 1, names[0], cells[names[0]], fatal=True))
    return found
