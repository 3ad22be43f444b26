"""What else somebody or a firm is called, in a column that no field takes: compared with the other side's name, and written nowhere."""

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


PEOPLE = {
    "what she is called": (("Wilhelmina", "Wrenfield"), ("Nickname", "Pip"), ("Pip", "Wrenfield")),
    "in German": (("Wilhelmina", "Wrenfield"), ("Rufname", "Pip"), ("Pip", "Wrenfield")),
    "her own name": (("Wilhelmina", "Wrenfield"), ("Nickname", "Pip"), ("Wilhelmina", "Wrenfield")),
    "the name she was born with": (("Ada", "Quistholm"), ("Maiden name", "Lindhorn"), ("Ada", "Lindhorn")),
    "in French": (("Ada", "Quistholm"), ("Nom de naissance", "Lindhorn"), ("Ada", "Lindhorn")),
    "none": (("Ada", "Quistholm"), ("Maiden name", ""), ("Ada", "Quistholm")),
}


@pytest.mark.parametrize("case", PEOPLE)
@pytest.mark.parametrize("side", ["records", "rows"])
def test_what_people_are_called(case, side):
    """A short name and a maiden name are compared as if they stood beside the name, on either side, and the name stays what it is."""
    named, (heading, also), other = PEOPLE[case]
    home = ["12 Mill Street", "Birchmere", "212-555-0147"]
    others = [[o["first_name"], o["last_name"], o["street"], o["city"], o["phone"], ""] for o in _others("contact")]
    heads = ["First name", "Last name", "Street", "Town", "Phone", heading]
    both = pd.DataFrame([[*named, *home, also], *others], columns=heads)
    one = pd.DataFrame([[*other, *home]], columns=heads[:-1])
    old, new = (both, one) if side == "records" else (pd.concat([one, both.iloc[1:, :-1]]), both.head(1))
    old = old.assign(id=[f"C-{i}" for i in range(len(old))])
    plan = brujula.plan(new, against=old, entity="contact")
    assert plan.outcomes["outcome"][0] in FOUND, plan.explain(1)
    assert not plan.changes["after"].str.contains('née|"').any()
