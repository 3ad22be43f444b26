"""The core on its own: columns, passes, evidence, rules, groups, actions, each held to what its docstring says."""

from dataclasses import replace
from itertools import combinations

import numpy as np
import pyarrow as pa
import pytest
from hypothesis import given, strategies as st

from brujula.core import candidates, judge, rules, weigh
from brujula.core.actions import make_actions
from brujula.core.arrays import DIFFERENT, NONE, SAME, UNSURE, Graded, Judged, Pairs, check_groups
from brujula.core.batch import Batch, Column, Texts
from brujula.core.decide import CREATE, MERGE, UPDATE
from brujula.core.group import group
from brujula.core.kind import Comparison, Level
from brujula.core.steps.distinct import distinct_pairs
from brujula.core.steps.sharing import neighbours, owners, shares
from brujula.core.steps.text import fold, hash_values, join_keys
from brujula.errors import PolicyError, instead

NAME = Comparison(
    "name",
    (Level("different", "differs", 0.1, 0.98), Level("close", "close", 0.1, 0.01), Level("same", "same", 0.8, 0.01, rare=True)),
)
CITY = Comparison("city", (Level("different", "differs", 0.2, 0.9), Level("same", "same", 0.8, 0.1, unit=True)))
PHONE = Comparison("phone", (Level("different", "differs", 0.4, 0.999), Level("same", "same", 0.6, 0.001, unit=True)))


def _pairs(n):
    return Pairs(np.arange(n, dtype=np.int32) + 1000, np.arange(n, dtype=np.int32), np.full(n, 3, np.uint32))


def _graded(rows, comparisons=(NAME, CITY, PHONE), common=None):
    levels = np.array(rows, np.int8).reshape(-1, len(comparisons))
    shared = np.zeros(levels.shape, np.float32) if common is None else np.array(common, np.float32)
    return Graded(_pairs(len(levels)), comparisons, levels, shared)


def _model(cap=0.0, floor=0.0, n=1000):
    empty = _graded([])
    return weigh.starting(
        (NAME, CITY, PHONE), empty, empty, n, -10.0, cap, floor, 1.0, frozenset(("city", "phone")), np.zeros(0, bool), (), {}
    )


def test_what_strangers_share_is_learnt_within_a_list():
    """Of short lists every other pair of a row and a record is a true one: that they agree makes no name common; a town they have throughout is."""
    apart, one = [0, 0, 0], [len(c.levels) - 1 for c in (NAME, CITY, PHONE)]
    random = _graded([one] * 5_000 + [apart] * 5_000)
    within = np.arange(10_000) >= 5_000
    rest = (1000, -10.0, 0.0, 0.0, 1.0, frozenset())
    name, city, _ = weigh.starting((NAME, CITY, PHONE), random, random, *rest, within, {CITY.field}, {}).u
    assert name[-1] < 0.01 and city[-1] > 0.4


@given(st.lists(st.text(max_size=20), max_size=12))
def test_columns_hold_what_was_put_in(values):
    """Distinct values and codes give back every text, trimmed; white space only is blank."""
    column = Column.of(pa.array(values, pa.large_string()))
    texts = [*column.values.arrow().to_pylist(), None]
    trimmed = pa.compute.utf8_trim_whitespace(pa.array(values, pa.large_string())).to_pylist()
    assert [texts[c] for c in column.codes] == [t or None for t in trimmed]
    assert len(set(texts)) == len(texts)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("Müller-Weiß & Söhne", ["muller", "weiss", "and", "sohne"]),
        ("S.A. de C.V.", ["sa", "de", "cv"]),
        ("St. Louis", ["st", "louis"]),
        ("O'Neil", ["oneil"]),
        ("Łódź", ["lodz"]),
        ("#12b", ["#", "12b"]),
        ("Анна", ["anna"]),
        ("Ольга Кузьмин-Подъяпольская", ["olga", "kuzmin", "podyapolskaya"]),
        ("प्रिया कुमार", ["priya", "kumar"]),
        ("כֹּהֵן צה״ל", ["khohen", "tshl"]),
        ("น้ำ", ["nam"]),
        ("コーヒー", ["kohi"]),
        ("J.P. Morgan", ["jp", "morgan"]),
        ("", []),
        ("...", []),
        ("ab.cd@e", ["ab", "cd", "e"]),
    ],
)
def test_folding(text, words):
    """Every script in plain lower-case words."""
    found = fold(Texts.of([text]))
    assert found.vocabulary.arrow().take(pa.array(found.ids)).to_pylist() == words


