"""Headings as plain words."""

from __future__ import annotations

import re
from collections.abc import Iterable
from functools import cache, lru_cache

import pyarrow as pa

from brujula import tables
from brujula.core.batch import Texts
from brujula.core.steps.text import fold
from brujula.intake.twice import once

OURS = "brujula"
"""Begins the heading of a column that a load into a file adds for a field, beside one of the list's own: brujula city."""


_COMPOUND = re.compile(
    r"\b(factuur|vestigings|bedrijfs|(?:post|woon)(?=postcode)|rechnungs|liefer|lever|bezoek|firmen|schul|vereins|privat|betriebs|faktura|leverans|leverings|laskutus|toimitus)"
    r"(postcode|plz|ort|plaats|woonplaats|adres|adresse|adress|anschrift|strasse|straat|land|gatuadress|postnr|postnummer|postort|poststed|sted|osoite|postinumero|postinro|postitoimipaikka|paikkakunta)\b"
)
"""Parts of an address and which address it is, in one word: Factuurplaats."""
_GLUED = re.compile(
    r"\b(cust|customer|client|contact|bill|billing|ship|shipping|mail|mailing|home|work|office|business|bus|school|company|org|organization|person|pers|member|mbr|student|patient|vendor|supplier|acct|account|emp|employee|owner|agent|kunden|kunde|klant|klient|cliente)"
    r"(name|nm|first|last|fname|lname|firstname|lastname|addr|addr1|addr2|address|address1|address2|street|street1|street2|city|state|zip|zipcode|phone|phone1|tel|email|mail|country|county|contact|plz|ort|strasse|telefon|adres|plaats|postcode)\b"
)
"""The same as databases have them: CUSTCITY, billzip."""
_UNSPACED = re.compile(
    r"\b(\w{2,}?)(xingming|shiming|mingcheng|youxiang|dianziyoujian|meruadoresu|dianhua|dianhuahaoma|dianhuafanhao|shouji|shoujihao|shoujihaoma|dezhi|zhuzhi|zhusuo|seongmyeong|juso|jeonhwabeonho)\b"
)
"""What is called and whose it is, in writing without spaces: 会员姓名, 집주소."""


_INDEXED = re.compile(r"(?i)(?<=[a-z])(?:(?<=ss)es|s)?[\[./](\d{1,2})\]?[\[./]+(?=[a-z])")
"""The place of an item among several, where nested data was made a table: addresses[0].city, emails.0.value, phones/1/number."""


def _of_an_item(found: re.Match[str]) -> str:
    at = int(found[1])
    return f" {at + 1} " if at else " "


def unindexed(heading: str) -> str:
    """A heading with an item's place counted from one, and the first item's left out: addresses[1].city is address 2 city."""
    return _INDEXED.sub(_of_an_item, heading).rstrip("]") if _INDEXED.search(heading) else heading


@lru_cache(1024)
def folded(heading: str) -> str:
    """A heading as plain lower-case words: `FirstName`, `first_name` and `First name` are one."""
    spaced = re.sub(r"([a-z])([A-Z])", r"\1 \2", unindexed(once(heading)).replace("°", "º").replace("〒", "postcode "))
    spaced = re.sub(r"(?i)\bč\.", "číslo ", spaced)  # Č.p. is the number of a house, C.P. a postal code
    words = fold(Texts.of([spaced]))
    if len(words.vocabulary) == 0:
        return ""
    plain = " ".join(words.vocabulary.arrow().take(pa.array(words.ids)).to_pylist())
    for run_together in (_UNSPACED, _COMPOUND, _GLUED):
        plain = run_together.sub(r"\1 \2", plain)
    return plain


@cache
def _others(which: str) -> frozenset[str]:
    return frozenset(word for head, *words in tables.groups("other_headings") if which in head.split() for word in words)


def asked_for(heading: str) -> str:
    """The folded heading, and of a question (What is your full name?) what it asks for."""
    plain = folded(heading)
    words = plain.split()
    if len(words) > 1 and re.fullmatch(r"q\d+", words[0]):  # the number of the question
        words = words[1:]
        plain = " ".join(words)
    if len(words) > 1 and ("?" in heading or words[0] in _others("asking")):
        return " ".join(w for w in words if w not in _others("asking") | _others("besides")) or plain
    return plain


@cache
def _in_full() -> dict[str, str]:
    return {short: word for word, *shorts in tables.groups("heading_short") for short in shorts}


def in_full(plain: str) -> str:
    """A folded heading of several words with those that are written short in full: cust nbr is customer number."""
    words = plain.split()
    return " ".join(_in_full().get(w, w) for w in words) if len(words) > 1 else plain


def says_other(which: str, words: set[str]) -> bool:
    """Whether a heading of these words stands over what no field of ours holds: bare `numbers`, also those `numbering` records, `any` values, the title of `works`, or a mailbox, number or name that is `anothers` or `relatives`."""
    return not _others(which).isdisjoint({*words, *(word.removesuffix("s") for word in words)})


def said_among(which: str, words: Iterable[str]) -> frozenset[str]:
    """Those of the words that are among these others."""
    return _others(which).intersection(words)


def leads(words: set[str]) -> bool:
    """Whether a heading of these words is of who leads a firm, and teaches nobody."""
    return says_other("leaders", words) and not says_other("teachers", words)


_POSTAL_CODE = re.compile(r"\b(?:postal (?:code|zip|cd)|(?:code|codigo|cod|codice) postale?)\b")


def which_address(heading: str) -> frozenset[str]:
    """The words of a heading that say of which of several addresses it is (billing, home); none for most, a postal code among them."""
    return _others("addresses") & frozenset(_POSTAL_CODE.sub("", folded(heading)).split())


def numbers_records(heading: str) -> bool:
    """Whether a heading says that a number or code is the record's, and not an order's, an amount or a fax (Nr, Código; no Room no)."""
    words = set(folded(heading).split())
    besides = words - _others("numbering")
    return besides != words and not says_other("numbers", besides) and not says_other("any", besides)


_NUMBERING = re.compile(r"(?:nr|nummer|numer|cislo|numarasi|szam|kodu|kodeu|beonho|bianhao|bianma|fanhao|[a-z]{3}id)$")


def is_of_numbers(heading: str) -> bool:
    """Whether a heading begins or ends with a word for a number or a code, or is run together with one: Mem No, Šifra kupca, Kursistnr."""
    words = folded(heading).split()
    return bool(words) and (
        heading.rstrip().endswith("#")
        or not _others("numbering").isdisjoint((words[0], words[-1]))
        or _NUMBERING.search(words[-1]) is not None
    )


OF_A_SORT = frozenset("type typ tipo art label".split())
"""Words of a heading over what sort of a thing stands in another column."""

WITHIN_A_FIRM = frozenset("department departments dept division abteilung team section beat".split())
"""What firms are divided in: Music, Technology."""


def says_of_what_sort(heading: str) -> bool:
    """Whether a heading asks of what sort another column's value is: Phone type, E-mail 1 - Label, Tipo de endereço."""
    words = [w for w in folded(heading).split() if not w.isdigit()]
    return len(words) > 1 and (words[-1] in OF_A_SORT or (words[0] in OF_A_SORT and words[1] in ("of", "de", "di", "der")))


_HEADS = frozenset("first last forename surname preferred title".split())


def is_of_a_head(words: set[str]) -> bool:
    """Whether a heading of these words is of the head of a school (HeadFirstName), and not of a head office."""
    return words == {"head"} or ("head" in words and not _HEADS.isdisjoint(words))
