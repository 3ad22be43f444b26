"""An e-mail address: mailbox, domain, and whether one person or many read it."""

from __future__ import annotations

import re
from collections.abc import Callable
from functools import cache
from typing import Any, NamedTuple

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Batch, Codes, Column, Keys, Texts
from brujula.core.kernels.contact import letters_of_name, other_initials_beside
from brujula.core.kind import Compared, Comparison, Example, Identity, Kind, Level, Who
from brujula.core.steps import joining
from brujula.core.steps.distinct import distances
from brujula.core.steps.listed import among, meant
from brujula.core.steps.parallel import in_chunks
from brujula.core.steps.patterns import captured, matches, replaced
from brujula.core.steps.placeholders import PLACEHOLDERS
from brujula.core.steps.sharing import Counts, both_known, mostly, owners, shares
from brujula.core.steps.text import Words, domains_in_letters, fold, hash_values, keys_without_case, of_records, without
from brujula.fields.website import firms_domains
from brujula.tables.hosts import registrable
from brujula.tables.mailboxes import free, mail_words, misspelled_domains

_NEVER = r"\s@,;:|/<>()\[\]\""  # what no address has in it that is not quoted
_SHAPE = rf"(?P<local>[^{_NEVER}]+)@(?P<domain>[^{_NEVER}]*[^{_NEVER}.])"
_SEVERAL, _FIRST = rf"@.*[{_NEVER}].*@", rf"^[^@]*@[^{_NEVER}]*"
_PLAIN = r"^[a-z0-9._+\-]+@[a-z0-9\-]+(\.[a-z0-9\-]+)+$"
_NOBODY = """test none noemail nomail no na unknown x xx xxx email mail abc asdf null a noreply nobody fake dummy""".split()
_HOLLOW = "^(" + "|".join(rf"{word}(\+[^@]*)?@{word}\." for word in _NOBODY) + ")"
_DIFFERS, _DOMAIN, _SHARED, _LOCAL, _NUMBERED, _TYPO, _SAME, _NAMED, _NUMBER, _HOST = range(10)
_NAMES = ("family_name", "given_name", "full_name")


@cache
def _second_domains() -> dict[str, str]:
    """Misspelled and second domains of providers, and the domain each stands for."""
    return {"googlemail.com": "gmail.com", **misspelled_domains()}


class Mailboxes(NamedTuple):
    """Mail addresses of n records, the other ones behind the first ones where there are such; keys are 0 where blank. n_records : n; stem : the part before the @ without the number behind; bare : without marks; site : the domain of the website given with a person, if it is a firm's; at_domain : how many people have one there; named : the letters before the @ in which the record's name stands, a bit each."""

    codes: NDArray[np.int32]
    texts: Texts
    full: Keys
    local: Keys
    stem: Keys
    bare: Keys
    domain: Keys
    site: Keys
    free: NDArray[np.bool_]
    role: NDArray[np.bool_]
    numbered: NDArray[np.bool_]
    owners: NDArray[np.int32]
    shares: NDArray[np.float32]
    local_shares: NDArray[np.float32]
    domain_shares: NDArray[np.float32]
    site_shares: NDArray[np.float32]
    at_domain: NDArray[np.int32]
    named: NDArray[np.uint64]
    n_records: int


