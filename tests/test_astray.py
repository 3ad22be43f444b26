"""Lists one column of which was sorted, or moved by a row, apart from the others."""

import json

import pandas as pd
import pytest
from hypothesis import given, settings, strategies as st

import brujula
from brujula.errors import InputError
from brujula.policy.model import Policy
from tests.command import run

GIVEN = "Ana Luis Pedro Rosa Juan Elena".split()
FAMILY = "Prado Lind Quist Wren Alder Birch Moss Voss".split()
PEOPLE = [(g, f) for g in GIVEN for f in FAMILY]
ROWS = pd.DataFrame(
    [
        (g, f, f"{g[0]}.{f}{i}@reeds.example".lower(), f"212-555-{i:04}", f"{i + 3} Mill Street", "Orme")
        for i, (g, f) in enumerate(PEOPLE)
    ],
    columns=["First", "Last", "Mail", "Phone", "Street", "Town"],
)
OLD = ROWS.rename(columns=str.lower).assign(id=[f"C-{i}" for i in range(len(ROWS))])
STRANGERS = pd.DataFrame([("C-X", "Zoe", "Hart")], columns=["id", "first", "last"])


def moved(column, rows=ROWS):
    """The list with one column a row further up."""
    return rows.assign(**{column: [*rows[column][1:], rows[column][0]]})


@pytest.mark.parametrize("column", ["Mail", "Phone", "Street"])
def test_a_column_that_was_moved_is_not_used(column):
    """Nothing of it is written, and it is said with a row and whose the value is; the rows are found by the rest."""
    plan = brujula.plan(moved(column), against=OLD, entity="contact")
    (said,) = plan.listed.set_aside
    assert f'"{column}"' in said and "row 1:" in said and "C-1" in said
    assert set(plan.outcomes["outcome"]) == {"unchanged"}
    assert list(plan.outcomes["record_id"]) == list(OLD["id"])


def test_mailboxes_tell_by_themselves():
    """Where the records know nobody of the list, mailboxes that spell the names of other rows are not used."""
    plan = brujula.plan(moved("Mail"), against=STRANGERS, entity="contact")
    assert "spells the name in row" in plan.listed.set_aside[0]
    assert "email" not in set(plan.changes["field"])


def test_names_that_were_moved_stop_the_plan():
    """Nobody could say who the rows are: the message names file, columns, row and value, and what would be accepted."""
    with pytest.raises(InputError, match=r'^frame: "Mail".*row 1: a.prado0@reeds.example is that of C-0.*"Street".*accepted: '):
        brujula.plan(moved("Last"), against=OLD, entity="contact")
    other = ROWS.assign(Last=[f"{name}er" for name in ROWS["Last"]])
    with pytest.raises(InputError, match=r'^frame: "Last".*row 1: Pradoer beside a.prado0@reeds.example.*C-0.*accepted: '):
        brujula.plan(other, against=OLD, entity="contact")


def test_a_policy_leaves_out_what_went_astray():
    """Two columns are too many, until the policy says what becomes of one."""
    both = moved("Phone", moved("Mail"))
    with pytest.raises(InputError, match='"Mail".*"Phone"'):
        brujula.plan(both, against=OLD, entity="contact")
    plan = brujula.plan(both, against=OLD, policy=Policy.default("contact").model_copy(update={"columns": {"Mail": ""}}))
    assert set(plan.listed.columns) >= {"given_name", "street"} and not {"email", "phone"} & set(plan.listed.columns)


def test_what_goes_with_its_row_is_used():
    """Colleagues who give the line of one of them, children with a parent's mailbox, two family names where the records have the first."""
    heads, children = OLD[OLD["last"] == "Prado"], pd.concat([ROWS.drop_duplicates("Last")] * 4)
    office = ROWS.assign(Phone=[OLD["phone"][i - i % 8] for i in range(len(ROWS))], Mail="")
    children = children.assign(First=[f"Kid{c}" for c in "abcdefgh" * 4])
    both = ROWS.assign(Last=[f"{f} {FAMILY[FAMILY.index(f) - 1]}" for f in ROWS["Last"]])
    for rows, old in ((office, heads), (children, OLD), (both, OLD)):
        assert not brujula.plan(rows, against=old, entity="contact").listed.set_aside


def test_another_records_mailbox_is_not_given_to_somebody_known():
    """It spells the other's name and nothing else is shared: told with whose it is; what else the row says is written, and a couple keeps its mailbox."""
    columns = ["id", "first", "last", "mail", "phone", "street", "town"]
    ada = ["C-A", "Ada", "Quist", "", "212-555-0147", "12 Mill Street", ""]
    carl = ["C-C", "Carl", "Wren", "carl.wren@harrow.example", "305-555-0101", "7 Oak Road", "Orme"]
    wife = ["C-W", "Rosa", "Lind", "", "305-555-0101", "", ""]
    old = pd.concat([pd.DataFrame([ada, carl, wife], columns=columns), OLD])
    rows = pd.DataFrame(
        [[*ada[1:3], carl[3], *ada[4:6], "Alderton"], [*wife[1:3], carl[3], *wife[4:6], "Orme"]], columns=columns[1:]
    )
    plan = brujula.plan(rows, against=old, entity="contact")
    assert [(p.code, p.row, p.value) for p in plan.problems] == [("anothers-mailbox", 1, "carl.wren@harrow.example (C-C)")]
    written = plan.changes[["record_id", "field"]].to_records(index=False).tolist()
    assert ("C-A", "city") in written and ("C-A", "email") not in written and ("C-W", "email") in written


