"""Personal names in standard form: given and family words, generation, nicknames, how common each word is."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from typing import Any, NamedTuple

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Column, Keys, Texts, blank_column
from brujula.core.kernels import mailboxes as boxed, names as kernel
from brujula.core.kernels.edits import scratch
from brujula.core.steps import joining
from brujula.core.steps.listed import among
from brujula.core.steps.name_cells import (
    addressed,
    beside_whole,
    capitals_apart,
    family_first,
    garbled,
    halves,
    initials_apart,
    suffixes_apart,
    torn,
    without_notes,
)
from brujula.core.steps.name_facts import (
    Facts,
    given_names_of,
    nickname_hashes,
    nickname_lists,
    of_syllables,
    only,
    titles_for_names,
    written_out,
)
from brujula.core.steps.numbers import number
from brujula.core.steps.patterns import captured, matches, replaced
from brujula.core.steps.text import Words, characters, fold, hash_values, join_keys, letters, letters_for_digits, of_records


class Names(NamedTuple):
    """Names of n records: words ids[off[r] : off[r + 1]], the first n_given[r] of them given names.

    whole  : the name stood in a column of full names: one word is all of it then, and else a family name only
    suffix : 0 = none, -1 = a last word that may be one with a slip in it, -2 = one of two letters, which hardly is a name
    code, first : per record the number of its name as written, and per name its first record
    alias : per record the number of a further entry, behind the n records, that holds the name its mailbox gives; -1 = none
    box, host : per record a key of its mailbox's local part, and of what stands behind the @, 0 = none
    local, boxes, box_codes : the local parts, the letters of them, and which of them each record has, -1 = none
    n_records : records that the words are counted over
    syllabic : per entry, its name is made of syllables (`Syllabic`)
    characters : per record a key of the Chinese characters and Hangul syllables of its name, 0 = it is written in others
    letters : per record which letters its name is in (`text.letters`);  addressed : as what (`name_cells.addressed`, WIFE)
    nobodys : per entry, its name is a desk's or whoever's
    lettered : per entry, how many given words it has, where they are one or two and each a letter; else 0
    given_number, family_number : per record a key of the number that the name ends in (User1, Test2), 0 = none
    """

    words: Words
    off: NDArray[np.int64]
    ids: NDArray[np.int32]
    n_given: NDArray[np.int32]
    suffix: NDArray[np.int8]
    whole: NDArray[np.bool_]
    cls: NDArray[np.int32]
    nick_off: NDArray[np.int64]
    nick_ids: NDArray[np.int32]
    given_counts: NDArray[np.int64]
    family_counts: NDArray[np.int64]
    code: NDArray[np.int32]
    first: NDArray[np.int32]
    alias: NDArray[np.int32]
    box: Keys
    host: Keys
    local: Texts
    boxes: Texts
    box_codes: NDArray[np.int32]
    n_records: int
    syllabic: NDArray[np.bool_]
    characters: Keys
    letters: NDArray[np.int8]
    addressed: NDArray[np.int8]
    nobodys: NDArray[np.bool_]
    lettered: NDArray[np.int8]
    given_number: Keys
    family_number: Keys


def parse(
    prefix: Column,
    given: Column,
    middle: Column,
    family: Column,
    suffix: Column,
    full: Column,
    mail: Column,
    facts: Facts,
    counting: NDArray[np.bool_],
) -> Names:
    """Names of all records from their columns, and the names that mailboxes give where a record says another or none.

    counting : bool[n], the records that words are counted over: of copies of a row one, or a slip in it would be a name that many bear
    """
    n = len(given.codes)
    written: Keys = np.zeros(n, np.uint64)
    in_letters = np.zeros(n, np.int8)
    for column in (given, middle, family, full):
        written = written + of_records(characters(column.values), column)
        in_letters |= letters(column)
    numbers = _numbers(given, family, full)
    titled = addressed((prefix, given, family, full), *facts.titles)
    given, family, full = without_notes(facts.degrees, given_names_of(facts.nicknames), facts.titles, given, family, full)
    given, family, full = halves(given, torn(family), torn(full), facts.eastern, facts.degrees)
    turned = partial(family_first, known=facts.degrees)
    columns = [initials_apart(turned(given)), middle, family, suffix, initials_apart(capitals_apart(turned(full)))]
    columns[1], columns[3] = beside_whole(columns, facts.titles)
    names = _parsed(columns, counting, facts)
    address = pc.utf8_lower(mail.values.arrow())
    local = replaced(address, r"(\+[^@]*)?@.*$", "")
    owner, more = _mailbox_names(names, Texts.of(local), mail.codes, facts.nicknames)
    alias = np.full(n, -1, np.int32)
    if len(owner):
        alias[owner] = np.arange(n, n + len(owner))
        names = _parsed([_longer(c, m) for c, m in zip(columns, more, strict=True)], counting, facts)
    boxes = Texts.of(replaced(local, r"[._+\s-]", ""))
    hosts = Texts.of(replaced(address, r"^[^@]*@?", ""))
    return names._replace(
        alias=alias,
        box=of_records(hash_values(boxes), mail),
        host=of_records(hash_values(hosts), mail),
        local=Texts.of(local),
        boxes=boxes,
        box_codes=mail.codes,
        characters=written,
        letters=in_letters,
        addressed=_as_wives(titled, names, counting),
        given_number=numbers[0],
        family_number=numbers[1],
    )


def _numbers(given: Column, family: Column, full: Column) -> tuple[Keys, Keys]:
    """`Names.given_number` and `Names.family_number`; those of a whole name stand behind its first word, and its last."""

    def behind(column: Column, pattern: str) -> Keys:
        texts = column.values.arrow()
        if not pc.any(matches(texts, pattern)).as_py():
            return np.zeros(len(column.codes), np.uint64)
        return of_records(hash_values(Texts.of(pc.fill_null(pc.struct_field(captured(texts, pattern), "number"), ""))), column)

    alone, first, last = r"\pL(?P<number>\d+)\s*$", r"^\s*[^\s,]*\pL(?P<number>\d+)\s", r"\s[^\s,]*\pL(?P<number>\d+)\s*$"
    return behind(given, alone) | behind(full, first), behind(family, alone) | behind(full, last)


_MEN, _TO_ONE = 5, 3  # men of a given name at least, and so many to one woman
WIFE = 3
"""Addressed as a woman by a man's name."""


