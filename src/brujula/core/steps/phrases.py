"""Phrases in standard form: core words with class, concept and weight, for firms, streets and titles."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from types import MappingProxyType
from typing import Any, NamedTuple

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Codes, Column, Keys, Texts
from brujula.core.kernels import phrases as kernel, words as classed
from brujula.core.kernels.edits import scratch
from brujula.core.steps import joining
from brujula.core.steps.distinct import distinct_pairs
from brujula.core.steps.grams import rarest_trigrams
from brujula.core.steps.listed import Table, meant as meant_by
from brujula.core.steps.parallel import in_chunks
from brujula.core.steps.patterns import matches, replaced
from brujula.core.steps.slips import Known
from brujula.core.steps.text import Words, bits_of, fold, hash_values, of_records

_PRIOR = 500.0  # records the general knowledge of words is worth


class Phrases(NamedTuple):
    """Phrases of n records: code per record, core words per distinct text, and keys of each run together with the article before it and with the two (uint64[n, 2], 0 = none); of each word its class, what it means, another meaning near that (0 = none), the words it is a compound of (`kernels.words.compound_heads`), and its bits."""

    codes: Codes
    words: Words
    off: NDArray[np.int64]
    ids: NDArray[np.int32]
    with_article: Keys
    cls: NDArray[np.int32]
    concepts: Keys
    akin: Keys
    heads: NDArray[np.uint32]
    weights: NDArray[np.float32]
    n_records: int


def concept_of(words: Words, synonyms: Mapping[str, str], suffix: str = "", to: str = "") -> Keys:
    """Key per vocabulary word of what it means: its canonical word's hash, or its own.

    suffix, to : a pattern at the end of words and what stands for it (`strasse|str` for `str`)
    """
    if len(words.vocabulary) == 0:
        return words.hashes
    text = words.vocabulary.arrow()
    if suffix:
        text = replaced(text, f"({suffix})$", to)
    # A question has a few words: an index of the whole table, made for them, would take longest of all.
    if len(text) < len(synonyms):
        meant = pa.array([synonyms.get(word, word) for word in text.to_pylist()], pa.large_string())
    else:
        at = pc.index_in(text, value_set=pa.array(list(synonyms), pa.large_string()))
        meant = (
            pc.if_else(pc.is_valid(at), pa.array(list(synonyms.values()), pa.large_string()).take(at), text) if synonyms else text
        )
    return hash_values(Texts.of(meant))


def parse(
    column: Column,
    classes: Mapping[str, int],
    synonyms: Mapping[str, str],
    dotted: str = "",
    akin: Mapping[str, str] = MappingProxyType({}),
    ends: tuple[str, ...] = (),
    formal: frozenset[str] = frozenset(),
    stems: Table = dict,
) -> Phrases:
    """Core words of a column's texts. classes: folded word to class; words of digits (12, 3rd, b2) are NUMBER, years YEAR, single letters LETTER.

    akin   : words that may stand for another one, though not for each other (a gymnasium or a lyceum for a high school)
    ends   : words that make another one with a word before them (Stadtwerke)
    formal : legal forms, which are seen through a slip
    stems  : how words begin that mean another one and are in no table
    dotted : punctuation that joins single letters as a dot does (S/A)
    """
    words = fold(column.values, dotted)
    cls = words.lookup(classes, classed.WORD)
    if len(words.vocabulary):
        text = words.vocabulary.arrow()
        digits = matches(text, "^[0-9]+[a-z]{0,2}$|^[a-z]{1,2}[0-9]+$").to_numpy(zero_copy_only=False)
        single = matches(text, "^[a-z]$").to_numpy(zero_copy_only=False)
        year = matches(text, "^(1[5-9]|20)[0-9]{2}$").to_numpy(zero_copy_only=False)
        cls = np.where(
            year, classed.YEAR, np.where(digits, classed.NUMBER, np.where(single & (cls == classed.WORD), classed.LETTER, cls))
        )
        cls = np.where(single & (cls == classed.SKIP), classed.JOINER, cls).astype(np.int32)
    concepts = concept_of(words, synonyms)
    cls, concepts = _by_stem(words, stems, classes, cls, concepts)
    cls, concepts = _with_slips(words, formal, cls, concepts)
    n = len(column.values)
    off = np.zeros(n + 1, np.int64)
    kernel.core_words(words.ids, words.offsets, off, cls, np.zeros(1, np.int64), False)
    off = np.cumsum(off)
    at = np.zeros(int(off[-1]), np.int64)
    kernel.core_words(words.ids, words.offsets, off, cls, at, True)
    ids = words.ids[at]
    near = concept_of(words, akin) if akin else words.hashes
    near = np.where(near == words.hashes, np.uint64(0), near)
    heads = np.zeros(len(cls), np.uint32)
    classed.compound_heads(words.vocabulary.offsets, words.vocabulary.data, _hashes_of(ends), heads)
    unweighed = np.zeros(len(cls), np.float32)
    articles = _with_articles(words, cls, at, np.repeat(words.offsets[:-1], np.diff(off)))
    parsed = Phrases(column.codes, words, off, ids, articles, cls, concepts, near, heads, unweighed, max(len(column), 1))
    return parsed._replace(weights=weights(parsed, column.counts()))


def _with_articles(words: Words, cls: NDArray[np.int32], at: NDArray[np.int64], start: NDArray[np.int64]) -> Keys:
    """Keys of words run together with the article before them, and with the two: uint64[n, 2], 0 = there is none.

    at : where the words stand;  start : where the text of each begins
    """
    out, article = np.zeros((len(at), 2), np.uint64), cls[words.ids] == classed.SKIP
    which, texts = np.arange(len(at)), words.vocabulary.arrow()
    written = texts.take(pa.array(words.ids[at]))
    for back in (1, 2):
        there = at[which] - back >= start[which]
        there[there] = article[at[which[there]] - back]
        which, written = which[there], written.filter(pa.array(there))
        before = texts.take(pa.array(words.ids[at[which] - back]))
        written = pc.binary_join_element_wise(before, written, pa.scalar("", pa.large_string()))
        out[which, back - 1] = hash_values(Texts.of(written))
    return out


@cache
def _stems(table: Table) -> tuple[Keys, NDArray[np.int64], tuple[str, ...]]:
    """Hashes of how words begin, sorted, which meaning each has, and the meanings."""
    known = table()
    hashes = hash_values(Texts.of(list(known)))
    meanings, which = np.unique(np.array(list(known.values()), str), return_inverse=True)
    order = np.argsort(hashes)
    return hashes[order], which[order].astype(np.int64), tuple(meanings.tolist())


def _by_stem(
    words: Words, stems: Table, classes: Mapping[str, int], cls: NDArray[np.int32], concepts: Keys
) -> tuple[NDArray[np.int32], Keys]:
    """The classes and what the words mean, with those of no table by how they begin: matematychnoho is mathematics."""
    if not stems():
        return cls, concepts
    hashes, which, meanings = _stems(stems)
    found = np.full(len(cls), -1, np.int64)
    classed.stems_of(words.vocabulary.offsets, words.vocabulary.data, hashes, found)
    at = np.flatnonzero((found >= 0) & (cls == classed.WORD) & (concepts == words.hashes))
    meant = which[found[at]]
    cls, concepts = cls.copy(), concepts.copy()
    concepts[at] = hash_values(Texts.of(list(meanings)))[meant]
    cls[at] = np.array([classes.get(word, classed.WORD) for word in meanings], np.int32)[meant]
    return cls, concepts


_SELDOM = 5e-5  # share of the texts that have one slip, at most
_FORMAL = 7  # letters of a legal form that is seen through any slip; shorter ones are a letter from other words


@cache
def _long(forms: frozenset[str]) -> Known:
    return Known.of(w for w in forms if len(w) >= _FORMAL)


_WORDS_OF_THEIR_OWN = frozenset(("crop", "saas", "sass"))


@cache
def _short_slips(words: frozenset[str]) -> Table:
    """Short legal forms with a letter doubled or, of four letters and more, two neighbours exchanged. RSL is a club's, not S.R.L."""
    out: dict[str, str] = {}
    for word in sorted(w for w in words if 3 <= len(w) < _FORMAL):
        doubled = [word[:i] + word[i] + word[i:] for i in range(len(word))]
        exchanged = [word[:i] + word[i + 1] + word[i] + word[i + 2 :] for i in range(len(word) - 1 if len(word) > 3 else 0)]
        out |= {wrong: word for wrong in (*doubled, *exchanged) if wrong not in _WORDS_OF_THEIR_OWN and wrong not in words}
    return lambda: out


