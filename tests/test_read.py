"""Lists come in as they are sent, every cell verbatim, or with an error that says what to do."""

import contextlib
import datetime
import gzip
import json
import os

import pandas as pd
import pyarrow as pa
import pytest
from hypothesis import given, strategies as st

import brujula
from brujula.demo import maker
from brujula.errors import InputError
from brujula.intake.read import read_list
from brujula.intake.sources import from_frame
from brujula.policy.model import ListPolicy

PLAIN = [["Name", "E-Mail"], ["José Ünal", "jose@reed.example"], ["Ada; Quist", ""]]


def _write(path, text, encoding="utf-8"):
    path.write_bytes(text.encode(encoding))
    return path


@pytest.mark.parametrize(
    ("encoding", "said"),
    [("utf-8", "utf-8"), ("utf-8-sig", "utf-8"), ("utf-16", "utf-16"), ("cp1252", "windows-1252 (it is not UTF-8)")],
)
@pytest.mark.parametrize(("delimiter", "name"), [(",", "comma"), (";", "semicolon"), ("\t", "tab"), ("|", "pipe")])
def test_delimiter_and_encoding_are_found(tmp_path, encoding, said, delimiter, name):
    """Every pair of delimiter and encoding gives the same cells, and says what was taken."""
    lines = [delimiter.join(f'"{c}"' for c in row) for row in PLAIN]
    found = read_list(_write(tmp_path / "list.csv", "\r\n".join(lines), encoding))
    assert found.table.to_pydict() == {"Name": ["José Ünal", "Ada; Quist"], "E-Mail": ["jose@reed.example", ""]}
    assert found.notes[0] == f"{name}-separated, {said}"


@pytest.mark.parametrize(
    ("text", "columns", "rows"),
    [
        ("Roster of May,,\n,,\nName,Mail,Town\nAda,a@b.example,Rookwood\nBob,,\n", ["Name", "Mail", "Town"], 2),
        ('Name,Note\n"Ada","two\nlines"\nBob,"a ""b"""\n', ["Name", "Note"], 2),
        ("Name,Name,\nAda,Quist,x\n", ["Name", "Name (2)", "column 3"], 1),
        ("sep=;\nName;Mail\nAda;a@b.example\n", ["Name", "Mail"], 1),
        ("Name,Mail\nAda\nBob,b@c.example\n", ["Name", "Mail"], 2),
        ("Name,Mail\nAda,a\0@b.example\n", ["Name", "Mail"], 1),
        ("Name,Mail\n\nAda,x\n\n", ["Name", "Mail"], 1),
        ("Name,Mail\n", ["Name", "Mail"], 0),
    ],
)
def test_untidy_files_are_read(tmp_path, text, columns, rows):
    """Title rows, quoted line breaks, repeated and empty headings, sep=, short rows, NUL bytes, blank lines, no rows."""
    found = read_list(_write(tmp_path / "list.csv", text))
    assert found.table.column_names == columns
    assert found.table.num_rows == rows


BARE = [
    ["Ada", "Quist", "ada@q.example", "12 Mill Street"],
    ["Bob", "Ames", "bob@a.example", "7 Oak Road"],
    ["Cy", "Lind", "", "3 Elm Road"],
]


@pytest.mark.parametrize("name", ["list.csv", "list.xlsx"])
def test_a_list_without_headings_loses_no_row(tmp_path, name):
    """Where the first row holds values it is a row, in its place, and that is said; columns are called by their place."""
    if name.endswith("xlsx"):
        _workbook(tmp_path / name, {"S": BARE})
    else:
        _write(tmp_path / name, "".join(",".join(row) + "\n" for row in BARE))
    found = read_list(tmp_path / name)
    assert found.table.to_pylist() == [{f"column {i + 1}": c for i, c in enumerate(row)} for row in BARE]
    assert any("no headings" in note for note in found.notes)
    assert found.place_of(1).endswith(" 1")


KINDS = [["Orme Academy", "School"], ["Harrow Band", "Band"], ["Yarrow High", "School"]]


