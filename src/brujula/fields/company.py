"""A firm's name: legal form, abbreviations, acronyms, distinctive words; numbers and directions are never fuzzy."""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
import pyarrow as pa
from numpy.typing import NDArray

from brujula.core.batch import Batch, Codes, Column, Keys, Texts, blank_column
from brujula.core.candidates import content_keys
from brujula.core.kernels.company import first_letters
from brujula.core.kernels.words import GIVEN, NUMBER
from brujula.core.kind import Compared, Comparison, Example, Identity, Kind, Level, Who
from brujula.core.steps import cut, firm_cells, firm_pairs, initials, joining, mail_firms, part_of, phrases
from brujula.core.steps.firm_pairs import Companies
from brujula.core.steps.grams import index_trigrams
from brujula.core.steps.numbers import number
from brujula.core.steps.patterns import matches
from brujula.core.steps.placeholders import NOTHING, PLACEHOLDERS
from brujula.core.steps.sharing import Counts, owners, shares
from brujula.core.steps.shortened import learned
from brujula.core.steps.text import Words, bits_of, fold, hash_values, join_keys, keys_without_case, of_records, without
from brujula.fields.website import firms_domains
from brujula.tables.firm_words import (
    countries_of_forms,
    endings,
    ends_of_words,
    given_names,
    legal_forms,
    stems_of_words,
    words_of_firms,
)
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


