"""The cells that names of firms stand in: legal forms, numbers and schools as they are written, and what else a cell says."""

from __future__ import annotations

import re
from typing import NamedTuple

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Column, Texts
from brujula.core.steps.degrees import GENERATION
from brujula.core.steps.institution_cells import INSTITUTIONS
from brujula.core.steps.legal_cells import FORMS
from brujula.core.steps.listed import among
from brujula.core.steps.patterns import captured, matches, matches_any, replaced
from brujula.core.steps.school_cells import SCHOOLS
from brujula.core.steps.sharing import owners
from brujula.core.steps.street_cells import KING
from brujula.core.steps.text import keys_without_case, reworded

_TRADING = r"dba d/b/a d\.b\.a\.? t/a o/a trading\sas doing\sbusiness\sas operating\sas aka a/k/a also\sknown\sas"
_FORMERLY = (
    r"fka f/k/a formerly(?:\sknown\sas)? previously vormals ehem\. ehemals früher anteriormente anciennement dawniej voorheen"
)
# Behind the older name a branch may stand, by which two of one name are told apart: such names are left whole.
_ALSO = tuple(
    rf"(?i)^(?P<legal>.+?)[\s,(]+(?:{'|'.join(words.split())})[\s:]+(?P<other>{name}+)\)?$"
    for words, name in ((_TRADING, "[^)]"), (_FORMERLY, r"[^)\d]"))
)
OTHER = r"[^\P{L}\p{Latin}\p{Lm}]"  # a letter of another alphabet
_BOTH = (
    rf"^(?P<legal>[^()\[\]]*\p{{Latin}}{{2}}[^()\[\]]*?)\s*[(\[](?P<other>\P{{Latin}}*{OTHER}{{2}}\P{{Latin}}*)[)\]]\s*$",
    rf"^(?P<legal>\P{{Latin}}*{OTHER}{{2}}\P{{Latin}}*?)\s*[(\[](?P<other>[^()\[\]]*\p{{Latin}}{{2}}[^()\[\]]*)[)\]]\s*$",
)
"""A name in two alphabets: Orme Brass (Орме Брасс)."""
_INITIALS = r"[A-ZÀ-Þ]{2,}[a-zß-ÿ]{0,2}[A-ZÀ-Þ]+"
_NO_NAMES = frozenset(
    "USA UAE GBR GER FRA ITA ESP EMEA APAC LATAM DACH NYC LLC LLP LTD INC GMBH PTY PVT PLC SRL SPA SAS SARL EURL FZE FZCO".split()
)
_SMALL = 3  # letters of a word that initials may leave out
_SHOUTED = rf"^(?P<legal>[^(\[]+?)[\s,]*[(\[](?P<called>{_INITIALS})[)\]]$"
"""The next where all is in capitals: there only the name's own initials are what it is called for short."""
_CALLED = (
    rf"^(?P<legal>.*\p{{Ll}}.*?)[\s,]*[(\[](?P<called>{_INITIALS})[)\]]$",
    rf"^(?P<legal>.*\p{{Ll}}.*?)\s+[-–]\s*(?P<called>{_INITIALS})$",
    rf"^(?P<called>{_INITIALS})\s*[-–]\s+(?P<legal>.*\p{{Ll}}.*)$",
    rf"^(?P<called>{_INITIALS})\s*[(\[](?P<legal>.*\p{{Ll}}.*)[)\]]$",
    _SHOUTED,
)
"""What a firm is called for short (three letters or more, and neither where it is nor a legal form), in brackets or beside a dash: Harrow Reed Works (HRW), HRW - Harrow Reed Works."""
_SPELLED_OUT = (
    r"soci[ée]t[ée] (anonyme|civile|[àa] responsabilit[ée] limit[ée]e|par actions simplifi[ée]e|en nom collectif|en commandite( simple)?)( unipersonnelle)?",
    r"socieda(d|de) (an[óôo]nima|(de responsabilida(d|de) )?limitada|por quotas|por acciones|cooperativa( limitada| de cr[ée]dito)?)( unipersonal)?( de capital variable)?",
    r"societ[àa]['’]? (per azioni|a responsabilit[àa]['’]? limitata( semplificata)?|semplice|in nome collettivo|in accomandita semplice|cooperativa( per azioni| a responsabilit[àa]['’]? limitata)?)",
    r"sp[óo][łl]ka (z ograniczon[ąa] odpowiedzialno[śs]ci[ąa]|akcyjna|jawna|cywilna|komandytowa|partnerska)( sp(\.|[óo][łl]ka) (k\.?|komandytowa))?",
    r"(naamloze|besloten|commanditaire) vennootschap|vennootschap onder firma",
    r"(aktien|kommandit|unternehmer|offene handels)gesellschaft|eingetragene[rs]? (verein|kauf(mann|frau)|genossenschaft)",
    r"aktiebolag|handelsbolag|aktieselskab|anpartsselskab|aksjeselskap|osakeyhti[öo]|sendirian berhad|kabushiki kaisha|g[ōo]d[ōo] kaisha",
    r"(public|private|proprietary) (limited|ltd)( company)?|limited liability (limited )?(company|partnership)|(limited|general) partnership|limited company|company limited",
    r"\(?(in|en|w) (liquidation|liquidaci[óo]n|liquidazione|likwidacji)\)?|i\. ?l",
)
"""Legal forms written out, and what a firm that is being wound up adds to its own; they stand behind the name."""

