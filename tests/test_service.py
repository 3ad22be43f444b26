"""The simulated CRM over HTTP: its description holds, faults are borne, loads cut off anywhere are finished or rolled back."""

import json
import os
import subprocess
import sys

import hypothesis
import pandas as pd
import pytest
import schemathesis
from hypothesis import strategies
from schemathesis.generation import GenerationMode

import brujula
from brujula.demo import maker
from brujula.errors import PlanError, StoreError, UsageError
from brujula.standin.app import RECORDS, create_app
from brujula.standin.faults import Faults
from brujula.standin.serve import serving
from brujula.stores import open_store
from brujula.stores.http import HttpStore
from brujula.together import plan_together

PEOPLE = [(maker.GIVEN[i], maker.FAMILY[i], f"{maker.FAMILY[i].lower()}{i}@reed.example", "") for i in range(60)]
HEAD = ["given_name", "family_name", "email", "phone"]


def test_the_description_holds():
    """Requests made from the OpenAPI document are answered as it says; one that lacks a condition is 428 (RFC 6585), which the check does not know."""
    schema = schemathesis.openapi.from_wsgi("/openapi.json", app := create_app())
    unknown = schemathesis.checks.CHECKS.get_one("missing_required_header")
    for operation in (found.ok() for found in schema.get_all_operations()):

        @hypothesis.settings(max_examples=12, suppress_health_check=list(hypothesis.HealthCheck))
        @hypothesis.given(strategies.one_of(*(operation.as_strategy(generation_mode=mode) for mode in GenerationMode)))
        def holds(case):
            case.call_and_validate(excluded_checks=[unknown])

        holds()
    app.extensions[RECORDS].close()


@pytest.fixture
def crm(tmp_path, monkeypatch):
    """A service with sixty contacts, and a plan that changes thirty of them, creates twenty, and merges two."""
    monkeypatch.setenv("BRUJULA_JOURNALS", str(tmp_path / "journals"))
    with serving(0, str(tmp_path / "crm.db")) as url:
        doubles = [("Ada", "Quist", "ada@quist.example", ""), ("Ada", "Quist", "ada@quist.example", "212-555-0147")]
        _fill(url, [*PEOPLE, *doubles])
        rows = [(g, f, m, f"305-555-{100 + i:04}") for i, (g, f, m, _) in enumerate(PEOPLE[:30])]
        rows += [(maker.GIVEN[-i], maker.FAMILY[100 + i], f"n{i}@comer.example", "") for i in range(20)]
        rows += [("Ada", "Quist", "ada@quist.example", "212-555-0147")]
        pd.DataFrame(rows, columns=HEAD).to_csv(tmp_path / "list.csv", index=False)
        plan = brujula.plan(str(tmp_path / "list.csv"), against=url)
        assert (plan.counts["create"], plan.counts["update"], plan.counts["merge"]) == (20, 30, 1)
        plan.write(tmp_path / "plan")
        yield url, tmp_path


def _fill(url, rows):
    with HttpStore(url) as store:
        told = [{k: v for k, v in zip(HEAD, row, strict=True) if v} for row in rows]
        store.batch("contacts", [{"do": "create", "duplicates": "allow", "values": values} for values in told])


def _held(url):
    with open_store(url) as store:
        return store.read("contact").to_pylist()


def test_load_and_undo(crm):
    """A load does what the plan says, the same list again is unchanged, undo brings every value back, ids too."""
    url, folder = crm
    before = _held(url)
    done = brujula.load(folder / "plan", into=url)
    assert (done.created, done.updated, done.merged, done.held) == (20, 30, 1, 0)
    assert len(_held(url)) == 81
    assert set(brujula.plan(str(folder / "list.csv"), against=url).outcomes["outcome"]) == {"unchanged"}
    with pytest.raises(PlanError, match="was loaded as L1"):
        brujula.load(folder / "plan", into=url)
    brujula.undo(done.id, into=url)
    assert _held(url) == before
    again = brujula.load(folder / "plan", into=url)
    assert (again.created, len(_held(url))) == (20, 81)
    brujula.undo(again.id, into=url)
    assert _held(url) == before
    assert [x.state for x in brujula.history(url)] == ["undone", "undone"]


def test_what_the_service_refuses_is_failed_with_its_words(crm):
    """A likely duplicate, a value it does not take, a record changed since: named in failed.csv, the others go on."""
    url, folder = crm
    with HttpStore(url) as store:
        one = next(r for r in store.records("contact") if r["email"] == PEOPLE[3][2])
        store.batch("contacts", [{"do": "change", "id": one["id"], "version": one["version"], "values": {"phone": "999"}}])
        store.batch("contacts", [{"do": "create", "values": {"family_name": "Elsewho", "email": "n5@comer.example"}}])
    done = brujula.load(folder / "plan", into=url)
    assert (done.created, done.updated, done.held) == (19, 29, 2)
    failed = pd.read_csv(folder / "plan" / "failed.csv", dtype=str)
    assert 'is now "999"' in failed["problem"][0] and "likely duplicate: there already: C" in failed["problem"][1]
    assert list(failed["email"]) == [PEOPLE[3][2], "n5@comer.example"]


