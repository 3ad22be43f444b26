"""Names with a number before or behind them, as systems print them."""

import pandas as pd
import pytest

import brujula
from tests.test_default_rules import _words

FIRMS = [f"{w} {k}" for w, k in zip(_words(24, 8), ["Horns", "Reeds Inc.", "Strings", "Drums"] * 6, strict=True)]
OLD = pd.DataFrame([[f"A-{i}", f, "Orme"] for i, f in enumerate(FIRMS)], columns=["id", "name", "city"])


def _plan(names):
    return brujula.plan(pd.DataFrame({"Name": names, "Town": "Orme"}), against=OLD, entity="account")


@pytest.mark.parametrize("layout", ["{n} - {f}", "[{n}] {f}", "{n} {f}", "HR-{n} {f}", "{f} [{n}]", "{f} - {n}", "{f} (#{n})"])
def test_the_number_is_no_part_of_the_name(layout):
    """Read as the name, told, and kept in the list as it stood."""
    plan = _plan([layout.format(n=10234 + 7 * i, f=f) for i, f in enumerate(FIRMS)])
    assert plan.outcomes["record_id"].tolist() == OLD["id"].tolist()
    assert any("is no part of it" in note for note in plan.incoming.notes)
    assert plan.incoming.table["Name"].to_pylist()[0] == layout.format(n=10234, f=FIRMS[0])


@pytest.mark.parametrize(
    "layout", ["{n} {f} Place", "1{i} {f} Street LLC", "{f}", "{f} {i}", "{f} #{i}", "Harrow Band - {i}", "{i}: Harrow Band"]
)
def test_numbers_that_are_of_the_name_stay(layout):
    """12 Harrow Place and 1200 Harrow Place are two, and so are Band 101 and Band 102."""
    names = [layout.format(n=(3 + 11 * i) ** (1 + i % 3), f=f, i=101 + i) for i, f in enumerate(FIRMS)]
    assert _plan(names).listed.values["name"].to_pylist() == names


def test_a_file_of_such_names_is_loaded_into(tmp_path):
    """A name that is written gets a column beside the file's own, and is read from there."""
    old = OLD.assign(name=[f"{10234 + i} - {f}" for i, f in enumerate(FIRMS)])
    old.to_csv(tmp_path / "crm.csv", index=False)
    pd.DataFrame({"name": [FIRMS[3].upper(), "Quistholm Choir"], "city": "Orme"}).to_csv(tmp_path / "new.csv", index=False)
    brujula.plan(tmp_path / "new.csv", against=tmp_path / "crm.csv", entity="account").write(tmp_path / "plan")
    assert brujula.load(tmp_path / "plan", into=str(tmp_path / "out.csv")).created == 1
    again = brujula.plan(tmp_path / "new.csv", against=tmp_path / "out.csv", entity="account")
    assert set(again.outcomes["outcome"]) == {"unchanged"}
    kept = pd.read_csv(tmp_path / "out.csv", dtype=str, keep_default_na=False)
    assert kept["name"].tolist() == [*old["name"], ""] and kept["brujula name"].tolist() == [*FIRMS, "Quistholm Choir"]