_ABROAD = r"""(?:sucursal|filial) (?:en|em) (?:espa[ñn]a|portugal|m[ée]xico|argentina|chile|colombia|per[úu])|succursale (?:de |en |di |della )?(?:france|belgique|luxembourg|suisse|italia|svizzera)
|(?:zweig)?niederlassung (?:deutschland|[öo]sterreich|schweiz|luxemburg)|(?:uk|german|spanish|italian|french|irish|dutch|swiss|belgian|polish|luxembourg|swedish|danish|norwegian) branch
""".replace("\n", "")
"""What a firm of another country adds to its name where it has an office."""
_SPACED = "sa sl slu sc bv nv ag ev ek srl scrl spa sas sro doo llc llp plc".split()
_SAINTS = """ann|anne|andrew|anthony|augustine|barbara|benedict|bernard|brigid|bridget|catherine|katherine|clare|columba|cuthbert|david|dominic|edward|elizabeth|gabriel|george|
gregory|helen|john|joseph|lawrence|leonard|lucy|luke|margaret|mark|martin|mary|matthew|michael|monica|patrick|paul|peter|philip|raphael|rose|stephen|teresa|theresa|vincent""".replace(
    "\n", ""
)
"""Saints whose names a letter s makes no other name of, as it does of none that ends in one (James, Thomas)."""
_HEAD_OFFICE = r"(?:head ?office|headquarters|hq|main office|corporate office|hauptsitz|hauptverwaltung|siège social|sede (?:central|legale|social))"
_STATES = "(?-i:A[KLRZ]|AB|BC|C[AOT]|D[CE]|FL|GA|HI|I[ADLN]|K[SY]|LA|M[ABDEINOST]|N[BCDEHJLMSVY]|O[HKNR]|P[AE]|QC|RI|S[CDK]|T[NX]|UT|V[AT]|W[AIVY])"
"""States of the United States and provinces of Canada, which stand behind a town; PD and FD behind one are its police and its fire brigade."""
_TOWN = "city|town|village|borough"
_SERVICES = "police|fire|water|sewer|public|parks|municipal|finance|planning|zoning|court|clerk|library"
"""What a town runs: Orme Water Department and the City of Orme Water Department are one."""
_WORDINGS = tuple(
    (f"(?i){wording}", meant)
    for wording, meant in (
        (r"[®™©]", ""),
        (r"\.\.+", "."),  # S..A
        # Where it is registered: Harrow Reeds Inc /DE/, Orme Bancorp Inc/MD.
        (r"\b(inc|corp|co|company|corporation|ltd|limited|trust|lp|llc|plc)[.,]?\s?/\s?\pL{2}\s?/?\s*$", r"\1"),
        (r"([\s-])(?-i:([dl])['’])(\pL)", r"\1\2e \3"),  # Université d'Orme
        # The first of several, and no word that joins two: Orme I District.
        (
            r"\s(?-i:I)\s(district|school|elementary|high|phase|plant|unit|building|tower|campus|station|division|region|zone|sector|ward|branch|center|centre)\b",
            r" 1 \1",
        ),
        (r"&amp;", "&"),
        (r"&(?:quot|apos|#0?39);", "'"),
        # What stands behind says whose it is, for whom it holds, or that it is the office where all else is run.
        (
            rf"[\s,]+(?:a|con) socio unico$|\s+(?:atf|as trustees? for)\s.*$|\s*[,(–-]+\s*a (?:division|subsidiary|member) of\s.*$|[\s,(/–-]+{_HEAD_OFFICE}\)?$",
            "",
        ),
        (r"\bs[. ]{1,2}a[. ]{1,2}(?:p[. ]{1,2}i[. ]{1,2})?de c\.? ?v\b\.?", "sa de cv"),
        (r"\bs\.? de r[. ]{1,2}l\b\.?", "s de rl"),
        (r"\bde c[. ]{1,2}v\b\.?", "de cv"),
        (r"\s['’]?(?-i:n)['’]?\s", " and "),
        (rf"[\s,(–-]+(?:{_ABROAD})\)?$", ""),
        (rf"[\s,–-]+({'|'.join(_SPELLED_OUT)})\.?$", " ltd"),
        (rf"^\s*({'|'.join(_SPELLED_OUT)}|soc\.? ?coop\.?)\.?\s+", "ltd "),
        # No S.p.A.
        (
            r"\s(day|med|medi|medical|nails?|hair|beauty|health|skin|pet|hotel|resort|salon|wellness|massage|&|and|n) spa$",
            r" \1 spas",
        ),
        (r"\bste(?:\.\s*|-)(\pL)", r"sainte \1"),
        (rf"\s({'|'.join(r'[. ]{1,2}'.join(form) for form in _SPACED)})\.?$", " ltd"),
        (r"\s\(?p\)?\.?\s*(ltd|limited)\b", r" pvt \1"),
        (r"\s*\(?haftungsbeschr(ä|ae|a)nkt\)?|\s*\(publ\)|\b(sanayi|san\.?)\s+ve\s+(ticaret|tic\.?)\b", ""),
        (r"\bsp[.\s]*z[.\s]*o[.\s]*o\b", " spzoo"),
        (r"\bsp\.?\s*([jkpc])\b", r" sp\1"),
        (r"\bspol\.?\s*s\.?\s*r\.?\s*o\b", " sro"),
        (r"\s(a-s|a\.?\s?ş\.?)$", " as"),
        (r"\bltd\.?\s*(şti|sti)\b", " ltd"),
        (r"\bs\.\s?coop\b", " scoop"),
        (
            r"\s(?:[&+]\s*|u\.\s*|(?:y|e|i|et|und|u|en|and)\s+)(?:c\.|(?:c[ií]a|cie|co|comp|compa[ñn][ií]a|compagni[ae]|company|sp[oó][lł]ka)(?:\.|,|$|\s))",
            " & co ",
        ),
        (r"\bges(ellschaft|\.)?\s?m\.?\s?b\.?\s?h\b", " gmbh"),
        (r"\b(public |open |closed )?joint[ -]stock company\b", " jsc "),
        (r"\b(dance|theat(?:re|er)|ballet|opera|drama) (?:company|co\b\.?)", r"\1 troupe"),
        (r"([^\W\d_]{2}[\s,]+)company([\s,.(]*(?:(?:inc|incorporated|ltd|limited|llc|lp|corp|corporation)\b)?\W*)$", r"\1co\2"),
        (r"\bR ?& ?D\b", "research development"),
        (r"(\S\s)B ?(?:&|and) ?B$", r"\1bed and breakfast"),
        (r"\bpublic house\b", "pub"),
        (r"(\S\s)(?-i:S) ?& ?(?-i:L)$", r"\1savings and loan"),
        (r"(\S\s)(?-i:C\.? ?of ?C)\b", r"\1chamber of commerce"),
        (r"^\s*(m/s|messrs|pt|ooo|zao|oao|pao|uab|sia|llc|oü|jsc|ojsc|pjsc|ооо|зао|оао|пао|ао|тов|firma|fa\.)[.,]?\s+", ""),
        (r"[\s,]+(inh\.|inhaber(in)?:?|c/o|attn[.:]*|attention:|z\.? ?hd\.?)\s[^\d]*$", ""),
        (r"\bco-?op(erativ[ae]|[ée]rative)?\b", "coop"),
        (
            r"(\s*[\[(*]+|\s+-+)\s*(do not (?:use|call|contact)|don'?t (?:use|call)|inactive|closed|out of business|duplicate|dupe|obsolete|old|moved|bankrupt)\b[\s)\]*!.-]*$",
            "",
        ),
        (r"\s*[\[(*]+\s*(vip|test|dnc|cod(?: only)?|prospect|(?:on|credit) hold)\b[\s)\]*!.-]*$", ""),
        (r"^\W*(do not use|duplicate)\W+", ""),
        (r"[\s,(]+(est(\.|d\.?|ablished)?|since|seit|gegr\.?|fond[ée]e? en|desde|dal|anno)\s*(in )?\d{4}\)?", ""),
        (
            r"[\s,;(\[]+(?:https?://|www\.)\S+$|[\s,;(\[]+[^\s,;(\[]+@\S+$|[\s,;(]+\+?\d?[\s.-]?\(?\d{3}\)?[\s.-]\d{3}[\s.-]\d{4}\)?$",
            "",
        ),
        (r"^(https?://)?www\.", ""),
        (r"([^\s\d.]{3})\.(com|net|org)\b", r"\1"),
        (r"\bc\.? ?of ?e\b\.?", "ce"),
        (r"^(?-i:([A-Z]{1,4})[aeyu]([A-Z]{1,4}))$", r"\1\2"),  # PaSM: Peck and Sons Media
        (r"^P\.? ?S\.? ?#?(\d+)\b", r"public school \1"),
        (r"\b(?-i:M\.?S\.?) ?/ ?(?-i:H\.?S)\b", "middle high school"),
        (r"\b(?-i:([A-Z]))-(\d+)\b", r"\1\2"),  # K-12, A-1
        (r"\be-(\pL{3})", r"e\1"),  # E-Campus
        (r"\bcredit un\b\.?", "credit union"),
        (r"\bU\.? of\b", "university of"),
        (r"\bpub\.? lib(?:rary|r?\b\.?)", "public library"),
        (rf"^(.*\S), ((?:{_TOWN}|county|township|state) of)(?: ?- ?(.+))?$", r"\2 \1 \3"),
        (rf"^(?:{_TOWN}) of (.*\b(?:{_SERVICES}|(?-i:PD|FD))\b.*)$", r"\1"),
        (rf"^(.*\b(?:{_SERVICES})\b.*), (?:{_TOWN}) of (.+)$", r"\2 \1"),
        (rf"^((?:{_TOWN}|county|township) of .*?),? {_STATES} *$", r"\1"),
        (
            r"([^&\s]\s)co\.? ((?:sheriff|courthouse|clerk|board|bd|highway|hwy|health|treasurer|assessor|jail|library|public|fire|police|court)\b)",
            r"\1county \2",
        ),
        (r"\b(municipal|district|circuit|superior|county) ct\b\.?", r"\1 court"),
        (rf"^((?:{_TOWN}) of .*?)[\s,-]+(?:{_TOWN}) hall$", r"\1"),
        (rf"^({_TOWN}) hall[\s,-]+(?:of )?(\S.*)$|^(\S.*?) ({_TOWN}) hall$", r"\1\4 of \2\3"),
        (r"\bsheriff['’]?s?['’]? (?:office|dep(?:artmen)?t\b\.?)", "sheriff"),
        (r"\bpolice(?: dep(?:artmen)?t\b\.?)?$", "police department"),
        (r"\bfire (?:&|and) rescue\b", "fire department"),
        (r"\bbranch library\b", "branch"),
        (r"[,\s]+(?:attorneys?|counsel(?:l?ors?)?|lawyers?)[ -]at[ -]law\b|^(?:the )?law (?:offices?|ofcs?|firm) of ", ""),
        (r"(\S\s)(?-i:HOA)\b", r"\1homeowners association"),
        (r"\bhome ?-?owners?['’]?s? (association|assn\b\.?|assoc\b\.?)", r"homeowners \1"),
        (r"([^\s\d]{3}\s+)(?:(?-i:(?:[VF]|VF)D)|(?:volunteer )?fire (?:department|dept\b\.?))(\W|$)", r"\1fire department\2"),
        (r"([^\s\d]{3}\s+)(?-i:PD)$", r"\1police department"),
        (r"\bhvac\b", "heating and cooling"),
        (r"\b(heating|htg) ?(?:&|\+|and) ?(?:air(?: conditioning)?|a/?c)\b", r"\1 and cooling"),
        (r"\b(?-i:GP)((?: (?:[ivx]+|\d+)\b.*|,? L\.?L\.?C\.?)?)$", r"generalpartner\1"),
        (r"\b(?:rev|revocable)\.? (?:living )?(?:trust|tr\b)", "revocable trust"),
        (r"\bfamily (?:living )?(?:trust|tr)$", "family trust"),
        (r"\b(?:local union|L\.? ?U\.?) ?((?:(?:no|nr)\b\.?|#)? ?\d)", r"local \1"),
        (r"\bphase ([ivx]+|\d+)(\W|$)", r"\1\2"),
        (rf"\b(st|saint)\.? (?:(\pL{{3,}})['’]s?|({_SAINTS})s)(\s|$)", r"\1 \2\3\4"),
        (r"\bf\.?lli\b", "fratelli"),
        (r"((?:#|№|\b(?:no|nr|n[úu]m|num|number|nummer)\b\.?|\bn[º°])\s*)+(\d)", r" \2"),
        (r"(?-i:\bN)\.? ?(\d+)(\W|$)", r" \1\2"),
        (r"\b(\d*[02-9]|\d+1)(?:st|nd|rd|th)\b", r"\1"),
        (r"([^\W\d_]{3})(\d\d+[a-z]?|[2346789])\b", r"\1 \2"),
        (r"([^\s\d.]{3}\s+)(?-i:H\.? ?S)\b", r"\1high school"),
        (r"([^\s\d.]{3}\s+)(?-i:M\.? ?S)\.?$", r"\1middle school"),
        (r"([^\s\d.]{3}\s+)(?-i:E\.? ?S)\.?$", r"\1elementary school"),
        (r"\bel\.? sch(?:ool)?\b\.?", "elementary school"),
        (r"\b(?:junior|jr\.?)[ -](?:high|hi\b\.?)|([^\s\d.]{3}\s)(?-i:JHS)$", r"\1juniorhigh"),
        (r"\b(?:junior|jnr)\.? sch(?:ool)?\b\.?|([^\s\d]{3}\s)juniors$", r"\1juniorprimary school"),
        (r"(^|\b(?:[^j\W]\w*|j(?:[^ru\W]\w*)?)\.?,? )(?:senior|sr\.?) (?:high|hi\b\.?)", r"\1high"),
        (r"([^\s\d]{3}\s+)(?:pub(?:lic)?|((?:community|city|area|county|co|local) )) ?sch(?:ool)?s$", r"\1\2school district"),
        (r"\b(?:l[\s.]t\.?d|lt[\s.]d)\W*$", "ltd"),
        (r"\b(?:in\.c|i\.nc)\W*$", "inc"),
        (r"\b(?:g[\s.]mbh|gm[\s.]bh|gmb[\s.]h)\W*$", "gmbh"),
        (r"\b(?:l[\s.]lc|ll[\s.]c)\W*$", "llc"),
        (r"\bst\.? univ\b\.?", "state university"),
        (r"\bch\.? (orch|mus)", r"chamber \1"),
        (r"([^\s\d]{2}\s+)ch\.?(\s+of\b|$)", r"\1church\2"),
        (
            r"\b(bapt(?:ist)?|presb(?:yterian)?|luth(?:eran)?|meth(?:odist)?|cath(?:olic)?|epis(?:copal)?|christian|community) ch\b\.?",
            r"\1 church",
        ),
        (r"\b(bank (?:&|and)|fam(?:ily)?|liv(?:ing)?) tr\b\.?", r"\1 trust"),
        (r"([^\s\d]{3}\s)(?-i:BOE)$", r"\1board of education"),
        (r"\b(?-i:SDA)(\s+(?:church|ch\b|school|academy|hospital|elementary|mission))", r"seventh-day adventist\1"),
        (r"\bob[ /-]?gyn\b", "obstetrics gynecology"),
        (r"\bchamb?\.? of comm?\b\.?", "chamber of commerce"),
        (r"\bof ed\.?$", "of education"),
        (r"\b(?:r\.? ?c\.? |roman catholic )(church|school|primary|parish)", r"catholic \1"),
        (r"\bgymn?\.", "gymnasium"),
        (
            r"\bc[oô]ng ty (tnhh|tr[aá]ch nhi[eệ]m h[uữ]u h[aạ]n|c[oổ] ph[aầ]n|cp|h[oợ]p danh)( mtv| m[oộ]t th[aà]nh vi[eê]n)?\b|\bctcp\b|\bdoanh nghi[eệ]p t[uư] nh[aâ]n\b|\bdntn\b",
            "",
        ),
    )
)
"""What brackets, spaces, a lone letter or their place hide from the table of words: legal forms, numbers, schools; and what stands for each."""

