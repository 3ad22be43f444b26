"""Lists with a name and hardly more: held where it may be the same, never merged on a name alone, never made anew unseen."""

import numpy as np
import pandas as pd
import pytest
from hypothesis import given, strategies as st

import brujula
from brujula.fields import kinds
from brujula.testing import grades_of

PEOPLE = [
    ["C-1", "Bernd Zeimer", "bzed@reed.example"],
    ["C-2", "Mara Prillwitz", "mara.prillwitz@post.example"],
    ["C-3", "Wooloo", "wooloo@horn.example"],
    ["C-4", "Ana Prado", "ana@lind.example"],
]


def _filler(n=300):
    rng = np.random.default_rng(3)
    parts = np.array("bel cor dan fer gal hol jan kel lor mon nor pel ras sol tin ver wal".split())
    words = ["".join(x).title() for x in parts[rng.integers(0, len(parts), (2 * n, 3))]]
    return [[f"F-{i}", f"{words[i]} {words[n + i]}", f"{words[i]}{i}@post.example".lower()] for i in range(n)]


@pytest.mark.parametrize(
    ("name", "mail", "outcome", "record"),
    [
        ("Bernd Zeimer", "bernd@zeimer.example", "review", "C-1"),
        ("Bernd Zeimer", "bzed@horn.example", "unchanged", "C-1"),
        ("Mara Prillwitz", "mara.prillwitz@horn.example", "review", "C-2"),
        ("M. Prillwitz", "prillwitz@horn.example", "create", ""),
        ("Wooloo", "w@reed.example", "review", "C-3"),
        ("Bernd Wren", "bernd@wren.example", "create", ""),
    ],
)
def test_a_name_and_another_mailbox(name, mail, outcome, record):
    """A rare name with another mailbox is a person's to decide; a mailbox of one's own making in two places settles it, one made of the name does not."""
    old = pd.DataFrame([*PEOPLE, *_filler()], columns=["id", "full_name", "email"])
    plan = brujula.plan(pd.DataFrame([[name, mail]], columns=["Name", "E-mail"]), against=old, entity="contact")
    assert plan.outcomes[["outcome", "record_id"]].values.tolist() == [[outcome, record]], plan.explain(1)


def test_two_mailboxes_made_of_one_name_say_nothing():
    """Namesakes at two firms both get first.last@: it counts for nothing where mara.prillwitz@ stands in both lists."""
    old = pd.DataFrame([*PEOPLE, *_filler()], columns=["id", "full_name", "email"])
    new = pd.DataFrame([["Mara Prillwitz", "mara.prillwitz@horn.example"]], columns=["Name", "E-mail"])
    weighed = brujula.plan(new, against=old, entity="contact").explain(1).splitlines()
    assert next(line.split() for line in weighed if "before the @" in line)[-2:] == ["+0.0", "bits"]


def test_one_number_in_three_areas_is_no_shared_line():
    """The same last seven digits are three people's, each in an area of their own."""
    numbers = ("212-555-0147", "305-555-0147", "713-555-0147")
    rows = [
        [f"C-{i}", name, tel] for i, (name, tel) in enumerate(zip(["Ana Prado", "Bo Lind", "Cy Quist"], numbers, strict=True))
    ]
    old = pd.DataFrame(rows, columns=["id", "full_name", "phone"])
    new = pd.DataFrame([["Ana Prado", "(212) 555-0147"], ["Bo Lind", "555-0147"]], columns=["Name", "Phone"])
    plan = brujula.plan(new, against=old, entity="contact")
    assert plan.pairs.set_index("right")["phone"].to_dict() == {"C-0": "same", "C-1": "same"}


def test_names_of_many_are_nobodys():
    """A name that many bear, with another mailbox, is somebody else's."""
    many = [[f"S-{i}", "Ana Prado", f"box{i}@reed.example"] for i in range(40)]
    old = pd.DataFrame([*many, *_filler()], columns=["id", "full_name", "email"])
    plan = brujula.plan(
        pd.DataFrame([["Ana Prado", "a77@horn.example"]], columns=["Name", "E-mail"]), against=old, entity="contact"
    )
    assert plan.outcomes["outcome"].tolist() == ["create"], plan.explain(1)


