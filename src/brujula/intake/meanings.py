"""What a heading may mean, in several languages: the fields of an entity that it names, each with how sure that is."""

from __future__ import annotations

import re
from collections.abc import Collection
from functools import cache

from brujula import tables
from brujula.fields import kinds
from brujula.intake.headings import OURS, asked_for, folded, in_full, leads, said_among, unindexed
from brujula.intake.streets import is_house, is_house_number
from brujula.policy.entities import ENTITIES, kind_of

SURELY = 0.9
"""From here a heading names the field, and is no longer one that has a word of it."""
EITHER = ("name", "nom", "nome", "nombre", "naam", "nazwa", "contact", "kontakt")
"""Headings of a firm's name as well as a person's."""


@cache
def _wordings(kind: str, field: str) -> tuple[str, ...]:
    """Headings a field is known by, the commonest first, its own name last."""
    known = (" ".join(x.split()) for x in kinds()[kind].headings.get(field, "").split("|"))
    return (*filter(None, known), *_further().get(field, ()), field.replace("_", " "))


@cache
def _whole(kind: str, field: str) -> dict[str, float]:
    """How sure a heading is that is one of these and no more, run together: firstname is a first name."""
    wordings = _wordings(kind, field)
    last = len(wordings) - 1
    return {w.replace(" ", ""): 0.97 if rank < 12 or rank == last else 0.95 for rank, w in reversed([*enumerate(wordings)])}


@cache
def _further() -> dict[str, list[str]]:
    """Headings of each field in further languages."""
    found: dict[str, list[str]] = {}
    for line in tables.lines("headings"):
        field, _, said = line.partition(": ")
        found.setdefault(field, []).extend(said.replace("=", "").split(" | "))
    return found


@cache
def _alone(field: str) -> set[str]:
    """Those of a field that mean something else within a longer heading: the short ones, and those marked in the table."""
    of_field = (line.partition(": ")[2].split(" | ") for line in tables.lines("headings") if line.startswith(f"{field}: "))
    return _short() | {h[1:] for said in of_field for h in said if h.startswith("=")}


@cache
def _short() -> set[str]:
    """Those that are as short as words of another meaning (by, ad, grad), but for names of people (Elevens namn) and a few."""
    names = {h for h in _further()["full_name"] if len(h) > 2}
    return {h for headings in _further().values() for h in headings if len(h) <= 4} - names - _WITHIN


_WITHIN = frozenset("psc irsz tlf tfn puh mob talr telp okul obec cim imya ime meno jwal juso".split())
"""Short words that mean nothing else in any language here: PSC skoly."""


_TELLING = {"city", "region", "postal_code", "country", "phone", "mobile", "email", "website"}
_PLACED = {"city", "region", "postal_code", "country"}
_OVERALL = {"street", "account", "name", "full_name"}


_WITH = re.compile(r"co (?:tenant|owner|applicant|borrower|signer|buyer|chair|director|teacher|insured|parent|sponsor)s?\b")
"""Somebody beside, and no company: Co-Tenant."""
_MACHINES = frozenset(("ip", "mac"))
"""Whose address it is that names no place."""
_PARTLY = 0.7
_LETTER_AHEAD = r"[b-df-z](?:name|addr(?: 1)?|street(?: 1)?|city|state|zip|phone|email)"
"""Headings of a database with a letter for what they are of; an estate is no state."""
_ON_A_MAP = frozenset("latitude longitude lat lng lon".split())
_CALLED = frozenset(("preferred", "nick", "chosen"))
_DAYS = frozenset(("f", "fecha"))
_NOT_THE_VILLAGE = ("poczta", "gmina", "kommune", "kommun", "powiat")
"""Where the post office or the town hall of somebody's village is; the part of a region."""
_NAMES = frozenset("nom name nome naam nazwisko apellido cognome".split())


