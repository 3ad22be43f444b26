"""Decisions in a readable form: existing records, a row, a policy, and what comes of it."""

import re

import pandas as pd
import pytest

import brujula
from brujula.demo import maker
from brujula.policy.model import Policy

HEAD = [
    "given_name",
    "family_name",
    "email",
    "phone",
    "account",
    "street",
    "city",
    "postal_code",
    "email_opt_out",
    "tags",
    "notes",
]
ADA = "Ada|Quist|ada.quist@reed.example|212-555-0147||12 Mill St|Birchmere||no|flute|"
OTHERS = [f"Given{i}|Filler{i * 13}|g{i}@filler.example|||||||||" for i in range(30)]


def _frame(lines, ids=None):
    rows = [(line.split("|") + [""] * 11)[:11] for line in lines]
    frame = pd.DataFrame(rows, columns=HEAD)
    return frame if ids is None else frame.assign(id=ids)


def _plan(existing, rows, policy=""):
    chosen = Policy.default("contact")
    if policy:
        import tempfile
        from pathlib import Path

        with tempfile.TemporaryDirectory() as folder:
            (Path(folder) / "p.toml").write_text(policy)
            chosen = Policy.read(Path(folder) / "p.toml", "contact")
    old = _frame([*existing, *OTHERS], [f"C-{i + 1}" for i in range(len(existing))] + [f"F-{i}" for i in range(len(OTHERS))])
    return brujula.plan(_frame(rows), against=old, policy=chosen, entity="contact")


