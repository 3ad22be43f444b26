"""A person's own page on a network, or the name they go by there: https://…/in/harrow-lind-12, @harrowlind."""

from __future__ import annotations

from typing import Any, NamedTuple
from urllib.parse import unquote

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Batch, Column, Keys, Texts
from brujula.core.kind import Compared, Comparison, Example, Identity, Kind, Level, Who
from brujula.core.steps import joining
from brujula.core.steps.patterns import captured, replaced
from brujula.core.steps.placeholders import NOTHING, PLACEHOLDERS
from brujula.core.steps.sharing import Counts, as_common, counts_of, owners, share_shared, shares
from brujula.core.steps.text import hash_values, of_records, without
from brujula.tables.hosts import registrable

_FOLDERS = "in|pub|people|person|user|users|u|profile|profiles|profil|perfil|member|members|id|author|authors|add"
_OF_A_FIRM = r"/(?:company|companies|school|showcase|groups?|pages?|events?|jobs?|organi[sz]ations?)/"
_PAGE = (
    rf"^(?:(?P<host>[^/@\s]+\.[^/@\s]+)/+|/+)?(?:(?:{_FOLDERS})/+)*"
    r"(?:@|(?:profile\.php|citations)\?(?:[^#\s]*&)?(?:user|id)=)?(?P<page>[^?&#\s]+)"
)
_TAIL = r"/(?:[a-z]{2}(?:-[a-z]{2})?|about|posts|photos|(?:details|recent-activity|overlay)(?:/.*)?)/*$|/+$"
"""What may stand behind a page and is the same: a language, a part of it. All else is the page's: /pub/harrow-lind/12/345 and /678 are two people."""
_SEVERAL = 3
"""A page that so many people give, by their names (two may be one who married), is a firm's or a club's."""


class Pages(NamedTuple):
    """Pages of n records, 0 where blank: the page, the network where one is named, how common each page is, and how many have it by their names."""

    key: Keys
    site: Keys
    shares: NDArray[np.float32]
    owners: NDArray[np.int32]


def pages(texts: Texts) -> tuple[pa.Array, pa.Array]:
    """The network's domain, "" where only a name is given, and the page of each address; both "" where it is no one person's."""
    plain = pc.utf8_lower(texts.arrow())
    coded = pc.match_substring(plain, "%")
    if pc.any(coded).as_py():
        plain = pc.replace_with_mask(
            plain, coded, pa.array([unquote(t).lower() for t in plain.filter(coded).to_pylist()], plain.type)
        )
    place = replaced(plain, r"^\s*(?:https?[;,.]?:?/+)?(?:www\.)?|\s+$", "")
    found = captured(place, _PAGE)
    host, page = (pc.fill_null(pc.struct_field(found, part), "") for part in ("host", "page"))
    page = replaced(page, _TAIL, "")
    # An address that ends with its host is the network's.
    none = pc.or_(
        pc.match_substring_regex(place, _OF_A_FIRM), pc.match_substring_regex(place, r"^[^/@\s]+\.[a-z]{2,}/*(?:[?#].*)?$")
    )
    none = pc.or_(none, pc.less(pc.utf8_length(page), 3))
    return pc.if_else(none, "", registrable(host)), pc.if_else(none, "", page)


