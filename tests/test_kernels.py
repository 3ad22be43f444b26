"""Kernels give what their slow twins give, and the published values."""

import subprocess
import sys
from pathlib import Path

import numba
import numpy as np
import pyarrow as pa
import pytest
from hypothesis import given, strategies as st

from brujula.core.batch import Batch, Column, Texts
from brujula.core.group import unite
from brujula.core.kernels import cluster, edits, ready
from brujula.core.kernels.contact import letters_of_name
from brujula.core.kernels.edits import scratch
from brujula.core.kernels.words import MAX_WORDS
from brujula.core.kind import Who
from brujula.core.steps.text import fold
from brujula.fields import kinds
from tests import reference

WORDS = st.text("abcdr", max_size=90)


def _bytes(text):
    return np.frombuffer(bytearray(text.encode()) or bytearray(1), np.uint8)


def _both(kernel, a, b):
    pm = scratch()
    found = kernel(_bytes(a), 0, len(a), _bytes(b), 0, len(b), pm)
    assert not pm[:256].any(), "scratch was not left zeroed"
    return found


@given(WORDS, WORDS)
def test_osa_equals_its_twin(a, b):
    """Bit-parallel and whole-table distances agree, over and under 64 letters."""
    assert _both(edits.osa, a, b) == reference.osa(a, b)


