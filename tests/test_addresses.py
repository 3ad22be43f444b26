"""Whole addresses in one cell: read apart in the layouts of many countries, and never at the cost of what was written."""

import re

import pandas as pd
import pyarrow as pa
import pytest
from hypothesis import given, settings, strategies as st

import brujula
from brujula.core.steps.one_cell import PARTS
from brujula.fields.postal_address import parts_of
from brujula.intake.read import read_list
from brujula.loading.apply import load

LAYOUTS = [  # what stands in the cell; street, city, region, postal code, country ("" = not said)
    ("12 Mill Street, Orme, TX 75272", "12 Mill Street", "Orme", "TX", "75272", ""),
    ("Na Hrádku 15, 110 00 Praha 1", "Na Hrádku 15", "Praha 1", "", "110 00", ""),
    ("12 Mill Street, Suite 4, Orme, TX, 75272-1234, USA", "12 Mill Street, Suite 4", "Orme", "TX", "75272-1234", "USA"),
    ("12 Mill St, Orme, Texas 75272", "12 Mill St", "Orme", "Texas", "75272", ""),
    ("12 Mill Street\nOrme, TX 75272", "12 Mill Street", "Orme", "TX", "75272", ""),
    ("12 Mill Street, Orme, TX", "12 Mill Street", "Orme", "TX", "", ""),
    ("12 Mill Street<br />Apt 4<BR>Orme, TX 75272", "12 Mill Street, Apt 4", "Orme", "TX", "75272", ""),
    ("12 Mill Street_x000D_\nOrme, TX 75272", "12 Mill Street", "Orme", "TX", "75272", ""),
    (r"12 Mill Street\nOrme, TX 75272", "12 Mill Street", "Orme", "TX", "75272", ""),
    (r"12 Mill Street\North, Orme, TX 75272", r"12 Mill Street\North", "Orme", "TX", "75272", ""),
    ("12 Mill Street$Orme TX 75272$US", "12 Mill Street", "Orme", "TX", "75272", "US"),
    ("12 Mill Street / Orme, TX 75272 / US", "12 Mill Street", "Orme", "TX", "75272", "US"),
    ("9 Oak Ave, St. Orme, OH 43004", "9 Oak Ave", "St. Orme", "OH", "43004", ""),
    ("Orme, Ohio 44130, United States", "", "Orme", "Ohio", "44130", "United States"),
    ("55 King St W, Orme, ON M5K 1A2", "55 King St W", "Orme", "ON", "M5K 1A2", ""),
    ("Orme, NS B3E 9Y5, CA", "", "Orme", "NS", "B3E 9Y5", ""),
    ("1 George St, Orme NSW 2000, Australia", "1 George St", "Orme", "NSW", "2000", "Australia"),
    ("4 High Street, Orme LS1 4AP, UK", "4 High Street", "Orme", "", "LS1 4AP", "UK"),
    ("4 High Street, Orme, West Yorkshire, LS21 1AB", "4 High Street", "Orme", "West Yorkshire", "LS21 1AB", ""),
    ("Flat 2, 4 High Street, Orme, LS1 4AP", "Flat 2, 4 High Street", "Orme", "", "LS1 4AP", ""),
    ("Weststraße 5, 80331 Orme", "Weststraße 5", "Orme", "", "80331", ""),
    ("Weststr. 5 80331 Orme", "Weststr. 5", "Orme", "", "80331", ""),
    ("Weststraße 99, Orme, BW, Germany", "Weststraße 99", "Orme", "BW", "", "Germany"),
    ("3 rue Haute, F-75011 Orme, France", "3 rue Haute", "Orme", "", "75011", "France"),
    ("75509 Orme, France", "", "Orme", "", "75509", "France"),
    ("ul. Długa 5, 00-238 Orme", "ul. Długa 5", "Orme", "", "00-238", ""),
    ("Dorpsstraat 12, 1015 CJ Orme", "Dorpsstraat 12", "Orme", "", "1015 CJ", ""),
    ("Dorpsstraat 12, Orme, Zuid-Holland 2577 GN, Netherlands", "Dorpsstraat 12", "Orme", "Zuid-Holland", "2577 GN", "Netherlands"),
    ("Via Alta 1, 20121 Orme (MI), Italia", "Via Alta 1", "Orme", "MI", "20121", "Italia"),
    ("Calle Mayor 3, 2º B, 28013 Orme", "Calle Mayor 3, 2º B", "Orme", "", "28013", ""),
    ("Rua Larga 100, Orme - SP, 01305-000", "Rua Larga 100", "Orme", "SP", "01305-000", ""),
    ("Av. Larga 89, Orme, Quintana Roo, Mexico", "Av. Larga 89", "Orme", "Quintana Roo", "", "Mexico"),
    ("10, Hill Road, Orme, RJ 302255", "10 Hill Road", "Orme", "RJ", "302255", ""),
    ("70/443, Low Lane Extension, Orme 140294", "70/443, Low Lane Extension", "Orme", "", "140294", ""),
    ("Rua Larga 100, 01305000 Orme", "Rua Larga 100", "Orme", "", "01305000", ""),
    ("Rua Larga 100, 4000-123 Orme", "Rua Larga 100", "Orme", "", "4000-123", ""),
    ("Orme, Sweden", "", "Orme", "", "", "Sweden"),
    ("12 Mill Street Orme Oregon US 97201", "12 Mill Street Orme Oregon", "", "", "97201", "US"),
    ("Smedevaenget 5 Orme DK 5560", "Smedevaenget 5 Orme", "", "", "5560", "DK"),
    ("Germany", "", "", "", "", "Germany"),
    ("99999, U.S.A.", "99999", "", "", "", "U.S.A"),
]  # fmt: skip
ONLY_STREETS = [
    "12 Mill Street",
    "12 Mill Street, Suite 4",
    "Suite 100, 12 Mill St",
    "12345 Broadway",
    "Calle Larios, 18",
    "Hawthorn House, 3 Mill Lane",
    "P.O. Box 4711",
    "n/a",
    "",
]