_IN_OTHER_LETTERS = f"[{chr(0x370)}-{chr(0x10FFFF)}]"
_UNSPACED = "[(（](株|有|주)[)）]|㈱|㈲|㈜|(株式|有限|合同|合資)会社|(股份|集团)?有限(责任|責任)?公司|주식회사|유한회사|(一般|公益)?(社団|財団)法人|(学校|医療)法人"
_OTHER_LETTERS = (
    (rf"^\s*({_UNSPACED})\s*", ""),
    (_UNSPACED, " ltd "),
    (
        r"(?i)^\s*(ип|фоп|пп|прат|пат|нао|тоо|ет|общество с ограниченной ответственностью|товариство з обмеженою відповідальністю"
        r"|((публичное|непубличное|закрытое|открытое|публічне|приватне) )?(акционерное общество|акціонерне товариство)|индивидуальный предприниматель|شركة|مؤسسة|บริษัท|ห้างหุ้นส่วน(จำกัด)?|חברת)[.,]?\s+",
        "",
    ),
    (
        r"(?i)[\s,]+(еоод|оод|еад|ад|α\.?ε\.?|ε\.?π\.?ε\.?|ο\.?ε\.?|ι\.?κ\.?ε\.?|ذ\.?\s?م\.?\s?م\.?|จำกัด(\s?\(?มหาชน\)?)?|בע\"מ)\s*$",
        " ltd",
    ),
    ("([㐀-鿿々])", r" \1\1\1\1 "),
)
"""Legal forms in letters other than Latin ones, many of them written without a space before or behind; and each Chinese character
as a word of its own. Spelled in Latin letters four times over, none is a number, a short word or a slip of another."""


