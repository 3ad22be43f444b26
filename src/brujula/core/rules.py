"""Rules: named conditions on grades that give a verdict whatever the evidence says."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cache, reduce
from operator import and_, or_
from typing import NamedTuple

import numpy as np
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.arrays import DIFFERENT, NONE, SAME, UNSURE, VERDICTS, Graded
from brujula.core.batch import Column, Texts
from brujula.core.kind import GRADES, Comparison
from brujula.core.steps.patterns import captured, replaced
from brujula.core.steps.text import hash_values, of_records
from brujula.errors import PolicyError, instead

_FORM = re.compile(
    r"^\s*(?P<field>\w+)\s+(?P<how>is not|is|at least|at most)\s+(?P<what>.+?)\s*$|^\s*(?P<field2>\w+)\s+(?P<short>differs|blank)\s*$"
)
_VALUES = re.compile(
    r"^\s*(?P<field>\w+)\s+same\s+((?P<end>first|last)\s+(?P<count>\d{1,2})(?P<digits>\s+digits)?|(?P<day>day))\s*$"
)

# Names of levels hold these words, too: "words added or left out".
_OR, _AND = (re.compile(rf" {word} (?=\s*\w+ +(?:is|at least|at most|same|differs|blank)\b)") for word in ("or", "and"))


@cache
def _alternatives(line: str) -> tuple[tuple[str, ...], ...]:
    """The conditions of a line: one of these must be met, in all its parts."""
    return tuple(tuple(_AND.split(alternative)) for alternative in _OR.split(line))


@cache
def _form(condition: str) -> tuple[str, str, str] | None:
    """Field, how and what of a condition on grades; None where it cannot be read."""
    match = _FORM.match(condition)
    if match is None:
        return None
    return (match["field2"], "is", match["short"]) if match["short"] else (match["field"], match["how"], match["what"])


@cache
def _part(condition: str) -> re.Match[str] | None:
    """A condition on a part of the values; None for one on grades."""
    return _VALUES.match(condition)


@dataclass(frozen=True)
class Rule:
    """A verdict for pairs that meet all conditions, unless one of the exceptions holds.

    all    : conditions, each `FIELD is GRADE`, `FIELD is not GRADE`, `FIELD at least GRADE`, `FIELD at most GRADE`, `FIELD differs`,
             `FIELD blank`; GRADE may be the name of a level (`nickname`). Of the values themselves: `FIELD same first N`,
             `FIELD same last N`, either with `digits` behind, and `FIELD same day`. `or` between conditions of one line.
    unless : exceptions; each may join conditions with ` and `
    why    : the sentence the reason shows
    doubt  : of the pairs it speaks on and the evidence takes for one, the share that are two (of a rule that says `same`, of all it
             speaks on); the probability of a pair takes it in. None = the usual one of the verdict
    bridge : whether a third who is like both may join the two all the same: M. Lind is like Mora and like Max Lind
    until  : the probability by the evidence alone, were the lists large, from which a rule that says `unsure` or `none` no longer speaks: a name
             that nobody else bears outweighs what holds of common ones. 1 = it always speaks
    alone  : the kind that settles what the rule holds, where the lists show that a value of it is one record's alone; "" = none does
    crowded: the kind a value of which many share: as far as two of one list meet the rule as often as a row and a record do, what it
             holds is so by chance; "" = chance is in the doubt
    shown  : what it holds is as likely as the lists show (`crowded`), whatever the evidence says: it asks for what no third has
    within : the kind by whose values the lists show how much of what it holds is two: as many as two of one list meet it; "" = the doubt says it
    beside : the kind at a value of which two of one list must meet the rule so often that half of what it would hold is two, or it does
             not speak; "" = it always does
    """

    name: str
    verdict: str
    all: tuple[str, ...]
    unless: tuple[str, ...] = ()
    why: str = ""
    doubt: float | None = None
    bridge: bool = True
    until: float = 1.0
    alone: str = ""
    crowded: str = ""
    within: str = ""
    beside: str = ""
    shown: bool = False

    @property
    def doubted(self) -> float:
        """The doubt, or the usual one; none of a rule that does not speak before the lists show why."""
        if self.beside:
            return 0.0
        return _DOUBT[self.verdict] if self.doubt is None else self.doubt


_DOUBT = {"same": 0.01, "none": 0.3, "unsure": 0.2, "different": 0.97}
Columns = Mapping[str, Column]


def _same_part(found: re.Match[str], graded: Graded, columns: Columns, where: str) -> NDArray[np.bool_]:
    """Pairs whose values begin or end alike, or are dates of one day; a blank side does not meet it."""
    name = found["field"]
    if name not in columns:
        return np.zeros(len(graded.pairs), bool)
    column = columns[name]
    text = pc.utf8_lower(column.values.arrow())
    if found["day"]:
        text = pc.struct_field(captured(text, r"^\s*(?P<d>\d{4}-\d{2}-\d{2})"), "d").fill_null("")
    else:
        text = replaced(text, r"\D" if found["digits"] else r"[^\pL\d]", "")
        count = int(found["count"])
        enough = pc.greater_equal(pc.utf8_length(text), count)
        part = pc.utf8_slice_codeunits(text, 0, count) if found["end"] == "first" else pc.utf8_slice_codeunits(text, -count)
        text = pc.if_else(enough, part, "")
    key = of_records(hash_values(Texts.of(text)), column)
    a, b = key[graded.pairs.left], key[graded.pairs.right]
    return np.asarray((a != 0) & (a == b))


class _Asked(NamedTuple):
    """A condition on one comparison, read: whether by grade or by level, how, and against which code."""

    by_grade: bool
    how: str
    code: int

    def of(self, codes: NDArray[np.int8]) -> NDArray[np.bool_]:
        """Which of these codes of grades, or of levels, meet it."""
        if self.how == "at least":
            return np.asarray(codes >= self.code)
        if self.how == "at most":
            return np.asarray((codes <= self.code) & (codes > 0))
        return np.asarray(codes != self.code if self.how == "is not" else codes == self.code)


@cache
def _asked(condition: str, comparison: Comparison, where: str) -> _Asked:
    _, how, what = _form(condition) or ("", "", "")
    if what in GRADES:
        return _Asked(True, how, GRADES.index(what))
    names = [x.name for x in comparison.levels]
    if what not in names:
        raise PolicyError(f'{where}: "{condition}": no grade "{what}"; {instead(what, [*GRADES, *names])}')
    if how in ("at least", "at most"):
        raise PolicyError(
            f'{where}: "{condition}": "{how}" takes one of {", ".join(GRADES[1:])}; "{what}" is a level of {comparison.field}'
        )
    return _Asked(False, how, names.index(what))


@cache
def _meeting(condition: str, comparison: Comparison, where: str) -> frozenset[int]:
    """The level codes (-1 = blank) that meet a condition."""
    asked, codes = _asked(condition, comparison, where), np.array(comparison.levels_and_blank, np.int8)
    return frozenset(codes[asked.of(comparison.grade_ranks[codes] if asked.by_grade else codes)].tolist())


def _field(condition: str, fields: Iterable[str], where: str) -> str:
    """The compared field that a condition is about."""
    if (form := _form(condition)) is None:
        raise PolicyError(f'{where}: "{condition}" is no condition; write e.g. "email is same" or "family_name at least close"')
    if form[0] not in fields:
        raise PolicyError(f'{where}: no compared field "{form[0]}"; {instead(form[0], list(fields))}')
    return form[0]


class _Facts(NamedTuple):
    """What conditions are put to: the graded pairs, where each comparison stands, and the records' fields."""

    graded: Graded
    at: dict[str, int]
    grades: NDArray[np.int8]
    columns: Columns

    def one(self, condition: str, where: str) -> NDArray[np.bool_]:
        """Pairs that meet one condition."""
        if part := _part(condition):
            return _same_part(part, self.graded, self.columns, where)
        f = self.at[_field(condition, self.at, where)]
        asked = _asked(condition, self.graded.comparisons[f], where)
        return asked.of((self.grades if asked.by_grade else self.graded.levels)[:, f])

    def meet(self, line: str, where: str) -> NDArray[np.bool_]:
        """Pairs that meet a line of conditions joined with `and` or `or` (`or` binds loosest)."""
        return reduce(or_, (reduce(and_, (self.one(c, where) for c in alternative)) for alternative in _alternatives(line)))


