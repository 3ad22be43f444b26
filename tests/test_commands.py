"""Commands as a process: what sweep, policy, history, check and plan with accounts print, in words and as JSON; thresholds that follow from risk and staff."""

import json

import numpy as np
import pandas as pd
import pytest
from hypothesis import given, strategies as st

import brujula
from brujula.comparing import compare_policies
from brujula.core import judge
from brujula.core.arrays import UNSURE
from brujula.demo.generate import CONTACT_HEADINGS, ROSTER_HEADINGS, make
from brujula.policy.model import Policy
from tests.command import run

PEOPLE = "id,first_name,last_name,email,phone,company,updated_at\n"
OLD = (
    PEOPLE
    + "C-1,Ada,Quist,ada@quist.example,212-555-0147,Harrow School,2024-01-31\n"
    + "C-2,Ada,Quist,ada@quist.example,,Harrow School,2025-01-31\n"
    + "C-3,Bob,Ames,bob@ames.example,,Lind Brass Band,2024-05-05\n"
)
NEW = "Given name,Surname,Mail,School\nAda,Quist,ada@quist.example,Harrow School\nCarla,Wren,carla@wren.example,Wren Academy\n"
FIRMS = "id,name,city\nA-1,Harrow School,Birchmere\nA-2,Lind Brass Band,Rookwood\n"


@pytest.fixture
def lists(tmp_path):
    """Contacts with a duplicate among them, accounts, a list."""
    (tmp_path / "old.csv").write_text(OLD)
    (tmp_path / "new.csv").write_text(NEW)
    (tmp_path / "firms.csv").write_text(FIRMS)
    return tmp_path


def test_sweep(lists):
    """Groups of duplicates in words and numbers; the plan of merges can be carried out; a second sweep since the first finds nothing new."""
    told = run("sweep", "old.csv", "--out", "swept", cwd=lists)
    assert "3 contacts: 1 groups of duplicates; merging them would remove 1 records" in told
    found = json.loads(run("sweep", "old.csv", "--out", "again", "--since", "swept", "--json", cwd=lists))
    assert found["actions"]["merge"] == 0
    store = f"sqlite:///{lists}/crm.db"
    brujula.load(lists / "old.csv", into=store)
    brujula.sweep(store, entity="contact").write(lists / "store")
    assert brujula.load(lists / "store", into=store).merged == 1


def test_sweep_that_needs_a_person(lists):
    """Pairs left open are said by the exit code."""
    (lists / "old.csv").write_text(OLD + "C-4,A.,Quist,,212-555-0147,,\n")
    assert "pairs are left open" in run("sweep", "old.csv", "--out", "swept", cwd=lists, code=1)


def test_plan_with_accounts(lists):
    """Accounts that a list of contacts names are decided on as well: one is there, one is made."""
    told = run("plan", "new.csv", "--against", "old.csv", "--accounts", "firms.csv", "--out", "plan", cwd=lists)
    assert "account" in told
    found = json.loads((lists / "plan" / "accounts" / "summary.json").read_text())
    assert (found["outcomes"]["create"], sum(found["outcomes"].values())) == (1, 2)
    made = (lists / "plan" / "create.csv").read_text()
    assert "new:" in made


def test_policy_is_held_against_a_list(lists):
    """A column the policy says nothing of is named with what becomes of it."""
    (lists / "p.toml").write_text('[columns]\n"Given name" = "given_name"\nSurname = "family_name"\n')
    told = run("policy", "check", "p.toml", "new.csv", cwd=lists)
    assert "new.csv: fits; 4 fields from 4 columns" in told
    assert 'the policy says nothing of column "Mail": taken as email' in told
    assert 'the policy says nothing of column "School": taken as account' in told


def test_two_policies_compared(lists):
    """Rows that have another outcome, or other values written, under the second policy."""
    (lists / "a.toml").write_text("")
    (lists / "b.toml").write_text('[outcomes]\nmode = "update-only"\nduplicates = "leave"\n')
    found = json.loads(run("policy", "compare", "a.toml", "b.toml", "new.csv", "--against", "old.csv", "--json", cwd=lists))
    assert [(r["outcome (first)"], r["outcome (second)"]) for r in found["rows"]] == [("merge", "unchanged"), ("create", "skip")]


def test_a_policy_compared_with_itself(lists):
    """Nothing differs."""
    assert compare_policies(Policy.default("contact"), Policy.default("contact"), lists / "new.csv", lists / "old.csv") == []


def test_values_written_differently_are_told(lists):
    """The same outcome with another value: the field, and both values."""
    (lists / "new.csv").write_text("Given name,Surname,Mail,Tel\nBob,Ames,bob@ames.example,212-555-0199\n")
    (lists / "b.toml").write_text('[update]\nphone = "keep"\n[case]\nphone = "as-is"\n')
    (lists / "old.csv").write_text(PEOPLE + "C-3,Bob,Ames,bob@ames.example,212-555-0101,,\n")
    (lists / "a.toml").write_text('[update]\nphone = "replace"\n')
    found = compare_policies(str(lists / "a.toml"), str(lists / "b.toml"), lists / "new.csv", lists / "old.csv")
    assert [r["changes"] for r in found] == ["phone: 212-555-0199 | -"]