@pytest.mark.parametrize(
    "faults", [{"lost": 3}, {"half": 3}, {"error": 2}, {"lost": 5, "half": 7, "error": 6, "slow": 19}, {"rate": 25}]
)
def test_faults_change_nothing_but_the_time(crm, faults):
    """Lost and half answers, errors and limits: every record is made once, every value written once, and all of it taken back."""
    url, folder = crm
    with serving(0, str(folder / "crm.db"), Faults(**faults)) as shaky:
        before = _held(url)
        done = brujula.load(folder / "plan", into=shaky)
        assert (done.created, done.updated, done.merged, done.held) == (20, 30, 1, 0)
        assert len(_held(url)) == 81
        brujula.undo(done.id, into=shaky)
        assert _held(url) == before


KILLER = """
import os, random, signal, sys, time
import brujula, brujula.loading.remote, brujula.loading.results, brujula.stores.http as http
plan, url, journals, n, roll = sys.argv[1:6]
os.environ["BRUJULA_JOURNALS"] = journals
http.BATCH = brujula.loading.remote.BATCH = 4
rng = random.Random(5)
for i in range(int(n)):
    child = os.fork()
    if child == 0:
        try:
            brujula.load(plan, into=url)
        except BaseException:
            os._exit(1)
        os._exit(0)
    time.sleep(rng.random() * (0.3 + i / 40))  # a slow machine gets further each time
    os.kill(child, signal.SIGKILL)
    _, status = os.waitpid(child, 0)
    if os.WIFEXITED(status):
        break
print(i + 1)
"""


def _killed(folder, url, n):
    command = [sys.executable, "-c", KILLER, str(folder / "plan"), url, os.environ["BRUJULA_JOURNALS"], str(n), ""]
    return subprocess.run(command, check=True, capture_output=True, text=True).stdout


def test_a_load_killed_again_and_again_ends_as_one_that_was_not(crm):
    """Killed at random points until it gets through, with faults besides: the end is that of an uninterrupted load, ids and all."""
    url, folder = crm
    brujula.load(folder / "plan", into=url)
    whole = _held(url)
    brujula.undo("L1", into=url)
    with serving(0, str(folder / "crm.db"), Faults(lost=12)) as shaky:
        assert int(_killed(folder, shaky, 60)) > 1
        if brujula.history(shaky)[-1].state != "loaded":
            brujula.load(folder / "plan", into=shaky)
    ended = _held(url)
    fields = ["given_name", "family_name", "email", "phone"]
    assert sorted([r[f] for f in fields] for r in ended) == sorted([r[f] for f in fields] for r in whole)
    assert len({r["id"] for r in ended}) == 81


def test_a_load_cut_off_is_rolled_back(crm):
    """--roll-back takes what was done back; where nothing was cut off it says so."""
    url, folder = crm
    before = _held(url)
    _killed(folder, url, 1)
    state = [x.state for x in brujula.history(url)]
    if state == ["loading"]:
        with pytest.raises(PlanError, match="was cut off; load its plan again"):
            brujula.undo("L1", into=url)
        assert brujula.load(folder / "plan", into=url, roll_back=True).state == "undone"
    elif state == ["loaded"]:
        brujula.undo("L1", into=url)
    assert _held(url) == before
    with pytest.raises(UsageError, match="nothing to roll back"):
        brujula.load(folder / "plan", into=url, roll_back=True)


def test_a_merged_account_takes_its_contacts_with_it(tmp_path, monkeypatch):
    """Contacts of an account that is merged away point at the survivor, and back again when that is undone."""
    monkeypatch.setenv("BRUJULA_JOURNALS", str(tmp_path / "journals"))
    with serving(0, str(tmp_path / "crm.db")) as url:
        with HttpStore(url) as store:
            firm = {"name": "Harrow Reed Works", "website": "harrow.example", "phone": "212-555-0147"}
            made = store.batch(
                "accounts", [{"do": "create", "values": firm | {"city": c}, "duplicates": "allow"} for c in ("Yarrow", "")]
            )
            ids = [m["record"]["id"] for m in made]
            store.batch("contacts", [{"do": "create", "values": {"family_name": "Quist", "account_id": i}} for i in ids])
        swept = brujula.sweep(url, entity="account")
        swept.write(tmp_path / "plan")
        done = brujula.load(tmp_path / "plan", into=url)
        assert {r["account_id"] for r in _held(url)} == {swept.actions["record_id"][0]}
        brujula.undo(done.id, into=url)
        assert [r["account_id"] for r in _held(url)] == ids


