"""Lists whose system cut every name at one width."""

import pandas as pd
import pyarrow as pa
from hypothesis import given, strategies as st

import brujula
from brujula.core.batch import Column
from brujula.core.steps.cut import completed

TOWNS = "Orme Salt Lind Wren Marl Tarn Holt Kell Dunn Fenn Gale Hythe Ives Jarrow Keld Lorne Mere Nairn Odell Penn".split()
KINDS = ("Instrument Repair Workshop", "Community Brass Band", "Conservatory of Music and Dance", "Lodge of the Horn")
FIRMS = [f"{town}ford and {TOWNS[-i]}bury {KINDS[i % 4]} {100 + 37 * i}" for i, town in enumerate(TOWNS)]


def _completed(whole, short):
    column = completed(Column.of(pa.array([*whole, *short], pa.large_string())), len(whole))
    return [text.lower().split() for text in column.values.arrow().take(pa.array(column.codes)).to_pylist()[len(whole) :]]


@given(st.integers(20, 46))
def test_a_cut_name_is_a_beginning_of_the_whole_one(width):
    """What is put in a cut word's place is the word it was, and half a number is none."""
    for whole, found in zip(FIRMS, _completed(FIRMS, [name[:width] for name in FIRMS]), strict=True):
        assert found == whole.lower().split()[: len(found)]
        assert len(found) >= len(whole[:width].split()) - 1


def test_a_list_that_was_not_cut_stays():
    """Names of many lengths are whole, the longest ones too; so are names that have one length because they are numbered."""
    for names in (FIRMS, [f"Birchmere Brass Lodge {i}" for i in range(500, 600)]):
        assert _completed([], names) == [name.lower().split() for name in names]


def test_firms_under_cut_names_are_found():
    """What was cut off is no difference: at its street and number a firm is known, and held where the number went that tells it from others."""
    numbered = [name for i, name in enumerate(FIRMS) if i % 4 == 0]
    firms = [name.rsplit(" ", 1)[0] for i, name in enumerate(FIRMS) if i % 4] + numbered
    place = [[f"{i + 2} Mill Street", f"{town}ville"] for i, town in enumerate(TOWNS)]
    columns = ["name", "street", "city"]
    old = pd.DataFrame([[n, *p] for n, p in zip(firms, place, strict=True)], columns=columns)
    new = pd.DataFrame([[n.upper()[:40], *p] for n, p in zip(firms, place, strict=True)], columns=columns)
    plan = brujula.plan(new, against=old.assign(id=[f"A-{i}" for i in range(20)]), entity="account")
    assert plan.outcomes["outcome"].tolist() == ["unchanged"] * 15 + ["review"] * 5
    assert all(f"A-{i}" in ids.split(";") for i, ids in enumerate(plan.outcomes["record_id"]))