@pytest.mark.parametrize(
    "more",
    [{"phone": "305-555-0111"}, {"account": "Lind Brass Band"}, {"street": "3 Elm Lane"}, {"city": "Rookwood"}],
    ids=lambda m: next(iter(m)),
)
def test_a_second_difference_makes_two(more):
    """Where besides the mailbox a phone, an employer, a street or a town differs, namesakes are two."""
    given = {"phone": "212-555-0147", "account": "Harrow School", "street": "12 Mill Street", "city": "Birchmere"}
    field = next(iter(more))
    heads = ["id", "full_name", "email", field]
    old = pd.DataFrame(
        [["C-1", "Bernd Zeimer", "bzed@reed.example", given[field]], *([*f, ""] for f in _filler())], columns=heads
    )
    new = pd.DataFrame([["Bernd Zeimer", "bernd@zeimer.example", more[field]]], columns=heads[1:])
    plan = brujula.plan(new, against=old, entity="contact")
    assert plan.outcomes["outcome"].tolist() == ["create"], plan.explain(1)


OWN = [
    ("ada.quist", "Ada", "Quist", True),
    ("aquist", "Ada", "Quist", True),
    ("ada", "Ada", "Quist", True),
    ("quist-reeds", "Ada", "Quist", True),
    ("aq", "Ada", "Quist", True),
    ("mueller", "Jörg", "Müller", True),
    ("hornblower", "Ada", "Quist", False),
    ("lo", "Lo", "Quist", True),
    ("rose", "Ed", "Quist", False),
]


@pytest.mark.parametrize(("local", "given_name", "family_name", "own"), OWN)
def test_mailboxes_made_of_a_name(local, given_name, family_name, own):
    """The part before the @ in two places says something only where it is not the name again."""
    old = pd.DataFrame(
        [["C-1", given_name, family_name, f"{local}@reed.example"]], columns=["id", "first_name", "last_name", "email"]
    )
    new = pd.DataFrame([[given_name, family_name, f"{local}@horn.example"]], columns=["first_name", "last_name", "email"])
    plan = brujula.plan(new, against=old, entity="contact")
    j = plan.matched.judged
    email = j.graded.column("email")
    names = [level.name for level in j.graded.comparisons[email].levels]
    assert names[j.graded.levels[0, email]] == ("their name before the @" if own else "same name before the @")


@pytest.mark.parametrize(
    ("one", "other", "wanted"),
    [
        ("ada.quist@yahoo.com", "ada_quist@yahoo.com", "their name before the @"),
        ("ada.quist@yahoo.com", "ada.quits@yahoo.com", "misspelled"),
        ("ada.quist77@yahoo.com", "ada_quist77@yahoo.com", "misspelled"),
        ("ada.quist@reed.example", "ada_quist@reed.example", "misspelled"),
    ],
)
def test_a_mark_makes_two_mailboxes_of_one_name(one, other, wanted):
    """At a provider of many, a name with a dot and with a line are two people's; at work, or with one number behind, a slip."""
    people = [["C-1", "Ada", "Quist", one], *([f"F-{i}", f"Lo{i}", "Quist", f"lo{i}@reed.example"] for i in range(3))]
    old = pd.DataFrame(people, columns=["id", "first_name", "last_name", "email"])
    new = pd.DataFrame([["Ada", "Quist", other]], columns=["first_name", "last_name", "email"])
    j = brujula.plan(new, against=old, entity="contact").matched.judged
    email, pair = j.graded.column("email"), np.flatnonzero(np.minimum(j.graded.pairs.left, j.graded.pairs.right) == 0)
    names = [level.name for level in j.graded.comparisons[email].levels]
    assert [names[j.graded.levels[p, email]] for p in pair] == [wanted]


