"""What agrees more is never decided less: every way in which the fields of a row agree with a record, are blank or differ, beside each other."""

from itertools import product

import numpy as np
import pandas as pd
import pytest

import brujula

SURE = {"create": 0, "review": 1, "update": 2, "unchanged": 2, "merge": 2}
AGREES, BLANK, DIFFERS = "agrees", "blank", "differs"
BETTER = {DIFFERS: (BLANK, AGREES), BLANK: (AGREES,), AGREES: ()}
PLACED = ["city", "postal_code"]


def _words(n, seed, parts=3):
    syllables = np.array("al bor cen dor el far gor hul ist jor kam lun mer nol os pra quil rev sun tam".split())
    return ["".join(x).title() for x in syllables[np.random.default_rng(seed).integers(0, len(syllables), (n, parts))]]


def _values(field, n, seed):
    """A value of a field for each of n."""
    word, number = _words(n, seed), np.random.default_rng(seed).permutation(9000)[:n] + 1000
    match field:
        case "email":
            return [f"{w}{k}@post.example".lower() for w, k in zip(word, number, strict=True)]
        case "website":
            return [f"{w}{k}.example".lower() for w, k in zip(word, number, strict=True)]
        case "phone":
            return [f"{200 + k % 700}-555-{k:04}" for k in number]
        case "street":
            return [f"{k % 200 + 1} {w} Road" for w, k in zip(word, number, strict=True)]
        case "city":
            return [f"{w}ham" for w in word]
        case "postal_code":
            return [f"{10 * k + 1}" for k in number]
        case "company":
            return [f"{w} {kind}" for w, kind in zip(word, ["Brass", "Reeds Ltd", "Horns", "School"] * n, strict=False)]
    return word


def _lists(named, fields):
    """A record for every way the fields may stand to it, and the row of each; a town and its postal code go together."""
    ways = [*product((AGREES, BLANK, DIFFERS), repeat=len(fields))]
    columns = [*named, *(c for f in fields for c in (PLACED if f == "city" else [f]))]
    own = pd.DataFrame({c: _values(named.get(c, c), len(ways), k) for k, c in enumerate(columns)})
    others = pd.DataFrame({c: _values(named.get(c, c), len(ways), k + 50) for k, c in enumerate(columns)})
    rows = own.copy()
    for k, field in enumerate(fields):
        for column in PLACED if field == "city" else [field]:
            stands = np.array([way[k] for way in ways])
            rows.loc[stands == BLANK, column] = ""
            rows.loc[stands == DIFFERS, column] = others.loc[stands == DIFFERS, column]
    own.insert(0, "id", [f"R-{i}" for i in range(len(ways))])
    return ways, own, rows


@pytest.mark.parametrize(
    ("entity", "named", "fields"),
    [
        ("contact", {"first_name": "word", "last_name": "word"}, ("email", "phone", "street", "city", "company")),
        ("account", {"name": "company"}, ("website", "phone", "street", "city")),
    ],
)
def test_what_agrees_more_is_not_decided_less(entity, named, fields):
    """With a field that agrees in place of a blank or another one, or a blank in place of another, a row is never further from its record."""
    ways, records, rows = _lists(named, fields)
    plan = brujula.plan(rows, against=records, entity=entity)
    found = [
        SURE[outcome] if f"R-{i}" in ids.split(";") else 0
        for i, (outcome, ids) in enumerate(zip(plan.outcomes["outcome"], plan.outcomes["record_id"], strict=True))
    ]
    sure = dict(zip(ways, found, strict=True))
    assert {0, 1, 2} == set(found)
    less = [
        (way, field, better)
        for way in ways
        for k, field in enumerate(fields)
        for better in BETTER[way[k]]
        if sure[(*way[:k], better, *way[k + 1 :])] < sure[way]
    ]
    assert not less
