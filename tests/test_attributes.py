"""Columns that both lists have and no field takes: evidence as far as the lists show it, and never beyond."""

import pandas as pd
import pytest

import brujula
from brujula.demo import maker

FOUND = {"update", "unchanged"}
HEADS = ["First name", "Last name", "E-mail", "Town", "State", "Birth place"]
STATES = "OR WA ID MT NV UT AZ NM CO WY".split()
MANY = range(240)


def _name(i):
    return maker.GIVEN[i % len(maker.GIVEN)], maker.FAMILY[(7 * i + i // 40) % len(maker.FAMILY)]


def _people(birth, town=lambda i: f"Wren{chr(97 + i % 20)}ton"):
    return [(*_name(i), f"p{i}@post.example", town(i), STATES[i % 10], birth(i)) for i in MANY]


def _elsewhere(i):
    return f"Lind{chr(97 + i * 11 % 26)}{chr(97 + i * 5 % 4)}ham"


def _plan(row, people=None, again=None, record=("Adelheid", "Wrenfield", "a@post.example", "", "OR", "Norvale"), heads=HEADS):
    """One record and one row among people whom both lists have with their mailboxes."""
    people = people or _people(_elsewhere)
    old = pd.DataFrame([record, *people], columns=HEADS)
    old.insert(0, "id", [f"C-{i}" for i in range(len(old))])
    return brujula.plan(pd.DataFrame([row, *(again or people)], columns=heads), against=old, entity="contact")


ROW = ("Adelheid", "Wrenfield", "", "", "OR", "Norvale")


def test_one_value_of_both_is_evidence():
    """A name and a birth place that few share are enough, and the reason names the column; without it a name alone is held."""
    plan = _plan(ROW)
    assert plan.outcomes["outcome"][0] in FOUND
    assert "another column (birth place)" in plan.explain(1)
    assert 'column "Birth place" is no field, and is compared as it stands' in plan.incoming.notes
    assert _plan((*ROW[:5], "")).outcomes["outcome"][0] == "review"


def test_under_another_heading():
    """The values tell that two headings are one column."""
    assert _plan(ROW, heads=[*HEADS[:-1], "Where born"]).outcomes["outcome"][0] in FOUND


CASES = {
    "it follows from the town": (_people(lambda i: f"Orme{chr(97 + i % 20)}shire"), None),
    "it follows from the state, of towns that few share": (
        [(*_name(i), f"p{i}@post.example", f"Wren{i}ton", STATES[i % 10], f"Lind{STATES[i % 10].lower()}ham") for i in MANY],
        None,
    ),
    "it is common": (_people(lambda i: ["Norvale", "Lindham"][i % 2]), None),
    "the lists do not agree in it": (_people(_elsewhere), _people(lambda i: _elsewhere(i + 1))),
    "it is made of the name": (_people(lambda i: "-".join(_name(i)).lower()), None),
    "it follows from the given name": (_people(lambda i: f"like all {_name(i)[0]}s"), None),
}


@pytest.mark.parametrize("case", CASES)
def test_what_is_no_evidence(case):
    """What says once more what is compared anyway, what many share, and what lists do not agree in."""
    people, again = CASES[case]
    plan = _plan(ROW, people, again)
    assert plan.outcomes["outcome"][0] == "review", plan.explain(1)
    assert "another column" not in plan.explain(1)


def test_it_never_speaks_against():
    """Another birth place is as if there were none: the pair has the same bits."""
    plans = [_plan(("Adelheid", "Wrenfield", "a@post.example", "", "OR", place)) for place in ("Lindanham", "", "Norvale")]
    other, none, one = (p.pairs.set_index(["left", "right"])["bits"][("row 1", "C-0")] for p in plans)
    assert other == none < one


def test_names_must_agree():
    """A name that is only like the other gains nothing by it: sisters are born in one place."""
    plan = _plan(("Adelheit", "Wrenfield", "", "", "OR", "Norvale"))
    assert "another column" not in plan.explain(1)


def test_a_base_by_itself():
    """Swept for duplicates, a base shows it by those that it has twice."""
    twice = _people(_elsewhere)[:40]
    both = [ROW, (*ROW[:2], "a@post.example", *ROW[3:])]
    old = pd.DataFrame([*_people(_elsewhere), *twice, *both], columns=HEADS)
    old.insert(0, "id", [f"C-{i}" for i in range(len(old))])
    found = brujula.sweep(old, entity="contact").groups
    assert {f"C-{len(old) - 2}", f"C-{len(old) - 1}"} <= set(found["record_id"][found["verdict"] == "same"])