@given(st.lists(st.text("abc", max_size=3), max_size=8))
def test_hashes_are_equal_for_equal_texts_only(texts):
    """A key per text; the empty text has none."""
    keys = hash_values(Texts.of(texts))
    for a, x in zip(keys, texts, strict=True):
        assert (a == 0) == (x == "")
        for b, y in zip(keys, texts, strict=True):
            assert (a == b) == (x == y)


def test_joined_keys_need_every_part():
    """A record that lacks a part has no joined key, and the order of parts matters."""
    a, b = np.array([1, 0, 5], np.uint64), np.array([2, 3, 6], np.uint64)
    joined = join_keys(a, b)
    assert joined[1] == 0 and joined[0] != 0
    assert joined[2] != join_keys(b, a)[2]


@given(st.lists(st.tuples(st.integers(-1, 4), st.integers(-1, 4)), max_size=30))
def test_distinct_pairs_stand_for_all(pairs):
    """Each pair of codes, either way round, is compared once."""
    left, right = np.array([p[0] for p in pairs], np.int32), np.array([p[1] for p in pairs], np.int32)
    a, b, which = distinct_pairs(left, right)
    assert [sorted(p) for p in pairs] == [[int(x), int(y)] for x, y in zip(a[which], b[which], strict=True)]
    assert len({(int(x), int(y)) for x, y in zip(a, b, strict=True)}) == len(a)


def test_owners_and_shares():
    """What many different people give says little: counted by identity, not by record."""
    values, who = np.array([7, 7, 7, 9, 0], np.uint64), np.array([1, 1, 2, 3, 4], np.uint64)
    assert owners(values, who).tolist() == [2, 2, 2, 1, 0]
    assert shares(values).tolist() == pytest.approx([0.6, 0.6, 0.6, 0.2, 0.0])


@given(st.lists(st.integers(0, 5), min_size=2, max_size=25), st.integers(1, 20))
def test_passes_find_every_pair_that_shares_a_key(keys, n_incoming):
    """No pair that shares a key is missed, none comes twice, none is two existing records."""
    n_incoming = min(n_incoming, len(keys) - 1)
    n = len(keys)
    column = Column.of(pa.array([str(i) for i in range(n)], pa.large_string()))
    batch = Batch("contact", n - n_incoming, n_incoming, {"notes": column})
    key = np.array(keys, np.uint64)
    content = candidates.content_keys(batch)
    found = candidates.index(batch, {"k": key}, [candidates.Pass(("k",), "k")], content, content)
    pairs = {tuple(sorted((int(a), int(b)))) for p in candidates.collect(found) for a, b in zip(p.left, p.right, strict=True)}
    wanted = {(i, j) for i in range(n) for j in range(i + 1, n) if keys[i] and keys[i] == keys[j] and j >= n - n_incoming}
    assert pairs == wanted


def test_rare_agreement_weighs_more():
    """Agreement on a rare value weighs more than on a common one, and blank weighs nothing."""
    bits, total = weigh.evidence(
        _model(), _graded([[2, -1, -1]] * 2 + [[-1, -1, -1]], common=[[0.002, 0, 0], [0.2, 0, 0], [0, 0, 0]])
    )
    assert bits[0, 0] > bits[1, 0] > 0
    assert total[2] == 0


def test_shared_and_changing_evidence_is_bounded():
    """What a household shares counts up to the cap; what changes with a move counts against down to the floor."""
    rows = [[-1, 1, 1], [-1, 0, 0]]
    free, bounded = weigh.evidence(_model(), _graded(rows))[1], weigh.evidence(_model(cap=5.0, floor=-2.0), _graded(rows))[1]
    assert free[0] > 5.0 and bounded[0] == pytest.approx(5.0)
    assert free[1] < -2.0 and bounded[1] == pytest.approx(-2.0)


