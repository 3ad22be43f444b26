"""Lists whose given and family names stand the other way round all through."""

import pandas as pd
import pytest

import brujula
from brujula.policy.model import Policy

GIVEN = "Ana Luis Pedro Rosa Juan Elena Pablo Sara Nora Iker".split()
FAMILY = "Prado Lind Quist Wren Alder Birch".split()
OLD = pd.DataFrame(
    [(f"C-{g}{f}", g, f, f"{g}.{f}@reeds.example".lower()) for g in GIVEN for f in FAMILY],
    columns=["id", "first_name", "last_name", "email"],
)
PEOPLE = [(g, f) for g, f in zip(GIVEN * 3, FAMILY * 5, strict=True)][:30]


def planned(rows, policy=None):
    """A plan of rows that are the records' people, a new Sara Maria Voss among them."""
    return brujula.plan(pd.DataFrame(rows), against=OLD, policy=policy, entity="contact")


def _made(plan):
    """Given and family name of the one record that is made."""
    (action,) = plan.actions[plan.actions["kind"] == "create"]["action"]
    made = plan.changes[plan.changes["action"] == action].set_index("field")["after"]
    return made["given_name"], made["family_name"]


def mail(given, family):
    """The mailbox the records give them."""
    return f"{given}.{family}@reeds.example".lower()


def test_exchanged_columns_are_read_as_they_are_meant():
    """Found all the same, told, and the new one is made under her own names."""
    rows = [{"First": f, "Last": g, "Mail": mail(g, f)} for g, f in PEOPLE] + [{"First": "Voss", "Last": "Sara", "Mail": ""}]
    plan = planned(rows)
    assert plan.listed.columns["given_name"] == "Last"
    assert any("each was taken for the other" in note for note in plan.listed.raw.notes)
    assert set(plan.outcomes["outcome"][:30]) == {"unchanged"}
    assert _made(plan) == ("Sara", "Voss")


def test_whole_names_that_begin_with_the_family_name():
    """Read so, with a suffix or two given names behind; the new one is made under her own names."""
    rows = [{"Name": f"{f} {g}", "Mail": mail(g, f)} for g, f in PEOPLE] + [{"Name": "Voss Sara Maria", "Mail": ""}]
    rows[0]["Name"] = f"Dr. {PEOPLE[0][0]} {PEOPLE[0][1]}"
    plan = planned(rows)
    assert any("gives the family name first" in note for note in plan.listed.raw.notes)
    assert set(plan.outcomes["outcome"][:30]) == {"unchanged"}
    assert _made(plan) == ("Sara Maria", "Voss")


def test_a_degree_is_nobodys_given_name():
    """Behind a comma stand given names, or what somebody has studied: then no name is made of it."""
    changes = planned([{"Name": "Zoe Voss, LCSW", "Mail": "zoe@voss.example"}]).changes
    assert not changes["after"].isin(["LCSW", "Zoe Voss"]).any(), changes


@pytest.mark.parametrize("turned", [0, 4])
def test_a_list_in_order_is_let_be(turned):
    """Nor are a few rows that stand the wrong way round a reason to turn the others."""
    rows = [{"First": f, "Last": g} if n < turned else {"First": g, "Last": f} for n, (g, f) in enumerate(PEOPLE)]
    assert planned(rows).listed.columns["given_name"] == "First"


def test_what_the_policy_says_of_the_columns_is_believed():
    """Somebody who names the columns knows them."""
    policy = Policy.default("contact").model_copy(update={"columns": {"First": "given_name", "Last": "family_name"}})
    rows = [{"First": f, "Last": g} for g, f in PEOPLE]
    assert planned(rows, policy).listed.columns["given_name"] == "First"


def test_suppliers_under_their_own_names():
    """Where a list of firms writes persons family name first, what stands behind is an initial, and no unit's letter."""
    people = ["Rosa Wren", "Tom B. Lind", "Mary Orme", "John S. Quist", "Paula Tarn", "Eric N. Holt", "Anna Marl", "Peter Kell"]
    places = [[f"{i + 2} Mill Road", f"{name.split()[-1]}ville"] for i, name in enumerate(people)]
    turned = "WREN, ROSA T|LIND TOM B|ORME MARY E|QUIST, JOHN|TARN PAULA S|HOLT, ERIC N.|MARL, ANNA|KELL PETER N".split("|")
    old = pd.DataFrame([[f"S-{i}", name, *place] for i, (name, place) in enumerate(zip(people, places, strict=True))])
    new = pd.DataFrame([[name, *place] for name, place in zip(turned, places, strict=True)], columns=["Vendor", "Street", "City"])
    plan = brujula.plan(new, against=old.set_axis(["id", "Supplier", "Street", "City"], axis=1), entity="account")
    assert plan.outcomes[["outcome", "record_id"]].values.tolist() == [["unchanged", f"S-{i}"] for i in range(8)]
