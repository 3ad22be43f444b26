"""The cells that names stand in: which part is which, and what else is written there."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from functools import cache

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Column, Texts
from brujula.core.steps.degrees import GENERATION, Degrees, family_in_front
from brujula.core.steps.listed import among
from brujula.core.steps.patterns import captured, matches, matches_any, replaced
from brujula.core.steps.text import reworded

_FAMILY_FIRST = r"^\s*([^,]{2,}?)\s*,\s*([^,]+?)\s*$"
_FAMILY_GIVEN_SUFFIX = r"^\s*([^,]{2,}?)\s*,\s*([^,]+?)\s*,\s*([^,]+?)\s*$"
PARTICLES = "de|del|della|di|da|do|dos|das|du|la|le|van|von|der|den|ter|ten|zu|al|el|bin"
_FAMILY_LAST = rf"^\s*(?P<given>.*?\S)\s+(?P<family>(?:(?i:{PARTICLES})\s+)*[^\s,(-]{{2,}}-[^\s,)-]{{2,}})\s*$"
_FAMILY_GIVEN = r"^\s*(?P<family>[^,]{2,}?)\s*,\s*(?P<given>[^,]+?)\s*(?:,\s*[^,]+?\s*)?$"


_SHOUTED = r"[\p{Lu}'’-]"
_SHOWN = rf"\p{{Ll}}.*\s{_SHOUTED}{{2}}|^\s*{_SHOUTED}{{3}}.*\s\p{{Lu}}\p{{Ll}}|\p{{Ll}}\s+(?:\p{{Lu}}[.-]*){{2,3}}\s*$"
"""Cells whose capitals may show what is what."""
_AUTHOR = (
    rf"^\s*(?P<family>(?:(?i:{PARTICLES})\s+){{0,3}}\p{{Lu}}[^\s,.]*\p{{Ll}}[^\s,.]*)\s+(?P<given>(?:\p{{Lu}}[.-]*){{2,3}})\s*$"
)
"""Quist AB, van der Quist J.A.: as papers name their authors. A numeral or Jr. is no initials."""
_ENDS = r"^\s*(?P<first>[^\s,]{3,})\s(?:.*\s)?(?P<last>[^\s,]{3,})\s*$"
_SHOWING = (
    # Ada DE LA QUIST LIND, QUIST LIND Ada; of one word in capitals either order is tried anyway.
    rf"^\s*(?P<given>\p{{Lu}}[^\s,]*\p{{Ll}}[^,]*?)\s+(?P<family>(?:(?i:{PARTICLES})\s+){{0,3}}{_SHOUTED}{{3,}}(?:\s+{_SHOUTED}{{2,}})+)\s*$",
    rf"^\s*(?P<family>{_SHOUTED}{{3,}}(?:\s+{_SHOUTED}{{2,}})+)\s+(?P<given>\p{{Lu}}[^\s,]*\p{{Ll}}[^,]*)$",
)
_NUMERAL = r"\s(?:II|III|IV|VI|JR|SR|MD)\.?\s*$"
_HAN, _KANA, _HANGUL = "㐀-鿿々", "ぁ-ヿー", "가-힣"


def unspaced(families: Mapping[str, Sequence[str]]) -> tuple[str, ...]:
    """Patterns of names of China, Japan and Korea written without a space, for `halves`: the family's first, of one character where that is a common family name of China, else of two."""
    two, japan, korea = ("|".join(families[of]) for of in ("china_two", "japan", "korea_two"))
    one = f"[{''.join(families['china'])}]"
    return (
        rf"^\s*(?P<family>{two})(?P<given>[{_HAN}]{{1,2}})\s*$",
        rf"^\s*(?P<family>{japan})(?P<given>[{_HAN}{_KANA}]{{1,3}})\s*$",
        rf"^\s*(?P<family>{one})(?P<given>[{_HAN}]{{1,2}})\s*$",
        rf"^\s*(?P<family>[{_HAN}]{{2}})(?P<given>[{_HAN}{_KANA}]{{1,3}})\s*$",
        rf"^\s*(?P<family>[{_HAN}])(?P<given>[{_HAN}])\s*$",
        rf"^\s*(?P<family>[{_HAN}]{{1,3}})(?P<given>[{_KANA}]{{2,}})\s*$",
        rf"^\s*(?P<family>{korea})(?P<given>[{_HANGUL}]{{1,2}})\s*$",
        rf"^\s*(?P<family>[{_HANGUL}])(?P<given>[{_HANGUL}]{{1,2}})\s*$",
    )


