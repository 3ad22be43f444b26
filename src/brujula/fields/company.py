"""A firm's name: legal form, abbreviations, acronyms, distinctive words; numbers and directions are never fuzzy."""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
import pyarrow as pa
from numpy.typing import NDArray

from brujula.core.batch import Batch, Codes, Column, Keys, Texts
from brujula.core.candidates import content_keys
from brujula.core.kernels.company import digit_apart, first_letters
from brujula.core.kernels.edits import scratch
from brujula.core.kernels.phrases import ACRONYM, ADDED, APART, CLOSE, DIFFERS, LONGER, NEARLY, SAME, SHARES
from brujula.core.kernels.words import GIVEN, NUMBER
from brujula.core.kind import Compared, Comparison, Example, Identity, Kind, Level, Who
from brujula.core.steps import cut, firm_cells, initials, joining, mail_firms, part_of, phrases
from brujula.core.steps.grams import index_trigrams
from brujula.core.steps.numbers import number
from brujula.core.steps.patterns import matches
from brujula.core.steps.placeholders import NOTHING, PLACEHOLDERS
from brujula.core.steps.sharing import Counts, owners, shares
from brujula.core.steps.shortened import learned
from brujula.core.steps.text import (
    Words,
    bits_of,
    fold,
    hash_values,
    join_keys,
    keys_without_case,
    of_records,
    unlike_letters,
    without,
)
from brujula.tables.firm_words import countries_of_forms, endings, ends_of_words, given_names, words_of_firms
from brujula.tables.hosts import registrable
from brujula.tables.mailboxes import free
from brujula.tables.places import by_one_name, city_table, joined, town_words, without_river

_NONE = {
    "self",
    "self employed",
    "self-employed",
    "selfemployed",
    "private",
    "privat",
    "retired",
    "freelance",
    "freelancer",
    "individual",
    "company",
    "no company",
    "student",
    "home",
    "personal",
    "selbstständig",
    "autónomo",
    "particulier",
    "particular",
    "sans",
    "unemployed",
    "household",
}


class Companies(NamedTuple):
    """Firm names of n records.

    phrases   : the name;  other : another reading of it (code -1 = none), one of the next four:
    listed    : the trading name behind `dba` or in another column
    called    : what it is called for short (2 where these are its letters, else 1)
    apart     : its words apart that run together
    local     : the name without the firm's own town, where a word stands before it
    bare      : the name without that town wherever it stands (code -1 = it does not);  placename : it is that town and nothing else
    town      : a key of the firm's own town;  placed : whether any is told, or a postal code
    script    : 1 where it has words in Latin letters, 2 in others, 3 both, 0 neither
    numbered  : a bit where the name has a number of three digits or more, another where it has a shorter one, a letter or a side
    whole     : a key of the whole name;  rare, second : of its rarest word and the next
    of_two    : a bit where no third firm has its rarest word, another where none has its second
    within    : the whole name without the word that says it is a department (0 = none does)
    houses    : which words for a house of learning or healing it has, a bit each
    shares    : the share of firms that have the whole name;  forms : where its legal form is known, a bit each
    initials  : the letters its words begin with
    short     : short words the lists themselves showed to stand for long ones
    domains   : of people whose firm is not named, the one their mailbox is at
    size      : how many firms there are (0 of people: colleagues share a name)
    """

    phrases: phrases.Phrases
    other: NDArray[np.int32]
    listed: NDArray[np.bool_]
    apart: NDArray[np.bool_]
    called: NDArray[np.int8]
    local: NDArray[np.bool_]
    bare: Codes
    placename: NDArray[np.bool_]
    town: Keys
    placed: NDArray[np.bool_]
    script: NDArray[np.int8]
    numbered: NDArray[np.int8]
    whole: Keys
    rare: Keys
    second: Keys
    of_two: NDArray[np.int8]
    within: Keys
    houses: NDArray[np.int32]
    shares: NDArray[np.float32]
    forms: NDArray[np.int32]
    initials: initials.Initials
    short: tuple[tuple[str, str], ...]
    domains: mail_firms.Domains
    size: int