_HUMPS = (r"([A-Za-zÀ-ÿ]{2}[a-zß-ÿ])([A-ZÀ-Þ][a-zß-ÿ]{2})", r"([A-Z]{2})([A-Z][a-zß-ÿ]{2})")
"""Where words ran together with a capital within: ReedWorks, SRBrass."""


def plain(column: Column) -> Column:
    """Names with hidden legal forms, numbers, schools and institutions spelled as the table of words has them."""
    spelled = reworded(reworded(column.values, _OTHER_LETTERS, _IN_OTHER_LETTERS), (*FORMS, *_WORDINGS, KING))
    return Column(reworded(spelled, (*SCHOOLS, *INSTITUTIONS)), column.codes)


_WORD, _SON = r"[\pL'’-]{2,}", rf"{GENERATION}\.?"
_PERSONS = (
    rf"(?i)^\s*(?P<family>{_WORD}(?:\s{_WORD})?(?:\s{_SON})?)\s*,\s*(?P<given>{_WORD})(?P<rest>(?:\s+\pL\b\.?)*(?:,?\s+{_SON})?)\s*$",
    rf"(?i)^\s*(?P<family>{_WORD})\s+(?P<given>{_WORD})(?P<rest>\s+\pL\.?)\s*$",
)
"""Persons as lists of suppliers write them: REED, ANA T; REED ANA T."""
_POINTED = rf"^\s*(?P<given>{_WORD})\s+[A-Z]\.\s+\pL{{2}}"  # Ana T. Reed
_HABIT = 5


