"""What a policy makes of a list's cells: split, combined, filled in, written in a case; damage mended or named."""

import pandas as pd
import pyarrow as pa
import pytest
from hypothesis import given, strategies as st

import brujula
from brujula.errors import PolicyError
from brujula.intake import damage
from brujula.intake.case import title
from brujula.intake.profile import inspect
from brujula.intake.raw import RawList
from brujula.intake.read import read_list
from brujula.intake.shape import shape
from brujula.intake.twice import once
from brujula.intake.vcard import write_cards
from brujula.intake.write import write_list
from brujula.policy.model import ListPolicy, Policy


def shaped(cells, entity="contact", **policy):
    """Field to values, and the problems' codes, of a list under a policy."""
    table = pa.table({n: pa.array(v, pa.large_string()) for n, v in cells.items()})
    chosen = Policy.default(entity).model_copy(update=policy)
    found = shape(RawList("list", table), chosen, entity)
    return {f: v.to_pylist() for f, v in found.values.items()}, [p.code for p in found.raw.problems], found


CASES = [
    ("combine", {"First name": ["Ada"], "Str": ["Elm St"], "No": ["12"]}, {"combine": {"street": "{No} {Str}"}}, {"street": ["12 Elm St"]}, []),
    ("combine with blanks", {"A": ["x", ""], "B": ["", "y"]}, {"combine": {"street": "{A}, {B}"}}, {"street": ["x", "y"]}, []),
    ("split", {"Where": ["Yarrow, OR 97001", "Rookwood"]}, {"split": {"Where": "{city}, {region} {postal_code}"}},
        {"city": ["Yarrow", "Rookwood"], "region": ["OR", ""], "postal_code": ["97001", ""]}, ["no-split"]),
    ("split a name and mail", {"Who": ["Ada Quist <a@q.example>", ""]}, {"split": {"Who": "{full_name} <{email}>"}}, {"full_name": ["Ada Quist", ""], "email": ["a@q.example", ""]}, []),
    ("constant", {"First name": ["Ada", "Bob"]}, {"constant": {"source": "roster"}}, {"source": ["roster", "roster"]}, []),
    ("default", {"Country": ["", "DE"]}, {"defaults": {"country": "US"}}, {"country": ["US", "DE"]}, []),
    ("case", {"Surname": ["VAN DER BERG", "mcallister", "O'NEIL", "deLuca"]}, {"case": {"family_name": "title"}}, {"family_name": ["van der Berg", "McAllister", "O'Neil", "deLuca"]}, []),
    ("upper", {"State": ["or"]}, {"case": {"region": "upper"}}, {"region": ["OR"]}, []),
    ("allowed", {"Owner": ["kim", "K. Lee", "else"]}, {"allowed": {"owner": {"Kim": (), "Lee": ("k. lee",)}}}, {"owner": ["Kim", "Lee", ""]}, ["not-allowed"]),
    ("ignored", {"Email": ["a@q.example"]}, {"columns": {"Email": ""}}, {"email": None}, []),
    ("rest as notes", {"Surname": ["Quist"], "Reed": ["hard"], "Case": [""]}, {"list": ListPolicy(rest="notes")}, {"notes": ["Reed: hard"]}, []),
    ("columns as tags", {"Surname": ["Quist"], "Plays": ["oboe"], "Sings": ["alto"]}, {"columns": {"Plays": "tags", "Sings": "tags"}}, {"tags": ["oboe; alto"]}, []),
    ("kept from the spreadsheet", {"ID": ['="00123"', "7"]}, {}, {"id": ["00123", "7"]}, []),
    ("rounded phone", {"Phone": ["4.47E+11", "2.125550147E+9", "212-555-0101"]}, {}, {"phone": ["", "2125550147", "212-555-0101"]}, ["rounded-number", "rounded-number-mended"]),
    ("codes in sixteen digits", {"ID": ["10e4", "12e0", "1E36", "0e11", "10ec"]}, {}, {"id": ["10e4", "12e0", "1E36", "0e11", "10ec"]}, []),
    ("spoiled mails", {"Email": ["ada (at) q.example", "bea[at]q[dot]example", "cal@q,example", "dan @q.example", "eve@q..example.", "fay＠q.example", "Gus gus@q.example", "hal@@q.example"]}, {},
        {"email": [f"{n}@q.example" for n in "ada bea cal dan eve fay gus hal".split()]}, ["bad-email-mended"] * 8),
    ("mails that cannot be mended", {"Email": ["kim elm@q.example", "a@q.example", "Kim Elm <kim@q.example>"]}, {}, {"email": ["", "a@q.example", "kim@q.example"]}, ["bad-email"]),
    ("characters of a page", {"Company": ["Harrow &amp;amp; Lind", "M&uuml;ller", "Quist & Co; Orme", "A&B;"]}, {}, {"account": ["Harrow & Lind", "Müller", "Quist & Co; Orme", "A&B;"]}, ["characters-mended"] * 2),
    ("tags of a page", {"Company": ["<b>Harrow</b>", '<a href="http://q.example">Lind &lt;i&gt;Horns&lt;/i&gt;</a>', "a < b > c"], "Email": ['<a href="mailto:a@q.example">a@q.example</a>', "Ada <a@q.example>", ""]}, {},
        {"account": ["Harrow", "Lind Horns", "a < b > c"], "email": ["a@q.example"] * 2 + [""]}, ["characters-mended"] * 3),
    ("encoded twice", {"Apellido ": ["GarcÃ­a", "Ã‘uÃ±ez", "â€œLÃ³pezâ€\x9d", "Lind", "È\xa0Lind"], "CiudadÃ\xad": ["MÃƒÂ¡laga"] * 5}, {"columns": {"CiudadÃ\xad": "city"}},
        {"family_name": ["García", "Ñuñez", "“López”", "Lind", "È\xa0Lind"], "city": ["Málaga"] * 5}, ["twice-encoded-mended"] * 8),
    ("letters and signs that only look so", {"Company": ["CAFÉ’S", "Groß–Gerau", "«CAFÉ»", "JOÃO E IRMÃOS", "Ä…", "IRMÃ\xa0ROSA"]}, {}, {"account": ["CAFÉ’S", "Groß–Gerau", "«CAFÉ»", "JOÃO E IRMÃOS", "Ä…", "IRMÃ\xa0ROSA"]}, []),
    ("a heading encoded twice", {"TelÃ©fono": ["212-555-0101"]}, {}, {"phone": ["212-555-0101"]}, []),
    ("other digits", {"Phone": ["٢١٢٥٥٥٠١٤٧", "２１２-５５５-０１４８", "2125550149.0", "212.555.0150"]}, {}, {"phone": ["2125550147", "212-555-0148", "2125550149", "212.555.0150"]}, ["digits-mended"] * 3),
    ("codes that became numbers", {"ID": ["17.0", "A.0"], "ZIP": ["97001.0", "97001-2201"]}, {}, {"id": ["17", "A.0"], "postal_code": ["97001", "97001-2201"]}, ["digits-mended"] * 2),
    ("zeros of one country", {"ZIP": ["1234", "97001", "501"], "Country": ["US", "US", "USA"]}, {}, {"postal_code": ["01234", "97001", "00501"]}, ["lost-zeros-mended"] * 2),
    ("zeros of unknown country", {"ZIP": ["1234", "97001"]}, {}, {"postal_code": ["1234", "97001"]}, []),
    ("zeros by row", {"ZIP": ["1234", "1234"], "Country": ["AT", "DE"]}, {}, {"postal_code": ["1234", "01234"]}, ["lost-zeros-mended"]),
    ("day numbers", {"Date of birth": ["30743", "1984-03-02"]}, {}, {"birth_date": ["1984-03-02", "1984-03-02"]}, ["date-number-mended"]),
    ("day first, shown once", {"Date of birth": ["02/03/1984", "31/03/1984"]}, {}, {"birth_date": ["1984-03-02", "1984-03-31"]}, []),
    ("month first, shown once", {"Date of birth": ["02/03/1984", "03/31/1984"]}, {}, {"birth_date": ["1984-02-03", "1984-03-31"]}, []),
    ("both orders", {"Date of birth": ["02/03/1984", "03/31/1984", "31/03/1984", "05/05/1984"]}, {}, {"birth_date": ["", "1984-03-31", "1984-03-31", "1984-05-05"]}, ["which-order"]),
    ("address in one cell", {"Address": [f"{i} Elm St, Yarrow, OR 97001" for i in range(1, 6)]}, {}, {"street": [f"{i} Elm St" for i in range(1, 6)], "city": ["Yarrow"] * 5, "region": ["OR"] * 5, "postal_code": ["97001"] * 5}, []),
    ("town and code", {"City": ["Orme 75272", "Rookwood, 97001", "Yarrow", "St. Wells LS1 4AP"]}, {}, {"city": ["Orme", "Rookwood", "Yarrow", "St. Wells"], "postal_code": ["75272", "97001", "", "LS1 4AP"]}, []),
    ("town, region, code in several ways", {"City": ["Orme, TX 75272", "Yarrow, Ontario K1A 0B1", "97001 Rookwood", "1015 CJ Wells"]}, {}, {"city": ["Orme", "Yarrow", "Rookwood", "Wells"], "region": ["TX", "Ontario", "", ""], "postal_code": ["75272", "K1A 0B1", "97001", "1015 CJ"]}, []),
    ("town and state beside a code", {"City/State": ["Orme, TX", "Yarrow, OR", "Rookwood", "Wells, WA"], "ZIP": ["75272", "97001", "97002", "98001"]}, {}, {"city": ["Orme", "Yarrow", "Rookwood", "Wells"], "region": ["TX", "OR", "", "WA"], "postal_code": ["75272", "97001", "97002", "98001"]}, []),
    ("European address in one cell", {"Adresse": [f"Weststr. {i}, 04109 Leipzig" for i in range(1, 6)]}, {}, {"street": [f"Weststr. {i}" for i in range(1, 6)], "city": ["Leipzig"] * 5, "postal_code": ["04109"] * 5}, []),
    ("house number before its street", {"Street number": ["12", "7"], "Address 1": ["Elm St", "Mill St"], "Address 2": ["Unit 4", ""]}, {}, {"street": ["12 Elm St, Unit 4", "7 Mill St"]}, []),
    ("house number behind its street", {"Straße": ["Weststr.", ""], "Hausnummer": ["12a", "3"]}, {}, {"street": ["Weststr. 12a", "3"]}, []),
    ("a number that is none of a house", {"Street": ["12 Elm St"], "No": ["Z-4711-X"]}, {}, {"street": ["12 Elm St"]}, []),
    ("a number that counts the rows", {"No": ["1", "2"], "Street": ["12 Elm St", "7 Mill St"]}, {}, {"street": ["12 Elm St", "7 Mill St"]}, []),
    ("a street the policy names", {"Street": ["Elm St"], "House number": ["12"]}, {"columns": {"Street": "street"}}, {"street": ["Elm St"]}, []),
    ("what somebody does, and where", {"Surname": ["Lind"] * 5, "Position": ["Band director at Harrow School", "Owner @ Reed Works", "Geigenlehrerin bei Musik Orme GmbH", "Player", "Head of Music at Wren"]}, {},
        {"job_title": ["Band director", "Owner", "Geigenlehrerin", "Player", "Head of Music"], "account": ["Harrow School", "Reed Works", "Musik Orme GmbH", "", "Wren"]}, []),
    ("what somebody does, beside where", {"Position": ["Artist at large"] * 5, "Company": ["Wren"] * 5}, {}, {"job_title": ["Artist at large"] * 5, "account": ["Wren"] * 5}, []),
    ("either way to reach somebody", {"Surname": ["Lind"] * 7, "Reach at": ["ada@q.example", "(212) 555-0147", "", "Tel. 212-555-0148", "bob@q.example", "212 555 0149", "zoe@q.example"]}, {},
        {"email": ["ada@q.example", "", "", "", "bob@q.example", "", "zoe@q.example"], "phone": ["", "(212) 555-0147", "", "Tel. 212-555-0148", "", "212 555 0149", ""]}, []),
    ("both ways to reach somebody", {"Surname": ["Lind"] * 5, "Contact details": ["E-mail: ada@q.example, (212) 555-0147", "+44 1632 960123 / bob2125550147@q.example", "a@q.example; b@q.example", "zoe@q.example, after six", "kim@q.example\n212-555-0148"]}, {},
        {"email": ["ada@q.example", "bob2125550147@q.example", "a@q.example", "zoe@q.example", "kim@q.example"], "other_email": ["", "", "b@q.example", "", ""], "phone": ["(212) 555-0147", "+44 1632 960123", "", "", "212-555-0148"]}, ["several-mails-mended"]),
    ("phones, and mails among them", {"Phone": ["ada@q.example", "(212) 555-0147", "bob@q.example", "212-555-0148", "zoe@q.example", "212-555-0149", "ask"]}, {},
        {"email": ["ada@q.example", "", "bob@q.example", "", "zoe@q.example", "", ""], "phone": ["", "(212) 555-0147", "", "212-555-0148", "", "212-555-0149", "ask"]}, []),
    ("mails and their own phones", {"Email": ["ada@q.example", "(212) 555-0147"] * 4, "Phone": ["", "212-555-0148"] * 4}, {}, {"phone": ["", "212-555-0148"] * 4}, []),
    ("numbers that are no phones, beside mails", {"Surname": ["Lind"] * 8, "Contact": ["ada@q.example", "see 17", "bob@q.example, room 12", "17"] * 2}, {}, {"phone": None}, []),
    ("city with its code", {"City": ["Yarrow, OR 97001"] * 4 + ["Rookwood"]}, {}, {"city": ["Yarrow"] * 4 + ["Rookwood"], "region": ["OR"] * 4 + [""]}, []),
]  # fmt: skip


