"""A plan carried out on a file: a new file, the old one untouched; what changed meanwhile is held and named."""

import fcntl

import pandas as pd
import pytest

import brujula
from brujula.errors import BrujulaError, StoreError
from brujula.intake.read import read_list
from brujula.policy.model import OutcomesPolicy, Policy
from brujula.stores.http import HttpStore
from tests.command import run

OLD = (
    "id,first_name,last_name,email,phone,active\n"
    "C-1,Ada,Quist,ada@quist.example,,yes\n"
    "C-2,Ada,Quist,ada@quist.example,212-555-0147,yes\n"
    "C-3,Bob,Ames,bob@ames.example,,yes\n"
    "C-4,Zoe,Wren,zoe@wren.example,,yes\n"
)
NEW = (
    "first_name,last_name,email,phone\n"
    "Ada,Quist,ada@quist.example,212-555-0147\n"
    "Bob,Ames,bob@ames.example,305-555-0111\n"
    "Carla,Lind,carla@lind.example,\n"
)


@pytest.fixture
def planned(tmp_path):
    """A plan of one merge, one update and one creation, in `plan`, on `old.csv`."""
    (tmp_path / "old.csv").write_text(OLD)
    (tmp_path / "new.csv").write_text(NEW)

    def make(**outcomes):
        policy = Policy.default("contact").model_copy(update={"outcomes": OutcomesPolicy(**outcomes)})
        plan = brujula.plan(tmp_path / "new.csv", against=tmp_path / "old.csv", policy=policy)
        assert [plan.counts[k] for k in ("merge", "update", "create")] == [1, 1, 1]
        plan.write(tmp_path / "plan")
        return plan

    return make, tmp_path


def _rows(path):
    return read_list(path).table.to_pandas().set_index("id")


def test_a_new_file_is_written(planned):
    """The merged record is gone, the value is filled, the new record is there; the old file is as it was."""
    make, folder = planned
    plan = make()
    done = brujula.load(folder / "plan", into=str(folder / "out.csv"))
    assert (done.created, done.updated, done.merged, done.held) == (1, 1, 1, 0)
    out = _rows(folder / "out.csv")
    gone = plan.actions.loc[plan.actions["kind"] == "merge", "merged_ids"].iloc[0]
    assert gone not in out.index
    assert out.loc["C-3", "phone"] == "305-555-0111"
    assert out.loc["C-4"].tolist() == ["Zoe", "Wren", "zoe@wren.example", "", "yes"]
    assert out["last_name"].tolist().count("Lind") == 1
    assert (folder / "old.csv").read_text() == OLD


def test_losers_may_stay_inactive(planned):
    """Where the policy leaves them in, records merged away are in the new file as inactive."""
    make, folder = planned
    plan = make(losers="deactivate")
    brujula.load(folder / "plan", into=str(folder / "out.csv"))
    out = _rows(folder / "out.csv")
    gone = plan.actions.loc[plan.actions["kind"] == "merge", "merged_ids"].iloc[0]
    assert out["active"].to_dict() == {i: "no" if i == gone else out["active"][i] for i in out.index}
    assert len(out) == 5


@pytest.mark.parametrize(
    ("before", "after", "why"),
    [
        ("bob@ames.example,,yes", "bob@ames.example,999,yes", 'phone of record C-3 is now "999"; the plan saw ""'),
        ("C-3,Bob,Ames,bob@ames.example,,yes\n", "", "record C-3 is no longer in "),
    ],
)
def test_what_changed_since_the_plan_is_held(planned, before, after, why):
    """A record that was changed, or is gone, since the plan was made: its action is held and named, the others are carried out."""
    make, folder = planned
    make()
    (folder / "old.csv").write_text(OLD.replace(before, after))
    done = brujula.load(folder / "plan", into=str(folder / "out.csv"))
    assert (done.created, done.updated, done.merged, done.held) == (1, 0, 1, 1)
    assert why in done.reasons[0][1]


def test_the_same_file_is_not_written_over(planned):
    """The list of records a plan was made on is never its own target."""
    make, folder = planned
    make()
    with pytest.raises(BrujulaError):
        brujula.load(folder / "plan", into=str(folder / "old.csv"))
    assert (folder / "old.csv").read_text() == OLD


@pytest.mark.parametrize("suffix", [".tsv", ".xlsx", ".jsonl", ".parquet", ".csv.gz"])
def test_every_format_takes_a_load(planned, suffix):
    """The new file may be of any format that is written."""
    make, folder = planned
    make()
    brujula.load(folder / "plan", into=str(folder / f"out{suffix}"))
    assert _rows(folder / f"out{suffix}").loc["C-3", "phone"] == "305-555-0111"


