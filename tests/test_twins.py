"""Kernels against slow twins that say plainly what they mean."""

import numpy as np
import pyarrow as pa
import pytest
from hypothesis import given, strategies as st

from brujula.core import third
from brujula.core.arrays import DIFFERENT, NONE, SAME, UNSURE, Pairs
from brujula.core.batch import Column, Texts
from brujula.core.kernels import company, contact, edits, evidence, members, phrases, streets, text
from brujula.core.kernels.edits import scratch
from brujula.core.kernels.grams import MOST
from brujula.core.steps import grams, numbers, phrases as phrase_steps
from brujula.core.steps.distinct import distances
from brujula.core.steps.sharing import owners, shares
from brujula.core.steps.text import fold, hash_values, join_keys
from brujula.fields import date
from tests import reference

WORD = st.text("abcdeou", min_size=1, max_size=9)
WORDS = st.lists(st.text("abcde", min_size=1, max_size=6), min_size=1, max_size=6)
CODES = st.lists(st.integers(-1, 5), min_size=1, max_size=12)


def _bytes(word):
    return np.frombuffer(bytearray(word.encode()) or bytearray(1), np.uint8)


@given(WORD, WORD)
def test_slip(a, b):
    """A slip is told from two, and from another word, by length and beginning."""
    room = scratch()
    assert edits.slip(_bytes(a), 0, len(a), _bytes(b), 0, len(b), room) == reference.slip(a, b)
    assert not room[:256].any()


@given(st.text("aeoul", min_size=1, max_size=7), st.text("aeoul", min_size=1, max_size=7))
def test_same_but_umlauts(a, b):
    """Whatever the kernel takes for one is one by the plain rule; the same word always is."""
    found = edits.same_but_umlauts(_bytes(a), 0, len(a), _bytes(b), 0, len(b))
    assert reference.same_but_umlauts(a, b) or not found
    assert edits.same_but_umlauts(_bytes(a), 0, len(a), _bytes(a), 0, len(a))


@pytest.mark.parametrize(("a", "b"), [("mueller", "muller"), ("nygaard", "nygard"), ("goethe", "gothe"), ("baecker", "backer")])
def test_umlauts_spelled_out(a, b):
    """The spellings meant, either way round."""
    assert edits.same_but_umlauts(_bytes(a), 0, len(a), _bytes(b), 0, len(b))
    assert edits.same_but_umlauts(_bytes(b), 0, len(b), _bytes(a), 0, len(a))


@given(st.text("yijan", min_size=1, max_size=7), st.text("yijan", min_size=1, max_size=7))
def test_same_but_i(a, b):
    """Names that differ only in how an i is written, as the plain rule tells them."""
    assert edits.same_but_i(_bytes(a), 0, len(a), _bytes(b), 0, len(b)) == reference.same_but_i(a, b)


@pytest.mark.parametrize(
    ("a", "b", "alike"),
    [
        ("volodymyr", "volodimir", True),
        ("yaryna", "iarina", True),
        ("andrij", "andrii", True),
        ("terry", "terri", False),
        ("jan", "ian", False),
    ],
)
def test_i_in_names_from_other_letters(a, b, alike):
    """The spellings meant, and those that are other names."""
    assert edits.same_but_i(_bytes(a), 0, len(a), _bytes(b), 0, len(b)) == alike


@given(WORD, WORD)
def test_prefix_and_skeleton(a, b):
    """A beginning; letters in order."""
    assert edits.is_prefix(_bytes(a), 0, len(a), _bytes(b), 0, len(b)) == b.startswith(a)
    assert edits.is_skeleton(_bytes(a), 0, len(a), _bytes(b), 0, len(b)) == reference.is_skeleton(a, b)


@given(st.lists(st.text("abcxyz019", min_size=1, max_size=8), min_size=2, max_size=2))
def test_letters_apart(pair):
    """Letters that stand in one word only, digits as one."""
    texts, masks = Texts.of(pair), np.zeros(2, np.uint32)
    text.letter_masks(texts.offsets, texts.data, masks)
    assert edits.n_letters_apart(masks[0], masks[1]) == reference.letters_apart(*pair)


@given(st.lists(st.text("ab19@.", min_size=1, max_size=10), min_size=1, max_size=6), st.data())
def test_distances(values, data):
    """Distances of texts by their codes; a blank is far from everything."""
    at = st.lists(st.integers(-1, len(values) - 1), min_size=5, max_size=5)
    left, right = data.draw(at), data.draw(at)
    found = distances(Texts.of(values), np.array(left, np.int32), np.array(right, np.int32))
    wanted = [9 if a < 0 or b < 0 else reference.text_distance(values[a], values[b]) for a, b in zip(left, right, strict=True)]
    assert found.tolist() == wanted