def family_first(column: Column, known: Degrees) -> Column:
    """`Family, Given` turned round; `Name, Jr.` left as it is."""
    if len(column.values) == 0:
        return column
    text = column.values.arrow()
    turned = pc.if_else(family_in_front(text, known), replaced(text, _FAMILY_FIRST, r"\2 \1"), text)
    turned = replaced(turned, _FAMILY_GIVEN_SUFFIX, r"\2 \1 \3")
    return Column(Texts.of(turned), column.codes)


_CAPITAL = r"([A-ZÀ-Þ][a-zß-ÿ]{2,})"
_RUN_TOGETHER = rf"^\s*{_CAPITAL}{_CAPITAL}{_CAPITAL}?\s*$"
_ONE_NAME = r"^\s*(Mac|Fitz|Van|Von|Del|San|Saint|Der|Den|Dos|Das|Ter|Ten|Bin|Ben|Abu|Abd)[A-ZÀ-Þ]"


def capitals_apart(column: Column) -> Column:
    """Whole names without a space taken apart at their capitals: AnaPrado; MacDonald and VanDyke are one name."""
    text = column.values.arrow()
    run = pc.and_(matches(text, _RUN_TOGETHER), pc.invert(matches(text, _ONE_NAME)))
    if not pc.any(run).as_py():
        return column
    return Column(Texts.of(pc.if_else(run, replaced(text, _RUN_TOGETHER, r"\1 \2 \3"), text)), column.codes)


_NAMED_BOTH = r"(?i)(?:&|\+|/|\b(?:and|und|et|y|e))\s*(?:{})\b"


def addressed(columns: Sequence[Column], men: str, women: str) -> NDArray[np.int8]:
    """How each record's cells address somebody: 1 = as a man, 2 = as a woman, 0 = neither, or both (Mr. and Mrs. Prado).

    men, women : their titles, with | between
    """
    out = np.zeros(len(columns[0].codes), np.int8)
    for column in columns:
        text = column.values.arrow()
        titled = matches(text, rf"(?i)(?:^|,)\W*(?:{men}|{women})(?:[.\s]|$)")
        if not pc.any(titled).as_py():
            continue
        some = np.flatnonzero(titled.to_numpy(zero_copy_only=False))
        few, bits = text.take(pa.array(some)), np.zeros(len(text) + 1, np.int8)
        for bit, titles in ((1, men), (2, women)):
            said = matches_any(few, (rf"(?i)(?:^|,)\W*(?:{titles})(?:[.\s]|$)", _NAMED_BOTH.format(titles)))
            bits[some[said.to_numpy(zero_copy_only=False)]] |= bit
        out |= bits[column.codes]
    return np.where(out == 3, 0, out).astype(np.int8)


