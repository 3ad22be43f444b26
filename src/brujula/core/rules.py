"""Rules: named conditions on grades that give a verdict whatever the evidence says."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from difflib import get_close_matches

import numpy as np
from numpy.typing import NDArray

from brujula.core.arrays import DIFFERENT, NONE, SAME, UNSURE, VERDICTS, Graded
from brujula.core.kind import GRADES, Comparison
from brujula.errors import PolicyError

_FORM = re.compile(
    r"^\s*(?P<field>\w+)\s+(?P<how>is not|is|at least|at most)\s+(?P<what>.+?)\s*$|^\s*(?P<field2>\w+)\s+(?P<short>differs|blank)\s*$"
)


@dataclass(frozen=True)
class Rule:
    """A verdict for pairs that meet all conditions, unless one of the exceptions holds.

    all    : conditions, each `FIELD is GRADE`, `FIELD is not GRADE`, `FIELD at least GRADE`, `FIELD at most GRADE`, `FIELD differs`,
             `FIELD blank`; GRADE may be the name of a level (`nickname`). `or` between conditions of one line.
    unless : exceptions; each may join conditions with ` and `
    why    : the sentence the reason shows
    """

    name: str
    verdict: str
    all: tuple[str, ...]
    unless: tuple[str, ...] = ()
    why: str = ""


def _one(condition: str, graded: Graded, grades: NDArray[np.int8], where: str) -> NDArray[np.bool_]:
    """Pairs that meet one condition."""
    match = _FORM.match(condition)
    if not match:
        raise PolicyError(f'{where}: "{condition}" is no condition; write e.g. "email is same" or "family_name at least close"')
    name = match["field"] or match["field2"]
    fields = [c.field for c in graded.comparisons]
    if name not in fields:
        near = get_close_matches(name, fields, 1)
        raise PolicyError(
            f'{where}: no compared field "{name}"'
            + (f'; did you mean "{near[0]}"?' if near else f"; compared are {', '.join(fields)}")
        )
    f = fields.index(name)
    what, how = (match["short"], "is") if match["short"] else (match["what"], match["how"])
    if what in GRADES:
        rank = GRADES.index(what)
        if how == "at least":
            return np.asarray(grades[:, f] >= rank)
        if how == "at most":
            return np.asarray((grades[:, f] <= rank) & (grades[:, f] > 0))
        found = grades[:, f] == rank
    else:
        level = _level(graded.comparisons[f], what, where, condition)
        found = graded.levels[:, f] == level
    return np.asarray(~found if how == "is not" else found)


def _level(comparison: Comparison, name: str, where: str, condition: str) -> int:
    names = [x.name for x in comparison.levels]
    if name not in names:
        near = get_close_matches(name, [*GRADES, *names], 1)
        hint = (
            f'did you mean "{near[0]}"?'
            if near
            else f"grades are {', '.join(GRADES)}; levels of {comparison.field}: {', '.join(names)}"
        )
        raise PolicyError(f'{where}: "{condition}": no grade "{name}"; {hint}')
    return names.index(name)


def _meets(line: str, graded: Graded, grades: NDArray[np.int8], where: str) -> NDArray[np.bool_]:
    """Pairs that meet a line of conditions joined with `and` or `or` (`or` binds loosest)."""
    out = np.zeros(len(graded.pairs), bool)
    for alternative in line.split(" or "):
        inner = np.ones(len(graded.pairs), bool)
        for condition in alternative.split(" and "):
            inner &= _one(condition, graded, grades, where)
        out |= inner
    return out


def apply(rules: Sequence[Rule], graded: Graded) -> NDArray[np.int32]:
    """Index of the rule that speaks on each pair, -1 = none. `different` goes before `none`, `unsure`, `same`; then the first in order.

    Raises PolicyError for a condition that cannot be read.
    """
    grades = graded.grades()
    spoke = np.full(len(graded.pairs), -1, np.int32)
    for verdict in (SAME, UNSURE, NONE, DIFFERENT):
        for number in reversed(range(len(rules))):
            rule = rules[number]
            if rule.verdict != VERDICTS[verdict]:
                continue
            where = f'rule "{rule.name}"'
            hit = np.ones(len(graded.pairs), bool)
            for line in rule.all:
                hit &= _meets(line, graded, grades, where)
            for line in rule.unless:
                hit &= ~_meets(line, graded, grades, where)
            spoke[hit] = number
    return spoke
