"""Cells with a whole block in them, as it stands on a label or under a letter: name, firm, address, how to reach somebody."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.steps.one_cell import BREAK, STROKES
from brujula.core.steps.patterns import replaced
from brujula.intake.content import ENOUGH, NAMED, filled, names_in, with_words
from brujula.intake.damage import matches
from brujula.policy.entities import ENTITIES
from brujula.tables.places import places

_LINES, _COMMAS = rf"\s*(?:{BREAK})+\s*", r"\s*,\s*"
_PAIRS = (_LINES, r"\s*[(\[]\s*", r"\s*:\s*", *STROKES, r"\s+(?i:at|bei|chez|presso|@)\s+", _COMMAS)
_MOSTLY, _SOME, _HARDLY = 0.5, 0.25, 0.1  # shares of cells
_MANY = 3  # parts that a cell of a block has
ADDRESS, NAME, FIRM, TITLE, MAIL, PHONE, SITE = range(7)
_FIELDS = {
    "contact": {
        NAME: "full_name",
        FIRM: "account",
        TITLE: "job_title",
        MAIL: "email",
        PHONE: "phone",
        SITE: "website",
        ADDRESS: "street",
    },
    "account": {NAME: "name", MAIL: "email", PHONE: "phone", SITE: "website", ADDRESS: "street"},
}
_BETWEEN = {MAIL: "; ", PHONE: "; "}
"""Between several of a cell, as cells of one column give them."""
_REACHED = {
    MAIL: r"(?i)^(\W*e?-?mails?\W+)?[^\s@]+@[^\s@]+\.[^\s@]+$",
    PHONE: r"(?i)^(\W*(telefon|telefono|teléfono|telephone|tél|tel|phone|ph|mobile|mob|cell|fax|fon|t|m|p|f)\b\W*)?[+(]?\d([^\pL\d]{0,3}\d){6,14}(\s*(x|ext)\W*\d+)?$",
    SITE: r"(?i)^(\W*(web|website|www|internet)\W+)?(https?://|www\.)\S+$",
}
_CODE = r"^(\d{5}-\d{3,4}|\d{8})$"
"""Digits enough for a number, and yet a postal code."""
_OF_A_PLACE = r"^\d+\s?\w?,?\s+\pL|\pL\W+\d[\d\s-]*\w?$|@"
_MAY_BE = ("street", "city", "account")
"""What a column of blocks is taken for by its heading, besides a name."""
_ATTENTION = r"(?i)^\W*(attn|attention|att|fao|z\.? ?h(d|änden)|c/o)\b[\s.:]*"


class _Cells(NamedTuple):
    """The parts of the cells of a column: their text, and per part its cell and its place in it."""

    text: pa.Array
    cell: NDArray[np.int64]
    place: NDArray[np.int64]
    n_cells: int

    def at(self, place: int) -> pa.Array:
        """The parts that stand in one place of their cells."""
        return self.text.filter(pa.array(self.place == place))


def apart(
    table: pa.Table,
    values: dict[str, pa.ChunkedArray],
    fields: dict[str, str],
    entity: str,
    towns: pa.ChunkedArray | None = None,
    told: frozenset[str] = frozenset(),
) -> tuple[dict[str, pa.ChunkedArray], dict[str, str], list[str]]:
    """The values with the parts of a column of blocks in fields of their own; what is left of a block is its street.

    Where other columns are the name, a block is one that has it in front once more, in a list that has no other address.

    towns : those that the records name;  told : columns whose field a person has chosen
    """
    naming = ENTITIES[entity].naming
    for column in table.column_names:
        own = {f for f, c in fields.items() if c == column}
        named = any(f in naming and c != column for f, c in fields.items())
        again = named and own <= {"street"} and {"city", "postal_code"}.isdisjoint(fields)
        if column in told or (named and not again) or not own <= {*naming, *_MAY_BE}:
            continue
        cells = table.column(column).combine_chunks()
        sample = filled(cells)
        if between := _between(sample):
            parts = _cut(cells, between)
            what = _what(parts, entity, between != _COMMAS, towns)
            if again and not _names_again(parts.at(0), cells, values, entity):
                continue
        elif again:
            continue
        elif entity == "contact" and (pair := _pair(sample)):
            parts = _cut(cells, pair.between, 1)
            what = _one_of_two(parts, pair.firm_first)
        else:
            continue
        put = {
            f: v
            for f, v in _fields(parts, what, entity).items()
            if fields.get(f, column) == column and not (again and f in naming)
        }
        values = {f: v for f, v in values.items() if f not in own} | {f: pa.chunked_array([v]) for f, v in put.items()}
        fields = {f: c for f, c in fields.items() if f not in own} | dict.fromkeys(put, column)
        return values, fields, [f'column "{column}" taken apart into {", ".join(put)}']
    return values, fields, []


def _names_again(firsts: pa.Array, cells: pa.Array, values: dict[str, pa.ChunkedArray], entity: str) -> bool:
    """Whether the first parts of most cells are what the row is called elsewhere."""
    rows = pc.not_equal(pc.utf8_trim_whitespace(cells), "")
    own = {f: values[f].filter(rows).combine_chunks() for f in (*ENTITIES[entity].naming, "account") if f in values}
    if {"given_name", "family_name"} <= own.keys():
        own["full_name"] = pc.binary_join_element_wise(own["given_name"], own["family_name"], pa.scalar(" ", pa.large_string()))
    said = _letters(firsts)
    alike = (
        pc.mean(pc.equal(said, _letters(names)).cast(pa.float64())).as_py() for names in own.values() if len(names) == len(said)
    )
    return max((share or 0.0 for share in alike), default=0.0) >= _MOSTLY


def _letters(text: pa.Array) -> pa.Array:
    return pc.utf8_lower(replaced(text, r"[^\pL\d]+", ""))


class _Pair(NamedTuple):
    """Somebody and a firm in one cell: what is between them, and which is first."""

    between: str
    firm_first: bool


def _pair(text: pa.Array) -> _Pair | None:
    """How people and firms share a column's cells: Ada Quist (Harrow School), Harrow School: Ada Quist; None where they do not."""
    for between in _PAIRS if len(text) >= ENOUGH else ():
        if matches(text, rf"\S{between}\S").mean() < _SOME:
            continue
        parts = _cut(text, between, 1)
        both = np.isin(parts.cell, parts.cell[parts.place == 1])
        sides = [parts.text.filter(pa.array(both & (parts.place == place))) for place in (0, 1)]
        (firms, people), (firms_behind, people_behind) = (names_in(side) for side in sides)
        if firms_behind >= NAMED and people >= NAMED and firms < _HARDLY:
            return _Pair(between, False)
        if firms >= NAMED and people_behind >= NAMED and firms_behind < _HARDLY:
            return _Pair(between, True)
    return None


