"""Rows that name nobody: lists of mail addresses, numbers or ids, as people send who want no more mail, or changed one column of an export."""

import json

import numpy as np
import pandas as pd
import pytest

import brujula
from brujula.policy.model import Policy
from tests.command import run

HEADS = ["id", "first_name", "last_name", "email", "phone", "email_opt_out"]
PEOPLE = [
    ["C-1", "Ada", "Quist", "ada@harrow.example", "212-555-0147", "no"],
    ["C-2", "Bo", "Lind", "bo@lind.example", "212-555-0148", "no"],
    ["C-3", "Cy", "Prado", "prados@post.example", "", "no"],
    ["C-4", "Di", "Prado", "prados@post.example", "", "no"],
]
FIRMS = pd.DataFrame(
    [["A-1", "Harrow Violin Works", "www.harrowviolins.example", ""], ["A-2", "Lind Brass", "", "info@lind-brass.example"]],
    columns=["id", "name", "website", "email"],
)


def _others(n=200):
    rng = np.random.default_rng(8)
    parts = np.array("bel cor dan fer gal hol jan kel lor mon nor pel ras sol tin ver wal".split())
    words = ["".join(x).title() for x in parts[rng.integers(0, len(parts), (2 * n, 3))]]
    return [[f"F-{i}", words[i], words[n + i], f"{words[i]}{i}@post.example".lower(), f"305-555-{i:04}", "no"] for i in range(n)]


def _planned(rows, columns, policy=None):
    old = pd.DataFrame([*PEOPLE, *_others()], columns=HEADS)
    return brujula.plan(pd.DataFrame(rows, columns=columns), against=old, entity="contact", policy=policy)


def test_a_list_of_those_who_want_no_mail():
    """A mailbox of one person's is that person: the opt-out is written, and no name is touched; a couple's is held, a stranger's row cannot be used."""
    plan = _planned(
        [[x, "yes"] for x in ("ADA@harrow.example", "prados@post.example", "x@y.example")], ["E-mail", "email_opt_out"]
    )
    assert plan.outcomes["outcome"].tolist() == ["update", "review", "reject"], plan.explain(1)
    assert plan.outcomes["record_id"].tolist()[:2] == ["C-1", "C-3;C-4"]
    assert plan.changes[["record_id", "field", "after"]].values.tolist() == [["C-1", "email_opt_out", "yes"]]
    assert [(p.row, p.code) for p in plan.problems] == [(3, "no-name")]


def test_a_mailbox_of_many_is_a_persons_to_decide():
    """What the office reads is nobody's own: all who have it are named, and the row is held."""
    old = [[f"C-{i}", x, "Lind", "office@harrow.example", "", "no"] for i, x in enumerate(("Ada", "Bo", "Cy", "Di"))]
    frame = pd.DataFrame([*old, *_others()], columns=HEADS)
    new = pd.DataFrame([["office@harrow.example", "yes"]], columns=["E-mail", "email_opt_out"])
    plan = brujula.plan(new, against=frame, entity="contact")
    assert plan.outcomes[["outcome", "record_id"]].values.tolist() == [["review", "C-0;C-1;C-2;C-3"]], plan.explain(1)


def test_strangers_are_passed_over_by_a_list_that_only_updates():
    """An update-only list makes nobody: a row that names nobody is skipped as any other, not rejected."""
    policy = Policy.default("contact")
    policy = policy.model_copy(update={"outcomes": policy.outcomes.model_copy(update={"mode": "update-only"})})
    plan = _planned([["ada@harrow.example", "yes"], ["x@y.example", "yes"]], ["E-mail", "email_opt_out"], policy)
    assert plan.outcomes["outcome"].tolist() == ["update", "skip"]


def test_a_row_without_a_name_may_go_with_one_that_has_it():
    """Two rows of one mailbox, nobody on record: one person is made, who bears the name that one of them gives."""
    plan = _planned([["Eve", "Alder", "eve@alder.example", ""], ["", "", "eve@alder.example", "305-555-0999"]], HEADS[1:5])
    assert plan.outcomes["outcome"].tolist() == ["create", "create"]
    assert plan.outcomes["action"].nunique() == 1


def test_numbers_are_a_persons_to_decide():
    """A phone may be a household's: held, whatever the evidence makes of it."""
    plan = _planned([["(212) 555-0147"], ["646-555-0100"]], ["Phone"])
    assert plan.outcomes["outcome"].tolist() == ["review", "reject"]
    assert plan.outcomes["record_id"][0] == "C-1"


@pytest.mark.parametrize(
    ("rows", "wanted"),
    [
        ([["C-1", "a@new.example", "646-555-0101"], ["C-2", "b@new.example", "646-555-0102"]], ["update", "update"]),
        ([["C-1", "a@new.example", "646-555-0101"], ["C-9", "b@new.example", "646-555-0102"]], ["update", "reject"]),
    ],
    ids=["all known", "one unknown"],
)
def test_ids_alone_say_who_is_meant(rows, wanted):
    """An export of ids with two columns written anew: nothing agrees, and nothing says that the ids are somebody else's."""
    plan = _planned(rows, ["id", "E-mail", "Phone"])
    assert plan.outcomes["outcome"].tolist() == wanted, plan.explain(1)


@pytest.mark.parametrize(("order", "taken"), [([1, 2, 3, 4], False), ([3, 1, 4, 2], True)], ids=["a running number", "ids"])
def test_a_running_number_is_nobodys_id(order, taken):
    """Numbers from row to row, with no name beside them, may be the lines of a list: nothing of a record is overwritten for them."""
    old = pd.DataFrame([[str(i + 1), *row[1:]] for i, row in enumerate([*PEOPLE, *_others(20)])], columns=HEADS)
    new = pd.DataFrame([[str(i), f"646-555-01{i:02}"] for i in order], columns=["id", "Phone"])
    outcomes = brujula.plan(new, against=old, entity="contact").outcomes
    assert set(outcomes["outcome"]) == ({"update"} if taken else {"reject"})
    assert not taken or outcomes["record_id"].tolist() == [str(i) for i in order]


