"""Whose columns they are, where the headings of a list name several people or firms to a row: the attendee's, the buyer's, the doctor's; the school's, the district's."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import NamedTuple

from brujula.intake.content import NAMED
from brujula.intake.headings import (
    OF_A_SORT,
    OURS,
    WITHIN_A_FIRM,
    folded,
    in_full,
    numbers_records,
    said_among,
    says_other,
    which_address,
)
from brujula.intake.meanings import SURELY, whose
from brujula.policy.entities import kind_of

_NAMING = ("given_name", "family_name", "full_name")
_ANY = frozenset("name names person people own your my primer primero segundo paterno materno".split())
_SOME = 0.08  # share of values that are people's names under a heading of names, where few of a language are known
_HEADS = frozenset(("principal",))
_OTHERWISE_CALLED = frozenset(
    "legal preferred known maiden birth born former previous nick chosen display short badge alias phonetic native trading trade dba registered official former common local search".split()
)
"""Of another name of the same person or firm."""
CONTACTS = frozenset("contact contacts kontakt contacto contato contatto referente ansprechpartner".split())
"""Whom to ask for at a firm."""
_WITHIN = (
    WITHIN_A_FIRM
    | OF_A_SORT
    | frozenset(
        """branch branches site sites office offices campus plant facility unit depot warehouse location filiale niederlassung standort sucursal succursale agence filial sede""".split()
    )
)
"""What firms are divided in, and where they are: a branch's address is the firm's."""
_OVER = frozenset(("head", "main", "haupt"))
"""A head office is not where a branch is."""


_KINSHIP = frozenset(
    "relationship relation relacion parentesco lien parente parentela verwandtschaft verwandtschaftsverhaltnis relatie pokrewienstwo".split()
)
"""Over what somebody is to a child: Contact 1 Relationship."""


class Seen(NamedTuple):
    """What is to be seen of a column. strongest : the kind its values tell, "" = none;  firms, persons : shares of values that are names of such;  is_blank : whether hardly a cell has any;  is_bare : whether they are numbers or codes"""

    heading: str
    headed: Mapping[str, float]
    strongest: str
    firms: float
    persons: float
    is_blank: bool
    is_bare: bool = False


class Whose(NamedTuple):
    """Columns whose headings say that they are of the list's people, of others, and of those parents, by whom a child is reached."""

    own: frozenset[int]
    others: frozenset[int]
    parents: frozenset[int]


def people(columns: Sequence[Seen]) -> Whose:
    """The columns of the people a list is of, and of others.

    Of several people to a row the list is of those whose headings say no more than what stands below them (Name, Email), then of children
    and of those whom lists are of (attendees), of those in no part that is known, of who leads them, of parents, of who pays or vouches for them.
    """
    return _told_apart(columns, _person, part_of_a_person)


def firms(columns: Sequence[Seen], entity: str) -> Whose:
    """The columns of the firms a list of an entity names, and of other firms beside them: of their bank, their maker, the district."""
    return _told_apart(columns, lambda column: _firm(column, entity), _part_of_a_firm)


def _told_apart(
    columns: Sequence[Seen], who_is: Callable[[Seen], frozenset[str] | None], part: Callable[[frozenset[str]], int]
) -> Whose:
    """The columns of those whose part comes first, then of whom most columns are, and of the others. who_is : the words that say who a column names, None where nobody"""
    named: dict[frozenset[str], list[int]] = {}
    otherwise = []
    for at, column in enumerate(columns):
        # A column of ours stands beside the list's own of the field.
        if column.is_blank or (who := who_is(column)) is None or column.heading.startswith(f"{OURS} "):
            continue
        if not who and (which_address(column.heading) or not _OTHERWISE_CALLED.isdisjoint(folded(column.heading).split())):
            otherwise.append(at)
        else:
            named.setdefault(who, []).append(at)
    if otherwise and all(part(who) > 1 for who in named):
        named[frozenset()] = otherwise  # Legal Name, Remit To Name, where there is no Company
    if len(named) < 2:
        return Whose(frozenset(), frozenset(), frozenset())
    of: dict[frozenset[str], list[int]] = {who: [] for who in (*named, frozenset[str]())}
    for at, column in enumerate(columns):
        plain = folded(column.heading)
        words = frozenset((*plain.split(), *in_full(plain).split()))
        of[max((who for who in of if who <= words), key=len)].append(at)
    half = {f: [who for who in named if all(_surest(columns[at]) == f for at in named[who])] for f in _NAMING[:2]}
    # Of an attendee whose family name is all there is a row says less than of a buyer with a whole one.
    last = set(half["family_name"]) - {frozenset()}
    own = min(named, key=lambda who: (who in last, part(who), -len(of[who]), named[who][0]))
    # First Name (English) and Last Name are one's, be they headed as they may.
    one = {who for of_part in half.values() for who in of_part if len(of_part) == 1} if all(half.values()) else set()
    elses = {who: ats for who, ats in of.items() if who and who != own and not (who in one and own in one)}
    akin = {who for who in elses if any(_is_kin(columns[at].heading) for at in of[who])}
    parents = {
        who for who in elses if (who in akin or says_other("relatives", set(who))) and not says_other("partners", set(who))
    }
    return Whose(frozenset(of[own] if own else ()), _all(elses.values()), _all(elses[who] for who in parents))