def _one_of_two(parts: _Cells, firm_first: bool) -> NDArray[np.int8]:
    """Which part is the name and which the firm; of a lone one a firm's word tells."""
    firm, named, _ = with_words(parts.text)
    lone = ~np.isin(parts.cell, parts.cell[parts.place == 1])
    return np.where(np.where(lone, firm & ~named, (parts.place == 0) == firm_first), FIRM, NAME).astype(np.int8)


def _between(text: pa.Array) -> str | None:
    """What is between the parts of a column's cells, None where they are no blocks: a name first, an address or a number behind."""
    if len(text) < ENOUGH:
        return None
    looks = {_LINES: BREAK, **{stroke: f"{stroke}.*{stroke}" for stroke in STROKES}, _COMMAS: r"^[^,]*\pL[^,]*,[^,]+,.*\d"}
    between = next((between for between, look in looks.items() if matches(text, look).mean() >= _MOSTLY), "")
    if not between:
        return None
    parts = _cut(text, between)
    firsts = parts.at(0)
    several = np.bincount(parts.cell, minlength=parts.n_cells)
    digits = matches(parts.text, _OF_A_PLACE)
    numbered = np.bincount(parts.cell[digits & (parts.place > 0)], minlength=parts.n_cells) > 0
    if numbered.mean() < _MOSTLY or matches(firsts, r"\d").mean() > _HARDLY:
        return None
    # Calle Mayor, 12, 28001 Orme begins with no name.
    if places().street(firsts).mean() > _SOME:
        return None
    # Orme, TX 75001 is no name and an address; Lindwerk, 12 Mill Street, Orme, TX is one.
    if max(names_in(firsts)) < NAMED and (several >= _MANY).mean() < _MOSTLY:
        return None
    return between


