"""Which column is which field: by its heading, in several languages, and by what it holds."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache

import pyarrow as pa
import pyarrow.compute as pc

from brujula import tables
from brujula.errors import PolicyError
from brujula.fields import kinds
from brujula.intake import consents
from brujula.intake.content import (
    BARE,
    ENOUGH,
    NAMED,
    PLACES,
    SAMPLE,
    TELLING,
    content_of,
    filled,
    held_field,
    holds_countries,
    is_flag,
    is_prefix,
    is_repeated,
    is_running,
    is_words,
    most_like_names,
    names_in,
    told_by,
)
from brujula.intake.headings import folded, says_other
from brujula.intake.raw import BY_PLACE
from brujula.policy.entities import ENTITIES, kind_of

_NAMED_PLACES = ("city", "region", "country")
_WORDED = ("person_name", "company", "job_title", "choice", "tags", "text")  # kinds whose values are hardly ever bare numbers


@dataclass(frozen=True)
class Suggestion:
    """One column's field ("" = left out), how sure, why, and three sample values."""

    column: str
    field: str
    confidence: float
    why: str
    samples: tuple[str, ...]


@cache
def _wordings(kind: str, field: str) -> tuple[str, ...]:
    """Headings a field is known by, the commonest first, its own name last."""
    known = f"{kinds()[kind].headings.get(field, '')} | {_further().get(field, '')}".split("|")
    return (*(h for x in known if (h := " ".join(x.split()))), field.replace("_", " "))


@cache
def _whole(kind: str, field: str) -> dict[str, float]:
    """How sure a heading is that is one of these and no more, run together: firstname is a first name."""
    wordings = _wordings(kind, field)
    last = len(wordings) - 1
    return {w.replace(" ", ""): 0.97 if rank < 12 or rank == last else 0.95 for rank, w in reversed([*enumerate(wordings)])}


@cache
def _further() -> dict[str, str]:
    """Headings of each field in further languages."""
    return {field.strip(): headings for field, headings in (line.split(":", 1) for line in tables.lines("headings"))}


@cache
def _alone() -> frozenset[str]:
    """Those so short that within a longer heading they mean something else (by, ad, grad)."""
    return frozenset(h for headings in _further().values() for x in headings.split("|") if len(h := x.strip()) <= 4)


_TELLING = {"city", "region", "postal_code", "country", "phone", "mobile", "email", "website"}
_OVERALL = {"street", "account", "name", "full_name"}
_FLAGS = ("consent", "choice", "tags", "text")
"""Kinds that a yes or a no may be of: who to contact, yes or no, is nobody's name."""
_BIRTH = {
    "birth",
    "born",
    "brth",
    "geburt",
    "geburtsort",
    "naissance",
    "nascita",
    "nacimiento",
    "urodzenia",
    "geboorte",
    "nascimento",
}


@cache
def _by_heading(heading: str, entity: str) -> dict[str, float]:
    """Fields a heading may mean, each with a confidence."""
    plain = folded(heading)
    found = _by_words(plain, entity)
    bare = re.sub(r"\s*\d+$", "", plain)
    if not found and bare != plain:
        found = {f: score - 0.05 for f, score in _by_words(bare, entity).items()}
    if {"given_name", "family_name"} <= set(found) and max(found["given_name"], found["family_name"]) < 0.95:
        # Both in one heading: the column holds both.
        found = {f: s for f, s in found.items() if f not in ("given_name", "family_name")} | {"full_name": 0.9}
    if (said := _TELLING & set(found)) and (least := max(found[f] for f in said)) < 0.95:
        # Business address: city is the city, company phone the phone.
        found |= {f: s * 0.9 for f, s in found.items() if f in _OVERALL and s <= least}
    if "street" in found and found["street"] < 0.95:
        found |= {f: s * 0.9 for f, s in found.items() if f in ("account", "name")}  # a school's address is an address
    if found.keys() - {"birth_date"} and _BIRTH & set(plain.split()):
        found = {f: s for f, s in found.items() if f == "birth_date"}  # where somebody was born is not where they live
    if {"phone", "mobile"} <= set(found) and found["phone"] < 0.95:
        found["phone"] *= 0.9
    return found


