"""The promises, as properties over small lists of people who are easily confused."""

import contextlib
import sqlite3
from itertools import permutations
from pathlib import Path
from tempfile import TemporaryDirectory

import pandas as pd
import pytest
from hypothesis import HealthCheck, given, settings, strategies as st

import brujula
from brujula.core.decide import OUTCOMES
from brujula.errors import PlanError, StoreError
from brujula.policy.model import OutcomesPolicy, Policy
from brujula.stores import open_store
from brujula.testing import fixed_clock

FEW = settings(max_examples=6, suppress_health_check=[HealthCheck.too_slow])
PERSON = st.fixed_dictionaries(
    {
        "first_name": st.sampled_from(["Robert", "Bob", "R.", "Ada", "Ana", "José", ""]),
        "last_name": st.sampled_from(["Ames", "Ames Sr.", "Quist", "Qvist", ""]),
        "email": st.sampled_from(
            ["bob@ames.example", "ada.quist@reed.example", "office@reed.example", "test@test.com", "not a mail", ""]
        ),
        "phone": st.sampled_from(["212-555-0147", "(212) 555-0147", "000-0000", "+1 212 555 0101", ""]),
        "company": st.sampled_from(["Harrow Reed Works", "Harrow Reed Works LLC", "n/a", ""]),
        "city": st.sampled_from(["Alder Falls", "Birchmere", ""]),
        "email_opt_out": st.sampled_from(["yes", "no", ""]),
    }
)
LISTS = st.lists(PERSON, max_size=8)


def _frames(existing, incoming):
    columns = ["first_name", "last_name", "email", "phone", "company", "city", "email_opt_out"]
    old = pd.DataFrame([{"id": f"C-{i}", **r} for i, r in enumerate(existing)], columns=["id", *columns])
    return old, pd.DataFrame(incoming, columns=columns)


def _store(folder, existing):
    old, _ = _frames(existing, [])
    old.to_csv(Path(folder) / "export.csv", index=False)
    url = f"sqlite:///{folder}/crm.db"
    brujula.load(Path(folder) / "export.csv", into=url)
    return url


@FEW
@given(LISTS, LISTS)
def test_nothing_is_lost(existing, incoming):
    """Promise 1: every row has exactly one outcome; counts add up; originals stand verbatim in the outputs."""
    old, new = _frames(existing, incoming)
    plan = brujula.plan(new, against=old, entity="contact")
    assert list(plan.outcomes["row"]) == list(range(1, len(new) + 1))
    assert set(plan.outcomes["outcome"]) <= set(OUTCOMES)
    assert sum(plan.counts.values()) == len(new)
    with TemporaryDirectory() as folder:
        plan.write(f"{folder}/plan")
        back = pd.read_csv(f"{folder}/plan/incoming_with_ids.csv", dtype=str, keep_default_na=False)
        assert back[list(new.columns)].values.tolist() == new.values.tolist()


@FEW
@given(LISTS.filter(bool), LISTS)
def test_plan_and_sweep_write_nothing(existing, incoming):
    """Promise 2: the store's file is the same, byte for byte, after a plan and a sweep, also one kept in SQLite's usual way."""
    with TemporaryDirectory() as folder:
        url = _store(folder, existing)
        with contextlib.closing(sqlite3.connect(f"{folder}/crm.db")) as store:
            store.execute("PRAGMA journal_mode=DELETE")
        before = Path(f"{folder}/crm.db").read_bytes()
        brujula.plan(_frames([], incoming)[1], against=url, entity="contact").write(f"{folder}/plan")
        brujula.sweep(url, entity="contact").write(f"{folder}/sweep")
        assert Path(f"{folder}/crm.db").read_bytes() == before


@FEW
@given(LISTS.filter(bool), LISTS)
def test_undo_restores_every_value(existing, incoming):
    """Promise 3, the plain case: after undo the store is as it was."""
    with TemporaryDirectory() as folder:
        url = _store(folder, existing)
        with open_store(url) as store:
            before = store.dump()
        brujula.plan(_frames([], incoming)[1], against=url, entity="contact").write(f"{folder}/plan")
        done = brujula.load(f"{folder}/plan", into=url)
        brujula.undo(done.id, into=url)
        with open_store(url) as store:
            assert store.dump() == before