def given_first(column: Column, known: frozenset[str]) -> tuple[Column, frozenset[str]]:
    """Names of persons with the given name in front, where so many of them have the family name there that it is the list's habit; and further given names that the names show.

    Behind a given name a letter is an initial, and no unit's. known : given names; behind a comma there are others as well, and
    without one the first word must be none
    """
    text = column.values.arrow()
    likely = matches(text, r"^[^,]+,[^,]*(,\s*\pL+\.?\s*)?$|\s\pL\.?\s*$|^\s*[^\s,]+\s+[A-Z]\.\s")
    if not pc.any(likely).as_py():
        return column, frozenset()
    some = text.filter(likely)
    comma, plain, pointed = (captured(some, pattern) for pattern in (*_PERSONS, _POINTED))
    by_comma, by_letter, shown = (pc.utf8_lower(pc.struct_field(found, "given")) for found in (comma, plain, pointed))
    by_letter = pc.and_(among(by_letter, known), pc.invert(among(pc.utf8_lower(pc.struct_field(plain, "family")), known)))
    learned = shown.drop_null() if len(shown) - shown.null_count >= _HABIT else shown.slice(0, 0)
    if sum(pc.sum(found).as_py() or 0 for found in (among(by_comma, known), by_letter)) >= _HABIT:
        learned = pa.concat_arrays([learned, by_comma.drop_null()])
        for found, chosen in ((comma, comma.is_valid()), (plain, pc.fill_null(by_letter, False))):
            parts = [pc.struct_field(found, part) for part in ("given", "rest", "family")]
            some = pc.if_else(chosen, pc.binary_join_element_wise(parts[0], parts[1], parts[2], pa.scalar(" ", text.type)), some)
        text = pc.replace_with_mask(text, likely, some)
    return Column(Texts.of(text), column.codes), frozenset(pc.unique(learned).to_pylist())


