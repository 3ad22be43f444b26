"""The promises under any policy of outcomes, for accounts as for contacts, and for groups and verdicts that rules have a say in."""

from pathlib import Path
from tempfile import TemporaryDirectory

import pandas as pd
import pytest
from hypothesis import HealthCheck, assume, given, settings, strategies as st

import brujula
from brujula.core import judge
from brujula.core.arrays import DIFFERENT, VERDICTS, check_groups
from brujula.core.decide import OUTCOMES
from brujula.policy.model import OutcomesPolicy, Policy
from brujula.stores import open_store

FEW = settings(max_examples=6, suppress_health_check=[HealthCheck.too_slow, HealthCheck.filter_too_much])
FIRM = st.fixed_dictionaries(
    {
        "name": st.sampled_from(
            ["Harrow Reed Works", "Harrow Reed Works LLC", "Harrow Reed Works 2", "HRW", "Lind Brass Band", "n/a", ""]
        ),
        "website": st.sampled_from(["harrow.example", "https://www.harrow.example/", "lind.example", ""]),
        "phone": st.sampled_from(["212-555-0147", "(212) 555-0147", "000-0000", ""]),
        "street": st.sampled_from(["12 Mill Street", "12 Mill St, Birchmere, TX 75272", ""]),
        "city": st.sampled_from(["Birchmere", "Rookwood", ""]),
    }
)
PERSON = st.fixed_dictionaries(
    {
        "first_name": st.sampled_from(["Robert", "Bob", "Ada", "José", ""]),
        "last_name": st.sampled_from(["Ames", "Ames Sr.", "Quist", ""]),
        "email": st.sampled_from(["bob@ames.example", "ada.quist@reed.example", "office@reed.example", ""]),
        "phone": st.sampled_from(["212-555-0147", "+1 212 555 0101", ""]),
        "updated_at": st.sampled_from(["2024-01-31", "2025-06-30", ""]),
        "active": st.sampled_from(["yes", "no", ""]),
    }
)
LISTS = {"account": st.lists(FIRM, max_size=8), "contact": st.lists(PERSON, max_size=8)}
HEADS = {
    "account": ["name", "website", "phone", "street", "city"],
    "contact": ["first_name", "last_name", "email", "phone", "updated_at", "active"],
}
CHOICES = {
    name: st.sampled_from(field.annotation.__args__)
    for name, field in OutcomesPolicy.model_fields.items()
    if hasattr(field.annotation, "__args__") and name != "stay"
}
POLICIES = st.fixed_dictionaries(CHOICES).map(lambda chosen: OutcomesPolicy(**chosen))
ENTITY = st.sampled_from(["account", "contact"])


def _frames(entity, existing, incoming):
    old = pd.DataFrame([{"id": f"C-{i}", **r} for i, r in enumerate(existing)], columns=["id", *HEADS[entity]])
    return old, pd.DataFrame(incoming, columns=HEADS[entity])


def _policy(entity, outcomes):
    return Policy.default(entity).model_copy(update={"outcomes": outcomes})


def _filled_store(folder, entity, existing):
    old, _ = _frames(entity, existing, [])
    old.to_csv(Path(folder) / "export.csv", index=False)
    url = f"sqlite:///{folder}/crm.db"
    brujula.load(Path(folder) / "export.csv", into=url)
    return url


@FEW
@given(entity=ENTITY, data=st.data(), outcomes=POLICIES)
def test_every_row_has_one_outcome(entity, data, outcomes):
    """Promise 1: under any policy each row has one outcome, each action is somebody's, and what is linked exists."""
    existing, incoming = data.draw(LISTS[entity]), data.draw(LISTS[entity])
    old, new = _frames(entity, existing, incoming)
    plan = brujula.plan(new, against=old, policy=_policy(entity, outcomes))
    assert plan.outcomes["row"].tolist() == list(range(1, len(new) + 1))
    assert set(plan.outcomes["outcome"]) <= set(OUTCOMES)
    named = {i for ids in plan.outcomes["record_id"] for i in ids.split(";") if i}
    assert named <= set(old["id"])
    actions = set(plan.actions["action"])
    used = set(plan.outcomes["action"]) - {""}
    assert used <= actions
    assert set(plan.changes["action"]) <= actions
    for line in plan.outcomes.to_dict("records"):
        if line["outcome"] in ("review", "reject", "skip"):
            assert line["action"] == "", line


@FEW
@given(entity=ENTITY, data=st.data(), outcomes=POLICIES)
def test_no_record_has_two_fates(entity, data, outcomes):
    """Under any policy a record is merged away once at most, and nothing is written to a record that is merged away."""
    existing, incoming = data.draw(LISTS[entity]), data.draw(LISTS[entity])
    old, new = _frames(entity, existing, incoming)
    plan = brujula.plan(new, against=old, policy=_policy(entity, outcomes))
    gone = [i for ids in plan.actions["merged_ids"] for i in ids.split(";") if i]
    assert len(gone) == len(set(gone))
    stays = [i for i in plan.actions["record_id"] if i]
    assert len(stays) == len(set(stays))
    assert not set(gone) & set(stays)
    for change in plan.changes.to_dict("records"):
        if change["record_id"] in gone:
            assert change["field"] in ("active", "duplicate_of"), change


