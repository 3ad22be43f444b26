"""A person's name: prefix, given, middle and family names, suffix, or one full name."""

from __future__ import annotations

from functools import cache
from typing import Any

import numpy as np

from brujula import tables
from brujula.core.batch import Batch, Column, Keys
from brujula.core.kernels.names import CONNECTOR, CREDENTIAL, GENERATION, GIVEN, MAYBE_TITLE, PARTICLE, TITLE
from brujula.core.kind import Compared, Comparison, Example, Identity, Kind, Level, Who
from brujula.core.steps import name_keys, name_pairs, names
from brujula.core.steps.degrees import Degrees, degrees
from brujula.core.steps.grams import index_trigrams
from brujula.core.steps.name_cells import unspaced
from brujula.core.steps.name_facts import Facts, Syllabic
from brujula.core.steps.placeholders import NO_LETTER, PLACEHOLDERS
from brujula.core.steps.sharing import Counts
from brujula.core.steps.text import without

TITLES = """mr mrs ms miss mx dr prof professor sir dame rev reverend fr father sister hon capt sgt lt col herr hr frau fr sr sra srta
don dona med dipl habil jur rer monsieur madame mme mlle m signor signora dott dottssa ing lic dhr mevr pan pani
drs ir mgr bc mudr judr rndr phdr hab inz ssa avv geom arq smt shri me maitre cmdr cdr cpl msgt tsgt ssgt sfc ltc lcdr ltcol rabbi coach principal
cllr councillor councilman councilwoman ald senator rep gov ambassador supt superintendent archbishop dna herrn engr bpk hj hjh""".split()
_OF_MEN = "mr|herr|hr|monsieur|señor|senor|signor|dhr"
_OF_WOMEN = "mrs|ms|miss|mme|mlle|madame|mademoiselle|frau|señora|senora|señorita|senorita|sra|srta|signora|mevr|mevrouw"
_MAYBE_TITLES = "don dona m hon col pan pani ing mag haji kum ks lord lady ibu pastor deacon bishop judge justice mayor governor alderman chief officer sheriff nurse sheikh"
"""Titles that are names, too, or an initial: where two names follow one, it is a title."""
_NAMES_TOO = frozenset({"don", "dona"})
"""Titles that are common given names in other countries."""
_CREDENTIALS = "md jd pe ma od do"
"""Degrees that are names, too, or initials: behind two names, or one given name in its column, they are degrees."""
_PARTICLES = """de del della delle dei di da das do dos du des la las le les lo los van von vom vander vanden der den ter ten te zu zum zur
af av bin binti ibn al el ben bint mac st san santa y e"""
_GENERATIONS = {
    "jr": 1,
    "junior": 1,
    "jnr": 1,
    "filho": 1,
    "hijo": 1,
    "sr": 2,
    "senior": 2,
    "snr": 2,
    "pai": 2,
    "ii": 3,
    "iii": 4,
    "iv": 5,
    "vi": 6,
    "neto": 7,
    "sobrinho": 8,
    "2nd": 3,
    "3rd": 4,
    "4th": 5,
    "fils": 1,
}


@cache
def _classes() -> dict[str, int]:
    behind = _CREDENTIALS.split() + [word.replace(".", "") for word in _degree_words("any")]
    classes = (
        dict.fromkeys(tables.words("names_in_use"), GIVEN)
        | dict.fromkeys(behind, CREDENTIAL)
        | dict.fromkeys(TITLES, TITLE)
        | dict.fromkeys(_MAYBE_TITLES.split(), MAYBE_TITLE)
    )
    classes |= dict.fromkeys(_PARTICLES.split(), PARTICLE) | {"and": CONNECTOR}
    return classes | {word: GENERATION + n for word, n in _GENERATIONS.items()}


def _degree_words(which: str) -> list[str]:
    return [word for head, *words in tables.groups("post_nominals") if head == which for word in words]


@cache
def known_degrees() -> Degrees:
    """What stands behind a name."""
    return degrees(*(_degree_words(which) for which in ("any", "pointed", "capitals")))


