"""Texts to folded words: lower case, no marks, every script written in Latin letters, for comparing only."""

from __future__ import annotations

import unicodedata
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from functools import cache, cached_property
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from anyascii import anyascii
from numpy.typing import NDArray

from brujula.core.batch import Column, Keys, Texts
from brujula.core.kernels import hashing, text as kernel
from brujula.core.steps import alphabets
from brujula.core.steps.listed import among
from brujula.core.steps.patterns import TOGETHER, matches, matches_any, replaced

_N_CODE_POINTS = 0x30000
_GREEK_FROM = 0xCE  # lead byte
_APOSTROPHES = "’‘ʼ`´ʻ′׳״"


@dataclass(frozen=True)
class Words:
    """Folded words of n texts: text t has the words ids[offsets[t] : offsets[t + 1]] of the vocabulary."""

    offsets: NDArray[np.int64]
    ids: NDArray[np.int32]
    vocabulary: Texts

    def __len__(self) -> int:
        return len(self.offsets) - 1

    @cached_property
    def hashes(self) -> Keys:
        """Per word of the vocabulary a 64-bit key."""
        return hash_values(self.vocabulary)

    @cached_property
    def sounds(self) -> Keys:
        """Per word of the vocabulary a key of how it sounds."""
        out = np.zeros(len(self.vocabulary), np.uint64)
        kernel.sound_hashes(self.vocabulary.offsets, self.vocabulary.data, out)
        return out

    @cached_property
    def masks(self) -> NDArray[np.uint32]:
        """Per word of the vocabulary which letters it has, a bit each."""
        out = np.zeros(len(self.vocabulary), np.uint32)
        kernel.letter_masks(self.vocabulary.offsets, self.vocabulary.data, out)
        return out

    def lookup(self, table: Mapping[str, int], default: int = 0) -> NDArray[np.int32]:
        """Per word of the vocabulary the number a table gives it."""
        if not table or len(self.vocabulary) == 0:
            return np.full(len(self.vocabulary), default, np.int32)
        if len(self.vocabulary) < len(table):  # a question has a few words: no index of the table for them
            return np.array([table.get(word, default) for word in self.vocabulary.arrow().to_pylist()], np.int32)
        keys = pa.array(list(table), pa.large_string())
        found = pc.index_in(self.vocabulary.arrow(), value_set=keys).fill_null(-1).to_numpy(zero_copy_only=False)
        values = np.append(np.fromiter(table.values(), np.int32, len(table)), np.int32(default))
        return np.asarray(values[found], np.int32)


@cache
def _ascii_classes(dotted: str) -> NDArray[np.int8]:
    """What each ASCII character does to the word being built; dotted characters join single letters as a dot does."""
    classes = np.full(128, kernel.BREAK, np.int8)
    for c in range(128):
        if chr(c).isalpha():
            classes[c] = kernel.LETTER
        elif chr(c).isdigit():
            classes[c] = kernel.DIGIT
    classes[ord("'")] = classes[ord("`")] = kernel.DROP
    classes[ord(".")] = kernel.DOT
    classes[ord("&")] = kernel.AND
    classes[ord("#")] = kernel.HASH
    classes[ord("?")] = kernel.LOST
    for char in dotted:
        classes[ord(char)] = kernel.DOT
    return classes


def _silent(char: str, spelling: str) -> bool:
    """Whether a character without a letter of its own in Latin stands within a word all the same: marks of vowels and tones, signs that a
    consonant is soft (Кузьмин) or has no vowel, soft hyphens, zero-width characters. Others part words."""
    kind = unicodedata.category(char)
    return kind[0] == "M" or kind in ("Lm", "Cf") or (kind[0] == "L" and spelling != "" and not spelling.strip("'`"))


_LOST = "\ufffd"  # what stands for a letter that could not be read: one is missing, and the word goes on
_NO_SPELLINGS = np.full(1, -1, np.int32), np.full(1, -1, np.int32), np.zeros(1, np.uint8)