def test_fitting_moves_towards_the_data_and_not_far_on_small_lists():
    """Many clear matches that differ in city teach that true pairs may; twenty hardly do."""
    rows = [[2, 0, 1]] * 900 + [[0, 0, 0]] * 3000
    passes = np.array([1, 1, 1], np.uint32)
    for count, least in ((900, 0.6), (20, 0.2)):
        graded = _graded(rows[900 - count :])
        fitted = weigh.fit(_model(n=5000), graded, np.zeros(len(graded.pairs), bool), 1e6, passes)
        assert fitted.m[1][0] >= least
        assert fitted.m[1][0] <= (1.0 if count == 900 else 0.35)


def test_fit_does_not_depend_on_order():
    """Pairs in another order give the same weights, to the last bit."""
    rows = [[2, 1, 1], [2, 0, -1], [1, 1, 0], [0, 0, 0], [2, -1, 1]] * 40
    order = np.random.default_rng(1).permutation(len(rows))
    fitted = [
        weigh.fit(_model(), _graded(r), np.zeros(len(r), bool), 1e5, np.zeros(3, np.uint32))
        for r in (rows, [rows[i] for i in order])
    ]
    assert all(np.array_equal(a, b) for a, b in zip(fitted[0].m, fitted[1].m, strict=True))
    assert fitted[0].prior == fitted[1].prior


@pytest.mark.parametrize(
    ("condition", "hits"),
    [
        ("name is same", [True, False, False, False]),
        ("name at least close", [True, True, False, False]),
        ("name differs", [False, False, True, False]),
        ("name blank", [False, False, False, True]),
        ("name at most close", [False, True, True, False]),
        ("name is not same", [False, True, True, True]),
        ("name is same or name is close", [True, True, False, False]),
        ("name at least close and city is same", [True, False, False, False]),
    ],
)
def test_conditions(condition, hits):
    """The language of conditions, word by word."""
    graded = _graded([[2, 1, -1], [1, 0, -1], [0, 1, -1], [-1, 1, -1]])
    assert (rules.apply([rules.Rule("r", "same", (condition,))], graded) == 0).tolist() == hits


@pytest.mark.parametrize(
    ("condition", "hits"),
    [
        ("phone same last 7 digits", [True, False, False]),
        ("city same first 4", [True, True, False]),
        ("city same last 3", [True, False, False]),
        ("seen same day", [True, False, False]),
    ],
)
def test_conditions_on_values(condition, hits):
    """Values that begin or end alike, or fall on one day; a blank side never meets."""
    said = {
        "phone": ["+1 212 555-0147", "212 555 0147", "212 555 0148", ""],
        "city": ["Rook-wood", "rookwood", "Rookery", ""],
        "seen": ["2026-03-02T10:00", "2026-03-02", "2026-03-03", ""],
    }
    columns = {f: Column.of(pa.array(v, pa.large_string())) for f, v in said.items()}
    pairs = Pairs(np.zeros(3, np.int32), np.array([1, 2, 3], np.int32), np.zeros(3, np.uint32))
    graded = Graded(pairs, (NAME,), np.zeros((3, 1), np.int8), np.zeros((3, 1), np.float32))
    assert (rules.apply([rules.Rule("r", "same", (condition,))], graded, columns) == 0).tolist() == hits


@pytest.mark.parametrize(
    ("conditions", "message"),
    [
        (("name is same", "name differs"), "it can never speak: no grade of name meets"),
        (("name is close and name blank",), "it can never speak"),
        (("fone same last 7 digits",), 'no field "fone"; did you mean "phone"'),
        (("name is saem",), 'no grade "saem"; did you mean "same"'),
        (("name like",), "is no condition"),
    ],
)
def test_rules_that_cannot_speak_are_told(conditions, message):
    """A rule that contradicts itself, or names what does not exist, is an error before any work is done."""
    with pytest.raises(PolicyError, match=message):
        rules.check([rules.Rule("r", "same", conditions)], (NAME,), ("phone", "name"))