@pytest.mark.parametrize(("others", "author"), [(("Ramesh Orme", "Ramesh Lind"), False), (("Orme Ramesh", "Ada Lind"), True)])
def test_a_name_and_initials(others, author):
    """Quist AB is how papers name A. B. Quist; where the word stands in front of other names, it is a given name."""
    old = [["C-1", "Ada Kiran Ramesh", "12 Mill Street"], *([f"F-{i}", x, ""] for i, x in enumerate(others))]
    new = pd.DataFrame([["Ramesh AK", "12 Mill Street"]], columns=["full_name", "street"])
    told = brujula.plan(new, against=pd.DataFrame(old, columns=["id", "full_name", "street"]), entity="contact").explain(1)
    assert ("given name (initial), family name" in told) == author, told


@pytest.mark.parametrize(("people", "slip"), [(5, False), (1, True)])
def test_domains_that_are_known_are_no_slips(people, slip):
    """harrowisd.example and hallowisd.example are two districts where several people have mailboxes at either, and one misspelled where one does."""
    old = [
        ["C-1", "Ada Quist", "ada.quist@harrowisd.example"],
        *([f"F-{i}", f"Lo{i} Lind", f"lo{i}@harrowisd.example"] for i in range(20)),
    ]
    new = [
        ["Ada Quist", "ada.quist@hallowisd.example"],
        *([f"Bo{i} Prado", f"bo{i}@hallowisd.example"] for i in range(people - 1)),
    ]
    lists = (pd.DataFrame(new, columns=["full_name", "email"]), pd.DataFrame(old, columns=["id", "full_name", "email"]))
    assert ("e-mail (misspelled)" in brujula.plan(lists[0], against=lists[1], entity="contact").explain(1)) == slip


@pytest.mark.parametrize("state", ["", "Ohio"])
@pytest.mark.parametrize(("records", "wanted"), [(5, "another place"), (1, "same city")])
def test_towns_that_are_known_are_no_slips(state, records, wanted):
    """Marlow and Barlow are two towns, be they of one state, where several records name either, and one with a slip in it where one record does."""
    old = pd.DataFrame(
        [["C-1", "Ada Quist", "ada@reed.example", "Marlow"], *([f"F-{i}", f"Lo{i} Lind", "", "Marlow"] for i in range(20))],
        columns=["id", "full_name", "email", "city"],
    )
    rows = [["Ada Quist", "ada@reed.example", "Barlow"], *([f"Bo{i} Prado", "", "Barlow"] for i in range(records - 1))]
    new = pd.DataFrame(rows, columns=["full_name", "email", "city"]).assign(state=state)
    old = old.assign(state=state)
    assert f"place ({wanted})" in brujula.plan(new, against=old, entity="contact").explain(1)


FIRMS = [
    ("Iwata Reeds Co., Ltd", "Iwata Reeds Co Ltd", "held or found"),
    ("Harrowphon Corp.", "Harrowphon Corporation", "held or found"),
    ("Promisso Brass", "Promisso Brass, Inc.", "held or found"),
    ("PT Larantuka Horns", "Larantuka Horns Tbk", "held or found"),
    ("Micro Lyd A-S", "Micro Lyd A/S", "held or found"),
    ("Northwind Bassoon Works", "Northwind Bassoon Works", "found"),
    ("Oberlin Horn Repairs 2", "Oberlin Horn Repairs 12", "new"),
    ("Oberlin North Horns", "Oberlin South Horns", "new"),
    ("Quillfeather Drums", "Marrowby Drums", "new"),
]


def _firms():
    rng = np.random.default_rng(4)
    parts = np.array("al bor cen dor el far gor hul ist jor kam lun mer nol os pra".split())
    return [
        "".join(x).title() + w
        for x, w in zip(parts[rng.integers(0, len(parts), (400, 3))], [" Drums", " Horns Ltd", " Reeds", ""] * 100, strict=True)
    ]


@pytest.mark.parametrize("copies", [1, 4])
def test_lists_of_names_alone(copies):
    """Names of firms and nothing else: what says the same is found or held, however often the firm is there already; what does not is new."""
    old = [r for _, r, _ in FIRMS for _ in range(copies)] + _firms()
    new = [n for n, _, _ in FIRMS]
    plan = brujula.plan(
        pd.DataFrame({"Vendor": new}),
        against=pd.DataFrame({"id": [f"P{i}" for i in range(len(old))], "company": old}),
        entity="account",
    )
    may = {"held or found": {"review", "unchanged", "merge", "update"}, "found": {"unchanged", "merge"}, "new": {"create"}}
    got = dict(zip(new, plan.outcomes["outcome"], strict=True))
    assert {n: got[n] in may[what] for n, _, what in FIRMS} == dict.fromkeys(new, True), got