@pytest.mark.parametrize(("at", "size"), [(3, 700), (600, 700), (699, 700)])
def test_osa_of_very_long_texts(at, size):
    """A letter changed or added is one edit, however long the text and wherever it stands, and nothing is read behind its end."""
    text = "abcd" * (size // 4)
    assert _both(edits.osa, text, text[:at] + "x" + text[at + 1 :]) == 1
    assert _both(edits.osa, text, text + "x") == 1
    assert _both(edits.osa, text, text) == 0


@given(st.text("abcdr", max_size=60), st.text("abcdr", max_size=60))
def test_jaro_winkler_equals_its_twin(a, b):
    """Bit-parallel and flag-by-flag similarities agree."""
    assert _both(edits.jaro_winkler, a, b) == pytest.approx(reference.jaro_winkler(a, b))


@pytest.mark.parametrize(
    ("a", "b", "value"), [("MARTHA", "MARHTA", 0.9611), ("DIXON", "DICKSONX", 0.8133), ("DWAYNE", "DUANE", 0.84)]
)
def test_jaro_winkler_published_values(a, b, value):
    """The values printed with the method."""
    assert _both(edits.jaro_winkler, a, b) == pytest.approx(value, abs=5e-5)


@given(st.text("aeoulmr", min_size=3, max_size=12), st.lists(st.text("aoulmr", min_size=3, max_size=5), min_size=1, max_size=3))
def test_letters_of_a_name_equal_their_twin(box, words):
    """A mailbox is made of a name where any of its words stands in it."""
    name, out = fold(Texts.of([" ".join(words)])), np.zeros(1, np.uint64)
    one, boxes, voc = np.zeros(1, np.int32), Texts.of([box]), name.vocabulary
    letters_of_name(one, boxes.offsets, boxes.data, one, name.offsets, name.ids, voc.offsets, voc.data, out)
    places = set()
    for word in words:
        found = {*reference.place_in(box, word)}
        places |= found if not found & places else set()
    assert out[0] == sum(1 << i for i in places)


PAIRS = st.lists(st.tuples(st.integers(0, 7), st.integers(0, 7)).filter(lambda p: p[0] != p[1]), max_size=12)


@given(PAIRS, PAIRS)
def test_unite_equals_its_twin(links, apart):
    """Groups never join across a pair held apart."""

    def column(pairs, i):
        return np.array([p[i] for p in pairs], np.int32)

    parent, _ = unite((column(links, 0), column(links, 1)), (column(apart, 0), column(apart, 1)), 8, 100)
    roots = [int(cluster.find(parent, i)) for i in range(8)]
    order = {g: i for i, g in enumerate(dict.fromkeys(roots))}
    assert [order[r] for r in roots] == reference.groups(8, links, apart)


def test_second_process_compiles_nothing():
    """Every kernel comes from the disk cache in a second process."""
    code = (
        "import numba.core.event as e, pkgutil, importlib, brujula.core.kernels as k\n"
        "n = []\n"
        "class L(e.Listener):\n"
        "    def on_start(self, x): n.append(x)\n"
        "    def on_end(self, x): pass\n"
        "e.register('numba:compile', L())\n"
        "[importlib.import_module(k.__name__ + '.' + m.name) for m in pkgutil.iter_modules(k.__path__)]\n"
        "print(len(n))"
    )
    runs = [
        subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout.strip() for _ in range(2)
    ]
    assert runs[1] == "0"


def test_compiling_is_said_once(tmp_path, monkeypatch):
    """A second run says nothing, though the files were touched; with another numba they are compiled again."""
    monkeypatch.setenv("NUMBA_CACHE_DIR", str(tmp_path))
    monkeypatch.setattr(ready, "_HALVES", (("members",),))
    said = []
    ready.compile_kernels(said.append)
    Path(ready.__file__).touch()
    ready.compile_kernels(said.append)
    assert len(said) == 1
    monkeypatch.setattr(ready, "version", lambda _: "0.0")
    ready.compile_kernels(said.append)
    assert len(said) == 2


def test_the_library_says_that_it_compiles(tmp_path, monkeypatch):
    """Two processes that import it at once: one compiles, the other waits and finds that done; a third has nothing to say."""
    monkeypatch.setenv("NUMBA_CACHE_DIR", str(tmp_path))
    code = (
        "from brujula.core.kernels import ready\n"
        "made, ready._HALVES, started = ready._import, (('compiled',),), []\n"
        "ready._import = lambda half: started.append(half) or made(half)\n"
        "import brujula.core.kernels.compiled\n"
        "print(len(started))"
    )

    def run():
        return subprocess.Popen([sys.executable, "-c", code], stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)

    both = [one.communicate() for one in (run(), run())]
    assert sum(int(out) for out, _ in both) == 1
    assert any("compiling the comparison kernels" in said for _, said in both)
    assert run().communicate() == ("0\n", "")


def test_with_no_folder_to_write_to_kernels_are_compiled_for_one_run(tmp_path, monkeypatch):
    """A service without a home, whose programs are somebody else's: numba alone would refuse to compile."""
    nowhere = tmp_path / "file"
    nowhere.touch()
    monkeypatch.setattr(ready, "_HERE", nowhere)
    monkeypatch.setattr(ready, "_HALVES", (("members",),))
    monkeypatch.setattr(ready, "_mark", lambda: "these kernels")
    monkeypatch.setattr(numba.config, "CACHE_DIR", "")
    monkeypatch.setenv("NUMBA_CACHE_DIR", "")
    monkeypatch.setenv("XDG_CACHE_HOME", str(nowhere))
    said = []
    ready.compile_kernels(said.append)
    ready.compile_kernels(said.append)
    assert "NUMBA_CACHE_DIR" in said[0]
    assert len(said) == 1
    assert list(Path(numba.config.CACHE_DIR).glob("*/members*.nbi"))


def test_a_kernel_is_compiled_anew_when_one_it_calls_changes(tmp_path):
    """After an update nothing computes what the version before it did, also where only the file of a kernel within another has changed."""
    kernels = tmp_path / "kernels"
    kernels.mkdir()
    (kernels / "__init__.py").touch()
    (kernels / "outer.py").write_text(
        "from brujula.core.kernels.compiled import compiled\n"
        "from kernels.within import step\n\n\n"
        "@compiled('int64(int64)')\ndef two_steps(x):\n    return step(step(x))\n"
    )

    def ran(step):
        (kernels / "within.py").write_text(
            f"from brujula.core.kernels.compiled import inner\n\n\n@inner('int64(int64)')\ndef step(x):\n    return x + {step}\n"
        )
        code = "from kernels.outer import two_steps; print(two_steps(1))"
        return subprocess.run(
            [sys.executable, "-c", code], cwd=tmp_path, capture_output=True, text=True, check=True
        ).stdout.strip()

    assert [ran(1), ran(5), ran(5)] == ["3", "11", "11"]


@given(st.lists(st.sampled_from(["elm", "12", "apt", "oak", "suite", "b"]), max_size=90))
def test_street_words_fit_the_buffers(words):
    """However long a street line, no more words come out of it than comparing has room for."""
    kind, column = kinds()["postal_address"], Column.of(pa.array([" ".join(words), "elm st"], pa.large_string()))
    standard = kind.standardise(Batch("account", 1, 1, {"street": column}), lambda: Who.nobody(2))
    assert np.diff(standard.street.off).max() <= MAX_WORDS
