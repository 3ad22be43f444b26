"""The command line as a process: results, exit codes, messages, and no stack trace."""

import json
import re
import subprocess
import sys

import pytest

import brujula
from tests.command import forked, real, run

OLD = "id,first_name,last_name,email,phone\nC-1,Ada,Quist,ada@quist.example,\nC-2,Robert,Ames,bob@ames.example,212-555-0147\n"
NEW = "Given name;Surname;Mail;Tel\nAda;Quist;ada@quist.example;212-555-0101\nCarla;Wren;carla@wren.example;\n"


@pytest.fixture
def lists(tmp_path):
    """Two small lists and an empty place."""
    (tmp_path / "old.csv").write_text(OLD)
    (tmp_path / "new.csv").write_text(NEW)
    return tmp_path


def test_help_is_light():
    """`--help` loads neither pandas, numba nor SQLAlchemy."""
    code = (
        "import sys\nsys.argv = ['brujula', '--help']\nfrom brujula.cli.main import run\ntry:\n    run()\nexcept SystemExit:\n    pass\n"
        "assert not {'pandas', 'numba', 'sqlalchemy', 'numpy'} & set(sys.modules)"
    )
    subprocess.run([sys.executable, "-c", code], check=True, stdout=subprocess.DEVNULL)


def test_a_command_does_without_pandas_and_leaves_it_to_others(lists):
    """`plan` never loads pandas; after it a frame can be read and made as ever."""
    code = (
        "import sys\nsys.argv = ['brujula', 'plan', 'new.csv', '--against', 'old.csv', '--out', 'plan']\nfrom brujula.cli.main import run\n"
        "try:\n    run()\nexcept SystemExit:\n    pass\nassert 'pandas' not in sys.modules\n"
        "import brujula, pandas as pd\nold = pd.read_csv('old.csv')\n"
        "assert len(brujula.plan(pd.read_csv('new.csv'), against=old).outcomes) == len(pd.read_csv('plan/outcomes.csv'))"
    )
    subprocess.run([sys.executable, "-c", code], check=True, stdout=subprocess.DEVNULL, cwd=lists)


def test_the_package_is_the_command():
    """`python -m brujula` is `brujula`."""
    asked = [sys.executable, "-m", "brujula", "--version"]
    assert subprocess.run(asked, check=True, capture_output=True, text=True).stdout == f"brujula {brujula.__version__}\n"


def test_plan_load_history_undo(lists):
    """The whole job: plan, load, history, a second plan with nothing to do, undo."""
    run("load", "old.csv", "--into", "sqlite:///crm.db", cwd=lists)
    assert "1  create" in run("plan", "new.csv", "--against", "sqlite:///crm.db", "--out", "plan", cwd=lists)
    assert "L2" in run("load", "plan", "--into", "sqlite:///crm.db", cwd=lists)
    again = json.loads(run("plan", "new.csv", "--against", "sqlite:///crm.db", "--out", "again", "--json", cwd=lists))
    assert again["outcomes"]["unchanged"] == 2
    assert "undone" in run("undo", "L2", "--into", "sqlite:///crm.db", cwd=lists)
    assert [x["state"] for x in json.loads(run("history", "sqlite:///crm.db", "--json", cwd=lists))] == ["loaded", "undone"]
    run("export", "sqlite:///crm.db", "--out", "back.csv", cwd=lists)
    assert '"C-1","Ada","Quist"' in (lists / "back.csv").read_text()


def test_plan_folder_holds_what_it_should(lists):
    """Every file of the folder is there, and nothing else; the counts add up."""
    run("plan", "new.csv", "--against", "old.csv", "--out", "plan", cwd=lists)
    names = {
        "outcomes",
        "actions",
        "changes",
        "pairs",
        "groups",
        "rejects",
        "create",
        "update",
        "merge",
        "incoming_with_ids",
        "review",
        "rows",
    }
    assert {p.name for p in (lists / "plan").iterdir()} == {f"{n}.csv" for n in names} | {
        "summary.json",
        "report.html",
        "review.xlsx",
        "matching.parquet",
    }
    found = json.loads((lists / "plan" / "summary.json").read_text())
    assert sum(found["outcomes"].values()) == found["rows"] == 2
    assert (lists / "plan" / "update.csv").read_text().splitlines() == ["action,id,phone", '"A1","C-1","212-555-0101"']