SITUATIONS = [
    # what, existing, rows, policy, outcomes, changes on existing records as field=after
    ("nobody like it", [ADA], ["Carla|Wren|c@wren.example"], "", "create", ""),
    ("the same again", [ADA], [ADA], "", "unchanged", ""),
    (
        "a blank is filled",
        ["Ada|Quist|ada.quist@reed.example"],
        ["Ada|Quist|ada.quist@reed.example|212-555-0147"],
        "",
        "update",
        "phone=212-555-0147",
    ),
    ("a value is not overwritten", [ADA], ["Ada|Quist|ada.quist@reed.example|305-555-0111"], "", "unchanged", ""),
    (
        "unless the policy says so",
        [ADA],
        ["Ada|Quist|ada.quist@reed.example|305-555-0111"],
        '[update]\nphone = "replace"\n',
        "update",
        "phone=305-555-0111",
    ),
    (
        "keep keeps even a blank",
        ["Ada|Quist|ada.quist@reed.example"],
        [ADA],
        '[update]\nphone = "keep"\nstreet = "keep"\ncity = "keep"\ntags = "keep"\n',
        "update",
        "email_opt_out=no",
    ),
    ("a blank never replaces", [ADA], ["Ada|Quist|ada.quist@reed.example|"], '[update]\nphone = "replace"\n', "unchanged", ""),
    (
        "a placeholder never replaces",
        [ADA],
        ["Ada|Quist|ada.quist@reed.example|000-0000"],
        '[update]\nphone = "replace"\n',
        "unchanged",
        "",
    ),
    (
        "a bad mail is not written",
        ["Ada|Quist||212-555-0147||12 Mill St|Birchmere"],
        ["Ada|Quist|ada(at)reed|212-555-0147||12 Mill St|Birchmere"],
        "",
        "unchanged",
        "",
    ),
    (
        "a placeholder in the record is filled",
        ["Ada|Quist|ada.quist@reed.example|n/a"],
        ["Ada|Quist|ada.quist@reed.example|212-555-0147"],
        "",
        "update",
        "phone=212-555-0147",
    ),
    (
        "another spelling is no change",
        [ADA],
        ["ADA|QUIST|Ada.Quist@REED.example|+1 (212) 555 0147||12 Mill Street|birchmere"],
        "",
        "unchanged",
        "",
    ),
    ("an opt-out of the list stays", [ADA], ["Ada|Quist|ada.quist@reed.example||||||yes"], "", "update", "email_opt_out=yes"),
    (
        "an opt-out of the record stays",
        [ADA.replace("|no|", "|yes|")],
        ["Ada|Quist|ada.quist@reed.example||||||no"],
        "",
        "unchanged",
        "",
    ),
    (
        "an unclear consent is an opt-out",
        [ADA],
        ["Ada|Quist|ada.quist@reed.example||||||please stop"],
        "",
        "update",
        "email_opt_out=please stop",
    ),
    ("tags are united", [ADA], ["Ada|Quist|ada.quist@reed.example|||||||oboe; Flute"], "", "update", "tags=flute; oboe"),
    (
        "notes are appended once",
        ["Ada|Quist|ada.quist@reed.example|||||||| returns in June"],
        ["Ada|Quist|ada.quist@reed.example||||||||returns in June"],
        "",
        "unchanged",
        "",
    ),
    (
        "an empty address is taken whole",
        ["Ada|Quist|ada.quist@reed.example"],
        ["Ada|Quist|ada.quist@reed.example|||9 Elm St|Rookwood|22999"],
        "",
        "update",
        "street=9 Elm St;city=Rookwood;postal_code=22999",
    ),
    (
        "an address is completed where it agrees",
        ["Ada|Quist|ada.quist@reed.example||||Rookwood"],
        ["Ada|Quist|ada.quist@reed.example|||9 Elm St|Rookwood|22999"],
        "",
        "update",
        "street=9 Elm St;postal_code=22999",
    ),
    (
        "never one street with another city",
        ["Ada|Quist|ada.quist@reed.example||||Birchmere"],
        ["Ada|Quist|ada.quist@reed.example|||9 Elm St|Rookwood|22999"],
        "",
        "unchanged",
        "",
    ),
    (
        "never one street with another postal code",
        ["Ada|Quist|ada.quist@reed.example||||Rookwood|22111"],
        ["Ada|Quist|ada.quist@reed.example|||9 Elm St|Rookwood|22999"],
        "",
        "unchanged",
        "",
    ),
    (
        "two rows of one new person",
        [ADA],
        ["Carla|Wren|c.wren@wren.example", "Carla|Wren|c.wren@wren.example|305-555-0100"],
        "",
        "create create",
        "",
    ),
    (
        "two rows of one record",
        ["Ada|Quist|ada.quist@reed.example"],
        ["Ada|Quist|ada.quist@reed.example|212-555-0147", "Ada|Quist|ada.quist@reed.example|||| Birchmere"],
        "",
        "update update",
        "phone=212-555-0147",
    ),
    (
        "duplicates become one",
        [ADA, "Ada|Quist|ada.quist@reed.example|||||||"],
        ["Ada|Quist|ada.quist@reed.example"],
        "",
        "merge",
        "",
    ),
    (
        "duplicates are held if told",
        [ADA, "Ada|Quist|ada.quist@reed.example"],
        ["Ada|Quist|ada.quist@reed.example"],
        '[outcomes]\nduplicates = "review"\n',
        "review",
        "",
    ),
    (
        "a merge keeps the opt-out",
        [ADA, "Ada|Quist|ada.quist@reed.example||||||yes"],
        ["Ada|Quist|ada.quist@reed.example"],
        "",
        "merge",
        "email_opt_out=yes",
    ),
    (
        "a merge fills the survivor",
        ["Ada|Quist|ada.quist@reed.example||Harrow School|12 Mill St|Birchmere", "Ada|Quist|ada.quist@reed.example|212-555-0147"],
        ["Ada|Quist|ada.quist@reed.example"],
        "",
        "merge",
        "phone=212-555-0147",
    ),
    ("update only skips the new", [ADA], ["Carla|Wren|c@wren.example"], '[outcomes]\nmode = "update-only"\n', "skip", ""),
    (
        "create only skips the known",
        [ADA],
        ["Ada|Quist|ada.quist@reed.example|305-555-0111"],
        '[outcomes]\nmode = "create-only"\n',
        "skip",
        "",
    ),
    ("no name, no use", [ADA], ["||x@y.example"], "", "reject", ""),
    ("a required field", [ADA], ["Ada|Quist|ada.quist@reed.example"], 'required = ["city"]\n', "reject", ""),
    (
        "a couple sharing a mailbox",
        ["Ana|Prado|prado@post.example|212-555-0147"],
        ["Luis|Prado|prado@post.example|212-555-0147"],
        "",
        "create",
        "",
    ),
    (
        "colleagues sharing everything",
        ["Ana|Prado|office@lind.example|212-555-0147|Lind School"],
        ["Eva|Lund|office@lind.example|212-555-0147|Lind School"],
        "",
        "create",
        "",
    ),
    (
        "father and son",
        ["Leo|Strand Sr.||212-555-0147||12 Mill St|Birchmere"],
        ["Leo|Strand Jr.||212-555-0147||12 Mill St|Birchmere"],
        "",
        "create",
        "",
    ),
    ("an initial at one phone only", ["Leonard|Strand||212-555-0147"], ["L.|Strand||212-555-0147"], "", "review", ""),
    (
        "unsure rows created if told",
        ["Leonard|Strand||212-555-0147"],
        ["L.|Strand||212-555-0147"],
        '[outcomes]\nunsure = "create"\n',
        "create",
        "",
    ),
    (
        "unsure rows skipped if told",
        ["Leonard|Strand||212-555-0147"],
        ["L.|Strand||212-555-0147"],
        '[outcomes]\nunsure = "skip"\n',
        "skip",
        "",
    ),
    (
        "an initial at work",
        ["Leonard|Strand|lstrand@lind.example||Lind School"],
        ["L.|Strand|lstrand@lind.example||Lind School"],
        "",
        "unchanged",
        "",
    ),
    (
        "two of one name, nothing else alike",
        [ADA],
        ["Ada|Quist|aq@elm.example|305-555-0199||1 Elm St|Rookwood"],
        "",
        "create",
        "",
    ),
    ("a new mailbox, the same phone", [ADA], ["Ada|Quist|adaq77@post.example|212-555-0147"], "", "unchanged", ""),
    ("a married name, the same mailbox", [ADA], ["Ada|Lindqvist|ada.quist@reed.example|212-555-0147"], "", "unchanged", ""),
    ("names the wrong way round", [ADA], ["Quist|Ada|ada.quist@reed.example"], "", "unchanged", ""),
    ("a slip in the name", [ADA], ["Ada|Qiust|ada.quist@reed.example"], "", "unchanged", ""),
    ("a slip in the domain", [ADA], ["Ada|Quist|ada.quist@reed.exmaple|212-555-0147"], "", "unchanged", ""),
    ("a slip in the phone", [ADA], ["Ada|Quist||212-555-0174||12 Mill St|Birchmere"], "", "unchanged", ""),
    ("a rule that forbids", [ADA], [ADA], '[[rule]]\nname = "x"\nverdict = "different"\nall = ["phone is same"]\n', "create", ""),
    (
        "a rule that makes sure",
        ["Leonard|Strand||212-555-0147"],
        ["L.|Strand||212-555-0147"],
        '[[rule]]\nname = "x"\nverdict = "same"\nall = ["phone is same"]\n',
        "review",
        "",
    ),
    ("a rule that holds", [ADA], [ADA], '[[rule]]\nname = "x"\nverdict = "unsure"\nall = ["phone is same"]\n', "review", ""),
    (
        "a rule with an exception",
        [ADA],
        [ADA],
        '[[rule]]\nname = "x"\nverdict = "different"\nall = ["phone is same"]\nunless = ["email is same"]\n',
        "unchanged",
        "",
    ),
    (
        "a stricter threshold",
        ["Ada|Quist|ada.quist@reed.example"],
        ["Ada|Quist|ada.quist@reed.example||||Rookwood"],
        "[match]\nsame_from = 0.9999999999\n",
        "review",
        "",
    ),
]