class Readings(NamedTuple):
    """Names and how else they may be read.

    column : the names, behind them the other readings;  other : int32[n_records], code of the other reading, -1 = none
    apart  : bool[n_records], it is the name with words apart that run together;  called : int8[n_records], it is what the firm is called
    for short: 2 where these are letters of the name in their order, else 1; 0 = it is not
    """

    column: Column
    other: NDArray[np.int32]
    apart: NDArray[np.bool_]
    called: NDArray[np.int8]


def other_readings(column: Column) -> Readings:
    """The column with `X dba Y` and `X, formerly Y` cut to X, and the other reading of each name.

    That is Y; what X is called for short; or else X with words apart that run together: whether MediaReed is Mediareed or Media Reed,
    the other side says.
    """
    text = column.values.arrow()
    legal, trading = _also(text)
    cut = pc.coalesce(legal, text)
    cut, short, sure = _called(cut)
    apart = cut
    for hump in _HUMPS if pc.any(matches_any(cut, _HUMPS)).as_py() else ():
        apart = replaced(apart, hump, r"\1 \2")
    other = pc.coalesce(trading, short, pc.if_else(pc.equal(apart, cut), None, apart))
    has, traded, called = (x.is_valid().to_numpy(zero_copy_only=False) for x in (other, trading, short))
    at = np.where(has, np.cumsum(has) - 1 + len(text), -1).astype(np.int32)
    texts = Texts.of(pa.concat_arrays([cut, other.drop_null()]))
    kind = np.where(called & ~traded, 1 + sure, 0).astype(np.int8)
    return Readings(
        Column(texts, column.codes),
        np.append(at, np.int32(-1))[column.codes],
        np.append(has & ~traded & ~called, False)[column.codes],
        np.append(kind, np.int8(0))[column.codes],
    )