def _with_slips(words: Words, forms: frozenset[str], cls: NDArray[np.int32], concepts: Keys) -> tuple[NDArray[np.int32], Keys]:
    """The classes and what the words mean, with words hardly any text has that are a slip of a legal form taken for it: Limoted, Corporatiom, but not Corporación; of a short form where they end the text: Lttd, Gmhb."""
    if not forms:
        return cls, concepts
    seldom = np.bincount(words.ids, minlength=len(cls)) <= max(2, len(words) * _SELDOM)
    strange = seldom & (cls == classed.WORD) & (concepts == words.hashes)
    long = np.diff(words.vocabulary.offsets) >= _FORMAL - 1
    asked, brief = np.flatnonzero(long & strange), np.flatnonzero(~long & strange & _always_last(words))
    if len(asked) + len(brief) == 0:
        return cls, concepts
    formal = _long(forms)
    meant = formal.near(words, asked, 1)[:, 0]
    slipped, meant = asked[meant >= 0], meant[meant >= 0]
    cls, concepts = cls.copy(), concepts.copy()
    cls[slipped], concepts[slipped] = classed.LEGAL, formal.words.hashes[meant]
    form = meant_by(words.vocabulary.arrow().take(pa.array(brief)), _short_slips(forms))
    ends = pc.is_valid(form)
    brief = brief[ends.to_numpy(zero_copy_only=False)]
    cls[brief], concepts[brief] = classed.LEGAL, hash_values(Texts.of(form.filter(ends)))
    return cls, concepts


