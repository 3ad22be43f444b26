"""Standard forms of a batch, kind by kind, and the keys that passes are made of."""

from __future__ import annotations

from collections.abc import Mapping
from concurrent.futures import Future
from dataclasses import replace

import numpy as np
import pyarrow.compute as pc

from brujula.core.batch import Batch, Column, Keys, Texts
from brujula.core.kind import Kind, Standards, Who
from brujula.core.steps import alphabets
from brujula.core.steps.parallel import spread
from brujula.core.steps.patterns import matches
from brujula.core.steps.text import reworded


def clean(batch: Batch, kinds: Mapping[str, Kind], kind_of: Mapping[str, str]) -> Batch:
    """The batch with placeholders and unusable values made blank. kind_of: field to kind name."""
    fields = [f for f in batch.columns if f in kind_of]
    cleaned = spread(lambda f: kinds[kind_of[f]].clean(_as_usual(batch.columns[f])), fields)
    return replace(batch, columns=dict(zip(fields, cleaned, strict=True)))


_SPACES = (("[\u00a0\u1680\u2000-\u200a\u202f\u205f\u3000]", " "), ("[\u00ad\u200b-\u200f\u2060\ufeff]", ""))
"""Spaces that do not break a line, wide and narrow ones; and what is not seen at all: soft hyphens, joiners, marks of direction."""
_APART = r"[\p{M}\x{1100}-\x{11FF}]"  # marks and the letters of syllables, which may stand behind what they belong to
_IN_BYTES = np.isin(np.arange(256), (0xC2, 0xCC, 0xCD, *range(0xD2, 0xF5)))  # how all these begin


def _as_usual(column: Column) -> Column:
    """The column with plain spaces for all that only looks like one, as in what was copied from a page, and letters and their marks as one
    character, which some machines write as two (normalization form C of Unicode)."""
    if not _IN_BYTES[column.values.data].any():
        return column
    plain = reworded(column.values, _SPACES)
    if pc.any(apart := matches(plain.arrow(), _APART)).as_py():
        plain = Texts.of(pc.if_else(apart, pc.utf8_normalize(plain.arrow(), "NFC"), plain.arrow()))
    if plain is column.values:
        return column
    # Two values that only looked different are one from here on.
    coded = plain.arrow().dictionary_encode()
    return Column(Texts.of(coded.dictionary), np.append(coded.indices.to_numpy(), -1)[column.codes].astype(np.int32))


def reading_of(batch: Batch, kind: Kind) -> alphabets.Reading | None:
    """The language that a kind's values of all records are in, as far as their letters tell."""
    return alphabets.reading_of(np.concatenate([batch.column(part).values.data for part in kind.parts]))


def index_keys(standards: Standards, kinds: Mapping[str, Kind], asked: bool) -> dict[str, Keys]:
    """Keys of an index, or of the one record it is asked about, named "kind.key"."""
    own = {f"{name}.{key}": v for name, form in standards.of.items() for key, v in kinds[name].index_keys(form, asked).items()}
    return {**standards.keys, **own}


def standardise(batch: Batch, kinds: Mapping[str, Kind], identifying: str) -> Standards:
    """Standard forms of every kind that compares something the batch holds; `identifying` names the kind that says who a record is."""
    said: Future[Who] = Future()  # who each record is: what other kinds count people by, as soon as it is known
    held = [name for name in sorted(kinds) if kinds[name].comparisons and kinds[name].is_told(batch)]
    others = [name for name in held if name != identifying]

    def one(name: str) -> tuple[object, dict[str, Keys]]:
        form = kinds[name].standardise(batch, said.result)
        return form, kinds[name].keys(form)

    def first() -> tuple[object, dict[str, Keys]]:
        try:
            form = kinds[identifying].standardise(batch, said.result)
            keys = kinds[identifying].keys(form)
            said.set_result(Who(*(keys[name] for name in kinds[identifying].identity)))
        except BaseException as error:
            said.set_exception(error)
            raise
        return form, keys

    forms: dict[str, object] = {}
    keys: dict[str, Keys] = {}
    names = [identifying, *others]  # the first begins first, so that nobody waits for what has not begun
    with alphabets.read_as(reading_of(batch, kinds[identifying])):
        for name, (form, found) in zip(names, spread(lambda n: first() if n == identifying else one(n), names), strict=True):
            forms[name] = form
            keys |= {f"{name}.{key}": np.ascontiguousarray(value) for key, value in found.items()}  # as kernels read them
    return Standards(forms, keys)