@pytest.mark.parametrize(("name", "columns", "policy", "want", "codes"), CASES, ids=[c[0] for c in CASES])
def test_cells_become_values(name, columns, policy, want, codes):
    """One situation each."""
    values, found, _ = shaped(columns, **policy)
    assert {f: values.get(f) for f in want} == want
    assert found == codes


def test_several_people_of_a_row_become_rows(tmp_path):
    """Each person is a row that knows its origin; what they share is repeated; blank places are none."""
    (tmp_path / "list.csv").write_text(
        "School,City,Contact 1 name,Contact 1 mail,Contact 2 name,Contact 2 mail\n"
        "Reed School,Yarrow,Ada Quist,a@q.example,Bob Ames,b@a.example\nHorn Band,Rookwood,Zoe Wren,,,\nMill Academy,,,,,\n"
    )
    (tmp_path / "old.csv").write_text("id,first_name,last_name,email\n1,Bob,Ames,b@a.example\n")
    plan = brujula.plan(str(tmp_path / "list.csv"), against=str(tmp_path / "old.csv"))
    assert list(plan.outcomes["outcome"]) == ["create", "update", "create", "reject"]
    assert list(plan.outcomes["list_row"]) == [1, 1, 2, 3]
    assert list(plan.outcomes["person"]) == [1, 2, 1, 1]
    plan.write(tmp_path / "plan")
    back = read_list(tmp_path / "plan" / "incoming_with_ids.csv").table
    assert back.column("School").to_pylist() == ["Reed School", "Reed School", "Horn Band", "Mill Academy"]
    one = Policy.default("contact").model_copy(update={"list": ListPolicy(people=False)})
    assert len(brujula.plan(str(tmp_path / "list.csv"), against=str(tmp_path / "old.csv"), policy=one).outcomes) == 3


