"""Lists of one firm's people: everything but the name and a mailbox or an extension is everybody's."""

import random

import numpy as np
import pandas as pd
import pyarrow as pa
import pytest

import brujula
from brujula.core import candidates
from brujula.core.batch import Batch, Column, Texts
from brujula.core.kernels.contact import letters_of_name, other_initials_beside
from brujula.core.steps.text import fold
from brujula.demo import maker

FAMILIES = [f"{a}{b}" for a in maker.FAMILY[:12] for b in ("holm", "gren", "dorf", "ley", "wick")]
HEADS = ["first_name", "last_name", "email", "phone", "job_title", "company", "city"]


def _staff(n, draw):
    """People of few names, each with an extension and a mailbox of initials and family name."""
    given, taken, people = maker.GIVEN[:30], {}, []
    for i in range(n):
        name, family = draw.choice(given), draw.choice(FAMILIES)
        box = f"{name[0]}{draw.choice('abcdefghjklmnprst')}{family}".lower()
        taken[box] = taken.get(box, 0) + 1
        box += str(taken[box]) * (taken[box] > 1)
        line = f"+1 212 555 0100 ext {1000 + i}"
        title = draw.choice(["Teacher", "Player", "Technician", "Librarian"])
        people.append([name, family, f"{box}@harrow-works.example", line, title, "Harrow Works", "Orme"])
    return people


@pytest.mark.parametrize("missing", ["", "email", "phone"])
def test_colleagues_of_one_name_stay_apart(missing):
    """Of a firm's people with namesakes at it those known are found, and newcomers made nobody else; by mailbox, or by extension."""
    draw = random.Random(f"staff {missing}")
    people = _staff(1_600, draw)
    old = pd.DataFrame([[f"C-{i}", *p] for i, p in enumerate(people[:1_500])], columns=["id", *HEADS])
    asked = [*range(0, 1_500, 15), *range(1_500, 1_600)]
    new = pd.DataFrame([people[i] for i in asked], columns=HEADS).assign(job_title="Teacher")
    plan = brujula.plan(new.assign(**{missing: ""}) if missing else new, against=old)
    out = plan.outcomes
    meant = pd.Series([f"C-{i}" if i < 1_500 else "" for i in asked])
    sure = out["outcome"].isin(["update", "unchanged", "merge"])
    assert (out["record_id"] == meant)[sure].all()
    assert sure[:100].mean() > 0.9
    assert not sure[100:].any()


@pytest.mark.parametrize(("firms", "outcome"), [(1, {"review"}), (60, {"update", "unchanged"})])
def test_an_initial_and_an_employer(firms, outcome):
    """J. Quistholm of a firm that few are of is Julia Quistholm; of one that all are of, a person says so."""
    names = [(g, f) for g in maker.GIVEN[:30] for f in FAMILIES]
    people = [[*name, f"{maker.FAMILY[100 + i % firms]} Works"] for i, name in enumerate(names)]
    heads = ["first_name", "last_name", "company"]
    old = pd.DataFrame([[f"C-{i}", *p] for i, p in enumerate(people)], columns=["id", *heads])
    old.loc[len(old)] = ["C-Q", "Julia", "Quistholm", people[0][2]]
    rows = [["J.", "Quistholm", people[0][2]], *people[7:300:7]]
    assert brujula.plan(pd.DataFrame(rows, columns=heads), against=old).outcomes["outcome"][0] in outcome


def test_two_family_names_are_two():
    """Whoever agrees in a father's and a mother's name agrees in more than the rarer of them: of a firm's few names those on record are seen."""
    draw = random.Random("two family names")
    names = [f"{a} {b}" for a in maker.FAMILY[:20] for b in maker.FAMILY[20:40]]
    people = [[draw.choice(maker.GIVEN[:20]), draw.choice(names), draw.choice(["Teacher", "Player"])] for _ in range(3_000)]
    heads = ["first_name", "last_name", "job_title"]
    old = pd.DataFrame([[f"C-{i}", *p] for i, p in enumerate(people)], columns=["id", *heads]).assign(company="Harrow Works")
    new = pd.DataFrame(people[::30], columns=heads).assign(company="Harrow Works", job_title="Technician")
    assert (brujula.plan(new, against=old).outcomes["outcome"] == "review").mean() > 0.3