def test_review_exits_with_one(lists):
    """What needs a person is said by the exit code."""
    (lists / "new.csv").write_text("Given name;Surname\nAda;Quist\n;\n")
    run("plan", "new.csv", "--against", "old.csv", "--as", "contact", "--out", "plan", cwd=lists, code=1)


@pytest.mark.parametrize(
    ("args", "code", "message"),
    [
        (["plan", "none.csv", "--against", "old.csv", "--out", "p"], 2, "none.csv: no such file"),
        (["plan", "new.csv", "--against", "new.csv", "--out", "p"], 2, "no column holds the records' ids"),
        (
            ["plan", "new.csv", "--against", "old.csv", "--as", "person", "--out", "p"],
            2,
            '"person" is no entity; accepted: contact, account',
        ),
        (["plan", "new.csv", "--against", "sqlite:///none.db", "--out", "p"], 3, "no such store"),
        (["undo", "7", "--into", "sqlite:///crm.db"], 2, '"7" is no load; loads are called L1, L2'),
        (["check", "old.csv", "ada"], 2, "accepted: field=value"),
        (["demo", "--out", "old.csv/demo"], 2, "old.csv/demo: cannot be made"),
    ],
)
def test_errors_are_one_message(lists, args, code, message):
    """Wrong calls and inputs: exit code 2, a failing store 3, one message that says what to do, no half-written folder."""
    assert message in run(*args, cwd=lists, code=code)
    assert not (lists / "p").exists()
    assert not [p for p in lists.iterdir() if p.name.startswith(".")]


def test_a_file_name_that_is_no_text(lists):
    """A list off an old disk is read, and called by its bytes; a folder or a store of such a name is refused in words."""
    (lists / "caf\udce9.csv").write_text(NEW)
    told = json.loads(run("plan", "caf\udce9.csv", "--against", "old.csv", "--out", "p", "--json", cwd=lists))
    assert told["incoming"]["name"] == r"caf\xe9.csv"
    run("load", "p", "--into", "new-list.csv", cwd=lists)
    assert "has to be text" in run("plan", "new.csv", "--against", "old.csv", "--out", "p\udce9", cwd=lists, code=2)
    assert "has to be text" in run("load", "old.csv", "--into", "sqlite:///crm\udce9.db", cwd=lists, code=2)


def test_a_terminal_of_few_letters(lists, monkeypatch):
    """Where output is ASCII a person sees "?" for other letters, and a program gets every one."""
    (lists / "new.csv").write_text("Given name;Surname\nZo\u00eb;Quist\nAda;Quist\n")
    monkeypatch.setenv("PYTHONIOENCODING", "ascii")
    assert "Zo? | Ada" in run("inspect", "new.csv", cwd=lists, how=real)
    assert "Zo\u00eb" in str(json.loads(run("inspect", "new.csv", "--json", cwd=lists, how=real)))


def test_inspect_and_check(lists):
    """What is in a list; whether somebody is there."""
    found = json.loads(run("inspect", "old.csv", "--json", cwd=lists))
    assert [c["field"] for c in found["columns"]] == ["id", "given_name", "family_name", "email", "phone"]
    assert json.loads(
        run("check", "old.csv", "given_name=Bob", "family_name=Ames", "email=bob@ames.example", "--json", cwd=lists)
    )["record_ids"] == ["C-2"]


def test_policy_commands(lists):
    """A policy is checked, and told in words."""
    (lists / "p.toml").write_text('[update]\ncity = "replace"\n')
    assert "a policy for contacts" in run("policy", "check", "p.toml", cwd=lists)
    run("policy", "new", "new.csv", "--out", "new.toml", cwd=lists)
    assert '"Given name" = "given_name"' in (lists / "new.toml").read_text()
    assert "a policy for contacts, 4 columns" in run("policy", "check", "new.toml", cwd=lists)
    run("plan", "new.csv", "--against", "old.csv", "--policy", "new.toml", "--out", "plan", cwd=lists)
    assert "there already" in run("policy", "new", "new.csv", "--out", "new.toml", cwd=lists, code=2)
    assert "city: replaced by the list's." in run("policy", "show", "p.toml", cwd=lists)