class Company(Kind):
    """Legal forms and articles do not count; each word counts by how distinctive it is."""

    name = "company"
    identity = ("whole", "outline", "house")
    alone, by_two = "rare", "a word that no third firm has"
    parts = ("account", "name")
    beside = ("email", "website")
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
                Level("as the domain spells it", "close", 0.03, 0.00003, rare=True, unit=True),
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
        Example({"account": "Harro wReed Solns"}, {"account": "Harrow Reed Solutions"}, {"company": "close"}),
        Example({"account": "Van der Orme"}, {"account": "Vanderorme BV"}, {"company": "close"}),
        Example({"account": "La Orme Brass"}, {"account": "LaOrme Brass"}, {"company": "close"}),
        Example({"account": "Harrow Design"}, {"account": "Harrow Sign"}, {"company": "partial"}),
        Example({"account": "Easern Reed Works"}, {"account": "Eastern Reed Works"}, {"company": "same"}),
        Example({"account": "Easern Reed Works"}, {"account": "Western Reed Works"}, {"company": "differs"}),
        Example({"account": "Harrow Reed Works Wesyern"}, {"account": "Harrow Reed Works Western"}, {"company": "same"}),
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
        spoken = phrases.parse(
            column, dict.fromkeys(given, GIVEN) | classes, synonyms, "/", akin, ends_of_words(), legal_forms(), stems_of_words
        )
        town = batch.column("city")
        marked = np.append(matches(column.values.arrow(), r"\s[–—-]\s|[,(|]").to_numpy(zero_copy_only=False), False)[column.codes]
        echoed = fold(town.values), np.where(marked, town.codes, -1).astype(np.int32)
        if batch.entity == "account":
            named = _weighed(spoken, echoed, column, batch)
        else:
            spoken = phrases.without_echo(spoken, *echoed)
            whole, rare, second = phrases.keys(spoken)
            named = _Named(spoken, whole, rare, second, shares(whole, batch.counting))
        placed = town.filled | batch.column("postal_code").filled
        homely = _without_town(named.phrases, town, echoed[0])
        local = ((other < 0) | (called == 1)) & homely.behind
        called[local] = 0
        place = of_records(hash_values(by_one_name(joined(town.values, town_words), city_table)), town)
        spoken = homely.phrases
        found = mail_firms.no_domains(len(batch))
        if batch.entity != "account" and not batch.columns.keys().isdisjoint(self.beside):
            found = mail_firms.domains(_at_firms(batch, column), endings())
        return Companies(
            phrases=spoken,
            other=np.where(local, homely.codes, other),
            listed=listed,
            apart=apart,
            called=called,
            local=local,
            bare=homely.codes,
            placename=homely.alone,
            town=place,
            placed=placed,
            script=_script(column),
            numbered=_numbered(spoken),
            whole=named.whole,
            rare=named.rare,
            second=named.second,
            of_two=np.isin(named.rare, named.of_two) + 2 * np.isin(named.second, named.of_two).astype(np.int8),
            within=part_of.without_department(spoken, named.whole),
            houses=part_of.houses(spoken),
            shares=named.shares,
            forms=np.append(_forms(spoken.words), 0)[column.codes],
            initials=initials.of_firms(spoken, named.whole),
            short=named.short,
            domains=found,
            size=len(batch) if batch.entity == "account" else 0,
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
        """Words as distinctive as among all records, and the rarest of each name by that."""
        weights = counts[0].of(standard.phrases.concepts, counts[1]).astype(np.float32)
        spoken = standard.phrases._replace(weights=weights)
        _, rare, second = phrases.keys(spoken)
        return standard._replace(phrases=spoken, rare=rare, second=second)

    def keys(self, standard: Companies) -> dict[str, Keys]:
        """`whole`: all core words in any order; `word`: the two most distinctive words, shape (2, n); `sound` of the first;
        `start`: how the name begins, or the domain of the mailbox or website where no firm is named; `outline`: how it begins, or all of a short one; `house`: the name without the firm's own town; `letters`: all of it run together; `acronym`: its initials, or the name where it may be initials, shape (3, n); `initials`: the same where one other name has them, and no third, shape (2, n); `gram`: its rarest trigrams; `gram_alone`: the same of firms nothing says where they are; `stem_alone`: how the two most distinctive words of such begin, shape (2, n); `reading`: the name and its other reading, shape (2, n)."""
        first, letters, sound = _letters(standard.phrases)
        spelt = standard.initials
        other, bare = (standard.phrases._replace(codes=codes) for codes in (standard.other, standard.bare))
        grams = phrases.trigram_keys(standard.phrases)
        return {
            "whole": standard.whole,
            **_by_words(standard),
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
        """`gram` and `gram_alone`; `word`, `rare` and `stem_alone`, for which words of a question are rare is for the records to say."""
        grams = phrases.trigram_keys(standard.phrases, **index_trigrams(asked))
        return {"gram": grams, "gram_alone": np.where(standard.placed, np.uint64(0), grams), **_by_words(standard)}

    def compare(self, standard: Companies, left: Any, right: Any) -> dict[str, Compared]:
        """One comparison, company. Names in different scripts cannot be compared: blank."""
        return {"company": firm_pairs.compare(standard, left, right)}


def _by_words(standard: Companies) -> dict[str, Keys]:
    """The keys of the most distinctive words (`Company.keys`)."""
    return {
        "word": np.stack([standard.rare, standard.second]),
        "rare": standard.rare,
        "stem_alone": np.where(standard.placed, np.uint64(0), phrases.stem_keys(standard.phrases)),
    }


class _Named(NamedTuple):
    """Names with their words weighed: keys of all words, the rarest and the second; the share of firms that have each name; words two firms have at most; short words the lists showed to stand for long ones."""

    phrases: phrases.Phrases
    whole: Keys
    rare: Keys
    second: Keys
    shares: NDArray[np.float32]
    of_two: Keys = np.zeros(0, np.uint64)
    short: tuple[tuple[str, str], ...] = ()


def _weighed(spoken: phrases.Phrases, echoed: tuple[Words, Codes], column: Column, batch: Batch) -> _Named:
    """Names of accounts, whose words count by how many firms have them. echoed : towns, and which of them a name may say again"""
    firm = _firms(phrases.keys(spoken)[0], batch)
    # Copies of one firm count once, so that they do not make its words common; in whole parts, so that their order does not matter.
    firms, filled = number(firm)[0], column.filled
    part = _PARTS // np.bincount(firms)[firms]
    each = np.bincount(column.codes[filled], weights=part[filled], minlength=len(column.values)) / _PARTS
    theirs = phrases.of_two(spoken, each)
    spoken = phrases.without_echo(spoken._replace(weights=phrases.weights(spoken, each)), *echoed)
    whole, rare, second = phrases.keys(spoken)
    short: tuple[tuple[str, str], ...] = ()
    if batch.n_existing and batch.n_incoming:
        code, city, country = (keys_without_case(batch.column(f)) for f in ("postal_code", "city", "country"))
        # Of firms nothing says where they are, the country must do, or none.
        nowhere = np.where((code == 0) & (city == 0), np.where(country == 0, np.uint64(1), country), np.uint64(0))
        stands_for = learned(spoken, whole, [code, city, nowhere], batch.n_existing)
        spoken.akin[stands_for >= 0] = spoken.concepts[stands_for[stands_for >= 0]]
        short = _spelled(spoken.words, stands_for)
    common = (owners(whole, firm) / np.float32(max(len(batch), 1))).astype(np.float32)
    return _Named(spoken, whole, rare, second, common, theirs, short)


class _Homely(NamedTuple):
    """Names, and behind them those without the firm's own town: codes of these (-1 = it is not in the name), whether it stood behind a word, whether the name is that town and nothing else."""

    phrases: phrases.Phrases
    codes: Codes
    behind: NDArray[np.bool_]
    alone: NDArray[np.bool_]


def _without_town(spoken: phrases.Phrases, town: Column, towns: Words) -> _Homely:
    """Names without the town their record gives, be its river named or not. towns : the words of the towns"""
    fully = phrases.without_part(spoken, towns, town.codes)
    dry = fold(Texts.of(without_river(town.values.arrow())))
    nearly = phrases.without_part(fully.phrases, dry, town.codes)
    whole = fully.codes >= 0
    codes, behind = (np.where(whole, a, b) for a, b in ((fully.codes, nearly.codes), (fully.behind, nearly.behind)))
    return _Homely(nearly.phrases, codes, behind, fully.alone | nearly.alone)


def _script(column: Column) -> NDArray[np.int8]:
    """Per record, which letters its name is written in (`Companies.script`)."""
    latin, others = (
        matches(column.values.arrow(), p).to_numpy(zero_copy_only=False) for p in (r"\p{Latin}{2}", firm_cells.OTHER + "{2}")
    )
    return np.append(latin + 2 * others, 0).astype(np.int8)[column.codes]


def _at_firms(batch: Batch, firm: Column) -> Column:
    """The domain of the mailbox of each person of whom no firm is told, or of the website that the list gives with them."""
    asked = np.flatnonzero(firm.codes < 0).astype(np.int32)
    if len(asked) == 0:
        return blank_column(len(firm))
    at = firms_domains(batch.column("email").take(asked))
    if "website" in batch.columns:
        at = at.or_else(firms_domains(batch.column("website").take(asked)))
    codes = np.full(len(firm), -1, np.int32)
    codes[asked] = at.codes
    return Column(at.values, codes)


def _numbered(spoken: phrases.Phrases) -> NDArray[np.int8]:
    """Per record, which numbers its name has (`Companies.numbered`). A shop's is often left out, a unit's seldom: 4711 beside 2, B and North."""
    long = matches(spoken.words.vocabulary.arrow(), r"^[0-9]{3,}$").to_numpy(zero_copy_only=False)
    return phrases.word_bits(spoken, np.where(spoken.cls >= NUMBER, np.where(long, 1, 2), 0).astype(np.int8))


def _spelled(words: Words, stands_for: NDArray[np.int64]) -> tuple[tuple[str, str], ...]:
    """Short words and what each stands for, in the order of the alphabet."""
    text, short = words.vocabulary.arrow(), np.flatnonzero(stands_for >= 0)
    spelled = (text.take(pa.array(at)).to_pylist() for at in (short, stands_for[short]))
    return tuple(sorted(zip(*spelled, strict=True)))


def _forms(words: Words) -> NDArray[np.int32]:
    """Per text, the countries whose legal forms stand in it, a bit each."""
    return bits_of(words.offsets, words.ids, words.lookup(countries_of_forms()))


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
