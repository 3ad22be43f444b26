"""A person's own page on a network: the one thing that stays through a new name, a new job and a new mailbox."""

import pandas as pd
import pyarrow as pa
import pytest

import brujula
from brujula.intake.mapping import suggest
from tests.test_two_mailboxes import _others

HEADS = ["id", "first_name", "last_name", "email", "company", "profile"]
PAGE = "https://www.reeds.example/in/"
ADA = ["C-1", "Ada", "Quist", "ada@harrow.example", "Harrow School", f"{PAGE}ada-quist-4b"]


def _planned(row, columns=("Given name", "Surname", "Employer", "Profile URL"), record=ADA):
    others = [[*o[:4], "", f"{PAGE}reed-{n}"] for n, o in enumerate(_others())]
    old = pd.DataFrame([record, *others], columns=HEADS)
    return brujula.plan(pd.DataFrame([row], columns=columns), against=old, entity="contact")


CASES = {
    "another firm": (["Ada", "Quist", "Lind Brass Band", "reeds.example/in/Ada-Quist-4b/"], {"update", "unchanged"}),
    "married, at another firm": (["Ada", "Lind", "Lind Brass Band", "ada-quist-4b"], {"update", "unchanged"}),
    "the next number": (["Ada", "Quist", "Lind Brass Band", "reeds.example/in/ada-quist-4c"], {"create"}),
    "another network": (["Ada", "Quist", "Lind Brass Band", "brass.example/ada-quist-4b"], {"create"}),
    "another given name": (["Max", "Quist", "Lind Brass Band", "reeds.example/in/ada-quist-4b"], {"review"}),
    "nobody": (["", "", "", "reeds.example/in/ada-quist-4b"], {"review"}),
}


@pytest.mark.parametrize("case", CASES)
def test_a_page_is_one_persons(case):
    """It finds whoever has it under another name or at another firm; another page, or another given name, finds nobody by itself."""
    row, wanted = CASES[case]
    plan = _planned(row)
    assert plan.outcomes["outcome"][0] in wanted, plan.explain(1)
    assert plan.outcomes["record_id"][0] == ("" if wanted == {"create"} else "C-1")


def test_a_firms_page_finds_nobody():
    """What is a firm's on the network is not one person's, and neither is a page that three people give."""
    firm = f"{PAGE}harrow".replace("/in/", "/company/")
    assert _planned(["Ada", "Quist", "Lind Band", firm], record=[*ADA[:5], firm]).outcomes["outcome"].tolist() == ["create"]
    shared = [
        [f"C-{n}", given, family, "", "", f"{PAGE}team"]
        for n, (given, family) in enumerate([("Bo", "Orme"), ("Eva", "Wren"), ("Ada", "Quist")])
    ]
    old = pd.DataFrame([*shared, *([*o[:4], "", ""] for o in _others())], columns=HEADS)
    new = pd.DataFrame([["Ada", "Lind", f"{PAGE}team"]], columns=["Given name", "Surname", "Profile URL"])
    assert brujula.plan(new, against=old, entity="contact").outcomes["outcome"].tolist() == ["create"]


@pytest.mark.parametrize(
    ("heading", "value", "field"),
    [
        ("LinkedIn URL", "https://www.reeds.example/in/{}", "profile"),
        ("linkedin_profile", "{}", "profile"),
        ("Web", "reeds.example/in/{}", "profile"),
        ("Profile", "Gold", ""),
        ("Profile", "plays the clarinet, {}", ""),
        ("Web", "www.{}.example", "website"),
        ("Web", "www.{}.example/about", "website"),
    ],
)
def test_a_column_of_pages_is_told(heading, value, field):
    """By its heading, or under one of websites by its values: pages of one site, each there once."""
    table = pd.DataFrame(
        [[*o[1:3], value.format(f"{o[1]}-{o[2]}".lower())] for o in _others()], columns=["First name", "Last name", heading]
    )
    assert suggest(pa.Table.from_pandas(table), "contact")[2].field == field