def test_names_that_one_list_writes_short_throughout():
    """No row bears a record's very name, for one list writes Vst where the other has Verleihstelle: all are looked at, none is made anew."""
    towns = [w for _, w, _ in _filler(300)]
    old = [[f"A-{i}", f"Verleihstelle {t}", "DE"] for i, t in enumerate(towns[:200])]
    old += [[f"F-{i}", name, "DE"] for i, name in enumerate(_firms())]
    new = [[f"Vst {t}", "DE"] for t in towns[:80]] + [[f"{t} Horns", "DE"] for t in towns[220:280]]
    heads = ["name", "country"]
    plan = brujula.plan(pd.DataFrame(new, columns=heads), against=pd.DataFrame(old, columns=["id", *heads]), entity="account")
    assert "create" not in set(plan.outcomes["outcome"][:80]), plan.explain(1)
    assert set(plan.outcomes["outcome"][80:]) == {"create"}


FORMS = """A/S | A-S | AB (publ) | S.p.A. | S.r.l. | s.r.o. | spol. s r.o. | Sp. z o.o. | sp.zo.o. | Co., Ltd. | CO.LTD | Pvt. Ltd. | (P) Ltd | Pty. Limited | Inc | Corp. |
    L.L.C. | LLP | PLC | GmbH & Co. KG | Ges.m.b.H. | Gesellschaft mbH | UG (haftungsbeschränkt) | e.V. | S.A.R.L. | S.A. de C.V. | S. de R.L. de C.V. | LTDA - ME | B.V. | Oy Ab |
    d.o.o. | Kft. | Zrt. | Public Joint Stock Company | JSC | Sdn. Bhd. | Ltd. Şti. | Sanayi ve Ticaret A.Ş. | A.Ş. | UAB | OÜ | S.Coop. | Limited Liability Company | Limited Partnership | K.K. |
    Aktiebolag | Limited Company | Company Limited | Spółka Akcyjna | SPÓŁKA Z OGRANICZONĄ ODPOWIEDZIALNOŚCIĄ SPÓŁKA KOMANDYTOWA | sp. j. | Sp. z o.o. sp. k. |
    Société Anonyme | Société à responsabilité limitée | Naamloze Vennootschap | Sociedad Limitada | Sociedade Anônima | Aktiengesellschaft | GmbH u. Co. KG |
    Osakeyhtiö | Società per Azioni | Public Limited Company | eingetragener Verein | B. V. | S. A. | S L | L. L. C. | s. r. o. | S. p. A. | e. V. | GmbH i.L. | Ltd (in liquidation)""".split(
    "|"
)


@pytest.mark.parametrize("form", [f.strip() for f in FORMS])
def test_legal_forms_do_not_count(form):
    """A firm with its legal form, in the spelling of its country, is the firm without it."""
    assert grades_of(kinds()["company"], {"account": "Harrow Reed"}, {"account": f"Harrow Reed {form}"}) == {"company": "same"}


@pytest.mark.parametrize(("town", "wanted"), [("West Orme", "same"), ("Orme", "partial"), ("", "partial")])
def test_a_town_within_a_name(town, wanted):
    """Whether a house names the town it is in, and where, makes it no other; a side of the town is another matter."""
    left, right = ({"name": f"Crown Suites {name}", "city": town} for name in ("West Orme Airport", "Airport"))
    assert grades_of(kinds()["company"], left, right, "account") == {"company": wanted}


@given(st.sampled_from([f.strip() for f in FORMS]), st.sampled_from(["Lind Brass", "Wren", "12 Reeds", "A. Quist"]))
def test_forms_do_not_make_two_firms_one(form, other):
    """Two firms of one legal form are as much two as without it."""
    kind = kinds()["company"]
    plain = grades_of(kind, {"account": "Harrow Reed"}, {"account": other})
    assert grades_of(kind, {"account": f"Harrow Reed {form}"}, {"account": f"{other} {form}"}) == plain