@pytest.mark.parametrize(
    ("above", "bare"),
    [
        ([], True),
        ([["Title", "School"]], False),
        ([["Title", "Type"], *KINDS, ["Title", "Type"]], False),
        ([["Name", "School"]], False),
    ],
)
def test_a_heading_that_is_a_value_of_its_column_is_one(tmp_path, above, bare):
    """School over schools and bands is no heading, whatever it may mean elsewhere; beside one that is known it is; so is a header that stands twice."""
    rows = [*above, *KINDS]
    found = read_list(_write(tmp_path / "list.csv", "".join(",".join(row) + "\n" for row in rows)))
    assert any("no headings" in note for note in found.notes) == bare
    assert found.table.num_rows == len(rows) - (not bare)


PEOPLE = [f"{given} {family}" for given, family in zip(maker.GIVEN, maker.FAMILY, strict=False)][:30]


@pytest.mark.parametrize(
    ("heading", "column", "bare"),
    [
        ("Michael Sharkey", PEOPLE, True),
        ("Mitspieler", PEOPLE, False),
        ("Michael", [p.split()[0] for p in PEOPLE], True),
        ("Lind Reed Works GmbH", [f"{p.split()[1]} Reeds Ltd" for p in PEOPLE], True),
        ("Feeder School", [f"{p.split()[1]} School" for p in PEOPLE], False),
        ("Lea Lind - 202-555-0143", [f"{p} - 202-555-01{i:02}" for i, p in enumerate(PEOPLE)], True),
        ("Ada Quist <ada@q.example>, away", [f"{p} <a{i}@q.example>, here" for i, p in enumerate(PEOPLE)], True),
        ("Call 202-555-0143 for help", PEOPLE, False),
    ],
)
def test_one_column_without_a_heading_loses_no_row(tmp_path, heading, column, bare):
    """A name over names, a firm with its legal form over firms, or a cell with a number or a mail address over such is a row; a word we do not know is a heading."""
    found = read_list(_write(tmp_path / "list.csv", "".join(f'"{v}"\n' for v in [heading, *column])))
    assert found.table.num_rows == len(column) + bare
    assert (heading in found.table.column_names) != bare


@pytest.mark.parametrize(
    ("rows", "columns"),
    [
        ([["Name", "E-mail", "Town"], ["Quist, Ada", "ada@q.example", "Orme"], ["Bo Lind", "", 'the "Yard"']], 3),
        ([["Name", "E-mail", "Town", "Role"], ["Ada Quist", "ada@q.example", "Orme", "Tuner"]], 4),
        ([["Quist, Ada"], ["Lind, Bo"], ["Orme, Cy"]], 1),
    ],
)
def test_lines_quoted_as_one_cell_are_read(tmp_path, rows, columns):
    """A text saved once more from a single column holds its lines in quotes: they are read as what they were; names with a comma stay one cell."""
    quoted = pd.DataFrame(rows[1:], columns=rows[0]).to_csv(index=False, quoting=0 if columns < 4 else 3) if columns > 1 else ""
    lines = quoted.splitlines() if columns > 1 else [row[0] for row in rows]
    _write(tmp_path / "list.csv", "".join('"' + line.replace('"', '""') + '"\n' for line in lines))
    found = read_list(tmp_path / "list.csv", None if columns > 1 else ListPolicy(header_row=1))
    assert found.table.num_columns == columns
    assert [list(row.values()) for row in found.table.to_pylist()] == rows[1:]
    assert any("quoted as one cell" in note for note in found.notes) == (columns > 1)


def test_a_policy_says_there_are_no_headings(tmp_path):
    """header_row = 0: every row is one; 1: the first is the headings, whatever it looks like."""
    path = _write(tmp_path / "list.csv", "Ada,a@b.example\nBob,b@c.example\n")
    assert read_list(path, ListPolicy(header_row=0)).table.num_rows == 2
    assert read_list(path, ListPolicy(header_row=1)).table.column_names == ["Ada", "a@b.example"]


def test_row_with_too_many_cells_is_rejected_whole(tmp_path):
    """The row that cannot be read is rejected with its cells; the rest goes on."""
    _write(tmp_path / "list.csv", "First name,Surname,Mail\nAda,Quist,a@q.example\nBob,Ames,b@a.example,surplus\n")
    _write(tmp_path / "old.csv", "id,first_name,last_name\n1,Carla,Wren\n")
    plan = brujula.plan(str(tmp_path / "list.csv"), against=str(tmp_path / "old.csv"))
    assert list(plan.outcomes["outcome"]) == ["create", "reject"]
    plan.write(tmp_path / "plan")
    assert "surplus" in (tmp_path / "plan" / "rejects.csv").read_text()