_NOTE = "do not use|don'?t use|duplicate|dupe|inactive|deceased|retired|former|old|left|external|extern|he/him|she/her|they/them|director|manager|owner|principal|president|teacher"
_ROLE = """director|manager|teacher|principal|president|coordinator|engineer|officer|assistant|ceo|cfo|cto|coo|v\\.?p|owner|secretary|treasurer|
chair(?:man|woman|person)?|conductor|technician|specialist|analyst|consultant|coach|superintendent|administrator|supervisor|representative|
attorney|founder|head of|geschäftsführer(?:in)?|leiter(?:in)?|directeur|directrice|gerente|direttore""".replace("\n", "")
_FIRM = """inc|llc|llp|ltd|limited|corp|corporation|gmbh|ag|plc|s\\.l|s\\.a|b\\.v|school|schule|university|college|church|hospital|band|orchestra|
workshop|company|association|department|dept|district|foundation|institute|library|bank""".replace("\n", "")
_RANK = r"(?:the\s+)?(?:\d+(?:st|nd|rd|th)\s|(?:earl|duke|duchess|count|countess|baron|baroness|viscount|viscountess|marquess|marquis|lord|lady|prince|princess)\s+of\s)"
"""What stands behind a comma where no given name does: what somebody is, and where."""
_ORDERS = r"(?-i:S\.?J|O\.?P|O\.?S\.?B|O\.?F\.?M|O\.?C\.?D|O\.?M\.?I|C\.?S\.?C|S\.?D\.?B|S\.?V\.?D|C\.?Ss\.?R)\.?\s*$"
"""Orders behind the name of a priest, a brother or a sister, in capitals; elsewhere two of them are initials, or a slip in Sr."""
_SHORT_TITLE = r"^\s*(?:sen|eng|er|adv|arch)\.\s+"
"""Titles with their point only: Eng and Sen are family names, too."""
_CLERGY = r"^\s*(?:fr|father|rev|reverend|br|brother|sr|sister|msgr)\b\.?\s"
_RELATIVES = (
    r"((?:(?:grand)?(?:parents?|mother|father)|mom|mum|dad|guardian|wife|husband|widow|spouse|son|daughter)(?:\W+guardian)?)\s+of",
    r"(eltern|mutter|vater)\s+von",
    r"(padres?|madre|tutora?|espos[ao]|hij[ao]|parents?|mère|père)\s+de",
    r"(genitori|madre|padre)\s+di",
    r"(ouders|moeder|vader)\s+van",
)
_RELATIVE_OF = rf"^\W*(?:{'|'.join(_RELATIVES)})\s+\S+"
"""Somebody told by whose relative they are: Parent of Ada Quist, who is not Ada."""
_SIGNS = f"[{chr(0x2122)}{chr(0x2190)}-{chr(0x21FF)}{chr(0x2500)}-{chr(0x27BF)}{chr(0x1F000)}-{chr(0x1FAFF)}]"
"""Signs beside a name: a tick, a star, a telephone, a trade mark's, a smile."""
_THEY = r"(?:she|he|they|hers?|him|his|them|theirs?|any|all)"
_PRONOUNS = rf"\s+[(\[]?\b{_THEY}(?:\s*/\s*{_THEY}\b)+[)\]]?"
_NOTED = rf"(?i){_RELATIVE_OF}|{_SIGNS}|{_PRONOUNS}|[\[(*|@<]|\s[–—-]+\s|,\s*({_NOTE})\b|^\W*(do not|don'?t|dup|zz|xx|estate|c/o|att|sr\b)|,\s*{_RANK}|\bn[ée]e\s|\bgeb|z d(?:omu|\.)|nacida|\blate\s|dec['’]?d|\bmc\s|unknown|unbekannt|desconocid|inconnu|(ovi|evi|ov|ev|ich|iv)(ch|na)\s*$|^\s*\d|\d\s*$|(family|household)\s*$|^\s*fam|,.*\b(?:{_ROLE}|{_FIRM})\b|@|,\s*{GENERATION}\.?\s*,|{_CLERGY}|{_SHORT_TITLE}"
"""What else is written into the cells of names: notes, an employer behind, a maiden name; `Sr.` in front is no generation. Russian names stand family name first, too."""


