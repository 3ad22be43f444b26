"""Files as they really come: each with what must come out of it."""

import gzip
import io
import json
import zipfile

import openpyxl
import pyarrow as pa
import pyarrow.parquet as pq
import pytest

import brujula
from brujula.errors import InputError
from brujula.intake.read import read_list
from brujula.policy.model import ListPolicy


def book(*sheets, hidden=(), hidden_rows=(), merged=()):
    """Bytes of a workbook."""
    made = openpyxl.Workbook()
    made.remove(made.active)
    for name, rows in sheets:
        sheet = made.create_sheet(name)
        for row in rows:
            sheet.append(row)
        if name in hidden:
            sheet.sheet_state = "hidden"
        for row in hidden_rows:
            sheet.row_dimensions[row].hidden = True
        for cells in merged:
            sheet.merge_cells(cells)
    out = io.BytesIO()
    made.save(out)
    return out.getvalue()


def zipped(**files):
    """Bytes of a zip; two lines stand for the dot of a name."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        for name, data in files.items():
            packed.writestr(name.replace("__", "."), data)
    return out.getvalue()


def page(*tables, head=""):
    """Bytes of a web page: a menu around tables given as they stand in it."""
    inside = "".join(f"<table>{t}</table>" for t in tables)
    return f"<!DOCTYPE html><html><head>{head}</head><body><table><tr><td>Menu<td>{inside}</table></body></html>".encode("cp1252")


def parquet(**columns):
    """Bytes of a Parquet file."""
    out = io.BytesIO()
    pq.write_table(pa.table(columns), out)
    return out.getvalue()


CARD = "BEGIN:VCARD\r\nVERSION:{v}\r\n{body}\r\nEND:VCARD\r\n"
ONE = [{"Name": "Ada", "Mail": "a@q.example"}]
TWO = [*ONE, {"Name": "Bob", "Mail": ""}]
PEOPLE = "<tr><td>Ada<td>a@q.example<tr><td>Bob<td>&nbsp;"
PLAIN = b"Name,Mail\nAda,a@q.example\nBob,\n"

# name: (file name, bytes, rows that come out, words of the notes, codes of the problems)
FILES = {
    "byte order mark": ("l.csv", b"\xef\xbb\xbf" + PLAIN, TWO, "utf-8", []),
    "utf-16 little end": ("l.csv", PLAIN.decode().encode("utf-16"), TWO, "utf-16", []),
    "utf-16 without a mark": ("l.csv", PLAIN.decode().encode("utf-16-le"), TWO, "utf-16-le", []),
    "utf-16 big end without a mark": ("l.csv", PLAIN.decode().encode("utf-16-be"), TWO, "utf-16-be", []),
    "windows-1252": ("l.csv", "Name,Mail\nZoë – “R”,\n".encode("cp1252"), [{"Name": "Zoë – “R”", "Mail": ""}], "windows-1252", []),
    "latin-1": ("l.csv", b"Name,Mail\nZo\xeb\x81,x\n", [{"Name": "Zoë\x81", "Mail": "x"}], "latin-1", []),
    "central European bytes": ("l.csv", "Name,Mail\nŁódź,x\n".encode("cp1250"), [{"Name": "Łódź", "Mail": "x"}], "windows-1250", []),
    "encoded twice": ("l.csv", "Name,Mail\nMÃ¼ller,x\n".encode(), 1, "twice encoded, first in line 2", []),
    "one damaged byte": ("l.csv", "Name,Mail\nZoë,x\nR\N{LATIN SMALL LETTER E WITH ACUTE}n\n".encode() + b"Ann\xff,y\n", 3, "1 damaged byte", ["short-row"]),
    "a letter cut at the very end": ("l.csv", "Name,Mail\n֤".encode() + b"\xcf", 1, "1 damaged byte", ["short-row"]),
    "old Mac line ends": ("l.csv", PLAIN.replace(b"\n", b"\r"), TWO, "", []),
    "windows line ends": ("l.csv", PLAIN.replace(b"\n", b"\r\n"), TWO, "", []),
    "no line end at the end": ("l.csv", PLAIN.rstrip(), [*ONE, {"Name": "Bob", "Mail": ""}], "", []),
    "pipes": ("l.txt", PLAIN.replace(b",", b"|"), TWO, "pipe", []),
    "tabs in a .csv": ("l.csv", PLAIN.replace(b",", b"\t"), TWO, "tab", []),
    "semicolons, commas inside": ("l.csv", b"Name;Mail\nQuist, Ada;x\nAmes, Bob;y\n", 2, "semicolon", []),
    "sep= line": ("l.csv", b"sep=;\r\nName;Mail\r\nAda;a@q.example\r\n", ONE, "semicolon", []),
    "title rows and blank lines": ("l.csv", b"Roster of May,\n,\n\nName,Mail\nAda,a@q.example\n", ONE, "header found in line 4", []),
    "blank rows between": ("l.csv", b"Name,Mail\nAda,a@q.example\n,\n ,\nBob,\n", TWO, "2 blank rows", []),
    "repeated and empty headings": ("l.csv", b"Name,Name,,\nA,B,C,D\n", [{"Name": "A", "Name (2)": "B", "column 3": "C", "column 4": "D"}], "", []),
    "a heading that looks numbered": ("l.csv", b"Name,Name (2),Name\nA,B,C\n", [{"Name": "A", "Name (2)": "B", "Name (3)": "C"}], "", []),
    "short row": ("l.csv", b"Name,Mail,Town\nAda,x\nBob,y,z\n", 2, "", ["short-row"]),
    "long row": ("l.csv", b"Name,Mail\nAda,x\nBob,y,z\n", 2, "", ["wrong-cells"]),
    "long row of blanks": ("l.csv", b"Name,Mail\nAda,x,,\nBob,y\n", 2, "", []),
    "row of totals": ("l.csv", b"Name,Fee\nAda,3\nBob,4\nTotal:,7\n", 3, "", ["totals-row"]),
    "a person called Total": ("l.csv", b"Name,Mail,Town\nAda,x,y\nTotal,t@q.example,Rookwood\n", 2, "", []),
    "NUL bytes": ("l.csv", b"Name,Mail\nA\0da,a@q.example\n", ONE, "NUL bytes left out", []),
    "quoted line breaks": ("l.csv", b'Name,Note\n"Ada","two\r\nlines"\n', [{"Name": "Ada", "Note": "two\r\nlines"}], "", []),
    "quotes inside": ("l.csv", b'Name,Note\nAda,"a ""b"" c"\nBob,5" drum\n', [{"Name": "Ada", "Note": 'a "b" c'}, {"Name": "Bob", "Note": '5" drum'}], "", []),
    "quote never closed": ("l.csv", b'Name,Note\nAda,"oops\n' + b"Bob,x\n" * 400, 401, "", ["open-quote"]),
    "formula cells": ("l.csv", b'Name,Mail\n=1+1,"=HYPERLINK(""x"")"\n', [{"Name": "=1+1", "Mail": '=HYPERLINK("x")'}], "", []),
    "header only": ("l.csv", b"Name,Mail\n", [], "", []),
    "a single column": ("l.csv", b"Mail\na@q.example\n\nb@q.example\n", [{"Mail": "a@q.example"}, {"Mail": "b@q.example"}], "", []),
    "gzip": ("l.csv.gz", gzip.compress(PLAIN), TWO, "", []),
    "zip": ("l.zip", zipped(l__csv=PLAIN), TWO, "comma", []),
    "zip, with what is to be read about it": ("l.zip", zipped(l__csv=PLAIN, about__txt=b"Exported by the school"), TWO, "comma", []),
    "a web page's table": ("l.html", page("<tr><td>Opening<td>8 to 4", f"<tr><th>Name<th>Mail</tr>{PEOPLE}"), TWO, "not read: 1 other table", []),
    "a web page, in its encoding": ("l.htm", page("<tr><td>Name<tr><td>Zo\xeb<tr><td>J&ouml;rg", head='<meta charset="windows-1252">'), [{"Name": "Zoë"}, {"Name": "Jörg"}], "windows-1252", []),
    "a web page, headings over each table": ("l.html", page(*[f"<tr><th>Name<th>Mail</tr>{PEOPLE}"] * 2), TWO * 2, "2 tables under the same headings", []),
    "a web page, lines in a cell": ("l.html", page("<tr><th>Name<th>Mail<tr><td>Ada\n Quist<td>7 Elm St<br>Yarrow<script>x</script>"), [{"Name": "Ada Quist", "Mail": "7 Elm St\nYarrow"}], "", []),
    "a web page, addresses behind links": ("l.html", page('<tr><th>Name<th>Write<tr><td>Ada<td><a href="mailto:a@q.example?subject=x">Mail me</a> 1<tr><td>Bob<td><a href="mailto:b@q.example">Mail me</a>'),
        [{"Name": "Ada", "Write": "1", "mail address": "a@q.example"}, {"Name": "Bob", "Write": "", "mail address": "b@q.example"}], 'stand in a column "mail address"', []),
    "a web page, a name that is a link": ("l.html", page('<tr><th>Name<th>No<tr><td><a href="mailto:a@q.example">Ada</a><td>1'), [{"Name": "Ada", "No": "1", "mail address": "a@q.example"}], "", []),
    "a web page, cells over several rows": ("l.html", page("<tr><th>School<th>Name<tr><td rowspan=2>Reed<td>Ada<tr><td>Bob"), [{"School": "Reed", "Name": "Ada"}, {"School": "Reed", "Name": "Bob"}], "merged", []),
    "an export that is a web page": ("l.xls", f"<table><tr><th>Name<th>Mail</tr>{PEOPLE}</table>".encode(), TWO, "table of a web page", []),
    "an export that is a text": ("l.xls", PLAIN.replace(b",", b"\t"), TWO, "tab", []),
    "an export that is a workbook": ("l.xls", book(("P", [["Name", "Mail"], ["Ada", "a@q.example"]])), ONE, 'sheet "P"', []),
    "json lines": ("l.jsonl", b'{"Name": "Ada", "Mail": "a@q.example"}\n\n{"Name": "Bob"}\n', TWO, "JSON Lines", []),
    "json too deep": ("l.jsonl", b'{"Name": "Ada"}\n' + b"[" * 100_000 + b"\n", 2, "", ["bad-line"]),
    "json with half a surrogate": ("l.jsonl", rb'{"Name": "A\ud800"}', [{"Name": "A?"}], "", []),
    "parquet": ("l.parquet", parquet(Name=["Ada", "Bob"], Mail=["a@q.example", None]), TWO, "Parquet", []),
    "workbook, several sheets": ("l.xlsx", book(("Notes", []), ("People", [["Name", "Mail"], ["Ada", "a@q.example"]])), ONE, "not read: Notes", []),
    "workbook, hidden sheet first": ("l.xlsx", book(("Old", [["x", "y"], ["1", "2"]]), ("People", [["Name", "Mail"], ["Ada", "a@q.example"]]), hidden=["Old"]), ONE, 'sheet "People"', []),
    "workbook, hidden rows": ("l.xlsx", book(("People", [["Name", "Mail"], ["Ada", "a@q.example"], ["Bob", None]]), hidden_rows=[3]), TWO, "1 hidden row read like the others: 3", []),
    "workbook, merged title": ("l.xlsx", book(("People", [["Roster of May", None], ["Name", "Mail"], ["Ada", "a@q.example"]]), merged=["A1:B1"]), ONE, "header found in row 2", []),
    "workbook, numbers and dates": ("l.xlsx", book(("P", [["Name", "ZIP", "Phone"], ["Ada", "01234", 12125550147.0], ["Bob", 1234, 2.5]])), [{"Name": "Ada", "ZIP": "01234", "Phone": "12125550147"}, {"Name": "Bob", "ZIP": "1234", "Phone": "2.5"}], "", []),
    "workbook, cells right of the headings": ("l.xlsx", book(("P", [["Name", "Mail"], ["Ada", "a@q.example", "stray"]])), ONE, "1 row with cells right of the last heading", []),
    "card, version 3": ("l.vcf", CARD.format(v="3.0", body="N:Quist;Ada;Mae;Dr.;\r\nFN:Ada Quist\r\nEMAIL;TYPE=work:a@q.example\r\nEMAIL:b@q.example\r\nTEL;TYPE=CELL:212-555-0101\r\nNOTE:a\\,b\\nc\r\n d").encode(),
        [{"prefix": "Dr.", "given_name": "Ada", "middle_name": "Mae", "family_name": "Quist", "full_name": "Ada Quist", "email": "a@q.example", "mobile": "212-555-0101", "notes": "a,b\ncd", "email 2": "b@q.example"}], "vCard 3.0", []),
    "card, version 4": ("l.vcf", CARD.format(v="4.0", body='FN:Reed School\r\nKIND:org\r\nTEL;VALUE=uri;TYPE="voice,cell":tel:+1-212-555-0101\r\nADR:;;12 Elm St;Yarrow;OR;97001;USA').encode(),
        [{"mobile": "+1-212-555-0101", "street": "12 Elm St", "city": "Yarrow", "region": "OR", "postal_code": "97001", "country": "USA", "name": "Reed School"}], "vCard 4.0", []),
    "card, version 2.1 quoted printable": ("l.vcf", CARD.format(v="2.1", body="N;CHARSET=UTF-8;ENCODING=QUOTED-PRINTABLE:M=C3=BCller;J=C3=B6rg").encode(), [{"given_name": "Jörg", "family_name": "Müller"}], "vCard 2.1", []),
    "card never closed": ("l.vcf", b"BEGIN:VCARD\nVERSION:3.0\nFN:Ada\n" + CARD.format(v="3.0", body="FN:Bob").encode(), 2, "", None),
}  # fmt: skip


@pytest.mark.parametrize("case", FILES)
def test_nasty_files_are_read(tmp_path, case):
    """The rows, what is said of the file, and what is said of rows."""
    name, data, rows, note, codes = FILES[case]
    (tmp_path / name).write_bytes(data)
    found = read_list(tmp_path / name)
    assert (len(found.table) if isinstance(rows, int) else found.table.to_pylist()) == rows
    assert note in "; ".join(found.notes)
    if codes is not None:
        assert [p.code for p in found.problems] == codes


def bomb():
    """A small workbook that unpacks to 200 MiB."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr("xl/worksheets/sheet1.xml", b"0" * (200 << 20))
    return out.getvalue()