@cache
def meanings(heading: str, entity: str) -> dict[str, float]:
    """Fields a heading may mean, each with a confidence."""
    if heading.lower().startswith(f"{OURS} ") and (own := heading.lower().split(" ")[1]) in ENTITIES[entity].fields:
        return {own: 1.0}
    plain = _plain(heading)
    if (
        _WITH.match(plain)
        or is_house(plain)
        or not _MACHINES.isdisjoint(plain.split())
        or (entity == "contact" and not _ON_A_MAP.isdisjoint(plain.split()))
    ):
        return {}
    found = _by_words(plain, entity)
    if not found and len(parts := re.split(r"\s*[/,&–-]\s*", heading.strip())) > 1:
        # Τ.Κ. - Πόλη: what each of its parts means
        found = {f: s * _PARTLY for part in parts for f, s in _by_words(folded(part), entity).items() if s >= SURELY}
    if not found and re.fullmatch(_LETTER_AHEAD, plain):
        found = {f: s * _PARTLY for f, s in _by_words(plain[1:], entity).items()}  # CNAME, LCITY
    if (
        max(found.values(), default=0.0) < SURELY
        and (counted := _IN_TURN.search(plain))
        and said_among("occasions", counted[1].split())
    ):
        found = {f: s for f, s in found.items() if f not in _PERSONS}  # Last Order
    bare = re.sub(r"\s*\d+$", "", plain)
    if not found and bare != plain:
        found = {f: score - 0.05 for f, score in _by_words(bare, entity).items()}
    if max(found.values(), default=0.0) < SURELY and (full := in_full(plain)) != plain:
        found |= {f: score - 0.05 for f, score in _by_words(full, entity).items() if score - 0.05 > found.get(f, 0.0)}
    if {"given_name", "family_name"} <= set(found) and max(found["given_name"], found["family_name"]) < 0.95:
        # Both in one heading: the column holds both.
        found = {f: s for f, s in found.items() if f not in ("given_name", "family_name")} | {"full_name": 0.9}
    if (said := _TELLING & set(found)) and (least := max(found[f] for f in said)) < 0.95:
        # Business address: city is the city, company phone the phone; so is Address 1 city.
        ends = not _TELLING.isdisjoint(_by_words(plain.split()[-1], entity))
        found |= {f: s * 0.9 for f, s in found.items() if f in _OVERALL and (s <= least or (ends and s < 0.95))}
    if (
        {"full_name", "job_title"} <= set(found)
        and _NAMES.isdisjoint(plain.split())
        and "job_title" in _by_words(plain.split()[-1], entity)
    ):
        found["full_name"] *= 0.9  # Client Contact Title
    if {"city", "postal_code"} <= set(found) and max(found["city"], found["postal_code"]) < 0.95:
        found["city"] = max(found["city"], found["postal_code"]) + 0.01  # a town with its code
    if plain in _NOT_THE_VILLAGE:
        found |= {f: found[f] - 0.05 for f in ("city", "region") if f in found}
    if "street" in found and re.search(r"\b[2-9]$", plain):
        found["street"] *= 0.9  # a second line is no street where there is a first, however that is called
    if "street" in found and len(_PLACED & set(found)) > (1 if "(" in heading else 2):
        # Address (street, city, state, zip)
        found = {f: s for f, s in found.items() if f not in _PLACED} | {"street": 0.9}
    if "location" in plain.split() and "city" in found and len(_PLACED & set(found)) > 1:
        found["city"] *= 0.9  # Location State
    if "street" in found and "formatted" in plain.split():
        found["street"] *= 0.9  # the whole of an address gives way to its street
    if is_house_number(plain):
        found.pop("street", None)
    if "street" in found and found["street"] < 0.95:
        # A school's address is an address, be there another or not; so is a location's, which else is a town.
        ends = "street" in _by_words(plain.split()[-1], entity)
        found |= {f: s * 0.5 for f, s in found.items() if f in ("account", "name", "full_name") or (ends and f == "city")}
    if found.keys() - {"birth_date"} and said_among("birth", plain.split()):
        found = {f: s for f, s in found.items() if f == "birth_date"}  # where somebody was born is not where they live
    if _NAMES & (words := set(plain.split())) and said_among("birth", words):
        found.pop("birth_date", None)  # nom de naissance
    if "baja" in words and not words.isdisjoint(_DAYS):
        found.pop("email_opt_out", None)  # the day somebody left
    if "legal" in words:
        found.pop("owner", None)  # responsable légal: a child's guardian
    if "country" in found:
        found.pop("source", None)  # where somebody or something comes from
    if "country" in found and "origin" in plain.split():
        found["country"] *= 0.8  # gives way to the country of an address
    if entity == "contact" and "full_name" in found and found["full_name"] < SURELY and _names_a_firm(plain):
        found = {f: s for f, s in found.items() if f not in _PERSONS} | {
            "account": max(found["full_name"], found.get("account", 0.0))
        }
    if "full_name" in found and not _CALLED.isdisjoint(words):
        found["full_name"] *= 0.8  # gives way to the Full Legal Name
    if {"phone", "mobile"} <= set(found) and found["phone"] < 0.95:
        found["phone"] *= 0.9
    return found


_IN_TURN = re.compile(r"\b(?:first|last) (?!.*\bnames?\b)(.+)")


_FIRMS_OR_PEOPLE = frozenset(
    "contact kontakt contacto customer client member account cliente kunde klient klant partner staff user".split()
)
"""Whom lists are of that may be either."""


def _names_a_firm(plain: str) -> bool:
    """Whether a folded heading is of a firm's name and nothing else: Dealer Name, Office Name."""
    words = set(in_full(plain).split()) - _NAMES - _SMALL - {"name", "names"}
    return bool(words) and words <= (said_among("firms", words) | said_among("outsiders", words)) - _FIRMS_OR_PEOPLE


_BEHIND = re.compile(r"(?<=\S)\s*\[[^\]]*\].*$")
"""Of which release or kind a column is: City [Public School] 2020-21."""


def _plain(heading: str) -> str:
    """What a heading asks for, a number behind its last word apart."""
    heading = unindexed(heading)
    return re.sub(r"(?<=[a-z]{3})(\d+)$", r" \1", asked_for(_BEHIND.sub("", heading) or heading))


