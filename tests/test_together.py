"""Accounts and contacts out of one list: accounts first, each made once, contacts tied to them, job changes as the policy says."""

import openpyxl
import pandas as pd
import pytest

import brujula
from brujula.policy.model import OutcomesPolicy, Policy
from brujula.stores import open_store
from brujula.together import accounts_of, plan_together

FIRMS = [
    ("A-1", "Harrow Reed Works Inc.", "https://www.harrow.example", "Birchmere", "97001"),
    ("A-2", "Lind Brass Band", "https://lind.example", "Rookwood", "97002"),
    *(
        (f"A-{i + 9}", f"{w} School", f"{w.lower()}.example", "Yarrow", "97003")
        for i, w in enumerate("Alder Birch Cedar Dogwood Elm Fir Ginkgo Hazel".split())
    ),
]
PEOPLE = [
    ("C-1", "Ada", "Quist", "ada@post.example", "212-555-0147", "Harrow Reed Works Inc.", "A-1", "Birchmere", ""),
    ("C-2", "Bob", "Ames", "bob@ames.example", "305-555-0111", "Lind Brass Band", "A-2", "Rookwood", "plays second"),
    *((f"C-{i + 9}", f"Given{i}", f"Filler{i * 13}", f"g{i}@filler.example", "", "", "", "", "") for i in range(30)),
]
LIST = [
    ("Ada", "Quist", "ada@post.example", "212-555-0147", "Harrow Reed Works", "Birchmere"),
    ("Carla", "Wren", "carla@dovetail.example", "", "Dovetail Violin Workshop", "Otter Point"),
    ("Dan", "Orr", "dan@dovetail.example", "", "DOVETAIL VIOLIN WORKSHOP", "Otter Point"),
    ("Eve", "Low", "eve@low.example", "", "", ""),
]
HEAD = ["first_name", "last_name", "email", "phone", "company", "city"]


@pytest.fixture
def crm(tmp_path):
    """A store with accounts and contacts."""
    url = f"sqlite:///{tmp_path}/crm.db"
    pd.DataFrame(FIRMS, columns=["id", "name", "website", "city", "postal_code"]).to_csv(tmp_path / "a.csv", index=False)
    pd.DataFrame(
        PEOPLE, columns=["id", "first_name", "last_name", "email", "phone", "company", "account_id", "city", "notes"]
    ).to_csv(tmp_path / "c.csv", index=False)
    brujula.load(tmp_path / "a.csv", into=url)
    brujula.load(tmp_path / "c.csv", into=url)
    return url


def _listed(rows=LIST):
    return pd.DataFrame(rows, columns=HEAD)


def test_a_new_account_is_made_once_and_its_contacts_tied_to_it(crm, tmp_path):
    """Two contacts of one new account share it; a known one keeps its own; undone in order, the store is as it was."""
    with open_store(crm) as store:
        before = store.dump()
    plan = plan_together(_listed(), crm, crm)
    assert list(plan.accounts.outcomes["outcome"]) == ["unchanged", "create"]
    assert list(plan.outcomes["outcome"]) == ["unchanged", "create", "create", "create"]
    plan.write(tmp_path / "plan")
    load = brujula.load(tmp_path / "plan", into=crm)
    with open_store(crm) as store:
        people = store.read("contact").to_pandas().set_index("email")
        firms = store.read("account").to_pandas().set_index("id")
    tied = {people.loc[f"{n}@dovetail.example", "account_id"] for n in ("carla", "dan")}
    assert [firms.loc[i, "name"] for i in tied] == ["Dovetail Violin Workshop"] or [firms.loc[i, "name"] for i in tied] == [
        "DOVETAIL VIOLIN WORKSHOP"
    ]
    assert people.loc["eve@low.example", "account_id"] in ("", None)
    for number in (load.id, f"L{int(load.id[1:]) - 1}"):
        brujula.undo(number, into=crm)
    with open_store(crm) as store:
        assert store.dump() == before


