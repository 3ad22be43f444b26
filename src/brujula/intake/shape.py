"""From a list as it was read to values by field: mapped, split, combined, filled in, mended; the list itself stays as it is."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import reduce

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.steps.one_cell import CODE
from brujula.errors import PolicyError
from brujula.fields.postal_address import country_codes
from brujula.intake import (
    address_cells,
    addresses,
    areas,
    bands,
    blocks,
    case,
    consents,
    damage,
    dates,
    given_once,
    mapping,
    named_parts,
    numbered,
    people,
    reached,
    several,
    streets,
    surnames,
)
from brujula.intake.address_cells import FITS
from brujula.intake.content import is_code
from brujula.intake.headings import numbers_records
from brujula.intake.meanings import meanings
from brujula.intake.raw import RawList
from brujula.policy.entities import ENTITIES, kind_of
from brujula.policy.model import Policy
from brujula.problems import Problem

_OTHERS = {"phone": "mobile", "mobile": "phone", "email": "other_email"}
"""Where the second number or address of a cell goes."""
_MANY = ("notes", "tags")  # fields that several columns may go to
_CODE = rf"\d{{4}}|{CODE}"
_AUTO = {
    "city": (
        (),
        (
            r"^(?P<city>[^,\d]+?),?\s+(?P<region>[A-Z]{2})\.?,?\s+(?P<postal_code>\d{5}(?:-\d{4})?)$",
            r"^(?P<postal_code>\d{4}\s?[A-Z]{2}|\d{4}-\d{3}|(?:[A-Z]{1,2}-)?\d{4,5}|\d{8}|\d{2}-\d{3}|\d{5}-\d{3}|\d{3} \d{2})\s+(?P<city>[^,\d]+)$",
            r"^(?P<postal_code>[A-Z]{1,2}\d[A-Z\d]? \d[A-Z]{2}|[A-Z]\d[A-Z] \d[A-Z]\d)\s+(?P<city>[^,\d]+)$",
            rf"^(?P<city>[^,\d]+?),\s*(?P<region>[^,\d]+?),?\s+(?P<postal_code>{_CODE})$",
            rf"^(?P<city>[^,\d]+?),?\s+(?P<postal_code>{_CODE})$",
            r"^(?P<city>[^,/\d]+?)\s*(?:,|/|\s[-–])\s*(?P<region>[A-Z]{2,3})$",
            r"^(?P<city>[^,(\d]+?)\s*\((?P<region>[A-Z]{2})\)$",
        ),
    ),
    "full_name": (("email",), (r"^\"?(?P<full_name>[^<\"]*?)\"?\s*<\s*(?P<email>[^<>@\s]+@[^<>\s]+)\s*>$",)),
    "job_title": (("account",), (r"(?i)^(?P<job_title>[^@,;|]+?)\s+(?:at|@|bei|chez|presso|bij)\s+(?P<account>[^@]+)$",)),
    "email": (
        ("full_name", "given_name", "family_name"),
        (r"^\"?(?P<full_name>[^<\"]+?)\"?\s*<\s*(?P<email>[^<>@\s]+@[^<>\s]+)\s*>$",),
    ),
}
"""Field to: fields that must not be mapped, and the patterns by which its cells fall into several fields, the first that fits."""


_Values = dict[str, pa.ChunkedArray]
_Fields = dict[str, str]
_Reader = Callable[[pa.Table, _Values, _Fields, list[str]], tuple[_Values, _Fields, list[str]]]


@dataclass(frozen=True)
class Shaped:
    """A list's values by field.

    raw      : the list, its cells verbatim; a row that holds several people stands once for each
    values   : field to its text, one per row of `raw`
    columns  : field to where its values come from, for people to read
    left_out : columns no field was found for
    row, person : int64[rows], data row (from 1) and place in it of each row, where rows hold several people; else None
    set_aside : columns that are not used though a field was found for them, each with why
    """

    raw: RawList
    values: dict[str, pa.ChunkedArray]
    columns: dict[str, str]
    left_out: tuple[str, ...] = ()
    row: NDArray[np.int64] | None = None
    person: NDArray[np.int64] | None = None
    set_aside: tuple[str, ...] = ()


def compared_as(side: Shaped, columns: Sequence[str], what: str) -> Shaped:
    """The list without columns that no field takes and that are compared all the same, each with a note. what : as what"""
    notes = (*side.raw.notes, *(f'column "{c}" is no field, and is compared as {what}' for c in columns))
    left_out = tuple(c for c in side.left_out if c not in columns)
    return replace(side, raw=replace(side.raw, notes=notes), left_out=left_out)


def no_list() -> Shaped:
    """A list of no rows, where there is none."""
    return Shaped(RawList("no list", pa.table({})), {}, {})


def as_it_is(raw: RawList, entity: str, apart: bool = False) -> Shaped:
    """Existing records: mapped by their headings, nothing touched but what says who agreed. apart : a list's, not a store's: cells that hold several fields are taken apart, and a plain number may be the id"""
    known = set(ENTITIES[entity].fields)
    suggested = [] if not apart and known.issuperset(raw.table.column_names) else mapping.suggest(raw.table, entity)
    told = {} if suggested else {c: c for c in raw.table.column_names}
    fields = mapping.apply_mapping(raw.table, suggested, told, raw.name)
    if suggested and "id" not in fields and (own := _own_number(raw.table, fields, entity, apart)):
        fields["id"] = own
    values = {f: raw.table.column(c) for f, c in fields.items()}
    if apart:
        values, fields, _ = blocks.apart(raw.table, values, fields, entity)
        values, freed = numbered.apart(values, fields)
        values, fields, notes = _taken_apart(raw.table, values, fields, entity)
        free = [c for c in raw.table.column_names if c not in _columns_of(fields)]
        notes = freed + notes
        for read, _ in _joined(entity):
            values, fields, more = read(raw.table, values, fields, free)
            notes += more
        values, fields, more = addresses.joined(raw.table, values, fields, free, entity)
        raw = replace(raw, notes=(*raw.notes, *notes, *more))
    if suggested and entity == "contact":
        used = {c for said in fields.values() for c in said.split(" + ")}
        values, fields, agreed = consents.joined(raw.table, values, fields, [c for c in raw.table.column_names if c not in used])
        raw = replace(raw, notes=(*raw.notes, *agreed))
    taken = _columns_of(fields)
    return Shaped(raw, values, fields, tuple(c for c in raw.table.column_names if c not in taken))


def shape(raw: RawList, policy: Policy, entity: str, held: Shaped | None = None) -> Shaped:
    """An incoming list under a policy. Raises PolicyError where the policy names a column the list lacks, or a field twice.

    held : the existing records
    """
    known = held.values if held else {}
    raw = bands.apart(raw) if entity == "contact" else raw
    table, row, person = raw.table, None, None
    places = people.of_people(table.column_names) if entity == "contact" and policy.list.people else None
    if places:
        whole, table, origin, person = people.spread_people(table, places)
        # What a policy says of one person's column holds for the plain heading.
        told = {c: h for slot in places.slots for h, c in slot.items()}
        policy = policy.model_copy(update={"columns": {told.get(c, c): f for c, f in policy.columns.items()}})
        lines = None if raw.lines is None else raw.lines[origin]
        moved = tuple(replace(p, row=int(r) + 1) for p in raw.problems for r in np.flatnonzero(origin == p.row - 1))
        note = f"{len(places.slots)} people to a row: {raw.table.num_rows:,} rows hold {len(origin):,}"
        raw = replace(raw, table=whole, lines=lines, problems=moved, notes=(*raw.notes, note))
        row = origin + 1
    table = pa.table({n: damage.unwrapped(c) for n, c in zip(table.column_names, table.columns, strict=True)})
    missing = [*policy.split, *(c for p in policy.combine.values() for c in _placeholders(p))]
    _check_columns(missing, table.column_names, raw.name)
    used = dict.fromkeys(missing)
    made = set(policy.combine) | set(policy.constant) | {f for p in policy.split.values() for f in _placeholders(p)}
    single = {c: f for c, f in policy.columns.items() if f not in _MANY}
    told = single | {c: "" for c in (*used, *(c for c, f in policy.columns.items() if f in _MANY)) if c not in single}
    suggested = [s for s in mapping.suggest(table, entity, known) if s.field not in made]
    fields = mapping.apply_mapping(table, suggested, told, raw.name)
    values = {f: table.column(c) for f, c in fields.items()}
    problems = list(raw.problems)
    values, once = given_once.filled_down(values, fields) if entity == "contact" else (values, [])
    values, fields, notes = blocks.apart(table, values, fields, entity, known.get("city"), frozenset((*policy.columns, *used)))
    notes += once
    if entity == "contact":
        values, fields, more = named_parts.apart(table, values, fields, frozenset((*policy.columns, *used)))
        notes += more
    values, freed = numbered.apart(values, fields)
    values, fields, more = _taken_apart(table, values, fields, entity, known.get("city"), frozenset((*policy.columns, *used)))
    notes += freed + more
    for column, pattern in policy.split.items():
        parts, odd = _split(table.column(column), pattern, column)
        values |= parts
        fields |= dict.fromkeys(parts, column)
        problems += odd
    for field, pattern in policy.combine.items():
        values[field] = _combined(table, pattern)
        fields[field] = " + ".join(_placeholders(pattern))
    for field, text in policy.constant.items():
        values[field] = pa.chunked_array([pa.repeat(pa.scalar(text, pa.large_string()), table.num_rows)])
        fields[field] = f'"{text}" for every row'
    taken = _columns_of(fields) | set(used)
    left = [c for c in table.column_names if c not in taken and policy.columns.get(c) != ""]
    for read, field in _joined(entity):
        if field not in {*policy.columns.values(), *policy.constant, *made}:
            values, fields, joined = read(table, values, fields, left)
            notes += joined
            left = [c for c in left if not joined or c not in fields[field].split(" + ")]
    said_so = {*policy.columns.values(), *policy.constant, *made}
    if said_so.isdisjoint(addresses.PLACING):
        values, fields, joined = addresses.joined(table, values, fields, left, entity, said_so)
        notes += joined
        left = [c for c in left if not any(c in fields.get(f, "").split(" + ") for f in addresses.PARTS)]
    if entity == "contact":
        values, fields, joined = consents.joined(table, values, fields, left, {*policy.constant, *made})
        notes += joined
        left = [c for c in left if not any(c in fields.get(f, "").split(" + ") for f in (consents.MAIL, consents.CALL))]
    values, fields, left = _gathered(table, values, fields, left, policy)
    for field, text in policy.defaults.items():
        given = values.get(field, pa.chunked_array([pa.repeat(pa.scalar("", pa.large_string()), table.num_rows)]))
        values[field] = pa.chunked_array([pc.if_else(pc.equal(pc.utf8_trim_whitespace(given), ""), text, given).combine_chunks()])
        fields.setdefault(field, f'"{text}" where blank')
    values, mended, more = _mended(values, fields, entity)
    values, refused = _allowed({f: case.in_case(v, policy.case.get(f, "as-is"), f) for f, v in values.items()}, fields, policy)
    notes += more
    raw = replace(raw, notes=(*raw.notes, *notes), problems=(*problems, *mended, *refused))
    order = [f for f in ENTITIES[entity].fields if f in values]
    return Shaped(raw, {f: values[f] for f in order}, {f: fields[f] for f in order}, tuple(left), row, person)


def _joined(entity: str) -> list[tuple[_Reader, str]]:
    """What reads columns together, or one apart beside others, and the field it makes."""
    both: list[tuple[_Reader, str]] = [(streets.joined, "street"), (areas.joined, "phone")]
    of_people: list[tuple[_Reader, str]] = [
        (dates.joined, "birth_date"),
        (surnames.joined, "family_name"),
        (reached.apart, "email"),
    ]
    return both + of_people * (entity == "contact")


def _own_number(table: pa.Table, fields: _Fields, entity: str, numbering: bool) -> str:
    """The column that numbers the records of a list without one headed as an id, "" = none: the number of their own, else, where that may be, of an order or response of theirs, or
    codes under a heading that says no more than that they number something (Nr, Código)."""
    numbered = fields.get("registration_no", "")
    if numbered and _tell_apart(table.column(numbered)):
        return numbered
    free = [c for c in table.column_names if numbering and c not in fields.values()]
    # A response's number is as good as its people's, where they have no other.
    deeds = [c for c in free if "id" in meanings(c, entity) and _tell_apart(table.column(c))]
    # Vendor Code, Subscriber no; not a second phone number
    left = [c for c in free if numbers_records(c) and meanings(c, entity).keys() <= _WHOSE[entity]]
    return deeds[0] if deeds else next((c for c in left if is_code(table.column(c)) and _tell_apart(table.column(c))), "")


_WHOSE = {"account": {"name"}, "contact": {"full_name"}}
"""What else the heading of a record's own number may mean, for it says whose it is."""


