"""A policy is checked wholly; every mistake is named with the nearest known key."""

from pathlib import Path

import pandas as pd
import pytest

import brujula
from brujula.errors import PolicyError
from brujula.policy.model import Policy
from brujula.policy.words import in_words

MISTAKES = [
    ("[matching]\n", 'matching: unknown key "matching"; did you mean "match"?'),
    ("[match]\nsame_form = 0.9\n", 'match.same_form: unknown key "same_form"; did you mean "same_from"?'),
    ("[match]\nsame_from = 2\n", 'match.same_from: "2" should be less than 1'),
    ('[outcomes]\nmode = "upsert"\n', "outcomes.mode: \"upsert\" should be 'create-and-update'"),
    ('[columns]\n"Home phone" = "phne"\n', 'columns."Home phone": no field "phne"; did you mean "phone"?'),
    ('[update]\nemial = "replace"\n', 'update: no field "emial"; did you mean "email"?'),
    ("x = \n", "not a TOML 1.0 file"),
]


@pytest.mark.parametrize(("text", "message"), MISTAKES)
def test_mistakes_are_named(tmp_path, text, message):
    """File, key, value, and what was probably meant."""
    (tmp_path / "p.toml").write_text(text)
    with pytest.raises(PolicyError) as error:
        Policy.read(tmp_path / "p.toml")
    assert message in str(error.value)
    assert "p.toml" in str(error.value)


def test_all_mistakes_come_at_once(tmp_path):
    """Two mistakes, two lines."""
    (tmp_path / "p.toml").write_text("[match]\nsame_form = 1\n[outcome]\n")
    with pytest.raises(PolicyError) as error:
        Policy.read(tmp_path / "p.toml")
    assert len(str(error.value).splitlines()) == 2


OLD = pd.DataFrame(
    [{"id": "C-1", "first_name": "Ada", "last_name": "Quist", "email": "ada.quist@reed.example", "city": "Birchmere"}]
)
NEW = pd.DataFrame(
    [
        {"first_name": "Ada", "last_name": "Quist", "email": "ada.quist@reed.example", "city": "Rookwood"},
        {"first_name": "Carla", "last_name": "Wren", "email": "", "city": "Rookwood"},
    ]
)


@pytest.mark.parametrize(
    ("text", "outcomes", "changed"),
    [
        ("", ["unchanged", "create"], []),
        ('[update]\ncity = "replace"\n', ["update", "create"], [("city", "Birchmere", "Rookwood")]),
        ('[outcomes]\nmode = "update-only"\n', ["unchanged", "skip"], []),
        ('[outcomes]\nmode = "create-only"\n', ["skip", "create"], []),
        ('required = ["email"]\n', ["unchanged", "reject"], []),
        ('[[rule]]\nname = "never"\nverdict = "different"\nall = ["email is same"]\n', ["create", "create"], []),
        (
            '[[rule]]\nname = "ask"\nverdict = "unsure"\nall = ["email is same", "place is another place"]\n',
            ["review", "create"],
            [],
        ),
        (
            '[[rule]]\nname = "ask"\nverdict = "unsure"\nuntil = 0.9\nall = ["email is same", "place is another place"]\n',
            ["unchanged", "create"],
            [],
        ),
    ],
)
def test_policy_decides(tmp_path, text, outcomes, changed):
    """Modes, survivorship, required fields and the steward's own rules do what they say."""
    (tmp_path / "p.toml").write_text(text)
    plan = brujula.plan(NEW, against=OLD, policy=str(tmp_path / "p.toml"), entity="contact")
    assert list(plan.outcomes["outcome"]) == outcomes
    written = plan.changes[plan.changes["record_id"] == "C-1"]
    assert [tuple(c) for c in written[["field", "before", "after"]].values] == changed


@pytest.mark.parametrize(
    ("condition", "message"),
    [
        ("email is sane", 'no grade "sane"; did you mean "same"?'),
        (
            "given_name at least nickname",
            '"at least" takes one of differs, partial, close, same; "nickname" is a level of given_name',
        ),
        ("emial is same", 'no compared field "emial"; did you mean "email"?'),
        ("email equals", '"email equals" is no condition'),
    ],
)
def test_rule_conditions_are_checked(tmp_path, condition, message):
    """A condition that cannot be read names the rule and the word."""
    (tmp_path / "p.toml").write_text(f'[[rule]]\nname = "mine"\nverdict = "same"\nall = ["{condition}"]\n')
    with pytest.raises(PolicyError) as error:
        brujula.plan(NEW, against=OLD, policy=str(tmp_path / "p.toml"), entity="contact")
    assert message in str(error.value)
    assert 'rule "mine"' in str(error.value)