@given(st.text("aB1 .'&#-,", max_size=16))
def test_fold(value):
    """Words of a text, lower case, dots joining initials."""
    words = fold(Texts.of([value]))
    assert [words.vocabulary.arrow()[i].as_py() for i in words.ids.tolist()] == reference.fold(value)


@given(st.lists(st.text("aé ñß王Ωж.-", max_size=10), max_size=6))
def test_folded_once_is_folded(values):
    """Folding what was folded changes nothing; marks and scripts are gone."""
    words = fold(Texts.of(values))
    spelled = words.vocabulary.arrow().to_pylist()
    assert all(w.isascii() and w == w.lower() for w in spelled)
    again = fold(Texts.of(spelled))
    assert again.vocabulary.arrow().to_pylist() == list(dict.fromkeys(w for s in spelled for w in reference.fold(s)))


@given(WORDS, st.sets(st.sampled_from("abcde")), st.lists(st.sets(st.sampled_from("abcde")), min_size=4, max_size=4))
def test_streets(words, units, kinds):
    """What may be a unit is one behind a unit marker, which is the street's before any other word; else the first is the number, a later one the unit; one behind a mark of numbers is the number if no other is."""
    words = [w[0] for w in words]
    kinds = [set(words) & kind - set().union(*kinds[:k]) for k, kind in enumerate(kinds)]
    folded = fold(Texts.of([" ".join(words)]))
    voc = folded.vocabulary.arrow().to_pylist()
    named = (streets.UNIT_MARKER, streets.NUMBER_MARK, streets.TYPE, streets.NUMERAL)
    cls = np.array(
        [next((c for c, kind in zip(named, kinds, strict=True) if w in kind), streets.STREET_WORD) for w in voc], np.int32
    )
    number, unit, off = np.zeros(1, np.uint64), np.zeros(1, np.uint64), np.zeros(2, np.int64)
    as_unit = np.where([w in units for w in voc], folded.hashes, np.uint64(0))
    streets.parse_streets(
        folded.offsets, folded.ids, cls, folded.hashes, as_unit, number, unit, off, np.zeros(1, np.int32), False
    )
    ids = np.zeros(max(int(off[1]), 1), np.int32)
    streets.parse_streets(folded.offsets, folded.ids, cls, folded.hashes, as_unit, number, unit, off, ids, True)
    spelled = dict(zip(folded.hashes.tolist(), voc, strict=True)) | {0: ""}
    found = spelled[int(number[0])], spelled[int(unit[0])], [voc[i] for i in ids[: int(off[1])].tolist()]
    assert found == reference.street(words, units, *kinds)


@given(st.lists(st.text("abc", max_size=9), min_size=3, max_size=7))
def test_trigrams(values):
    """Each text keeps its rarest trigrams that others share: as many, as rare, and those who share one share a key."""
    folded = fold(Texts.of(values))
    found = grams.rarest_trigrams(folded.offsets, folded.ids, folded.vocabulary)
    wanted = reference.rarest_trigrams(values, MOST)
    assert [int((found[:, t] != 0).sum()) for t in range(len(values))] == [len(w) for w in wanted]


@given(st.lists(st.integers(0, 6), max_size=30))
def test_numbers(keys):
    """Keys are numbered by first occurrence; no key has no number."""
    found, n = numbers.number(np.array(keys, np.uint64))
    order = {k: i for i, k in enumerate(dict.fromkeys(k for k in keys if k))}
    assert found.tolist() == [order.get(k, -1) for k in keys]
    assert n == len(order)


@given(st.lists(st.tuples(st.integers(0, 3), st.integers(0, 3)), min_size=1, max_size=20))
def test_owners_and_shares(pairs):
    """How many different people carry a value, and what share of the records."""
    values, people = (np.array([p[i] for p in pairs], np.uint64) for i in (0, 1))
    assert owners(values, people).tolist() == [len({w for u, w in pairs if u == v and w}) if v else 0 for v, _ in pairs]
    often = [sum(u == v for u, _ in pairs) / len(pairs) if v else 0 for v, _ in pairs]
    assert shares(values).tolist() == pytest.approx(often)