@pytest.mark.parametrize(
    ("naming", "names"),
    [
        ({"Family Name": ["Quist", "Wren"], "Head of Household": ["Ada", "Carl"], "Spouse": ["Bo", ""]}, [("Ada", "Quist"), ("Bo", "Quist"), ("Carl", "Wren")]),
        ({"Husband": ["Bo Quist", "Carl Wren"], "Wife": ["Ada Quist", ""]}, ["Bo Quist", "Ada Quist", "Carl Wren"]),
    ],
)  # fmt: skip
def test_a_couple_of_a_row_becomes_rows(naming, names):
    """Husband and wife, each with their own mailbox, and the line of both."""
    mail = {"His Email": ["h1@q.example", "h2@w.example"], "Her Email": ["w1@q.example", ""]}
    values, _, found = shaped(naming | mail | {"Home Phone": ["212-555-0101", "212-555-0102"]})
    assert (
        list(zip(values["given_name"], values["family_name"], strict=True)) if "given_name" in values else values["full_name"]
    ) == names
    assert values["email"] == ["h1@q.example", "w1@q.example", "h2@w.example"]
    assert values["phone"] == ["212-555-0101", "212-555-0101", "212-555-0102"]
    assert found.person.tolist() == [1, 2, 1]


def test_contacts_beside_a_principal_are_people():
    """Who leads a school is no reason to leave out those the list gives with numbers."""
    values, _, found = shaped(
        {
            "School": ["Harrow School"],
            "Principal First Name": ["Ed"],
            "Contact 1 First Name": ["Ada"],
            "Contact 1 Email": ["a@q.example"],
            "Contact 2 First Name": ["Bo"],
            "Contact 2 Email": ["b@q.example"],
        }
    )
    assert (values["given_name"], values["email"], found.person.tolist()) == (
        ["Ada", "Bo"],
        ["a@q.example", "b@q.example"],
        [1, 2],
    )