def test_a_list_of_firms_and_nothing_else():
    """A name nobody else has is its firm, spelled as it may be; one with a form of another country is a person's to decide, one of a common word says nothing."""
    words = [w for _, w, _ in _filler(400)]
    old = [
        [f"F-{i}", f"{w} {kind}"]
        for i, (w, kind) in enumerate(zip(words, ["Reeds Inc.", "Horns Ltd.", "Strings GmbH", "Drums LLC"] * 100, strict=True))
    ]
    old += [["A-1", "Lindquorst Horns, Inc."], ["A-2", "Harquist spol. s r.o."], ["A-3", "Horns Ltd."]]
    new = [["LINDQUORST HORNS INC"], ["Harquist Inc."], ["Horns LLC"], *([f"{w.upper()}"] for _, w in old[:300])]
    new += [[f"{w}quorn"] for w in words[300:]]
    plan = brujula.plan(pd.DataFrame(new, columns=["name"]), against=pd.DataFrame(old, columns=["id", "name"]), entity="account")
    assert plan.outcomes["outcome"][:3].tolist() == ["unchanged", "review", "create"], plan.explain(2) + plan.explain(3)
    assert (plan.outcomes["outcome"][3:303] == "unchanged").mean() > 0.95


@pytest.mark.parametrize(
    ("name", "outcome", "records"),
    [
        ("Ana & Luis Prado", "review", "C-4;C-5"),
        ("Mrs. Ana Prado and Mr. Luis Prado", "review", "C-4;C-5"),
        ("Ana & Rosa Prado", "unchanged", "C-4"),
        ("Ana Prado and Luis Quist", "unchanged", "C-4"),
    ],
)
def test_a_row_that_names_two_people(name, outcome, records):
    """Where both are on record it is a person's to say whose row it is, however near the first one comes."""
    home = ["12 Mill Road", "Orme", "617-555-0142"]
    old = pd.DataFrame(
        [["C-4", "Ana Prado", "ana@lind.example", *home], ["C-5", "Luis Prado", "", *home]],
        columns=["id", "full_name", "email", "street", "city", "phone"],
    )
    new = pd.DataFrame([[name, "ana@lind.example", *home]], columns=["Name", "E-mail", "Street", "City", "Phone"])
    plan = brujula.plan(new, against=old, entity="contact")
    assert plan.outcomes[["outcome", "record_id"]].values.tolist() == [[outcome, records]], plan.explain(1)


@pytest.mark.parametrize(("many", "confidence"), [(2, 0.5), (8, 0.125)])
def test_records_of_one_name_and_nothing_else_are_not_one(many, confidence):
    """Brigades of which nothing but a name is known are not merged in a base without duplicates: each is as likely meant as another."""
    names = [f"{w}ham Brigade" for w in sorted({w for _, w, _ in _filler(3000)})] + ["North District Brigade"] * many
    old = pd.DataFrame({"id": [f"A-{n}" for n in range(len(names))], "name": names})
    plan = brujula.plan(pd.DataFrame({"name": ["North District Brigade", *names[:200]]}), against=old, entity="account")
    held = plan.outcomes.iloc[0]
    assert held["outcome"] == "review" and len(held["record_id"].split(";")) == many, plan.explain(1)
    assert held["confidence"] <= confidence and "one of several alike" in plan.explain(1)
    named = brujula.plan(old[-many:], against=old, entity="account")
    assert named.outcomes[["outcome", "record_id"]].values.tolist() == [["unchanged", i] for i in old["id"][-many:]]


@pytest.mark.parametrize(
    ("short", "others", "outcome"),
    [
        ("HRWM", [], "review"),
        ("OOSM", [], "review"),  # the words that join the others may count
        ("HRWM", ["Horn Rest and Wind Mill"], "create"),
        ("HRW", ["Horn Rest Wind"], "create"),
    ],
)
def test_initials_that_no_third_firm_has(short, others, outcome):
    """Four letters that are the initials of one name of all are worth a person's look, with nothing else to go by."""
    words = [w for _, w, _ in _filler(1600)]
    old = [f"{a} {b}" for a, b in zip(words, words[::-1], strict=True)]
    old += ["Harrow Reed Works Mill", "Orme Office of Sheet Music", "Harrow Reed Works 2", "Harrow Reed Works", *others]
    plan = brujula.plan(
        pd.DataFrame({"name": [short, *old[:40]]}),
        against=pd.DataFrame({"id": [f"A-{n}" for n in range(len(old))], "name": old}),
        entity="account",
    )
    assert plan.outcomes["outcome"][0] == outcome, plan.explain(1)