def _as_wives(titled: NDArray[np.int8], names: Names, counting: NDArray[np.bool_]) -> NDArray[np.int8]:
    """WIFE where a woman is addressed by a given name that men bear, as far as titles in the lists show: Mrs. Thomas Orme goes by her husband's."""
    n = len(titled)
    named = np.flatnonzero((titled > 0) & (names.n_given[:n] > 0))
    word, seen = names.ids[names.off[named]], counting[named]
    men, women = (np.bincount(word[seen & (titled[named] == t)], minlength=len(names.words.vocabulary)) for t in (1, 2))
    his = (men >= _MEN) & (men >= _TO_ONE * women)
    out = titled.copy()
    out[named[(titled[named] == 2) & his[word]]] = WIFE
    return out


def _longer(column: Column, more: Column) -> Column:
    """A column with more records behind."""
    texts = Texts.of(pa.concat_arrays([column.values.arrow(), more.values.arrow()]))
    codes = np.where(more.codes >= 0, more.codes + len(column.values), -1)
    return Column(texts, np.concatenate([column.codes, codes]).astype(np.int32))


def _mailbox_names(
    names: Names, local: Texts, codes: NDArray[np.int32], nicknames: tuple[tuple[str, ...], ...]
) -> tuple[NDArray[np.int64], list[Column]]:
    """Records whose mailbox gives another name, and the columns of that name: beside it the word of the record's name it stands with."""
    words, voc = names.words, names.words.vocabulary
    known, families = (np.sort(words.hashes[counts > 0]) for counts in (names.given_counts, names.family_counts))
    span, beside = np.zeros((len(codes), 2), np.int64), np.empty(len(codes), np.int32)
    room = np.empty((2, 8), np.int64), scratch()
    boxed.mailbox_names(
        codes,
        local.offsets,
        local.data,
        names.off,
        names.ids,
        names.cls,
        voc.offsets,
        voc.data,
        known,
        nickname_hashes(nicknames),
        families,
        span,
        beside,
        *room,
    )
    owner = np.flatnonzero(beside >= 0)
    start, size = span[owner, 0], span[owner, 1] - span[owner, 0]
    offsets = np.concatenate([[0], np.cumsum(size)]).astype(np.int64)
    at = np.repeat(start - offsets[:-1], size) + np.arange(int(offsets[-1]))
    number, none = np.arange(len(owner), dtype=np.int32), blank_column(len(owner))
    given, family = Texts(offsets, local.data[at]), Texts.of(voc.arrow().take(pa.array(beside[owner])))
    return owner, [Column(given, number), none, Column(family, number), none, none]