def test_parents_beside_a_child_are_no_people_of_the_list():
    """The list is of the players: a row each, with a parent's mailbox."""
    values, _, found = shaped(
        {
            "Player First": ["Ada"],
            "Player Last": ["Quist"],
            "Parent 1 Name": ["Bo Quist"],
            "Parent 1 Email": ["b@q.example"],
            "Parent 2 Name": ["Cy Quist"],
            "Parent 2 Email": ["c@q.example"],
        }
    )
    assert (values["given_name"], values["family_name"], values["email"], found.person) == (
        ["Ada"],
        ["Quist"],
        ["b@q.example"],
        None,
    )


def test_numbered_phones_are_no_people():
    """Phone 1 and Phone 2 are two numbers of one person."""
    _, _, found = shaped({"Name": ["Ada Quist"], "Phone 1": ["212-555-0101"], "Phone 2": ["212-555-0102"]})
    assert found.person is None


@pytest.mark.parametrize(
    ("policy", "message"),
    [
        ({"columns": {"Mail": "email"}}, 'names the column "Mail", which the list lacks; did you mean "E-Mail"'),
        ({"combine": {"street": "{Str} {Nr}"}}, 'names the column "Nr"'),
        ({"split": {"Place": "{city}, {region}"}}, 'names the column "Place"'),
        ({"columns": {"Gone": "phone"}}, 'names the column "Gone", which the list lacks; did you mean "Call"'),
    ],
)
def test_a_renamed_column_is_named_with_the_likely_one(policy, message):
    """By its heading, or by what it holds."""
    with pytest.raises(PolicyError, match=message):
        shaped({"E-Mail": ["a@q.example"] * 5, "Str": ["Elm St"] * 5, "Call": [f"212-555-010{i}" for i in range(5)]}, **policy)