@pytest.mark.parametrize(("cell", "street", "city", "region", "postal_code", "country"), LAYOUTS, ids=[x[0] for x in LAYOUTS])
def test_layouts(cell, street, city, region, postal_code, country):
    """One layout each."""
    whole, parts = parts_of(pa.chunked_array([pa.array([cell])]))
    assert whole.all()
    assert [parts[p].to_pylist()[0] or "" for p in PARTS] == [street, city, region, postal_code, country]


@pytest.mark.parametrize("cell", ONLY_STREETS)
def test_streets_are_no_addresses(cell):
    """A street with a unit, a house with a name or a number behind is not taken for a town."""
    whole, _ = parts_of(pa.chunked_array([pa.array([cell])]))
    assert not whole.any()


def test_a_house_and_its_town_or_a_town_and_its_region():
    """Two names without a number are taken for neither; the country and the code behind them are."""
    whole, parts = parts_of(pa.chunked_array([pa.array(["Hawthorn House, Orme 27888, Mexico"])]))
    assert whole.all()
    assert [parts[p].to_pylist()[0] for p in PARTS] == [None, None, None, "27888", "Mexico"]


WORDS = st.text("abcdefghijklmnoprstuvwyzäéñ", min_size=3, max_size=9).map(str.capitalize)


@given(
    number=st.integers(1, 9999),
    name=WORDS,
    town=WORDS,
    state=st.sampled_from(["TX", "OH", "NY", "WA"]),
    code=st.integers(10000, 99999),
)
def test_what_was_put_together_comes_apart(number, name, town, state, code):
    """Any street and town in the layouts of two countries."""
    cells = [f"{number} {name} Road, {town}, {state} {code}", f"{name}weg {number}, {code} {town}"]
    _, parts = parts_of(pa.chunked_array([pa.array(cells)]))
    assert parts["street"].to_pylist() == [f"{number} {name} Road", f"{name}weg {number}"]
    assert parts["city"].to_pylist() == [town, town]
    assert parts["postal_code"].to_pylist() == [str(code), str(code)]