@pytest.mark.parametrize(
    ("what", "existing", "rows", "policy", "outcomes", "changes"), SITUATIONS, ids=[s[0] for s in SITUATIONS]
)
def test_situation(what, existing, rows, policy, outcomes, changes):
    """The outcome of every row, and exactly these values written to existing records."""
    plan = _plan(existing, rows, policy)
    assert " ".join(plan.outcomes["outcome"]) == outcomes, plan.explain(1)
    written = plan.changes[plan.changes["record_id"] != ""]
    wanted = dict(c.split("=") for c in re.split(r";(?=\w+=)", changes)) if changes else {}
    found = dict(zip(written["field"], written["after"], strict=True))
    if wanted or outcomes in ("unchanged", "create", "review", "skip", "reject"):
        assert {k: found.get(k) for k in wanted} == wanted
        assert set(found) == set(wanted) or len(rows) > 1, found


def test_survivor_takes_values_of_members_only():
    """Every value written stands in one of the records or rows it is said to come from; a part of a whole name within it."""
    from brujula.demo.generate import CONTACT_HEADINGS, ROSTER_HEADINGS, make

    world = make(55, 1_500, 200, 300, 2.0)
    old, new = pd.DataFrame(world.contacts, columns=CONTACT_HEADINGS), pd.DataFrame(world.roster, columns=ROSTER_HEADINGS)
    plan = brujula.plan(new, against=old)
    by_id = {r["id"]: set(r.values()) for r in old.to_dict("records")}
    for change in plan.changes.to_dict("records"):
        kind, name = change["from"].split(" ", 1)
        members = set(new.iloc[int(name) - 1]) if kind == "row" else by_id[name]
        told = {str(v).strip() for v in members}
        within = change["why"] == "the whole name, taken apart" and any(change["after"] in v for v in told)
        assert change["after"] in told or within or change["field"] in ("notes", "tags"), change