def _tell_apart(values: pa.ChunkedArray) -> bool:
    """Whether every row has a value that no other has."""
    text = pc.utf8_trim_whitespace(values)
    return len(text) > 0 and pc.count_distinct(text).as_py() == len(text) and not pc.any(pc.equal(text, "")).as_py()


def _check_columns(wanted: list[str], known: list[str], name: str) -> None:
    lost = [c for c in wanted if c not in known]
    if lost:
        raise PolicyError("\n".join(mapping.lacks(name, c, known) for c in lost))


def _placeholders(pattern: str) -> list[str]:
    return re.findall(r"\{([^{}]+)\}", pattern)


def _columns_of(fields: _Fields) -> set[str]:
    """The columns that fields are made of: of one made of several each, and of what may be a heading with a + in it that as well."""
    return {c for said in fields.values() for c in (said, *said.split(" + "))}


def _taken_apart(
    table: pa.Table,
    values: _Values,
    fields: _Fields,
    entity: str,
    towns: pa.ChunkedArray | None = None,
    told: frozenset[str] = frozenset(),
) -> tuple[_Values, _Fields, list[str]]:
    """Cells that hold several fields, as most of a column's do, taken apart; the others stay whole in the column's field."""
    values, fields, notes = address_cells.apart(table, values, fields, entity, towns, told)
    for field, (absent, patterns) in _AUTO.items():
        if field not in values or any(f in values for f in absent):
            continue
        whole = values[field]
        sample = whole.slice(0, 2_000)
        sample = sample.filter(pc.not_equal(pc.utf8_trim_whitespace(sample), ""))
        # What has a column of its own is not looked for in another.
        open_to = [p for p in patterns if not any(f in values for f in re.findall(r"\?P<(\w+)>", p) if f != field)]
        fits = [pc.match_substring_regex(sample, p) for p in open_to] if len(sample) > 3 else []
        if not fits or float(pc.mean(reduce(pc.or_, fits).cast(pa.float64())).as_py()) < FITS:
            continue
        parts = reduce(_else, (_extracted(whole, p) for p, fit in zip(open_to, fits, strict=True) if pc.any(fit).as_py()))
        parts = {f: v for f, v in parts.items() if f in ENTITIES[entity].fields}
        if field not in parts:
            continue
        column = fields[field]
        parts[field] = pa.chunked_array([pc.if_else(pc.is_null(parts[field]), whole.combine_chunks(), parts[field])])
        values |= {f: v if isinstance(v, pa.ChunkedArray) else pa.chunked_array([pc.fill_null(v, "")]) for f, v in parts.items()}
        fields |= dict.fromkeys(parts, column)
        notes.append(f'column "{column}" taken apart into {", ".join(parts)}')
    return values, fields, notes