@given(st.lists(st.text("ab 12,.-/XY\nß", max_size=30), min_size=1, max_size=8))
def test_nothing_is_invented(cells):
    """Whatever is written, each part stands in the cell, in order and once."""
    whole, parts = parts_of(pa.chunked_array([pa.array(cells)]))
    for row, cell in enumerate(cells):
        letters = [c for c in cell if c.isalnum()]
        for part in PARTS:
            value = parts[part].to_pylist()[row]
            at = 0
            for c in (c for c in value or "" if c.isalnum()):
                assert c in letters[at:], (cell, part, value)
                at = letters.index(c, at) + 1
        assert whole[row] or all(parts[p].to_pylist()[row] is None for p in PARTS)


OLD = pd.DataFrame(
    [
        ["A-1", "Harrow Repairs", "12 Mill Street", "Birchmere", "TX", "75272"],
        ["A-2", "Harrow Repairs", "7 Oak Road", "Rookwood", "OH", "43004"],
        ["A-3", "Lind Brass Band", "3 Elm Lane", "Yarrow", "OR", "97001"],
        *([f"F-{i}", f"Filler{i} Works", f"{i} Low Road", "Otter Point", "OR", "97444"] for i in range(12)),
    ],
    columns=["id", "name", "street", "city", "state", "postal_code"],
)
CELLS = ["12 Mill St, Birchmere, TX 75272", "9 High Street, Pinecrest, WA 98001", "3 Elm Ln, Yarrow, OR 97001", "near the church"]


def _list(tmp_path):
    rows = pd.DataFrame({"Workshop": ["Harrow Repairs", "Harrow Repairs", "Lind Brass Band", "Wren Horns"], "Address": CELLS})
    rows.to_csv(tmp_path / "list.csv", index=False)
    OLD.to_csv(tmp_path / "old.csv", index=False)
    return brujula.plan(tmp_path / "list.csv", against=tmp_path / "old.csv", entity="account")


def test_one_cell_is_matched_as_columns_are(tmp_path):
    """The firm at its street and town is found; the same name in another town is another account."""
    plan = _list(tmp_path)
    assert plan.outcomes["record_id"].tolist() == ["A-1", "", "A-3", ""], plan.outcomes["reason"].tolist()
    apart = OLD.assign(address=OLD["street"] + ", " + OLD["city"] + ", " + OLD["state"] + " " + OLD["postal_code"])
    again = brujula.plan(tmp_path / "list.csv", against=apart[["id", "name", "address"]], entity="account")
    assert again.outcomes["record_id"].tolist() == ["A-1", "", "A-3", ""], again.outcomes["reason"].tolist()


def test_new_records_get_the_parts(tmp_path):
    """What is made anew has street, town, region and code in their fields; a cell that is no address stays whole; the list goes back as it came."""
    plan = _list(tmp_path)
    plan.write(tmp_path / "plan")
    made = read_list(tmp_path / "plan" / "create.csv").table.to_pandas()
    assert made["street"].tolist() == ["9 High Street", "near the church"]
    assert made["city"].tolist() == ["Pinecrest", ""]
    assert made["region"].tolist() == ["WA", ""]
    assert 'column "Address" taken apart into street, city, region, postal_code' in plan.listed.raw.notes
    assert read_list(tmp_path / "plan" / "incoming_with_ids.csv").table.column("Address").to_pylist() == CELLS