def test_different_goes_before_all():
    """Of several rules that speak, the one that protects goes first."""
    graded = _graded([[2, 1, 1]])
    said = [rules.Rule(v, v, ("name is same",)) for v in ("same", "unsure", "none", "different")]
    assert said[rules.apply(said, graded)[0]].verdict == "different"
    assert said[rules.apply(said[:3], graded)[0]].verdict == "none"


def _said(verdict, doubt=None):
    return rules.Rule(verdict, verdict, ("city differs",), doubt=doubt)


@pytest.mark.parametrize(
    ("rule", "sure"), [(_said("different"), 0.03), (_said("different", 0.5), 0.5), (_said("unsure"), 0.8), (_said("same"), 1.0)]
)
def test_what_a_rule_says_is_in_the_probability(rule, sure):
    """A pair the evidence is sure of keeps as much of its probability as the rule is not doubted; a rule that says same lifts it."""
    judged = judge.judge(_graded([[2, 0, 1]], common=[[0.0001, 0, 0]]), _model(), [rule], 0.98, 0.5)
    alone = weigh.probability(_model(), judged.total)
    assert judged.probability[0] == pytest.approx(max(alone[0], 0.99) if rule.verdict == "same" else alone[0] * sure, abs=1e-6)


def test_a_rule_gives_way_to_evidence_it_asks_for():
    """From the probability a rule names on, it is silent, and the rule behind it, which names none, speaks on what both meet."""
    graded = _graded([[2, 0, 1], [2, 0, -1]], common=[[0.0001, 0, 0], [0.1, 0, 0]])
    model = replace(_model(), prior=-15.0)
    alone = weigh.probability(model, weigh.evidence(model, graded)[1])
    assert alone[0] > alone[1]
    first = rules.Rule("first", "unsure", ("city differs",), until=float(alone[0]))
    behind = rules.Rule("behind", "unsure", ("phone is same",))
    assert judge.judge(graded, model, [first, behind], 0.98, 0.0).rule.tolist() == [1, 0]
    silent = judge.judge(graded, model, [first], 0.98, 0.0)
    assert silent.rule.tolist() == [-1, 0] and silent.probability[0] == alone[0]


def test_a_rule_gives_way_to_no_more_evidence_in_a_short_list():
    """What makes a pair sure among a few records, and would not among ten thousand, does not silence a rule."""
    graded = _graded([[2, 0, 1]], common=[[0.0001, 0, 0]])
    short, long = (replace(_model(), prior=p) for p in (-8.0, -14.0))
    sure, less = (weigh.probability(m, weigh.evidence(m, graded)[1])[0] for m in (short, long))
    rule = rules.Rule("first", "unsure", ("city differs",), until=(sure + less) / 2)
    assert judge.judge(graded, short, [rule], 0.98, 0.0).rule.tolist() == [0]


def test_what_a_rule_passes_over_another_may_hold():
    """Of pairs that `none` passes over, those with evidence enough fall to the rule behind it."""
    graded = _graded([[2, 0, 1], [2, 0, 1]], common=[[0.0001, 0, 0], [0.1, 0, 0]])
    model = replace(_model(), prior=-15.0)
    alone = weigh.probability(model, weigh.evidence(model, graded)[1])
    over = rules.Rule("over", "none", ("city differs",), until=float(alone.mean()))
    held = rules.Rule("held", "unsure", ("city differs",), doubt=0.3)
    judged = judge.judge(graded, model, [over, held], 0.98, 0.0)
    assert judged.rule.tolist() == [1, 0] and judged.verdict.tolist() == [UNSURE, NONE]


def test_evidence_that_the_lists_show_to_be_chance_merges_nothing():
    """A rule whose pairs the lists take down by bits holds what the evidence by itself is sure of."""
    graded = _graded([[2, 0, 1]], common=[[0.0001, 0, 0]])
    model = replace(_model(), lifts=(-40.0,))
    assert weigh.probability(model, weigh.evidence(model, graded)[1])[0] > 0.9
    assert judge.judge(graded, model, [_said("unsure")], 0.9, 0.5).verdict.tolist() == [UNSURE]