def _else(first: dict[str, pa.Array], other: dict[str, pa.Array]) -> dict[str, pa.Array]:
    """The parts of each text by the first pattern that fits it."""
    fits = reduce(pc.or_, (pc.is_valid(v) for v in first.values()))
    nothing = pa.nulls(len(fits), pa.large_string())
    return {f: pc.if_else(fits, first.get(f, nothing), other.get(f, nothing)) for f in {**first, **other}}


def _extracted(values: pa.ChunkedArray, pattern: str) -> dict[str, pa.Array]:
    """The named groups of a pattern; null where a text does not fit."""
    found = pc.extract_regex(pc.utf8_trim_whitespace(values), pattern).combine_chunks()
    found = pa.concat_arrays(found.chunks) if isinstance(found, pa.ChunkedArray) else found
    fits = found.is_valid()
    return {f.name: pc.if_else(fits, pc.struct_field(found, f.name), pa.scalar(None, pa.large_string())) for f in found.type}


def _split(values: pa.ChunkedArray, pattern: str, column: str) -> tuple[dict[str, pa.ChunkedArray], list[Problem]]:
    """A column by a policy's pattern. A cell that does not fit stays whole in the first field, and is named."""
    pieces = re.split(r"\{([^{}]+)\}", pattern)
    regex = "^" + re.escape(pieces[0])
    for i in range(1, len(pieces), 2):
        after = pieces[i + 1]
        shape = r"\S+" if i > 1 and pieces[i - 1] == " " and (after or i == len(pieces) - 2) else ".+?"
        regex += f"(?P<{pieces[i]}>{shape})" + re.escape(after).replace(r"\ ", r"\s+")
    parts = _extracted(values, regex + "$")
    first = pieces[1]
    blank = pc.equal(pc.utf8_trim_whitespace(values), "").combine_chunks()
    odd = pc.and_(pc.is_null(parts[first]), pc.invert(blank))
    whole = values.combine_chunks()
    parts[first] = pc.if_else(odd, whole, parts[first])
    at = np.flatnonzero(odd.to_numpy(zero_copy_only=False))
    texts = values.take(pa.array(at)).to_pylist()
    problems = [Problem("no-split", int(r) + 1, column, t, field=first) for r, t in zip(at.tolist(), texts, strict=True)]
    return {f: pa.chunked_array([pc.fill_null(v, "")]) for f, v in parts.items()}, problems


