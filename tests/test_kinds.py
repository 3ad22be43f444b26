"""Every kind keeps the contract of kinds."""

import numpy as np
import pytest
from hypothesis import given, settings, strategies as st

from brujula.core.steps.parallel import in_chunks
from brujula.fields import kinds
from brujula.testing import check_kind, check_texts, grades_of

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