class Company(Kind):
    """Legal forms and articles do not count; each word counts by how distinctive it is."""

    name = "company"
    identity = ("whole", "outline", "house")
    alone, by_two = "rare", "a word that no third firm has"
    parts = ("account", "name")
    beside = ("email",)
    headings = {
        "account": """account | company | org | org name | employer name | organisation | organization | employer | firm | account name | company name |
            business | organisation name | organization name | school | institution | workshop | firma | empresa |
            societe | entreprise | azienda | unternehmen | organisatie | bedrijf | organizacja | compania |
            organizacion | school name | band | agency | business name | nome empresa | nom de la societe | ragione
            sociale | where you play | schule | verein | centro | centro educativo | escuela | colegio |
            ecole | etablissement | scuola | istituto | szkola | orkest | ensemble | orchestra | orchester | kapelle | banda |
            grupo | association | asociacion | associazione | stowarzyszenie | vereniging | club | firmenname | arbeitgeber |
            employeur | empleador | charity | charity name | establishment | establishment name | facility | facility name | hospital name | university name | practice name | club name | store name | shop name | branch name | entity name | legal entity | entity legal name | legal business name | merchant | retailer | reseller | exhibitor | datore di lavoro | werkgever | pracodawca | instituicao | escola | instelling | firm name | organisme | ente | instytucja | organizzazione | institucion | ecole etablissement |
            works for | works for name | affiliation | affiliation name | razon social | razao social | raison sociale | nome fantasia | denominacao social | trade name | dba name""",
        "name": """name | account name | org name | org | company name | organisation | organization | company | firm | institution | school
            | organisation name | organization name | business name | legal name | trading name | dba name | firma | empresa |
            societe | entreprise | azienda | nome | nombre | nom | unternehmen | bedrijf | organizacja | school name
            | account | band name | workshop | nazwa | razon social | razao social | nome fantasia | denominacao social | trade name | raison sociale | ragione sociale | organisatie
            | supplier | vendor | manufacturer | dealer | lieferant | proveedor | fournisseur | fornitore | leverancier | dostawca | customer | client | firmenname | vereinsname | schulname | nombre de la empresa | denominacion | naam organisatie | naam | nom de l etablissement |
            nome da empresa | bedrijfsnaam | nazwa firmy | club | association | verein | escuela | ecole | scuola | szkola | escola | agency |
            institute | university | college | hospital | library | museum
            | charity | charity name | establishment | establishment name | facility | facility name | hospital name | university name | practice name | club name | store name | shop name | branch name | entity name | legal entity | entity legal name | legal business name | merchant | retailer | reseller | exhibitor""",
    }
    comparisons = (
        Comparison(
            "company",
            (
                Level("different", "differs", 0.10, 0.985),
                Level("another unit", "differs", 0.004, 0.003),
                Level("some words differ", "partial", 0.035, 0.010, rare=True, unit=True),
                Level("acronym", "partial", 0.015, 0.0006, unit=True),
                Level("same but for a legal form of another country", "close", 0.006, 0.00001, rare=True, unit=True),
                Level("words added or left out", "close", 0.06, 0.0009, rare=True, unit=True, bounded=True),
                Level(
                    "a rare name, words added or left out",
                    "close",
                    0.04,
                    0.00005,
                    rare=True,
                    unit=True,
                    bounded=True,
                    others=0.04,
                ),
                Level("nearly alike", "close", 0.02, 0.0001, rare=True, unit=True, bounded=True),
                Level("spelled differently", "close", 0.10, 0.00012, rare=True, unit=True, bounded=True),
                Level("same", "same", 0.68, 0.00005, rare=True, unit=True, alone=0.05),
                Level("as the mailbox's domain spells it", "close", 0.03, 0.00003, rare=True, unit=True),
                Level("a long number on one side only", "differs", 0.004, 0.003),
                Level("a digit of a long number apart", "differs", 0.004, 0.003),
                Level("a word that no third firm has", "partial", 0.03, 0.00002, unit=True, others=0.04),
                Level("initials that no third firm has", "partial", 0.01, 0.00002, unit=True, others=0.0005),
                Level("a unit on one side only", "differs", 0.004, 0.003),
            ),
        ),
    )
    examples = (
        Example({"account": "Harrow Ltd t/a The Red Reed"}, {"account": "The Red Reed"}, {"company": "same"}),
        Example({"account": "Harrow Branch E Inc."}, {"account": "Harrow Branch A Inc."}, {"company": "differs"}),
        Example({"account": "PJSC Harrow"}, {"account": "Harrow, Public Joint Stock Company"}, {"company": "same"}),
        Example({"account": "Harrow Reed A-S"}, {"account": "Harrow Reed A/S"}, {"company": "same"}),
        Example({"account": "Harrow spol. s r.o."}, {"account": "Harrow s.r.o."}, {"company": "same"}),
        Example({"account": "Harrow Sp. z o.o."}, {"account": "Harrow"}, {"company": "same"}),
        Example({"account": "Harrow Reed Works, Inc."}, {"account": "The Harrow Reed Works LLC"}, {"company": "same"}),
        Example({"account": "Harrow Reed Company, Inc."}, {"account": "Harrow Reed Co."}, {"company": "same"}),
        Example({"account": "Harrow University"}, {"account": "Harrow State University"}, {"company": "partial"}),
        Example({"account": "City of Orme", "city": "Orme"}, {"account": "Orme Brass", "city": "Orme"}, {"company": "differs"}),
        Example({"account": "City of Orme"}, {"account": "Orme Brass"}, {"company": "partial"}),
        Example({"account": "Orme Ltd", "city": "Orme"}, {"account": "Orme Brass", "city": "Orme"}, {"company": "partial"}),
        Example({"account": "Orme Brass - Orme", "city": "Orme"}, {"account": "Orme Brass", "city": "Orme"}, {"company": "same"}),
        Example({"account": "Harrow Reed Limoted"}, {"account": "Harrow Reed Limited"}, {"company": "same"}),
        Example({"account": "Harrow Reed S..A."}, {"account": "Harrow Reed S.A."}, {"company": "same"}),
        Example({"account": "Stadt Orme"}, {"account": "Stadtwerke Orme"}, {"company": "partial"}),
        Example({"account": "Orme Post"}, {"account": "Orme Postbank"}, {"company": "partial"}),
        Example({"account": "Quist I District"}, {"account": "Quist District"}, {"company": "differs"}),
        Example({"account": "JFK Reed School"}, {"account": "John F. Kennedy Reed School"}, {"company": "close"}),
        Example({"account": "Harrow Post No. #12"}, {"account": "Harrow Post 12"}, {"company": "same"}),
        Example({"account": "Harrow Dance Company"}, {"account": "Harrow Dance"}, {"company": "close"}),
        Example({"account": "Harrow &amp; Lind Reeds"}, {"account": "Harrow & Lind Reeds"}, {"company": "same"}),
        Example({"account": "St. Mary's School"}, {"account": "St. Mark's School"}, {"company": "partial"}),
        Example({"account": "Francis Quist Brass"}, {"account": "Frances Quist Brass"}, {"company": "partial"}),
        Example({"account": "Jon Quist Brass"}, {"account": "John Quist Brass"}, {"company": "close"}),
        Example({"account": "Holy Cross School"}, {"account": "Holy Crown School"}, {"company": "partial"}),
        Example({"account": "Harrow Intl. Svcs"}, {"account": "Harrow International Services"}, {"company": "same"}),
        Example({"account": "HarrowReedWorks"}, {"account": "Harrow Reed Works"}, {"company": "close"}),
        Example({"account": "Harrow Brass Branch 2"}, {"account": "Harrow Brass Branch 12"}, {"company": "differs"}),
        Example({"account": "HarrowReedWorks International"}, {"account": "Harrow ReedWorks"}, {"company": "close"}),
        Example({"account": "Université d'Orme"}, {"account": "University of Orme"}, {"company": "same"}),
        Example({"account": "Orme Brass (Орме Брасс)"}, {"account": "Orme Brass"}, {"company": "same"}),
        Example({"account": "Harrow Brass 212-555-0147"}, {"account": "Harrow Brass, www.harrow.example"}, {"company": "same"}),
        Example({"account": "Anna T. Wren Violins"}, {"account": "Anna Wren Violins"}, {"company": "same"}),
        Example({"account": "Anna T. Wren Violins"}, {"account": "Anna S. Wren Violins"}, {"company": "differs"}),
        Example({"account": "Harrow GmbH"}, {"account": "Harrow Inc."}, {"company": "close"}),
        Example({"account": "Southenr Harrow Brass"}, {"account": "Southern Harrow Brass"}, {"company": "same"}),
        Example({"account": "Harbourlogistics"}, {"account": "Harbour Software"}, {"company": "differs"}),
        Example({"account": "QuistBrothers Brass"}, {"account": "Quist Bros. Brass"}, {"company": "same"}),
        Example({"account": "HarrowBrass Ltd"}, {"account": "Harrow Software Ltd"}, {"company": "partial"}),
        Example({"account": "MediaReed Ltd."}, {"account": "MEDIAREED"}, {"company": "same"}),
        Example(
            {"account": "Harrow Reed Works S. de R.L. de C.V. Solana"},
            {"account": "Harrow Reed Works S. de R.L. de C.V."},
            {"company": "close"},
        ),
        Example({"account": "HaRN"}, {"account": "Harrow and Reed Northwest"}, {"company": "partial"}),
        Example({"account": "HRWB"}, {"account": "HRWD"}, {"company": "differs"}),
        Example({"account": "HRN"}, {"account": "Harrow Reed Northwest Company"}, {"company": "partial"}),
        Example({"account": "Harrow Reed Works (HRW)"}, {"account": "HRW"}, {"company": "close"}),
        Example({"account": "HRW - Harrow Reed Works"}, {"account": "Harrow Rohrblatt-Werke (HRW)"}, {"company": "close"}),
        Example({"account": "Usher Saxophones (USA)"}, {"account": "Harrow Reed Works (USA)"}, {"company": "differs"}),
        Example({"account": "Workshop Garcins"}, {"account": "Workshop Martins"}, {"company": "partial"}),
        Example({"account": "North Harrow Brass"}, {"account": "South Harrow Brass"}, {"company": "differs"}),
        Example({"account": "Harrow Brass"}, {"account": "Harrow Brass Repairs"}, {"company": "close"}),
        Example({"account": "Self"}, {"account": "Self"}, {"company": "blank"}),
        Example({"account": "青木製菓株式会社"}, {"account": "青木製菓(株)"}, {"company": "same"}),
        Example({"account": "青木 and 林家具"}, {"account": "清水自動車"}, {"company": "differs"}),
        Example({"account": "青木製菓"}, {"account": "Aoki Confectionery"}, {"company": "blank"}),
        Example(
            {"account": "ООО «Ромашка»"}, {"account": "Общество с ограниченной ответственностью Ромашка"}, {"company": "same"}
        ),
    )

    def clean(self, column: Column) -> Column:
        """Placeholders, and what says there is no firm, are blank."""
        return without(column, PLACEHOLDERS | _NONE, NOTHING)

    def standardise(self, batch: Batch, identity: Identity) -> Companies:
        """Core words, keys of all of them and of the most distinctive ones."""
        column = batch.column("name" if batch.entity == "account" else "account")
        column = cut.completed(column, batch.n_existing)
        readings, listed = firm_cells.other_readings(firm_cells.plain(column)), np.zeros(len(batch), bool)
        if batch.known_as is not None:
            names = firm_cells.of_one(self.clean(batch.known_as), column, batch.n_existing)
            readings, listed = firm_cells.beside(readings, firm_cells.plain(names))
        column, other, apart, called = readings
        classes, synonyms, akin = words_of_firms()
        column, given = firm_cells.given_first(column, given_names())
        short: tuple[tuple[str, str], ...] = ()
        theirs: Keys = np.zeros(0, np.uint64)
        spoken = phrases.parse(column, dict.fromkeys(given, GIVEN) | classes, synonyms, "/", akin, ends_of_words())
        letters = [
            matches(column.values.arrow(), p).to_numpy(zero_copy_only=False) for p in (r"\p{Latin}{2}", firm_cells.OTHER + "{2}")
        ]
        town = batch.column("city")
        towns = fold(town.values)
        marked = np.append(matches(column.values.arrow(), r"\s[–—-]\s|[,(|]").to_numpy(zero_copy_only=False), False)[column.codes]
        echoed = np.where(marked, town.codes, -1).astype(np.int32)
        if batch.entity != "account":
            spoken = phrases.without_echo(spoken, towns, echoed)
            whole, rare, second = phrases.keys(spoken)
            common = shares(whole, batch.counting)
        else:
            firm = _firms(phrases.keys(spoken)[0], batch)
            # Copies of one firm count once, so that they do not make its words common; in whole parts, so that their order does not matter.
            firms, named = number(firm)[0], column.filled
            part = _PARTS // np.bincount(firms)[firms]
            each = np.bincount(column.codes[named], weights=part[named], minlength=len(column.values)) / _PARTS
            theirs = phrases.of_two(spoken, each)
            spoken = phrases.without_echo(spoken._replace(weights=phrases.weights(spoken, each)), towns, echoed)
            whole, rare, second = phrases.keys(spoken)
            common = (owners(whole, firm) / np.float32(max(len(batch), 1))).astype(np.float32)
            if batch.n_existing and batch.n_incoming:
                code, city, country = (keys_without_case(batch.column(f)) for f in ("postal_code", "city", "country"))
                # Of firms nothing says where they are, the country must do, or none.
                nowhere = np.where((code == 0) & (city == 0), np.where(country == 0, np.uint64(1), country), np.uint64(0))
                stands_for = learned(spoken, whole, [code, city, nowhere], batch.n_existing)
                spoken.akin[stands_for >= 0] = spoken.concepts[stands_for[stands_for >= 0]]
                short = _spelled(spoken.words, stands_for)
        placed = town.filled | batch.column("postal_code").filled
        fully = phrases.without_part(spoken, towns, town.codes)
        dry = fold(Texts.of(without_river(town.values.arrow())))
        nearly = phrases.without_part(fully.phrases, dry, town.codes)
        spoken, whole_town = nearly.phrases, fully.codes >= 0
        behind = np.where(whole_town, fully.behind, nearly.behind)
        bare = np.where(whole_town, fully.codes, nearly.codes)
        local = ((other < 0) | (called == 1)) & behind
        called[local] = 0
        other = np.where(local, bare, other)
        place = of_records(hash_values(by_one_name(joined(town.values, town_words), city_table)), town)
        script = np.append(letters[0] + 2 * letters[1], 0).astype(np.int8)[column.codes]
        forms = np.append(_forms(spoken.words), 0)[column.codes]
        # A shop's number is often left out, a unit's seldom: 4711 beside 2, B and North.
        long = matches(spoken.words.vocabulary.arrow(), r"^[0-9]{3,}$").to_numpy(zero_copy_only=False)
        numbered = phrases.word_bits(spoken, np.where(spoken.cls >= NUMBER, np.where(long, 1, 2), 0).astype(np.int8))
        found = mail_firms.no_domains(len(batch))
        if batch.entity != "account" and "email" in batch.columns:
            found = mail_firms.domains(batch.column("email"), column, registrable, free, endings())
        return Companies(
            spoken,
            other,
            listed,
            apart,
            called,
            local,
            bare,
            fully.alone | nearly.alone,
            place,
            placed,
            script,
            numbered,
            whole,
            rare,
            second,
            np.isin(rare, theirs) + 2 * np.isin(second, theirs).astype(np.int8),
            part_of.without_department(spoken, whole),
            part_of.houses(spoken),
            common,
            forms,
            initials.of_firms(spoken, whole),
            short,
            found,
            len(batch) if batch.entity == "account" else 0,
        )

    def joined(self, held: Companies, records: NDArray[np.int32], asked: Companies, who: Who) -> Companies:
        """Firms of some of the records held, and of others behind them."""
        readings = (held.other, asked.other), (held.bare, asked.bare)
        spoken, (other, bare) = phrases.joined(held.phrases, records, asked.phrases, *readings)
        found = mail_firms.joined(held.domains, records, asked.domains)
        spelt = joining.of_records(held.initials, records, asked.initials)
        apart = {
            "phrases": spoken,
            "other": other,
            "bare": bare,
            "initials": spelt,
            "domains": found,
            "short": held.short,
            "size": held.size,
        }
        return joining.of_records(held, records, asked, **apart)

    def counts(self, standard: Companies) -> tuple[Counts, float]:
        """Bits each word is worth, and a word that nobody has."""
        spoken = standard.phrases
        return Counts(spoken.concepts, spoken.weights), float(spoken.weights.max(initial=0.0))

    def settle(self, standard: Companies, counts: tuple[Counts, float]) -> Companies:
        """Words as distinctive as among all records."""
        weights = counts[0].of(standard.phrases.concepts, counts[1]).astype(np.float32)
        return standard._replace(phrases=standard.phrases._replace(weights=weights))

    def keys(self, standard: Companies) -> dict[str, Keys]:
        """`whole`: all core words in any order; `word`: the two most distinctive words, shape (2, n); `sound` of the first;
        `start`: how the name begins, or the mailbox's domain where no firm is named; `outline`: how it begins, or all of a short one; `house`: the name without the firm's own town; `letters`: all of it run together; `acronym`: its initials, or the name where it may be initials, shape (3, n); `initials`: the same where one other name has them, and no third, shape (2, n); `gram`: its rarest trigrams; `gram_alone`: the same of firms nothing says where they are; `reading`: the name and its other reading, shape (2, n)."""
        first, letters, sound = _letters(standard.phrases)
        spelt = standard.initials
        other, bare = (standard.phrases._replace(codes=codes) for codes in (standard.other, standard.bare))
        grams = phrases.trigram_keys(standard.phrases)
        return {
            "whole": standard.whole,
            "word": np.stack([standard.rare, standard.second]),
            "rare": standard.rare,
            "start": np.where(first == 0, mail_firms.begin(standard.domains), first),
            "outline": np.where(first == 0, standard.whole, first),
            "house": np.where(standard.bare < 0, standard.whole, phrases.keys(bare)[0]),
            "letters": letters,
            "sound": sound,
            "acronym": np.stack([spelt.letters, spelt.but_one, spelt.spelt]),
            "initials": np.stack([spelt.letters, spelt.spelt]) * spelt.theirs,
            "gram": grams,
            "gram_alone": np.where(standard.placed, np.uint64(0), grams),
            "reading": np.stack([standard.whole, phrases.keys(other)[0]]),
        }

    def index_keys(self, standard: Companies, asked: bool) -> dict[str, Keys]:
        """`gram` and `gram_alone`."""
        grams = phrases.trigram_keys(standard.phrases, **index_trigrams(asked))
        return {"gram": grams, "gram_alone": np.where(standard.placed, np.uint64(0), grams)}

    def compare(self, standard: Companies, left: Any, right: Any) -> dict[str, Compared]:
        """One comparison, company. Names in different scripts cannot be compared: blank."""
        out, bits = phrases.compare(standard.phrases, left, right)
        # Two that both name the town they are in do not have that in common: City of Orme, Orme State University.
        bare = (standard.bare.take(left) >= 0) & (standard.bare.take(right) >= 0)
        partly = np.flatnonzero(bare & ((out == SHARES) | (out == ADDED) | (out == LONGER) | (out == NEARLY) | (out == CLOSE)))
        if len(partly):
            level, worth = phrases.compare(standard.phrases._replace(codes=standard.bare), left[partly], right[partly])
            less = level < out[partly]
            out[partly[less]], bits[partly[less]] = level[less], worth[less]
        lone = (standard.placename.take(left) & (standard.bare.take(right) >= 0)) | (
            standard.placename.take(right) & (standard.bare.take(left) >= 0)
        )
        out[lone & (out > SHARES)] = SHARES
        # A trading name may be the other side's only name, a capital within may begin a word or not: the best of all readings counts.
        named = (standard.other.take(left) >= 0) | (standard.other.take(right) >= 0)
        # In one town its name says nothing; in two it is what tells them apart: First Church of X.
        named &= ~(standard.local.take(left) | standard.local.take(right)) | (
            standard.town.take(left) == standard.town.take(right)
        )
        named = np.flatnonzero(named)
        for a, b in ((True, False), (False, True), (True, True)) if len(named) else ():
            codes = standard.phrases.codes
            both = standard.phrases._replace(
                codes=np.concatenate([standard.other if a else codes, standard.other if b else codes])
            )
            level, worth = phrases.compare(both, left[named], (right[named] + len(codes)).astype(np.int32))
            if a != b:
                level[bare[named] & ((a & standard.local[left[named]]) | (b & standard.local[right[named]]))] = -1
            # Shops of one owner have his name in another column: it is the name of who bears no other.
            level[(a & b) & (standard.listed[left[named]] | standard.listed[right[named]])] = -1
            # Read as one word, a name with a capital within says something only where the other is that word too.
            as_one = standard.apart[left[named]] | standard.apart[right[named]]
            # One word that stays without the town is the whole name or nothing: Lindhorns (Orme) and Lindhorns Quist.
            brief = (a & _one_word(standard, left[named])) | (b & _one_word(standard, right[named]))
            level[(level < NEARLY) & (level != ACRONYM) & brief] = -1
            # Two that are called alike for short have that in common, and at least one of them must be known to be called so.
            mine, theirs = a * standard.called[left[named]], b * standard.called[right[named]]
            short = (mine > 0) | (theirs > 0)
            level[short] = np.where((level[short] == SAME) & (np.maximum(mine, theirs)[short] == 2), ADDED, -1)
            better = (level > out[named]) | ((level >= 0) & as_one & (out[named] < NEARLY))
            out[named[better]], bits[named[better]] = level[better], worth[better]
        spelt = initials.spelling(standard.initials, left, right)
        out[spelt & (out == DIFFERS)] = ACRONYM
        foreign = unlike_letters(standard.script, left, right) & (out <= SHARES) & (out != APART)
        out[foreign] = -1
        # A department or a school is not what it is one of. Who works in it works there.
        more = np.flatnonzero((out == ADDED) | (out == LONGER)) if standard.size else np.zeros(0, np.int64)
        of_pair = left[more], right[more]
        within, whole, houses = ((of[of_pair[0]], of[of_pair[1]]) for of in (standard.within, standard.whole, standard.houses))
        out[more[part_of.is_department(within, whole) | part_of.is_house_of(*houses)]] = SHARES
        alike = np.flatnonzero(out > SHARES)
        common = np.zeros(len(left), np.float32)
        common[alike] = np.exp2(-bits[alike])
        # Beyond the pair itself, how often the whole name stands in the lists is the better estimate where it is the higher.
        same = alike[standard.whole[left[alike]] == standard.whole[right[alike]]]
        share = standard.shares[left[same]]
        few = share * max(len(standard.whole), 1) <= 2.5
        # Of many firms that would be called so by chance, none is there: it is no name that chance makes (Bank of Orme). One word is what it is.
        words = np.diff(standard.phrases.off)[standard.phrases.codes[left[same]]]
        most = np.where((words > 1) & (standard.size > 0), share + np.float32(1.0 / max(standard.size, 1)), common[same])
        common[same] = np.where(few, np.minimum(common[same], most), np.maximum(share, common[same]))
        ours, theirs = standard.forms.take(left), standard.forms.take(right)
        abroad = (out == SAME) & (ours != 0) & (theirs != 0) & (ours & theirs == 0)
        # Two levels of ours stand among those of the kernel.
        rare = (common * np.float32(standard.size) <= _RARE) & (standard.size > 0)
        out[(out == LONGER) & ~rare] = ADDED
        out[out > ACRONYM] += 1
        out[abroad] = ACRONYM + 1
        ours, theirs = standard.numbered.take(left), standard.numbered.take(right)
        long = np.flatnonzero((out == APART) & (ours == 1) & (theirs == 1))
        out[(out == APART) & (ours + theirs == 1)] = _ONE_NUMBERED
        out[(out == APART) & ((ours == 0) != (theirs == 0))] = _ONE_UNIT
        out[long[_digit_apart(standard.phrases, left[long], right[long])]] = _DIGIT_APART
        partly = np.flatnonzero(out == SHARES) if standard.size else np.zeros(0, np.int64)
        out[partly[_theirs_alone(standard, left[partly], right[partly])]] = _THEIRS
        lettered = standard.initials.theirs
        out[spelt & (out == ACRONYM) & lettered.take(left) & lettered.take(right) & (standard.size > 0)] = _LETTERS
        at, bits = mail_firms.spelled(standard.domains, standard.phrases, left, right)
        out[at], common[at] = _SPELLED, np.exp2(-bits)
        return {"company": Compared(out, common)}


