"""Open cases are settled once: on the terminal, in a workbook, in a file; what was decided stands until what was seen changes."""

import json
import os
import pty
import subprocess
import termios
import time

import openpyxl
import pandas as pd
import pytest

import brujula
from brujula.demo import maker
from brujula.errors import PlanError, UsageError
from brujula.review import decisions
from brujula.review.cases import cases, open_pairs, taken_from, unanswered
from brujula.review.holding import seen_keys
from tests.command import BRUJULA, forked, run

OLD = [
    ("C-1", "Matti", "Prill", "matti@post.example", "212-555-0147", "12 Mill St", "Birchmere"),
    ("C-2", "Kyle", "Portillo", "kyle@post.example", "305-555-0111", "9 Elm St", "Rookwood"),
    *((f"F-{i}", f"Given{i}", f"Filler{i * 13}", f"g{i}@filler.example", "", "", "") for i in range(30)),
]
NEW = [
    ("Matze", "Prill", "", "212-555-0147", "12 Mill St", "Birchmere"),
    ("K.", "Portillo", "", "", "9 Elm St", "Rookwood"),
    ("Carla", "Wren", "c@wren.example", "", "", ""),
]
HEAD = ["first_name", "last_name", "email", "phone", "street", "city"]


@pytest.fixture(params=["file", "store"])
def planned(tmp_path, request):
    """A folder with a plan that has two open pairs, and a function that plans again."""
    pd.DataFrame(OLD, columns=["id", *HEAD]).to_csv(tmp_path / "crm.csv", index=False)
    pd.DataFrame(NEW, columns=HEAD).to_csv(tmp_path / "new.csv", index=False)
    place = str(tmp_path / "crm.csv")
    if request.param == "store":
        place = f"sqlite:///{tmp_path}/crm.db"
        brujula.load(tmp_path / "crm.csv", into=place)

    def plan():
        made = brujula.plan(str(tmp_path / "new.csv"), against=place, entity="contact")
        made.write(tmp_path / "plan")
        return made

    assert list(plan().outcomes["outcome"]) == ["review", "review", "create"]
    return tmp_path / "plan", place, plan


def _decide(folder, place, answers):
    """Answer the open pairs in order of row: same, different or nothing."""
    chosen = [p.decided(a) for p, a in zip(open_pairs(folder), answers, strict=True) if a]
    decisions.keep(place, chosen)


def test_decisions_are_used_in_every_later_plan(planned):
    """Same links, different creates, and the reason says that somebody decided; nothing is asked twice."""
    folder, place, plan = planned
    _decide(folder, place, ["different", "same"])
    made = plan()
    assert list(made.outcomes["outcome"]) == ["create", "unchanged", "create"]
    assert "decided: the same" in made.outcomes["reason"][1]
    assert unanswered(open_pairs(folder), decisions.kept(place)) == []


def test_decisions_fall_when_what_was_seen_changes(planned, tmp_path):
    """A row that says something else is asked about again; the plan says which decision no longer holds."""
    folder, place, plan = planned
    _decide(folder, place, ["same", "same"])
    old = pd.read_csv(tmp_path / "crm.csv", dtype=str, keep_default_na=False)
    if place.endswith(".csv"):
        old.loc[0, "phone"] = "212-555-0147 ext 5"
        old.to_csv(place, index=False)
        made = plan()
        assert made.outcomes["outcome"][0] == "review"
        assert "what they say has changed since" in made.taking.decisions_stale[0]
    else:
        new = pd.read_csv(tmp_path / "new.csv", dtype=str, keep_default_na=False)
        new.loc[0, "city"] = "Yarrow"
        new.to_csv(tmp_path / "new.csv", index=False)
        assert plan().outcomes["outcome"][0] != "unchanged"


def test_a_decision_is_taken_back(planned):
    """What is taken back is asked again."""
    folder, place, plan = planned
    _decide(folder, place, ["same", ""])
    decisions.keep(place, [decisions.taken_back(decisions.latest(decisions.kept(place))[0])])
    assert plan().outcomes["outcome"][0] == "review"
    assert len(decisions.kept(place)) == 2