@FEW
@given(entity=ENTITY, data=st.data(), outcomes=POLICIES)
def test_any_load_is_undone(entity, data, outcomes):
    """Promise 3: whatever the policy made of the rows, after undo the store is as it was, value for value."""
    existing, incoming = data.draw(LISTS[entity].filter(bool)), data.draw(LISTS[entity])
    with TemporaryDirectory() as folder:
        url = _filled_store(folder, entity, existing)
        with open_store(url) as store:
            before = store.dump()
        brujula.plan(_frames(entity, [], incoming)[1], against=url, policy=_policy(entity, outcomes)).write(f"{folder}/plan")
        done = brujula.load(f"{folder}/plan", into=url)
        brujula.undo(done.id, into=url)
        with open_store(url) as store:
            assert store.dump() == before


@FEW
@given(entity=ENTITY, data=st.data(), outcomes=POLICIES)
def test_a_second_load_makes_nobody_twice(entity, data, outcomes):
    """Promise 4: after the list is loaded, a second plan of it creates nobody the first one created."""
    assume(outcomes.mode != "allow-duplicates")
    existing, incoming = data.draw(LISTS[entity].filter(bool)), data.draw(LISTS[entity])
    with TemporaryDirectory() as folder:
        url = _filled_store(folder, entity, existing)
        policy, new = _policy(entity, outcomes), _frames(entity, [], incoming)[1]
        first = brujula.plan(new, against=url, policy=policy)
        first.write(f"{folder}/plan")
        brujula.load(f"{folder}/plan", into=url)
        second = brujula.plan(new, against=url, policy=policy)
        for a, b in zip(first.outcomes["outcome"], second.outcomes["outcome"], strict=True):
            if a in ("create", "update", "merge"):
                assert b in ("unchanged", "skip"), (a, b, outcomes)


@FEW
@given(entity=ENTITY, data=st.data(), outcomes=POLICIES, random=st.randoms(use_true_random=False))
def test_any_order_has_the_same_outcomes(entity, data, outcomes, random):
    """Promise 5: rows and records in another order have the same outcomes under any policy that does not go by the order itself."""
    assume(outcomes.twice not in ("first", "last"))
    existing, incoming = data.draw(LISTS[entity]), data.draw(LISTS[entity])
    old, new = _frames(entity, existing, incoming)
    rows, records = list(range(len(new))), list(range(len(old)))
    random.shuffle(rows)
    random.shuffle(records)
    one = brujula.plan(new, against=old, policy=_policy(entity, outcomes))
    other = brujula.plan(
        new.iloc[rows].reset_index(drop=True), against=old.iloc[records].reset_index(drop=True), policy=_policy(entity, outcomes)
    )
    twins = {i for i, same in enumerate(new.duplicated(keep=False)) if same}
    for place, row in enumerate(rows):
        if row in twins and outcomes.twice != "fold":
            continue
        assert one.outcomes["outcome"][row] == other.outcomes["outcome"][place], (outcomes, new.iloc[row].tolist())


@FEW
@given(entity=ENTITY, data=st.data())
def test_groups_hold_nobody_apart(entity, data):
    """No two members of a group have a `different` verdict between them, and groups are well formed."""
    old, new = _frames(entity, data.draw(LISTS[entity]), data.draw(LISTS[entity]))
    plan = brujula.plan(new, against=old, entity=entity)
    judged, groups = plan.matched.judged, plan.matched.groups
    check_groups(groups.of, len(plan.batch))
    pairs = judged.graded.pairs
    together = groups.of[pairs.left] == groups.of[pairs.right]
    assert not (together & (judged.verdict == DIFFERENT)).any()


@FEW
@given(entity=ENTITY, data=st.data())
def test_what_a_rule_says_is_the_verdict(entity, data):
    """A pair a rule spoke on has its verdict, unless chance may have brought it together; one that no rule forbids is never `different`; probabilities are probabilities."""
    old, new = _frames(entity, data.draw(LISTS[entity]), data.draw(LISTS[entity]))
    policy = Policy.default(entity)
    plan = brujula.plan(new, against=old, policy=policy)
    judged = plan.matched.judged
    assert ((judged.probability >= 0) & (judged.probability <= 1)).all()
    for rule, verdict in zip(judged.rule, judged.verdict, strict=True):
        if 0 <= rule < len(policy.rule):
            said = policy.rule[rule]
            assert VERDICTS[verdict] in ((said.verdict, "none") if said.crowded or said.within else (said.verdict,))
        elif rule < 0:
            assert verdict != DIFFERENT


@FEW
@given(entity=ENTITY, data=st.data())
def test_sides_do_not_matter(entity, data):
    """A row against a record is what the record is against the row: the same bits, whichever stands in which list."""
    left, right = data.draw(LISTS[entity].filter(bool)), data.draw(LISTS[entity].filter(bool))
    found = []
    for a, b in ((left[:1], right[:1]), (right[:1], left[:1])):
        old, new = _frames(entity, a, b)
        judged = brujula.plan(new, against=old, entity=entity).matched.judged
        found.append((judged.graded.levels.tolist(), judged.verdict.tolist()))
    assert found[0] == found[1]


@pytest.mark.parametrize("entity", ["account", "contact"])
def test_silence_of_rules_is_worth_something_where_rules_forbid(entity):
    """A policy whose rules forbid makes what they pass over likelier; one without such rules does not."""
    rules = Policy.default(entity).rule
    assert judge.silence(rules) > 0
    assert judge.silence([r for r in rules if r.verdict != "different"]) == 0.0