def _is_kin(heading: str) -> bool:
    words = set(folded(heading).split())
    return not _KINSHIP.isdisjoint(words) or words >= {"responsable", "legal"}


def _all(columns: Iterable[list[int]]) -> frozenset[int]:
    return frozenset(at for ats in columns for at in ats)


def _surest(column: Seen) -> str:
    """The field that its heading is surest to mean; "" = none."""
    return max(column.headed, key=lambda f: column.headed[f], default="")


def names_its_own(heading: str) -> bool:
    """Whether a heading of names is not of somebody beside the people a list is of: a principal, a parent, a guarantor."""
    return part_of_a_person(whose(heading, "contact", _NAMING, ("members",)) - _ANY) <= 2


def _person(column: Seen) -> frozenset[str] | None:
    """The words that say who a column names; None where it names nobody."""
    if column.firms >= NAMED or column.strongest or column.is_bare:
        return None
    if column.headed:
        field = _surest(column)
        if field == "owner":
            # Account Manager, and Account Manager First
            field = next((f for f in _NAMING[:2] if f in column.headed), "")
            if not field and column.persons >= NAMED:
                return frozenset(folded(column.heading).split()) - _ANY
        # Name may be a firm's, or a concert's.
        told = "given_name" in column.headed or column.persons >= _SOME or column.headed.get("full_name", 0.0) >= SURELY
        if field not in _NAMING or (field == "full_name" and not told):
            return None
        who = whose(column.heading, "contact", _NAMING, ("members",))
    elif column.persons >= NAMED:
        who = frozenset(folded(column.heading).split())
    else:
        return None
    return _without_ways(who, column.heading)


def _without_ways(who: frozenset[str], heading: str) -> frozenset[str]:
    """The words without those for other names of the same, and for addresses: the shipping name is the customer's."""
    who = frozenset(w for w in who - _ANY - _OTHERWISE_CALLED if not w.isdigit())
    return frozenset() if who <= which_address(heading) - _HEADS else who


def _firm(column: Seen, entity: str) -> frozenset[str] | None:
    """The words that say which firm a column names; None where it names none."""
    field = "name" if entity == "account" else "account"
    words = frozenset(folded(column.heading).split())
    if (
        column.strongest
        or column.is_bare
        or numbers_records(column.heading)
        or column.persons >= max(NAMED, column.firms)
        or not (_WITHIN.isdisjoint(words) or words & _OVER)
    ):
        return None
    if entity == "account" and (said_among("leaders", words) or said_among("anothers", words) or words & CONTACTS):
        return None
    surest = _surest(column)
    if surest == field or (surest == "full_name" and column.firms >= NAMED):
        who = whose(
            column.heading, entity, tuple(f for f in (field, "full_name") if f in kind_of(entity)), ("firms", "outsiders")
        )
    elif surest == "parent_id" or (not surest and column.firms >= NAMED):
        who = words
    else:
        return None
    return _without_ways(who - which_address(column.heading), column.heading)


def _part_of_a_firm(who: frozenset[str]) -> int:
    """Which part firms play in a list, the first those whom it is of."""
    words = set(who)
    if not who:
        return 0
    if says_other("outsiders", words):
        return 3
    return 1 if said_among("firms", words) else 2


def part_of_a_person(who: frozenset[str]) -> int:
    """Which part people play in a list: up to 2 those whom it may be of, then who leads, raises, pays or vouches for them."""
    words = set(who)
    if not who:
        return 0
    if says_other("children", words):
        return 1
    if says_other("anothers", words) or says_other("seconds", words) or says_other("partners", words):
        return 5
    if says_other("leaders", words):
        return 3
    if says_other("relatives", words):
        return 4
    return 1 if said_among("members", words - CONTACTS) else 2