def test_blocks_never_mix():
    """After every update and merge, a record's street and town still come from one record or row."""
    from brujula.demo.generate import CONTACT_HEADINGS, ROSTER_HEADINGS, make

    world = make(56, 1_500, 200, 300, 3.0)
    old, new = pd.DataFrame(world.contacts, columns=CONTACT_HEADINGS), pd.DataFrame(world.roster, columns=ROSTER_HEADINGS)
    plan = brujula.plan(new, against=old)
    records = {r["id"]: r for r in old.to_dict("records")}
    rows = new.to_dict("records")
    for (record, _), group in plan.changes[plan.changes["record_id"] != ""].groupby(["record_id", "action"]):
        street = group[group["field"] == "street"]
        if len(street) and records[record]["city"]:
            kind, name = street["from"].iloc[0].split(" ", 1)
            town = rows[int(name) - 1]["Town"] if kind == "row" else records[name]["city"]
            assert town.lower() == records[record]["city"].lower()


@pytest.mark.parametrize(("other", "outcome"), [("Joan", "review"), ("Mary", "create")])
def test_couples_stay_two(other, outcome):
    """Jon and Joan share a mailbox, a phone and an initial: never one, in the list or against the records, but somebody looks; Jon and Mary are two."""
    plan = _plan(
        ["Jonathan|Smith|jsmith@post.example"],
        ["Jon|Smith|jsmith@post.example|212-555-0147", f"{other}|Smith|jsmith@post.example|212-555-0147"],
    )
    assert list(plan.outcomes["outcome"]) == ["update", outcome]