@cache
def _notes(known: Degrees) -> tuple[tuple[str, str], ...]:
    wordings = (
        (_SIGNS, " "),
        (_PRONOUNS, ""),
        (rf"^\s*([^,]*[^,\s])\s*,\s*({GENERATION}\.?)\s*,\s*([^,]*[^,\s])\s*$", r"\1, \3, \2"),
        # Behind one family name of several words two letters are initials: van der Quist, J.P.
        (rf"^(\s*(?:{PARTICLES})\s[^,]*,\s*)(\p{{Lu}})\.\s?(\p{{Lu}})\.", r"\1\2. \3."),
        (rf"{_SHORT_TITLE}(\S+\s+\S)", r"\1"),
        (rf"({_CLERGY}\S+\s.*?[^\s,])[\s,]+{_ORDERS}", r"\1"),
        (_RELATIVE_OF, "".join(rf"\{n}" for n in range(1, len(_RELATIVES) + 1))),
        (r"^\W*(do not use|don'?t use|duplicate|zz+|xx+|estate of|c/o|attn|attention|sr\.?)[\W_]+", ""),
        (rf"(\s*[\[(*|,]+|\s+[–—-]+)\s*({_NOTE})\b[^\])]*[\])*\W]*$", ""),
        (rf"^(\s*\S+\s+[^,]*[^,\s]),\s*(?:[^\s,]+\s+){{0,3}}(?:{_ROLE})\b.*$", r"\1"),
        (rf"^(\s*\S+\s+[^,]*[^,\s]),\s*(?:[^\s,]+\s+){{1,5}}(?:{_FIRM})\b.*$", r"\1"),
        (rf"^([^,]*[^,\s])\s*,\s*{_RANK}.*$", r"\1"),
        (r"[\s,;<(\[]+[^\s,;<(\[]+@[^\s@]+$|[\s,;(]+\+?[\d().\s-]{7,}$", ""),
        (r"\s+[@|]\s*.*$|\s+-\s+\S+\s+\S.*$", ""),
        (r"\s*[\[(]?\b(n[ée]e|geb\.|geborene|z domu|z d\.|nacida)\s+([^\s)\]]+)[\])]?\s*$", r"-\2"),
        (r"\s*<[^<>]*>\s*$|\s+dec['’]?d\.?$|^\s*the late\s+", ""),
        (r"([^\s*])\s*\*+[^*]*\*+\s*$", r"\1"),
        (r"\b(?-i:Mc)\s+(\pL)", r"Mc\1"),
        (
            r"^\s*(?:the\s+(\S+(?:\s+\S+)?)\s+(?:family|household)|(?:familie|fam\.|familia|famille|famiglia)\s+(\S+(?:\s+\S+)?))\s*$",
            r"\1\2",
        ),
        (r"\s*(?:&|\+|\band)\s+(?:the\s+)?family\s*$|^\s*\d+[.)]\s+|\s+#?\d+\s*$", ""),
        # Behind a comma, or two names: Mba is a family name, too.
        (rf"^([^,]*[^,\s])\s*,\s*{known.behind}", r"\1"),
        (rf"^(\s*\S+\s+[^,]*[^,\s])\s*{known.capitals}", r"\1"),
        (rf"^(\s*\S+\s+\S.*?)\s+{known.behind}", r"\1"),
        (r"^(\s*\S+\s+[^\s\[(]+[^\[(]*?)\s*(?:\([^()]*\)|\[[^\[\]]*\])\s*$", r"\1"),
        (r"\b(unknown|unbekannt|desconocid[oa]|inconnue?)\b", ""),
        (
            # Elsewhere Petrovich is a family name: only behind what is one for certain is it the father's.
            r"^\s*(\S+(?:ova?|eva?|sk[iy]y?|skaya|enko|chuk|yuk|[ks]h?ina?))\s+(\S+)\s+(\S+(?:ovich|evich|ovna|evna|ichna|ovych|evych|ivna))\s*$",
            r"\2 \3 \1",
        ),
    )
    return tuple((f"(?i){wording}", meant) for wording, meant in wordings)


