"""Registers of people: a name with a birth date, a year, a state or a title, and no more."""

import pandas as pd
import pyarrow as pa
import pytest

import brujula
from brujula import chance
from brujula.core.batch import Column
from brujula.demo import maker
from brujula.fields import kinds

FAMILIES = [f"{a}{b}" for a in maker.FAMILY[:20] for b in ("holm", "gren", "dorf", "ley", "wick", "by", "stad")]
FOUND = {"update", "unchanged"}


def _plan(records, rows, heads):
    old = pd.DataFrame([[f"C-{n}", *r] for n, r in enumerate(records)], columns=["id", *heads])
    return brujula.plan(pd.DataFrame(rows, columns=heads), against=old, entity="contact")


@pytest.mark.parametrize(("short", "formal"), [("Bob", "Robert"), ("Bill", "William"), ("Gene", "Eugene"), ("Peggy", "Margaret")])
def test_who_is_called_by_a_short_name_is_looked_for_by_the_long_one(short, formal):
    """Nothing but a family name and a state brings Bob Wrenfield and Robert Leon Wrenfield together."""
    heads = ["Given names", "Last name", "State"]
    others = [[maker.GIVEN[n % 40], f, "NY"] for n, f in enumerate(FAMILIES)]
    plan = _plan([[f"{formal} Leon", "Wrenfield", "NY"], *others], [[short, "Wrenfield", "NY"]], heads)
    assert plan.pairs["right"].tolist() == ["C-0"] and plan.outcomes["outcome"][0] != "create"


@pytest.mark.parametrize(("titled", "outcome"), [(0, "unchanged"), (30, "review")])
def test_don_is_a_name_unless_a_list_calls_many_so(titled, outcome):
    """Don Prado is Don Wilson Prado; where a list addresses thirty by it, he is Wilson, and of one birth date with whoever is called Don."""
    heads = ["Given names", "Last name", "Date of birth"]
    others = [
        ["Don " * (n < titled) + maker.GIVEN[n % 40], f, f"{1940 + n % 50}-03-0{1 + n % 9}"] for n, f in enumerate(FAMILIES)
    ]
    plan = _plan([["Don Wilson", "Prado", "1951-02-17"], *others], [["Don", "Prado", "1951-02-17"]], heads)
    assert plan.outcomes["outcome"][0] == outcome, plan.explain(1)


@pytest.mark.parametrize(("about", "kept"), [(["1898", "1899", "1901", "1902"], True), (["1961", "1972", "1984"], False)])
def test_1900_among_years(about, kept):
    """It is a year like those about it, or stands in for one nobody knew."""
    column = kinds()["date"].clean(Column.of(pa.array([*about * 5, "1900"])))
    assert bool(column.filled[-1]) == kept


COUPLES = {
    "titles in both lists": ("Mr. Thomas", "Mrs. Thomas", {"review"}),
    "a title in the one, and a man's name": ("Thomas", "Mrs. Thomas", {"review"}),
    "a title in the one, and a woman's name": ("Ada", "Mrs. Ada", FOUND),
    "one title": ("Mr. Thomas", "Mr. Thomas", FOUND),
    "married since": ("Miss Ada", "Mrs. Ada", FOUND),
}


@pytest.mark.parametrize("case", COUPLES)
def test_a_wife_under_her_husbands_name_is_not_he(case):
    """Mrs. Thomas Wrenfield, of his address and line, is left to a person."""
    record, row, wanted = COUPLES[case]
    heads, home = ["First name", "Last name", "Phone", "Street", "City"], ["212-555-0147", "12 Mill Street", "Birchmere"]
    others = [
        [f"{'Mr. Thomas' if n % 2 else 'Mrs. Ada'}", f, f"305-555-{100 + n:04}", f"{n} Elm Lane", "Orme"]
        for n, f in enumerate(FAMILIES[:40])
    ]
    plan = _plan([[record, "Wrenfield", *home], *others], [[row, "Wrenfield", *home]], heads)
    assert plan.outcomes["outcome"][0] in wanted, plan.explain(1)


def _likely(plan, rule):
    pairs = plan.pairs[plan.pairs["rule"] == rule]
    assert (pairs["verdict"] == "unsure").all()
    return pairs["probability"].mean()


def _of_one_birth_date(twins):
    """Forty rows of a birth date and family name on record, under another given name are the last; so many records have a twin."""
    heads = ["Given names", "Last name", "Date of birth"]
    born = [f"{1930 + n % 60}-{1 + n % 12:02}-{2 + n % 26:02}" for n in range(len(FAMILIES))]
    records = [[maker.GIVEN[n % 20], f, born[n]] for n, f in enumerate(FAMILIES)]
    records += [[maker.GIVEN[20 + n % 20], f, born[n]] for n, f in enumerate(FAMILIES[:twins])]
    rows = [["Zebulon" if n < 40 else maker.GIVEN[n % 20], f, born[n]] for n, f in enumerate(FAMILIES)][::-1]
    return _plan(records, rows, heads)