def _by_words(plain: str, entity: str) -> dict[str, float]:
    """The same for a folded heading, word by word."""
    found: dict[str, float] = {}
    for field in ENTITIES[entity].fields:
        kind = kind_of(entity)[field]
        if whole := _whole(kind, field).get(plain.replace(" ", "")):
            found[field] = whole
            continue
        for wording in _wordings(kind, field):
            if wording not in _alone() and f" {wording} " in f" {plain} ":
                score = 0.5 + 0.35 * len(wording.split()) / len(plain.split())
                score *= 0.95 if wording in _EITHER else 1.0  # a city's name is a city
                found[field] = max(found.get(field, 0.0), score)
    return found


def _mostly_once(values: pa.Array) -> bool:
    """Whether hardly a value of a column stands there twice."""
    text = filled(values)
    return int(pc.count_distinct(text).as_py()) >= 0.9 * len(text)


_OF_A_SORT = frozenset("type typ tipo art kind".split())
_NEVER_A_HEADING = re.compile(r"(?i)[^@\s]+@[^@\s]+\.[^@\s]+|\+?([\s().\-/]*\d){9,15}|(https?://|www\.)\S+")


def headings_are_values(table: pa.Table) -> bool:
    """Whether no heading is known, and one is a mail address, a website or a phone number, or two are what their columns hold (a country over countries)."""
    if any(max(_by_heading(h, entity).values(), default=0.0) > 0.9 for h in table.column_names for entity in ENTITIES):
        return False
    if any(_NEVER_A_HEADING.fullmatch(h.strip()) for h in table.column_names):
        return True
    alike = 0
    for heading, column in zip(table.column_names, table.columns, strict=True):
        held = told_by(column.combine_chunks()) if table.num_rows else ""
        same = bool(held) and held in (read(pa.array([heading] * ENOUGH, pa.large_string())) for read in (told_by, held_field))
        # A year may stand over numbers like it; 98-637 over codes is no heading.
        alike += 2 if same and held == "postal_code" and not re.fullmatch(r"\d{4}", heading.strip()) else same
    return alike >= 2