def test_workbook_round_trip(planned):
    """Decisions filled in in the workbook, its lines sorted otherwise, are read back; its data cells are locked."""
    folder, place, plan = planned
    book = openpyxl.load_workbook(folder / "review.xlsx")
    sheet = book["open pairs"]
    head = [c.value for c in sheet[1]]
    assert sheet.protection.sheet
    assert sheet.cell(2, head.index("left") + 1).protection.locked
    assert not sheet.cell(2, head.index("decision") + 1).protection.locked
    assert sheet.data_validations.dataValidation[0].formula1 == '"same,different"'
    lines = [[c.value for c in row] for row in sheet.iter_rows(min_row=2)]
    for r, line in enumerate(reversed(lines), 2):
        for c, value in enumerate(line, 1):
            sheet.cell(r, c).value = value
        sheet.cell(r, head.index("decision") + 1).value = "Same"
        sheet.cell(r, head.index("remark") + 1).value = "phoned"
    book.save(folder / "answers.xlsx")
    done = forked("review", folder, "--take", folder / "answers.xlsx")
    assert done.returncode == 0, done.stderr
    assert [d.remark for d in decisions.kept(place)] == ["phoned", "phoned"]
    assert (
        list(plan().outcomes["outcome"][:2]) == ["update", "unchanged"]
        or list(plan().outcomes["outcome"][:2]) == ["unchanged"] * 2
    )


@pytest.mark.parametrize(
    ("column", "value", "message"),
    [
        ("decision", "perhaps", 'line 2, column "decision": "perhaps"; accepted: same, different, or blank'),
        ("right", "C-999", 'line 2: "row 1" and "C-999" are no open pair'),
    ],
)
def test_wrong_answers_are_named_by_cell(planned, column, value, message):
    """An unknown answer and a changed id are named, and nothing is kept."""
    folder, place, _ = planned
    table = pd.read_csv(folder / "review.csv", dtype=str, keep_default_na=False).assign(decision="same")
    table.loc[0, column] = value
    table.to_csv(folder / "answers.csv", index=False)
    with pytest.raises(brujula.InputError) as caught:
        taken_from(folder, folder / "answers.csv")
    assert message in str(caught.value)
    assert decisions.kept(place) == []


def test_contradictions_are_found():
    """A same B and B same C leave no room for A different C; taking one back does."""
    seen = ("1", "2")
    said = [decisions.decided_now(a, b, v, seen) for a, b, v in [("A", "B", "same"), ("B", "C", "same"), ("C", "A", "different")]]
    assert decisions.contradictions(said) == ["A and C are called different, yet other decisions make them the same"]
    assert decisions.contradictions([*said, decisions.taken_back(said[0])]) == []


def test_the_terminal_is_left_and_come_back_to(planned):
    """One key an answer through a real terminal; what was answered is kept when it is left, and not asked again."""
    folder, place, plan = planned

    def press(keys):
        leader, follower = pty.openpty()
        process = subprocess.Popen(
            [BRUJULA, "review", str(folder)], stdin=follower, stdout=subprocess.PIPE, stderr=subprocess.STDOUT
        )
        os.close(follower)
        said = b""
        for number, key in enumerate(keys, 1):
            while said.count(b"probability") < number and (more := os.read(process.stdout.fileno(), 4096)):
                said += more
            while process.poll() is None and termios.tcgetattr(leader)[3] & termios.ICANON:
                time.sleep(0.02)  # a key pressed before the terminal gives single keys is thrown away
            os.write(leader, key.encode())
        said += process.communicate(timeout=60)[0]
        os.close(leader)
        return process.returncode, said.decode()

    code, said = press("sq")
    assert code == 1, said
    assert "case 1 of 2" in said
    assert len(decisions.kept(place)) == 1
    code, said = press("d")
    assert code == 0, said
    assert "case 1 of 1" in said
    assert sorted(d.verdict for d in decisions.kept(place)) == ["different", "same"]
    assert "review" not in list(plan().outcomes["outcome"])


def test_answers_about_one_row_open_no_row_loaded_before(tmp_path):
    """A row that is decided to be two records at once is held for it; the rows these were made of have nothing left to do."""
    rows = [
        ("Matti", "Prill", "matti@post.example", "212-555-0147", "12 Mill St", "Birchmere"),
        ("Matti", "Prill", "mprill@reed.example", "305-555-0111", "9 Elm St", "Rookwood"),
        ("Matti", "Prill", "", "", "", ""),
    ]
    place, folder = f"sqlite:///{tmp_path}/crm.db", tmp_path / "plan"
    pd.DataFrame(OLD[2:], columns=["id", *HEAD]).to_csv(tmp_path / "crm.csv", index=False)
    brujula.load(tmp_path / "crm.csv", into=place)

    def outcomes(listed):
        made = brujula.plan(pd.DataFrame(listed, columns=HEAD), against=place, entity="contact")
        made.write(folder)
        return made.outcomes["outcome"].tolist()

    assert outcomes(rows[:2]) == ["create", "create"]
    brujula.load(folder, into=place)
    assert outcomes(rows) == ["unchanged", "unchanged", "review"]
    _decide(folder, place, ["same", "same"])
    assert outcomes(rows) == ["unchanged", "unchanged", "review"]


