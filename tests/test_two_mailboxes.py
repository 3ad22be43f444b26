"""People with two mailboxes: whichever of them a list gives, in whatever column."""

import numpy as np
import pandas as pd
import pytest

import brujula
from brujula.fields import kinds
from brujula.testing import grades_of
from tests.command import run

HEADS = ["id", "first_name", "last_name", "email", "other_email", "company"]
ADA = ["C-1", "Ada", "Quist", "ada@harrow.example", "clarinet77@postbox.example", "Harrow School"]


def _others(n=120):
    rng = np.random.default_rng(5)
    parts = np.array("bel cor dan fer gal hol jan kel lor mon nor pel ras sol tin ver wal".split())
    words = ["".join(x).title() for x in parts[rng.integers(0, len(parts), (2 * n, 3))]]
    return [[f"F-{i}", words[i], words[n + i], f"{words[i]}{i}@post.example".lower(), "", ""] for i in range(n)]


def _planned(row, columns, record=ADA):
    old = pd.DataFrame([record, *_others()], columns=HEADS)
    return brujula.plan(pd.DataFrame([row], columns=columns), against=old, entity="contact")


@pytest.mark.parametrize(
    ("first", "second"),
    [
        ("clarinet77@postbox.example", ""),
        ("ada@lind.example", "ada@harrow.example"),
        ("ada@lind.example", "clarinet77@postbox.example"),
        ("", "clarinet77@postbox.example"),
    ],
)
def test_each_is_compared_with_each(first, second):
    """A married name and a short one, and a mailbox that stands in another column: she is found."""
    plan = _planned(["A.", "Quist", first, second], ["Given name", "Surname", "E-mail", "Alternate e-mail"])
    assert plan.outcomes["record_id"].tolist() == ["C-1"], plan.explain(1)
    assert plan.outcomes["outcome"][0] in ("update", "unchanged")


def test_two_others_are_nothing_in_common():
    """Two people of one name and of two mailboxes each stay two."""
    plan = _planned(
        ["Ada", "Quist", "ada@lind.example", "reed9@mail.example", "Lind Brass Band"],
        ["Given name", "Surname", "E-mail", "Alternate e-mail", "Company"],
    )
    assert plan.outcomes["outcome"].tolist() == ["create"], plan.explain(1)


def test_what_stands_in_one_place_is_not_written_into_the_other():
    """The row's first mailbox is the record's second: it is not filled in again; a mailbox nobody had yet is."""
    record = [*ADA[:3], "", *ADA[4:]]
    columns = ["Given name", "Surname", "E-mail", "Alternate e-mail"]
    again = _planned(["Ada", "Quist", ADA[4], ""], columns, record)
    assert again.outcomes["outcome"].tolist() == ["unchanged"], again.explain(1)
    more = _planned(["Ada", "Quist", "ada@new.example", ADA[4]], columns, record)
    assert more.changes[["field", "after"]].values.tolist() == [["email", "ada@new.example"]]


@pytest.mark.parametrize("heading", ["Personal email", "Alternate e-mail", "E-mail 2"])
def test_the_only_mailbox_is_no_other_one(heading):
    """A list with one column of mail addresses has a first mailbox, whatever it calls it."""
    plan = _planned(["Eve", "Alder", "eve@x.example"], ["First name", "Last name", heading])
    assert "email" in plan.changes["field"].tolist()
    assert "other_email" not in plan.changes["field"].tolist()


def test_a_question_gives_either():
    """`check` finds her by the second mailbox, too."""
    lookup = brujula.Lookup(pd.DataFrame([ADA, *_others()], columns=HEADS))
    assert lookup.check({"family_name": "Quist", "email": "clarinet77@postbox.example"}).record_ids == ("C-1",)


def test_a_kind_of_two_places():
    """The best of all pairs of mailboxes is the grade."""
    left, right = (
        {"email": "ada@x.example", "other_email": "q@y.example"},
        {"email": "z@v.example", "other_email": "ada@x.example"},
    )
    assert grades_of(kinds()["email"], left, right) == {"email": "same"}


def test_a_card_keeps_both(tmp_path):
    """Both are written on a vCard and read from one."""
    pd.DataFrame([ADA], columns=HEADS).to_csv(tmp_path / "old.csv", index=False)
    brujula.load(tmp_path / "old.csv", into=f"sqlite:///{tmp_path}/crm.db")
    run("export", f"sqlite:///{tmp_path}/crm.db", "--out", "out.vcf", cwd=tmp_path)
    assert (tmp_path / "out.vcf").read_text().count("EMAIL") == 2
    again = brujula.plan(tmp_path / "out.vcf", against=tmp_path / "old.csv", entity="contact")
    assert again.outcomes["record_id"].tolist() == ["C-1"]
    assert not {"email", "other_email"} & {*again.changes["field"]}
