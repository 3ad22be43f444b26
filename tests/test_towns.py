"""Towns that two lists give for one another, a suburb and its city: learnt from who is at one door, and never where one list has both."""

import pandas as pd
import pytest

import brujula

FOUND, HELD = {"update", "unchanged"}, {"review"}
FIRMS = [
    f"{name} {line}"
    for line in ("Horns", "Violins", "Reeds")
    for name in ("Lindholm", "Quisthelm", "Alderby", "Wrenford", "Harkstead")
]
CITY, SUBURB = "Birchmere", "Lindhain"


def _frame(rows):
    return pd.DataFrame(rows, columns=["name", "street", "city", "phone"])


def _lists(asked, suburb_of, twins=0):
    """Fifteen firms of one city, as another list has them, which calls some of their towns by other names; the row asked about comes last.

    twins : so many of the firms have a second door of the same street and number, in the suburb, on record
    """
    held = [(f, f"{12 + i} Mill Street", CITY, f"212-555-{100 + i:04}") for i, f in enumerate(FIRMS)]
    rows = [(f, street, suburb_of(i) or town, "") for i, (f, street, town, _) in enumerate(held)]
    held += [(f, street, suburb_of(i), f"305-555-{100 + i:04}") for i, (f, street, _, _) in enumerate(held[:twins])]
    held += [
        ("Orme Brass", "90 Elm Lane", CITY, "212-555-0190"),
        *((f"Far {n} Band", f"{n} Low Road", "Orme", "") for n in range(40)),
    ]
    old = _frame(held)
    old.insert(0, "id", [f"A-{i}" for i in range(len(old))])
    return old, _frame([*rows, asked])


BESIDE = {
    "one street": (("Orme Brass", "90 Elm Lane", "Lindhain", ""), FOUND),
    "another number, one phone": (("Orme Brass", "92 Elm Lane", "Lindhain", "212-555-0190"), FOUND),
    "another street, one phone": (("Orme Brass", "7 Oak Road", "Lindhain", "212-555-0190"), HELD),
    "another town, another street": (("Orme Brass", "7 Oak Road", "Orme", "212-555-0190"), {"create"}),
}


@pytest.mark.parametrize("case", BESIDE)
def test_a_suburb_the_lists_show(case):
    """Three firms the lists have at one door, in the city and in its suburb, show that one may stand for the other."""
    asked, outcome = BESIDE[case]
    old, new = _lists(asked, lambda i: SUBURB if i < 3 else "")
    plan = brujula.plan(new, against=old, entity="account")
    assert plan.outcomes["outcome"].iloc[-1] in outcome, plan.explain(len(new))


@pytest.mark.parametrize(("renamed", "outcome"), [(7, FOUND), (1, HELD)])
def test_towns_called_otherwise_here_and_there(renamed, outcome):
    """Where many firms at one door are in two towns, whichever they are, a street and number are enough; where one is, they are not."""
    old, new = _lists(("Orme Brass", "90 Elm Lane", "Orme", ""), lambda i: f"Town{'abcdefg'[i]}by" if i < renamed else "")
    plan = brujula.plan(new, against=old, entity="account")
    assert plan.outcomes["outcome"].iloc[-1] in outcome, plan.explain(len(new))


def test_branches_at_like_doors_show_no_suburb():
    """A list that has firms in both towns at one street and number means two places by them."""
    asked, _ = BESIDE["one street"]
    old, new = _lists(asked, lambda i: SUBURB if i < 3 else "", twins=3)
    plan = brujula.plan(new, against=old, entity="account")
    assert plan.outcomes["outcome"].iloc[-1] in HELD, plan.explain(len(new))
