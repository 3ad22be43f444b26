"""Firms that the domain of a mailbox spells: ada@harrowreeds.example, beside somebody of Harrow Reeds Ltd."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Codes, Column, Keys, Texts
from brujula.core.kernels.company import firms_worth, first_letters, spell_firms
from brujula.core.steps import joining
from brujula.core.steps.distinct import distinct_pairs
from brujula.core.steps.patterns import matches, replaced
from brujula.core.steps.phrases import Phrases
from brujula.core.steps.text import Words, domains_in_letters, fold, of_records


class Domains(NamedTuple):
    """Domains of n records that name no firm themselves: the words of each (harrow-reeds.example: harrow, reeds), and how many letters stay without a legal form or a number behind, 0 = none does."""

    codes: Codes
    words: Words
    short: NDArray[np.int64]


def no_domains(n: int) -> Domains:
    """Of n records nobody's."""
    return Domains(np.full(n, -1, np.int32), fold(Texts.of([])), np.zeros(0, np.int64))


def domains(
    mail: Column,
    firm: Column,
    registrable: Callable[[pa.Array], pa.Array],
    free: Callable[[pa.Array], pa.Array],
    endings: tuple[str, ...],
) -> Domains:
    """The domains that may spell a firm's name, of records that have a mailbox and name no firm.

    registrable : the domain that is somebody's own, of each host
    free : which domains say nothing of an employer
    endings : words that may stand behind a firm's name (a legal form, a country)
    """
    asked = np.flatnonzero((firm.codes < 0) & (mail.codes >= 0))
    if len(asked) == 0:
        return no_domains(len(mail.codes))
    used, which = np.unique(mail.codes[asked], return_inverse=True)
    addresses = pc.utf8_lower(mail.values.arrow().take(pa.array(used)))
    host = domains_in_letters(replaced(addresses, r"^[^@]*@?|[>\s.]+$", "")).dictionary_encode()
    owned = registrable(host.dictionary)
    label = replaced(owned, r"\..*$", "")
    anybodys = pc.or_(free(owned), pc.invert(matches(label, r"^[\pL\pN-]{4,}$"))).to_numpy(zero_copy_only=False)
    codes = np.full(len(mail.codes), -1, np.int32)
    of_host = np.where(anybodys, -1, np.arange(len(label))).astype(np.int32)
    codes[asked] = of_host[host.indices.to_numpy()][which]
    words = fold(Texts.of(label))
    letters = pc.replace_substring(label, "-", "")
    behind = "|".join(sorted(endings, key=lambda w: (-len(w), w)))
    bare = replaced(letters, rf"(?:{behind})[0-9]*$|[0-9]+$", "")
    short = np.where(pc.equal(bare, letters).to_numpy(zero_copy_only=False), 0, pc.utf8_length(bare).to_numpy()).astype(np.int64)
    return Domains(codes, words, short)


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