def _combined(table: pa.Table, pattern: str) -> pa.ChunkedArray:
    """Columns laid together; what is left between blank ones goes."""
    pieces = re.split(r"\{([^{}]+)\}", pattern)
    parts = [pc.utf8_trim_whitespace(table.column(p)) if i % 2 else pa.scalar(p, pa.large_string()) for i, p in enumerate(pieces)]
    text = pc.binary_join_element_wise(*parts, pa.scalar("", pa.large_string()))
    text = pc.replace_substring_regex(text, r"(\s*[,;/-]\s*)+(\s*[,;/-]\s*)", r"\2")
    return pc.utf8_trim(pc.replace_substring_regex(text, r"\s+", " "), " ,;/-")


def _gathered(
    table: pa.Table, values: dict[str, pa.ChunkedArray], fields: dict[str, str], left: list[str], policy: Policy
) -> tuple[dict[str, pa.ChunkedArray], dict[str, str], list[str]]:
    """Columns kept as notes or tags: those the policy names, and all that are left where it says so."""
    for field in _MANY:
        named = [c for c, f in policy.columns.items() if f == field and c in table.column_names]
        more = [c for c in left if policy.list.rest == field and c not in named]
        left = [c for c in left if c not in named and c not in more]
        if not named and not more:
            continue
        own = [values[field]] if field in values and fields[field] not in named else []
        parts = own + [
            _labelled(table.column(c), c if field == "notes" and (more or len(named) > 1) else "") for c in (*named, *more)
        ]
        joined = reduce(lambda a, b: pc.binary_join_element_wise(a, b, pa.scalar("; ", pa.large_string())), parts)
        values[field] = pc.utf8_trim(pc.replace_substring_regex(joined, r"(; )+", "; "), "; ")
        fields[field] = " + ".join([*([fields[field]] if own else []), *named, *more])
    return values, fields, left