@settings(max_examples=8)
@given(st.randoms(use_true_random=False), st.sampled_from(["Mail", "Phone", "Street"]))
def test_rows_in_any_order_and_columns_in_none(random, column):
    """Rows may be sorted as they like; one column alone may not."""
    order = list(range(len(ROWS)))
    random.shuffle(order)
    rows = ROWS.take(order).reset_index(drop=True)
    assert not brujula.plan(rows, against=OLD, entity="contact").listed.set_aside
    alone = ROWS.assign(**{column: list(rows[column])})
    still = sum(a == b for a, b in zip(alone[column], ROWS[column], strict=True))
    told = brujula.plan(alone, against=OLD, entity="contact").listed.set_aside
    assert bool(told) is (still <= len(ROWS) // 20)


def test_firms_beside_other_firms_phones():
    """Accounts tell by their names and phones; websites that are still in place are used."""
    firms = pd.DataFrame(
        [(f"{f} Reeds", f"www.{f}.example", f"305-555-{i:04}", "Orme") for i, f in enumerate(FAMILY * 3)],
        columns=["Name", "Web", "Tel", "Town"],
    )
    firms["Name"] = [f"{n} {c}" for n, c in zip(firms["Name"], "abcdefghijklmnopqrstuvwx", strict=True)]
    firms["Web"] = [f"www.reeds{c}.example" for c in "abcdefghijklmnopqrstuvwx"]
    old = firms.rename(columns=str.lower).assign(id=[f"A-{i}" for i in range(len(firms))])
    plan = brujula.plan(moved("Tel", firms), against=old, entity="account")
    assert '"Tel"' in plan.listed.set_aside[0] and "A-1" in plan.listed.set_aside[0]
    assert {"name", "website"} <= set(plan.listed.columns) and "phone" not in plan.listed.columns
    assert list(plan.outcomes["record_id"]) == list(old["id"])


def test_a_few_rows_tell_nothing():
    """Nineteen people whose mailboxes were moved are too few to say so: a family may share and lend theirs."""
    few = moved("Mail", ROWS.head(19))
    assert not brujula.plan(few, against=OLD, entity="contact").listed.set_aside


def test_the_command_says_what_is_not_used(tmp_path):
    """In the summary, in summary.json and on the page; the cells stay in the copy of the list."""
    moved("Phone").to_csv(tmp_path / "roster.csv", index=False)
    OLD.to_csv(tmp_path / "crm.csv", index=False)
    ran = run("plan", "roster.csv", "--against", "crm.csv", "--as", "contact", "--out", "plan", cwd=tmp_path)
    assert '"Phone" does not go with the rows it stands in (line 2: 212-555-0001 is that of C-1 in crm.csv' in " ".join(
        ran.split()
    )
    (said,) = json.loads((tmp_path / "plan" / "summary.json").read_text())["incoming"]["set_aside"]
    assert said.startswith('"Phone"') and "it is not used" in (tmp_path / "plan" / "report.html").read_text()
    assert "212-555-0001" in (tmp_path / "plan" / "incoming_with_ids.csv").read_text()


def test_initials_of_family_names_are_their_own():
    """Ada Q. beside Quist's mailbox is no column that was moved."""
    plan = brujula.plan(ROWS.assign(Last=ROWS["Last"].str[:1] + "."), against=OLD, entity="contact")
    assert list(plan.outcomes["record_id"]) == list(OLD["id"])


@pytest.mark.parametrize(
    ("given_name", "family_name", "phone", "written"),
    [("Ada", "Quist", "", False), ("Ada", "Wren", "", True), ("Carla", "Quist", "305-555-0101", True)],
)
def test_whose_mailbox_it_may_be(given_name, family_name, phone, written):
    """Carl Wren's goes to one of his name or of his line, and to nobody else who is there."""
    columns = ["id", "first", "last", "mail", "phone", "street", "town"]
    known = ["C-K", given_name, family_name, "", phone, "12 Mill Street", "Alderton"]
    carl = ["C-C", "Carl", "Wren", "carl.wren@harrow.example", "305-555-0101", "7 Oak Road", "Orme"]
    old = pd.concat([pd.DataFrame([known, carl], columns=columns), OLD])
    rows = pd.DataFrame([[given_name, family_name, carl[3], phone, "12 Mill Street", "Alderton"]], columns=columns[1:])
    plan = brujula.plan(rows, against=old, entity="contact")
    assert [p.code for p in plan.problems] == ([] if written else ["anothers-mailbox"])
    if plan.outcomes["outcome"][0] == "update":
        assert ("email" in set(plan.changes["field"])) is written