@given(st.lists(st.tuples(WORD, WORD), min_size=2, max_size=8))
def test_keys(pairs):
    """Equal texts, equal keys; other texts, other keys; joined keys tell their order."""
    a, b = (hash_values(Texts.of([p[i] for p in pairs])) for i in (0, 1))
    both = join_keys(a, b)
    for i, one in enumerate(pairs):
        for j, other in enumerate(pairs):
            assert (both[i] == both[j]) == (one == other)
    assert (join_keys(a, np.zeros(len(pairs), np.uint64)) == 0).all()


@given(WORDS)
def test_initials(words):
    """The initials of several words have a key of a short word that spells them, with or without a letter behind."""
    initials = "".join(w[0] for w in words)
    texts = fold(Texts.of([" ".join(words), initials, f"{initials}x"]))
    out, room = np.zeros((2, 3), np.uint64), np.empty(8, np.uint8)
    company.acronyms(texts.offsets, texts.ids, texts.vocabulary.offsets, texts.vocabulary.data, room, out)
    if 2 <= len(words) <= 5:
        assert out[0, 0] == out[0, 1] == out[1, 2] != 0


@given(WORDS, WORDS, st.integers(0, 12))
def test_domains_spell_firms(site, name, short):
    """A domain spells a firm's name where they are alike run together, the whole or a reading of it, or one begins with eight letters of the other."""
    sites, firms = fold(Texts.of(["-".join(site)])), fold(Texts.of([" ".join(name)]))
    out, one = np.zeros(1, bool), np.zeros(1, np.int32)
    company.spell_firms(
        one,
        one,
        sites.offsets,
        sites.ids,
        sites.vocabulary.offsets,
        sites.vocabulary.data,
        np.array([min(short, len("".join(site)))]),
        firms.offsets,
        firms.ids,
        firms.vocabulary.offsets,
        firms.vocabulary.data,
        np.empty((2, 96), np.uint8),
        out,
    )
    told = "".join(name)
    readings = ["".join(site), "".join(site)[:short], "".join(site[:-1])]
    begins = [r for r in readings if min(len(r), len(told)) >= 8 and (r.startswith(told) or told.startswith(r))]
    assert out[0] == bool(begins or [r for r in readings if r == told and len(told) >= 4])


@given(st.lists(st.sampled_from(["reeds", "4711", "471", "4710", "0471", "38"]), min_size=1, max_size=3), st.data())
def test_a_digit_apart(words, data):
    """Two names of one number each whose numbers are one edit apart."""
    other = data.draw(st.permutations(words[:-1] + [data.draw(st.sampled_from(["4711", "4171", "47", "reeds"]))]))
    spoken = phrase_steps.parse(Column.of(pa.array([" ".join(words), " ".join(other)], pa.large_string())), {}, {})
    out, voc = np.zeros(1, bool), spoken.words.vocabulary
    left, right = (spoken.codes[i : i + 1] for i in (0, 1))
    company.digit_apart(left, right, spoken.off, spoken.ids, spoken.cls, voc.offsets, voc.data, scratch(), out)
    numbers_of = [[w for w in side if w.isdigit()] for side in (words, other)]
    assert out[0] == ([len(n) for n in numbers_of] == [1, 1] and reference.osa(numbers_of[0][0], numbers_of[1][0]) <= 1)


@given(WORDS, st.randoms(use_true_random=False))
def test_all_words_in_any_order(words, random):
    """The key of all words is one in any order, and another with a word more."""
    shuffled = list(words)
    random.shuffle(shuffled)
    texts = fold(Texts.of([" ".join(words), " ".join(shuffled), " ".join([*words, "zz"])]))
    n = len(texts.vocabulary)
    whole, rare, second = (np.zeros(3, np.uint64) for _ in range(3))
    phrases.phrase_keys(texts.offsets, texts.ids, texts.hashes, np.ones(n, np.float32), whole, rare, second)
    assert whole[0] == whole[1] != whole[2]
    assert rare[0] == rare[1]


@given(
    st.lists(st.lists(st.integers(0, 5), min_size=1, max_size=4), min_size=1, max_size=5),
    st.lists(st.integers(-1, 3), min_size=6, max_size=6),
)
def test_first_filled(actions, values):
    """The first member with a value gives it."""
    off = np.concatenate([[0], np.cumsum([len(a) for a in actions])]).astype(np.int64)
    flat = np.array([m for a in actions for m in a], np.int32)
    out = np.zeros(len(actions), np.int32)
    members.first_filled(off, flat, np.array(values, np.int32), out)
    assert out.tolist() == reference.first_filled(actions, values)


