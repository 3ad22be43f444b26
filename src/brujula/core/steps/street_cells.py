"""The cells that streets stand in: what people write there in more than one way, and besides."""

from __future__ import annotations

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Column, Texts
from brujula.core.steps.patterns import matches
from brujula.core.steps.text import Words, hash_values, reworded

_LETTERS = r"[^\d\s,;.()/#'-]" * 4
_IN_WORDS = "one two three four five six seven eight nine ten".split()
_AS_ORDINALS = "first second third fourth fifth".split()
_UNITS_IN_WORDS = (
    {word: str(n) for n, word in enumerate(_IN_WORDS, 1)}
    | dict.fromkeys("rear front upper lower basement penthouse ground left right bajo atico links rechts parterre".split(), "")
    | {"izq": "izquierda", "izda": "izquierda", "izquierda": "", "dcha": "derecha", "dto": "derecha", "derecha": ""}
)
"""What a unit is called besides a numeral, a letter or a code; what another word says for it."""
UNITS = "suite ste apt apartment unit room rm floor fl flat dept bldg building int interior piso apto ap lok wohnung whg bus bte".split()
"""What stands before a unit."""
_UNIT, _UNIT_BEGINS = "|".join(UNITS), "|".join(sorted({word[:2] for word in UNITS}))
_BESIDE = (
    r"between|b/w|near(?: to)?|opp(?:osite)?(?: to)?|behind|beside|adjacent to|next to|across from|(?:at )?the corner of|corner of|corner with"
    r"|entre [^,\d]+ [ye]|entre(?: [^,]+)? \d[^,]* [ye]|esq|esq\.? con|esquina(?: con| com)?|frente al?|junto al?|ao lado d[aeo]|al lado de|cerca de|detr[aá]s de|ecke|neben|gegen[uü]ber|face [aà]"
)
"""What says where a house is by what is about it, which two lists seldom say alike."""
_STREET_TYPES = "st|str|street|ave?|avenue|blvd|boulevard|rd|road|dr|drive|ln|lane|pl|place|way|broadway|pkwy|parkway|sq|square|ct|court|hwy|pike|terr?|terrace"
_CROSSED = rf"(?:at|off(?: of)?|@|&|and|cnr\.?|cor\.?|x)\s+[^,]*?\b(?:\d+(?:st|nd|rd|th)(?:\s+(?:{_STREET_TYPES})s?)?|{_STREET_TYPES})\.?\)?\s*$"
"""The street that crosses, behind a house's own: 641 Union Pl. at 54th St. Without a house number it is where a crossing is."""
_BARE = r"(?i)^(\s*\d+[a-z]?\s+(?:(?:[nsew]|north|south|east|west)\.?\s+)?)"
_TYPED = rf"\s+(?:{_STREET_TYPES})\b"
_ORDINALS = ((r"\d*1[123]|\d*[04-9]", "th"), (r"\d*1", "st"), (r"\d*2", "nd"), (r"\d*3", "rd"))
"""Numbers of streets, which some write without the ending: 12 West 42 Street."""
KING = (r"(?i)\b(?:dr\.? )?(?:martin luther|m\.? ?l\.?) king\b,?(?: jr\b\.?)?", "mlk")
"""Whom many streets and schools are called by, for short."""
_OF_COLOMBIA = (
    ("carrera", "cra|kra?|carrera"),
    ("calle", "calle|cll?"),
    ("diagonal", "diag|diagonal"),
    ("transversal", "transv|transversal"),
)
_CORNER = (
    r"(\d+)\s?([a-z]?)(?:\s(sur|norte|este|oeste|bis))?\s*(?:#|n[ro]{1,2}\b\.?|n[°º]\.?|\s)\s*(\d+\s?[a-z]?)\s*[-\s]\s*(\d+)"
)
"""Carrera 12 # 34-56: house 56 of Carrera 12, counted from the corner with 34."""
_WORDINGS = (
    (r"(?i)(\d[\s,-]+\d+)\s*\.?[ºª°]?[\s.,]*(?:izq(?:uierda|da)?|izda|esq(?:uerd[oa])?)\.?\s*$", r"\1i"),
    (r"(?i)(\d[\s,-]+\d+)\s*\.?[ºª°]?[\s.,]*(?:dcha|derecha|direit[oa]|dt[oº])\.?\s*$", r"\1d"),
    (r"(?i)^\s*(?:c/o|attn:?)\s[^,\n]*[,\n]\s*|(\d[^,\n]*)[,\n]\s*(?:c/o|attn:?)\s.*$", r"\1"),
    (r"(?i)\b(?:p\.? ?o\.? ?|post office |po)box\b|\bpob\b", "po box"),
    (
        r"(?i)^(.*\d.*?)[,\s]+p\.?\s?o\.?\s?box\s\d+\s*$|^\s*p\.?\s?o\.?\s?box\s\d+[,\s]+(.*\d.*)$",
        r"\1\2",
    ),  # 12 Mill Street, PO Box 44
    (r"(?i)\b(?:rural r(?:ou)?te|r\.? ?r|rte)\b\.?[ #]*(\d+)[,\s]+box\b", r"rrte\1 box"),
    (r"(?i)^\s*(?:lot|parcel)\.? \d+[a-z]?\s*[,/]\s*(\d+\s)", r"\1"),
    (rf"(?i)^(.*\d.*\pL{{2}}.*?|.*\pL{{3}}.*\d.*?)[\s,(]+(?:{_BESIDE})[\s.].*$", r"\1"),  # 953 2nd Ave. between 50th and 51st
    (rf"(?i)^(\s*\d+[a-z]?\s.*?\b(?:{_STREET_TYPES})\b\.?)[\s,(]+{_CROSSED}", r"\1"),
    (rf"(?i)^\s*(?:{_BESIDE})[\s.][^,\d]*,\s*(.*\d.*\pL{{2}}.*|.*\pL{{3}}.*\d.*)$", r"\1"),  # Opp. City Mall, 12 Mill Road
    (r"(?i)\b[hd]\.? ?no[.:]? ?(\d)", r"\1"),  # H.No. 12
    (r"(?i)\b(plot|flat|shop|door|house|unit) no[.:]? ?(\d)", r"\1 \2"),
    (r"(?i)\b(?:shop|office|oficina|local|level|lvl) (\d)", r"unit \1"),  # not Shop Street
    (r"(?i)(\d[\s,/-]+)(?:sala|nave|sl\.?) (\d)", r"\1unit \2"),  # not Via Sala 5
    (r"(?i)^\s*pmb[\s#]*(\d+)[,\s]+(.*\d.*)$", r"\2 unit \1"),
    (r"(?i)\bpmb[\s#]*(\d+)\s*$", r"unit \1"),
    (r"^(\s*\d+)\s*(?:½|1/2)\s", r"\1h "),
    (r"(?i)[,\s]+(?:s[./]\s?n\.?|sn|(?:sin|sem|senza) n[uú]mero)\s*$", ""),
    (r"(?i)^(\s*\d+[a-z]?\s.*\pL\s+)cl\.?\s*$", r"\1close"),
    *((rf"{_BARE}({which})({_TYPED})", rf"\1\2{suffix}\3") for which, suffix in _ORDINALS),
    (r"(?i)\bground fl(?:oor)?\b( flat\b)?,?", r"fl 0,"),
    *((rf"(?i)\b{word} fl(?:oor)?\b( flat\b)?,?", rf"fl {n},") for n, word in enumerate(_AS_ORDINALS, 1)),
    (r"(?i)\b(\d+)(?:st|nd|rd|th) fl(?:oor)?\b( flat\b)?,?", r"fl \1,"),
    (rf"(?i)\b(?:{_UNIT})\s*,\s*(\d)", r", \1"),  # Harrow Building, 12 Mill Street
    (rf"(?i)\b({_UNIT})[.#\s]+(\d+)[ -]([a-z])($|[\s,])", r"\1 \2\3\4"),
    (rf"(?i)\b({_UNIT})[.#\s]+([a-z])[ -](\d+)($|[\s,])", r"\1 \2\3\4"),
    (r"(?i)(^|,)\s*(\d+)\s*/?\s*f\b\.?(?:-\d+)?\s*([,./]|$)", r"\1 fl \2\3"),  # 8F., No. 94, 5/F
    (r"(?i)(\pL{3}[,\s]+)n[.°º]*\s*(\d+\s?[a-z]?)\s*$", r"\1 no \2"),  # Via Orme n. 5
    (r"(?i)\b(\pL{2,})-(d[aeiou]|l[aei]|el|et|y)([^-\pL]|$)", r"\1\2\3"),  # Li-De, Lide
    (r"(\d) ?/ ?([A-Za-z])($|[\s,;.-])", r"\1\2\3"),  # 12/A
    (r"^\s*(\d+)/(\d+) ([^\d\s])", r"unit \1, \2 \3"),  # 2/12 Mill Road
    (rf"({_LETTERS})(\d)", r"\1 \2"),  # Weststraße12
    (r"^\s*0*(\d+)(\pL{3})", r"\1 \2"),  # 12Mill Street
    *((rf"(?i)^\s*{word}\s+(\pL)", rf"{n} \1") for n, word in enumerate(_IN_WORDS, 1)),  # One Harrow Plaza
    (r"(?i)\b(\d+)[\s/-]*(b)is\b|\b(\d+)[\s/-]*(t)er\b", r"\1\3\2\4"),  # 12 bis rue
    (r"(\d)\s*[ºª°](?:\s*([A-Za-z])($|[\s,;.-]))?", r"\1\2\3"),  # 2º B
    (r"^\s*(\d+) ([A-DF-Ha-df-h]) (\pL{3,} \pL{2})", r"\1\2 \3"),  # 221 B Mill Street
    (r"(?i)\b(?:u\.?s\.? |state |national )?(?:highway|hwy|route|rte|rt|state r(?:oa)?d)\.?[ -]*(\d+)", r"hwy\1"),
    (r"(?i)^(\s*\d+[a-z]?\s+(?:[nsew]\.? )?)(?:sr|sh|us|u\.s\.)[ -]?(\d+)\b", r"\1hwy\2"),  # 1200 SR 9
    (r"(?i)\b(?:interstate[ -]|i-)(\d+)\b", r"interstate\1"),
    (r"(?i)\b(?:county r(?:oa)?d|co\.? r(?:oa)?d|cr)\.?[ -]*(\d+)\b", r"cr\1"),
    (r"(?i)\b(?:farm[ -]to[ -]market(?: r(?:oa)?d)?|fm(?: r(?:oa)?d)?)\.?[ -]*(\d+)\b", r"fm\1"),
    (r"(\d)\s+([A-Ha-h])\s*$", r"\1\2"),  # Westweg 5 a
    (r"(\d)\s*\bm\.\s*(\d)", r"\1/\2"),  # Długa 5 m. 7
    (r"(?i)\b([clpv])\.\s?(zz?a|so|le|go)\b", r"\1\2"),  # P.zza, C.so, V.le, L.go
    (r"(?i)\bp\.?[º°]", "paseo"),
    (r"(?i)\b(rue|boul|boulevard|av|avenue|chemin)\b(.*\s)o\.?\s*$", r"\1\2ouest"),
    (r"(?i)(\pL{2}\s)u\.(\s*\d|$)", r"\1utca\2"),  # Hárs u. 5
    (r"(?i)(\pL{3}\s)g\.(\s*\d|$)", r"\1gatvė\2"),
    (r"(?i)(\pL{3})vn\.?(\s*\d|\s*$)", r"\1veien \2"),
    (r"(?i)(\pL{3})gt\.?(\s*\d|\s*$)", r"\1gata \2"),
    (r"(^|\s)[Tt]ř\.", r"\1třída "),
    (r"(?i)(^|[\s,])пр(?:-т|осп)?\.?(\s|$)", r"\1проспект\2"),
    (r"(?i)(^|[\s,])пл\.(\s|$)", r"\1площадь\2"),
    (r"(?i)(^|[\s,])ш\.(\s|$)", r"\1шоссе\2"),
    (r"(?i)(\d)[\s,]*(?:корп(?:ус)?|к)\.?\s*(\d)", r"\1 unit \2"),
    (r"(?i)(\d)[\s,]*(?:строение|стр|с)\.?\s*(\d)", r"\1 unit \2"),
    *((rf"(?i)\b(?:{words})\.?\s*{_CORNER}", rf"\5 {road}\1\2\3x\4") for road, words in _OF_COLOMBIA),
    (r"(?i)^[^,\d]+\smah(?:\.|allesi|\s)[\s,]*(\pL.*\d.*)$", r"\1"),  # a quarter of a Turkish town
    (r"(?i)[\s,]+bl\.? ?[\da-z]+(?:[\s,]+sc\.? ?[\da-z]+)?(?:[\s,]+et\.? ?\d+)?[\s,]+ap\.? ?(\d+)\s*$", r", ap \1"),
    KING,
)
"""Ways to write a street that words cannot show, and what stands for each."""
_ODD = (
    rf"(?i)c/o|attn|shop|offic|local|level|lvl|sala|nave|sl\.? \d|pmb|½|\bs[./]?\s?n\.?\s*$|n[uú]mero|\bcl\.?\s*$|\d(?:\s+[nsew][a-z]*\.?)?\s+\d+{_TYPED}|interstate|\bi-\d|box|\bpob\b|no[.: ]|[hdt] fl|(?:{_UNIT_BEGINS})[a-z]*[.#,\s]+(?:\d+[ -][a-z]|[a-z][ -]\d|\d)|\d ?/|{_LETTERS}\d|^\s*\d+\pL{{3}}|^\s*(?:{'|'.join(_IN_WORDS)})\s|\d[\s/]*(?:bis|ter)\b"
    r"|\d\s*f\b|\bn[.°º]*\s*\d|-(?:d[aeiou]|l[aei]|el|et|y)\b|[ºª°]|^\s*\d+ [a-h] |\d\s+[a-h]\s*$|hwy|highway|route|\b(?:rte?|sr|sh|us|cr|fm)\.?[ -]*\d|u\.s\.|(?:state|county|co\.?) r|farm|\bm\.|\b[clpv]\.|king"
    r"|\b(?:at|off|and|x|co?[rn]r?)\b|[@&]|betw|b/w|\bne(?:ar|b)|\bopp|behi|besi|adja|next|across|corner|entre|\besq|^\s*(?:lot|parcel)|\so\.?\s*$|frente|junto|lado|cerca|detr|ecke|gegen|face"
    r"|\s[ug]\.|(?:vn|gt)\b|tř\.|пр|пл\.|ш\.|\d[\s,]*[кс]|\b(?:cra|kra?|carrera|calle|cll?|diag|transv)|mah|izq|izda|esq|dt[oº]|direit|d(?:ere)?cha|\bbl"
)
"""What every wording holds; one pattern of all of them takes fifty times as long to find."""


def plain(street: Column) -> Column:
    """Streets with the number apart from the name, its letter beside it, roads with their number, and short words as the table of words has them."""
    return Column(reworded(street.values, _WORDINGS, _ODD), street.codes)


def as_units(words: Words) -> NDArray[np.uint64]:
    """Per word of the vocabulary the hash of the unit it names behind a flat or a suite; 0 = no unit is called so."""
    text = words.vocabulary.arrow()
    if len(text) == 0:
        return np.zeros(0, np.uint64)
    told = pa.array(list(_UNITS_IN_WORDS), pa.large_string())
    meant = pa.array([other or word for word, other in _UNITS_IN_WORDS.items()], pa.large_string())
    code = pc.and_(matches(text, r"^\pL$|\d"), pc.invert(matches(text, r"^\d+(st|nd|rd|th)$")))
    unit = pc.coalesce(meant.take(pc.index_in(text, value_set=told)), pc.if_else(code, text, None))
    return hash_values(Texts.of(pc.fill_null(unit, "")))