A = "id=C-1; given_name=Ada; family_name=Quist; email=ada.quist@reed.example; phone=212-555-0147; street=12 Mill St; city=Birchmere; postal_code=97001; source=crm; updated_at=2024-01-01"
B = "id=C-2; given_name=Bob; family_name=Ames; email=bob@ames.example"
ROW = "given_name=Ada; family_name=Quist; email=ada.quist@reed.example"
TWICE = [
    f"id=C-1; {ROW}; phone=212-555-0147; updated_at=2023-01-01; source=partner",
    f"id=C-2; {ROW}; updated_at=2025-01-01; source=crm",
]
FIRST, SECOND = f"{ROW}; phone=212-555-0147", f"{ROW}; phone=212-555-0148; city=Yarrow"
OFFICE = [
    "id=C-3; given_name=Cy; family_name=Orr; email=office@reed.example",
    "id=C-4; given_name=Di; family_name=Orr; email=office@reed.example",
]
NEW_PHONE = f"{ROW}; phone=305-555-0111 ext 12; source=web form; updated_at=2026-01-01"
MOVED = f"{ROW}; street=9 Elm St; city=Rookwood; postal_code=97002; updated_at=2026-01-01"
CHOICES = [
    # what, existing, rows, policy, outcomes with their records, changes on existing records
    ("an id decides though the name changed", [A], [A.replace("Quist;", "Lind;")], "", ["update C-1"], {"family_name": "Lind"}),
    ("an exported list unchanged", [A, B], [A, B], "", ["unchanged C-1", "unchanged C-2"], {}),
    ("only edited cells change", [A], [A.replace("212-555-0147", "305-555-0111").replace("; city=Birchmere", "")], "", ["update C-1"], {"phone": "305-555-0111"}),
    ("an unknown id is rejected", [A, B], [A, B, "id=C-99; given_name=Zed; family_name=Low"], "", ["unchanged C-1", "unchanged C-2", "reject"], {}),
    ("a blank id is matched as usual", [A, B], [A, B.replace("id=C-2", "id=")], "", ["unchanged C-1", "unchanged C-2"], {}),
    ("an id on somebody else's row", [A, B], [A, A.replace("C-1", "C-2")], "", ["unchanged C-1", "review C-1;C-2"], {}),
    ("ids that are not ours are not used", [A, B], [A.replace("C-1", "C-2"), "id=C-1; given_name=Carl; family_name=Wren; email=c@wren.example"], "", ["unchanged C-1", "create"], {}),
    ("ids may be ignored", [A], [A.replace("C-1", "C-77")], '[match]\nids = "ignore"\n', ["unchanged C-1"], {}),
    ("the key decides", [A], ["given_name=Adaline; family_name=Queen; email=ADA.QUIST@reed.example"], '[match]\nkey = "email"\n', ["unchanged C-1"], {}),
    ("a shared key is not picked from", OFFICE, ["given_name=Cy; family_name=Orr; email=office@reed.example"], '[match]\nkey = "email"\n', ["review C-3;C-4"], {}),
    ("a key nobody has: the evidence", [A], [f"{FIRST}".replace("ada.quist@reed", "ada@quist")], '[match]\nkey = "email"\n', ["unchanged C-1"], {}),
    ("a suppressed row", [A], [ROW, "given_name=Eve; family_name=Low; email=eve@rival.example"], "[suppress]\nrows = ['email ends with \"rival.example\"']\n", ["unchanged C-1", "skip"], {}),
    ("a list of those to be left alone", [A], [ROW, "given_name=Eve; family_name=Low; phone=+1 212 555 0199"], '[suppress]\nlist = "alone.csv"\n', ["unchanged C-1", "skip"], {}),
    ("a marked record is kept out", [A + "; tags=do-not-touch"], [ROW], "[suppress]\nrecords = ['tags contains \"do-not-touch\"']\n", ["create"], {}),
    ("a selection by date", [A], [ROW], "[select]\nexisting = ['updated_at since 2025-01-01']\n", ["create"], {}),
    ("a selection that keeps it", [A], [ROW], "[select]\nexisting = ['updated_at before 2025-01-01', 'city is \"Birchmere\" or city is blank']\n", ["unchanged C-1"], {}),
    ("an inactive record is updated", [A + "; active=no"], [ROW + "; mobile=305-555-0111"], "", ["update C-1"], {"mobile": "305-555-0111"}),
    ("an inactive record is left alone", [A + "; active=no"], [ROW], '[outcomes]\ninactive = "skip"\n', ["skip C-1"], {}),
    ("an inactive record is revived", [A + "; active=no"], [ROW], '[outcomes]\ninactive = "revive"\n', ["update C-1"], {"active": "yes"}),
    ("inactive records take no part", [A + "; active=no"], [ROW], '[outcomes]\ninactive = "leave-out"\n', ["create"], {}),
    ("duplicates are merged", TWICE, [ROW], "", ["merge C-1;C-2"], {}),
    ("duplicates are held", TWICE, [ROW], '[outcomes]\nduplicates = "review"\n', ["review C-1;C-2"], {}),
    ("duplicates are left", TWICE, [ROW + "; city=Yarrow"], '[outcomes]\nduplicates = "leave"\n', ["update C-1"], {"city": "Yarrow"}),
    ("the newest stays", TWICE, [ROW], '[outcomes]\nsurvivor = "newest"\n', ["merge C-2;C-1"], {"phone": "212-555-0147"}),
    ("the most trusted stays", TWICE, [ROW], '[outcomes]\nsurvivor = "most-trusted"\n[trust]\norder = ["crm", "partner"]\n', ["merge C-2;C-1"], {"phone": "212-555-0147"}),
    ("rows that stand twice are folded", [], [FIRST, SECOND], "", ["create", "create"], {}),
    ("the first of them", [], [FIRST, SECOND], '[outcomes]\ntwice = "first"\n', ["create", "skip"], {}),
    ("the last of them", [], [FIRST, SECOND], '[outcomes]\ntwice = "last"\n', ["skip", "create"], {}),
    ("the fullest of them", [], [FIRST, SECOND], '[outcomes]\ntwice = "most-complete"\n', ["skip", "create"], {}),
    ("duplicates are insisted on", [A], [ROW], '[outcomes]\nmode = "allow-duplicates"\n', ["create"], {}),
    ("insisted on, but suppressed", [A], [ROW], '[outcomes]\nmode = "allow-duplicates"\n[suppress]\nrows = ["email is filled"]\n', ["skip"], {}),
    ("the newest value", [A], [NEW_PHONE], '[update]\nphone = "newest"\n', ["update C-1"], {"phone": "305-555-0111 ext 12"}),
    ("the newest is the record's", [A.replace("2024", "2027")], [NEW_PHONE], '[update]\nphone = "newest"\n', ["unchanged C-1"], {}),
    ("a list without dates has the list's", [A], [f"{ROW}; phone=305-555-0111"], '[list]\ndate = "2026-05-01"\n[update]\nphone = "newest"\n', ["update C-1"], {"phone": "305-555-0111"}),
    ("the most trusted value", [A], [NEW_PHONE], '[update]\nphone = "most_trusted"\n[trust]\norder = ["web form", "crm"]\n', ["update C-1"], {"phone": "305-555-0111 ext 12"}),
    ("the record is more trusted", [A], [NEW_PHONE], '[update]\nphone = "most_trusted"\n[trust]\norder = ["crm", "web form"]\n', ["unchanged C-1"], {}),
    ("a field's own order of trust", [A], [NEW_PHONE], '[update]\nphone = "most_trusted"\n[trust]\norder = ["crm"]\n[trust.fields]\nphone = ["web form"]\n', ["update C-1"], {"phone": "305-555-0111 ext 12"}),
    ("a trusted placeholder is nothing", [A], [NEW_PHONE.replace("305-555-0111 ext 12", "n/a")], '[update]\nphone = "most_trusted"\n[trust]\norder = ["web form", "crm"]\n', ["unchanged C-1"], {}),
    ("the longest value", [A], [NEW_PHONE], '[update]\nphone = "longest"\n', ["update C-1"], {"phone": "305-555-0111 ext 12"}),
    ("the most frequent value", [A], [f"{ROW}; phone=305-555-0111; city=Birchmere", f"{ROW}; phone=305-555-0111"], '[update]\nphone = "most_frequent"\n', ["update C-1", "update C-1"], {"phone": "305-555-0111"}),
    ("another spelling does not replace", [A], [f"{ROW}; phone=+1 (212) 555 0147"], '[update]\nphone = "replace"\n', ["unchanged C-1"], {}),
    ("an address moves whole", [A], [MOVED], '[update]\nstreet = "newest"\n', ["update C-1"], {"street": "9 Elm St", "city": "Rookwood", "postal_code": "97002"}),
    ("half an address does not move", [A], [MOVED.replace("; city=Rookwood; postal_code=97002", "")], '[update]\nstreet = "newest"\n', ["unchanged C-1"], {}),
    ("notes are appended with their list", [A + "; notes=old"], [f"{ROW}; notes=new"], '[list]\nlabel = "roster"\n[update]\nnotes = "append"\n', ["update C-1"], {"notes": "old\nroster: new"}),
    ("notes that are there are not appended", [A + "; notes=old, new"], [f"{ROW}; notes=new"], '[update]\nnotes = "append"\n', ["unchanged C-1"], {}),
]  # fmt: skip


