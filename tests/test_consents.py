"""Who may be written to: columns of agreement are opt-outs the other way round, and of several the strictest counts."""

from __future__ import annotations

import pandas as pd
import pytest
from hypothesis import given, strategies as st

import brujula
from brujula.intake.consents import CALL, MAIL, said
from brujula.intake.read import read_list
from brujula.policy.starting import starting_policy
from brujula.stores import open_database

PEOPLE = {
    "First name": ["Ada", "Bo", "Cy"],
    "Surname": ["Quist", "Lind", "Wren"],
    "E-mail": ["ada@q.example", "bo@l.example", "cy@w.example"],
}


def opted(columns, policy=None):
    """What each of three new people is recorded with, as (mail, call)."""
    plan = brujula.plan(pd.DataFrame(PEOPLE | columns), against=pd.DataFrame({"id": ["1"], "last_name": ["Orme"]}), policy=policy)
    made = (
        plan.changes.pivot(index="from", columns="field", values="after").fillna("").reindex(columns=[MAIL, CALL], fill_value="")
    )
    return [tuple(x) for x in made.sort_index().to_numpy()]


@pytest.mark.parametrize(
    ("heading", "fields", "agreed"),
    [
        ("Newsletter (yes/no)", (MAIL,), True),
        ("May we call you?", (CALL,), True),
        ("EmailOptIn", (MAIL,), True),
        ("Einwilligung", (MAIL, CALL), True),
        ("Consent withdrawn: phone", (CALL,), False),
        ("keine E-Mail", (MAIL,), False),
        ("Newsletter abbestellt", (MAIL,), False),
        ("Do Not Contact", (MAIL, CALL), False),
        ("No SMS", (CALL,), False),
    ],
)
def test_a_heading_says_of_what_and_which_way(heading, fields, agreed):
    """The channels a heading names, and whether a yes under it agrees."""
    assert said(heading) == (fields, agreed)


@pytest.mark.parametrize(
    "heading",
    [
        "Contact name",
        "Phone",
        "E-mail",
        "No",
        "Status",
        "Accepted",
        "Text",
        "House no",
        "Subscription",
        "Inscrito",
        "Photo consent",
        "Parental consent",
    ],
)
def test_other_headings_say_nothing_of_consent(heading):
    """What is no column of consent is none, whatever word of one it has."""
    assert said(heading) is None or not said(heading).agreed


def test_a_no_under_newsletter_is_an_opt_out():
    """All but a clear yes is one; a blank says nothing."""
    assert opted({"Newsletter": ["no", "yes", ""]}) == [("yes", ""), ("no", ""), ("", "")]


def test_the_day_of_an_opt_out_is_one():
    """A column of when somebody unsubscribed says who did; a number under a like heading says nothing."""
    assert opted({"Unsubscribed": ["2023-05-01", "", "2024-01-31"]} | {"N° contact": ["C-17", "C-18", "C-19"]}) == [
        ("2023-05-01", ""),
        ("", ""),
        ("2024-01-31", ""),
    ]


def test_answers_that_are_none_are_no_consent():
    """A column of newsletters' names is not one of yes and no."""
    assert opted({"Newsletter": ["Brass weekly", "Reeds", ""]}) == [("", "")] * 3


ANSWERS = st.lists(st.sampled_from(["yes", "no", ""]), min_size=3, max_size=3)


@given(st.permutations([("Do not email", ANSWERS), ("Newsletter", ANSWERS), ("Email opt out", ANSWERS)]), st.data())
def test_of_several_columns_the_strictest_counts(order, data):
    """Whatever their order, one refusal is enough."""
    columns = {name: data.draw(answers, name) for name, answers in order}
    refused = [
        columns["Do not email"][i] == "yes" or columns["Newsletter"][i] == "no" or columns["Email opt out"][i] == "yes"
        for i in range(3)
    ]
    assert [mail == "yes" for mail, _ in opted(columns)] == refused


def test_a_starting_policy_says_the_same_of_consent(tmp_path):
    """A policy that names the columns neither turns them round once more nor leaves one of them out."""
    columns = {"Newsletter": ["yes", "yes", "no"], "keine E-Mail": ["", "x", ""]}
    pd.DataFrame(PEOPLE | columns).to_csv(tmp_path / "list.csv", index=False)
    (tmp_path / "policy.toml").write_text(starting_policy(read_list(tmp_path / "list.csv")), "utf-8")
    assert opted(columns, brujula.Policy.read(tmp_path / "policy.toml")) == opted(columns) == [("no", ""), ("x", ""), ("yes", "")]


HELD = pd.DataFrame(
    {
        "id": ["1", "2", "3"],
        "First name": ["Ada", "Bo", "Cy"],
        "Surname": ["Quist", "Lind", "Wren"],
        "E-mail": ["ada@q.example", "bo@l.example", "cy@w.example"],
        "Newsletter": ["yes", "no", ""],
    }
)


def test_a_store_filled_from_a_list_knows_who_said_no(tmp_path):
    """Records loaded as they stand bring their opt-outs with them, not the other way round."""
    HELD.to_csv(tmp_path / "crm.csv", index=False)
    brujula.load(tmp_path / "crm.csv", into=f"sqlite:///{tmp_path}/crm.db")
    with open_database(f"sqlite:///{tmp_path}/crm.db") as store:
        assert [r["email_opt_out"] for r in store.read("contact").sort_by("id").to_pylist()] == ["no", "yes", ""]


def test_a_load_into_a_file_leaves_the_column_of_who_agreed_as_it_stands(tmp_path):
    """The opt-outs get a column of their own; read again, both say the same."""
    HELD.to_csv(tmp_path / "crm.csv", index=False)
    pd.DataFrame(PEOPLE | {"Opt-out": ["yes", "", ""]}).to_csv(tmp_path / "list.csv", index=False)
    brujula.plan(str(tmp_path / "list.csv"), against=str(tmp_path / "crm.csv")).write(tmp_path / "plan")
    brujula.load(tmp_path / "plan", into=str(tmp_path / "new.csv"))
    made = pd.read_csv(tmp_path / "new.csv", dtype=str, keep_default_na=False)
    assert made["Newsletter"].tolist() == ["yes", "no", ""]
    assert made["email_opt_out"].tolist() == ["yes", "yes", ""]
    again = brujula.plan(str(tmp_path / "list.csv"), against=str(tmp_path / "new.csv"))
    assert set(again.outcomes["outcome"]) == {"unchanged"}
