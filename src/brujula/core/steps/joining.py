"""Standard forms of some records with those of others behind them: what was made of all of a list is taken out of it, and not made again."""

from __future__ import annotations

from typing import Any, NamedTuple, TypeVar, cast

import numpy as np
import pyarrow as pa
from numpy.typing import NDArray

from brujula.core.batch import Codes, Texts
from brujula.core.steps.text import Words

Form = TypeVar("Form")
_T = TypeVar("_T", bound=np.generic)
Ragged = tuple[NDArray[np.int64], NDArray[np.int32]]
"""Offsets int64[n + 1] and the items between them."""


def rows(held: NDArray[Any], records: NDArray[np.int32], asked: NDArray[Any]) -> NDArray[Any]:
    """What some records have of a thing each record has, and all others behind it."""
    return np.concatenate([held.take(records, axis=0), asked])


def of_records(held: Form, records: NDArray[np.int32], asked: Form, **apart: Any) -> Form:
    """A form (named tuple) of some records of the first and all of the second; apart : its parts that are no arrays of records"""
    first: Any = held
    return cast(
        "Form",
        first._replace(
            **apart, **{f: rows(getattr(held, f), records, getattr(asked, f)) for f in first._fields if f not in apart}
        ),
    )


def taken(off: NDArray[np.int64], items: NDArray[_T], which: NDArray[Any]) -> tuple[NDArray[np.int64], NDArray[_T]]:
    """Some of the lists that stand one behind the other, in the order asked for."""
    sizes = off[which + 1] - off[which]
    behind = np.concatenate([[0], np.cumsum(sizes)])
    return behind, items[np.repeat(off[which] - behind[:-1], sizes) + np.arange(int(behind[-1]))]


def behind(first: Ragged, second: Ragged) -> Ragged:
    """All lists of both."""
    return np.concatenate([first[0], first[0][-1] + second[0][1:]]), np.concatenate([first[1], second[1]])


class Values(NamedTuple):
    """The values of a dictionary that some records have, and all those of another behind them.

    used : int64, codes of the first
    """

    used: NDArray[np.int64]

    @classmethod
    def of(cls, *codes: Codes) -> Values:
        """Of records with these codes; -1 = none."""
        used = np.unique(np.concatenate(codes))
        return cls(used[used >= 0].astype(np.int64))

    def codes(self, held: Codes, asked: Codes) -> Codes:
        """The codes of both in the values of both."""
        mine = np.where(held >= 0, np.searchsorted(self.used, held), -1)
        return np.concatenate([mine, np.where(asked >= 0, asked + len(self.used), -1)]).astype(np.int32)

    def each(self, held: NDArray[Any], asked: NDArray[Any]) -> NDArray[Any]:
        """What is known of each value."""
        return np.concatenate([held[self.used], asked])

    def texts(self, held: Texts, asked: Texts) -> Texts:
        """The values themselves."""
        return Texts.of(pa.concat_arrays([held.arrow().take(pa.array(self.used)), asked.arrow()]))


class Lexicon(NamedTuple):
    """The words of a vocabulary that are used, and all those of another, each once.

    values : which are used;  first : of both, which stands for each word;  ids : int32, of both, the new number of each
    """

    values: Values
    vocabulary: Texts
    first: NDArray[np.int64]
    ids: NDArray[np.int32]

    @classmethod
    def of(cls, held: Texts, used: NDArray[np.int32], asked: Texts) -> Lexicon:
        """used : words of the first, each as often as it is used"""
        values = Values.of(used)
        coded = values.texts(held, asked).arrow().dictionary_encode()
        ids = coded.indices.to_numpy().astype(np.int32)
        first = np.unique(ids, return_index=True)[1]  # those held come first: what is known of them is known of all
        return cls(values, Texts.of(coded.dictionary), first, ids)

    def numbers(self, held: NDArray[np.int32], asked: NDArray[np.int32]) -> tuple[NDArray[np.int32], NDArray[np.int32]]:
        """The new numbers of words of either."""
        n = len(self.values.used)
        return self.ids[np.searchsorted(self.values.used, held)], self.ids[n + asked]

    def each(self, held: NDArray[Any], asked: NDArray[Any]) -> NDArray[Any]:
        """What is known of each word."""
        return self.values.each(held, asked)[self.first]


def words(held: Words, values: Values, asked: Words) -> Words:
    """The words of those texts that are used, and of all others."""
    off, ids = taken(held.offsets, held.ids, values.used)
    lexicon = Lexicon.of(held.vocabulary, ids, asked.vocabulary)
    mine, other = lexicon.numbers(ids, asked.ids)
    return Words(*behind((off, mine), (asked.offsets, other)), lexicon.vocabulary)