def of_one(names: Column, own: Column, n_existing: int) -> Column:
    """Other names of firms without those that several of one list bear: an owner's, whose shops have names of their own."""
    other, name = keys_without_case(names), keys_without_case(own)
    one = [owners(other[side], name[side]) <= 1 for side in (slice(0, n_existing), slice(n_existing, None))]
    return Column(names.values, np.where(np.concatenate(one), names.codes, -1).astype(np.int32))


def beside(readings: Readings, names: Column) -> tuple[Readings, NDArray[np.bool_]]:
    """The readings with the names of another column where a name has no other reading, and which records have theirs from there."""
    listed = (readings.other < 0) & (names.codes >= 0)
    texts = Texts.of(pa.concat_arrays([readings.column.values.arrow(), names.values.arrow()]))
    other = np.where(listed, names.codes + len(readings.column.values), readings.other).astype(np.int32)
    return readings._replace(column=Column(texts, readings.column.codes), other=other), listed


def _also(text: pa.Array) -> tuple[pa.Array, pa.Array]:
    """Each name before `dba` or `formerly`, and the one behind it, or the same name in another alphabet; null where none stands in it."""
    said = matches(text, rf"(?i)[\s,(](?:{'|'.join(f'{_TRADING} {_FORMERLY}'.split())})[\s:]|[(\[][^)\]]*{OTHER}|{OTHER}.*[(\[]")
    nothing = pa.nulls(len(text), text.type)
    if not pc.any(said).as_py():
        return nothing, nothing
    parts = [captured(pc.if_else(said, text, None), layout) for layout in (*_ALSO, *_BOTH)]
    legal, other = (pc.coalesce(*(pc.struct_field(x, part) for x in parts)) for part in ("legal", "other"))
    return legal, other