def test_a_forked_command_is_the_installed_one(lists):
    """What the tests fork off says and returns what the installed command does, right or wrong."""
    for args in (("inspect", "new.csv", "--json"), ("check", "old.csv", "emial=x")):
        assert forked(*args, cwd=lists) == real(*args, cwd=lists)


def test_demo_runs_whole(tmp_path):
    """The demo: plan, load, nothing left to do, undo to the value."""
    out = run("demo", "--out", "demo", cwd=tmp_path, how=real)
    assert "The store is as it was, value for value." in out
    assert re.search(r"^\d+ unchanged, \d+ review, 1 reject$", out, re.M)


@pytest.mark.parametrize("name", ["files.py", "frames.py"])
def test_examples_run(name, tmp_path):
    """The examples do what they say."""
    from pathlib import Path

    example = Path(__file__).parent.parent / "examples" / name
    done = subprocess.run([sys.executable, example], cwd=tmp_path, capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
    assert "as it was" in done.stdout or "unchanged" in done.stdout


@pytest.mark.parametrize(
    ("old", "new", "counts"),
    [
        ("id,first_name,last_name\n", "first_name,last_name\n", {}),
        ("id,first_name,last_name\n1,Ada,Quist\n", "first_name,last_name\n", {}),
        ("id,first_name,last_name\n", "first_name,last_name\nAda,Quist\n", {"create": 1}),
        ("id,first_name,last_name\n1,Ada,Quist\n", "first_name,last_name\nAda,Quist\n", {"review": 1}),
        ("id\n1\n2\n", "first_name,last_name\nAda,Quist\n", {"create": 1}),
        ("id,first_name,last_name\n1,Ada,Quist\n", "foo,bar\n1,2\n", {"reject": 1}),
        (
            "id,first_name,last_name\n1,Ada,Quist\n",
            "first_name,last_name\n=1+1,<script>\n" + "x" * 50_000 + ",y\n",
            {"create": 2},
        ),
        ("id,Name,Phone\n1,王小明,212-555-0147\n", "Name,Phone\n王小明,(212) 555-0147\n", {"unchanged": 1}),
        (
            "id,Name,Phone\n" + "".join(f"{i},Ada Quist,212-555-0147\n" for i in range(90)),
            "Name,Phone\nAda Quist,212-555-0147\n",
            {"merge": 1},
        ),
    ],
)
def test_odd_lists(tmp_path, old, new, counts):
    """No records, no rows, no known columns, hostile or endless cells, another script, ninety times the same: an answer, never a crash."""
    (tmp_path / "old.csv").write_text(old)
    (tmp_path / "new.csv").write_text(new)
    plan = brujula.plan(tmp_path / "new.csv", against=tmp_path / "old.csv", entity="contact")
    plan.write(tmp_path / "plan")
    assert {k: v for k, v in plan.counts.items() if v} == counts


def test_refusals_of_places(lists):
    """A place that cannot be written, a store that holds records, a load undone twice: refused with the reason."""
    assert "something that is no plan folder stands there" in run(
        "plan", "new.csv", "--against", "old.csv", "--out", "new.csv", cwd=lists, code=2
    )
    assert "cannot be made" in run("plan", "new.csv", "--against", "old.csv", "--out", "/proc/x", cwd=lists, code=2)
    run("load", "old.csv", "--into", "sqlite:///crm.db", cwd=lists)
    assert "a list fills an empty store only" in run("load", "old.csv", "--into", "sqlite:///crm.db", cwd=lists, code=3)
    run("undo", "L1", "--into", "sqlite:///crm.db", cwd=lists)
    assert "was undone already" in run("undo", "L1", "--into", "sqlite:///crm.db", cwd=lists, code=2)
    assert "cannot be opened" in run("load", "old.csv", "--into", "sqlite:////no/dir/x.db", cwd=lists, code=3)
