"""The map of the code is true, the public names are listed, adding a kind takes one file."""

import re
import subprocess
import sys
from pathlib import Path

import numpy as np
import pyarrow as pa

import brujula
from brujula.core.batch import Batch, Column
from brujula.core.kind import Compared, Comparison, Kind, Level
from brujula.problems import CATALOGUE
from brujula.tables.firm_words import stems_of_words, words_of_firms
from brujula.testing import check_kind

ROOT = Path(__file__).parent.parent


def test_map_is_true():
    """Every path in docs/map.md exists, and every module is in it."""
    text = (ROOT / "docs" / "map.md").read_text()
    for path in re.findall(r"`([\w/.-]+/[\w/.-]*)`", text):
        assert (ROOT / "src" / "brujula" / path).exists() or (ROOT / path).exists(), path
    for module in (ROOT / "src" / "brujula").rglob("*.py"):
        name = module.relative_to(ROOT / "src" / "brujula").as_posix()
        if module.name != "__init__.py" and not name.startswith(("fields/", "cli/commands/", "core/kernels/", "core/steps/")):
            assert f"`{name}`" in text, name


def test_public_names_load():
    """Every public name is there, and there are about twenty."""
    assert 15 <= len(brujula.__all__) <= 30
    for name in brujula.__all__:
        assert getattr(brujula, name) is not None


def test_stems_mean_words_of_the_table():
    """What a stem means is a canonical word of the table; stems have the letters that are looked at; no canonical word begins with another's stem."""
    stems, (classes, synonyms, _) = stems_of_words(), words_of_firms()
    canonical = {*synonyms.values(), *classes}
    assert set(stems.values()) <= canonical and all(synonyms.get(head, head) == head for head in stems.values())
    for stem, head in stems.items():
        assert 4 <= len(stem) <= 14, stem
        begun = {w for w in canonical if w.startswith(stem) and 0 < len(w) - len(stem) <= 6 and synonyms.get(w, w) == w}
        assert begun <= {head} | classes.keys() - set(synonyms.values()), (stem, head, begun)


def test_readme_links_its_pictures():
    """Every picture kept is linked from the README."""
    text = (ROOT / "README.md").read_text()
    for picture in (ROOT / "docs" / "screenshots").glob("*.png"):
        assert picture.name in text, picture.name


def test_problem_codes_are_told():
    """Every code has a wording and what would be accepted."""
    assert all(len(wording) > 5 and accepted for wording, accepted in CATALOGUE.values())


class Colour(Kind):
    """A kind as somebody else would add it."""

    name = "colour"
    parts = ("colour",)
    comparisons = (Comparison("colour", (Level("different", "differs", 0.1, 0.9), Level("same", "same", 0.9, 0.1))),)

    def clean(self, column):
        """Nothing is hollow."""
        return column

    def standardise(self, batch: Batch, identity):
        """The column itself."""
        return batch.column("colour")

    def compare(self, standard, left, right):
        """Equal or not."""
        a, b = standard.codes[left], standard.codes[right]
        return {"colour": Compared(np.where((a < 0) | (b < 0), -1, a == b).astype(np.int8), np.zeros(len(a), np.float32))}


def test_a_new_kind_keeps_the_contract():
    """A made-up kind of one class passes the contract suite."""
    check_kind(Colour(), ["red", "blue"])
    assert len(Column.of(pa.array(["red", "red"])).values) == 1


def test_a_review_does_not_wait_for_the_kernels():
    """What shows and takes answers is read in without the compiler."""
    code = "import sys, brujula.review.cases, brujula.review.terminal; print('numba' in sys.modules)"
    assert subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout.strip() == "False"