def test_gzip_is_unpacked(tmp_path):
    """A gzipped list is the list."""
    (tmp_path / "list.csv.gz").write_bytes(gzip.compress(b"Name,Mail\nAda,a@b.example\n"))
    assert read_list(tmp_path / "list.csv.gz").table.num_rows == 1


@pytest.mark.parametrize(
    ("name", "data", "message"),
    [
        ("none.csv", None, "no such file"),
        ("empty.csv", b"", "the file is empty; accepted: a header row"),
        ("list.docx", b"x", 'no format known for ".docx"'),
        ("bad.csv.gz", b"\x1f\x8bxx", "the gzip file is damaged"),
        ("zero.csv", b"\0\0\0", "the file is empty"),
    ],
)
def test_unreadable_files_say_why(tmp_path, name, data, message):
    """One clear error, naming the file."""
    if data is not None:
        (tmp_path / name).write_bytes(data)
    with pytest.raises(InputError) as error:
        read_list(tmp_path / name)
    assert message in str(error.value)
    assert name in str(error.value)


def test_a_pipe_is_refused_not_waited_for(tmp_path):
    """A list is read more than once; a pipe would leave the second reader waiting for ever."""
    os.mkfifo(tmp_path / "list.csv")
    with pytest.raises(InputError, match="list.csv: is a pipe"):
        read_list(tmp_path / "list.csv")


def test_policy_overrules_what_was_found(tmp_path):
    """The delimiter, encoding and header row of a policy are taken as told."""
    path = _write(tmp_path / "list.csv", "a;b\nName;Mail\nÄda;x\n", "cp1252")
    found = read_list(path, ListPolicy(delimiter=";", encoding="cp1252", header_row=2))
    assert found.table.to_pydict() == {"Name": ["Äda"], "Mail": ["x"]}


@given(st.binary(max_size=300))
def test_any_bytes_are_read_or_refused(tmp_path_factory, data):
    """No bytes give anything but a list or an InputError."""
    path = tmp_path_factory.mktemp("bytes") / "list.csv"
    path.write_bytes(data)
    with contextlib.suppress(InputError):
        read_list(path)


CELL = st.text(st.characters(codec="utf-8", exclude_characters="\0\r", exclude_categories=("Cs",)), max_size=12)


@given(st.lists(st.lists(CELL, min_size=3, max_size=3).filter(lambda row: "".join(row).strip()), min_size=1, max_size=5))
def test_what_is_written_is_read_back(tmp_path_factory, rows):
    """Every cell survives writing and reading."""
    import pyarrow as pa

    from brujula.intake.write import write_csv

    path = tmp_path_factory.mktemp("back") / "list.csv"
    table = pa.table({n: pa.array([r[i] for r in rows], pa.large_string()) for i, n in enumerate(("One name", "Other", "Third"))})
    write_csv(table, path)
    assert read_list(path, ListPolicy(delimiter=",", header_row=1)).table.to_pydict() == table.to_pydict()


def _workbook(path, sheets):
    import openpyxl

    book = openpyxl.Workbook()
    book.remove(book.active)
    for name, rows in sheets.items():
        sheet = book.create_sheet(name)
        for row in rows:
            sheet.append(row)
    book.save(path)
    return path


def test_merged_cells_say_the_same_of_each_row(tmp_path):
    """A school merged over its teachers is each one's; titles, headings, what is merged across and rows of nothing else stay as they are."""
    import openpyxl

    teachers = [[None, n] for n in ("Bob Orme", None, "Cleo Lind")]
    rows = [["Roster", None], ["School", "Name"], ["Harrow School", "Ada Quist"], *teachers, ["Closed", None]]
    path = _workbook(tmp_path / "list.xlsx", {"Roster": rows})
    book = openpyxl.load_workbook(path)
    for merged in ("A1:B1", "A3:A6", "A7:B8"):
        book["Roster"].merge_cells(merged)
    book.save(path)
    found = read_list(path)
    assert found.table.to_pydict() == {
        "School": ["Harrow School", "Harrow School", "Harrow School", "Closed"],
        "Name": ["Ada Quist", "Bob Orme", "Cleo Lind", ""],
    }
    assert '"School" in cells merged over several rows: said of the 2 rows below as well' in found.notes


