"""Promise 10: bad input gets one clear message that names file, row, column, value and what would be accepted; nothing is written."""

import gzip
import json
import stat
import zipfile
from pathlib import Path

import pandas as pd
import pyarrow as pa
import pytest

import brujula
from brujula.errors import BrujulaError, InputError, PlanError, PolicyError, StoreError, UsageError
from brujula.intake.read import read_list
from brujula.intake.write import write_list
from brujula.policy.model import Policy

OLD = "id,first_name,last_name,email\nC-1,Ada,Quist,ada@quist.example\nC-2,Bob,Ames,bob@ames.example\n"
NEW = "Given name,Surname,Mail\nAda,Quist,ada@quist.example\nCarla,Wren,carla@wren.example\n"


@pytest.fixture
def lists(tmp_path):
    """Two small lists."""
    (tmp_path / "old.csv").write_text(OLD)
    (tmp_path / "new.csv").write_text(NEW)
    return tmp_path


FILES = [
    ("list.csv", b"", "list.csv: the file is empty"),
    ("list.csv", b"\n\n   \n", "list.csv: "),
    ("list.csv.gz", b"no gzip", r"list.csv.gz: the gzip file is damaged \(.*\); pack it again"),
    ("list.csv.gz", gzip.compress(NEW.encode())[:-9], "list.csv.gz: the gzip file is damaged"),
    ("list.jsonl", b"", "list.jsonl: the file is empty; accepted: a record at least"),
    ("list.jsonl", b"[1, 2]\n", "list.jsonl: no line holds a JSON object; accepted: one object a line"),
    ("list.parquet", b"PAR1 nonsense", "list.parquet: "),
    ("list.xlsx", b"PK nonsense", "list.xlsx: "),
    ("list.vcf", b"hello", "list.vcf"),
    ("list.pdf", b"%PDF", r"list.pdf: .*\.csv"),
    ("crm.db", b"", "crm.db: a list is wanted here, not a database; as a store it is named sqlite:///.*crm.db"),
    ("list.csv", b"PK\x03\x04" + bytes(range(256)), r"list.csv: holds a workbook, .* ends in .csv; accepted: .*\.xlsx"),
    ("list.txt", b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1" + b"Name\nAda\n" * 9, "list.txt: holds an old workbook"),
    ("list.csv", b"PAR1\x15\x04" + b"Name,Ada" * 9, "list.csv: holds a Parquet file"),
    ("list.csv", gzip.compress(NEW.encode()), r"list.csv: holds gzipped bytes, .*; accepted: the same file named .csv.gz"),
    ("list.csv", b"%PDF-1.7\n1 0 obj\n<</Type /Catalog>>\nendobj\n", "list.csv: holds a PDF"),
    ("list.csv", b"SQLite format 3\0" + bytes(99), "list.csv: holds a SQLite database, .*sqlite:///"),
    ("list.csv", b"\r\n<!-- export -->\n<!DOCTYPE html><html>\nSign in, please\n", "list.csv: holds a web page"),
    ("list.xlsx", b"\xef\xbb\xbf<html><table><tr><td>Name</td></tr></table>", "list.xlsx: holds a web page"),
    ("list.csv.gz", gzip.compress(b"<TABLE>\n<tr><td>Name</td></tr>\n"), "list.csv.gz: holds a web page"),
    ("list.csv", b'<?xml version="1.0"?>\n<people/>\n', "list.csv: holds XML"),
    ("list.csv", b'[\n  {"name": "Ada"},\n  {"name": "Bo"}\n]\n', r"list.csv: holds JSON, .*\.json"),
    (
        "list.txt",
        b"BEGIN:VCARD\r\nFN:Ada Quist\r\nEND:VCARD\r\n",
        "list.txt: holds vCards, .*; accepted: the same file named .vcf",
    ),
]


@pytest.mark.parametrize(("name", "data", "message"), FILES, ids=[f"{n}-{i}" for i, (n, _, _) in enumerate(FILES)])
def test_files_that_are_no_lists(tmp_path, name, data, message):
    """Empty, damaged, of another format: the file and what is wrong with it."""
    (tmp_path / name).write_bytes(data)
    with pytest.raises(InputError, match=message):
        read_list(tmp_path / name)


def test_a_line_that_is_no_record_is_kept(tmp_path):
    """A bad line among good ones is no error: it is rejected as it stood, with its place."""
    (tmp_path / "list.jsonl").write_text('{"first_name": "Ada", "last_name": "Quist"}\nnonsense\n')
    (tmp_path / "old.csv").write_text(OLD)
    plan = brujula.plan(tmp_path / "list.jsonl", against=tmp_path / "old.csv", entity="contact")
    assert plan.outcomes["outcome"].tolist()[1] == "reject"
    plan.write(tmp_path / "plan")
    assert "nonsense" in (tmp_path / "plan" / "rejects.csv").read_text()


def test_a_folder_is_no_list(tmp_path):
    """A folder named as a list is said to be one."""
    (tmp_path / "list.csv").mkdir()
    with pytest.raises(InputError, match=r"list\.csv: "):
        read_list(tmp_path / "list.csv")


def test_a_workbook_that_unpacks_too_far(tmp_path):
    """A small file that would fill the memory is not read."""
    with zipfile.ZipFile(tmp_path / "bomb.xlsx", "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr("xl/workbook.xml", b"0" * (300 << 20))
    with pytest.raises(InputError, match=r"bomb\.xlsx: unpacks to 300 MiB, more than a list would; it is not read"):
        read_list(tmp_path / "bomb.xlsx")


POLICIES = [
    ("nonsense", "p.toml: not a TOML 1.0 file"),
    ('entity = "account"\n', 'p.toml, entity: the policy is for "account", the call says "contact"'),
    ("[matsch]\nsame_from = 0.9\n", r'p.toml, matsch.*did you mean "match"'),
    ("[match]\nsame_form = 0.9\n", r'same_form.*did you mean "same_from"'),
    ("[match]\nsame_from = 2\n", r"match\.same_from"),
    ('[match]\ncompare = ["emial"]\n', r'"emial".*did you mean "email"'),
    ('[match]\npasses = ["email.mailbux"]\n', r"email\.mailbux"),
    (f"[match]\npasses = {['email.mailbox'] * 65}\n", "match.passes: 65 passes; at most 64 are made"),
    ('[update]\nemail = "replase"\n', r"""update\.email: "replase" should be 'fill', 'replace'"""),
    ('[outcomes]\nmode = "upsert"\n', r"outcomes\.mode.*create-and-update"),
    ('[columns]\nMail = "emial"\n', r'columns.*"emial"; did you mean "email"'),
    ('[split]\nWhere = "{city}{region}"\n', r'split.*"\{city\}\{region\}" is no pattern of fields'),
    ('[split]\nWhere = "{town}, {region}"\n', r'no field "town"'),
    ('[constant]\nsorce = "roster"\n', r'no field "sorce"; did you mean "source"'),
    ('required = ["emial"]\n', r'"emial"'),
    ('[[rule]]\nname = "mine"\nverdict = "perhaps"\nall = ["email is same"]\n', r"verdict"),
    ('[[rule]]\nname = "mine"\nverdict = "same"\nall = ["email has same"]\n', r'"email has same" is no condition'),
    ('[[rule]]\nname = "mine"\nverdict = "same"\nall = ["emial is same"]\n', r'no compared field "emial"; did you mean "email"'),
    ('[[rule]]\nname = "mine"\nverdict = "same"\nall = ["email is alike"]\n', r'no grade "alike"'),
    (
        '[[rule]]\nname = "mine"\nverdict = "same"\nall = ["email is same", "email is blank"]\n',
        r"it can never speak: no grade of email",
    ),
    ('[[rule]]\nname = "mine"\nverdict = "same"\nall = ["emial same first 3"]\n', r'no field "emial"; did you mean "email"'),
    ('[match]\nlabels = "none.csv"\n', r"none\.csv: no such file"),
    ('[suppress]\nlist = "none.csv"\n', r"none\.csv: no such file"),
    ('[match]\nkey = "emial"\n', r"emial"),
]


@pytest.mark.parametrize(("text", "message"), POLICIES, ids=[p[0].splitlines()[0] + f" {i}" for i, p in enumerate(POLICIES)])
def test_policies_that_cannot_be_used(lists, text, message):
    """A word misspelled, a value that is none, a contradiction: the key, the value, what is allowed."""
    (lists / "p.toml").write_text(text)
    with pytest.raises((PolicyError, InputError), match=message):
        brujula.plan(lists / "new.csv", against=lists / "old.csv", policy=str(lists / "p.toml"), entity="contact")


def test_all_mistakes_in_one_message(lists):
    """Three mistakes are three lines, each with its place."""
    (lists / "p.toml").write_text('[match]\nsame_from = 2\nunsure_from = "high"\n\n[outcomes]\nmode = "upsert"\n')
    with pytest.raises(PolicyError) as caught:
        Policy.read(lists / "p.toml")
    said = str(caught.value).splitlines()
    assert len(said) == 3
    assert ["(line 2)" in said[0], "(line 3)" in said[1], "(line 6)" in said[2]] == [True] * 3


LABELS = [
    ("left,right\nrow 1,C-1\n", 'no column "verdict"; accepted: left, right'),
    ("left,right,verdict\nrow 1,C-1,perhaps\n", r'line 2, column "verdict": "perhaps"; accepted: same, different, or blank'),
    ("left,right,verdict\nrow 1,C-9,same\n", r'line 2, column "right": "C-9" is no existing record and no row'),
    ("left,right,verdict\nrow 77,C-1,same\n", r'line 2, column "left": "row 77" is no existing record and no row'),
]


@pytest.mark.parametrize(("text", "message"), LABELS, ids=[x[1][:30] for x in LABELS])
def test_judged_pairs_that_are_none(lists, text, message):
    """The line, the column, the value."""
    (lists / "pairs.csv").write_text(text)
    (lists / "p.toml").write_text('[match]\nlabels = "pairs.csv"\n')
    with pytest.raises(InputError, match=message):
        brujula.plan(lists / "new.csv", against=lists / "old.csv", policy=str(lists / "p.toml"))


def test_blank_verdicts_teach_nothing(lists):
    """A pair nobody has judged is passed over, and a decision column serves as the verdict."""
    (lists / "p.toml").write_text('[match]\nlabels = "pairs.csv"\n')
    plain = brujula.plan(lists / "new.csv", against=lists / "old.csv").pairs["probability"].tolist()
    (lists / "pairs.csv").write_text("left,right,decision\nrow 1,C-1,\nrow 1,C-2,unsure\n")
    taught = brujula.plan(lists / "new.csv", against=lists / "old.csv", policy=str(lists / "p.toml"))
    assert taught.pairs["probability"].tolist() == plain


def test_plan_folders_that_are_none(lists):
    """No folder, no summary, a damaged one, one of another version: said so, and the store is not made."""
    store = f"sqlite:///{lists}/crm.db"
    brujula.plan(lists / "new.csv", against=lists / "old.csv").write(lists / "plan")
    whole = json.loads((lists / "plan" / "summary.json").read_text())
    for text, message in (
        ("{", "damaged"),
        (json.dumps(whole | {"format": 0}), "this version reads format"),
        (None, "so it is no plan folder"),
    ):
        (lists / "plan" / "summary.json").unlink(missing_ok=True)
        if text is not None:
            (lists / "plan" / "summary.json").write_text(text)
        with pytest.raises(PlanError, match=message):
            brujula.load(lists / "plan", into=store)
    with pytest.raises(PlanError, match="no such plan folder"):
        brujula.load(lists / "nowhere", into=store)
    assert not (lists / "crm.db").exists()


STORES = [
    ("mysql://x/y", r"mysql"),
    ("sqlite:///no/such/folder/x.db", r"no such store|cannot be opened"),
    ("postgresql://reed@127.0.0.1:9/none", r"postgresql"),
]


@pytest.mark.parametrize(("url", "message"), STORES)
def test_stores_that_do_not_answer(lists, url, message):
    """The store's address, without a password, and what it said."""
    with pytest.raises((StoreError, UsageError, InputError), match=message):
        brujula.plan(lists / "new.csv", against=url, entity="contact")


CALLS = [
    (lambda d: brujula.plan(d / "new.csv", against=d / "old.csv", entity="person"), "person"),
    (lambda d: brujula.check({"emial": "x"}, against=d / "old.csv"), 'no field "emial" of a contact; did you mean "email"'),
    (lambda d: brujula.check({}, against=d / "old.csv"), "field"),
    (lambda d: brujula.plan(d / "new.csv", against=d / "old.csv").explain(99), "99"),
    (lambda d: brujula.undo("L9", into=f"sqlite:///{d}/none.db"), "no such store"),
    (lambda d: write_list(pa.table({"a": ["b"]}), d / "x.ods"), r"\.ods is read, not written; name an \.xlsx"),
    (lambda d: write_list(pa.table({"a": ["b"]}), d / "nowhere" / "x.csv"), "cannot be written"),
    (lambda d: write_list(pa.table({"a": ["b"]}), d / "x.doc"), r"x\.doc"),
]


@pytest.mark.parametrize(("call", "message"), CALLS, ids=[c[1][:30] for c in CALLS])
def test_calls_that_cannot_be_done(lists, call, message):
    """An entity, a field, a row, a load, a format there is none of: one of our own errors, which names it."""
    with pytest.raises(BrujulaError, match=message):
        call(lists)


def test_nothing_is_left_of_a_file_that_could_not_be_written(tmp_path):
    """A write that fails half-way leaves the old file, and no other."""
    (tmp_path / "x.xlsx").write_bytes(b"mine")
    with pytest.raises(BrujulaError):
        write_list(pa.table({"a": pa.repeat(pa.scalar("b"), 1_048_577)}), tmp_path / "x.xlsx")
    assert (tmp_path / "x.xlsx").read_bytes() == b"mine"
    assert [p.name for p in tmp_path.iterdir()] == ["x.xlsx"]


@pytest.mark.parametrize("suffix", [".csv", ".tsv", ".csv.gz", ".jsonl", ".parquet", ".xlsx", ".vcf"])
def test_what_is_written_can_be_read(tmp_path, suffix):
    """Every format takes odd cells there and back: line ends, quotes, formulas, marks, leading zeros."""
    table = pa.table(
        {"id": ["1", "2"], "family_name": ['O\'Neil-"Ñ"', "=1+1"], "given_name": ["Ada", "Zoë"], "phone": ["0012", "+44 20"]}
    )
    write_list(table, tmp_path / f"list{suffix}")
    back = read_list(tmp_path / f"list{suffix}").table
    assert stat.S_IMODE((tmp_path / f"list{suffix}").stat().st_mode) == 0o644
    for name in ("family_name", "given_name", "phone"):
        assert back[name].to_pylist() == table[name].to_pylist()


def test_messages_show_one_value_never_a_frame(lists):
    """An error about a list does not print the list."""
    rows = pd.DataFrame({"Given name": [f"Ada{i}" for i in range(500)], "Surname": "Quist"})
    with pytest.raises(PolicyError) as caught:
        brujula.plan(
            rows, against=lists / "old.csv", policy=Policy.default("contact").model_copy(update={"combine": {"street": "{Str}"}})
        )
    assert len(str(caught.value)) < 400
    assert "Ada77" not in str(caught.value)


def test_links_are_followed_to_the_file(lists):
    """A list behind a symbolic link is read like any other."""
    (lists / "link.csv").symlink_to(Path(lists / "new.csv"))
    assert read_list(lists / "link.csv").table.num_rows == 2


@pytest.mark.parametrize(("names", "told"), [(0, "3 of 3 records give no name"), (2, "")])
def test_records_that_name_nobody_are_told(names, told):
    """Nobody can be found by name among records that have none."""
    old = pd.DataFrame(
        {"id": [1, 2, 3], "Full name": [f"Ada Quist{'abc'[n]}" if n < names else "" for n in range(3)], "City": "Orme"}
    )
    plan = brujula.plan(pd.DataFrame({"Full name": ["Ada Quist"], "City": ["Orme"]}), against=old, entity="contact")
    assert [note for note in plan.existing.notes if "name" in note] == [told] * bool(told)
    assert brujula.inspect(pd.DataFrame({"Full name": ["Ada Quist"], "City": ["Orme"]}), "contact", old).problems == ()