def joined(held: Names, records: NDArray[np.int32], asked: Names, facts: Facts) -> Names:
    """The names of some of the records held, and of those asked about behind them: each entry stands for itself."""
    n_held, n_asked, own = len(records), len(asked.alias), held.alias[records]
    n, n_own, n_all = n_held + n_asked, int(np.count_nonzero(own >= 0)), len(asked.n_given)
    entries = np.concatenate([records, own[own >= 0]])
    # First the records of both, then the names that mailboxes give.
    of_held, of_asked = np.arange(len(entries)), np.arange(len(entries), len(entries) + n_all)
    order = np.concatenate([of_held[:n_held], of_asked[:n_asked], of_held[n_held:], of_asked[n_asked:]])
    alias = np.full(n, -1, np.int32)
    alias[:n_held][own >= 0] = np.arange(n, n + n_own)
    alias[n_held:] = np.where(asked.alias >= 0, asked.alias + n_held + n_own, -1)
    codes = held.box_codes[records]
    values = joining.Values.of(codes)
    names = joining.of_records(
        held,
        records,
        asked,
        **_entries(held, entries, asked, order),
        alias=alias,
        local=values.texts(held.local, asked.local),
        boxes=values.texts(held.boxes, asked.boxes),
        box_codes=values.codes(codes, asked.box_codes),
        n_records=held.n_records,
    )
    # A mailbox may give a name that nobody else bears but the other side.
    owner, columns = _mailbox_names(names, names.local, np.where(alias < 0, names.box_codes, -1), facts.nicknames)
    if len(owner):
        more, total = _parsed(columns, np.zeros(len(owner), bool), facts), n + n_own + n_all - n_asked
        alias[owner] = np.arange(total, total + len(owner))
        names = names._replace(**_entries(names, np.arange(total), more, np.arange(total + len(owner))))
    return names


_OF_ENTRIES, _OF_WORDS = (
    ("n_given", "suffix", "whole", "syllabic", "nobodys", "lettered"),
    ("cls", "given_counts", "family_counts"),
)


def _entries(first: Names, at: NDArray[Any], second: Names, order: NDArray[Any]) -> dict[str, Any]:
    """The parts that speak of entries and their words, of some entries of the first and all of the second, in the order asked for."""
    lists, vocabulary = joining.taken(first.off, first.ids, at), first.words.vocabulary
    lexicon = joining.Lexicon.of(vocabulary, lists[1], second.words.vocabulary)
    mine, theirs = lexicon.numbers(lists[1], second.ids)
    off, ids = joining.taken(*joining.behind((lists[0], mine), (second.off, theirs)), order)
    nicknames = joining.taken(first.nick_off, first.nick_ids, lexicon.values.used)
    nicknames = joining.taken(*joining.behind(nicknames, (second.nick_off, second.nick_ids)), lexicon.first)
    alone = np.arange(len(order), dtype=np.int32)
    return {
        "words": Words(off, ids, lexicon.vocabulary),
        "off": off,
        "ids": ids,
        "nick_off": nicknames[0],
        "nick_ids": nicknames[1],
        "code": alone,
        "first": alone,
        **{f: joining.rows(getattr(first, f), at, getattr(second, f))[order] for f in _OF_ENTRIES},
        **{f: lexicon.each(getattr(first, f), getattr(second, f)) for f in _OF_WORDS},
    }