def split(texts: Texts) -> tuple[pa.Array, pa.Array]:
    """Local part and domain of each text in standard form; null where it is no address."""
    lowered = pc.utf8_lower(texts.arrow())
    if not pc.all(pc.string_is_ascii(lowered)).as_py():
        lowered = pc.utf8_normalize(lowered, form="NFKC")  # wide letters of Chinese and Japanese keyboards
    # Nearly all are plain addresses, and splitting is ten times as fast as capturing.
    plain = matches(lowered, _PLAIN)
    halves = pc.split_pattern(pc.if_else(plain, lowered, "@"), "@")
    odd = pc.invert(plain)
    parts = captured(replaced(lowered.filter(odd), r"^\s*(?:mailto:)?\s*['‘’`]*|['‘’`]+\s*$|\?.*$", ""), _SHAPE)
    local = _mended(pc.list_element(halves, 0), odd, lambda _: pc.struct_field(parts, "local"))
    domain = _mended(pc.list_element(halves, 1), odd, lambda _: pc.struct_field(parts, "domain"))
    domain = domains_in_letters(domain)
    domain = pc.coalesce(meant(domain, _second_domains), domain)
    local = _mended(local, pc.match_substring(local, "+"), lambda x: replaced(x, r"(.)\+.*$", r"\1"))
    return _mended(local, pc.equal(domain, "gmail.com"), lambda x: pc.replace_substring(x, ".", "")), domain


def _mended(column: pa.Array, chosen: pa.Array, mend: Callable[[pa.Array], pa.Array]) -> pa.Array:
    """The column with the chosen texts mended; mostly there are none, and then it is not copied."""
    if not pc.any(chosen, min_count=0).as_py():
        return column
    chosen = pc.fill_null(chosen, False)
    return pc.replace_with_mask(column, chosen, mend(column.filter(chosen)))


@cache
def _desks() -> tuple[frozenset[str], frozenset[str]]:
    """Mailboxes that a desk reads, with and without what parts their words, and how they begin."""
    desks = mail_words("role") | {re.sub("[._-]", "", word) for word in mail_words("role")}
    return desks, frozenset(word[:4] for word in desks)


def _is_a_desks(local: pa.Array) -> NDArray[np.bool_]:
    """Which local parts are a desk's and not a person's: info, info2, info.uk, accounts-payable, customer_service. Behind more digits (staff12) it may be one of many people."""
    desks, beginnings = _desks()
    out = np.asarray(among(local, desks).to_numpy(zero_copy_only=False), bool)
    # Most begin like none, and need not be taken apart.
    near = among(pc.utf8_slice_codeunits(local, 0, 4), beginnings)
    some = local.filter(near)
    whole = replaced(replaced(some, r"([^0-9])[0-9]$", r"\1"), r"[._-]", "")
    first = replaced(some, r"[._-][a-z]{2,3}$", "")
    out[near.to_numpy(zero_copy_only=False)] |= pc.or_(among(whole, desks), among(first, desks)).to_numpy(zero_copy_only=False)
    return out