def test_tokens_are_sent_and_never_shown(tmp_path, monkeypatch):
    """Without the token one message says where to put it; with it all goes well; it stands in no file."""
    monkeypatch.setenv("BRUJULA_JOURNALS", str(tmp_path / "journals"))
    with serving(0, token="sesame-77") as url:
        with pytest.raises(StoreError, match="BRUJULA_TOKEN"):
            _held(url)
        monkeypatch.setenv("BRUJULA_TOKEN", "sesame-77")
        _fill(url, PEOPLE[:3])
        assert len(_held(url)) == 3
    assert not [p for p in tmp_path.rglob("*") if p.is_file() and b"sesame-77" in p.read_bytes()]


def test_a_service_that_is_not_there(tmp_path, monkeypatch):
    """One message, no trace, exit code 3."""
    monkeypatch.setattr("brujula.stores.http._TRIES", 2)
    (tmp_path / "list.csv").write_text("given_name,family_name\nAda,Quist\n")
    with pytest.raises(StoreError, match="no whole answer"):
        brujula.plan(str(tmp_path / "list.csv"), against="http://127.0.0.1:9")


def test_pages_and_conditions():
    """The next page is named in Link; an unchanged record answers 304; a merge patch takes a null out."""
    client = (app := create_app()).test_client()
    for i in range(3):
        client.post("/contacts", json={"family_name": f"F{i}", "phone": "1"}, headers={"Idempotency-Key": f"k{i}"})
    same = client.post("/contacts", json={"family_name": "F2", "phone": "1"}, headers={"Idempotency-Key": "k2"})
    assert same.status_code == 201 and same.get_json()["id"] == "C000003"
    first = client.get("/contacts?limit=2")
    assert first.headers["Link"] == '</contacts?limit=2&after=2>; rel="next"'
    assert [r["id"] for r in client.get("/contacts?limit=2&after=2").get_json()["items"]] == ["C000003"]
    assert client.get("/contacts/C000001", headers={"If-None-Match": '"1"'}).status_code == 304
    patch = {"data": json.dumps({"phone": None}), "content_type": "application/merge-patch+json"}
    assert client.patch("/contacts/C000001", **patch, headers={"If-Match": '"7"'}).status_code == 412
    assert "phone" not in client.patch("/contacts/C000001", **patch, headers={"If-Match": '"1"'}).get_json()
    app.extensions[RECORDS].close()


def test_a_record_a_load_touches_twice(tmp_path, monkeypatch):
    """A firm that changes, and whose parent is merged away in the same load, gets both; one that belonged to its own double is not its own parent."""
    monkeypatch.setenv("BRUJULA_JOURNALS", str(tmp_path / "journals"))
    with serving(0, str(tmp_path / "crm.db")) as url:
        firm = {"name": "Harrow Reed Works", "website": "harrow.example", "phone": "212-555-0147", "city": "Yarrow"}
        with HttpStore(url) as store:
            told = [
                firm,
                firm,
                {"name": "Lind Brass Band", "website": "lind.example", "city": "Rookwood", "parent_id": "A000002"},
            ]
            store.batch("accounts", [{"do": "create", "values": values, "duplicates": "allow"} for values in told])
            store.batch("accounts", [{"do": "change", "id": "A000001", "version": 1, "values": {"parent_id": "A000002"}}])
            before = list(store.records("account"))
        rows = [
            ["Harrow Reed Works", "harrow.example", "", "Yarrow"],
            ["Lind Brass Band", "lind.example", "305-555-0111", "Rookwood"],
        ]
        pd.DataFrame(rows, columns=["name", "website", "phone", "city"]).to_csv(tmp_path / "list.csv", index=False)
        plan = brujula.plan(str(tmp_path / "list.csv"), against=url, entity="account")
        assert list(plan.outcomes["outcome"]) == ["merge", "update"]
        plan.write(tmp_path / "plan")
        done = brujula.load(tmp_path / "plan", into=url)
        assert (done.merged, done.updated, done.held) == (1, 1, 0)
        with HttpStore(url) as store:
            held = {r["name"]: r for r in store.records("account")}
        survivor = plan.actions["record_id"][0]
        assert held["Lind Brass Band"]["parent_id"] == survivor and held["Lind Brass Band"]["phone"] == "305-555-0111"
        assert held["Harrow Reed Works"].get("parent_id") != survivor
        brujula.undo(done.id, into=url)
        with HttpStore(url) as store:
            assert [{**r, "version": 0} for r in store.records("account")] == [{**r, "version": 0} for r in before]