def _labelled(values: pa.ChunkedArray, heading: str) -> pa.ChunkedArray:
    text = pc.utf8_trim_whitespace(values)
    if not heading:
        return text
    return pc.if_else(
        pc.equal(text, ""),
        pa.scalar("", pa.large_string()),
        pc.binary_join_element_wise(pa.scalar(heading, pa.large_string()), text, pa.scalar(": ", pa.large_string())),
    )


def _mended(
    values: dict[str, pa.ChunkedArray], fields: dict[str, str], entity: str
) -> tuple[dict[str, pa.ChunkedArray], list[Problem], list[str]]:
    """Damage that spreadsheets and web pages do, by the kind of the field."""
    problems: list[Problem] = []
    notes = []
    country = country_codes(values["country"]) if "country" in values else pa.chunked_array([[""]], pa.large_string())
    known = [c for c in country.unique().to_pylist() if c]
    of = kind_of(entity)
    out = dict(values)

    def also(second: pa.ChunkedArray | None, field: str, heading: str) -> None:
        """Put the second of a cell where the row has none of its own."""
        if second is not None:
            own = out.get(field, second)
            out[field] = pa.chunked_array([pc.if_else(pc.equal(pc.utf8_trim_whitespace(own), ""), second, own).combine_chunks()])
            fields.setdefault(field, heading)

    for field in values:
        given = out[field]
        if len(given) == 0:
            continue
        found: list[Problem] = []
        if of[field] != "text":
            given, twice = damage.encoded_twice(given, fields[field], field)
            given, spelled = damage.characters(given, fields[field], field)
            out[field] = given
            problems += [*twice, *spelled]
        if of[field] in ("phone", "identifier", "date") or field == "postal_code":
            out[field], found = damage.digits(given, fields[field], field)
        if of[field] in ("phone", "identifier"):
            out[field], more = damage.numbers(out[field], fields[field], field)
            found += more
            if of[field] == "phone":
                out[field], more = damage.spelled_phones(out[field], fields[field], field)
                found += more
                out[field], more, second = several.phones(out[field], fields[field], field)
                found += more
                if (other := _OTHERS.get(field, "")) in of:
                    also(second, other, f"{fields[field]}, its second number")
        elif of[field] == "email":
            out[field], found, second = several.mails(given, fields[field])
            if (other := _OTHERS.get(field, "")) in of:
                also(second, other, f"{fields[field]}, its second address")
        elif field in ("given_name", "full_name"):
            found = several.two_people(given, fields[field], field)
        elif field == "postal_code":
            each = country if "country" in values else ""
            if known:
                out[field], more = damage.postal_codes(out[field], known[0] if len(known) == 1 else each, fields[field])
                found += more
        elif of[field] == "date":
            slashes = pc.any(pc.match_substring(given, "/")).as_py()
            month_first = known[0] == "US" if len(known) == 1 else bool(slashes and ("US" in known or not known))
            out[field], more, said = damage.dates(out[field], fields[field], field, month_first)
            found += more
            notes += [f'"{fields[field]}": {said}'] if said else []
        problems += found
    for field, again in (("phone", "mobile"), ("email", "other_email")):
        if field in out and again in out:
            # A column that repeats another (the bill's and the parcel's number) adds no second one.
            repeated = pc.equal(*(pc.utf8_lower(pc.replace_substring_regex(out[f], r"[\s().-]+", "")) for f in (field, again)))
            out[again] = pa.chunked_array([pc.if_else(repeated, "", out[again]).combine_chunks()])
    return out, problems, notes


def _allowed(
    values: dict[str, pa.ChunkedArray], fields: dict[str, str], policy: Policy
) -> tuple[dict[str, pa.ChunkedArray], list[Problem]]:
    """Values of a policy's lists: a synonym becomes what it stands for; what is neither is left out and named."""
    problems: list[Problem] = []
    for field, groups in policy.allowed.items():
        if field not in values:
            continue
        meant = {w.strip().lower(): value for value, synonyms in groups.items() for w in (value, *synonyms)}
        text = pc.utf8_trim_whitespace(values[field])
        at = pc.index_in(pc.utf8_lower(text), value_set=pa.array(list(meant), pa.large_string()))
        found = pa.array(list(meant.values()), pa.large_string()).take(at.combine_chunks())
        odd = np.flatnonzero(pc.and_(pc.is_null(at), pc.not_equal(text, "")).to_numpy(zero_copy_only=False))
        given = values[field].take(pa.array(odd)).to_pylist()
        problems += [
            Problem("not-allowed", int(r) + 1, fields[field], v, field=field) for r, v in zip(odd.tolist(), given, strict=True)
        ]
        values[field] = pa.chunked_array([pc.fill_null(found, "")])
    return values, problems
