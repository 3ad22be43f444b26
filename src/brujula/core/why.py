"""Reasons in words: which fields agree and how well, which rule spoke, how many bits."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.arrays import Judged
from brujula.core.rules import Rule

LABELS = {
    "given_name": "given name",
    "family_name": "family name",
    "middle_name": "middle name",
    "job_title": "job title",
    "birth_date": "birth date",
    "registration_no": "registration number",
    "email": "e-mail",
    "profile": "profile page",
    "besides": "another column",
}


def sentences(judged: Judged, rules: Sequence[Rule], pairs: NDArray[np.int64]) -> pa.Array:
    """For each pair (index into judged) the grades that speak for and against, and what decided; each distinct pattern is worded once."""
    if len(pairs) == 0:
        return pa.array([], pa.large_string())
    rule = judged.rule[pairs]
    pattern = np.ascontiguousarray(np.concatenate([judged.graded.levels[pairs], rule[:, None].astype(np.int8)], axis=1))
    width = pattern.shape[1]
    coded = pa.Array.from_buffers(pa.binary(width), len(pairs), [None, pa.py_buffer(pattern)]).dictionary_encode()
    distinct = np.frombuffer(b"".join(coded.dictionary.to_pylist()), np.int8).reshape(-1, width)
    words = pa.array([_words(judged, rules, row.tolist()) for row in distinct], pa.large_string()).take(coded.indices)
    bits = _numbers(judged.total[pairs], 10, "{:+.1f}")
    sure = _numbers(judged.probability[pairs], 1000, "{:.3f}")
    return pc.if_else(pa.array(rule >= 0), words, glued(words, " (", bits, " bits, probability ", sure, ")"))


def glued(*parts: pa.Array | str) -> pa.Array:
    """Texts run together, element by element; at least one part is an array."""
    scalars = (pa.scalar(part, pa.large_string()) if isinstance(part, str) else part for part in (*parts, ""))
    return pc.binary_join_element_wise(*scalars)


def _numbers(values: NDArray[np.float64], parts: int, form: str) -> pa.Array:
    """Numbers in words, rounded to parts of one; each distinct one is worded once."""
    distinct, which = np.unique(np.rint(values * parts), return_inverse=True)
    return pa.array([form.format(v / parts) for v in distinct.tolist()], pa.large_string()).take(pa.array(which.reshape(-1)))


def _words(judged: Judged, rules: Sequence[Rule], row: list[int]) -> str:
    """One pattern of levels, and the rule if one spoke, in words."""
    agree, differ = [], []
    for comparison, level in zip(judged.graded.comparisons, row[:-1], strict=True):
        if level < 0 or comparison.levels[level].silent:
            continue
        label = LABELS.get(comparison.field, comparison.field.replace("_", " "))
        named = comparison.levels[level]
        if named.grade == "differs":
            differ.append(label if named.name == "different" else f"{label} ({named.name})")
        else:
            agree.append(label if named.name == "same" else f"{label} ({named.name})")
    said = []
    if agree:
        said.append("agree: " + ", ".join(agree))
    if differ:
        said.append("differ: " + ", ".join(differ))
    if row[-1] >= 0:
        said.append(f'rule "{rules[row[-1]].name}": {rules[row[-1]].why}')
    return "; ".join(said) or "nothing to compare"