@pytest.mark.parametrize(
    ("text", "want"),
    [("mcallister", "McAllister"), ("O'NEIL-SMITH", "O'Neil-Smith"), ("van der berg", "van der Berg"), ("ANNA DE LA CRUZ", "Anna de la Cruz"),
     ("BOB AMES, DVM", "Bob Ames, DVM"), ("HENRY IV", "Henry IV"), ("ST. MARY'S BAND", "St. Mary's Band"), ("deGroot", "deGroot"), ("ÉLODIE", "Élodie")],
)  # fmt: skip
def test_title_case(text, want):
    """Names as their bearers write them; mixed case is left alone."""
    assert title(text, family=text.startswith("van")) == want
    assert title(want, family=True) == want


@given(st.text(max_size=40))
def test_title_case_keeps_the_letters(text):
    """Only case changes."""
    assert title(text).casefold() == text.lower().casefold() or title(text) == text


@given(st.lists(st.text(max_size=12), max_size=6))
def test_mending_never_raises_nor_loses_rows(texts):
    """Any text in a date, phone or postal column comes back, mended, blank and named, or as it was."""
    values = pa.chunked_array([pa.array(texts, pa.large_string())])
    for out, problems in (
        damage.numbers(values, "c", "phone"),
        damage.postal_codes(values, "US", "c"),
        damage.dates(values, "c", "birth_date", False)[:2],
    ):
        named = {p.row for p in problems}
        assert len(out) == len(texts)
        assert all(b or not a.strip() or i in named for i, (a, b) in enumerate(zip(texts, out.to_pylist(), strict=True), 1))


