"""What is known of the words in firms' names: what each says, what it stands for, and how it may be misspelled."""

from __future__ import annotations

from functools import cache
from string import ascii_lowercase

import pycountry

from brujula import tables
from brujula.core.kernels.words import DIRECTION, FILLER, GIVEN, LEGAL, LEVEL, NUMBER, PART, SCHOOL, SKIP, WORD
from brujula.core.steps.name_facts import ONE_NAME

_TOWN = 4  # letters: shorter names of towns (la, rio) mostly are not meant as such
_CLASSES = {"legal": LEGAL, "skip": SKIP, "filler": FILLER, "part": PART, "said": SCHOOL}


def _slips(word: str, least: int = 8) -> list[str]:
    """A long word with a letter left out or doubled or two neighbours exchanged; short ones so spelled may be other words."""
    if len(word) < least:
        return []
    left_out = [word[:i] + word[i + 1 :] for i in range(1, len(word))]
    doubled = [word[:i] + word[i] + word[i:] for i in range(1, len(word))]
    exchanged = [word[:i] + word[i + 1] + word[i] + word[i + 2 :] for i in range(1, len(word) - 1)]
    return left_out + doubled + exchanged


def _with_another_letter(word: str) -> list[str]:
    """A long word with another letter for one of its own, but for the first and the last."""
    return [word[:i] + c + word[i + 1 :] for i in range(1, len(word) - 1) for c in ascii_lowercase] if len(word) >= 7 else []


@cache
def words_of_firms() -> tuple[dict[str, int], dict[str, str], dict[str, str]]:
    """Class per word, canonical word per synonym, and words that may stand for another one."""
    classes: dict[str, int] = {}
    synonyms: dict[str, str] = {}
    akin: dict[str, str] = {}
    for head, *members in (*tables.groups("company_words"), *tables.groups("plain_words")):
        if head in _CLASSES:
            classes |= dict.fromkeys(members, _CLASSES[head])
        elif head == "number":
            for word, to in (m.split(":") for m in members):
                classes[word], synonyms[word] = NUMBER, to
        elif head == "level":
            classes |= {word: LEVEL - int(bits) for word, bits in (m.split(":") for m in members)}
        elif head == "ends":
            continue
        elif head == "akin":
            akin = dict(m.split(":") for m in members)
        elif head == "direction":
            for word, to in (m.split(":") for m in members):
                for spelled in (word, *(w for w in _slips(word, 7) if not word.startswith(w)), *_with_another_letter(word)):
                    classes.setdefault(spelled, DIRECTION)
                    synonyms.setdefault(spelled, f"direction {to}")
        else:
            synonyms |= dict.fromkeys(members, head)
            if _shared(said := classes.get(head, WORD)):
                classes |= {m: said for m in members if m not in classes}
    towns = {m: head for head, *members in tables.groups("place_words") for m in members if len(m) >= _TOWN}
    synonyms |= {town: synonyms.get(head, head) for town, head in towns.items() if town not in synonyms and town not in classes}
    _add_given_names(classes, akin)
    for word, meant in [*synonyms.items(), *((head, head) for head in dict.fromkeys(synonyms.values()))]:
        cls = classes.get(word)
        if " " not in word and (cls is None or _shared(cls)):
            slips = [w for w in _slips(word) if w not in synonyms and w not in classes]
            synonyms |= dict.fromkeys(slips, meant)
            classes |= dict.fromkeys(slips, cls) if cls is not None else {}
    akin |= {word: akin[meant] for word, meant in synonyms.items() if meant in akin}
    return classes, synonyms, akin


@cache
def stems_of_words() -> dict[str, str]:
    """How words begin that mean one of the canonical words, in languages that decline and derive them."""
    return {stem: head for head, *members in tables.groups("word_stems") for stem in members}


def legal_forms() -> frozenset[str]:
    """Words that are legal forms, folded."""
    return tables.members("company_words", "legal")


@cache
def ends_of_words() -> tuple[str, ...]:
    """Words that make another one with a word before them: Stadtwerke is not short for Stadt, nor Postbank for Post."""
    return tuple(word for head, *members in tables.groups("company_words") if head == "ends" for word in members)


def _shared(cls: int) -> bool:
    """Whether the other words for one of this class, and its slips, say what it says."""
    return cls in (FILLER, PART, SCHOOL) or cls < LEVEL


def _add_given_names(classes: dict[str, int], akin: dict[str, str]) -> None:
    """Adds the given names people bear to the classes, and to `akin` those that are one name spelled otherwise (Jon, John)."""
    for head, *others in tables.groups("nicknames"):
        formal, *others = others if head == ONE_NAME else (head, *others)
        for name in (formal, *others):
            one = name != formal and (head == ONE_NAME or _a_letter_apart(name, formal))
            for ending in ("", "s"):  # Mary, Mary's
                if len(name) > 2:
                    classes.setdefault(name + ending, GIVEN)
                if one:
                    akin.setdefault(name + ending, formal + ending)


@cache
def given_names() -> frozenset[str]:
    """The given names among the words of firms."""
    return frozenset(word for word, cls in words_of_firms()[0].items() if cls == GIVEN)


def _a_letter_apart(name: str, other: str) -> bool:
    """Whether leaving out a letter of one or both makes them the same."""
    return not {name, *_without_a_letter(name)}.isdisjoint({other, *_without_a_letter(other)})


def _without_a_letter(name: str) -> list[str]:
    return [name[:k] + name[k + 1 :] for k in range(len(name))]


@cache
def countries_of_forms() -> dict[str, int]:
    """Legal forms, and the countries that have each, a bit each."""
    known: dict[str, int] = {}
    for bit, (_, *forms) in enumerate(tables.groups("legal_forms")):
        known |= {form: known.get(form, 0) | 1 << bit for form in forms}
    return known


@cache
def endings() -> tuple[str, ...]:
    """What may stand behind a firm's name in its domain: legal forms, words that many firms have, countries."""
    forms = {form for form in countries_of_forms() if form.isalpha()}
    many = {"co", "company", "ltd", "limited", "group", "global", "holding", "international", "intl", "uk"}
    return tuple(sorted(forms | many | {country.alpha_2.lower() for country in pycountry.countries}))