REFUSED = {
    "empty": ("l.csv", b"", "the file is empty"),
    "white space only": ("l.csv", b" \n\t\r\n", "the file is empty"),
    "NULs only": ("l.csv", b"\0\0\0", "the file is empty"),
    "another format": ("l.docx", b"PK", "no format known for"),
    "gzip cut short": ("l.csv.gz", gzip.compress(b"Name\n" + bytes(range(256)) * 20)[:-30], "the gzip file is damaged"),
    "a zip cut short": ("l.zip", zipped(l__csv=PLAIN)[:-30], "the zip file is damaged"),
    "a zip whose names are damaged": (
        "l.zip",
        zipped(łist__csv=PLAIN).replace("łist".encode(), b"\xff\xffist"),
        "the zip file is damaged",
    ),
    "a zip of another version": (
        "l.zip",
        zipped(l__csv=PLAIN).replace(b"PK\x01\x02\x14\x03\x14", b"PK\x01\x02\x14\x03\xfd"),
        "the zip file is damaged",
    ),
    "a zip of two lists": (
        "l.zip",
        zipped(a__csv=PLAIN, b__csv=PLAIN),
        "holds a.csv, b.csv; accepted: a zip with one list in it",
    ),
    "a zip of a list and a picture": ("l.zip", zipped(a__csv=PLAIN, b__png=b""), "holds a.csv, b.png; accepted: a zip with one"),
    "a zip of nothing": ("l.zip", zipped(), "holds nothing; accepted"),
    "a page without a table": ("l.html", b"<html><body>Sign in, please</body></html>", "a web page without a table"),
    "an old workbook": ("l.xls", b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1" + bytes(600), "holds an old workbook"),
    "an export that is no list": ("l.xls", b"%PDF-1.7", "holds a PDF"),
    "a workbook that is none": ("l.xlsx", b"PK\x03\x04 nothing", "not a workbook that can be read"),
    "a workbook with empty sheets": ("l.xlsx", book(("A", []), ("B", [])), "every sheet is empty"),
    "a workbook bomb": ("l.xlsx", bomb, "unpacks to 200 MiB, more than a list would"),
    "json that holds no object": ("l.jsonl", b"[1]\n2\n", "no line holds a JSON object"),
    "json nested too deep": ("l.json", b'[{"x": ' + b"[" * 100_000 + b"]" * 100_000 + b"}]", "not JSON that can be read"),
    "json of no records": ("l.json", b'{"total": 0, "people": []}', "no array of objects; accepted: one"),
    "json of two lists": ("l.json", b'{"a": [{"x": 1}], "b": [{"y": 2}]}', "2 arrays of objects; accepted: one"),
    "json cut off": ("l.json", b'[{"x": 1}', "not JSON that can be read"),
    "no card": ("l.vcf", b"VERSION:3.0\n", "no card in it"),
    "too many columns": ("l.csv", b",".join(b"c%d" % i for i in range(5000)) + b"\n", "5,000 columns; accepted: at most 4,096"),
}


@pytest.mark.parametrize("case", REFUSED)
def test_what_is_no_list_is_refused(tmp_path, case):
    """One message that names the file and what is wrong."""
    name, data, message = REFUSED[case]
    (tmp_path / name).write_bytes(data() if callable(data) else data)
    with pytest.raises(InputError, match=f"{name}.*{message}"):
        read_list(tmp_path / name)


def test_sheets_under_the_same_headings_are_one_list(tmp_path):
    """With `*` they are read under one another; a column has their names, a row is told by its sheet, and a sheet of another kind is not read."""
    head = ["Name", "Mail"]
    sheets = (
        ("North", [head, ["Ada", "a@q.example"]]),
        ("Fees", [["Year"], [2024]]),
        ("None", []),
        ("South", [["Town"], head, ["Bob"], []]),
    )
    (tmp_path / "l.xlsx").write_bytes(book(*sheets))
    found = read_list(tmp_path / "l.xlsx", ListPolicy(sheet="*"))
    rows = [("Ada", "a@q.example", "North"), ("Bob", "", "South")]
    assert found.table.to_pylist() == [dict(zip((*head, "Sheet"), row, strict=True)) for row in rows]
    assert [found.place_of(row) for row in (1, 2)] == ['sheet "North", row 2', 'sheet "South", row 3']
    assert "not read: Fees, None" in "; ".join(found.notes)
    assert '"*" reads all under the same headings' in "; ".join(read_list(tmp_path / "l.xlsx").notes)


def test_a_cell_of_megabytes_costs_its_row_only(tmp_path):
    """A cell no value could be is rejected; the rows beside it are read."""
    (tmp_path / "l.csv").write_text("Name,Note\nAda,x\nBob," + "y" * 6_000_000 + "\nCarla,z\n")
    found = read_list(tmp_path / "l.csv")
    assert [(p.code, p.row) for p in found.problems] == [("long-cell", 2)]
    assert found.table.column("Name").to_pylist() == ["Ada", "Bob", "Carla"]


def test_what_cannot_be_split_is_given_back_as_it_stood(tmp_path):
    """rejects.csv holds the text of a row that could not be read, and says where it stands."""
    (tmp_path / "l.jsonl").write_text('{"First name": "Ada", "Surname": "Quist"}\nno {object\n')
    (tmp_path / "old.csv").write_text("id,first_name,last_name\n1,Carla,Wren\n")
    brujula.plan(str(tmp_path / "l.jsonl"), against=str(tmp_path / "old.csv"), entity="contact").write(tmp_path / "plan")
    rejected = read_list(tmp_path / "plan" / "rejects.csv", ListPolicy(delimiter=",", header_row=1)).table.to_pylist()
    assert [(r["as it stood"], r["problem"].split(":")[0]) for r in rejected] == [("no {object", "line 2")]


def test_places_are_told_as_the_file_counts_them(tmp_path):
    """Title rows, blank rows and quoted line breaks do not shift where a row is said to stand."""
    (tmp_path / "l.csv").write_text('Roster,\n\nName,Mail\n"A\nb",x\n\nCc,y\n')
    found = read_list(tmp_path / "l.csv")
    assert found.table.column("Name").to_pylist() == ["A\nb", "Cc"]
    (tmp_path / "p.csv").write_text("Roster,\n\nName,Mail\nA,x\nB,y,z\n")
    assert read_list(tmp_path / "p.csv").place_of(2) in ("line 5", "row 2")
    (tmp_path / "q.csv").write_text("Roster,\nName,Mail\nA,x\nB,y\n")
    assert read_list(tmp_path / "q.csv").place_of(2) == "line 4"
    assert json.dumps(found.notes)


def test_a_card_made_to_take_for_ever_is_rejected_at_once(tmp_path):
    """A line of parameters that never comes to its colon costs nothing: its card is rejected, the next one is read."""
    good = "BEGIN:VCARD\r\nVERSION:3.0\r\nFN:Ada Quist\r\nEND:VCARD\r\n"
    bad = "BEGIN:VCARD\r\nVERSION:3.0\r\nFN:Bo Orr\r\nTEL;a" + ";ba" * 60 + "\r\nEND:VCARD\r\n"
    (tmp_path / "people.vcf").write_text(bad + good)
    found = read_list(tmp_path / "people.vcf")
    assert [p.code for p in found.problems] == ["bad-card"]
    assert found.table["full_name"].to_pylist() == ["", "Ada Quist"]


def test_a_heading_that_looks_like_a_path_is_a_heading(tmp_path):
    """Dots and brackets at the start of a heading mean nothing."""
    (tmp_path / "list.csv").write_text(".Name;[0],$.x\nAda,Quist\nAda,Quist\n")
    assert brujula.inspect(str(tmp_path / "list.csv")).repeated_rows == 1