@FEW
@given(LISTS.filter(bool), LISTS, st.sampled_from(["create-and-update", "create-only", "update-only"]))
def test_same_list_again_is_unchanged(existing, incoming, mode):
    """Promise 4: what the first plan created, updated or merged is unchanged in the second."""
    with TemporaryDirectory() as folder:
        url = _store(folder, existing)
        policy = Policy.default("contact").model_copy(update={"outcomes": OutcomesPolicy(mode=mode)})
        new = _frames([], incoming)[1]
        first = brujula.plan(new, against=url, policy=policy)
        first.write(f"{folder}/plan")
        brujula.load(f"{folder}/plan", into=url)
        second = brujula.plan(new, against=url, policy=policy)
        for a, b in zip(first.outcomes["outcome"], second.outcomes["outcome"], strict=True):
            if a in ("create", "update", "merge", "unchanged"):
                assert b in (("unchanged", "skip") if mode == "create-only" else ("unchanged",)), (a, b)


@FEW
@given(LISTS, LISTS, st.randoms(use_true_random=False))
def test_order_changes_no_outcome(existing, incoming, random):
    """Promise 5: rows and records in another order have the same outcomes, records and values written."""
    old, new = _frames(existing, incoming)
    rows, records = list(range(len(new))), list(range(len(old)))
    random.shuffle(rows)
    random.shuffle(records)
    one = brujula.plan(new, against=old, entity="contact")
    other = brujula.plan(
        new.iloc[rows].reset_index(drop=True), against=old.iloc[records].reset_index(drop=True), entity="contact"
    )
    for place, row in enumerate(rows):
        for column in ("outcome", "confidence", "record_id"):
            assert one.outcomes[column][row] == other.outcomes[column][place]
    columns = ["record_id", "field", "before", "after"]
    assert sorted(map(tuple, one.changes[columns].values)) == sorted(map(tuple, other.changes[columns].values))


def test_of_two_as_likely_the_same_is_named_first():
    """Promise 5: a row that may be any of several, none more than the others, names them in one order, whichever stands first on record."""
    names = ["Harrow Brass, Orme", "Harrow Brass, Yarrow", "Harrow Brass, Tessel"]
    old = pd.DataFrame([[f"A-{i}", *n.split(", "), ""] for i, n in enumerate(names)], columns=["id", "name", "city", "website"])
    fill = pd.DataFrame([[f"F-{i}", f"Filler{i:03}x Reeds", "Quindle", ""] for i in range(60)], columns=old.columns)
    new = pd.DataFrame([["Harrow Brass", "", ""]], columns=["name", "city", "website"])
    named = set()
    for order in permutations(range(3)):
        plan = brujula.plan(new, against=pd.concat([old.iloc[list(order)], fill], ignore_index=True), entity="account")
        assert plan.outcomes["outcome"][0] == "review", plan.explain(1)
        named.add((plan.outcomes["record_id"][0], plan.outcomes["reason"][0]))
    assert len(named) == 1, named


@FEW
@given(LISTS, LISTS)
def test_same_input_same_bytes(existing, incoming):
    """Promise 5: the same plan twice is the same, byte for byte, but for the clock."""
    old, new = _frames(existing, incoming)
    with TemporaryDirectory() as folder:
        for name in ("a", "b"):
            brujula.plan(new, against=old, entity="contact").write(f"{folder}/{name}")
        for path in Path(f"{folder}/a").glob("*.csv"):
            assert path.read_bytes() == Path(f"{folder}/b/{path.name}").read_bytes(), path.name


@FEW
@given(LISTS.filter(bool), LISTS)
def test_consent_only_tightens(existing, incoming):
    """Promise 7: who has opted out in the store, or in the row taken for them, is opted out after the load."""
    with TemporaryDirectory() as folder:
        url = _store(folder, existing)
        plan = brujula.plan(_frames([], incoming)[1], against=url, entity="contact")
        plan.write(f"{folder}/plan")
        brujula.load(f"{folder}/plan", into=url)
        with open_store(url) as store:
            now = {r["id"]: r["email_opt_out"] for r in store.read("contact").to_pylist()}
        merged = {loser: a["record_id"] for a in plan.actions.to_dict("records") for loser in a["merged_ids"].split(";") if loser}
        for i, record in enumerate(existing):
            if record["email_opt_out"] == "yes":
                assert now[merged.get(f"C-{i}", f"C-{i}")] == "yes"
        for line, row in zip(plan.outcomes.to_dict("records"), incoming, strict=True):
            if row["email_opt_out"] == "yes" and line["outcome"] in ("update", "merge"):
                assert now[line["record_id"].split(";")[0]] == "yes"


