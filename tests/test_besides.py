"""Columns that no field takes, where a name and a place are all there is to go by."""

import pandas as pd
from hypothesis import given, settings, strategies as st

import brujula

HEADS = ["name", "state", "District"]
KNOWN = [(f"{word} {kind}", "OR", f"District {n % 7}") for n, (word, kind) in enumerate(
    (w, k) for w in "Alder Birch Cedar Dogwood Elmer Fennel Gorse Hazel".split() for k in "Brass Reeds Strings".split()
)]  # fmt: skip


def lists(*rows, more=(), records=()):
    """The schools known and some more, as records; all the schools and some more, as a list."""
    old = pd.DataFrame([(f"A-{n}", *r) for n, r in enumerate([*KNOWN, *records])], columns=["id", *HEADS])
    return old, pd.DataFrame([*KNOWN, *rows], columns=HEADS)


def outcome_of_last(old, new):
    """What becomes of the last row, and why."""
    plan = brujula.plan(new, against=old, entity="account")
    return plan.outcomes["outcome"].iloc[-1], plan.explain(len(new))


def test_one_name_in_two_districts_is_held():
    """The row says word for word what the record says, but for its district: a person decides, and is told which column it is."""
    outcome, why = outcome_of_last(*lists(("Alder Brass", "OR", "District 5")))
    assert outcome == "review" and '"district"' in why and "another value besides" in why


def test_the_same_district_is_no_doubt():
    """All the rows that agree in it are found as before, however it is written."""
    old, new = lists()
    plan = brujula.plan(new.assign(District=new["District"].str.upper()), against=old, entity="account")
    assert set(plan.outcomes["outcome"]) == {"unchanged"}


def test_a_column_under_two_headings_is_told_by_its_values():
    """District and Catchment hold the same; Level, with a few words of its own in both lists, is no column in common."""
    old, new = lists(("Alder Brass", "OR", "District 5"))
    area = {name: f"District {n % 12}" for n, (name, *_) in enumerate(KNOWN)}
    old["District"], new["District"] = (x["name"].map(area) for x in (old, new))
    new.loc[len(KNOWN), "District"] = "District 7"
    outcome, why = outcome_of_last(old, new.rename(columns={"District": "Catchment"}))
    assert outcome == "review" and '"district / catchment"' in why
    old["District"], new["District"] = old["District"].str[:8], "District"
    assert outcome_of_last(old, new.rename(columns={"District": "Level"}))[0] == "unchanged"


def test_records_of_two_districts_are_not_merged():
    """Two records of one name: with the district the row is the one's; with a state alone a person decides; of a bare name they are one, there twice."""
    old, new = lists(records=[("Alder Brass", "OR", "District 5")])
    cases = (HEADS, ["unchanged", "A-0"]), (HEADS[:2], ["review", "A-0;A-24"]), (HEADS[:1], ["merge", "A-0;A-24"])
    for heads, wanted in cases:
        found = brujula.plan(new[heads], against=old[["id", *heads]], entity="account").outcomes
        assert [found["outcome"][0], found["record_id"][0]] == wanted
    groups = brujula.sweep(old, entity="account").groups
    assert "same" not in set(groups["verdict"])


def test_what_changes_with_every_list_is_no_doubt():
    """Where most rows that are surely one differ in it, it tells nothing."""
    old, new = lists()
    plan = brujula.plan(new.assign(District=[f"District {n % 5}" for n in range(len(new))]), against=old, entity="account")
    assert set(plan.outcomes["outcome"]) == {"unchanged"}


def test_what_was_ordered_makes_nobody_another():
    """Of a list in which most stand several times each stands for one, whatever they ordered; a name that two rows share is two's."""
    old, new = lists(("Quist Brass", "OR", "Horn"), ("Quist Brass", "OR", "Case"))
    assert len(brujula.plan(new, against=old, entity="account").actions) == 2
    orders = pd.concat([new.assign(District=ordered) for ordered in ("Horn", "Case", "Reed")])
    assert len(brujula.plan(orders, against=old, entity="account").actions) == 1


def test_a_date_is_no_doubt():
    """When somebody was last spoken to tells nobody apart."""
    old, new = lists(("Alder Brass", "OR", "2026-03-05"))
    old["District"], new["District"] = "2026-03-01", [*["2026-03-01"] * len(KNOWN), "2026-03-05"]
    assert outcome_of_last(old, new)[0] == "unchanged"


def test_more_in_common_than_a_name_counts():
    """A phone in common is more than a name and a place: the district may have changed."""
    old, new = lists(("Quist Brass", "OR", "District 5"), records=[("Quist Brass", "OR", "District 1")])
    phones = [f"305-555-{n:04}" for n in range(len(new))]
    assert outcome_of_last(old.assign(phone=phones), new.assign(phone=phones))[0] == "unchanged"


def test_a_column_the_policy_leaves_out_is_no_doubt(tmp_path):
    """Who says that the column is not used is believed."""
    policy = tmp_path / "mine.toml"
    policy.write_text('entity = "account"\n[columns]\nDistrict = ""\n')
    old, new = lists(("Alder Brass", "OR", "District 5"))
    plan = brujula.plan(new, against=old, policy=policy)
    assert plan.outcomes["outcome"].iloc[-1] == "unchanged"


@settings(max_examples=6, deadline=None)
@given(st.lists(st.integers(0, 6), min_size=len(KNOWN), max_size=len(KNOWN)))
def test_where_lists_do_not_agree_in_it_it_only_holds(districts):
    """Whatever stands in such a column at random, no row is given to a record that it was not given to without it."""
    old, new = lists()
    plain = brujula.plan(new[HEADS[:2]], against=old[["id", *HEADS[:2]]], entity="account").outcomes
    found = brujula.plan(new.assign(District=[f"D {d}" for d in districts]), against=old, entity="account").outcomes
    kept = found["outcome"] != "review"
    assert (found["outcome"] == plain["outcome"])[kept].all() and (found["record_id"] == plain["record_id"])[kept].all()
