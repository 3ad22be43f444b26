"""Contracts that kinds and stores keep, for our own tests and for those who add one."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa

from brujula.core.batch import Batch, Column
from brujula.core.kind import GRADES, Kind, Who


def fixed_clock(text: str = "2026-01-05T09:00:00") -> Callable[[], datetime]:
    """A clock that always tells one time."""
    at = datetime.fromisoformat(text).replace(tzinfo=UTC)
    return lambda: at


def grades_of(kind: Kind, left: Mapping[str, str], right: Mapping[str, str], entity: str = "contact") -> dict[str, str]:
    """The grade of each comparison of a kind for two records given as field to text, fields of other kinds (a firm's town) among them."""
    fields = dict.fromkeys([*kind.parts, *left, *right])
    columns = {f: Column.of(pa.array([left.get(f), right.get(f)], pa.large_string())) for f in fields}
    columns |= {p: kind.clean(columns[p]) for p in kind.parts}
    return _grades(kind, Batch(entity, 1, 1, columns), 0, 1)


def grades_asked(kind: Kind, left: Mapping[str, str], right: Mapping[str, str], entity: str = "contact") -> dict[str, str]:
    """The same where the left one is held, and the right one is asked about later (`Lookup`)."""
    fields = dict.fromkeys([*kind.parts, *left, *right])
    forms = []
    for side in (left, right):
        columns = {f: Column.of(pa.array([side.get(f)], pa.large_string())) for f in fields}
        columns |= {p: kind.clean(columns[p]) for p in kind.parts}
        forms.append(kind.standardise(Batch(entity, 1, 0, columns), lambda: Who.nobody(1)))
    held, asked = forms
    asked = kind.settle(asked, kind.counts(held))
    return _graded(kind, kind.joined(held, np.zeros(1, np.int32), asked, Who.nobody(2)), 0, 1)


def _grades(kind: Kind, batch: Batch, a: int, b: int) -> dict[str, str]:
    return _graded(kind, kind.standardise(batch, lambda: Who.nobody(len(batch))), a, b)


def _graded(kind: Kind, standard: object, a: int, b: int) -> dict[str, str]:
    found = kind.compare(standard, np.array([a], np.int32), np.array([b], np.int32))
    return {c.field: GRADES[c.grade_ranks[found[c.field].levels[0]]] for c in kind.comparisons}


def _entity(kind: Kind) -> str:
    return "account" if "name" in kind.parts and "account" not in kind.parts else "contact"


def check_kind(kind: Kind, texts: Iterable[str] = ()) -> None:
    """Assert what every kind promises: its examples hold, either way round and when one is asked about later, and what `check_texts` asserts of the texts."""
    check_texts(kind, texts)
    entity = _entity(kind)
    for example in kind.examples:
        found = grades_of(kind, example.left, example.right, entity)
        for field, grade in example.grades.items():
            assert found[field] == grade, (
                f"{kind.name}: {dict(example.left)} and {dict(example.right)}: {field} is {found[field]}, not {grade}"
            )
        assert found == grades_of(kind, example.right, example.left, entity), (
            f"{kind.name}: {example} differs the other way round"
        )
        assert found == grades_asked(kind, example.left, example.right, entity), (
            f"{kind.name}: {example} differs when one is asked about later"
        )


def check_texts(kind: Kind, texts: Iterable[str]) -> None:
    """Assert what every kind promises of any texts: blank stays blank; cleaning twice changes nothing; comparing is symmetric, and a value that is
    not blank agrees with itself; forms taken out of all and joined compare as they did; no exception for any of them."""
    values = [*texts, "", "   ", "\N{NO-BREAK SPACE}", "\t"]
    columns = {}
    for part in kind.parts:
        column = Column.of(pa.array(values, pa.large_string()))
        once = kind.clean(column)
        assert np.array_equal(kind.clean(once).codes, once.codes), (
            f"{kind.name}: cleaning {part} twice differs from cleaning it once"
        )
        assert not once.filled[len(values) - 4 :].any(), f"{kind.name}: blank did not stay blank"
        columns[part] = once
    if not kind.comparisons:
        return
    n = len(values)
    left, right = np.repeat(np.arange(n), n).astype(np.int32), np.tile(np.arange(n), n).astype(np.int32)
    standard = check_order(kind, columns)
    kind.keys(standard)
    one = kind.compare(standard, left, right)
    twice = kind.joined(standard, np.arange(n, dtype=np.int32)[::-1], standard, Who.nobody(2 * n))
    joined = kind.compare(twice, n - 1 - left, right + np.int32(n))
    for comparison in kind.comparisons:
        assert np.array_equal(one[comparison.field].levels, joined[comparison.field].levels), (
            f"{kind.name}: {comparison.field} differs in forms that were joined"
        )
        ranks = comparison.grade_ranks[one[comparison.field].levels[left == right]]
        assert np.all(ranks != GRADES.index("differs")), f"{kind.name}: a value differs from itself on {comparison.field}"


def check_order(kind: Kind, columns: Mapping[str, Column]) -> Any:
    """Assert that two records are as much alike, and what they share is as common, whichever is on the left and whichever a list has first; their standard form.

    columns : the cleaned parts of the kind; all pairs of the records are compared
    """
    n, forms = len(next(iter(columns.values())).codes), []
    for order in (np.arange(n, dtype=np.int32), np.arange(n, dtype=np.int32)[::-1]):
        # Read anew, so that values are numbered in the order they come in, too.
        turned = {part: Column.of(column.texts(order)) for part, column in columns.items()}
        forms.append(kind.standardise(Batch(_entity(kind), 0, n, turned), lambda: Who.nobody(n)))
    left, right = np.repeat(np.arange(n), n).astype(np.int32), np.tile(np.arange(n), n).astype(np.int32)
    one = kind.compare(forms[0], left, right)
    ways = {
        "which side a record is on": kind.compare(forms[0], right, left),
        "the order of the records": kind.compare(forms[1], n - 1 - left, n - 1 - right),
    }
    for field, found in one.items():
        for way, other in ways.items():
            same = (found.levels == other[field].levels) & np.isclose(found.common, other[field].common, rtol=1e-6)
            assert same.all(), f"{kind.name}: {field} hangs on {way}"
    return forms[0]


def check_store(url: str, folder: Path) -> None:
    """Assert what every store promises: filled once; a load does what its plan says, once; a second plan finds nothing to do; undo restores every value.

    url : of an empty store; folder : an empty folder to work in
    """
    from brujula import history, load, plan, undo
    from brujula.errors import PlanError, StoreError
    from brujula.stores import open_database

    (folder / "export.csv").write_text(
        "id,first_name,last_name,email,phone,city,email_opt_out\n1,Ada,Quist,ada@quist.example,,,no\n"
        "2,Bob,Ames,bob@ames.example,212-555-0147,Alder Falls,no\n3,Robert,Ames,bob@ames.example,(212) 555-0147,,yes\n"
    )
    (folder / "list.csv").write_text(
        "First name;Surname;Mail;Telephone;Town\nAda;Quist;ADA@quist.example;212-555-0101;Birchmere\n"
        "Robert;Ames;bob@ames.example;;\nCarla;Wren;carla@wren.example;;Rookwood\n"
    )
    load(folder / "export.csv", into=url, clock=fixed_clock())
    with open_database(url) as store:
        before = store.dump()
    try:
        load(folder / "export.csv", into=url)
        raise AssertionError("a store that holds records was filled a second time")
    except StoreError:
        pass
    made = plan(str(folder / "list.csv"), against=url)
    with open_database(url) as store:
        assert store.dump() == before, "planning wrote to the store"
    made.write(folder / "plan")
    done = load(folder / "plan", into=url, clock=fixed_clock())
    assert (done.created, done.updated, done.merged, done.held) == (1, 1, 1, 0), done
    with open_database(url) as store:
        records = {r["id"]: r for r in store.read("contact").to_pylist()}
    assert len(records) == 3 and records["1"]["city"] == "Birchmere", records
    assert next(r for r in records.values() if r["family_name"] == "Ames")["email_opt_out"] == "yes", (
        "an opt-out was lost in a merge"
    )
    try:
        load(folder / "plan", into=url)
        raise AssertionError("one plan was loaded twice")
    except PlanError:
        pass
    assert plan(str(folder / "list.csv"), against=url).counts["unchanged"] == 3, "the same list again is not unchanged"
    undo(done.id, into=url, clock=fixed_clock())
    with open_database(url) as store:
        assert store.dump() == before, "undo did not restore every value"
    assert [x.state for x in history(url)] == ["loaded", "undone"]
