"""Further numbers and addresses, in columns or cells: compared with the other side's, and only where they are the person's own."""

import pandas as pd
import pytest

import brujula
from tests.test_default_rules import _others

HEADINGS = {
    "Work phone": True,
    "Business Tel.": True,
    "Telefon dienstlich": True,
    "Emergency phone": False,
    "Mother's phone": False,
    "Fax": False,
    "Reference": False,
}


@pytest.mark.parametrize("heading", HEADINGS)
@pytest.mark.parametrize("side", ["records", "rows"])
def test_a_third_number(heading, side):
    """Somebody whose number stands in a third column of either list is found by it."""
    many = [[x["first_name"], x["last_name"], x["phone"], "", f"646-555-{i:04}"] for i, x in enumerate(_others("contact"))]
    heads = ["First name", "Last name", "Phone", "Mobile", heading]
    wide = pd.DataFrame([["Ada", "Lindhorn", "212-555-0147", "212-555-0111", "305-555-0190"], *many], columns=heads)
    narrow = pd.DataFrame([["Ada", "Lindhorn", "(305) 555-0190"], *(row[:3] for row in many)], columns=heads[:3])
    old, new = (wide, narrow) if side == "records" else (narrow, wide)
    plan = brujula.plan(new, against=old.assign(id=[f"C-{i}" for i in range(len(old))]), entity="contact")
    note = f'column "{heading}" is no field, and is compared as another number'
    assert (note in (plan.existing if side == "records" else plan.incoming).notes) == HEADINGS[heading]
    found = plan.outcomes["outcome"][0] in {"update", "unchanged"}
    assert found == HEADINGS[heading], plan.explain(1)
    assert "305-555-0190" not in plan.changes["after"].tolist()


@pytest.mark.parametrize("order", [[0, 1], [1, 0]])
def test_alike_but_for_a_third_number_is_not_the_same(order):
    """Two rows of one name and one switchboard are not word for word the same, and the record that has their own number is named first, in any order."""
    others = [[x["first_name"], x["last_name"], x["phone"]] for x in _others("contact")]
    two = [["Ada", "Lindhorn", "305-555-0190"], ["Ada", "Lindhorn", "646-555-0133"]]
    old = pd.DataFrame([*two, *others], columns=["First name", "Last name", "Phone"])
    rows = [["Ada", "Lindhorn", "212-555-0100", "", "305-555-0190"], ["Ada", "Lindhorn", "212-555-0100", "", "646-555-0133"]]
    new = pd.DataFrame([rows[i] for i in order], columns=[*old.columns, "Mobile", "Work phone"])
    plan = brujula.plan(new, against=old.assign(id=[f"C-{i}" for i in range(len(old))]), entity="contact")
    assert [ids.split(";")[0] for ids in plan.outcomes["record_id"]] == [f"C-{i}" for i in order], plan.explain(1)
    assert "the very same" not in plan.pairs["rule"].tolist()


NUMBERS = "305-555-0199 (home) 212-555-0147 (work)"
SECONDS = {
    "address": (
        "contact",
        {"given_name": "A.", "family_name": "Lindhorn", "email": "ada@reed.example"},
        {"given_name": "Ada", "family_name": "Lindhorn", "email": "quist@post.example; Ada <ada@reed.example>"},
    ),
    "number": (
        "contact",
        {"given_name": "A.", "family_name": "Lindhorn", "phone": "212-555-0147"},
        {"given_name": "Ada", "family_name": "Lindhorn", "phone": NUMBERS},
    ),
    "number of a firm": (
        "account",
        {"name": "Lindhorn Reeds", "phone": "212-555-0147", "city": "Birchmere"},
        {"name": "Lindhorn Reed Works", "phone": NUMBERS, "city": "Birchmere"},
    ),
}


@pytest.mark.parametrize("what", SECONDS)
@pytest.mark.parametrize("side", ["records", "rows", "a question"])
def test_the_second_of_a_cell(what, side):
    """Who gives two numbers or addresses in one cell of either list is found by the second, too."""
    entity, one, two = SECONDS[what]
    old, new = (one, two) if side == "rows" else (two, one)
    others = pd.DataFrame(_others(entity)).rename(columns={"first_name": "given_name", "last_name": "family_name"})
    held = pd.concat([pd.DataFrame([old]), others[[*old]]], ignore_index=True).assign(id=[f"X-{i}" for i in range(101)])
    if side == "a question":
        found = brujula.Lookup(held, entity).check(new)
        assert (found.answer, found.record_ids) == ("yes", ("X-0",)), found
    else:
        plan = brujula.plan(pd.DataFrame([new]), against=held, entity=entity)
        assert plan.outcomes["record_id"][0] == "X-0" and plan.outcomes["outcome"][0] in {"update", "unchanged"}, plan.explain(1)