def _alike_in_letters():
    """A school with a rare word in its name, among many whose names have its letters."""
    whole = "surquistanaschoolescuelasurquistama"
    grams = [whole[i : i + 3] for i in range(len(whole) - 2)]
    others = [
        [f"A-{i + 2}", f"{grams[i % len(grams)]}{words[0]} School"] for i, words in enumerate(f[1].split() for f in _filler(990))
    ]
    return pd.DataFrame([["A-1", "Escuela Surquistana"], *others], columns=["id", "name"])


@pytest.mark.parametrize("name", ["Surquistan School", "The Surquistnaa School", "School of Surquistama"])
def test_a_rare_word_is_found_by_its_stem(name):
    """A rare word in another language's ending, or with a slip behind its stem, is found among many names that share its letters."""
    old = _alike_in_letters()
    new = pd.DataFrame([name, *old["name"][1:60]], columns=["Name"])
    assert "A-1: " in brujula.plan(new, against=old, entity="account").explain(1)


def test_the_records_say_which_words_of_a_question_are_rare():
    """Of a question's four words the one that hardly any record has is looked for, not those that hundreds have."""
    others = [[f"A-{i + 2}", f"{f[1]} {('Opera', 'Ballet', 'Centre')[i % 3]}"] for i, f in enumerate(_filler(990))]
    kept = brujula.Lookup(pd.DataFrame([["A-1", "Surquistana"], *others], columns=["id", "name"]), entity="account")
    assert kept.check({"name": "Surquistana Opera and Ballet Centre"}).record_ids == ("A-1",)


WORKERS = [
    ["C-1", "Ana Prado", "ana@lindbrass.example", "Lind Brass Band"],
    ["C-2", "Ana Prado", "a.prado@harrow.example", "Harrow School"],
    ["C-3", "Bo Quist", "clarinet7@gmail.com", "Lind Brass Band"],
]


def _by_site(name, site, mail=""):
    old = pd.DataFrame([*WORKERS, *[[*f, ""] for f in _filler()]], columns=["id", "full_name", "email", "account"])
    return brujula.plan(pd.DataFrame([[name, mail, site]], columns=["Name", "E-mail", "Website"]), against=old, entity="contact")


@pytest.mark.parametrize(("site", "record"), [("https://www.lindbrass.example/band", "C-1"), ("harrow.example", "C-2")])
def test_a_website_beside_a_person_tells_the_employer(site, record):
    """Of two namesakes the one whose mailbox is at the website's domain is meant, whatever other mailbox the row gives."""
    for mail in ("", "oboe4@gmail.com"):
        plan = _by_site("Ana Prado", site, mail)
        assert plan.outcomes["record_id"].tolist() == [record], plan.explain(1)


def test_websites_beside_people_in_both_lists_are_compared():
    """With no mail address anywhere, of two namesakes the one of that website is meant."""
    known = [["C-1", "Ana Prado", "lindbrass.example"], ["C-2", "Ana Prado", "harrow.example"]]
    old = pd.DataFrame([*known, *[[*f[:2], f"{f[0]}.example"] for f in _filler()]], columns=["id", "full_name", "website"])
    rows = pd.DataFrame([["Ana Prado", "www.harrow.example"]], columns=["Name", "Website"])
    plan = brujula.plan(rows, against=old, entity="contact")
    assert plan.outcomes["record_id"].tolist() == ["C-2"], plan.explain(1)


def test_a_website_spells_the_employer():
    """It stands for the name of the firm, as a mailbox's domain does."""
    assert "as the domain spells it" in _by_site("Bo Quist", "lindbrassband.example").explain(1)


