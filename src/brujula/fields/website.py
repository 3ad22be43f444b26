"""A website: the registrable domain is what counts."""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Batch, Column, Keys, Texts
from brujula.core.kind import Compared, Comparison, Example, Identity, Kind, Level, Who
from brujula.core.steps import joining
from brujula.core.steps.distinct import distances
from brujula.core.steps.listed import among
from brujula.core.steps.patterns import captured, replaced
from brujula.core.steps.placeholders import PLACEHOLDERS
from brujula.core.steps.sharing import shares
from brujula.core.steps.text import domains_in_letters, hash_values, of_records, without
from brujula.tables.hosts import registrable
from brujula.tables.mailboxes import free

_HOLLOW = {
    "www.none.com",
    "none.com",
    "www.na.com",
    "www.test.com",
    "test.com",
    "example.com",
    "www.example.com",
    "http://",
    "https://",
    "www.",
    "www.website.com",
    "no website",
    "nowebsite",
    "http://none",
    "http://na",
    "noweb",
    "www.unknown.com",
    "www.noweb.com",
    "facebook.com",
    "www.facebook.com",
    "linkedin.com",
    "instagram.com",
    "google.com",
    "gmail.com",
}
_DIFFERS, _PART, _LABEL, _TYPO, _SAME, _MAIL = range(6)


class Sites(NamedTuple):
    """Domains of n records; key 0 where blank.

    part      : what stands before the domain (law.harrow.example)
    mail      : where a record gives no site, its mailbox's domain, if that is a firm's
    """

    codes: NDArray[np.int32]
    texts: Texts
    domain: Keys
    part: Keys
    mail: Keys
    label: Keys
    label_size: NDArray[np.int64]
    shares: NDArray[np.float32]


_NO_PART = frozenset(
    """www www1 www2 www3 web m mobile mobil wap shop store tienda boutique blog news home start portal info mail webmail online site about my app go old new en de fr es it
pt nl pl cs sk sv da no fi hu ro ru uk us ca eu secure support help intranet cms wp test dev staging""".split()
)
"""What may stand before a firm's domain and is the same firm."""
_PAGES = frozenset(
    """facebook.com fb.com fb.me instagram.com linkedin.com twitter.com x.com youtube.com tiktok.com pinterest.com google.com linktr.ee etsy.com yelp.com
tripadvisor.com meetup.com eventbrite.com vk.com t.me wa.me soundcloud.com vimeo.com medium.com bit.ly goo.gl tinyurl.com t.co ow.ly youtu.be""".split()
)
"""Sites that give many firms a page each: the page is the site. A host of the same kind that gives names (harrow.wordpress.com) is a suffix."""
_PAGE = (
    r"^[^/]*/+(?:(?:company|in|school|pages|pg|people|groups|c|channel|user|biz|shop|showcase|view|site|category|maps|place|search|embed)/)*"
    r"(?:@|profile\.php\?id=)?(?P<page>[^/?#\s]+)"
)


def sites(texts: Texts) -> tuple[pa.Array, pa.Array, pa.Array]:
    """Registrable domain of each address, its first label, and what stands before the domain and may be a part of a firm; "" where there is none.

    Where a site gives many a page each the page counts as its domain: facebook.com/harrow, harrow; without a page it says nothing.
    """
    place = replaced(pc.utf8_lower(texts.arrow()), r"^\s*(?:[a-z][a-z0-9+-]*:/*|https?[;,.]?/+|/+)?([^/@]*@)?", "")
    host = replaced(replaced(place, r"^www[.,\s]+", ""), r"\.*[/?#:\s,;|<>()].*$|\.+$", "")
    host = domains_in_letters(host)
    domain = registrable(host)
    part = _before(host, domain)
    label = replaced(domain, r"\..*$", "")
    paged = among(domain, _PAGES)
    if pc.any(paged).as_py():
        page = pc.fill_null(pc.struct_field(captured(place, _PAGE), "page"), "")
        named = pc.binary_join_element_wise(domain, page, pa.scalar("/", pa.large_string()))
        domain = pc.if_else(paged, pc.if_else(pc.equal(page, ""), "", named), domain)
        label = pc.if_else(paged, page, label)
    return domain, label, part


def _before(host: pa.Array, domain: pa.Array) -> pa.Array:
    """The label before each host's domain; "" where none stands there, or one that a firm's own pages bear."""
    longer = pc.not_equal(host, domain)
    out = pa.array([""], host.type).take(pa.array(np.zeros(len(host), np.int8)))
    if not pc.any(longer).as_py():
        return out
    host, domain = host.filter(longer), domain.filter(longer)
    labels, part = pc.add(pc.count_substring(domain, "."), 1), pa.nulls(len(host), host.type)
    for n in range(1, min(pc.max(labels).as_py(), 4) + 1):
        found = pc.struct_field(captured(host, rf"(?P<part>[^.]+)(?:\.[^.]+){{{n}}}$"), "part")
        part = pc.if_else(pc.equal(labels, n), found, part)
    part = pc.fill_null(part, "")
    return pc.replace_with_mask(out, longer, pc.if_else(among(part, _NO_PART), "", part))


def firms_domains(column: Column) -> Column:
    """The domain that each mail address or website is at; blank where it is a provider's, or a page on a site of many."""
    domain, _, _ = sites(column.values)
    coded = domain.dictionary_encode()
    named = coded.dictionary
    nobodys = pc.or_(pc.or_(free(named), pc.equal(named, "")), pc.match_substring(named, "/"))
    codes = np.append(coded.indices.to_numpy(), -1)[column.codes].astype(np.int32)
    return Column(Texts.of(named), codes).where(pc.invert(nobodys).to_numpy(zero_copy_only=False))


