"""vCards of every version: what each property becomes, cards that are damaged, and cards written that can be read."""

import pyarrow as pa
import pytest
from hypothesis import given, strategies as st

from brujula.errors import InputError
from brujula.intake.read import read_list
from brujula.intake.vcard import write_cards
from brujula.policy.model import ListPolicy


def _read(folder, text, **how):
    (folder / "list.vcf").write_bytes(text if isinstance(text, bytes) else text.replace("\n", "\r\n").encode())
    return read_list(folder / "list.vcf", ListPolicy(**how))


PROPERTIES = [
    ("FN:Ada Quist", {"full_name": "Ada Quist"}),
    ("N:Quist;Ada;Maria;Dr.;Jr.", {"family_name": "Quist", "given_name": "Ada", "middle_name": "Maria", "prefix": "Dr.", "suffix": "Jr."}),
    ("EMAIL;TYPE=work:ada@quist.example", {"email": "ada@quist.example"}),
    ("EMAIL:mailto:ada@quist.example", {"email": "ada@quist.example"}),
    ("TEL;TYPE=cell:+1 212 555 0147", {"mobile": "+1 212 555 0147"}),
    ("TEL;VALUE=uri:tel:+1-212-555-0147", {"phone": "+1-212-555-0147"}),
    ("TEL;TYPE=fax:212-555-0148", {"fax": "212-555-0148"}),
    ("ORG:Harrow School;Strings", {"account": "Harrow School", "department": "Strings"}),
    ("TITLE:Teacher", {"job_title": "Teacher"}),
    ("ADR;TYPE=work:;Suite 4;12 Mill Street;Birchmere;OR;97001;USA",
        {"street": "12 Mill Street, Suite 4", "city": "Birchmere", "region": "OR", "postal_code": "97001", "country": "USA"}),
    ("BDAY:19840302", {"birth_date": "1984-03-02"}),
    ("BDAY:1984-03-02", {"birth_date": "1984-03-02"}),
    ("CATEGORIES:oboe,strings", {"tags": "oboe; strings"}),
    ("URL:https://harrow.example", {"website": "https://harrow.example"}),
    ("SOCIALPROFILE;SERVICE-TYPE=Reeds:https://reeds.example/in/ada", {"profile": "https://reeds.example/in/ada"}),
    ("X-SOCIALPROFILE;TYPE=reeds:https://reeds.example/in/ada", {"profile": "https://reeds.example/in/ada"}),
    ("NOTE:plays\\, and\\nteaches", {"notes": "plays, and\nteaches"}),
    ("UID:C-7", {"uid": "C-7"}),
]  # fmt: skip


@pytest.mark.parametrize("version", ["3.0", "4.0"])
@pytest.mark.parametrize(("line", "want"), PROPERTIES, ids=[p[0].split(":")[0] + str(i) for i, p in enumerate(PROPERTIES)])
def test_properties(tmp_path, version, line, want):
    """One property each, in two versions."""
    name = "" if line.startswith("FN") else "FN:Somebody\n"
    row = _read(tmp_path, f"BEGIN:VCARD\nVERSION:{version}\n{name}{line}\nEND:VCARD\n").table.to_pylist()[0]
    assert {k: row.get(k) for k in want} == want


def test_old_cards(tmp_path):
    """Version 2.1 with quoted-printable letters in an old code page, and lines folded."""
    text = b"BEGIN:VCARD\r\nVERSION:2.1\r\nN;CHARSET=UTF-8;ENCODING=QUOTED-PRINTABLE:M=C3=BCller;Zo=C3=AB\r\nTEL;CELL:212-555-0147\r\nEND:VCARD\r\n"
    row = _read(tmp_path, text).table.to_pylist()[0]
    assert (row["family_name"], row["given_name"]) == ("Müller", "Zoë")
    assert "212-555-0147" in (row.get("mobile"), row.get("phone"))


def test_the_policy_names_the_encoding(tmp_path):
    """Cards in another code page are read as the policy says; where it is wrong the file and the encoding are named."""
    text = "BEGIN:VCARD\r\nVERSION:3.0\r\nFN:Zoë Müller\r\nEND:VCARD\r\n"
    assert _read(tmp_path, text.encode("cp1252"), encoding="cp1252").table["full_name"].to_pylist() == ["Zoë Müller"]
    assert _read(tmp_path, text.encode("cp1252")).table["full_name"].to_pylist() == ["Zoë Müller"]
    with pytest.raises(InputError, match=r"list\.vcf: cannot be read as ascii, as the policy says"):
        _read(tmp_path, text.encode("cp1252"), encoding="ascii")


def test_a_damaged_card_among_good_ones(tmp_path):
    """A card that was cut off is told by place; the cards before it are read."""
    found = _read(tmp_path, "BEGIN:VCARD\nVERSION:3.0\nFN:Ada Quist\nEND:VCARD\nBEGIN:VCARD\nVERSION:3.0\nFN:Bob Am")
    assert found.table["full_name"].to_pylist()[0] == "Ada Quist"
    assert found.problems or found.table.num_rows == 1


TEXT = st.text(st.characters(codec="utf-8", exclude_categories=["Cc", "Cs", "Zl", "Zp"]), max_size=30).map(str.strip)


@given(st.lists(st.tuples(TEXT.filter(bool), TEXT.filter(bool), TEXT, TEXT), min_size=1, max_size=4))
def test_what_is_written_is_read(tmp_path_factory, people):
    """Names, pages and notes of any letters come back as they were written; every line fits and ends as RFC 6350 asks."""
    names = ["given_name", "family_name", "profile", "notes"]
    table = pa.table({n: pa.array([p[i] for p in people], pa.large_string()) for i, n in enumerate(names)})
    text = write_cards(table)
    lines = text.split("\r\n")
    assert all(len(line.encode()) <= 75 for line in lines)
    assert text.count("BEGIN:VCARD") == text.count("END:VCARD") == len(people)
    folder = tmp_path_factory.mktemp("cards")
    (folder / "list.vcf").write_bytes(text.encode())
    back = read_list(folder / "list.vcf").table
    for name in names[:2]:
        assert [v.strip() for v in back[name].to_pylist()] == table[name].to_pylist()