def test_again_decides_anew(planned):
    """review --again plans the same list into the same folder, with what has been decided."""
    folder, place, _ = planned
    _decide(folder, place, ["same", "different"])
    done = forked("review", folder, "--again")
    assert done.returncode == 0, done.stderr
    assert list(pd.read_csv(folder / "outcomes.csv")["outcome"]) == ["unchanged", "create", "create"]


def test_cases_hang_together_and_come_in_order():
    """Pairs that share a row are one case; the case that bears on most comes first."""
    from brujula.review.cases import Pair

    def pair(left, right, p):
        return Pair(2, {"left": left, "right": right, "probability": str(p)})

    found = cases([pair("row 1", "A", 0.5), pair("row 2", "B", 0.9), pair("row 2", "C", 0.6)])
    assert [[p.cells["right"] for p in c.pairs] for c in found] == [["B", "C"], ["A"]]


def test_a_sweep_uses_decisions(tmp_path):
    """Two records called different are not merged by a later sweep; two called the same are."""
    pd.DataFrame(
        [
            ("1", "Ada", "Quist", "ada@q.example"),
            ("2", "Ada", "Quist", "ada@q.example"),
            ("3", "Bo", "Orr", "bo@o.example"),
            ("4", "Cy", "Lind", "c@l.example"),
        ],
        columns=["id", "first_name", "last_name", "email"],
    ).to_csv(tmp_path / "crm.csv", index=False)
    swept = brujula.sweep(str(tmp_path / "crm.csv"), entity="contact")
    assert swept.actions["merged_ids"].tolist() == ["1"] or swept.actions["merged_ids"].tolist() == ["2"]
    seen = seen_keys(swept.batch)
    decisions.keep(
        str(tmp_path / "crm.csv"),
        [
            decisions.decided_now("1", "2", "different", (seen[0], seen[1])),
            decisions.decided_now("3", "4", "same", (seen[2], seen[3])),
        ],
    )
    again = brujula.sweep(str(tmp_path / "crm.csv"), entity="contact")
    assert {*again.actions["record_id"], *again.actions["merged_ids"]} == {"3", "4"}


def test_a_sample_measures_precision(tmp_path):
    """Drawn denser where it is less certain, the same each time; its answers give a precision with an interval, and serve as labels."""
    from brujula.demo.generate import CONTACT_HEADINGS, ROSTER_HEADINGS, make

    world = make(71, 400, 50, 200)
    pd.DataFrame(world.contacts, columns=CONTACT_HEADINGS).to_csv(tmp_path / "crm.csv", index=False)
    pd.DataFrame(world.roster, columns=ROSTER_HEADINGS).to_csv(tmp_path / "new.csv", index=False)
    brujula.plan(str(tmp_path / "new.csv"), against=str(tmp_path / "crm.csv")).write(tmp_path / "plan")
    drawn = []
    for _ in range(2):
        run("review", tmp_path / "plan", "--sample", "30")
        drawn.append((tmp_path / "plan" / "sample.csv").read_bytes())
    assert drawn[0] == drawn[1]
    table = pd.read_csv(tmp_path / "plan" / "sample.csv", dtype=str, keep_default_na=False)
    assert len(table) == 30
    assert table["stands for"].astype(float).sum() == pytest.approx(
        pd.read_csv(tmp_path / "plan" / "outcomes.csv")["outcome"].isin(["update", "unchanged", "merge"]).sum(), abs=4
    )
    table.assign(decision=["same"] * 29 + ["different"]).to_csv(tmp_path / "answers.csv", index=False)
    told = run("review", tmp_path / "plan", "--take", tmp_path / "answers.csv")
    assert "30 looked at, 29 the same: measured precision of the automatic matches 0.9" in told.replace("\n", " ")
    (tmp_path / "p.toml").write_text('[match]\nlabels = "answers.csv"\n')
    fitted = brujula.plan(str(tmp_path / "new.csv"), against=str(tmp_path / "crm.csv"), policy=tmp_path / "p.toml")
    assert fitted.matched.model.slope != 1.0


