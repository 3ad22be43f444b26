"""Cells with a whole block in them, as it stands on a label or under a letter."""

import pandas as pd
import pyarrow as pa
import pytest

import brujula
from brujula.intake.blocks import apart
from tests.test_default_rules import _words

GIVEN = """Robert Maria John Anna Peter Laura Paul Julia Frank Helen Thomas Susan Daniel Karen George Nancy Edward Carol Henry Alice Walter Diana
Samuel Rachel""".split()
PEOPLE = [
    (f"{GIVEN[i]} {w}", f"{w} Horns", f"{i + 3} {w} Road", f"Orme, TX 750{i:02}", f"{w.lower()}@post.example")
    for i, w in enumerate(_words(24, 5))
]
ADDRESSES = ["street", "city", "region", "postal_code"]


def _records(entity):
    rows = [[f"X-{i}", p[0] if entity == "contact" else p[1], p[2], "Orme", "TX", p[3][-5:]] for i, p in enumerate(PEOPLE)]
    return pd.DataFrame(rows, columns=["id", "full_name" if entity == "contact" else "name", *ADDRESSES])


def _values(cells):
    values, _, notes = apart(pa.table({"Label": pa.chunked_array([cells], pa.large_string())}), {}, {}, "contact")
    return {f: v.to_pylist() for f, v in values.items()}, notes


@pytest.mark.parametrize("between", ["\n", "\r\n", ", ", " | ", "<br>", "\\n", " / ", " - "])
@pytest.mark.parametrize("entity", ["contact", "account"])
def test_labels_find_their_records(entity, between):
    """A list of labels and nothing else goes to the records as one with a column for each part would."""
    who = 0 if entity == "contact" else 1
    plan = brujula.plan(
        pd.DataFrame({"Label": [between.join((p[who], p[2], p[3])) for p in PEOPLE]}), against=_records(entity), entity=entity
    )
    assert plan.outcomes[["outcome", "record_id"]].values.tolist() == [["unchanged", f"X-{i}"] for i in range(len(PEOPLE))]


def test_what_stands_under_a_letter():
    """Name, title, firm, address, number and mailbox, each its field; a row may lack some of them."""
    values, notes = _values(
        ["\n".join((p[0], "Choir Director", p[1], p[2], p[3], f"Tel. 212-555-01{i:02}", p[4])) for i, p in enumerate(PEOPLE)]
        + ["Ada Quistholm\nOrme, TX 75001\nc/o Lind", "", "Bo Lind"]
    )
    assert {f: v[3] for f, v in values.items()} == {
        "full_name": PEOPLE[3][0], "job_title": "Choir Director", "account": PEOPLE[3][1], "street": f"{PEOPLE[3][2]}, {PEOPLE[3][3]}",
        "phone": "Tel. 212-555-0103", "email": PEOPLE[3][4],
    }  # fmt: skip
    assert {f: v[-3:] for f, v in values.items() if f in ("full_name", "account", "street")} == {
        "full_name": ["Ada Quistholm", "", "Bo Lind"], "account": ["", "", ""], "street": ["Orme, TX 75001, c/o Lind", "", ""],
    }  # fmt: skip
    assert notes == ['column "Label" taken apart into full_name, account, job_title, email, phone, street']


def test_nothing_of_a_label_is_lost():
    """Two numbers are two, and a department is a line of the address."""
    cells = [
        "\n".join((p[0], p[1], "Repair Shop", p[2], p[3], f"T 212-555-01{i:02}", f"Mobile 305-555-01{i:02}"))
        for i, p in enumerate(PEOPLE)
    ]
    plan = brujula.plan(pd.DataFrame({"Label": cells}), against=_records("contact"), entity="contact")
    third = {f: v.to_pylist()[3] for f, v in plan.listed.values.items()}
    assert (third["phone"][-12:], third["mobile"][-12:]) == ("212-555-0103", "305-555-0103")
    assert (third["account"], third["street"]) == (PEOPLE[3][1], f"Repair Shop, {PEOPLE[3][2]}")