@pytest.mark.parametrize(
    ("name", "mailbox", "other", "apart"),
    [
        ("Ada Lind", "aklind@reeds.example", "aslind@reeds.example", True),
        ("Ada Lind", "alind@reeds.example", "aslind@reeds.example", True),
        ("Ada Lind", "ada.k.lind@reeds.example", "ada.s.lind@reeds.example", True),
        ("Ada Lind", "lindak@reeds.example", "lindas@reeds.example", True),
        ("Ada Lind", "alind@reeds.example", "blind@reeds.example", False),
        ("Ada Lind", "ada.lind@reeds.example", "ada.lijd@reeds.example", False),
        ("Ada Lind", "ada.lind@reeds.example", "adaa.lind@reeds.example", False),
        ("Ada Lind", "aklind@reeds.example", "kalind@reeds.example", False),
        ("Genessis Lind", "genesis.lind@reeds.example", "genrsis.lind@reeds.example", False),
        ("Ada Lind", "lind4@reeds.example", "lind5@reeds.example", False),
    ],
)
def test_another_initial_beside_the_name_is_no_slip(name, mailbox, other, apart):
    """The organisation gave the second of a name another initial; a slip falls inside a name."""
    words, boxes = fold(Texts.of([name])), Texts.of([mailbox, other])
    codes, named, voc = np.arange(2, dtype=np.int32), np.zeros(2, np.uint64), words.vocabulary
    letters_of_name(
        codes, boxes.offsets, boxes.data, np.zeros(2, np.int32), words.offsets, words.ids, voc.offsets, voc.data, named
    )
    for a, b in ((0, 1), (1, 0)):
        out = np.zeros(1, bool)
        pair = np.array([a], np.int32), np.array([b], np.int32)
        other_initials_beside(*pair, boxes.offsets, boxes.data, named[[a]], named[[b]], out)
        assert out[0] == apart


def test_who_shares_a_rare_key_is_among_the_candidates():
    """However many share common keys with a row, in pass upon pass, whoever alone has its mailbox is compared with it."""
    n = 2 * candidates.LIMIT - 4
    half = np.arange(n + 2) < n // 2
    row = np.arange(n + 2) == n + 1
    last = np.arange(n + 2) == n
    common = {k: (np.where(half | row, 7, 0)).astype(np.uint64) for k in "ab"}
    common |= {k: (np.where(~half & ~last | row, 9, 0)).astype(np.uint64) for k in "cd"}
    keys = common | {"m": np.where(last | row, 5, 0).astype(np.uint64)}
    column = Column.of(pa.array([str(i) for i in range(n + 2)], pa.large_string()))
    batch = Batch("contact", n + 1, 1, {"notes": column})
    content = candidates.content_keys(batch)
    found = candidates.index(batch, keys, [candidates.Pass((k,), k) for k in keys], content, content)
    met = [int(r) for p in candidates.collect(found) for r in p.right]
    assert len(met) == candidates.CAP and n in met


def test_a_question_meets_whoever_has_its_mailbox():
    """Asked about one person, the index looks at the record that has the mailbox, however many share all else in more passes."""
    people = [[f"Ann{c}", "Quistgren", f"c{n}{c}@harrow-works.example"] for n in range(20) for c in "abcdefgh"]
    old = pd.DataFrame([["C-Q", "Zoe", "Quistgren", "ann.q@reeds.example"], *([f"C-{i}", *p] for i, p in enumerate(people))])
    old = old.set_axis(["id", "first_name", "last_name", "email"], axis=1).assign(company="Harrow Works", city="Orme")
    index = brujula.Lookup(old)
    asked = {
        "given_name": "Ann",
        "family_name": "Quistgren",
        "email": "ann.q@reeds.example",
        "account": "Harrow Works",
        "city": "Orme",
    }
    assert "C-Q" in index.check(asked).sentence