@cache
def _facts() -> Facts:
    # Chinese names as Hanyu Pinyin spells them.
    syllables = "|".join(f"{'' if head == '-' else head}(?:{'|'.join(finals)})" for head, *finals in tables.groups("pinyin"))
    syllabic = Syllabic(tables.words("chinese_families"), f"^(?:{syllables}){{1,3}}$")
    eastern = unspaced({head: families for head, *families in tables.groups("eastern_families")})
    return Facts(
        _classes(),
        (*tables.groups("nicknames"), *((name,) for name in sorted(tables.words("given_names")))),
        tables.groups("names_written_short"),
        syllabic,
        eastern,
        known_degrees(),
        (_OF_MEN, _OF_WOMEN),
        _NAMES_TOO,
        tables.words("desk_words"),
    )


class PersonName(Kind):
    """Nicknames, initials, swapped parts, particles, hyphens, marks, two family names, Jr. and Sr."""

    name = "person_name"
    identity = ("name_sound", "initials", "name_sound")
    alone = "name_sound"
    parts = ("prefix", "given_name", "middle_name", "family_name", "suffix", "full_name")
    beside = ("email",)
    headings = {
        "prefix": "prefix | salutation | title | anrede | tratamiento | civilite | titel | honorific | mr mrs | form of address | trato | titolo | tytul | aanhef | briefanrede",
        "given_name": """given name | first name | first | forename | given | christian name | vorname | nombre | nombres |
            prenom | nome | primeiro nome | voornaam | imie | fname | name first | contact first name | nome proprio
            | given names | forenames | fore names | vornamen | rufname | nombre de pila | prenoms | primer nombre | imiona | roepnaam | first names | student first | first nm""",
        "middle_name": """middle name | middle | middle initial | mi | mid name | midl name | m name | mname | middle names | other names | second name | zweiter vorname | segundo nombre | deuxieme
            prenom | drugie imie | secondo nome | additional name""",
        "family_name": """family name | last name | surname | last | lname | nachname | familienname | apellido | apellidos | nom
            | nom de famille | sobrenome | apelido | cognome | achternaam | nazwisko | name last | contact last name
            | family | second surname | primer apellido | apellido 1 | apellido paterno | 1er apellido | surname 1 | last name 1 | ultimo nome | familie naam | last nm | nom d usage""",
        "suffix": "suffix | name suffix | sufx | name sufx | suffix name | namenszusatz | sufijo | suffixe | suffisso | sfx | generation",
        "full_name": """full name | name | contact name | contact | person | player | teacher | technician | nombre completo |
            nom complet | vollstandiger name | ansprechpartner | nombre y apellidos | nom et prenom | nom prenom | vor und nachname | nome e cognome | cognome e nome | imie i nazwisko | kontakt | contacto | contatto | interlocuteur | referente | contactpersoon | osoba kontaktowa | volledige naam | nome do contato | persona de contacto | musician | name last first | last name first name | naam voluit | nome completo | volledige naam | imie i nazwisko |
            attendee | member | volunteer | participant | performer | singer | student | pupil | donor | patient | subscriber | guest | applicant | candidate | mitglied | teilnehmer | miembro | participante | socio | alumno | contact person | customer name | display name | your name | naam | nome do aluno | nome do cliente | nombre del alumno | nombre alumno | nombre del cliente | nom de l eleve | nom eleve | nome alunno""",
    }
    comparisons = (
        Comparison(
            "given_name",
            (
                Level("different", "differs", 0.012, 0.9),
                Level("initial", "partial", 0.045, 0.012, rare=True),
                Level("two names, a letter or an ending apart", "partial", 0.005, 0.004, rare=True),
                Level("similar", "partial", 0.01, 0.008, rare=True),
                Level("goes by the middle name", "close", 0.01, 0.0008, rare=True),
                Level("nickname", "close", 0.06, 0.001, rare=True),
                Level("misspelled", "close", 0.055, 0.0004, rare=True),
                Level("same", "same", 0.78, 0.005, rare=True),
                Level("another name, the mailbox gives this one", "partial", 0.01, 0.0004, rare=True),
                Level("as the mailbox gives it", "close", 0.02, 0.0002, rare=True),
                Level("as each mailbox gives its own", "partial", 0.002, 0.002),
                Level("another name of one initial", "differs", 0.003, 0.065),
                Level("another name, the mailbox gives its initial", "partial", 0.002, 0.002),
                Level("in other letters", "partial", 0.002, 0.002, silent=True),
                Level("similar, and their mailbox says neither", "partial", 0.003, 0.0024, rare=True),
            ),
        ),
        Comparison(
            "family_name",
            (
                Level("different", "differs", 0.025, 0.985),
                Level("initial", "partial", 0.004, 0.008, rare=True),
                Level("similar", "partial", 0.015, 0.003, rare=True),
                Level("one of two family names", "close", 0.045, 0.0008, rare=True),
                Level("misspelled", "close", 0.06, 0.0003, rare=True),
                Level("same", "same", 0.84, 0.002, rare=True),
                Level("as the mailbox gives it", "partial", 0.01, 0.0002, rare=True),
                Level("as each mailbox gives its own", "partial", 0.002, 0.002),
                Level("a word that is nobody else's name", "partial", 0.002, 0.002, silent=True),
                Level("in other letters", "partial", 0.002, 0.002, silent=True),
                Level("of two one is another", "partial", 0.004, 0.001, rare=True),
            ),
        ),
        Comparison(
            "middle_name",
            (
                Level("different", "differs", 0.03, 0.92),
                Level("same", "same", 0.967, 0.07),
                Level("different, and their mailbox gives one", "differs", 0.003, 0.01),
            ),
        ),
        Comparison(
            "suffix",
            (
                Level("different", "differs", 0.01, 0.6),
                Level("unclear", "partial", 0.01, 0.01),
                Level("same", "same", 0.98, 0.39),
                Level("on one side only", "partial", 0.02, 0.04),
            ),
        ),
        # A given name says as much, and titles are often wrong: for rules only.
        Comparison(
            "prefix", (Level("different", "differs", 0.1, 0.1, silent=True), Level("same", "same", 0.9, 0.9, silent=True))
        ),
    )
    examples = (
        Example(
            {"given_name": "Robert", "family_name": "Ames"},
            {"full_name": "Ames, Bob"},
            {"given_name": "close", "family_name": "same"},
        ),
        Example(
            {"given_name": "Jeffery Michael", "family_name": "Ames"},
            {"given_name": "Michael Jeffrey", "family_name": "Ames"},
            {"given_name": "close"},
        ),
        Example(
            {"given_name": "José", "family_name": "De León"},
            {"given_name": "Jose", "family_name": "Leon"},
            {"given_name": "same", "family_name": "same"},
        ),
        Example(
            {"given_name": "Pinto", "family_name": "Myriam"},
            {"given_name": "Myriam", "family_name": "Pinto"},
            {"given_name": "same", "family_name": "same"},
        ),
        Example(
            {"given_name": "Ana", "family_name": "García López"},
            {"given_name": "Ana", "family_name": "García"},
            {"family_name": "close"},
        ),
        Example(
            {"given_name": "Alex", "family_name": "Reyes Sr."},
            {"given_name": "Alex", "family_name": "Reyes", "suffix": "Jr."},
            {"suffix": "differs", "family_name": "same"},
        ),
        Example({"family_name": "StokesIII"}, {"family_name": "Stokes Jr."}, {"suffix": "differs", "family_name": "same"}),
        Example({"family_name": "Stokesj r."}, {"family_name": "Stokes Sr"}, {"suffix": "differs", "family_name": "same"}),
        Example({"full_name": "Dave Espinal rS."}, {"full_name": "Dave Espinal III"}, {"suffix": "differs"}),
        Example(
            {"given_name": "Elio", "family_name": "Jimenez Sur."},
            {"given_name": "Elio", "family_name": "Jimenez Jr."},
            {"suffix": "partial"},
        ),
        Example(
            {"given_name": "Elio", "family_name": "Jimenez Sur"},
            {"given_name": "Elio", "family_name": "Jimenez"},
            {"suffix": "blank", "family_name": "close"},
        ),
        Example({"full_name": "Alex Stokes r"}, {"full_name": "Alex Stokes"}, {"suffix": "partial"}),
        Example(
            {"full_name": "Ada Quist ✔ she/her"},
            {"given_name": "Ada", "family_name": "Quist"},
            {"given_name": "same", "family_name": "same"},
        ),
        Example({"full_name": "Alex Stokes R"}, {"full_name": "Alex Stokes"}, {"suffix": "blank"}),
        Example({"full_name": "Alex Stokes er."}, {"full_name": "Alex Stokes"}, {"suffix": "partial"}),
        Example(
            {"full_name": "山田太郎"},
            {"given_name": "太郎", "family_name": "山田"},
            {"given_name": "same", "family_name": "same"},
        ),
        Example(
            {"full_name": "김민준"}, {"given_name": "민준", "family_name": "김"}, {"given_name": "same", "family_name": "same"}
        ),
        Example(
            {"full_name": "张伟"}, {"given_name": "薇", "family_name": "张"}, {"given_name": "partial", "family_name": "same"}
        ),
        Example({"full_name": "张伟"}, {"full_name": "Wei Zhang"}, {"given_name": "same", "family_name": "same"}),
        Example(
            {"full_name": "AnaPrado"},
            {"given_name": "Ana", "family_name": "Prado"},
            {"given_name": "same", "family_name": "same"},
        ),
        Example(
            {"full_name": "MacDonald"},
            {"given_name": "Ana", "family_name": "Macdonald"},
            {"given_name": "blank", "family_name": "same"},
        ),
        Example({"full_name": "Anand RS"}, {"given_name": "Anand", "family_name": "RS"}, {"family_name": "same"}),
        Example({"full_name": "Alex Reyes Jr."}, {"full_name": "Alex Reyes"}, {"suffix": "partial"}),
        Example({"full_name": "Manny Legaspi IlI"}, {"full_name": "Manny Legaspi III"}, {"suffix": "same"}),
        Example({"family_name": "Krüger"}, {"family_name": "Krueger"}, {"family_name": "same"}),
        Example({"family_name": "Nygård"}, {"family_name": "Nygaard"}, {"family_name": "same"}),
        Example({"given_name": "Oleksandr"}, {"given_name": "Alexander"}, {"given_name": "close"}),
        Example({"given_name": "Micky"}, {"given_name": "Michael"}, {"given_name": "close"}),
        Example({"given_name": "Steffie"}, {"given_name": "Stephania"}, {"given_name": "partial"}),
        Example({"given_name": "Jon"}, {"given_name": "Joan"}, {"given_name": "differs"}),
        Example(
            {"full_name": "Prado"}, {"given_name": "Ana", "family_name": "Prado"}, {"given_name": "blank", "family_name": "same"}
        ),
        Example(
            {"given_name": "Prado"}, {"given_name": "Ana", "family_name": "Prado"}, {"given_name": "blank", "family_name": "same"}
        ),
        Example({"given_name": "Гліб"}, {"given_name": "Hlib"}, {"given_name": "same"}),
        Example({"given_name": "Димитър"}, {"given_name": "Dimitar"}, {"given_name": "same"}),
        Example({"given_name": "Љубица"}, {"given_name": "Ljubica"}, {"given_name": "same"}),
        Example({"given_name": "Олег"}, {"given_name": "Oleg"}, {"given_name": "same"}),
        Example(
            {"given_name": "Ευάγγελος", "family_name": "Παπαδόπουλος"},
            {"given_name": "Evangelos", "family_name": "Papadopoulos"},
            {"given_name": "same", "family_name": "same"},
        ),
        Example(
            {"full_name": "PRADO LIND ANA ROSA"},
            {"given_name": "Ana Rosa", "family_name": "Prado Lind"},
            {"given_name": "same", "family_name": "same", "middle_name": "same"},
        ),
        Example(
            {"full_name": "Grande Elisa Casa"},
            {"given_name": "Valentin", "family_name": "Casa Grande"},
            {"given_name": "differs"},
        ),
        Example(
            {"full_name": "Benjamin Torres, PT, DPT"},
            {"given_name": "Benjamin", "family_name": "Torres"},
            {"given_name": "same", "family_name": "same"},
        ),
        Example(
            {"full_name": "Jane Orme, CCC-SLP"}, {"full_name": "ORME, JANE LCSW"}, {"given_name": "same", "family_name": "same"}
        ),
        Example(
            {"full_name": "García López, JJ"},
            {"given_name": "Juan", "family_name": "García López"},
            {"given_name": "partial", "family_name": "same"},
        ),
        Example(
            {"full_name": "Mrs. Tom Orme"}, {"prefix": "Mr", "given_name": "Tom", "family_name": "Orme"}, {"prefix": "differs"}
        ),
        Example({"full_name": "Mr. and Mrs. Tom Orme"}, {"full_name": "Orme, Mrs. Tom"}, {"prefix": "blank"}),
        Example(
            {"given_name": "Ms", "family_name": "Orme"}, {"given_name": "Tess", "family_name": "Orme"}, {"given_name": "blank"}
        ),
        Example({"given_name": "Dr.", "family_name": "Tess Orme"}, {"full_name": "Tess Orme"}, {"given_name": "same"}),
        Example(
            {"full_name": "Parent of Tess Orme"}, {"full_name": "Tess Orme"}, {"given_name": "differs", "family_name": "same"}
        ),
        Example({"given_name": "Mutter von Tess", "family_name": "Orme"}, {"full_name": "Tess Orme"}, {"given_name": "differs"}),
        Example({"full_name": "Sukarno"}, {"full_name": "Sukarno"}, {"given_name": "same", "family_name": "same"}),
        Example(
            {"full_name": "Dr. Ada Quist"},
            {"given_name": "A.", "family_name": "Quist"},
            {"given_name": "partial", "family_name": "same"},
        ),
    )

    def clean(self, column: Column) -> Column:
        """Placeholders, and names without a letter, are blank; Li Na and Jo Null are somebody, where they are not written NA and NULL."""
        return without(
            column,
            PLACEHOLDERS | {"first", "last", "surname", "no name", "noname", "firstname", "lastname"},
            NO_LETTER,
            {"Na", "Null"},
        )

    def standardise(self, batch: Batch, identity: Identity) -> names.Names:
        """Given and family words of each record (`core.steps.names`)."""
        prefix, given, middle, family, suffix, full = (batch.column(x) for x in self.parts)
        counting = np.ones(len(batch), bool) if batch.counting is None else batch.counting
        return names.parse(prefix, given, middle, family, suffix, full, batch.column("email"), _facts(), counting)

    def joined(self, held: names.Names, records: Any, asked: names.Names, who: Who) -> names.Names:
        """Names of some of the records held, and of others behind them."""
        return names.joined(held, records, asked, _facts())

    def counts(self, standard: names.Names) -> tuple[Counts, Counts, int]:
        """Records per given and per family name, and in all."""
        hashes = standard.words.hashes
        return Counts(hashes, standard.given_counts), Counts(hashes, standard.family_counts), standard.n_records

    def settle(self, standard: names.Names, counts: tuple[Counts, Counts, int]) -> names.Names:
        """Names as common as among all records."""
        given, family = (c.of(standard.words.hashes, 0).astype(np.int64) for c in counts[:2])
        return standard._replace(
            given_counts=np.maximum(given, standard.given_counts),
            family_counts=np.maximum(family, standard.family_counts),
            n_records=max(counts[2], standard.n_records),
        )

    def keys(self, standard: names.Names) -> dict[str, Keys]:
        """`name`, `name_sound`, `either_sound` (also of the name the mailbox gives, shape (2, n)), `family`, `family_sound`, `family_last`, `given`, `given_sound`, `initial`, `formal_initial` (shape (3, n)), `initials`, `abridged` (shape (4, n))."""
        return name_keys.keys(standard)

    def index_keys(self, standard: names.Names, asked: bool) -> dict[str, Keys]:
        """`gram`."""
        return {"gram": name_keys.trigram_keys(standard, **index_trigrams(asked))}

    def compare(self, standard: names.Names, left: Any, right: Any) -> dict[str, Compared]:
        """given_name, family_name, middle_name, suffix, prefix."""
        levels, common = name_pairs.compare(standard, left, right)
        mine, other = standard.addressed.take(left), standard.addressed.take(right)
        blank = ((mine == 0) | (other == 0)) & (mine != names.WIFE) & (other != names.WIFE)
        titled = np.where(blank, -1, mine == other).astype(np.int8)
        none = common[:, 0] * 0
        return {
            "given_name": Compared(levels[:, 0], common[:, 0]),
            "family_name": Compared(levels[:, 1], common[:, 1]),
            "middle_name": Compared(levels[:, 2], none),
            "suffix": Compared(levels[:, 3], none),
            "prefix": Compared(titled, none),
        }