def test_one_load_at_a_time(tmp_path, monkeypatch):
    """A second load to a service waits for the first, and says so when it does not end."""
    monkeypatch.setenv("BRUJULA_JOURNALS", str(tmp_path))
    one, other = HttpStore("http://127.0.0.1:9"), HttpStore("http://127.0.0.1:9")
    with (
        one.alone(),
        pytest.raises(StoreError, match="another load is under way; run this again when it is done"),
        other.alone(0.1),
    ):
        pass
    with other.alone(0.1):
        lock = next(p for p in tmp_path.rglob("*.lock"))
        with lock.open("a") as held, pytest.raises(OSError, match="unavailable"):
            fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)


def test_frames_come_and_go():
    """A plan of frames says what a plan of files says."""
    old = pd.DataFrame([line.split(",") for line in OLD.splitlines()[1:]], columns=OLD.splitlines()[0].split(","))
    new = pd.DataFrame([line.split(",") for line in NEW.splitlines()[1:]], columns=NEW.splitlines()[0].split(","))
    plan = brujula.plan(new, against=old)
    assert plan.outcomes["outcome"].tolist() == ["merge", "update", "create"]
    assert list(plan.changes.columns)[:4] == ["action", "record_id", "field", "before"]


def test_what_one_column_holds_of_several_fields(tmp_path):
    """Fields that share a column of the old file get columns of their own: nothing of a new record is written over another of its values."""
    reached = [f'{i},Quist{chr(97 + i)},q{i}@quist.example / 212-555-01{i:02},"Orme, TX 7500{i}"' for i in range(8)]
    (tmp_path / "old.csv").write_text("\n".join(["id,Surname,Contact details,City", *reached, ""]))
    (tmp_path / "new.csv").write_text(
        "Surname,Email,Phone,City,State,ZIP\nWren,zoe@wren.example,305-555-0111,Yarrow,OR,97001\nQuista,q0@quist.example,,Orme,TX,75009\n"
    )
    plan = brujula.plan(tmp_path / "new.csv", against=tmp_path / "old.csv")
    plan.write(tmp_path / "plan")
    brujula.load(tmp_path / "plan", into=str(tmp_path / "out.csv"))
    out, wren = _rows(tmp_path / "out.csv"), {"zoe@wren.example", "305-555-0111", "Yarrow", "OR", "97001"}
    assert list(plan.outcomes["outcome"]) == ["create", "unchanged"]
    assert wren <= set(out.iloc[-1].tolist())
    third = {"q3@quist.example / 212-555-0103", "q3@quist.example", "212-555-0103", "Orme, TX 75003", "Orme", "75003"}
    assert third <= set(out.iloc[3].tolist())
    again = brujula.plan(tmp_path / "new.csv", against=tmp_path / "out.csv")
    assert again.outcomes["record_id"].tolist() == ["new-1", "0"] and set(again.outcomes["outcome"]) == {"unchanged"}
    assert again.taking.existing.columns["city"] == "brujula city"
    brujula.load(tmp_path / "old.csv", into=f"sqlite:///{tmp_path}/crm.db")
    run("export", f"sqlite:///{tmp_path}/crm.db", "--out", tmp_path / "all.csv")
    assert _rows(tmp_path / "all.csv").iloc[3][["email", "phone", "city", "postal_code"]].tolist() == [
        "q3@quist.example",
        "212-555-0103",
        "Orme",
        "75003",
    ]


def test_an_own_export_is_taken_back_word_for_word(tmp_path):
    """What a store wrote fills another one with the same values, also where a cell looks as if it held several fields."""
    rows = "".join(f'{i},Quist{chr(97 + i)},"Orme, TX 7500{i}",Player at Reed Works\n' for i in range(8))
    (tmp_path / "own.csv").write_text("id,family_name,city,job_title\n" + rows)
    for name, source in (("one", tmp_path / "own.csv"), ("two", tmp_path / "one.csv")):
        brujula.load(source, into=f"sqlite:///{tmp_path}/{name}.db")
        run("export", f"sqlite:///{tmp_path}/{name}.db", "--out", tmp_path / f"{name}.csv")
    first, second = _rows(tmp_path / "one.csv"), _rows(tmp_path / "two.csv")
    assert first.loc["3", ["city", "job_title"]].tolist() == ["Orme, TX 75003", "Player at Reed Works"]
    assert first.equals(second)
