"""Ages: no field of ours, and true for a year, but lists of people tell namesakes apart by nothing else."""

import pandas as pd
import pytest

import brujula
from brujula.demo import maker

FOUND = {"update", "unchanged"}
HOME, AWAY = ("12 Mill Street", "Birchmere", "75272"), ("7 Oak Road", "Rookwood", "43004")
HEADS = ["First name", "Last name", "Street", "Town", "ZIP", "Age"]
OTHERS = [(maker.GIVEN[i], maker.FAMILY[i], f"{i} Elm Lane", "Alderton", "97201", 20 + i % 50) for i in range(60)]


def _frame(rows, heads=HEADS):
    return pd.DataFrame([[str(x) for x in row] for row in rows], columns=heads)


def _plan(record, row, later=2, others=60, heads=HEADS):
    """One record and one row among others that both lists have, `later` years older in the second."""
    old = _frame([record, *OTHERS[:others]])
    old.insert(0, "id", [f"C-{i}" for i in range(len(old))])
    new = [(*rest, age + later if isinstance(age, int) else age) for *rest, age in OTHERS[:others]]
    return brujula.plan(_frame([row, *new], heads), against=old, entity="contact")


CASES = {
    "older by as much as the others": (("Ada", "Wrenfield", *HOME, 34), ("Ada", "Wrenfield", *HOME, 36), FOUND),
    "moved, and older by as much": (("Ada", "Wrenfield", *HOME, 34), ("Ada", "Wrenfield", *AWAY, 36), FOUND | {"review"}),
    "father and son": (("Rob", "Wrenfield", *HOME, 58), ("Rob", "Wrenfield", *HOME, 31), {"create"}),
    "no age": (("Ada", "Wrenfield", *HOME, 34), ("Ada", "Wrenfield", *HOME, ""), FOUND),
}


@pytest.mark.parametrize("case", CASES)
def test_two_lists_of_two_years(case):
    """In which years the lists were made is learnt from those whom both have."""
    record, row, wanted = CASES[case]
    plan = _plan(record, row)
    assert plan.outcomes["outcome"][0] in wanted, plan.explain(1)


@pytest.mark.parametrize(("age", "wanted"), [(38, FOUND), (61, {"create"})])
def test_of_a_few_people_a_generation_counts(age, wanted):
    """Where too few stand in both lists, their years are not known: four years are nothing, a generation is."""
    plan = _plan(("Ada", "Wrenfield", *HOME, 34), ("Ada", "Wrenfield", *HOME, age), later=7, others=5)
    assert plan.outcomes["outcome"][0] in wanted, plan.explain(1)


@pytest.mark.parametrize(("age", "wanted"), [(34, FOUND), (12, {"create"})])
def test_ages_against_birth_dates(age, wanted):
    """The one list gives dates, the other ages: those whom both have tie the two."""
    dated = [(*rest, f"{2026 - years}-03-02") for *rest, years in [("Rob", "Wrenfield", *HOME, 34), *OTHERS]]
    old = _frame(dated, [*HEADS[:-1], "Date of birth"])
    old.insert(0, "id", [f"C-{i}" for i in range(len(old))])
    plan = brujula.plan(_frame([("Rob", "Wrenfield", *HOME, age), *OTHERS]), against=old, entity="contact")
    assert plan.outcomes["outcome"][0] in wanted, plan.explain(1)
    assert "birth_date" not in plan.changes["field"].tolist()


@pytest.mark.parametrize(("age", "together"), [(33, True), (4, False)])
def test_dates_and_ages_in_one_list(age, together):
    """Those of whom it gives both say in which year a list was made: 2026, not some other."""
    rows = [(*rest, years, f"{2026 - years}-03-02") for *rest, years in OTHERS]
    rows += [("Rob", "Wrenfield", *HOME, "", "1993-03-02"), ("Rob", "Wrenfield", *HOME, age, "")]
    old = _frame(rows, [*HEADS, "Date of birth"])
    old.insert(0, "id", [f"C-{i}" for i in range(len(old))])
    groups = brujula.sweep(old, entity="contact").groups
    assert (len(groups) == 2) == together


def test_it_is_told_and_not_loaded(tmp_path):
    """An age is compared and written nowhere; the plan says so."""
    plan = _plan(("Ada", "Wrenfield", *HOME, 34), ("Bo", "Quist", *AWAY, "36 years"))
    note = 'column "Age" is no field, and is compared as an age'
    assert note in plan.incoming.notes and note in brujula.inspect(_frame(OTHERS), entity="contact").notes
    assert plan.outcomes["outcome"][0] == "create"
    assert not any("36" in str(v) for v in plan.changes["after"])