_ONE_OF_THEM = frozenset(
    "player musician singer performer attendee participant student pupil patient applicant candidate volunteer teilnehmer participante alumno alumna".split()
)
_SMALL = frozenset("s l d to of the de del du des di da do dos der den van la le el el e y et and und".split())


def whose(heading: str, entity: str, fields: Collection[str], parts: Collection[str]) -> frozenset[str]:
    """The words of a heading of names that say who bears them: buyer of Buyer's last name, none of Surname.

    fields : those that the names may be of an entity;  parts : which words for them say it though headings of the fields have them, too
    """
    plain = in_full(_plain(heading))
    words = frozenset(plain.split())
    if plain in EITHER:
        return frozenset()  # Contact beside Name
    kind = kind_of(entity)
    said = frozenset().union(*(said_among(part, words) for part in parts))
    if any(plain.replace(" ", "") in _whole(kind[field], field) for field in fields):
        return said
    meant = {
        w
        for word in words
        for wording, f in _worded(entity).get(word, ())
        if f in fields and f" {wording} " in f" {plain} "
        for w in wording.split()
    }
    return (words - meant - _SMALL) | said


_FULL = frozenset("full complete completo complet completa vollstandiger volledige fullstandigt".split())


_COUNTED = frozenset("deleves eleves dadherents adherents membres musiciens salaries dinscrits inscrits".split())


def surest(heading: str) -> float:
    """How sure it is that a heading names a field of people or firms; 0 = it names none."""
    return max((score for entity in ENTITIES for score in meanings(heading, entity).values()), default=0.0)


def names_people(heading: str) -> bool:
    """Whether a heading says that a column holds whole names of people: full name, Nachname und Vorname, player name."""
    found = _by_words(plain := _plain(heading), "contact")
    if _ONE_OF_THEM & (words := set(plain.split())) and words <= _ONE_OF_THEM | {"name", "nombre", "nome", "of", "the"}:
        return True
    if leads(words) or not words.isdisjoint(_COUNTED):
        return False  # who leads the firms of a list; Nombre d'élèves
    besides = max((s for f, s in found.items() if f not in _PERSONS), default=0.0)  # Applicant Address
    if (
        found.get("full_name", 0.0) > besides
        and (said_among("members", words) or said_among("teachers", words)) - _FIRMS_OR_PEOPLE
    ):
        return True  # Jelentkező neve, ПІБ вчителя
    both = [found.get(f, 1.0) for f in ("given_name", "family_name")]
    return max(both) < 0.95 or ("full_name" in found and not _FULL.isdisjoint(plain.split()))


@cache
def _worded(entity: str) -> dict[str, tuple[tuple[str, str], ...]]:
    """The wordings that may stand within a longer heading, and their fields, by the first word."""
    found: dict[str, list[tuple[str, str]]] = {}
    for field, kind in kind_of(entity).items():
        wordings = set(_wordings(kind, field)) - _alone(field)
        run_together = {joined for w in wordings if " " in w and len(joined := w.replace(" ", "")) >= _LONG_WORD}
        for wording in wordings | run_together:
            found.setdefault(wording.partition(" ")[0], []).append((wording, field))
    return {word: tuple(them) for word, them in found.items()}


_HEAD = 0.02
_LONG_WORD = 7  # letters of one that words make that ran together (firstname, postcode)
_PERSONS = ("given_name", "family_name", "full_name")
_LONG = 5  # words; a shorter one may name the parts of its cells, none of them its head (City, State, Zip)
_OF = frozenset("of de du des del della di do da dos der den van".split())


def _is_head(wording: str, words: list[str]) -> float:
    """How near a wording stands to what a longer heading is about: its end (Business Location Address City), or with an of or a de its beginning (ciudad de la direccion)."""
    first = next(i for i in range(len(words)) if words[i : i + len(wording.split())] == wording.split())
    return 1 - first / len(words) if _OF & set(words) else (first + len(wording.split())) / len(words)


def _by_words(plain: str, entity: str) -> dict[str, float]:
    """The same for a folded heading, word by word."""
    kind, words = kind_of(entity), plain.split()
    within: dict[str, float] = {}
    for wording, field in (them for word in set(words) for them in _worded(entity).get(word, ())):
        if f" {wording} " in f" {plain} ":
            score = 0.5 + 0.35 * len(wording.split()) / len(words)
            score *= 0.95 if wording in EITHER else 1.0  # a city's name is a city
            score += _HEAD * _is_head(wording, words) if len(words) >= _LONG else 0.0
            within[field] = max(within.get(field, 0.0), score)
    whole = {f: known[plain.replace(" ", "")] for f, k in kind.items() if plain.replace(" ", "") in (known := _whole(k, f))}
    if {"account", "name"} & set(whole):  # nome fantasia is a firm's name, and no given one
        within = {f: score for f, score in within.items() if f not in _PERSONS}
    found = {**within, **whole}
    return {f: found[f] for f in ENTITIES[entity].fields if f in found}


def of_a_name(heading: str) -> bool:
    """Whether what stands below a heading is a person's name, or a part of it, before it is anything else."""
    headed = meanings(heading, "contact")
    return max(headed, key=lambda f: headed[f], default="") in ("given_name", "family_name", "full_name")