def apply(
    rules: Sequence[Rule], graded: Graded, columns: Columns | None = None, alone: NDArray[np.float64] | None = None
) -> NDArray[np.int32]:
    """Index of the rule that speaks on each pair, -1 = none. `different` goes before `none`, `unsure`, `same`; then the first in order.

    columns : the records' fields, for conditions on the values themselves
    alone   : the pairs' probability by the evidence alone; None = not known, so that no rule gives way to it

    Raises PolicyError for a condition that cannot be read; those that no pair comes to are not read (`check` reads all).
    """
    facts = _Facts(graded, {c.field: f for f, c in enumerate(graded.comparisons)}, graded.grades(), columns or {})
    spoke = np.full(len(graded.pairs), -1, np.int32)
    for verdict in (SAME, UNSURE, NONE, DIFFERENT):
        for number in reversed(range(len(rules))):
            rule = rules[number]
            if rule.verdict != VERDICTS[verdict]:
                continue
            where = f'rule "{rule.name}"'
            hit = np.ones(len(graded.pairs), bool) if alone is None or rule.until == 1.0 else alone < rule.until
            for line, wanted in (*((x, True) for x in rule.all), *((x, False) for x in rule.unless)):
                if not hit.any():
                    break
                hit &= facts.meet(line, where) == wanted
            spoke[hit] = number
    return spoke


def check(rules: Sequence[Rule], comparisons: tuple[Comparison, ...], fields: Sequence[str]) -> None:
    """Raises PolicyError for a rule that cannot be read, and for one that can never speak.

    fields : the fields whose values conditions may name
    """
    compared = {c.field: c for c in comparisons}
    for rule in rules:
        where = f'rule "{rule.name}"'
        until = (f"until = {rule.until:g}", rule.until < 1.0, ("unsure", "none"))
        kinds = (("alone", rule.alone), ("crowded", rule.crowded), ("within", rule.within), ("beside", rule.beside))
        others = ((f'{k} = "{v}"', bool(v), ("unsure",)) for k, v in kinds)
        for given, asked, may in (until, *others):
            if asked and rule.verdict not in may:
                said = " or ".join(f'"{v}"' for v in may)
                raise PolicyError(f'{where}: {given}: only a rule that says {said} gives way; this one says "{rule.verdict}"')
        possible = {c.field: {*c.levels_and_blank} for c in comparisons}
        for line in (*rule.all, *rule.unless):
            for condition in (c for alternative in _alternatives(line) for c in alternative):
                if part := _part(condition):
                    if part["field"] not in fields:
                        raise PolicyError(f'{where}: no field "{part["field"]}"; {instead(part["field"], fields)}')
                    continue
                field = _field(condition, compared, where)
                meeting = _meeting(condition, compared[field], where)
                if line in rule.all and len(_alternatives(line)) == 1:
                    possible[field] &= meeting
        for field, left in possible.items():
            if not left:
                raise PolicyError(f"{where}: it can never speak: no grade of {field} meets all its conditions")