def without_notes(known: Degrees, given_names: frozenset[str], titles: Sequence[str], *columns: Column) -> list[Column]:
    """Names without notes, degrees and employers, in their usual order. titles : of men and of women, with | between"""
    odd = rf"{_NOTED}|[\s,]{known.behind}|{known.capitals}"
    texts = reworded(Texts.of(pa.concat_arrays([c.values.arrow() for c in columns])), _notes(known), odd).arrow()
    texts = _first_of_two(_without_firms(texts, given_names), given_names, titles)
    starts = np.cumsum([0] + [len(c.values) for c in columns]).tolist()
    return [Column(Texts.of(texts.slice(a, len(c.values))), c.codes) for a, c in zip(starts, columns, strict=False)]


_AND_FIRM = r"^\s*(?P<name>(?P<first>[^\s,]+)\s+[^,]*[^,\s])\s*,\s*(?P<second>[^\s,]+)\s+[^,]*$"


def _without_firms(text: pa.Array, given_names: frozenset[str]) -> pa.Array:
    """Maria Quist, Harrow Reeds cut to the name: what is before the comma begins with a given name, and what is behind it does not.

    So it does of the family Valentin, too: not where given names stand behind commas a third as often.
    """
    several = matches(text, r"^\s*[^\s,]+\s[^,]*,\s*[^\s,]+\s")
    if not pc.any(several).as_py():
        return text
    some = text.filter(several)
    found = captured(some, _AND_FIRM)
    first, second = (among(pc.utf8_lower(pc.struct_field(found, part)), given_names) for part in ("first", "second"))
    firm = pc.fill_null(pc.and_not(first, second), False)
    if (pc.sum(firm).as_py() or 0) <= 3 * (pc.sum(second).as_py() or 0):
        return text
    return pc.replace_with_mask(text, several, pc.if_else(firm, pc.struct_field(found, "name"), some))


_JOINED = r"\s*(?:[&+/]|\s(?i:and|und|et)\s)\s*"
_TWO = (
    rf"^\s*(?P<name>%s(?P<first>[^\s,&+/]+)\s+(?:[^,&+/]*\s)?(?P<family>[^\s,&+/]+?)){_JOINED}"
    r"%s(?P<second>[^\s,&+/]+)\s+(?:[^,&+/]*\s)?(?P<last>[^\s,&+/]+)\s*$"
)


def _first_of_two(text: pa.Array, given_names: frozenset[str], titles: Sequence[str]) -> pa.Array:
    """John Quist & Mary Prado cut to the one named first, John Quist & Mary Quist to John & Mary Quist, where one of the two is a given name that is known.

    Of Harrow Reeds & Quist Horns nothing is cut.
    """
    joined = matches(text, rf"\S\s+\S.*{_JOINED}.*\S\s+\S")
    if not pc.any(joined).as_py():
        return text
    some, title = text.filter(joined), f"(?i:{'|'.join(titles)}|dr|prof)"
    titled = rf"(?:{title}\b\.?\s+)?"
    found = captured(some, _TWO % (titled, titled))
    first, second, family, last = (pc.struct_field(found, part) for part in ("first", "second", "family", "last"))
    two = pc.or_(*(among(pc.utf8_lower(name), given_names) for name in (first, second)))
    two = pc.and_not(two, matches(first, rf"^{title}\.?$"))
    akin = pc.equal(pc.utf8_lower(family), pc.utf8_lower(last))
    both = pc.binary_join_element_wise(first, pa.scalar("&", text.type), second, family, pa.scalar(" ", text.type))
    one = pc.if_else(akin, both, pc.struct_field(found, "name"))
    return pc.replace_with_mask(text, joined, pc.if_else(pc.fill_null(two, False), one, some))