def test_one_employers_website_makes_nobody_one():
    """Others of one website are colleagues."""
    assert _by_site("Cy Orme", "lindbrass.example").outcomes["outcome"].tolist() == ["create"]


def test_a_site_of_many_tells_no_employer():
    """What hundreds of a list's people give, who work for many firms, is a provider's or a portal's."""
    firms = [[*f, f"Firm {f[1]}"] for f in _filler()]
    old = pd.DataFrame(
        [["C-1", "Ana Prado", "ana@portal.example", "Lind"], *firms], columns=["id", "full_name", "email", "account"]
    )
    rows = [["Ana Prado", "portal.example"], *[[f"{f[1][::-1].title()}", "portal.example"] for f in _filler()]]
    plan = brujula.plan(pd.DataFrame(rows, columns=["Name", "Website"]), against=old, entity="contact")
    assert "domain" not in plan.explain(1)


def test_a_country_says_little_beside_a_name():
    """Names are a country's: that two namesakes live in one is worth a bit at most, however few of the lists do."""
    lands, people = np.array("Poland Spain Norway Italy Chile Peru Ghana Japan Egypt Kenya".split()), _filler()
    old = [[*f, lands[i % 10]] for i, f in enumerate(people)]
    rows = [[f[1], f[2] if i else "", lands[i % 10]] for i, f in enumerate(people[:150])]
    heads = ["full_name", "email", "country"]
    plan = brujula.plan(pd.DataFrame(rows, columns=heads), against=pd.DataFrame(old, columns=["id", *heads]), entity="contact")
    bits = float(next(x.split() for x in plan.explain(1).splitlines() if "same country" in x and x.endswith(" bits"))[-2])
    assert 0.0 < bits <= 1.0


_OTHER = {
    "contact": ["email", "other_email", "phone", "account", "street", "city", "country", "birth_date", "website", "job_title"],
    "account": ["email", "phone", "website", "street", "city", "country", "registration_no"],
}
_SAID = {
    "birth_date": "1980-05-0{}",
    "phone": "202-555-010{0}; 202-555-011{0}",
    "email": "a{}@reed{0}.example",
    "website": "reed{}.example",
}


@pytest.mark.parametrize(("entity", "field"), [(e, f) for e, fields in _OTHER.items() for f in fields])
def test_a_name_and_one_field_are_enough_to_plan(entity, field):
    """Whatever the one field besides the name is, each row is known, made anew or left to a person."""
    said = _SAID.get(field, "Reed {}").replace("{}", "{0}")
    name = "full_name" if entity == "contact" else "name"
    old = pd.DataFrame([[f[0], f[1], said.format(i)] for i, f in enumerate(_filler(9))], columns=["id", name, field])
    new = pd.DataFrame([[f[1], said.format(i)] for i, f in enumerate(_filler(12)) if i % 2], columns=[name, field])
    plan = brujula.plan(new, against=old, entity=entity)
    assert len(plan.outcomes) == len(new)
    assert set(plan.outcomes["outcome"]) <= {"unchanged", "create", "review"}


@pytest.mark.parametrize("many", [3, 8])
@pytest.mark.parametrize(
    ("heads", "person"),
    [
        (["given_name", "family_name", "email", "city"], ("Ada{}", "Quist{}", "brook{}@reed.example", "Orme")),
        (["given_name", "family_name", "email"], ("Student{}", "Lind", "student{}@reed.example")),
        (["full_name", "email"], ("Reed Player{}", "reed.player{}@post.example")),
    ],
)
def test_numbered_people_are_as_many(heads, person, many):
    """Of a few people whose names end in a number each is found again, the next ones are new, and none is another, by a plan, a sweep or a question."""
    people = [[cell.format(i) for cell in person] for i in range(many + 2)]
    old = pd.DataFrame([[f"C-{i}", *p] for i, p in enumerate(people[:many])], columns=["id", *heads])
    new = pd.DataFrame(people[many - 1 :], columns=heads)
    assert list(brujula.plan(new, against=old).outcomes["outcome"]) == ["unchanged", "create", "create"]
    assert len(brujula.sweep(old).groups) == 0
    assert brujula.Lookup(old).check(dict(zip(heads, people[1], strict=True))).record_ids == ("C-1",)