def test_the_accounts_to_review_are_told_by_their_folder(crm, tmp_path):
    """The command a workbook gives names the folder it is in, not the one it was made in."""
    plan_together(_listed(), crm, crm).write(tmp_path / "plan")
    cells = [c for sheet in openpyxl.load_workbook(tmp_path / "plan/accounts/review.xlsx") for row in sheet.values for c in row]
    assert any(f"brujula review {tmp_path}/plan/accounts --take" in str(c) for c in cells)


def test_planned_again_nothing_is_left_to_do(crm, tmp_path):
    """What the first plan created is unchanged in the second, accounts and contacts alike."""
    plan_together(_listed(), crm, crm).write(tmp_path / "plan")
    brujula.load(tmp_path / "plan", into=crm)
    again = plan_together(_listed(), crm, crm)
    assert set(again.accounts.outcomes["outcome"]) == {"unchanged"}
    assert set(again.outcomes["outcome"]) == {"unchanged"}


@pytest.mark.parametrize(
    ("moved", "outcome", "changes"),
    [
        ("keep", "unchanged", {}),
        (
            "update",
            "update",
            {"account": "Harrow Reed Works", "account_id": "A-1", "notes": "plays second\nbefore: Lind Brass Band"},
        ),
        ("review", "review", {}),
        ("create", "create", {}),
    ],
)
def test_who_changed_jobs(crm, moved, outcome, changes):
    """A contact known at another account stays, moves with the old one noted, is held, or is made once more."""
    policy = Policy.default("contact").model_copy(update={"outcomes": OutcomesPolicy(moved=moved)})
    rows = [("Bob", "Ames", "bob@ames.example", "305-555-0111", "Harrow Reed Works", "")]
    plan = plan_together(_listed(rows), crm, crm, policy)
    assert list(plan.outcomes["outcome"]) == [outcome], plan.explain(1)
    written = plan.changes[plan.changes["record_id"] != ""]
    assert {f: v for f, v in zip(written["field"], written["after"], strict=True) if f != "city"} == changes


def test_accounts_of_a_list_are_named_once():
    """Case and marks do not make two of one account; a town does; the value most rows give is taken."""
    from brujula.intake.shape import shape
    from brujula.intake.sources import from_frame

    rows = [*LIST, ("F", "Orr", "f@dovetail.example", "", "Dovetail Violin Workshop", "Birchmere")]
    lines, of = accounts_of(shape(from_frame(_listed(rows)), Policy.default("contact"), "contact"))
    assert of.tolist() == [0, 1, 1, -1, 2]
    assert lines.values["website"].to_pylist() == ["post.example", "dovetail.example", "dovetail.example"]


def test_contacts_are_no_accounts(crm, tmp_path):
    """A file of contacts given as accounts is an error that says so."""
    with pytest.raises(brujula.InputError, match="c.csv: holds contacts, not accounts"):
        plan_together(_listed(), crm, str(tmp_path / "c.csv"))


@pytest.mark.parametrize(
    ("named", "tied"),
    [
        (["Harrow Reed Works Inc.", "", "Lind Bras"], ["A-1", "A-2", "A-2"]),
        (["Oak High", "", "Fen High"], ["new:A1", "new:A2", "new:A2"]),
    ],
)
def test_a_row_that_gives_our_account_id_is_tied_to_that_account(crm, named, tied):
    """Whatever it calls the firm, if anything; but only where the ids are ours: somebody else's numbers agree with none of our names, and tell no more than who is of one firm."""
    rows = pd.DataFrame(
        [[f"New{i}", f"Person{i}", f"new{i}@post.example", name] for i, name in enumerate(named)],
        columns=["first_name", "last_name", "email", "company"],
    ).assign(**{"Company ID": ["A-1", "A-2", "A-2"]})
    plan = plan_together(rows, crm, crm)
    got = plan.changes.query("field == 'account_id'").set_index("from")["after"]
    assert [got.get(f"row {i + 1}", "") for i in range(3)] == tied