def _replacements(data: NDArray[np.uint8]) -> tuple[NDArray[np.int32], NDArray[np.int32], NDArray[np.uint8]]:
    """ASCII spelling of every non-ASCII code point that occurs in data."""
    if not bool((data >= 128).any()):
        return _NO_SPELLINGS
    top = int(data.max())  # the highest lead byte bounds the code points
    size = 0x800 if top < 0xE0 else 0x10000 if top < 0xF0 else _N_CODE_POINTS
    seen = np.zeros(size, np.uint8)
    kernel.mark_code_points(data, seen)
    start, end = np.full(size, -1, np.int32), np.full(size, -1, np.int32)
    own, spelled = alphabets.spelling_of(data, seen), bytearray()
    for c in np.flatnonzero(seen):
        char = chr(c)
        spelling = "" if char in _APOSTROPHES else own.get(char, anyascii(char)).lower()
        plain = "".join(x for x in spelling if x.isascii() and x.isalnum())
        if not plain and (char in _APOSTROPHES or char == _LOST or char in alphabets.VOWELS or _silent(char, spelling)):
            continue
        start[c] = len(spelled)
        spelled += plain.encode()
        end[c] = len(spelled)
    return start, end, np.frombuffer(spelled or bytearray(1), np.uint8)


def fold(texts: Texts, dotted: str = "") -> Words:
    """Split texts into folded words.

    texts : n texts
    dotted : ASCII punctuation that joins single letters as a dot does (S/A)
    Returns Words of n texts. Cost linear in bytes; each distinct word stands once in the vocabulary.
    """
    if bool((texts.data >= _GREEK_FROM).any()):
        texts = Texts.of(alphabets.two_for_one(texts.arrow()))
    n = len(texts)
    classes = _ascii_classes(dotted)
    start, end, spelled = _replacements(texts.data)
    n_bytes, n_words = np.zeros(n, np.int64), np.zeros(n, np.int64)
    nothing, none = np.zeros(1, np.uint8), np.zeros(1, np.int64)
    kernel.fold_words(texts.offsets, texts.data, classes, start, end, spelled, False, n_bytes, n_words, nothing, none)
    first_byte, offsets = np.concatenate([[0], np.cumsum(n_bytes)]), np.concatenate([[0], np.cumsum(n_words)])
    out, ends = np.zeros(max(int(first_byte[-1]), 1), np.uint8), np.zeros(int(offsets[-1]) + 1, np.int64)
    kernel.fold_words(
        texts.offsets, texts.data, classes, start, end, spelled, True, first_byte[:-1].copy(), offsets[:-1].copy(), out, ends[1:]
    )
    coded = Texts(ends, out).arrow().dictionary_encode()
    return Words(offsets, coded.indices.to_numpy().astype(np.int32), Texts.of(coded.dictionary))


def hash_values(texts: Texts) -> Keys:
    """A 64-bit key per text; 0 for an empty one."""
    out = np.zeros(len(texts), np.uint64)
    hashing.hash_texts(texts.offsets, texts.data, out)
    return out


def characters(texts: Texts) -> Keys:
    """Per text a key of its Chinese characters and Hangul syllables, in any order; 0 where it has none. Spelled in Latin letters many of them are one word, or the beginning of another."""
    out, data = np.zeros(len(texts), np.uint64), texts.data[: texts.offsets[-1]]
    at = np.flatnonzero((data >= 0xE3) & (data <= 0xED))
    if len(at) == 0:
        return out
    first, second, third = (data[at + k].astype(np.uint64) for k in range(3))
    point = (first & np.uint64(15)) << np.uint64(12) | (second & np.uint64(63)) << np.uint64(6) | third & np.uint64(63)
    used = ((point >= 0x3400) & (point < 0xA000)) | ((point >= 0xAC00) & (point < 0xD7A4))
    at, point = at[used], point[used]
    owner = np.searchsorted(texts.offsets, at, "right") - 1
    inside = owner >= 0
    np.add.at(out, owner[inside], (point * point * np.uint64(0x9E3779B97F4A7C15))[inside])
    return out


_LIKE_LATIN = r"[\p{Latin}\p{Greek}\p{Cyrillic}\p{Armenian}\p{Georgian}]"


def letters(column: Column) -> NDArray[np.int8]:
    """Per record which letters it is in: 1 those whose words can be spelled in Latin ones, 2 those that leave out vowels or stand for whole words (Hebrew, Arabic, Indian and Chinese ones among them), 3 both, 0 none."""
    values = column.values
    out = np.ones(len(values), np.int8)
    if bool((values.data[: values.offsets[-1]] >= 128).any()):
        like, others = matches(values.arrow(), _LIKE_LATIN), matches(replaced(values.arrow(), _LIKE_LATIN, ""), r"\pL")
        out = (like.to_numpy(zero_copy_only=False) + 2 * others.to_numpy(zero_copy_only=False)).astype(np.int8)
    return np.append(out, np.int8(0))[column.codes]