def _always_last(words: Words) -> NDArray[np.bool_]:
    """Which words of the vocabulary stand nowhere but at the end of a text, with another before them."""
    size = np.diff(words.offsets)
    last = words.ids[words.offsets[1:][size > 1] - 1]
    n = len(words.vocabulary)
    return np.asarray(np.bincount(last, minlength=n) == np.bincount(words.ids, minlength=n))


@cache
def _hashes_of(texts: tuple[str, ...]) -> Keys:
    """Hashes of some words, sorted."""
    return np.sort(hash_values(Texts.of(texts)))


def weights(phrases: Phrases, counts: NDArray[Any]) -> NDArray[np.float32]:
    """Bits each word is worth: log2 of records over records that carry its concept, both with a prior,
    so that in a list of ten firms a word that stands once is not yet a common one.

    counts : how many records each distinct text stands for
    """
    carried, total = _carried(phrases, counts), max(float(counts.sum()), 1.0)
    prior = np.where(phrases.cls == classed.FILLER, 0.02 * _PRIOR, 0.5)
    return np.log2((total + _PRIOR) / (np.maximum(carried - 1.5, 0.0) + prior)).astype(np.float32)


def _carried(phrases: Phrases, counts: NDArray[Any]) -> NDArray[np.float64]:
    """How many records carry the concept of each word. counts : how many records each distinct text stands for"""
    _, group = np.unique(phrases.concepts, return_inverse=True)
    each = np.repeat(counts, np.diff(phrases.off))
    carried = np.bincount(group[phrases.ids], weights=each, minlength=int(group.max(initial=-1)) + 1)
    return np.asarray(carried[group], np.float64)


def of_two(phrases: Phrases, counts: NDArray[Any]) -> Keys:
    """Concepts of long words that no more than two records carry, sorted. Too few records do not show that: then none.

    counts : how many records each distinct text stands for
    """
    if counts.sum() < _SHOWN:
        return np.zeros(0, np.uint64)
    long = np.diff(phrases.words.vocabulary.offsets) >= _LONG
    plain = (phrases.cls == classed.WORD) | (phrases.cls == classed.PART)
    return np.unique(phrases.concepts[long & plain & (_carried(phrases, counts) < 2.5)])