AREAS = {
    "apart": (["Area code", "Phone"], ["212", "555-0147"], "212 555-0147"),
    "the number has one": (["Area code", "Phone"], ["212", "(212) 555-0147"], "(212) 555-0147"),
    "no number": (["Vorwahl", "Telefon"], ["030", ""], ""),
    "no code": (["Area", "Phone"], ["North", "555-0147"], "555-0147"),
}


@pytest.mark.parametrize("case", AREAS)
def test_an_area_code_in_a_column_of_its_own(case):
    """It is read together with a number that lacks one."""
    heads, cells, phone = AREAS[case]
    rows = [[*cells, f"Ada{i}", "Quist"] for i in range(6)]
    plan = brujula.plan(
        _frame(rows, [*heads, "First name", "Last name"]), against=_frame([], ["id", "given_name"]), entity="contact"
    )
    changes = plan.changes
    assert changes[changes["field"] == "phone"]["after"].drop_duplicates().tolist() == ([phone] if phone else [])


DATED = [*HEADS[:-1], "Date of birth"]


def _dated(share):
    """People of whom every so many-th is born on 1 January, as far as the list says."""
    return [
        (*rest, f"{1930 + i}-{'01-01' if i % share == 0 else f'{1 + i % 12:02}-{2 + i % 26:02}'}")
        for i, (*rest, _) in enumerate(OTHERS)
    ]


@pytest.mark.parametrize(("share", "day", "wanted"), [(2, "03-17", FOUND), (60, "03-17", {"review"}), (2, "01-01", FOUND)])
def test_a_day_that_stands_in_for_one_nobody_knew(share, day, wanted):
    """Where far more are born on 1 January than on other days, it tells the year and no more; elsewhere it is a birthday."""
    old = _frame([("Ada", "Wrenfield", *HOME, f"1984-{day}"), *_dated(share)], DATED)
    old.insert(0, "id", [f"C-{i}" for i in range(len(old))])
    row = ("Ada", "Wrenfield", *HOME, "1984-01-01")
    plan = brujula.plan(_frame([row, *_dated(share)], DATED), against=old, entity="contact")
    assert plan.outcomes["outcome"][0] in wanted, plan.explain(1)
    asked = brujula.Lookup(old).check({"given_name": "Ada", "family_name": "Wrenfield", "street": HOME[0], "birth_date": row[-1]})
    assert (asked.answer == "yes") == (wanted == FOUND)


def test_another_year_is_another_year():
    """A day that stands in for one nobody knew leaves the year: father and son are two."""
    old = _frame([("Rob", "Wrenfield", *HOME, "1984-03-17"), *_dated(2)], DATED)
    old.insert(0, "id", [f"C-{i}" for i in range(len(old))])
    plan = brujula.plan(_frame([("Rob", "Wrenfield", *HOME, "1957-01-01"), *_dated(2)], DATED), against=old, entity="contact")
    assert plan.outcomes["outcome"][0] == "create"


@pytest.mark.parametrize(("born", "nobody_knew", "wanted"), [("1953-01-01", 0, {"create"}), ("1970-01-01", 200, FOUND)])
def test_of_a_long_list_a_year_is_a_year(born, nobody_knew, wanted):
    """However many are said to be born on 1 January of each year, the years count; of one date that very many have, nothing does."""
    people = [(maker.GIVEN[i % 90], maker.FAMILY[i % 97], f"{i} Elm Lane", "Alderton", "97201") for i in range(420)]
    dates = [f"{1950 + i % 10}-01-01" if i % 2 else f"{1930 + i % 60}-{1 + i % 12:02}-{2 + i % 26:02}" for i in range(420)]
    dates[:nobody_knew] = ["1970-01-01"] * nobody_knew
    others = [(*p, d) for p, d in zip(people, dates, strict=True)]
    old = _frame([("Rob", "Wrenfield", *HOME, "1984-03-17"), *others], DATED)
    old.insert(0, "id", [f"C-{i}" for i in range(len(old))])
    plan = brujula.plan(_frame([("Rob", "Wrenfield", *HOME, born), *others], DATED), against=old, entity="contact")
    assert plan.outcomes["outcome"][0] in wanted, plan.explain(1)
