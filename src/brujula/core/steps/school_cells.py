"""How names of schools and universities are written, in many languages, as the table of firms' words has them."""

from __future__ import annotations

_OF_SCHOOLS = r"(?:state|Islam|Katolik|Kristen|Muhammadiyah)\b"
"""What stands behind the letters for a kind of school, and not behind a firm's initials, however these are written (SD Reeds, S.D. Reeds)."""


def _word(words: str, meant: str) -> tuple[str, str]:
    """A wording that begins or ends with a letter that is not ASCII: RE2 finds no edge of a word there."""
    return rf"(^|[^\pL\d])(?:{words})([^\pL\d]|$)", rf"\1{meant}\2"


SCHOOLS = tuple(
    (f"(?i){wording}", meant)
    for wording, meant in (
        (r"\b(grund|haupt|mittel|real|berufs|musik|volks|gesamt|förder|hoch)sch\.(\s|$)", r"\1schule\2"),
        (r"^(?-i:MV) ", "musikverein "),
        (r"\bev\. ", "evangelische "),
        (r"\blyc\. ", "lycée "),
        (r"(^|\s)[ée]c\. (prim\. )?", r"\1école \2"),
        (r"^(?-i:SP) +(nr|no|im|\d+)\b", r"szkoła podstawowa \1"),
        (r"^((?-i:[IVX]+) )?(?-i:LO) (nr|no|im|w)\b", r"\1liceum ogólnokształcące \2"),
        (r"^(?-i:I\. ?C\.) ", "istituto comprensivo "),
        (r"\bist\.? comp\.? ", "istituto comprensivo "),
        (r"\b(?-i:ISD)$", "independent school district"),
        (r"([^\s\d,]{3}\s+)(?-i:SD)( #?\d+)?$", r"\1school district\2"),
        (r"\bhigh-?(schools?)\b", r"high \1"),
        # Indonesia
        (r"^(SM[AKP]|SD|MTs)(?:N(\s+\d)| Negeri\s)", r"\1 state \2"),
        (r"^(?-i:SMK)\s|\bsekolah menengah kejuruan\b", "vocational high school "),
        (r"\bsekolah menengah atas\b", "high school"),
        (r"\bsekolah menengah pertama\b", "middle school"),
        (r"\bsekolah dasar\b", "primaria school"),
        (r"\bmadrasah aliyah\b", "islamic high school"),
        (r"\bmadrasah tsanawiyah\b", "islamic middle school"),
        (rf"^SMA\s+({_OF_SCHOOLS})", r"high school \1"),
        (rf"^SMP\s+({_OF_SCHOOLS})", r"middle school \1"),
        (rf"^SD\s+({_OF_SCHOOLS})", r"primaria school \1"),
        (r"\b(?:sekolah|perguruan) tinggi\b", "college"),
        # Vietnam
        (r"(tr[uư][oờ]ng )?[đd][aạ]i h[oọ]c\b", "university"),
        (r"(tr[uư][oờ]ng )?(THPT|trung h[oọ]c ph[oổ] th[oô]ng|ph[oổ] th[oô]ng trung h[oọ]c)\b", "high school"),
        _word("(?:tr[uư][oờ]ng )?(?:THCS|trung h[oọ]c c[oơ] s[oở])", "thcs school"),
        (r"(tr[uư][oờ]ng )?ti[eể]u h[oọ]c\b", "primaria school"),
        (r"(tr[uư][oờ]ng )?cao [đd][aẳ]ng\b", "college"),
        (r"(tr[uư][oờ]ng )?m[aầ]m non\b", "kindergarten"),
        (r"\bh[oọ]c vi[eệ]n\b", "academy"),
        (r"\btrường\b", "school"),
        _word(r"th[aà]nh ph[oố]", "city"),
        _word("kinh t[eế]", "economics"),
        _word("qu[oố]c t[eế]", "international"),
        (r"\bqu[oố]c gia\b", "national"),
        _word("c[oô]ng ngh[eệ]", "technology"),
        (r"\bk[yỹ] thu[aậ]t\b", "technical"),
        (r"\bb[aá]ch khoa\b", "polytechnic"),
        (r"\bs[uư] ph[aạ]m\b", "pedagogical"),
        (r"\bkhoa h[oọ]c\b", "science"),
        (r"\bn[oô]ng l[aâ]m\b", "agriculture forestry"),
        (r"\bx[aâ]y d[uự]ng\b", "construction"),
        (r"\bt[aà]i ch[ií]nh\b", "finance"),
        (r"\bgiao th[oô]ng v[aậ]n t[aả]i\b", "transport"),
        # Italy: a state's school is called so there and nowhere else.
        (r"^I\.?T\.?I\.?S\.?\s", "istituto tecnico industriale "),
        (r"^I\.?I\.?S\.?S?\.?\s(\(istituto (?:di )?istruzione superiore\))?", "istituto istruzione superiore "),
        (r"\b((?:istituto|liceo|scuola|conservatorio|circolo)\b.*?)\s+statale\b", r"\1"),
        # Spain, Portugal
        (r"\binstituto (?:de )?(?:educaci[óo]n|ense[ñn]anza) secundaria\b", "ies"),
        (r"\bcolegio (?:p[úu]blico )?(?:de )?educaci[óo]n infantil y primaria\b", "ceip"),
        (r"\bagrupamento de escolas\b", "school cluster"),
        # The Czechs and Slovaks
        (r"^SPŠ\s", "střední průmyslová škola "),
        (r"^SOŠ\s", "střední odborná škola "),
        (r"^SŠ\s", "střední škola "),
        (r"^ZŠ\s", "základní škola "),
        (r"^VOŠ\s", "vyšší odborná škola "),
        # Germany, Austria
        (r"\bvolkshochschule\b", "vhs"),
        (r"\bh[öo]here technische (?:bundes)?lehr(?:- und versuchs)?anstalt\b|^HTBL(?:[AV]|u?VA)\b", "htl"),
        (r"\binternatsschule\b", "boarding school"),
        (r"(berufs)?(schul|bildungs)zentrum\b", r"\1 \2 zentrum"),
        # Russia
        (r"^(?:М[БАК]?ОУ|Г[БА]?ОУ|ФГБОУ(?: ВП?О)?)\s+", ""),
        _word("СОШ|средняя (?:общеобразовательная )?школа", "secundaria school"),
        # Hungary
        _word("[áa]ltal[áa]nos iskola", "primaria school"),
        (r"\bszakk[öo]z[ée]piskola\b|\bszakgimn[áa]zium\b", "vocational high school"),
        (r"\bszakk[ée]pz[őo] iskola\b", "vocational school"),
        (r"\bk[öo]z[ée]piskola\b", "secundaria school"),
        # Turkey, the North, the Baltic
        (r"\bmeslek y[üu]ksekokulu\b", "vocational higher school"),
        (r"\bilkokulu?\b|\bbasisschool\b|\bp[õo]hikool\b|\bpamatskola\b", "primaria school"),
        (r"\bortaokulu?\b", "middle school"),
        (r"\bvidereg[åa]ende (?:skole|skule)\b", "high school"),
        (r"\bfylkeskommune\b", "county municipality"),
        (r"\byhten[äa]iskoulu\b", "comprehensive school"),
        _word("koulutuskuntayhtym[äa]", "education consortium"),
        (r"\bammattiopisto\b", "vocational college"),
        (r"\briigig[üu]mnaasium\b", "state gymnasium"),
        # Anywhere
        (r"\bupper secondary\b", "high"),
        (r"\blower secondary\b", "middle"),
        (
            r"\buniversit[äa]tsklinik(?:um|en)?\b|\buniklinik(?:um)?\b|\buniversit[äa]tskrankenhaus\b|\buniversitair ziekenhuis\b|^CHU (?:de |du |d['’])|\bcentre hospitalier (?:r[ée]gional )?universitaire\b|\buniversity hospital cent(?:er|re)\b",
            "university hospital ",
        ),
        (r"\bcentre hospitalier\b", "hospital"),
        (
            r"\bfachhochschule\b|\buniversit(?:y|ies) of applied sciences?\b|\bammattikorkeakoulu\b|\bhochschule f[üu]r angewandte wissenschaften\b|\buygulamal[ıi] bilimler [üu]niversitesi\b|\buniversidad de ciencias aplicadas\b",
            "applied science hochschule",
        ),
        (
            r"\b(?:fine arts?|bellas artes|belle arti|belas[ -]artes|belles arts|beaux[ -]arts|bildenden? k[üu]nste?|g[üu]zel sanatlar|sztuk pi[ęe]knych|m[yỹ] thu[aậ]t)\b",
            "fine arts",
        ),
        (r"\bg[ée]nie ([ée]lectrique|civil|m[ée]canique|industriel|logiciel|chimique|informatique)\b", r"ingénierie \1"),
        (r"\b(latino|ibero)-?americ(?:an[oa]s?|aine?s?)\b", r"\1 american"),
        (r"(\bfakult\w*|[šs]kola|\binstitut|\bodjel|\bodsjek|\bzavod|\bcentar) za\b", r"\1"),
        _word("[șş]i|és|và", "and"),
        (r"\bcomputer sciences?\b|\bcomputing\b", "informatics"),
        (
            r"\b((gymn[aá]si(um|a|et|e)|gymn[aá]zi(um|a)|gimn[aá][zs]i(um|ja|ul|o)|gimnazjum|lyc[eé]e|lyceum|liceu[ml]?|lise(si)?|liceo|licej|lukio)(sko[ll][ae])?)\b",
            r"\1 school",
        ),
        _word("лицей|лицея|ліцей|ліцею", "lyceum school"),
        _word("гимназия|гимназии|гімназія|гімназії", "gymnasium school"),
        (r"hochschule\b|\bh[oö]gskola(n)?\b|\bh[oø]j?gskole(n)?\b", " higher school"),
        (
            r"\b(grund|haupt|mittel|real|berufs|musik|volks|fach|ober|gesamt|gemeinschafts|kunst|handels|wirtschafts)(schulen?|kolleg|akademie|gymnasium)\b",
            r"\1 \2",
        ),
        (r"\b(musik|grund|folk(?:e|h[oö]g))s?(sko(?:la|le|len|lan))\b", r"\1 \2"),
    )
)
"""What a lone letter, initials or several words hide from that table, and what stands for each."""