@pytest.mark.parametrize("name", ["l.csv", "l.tsv", "l.csv.gz", "l.jsonl", "l.jsonl.gz", "l.xlsx", "l.parquet"])
def test_lists_written_are_read_back(tmp_path, name):
    """Every format, text that looks like formulas, numbers and markup among it."""
    table = pa.table({"id": ["001", "2"], "full_name": ["=1+1", "Zoë <b> & “O'Neil”"], "notes": ["@x; a\tb", '-"5,0"']})
    write_list(table, tmp_path / name)
    assert read_list(tmp_path / name).table.to_pydict() == table.to_pydict()


def test_workbooks_hold_no_formulas(tmp_path):
    """What begins with = + - @ is text."""
    import openpyxl

    write_list(pa.table({"a": ["=1+1", "+1", "-1", "@x", "http://x.example"]}), tmp_path / "l.xlsx")
    sheet = openpyxl.load_workbook(tmp_path / "l.xlsx").active
    assert [(c.value, c.data_type) for c in sheet["A"][1:]] == [(v, "s") for v in ("=1+1", "+1", "-1", "@x", "http://x.example")]


LINE = st.text(st.characters(codec="utf-8", categories=("L", "N", "P", "Zs")), max_size=90).map(str.strip)


@given(st.fixed_dictionaries(dict.fromkeys(("family_name", "email", "street", "city", "notes", "job_title"), LINE)))
def test_cards_written_are_read_back(tmp_path_factory, row):
    """Escapes, folds and all."""
    path = tmp_path_factory.mktemp("card") / "l.vcf"
    row = {"full_name": "Ada"} | row
    path.write_text(write_cards(pa.table({f: [v] for f, v in row.items()})), "utf-8", newline="")
    found = read_list(path).table.to_pylist()[0]
    assert {f: found.get(f, "") for f in row} == {f: " ".join([v]) for f, v in row.items()}


def test_inspect_tries_keys_and_says_why_not(tmp_path):
    """Which fields identify, which collide and on what, and what each finds among existing records."""
    new = pd.DataFrame(
        {"First name": ["Ada", "Bob", "Zoe"], "Surname": ["Quist", "Quist", "Wren"], "E-Mail": ["a@q.example", "b@q.example", ""]}
    )
    old = pd.DataFrame(
        {"id": ["1", "2"], "first_name": ["Ada", "Ann"], "last_name": ["Quist", "Quist"], "email": ["A@Q.example", "a@q.example"]}
    )
    keys = {k.field: k for k in inspect(new, "contact", old).keys}
    assert (keys["email"].found, keys["email"].found_several, keys["email"].missed) == (0, 1, 2)
    assert keys["family_name"].verdict == "no key: 67% of rows share theirs with another"
    assert keys["family_name"].example == "2 × Quist"
    assert keys["given_name + family_name"].identified == 1.0


def test_a_key_that_nobody_has_whole_finds_nobody():
    """Two fields of which every row and record lacks one: none is found, and all are missed."""
    new = pd.DataFrame({"First name": ["Ada", ""], "Surname": ["", "Wren"]})
    old = pd.DataFrame({"id": ["1", "2"], "first_name": ["Zoe", ""], "last_name": ["", "Lind"]})
    together = next(k for k in inspect(new, "contact", old).keys if k.field == "given_name + family_name")
    assert (together.found, together.found_several, together.missed) == (0, 0, 2)


def test_of_several_mails_and_numbers_the_first_is_used():
    """Cells that hold several addresses or numbers: the first is the value, the second the other address and the mobile; both are told."""
    values, codes, _ = shaped(
        {"Name": ["Ana Prado"], "Email": ["Ana <ana@x.example>; luis@y.example"], "Phone": ["(202) 555-0143 / 202-555-0177"]}
    )
    assert values == {
        "full_name": ["Ana Prado"],
        "email": ["ana@x.example"],
        "other_email": ["luis@y.example"],
        "phone": ["(202) 555-0143"],
        "mobile": ["202-555-0177"],
    }
    assert set(codes) == {"several-mails-mended", "several-phones-mended"}


