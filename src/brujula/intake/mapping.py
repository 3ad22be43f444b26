"""Which column is which field: by its heading, in several languages, and by what it holds."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import pyarrow as pa
import pyarrow.compute as pc

from brujula.errors import PolicyError
from brujula.intake import addresses, whose
from brujula.intake.column import OneColumn, Option, is_anothers
from brujula.intake.content import (
    ENOUGH,
    NAMED,
    SAMPLE,
    Samples,
    contents_of,
    filled,
    is_words,
    most_like_names,
    names_in,
    names_of,
)
from brujula.intake.headings import folded, is_of_a_head, says_other
from brujula.intake.held import held_fields
from brujula.intake.mail_names import names_in_mailboxes
from brujula.intake.meanings import SURELY, meanings
from brujula.intake.raw import BY_PLACE
from brujula.policy.entities import ENTITIES, kind_of

_REACHED = frozenset(("email", "phone", "postal_address"))
_KINDS_OF_A_PERSON = _REACHED | {"person_name", "job_title", "date", "profile"}
_KINDS_OF_A_FIRM = _REACHED | {"company", "website", "coordinates"}
"""What a column of another person or firm cannot be."""
_HARDLY = 0.1  # share of cells that are filled
_LEAST = 0.4
"""How sure it must be that a column holds a field."""


@dataclass(frozen=True)
class Suggestion:
    """One column's field ("" = left out), how sure, why, and three sample values."""

    column: str
    field: str
    confidence: float
    why: str
    samples: tuple[str, ...]


_KIN = 0.1  # so much surer is a heading that names its field among other words, where one of these stands over the names


_OF_THEM = (*addresses.PARTS, "email", "phone", "mobile")
"""Fields that lists have of several people or firms in a row."""


def suggest(table: pa.Table, entity: str, known: Mapping[str, pa.ChunkedArray] | None = None) -> list[Suggestion]:
    """A field for each column; each field is given once, to the column that is surest.

    known : values of the existing records by field: what a column without a heading we know holds may be theirs
    """
    samples = Samples.of(table.columns)
    contents, names = contents_of(samples), names_of(samples)
    unknown = [i for i, column in enumerate(table.column_names) if not meanings(column, entity)]
    held = dict(zip(unknown, held_fields(samples.some(unknown)), strict=True))
    columns = [OneColumn(table, at, entity, contents[at], names[at], held.get(at)) for at in range(table.num_columns)]
    own = [column for column in columns if not (_is_of_another(column.words, entity) or says_other("things", column.words))]
    # School name may be a name; it is the school's. Member Since is a year, Office Name a firm's.
    naming = ENTITIES[entity].naming
    plainly = {
        f
        for column, meant in ((column, meanings(column.heading, entity)) for column in own)
        for f, s in meant.items()
        if f not in naming
        or (s == max(meant.values()) and not (column.numbers or column.codes or column.strongest or _is_of_firms(column)))
    }
    plainly |= (
        {"full_name"}
        if entity == "contact" and any(column.persons >= NAMED and not column.strongest for column in own)
        else set()
    )
    placed = {f for c in columns if not says_other("places", c.words) for f in c.headed if f in addresses.PARTS}
    _told_by_people(own)
    _told_apart(columns, entity)
    options = [o for column in columns for o in column.beside(plainly, placed).options()]
    for i, field in _as_known(table, unknown, known or {}, set(ENTITIES[entity].fields)).items():
        # Without any heading the records tell more than what such values mostly are.
        score = 0.6 if BY_PLACE.fullmatch(table.column_names[i]) else 0.45
        options.append(Option(score, i, field, f"holds what the existing records hold as {field.replace('_', ' ')}"))
    if any(o.field in _NAMING and columns[o.at].share > 0 for o in options):  # First Name, which nobody fills in
        options = [o for o in options if o.field not in _NAMING or columns[o.at].share > 0]
    kin = _kin(columns, _named_beside(table, _given_once(options, entity, _of_one(table))))
    # Beside Recipient Org the city is Recipient Org:City, and not the Funder City; beside Ticket Holder Name the mailbox is the Ticket Holder Email.
    options = [o._replace(score=o.score + _KIN) if kin[o.at] and o.score < SURELY and o.field in _OF_THEM else o for o in options]
    chosen = _named_beside(table, _given_once(options, entity, kin))
    _without_others(columns, chosen)
    _of_one_address(columns, chosen)
    _of_one_cell(columns, chosen)
    _codes_with_places(columns, chosen)
    _told_by_neighbours(table, chosen, entity)
    if entity == "contact":
        _by_initials(columns, chosen)
    if not {o.field for o in chosen.values()} & ({"name"} if entity == "account" else {"given_name", "family_name", "full_name"}):
        left = [i for i in unknown if i not in chosen]
        if entity == "account":  # whose names those who lead them are not
            left = [i for i in left if not _is_of_somebody(columns[i].words)]
        if entity == "contact" and (both := names_in_mailboxes(table, left)):
            for i, field in zip(both, ("given_name", "family_name"), strict=True):
                chosen[i] = Option(_LEAST, i, field, "stands in the mailboxes")
            left = []
        owners = [
            i for i, option in chosen.items() if entity == "contact" and option.field == "owner" and columns[i].persons >= NAMED
        ]
        if (found := next(iter(owners), most_like_names(table, left))) is not None:
            field = "name" if entity == "account" else "full_name"
            chosen[found] = Option(_LEAST, found, field, "no other column could hold the name")
    out = []
    for i, column in enumerate(table.column_names):
        score, _, field, why, _ = chosen.get(i, Option(0.0, i, "", "no field fits"))
        text = pc.unique(table.column(i).slice(0, SAMPLE)).to_pylist()
        out.append(Suggestion(column, field, round(score, 2), why, tuple([t for t in text if t and t.strip()][:3])))
    return out