@pytest.mark.parametrize("key", ["until = 0.99", 'alone = "website"', 'crowded = "postal_address"', 'within = "date"'])
def test_only_a_rule_that_holds_gives_way(tmp_path, key):
    """What a rule gives way to, beside a verdict that stands whatever else is said, is an error that names the rule."""
    (tmp_path / "p.toml").write_text(f'[[rule]]\nname = "mine"\nverdict = "different"\n{key}\nall = ["email is same"]\n')
    with pytest.raises(PolicyError, match=f'rule "mine": {key}: only a rule that says "unsure"'):
        brujula.plan(NEW, against=OLD, policy=str(tmp_path / "p.toml"), entity="contact")


@pytest.mark.parametrize("entity", ["contact", "account"])
def test_policies_are_told_in_words(entity):
    """Every default rule comes with its reason."""
    text = "\n".join(in_words(Policy.default(entity)))
    for rule in Policy.default(entity).rule:
        assert rule.why and rule.why[1:] in text


@pytest.mark.parametrize("entity", ["contact", "account"])
def test_every_default_rule_is_explained(entity):
    """docs/rules.md gives each shipped rule, its verdict and its reason."""
    page = (Path(__file__).parents[1] / "docs" / "rules.md").read_text("utf-8")
    for rule in Policy.default(entity).rule:
        assert f"| {rule.name} | {rule.verdict} | {rule.why} |" in page


SAID = {
    'outcomes.mode = "allow-duplicates"': "Every row is created, whoever is like it.",
    'outcomes.several = "newest"': "goes to the record changed last",
    'outcomes.several = "all"': "updates them all",
    'outcomes.duplicates = "leave"': "are left; the row goes to the one that would stay",
    'outcomes.twice = "last"': "only the last is used",
    'outcomes.inactive = "revive"': "make it active again",
    'outcomes.moved = "update"': "is tied to it; the old one is noted",
    'outcomes.survivor = "newest"': "the record changed last stays",
    "match.risk = 0.01": "a share of 0.01 may be wrong",
    "match.staff = 0.02": "a share of 0.02 of the rows is held",
    'match.key = "email"': "A record with the row's email is the row's record",
    'match.ids = "ours"': "Ids in the list are the records' ids.",
    'match.labels = "seen.csv"': "fitted to the pairs judged in",
    "select.existing = ['city is filled']": "Existing records take part when city is filled.",
    'suppress.list = "alone.csv"': "alone.csv are left alone",
    "suppress.rows = ['email is blank']": "Rows are left alone when email is blank.",
    "suppress.records = ['email is blank']": "Records are kept out when email is blank.",
    'trust.order = ["crm", "web"]': "from the most trusted down: crm, web.",
    'trust.fields.phone = ["web"]': "Sources of phone from the most trusted down: web.",
    'give_back.fields = ["owner"]': "Given back with the list: owner",
    'owner = [{to = ["Kim", "Lee"]}]': "New records go to Kim, Lee in turn.",
    "files.most = 500": "at most 500 rows each",
    'update.phone = "most_frequent"': "phone: what most of them say stays.",
    'list.date = "2026-03-02"': "of 2026-03-02",
}


@pytest.mark.parametrize("choice", SAID)
def test_every_choice_is_told_in_words(choice, tmp_path):
    """What a policy chooses is said by `policy show`."""
    (tmp_path / "p.toml").write_text(choice + "\n")
    assert SAID[choice] in " ".join(in_words(Policy.read(tmp_path / "p.toml", "contact")))


@pytest.mark.parametrize(
    ("text", "line"),
    [
        ('mdoe = "x"\n', 1),
        ('[list]\nlabel = "x"\n\n[match]\n# why\ncomapre = ["email"]\n', 6),
        ('[columns]\n"Home. phone" = "phone"\n"Tel" = "phne"\n', 3),
        (
            '[[rule]]\nname = "a"\nverdict = "same"\nall = ["email is same"]\n\n[[rule]]\nname = "b"\nverdict = "sane"\nall = []\n',
            8,
        ),
        ('[update]\nphone = "replace"\ncity = "replce"\n', 3),
    ],
)
def test_mistakes_name_their_line(tmp_path, text, line):
    """A mistake says on which line of the policy its key stands."""
    (tmp_path / "p.toml").write_text(text)
    with pytest.raises(PolicyError, match=rf"\(line {line}\)"):
        Policy.read(tmp_path / "p.toml")