def unlike_letters(written: NDArray[np.int8], left: NDArray[np.int32], right: NDArray[np.int32]) -> NDArray[np.bool_]:
    """Which pairs are in letters that cannot be compared. written : as `letters` gives them"""
    a, b = written.take(left), written.take(right)
    return np.asarray((a & b == 0) & (a != 0) & (b != 0))


def join_keys(first: Keys, *others: Keys) -> Keys:
    """Keys of several parts as one; a record lacking any part gets 0, no key."""
    for other in others:
        out = np.zeros(len(first), np.uint64)
        hashing.join_keys(first, other, out)
        first = out
    return first


def keys_without_case(column: Column) -> Keys:
    """Keys of the records' values without regard to case."""
    return of_records(hash_values(Texts.of(pc.utf8_lower(column.values.arrow()))), column)


def bits_of(offsets: NDArray[np.int64], ids: NDArray[np.int32], bits: NDArray[Any]) -> NDArray[Any]:
    """Per text the bits that any of its words has. bits : integers, per word of the vocabulary"""
    out, filled = np.zeros(len(offsets) - 1, bits.dtype), np.diff(offsets) > 0
    if len(ids):
        out[filled] = np.bitwise_or.reduceat(bits[ids], offsets[:-1][filled])
    return out


def of_records(keys: Keys, column: Column) -> Keys:
    """Keys of distinct values as keys of records; blank records get 0."""
    return np.append(keys, np.uint64(0))[column.codes]


def without(column: Column, blank: Collection[str], pattern: str, but: Collection[str] = ()) -> Column:
    """The column with placeholders made blank: values that equal a listed one, or match a pattern (RE2); those of `but` are none, written like that."""
    if len(column.values) == 0:
        return column
    lowered = pc.utf8_lower(column.values.arrow())
    named = among(lowered, frozenset(blank))
    hollow = matches(lowered, pattern)
    empty = pc.or_(named, hollow)
    if but:
        empty = pc.and_not(empty, among(column.values.arrow(), frozenset(but)))
    return column.where(~np.asarray(empty.to_numpy(zero_copy_only=False), bool))


def reworded(texts: Texts, wordings: Sequence[tuple[str, str]], odd: str = "", but: str = "") -> Texts:
    """Texts in which what stands for each wording is put in its place.

    wordings : patterns and what stands for them, one after the other
    odd      : a pattern that finds the texts to look at, "" = any of the wordings; mostly there are few, and the others are not copied
    but      : a pattern of texts to be let be
    """
    text = texts.arrow()
    if not odd and not but:
        mended = _in_turn(text, wordings)
        return texts if mended is text else Texts.of(mended)
    chosen = matches(text, odd) if odd else matches_any(text, [wording for wording, _ in wordings])
    if but:
        chosen = pc.and_(chosen, pc.invert(matches(text, but)))
    if not pc.any(chosen).as_py():
        return texts
    return Texts.of(pc.replace_with_mask(text, chosen, _in_turn(text.filter(chosen), wordings)))


def _in_turn(text: pa.Array, wordings: Sequence[tuple[str, str]]) -> pa.Array:
    """Texts with one wording after the other replaced; the array itself where there is none.

    So many are looked for in one go, and replaced in the texts that have one of them: each costs its compilation, and most lists have few.
    """
    for at in range(0, len(wordings), TOGETHER):
        several = wordings[at : at + TOGETHER]
        found = matches_any(text, [wording for wording, _ in several])
        if not pc.any(found).as_py():
            continue
        mended = text.filter(found)
        for wording, meant in several:
            mended = replaced(mended, wording, meant)
        text = pc.replace_with_mask(text, found, mended)
    return text


def _in_letters(domain: str) -> str:
    try:
        return domain.encode("ascii").decode("idna")
    except UnicodeError:
        return domain


def domains_in_letters(domains: pa.Array) -> pa.Array:
    """Internationalised domain names (RFC 5891) in their own letters: xn--mller-kva.example is müller.example."""
    coded = pc.fill_null(pc.match_substring(domains, "xn--"), False)
    if not pc.any(coded, min_count=0).as_py():
        return domains
    # Few are written so: the codec of the standard library takes them one by one.
    written = pa.array([_in_letters(d) for d in domains.filter(coded).to_pylist()], domains.type)
    return pc.replace_with_mask(domains, coded, written)


def letters_for_digits(texts: Texts) -> Texts:
    """Names with the digits that stand for letters like them (Va5quez, 0sborne) as those letters."""
    if not pc.any(matches(texts.arrow(), "[0158]")).as_py():
        return texts
    return reworded(texts, tuple(zip("0158", "olsb", strict=True)), r"\pL{2}[0158]|[0158]\pL{2}")