_WHOLE = 0.8  # share of cells that hold a town and its postal code


def _is_of_firms(column: OneColumn) -> bool:
    """Whether what a list of people has in a column are names of firms."""
    return column.entity == "contact" and column.firms >= NAMED


_SOME, _MOST = 0.2, 0.7  # shares of values with words of firms, and that are people's names


def _told_apart(columns: list[OneColumn], entity: str) -> None:
    """Say of columns that are of other people or firms than those the list is of what they cannot be."""
    seen = [
        whose.Seen(c.heading, c.headed, c.strongest, c.firms, c.persons, c.share < _HARDLY, bool(c.numbers or c.codes))
        for c in columns
    ]
    firms = whose.firms(seen, entity)
    people = whose.people(seen) if entity == "contact" else None
    for column in columns:
        if column.at in firms.others:
            # Who have a school and a company may work for either.
            column.of_another |= _KINDS_OF_A_FIRM - (frozenset(("company",)) if people is not None else frozenset())
        if people is not None:
            column.is_own = column.at in people.own
            if column.at in people.others:
                column.of_another |= _KINDS_OF_A_PERSON - (_REACHED if column.at in people.parents else frozenset())


def _told_by_people(columns: list[OneColumn]) -> None:
    """Customers some of whom are plainly firms are the firms of the people in a column beside them: Customer, Main Contact."""
    headed = [c for c in columns if c.entity == "contact" and "full_name" in c.headed and not c.strongest]
    if any(c.persons >= _MOST and c.firms < 0.1 for c in headed):
        for column in headed:
            if column.firms >= _SOME and column.persons < 0.5:
                column.firms, column.persons = max(column.firms, NAMED), 0.0


_INITIALS = frozenset("initials voorletters initialen iniciales initiales inicjaly".split())


def _by_initials(columns: list[OneColumn], chosen: dict[int, Option]) -> None:
    """Beside a family name and no given one, initials in a column of their own are the given name."""
    fields = {option.field for option in chosen.values()}
    at = next((c.at for c in columns if c.words & _INITIALS and c.at not in chosen), None)
    if at is None or "family_name" not in fields or fields & {"given_name", "full_name"}:
        return
    if is_words(columns[at].table, at, r"^(\pL(\.\s*|\s+|$))+$"):
        chosen[at] = Option(_LEAST, at, "given_name", "initials, and no other column holds given names")


def _is_of_another(words: set[str], entity: str) -> bool:
    """Whether a heading of these words says that what is below it is somebody else's than the list's people or firms."""
    return is_anothers(words, entity) or says_other("relatives", words) or is_of_a_head(words)


def _is_of_somebody(words: set[str]) -> bool:
    """Whether a heading of these words is of people of a firm: who leads it, whom to ask for."""
    return _is_of_another(words, "contact") or not words.isdisjoint(whose.CONTACTS)


