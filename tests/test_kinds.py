"""Every kind keeps the contract of kinds."""

import numpy as np
import pyarrow as pa
import pytest
from hypothesis import given, settings, strategies as st

from brujula.core.batch import Batch, Column
from brujula.core.kind import Who
from brujula.core.steps.parallel import in_chunks
from brujula.fields import kinds
from brujula.testing import check_kind, check_order, check_texts, grades_of

ODD = [
    "O'Neil-Smith, Jr.",
    "=1+1",
    "<script>",
    "a@b",
    "@",
    "++49",
    "12 & 12",
    "Ünïcödé ß",
    "王小明",
    "Анна",
    "\u0000x",
    "x" * 300,
    "1/2/3",
    "n/a",
    "👩‍🎤",
    ",;|",
]


@pytest.mark.parametrize("name", sorted(kinds()))
def test_kind_contract(name):
    """Examples hold, blank stays blank, comparing is symmetric."""
    check_kind(kinds()[name], ODD)


@pytest.mark.parametrize("name", sorted(kinds()))
@settings(max_examples=12)
@given(texts=st.lists(st.text(max_size=40), min_size=1, max_size=6))
def test_kind_takes_any_text(name, texts):
    """No text raises, and none breaks the contract."""
    check_texts(kinds()[name], texts)


GIVEN = "Michael,Jeffrey,Jeffery,Robert,Bobby,Tyler,Harriet,Jose,Francisco,Mari,Ana,V,H,J T,Kelly,William,Kenneth,Kruse".split(
    ","
)
FAMILY = "Kelly,Krause,Kruse,Williams,Kennedy,V,H,J,Briemer,Robert,Perez,Perez Perez,Tyler,Ana,Quist Jr".split(",")
FIRM = "Harrow,Sons,Solns,Solutions,Reed,Reeds,Motors,North,South,St,H,Tools,Tool,and,2".split(",")


def _columns(**parts):
    return {part: Column.of(pa.array(values, pa.large_string())) for part, values in parts.items()}


@given(
    st.lists(
        st.tuples(
            st.lists(st.sampled_from(GIVEN), min_size=1, max_size=2), st.lists(st.sampled_from(FAMILY), min_size=1, max_size=2)
        ),
        min_size=20,
        max_size=30,
    )
)
def test_order_of_names(names):
    """Promise 5 begins here: whichever of two names a list has first, they are as much alike, swapped, shortened or not."""
    parts = {f"{part}_name": [" ".join(name[i]) for name in names] for i, part in enumerate(("given", "family"))}
    blank = dict.fromkeys(("prefix", "middle_name", "suffix", "full_name"), [None] * len(names))
    mailboxes = [f"{given[-1]}.{family[0]}{n % 3}@post.example".replace(" ", "") for n, (given, family) in enumerate(names)]
    check_order(kinds()["person_name"], _columns(**parts, **blank, email=mailboxes))


@given(st.lists(st.lists(st.sampled_from(FIRM), min_size=1, max_size=5), min_size=20, max_size=30))
def test_order_of_firms(names):
    """So do firms: which words of the one are laid beside which of the other does not hang on the order of a list."""
    check_order(kinds()["company"], _columns(account=[" ".join(words) for words in names]))


SLIPS = "Springfield,Sprinfgfield,Sprngfield,Orme,212-555-0174,212-555-0147,212-555-0144,office@lind.example,office@gmail.com,office@harrow.example,adalind@lind.example,adaalind@lind.example".split(
    ","
)


@pytest.mark.parametrize(("kind", "part"), [("postal_address", "city"), ("phone", "phone"), ("email", "email")])
def test_slips_either_way(kind, part):
    """A value with a slip in it is as common as the one it was meant for, whichever side has the slip."""
    values = [v for place, v in enumerate(SLIPS) for _ in range(1 + place % 3)]
    column = kinds()[kind].clean(_columns(x=values)["x"])
    columns = {p: _columns(x=[None] * len(values))["x"] for p in kinds()[kind].parts} | {part: column}
    check_order(kinds()[kind], columns)


EVERYWHERE = ["n/a", "N/A", "TBD", "unknown", "-", "none", " "]
HOLLOW = [
    (f, h) for f in ("email", "phone", "mobile", "given_name", "account", "street", "website", "job_title") for h in EVERYWHERE
]
HOLLOW += [
    ("email", "test@test.com"),
    ("email", "noemail@noemail.com"),
    ("phone", "000-0000"),
    ("phone", "(999) 999-9999"),
    ("phone", "123-456-7890"),
    ("website", "www.none.com"),
    ("account", "Self-employed"),
]


@pytest.mark.parametrize(("field", "hollow"), HOLLOW)
def test_placeholders_make_nobody_alike(field, hollow):
    """Two records that say nothing do not agree."""
    kind = next(k for k in kinds().values() if field in k.parts and k.comparisons)
    found = grades_of(kind, {field: hollow}, {field: hollow})
    assert set(found.values()) <= {"blank"}, found


def test_chunks_cover_everything_once():
    """Parts of a parallel step neither overlap nor leave gaps."""
    seen = np.zeros(1000, int)

    def work(a, b):
        seen[a:b] += 1

    in_chunks(work, 1000, part=64)
    assert (seen == 1).all()


def test_firms_of_one_name():
    """Three hundred firms of one name at as many doors are three hundred, however their streets and towns are numbered inside."""
    n = 300
    columns = _columns(
        name=["Harrow Reeds"] * n, street=[f"{k // 2} Elm St" for k in range(n)], city=["Orme", "Alder"] * (n // 2)
    )
    standard = kinds()["company"].standardise(Batch("account", 0, n, columns), lambda: Who.nobody(n))
    assert standard.shares.tolist() == [1.0] * n