def _spelled(words: Words, stands_for: NDArray[np.int64]) -> tuple[tuple[str, str], ...]:
    """Short words and what each stands for, in the order of the alphabet."""
    text, short = words.vocabulary.arrow(), np.flatnonzero(stands_for >= 0)
    spelled = (text.take(pa.array(at)).to_pylist() for at in (short, stands_for[short]))
    return tuple(sorted(zip(*spelled, strict=True)))


def _one_word(standard: Companies, at: NDArray[np.int32]) -> NDArray[np.bool_]:
    """Of which records one word stays when their town is left out."""
    other, off = standard.other.take(at), standard.phrases.off
    return np.asarray(standard.local.take(at) & (off[other + 1] - off[other] == 1))


def _theirs_alone(standard: Companies, left: NDArray[np.int32], right: NDArray[np.int32]) -> NDArray[np.bool_]:
    """Which pairs of records share a word that no third firm has."""
    out = np.zeros(len(left), bool)
    for bit, mine in ((1, standard.rare), (2, standard.second)):
        known, key = standard.of_two.take(left) & bit > 0, mine.take(left)
        out |= known & ((key == standard.rare.take(right)) | (key == standard.second.take(right)))
    return out


def _forms(words: Words) -> NDArray[np.int32]:
    """Per text, the countries whose legal forms stand in it, a bit each."""
    return bits_of(words.offsets, words.ids, words.lookup(countries_of_forms()))