def _records(lines):
    return pd.DataFrame([dict(part.split("=", 1) for part in line.split("; ")) for line in lines]).fillna("")


def _chosen(tmp_path, existing, rows, policy):
    (tmp_path / "p.toml").write_text(policy)
    (tmp_path / "alone.csv").write_text("Name,Phone\nEve Low,(212) 555-0199\n")
    others = [f"id=F-{i}; given_name=Given{i}; family_name=Filler{i * 13}; email=g{i}@filler.example" for i in range(30)]
    return brujula.plan(_records(rows), against=_records([*existing, *others]), policy=tmp_path / "p.toml", entity="contact")


@pytest.mark.parametrize(("what", "existing", "rows", "policy", "outcomes", "changes"), CHOICES, ids=[c[0] for c in CHOICES])
def test_choice(tmp_path, what, existing, rows, policy, outcomes, changes):
    """What the policy chooses: each row's outcome and record, and exactly these values written to existing records."""
    plan = _chosen(tmp_path, existing, rows, policy)
    found = [f"{o} {r}".strip() for o, r in zip(plan.outcomes["outcome"], plan.outcomes["record_id"], strict=True)]
    assert found == outcomes, plan.explain(1)
    written = plan.changes[plan.changes["record_id"] != ""]
    assert dict(zip(written["field"], written["after"], strict=True)) == changes


@pytest.mark.parametrize("mode", ["create-and-update", "create-only", "update-only", "allow-duplicates"])
@pytest.mark.parametrize("twice", ["fold", "first", "last", "most-complete"])
@pytest.mark.parametrize("duplicates", ["merge", "review", "leave"])
def test_choices_that_meet_lose_no_row(tmp_path, mode, twice, duplicates):
    """However choices are combined, every row has one outcome and no record is written twice."""
    policy = (
        f'[outcomes]\nmode = "{mode}"\ntwice = "{twice}"\nduplicates = "{duplicates}"\nseveral = "newest"\ninactive = "revive"\n'
    )
    plan = _chosen(
        tmp_path, [*TWICE, B.replace("C-2", "C-9") + "; active=no"], [FIRST, SECOND, ROW, B.replace("id=C-2; ", "")], policy
    )
    assert sum(plan.counts.values()) == 4
    records = [r for r in plan.actions["record_id"] if r]
    assert len(records) == len(set(records))


def test_rows_that_differ_say_in_what(tmp_path):
    """Rows folded into one action name the fields in which they contradict each other."""
    plan = _chosen(tmp_path, [], [FIRST, SECOND], "")
    assert plan.outcomes["reason"].str.endswith("these rows differ in phone").all()