def halves(given: Column, family: Column, full: Column, eastern: Sequence[str], known: Degrees) -> tuple[Column, Column, Column]:
    """Whole names that say where the family name begins (`García López, Ana`; Ana Lind-Wren; 山田太郎) as given and family name, where a record has no other.

    eastern : the patterns of `unspaced`
    known   : the degrees that stand behind a comma
    """
    text = full.values.arrow()
    as_one = matches(text, rf"^\s*[{_HAN}{_HANGUL}][{_HAN}{_KANA}{_HANGUL}]+\s*$")
    shown = pc.and_(matches(text, _SHOWN), pc.invert(matches(text, _NUMERAL)))
    if not pc.any(pc.or_(pc.or_(as_one, shown), matches(text, "[,-]"))).as_py():
        return given, family, full
    comma = family_in_front(text, known)
    named, called = pa.nulls(len(text), text.type), pa.nulls(len(text), text.type)
    more = [(pattern, as_one) for pattern in eastern if pc.any(as_one).as_py()]
    by_case = [(pattern, shown) for pattern in _SHOWING if pc.any(shown).as_py()]
    if by_case:
        named, called = _authors(text, shown, given.values.arrow())
    for pattern, chosen in ((_FAMILY_GIVEN, comma), *by_case, (_FAMILY_LAST, pc.invert(comma)), *more):
        found = captured(pc.if_else(chosen, text, None), pattern)
        named, called = pc.coalesce(named, pc.struct_field(found, "given")), pc.coalesce(called, pc.struct_field(found, "family"))
    has = named.is_valid().to_numpy(zero_copy_only=False)
    place = np.append(np.where(has, np.cumsum(has) - 1, -1), -1)[full.codes]
    place = np.where((given.codes < 0) & (family.codes < 0), place, -1)
    return (
        _or(given, named, place),
        _or(family, called, place),
        Column(full.values, np.where(place >= 0, -1, full.codes).astype(np.int32)),
    )


def _authors(text: pa.Array, shown: pa.Array, given: pa.Array) -> tuple[pa.Array, pa.Array]:
    """Initials and family name of cells written as papers name their authors (Quist AB), null for others.

    Not where the word is a given name: in parts of India it is (Ramesh KV), and then other cells have it in front oftener than behind, or a
    record has it for a given name.
    """
    found = captured(pc.if_else(shown, text, None), _AUTHOR)
    initials, family = replaced(pc.struct_field(found, "given"), r"(\p{Lu})[.-]*", r"\1 "), pc.struct_field(found, "family")
    if not pc.any(family.is_valid()).as_py():
        return initials, family
    word = pc.utf8_lower(family)
    ends = captured(pc.if_else(family.is_valid(), pa.scalar(None, text.type), text), _ENDS)
    first, last = (pc.utf8_lower(pc.struct_field(ends, end)) for end in ("first", "last"))
    asked = pc.unique(word.drop_null())
    in_front, behind = (
        np.bincount(pc.index_in(x, value_set=asked).drop_null().to_numpy(), minlength=len(asked)) for x in (first, last)
    )
    own = pc.is_in(asked, value_set=pc.utf8_lower(given)).to_numpy(zero_copy_only=False)
    given_names = asked.filter(pa.array((in_front > behind) | own))
    author = pc.and_not(family.is_valid(), pc.fill_null(pc.is_in(word, value_set=given_names), False))
    return pc.if_else(author, initials, None), pc.if_else(author, family, None)


_WORD = r"[^\s,.;:()/&@|\d\"-]{2,}(?:[-'’][^\s,.;:()/&@|\d\"-]+)*"