def _called(text: pa.Array) -> tuple[pa.Array, pa.Array, NDArray[np.bool_]]:
    """Each name without its own initials, which say nothing more; what it is called for short, null = nothing; and whether these are letters
    of the name, in their order."""
    plain, out, sure = text, pa.nulls(len(text), text.type), np.zeros(len(text), bool)
    for layout in _CALLED if pc.any(matches(text, rf"[(\[–-]\s*{_INITIALS}|{_INITIALS}\s*[(\[–-]")).as_py() else ():
        parts = captured(text, layout)
        found = np.flatnonzero(parts.is_valid().to_numpy(zero_copy_only=False) & out.is_null().to_numpy(zero_copy_only=False))
        short = pc.struct_field(parts, "called")
        found = found[~among(short.take(pa.array(found)), _NO_NAMES).to_numpy(zero_copy_only=False)]
        long, short = (part.take(pa.array(found)) for part in (pc.struct_field(parts, "legal"), short))
        # Few names are written so: they are asked one by one.
        pairs = list(zip(*(pc.utf8_lower(x).to_pylist() for x in (short, long)), strict=True))
        mask, own = np.zeros(len(text), bool), np.array([_begin(*both) for both in pairs], bool)
        mask[found], sure[found] = own | (layout != _SHOUTED), [_spells(*both) for both in pairs]
        out = pc.replace_with_mask(out, pa.array(mask), short.filter(pa.array(mask[found])))
        mask[found] = own
        plain = pc.replace_with_mask(plain, pa.array(mask), long.filter(pa.array(own)))
    return plain, out, sure


def _begin(initials: str, name: str) -> bool:
    """Whether the letters are those that the name's words begin with, without small words, and what stands behind the last (a legal form)."""
    words = re.findall(r"\w+", name)
    letters = list(initials)
    while words and letters:
        word = words.pop(0)
        if word[0] == letters[0]:
            letters.pop(0)
        elif len(word) > _SMALL:
            return False
    return not letters


def _spells(initials: str, name: str) -> bool:
    """Whether the letters stand in the name, one behind the other."""
    rest = iter(name)
    return all(letter in rest for letter in initials)