def test_many_passes(lists):
    """A policy may ask for as many passes as there are keys: they are made, told, and change no outcome here."""
    policy = Policy.default("contact")
    more = ["person_name.given", "person_name.family", "email.local", "date.day", "company.whole", "postal_address.postal"] * 4
    many = policy.model_copy(update={"match": policy.match.model_copy(update={"passes": [*policy.match.passes, *more]})})
    few, all_of_them = (brujula.plan(lists / "new.csv", against=lists / "old.csv", policy=p) for p in (policy, many))
    assert len(many.match.passes) > 40
    assert all_of_them.outcomes["outcome"].tolist() == few.outcomes["outcome"].tolist()


def test_history_and_check_in_words(lists):
    """Loads so far as a table; whether somebody is there, and why."""
    brujula.load(lists / "old.csv", into=f"sqlite:///{lists}/crm.db")
    told = run("history", "sqlite:///crm.db", cwd=lists)
    assert "L1" in told
    assert "loaded" in told
    assert "C-3" in run("check", "old.csv", "given_name=Bob", "family_name=Ames", "email=bob@ames.example", cwd=lists)


def test_inspect_writes_a_page(lists):
    """`--page` makes one page that needs nothing else; `--against` says what each key would find."""
    told = run("inspect", "new.csv", "--against", "old.csv", "--page", "page.html", cwd=lists)
    assert "email" in told
    page = (lists / "page.html").read_text()
    assert "Given name" in page
    assert not [tag for tag in ('src="http', 'href="http', "@import") if tag in page]


def _world():
    world = make(111, 1_500, 200, 400, 2.0)
    return pd.DataFrame(world.contacts, columns=CONTACT_HEADINGS), pd.DataFrame(world.roster, columns=ROSTER_HEADINGS)


def _with(**match):
    policy = Policy.default("contact")
    return policy.model_copy(update={"match": policy.match.model_copy(update=match)})


def test_less_risk_means_less_done_unasked():
    """The smaller the share of wrong matches borne, the fewer rows are matched without a person."""
    old, new = _world()
    done = []
    for risk in (1e-7, 0.01, 0.2):
        counts = brujula.plan(new, against=old, policy=_with(risk=risk)).counts
        done.append(counts["update"] + counts["unchanged"] + counts["merge"])
    assert done == sorted(done)
    assert done[0] < done[-1]


def test_staff_bounds_what_is_held_by_evidence():
    """With nobody to look at anything, no row is held for its probability alone; with some, no more than they can look at."""
    old, new = _world()
    held = []
    for staff in (0.0, 0.005, 1.0):
        plan = brujula.plan(new, against=old, policy=_with(staff=staff, unsure_from=0.01, same_from=0.999))
        judged, n = plan.matched.judged, plan.batch.n_existing
        by_evidence = (judged.rule < 0) & (judged.verdict == UNSURE) & (judged.graded.pairs.left >= n)
        held.append(len(set(judged.graded.pairs.left[by_evidence].tolist())))
        assert held[-1] <= int(staff * plan.batch.n_incoming)
    assert held == sorted(held)
    assert held[0] == 0 < held[-1]


@given(st.lists(st.floats(0.0, 1.0), min_size=1, max_size=60), st.sampled_from([0.001, 0.01, 0.1, 0.3]))
def test_the_threshold_bears_the_risk(probabilities, risk):
    """Of the pairs from the threshold on, the share that is wrong by their probabilities is borne; a lower threshold would not do."""
    p = np.array(probabilities)
    least = judge.same_for_risk(p, risk)
    taken = p[(p >= least) & (p > 0.5)]
    if len(taken) and 0.5 < least < 0.9999:
        assert (1 - taken).mean() <= risk + 1e-9
    more = p[(p > 0.5) & (p < least)]
    if len(more) and least < 0.9999:
        wider = np.append(p[p >= least], more.max())
        assert (1 - wider).mean() > risk - 1e-9


@given(st.lists(st.tuples(st.floats(0.0, 1.0), st.integers(-1, 20)), min_size=1, max_size=60), st.integers(0, 12))
def test_the_threshold_keeps_to_the_staff(pairs, most):
    """No more rows are held than can be looked at."""
    p, row = np.array([x for x, _ in pairs]), np.array([r for _, r in pairs], np.int32)
    least = judge.unsure_for_staff(p, row, 0.95, most, 0.2)
    assert least >= 0.2
    held = {r for x, r in pairs if least <= x < 0.95 and r >= 0}
    assert len(held) <= most or len(set(p[(p >= 0.2) & (p < 0.95)])) < len(held)
