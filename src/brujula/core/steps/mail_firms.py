"""Firms that the domain of a mailbox or a website spells: ada@harrowreeds.example, beside somebody of Harrow Reeds Ltd."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Codes, Column, Keys, Texts
from brujula.core.kernels.company import firms_worth, first_letters, spell_firms
from brujula.core.steps import joining
from brujula.core.steps.distinct import distinct_pairs
from brujula.core.steps.patterns import matches, replaced
from brujula.core.steps.phrases import Phrases
from brujula.core.steps.text import Words, fold, of_records


class Domains(NamedTuple):
    """Domains of n records that name no firm themselves: the words of each (harrow-reeds.example: harrow, reeds), and how many letters stay without a legal form or a number behind, 0 = none does."""

    codes: Codes
    words: Words
    short: NDArray[np.int64]


def no_domains(n: int) -> Domains:
    """Of n records nobody's."""
    return Domains(np.full(n, -1, np.int32), fold(Texts.of([])), np.zeros(0, np.int64))


def domains(at: Column, endings: tuple[str, ...]) -> Domains:
    """The domains that may spell a firm's name, of records that name no firm.

    at : the domain each of them is at by mailbox or website
    endings : words that may stand behind a firm's name (a legal form, a country)
    """
    label = replaced(at.values.arrow(), r"\..*$", "")
    at = at.where(matches(label, r"^[\pL\pN-]{4,}$").to_numpy(zero_copy_only=False))
    letters = pc.replace_substring(label, "-", "")
    behind = "|".join(sorted(endings, key=lambda w: (-len(w), w)))
    bare = replaced(letters, rf"(?:{behind})[0-9]*$|[0-9]+$", "")
    short = np.where(pc.equal(bare, letters).to_numpy(zero_copy_only=False), 0, pc.utf8_length(bare).to_numpy()).astype(np.int64)
    return Domains(at.codes, fold(Texts.of(label)), short)


def joined(held: Domains, records: NDArray[np.int32], asked: Domains) -> Domains:
    """The domains of some of the records held, and of those asked about behind them."""
    codes = held.codes[records]
    values = joining.Values.of(codes)
    words = joining.words(held.words, values, asked.words)
    return Domains(values.codes(codes, asked.codes), words, values.each(held.short, asked.short))


def begin(found: Domains) -> Keys:
    """A key of the first five letters of each record's domain, 0 = none: the one of a firm's name that it spells."""
    words, out = found.words, np.zeros(len(found.words), np.uint64)
    first_letters(words.offsets, words.ids, words.vocabulary.offsets, words.vocabulary.data, np.empty(5, np.uint8), out)
    return of_records(out, Column(Texts.of([]), found.codes))


def spelled(
    found: Domains, firms: Phrases, left: NDArray[np.int32], right: NDArray[np.int32]
) -> tuple[NDArray[np.int64], NDArray[np.float32]]:
    """The pairs of which one side names a firm and the other's domain spells it, and bits that firm's name is worth."""
    at, sites, names = [], [], []
    for own, other in ((left, right), (right, left)):
        here = np.flatnonzero((found.codes.take(own) >= 0) & (firms.codes.take(other) >= 0))
        at.append(here)
        sites.append(found.codes[own[here]])
        names.append(firms.codes[other[here]])
    # Numbered behind the domains, a firm is always the second of its pair.
    n_sites, words, voc = np.int32(len(found.words)), found.words, firms.words.vocabulary
    site, name, which = distinct_pairs(np.concatenate(sites), np.concatenate(names) + n_sites)
    name = name - n_sites
    hit, bits = np.zeros(len(site), bool), np.zeros(len(site), np.float32)
    letters = words.vocabulary
    spell_firms(
        site,
        name,
        words.offsets,
        words.ids,
        letters.offsets,
        letters.data,
        found.short,
        firms.off,
        firms.ids,
        voc.offsets,
        voc.data,
        np.empty((2, 96), np.uint8),
        hit,
    )
    firms_worth(name, firms.off, firms.ids, firms.weights, bits)
    found_at = np.flatnonzero(hit[which])
    return np.concatenate(at)[found_at], bits[which[found_at]]