def suggest(table: pa.Table, entity: str, known: Mapping[str, pa.ChunkedArray] | None = None) -> list[Suggestion]:
    """A field for each column; each field is given once, to the column that is surest.

    known : values of the existing records by field: what a column without a heading we know holds may be theirs
    """
    options: list[tuple[float, int, str, str]] = []
    field_kind = kind_of(entity)
    # Manager's e-mail is the manager's, but where the list is one of managers.
    plain = (c for c in table.column_names if not says_other("anothers", set(folded(c).split())))
    names_plainly = any(_by_heading(c, entity).keys() & set(ENTITIES[entity].naming) for c in plain)
    for i, column in enumerate(table.column_names):
        values = table.column(i).combine_chunks() if table.num_rows else pa.array([], pa.large_string())
        content = content_of(values)
        telling = {k: s for k, s in content.items() if s >= TELLING[k]}
        numbers, codes = (telling.pop(kind, 0.0) for kind in BARE)
        strongest = max(telling, key=lambda k: telling[k]) if telling else ""
        headed = _by_heading(column, entity)
        if table.num_rows and not pc.any(pc.not_equal(pc.utf8_trim_whitespace(values), "")).as_py():
            headed = {f: s * _BLANK for f, s in headed.items()}
        words = set(folded(column).split())
        anothers = names_plainly and says_other("anothers", words)
        elses = (anothers and strongest in ("email", "phone")) or (
            not headed
            and (
                "fax" in words
                or says_other("any", words)
                or (says_other("numbers", words) and is_words(table, i, r"^\s*-?[\d.,]+\s*$"))
                or is_running(values)
            )
        )
        firms, persons = names_in(values)
        if (agreed := consents.agrees(column, values)) and agreed.fields[0] in field_kind:
            options.append((0.9, i, agreed.fields[0], f'heading "{column}" says who agreed: a no is an opt-out'))
            continue
        surest = max(headed, key=lambda f: headed[f], default="")
        weak = bool(headed) and headed[surest] < _SURELY
        flag = (weak or bool(numbers)) and is_flag(values)
        for field, score in headed.items():
            kind = field_kind[field]
            why = f'heading "{column}"'
            if flag and weak and kind not in _FLAGS:
                continue
            if anothers and kind in ("email", "phone"):
                continue
            if words & _OF_A_SORT and kind not in _FLAGS and is_repeated(values):
                continue  # Phone type: Home, Cell
            if field == "region" and "department" in words and held_field(values) != "region":
                continue  # a department of France, or of a firm
            if score < _SURELY < headed[surest] and (kind == "identifier" or kind != field_kind[surest]):
                continue  # Parent ID is a parent's, be there another column of parents or not; a second cell phone is a phone
            if field == "id" and ("account_id" in headed or (score < _SURELY and not _mostly_once(values))):
                continue  # an id that many rows give is of something else: a firm, an owner, a campaign
            dated = strongest == "date"
            if kind == "consent" and (consents.of_another(column, field) or ((numbers or codes) and not (flag or dated))):
                continue  # N° contact is a number; the day somebody opted out is an opt-out
            if kind == strongest:
                score = min(score + 0.02, 0.99)
                why += " and content"
            elif strongest and not (dated and kind == "consent") and strongest != "phone" and kind != "text":
                score *= 0.3
                why += f", though it holds {strongest} values"
            elif (
                kind in ("email", "website", "phone")
                and content
                and content[kind] < 0.2
                and not (kind == "phone" and strongest == "" and not codes)
            ):
                score *= 0.4
            if ((numbers or (codes and score < _SURELY)) and (kind in _WORDED or field in _NAMED_PLACES)) or (
                field == "prefix" and not is_prefix(values)
            ):
                score *= 0.3
            if field in PLACES and headed.keys() >= PLACES and holds_countries(values) != (field == "country"):
                score, why = score * 0.5, f"{why}, though it seems to hold the other"
            if firms >= NAMED and kind == "person_name":
                score, why = score * 0.3, f"{why}, though it holds names of organisations"
            elif persons >= NAMED and firms < 0.1 and kind == "company":
                score, why = score * 0.5, f"{why}, though it holds names of people"
            options.append((score, i, field, why))
        told = ("account" if entity == "contact" else "name") if firms >= NAMED else "full_name" if persons >= NAMED else ""
        if (
            told
            and told not in headed
            and told in field_kind
            and not elses
            and (headed or not is_repeated(values))
            and not strongest
            and not (headed and max(headed.values()) > 0.9 and firms < NAMED)
        ):
            options.append((0.55, i, told, f"holds names of {'organisations' if firms >= NAMED else 'people'}"))
        held = held_field(values) if not headed and not strongest and not told and not elses else ""
        if held in field_kind and not (held == "street" and is_repeated(values)):
            options.append((0.5, i, held, f"holds what a {held.replace('_', ' ')} is"))
        # Seven or eight bare digits under a heading nobody knows are hardly phones.
        bare = strongest == "phone" and not BY_PLACE.fullmatch(column) and is_words(table, i, r"^\s*\d{1,8}\s*$")
        if (
            strongest in ("email", "website", "phone")
            and not bare
            and not elses
            and strongest in {field_kind[f] for f in ENTITIES[entity].fields}
        ):
            for field in kinds()[strongest].parts:
                if field in ENTITIES[entity].fields and field not in headed:
                    options.append((0.6 if strongest != "phone" else 0.45, i, field, f"holds {strongest} values"))
    unknown = [i for i, column in enumerate(table.column_names) if not _by_heading(column, entity)]
    for i, field in _as_known(table, unknown, known or {}, set(ENTITIES[entity].fields)).items():
        # Without any heading the records tell more than what such values mostly are.
        score = 0.6 if BY_PLACE.fullmatch(table.column_names[i]) else 0.45
        options.append((score, i, field, f"holds what the existing records hold as {field.replace('_', ' ')}"))
    taken_field: set[str] = set()
    chosen: dict[int, tuple[str, float, str]] = {}
    for score, i, field, why in sorted(options, key=lambda o: (-o[0], o[1], ENTITIES[entity].fields.index(o[2]))):
        if i not in chosen and field not in taken_field and score >= 0.4:
            chosen[i] = (field, score, why)
            taken_field.add(field)
    if {"given_name", "family_name", "full_name"} <= taken_field:
        # Beside given and family names a column of people, or of a name of some other sort, is somebody else's: an owner, a parent.
        chosen = {i: c for i, c in chosen.items() if c[0] != "full_name" or c[1] >= _SURELY}
    if {"given_name", "full_name"} <= taken_field and "family_name" not in taken_field:
        # Beside a column of given names, "Name" holds the family names.
        i = next(i for i, (field, _, _) in chosen.items() if field == "full_name")
        chosen[i] = ("family_name", chosen[i][1], f"{chosen[i][2]}, beside given names")
    if {"family_name", "full_name"} <= taken_field and "given_name" not in taken_field:
        # Beside a column of family names, "Name" holds the given names, where it holds one word.
        i = next(i for i, (field, _, _) in chosen.items() if field == "full_name")
        if is_words(table, i, r"^\s*[^\s\d@]+\s*$"):
            chosen[i] = ("given_name", chosen[i][1], f"{chosen[i][2]}, beside family names")
    if "other_email" in taken_field and "email" not in taken_field:
        # The only mailbox there is, whatever it is called, is no other one.
        i = next(i for i, (field, _, _) in chosen.items() if field == "other_email")
        chosen[i] = ("email", *chosen[i][1:])
    for field, beside, behind in _NEIGHBOURS:
        at = next((i for i, (f, score, _) in chosen.items() if f == beside and score == 0.5), None)
        near = None if at is None else at + behind
        if (
            near is not None
            and field in field_kind
            and field not in taken_field
            and near not in chosen
            and _is_headless(table, near)
            and is_words(table, near)
        ):
            chosen[near] = (field, 0.45, f"stands beside the {beside.replace('_', ' ')}")
            taken_field.add(field)
    if not taken_field & ({"name"} if entity == "account" else {"given_name", "family_name", "full_name"}):
        left = [i for i in range(table.num_columns) if i not in chosen and not _by_heading(table.column_names[i], entity)]
        if (found := most_like_names(table, left)) is not None:
            field = "name" if entity == "account" else "full_name"
            chosen[found] = (field, 0.4, "no other column could hold the name")
    out = []
    for i, column in enumerate(table.column_names):
        field, score, why = chosen.get(i, ("", 0.0, "no field fits"))
        text = pc.unique(table.column(i).slice(0, SAMPLE)).to_pylist()
        out.append(Suggestion(column, field, round(score, 2), why, tuple([t for t in text if t and t.strip()][:3])))
    return out