def test_who_shares_a_birth_date_is_one_where_no_list_has_twins():
    """Charles and Buck of one birth date are likely one, and held all the same."""
    assert _likely(_of_one_birth_date(0), "one birth date, two given names") > 0.8


def test_of_long_lists_some_records_show_what_all_do(monkeypatch):
    """How likely twins are is learnt from every other birth date about as from all."""
    rule = "one birth date, two given names"
    of_all = _likely(_of_one_birth_date(12), rule)
    monkeypatch.setattr(chance, "_ENOUGH", 140)
    assert abs(_likely(_of_one_birth_date(12), rule) - of_all) < 0.15 < of_all < _likely(_of_one_birth_date(0), rule) - 0.15


@pytest.mark.parametrize(("twins", "outcome"), [(15, "review"), (60, "create")])
def test_who_shares_a_birth_date_may_be_a_twin(twins, outcome):
    """Where either list has twins they are held as less likely; where it has as many as are found, they are made anew."""
    assert (_of_one_birth_date(twins).outcomes["outcome"][-40:] == outcome).all()


@pytest.mark.parametrize(("namesakes", "low", "high"), [(0, 0.95, 1.0), (70, 0.2, 0.93)])
def test_a_name_alone_is_as_likely_as_either_list_has_namesakes(namesakes, low, high):
    """Nobody but the one of that name is meant where no list has two of a name; it is held all the same."""
    heads = ["Given names", "Last name", "Nickname"]
    records = [[maker.GIVEN[n % 40], f, ""] for n, f in enumerate(FAMILIES)]
    rows = [[*r[:2], "x"] for r in records]
    records += [[*r[:2], "Zed"] for r in records[:namesakes]]
    assert low < _likely(_plan(records, rows, heads), "a name alone") < high


def test_what_is_asked_is_asked_of_the_list_as_it_is(tmp_path):
    """A list of people is asked as one whatever field is asked about, and one of firms as one of firms."""
    people, firms = tmp_path / "people.csv", tmp_path / "firms.csv"
    people.write_text("id,First name,Last name,E-mail\nC-1,Ada,Quist,ada@harrow.example\n")
    firms.write_text("id,Account name,Website,E-mail\nA-1,Harrow Reeds,harrow.example,office@harrow.example\n")
    assert brujula.Lookup(people).entity == "contact" and brujula.Lookup(firms).entity == "account"
    with pytest.raises(brujula.UsageError, match='no field "name" of a contact; did you mean "full_name"'):
        brujula.check({"name": "Ada Quist"}, people)


@pytest.mark.parametrize(("twice", "outcome"), [(0, "review"), (400, "merge")])
def test_two_records_a_row_is_like_are_one_where_others_are_twice(twice, outcome):
    """Father and son of one name and town are not merged for a row's sake into a base that has hardly anybody twice."""
    heads = ["First name", "Last name", "City"]
    parts = [
        f"{a}{b}{c}"
        for a in "bdfgklmnprst"
        for b in ("alo", "eri", "ino", "umo", "ovi")
        for c in ("ler", "man", "sen", "vik", "dor")
    ]
    records = [[f"{maker.GIVEN[n % 40]}", f"{parts[n % 300]}{parts[n % 297][:4]}", f"{parts[n % 289]}ton"] for n in range(3_000)]
    rows = [[maker.GIVEN[0], "Wrenfield", "Orme"], *records[:1_500]]
    records += [[f"{maker.GIVEN[0]} J.", "Wrenfield", "Orme"], [maker.GIVEN[0], "Wrenfield", "Orme"], *records[:twice]]
    plan = _plan(records, rows, heads)
    assert plan.outcomes["outcome"][0] == outcome, plan.explain(1)


def test_nobody_is_known_by_a_birth_date_and_a_domain():
    """Without names, two of one birth date and firm are left to a person, and no records are merged for them."""
    heads = ["E-mail", "Date of birth"]
    records = [["ada@reed.example", "1980-01-02"], ["bo@reed.example", "1981-03-04"], ["cy@reed.example", "1980-01-02"]]
    plan = _plan(records, [["ada@reed.example", "1980-01-02"], ["zed@reed.example", "1981-03-04"]], heads)
    assert plan.outcomes[["outcome", "record_id"]].values.tolist() == [["unchanged", "C-0"], ["review", "C-1"]], plan.explain(1)