def test_long_numbers_are_ids():
    """Ids of thirty digits count nothing on, and are no trouble."""
    ids = [f"{10**29 + i}" for i in range(3)]
    old = pd.DataFrame([[i, *row[1:]] for i, row in zip(ids, PEOPLE, strict=False)], columns=HEADS)
    new = pd.DataFrame([[i, f"646-555-010{n}"] for n, i in enumerate(ids)], columns=["id", "Phone"])
    assert brujula.plan(new, against=old, entity="contact").outcomes["record_id"].tolist() == ids


def test_a_list_of_names_alone_is_held():
    """Names that stand on record once, and no more than names: somebody decides; nobody is made a second time unseen."""
    others = _others()
    rows = [[o[1], o[2]] for o in others[:40]] + [["Zed", "Zornwald"]]
    plan = _planned(rows, ["first_name", "last_name"])
    assert plan.outcomes["outcome"].tolist() == ["review"] * 40 + ["create"]
    assert plan.outcomes["record_id"].tolist()[:40] == [o[0] for o in others[:40]]


def test_a_mailbox_at_the_firms_site():
    """Where one list has a website and the other a mail address at it, a firm is found by that; a provider's address says nothing."""
    more = [[f"F-{i}", f"{o[1]} Reeds", f"{o[2]}.example".lower(), ""] for i, o in enumerate(_others(80))]
    old = pd.concat([FIRMS, pd.DataFrame(more, columns=FIRMS.columns)])
    new = pd.DataFrame(
        [
            ["Harrow Violin", "", "ada@harrowviolins.example"],
            ["Lind Brass Band", "https://lind-brass.example", ""],
            ["Harrow Music", "", "harrow@gmail.com"],
        ],
        columns=["name", "website", "email"],
    )
    plan = brujula.plan(new, against=old, entity="account")
    assert plan.outcomes["outcome"].tolist() == ["update", "update", "create"], plan.explain(1)
    assert plan.outcomes["record_id"].tolist()[:2] == ["A-1", "A-2"]


def test_the_command_says_what_could_not_be_used(tmp_path):
    """The summary counts rows of nobody among the problems, and rejects.csv keeps them as they came."""
    pd.DataFrame([*PEOPLE, *_others(20)], columns=HEADS).to_csv(tmp_path / "old.csv", index=False)
    (tmp_path / "out.csv").write_text("E-mail,E-mail opt-out\nada@harrow.example,yes\nx@y.example,yes\n")
    told = run("plan", "out.csv", "--against", "old.csv", "--out", "p", "--json", cwd=tmp_path, code=1)
    assert json.loads(told)["outcomes"]["reject"] == 1
    rejects = (tmp_path / "p" / "rejects.csv").read_text()
    assert "x@y.example" in rejects
    assert "the row names nobody" in rejects


def test_a_list_of_ids_is_of_the_entity_that_has_them(tmp_path):
    """A list that does not say of whom it is, against a store of contacts and accounts: its ids tell; without ids it is of people."""
    old, firms = tmp_path / "old.csv", tmp_path / "firms.csv"
    pd.DataFrame([*PEOPLE, *_others(20)], columns=HEADS).to_csv(old, index=False)
    FIRMS.to_csv(firms, index=False)
    for path in (old, firms):
        brujula.load(path, into=f"sqlite:///{tmp_path}/crm.db")
    for rows, columns, record in (
        ([["C-2", "646-555-0100"]], ["id", "Phone"], "C-2"),
        ([["A-2", "646-555-0100"]], ["id", "Phone"], "A-2"),
        ([["ada@harrow.example", "646-555-0100"]], ["E-mail", "Phone"], "C-1"),
    ):
        plan = brujula.plan(pd.DataFrame(rows, columns=columns), against=f"sqlite:///{tmp_path}/crm.db")
        assert plan.outcomes["record_id"].tolist() == [record], plan.explain(1)


def test_inspect_tells_of_rows_that_name_nobody():
    """Before a list is held against anything, rows without a name are told of."""
    profile = brujula.inspect(
        pd.DataFrame([["Ada", "ada@harrow.example"], ["", "x@y.example"]], columns=["First name", "E-mail"])
    )
    assert [(code, count) for code, count, _ in profile.problems] == [("no-name", 1)]


@pytest.mark.parametrize(("name", "verdicts"), [("Parent Guardian", set()), ("Mora Wrenfield", {"same"})])
def test_desks_of_one_domain_are_not_one(name, verdicts):
    """Two of a rare name at a domain that few others have are one person; that two desks are called so says little, be they ever so few."""
    rng = np.random.default_rng(5)
    parts = np.array("bel cor dan fer gal hol jan kel lor mon nor pel ras sol tin ver wal".split())
    words = ["".join(x).title() for x in parts[rng.integers(0, len(parts), (1_200, 3))]]
    people = [[f"F-{i}", words[i], words[600 + i], f"box{i}@d{i % 150}.example"] for i in range(600)]
    given, family = name.split()
    two = [["C-1", given, family, "x379881@d7.example"], ["C-2", given, family, "y839758@d7.example"]]
    base = pd.DataFrame([*people, *two], columns=["id", "first_name", "last_name", "email"])
    pairs = brujula.sweep(base, entity="contact").pairs
    found = pairs[pairs["left"].isin(["C-1", "C-2"]) & pairs["right"].isin(["C-1", "C-2"])]
    assert set(found["verdict"]) == verdicts, found.T