def test_a_row_is_one_of_the_records_or_none():
    """The more rows are, the likelier is what looks like one and has no rival: two records, of which a second row comes as near to the one as to the other."""
    graded = _graded([[2, 1, -1]] * 3)
    graded = replace(graded, pairs=Pairs(np.array([2, 3, 3], np.int32), np.array([0, 0, 1], np.int32), np.zeros(3, np.uint64)))
    known = [
        judge.known_bits(judge.judge(graded, replace(_model(), prior=p), [], 0.98, 0.5), 2, 2, 1.0) for p in (-20.0, 0.0, 40.0)
    ]
    assert 0.0 < known[0] < known[1] < known[2] == pytest.approx(np.log2(10.0), abs=1e-3)
    model = replace(_model(), n_existing=2, known=2.0, like=((0, 3),))
    alone = judge.judge(graded, _model(), [], 0.98, 0.5).probability
    likelier = judge.judge(graded, model, [], 0.98, 0.5).probability
    assert likelier / (1.0 - likelier) * (1.0 - alone) / alone == pytest.approx([4.0, 1.0, 1.0])
    assert judge.judge(graded, replace(model, like=((0, 5),)), [], 0.98, 0.5).probability.tolist() == alone.tolist()


def test_silence_of_rules_that_forbid_speaks_for_a_pair():
    """Where a rule could have forbidden a pair and did not, it is likelier; where there is none to forbid, nothing changes."""
    graded = _graded([[2, 1, -1]])
    plain, spared = (judge.judge(graded, _model(), [_said(v)], 0.98, 0.5).probability[0] for v in ("unsure", "different"))
    assert plain == weigh.probability(_model(), weigh.evidence(_model(), graded)[1])[0] < spared


def test_judged_pairs_teach_how_far_a_rule_is_doubted():
    """A rule that a person often contradicts is doubted more, one always confirmed less, one never tried as before."""
    graded, tried = (
        _graded([[2, 0, 1]] * 40, common=[[0.0001, 0, 0]] * 40),
        [_said("unsure"), rules.Rule("other", "unsure", ("city blank",))],
    )
    wrong, right = (judge.learnt_doubts(graded, np.full(40, same), _model(), tried) for same in (False, True))
    assert wrong[0] > 0.7 and right[0] < 0.1
    assert wrong[1] == right[1] == pytest.approx(0.2)


def _judged(edges):
    pairs = Pairs(
        np.array([e[0] for e in edges], np.int32), np.array([e[1] for e in edges], np.int32), np.zeros(len(edges), np.uint32)
    )
    graded = Graded(pairs, (NAME,), np.zeros((len(edges), 1), np.int8), np.zeros((len(edges), 1), np.float32))
    total = np.array([e[3] for e in edges], float)
    return Judged(
        graded,
        np.zeros((len(edges), 1)),
        total,
        total * 0 + 0.5,
        np.full(len(edges), -1, np.int32),
        np.array([e[2] for e in edges], np.int8),
    )


def test_groups_never_hold_a_pair_judged_different():
    """The weaker of two links gives way; what is refused is named."""
    found = group(
        _judged([(0, 1, SAME, 20.0), (1, 2, SAME, 12.0), (0, 2, DIFFERENT, 0.0), (3, 4, UNSURE, 5.0), (4, 5, NONE, 1.0)]),
        6,
        np.arange(6, dtype=np.uint64),
    )
    assert found.of.tolist() == [0, 0, 1, 2, 3, 4]
    assert len(found.refused) == 1


@given(
    st.lists(
        st.tuples(st.integers(0, 9), st.integers(0, 9), st.sampled_from([SAME, DIFFERENT]), st.floats(1, 30)).filter(
            lambda e: e[0] != e[1]
        ),
        max_size=25,
    ),
    st.randoms(use_true_random=False),
)
def test_groups_do_not_depend_on_order(edges, random):
    """Links in another order make the same groups."""
    content = np.random.default_rng(3).permutation(10).astype(np.uint64)
    one = group(_judged(edges), 10, content).of
    check_groups(one, 10)
    shuffled = list(edges)
    random.shuffle(shuffled)
    assert np.array_equal(one, group(_judged(shuffled), 10, content).of)
    for a, b, verdict, _ in edges:
        assert verdict != DIFFERENT or one[a] != one[b]


