"""Further phone columns: compared with the other side's numbers, written nowhere, and only where they are the person's own."""

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