class Website(Kind):
    """Scheme, www and path do not count; a close spelling or another ending is close; two parts of one site may be two of one house."""

    name = "website"
    alone = "domain"
    parts = ("website",)
    beside = ("email",)
    headings = {
        "website": """website | web | url | homepage | web site | site | web address | www | domain | internet | webseite |
            pagina web | sitio web | site web | site internet | sito | sito web | strona | strona www | company
            website | webadresse | online | company domain | domain name | pagina internet | internetseite | internetadresse | witryna | website url"""
    }
    comparisons = (
        Comparison(
            "website",
            (
                Level("different", "differs", 0.12, 0.9988),
                Level("another part of the site", "partial", 0.02, 0.0003, rare=True),
                Level("other ending", "partial", 0.03, 0.0002),
                Level("misspelled", "close", 0.03, 0.00003),
                Level("same", "same", 0.77, 0.00012, rare=True),
                Level("the mailbox's domain", "close", 0.04, 0.0001, rare=True),
            ),
        ),
    )
    examples = (
        Example({"website": "https://www.harrow-reed.example/about"}, {"website": "harrow-reed.example"}, {"website": "same"}),
        Example({"website": "shop.harrow.co.uk"}, {"website": "http://harrow.co.uk/"}, {"website": "same"}),
        Example({"website": "harrowreed.example"}, {"website": "harowreed.example"}, {"website": "close"}),
        Example({"website": "hrb.example"}, {"website": "hrw.example"}, {"website": "differs"}),
        Example({"website": "facebook.com/harrow"}, {"website": "https://m.facebook.com/harrow/"}, {"website": "same"}),
        Example({"website": "facebook.com/harrow"}, {"website": "facebook.com/lind"}, {"website": "differs"}),
        Example({"website": "harrow.wordpress.com"}, {"website": "lind.wordpress.com"}, {"website": "differs"}),
        Example({"website": "harrow.k12.tx.us"}, {"website": "lind.k12.tx.us"}, {"website": "differs"}),
        Example({"website": "www.law.harrow.example"}, {"website": "reeds.harrow.example"}, {"website": "partial"}),
        Example({"website": "n/a"}, {"website": "www.none.com"}, {"website": "blank"}),
    )

    def clean(self, column: Column) -> Column:
        """Placeholders, and what has no dot, are blank."""
        return without(column, PLACEHOLDERS | _HOLLOW, r"^[^.]*$")

    def standardise(self, batch: Batch, identity: Identity) -> Sites:
        """Domain and label keys."""
        column = batch.column("website")
        domain, label, part = sites(column.values)
        texts = Texts.of(domain)
        key = of_records(hash_values(texts), column)
        labels = Texts.of(label)
        mail = np.zeros(len(batch), np.uint64)
        if batch.entity == "account":
            at = firms_domains(batch.column("email"))
            mail = np.where(key == 0, of_records(hash_values(at.values), at), mail)
        return Sites(
            column.codes,
            texts,
            key,
            of_records(hash_values(Texts.of(part)), column),
            mail,
            of_records(hash_values(labels), column),
            np.append(np.diff(labels.offsets), 0),
            shares(key | mail, batch.counting),
        )

    def joined(self, held: Sites, records: NDArray[np.int32], asked: Sites, who: Who) -> Sites:
        """Sites of some of the records held, and of others behind them."""
        codes = held.codes[records]
        values = joining.Values.of(codes)
        # The last size is that of no label.
        sizes = np.append(values.each(held.label_size[:-1], asked.label_size[:-1]), 0)
        apart = {"codes": values.codes(codes, asked.codes), "texts": values.texts(held.texts, asked.texts), "label_size": sizes}
        return joining.of_records(held, records, asked, **apart)

    def keys(self, standard: Sites) -> dict[str, Keys]:
        """`domain`, or the mailbox's where no site is given, and the site's first label, `site`."""
        return {"domain": standard.domain | standard.mail, "site": standard.label}

    def compare(self, standard: Sites, left: Any, right: Any) -> dict[str, Compared]:
        """One comparison, website."""
        s = standard
        site, other_site = s.domain.take(left), s.domain.take(right)
        known = (site != 0) & (other_site != 0)
        out, common = np.where(known, _DIFFERS, -1).astype(np.int8), np.zeros(len(left), np.float32)
        same = np.flatnonzero(known & (site == other_site))
        part, other_part = s.part.take(left[same]), s.part.take(right[same])
        apart = (part != 0) & (other_part != 0) & (part != other_part)
        out[same], common[same] = np.where(apart, _PART, _SAME), s.shares[left[same]]
        rest = np.flatnonzero(known & (site != other_site))
        a, b = left.take(rest), right.take(rest)
        code, other_code = s.codes.take(a), s.codes.take(b)
        distance = distances(s.texts, code, other_code)
        # Short labels are mostly initials: one letter apart they are two firms.
        short = np.minimum(s.label_size.take(code), s.label_size.take(other_code))
        out[rest[s.label.take(a) == s.label.take(b)]] = _LABEL
        out[rest[((distance <= 1) & (short >= 7)) | ((distance <= 2) & (short >= 12))]] = _TYPO
        mail, other_mail = s.mail.take(left), s.mail.take(right)
        at_site = np.flatnonzero(((site != 0) & (site == other_mail)) | ((other_site != 0) & (other_site == mail)))
        out[at_site], common[at_site] = _MAIL, s.shares[left[at_site]]
        return {"website": Compared(out, common)}
