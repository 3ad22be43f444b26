"""Lists one column of which was sorted, or moved by a row, apart from the others."""

import pandas as pd
import pytest

import brujula
from brujula.errors import InputError
from brujula.policy.model import Policy

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