@pytest.mark.parametrize(
    ("policy", "message"),
    [
        ("[select]\nexisting = ['citty is \"x\"']\n", 'select.existing: no field "citty"; did you mean "city"'),
        ("[suppress]\nrows = ['email like x']\n", 'suppress.rows: "email like x" is no condition'),
        ("[select]\nexisting = ['updated_at since soon']\n", '"soon" is no date'),
        ('[match]\nkey = "emial"\n', 'match.key: no field "emial"; did you mean "email"'),
        ('[give_back]\nfields = ["ownr"]\n', 'give_back.fields: no field "ownr"; did you mean "owner"'),
        ('[outcomes]\ntwise = "fold"\n', 'unknown key "twise"; did you mean "twice"'),
    ],
)
def test_choices_that_cannot_be_read(tmp_path, policy, message):
    """A mistake in a choice names the key and the nearest known one."""
    with pytest.raises(brujula.PolicyError, match=re.escape(message)):
        _chosen(tmp_path, [A], [ROW], policy)


def test_fields_are_given_back(tmp_path):
    """The list goes back with the chosen fields of the record each row is."""
    plan = _chosen(
        tmp_path, [A + "; owner=Kim"], [ROW, "given_name=Carla; family_name=Wren"], '[give_back]\nfields = ["owner", "id"]\n'
    )
    plan.write(tmp_path / "plan")
    back = pd.read_csv(tmp_path / "plan" / "incoming_with_ids.csv", dtype=str, keep_default_na=False)
    assert back[["owner (record)", "id (record)"]].values.tolist() == [["Kim", "C-1"], ["", ""]]


def test_owners_are_given_out_in_turn(tmp_path):
    """New records without an owner go to the first rule's people that fits, each in turn; known ones keep theirs."""
    rules = '[[owner]]\nwhen = [\'city is "Yarrow"\']\nto = ["Kim", "Lee"]\n[[owner]]\nto = ["Pat"]\n'
    rows = [
        f"given_name=G{i}; family_name=N{i}{i}x; email=n{i}@n{i}.example; city={c}"
        for i, c in enumerate(["Yarrow", "Rookwood", "Yarrow", "Yarrow"])
    ]
    plan = _chosen(
        tmp_path,
        [A],
        [*rows, ROW, f"{rows[0].replace('G0', 'Hal').replace('N00x', 'Vane').replace('n0@', 'hal@')}; owner=Own"],
        rules,
    )
    given = plan.changes[plan.changes["field"] == "owner"].sort_values("action")
    assert dict(zip(given["action"], given["after"], strict=True)) == {
        "A1": "Kim",
        "A2": "Pat",
        "A3": "Lee",
        "A4": "Kim",
        "A5": "Own",
    }


def test_load_ready_files_in_parts(tmp_path):
    """No file has more rows than the target takes; together they have all."""
    rows = [f"given_name=G{i}; family_name=N{i}{i}x; email=n{i}@n{i}.example" for i in range(5)]
    _chosen(tmp_path, [A], rows, "[files]\nmost = 2\n").write(tmp_path / "plan")
    parts = [len(pd.read_csv(tmp_path / "plan" / f"create{p}.csv")) for p in ("", "-2", "-3")]
    assert parts == [2, 2, 1]


@pytest.mark.parametrize(
    ("several", "outcome", "records", "written"),
    [
        ("review", "review", "C-1;C-2", {}),
        ("best", "review", "C-1;C-2", {}),
        ("newest", "update", "C-1", {"C-1": "305-555-0111"}),
        ("all", "update", "C-2;C-1", {"C-1": "305-555-0111", "C-2": "305-555-0111"}),
    ],
)
def test_a_row_that_is_like_father_and_son(tmp_path, several, outcome, records, written):
    """A row that is like two records which are not each other: held, or the newest, or both of them; loaded, the row is unchanged."""
    head = "given_name,family_name,suffix,email,phone,street,city,mobile,updated_at\n"
    man = "alex.reyes@post.example,212-555-0147,12 Mill St,Birchmere,"
    others = "".join(f"F-{i},{maker.GIVEN[i]},{maker.FAMILY[i]},,f{i}@x.example,,,,,\n" for i in range(40))
    (tmp_path / "crm.csv").write_text(
        f"id,{head}C-1,Alex,Reyes,Jr.,{man},2026-02-01\nC-2,Alex,Reyes,Sr.,{man},2025-02-01\n{others}"
    )
    (tmp_path / "new.csv").write_text(f"{head}Alex,Reyes,,{man}305-555-0111,\n")
    (tmp_path / "p.toml").write_text(f'[outcomes]\nseveral = "{several}"\n')
    url = f"sqlite:///{tmp_path}/crm.db"
    brujula.load(tmp_path / "crm.csv", into=url)
    plan = brujula.plan(str(tmp_path / "new.csv"), against=url, policy=str(tmp_path / "p.toml"))
    line = plan.outcomes.iloc[0]
    assert (line["outcome"], line["record_id"]) == (outcome, records)
    assert records.partition(";")[0] in line["reason"]
    assert dict(zip(plan.changes["record_id"], plan.changes["after"], strict=True)) == written
    plan.write(tmp_path / "plan")
    done = brujula.load(tmp_path / "plan", into=url)
    assert done.updated == len(written)
    if written:
        again = brujula.plan(str(tmp_path / "new.csv"), against=url, policy=str(tmp_path / "p.toml"))
        assert list(again.outcomes["outcome"]) == ["unchanged"]