def _given_once(options: list[Option], entity: str, kin: Mapping[int, int]) -> dict[int, Option]:
    """The option of each column that has one: the surest first, and each field once. kin : of columns as sure that of the most goes before"""
    order, taken, chosen = ENTITIES[entity].fields, set[str](), dict[int, Option]()
    for option in sorted(options, key=lambda o: (-o.score, -kin.get(o.at, 0), -o.filled, o.at, order.index(o.field))):
        if option.at not in chosen and option.field not in taken and option.score >= _LEAST:
            chosen[option.at] = option
            taken.add(option.field)
    return chosen


def _of_one(table: pa.Table) -> dict[int, int]:
    """How many headings begin as each does: beside donor_city and donor_zip, donor_nm is the donor, and cand_nm somebody else."""
    firsts = [folded(c).partition(" ")[0] for c in table.column_names]
    return {i: firsts.count(first) for i, first in enumerate(firsts)}


def _kin(columns: list[OneColumn], chosen: Mapping[int, Option]) -> dict[int, int]:
    """Which headings share a word with those of the names: beside Attendee First Name, Attendee Email is theirs, and Buyer Email is not."""
    names = (columns[i] for i, option in chosen.items() if option.field in _NAMING)
    named = set().union(*(c.words for c in names if not BY_PLACE.fullmatch(c.heading))) - _NAME_WORDS
    return {c.at: not named.isdisjoint(c.words) for c in columns}


def _without_others(columns: list[OneColumn], chosen: dict[int, Option]) -> None:
    """Leave out the second mailbox where its heading goes with names of others: Email (school) beside School name."""
    at = next((i for i, option in chosen.items() if option.field == "other_email"), None)
    named = [c for c in columns if c.headed and max(c.headed, key=lambda f: c.headed[f]) in _NAMING]
    own, others = (
        set().union(*(c.words for c in named if (c.at in chosen and chosen[c.at].field in _NAMING) == ours)) - _NAME_WORDS
        for ours in (True, False)
    )
    if at is not None and not (others - own).isdisjoint(columns[at].words):
        del chosen[at]


def _of_one_address(columns: list[OneColumn], chosen: dict[int, Option]) -> None:
    """Take the parts of an address from one of several: the town of the billing address with its street, and not the shipping address's."""
    _of_the_named(columns, chosen)
    by_heading = {c.heading: c for c in columns}
    parts = {option.field: columns[i].heading for i, option in chosen.items() if option.field in addresses.PARTS}
    whole = addresses.taken_whole(columns[0].table, parts, columns[0].entity) if parts else parts
    if whole == parts:
        return
    for at in [i for i, option in chosen.items() if option.field in addresses.PARTS]:
        del chosen[at]
    for field, heading in whole.items():
        column = by_heading[heading]
        if column.at in chosen and column.headed.get(field, 0.0) < max(column.headed.values(), default=0.0):
            continue
        chosen[column.at] = Option(column.headed.get(field, _LEAST), column.at, field, f'heading "{heading}", of one address')


def _of_the_named(columns: list[OneColumn], chosen: dict[int, Option]) -> None:
    """Where two parts of an address and the name share a word (Complainant, Complainant City), take the others that have it, too: the Complainant Addr, and not the Business Addr."""
    kin = _kin(columns, chosen)
    parts = {i: o for i, o in chosen.items() if o.field in addresses.PARTS}
    if sum(kin[i] for i in parts) < 2:
        return
    for i, option in parts.items():
        its = [c for c in columns if c.at not in chosen and option.field in c.headed and kin[c.at]]
        if not kin[i] and its:
            best = max(its, key=lambda c: (c.headed[option.field], c.share, -c.at))
            if best.headed[option.field] >= max(best.headed.values()):
                del chosen[i]
                chosen[best.at] = Option(
                    option.score, best.at, option.field, f'heading "{best.heading}", as the name\'s', best.share
                )


_IN_ONE_CELL = ("city", "region", "postal_code")


def _of_one_cell(columns: list[OneColumn], chosen: dict[int, Option]) -> None:
    """Leave out regions and postal codes of other columns where one holds towns with theirs and says so: Owner City/State/Zip beside the State of a licence plate."""
    at = next((i for i, option in chosen.items() if option.field == "city"), None)
    told = [f for f in _IN_ONE_CELL if at is not None and f in columns[at].headed]
    if at is not None and len(told) > 1 and is_words(columns[at].table, at, r"\pL[\pL.,]*\s+.*\d|\d\S*\s+\pL", _WHOLE):
        for other in [i for i, option in chosen.items() if option.field in told and i != at]:
            del chosen[other]