def test_a_store_keeps_its_cells(tmp_path):
    """Records that hold a whole address in their street are compared by its parts, and not rewritten."""
    whole = OLD.assign(street=OLD["street"] + ", " + OLD["city"] + ", " + OLD["state"] + " " + OLD["postal_code"])
    store = f"sqlite:///{tmp_path}/crm.db"
    policy = tmp_path / "p.toml"
    policy.write_text('entity = "account"\n[columns]\nstreet = "street"\n')
    whole[["id", "name", "street"]].assign(city="").to_csv(tmp_path / "whole.csv", index=False)
    load(tmp_path / "whole.csv", into=store)
    rows = pd.DataFrame(
        [["Harrow Repairs", "12 Mill St", "Birchmere", "TX", "75272"]], columns=["name", "street", "city", "state", "postal_code"]
    )
    plan = brujula.plan(rows, against=store, entity="account")
    assert plan.outcomes["record_id"].tolist() == ["A-1"], plan.explain(1)
    assert "street" not in plan.changes["field"].tolist()


def test_mostly_streets_stay_streets():
    """A column in which few cells hold a whole address is a column of streets; those few are compared by their parts all the same."""
    rows = pd.DataFrame({"name": ["Harrow Repairs", "Alder Horns", "Birch Horns", "Cedar Horns", "Elm Horns"],
                         "address": [CELLS[0], "1 Low Rd", "2 Low Rd", "3 Low Rd", "4 Low Rd"]})  # fmt: skip
    plan = brujula.plan(rows, against=OLD, entity="account")
    assert set(plan.listed.values) == {"name", "street"}
    assert plan.outcomes["record_id"].tolist()[0] == "A-1", plan.explain(1)


@settings(max_examples=10)
@given(
    st.lists(
        st.sampled_from(
            [x[0] for x in LAYOUTS]
            + ONLY_STREETS
            + ["Los Angeles, CA", "Hawthorn House, Orme 27888, Mexico", "3 rue Haute, F-75011 Orme"]
        ),
        min_size=5,
        max_size=12,
    ),
    st.booleans(),
)
def test_taking_apart_loses_nothing(cells, with_country):
    """Every letter and digit of a cell stands in one of its fields, whether it was taken apart or left whole, and whether or not there is a column for the country."""
    table = {"Name": [f"Firm {i}" for i in range(len(cells))], "Address": cells}
    if with_country:
        table["Country"] = ["Peru"] * len(cells)
    listed = brujula.plan(pd.DataFrame(table), against=OLD, entity="account").listed
    columns = [f for f in PARTS if f in listed.values]
    for row, cell in enumerate(cells):
        held = "".join(text for f in columns if (text := listed.values[f].to_pylist()[row] or "") != "Peru")
        held, said = (re.sub(r"(?i)<br */?>|_x000d_|\\n", "", text) for text in (held, cell))
        assert sorted(c for c in held if c.isalnum()) == sorted(c for c in said if c.isalnum()), (cell, columns)


LINES = [  # lines of an address, and a code in a column of its own; street, city, region
    (["62 Heather Drive", "Coxland", "Kent", "", ""], "CT1 2AB", "62 Heather Drive", "Coxland", "Kent"),
    (["Flat 3", "9 Mill Lane", "Alder Green", "Northam", "West Sussex"], "RH12 1AB", "Flat 3, 9 Mill Lane, Alder Green", "Northam", "West Sussex"),
    (["7 Oak Road", "Northam", "", "", ""], "RH12 1AD", "7 Oak Road", "Northam", ""),
    (["The Old Rectory", "4 Church Walk", "Coxland", "", ""], "CT1 2AD", "The Old Rectory, 4 Church Walk", "Coxland", ""),
    (["Hawthorn House", "", "", "", ""], "CT1 2AE", "Hawthorn House", "", ""),
    (["11 Station Road", "", "", "", ""], "", "11 Station Road", "", ""),
]  # fmt: skip