@pytest.mark.parametrize("row", [["Ada Quist", "12 Mill Street"], ["ada@quist.example", "12 Mill Street"]])
def test_rows_of_one_name_are_not_several_people(tmp_path, row):
    """An address in two rows beside a name, or a mailbox, merged over them is one person's: the second row has neither."""
    import openpyxl

    heads = ["E-mail" if "@" in row[0] else "Name", "Address"]
    path = _workbook(tmp_path / "list.xlsx", {"List": [heads, row, [None, "Orme 10501"], ["Bo Lind", "7 Oak Road"]]})
    book = openpyxl.load_workbook(path)
    book["List"].merge_cells("A2:A3")
    book.save(path)
    assert read_list(path).table.column(heads[0]).to_pylist() == [row[0], "", "Bo Lind"]


def test_workbooks_are_read(tmp_path):
    """The first sheet with rows, titles passed over, numbers and dates as text, the other sheets named."""
    rows = [
        ["Roster"],
        [],
        ["Name", "Phone", "Since", "ZIP"],
        ["Ada Quist", 2125550147, datetime.date(2026, 3, 2), "01234"],
        [None] * 4,
        ["Bob", 1.5, None, None],
    ]
    found = read_list(_workbook(tmp_path / "list.xlsx", {"Empty": [], "Roster": rows, "Old": [["x"]]}))
    assert found.table.to_pydict() == {
        "Name": ["Ada Quist", "Bob"],
        "Phone": ["2125550147", "1.5"],
        "Since": ["2026-03-02", ""],
        "ZIP": ["01234", ""],
    }
    assert found.notes == (
        'sheet "Roster"',
        "header found in row 3; 2 rows above it passed over",
        "not read: Empty, Old (list.sheet in a policy chooses another)",
        "1 blank row passed over",
    )
    assert read_list(tmp_path / "list.xlsx", ListPolicy(sheet="Old")).table.column_names == ["x"]
    with pytest.raises(InputError, match='no sheet "New"; it has Empty, Roster, Old'):
        read_list(tmp_path / "list.xlsx", ListPolicy(sheet="New"))


@pytest.mark.parametrize(
    ("first", "read"),
    [
        ([["How to fill in this list"], ["One row for each person"]], "People"),
        ([["Field", "Meaning"], ["Name", "as in the passport"], ["Phone", "with the area code"]], "People"),
        ([["Name", "Town"], ["Cy Orme", "Yarrow"]], "First"),
        ([["Spieler", "Pult"], *[[f"Cy Orme {i}", f"{i}"] for i in range(9)]], "First"),
    ],
)
def test_a_sheet_of_instructions_is_passed_over(tmp_path, first, read):
    """Of two sheets the first is read, unless a longer one is under headings that are known and it is not; a policy has its way."""
    people = [["Name", "Phone", "Town"], *[[f"Ada Quist {i}", "212-555-0147", "Orme"] for i in range(5)]]
    path = _workbook(tmp_path / "list.xlsx", {"First": first, "People": people})
    assert f'sheet "{read}"' in read_list(path).notes
    assert 'sheet "First"' in read_list(path, ListPolicy(sheet="First")).notes


def test_json_lines_are_read(tmp_path):
    """Objects of any keys; plain arrays in one cell; a line that is none is rejected with its text."""
    (tmp_path / "list.jsonl").write_text(
        '{"Name": "Ada", "Phone": 5}\nnonsense\n\n{"Name": "Bob", "Tags": ["a", "b"], "Mail": null}\n'
    )
    found = read_list(tmp_path / "list.jsonl")
    assert found.table.to_pydict() == {
        "Name": ["Ada", "", "Bob"],
        "Phone": ["5", "", ""],
        "Tags": ["", "", "a; b"],
        "Mail": ["", "", ""],
    }
    assert [(p.code, p.row, p.value) for p in found.problems] == [("bad-line", 2, "nonsense")]


NESTED = [
    {
        "id": 1,
        "name": {"first": "Ada", "last": "Quist"},
        "mails": [{"kind": "work", "to": "ada@q.example"}, {"to": "a@q.example"}],
        "home": None,
    },
    {"id": 2, "name": {"first": "Bo"}, "mails": None, "home": {"town": "Orme"}, "name.first": "other"},
]
FLAT = {
    "id": ["1", "2"],
    "name.first": ["Ada", "Bo"],
    "name.last": ["Quist", ""],
    "mails.1.kind": ["work", ""],
    "mails.1.to": ["ada@q.example", ""],
    "mails.2.to": ["a@q.example", ""],
    "home.town": ["", "Orme"],
    "name.first (2)": ["", "other"],
}


