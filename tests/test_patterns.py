"""A handful of texts and many are read by two engines, ASCII by simpler patterns; what one finds, the other finds."""

from functools import cache
from pathlib import Path

import pyarrow as pa
import pyarrow.compute as pc
import pytest
from hypothesis import given, settings, strategies as st

import brujula
from brujula.core.steps import patterns
from brujula.fields import kinds
from brujula.testing import grades_of

DATA = Path(brujula.__file__).parent / "demo" / "data"
_PIECES = """Ada Quist Jr. III née O'Neil @ reed.example GmbH & Co. KG d/b/a 12 Mill St. Apt 4 Weststraße 5/7 ул. Łódź 東京 Dr.-Ing. (212) 555-0147 ext. 3
LS1 3FS D-80331 C/ 2º, ; : | # + - _ ' " \n \t n/a TBD 2026-03-02 3.2.26 10:30 www. https:// ë ß Ñ ﬁ \u00a0 \u200b é 0 1 IlI rS H.No. Fdez.""".split(
    " "
)
# The two know letters of different years of Unicode: those of long standing only.
_OLD = st.characters(max_codepoint=0x52F, exclude_characters="ſİı") | st.characters(min_codepoint=0x4E00, max_codepoint=0x9FA5)
TEXTS = st.lists(
    st.one_of(st.none(), st.text(_OLD, max_size=12), st.lists(st.sampled_from(_PIECES), max_size=6).map(" ".join)),
    min_size=1,
    max_size=8,
)


@pytest.fixture(scope="module")
def at_once():
    """A few texts are always read by the second engine."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(patterns, "_OFTEN", 0)
        yield


def test_a_pattern_is_compiled_when_it_is_asked_often():
    """The first questions go to Arrow, which compiles quickly and keeps nothing."""
    few, one = pa.array(["Reed 12"], pa.large_string()), r"^Reed \d\d$"
    before, kept = len(patterns._ready), []
    for _ in range(patterns._OFTEN + 1):
        assert patterns.matches(few, one).to_pylist() == [True]
        kept.append(len(patterns._ready) - before)
    assert kept == [0] * patterns._OFTEN + [1]


@pytest.mark.usefixtures("at_once")
def test_a_long_text_goes_to_arrow(monkeypatch):
    """The second engine may try every way to read a text, and of a long one there are too many."""
    one = r"^(\S+\s+)*x$"
    few, long = (pa.array([None, "a " * n + "x"], pa.large_string()) for n in (30, 600))
    assert patterns.matches(few, one).to_pylist() == patterns.matches(long, one).to_pylist() == [None, True]
    monkeypatch.setattr(patterns, "_ready", {one: _Refuses()})
    assert patterns.matches(long, one).to_pylist() == [None, True]
    assert patterns.replaced(long, one, "").to_pylist() == [None, ""]
    with pytest.raises(AssertionError):
        patterns.matches(few, one)


class _Refuses:
    def search(self, text):
        raise AssertionError(text)

    def sub(self, by, text):
        raise AssertionError(text)


@cache
def _used():
    """Every pattern that a question to either index, and the examples of every kind, ask of a few texts."""
    patterns._ready.clear()
    for entity in ("contact", "account"):
        index = brujula.Lookup(DATA / f"{entity}s.csv", entity)
        for kind in kinds().values():
            for example in kind.examples:
                grades_of(kind, example.left, example.right, entity)
        index.check({f: text for f, texts in index.existing.values.items() if f != "id" and (text := texts[0].as_py())})
    return sorted(patterns._ready)


ODD = """c/o Ada Quist (she/her) | Sr. Bob Quist | Ada Quist - DO NOT USE | Studio54 Reeds | Harrow Settlement EAC31 | H.No. 12, Mill Road | 12th Floor, 5 Mill St
| estate of Ada Quist | zz Harrow Band | S. de R.L. de C.V. | e. V. | Harrow Band (closed) | 3rd Avenue 12 1/2 | 12/A | 2/12 Mill Road | attn: Ada, 12 Mill St | Ada Quist née Lind
| Kim Min-jun | J.-P. Lind | TJ | Va5quez 0sborne | tII | rS. | Hans Lind jun. | Harrow t/a The Reed | MediaReed | 19840302 | Mar 2, 1984 10:30 pm""".split(
    " | "
)


@pytest.mark.usefixtures("at_once")
def test_examples_are_read_alike():
    """What the kinds are known by, text by text, and other odd cells."""
    texts = sorted(
        {*ODD, *(v for k in kinds().values() for x in k.examples for side in (x.left, x.right) for v in side.values())}
    )
    _same_by_both(texts)


@pytest.mark.usefixtures("at_once")
@settings(max_examples=4)
@given(TEXTS)
def test_both_engines_find_the_same(texts):
    """Matches, replacements and groups of every pattern are Arrow's, for any texts."""
    _same_by_both(texts)


def _same_by_both(texts):
    few = pa.array(texts, pa.large_string())
    assert len(_used()) > 100
    for pattern in _used():
        names = "(?P<" in pattern
        found, replaced = pc.match_substring_regex(few, pattern), pc.replace_substring_regex(few, pattern, r"<\0>")
        groups = pc.extract_regex(few, pattern).to_pylist() if names else []
        for at_most in (len(texts), -1):  # texts asked one by one, and by Arrow
            with pytest.MonkeyPatch.context() as patch:
                patch.setattr(patterns, "_FEW", at_most)
                assert patterns.matches(few, pattern).equals(found), pattern
                assert patterns.replaced(few, pattern, r"<\0>").equals(replaced), pattern
                assert not names or patterns.captured(few, pattern).to_pylist() == groups, pattern


@pytest.mark.parametrize("chunked", [False, True])
def test_long_columns_are_worked_on_in_parts(monkeypatch, chunked):
    """Each text of many has what it has by itself, in its place."""
    monkeypatch.setenv("BRUJULA_THREADS", "2")
    few = ["Reed 12", "", None, "Größe 7", "no digit", "a" * 30]
    text = pa.array(few * 30_000, pa.large_string()).slice(1)
    text = pa.chunked_array([text.slice(0, 70_000), text.slice(70_000)]) if chunked else text
    alone = pa.array(few, pa.large_string())
    for found, each in (
        (patterns.matches(text, r"\d"), patterns.matches(alone, r"\d")),
        (patterns.replaced(text, r"\d+", "#"), patterns.replaced(alone, r"\d+", "#")),
    ):
        assert found.to_pylist() == (each.to_pylist() * 30_000)[1:]


def test_more_patterns_than_are_looked_for_at_once():
    """Each of a hundred patterns finds what it finds alone, in letters of any alphabet, and null stays null."""
    wanted = [rf"\bReed {n}$" for n in range(3 * patterns.TOGETHER + 1)] + [r"^\pL+ło$"]
    texts = pa.array([None, "Reed", "Horn 7", "Lindło", "żło", *(f"Mill Reed {n}" for n in range(100))], pa.large_string())
    found = patterns.matches_any(texts, wanted).to_pylist()
    assert found == [None, False, False, True, True, *(n < 3 * patterns.TOGETHER + 1 for n in range(100))]