def beside_whole(columns: Sequence[Column], titles: Sequence[str]) -> tuple[Column, Column]:
    """Middle name and suffix of records that have given and family name, and a whole name beside them which says more: Adela, Quist, and Adela Wren Quist Jr.

    columns : given name, middle name, family name, suffix and whole name;  titles : of men and of women, with | between
    """
    given, middle, family, suffix, full = columns
    some = np.flatnonzero((given.codes >= 0) & (family.codes >= 0) & (full.codes >= 0)).astype(np.int32)
    if len(some) == 0:
        return middle, suffix
    before = (
        rf"^\s*(?:(?:(?i:{'|'.join(titles)}|dr|prof|sir)|[^\s.]{{2,}}\.)\s+){{0,2}}(?P<given>{_WORD})(?:\s+(?P<middle>\S.*?))??"
    )
    found = captured(full.values.arrow(), rf"{before}\s+(?P<family>{_WORD})(?:,?\s+(?P<suffix>{GENERATION})\.?)?\s*$")

    def told(part: str) -> pa.Array:
        return pc.struct_field(found, part).take(pa.array(full.codes[some]))

    alike = pc.and_(
        *(pc.equal(pc.utf8_lower(told(part)), pc.utf8_lower(c.texts(some))) for part, c in (("given", given), ("family", family)))
    )
    out = []
    for part, own in (("middle", middle), ("suffix", suffix)):
        more = pc.fill_null(pc.and_(alike, pc.not_equal(told(part), "")), False).to_numpy(zero_copy_only=False)
        more &= own.codes[some] < 0
        place = np.full(len(own.codes), -1)
        place[some[more]] = np.arange(np.count_nonzero(more))
        out.append(_or(own, told(part).filter(pa.array(more)), place))
    return out[0], out[1]


def apart(text: pa.Array, titles: Collection[str], known: Degrees) -> dict[str, pa.Array]:
    """Prefix, given, middle, family name and suffix of whole names where they are plain: one given and one family name, an initial between.

    Null where they are not: of three names, the second may be a given or a family name.
    """
    before = rf"^\s*(?:(?P<prefix>(?i:{'|'.join(sorted(titles))})\.?)\s+)?"
    behind = rf"(?:,?\s+(?P<suffix>{GENERATION})\.?)?\s*$"
    given = rf"(?P<given>{_WORD})(?:\s+(?P<middle>[^\s\d.,]\.?))?"
    family = rf"(?P<family>(?:(?i:{PARTICLES})\s+){{0,3}}{_WORD})"
    in_order = captured(text, before + given + r"\s+" + family + behind)
    families = family[:-1] + rf"(?:\s+{_WORD}){{0,2}})"  # before a comma they may be several
    # Behind a comma all is given names: Prado, Ana María.
    several = given.replace(rf"(?P<given>{_WORD})", rf"(?P<given>{_WORD}(?:\s+{_WORD}){{0,2}})")
    turned = captured(text, before + families + r",\s*" + several + behind)
    turned = pc.if_else(family_in_front(text, known), turned, pa.scalar(None, turned.type))
    fields = {"prefix": "prefix", "given": "given_name", "middle": "middle_name", "family": "family_name", "suffix": "suffix"}
    parts = {to: pc.coalesce(*(pc.struct_field(found, part) for found in (in_order, turned))) for part, to in fields.items()}
    whole = pc.and_(parts["given_name"].is_valid(), parts["family_name"].is_valid())
    # Mr Quist has no given name; of Kim Min-jun the first is the family's.
    titled = among(pc.utf8_lower(parts["given_name"]), frozenset(titles))
    eastern = matches(pc.fill_null(parts["family_name"], ""), r"-\p{Ll}")
    whole = pc.and_(whole, pc.invert(pc.or_(titled, eastern)))
    return {field: pc.if_else(pc.and_(whole, pc.not_equal(part, "")), part, None) for field, part in parts.items()}


def _or(column: Column, more: pa.Array, place: NDArray[np.int64]) -> Column:
    """A column whose records have one of the other texts where they have a place among them."""
    codes = np.where(place >= 0, place + len(column.values), column.codes).astype(np.int32)
    return Column(Texts.of(pa.concat_arrays([column.values.arrow(), more.drop_null()])), codes)