def _cut(cells: pa.Array, between: str, most: int | None = None) -> _Cells:
    """The cells cut, so many times at most; blank parts are none."""
    whole = pc.utf8_trim(pc.fill_null(cells.cast(pa.large_string()), ""), characters=" \t\r\n\xa0" + ")]" * (most is not None))
    cut = pc.split_pattern_regex(whole, between, max_splits=most)
    text = pc.utf8_trim(cut.flatten(), characters=" ,\t\xa0")
    cell = pc.list_parent_indices(cut).to_numpy()
    full = pc.not_equal(text, "")
    cell = cell[full.to_numpy(zero_copy_only=False)]
    place = np.arange(len(cell)) - np.searchsorted(cell, cell)
    return _Cells(text.filter(full), cell, place, len(cells))


def _what(parts: _Cells, entity: str, lines: bool, towns: pa.ChunkedArray | None) -> NDArray[np.int8]:
    """What each part is."""
    text, place = parts.text, parts.place
    what = np.full(len(text), ADDRESS, np.int8)
    for kind, pattern in _REACHED.items():
        what[matches(text, pattern)] = kind
    what[(what == PHONE) & matches(text, _CODE)] = ADDRESS
    open_ = what == ADDRESS
    known = places(None if towns is None else pc.unique(pc.drop_null(towns.cast(pa.large_string()))))
    digits, at_ends = matches(text, r"\d"), matches(text, r"^\W*\d|\d\w{0,3}$|,")
    behind = replaced(text, r"^.*,\s*", "")
    placed = known.country(text) | known.state(text) | known.region(behind) & matches(text, ",")
    placed |= known.town(text) if known.town else False
    firm, named, title = with_words(text)
    firm &= ~title
    street = known.street(text)
    # Studio 54 Band is a firm; 56 Market Way, San Antonio TX 78268 and Reed Lane are none.
    address = open_ & (place > 0) & ((digits & (at_ends | street | ~firm)) | placed | (street & ~firm))
    begun = _before(address, parts)
    leading = open_ & ~address & ~begun
    asked = leading & matches(text, _ATTENTION) & (place > 0)
    first = open_ & (place == 0) & ~matches(text, r"^\d")
    what[first] = NAME
    if entity == "account":
        return what
    second = leading & (place > 0) & ~asked
    next_numbered = np.append(matches(text, r"^\d")[1:] & (parts.cell[1:] == parts.cell[:-1]), False)
    what[second & title] = TITLE
    what[second & ~title & (lines | firm | next_numbered)] = FIRM
    # A firm first, and behind it somebody there: by a word of a firm's, or as most cells have it.
    person = (what == FIRM) & (place == 1) & ~firm
    called = first & ~named & np.isin(parts.cell, parts.cell[person & named])
    mostly = np.count_nonzero(called) > _MOSTLY * np.count_nonzero((place == 1) & ~asked)
    turned = np.isin(parts.cell, parts.cell[person]) & np.isin(parts.cell, parts.cell[first & (firm | (called & mostly))])
    turned |= np.isin(parts.cell, parts.cell[asked])
    what[asked | (person & turned)] = NAME
    what[first & turned] = FIRM
    # A department behind the firm's name is a line of the address.
    what[(what == FIRM) & _before(what == FIRM, parts)] = ADDRESS
    return what


def _before(flags: NDArray[np.bool_], parts: _Cells) -> NDArray[np.bool_]:
    """Whether a part before this one in its cell has the flag."""
    seen: NDArray[np.int64] = np.cumsum(flags) - flags
    return np.asarray(seen > seen[np.arange(len(seen)) - parts.place])


def _fields(parts: _Cells, what: NDArray[np.int8], entity: str) -> dict[str, pa.Array]:
    """The parts of each kind by field, several of a cell in one; all of the address is the street."""
    out = {field: _together(parts, what == kind, _BETWEEN.get(kind, ", ")) for kind, field in _FIELDS[entity].items()}
    for field in ENTITIES[entity].naming:
        if field in out:
            out[field] = replaced(out[field], _ATTENTION, "")
    return {field: v for field, v in out.items() if pc.any(pc.not_equal(v, "")).as_py()}


def _together(parts: _Cells, chosen: NDArray[np.bool_], between: str) -> pa.Array:
    """The chosen parts of each cell in one text."""
    off = np.append(0, np.cumsum(np.bincount(parts.cell[chosen], minlength=parts.n_cells)))
    lists = pa.LargeListArray.from_arrays(pa.array(off), parts.text.filter(pa.array(chosen)))
    return pc.binary_join(lists, pa.scalar(between, pa.large_string()))