def test_losers_left_inactive(tmp_path, monkeypatch):
    """Where the policy leaves the losers of a merge in, they are inactive at the service and no longer matched; undo makes them what they were."""
    monkeypatch.setenv("BRUJULA_JOURNALS", str(tmp_path / "journals"))
    with serving(0, str(tmp_path / "crm.db")) as url:
        _fill(url, [("Ada", "Quist", "ada@quist.example", ""), ("Ada", "Quist", "ada@quist.example", "212-555-0147")])
        before = _held(url)
        (tmp_path / "p.toml").write_text('[outcomes]\nlosers = "deactivate"\n')
        swept = brujula.sweep(url, policy=str(tmp_path / "p.toml"), entity="contact")
        swept.write(tmp_path / "plan")
        done = brujula.load(tmp_path / "plan", into=url)
        assert done.merged == 1
        now = {r["id"]: r for r in _held(url)}
        gone = swept.actions["merged_ids"][0]
        assert (len(now), now[gone]["active"]) == (2, "no")
        assert brujula.sweep(url, policy=str(tmp_path / "p.toml"), entity="contact").actions.empty
        brujula.undo(done.id, into=url)
        assert [{**r, "active": r.get("active") or ""} for r in _held(url)] == [
            {**r, "active": r.get("active") or ""} for r in before
        ]


@pytest.mark.parametrize(("how", "phone", "gone"), [("keep_newer", "999", False), ("override", "", True)])
def test_what_was_changed_since_is_kept_or_taken_back(crm, how, phone, gone):
    """A value changed after the load stops an undo; it is left as it is, or taken back as well, as the call says."""
    url, folder = crm
    before = {r["id"]: r for r in _held(url)}
    done = brujula.load(folder / "plan", into=url)
    with HttpStore(url) as store:
        one = next(r for r in store.records("contact") if r["email"] == PEOPLE[3][2])
        store.batch("contacts", [{"do": "change", "id": one["id"], "version": one["version"], "values": {"phone": "999"}}])
    with pytest.raises(StoreError, match=f'phone of record {one["id"]} is now "999"'):
        brujula.undo(done.id, into=url)
    brujula.undo(done.id, into=url, **{how: True})
    after = {r["id"]: r for r in _held(url)}
    assert (after[one["id"]].get("phone") or "") == phone
    others = [i for i in before if i != one["id"]]
    assert {i: after[i] for i in others} == {i: before[i] for i in others}
    assert (after == before) is gone


def test_a_journal_that_cannot_be_kept(crm, monkeypatch):
    """Without a place for the journal nothing is sent, and the message names the place."""
    url, folder = crm
    (folder / "taken").write_text("a file")
    monkeypatch.setenv("BRUJULA_JOURNALS", str(folder / "taken" / "journals"))
    before = _held(url)
    with pytest.raises(StoreError, match=r"taken/journals: the journal of .* cannot be kept there"):
        brujula.load(folder / "plan", into=url)
    assert _held(url) == before


def test_loads_there_are_none_of(crm):
    """An unknown load is named, and how to list those there are."""
    url, _ = crm
    with pytest.raises(UsageError, match=r"no load L9; `brujula history .*` lists them"):
        brujula.undo("L9", into=url)
    with pytest.raises(UsageError, match='"nine" is no load; loads are called L1, L2'):
        brujula.undo("nine", into=url)


def test_contacts_and_their_accounts_at_a_service(tmp_path, monkeypatch):
    """A roster with new firms: firms are made first, contacts tied to them; undone newest first, the service is as it was."""
    monkeypatch.setenv("BRUJULA_JOURNALS", str(tmp_path / "journals"))
    with serving(0, str(tmp_path / "crm.db")) as url:
        with HttpStore(url) as store:
            store.batch("accounts", [{"do": "create", "values": {"name": "Harrow School", "city": "Yarrow"}}])
        _fill(url, PEOPLE[:3])
        rows = [("Zoe", "Wren", "zoe@wren.example", "Harrow School"), ("Max", "Lind", "max@lind.example", "Lind Brass Band")]
        pd.DataFrame(rows, columns=["given_name", "family_name", "email", "account"]).to_csv(tmp_path / "list.csv", index=False)
        before, firms = _held(url), _firms(url)
        plan = plan_together(str(tmp_path / "list.csv"), url, url)
        assert plan.accounts.counts["create"] == 1
        plan.write(tmp_path / "plan")
        brujula.load(tmp_path / "plan", into=url)
        made = {r["family_name"]: r for r in _held(url) if r["family_name"] in ("Wren", "Lind")}
        named = {r["id"]: r["name"] for r in _firms(url)}
        assert {n: named[r["account_id"]] for n, r in made.items()} == {"Wren": "Harrow School", "Lind": "Lind Brass Band"}
        for load in reversed(brujula.history(url)):
            brujula.undo(load.id, into=url)
        assert (_held(url), _firms(url)) == (before, firms)


def _firms(url):
    with open_store(url) as store:
        return store.read("account").to_pylist()