_LETTER = r"[^\s\d.,;:()'-]"  # a letter of any alphabet; \pL takes milliseconds to compile
_INITIALS = (
    (rf"^(\s*(?:{_LETTER}{{2,}}\.\s+)?{_LETTER})\.-?({_LETTER})\b", r"\1. \2"),  # J.-P., Dr. A.J.
    (rf"^(\s*{_LETTER}\. {_LETTER})\.-?({_LETTER})\b", r"\1. \2"),  # J. R.R.
    (rf"^(\s*{_LETTER})[Jj]($|[\s.,-])", r"\1 J\2"),  # TJ, Aj; not Björn, whose ö is no letter to \b
    (r"^(\s*[B-DF-HJ-NP-TV-XZ])([B-DF-HJ-NP-TV-XZ])$", r"\1 \2"),  # JP, where it is all of a given name
)
_NO_INITIALS = r"^\s*(MD|NG|SK|SH|KH|CH|ST|DR|MR|MS|MX|FR|SR|JR)$"


def initials_apart(column: Column) -> Column:
    """Given names with the initials that ran together (J.P., TJ, JP) apart, as they stand for several names."""
    return Column(reworded(column.values, _INITIALS, but=_NO_INITIALS), column.codes)


_SUFFIXES = (
    (r"(\p{Ll})(Jr|Sr|JR|SR|III|II|IV)\.?$", r"\1 \2"),  # StokesIII
    (r"(\s)\p{Ll}(III|II|IV)$", r"\1\2"),  # Calixte tII
    (r"([\p{Ll}\p{Lo}])([jJS]) [rR]\.?$", r"\1 \2r"),  # Stokesj r
    (r"(\s)(?:IlI|IIl|lII|llI|lIl)$", r"\1III"),
    (r"(\pL\s+)rS\.?$", r"\1Sr"),  # only so: RS may be somebody's initials, which stand behind in parts of India
    (r"(\pL\s+)rJ\.?$", r"\1Jr"),
    (r"(\s)[Jj]un\.$", r"\1Jr"),  # with its point only: Jun and Sen are names
    (r"(\s)[Ss]en\.$", r"\1Sr"),
)
"""Slips that hide which of two namesakes is meant: father and son are taken for one where the suffix is not seen."""


_TORN = (
    (r"(\pL[^\s\d.,jJS]\s+)([rjs])\.?\s*$", r"\1\2\2"),  # Stokesj r is Jr. itself
    (r"([^\P{L}\p{Latin}]\s+)([rRjJsS])\.?\s*$", r"\1\2\2"),
)


def torn(column: Column) -> Column:
    """Family and whole names with a lone small letter behind that Jr. or Sr. may have left (Prado r; 송 J.) doubled, as no initial and no name is."""
    return Column(reworded(column.values, _TORN, r"\s[rRjJsS]\.?\s*$"), column.codes)


@cache
def garbled() -> frozenset[str]:
    """Last words that may be a suffix with a letter too many, too few or another in it (Sur., Jfr., r., ur., IeI): no names, but no proof either."""
    letters = "abcdefghijklmnopqrstuvwxyz"
    found = {w[:i] + c + w[i:] for w in ("jr", "sr", "iii") for i in range(len(w) + 1) for c in letters}
    found |= {"iii"[:i] + c + "iii"[i + 1 :] for i in range(3) for c in letters}
    found |= {c + "r" for c in letters} | {w + c for w in "js" for c in letters if c not in "aeiouy"}
    return frozenset((found | set("jrs")) - {"jr", "sr", "iii", "dr"})


def suffixes_apart(texts: Texts) -> Texts:
    """Names with a suffix that ran into the name, or has a slip in it, as they were meant."""
    return reworded(texts, _SUFFIXES, r"(Jr|Sr|JR|SR|rS|rJ|[jJS] [rR])\.?$|[IVl]{2}$|[jJsS][ue]n\.$")