_BLANK = 0.6  # a column without a value gives way to one that has some
_SURELY = 0.9
"""From here a heading names the field, and is no longer one that has a word of it."""
_NEIGHBOURS = (
    ("family_name", "given_name", 1),
    ("family_name", "given_name", -1),
    ("city", "region", -1),
    ("city", "postal_code", -1),
    ("city", "postal_code", 1),
    ("city", "street", 1),
)
"""Fields whose values tell nothing, found by the column they stand beside (how many columns behind it)."""


def _is_headless(table: pa.Table, i: int) -> bool:
    """Whether the column exists and has no heading that is known."""
    return 0 <= i < table.num_columns and not _by_heading(table.column_names[i], "contact")


_NAMING = ("given_name", "family_name", "full_name", "name")
_TOLD_BY_RECORDS = (*_NAMING, "account", "street", "city", "region", "country", "job_title")
_AS_KNOWN, _CLEARLY = 0.4, 1.2


def _as_known(table: pa.Table, left: list[int], known: Mapping[str, pa.ChunkedArray], free: set[str]) -> dict[int, str]:
    """Columns most of whose values existing records hold in one field, and clearly fewer in any other; under a heading names only, for towns may be anything's."""

    def plain(column: pa.ChunkedArray) -> pa.Array:
        text = pc.unique(pc.utf8_lower(pc.utf8_trim_whitespace(column.cast(pa.large_string()))))
        return text.filter(pc.fill_null(pc.not_equal(text, ""), False))

    columns = {i: text for i in left if len(text := plain(table.column(i).slice(0, SAMPLE))) >= ENOUGH}
    records = {f: plain(known[f]) for f in _TOLD_BY_RECORDS if f in known and f in free} if columns else {}
    found = []
    for i, text in columns.items():
        shares = {f: float(pc.mean(pc.is_in(text, value_set=values).cast(pa.float64())).as_py()) for f, values in records.items()}
        for field, share in shares.items():
            others = max((s for f, s in shares.items() if f != field), default=0.0)
            named = field in _NAMING or BY_PLACE.fullmatch(table.column_names[i])
            if named and share >= max(_AS_KNOWN, _CLEARLY * others):
                found.append((-share, i, field))
    out: dict[int, str] = {}
    for _, i, field in sorted(found):
        if i not in out and field not in out.values():
            out[i] = field
    return out


_PERSONAL = {
    "given_name": 4,
    "family_name": 4,
    "middle_name": 3,
    "birth_date": 3,
    "job_title": 3,
    "mobile": 1,
    "email_opt_out": 1,
    "phone_opt_out": 1,
    "suffix": 1,
    "prefix": 1,
}
_NAMES = ("given_name", "family_name", "full_name", "account")
_EITHER = ("name", "nom", "nome", "nombre", "naam", "nazwa", "contact", "kontakt")  # a firm's name as well as a person's
_CORPORATE = {"industry": 3, "registration_no": 3, "parent_id": 2, "website": 1}