def _digit_apart(spoken: phrases.Phrases, left: NDArray[np.int32], right: NDArray[np.int32]) -> NDArray[np.bool_]:
    """Of which pairs of records a digit of the one number tells the names apart."""
    out, voc = np.zeros(len(left), bool), spoken.words.vocabulary
    texts = spoken.codes.take(left), spoken.codes.take(right)
    digit_apart(*texts, spoken.off, spoken.ids, spoken.cls, voc.offsets, voc.data, scratch(), out)
    return out


_RARE = 1.5
"""As many firms at most as are reckoned to have the words that two have in common, where that is a rare name."""
_SPELLED, _ONE_NUMBERED, _DIGIT_APART, _THEIRS, _LETTERS, _ONE_UNIT = 10, 11, 12, 13, 14, 15
"""The levels of a firm that the other side's mailbox spells, of one whose long number the other leaves out, of one whose number is another but for a digit, of two that share a word, or whose initials, no third has, and of one whose short number, letter or side the other leaves out."""


_PARTS = 1 << 20
_ELSE = ("website", "phone", "email", "street", "city", "postal_code")


def _firms(whole: Keys, batch: Batch) -> Keys:
    """Per account a key of its name and of what it says besides: accounts that differ in more than the name are firms of their own."""
    return join_keys(np.where(whole == 0, np.uint64(1), whole), content_keys(batch, _ELSE) | np.uint64(1))


def _letters(spoken: phrases.Phrases) -> tuple[Keys, Keys, Keys]:
    """Key of the first five letters of the core words run together, of all of them, and of how the first core word sounds."""
    vocabulary = spoken.words.vocabulary
    start, whole = (np.zeros(len(spoken.off) - 1, np.uint64) for _ in range(2))
    first_letters(spoken.off, spoken.ids, vocabulary.offsets, vocabulary.data, np.empty(5, np.uint8), start)
    first_letters(spoken.off, spoken.ids, vocabulary.offsets, vocabulary.data, np.empty(120, np.uint8), whole)
    column = Column(Texts.of([]), spoken.codes)
    full = spoken.off[1:] > spoken.off[:-1]
    sound = np.zeros(len(full), np.uint64)
    sound[full] = spoken.words.sounds[spoken.ids[spoken.off[:-1][full]]]
    return of_records(start, column), of_records(whole, column), of_records(sound, column)