_NEAR = 2  # columns between parts of one address, at most


def _codes_with_places(columns: list[OneColumn], chosen: dict[int, Option]) -> None:
    """Leave out numbers that could be postal codes, and of which no heading says it, where no part of an address stands near: amounts, codes of trades."""
    at = next((i for i, o in chosen.items() if o.field == "postal_code" and o.score == _BY_CONTENT), None)
    if at is None or BY_PLACE.fullmatch(columns[at].heading) or not is_words(columns[at].table, at, r"^\s*\d+\s*$"):
        return
    if not any(0 < abs(i - at) <= _NEAR for i, o in chosen.items() if o.field in addresses.PARTS):
        del chosen[at]


def _named_beside(table: pa.Table, chosen: Mapping[int, Option]) -> dict[int, Option]:
    """The options with names and mailboxes as the columns beside them show them to be."""
    out, at = dict(chosen), {option.field: i for i, option in chosen.items()}

    def become(i: int, field: str, beside: str = "") -> None:
        out[i] = out[i]._replace(field=field, why=f"{out[i].why}{beside}")

    whole, given, family = (at.get(f) for f in ("full_name", "given_name", "family_name"))
    if whole is not None and given is not None and family is not None:
        # Beside given and family names a column of people, or of a name of some other sort, is somebody else's: an owner, a parent.
        if out[whole].score < SURELY:
            del out[whole]
    elif whole is not None and given is not None and names_in(table.column(whole).combine_chunks())[1] >= NAMED:
        del out[given]  # what somebody is called, beside the whole name
    elif whole is not None and given is not None:
        become(whole, "family_name", ", beside given names")
    elif whole is not None and family is not None and is_words(table, whole, r"^\s*[^\s\d@]+\s*$"):
        become(whole, "given_name", ", beside family names")
    if "middle_name" in at and family is None and "family_name" in meanings(table.column_names[at["middle_name"]], "contact"):
        become(at["middle_name"], "family_name")  # Prezime is a patronymic beside Familiya only
    if "region" in at and "city" not in at and _is_a_place(table, at["region"]):
        become(at["region"], "city")
    if "other_email" in at and "email" not in at:
        # The only mailbox there is, whatever it is called, is no other one.
        become(at["other_email"], "email")
    return out


def _is_a_place(table: pa.Table, at: int) -> bool:
    """Whether a column headed Kraj, which is a town in Slovenia, holds none of the regions it is in Czechia and Slovakia: Jihomoravský kraj."""
    if folded(table.column_names[at]) != "kraj" or len(filled(table.column(at))) < ENOUGH:
        return False
    return not is_words(table, at, r"(?i)(k[yý]|kraj)$", 0.5)


_BY_CONTENT = 0.5
"""How sure a field is that its values alone tell."""
_NEIGHBOURS = (
    ("family_name", "given_name", 1),
    ("family_name", "given_name", -1),
    ("city", "region", -1),
    ("city", "postal_code", -1),
    ("city", "postal_code", 1),
    ("city", "street", 1),
)
"""Fields whose values tell nothing, found by the column they stand beside (how many columns behind it)."""


def _told_by_neighbours(table: pa.Table, chosen: dict[int, Option], entity: str) -> None:
    """Give columns without a heading we know the fields that stand beside those told by what they hold."""
    for field, beside, behind in _NEIGHBOURS:
        at = next((i for i, option in chosen.items() if option.field == beside and option.score == _BY_CONTENT), None)
        near = None if at is None else at + behind
        taken = {option.field for option in chosen.values()}
        if (
            near is not None
            and field in kind_of(entity)
            and field not in taken
            and near not in chosen
            and _is_headless(table, near)
            and is_words(table, near)
        ):
            chosen[near] = Option(0.45, near, field, f"stands beside the {beside.replace('_', ' ')}")


def _is_headless(table: pa.Table, i: int) -> bool:
    """Whether the column exists and has no heading that is known."""
    return 0 <= i < table.num_columns and not meanings(table.column_names[i], "contact")


_NAME_WORDS = frozenset("name first last full given family fore sur middle email mail phone address number no id".split())
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