def test_the_firm_may_stand_first():
    """A firm, and behind it who is meant there."""
    values, _ = _values([f"{p[1]}\n{'Attn: ' * (i % 2)}{p[0]}\n{p[2]}\n{p[3]}" for i, p in enumerate(PEOPLE)])
    assert values["full_name"] == [p[0] for p in PEOPLE] and values["account"] == [p[1] for p in PEOPLE]


@pytest.mark.parametrize("layout", ["{p} ({f})", "{f}: {p}", "{p}, {f}", "{f} - {p}", "{p} at {f}", "{p}\n{f}"])
def test_somebody_and_a_firm_in_one_cell(layout):
    """Whichever comes first; who has no firm is named alone, and a firm alone names nobody."""
    firms = [f"{p[1].split()[0]} School" for p in PEOPLE]
    values, _ = _values([*(layout.format(p=p[0], f=f) for p, f in zip(PEOPLE, firms, strict=True)), "Ada Quist", "Orme School"])
    assert values["full_name"] == [*(p[0] for p in PEOPLE), "Ada Quist", ""]
    assert values["account"] == [*firms, "", "Orme School"]


@pytest.mark.parametrize(
    "cells",
    [
        [f"{p[2]}, {p[3]}" for p in PEOPLE],
        [f"Calle {p[0]}, {i}, 280{i:02} Orme" for i, p in enumerate(PEOPLE)],
        [p[3] for p in PEOPLE],
        [f"{p[0].split()[1]}, {p[0].split()[0]}" for p in PEOPLE],
        [f"{p[0]}, Choir Director" for p in PEOPLE],
        [f"{p[1].split()[0]} School ({'Orme' if i % 2 else 'Yarrow'})" for i, p in enumerate(PEOPLE)],
        [f"rang on 2026-03-{i + 1:02}\nno answer\nagain in May 2026" for i in range(len(PEOPLE))],
    ],
    ids=[
        "addresses",
        "addresses without a number in front",
        "towns",
        "family name first",
        "name and title",
        "school and town",
        "remarks",
    ],
)
def test_what_is_no_block(cells):
    """Addresses alone, names alone and remarks are left as they are."""
    assert _values(cells) == ({}, [])


def test_notes_are_no_blocks():
    """Under their heading whatever they look like."""
    new = pd.DataFrame({"E-mail": [p[4] for p in PEOPLE], "Notes": ["\n".join((p[0], p[2], p[3])) for p in PEOPLE]})
    assert "full_name" not in brujula.plan(new, against=_records("contact"), entity="contact").listed.columns


def test_where_names_have_a_column_nothing_else_is_looked_at():
    """Harrow School before the street is part of the address where the list has names."""
    rows = [[p[0], f"Harrow School\n{p[2]}\n{p[3]}"] for p in PEOPLE]
    plan = brujula.plan(pd.DataFrame(rows, columns=["Name", "Address"]), against=_records("contact"), entity="contact")
    assert plan.listed.values["street"][3].as_py().startswith("Harrow School") and (plan.outcomes["outcome"] != "create").all()


def test_records_kept_as_labels_are_loaded_into_and_read_again(tmp_path):
    """A new record gets columns for its fields, and so do the parts of all labels: the list that was loaded changes nothing then."""
    old = pd.DataFrame({"ID": [f"X-{i}" for i in range(20)], "Address": ["\n".join((p[0], p[2], p[3])) for p in PEOPLE[:20]]})
    old.to_csv(tmp_path / "crm.csv", index=False)
    _records("contact").iloc[10:, 1:].to_csv(tmp_path / "new.csv", index=False)
    for existing, wanted in (("crm.csv", ["create", "unchanged"]), ("out.csv", ["unchanged"])):
        plan = brujula.plan(tmp_path / "new.csv", against=tmp_path / existing, entity="contact")
        assert sorted(set(plan.outcomes["outcome"])) == wanted
        plan.write(tmp_path / existing.split(".")[0])
        if existing == "crm.csv":
            brujula.load(tmp_path / "crm", into=str(tmp_path / "out.csv"))
    kept = pd.read_csv(tmp_path / "out.csv", dtype=str, keep_default_na=False)
    assert kept["Address"].tolist() == [*old["Address"], *[""] * 4]