def _parsed(columns: Sequence[Column], counting: NDArray[np.bool_], facts: Facts) -> Names:
    """Names from the columns given, middle, family, suffix and full; those behind the n records that may count are mailboxes'."""
    n = len(counting)
    starts = np.cumsum([0] + [len(c.values) for c in columns])
    words = fold(letters_for_digits(suffixes_apart(Texts.of(pa.concat_arrays([c.values.arrow() for c in columns])))))
    words = written_out(words, facts.short)
    codes = np.stack([np.where(c.codes >= 0, c.codes + s, -1) for c, s in zip(columns, starts, strict=False)], axis=1).astype(
        np.int32
    )
    cls = words.lookup(facts.classes)
    cls[titles_for_names(words, codes[:, 0], codes[:, 4], facts.names_too)] = kernel.NAME
    total = len(codes)
    n_given, gen = np.zeros(total, np.int32), np.zeros(total, np.int8)
    sizes = np.zeros(total, np.int64)
    none, room = np.zeros(1, np.int32), np.empty(kernel.MAX_WORDS, np.int32)
    kernel.parse_names(words.offsets, words.ids, cls, words.vocabulary.offsets, codes, sizes, none, n_given, gen, room, False)
    off = np.concatenate([[0], np.cumsum(sizes)]).astype(np.int64)
    ids = np.zeros(int(off[-1]), np.int32)
    kernel.parse_names(words.offsets, words.ids, cls, words.vocabulary.offsets, codes, off, ids, n_given, gen, room, True)
    whole = (codes[:, 0] < 0) & (codes[:, 2] < 0)
    last = np.flatnonzero((gen == 0) & ((sizes - n_given >= 2) | (whole & (sizes >= 3))))
    hidden = np.append(among(words.vocabulary.arrow(), garbled()).to_numpy(zero_copy_only=False), False)
    last = last[hidden[ids[off[last + 1] - 1]]]
    size = np.diff(words.vocabulary.offsets)[ids[off[last + 1] - 1]]
    gen[last] = np.where(size == 2, -2, -1)
    given_counts, family_counts = np.zeros(len(words.vocabulary), np.int64), np.zeros(len(words.vocabulary), np.int64)
    kernel.count_words(off, ids, n_given, counting, given_counts, family_counts)
    nick_off, nick_ids = nickname_lists(words, facts.nicknames, given_counts)
    written = join_keys(*(np.ascontiguousarray(codes[:, i]).astype(np.int64).astype(np.uint64) + np.uint64(2) for i in range(5)))
    code, n_names = number(written)
    first = np.empty(n_names, np.int32)
    first[code[::-1]] = np.arange(total - 1, -1, -1)
    nobody = np.full(n, -1, np.int32)
    box, boxes = np.zeros(n, np.uint64), Texts.of([])
    return Names(
        words,
        off,
        ids,
        n_given,
        gen,
        whole,
        cls,
        nick_off,
        nick_ids,
        given_counts,
        family_counts,
        code,
        first,
        nobody,
        box,
        box,
        boxes,
        boxes,
        nobody,
        int(np.count_nonzero(counting)),
        of_syllables(words.vocabulary, off, ids, n_given, facts.syllabic),
        box,
        np.zeros(n, np.int8),
        np.zeros(n, np.int8),
        only(among(words.vocabulary.arrow(), facts.desks).to_numpy(zero_copy_only=False), off, ids),
        _lettered(words, off, ids, n_given),
        box,
        box,
    )


def _lettered(words: Words, off: NDArray[np.int64], ids: NDArray[np.int32], n_given: NDArray[np.int32]) -> NDArray[np.int8]:
    """`Names.lettered`."""
    out, letter = np.zeros(len(n_given), np.int8), np.diff(words.vocabulary.offsets) == 1
    for many in (1, 2):
        at = np.flatnonzero(n_given == many)
        out[at] = many * np.logical_and.reduce([letter[ids[off[at] + k]] for k in range(many)])
    return out