class Profile(Kind):
    """Scheme, language, folder and what follows the page do not count; a firm's page is nobody's, and pages of two networks, or a page and the name of another, are not compared."""

    name = "profile"
    parts = ("profile",)
    personal = ("page",)
    headings = {
        "profile": """profile | profile url | profile link | profile page | public profile | public profile url | social profile | linkedin | linkedin url | linkedin profile
            | linkedin profile url | linkedin link | linkedin page | person linkedin url | contact linkedin | contact linkedin url | linkedin id | xing | xing url | xing profil | profil url | profil linkedin
            | perfil | perfil linkedin | url perfil | profilo linkedin | orcid | orcid id | github | github url | twitter | twitter handle | twitter url | social handle | social url | handle"""
    }
    comparisons = (
        Comparison(
            "profile",
            (
                Level("another page", "differs", 0.06, 0.9994),
                Level("a page several have", "partial", 0.01, 0.0004, rare=True),
                Level("the same page", "same", 0.93, 0.0001, rare=True),
            ),
        ),
    )
    examples = (
        Example(
            {"profile": "https://www.reeds.example/in/harrow-lind-12?from=search"},
            {"profile": "reeds.example/in/harrow-lind-12/"},
            {"profile": "same"},
        ),
        Example({"profile": "https://de.reeds.example/in/harrow-lind-12/de"}, {"profile": "harrow-lind-12"}, {"profile": "same"}),
        Example(
            {"profile": "http://reeds.example/in/jos%C3%A9-lind"}, {"profile": "reeds.example/in/josé-lind"}, {"profile": "same"}
        ),
        Example({"profile": "@harrow.lind"}, {"profile": "https://brass.example/Harrow.Lind"}, {"profile": "same"}),
        Example(
            {"profile": "reeds.example/in/harrow-lind-12"}, {"profile": "reeds.example/in/harrow-lind-13"}, {"profile": "differs"}
        ),
        Example({"profile": "reeds.example/in/harrow-lind"}, {"profile": "brass.example/harrow-lind"}, {"profile": "blank"}),
        Example({"profile": "reeds.example/in/harrow-lind"}, {"profile": "@harrowreeds"}, {"profile": "blank"}),
        Example(
            {"profile": "reeds.example/pub/harrow-lind/12/345/678"},
            {"profile": "reeds.example/pub/harrow-lind/9/87/654"},
            {"profile": "differs"},
        ),
        Example(
            {"profile": "https://reeds.example/citations?hl=de&user=hLx4"},
            {"profile": "reeds.example/citations?user=hLx4&hl=en"},
            {"profile": "same"},
        ),
        Example({"profile": "@harrowlind"}, {"profile": "@harrowreeds"}, {"profile": "differs"}),
        Example({"profile": "reeds.example/company/harrow"}, {"profile": "reeds.example/company/harrow"}, {"profile": "blank"}),
        Example({"profile": "https://www.reeds.example/"}, {"profile": "https://www.reeds.example/"}, {"profile": "blank"}),
    )

    def clean(self, column: Column) -> Column:
        """Placeholders are blank."""
        return without(column, PLACEHOLDERS, NOTHING)

    def standardise(self, batch: Batch, identity: Identity) -> Pages:
        """Pages and networks as keys."""
        column = batch.column("profile")
        site, page = (of_records(hash_values(Texts.of(part)), column) for part in pages(column.values))
        giving = owners(page, identity().rough) if column.filled.any() else np.zeros(len(batch), np.int32)
        return Pages(page, site, shares(page, batch.counting) * share_shared(page, giving), giving)

    def joined(self, held: Pages, records: NDArray[np.int32], asked: Pages, who: Who) -> Pages:
        """Pages of some of the records held, and of others behind them."""
        joined = joining.of_records(held, records, asked)
        return joined._replace(owners=np.maximum(joined.owners, owners(joined.key, who.rough)))

    def counts(self, standard: Pages) -> tuple[Counts, Counts]:
        """Share and owners of each page."""
        return counts_of(standard)

    def settle(self, standard: Pages, counts: tuple[Counts, Counts]) -> Any:
        """Pages as common as among all records."""
        return as_common(standard, counts)

    def keys(self, standard: Pages) -> dict[str, Keys]:
        """`page`."""
        return {"page": standard.key}

    def compare(self, standard: Pages, left: Any, right: Any) -> dict[str, Compared]:
        """One comparison, profile."""
        a, b = standard.key.take(left), standard.key.take(right)
        site, other = standard.site.take(left), standard.site.take(right)
        # A name alone may be one of any network: it says something only where it is the page's.
        elsewhere = np.where((site != 0) & (other != 0), site != other, ((site != 0) | (other != 0)) & (a != b))
        different, several, same = range(3)
        out = np.where((a == 0) | (b == 0) | elsewhere, -1, np.where(a == b, same, different)).astype(np.int8)
        agree = out == same
        out[agree & (np.maximum(standard.owners.take(left), standard.owners.take(right)) >= _SEVERAL)] = several
        return {"profile": Compared(out, np.where(agree, standard.shares[left], 0).astype(np.float32))}