@pytest.mark.parametrize(
    ("name", "text"),
    [
        ("l.jsonl", "\n".join(map(json.dumps, NESTED))),
        ("l.json", json.dumps(NESTED)),
        ("l.json", json.dumps({"total": 2, "people": NESTED, "next": None})),
    ],
)
def test_what_is_nested_gets_columns_of_its_own(tmp_path, name, text):
    """Objects within objects by their path, nothing lost; null where others have an object is no column."""
    (tmp_path / name).write_text(text)
    assert read_list(tmp_path / name).table.to_pydict() == FLAT


def test_nested_parquet_gets_columns_of_its_own(tmp_path):
    """Structs and lists as in JSON."""
    import pyarrow.parquet as pq

    rows = [{k: v for k, v in row.items() if k != "name.first"} for row in NESTED]
    pq.write_table(pa.Table.from_pylist([row | {"tags": ["a", "b"]} for row in rows]), tmp_path / "l.parquet")
    found = read_list(tmp_path / "l.parquet").table.to_pydict()
    assert {n: v for n, v in found.items() if any(v)} == {n: v for n, v in FLAT.items() if "(2)" not in n} | {
        "tags": ["a; b"] * 2
    }


def test_a_frame_is_read_as_a_file_would_be():
    """Labels that stand twice or say nothing, missing values, days and arrays: nothing is lost, and nothing is no text."""
    rows = [["Ada", 3055550199.0, pd.Timestamp("2020-01-31"), ["a", "b"], True, 1], ["Bob", None, None, None, False, 2]]
    frame = pd.DataFrame(rows, columns=["Name", "Phone", "", "tags", "Name", 7])
    assert from_frame(frame).table.to_pydict() == {
        "Name": ["Ada", "Bob"], "Phone": ["3055550199", ""], "column 3": ["2020-01-31", ""], "tags": ["a; b", ""],
        "Name (2)": ["TRUE", "FALSE"], "7": ["1", "2"],
    }  # fmt: skip


def test_json_of_one_array_of_objects(tmp_path):
    """What is no object among the records is rejected with its text."""
    (tmp_path / "l.json").write_text('[{"Name": "Ada"}, 5]')
    assert [(p.code, p.row, p.value) for p in read_list(tmp_path / "l.json").problems] == [("bad-line", 2, "5")]


def test_parquet_is_read(tmp_path):
    """Typed columns become text."""
    import pyarrow.parquet as pq

    pq.write_table(pa.table({"id": [1, 2], "Name": ["Ada", None], "Zip": [1234.0, None]}), tmp_path / "list.parquet")
    assert read_list(tmp_path / "list.parquet").table.to_pydict() == {"id": ["1", "2"], "Name": ["Ada", ""], "Zip": ["1234", ""]}


@pytest.mark.parametrize(
    ("name", "data", "message"),
    [
        ("x.xlsx", b"PK nothing", "not a workbook that can be read"),
        ("x.parquet", b"PAR1", "not a Parquet file that can be read"),
        ("x.jsonl", b"[1]\n2\n", "no line holds a JSON object"),
        ("x.xlsx.gz", b"x", "no format known"),
    ],
)
def test_damaged_files_say_so(tmp_path, name, data, message):
    """One message each."""
    (tmp_path / name).write_bytes(data)
    with pytest.raises(InputError, match=message):
        read_list(tmp_path / name)


