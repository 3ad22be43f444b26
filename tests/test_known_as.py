"""Another name of a firm, in a column that no field takes: compared with the other side's name, and written nowhere."""

import pandas as pd
import pytest

import brujula
from tests.test_default_rules import _others

FOUND, NOT_FOUND = {"update", "unchanged"}, {"review", "create"}
HERE, THERE = ("12 Mill Street", "Birchmere"), ("7 Oak Road", "Rookwood")


def _plan(records, rows, heads=("Legal name", "AKA")):
    """Records and rows of a name, a place and another name, among firms like nobody."""
    others = [(o["name"], o["street"], o["city"], "") for o in _others("account")]
    old = pd.DataFrame([*records, *others], columns=["name", "street", "city", heads[0]])
    old.insert(0, "id", [f"A-{i}" for i in range(len(old))])
    return brujula.plan(pd.DataFrame(rows, columns=["Company", "Street", "City", heads[1]]), against=old, entity="account")


CASES = {
    "the record's": (("The Red Fiddle", *HERE, "Harrow Violins LLC"), ("Harrow Violins", *HERE, ""), FOUND),
    "the row's": (("Harrow Violins LLC", *HERE, ""), ("The Red Fiddle", *HERE, "Harrow Violins"), FOUND),
    "elsewhere": (("The Red Fiddle", *HERE, "Harrow Violins LLC"), ("Harrow Violins", *THERE, ""), {"create"}),
    "two shops of one owner": (("The Red Fiddle", *HERE, "Harrow LLC"), ("The Blue Drum", *HERE, "Harrow LLC"), NOT_FOUND),
    "none": (("The Red Fiddle", *HERE, ""), ("Harrow Violins", *HERE, "n/a"), NOT_FOUND),
}


@pytest.mark.parametrize("case", CASES)
def test_another_name_is_a_name(case):
    """It is compared with the name the other side has, not with the other side's other name."""
    record, row, wanted = CASES[case]
    plan = _plan([record], [row])
    assert plan.outcomes["outcome"][0] in wanted, plan.explain(1)
    assert "Harrow LLC" not in plan.changes["after"].tolist()


def test_an_owners_name_joins_no_shops():
    """Where a list has several shops of one owner, his name says of none which it is."""
    shops = [("The Red Fiddle", *HERE, "Harrow LLC"), ("The Blue Drum", *HERE, "Harrow LLC")]
    plan = _plan([("Harrow LLC", *HERE, "")], shops)
    assert not FOUND & set(plan.outcomes["outcome"]), plan.explain(1)


def test_it_is_told():
    """The plan says which column it took for another name."""
    plan = _plan([], [("The Red Fiddle", *HERE, "Harrow Violins LLC")], ("notes", "Trading name"))
    assert 'column "Trading name" is no field, and is compared as another name' in plan.incoming.notes
