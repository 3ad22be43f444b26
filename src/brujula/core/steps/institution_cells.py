"""How names of a town's and a country's institutions are written, in many languages, as the table of firms' words has them."""

from __future__ import annotations

_OF = (
    "stadt|stads|städtische[rs]? |landes|staats|statens|national|volks|folke?|kunst|konst|taide|universit[äa]ts|universitets|kreis|gemeinde|"
    "rijks|riks|zentral|musik|muziek|konzert|sport|verkehrs|eisenbahn|spielzeug|schif{1,3}ahrts|technik|heimat|handels|kinder|jugend|"
    "puppen|marionetten|naturkunde|volkskunde|v[öo]lkerkunde|stadtgeschichts|regional|kultur|diözesan|blas|streich|sinfonie|symphonie|symfonie?"
)
"""What such a body is of, written in one word with what it is."""
_IS = (
    "museum|museet|museo|theater|teater|teatern|teatret|bibliothee?k|bibliotek(?:et)?|b[üu]cherei|mediathee?k|archiv|archief|arkiv(?:et)?|oper|orchester|orkester|"
    "galerie|galleri(?:et)?|zentrum|haus|halle|park|parken|kirche|krankenhaus|spital|akademie"
)
INSTITUTIONS = tuple(
    (f"(?i){wording}", meant)
    for wording, meant in (
        (rf"\b({_OF})({_IS})\b", r"\1 \2"),
        (r"\b(stadt|musik|blas|trachten|berg|knappen|feuerwehr|jugend|werks)[ -]?kapelle\b", r"\1 band"),
        (
            r"\b(?:(?:mus[ée]um|mus[ée]e) d['’]histoire naturelle|museo (?:nacional )?de (?:historia natural|ciencias naturales)|museo di storia naturale|museu de hist[óo]ria natural"
            r"|museum f[üu]r naturkunde|naturkunde museum|naturhistoris(?:ches|ka|k) muse(?:um|et)|naturhistorisch museum|muzeum przyrodnicze|term[ée]szettudom[áa]nyi m[úu]zeum|prirodoslovni muzej|prirodnja[čc]ki muzej"
            r"|p[řr][íi]rodov[ěe]d[ne](?:[ée]|ck[ée])? muzeum|luonnontieteellinen museo|museum of natural history)",
            " natural history museum",
        ),
        (
            r"\b(?:freilicht|frilands|frilufts|openlucht)[ -]?muse(?:um|et)\b|\b(?:mus[ée]e (?:de|en) plein[ -]air|museo al aire libre|museo all['’]aperto|muzeum na wolnym powietrzu|skansen|ulkomuseo)\b|\bopen[ -]air museum\b",
            " openair museum ",
        ),
        (r"\b(?:gegenwartskunst|samtidsk[ou]nst)\b", "contemporary art"),
        (r"\b(?:konzert|konsert|concert) ?(?:haus|huset|hus|halle|hall|gebouw|zaal)\b", "concert hall"),
        (
            r"\b(?:casa d[ea](?: la)? cultura|maison de la culture|casa della cultura|dom kultury|kulturn[íi] d[ůu]m|kult[úu]rny dom|kultur ?haus|kulturhus(?:et)?|kult[úu]rh[áa]z|m[űu]vel[őo]d[ée]si h[áa]z|kulttuuritalo|dom kulture|cultuurhuis|culture house|house of culture)\b",
            "culture house",
        ),
        (
            r"\b(?:zoologische[rn]? garten|jardin zoologique|jard[íi]n zool[óo]gico|jardim zool[óo]gico|giardino zoologico|ogr[óo]d zoologiczny|zoologick[áa] zahrada|zoological gardens?|zoopark)\b",
            "zoo",
        ),
        (r"\b(?:orto botanico|hortus botanicus|botanic gardens?)\b", "botanical garden"),
        (
            r"\b(?:(?:chambre|c[áa]mara|camera|cambra) (?:officielle |oficial )?d[ei] com(?:m?ercio|merce|er[çc])|handelskammer(?:en|et)?|handelskammaren|kamer van koophandel|hospod[áa][řr]sk[áa] komora|gospodarska (?:komora|zbornica)|kauppakamari)\b|\bticaret odas[ıi]",
            "chamber of commerce",
        ),
        (
            r"^IHK\s+|\b(?:industrie-? und handelskammer|industrie-? und chamber of commerce|chamber of commerce et d['’]industrie|chamber of commerce (?:e|y|and|&) industr(?:ia|y)|chamber of industry (?:and|&) commerce|izba przemys[łl]owo-handlowa)\b|\bkereskedelmi [ée]s iparkamara\b",
            "chamber of commerce industry ",
        ),
        (r"\b(?-i:CCI) (de |du |d['’]|des )", r"chamber of commerce industry \1"),
        (
            r"\b(?:freiwillige )?feuerwehr\b|\b(?:corps? de )?sapeurs[- ]pompiers\b|\b(?:(?:cuerpo|corpo) de )?(?:bomberos|bombeiros)(?: volunt[áa]rios)?\b"
            r"|\b(?:comando |corpo )?vigili del fuoco(?: volontari)?\b|\bochotnicza stra[żz] po[żz]arna\b|\bsbor dobrovoln[ýy]ch hasi[čc][ůu]|\b(?:vrijwillige )?brandweer\b|\bdobrovoljno vatrogasno dru[šs]tvo\b|\bprostovoljno gasilsko dru[šs]tvo\b"
            r"|\b(?:frivillig[te]? )?brann?(?:v[æe]sen|k[åa]r)\b|(?:[öo]nk[ée]ntes )?\bt[űu]zolt[óo](?:s[áa]g| egyes[üu]let)",
            "fire department",
        ),
        (
            r"\b(?:amtsgericht|bezirksgericht|s[ąa]d rejonowy|okresn[íi] soud|okresn[ýy] s[úu]d|tingsr[äa]tt|tingrett)\b",
            "district court",
        ),
        (r"\b(?:landgericht|s[ąa]d okr[ęe]gowy|krajsk[ýy] s(?:oud|[úu]d))\b", "regional court"),
        (
            r"\bfu(?:ss|ß)ball-?(?:club|klub|verein)\b|\bfotballklubb\b|\bfotbollsklubb\b|\bvoetbalclub\b|\bfodboldklub\b",
            "football club",
        ),
        (r"\bsport ?(?:verein|klub|club|vereniging)\b|\bidretts(?:lag|forening)\b|\bidrottsf[öo]rening\b", "sports club"),
        (
            r"\b(?:hauptbahnhof|gare centrale|stazione centrale|estaci[óo]n central|dworzec g[łl][óo]wny|hlavn[íi] n[áa]dra[žz][íi]|centraal station)\b",
            "central station",
        ),
        (r"\bzene ?iskola\b", "music school"),
        (
            r"\b(?:orquesta de c[áa]mara|orchestre de chambre|orchestra da camera|kammer-?orchest(?:er|ra)|kammarorkester|orkiestra kameralna|komorn[íi] orchestr)\b",
            "chamber orchestra",
        ),
    )
)
"""What compounds and several words hide from that table, and what stands for each."""