def test_a_million_links_are_grouped_in_seconds():
    """Grouping is near linear."""
    rng = np.random.default_rng(9)
    n = 1_000_000
    left = rng.integers(0, n, n).astype(np.int32)
    pairs = Pairs(left, (left + 1 + rng.integers(0, 3, n)).astype(np.int32) % np.int32(n), np.zeros(n, np.uint32))
    graded = Graded(pairs, (NAME,), np.zeros((n, 1), np.int8), np.zeros((n, 1), np.float32))
    judged = Judged(graded, np.zeros((n, 1)), rng.random(n), np.ones(n), np.full(n, -1, np.int32), np.full(n, SAME, np.int8))
    found = group(judged, n, np.arange(n, dtype=np.uint64))
    assert np.bincount(found.of).max() <= 60


def test_actions_name_the_survivor_first():
    """Who is to stay leads, then the other records, then the rows; idle rows take no part."""
    outcome = np.array([MERGE, CREATE, UPDATE], np.int8)
    groups = np.array([0, 0, 2, 0, 1, 2], np.int32)  # records 0, 1, 2; rows 0, 1, 2
    acts, of_row = make_actions(outcome, groups, 3, np.array([2, 0, 1, 3, 4, 5]), np.array([False, False, True]))
    assert of_row.tolist() == [0, 1, 2]
    assert [acts.members[a:b].tolist() for a, b in zip(acts.off[:-1], acts.off[1:], strict=True)] == [[1, 0, 3], [4], [2]]


def test_thresholds_follow_from_risk_and_staff():
    """At most the risk is wrong by the probabilities' own account; no more rows are held than people can look at."""
    p = np.array([0.999, 0.99, 0.97, 0.9, 0.8, 0.6, 0.55, 0.2])
    for risk in (0.002, 0.01, 0.05, 0.2):
        at = judge.same_for_risk(p, risk)
        assert np.mean(1 - p[p >= at]) <= risk
    row = np.array([0, 1, 2, 3, 4, 5, 5, 6], np.int32)
    for most in range(5):
        at = judge.unsure_for_staff(p, row, 0.95, most, 0.35)
        assert len({*row[(p >= at) & (p < 0.95)].tolist()}) <= most
    assert judge.unsure_for_staff(p, row, 0.95, 9, 0.35) == 0.35


def test_what_to_write_instead():
    """The nearest of the words known, or all of them."""
    assert instead("emial", ["email", "phone"]) == 'did you mean "email"?'
    assert instead("quux", ["email", "phone"]) == "accepted: email, phone"


@given(st.lists(st.tuples(*(st.integers(0, 3) for _ in range(3))), max_size=12), st.randoms(use_true_random=False))
def test_neighbours_share_a_value_under_two_identities(records, random):
    """Pairs of one list, a value in common and not who they are, the same ones by what they hold in any order of the records; some wherever there are any."""
    found = []
    for _ in range(2):
        rows = np.array(records, np.uint64).reshape(-1, 3)
        left, right = neighbours(*rows.T, len(rows))
        assert all(rows[a, 0] == rows[b, 0] != 0 and rows[a, 1] != rows[b, 1] for a, b in zip(left, right, strict=True))
        found.append(sorted((*rows[a], *rows[b]) for a, b in zip(left, right, strict=True)))
        random.shuffle(records)
    assert found[0] == found[1]
    shared = [{a, b} for a, b in combinations(range(len(rows)), 2) if rows[a, 0] == rows[b, 0] != 0 and rows[a, 1] != rows[b, 1]]
    assert {x[0] for x in found[0]} == {rows[min(pair), 0] for pair in shared}
    every = [{a, b} for a, b in zip(*neighbours(*rows.T, len(rows), n=len(rows)), strict=True)]
    assert sorted(map(sorted, every)) == sorted(map(sorted, shared))
    lists = neighbours(*np.array([[1, 1, 1], [1, 2, 2]], np.uint64).T, 1)
    assert len(lists[0]) == 0