def entity_of(*tables_of: pa.Table, otherwise: str = "account") -> str:
    """contact if the columns speak of people, account if of organisations, otherwise what they are taken for; several lists that belong together are asked together.

    A list with a name and an organisation beside it is of people; so is one of job titles, given names, birth dates.
    """
    balance = 0
    for table in tables_of:
        headed = [(folded(c), _by_heading(c, "contact"), _by_heading(c, "account")) for c in table.column_names]
        given = any(people.get("given_name", 0) >= 0.6 and plain not in _EITHER for plain, people, _ in headed)
        for plain, people, firms in headed:
            told = given or plain not in _EITHER
            balance += max([w for f, w in _PERSONAL.items() if people.get(f, 0) >= 0.6 and told], default=0)
            balance -= sum(w for f, w in _CORPORATE.items() if firms.get(f, 0) >= 0.75)
        named = any(people.get("full_name", 0) >= 0.9 for _, people, _ in headed)
        employer = any(
            people.get("account", 0) >= 0.6 and people.get("full_name", 0) < 0.9 and firms.get("parent_id", 0) < 0.9
            for _, people, firms in headed
        )
        balance += 4 * (named and employer)
    if balance == 0:
        # Nothing but names to go by: whose are they? A town may be called like a person (Los Angeles, Sidney).
        shares = [
            names_in(c.combine_chunks() if isinstance(c, pa.ChunkedArray) else c)
            for t in tables_of
            for heading, c in zip(t.column_names, t.columns, strict=True)
            if max((found := _by_heading(heading, "contact")), key=lambda f: found[f], default="full_name") in _NAMES
        ]
        balance += int(any(p >= NAMED for _, p in shares) and not any(f >= NAMED for f, _ in shares))
        balance += int(
            any(
                held_field(c.combine_chunks() if isinstance(c, pa.ChunkedArray) else c) == "given_name"
                for t in tables_of
                for heading, c in zip(t.column_names, t.columns, strict=True)
                if not _by_heading(heading, "contact")
            )
        )
    return "contact" if balance > 0 else "account" if balance < 0 else otherwise


def names_a_person(heading: str) -> list[str]:
    """The heading without the number in it, when that names a person; nothing otherwise."""
    from brujula.intake.people import without_number

    found = without_number(heading)
    headed = _by_heading(found[0], "contact") if found else {}
    best = max(headed, key=lambda f: headed[f], default="")
    return [found[0]] if found and best in ("given_name", "family_name", "full_name") else []


def apply_mapping(table: pa.Table, suggestions: list[Suggestion], told: Mapping[str, str], name: str) -> dict[str, str]:
    """Field to column: what the policy says, then what was suggested.

    Raises PolicyError naming every column the list lacks, with the one that is likely meant, and every field used twice.
    """
    out: dict[str, str] = {}
    free = {s.field: s.column for s in suggestions if s.field and s.column not in told}
    wrong = []
    for column, field in told.items():
        if column not in table.column_names:
            unnamed = [c for c in table.column_names if c not in told]
            likely = free.get(field, "")
            wrong.append(lacks(name, column, unnamed, likely))
        elif field and field in out:
            wrong.append(f'{name}: the policy maps both "{out[field]}" and "{column}" to {field}; a field is used once')
        elif field:
            out[field] = column
    if wrong:
        raise PolicyError("\n".join(wrong))
    for s in suggestions:
        if s.field and s.column not in told and s.field not in out:
            out[s.field] = s.column
    return out


def lacks(name: str, column: str, known: list[str], likely: str = "") -> str:
    """The message that a list lacks a column the policy names. likely : the column that holds what it held, where one does."""
    near = _nearest(column, known) or likely
    return f'{name}: the policy names the column "{column}", which the list lacks' + (
        f'; did you mean "{near}"? If it is called that now, change the policy' if near else ""
    )


def new_columns(table: pa.Table, told: Mapping[str, str]) -> list[str]:
    """Columns a policy that names columns says nothing of."""
    return [c for c in table.column_names if c not in told] if told else []


def _nearest(name: str, known: list[str]) -> str:
    from difflib import get_close_matches

    return next(iter(get_close_matches(name, known, 1, 0.5)), "")