SHARE = st.floats(1e-6, 0.9)


@given(
    levels=st.lists(st.integers(-1, 2), min_size=2, max_size=2),
    common=st.lists(st.one_of(st.just(0.0), SHARE), min_size=2, max_size=2),
    m=st.lists(SHARE, min_size=3, max_size=3),
    u=st.lists(SHARE, min_size=3, max_size=3),
    flags=st.lists(st.booleans(), min_size=9, max_size=9),
    n=st.integers(2, 10**6),
    bounds=st.sampled_from([(0.0, 0.0), (4.0, -3.0)]),
    typical=st.sampled_from([0.0, 0.01]),
)
def test_evidence(levels, common, m, u, flags, n, bounds, typical):
    """Bits of each field, and their sum after the bounds on what is shared and what changes together."""
    cap, floor = bounds
    alone, exact, bounded = [0.15 * x for x in flags[:3]], flags[3:6], flags[6:]
    common = [float(np.float32(c)) for c in common]
    table = [np.array([x, x], float) for x in (m, u, u, [typical] * 3, alone)]
    mark = [np.array([x, x], bool) for x in (exact, bounded, [True] * 3)]
    bits, total = np.zeros((1, 2)), np.zeros(1)
    weights = evidence.Weights(*table, *mark, np.array([False, True]), float(n), 1500.0, cap, floor, 0.9)
    evidence.weigh_pairs(np.array([levels], np.int8), np.array([common], np.float32), weights, bits, total)
    wanted = [
        reference.evidence(level, c, m, u, u, [typical] * 3, alone, exact, bounded, n, 1500.0)
        for level, c in zip(levels, common, strict=True)
    ]
    assert bits[0].tolist() == pytest.approx(wanted, abs=1e-5)
    shared = sum(max(w, 0.0) for w in wanted) if cap else 0.0
    lost = min(wanted[1], 0.0) if floor else 0.0
    whole = sum(wanted) - (max(shared - cap, 0.0) if cap else 0.0) + (max(floor - lost, 0.0) if floor else 0.0)
    assert total[0] == pytest.approx(0.9 * whole, abs=1e-5)


PHONES = [
    ("+1 212 555 0147", "(212) 555-0147", True),
    ("0044 20 7946 0018", "020 7946 0018", True),
    ("+49 (0)30 5550 1234", "030 55501234", True),
    ("212-555-0147 ext. 12", "2125550147", True),
    ("1-212-555-0147", "212.555.0147", True),
    ("+34 986 322 323-630", "986 322 323", True),
    ("+1-212-555-0147", "2125550147", True),
    ("+44 1632-960-123", "01632 960 123", True),
    ("+55 11 91234-5678", "11 912345678", True),
    ("+33 1 99 00 12 34-63", "01 99 00 12 34", False),
    ("212-555-0147", "212-555-0174", False),
    ("212-555-0147", "312-555-0147", False),
    ("000-0000", "000-0000", None),
    ("123-456-7890", "123-456-7890", None),
    ("12345", "12345", None),
]


@pytest.mark.parametrize(("a", "b", "same"), PHONES)
def test_phones(a, b, same):
    """One number in two spellings; two numbers; what is no number (None)."""
    texts = Texts.of([a, b])
    number, size, extension = np.zeros(2, np.uint64), np.zeros(2, np.int8), np.zeros(2, np.int32)
    contact.parse_phones(texts.offsets, texts.data, number, size, extension, np.empty(24, np.uint8))
    if same is None:
        assert size.tolist() == [0, 0]
        return
    codes, left, right = np.arange(2, dtype=np.int32)[:, None], np.zeros(1, np.int32), np.ones(1, np.int32)
    nowhere = np.zeros(2, np.int16), np.ones(2, np.int32), np.ones(2, bool)
    out, agreed = np.zeros(1, np.int8), np.zeros(1, np.int32)
    room = np.empty((2, 20), np.uint8), scratch()
    contact.compare_phones(left, right, np.ascontiguousarray(codes), number, size, extension, *nowhere, out, agreed, *room)
    assert (out[0] == contact.P_SAME) == same


def _year_apart(a, b):
    x, y = f"{a:04}", f"{b:04}"
    turned = {x[:i] + x[i + 1] + x[i] + x[i + 2 :] for i in range(3)}
    return y not in turned and sum(c != d for c, d in zip(x, y, strict=True)) > 1