@FEW
@given(LISTS, LISTS)
def test_blank_and_placeholders_never_overwrite(existing, incoming):
    """Promise 8: no value is replaced by a blank or a placeholder; only blanks and placeholders are filled."""
    old, new = _frames(existing, incoming)
    for change in brujula.plan(new, against=old, entity="contact").changes.to_dict("records"):
        assert change["after"].strip() not in ("", "n/a", "000-0000", "test@test.com", "not a mail"), change
        if change["field"] != "email_opt_out":
            assert change["before"] in ("", "n/a", "000-0000", "test@test.com", "not a mail"), change


@FEW
@given(LISTS, LISTS)
def test_every_outcome_explains_itself(existing, incoming):
    """Promise 6: every reason is a sentence; what links a row names the record; explain knows every row."""
    old, new = _frames(existing, incoming)
    plan = brujula.plan(new, against=old, entity="contact")
    for line in plan.outcomes.to_dict("records"):
        assert len(line["reason"]) > 10
        if line["outcome"] in ("update", "merge", "review") and line["record_id"]:
            assert any(i in line["reason"] for i in line["record_id"].split(";")) or "another row" in line["reason"], line
        assert f"row {line['row']}: {line['outcome']}" in plan.explain(line["row"])


def test_load_holds_what_changed_since(tmp_path):
    """A record changed between plan and load is held and named; the others go on."""
    url = _store(
        tmp_path,
        [
            {"first_name": "Ada", "last_name": "Quist", "email": "ada.quist@reed.example"},
            {"first_name": "Robert", "last_name": "Ames", "email": "bob@ames.example"},
        ],
    )
    new = pd.DataFrame(
        [
            {"first_name": "Ada", "last_name": "Quist", "email": "ada.quist@reed.example", "city": "Birchmere"},
            {"first_name": "Bob", "last_name": "Ames", "email": "bob@ames.example", "city": "Rookwood"},
        ]
    )
    brujula.plan(new, against=url).write(tmp_path / "plan")
    with sqlite3.connect(tmp_path / "crm.db") as raw:
        raw.execute("update contact set city = 'Otter Point' where id = 'C-0'")
    raw.close()
    done = brujula.load(tmp_path / "plan", into=url, clock=fixed_clock())
    assert (done.updated, done.held) == (1, 1)
    assert done.reasons[0][1] == 'city of record C-0 is now "Otter Point"; the plan saw ""'


def test_undo_refuses_what_changed_since(tmp_path):
    """A value changed after the load is named, and nothing is undone."""
    url = _store(tmp_path, [{"first_name": "Ada", "last_name": "Quist", "email": "ada.quist@reed.example"}])
    new = pd.DataFrame([{"first_name": "Ada", "last_name": "Quist", "email": "ada.quist@reed.example", "city": "Birchmere"}])
    brujula.plan(new, against=url).write(tmp_path / "plan")
    done = brujula.load(tmp_path / "plan", into=url)
    with sqlite3.connect(tmp_path / "crm.db") as raw:
        raw.execute("update contact set city = 'Otter Point'")
    raw.close()
    with pytest.raises(StoreError, match='city of record C-0 is now "Otter Point", the load wrote "Birchmere"'):
        brujula.undo(done.id, into=url)
    assert [x.state for x in brujula.history(url)] == ["loaded", "loaded"]


def test_half_written_folder_never_appears(tmp_path):
    """A place that holds something else is refused, and left as it was."""
    (tmp_path / "plan").mkdir()
    (tmp_path / "plan" / "mine.txt").write_text("keep")
    old, new = _frames([], [{"first_name": "Ada"}])
    with pytest.raises(PlanError, match="something that is no plan folder stands there"):
        brujula.plan(new, against=old, entity="contact").write(tmp_path / "plan")
    assert [p.name for p in tmp_path.iterdir()] == ["plan"]