def test_what_is_no_number_is_told():
    """Words and addresses in a column of phones are named, what says that there is none is not."""
    cells = ["ada@reed.example", "ask the office", "N/A", "-", "212-555-0147", ""]
    new = pd.DataFrame({"Name": [f"Ana Prado{i}" for i in range(6)], "Phone": cells})
    old = pd.DataFrame({"id": ["C-1"], "Name": ["Bo Lind"], "Phone": ["305-555-0190"]})
    told = brujula.plan(new, against=old, entity="contact").problems
    assert [(p.code, p.row, p.column, p.value) for p in told] == [("bad-phone", n, "Phone", cells[n - 1]) for n in (1, 2)]


@pytest.mark.parametrize(
    ("cell", "phone", "mobile"),
    [
        ("c: 202-555-0143 w: 202-555-0177", "202-555-0143", "202-555-0177"),
        ("202-555-0143 (home) (202) 555-0177 (work)", "202-555-0143", "(202) 555-0177"),
        ("Fax 030 231251, Tel. 030 231250", "030 231250", None),
        ("01 99 00 12 34 / 06 99 00 12 34", "01 99 00 12 34", "06 99 00 12 34"),
        ("(202) 555-0143 ext. 4", "(202) 555-0143 ext. 4", None),
        ("+49 (0)30 / 23 12 50", "+49 (0)30 / 23 12 50", None),
        ("1-800-555-REED", "800-555-7333", None),
        ("202-555-0143 cell", "202-555-0143 cell", None),
    ],
)
def test_what_a_cell_says_of_its_numbers(cell, phone, mobile):
    """Labels part the numbers of a cell, a fax is nobody's, and letters stand for the digits of their keys."""
    values, _, _ = shaped({"Name": ["Ana Prado"], "Phone": [cell]})
    assert (values["phone"], values.get("mobile", [None])) == ([phone], [mobile])


@pytest.mark.parametrize(
    ("field", "name", "two"),
    [
        ("Name", "Ana & Luis Prado", True),
        ("Name", "Ana and Luis Prado", True),
        ("Name", "Prado, Ana & Luis", True),
        ("Name", "Mr. Luis Prado / Mrs. Ana Vega", True),
        ("Name", "Ana García y Vega", False),
        ("Name", "Karl von und zu Lind", False),
        ("Name", "Anderson Andrews", False),
        ("First Name", "Ana y Luis", True),
        ("First Name", "Mary-Ann", False),
    ],
)
def test_two_people_in_a_cell_are_told(field, name, two):
    """A cell that names two people is told; two family names joined by y are one person's."""
    _, codes, _ = shaped({field: [name], "Email": ["a@x.example"]})
    assert codes == ["two-people"] * two


def test_inspect_names_the_field_of_columns_taken_apart_or_together():
    """A column of whole addresses is the street's, and so are a street and the number beside it."""
    one = inspect(pd.DataFrame({"Surname": ["Quist"] * 5, "Address": [f"{i} Elm St, Yarrow, OR 97001" for i in range(1, 6)]}))
    assert [c.field for c in one.columns] == ["family_name", "street"]
    two = inspect(pd.DataFrame({"Surname": ["Quist"] * 5, "Straße": ["Weststr."] * 5, "Hausnummer": list("12345")}))
    assert [c.field for c in two.columns] == ["family_name", "street", "street"]


@given(st.text("Mali Kuczęśćéíóúñüöäßçøåčšžığ Łódź Ñandú Đá Мария Αθήνα 北京 שלום", max_size=12), st.integers(1, 2))
def test_what_was_encoded_twice_is_read_as_it_was(text, times):
    """Once too often or twice; and what never was stays."""
    spoiled = text
    for _ in range(times):
        spoiled = spoiled.encode().decode("latin-1")
    assert (once(spoiled), once(text)) == (text, text)