class Email(Kind):
    """Plus-tags, dots that do not count, role mailboxes, free-mail domains, slips of the finger."""

    name = "email"
    personal = ("mailbox", "local")
    parts = ("email", "other_email")
    beside = ("website",)
    headings = {
        "email": """email | e mail | mail | emails | e mails | email address | e mail address | mail address | mailadresse | e mail adresse |
            correo | correo electronico | courriel | adresse email | adresse e mail | indirizzo email | posta
            elettronica | emailadres | e mailadres | adres email | adres e mail | work email | business email |
            primary email | contact email | your email | email work | email 1 | endereco de email | electronic mail | adresse electronique | correo e | adres mailowy | email id | e mail id | email addr | general email | e post | eposta | mailadres""",
        "other_email": """other email | email 2 | e mail 2 | email2 | second email | secondary email | alternate email | alternative email | alternate e mail | other e mail | second e mail | secondary e mail |
            additional email | email other | email secondary | email address 2 | mail 2 | zweite e mail | weitere e mail | correo secundario | correo alternativo | autre email | email secondaire | altra email | email secondario | andere email | inny email | email alternativo | personal email | private email | home email | email personal | email private | email home | private e mail | personal e mail | correo personal | email perso | e mail privat | e mail private""",
    }
    comparisons = (
        Comparison(
            "email",
            (
                Level("different", "differs", 0.22, 0.985),
                Level("same domain", "partial", 0.06, 0.0003, rare=True, unit=True),
                Level("same shared mailbox", "partial", 0.03, 0.0002, rare=True, unit=True),
                Level("same name before the @", "partial", 0.03, 0.0004, rare=True),
                Level("same numbered name before the @", "close", 0.02, 0.00002, rare=True),
                Level("misspelled", "close", 0.04, 0.000004),
                Level("same", "same", 0.61, 0.00003, rare=True),
                Level("their name before the @", "partial", 0.02, 0.0004, silent=True),
                Level("another number or letter beside the name", "differs", 0.001, 0.004),
                Level("same but for the host", "close", 0.01, 0.000004),
            ),
        ),
    )
    examples = (
        Example({"email": "Ada.Quist+crm@gmail.com"}, {"email": "adaquist@googlemail.com"}, {"email": "same"}),
        Example({"email": "ada.quist@gmial.com"}, {"email": "adaquist@gmail.com"}, {"email": "same"}),
        Example({"email": "mailto:Ada Quist <ada@quist.example>"}, {"email": "ADA@QUIST.EXAMPLE"}, {"email": "same"}),
        Example({"email": "'ada@quist.example'"}, {"email": "mailto:ada@quist.example?subject=Reeds"}, {"email": "same"}),
        Example({"email": "ａｄａ@quist.example"}, {"email": "ada@quist.example"}, {"email": "same"}),
        Example({"email": "ada@music.quist.example"}, {"email": "bo@quist.example"}, {"email": "partial"}),
        Example({"email": "ada@mail.quist.example"}, {"email": "ada@quist.example"}, {"email": "close"}),
        Example({"email": "ada.quist@shop.exmaple"}, {"email": "ada.quist@shop.example"}, {"email": "close"}),
        Example(
            {"email": "aquist@quist.example", "given_name": "Ada", "family_name": "Quist"},
            {"email": "bquist@quist.example", "given_name": "B.", "family_name": "Quist"},
            {"email": "partial"},
        ),
        Example(
            {"email": "pilari@quist.example", "given_name": "Pilar", "family_name": "Iacob"},
            {"email": "pilarl@quist.example", "given_name": "Pilar", "family_name": "Lozano"},
            {"email": "partial"},
        ),
        Example({"email": "ada@quist.example"}, {"email": "ada.quist@quist.example"}, {"email": "partial"}),
        Example(
            {"email": "adaquist@gmail.com", "website": "www.harrow.example"},
            {"email": "ada@harrow.example"},
            {"email": "partial"},
        ),
        Example({"website": "https://harrow.example/staff"}, {"email": "", "website": "harrow.example"}, {"email": "partial"}),
        Example({"email": "", "website": "www.facebook.com/adaquist"}, {"email": "ada@facebook.com"}, {"email": "blank"}),
        Example({"email": "office@quist.example"}, {"email": "office@quist.example"}, {"email": "partial"}),
        Example({"email": "test@test.com"}, {"email": "test@test.com"}, {"email": "blank"}),
    )

    def is_told(self, batch: Batch) -> bool:
        """Whether the lists have anything that this kind compares; websites of people say who works at one place, too."""
        return super().is_told(batch) or (batch.entity == "contact" and "website" in batch.columns)

    def clean(self, column: Column) -> Column:
        """Placeholders and what is no mail address are blank."""
        column = without(column, PLACEHOLDERS | mail_words("placeholder"), r"^[^@]*$|^@|@$")
        if len(column.values) == 0:
            return column
        lowered = pc.utf8_lower(column.values.arrow())
        good = matches(lowered, _PLAIN)
        hollow = matches(lowered, _HOLLOW)
        rest = pc.invert(good)
        domain = split(Texts.of(lowered.filter(rest)))[1]
        good = pc.replace_with_mask(good, rest, pc.fill_null(pc.match_substring(domain, "."), False))
        return column.where(pc.and_(good, pc.invert(hollow)).to_numpy(zero_copy_only=False))

    def standardise(self, batch: Batch, identity: Identity) -> Mailboxes:
        """Mailbox, local part and domain keys, with how many people share each; of the other mailboxes, too, where a list has such."""
        column, places = _laid_out(batch, self.parts)
        local, domain = split(column.values)
        local, domain = pc.fill_null(local, ""), pc.fill_null(domain, "")
        plain = Texts.of(pc.binary_join_element_wise(local, domain, pa.scalar("@", pa.large_string())))
        coded = domain.dictionary_encode()
        domains, domain_of = coded.dictionary, coded.indices.to_numpy()
        # ada@music.harrow.example and ada@harrow.example are at one firm.
        owned = registrable(domains)
        anybodys = pc.or_(free(domains), free(owned)).to_numpy(zero_copy_only=False)[domain_of]
        role = _is_a_desks(local)
        numbered = matches(local, r"\d\d").to_numpy(zero_copy_only=False)
        full = of_records(hash_values(plain), column)
        local_key, domain_key = (
            of_records(hash_values(Texts.of(local)), column),
            of_records(hash_values(Texts.of(owned))[domain_of], column),
        )
        exact, rough = (np.tile(keys, places) for keys in identity()[:2])
        at_domain = owners(domain_key, exact)
        site = np.zeros(len(column), np.uint64)
        if batch.entity == "contact" and "website" in batch.columns:
            site[: len(batch)] = _sites(batch, identity()[0])
        at, counting = column.codes, None if batch.counting is None else np.tile(batch.counting, places)
        return Mailboxes(
            at,
            plain,
            full,
            local_key,
            of_records(hash_values(Texts.of(replaced(local, r"[._-]?[0-9]+$", ""))), column),
            of_records(hash_values(Texts.of(replaced(local, r"[._-]", ""))), column),
            domain_key,
            site,
            np.append(anybodys, False)[at] | _common(domain_key, at_domain, batch),
            np.append(role & ~anybodys, False)[at],
            np.append(numbered, False)[at],
            owners(full, rough),
            shares(full, counting) * np.float32(places),
            shares(local_key, counting) * np.float32(places),
            shares(domain_key, counting) * np.float32(places),
            shares(site, counting) * np.float32(places),
            at_domain,
            _letters_of_names(Column(Texts.of(local), at), batch, places),
            len(batch),
        )

    def joined(self, held: Mailboxes, records: NDArray[np.int32], asked: Mailboxes, who: Who) -> Mailboxes:
        """Mailboxes of some of the records held, and of others behind them: as many places of each as either has."""
        n, many = len(records), asked.n_records
        places = max(len(boxes.full) // max(boxes.n_records, 1) for boxes in (held, asked))
        held, asked = _widened(held, places), _widened(asked, places)
        at = (records + held.n_records * np.arange(places)[:, None]).reshape(-1)
        codes = held.codes[at]
        values = joining.Values.of(codes)
        texts = values.texts(held.texts, asked.texts)
        joined = joining.of_records(held, at, asked, codes=values.codes(codes, asked.codes), texts=texts, n_records=n + many)
        # Of each place those held, and behind them the others.
        own, other = np.arange(places * n).reshape(places, n), np.arange(places * many).reshape(places, many) + places * n
        joined = _of_each(joined, lambda values: values[np.concatenate([own, other], axis=1).reshape(-1)])
        return joined._replace(owners=np.maximum(joined.owners, owners(joined.full, np.tile(who.rough, places))))

    def counts(self, standard: Mailboxes) -> tuple[Counts, Counts, Counts]:
        """People per mailbox, which domains are providers', and people per domain."""
        free, at_domain = (Counts(standard.domain, x) for x in (standard.free, standard.at_domain))
        return Counts(standard.full, standard.owners), free, at_domain

    def settle(self, standard: Mailboxes, counts: tuple[Counts, Counts, Counts]) -> Mailboxes:
        """Mailboxes as shared, and domains as common, as among all records."""
        shared, free = counts[0].of(standard.full, 1), counts[1].of(standard.domain, 0) > 0
        at_domain = np.maximum(counts[2].of(standard.domain, 0), standard.at_domain).astype(np.int32)
        return standard._replace(
            owners=np.maximum(shared, standard.owners).astype(np.int32), free=standard.free | free, at_domain=at_domain
        )

    def keys(self, standard: Mailboxes) -> dict[str, Keys]:
        """`mailbox` and `local` of one person's mailboxes, `role` of shared ones, `domain` where it names an employer; shape (2, n) where there are other ones."""
        zero = np.uint64(0)
        found = {
            "mailbox": np.where(standard.role, zero, standard.full),
            "local": np.where(standard.role, zero, standard.local),
            "role": np.where(standard.role, standard.full, zero),
            "domain": np.where(standard.free | (standard.domain == 0), standard.site, standard.domain),
        }
        n = standard.n_records
        return found if len(standard.full) == n else {key: value.reshape(-1, n) for key, value in found.items()}

    def compare(self, standard: Mailboxes, left: Any, right: Any) -> dict[str, Compared]:
        """One comparison, email: the best over all mailboxes of both sides."""
        n, places = standard.n_records, range(len(standard.full) // max(standard.n_records, 1))
        out, common = _compared(standard, left, right)
        for i, j in [(i, j) for i in places for j in places if i or j]:
            a, b = (left + i * n).astype(np.int32), (right + j * n).astype(np.int32)
            at = np.flatnonzero((standard.full.take(a) != 0) & (standard.full.take(b) != 0))
            level, share = _compared(standard, a[at], b[at])
            better = _TELLING.take(level) > _TELLING.take(out[at])
            out[at[better]], common[at[better]] = level[better], share[better]
        if standard.site.any():
            for i in places:
                _by_site(standard, left, right, i * n, out, common)
                _by_site(standard, right, left, i * n, out, common)
        return {"email": Compared(out, common)}


_TELLING = np.array([0, 3, 4, 2, 5, 6, 7, 2, 1, 6, -1])
"""How much each level says, the last that of blank."""


def _laid_out(batch: Batch, parts: tuple[str, ...]) -> tuple[Column, int]:
    """The mailboxes of all records, and behind them their other ones, where the batch has such; and how many places there are."""
    columns = [batch.column(parts[0]), *(batch.columns[p] for p in parts[1:] if p in batch.columns)]
    columns += [second for c in columns if (second := _second(c)) is not None]
    if len(columns) == 1:
        return columns[0], 1
    texts = Texts.of(pa.concat_arrays([c.values.arrow() for c in columns]))
    behind = np.cumsum([0, *(len(c.values) for c in columns)])
    codes = [np.where(c.codes >= 0, c.codes + at, -1) for c, at in zip(columns, behind, strict=False)]
    return Column(texts, np.concatenate(codes).astype(np.int32)), len(columns)


def _second(column: Column) -> Column | None:
    """What stands behind the first address of cells that hold several; None where none does."""
    texts = column.values.arrow()
    at = np.flatnonzero(pc.fill_null(matches(texts, _SEVERAL), False).to_numpy(zero_copy_only=False))
    if len(at) == 0:
        return None
    place = np.full(len(texts) + 1, -1, np.int32)
    place[at] = np.arange(len(at))
    return Column(Texts.of(replaced(texts.take(pa.array(at)), _FIRST, "")), place[column.codes])


def _of_each(boxes: Mailboxes, change: Callable[[NDArray[Any]], NDArray[Any]]) -> Mailboxes:
    """The same with what there is of each mailbox changed."""
    form: Any = boxes
    changed: Mailboxes = form._replace(**{f: change(getattr(form, f)) for f in form._fields if f not in ("texts", "n_records")})
    return changed


def _widened(boxes: Mailboxes, places: int) -> Mailboxes:
    """The same with blank ones in further places."""
    more = places * boxes.n_records - len(boxes.full)
    wide = _of_each(boxes, lambda values: np.concatenate([values, np.zeros(more, values.dtype)]))
    return wide._replace(codes=np.concatenate([boxes.codes, np.full(more, -1, np.int32)])) if more else boxes


def _sites(batch: Batch, exact: Keys) -> Keys:
    """A key of the domain of the website given with each person, 0 = none, or nobody's own."""
    at = firms_domains(batch.column("website"))
    site = of_records(hash_values(at.values), at)
    return np.where(_common(site, owners(site, exact), batch), np.uint64(0), site)


def _common(domain: Keys, people: NDArray[np.int32], batch: Batch) -> NDArray[np.bool_]:
    """Whose domain is a provider's, listed or not: very many people use it, and they do not work at one place. It says nothing about an employer.

    domain : of each record, and of each in further places behind
    """
    common = people > max(40, 0.004 * len(batch))
    if not common.any():
        return common
    firm = keys_without_case(batch.column("account"))
    return common & (mostly(domain, np.tile(firm, len(domain) // len(batch))) < _ONE_FIRM)


def _by_site(s: Mailboxes, of: Any, other: Any, place: int, out: NDArray[np.int8], common: NDArray[np.float32]) -> None:
    """The pairs that nothing better is known of, of which one's website is the other's, or at the domain of the other's mailbox in a place."""
    at = np.flatnonzero((out <= _DIFFERS) & (s.site.take(of) != 0))
    a, b = of[at], other[at]
    box = (b + place).astype(np.int32)
    same, mailed = s.site[a] == s.site[b], (s.site[a] == s.domain[box]) & ~s.free[box]
    hit = same | mailed
    out[at[hit]] = _DOMAIN
    common[at[hit]] = np.maximum(s.site_shares[a], np.where(same, s.site_shares[b], s.domain_shares[box]))[hit]


def _compared(s: Mailboxes, left: Any, right: Any) -> tuple[NDArray[np.int8], NDArray[np.float32]]:
    """Levels and shares of pairs of mailboxes."""
    box, other_box = s.full.take(left), s.full.take(right)
    known = (box != 0) & (other_box != 0)
    out, common = np.where(known, _DIFFERS, -1).astype(np.int8), np.zeros(len(left), np.float32)
    same = np.flatnonzero(known & (box == other_box))
    a = left[same]
    out[same] = np.where(s.role[a] | (s.owners[a] >= 3), _SHARED, _SAME)
    common[same] = s.shares[a]
    rest = np.flatnonzero(known & (box != other_box))
    a, b = left.take(rest), right.take(rest)
    own, other_own = s.named.take(a), s.named.take(b)
    same_domain, by_role = s.domain.take(a) == s.domain.take(b), s.role.take(a) | s.role.take(b)
    local = (s.local.take(a) == s.local.take(b)) & ~by_role
    code, other_code = s.codes.take(a), s.codes.take(b)
    distance = distances(s.texts, code, other_code)
    short = np.minimum(s.texts.sizes(code), s.texts.sizes(other_code))
    # cwhite@ and whitec@ are two ways to make a mailbox of a name, not one with two slips.
    two_ways = same_domain & ~local & (own != 0) & (other_own != 0)
    # diana.wong@ and diana_wong@ of one provider belong to two as often as not: whoever came second took what was left.
    apart = two_ways & s.free.take(a) & ~s.numbered.take(a) & (s.bare.take(a) == s.bare.take(b))
    # A slip seldom falls on the first letter: rbailey@ and bbailey@ are Ruth and Brian.
    letters, begin = s.texts.data, s.texts.offsets
    turned = (s.texts.sizes(code) == s.texts.sizes(other_code)) & (letters[begin[code]] != letters[begin[other_code]])
    turned &= (own | other_own) != 0
    near = ((distance <= 1) & ~apart & (short >= 10)) | ((distance <= 2) & (short >= 16) & (local | same_domain) & ~two_ways)
    near &= ~turned
    # Two domains that several people use each are two firms': no slip in the one made the other.
    near &= same_domain | ~both_known(s.at_domain.take(a), s.at_domain.take(b))
    # Nor on the last, where that is the initial of another word of the name: pilari@ and pilarl@ are Pilar Iacob and Pilar Lozano.
    lone = np.flatnonzero(near & two_ways & ~s.free.take(a) & (s.texts.sizes(code) == s.texts.sizes(other_code)))
    near[lone[_ends_otherwise(s.texts, code[lone], other_code[lone])]] = False
    at_work = same_domain & ~s.free.take(a)
    domain = np.flatnonzero(at_work)
    out[rest[domain]], common[rest[domain]] = _DOMAIN, s.domain_shares[a[domain]]
    local = np.flatnonzero(local)
    out[rest[local]] = np.where(s.numbered[a[local]], _NUMBERED, _LOCAL)
    common[rest[local]] = np.maximum(s.local_shares[a[local]], s.local_shares[b[local]])
    alike = local[~s.numbered[a[local]]]
    out[rest[alike[(own | other_own)[alike] != 0]]] = _NAMED
    # An organisation gives a name once, whatever host stands behind it: aquist4@mail.harrow.example.
    hosts = rest[local[same_domain[local]]]
    out[hosts], common[hosts] = _HOST, 0
    out[rest[apart]], common[rest[apart]] = _NAMED, np.maximum(s.local_shares[a[apart]], s.local_shares[b[apart]])
    typo = rest[near & ~by_role]
    out[typo], common[typo] = _TYPO, 0
    # Where two have one name, the second gets ada.quist2@, or asquist@.
    lone = np.flatnonzero(at_work & near & (distance == 1))
    found = np.zeros(len(lone), bool)
    other_initials_beside(code[lone], other_code[lone], s.texts.offsets, s.texts.data, own[lone], other_own[lone], found)
    beside = at_work & (s.stem.take(a) == s.stem.take(b)) & (own != 0) & (other_own != 0)
    beside[lone] |= found
    number = rest[beside]
    out[number], common[number] = _NUMBER, 0
    return out, common


def _ends_otherwise(texts: Texts, mailbox: Codes, other: Codes) -> NDArray[np.bool_]:
    """Of which pairs of mailboxes as long as each other the letter before the @ differs, and not the one before that."""
    place = pc.find_substring(texts.arrow().take(pa.array(mailbox)), "@").to_numpy(zero_copy_only=False)
    before, last = (
        [texts.data[texts.offsets[code] + np.maximum(place - back, 0)] for code in (mailbox, other)] for back in (2, 1)
    )
    return np.asarray((last[0] != last[1]) & (before[0] == before[1]))


_ONE_FIRM = 0.3
"""Share of a domain's people who give one firm, of those who give any: a firm has several names, and a provider's users have others."""


def _letters_of_names(box: Column, batch: Batch, places: int) -> NDArray[np.uint64]:
    """The letters before the @ in which the record's name stands (ada.quist, aquist, ada, aq), a bit each; 0 = none: else whoever bears the name may
    have the mailbox."""
    out = np.zeros(len(box.codes), np.uint64)
    for part in _NAMES:
        name = Column(batch.column(part).values, np.tile(batch.column(part).codes, places))
        words = fold(name.values)
        voc = words.vocabulary

        def some(s: int, e: int, name: Column = name, words: Words = words, voc: Texts = voc) -> None:
            codes = box.codes[s:e], name.codes[s:e]
            letters_of_name(
                codes[0], box.values.offsets, box.values.data, codes[1], words.offsets, words.ids, voc.offsets, voc.data, out[s:e]
            )

        in_chunks(some, len(box.codes), 65_536)
    return out