@given(st.lists(st.tuples(st.integers(1900, 2030), st.integers(1900, 2030)), min_size=1))
def test_years_one_slip_apart(pairs):
    """A digit, or two neighbours exchanged, and nothing else."""
    a, b = (np.array(x, np.int32) for x in zip(*pairs, strict=True))
    assert date._year_slip(a, b).tolist() == [not _year_apart(x, y) for x, y in pairs]


@given(st.lists(st.tuples(WORDS, WORDS), min_size=1, max_size=5))
def test_the_town_in_a_name(firms):
    """The words of a firm that are its town are left out, the last ones where it stands twice, if a word stays; every other firm stays as it was.

    Where they stand behind and in front, too, they count once.
    """
    names, towns = ([" ".join(words) for words in side] for side in zip(*firms, strict=True))
    wordings = ("{name} {town}", "{name}", "{town} {name}", "{name} {town} {name}")
    names = [wordings[i % 4].format(name=name, town=town) for i, (name, town) in enumerate(zip(names, towns, strict=True))]
    column, town = Column.of(pa.array(names, pa.large_string())), Column.of(pa.array(towns, pa.large_string()))
    spoken = phrase_steps.parse(column, {}, {})
    more, other, last, behind, alone = phrase_steps.without_part(spoken, fold(town.values), town.codes)
    once = phrase_steps.without_echo(spoken, fold(town.values), town.codes)

    def words(code, more=more):
        return [spoken.words.vocabulary.arrow()[i].as_py() for i in more.ids[more.off[code] : more.off[code + 1]]]

    for r, (name, end) in enumerate(zip(names, towns, strict=True)):
        whole, gone = words(spoken.codes[r]), end.split()
        assert whole == name.split()
        starts = [k for k in range(len(whole) - len(gone) + 1) if whole[k : k + len(gone)] == gone]
        assert alone[r] == (whole == gone and len(gone) <= 3)
        echo = starts and len(gone) <= 3 and starts[0] + len(gone) <= starts[-1] == len(whole) - len(gone)
        assert words(once.codes[r], once) == (whole[: starts[-1]] if echo else whole)
        if not starts or len(gone) > 3 or len(whole) == len(gone):
            assert other[r] < 0 and not last[r]
        else:
            assert words(other[r]) == whole[: starts[-1]] + whole[starts[-1] + len(gone) :]
            assert last[r] == (starts[-1] + len(gone) == len(whole)) and behind[r] == (starts[-1] > 0)


EDGES = st.lists(st.tuples(st.integers(0, 7), st.integers(0, 7), st.sampled_from([SAME, DIFFERENT, UNSURE, NONE])), max_size=28)


@given(EDGES.map(lambda edges: {(max(a, b), min(a, b)): verdict for a, b, verdict in edges if a != b}))
def test_two_links_and_a_pair_that_is_none(verdicts):
    """Every two links with a member in common whose other two are compared and neither one nor two."""
    pairs = list(verdicts)
    left, right = (np.array([p[side] for p in pairs], np.int32) for side in (0, 1))
    verdict = np.array(list(verdicts.values()), np.int8)
    found = third.triangles(Pairs(left, right, np.zeros(len(pairs), np.uint64)), verdict)
    wanted = set()
    for open_pair in pairs:
        for z in range(8) if verdicts[open_pair] in (UNSURE, NONE) else ():
            one, two = ((max(x, z), min(x, z)) for x in open_pair)
            if verdicts.get(one) == SAME and verdicts.get(two) == SAME:
                wanted.add((frozenset((one, two)), open_pair))
    got = [(frozenset((pairs[a], pairs[b])), pairs[c]) for a, b, c in zip(*found, strict=True)]
    assert len(got) == len(wanted) and set(got) == wanted


@given(CODES, CODES)
def test_columns_of_some_records(codes, picked):
    """A column of some records holds their values, and no others."""
    column = Column.of(pa.array([None if c < 0 else f"v{c}" for c in codes], pa.large_string()))
    records = np.array([abs(p) % len(codes) for p in picked], np.int32)
    part = column.take(records)
    values = part.values.arrow().to_pylist()
    assert [values[c] if c >= 0 else None for c in part.codes.tolist()] == [
        None if codes[r] < 0 else f"v{codes[r]}" for r in records.tolist()
    ]
    assert set(values) == {f"v{codes[r]}" for r in records.tolist() if codes[r] >= 0}
