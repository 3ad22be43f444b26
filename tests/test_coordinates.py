"""Where on the map a place is: what tells two of one name apart, and finds one under two names."""

from math import cos, radians, sin

import pandas as pd
import pyarrow as pa
import pytest
from hypothesis import assume, given, strategies as st

import brujula
from brujula.core.batch import Texts
from brujula.fields import kinds
from brujula.fields.coordinates import degrees
from brujula.intake.mapping import suggest
from brujula.testing import grades_of
from tests.test_default_rules import _others, _words

KIND = kinds()["coordinates"]
AT, NEXT_TOWN, ACROSS_TOWN = ("44.05012", "-121.31530"), ("44.27260", "-121.17390"), ("44.09012", "-121.31530")
NAME, TOWN = "Harrow Lind Airfield", "Birchmere"


def _planned(row, heads=("Name", "City", "Latitude", "Longitude"), record=(NAME, TOWN, *AT)):
    others = [[o["name"], o["city"], f"{30 + n / 7:.5f}", f"{-90 - n / 5:.5f}"] for n, o in enumerate(_others("account"))]
    old = pd.DataFrame([record, *others], columns=["name", "city", "lat", "lon"])
    old.insert(0, "id", [f"A-{n}" for n in range(len(old))])
    return brujula.plan(pd.DataFrame([row], columns=heads), against=old, entity="account")


CASES = {
    "part of the name": ((NAME.replace("Lind ", ""), TOWN, *AT), {"update", "unchanged"}),
    "another town's name": ((NAME, "Rookwood", *AT), {"update", "unchanged"}),
    "another town": ((NAME, "Rookwood", *NEXT_TOWN), {"create"}),
    "across the town": ((NAME, TOWN, *ACROSS_TOWN), {"review"}),
    "another name": (("Quist Memorial", TOWN, *AT), {"review"}),
    "another name across the town": (("Quist Memorial", TOWN, *ACROSS_TOWN), {"create"}),
}


@pytest.mark.parametrize("case", CASES)
def test_what_a_point_says(case):
    """One point makes up for a town or a part of a name; another point in the town, or another name at it, is for a person to see."""
    row, wanted = CASES[case]
    plan = _planned(row)
    assert plan.outcomes["outcome"][0] in wanted, plan.explain(1)
    assert plan.outcomes["record_id"][0] == ("" if wanted == {"create"} else "A-0")


def test_shops_at_one_point_are_not_held_for_one_another():
    """Where the lists show many at one point of the map, another name there is another shop."""
    shops = [[o["name"], TOWN, f"44.{n % 50:02}12", "-121.31530"] for n, o in enumerate(_others("account"))]
    old = pd.DataFrame([[f"A-{n}", *s] for n, s in enumerate(shops[20:])], columns=["id", "name", "city", "lat", "lon"])
    plan = brujula.plan(pd.DataFrame(shops[:60], columns=["Name", "City", "Lat", "Long"]), against=old, entity="account")
    assert plan.outcomes["outcome"].tolist() == ["create"] * 20 + ["unchanged"] * 40


@pytest.mark.parametrize(("sisters", "outcome"), [(60, "review"), (0, "unchanged")])
def test_sisters_at_one_point_are_held_where_the_lists_have_many(sisters, outcome):
    """Where both lists have many a workshop and its repairs at one point, one is not the other; where the records have none, the longer name is the same."""
    workshops = [
        [f"{x} Reed Workshop", y, f"{30.05 + n / 7:.5f}", f"{-90.05 - n / 5:.5f}"]
        for n, (x, y) in enumerate(zip(_words(120, 1), _words(120, 2), strict=True))
    ]
    repairs = [[f"{w[0]} Repairs", *w[1:]] for w in workshops]
    old = pd.DataFrame([*workshops, *repairs[:sisters]], columns=["name", "city", "lat", "lon"])
    old.insert(0, "id", [f"A-{n}" for n in range(len(old))])
    new = pd.DataFrame([*repairs[60:100], *workshops[:100]], columns=["Name", "City", "Lat", "Lon"])
    plan = brujula.plan(new, against=old, entity="account")
    assert set(plan.outcomes["outcome"][:40]) == {outcome}, plan.explain(1)
    assert set(plan.outcomes["outcome"][40:]) == {"unchanged"}


@given(st.floats(-89.9, 89.9), st.floats(-180, 180), st.floats(0, 6.28), st.sampled_from([60.0, 400.0, 2_500.0, 25_000.0]))
def test_the_grade_goes_by_the_distance(latitude, longitude, way, metres):
    """Whatever the latitude, and on either side of 180 degrees; in either order."""
    other = latitude + metres / 111_195 * cos(way)
    east = longitude + metres / 111_195 * sin(way) / cos(radians((latitude + other) / 2))
    here, there = (
        {"latitude": f"{a:.7f}", "longitude": f"{(b + 180) % 360 - 180:.7f}"} for a, b in ((latitude, longitude), (other, east))
    )
    assume(max(abs(other), abs(latitude)) < 89 and max(abs(latitude), abs(longitude)) > 1)
    wanted = {60.0: "same", 400.0: "close", 2_500.0: "partial", 25_000.0: "differs"}[metres]
    assert grades_of(KIND, here, there) == grades_of(KIND, there, here) == {"coordinates": wanted}


@pytest.mark.parametrize(
    ("text", "point"),
    [
        ("51.5, -0.14", (51.5, -0.14)),
        ("POINT (-0.14 51.5)", (51.5, -0.14)),
        ("[51.5;-0.14]", (51.5, -0.14)),
        ("51,5", (51.5, None)),
        ("51.5°", (51.5, None)),
        ("N 51", (None, None)),
    ],
)
def test_how_a_point_is_written(text, point):
    """Two numbers in one cell are a point; of the two in POINT the first is the longitude (ISO 19125)."""
    found = [None if x != x else float(x) for (x,) in degrees(Texts.of(pa.array([text])))]
    assert tuple(found) == point


@pytest.mark.parametrize(
    ("heading", "value", "field"),
    [("Long", "-121.3153", "longitude"), ("Long", "A long text", ""), ("Geo point", "44.05, -121.31", "latitude")],
)
def test_columns_of_points_are_told(heading, value, field):
    """By heading and content."""
    table = pa.table({"Name": [f"{o['name']}" for o in _others("account")], heading: [value] * len(_others("account"))})
    assert suggest(table, "account")[1].field == field