LEGACY = [
    ("cp1250", "Małgorzata Wójcik, Łódź | Święcicki Paweł, Kraków | Grażyna Dąbrowska, Gdańsk"),
    ("iso8859_2", "Jiří Dvořák, Plzeň | Božena Šťastná, Děčín | Lukáš Růžička, Ústí"),
    ("cp1250", "Erdős Győző, Győr | Szűcs Ágnes, Székesfehérvár | Fenyő Ödön, Pécs"),
    ("cp1254", "Ayşe Yıldız, İzmir | Gökçe Şahin, Eskişehir | Çağla Öztürk, Muğla"),
    ("cp1251", "Анна Иванова, Москва | Пётр Кузьмин, Тверь | Ольга Щербакова, Уфа"),
    ("koi8_r", "Анна Иванова, Москва | Пётр Кузьмин, Тверь | Ольга Щербакова, Уфа"),
    ("cp1253", "Γιώργος Παπαδόπουλος, Αθήνα | Άννα Μπαλή, Πάτρα | Ελένη Δημητρίου, Βόλος"),
    ("cp932", "山田 太郎, 東京 | 佐々木 健, 大阪 | 鈴木 花子, 名古屋"),
    ("gb18030", "王小明, 北京市朝阳区 | 李建军, 上海市 | 陈晓华, 广州市天河区"),
    ("mac_roman", "Jörg Müller, Köln | Käthe Groß, Würzburg | Änne Schäfer, Lübeck"),
    ("cp1252", "François Lefèvre, Orléans | Zoë Hébert, Nîmes | Agnès Château, Évreux"),
    ("cp1252", "Søren Kjær, Århus | Åse Brønd, Tromsø | Jørgen Nygård, Ålesund"),
    ("cp1252", "Ada Quist, •“urgent” – £50… | Bob Lind, ½ size—case ™ | Cleo Moor, don’t call • ¾"),
    ("cp1252", "Ana Ruiz, 3º B | Luis Gil, 1ª Izq | Eva Sanz, 12ºC | Pablo Cano, 4º D | Rosa Vega, 7ª"),
    ("cp1253", "ΓΙΩΡΓΟΣ ΠΑΠΑΔΟΠΟΥΛΟΣ, ΑΘΗΝΑ | ΆΝΝΑ ΜΠΑΛΗ, ΠΑΤΡΑ | ΕΛΕΝΗ ΔΗΜΗΤΡΙΟΥ, ΒΟΛΟΣ"),
    ("mac_cyrillic", "Анна Иванова, Москва | Пётр Кузьмин, Тверь | Ольга Щербакова, Уфа"),
    ("cp1252", "João Conceição, São Paulo | María Muñoz, Córdoba | Jürgen Weiß, Köln"),
]


@pytest.mark.parametrize(("encoding", "rows"), LEGACY)
def test_other_encodings_are_told_by_their_letters(tmp_path, encoding, rows):
    """A list that is not UTF-8 is read in the encoding in which its letters make names, and the encoding is said."""
    found = read_list(_write(tmp_path / "list.csv", "Name, Town\n" + rows.replace(" | ", "\n"), encoding))
    assert [",".join(r.values()) for r in found.table.to_pylist()] == rows.split(" | ")
    assert "it is not UTF-8" in found.notes[0]


def test_the_policy_names_the_encoding(tmp_path):
    """What the policy says goes before what the letters say; letters that fit no word then are told."""
    found = read_list(_write(tmp_path / "list.csv", "Name,Town\nAda Quist,Łódź\n", "cp1250"), ListPolicy(encoding="cp1252"))
    assert found.table["Town"].to_pylist() == ["£ódŸ"]
    assert "1 cell with characters that fit no word, first in line 2" in "; ".join(found.notes)


def test_a_list_put_together_from_two(tmp_path):
    """Lines in UTF-8 among lines in another encoding are both read."""
    (tmp_path / "list.csv").write_bytes("Name\nZoë Lefèvre\nJörg Groß\n".encode() + "José Muñoz\nÅse Brønd\n".encode("cp1252"))
    found = read_list(tmp_path / "list.csv")
    assert found.table["Name"].to_pylist() == ["Zoë Lefèvre", "Jörg Groß", "José Muñoz", "Åse Brønd"]
    assert "utf-8 and windows-1252, line by line" in found.notes[0]


@pytest.mark.parametrize("encoding", ["utf-8-sig", "utf-16", "cp1250"])
@pytest.mark.parametrize(
    ("name", "text"), [("l.jsonl", '{"Name": "Małgorzata Święcicka"}\n'), ("l.json", '[{"Name": "Małgorzata Święcicka"}]')]
)
def test_json_in_other_encodings(tmp_path, name, text, encoding):
    """JSON ought to be UTF-8; what is not is read all the same, and in the encoding the policy names."""
    for how in (ListPolicy(), ListPolicy(encoding=encoding)):
        assert read_list(_write(tmp_path / name, text, encoding), how).table["Name"].to_pylist() == ["Małgorzata Święcicka"]
    with pytest.raises(InputError, match="cannot be read as ascii, as the policy says"):
        read_list(tmp_path / name, ListPolicy(encoding="ascii"))