_SHOWN, _LONG = 1500, 4
_USUAL = 2.3  # bits below those of a word one record has: some four records have it


def compare(phrases: Phrases, left: NDArray[np.int32], right: NDArray[np.int32]) -> tuple[NDArray[np.int8], NDArray[np.float32]]:
    """Level of each pair of records (codes of `kernels.phrases`, -1 blank) and bits the shared words are worth."""
    a, b, which = distinct_pairs(phrases.codes.take(left), phrases.codes.take(right))
    out, bits = np.empty(len(a), np.int8), np.zeros(len(a), np.float32)
    words, voc = phrases.words, phrases.words.vocabulary
    usual = np.float32(phrases.weights.max(initial=0.0) - _USUAL)

    def part(s: int, e: int) -> None:
        asked = classed.PhraseWords(
            phrases.ids,
            phrases.with_article,
            words.hashes,
            phrases.cls,
            phrases.concepts,
            phrases.akin,
            phrases.weights,
            voc.offsets,
            voc.data,
            words.masks,
            words.sounds,
            phrases.heads,
            usual,
            np.empty(160, np.uint8),
            np.empty(160, np.uint8),
            scratch(),
        )
        kernel.compare_phrases(a[s:e], b[s:e], phrases.off, asked, out[s:e], bits[s:e], np.empty((2, classed.MAX_WORDS), bool))

    in_chunks(part, len(a))
    return out.take(which), bits.take(which)


def joined(
    held: Phrases, records: NDArray[np.int32], asked: Phrases, *others: tuple[Codes, Codes]
) -> tuple[Phrases, list[Codes]]:
    """The phrases of some of the records held and of those asked about behind them, and further codes of both into their texts."""
    pairs = [(held.codes[records], asked.codes), *((mine[records], theirs) for mine, theirs in others)]
    values = joining.Values.of(*(mine for mine, _ in pairs))
    _, articles = joining.taken(held.off, held.with_article, values.used)
    off, ids = joining.taken(held.off, held.ids, values.used)
    lexicon = joining.Lexicon.of(held.words.vocabulary, ids, asked.words.vocabulary)
    mine, theirs = lexicon.numbers(ids, asked.ids)
    off, ids = joining.behind((off, mine), (asked.off, theirs))
    codes, *more = (values.codes(*pair) for pair in pairs)
    words = Words(off, ids, lexicon.vocabulary)
    return held._replace(
        codes=codes,
        words=words,
        off=off,
        ids=ids,
        with_article=np.concatenate([articles, asked.with_article]),
        cls=lexicon.each(held.cls, asked.cls),
        concepts=lexicon.each(held.concepts, asked.concepts),
        akin=lexicon.each(held.akin, asked.akin),
        heads=lexicon.each(held.heads, asked.heads),
        weights=lexicon.each(held.weights, asked.weights),
    ), more


def word_bits(phrases: Phrases, bits: NDArray[Any]) -> NDArray[Any]:
    """Per record the bits that any of its core words has (`text.bits_of`)."""
    return np.append(bits_of(phrases.off, phrases.ids, bits), bits.dtype.type(0))[phrases.codes]


_LONGEST_PART = 3
_ALL = -2  # where a part stands that is the whole text


class Parted(NamedTuple):
    """n records without a part of their phrases.

    phrases : with the texts that are left behind the others
    codes   : which of them is each record's, -1 = nothing is left out
    last    : where what is left out stood last;  behind : where a word stood before it
    alone   : where it is all there is, and stays
    """

    phrases: Phrases
    codes: Codes
    last: NDArray[np.bool_]
    behind: NDArray[np.bool_]
    alone: NDArray[np.bool_]