def test_deciding_again_does_not_match_again(planned):
    """After a review the plan is decided from what matching found; when a record changed meanwhile it is matched anew."""
    folder, place, plan = planned
    first = json.loads((folder / "summary.json").read_text())
    assert "compare" in first["seconds"]
    forked("review", folder, "--again")
    second = json.loads((folder / "summary.json").read_text())
    assert "compare" not in second["seconds"]
    assert {k: v for k, v in second.items() if k != "seconds"} == {k: v for k, v in first.items() if k != "seconds"}


def test_decisions_go_out_and_come_back(planned, tmp_path):
    """Exported decisions are read by --take, once."""
    folder, place, plan = planned
    decisions.keep(place, [decisions.decided_now("C-1", "C-2", "same", ("a", "b"))])
    assert "1 decision in" in run("review", folder, "--export", tmp_path / "out.csv")
    decisions.keep(place, [decisions.taken_back(d) for d in decisions.latest(decisions.kept(place))])
    taken = forked("review", folder, "--take", tmp_path / "out.csv")
    assert "1 decision taken" in taken.stdout and len(decisions.latest(decisions.kept(place))) == 1
    again = forked("review", folder, "--take", tmp_path / "out.csv")
    assert "0 decisions taken" in again.stdout


def test_a_later_sweep_looks_only_at_what_changed(tmp_path):
    """--since: a new double of an old record is found; doubles seen before are not told again."""
    people = "".join(
        f"F-{i},{a},{b},{b.lower()}@x.example\n" for i, (a, b) in enumerate(zip(maker.GIVEN, maker.FAMILY, strict=False))
    )
    old = "id,first_name,last_name,email\nC-1,Ada,Quist,ada@q.example\nC-2,Ada,Quist,ada@q.example\n" + people
    (tmp_path / "a.csv").write_text(old)
    brujula.sweep(str(tmp_path / "a.csv")).write(tmp_path / "one")
    (tmp_path / "a.csv").write_text(old + "N-1,Abigail,Abbott,abbott@x.example\n")
    plan = brujula.sweep(str(tmp_path / "a.csv"), since=tmp_path / "one")
    assert [{a, *b.split(";")} for a, b in zip(plan.actions["record_id"], plan.actions["merged_ids"], strict=True)] == [
        {"F-0", "N-1"}
    ]
    with pytest.raises(PlanError, match="seen.csv: missing"):
        brujula.sweep(str(tmp_path / "a.csv"), since=tmp_path)


def test_a_group_and_an_explanation_in_a_notebook(tmp_path):
    """A group shows its members side by side; an explanation shows itself as text, its signs escaped."""
    (tmp_path / "a.csv").write_text(
        "id,first_name,last_name,email\nC-1,Ada,Quist <b>,ada@q.example\nC-2,Bob,Ames,bob@a.example\n"
    )
    (tmp_path / "n.csv").write_text("first_name,last_name,email\nAda,Quist <b>,ada@q.example\n")
    plan = brujula.plan(str(tmp_path / "n.csv"), against=str(tmp_path / "a.csv"))
    assert list(plan.group("G1").columns) == ["C-1", "row 1"] and "&lt;b&gt;" in plan.group("G1").to_html()
    assert plan.explain(1)._repr_html_().startswith("<pre>row 1: unchanged")
    with pytest.raises(UsageError, match='no group "G9"'):
        plan.group("G9")


def test_a_person_says_which_of_several_alike_is_meant(tmp_path):
    """Eight records of one name and nothing else, and a row of that name: what a person has said stands."""
    letters = "abdegiklmnoprstuvz"
    names = [f"{a}o{b}e{c}ham Brigade".title() for a in letters for b in letters for c in letters[:10]] + ["North Brigade"] * 8
    old, new = tmp_path / "crm.csv", tmp_path / "new.csv"
    pd.DataFrame({"id": [f"A-{n}" for n in range(len(names))], "name": names}).to_csv(old, index=False)
    pd.DataFrame({"name": ["North Brigade", *names[:200]]}).to_csv(new, index=False)
    brujula.plan(str(new), against=str(old), entity="account").write(tmp_path / "plan")
    found = [p for p in open_pairs(tmp_path / "plan") if "one of several alike" in p.cells["reason"]]
    assert len(found) == 8
    decisions.keep(str(old), [found[3].decided("same")])
    again = brujula.plan(str(new), against=str(old), entity="account").outcomes
    assert again[["outcome", "record_id"]].values[0].tolist() == ["unchanged", found[3].sides[1]]