@pytest.mark.parametrize(
    "headings",
    [["Address 1", "Address 2", "Address 3", "Address 4", "Address 5"], ["Adr", *(f"ADR{i}" for i in range(2, 6))], ["Address"]],
)
def test_a_town_in_any_line(headings):
    """Numbered lines, or one cell, beside a postal code: the town is the last of them in one row and the line before it in the next; a house alone is no town."""
    cells = [lines if len(headings) > 1 else [", ".join(filter(None, lines))] for lines, *_ in LINES]
    table = {"Surname": ["Quist"] * len(LINES)} | dict(zip(headings, zip(*cells, strict=True), strict=True))
    listed = brujula.plan(
        pd.DataFrame(table | {"Postcode": [code for _, code, *_ in LINES]}),
        against=OLD.assign(family_name="Wren"),
        entity="contact",
    ).listed
    found = zip(*(listed.values[f].to_pylist() for f in ("postal_code", "street", "city", "region")), strict=True)
    assert [*found] == [tuple(told) for _, *told in LINES]
    assert not listed.left_out


def test_numbered_columns_of_anything_are_no_lines():
    """Field 1 to 5 hold what they hold: a remark is no town."""
    cells = ["Spring term", "12 Mill Street", "Orme", "Clarinet on loan", "TX 75272"]
    table = {"Surname": ["Quist"] * 5} | {f"Field {i + 1}": [cell] * 5 for i, cell in enumerate(cells)}
    listed = brujula.plan(pd.DataFrame(table), against=OLD.assign(family_name="Wren"), entity="contact").listed
    assert "Clarinet on loan" not in {v.to_pylist()[0] for v in listed.values.values()}
    assert listed.values["street"].to_pylist()[0] == "12 Mill Street"


def test_lines_that_begin_with_the_name():
    """Bill to 1 to 4: who it is, the contact in some, street and town in the lines that are left."""
    rows = [
        ["Harrow Reeds LLC", "Ada Quist", "12 Mill Street", "Orme, TX 75272"],
        ["Lind Horns Inc", "9 High Street", "Orme, OR 97201", ""],
    ] * 3
    table = {"Customer": [r[0] for r in rows], "Main Contact": ["Ada Quist", "Bo Lind"] * 3} | {
        f"Bill to {i + 1}": [r[i] for r in rows] for i in range(4)
    }
    values = brujula.plan(pd.DataFrame(table), against=OLD.assign(family_name="Wren"), entity="contact").listed.values
    found = [values[f].to_pylist()[:2] for f in ("account", "full_name", "street", "city", "region", "postal_code")]
    assert [*zip(*found, strict=True)] == [
        ("Harrow Reeds LLC", "Ada Quist", "12 Mill Street", "Orme", "TX", "75272"),
        ("Lind Horns Inc", "Bo Lind", "9 High Street", "Orme", "OR", "97201"),
    ]


def test_towns_that_records_name_are_known():
    """A street and a town, a town and a code, a town alone: read where the records name the town, and a misspelled one among such cells."""
    cells = {
        "9 High Street, Pinecrest": ("9 High Street", "Pinecrest", ""),
        "Pinecrest 75272": ("", "Pinecrest", "75272"),
        "Pinecrest": ("", "Pinecrest", ""),
        "70/443, Low Lane, Pinecrest 752728": ("70/443, Low Lane", "Pinecrest", "752728"),
        "9 High Street, 03538356 Pinecrest": ("9 High Street", "Pinecrest", "03538356"),
        "8 High Street, Pinecrset": ("8 High Street", "Pinecrset", ""),
        "Quorl Voskheim": ("Quorl Voskheim", "", ""),
        "P.O. Box 75272": ("P.O. Box 75272", "", ""),
        "8 High Street, Building B": ("8 High Street, Building B", "", ""),
    }
    rows = pd.DataFrame({"Name": [f"Firm {i}" for i in range(len(cells))], "Address": [*cells]})
    old = pd.DataFrame({"id": ["A-1"], "name": ["Wren Horns"], "city": ["Pinecrest"]})
    found = brujula.plan(rows, against=old, entity="account").listed.values
    assert [*zip(*(found[f].to_pylist() for f in ("street", "city", "postal_code")), strict=True)] == [*cells.values()]