def without_part(phrases: Phrases, parts: Words, codes: Codes) -> Parted:
    """Leaves out one to three words that the record has elsewhere; one word at least stays.

    parts : words that may be left out (a firm's own town);  codes : int32[n_records], which of them a record has, -1 = none
    """
    out = np.full(len(phrases.codes), -1, np.int32)
    last, behind, alone = np.zeros((3, len(phrases.codes)), bool)
    both = np.flatnonzero((phrases.codes >= 0) & (codes >= 0))
    # Numbered behind the texts, a part is always the second of its pair.
    n_words, n_part = np.diff(phrases.off), np.diff(parts.offsets)
    text, part, which = distinct_pairs(phrases.codes[both], (codes[both] + len(n_words)).astype(np.int32))
    part = (part - len(n_words)).astype(np.int32)
    start = np.empty(len(text), np.int32)
    where = (phrases.off, phrases.ids, phrases.words.hashes, parts.offsets, parts.ids, parts.hashes)
    kernel.last_within(text, part, *where, _LONGEST_PART, start)
    found = np.flatnonzero(start >= 0)
    gone, begin = n_part[part[found]], start[found]
    stay = n_words[text[found]] - gone
    end = np.cumsum(stay)
    at = np.arange(int(stay.sum())) - np.repeat(end - stay, stay)
    at += np.where(at < np.repeat(begin, stay), 0, np.repeat(gone, stay)) + np.repeat(phrases.off[text[found]], stay)
    number = np.full(len(text), -1, np.int32)
    number[found] = np.arange(len(found)) + len(n_words)
    ends = np.zeros(len(text), bool)
    ends[found] = begin == stay
    out[both], last[both], behind[both], alone[both] = number[which], ends[which], (start > 0)[which], (start == _ALL)[which]
    more = phrases._replace(
        off=np.concatenate([phrases.off, phrases.off[-1] + end]),
        ids=np.concatenate([phrases.ids, phrases.ids[at]]),
        with_article=np.concatenate([phrases.with_article, phrases.with_article[at]]),
    )
    return Parted(more, out, last, behind, alone)


def without_echo(phrases: Phrases, parts: Words, codes: Codes) -> Phrases:
    """Phrases in which a part that stands at the end stands only once, of records that have it elsewhere: Wakefield Music - Wakefield.

    parts, codes : as in `without_part`
    """
    once = without_part(phrases, parts, codes)
    bare = np.where(once.last, once.codes, -1).astype(np.int32)
    again = without_part(once.phrases._replace(codes=bare), parts, codes)
    still = again.alone | (again.codes >= 0)
    return once.phrases._replace(codes=np.where(still, bare, phrases.codes)) if still.any() else phrases


_STEM = 5
"""Letters of a word's stem that keys are made of."""


def keys(phrases: Phrases) -> tuple[Keys, Keys, Keys]:
    """Keys per record: all words in any order, the rarest word, the second rarest (0 = none)."""
    n = len(phrases.off) - 1
    whole, rare, second = np.zeros(n, np.uint64), np.zeros(n, np.uint64), np.zeros(n, np.uint64)
    kernel.phrase_keys(phrases.off, phrases.ids, phrases.concepts, phrases.weights, whole, rare, second)
    column = Column(Texts.of([]), phrases.codes)
    return of_records(whole, column), of_records(rare, column), of_records(second, column)


def stem_keys(phrases: Phrases) -> Keys:
    """Keys per record of how its rarest word begins and the second rarest, uint64[2, n_records]; 0 = none of five letters or more.

    Words of one stem begin alike, however they are declined and whatever language makes an adjective of them.
    """
    text = phrases.words.vocabulary.arrow()
    long = pc.greater_equal(pc.utf8_length(text), _STEM).to_numpy(zero_copy_only=False)
    stems = hash_values(Texts.of(pc.utf8_slice_codeunits(text, 0, _STEM)))
    weights = np.where(long, phrases.weights, np.float32(-2.0))  # less than any
    return np.stack(keys(phrases._replace(concepts=stems, weights=weights))[1:])


def trigram_keys(phrases: Phrases, **which: int) -> Keys:
    """Keys per record of the rarest trigrams of its core words run together, uint64[most, n_records]; 0 = none. which : as `rarest_trigrams` takes it"""
    found = rarest_trigrams(phrases.off, phrases.ids, phrases.words.vocabulary, **which)
    return np.pad(found, ((0, 0), (0, 1)))[:, phrases.codes]  # the last column is that of blank records