def test_updating_all_merges_none(tmp_path):
    """A row that goes to father and son updates one record of each; the father's double is not merged on the way."""
    head = "given_name,family_name,suffix,email,phone,street,city,mobile\n"
    man = "alex.reyes@post.example,212-555-0147,12 Mill St,Birchmere,"
    others = "".join(f"F-{i},{maker.GIVEN[i]},{maker.FAMILY[i]},,f{i}@x.example,,,,\n" for i in range(40))
    lines = "".join(f"C-{i},Alex,Reyes,{s},{man}\n" for i, s in ((1, "Jr."), (2, "Sr."), (3, "Sr."), (4, "Jr.")))
    (tmp_path / "crm.csv").write_text(f"id,{head}{lines}{others}")
    (tmp_path / "new.csv").write_text(f"{head}Alex,Reyes,,{man}305-555-0111\n")
    (tmp_path / "p.toml").write_text('[outcomes]\nseveral = "all"\nduplicates = "leave"\n')
    plan = brujula.plan(str(tmp_path / "new.csv"), against=str(tmp_path / "crm.csv"), policy=str(tmp_path / "p.toml"))
    assert list(plan.actions["kind"]) == ["update", "update"] and set(plan.actions["merged_ids"]) == {""}
    suffixes = {"C-1": "Jr.", "C-2": "Sr.", "C-3": "Sr.", "C-4": "Jr."}
    assert {suffixes[r] for r in plan.actions["record_id"]} == {"Jr.", "Sr."}


WHOLE_NAMES = [
    ("Ada Quist", ("", "Ada", "", "Quist", "")),
    ("Dr. Ada M. van der Quist, Jr.", ("Dr.", "Ada", "M.", "van der Quist", "Jr")),
    ("García López, Ana", ("", "Ana", "", "García López", "")),
    ("Seán O'Neil-Wren", ("", "Seán", "", "O'Neil-Wren", "")),
    *(
        (whole, ("", "", "", "", ""))
        for whole in ("Ana María López", "Mr Quist", "A. Quist", "Kim Min-jun", "Ada & Bob Quist", "Quist Ada, MD")
    ),
]


@pytest.mark.parametrize("apart", [True, False])
def test_whole_names_are_taken_apart_for_a_store_that_has_them_apart(apart):
    """Plain ones, for new records only, and besides the whole; a store of whole names gets whole names."""
    held = {"id": ["C-1"], "first_name": ["Zoe"], "last_name": ["Zander"]} if apart else {"id": ["C-1"], "name": ["Zoe Zander"]}
    held |= {"email": ["zoe@zander.example"]}
    new = pd.DataFrame({"Name": [w for w, _ in WHOLE_NAMES], "Email": [f"p{i}@post.example" for i in range(len(WHOLE_NAMES))]})
    plan = brujula.plan(new, against=pd.DataFrame(held), entity="contact")
    written = {(c["from"], c["field"]): c["after"] for c in plan.changes.to_dict("records")}
    for row, (whole, parts) in enumerate(WHOLE_NAMES, 1):
        fields = ("prefix", "given_name", "middle_name", "family_name", "suffix")
        found = tuple(written.get((f"row {row}", f), "") for f in fields)
        assert (written[f"row {row}", "full_name"], found) == (whole, parts if apart else ("",) * 5)


def test_a_list_of_those_to_be_left_alone_is_numbered_for_itself(tmp_path):
    """The numbers of its lines are nobody's ids: our record 2 is not left alone because its second line is somebody."""
    (tmp_path / "alone.csv").write_text(
        "Nr,Name,Phone\n" + "".join(f"{i},Eve Low{chr(96 + i)},(212) 555-019{i}\n" for i in range(1, 9))
    )
    (tmp_path / "p.toml").write_text('[suppress]\nlist = "alone.csv"\n')
    old = pd.DataFrame(
        {"id": [str(i) for i in range(1, 9)], "last_name": [f"Quist{chr(96 + i)}" for i in range(1, 9)], "phone": "305-555-0111"}
    )
    plan = brujula.plan(old.iloc[1:2].assign(phone="305-555-0112"), against=old, policy=tmp_path / "p.toml", entity="contact")
    assert plan.outcomes["outcome"].tolist() != ["skip"]
