"""Personal names in standard form: given and family words, generation, nicknames, how common each word is."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import cache, partial
from typing import Any, NamedTuple

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Column, Keys, Texts, blank_column
from brujula.core.kernels import mailboxes as boxed, names as kernel
from brujula.core.kernels.edits import scratch
from brujula.core.steps import joining
from brujula.core.steps.degrees import Degrees
from brujula.core.steps.grams import rarest_trigrams
from brujula.core.steps.listed import among
from brujula.core.steps.name_cells import (
    addressed,
    capitals_apart,
    family_first,
    garbled,
    halves,
    initials_apart,
    suffixes_apart,
    torn,
    without_notes,
)
from brujula.core.steps.numbers import number
from brujula.core.steps.patterns import matches, replaced
from brujula.core.steps.text import Words, characters, fold, hash_values, join_keys, letters, letters_for_digits, of_records


class Syllabic(NamedTuple):
    """Names made of syllables, where another syllable is another name and no slip: the family names, and a pattern (RE2) of a given name's words."""

    families: frozenset[str]
    given: str


class Facts(NamedTuple):
    """What is known of names.

    classes   : folded word to word class (`kernels.names`)
    nicknames : groups of given names for one another, the formal one first; ONE_NAME first: spellings of one name
    short     : names, each with the ways it is shortened in writing
    syllabic  : which names are made of syllables
    eastern   : patterns of names written without a space (`name_cells.unspaced`)
    degrees   : what stands behind a name
    titles    : those of men and those of women, with | between
    desks     : words that are nobody's name where there are no others
    """

    classes: Mapping[str, int]
    nicknames: tuple[tuple[str, ...], ...]
    short: tuple[tuple[str, ...], ...]
    syllabic: Syllabic
    eastern: tuple[str, ...]
    degrees: Degrees
    titles: tuple[str, str]
    desks: frozenset[str]


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
    letters : per record which letters its name is in (`text.letters`);  addressed : as what (`name_cells.addressed`)
    nobodys : per entry, its name is a desk's or whoever's
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


ONE_NAME = "="
_ENDINGS = ("ie", "ey", "y", "i")


@cache
def _nickname_columns(groups: tuple[tuple[str, ...], ...]) -> tuple[pa.Array, NDArray[np.int32]]:
    """Every word of every group, and its membership: 2 * group + (1 if it is the formal name, or a spelling of the one name), and the formal name's first letter from bit 24 on."""
    listed = {w for group in groups for w in group}
    members = []
    for g, (first, *more) in enumerate(groups):
        spelled = first == ONE_NAME
        names = more if spelled else [first, *more]
        members += [(w, (ord(names[0][0]) << 24) + 2 * g + (k == 0 or spelled)) for k, w in enumerate(names)]
    # Pet names are spelled as one likes: Micky, Mickey, Mickie.
    for w, member in list(members):
        stem = next((w[: -len(e)] for e in _ENDINGS if w.endswith(e)), "")
        if len(stem) >= 3 and not member & 1:
            members += [(stem + e, member) for e in _ENDINGS if stem + e not in listed]
    return pa.array([w for w, _ in members], pa.large_string()), np.array([m for _, m in members], np.int32)


@cache
def _listed(groups: tuple[tuple[str, ...], ...]) -> frozenset[str]:
    return frozenset(w for group in groups for w in group)


@cache
def _nickname_hashes(groups: tuple[tuple[str, ...], ...]) -> Keys:
    return np.sort(hash_values(Texts.of(sorted(_listed(groups)))))


def _nickname_lists(words: Words, groups: tuple[tuple[str, ...], ...]) -> tuple[NDArray[np.int64], NDArray[np.int32]]:
    """Per word its memberships."""
    word, member = _nickname_columns(groups)
    index = words.vocabulary.arrow()
    at = pc.index_in(word, value_set=index) if len(index) else pa.nulls(len(word), pa.int32())
    where = at.fill_null(-1).to_numpy(zero_copy_only=False)
    used = where >= 0
    order = np.lexsort((member[used], where[used]))
    counts = np.bincount(where[used], minlength=len(words.vocabulary))
    return np.concatenate([[0], np.cumsum(counts)]).astype(np.int64), member[used][order]


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
    titled = addressed((prefix, given, family, full), *facts.titles)
    given, family, full = without_notes(facts.degrees, _listed(facts.nicknames), given, family, full)
    given, family, full = halves(given, torn(family), torn(full), facts.eastern, facts.degrees)
    turned = partial(family_first, known=facts.degrees)
    columns = [initials_apart(turned(given)), middle, family, suffix, initials_apart(capitals_apart(turned(full)))]
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
        addressed=titled,
    )


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
        _nickname_hashes(nicknames),
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


_OF_ENTRIES, _OF_WORDS = ("n_given", "suffix", "whole", "syllabic", "nobodys"), ("cls", "given_counts", "family_counts")


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
    words = _written_out(words, facts.short)
    codes = np.stack([np.where(c.codes >= 0, c.codes + s, -1) for c, s in zip(columns, starts, strict=False)], axis=1).astype(
        np.int32
    )
    cls = words.lookup(facts.classes)
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
    nick_off, nick_ids = _nickname_lists(words, facts.nicknames)
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
        _syllabic(words.vocabulary, off, ids, n_given, facts.syllabic),
        box,
        np.zeros(n, np.int8),
        np.zeros(n, np.int8),
        _only(among(words.vocabulary.arrow(), facts.desks).to_numpy(zero_copy_only=False), off, ids),
    )


@cache
def _short_words(table: tuple[tuple[str, ...], ...]) -> tuple[pa.Array, pa.Array]:
    pairs = [(word, whole) for whole, *more in table for word in more]
    return pa.array([p[0] for p in pairs], pa.large_string()), pa.array([p[1] for p in pairs], pa.large_string())


def _written_out(words: Words, table: tuple[tuple[str, ...], ...]) -> Words:
    """Words with each that is a name shortened in writing (Fdez., Wm.) put as the name itself."""
    short, whole = _short_words(table)
    own = words.vocabulary.arrow()
    found = pc.index_in(own, value_set=short)
    at = np.flatnonzero(found.is_valid().to_numpy(zero_copy_only=False))
    if len(at) == 0:
        return words
    meant = whole.take(found.take(pa.array(at)))
    more = fold(Texts.of(pc.unique(meant.filter(pc.invert(pc.is_in(meant, value_set=own))))))
    vocabulary = Texts.of(pa.concat_arrays([own, more.vocabulary.arrow()]))
    become = np.arange(len(own), dtype=np.int32)
    become[at] = pc.index_in(meant, value_set=vocabulary.arrow()).to_numpy()
    return Words(words.offsets, become[words.ids], vocabulary)


def _only(of_them: NDArray[np.bool_], off: NDArray[np.int64], ids: NDArray[np.int32]) -> NDArray[np.bool_]:
    """Which entries have words, and only such. of_them : bool[vocabulary]"""
    others = np.concatenate([[0], np.cumsum(~of_them[ids])])
    return np.asarray((others[off[1:]] == others[off[:-1]]) & (off[1:] > off[:-1]))


def _syllabic(
    vocabulary: Texts, off: NDArray[np.int64], ids: NDArray[np.int32], n_given: NDArray[np.int32], rule: Syllabic
) -> NDArray[np.bool_]:
    """Whether each entry's name is made of syllables: all of its given words, before one family name of such names."""
    out, start, given = np.zeros(len(n_given), bool), off[:-1], n_given.astype(np.int64)
    family = among(vocabulary.arrow(), rule.families).to_numpy(zero_copy_only=False)
    one = np.flatnonzero((given > 0) & (np.diff(off) == given + 1))
    one = one[family[ids[start[one] + given[one]]]]
    if len(one):
        whole = matches(vocabulary.arrow(), rule.given).to_numpy(zero_copy_only=False)
        until = np.concatenate([[0], np.cumsum(~whole[ids])])
        out[one] = until[start[one] + given[one]] == until[start[one]]
    return out


def first_words(names: Names, entries: NDArray[np.int32]) -> tuple[NDArray[np.int32], NDArray[np.int32], NDArray[np.int32]]:
    """The first given word, the first and the last family word of each entry; -1 = none."""
    given, family, last = (np.empty(len(entries), np.int32) for _ in range(3))
    kernel.first_words(entries, names.off, names.ids, names.n_given, names.cls, given, family, last)
    return given, family, last


def keys(names: Names) -> dict[str, Keys]:
    """Keys of each record: family, its sound, given, initial, both together in either order, also as its mailbox gives them.

    initials : those of the given and the family name in either order, or the sound of all of a name that is one word
    abridged : the sound of the family name with the initial of the given one; that of the given name with the first and last letter of the
        family name, which slips seldom touch, or with its initial where the names look turned round
    """
    n, total = len(names.alias), len(names.n_given)
    given, family, last = first_words(names, np.arange(total, dtype=np.int32))
    hashes, sounds = np.append(names.words.hashes, np.uint64(0)), np.append(names.words.sounds, np.uint64(0))
    low_sound, high_sound = np.minimum(sounds[given], sounds[family]), np.maximum(sounds[given], sounds[family])
    # Who goes by one name only is looked for by it.
    low_sound = np.where((low_sound == 0) & names.whole, high_sound, low_sound)
    every_sound = np.append(join_keys(low_sound, high_sound), np.uint64(0))
    given, family, last = given[:n], family[:n], last[:n]
    voc = names.words.vocabulary
    starts = np.append(voc.data[voc.offsets[:-1]] if len(voc) else np.zeros(0, np.uint8), np.uint8(0)).astype(np.uint64)
    ends = (starts << np.uint64(8)) | np.append(voc.data[voc.offsets[1:] - 1] if len(voc) else np.zeros(0, np.uint8), np.uint8(0))
    part_of_family = np.where(_turned_round(names, given, family), starts[family], ends[family])
    low, high = np.minimum(hashes[given], hashes[family]), np.maximum(hashes[given], hashes[family])
    initials = join_keys(*(f(starts[given], starts[family]) for f in (np.minimum, np.maximum)))
    return {
        "family": hashes[family],
        "family_sound": sounds[family],
        "family_last": np.where(last == family, np.uint64(0), hashes[last]),
        "given": hashes[given],
        "given_sound": sounds[given],
        "initial": starts[given],
        "name": join_keys(low, high),
        "name_sound": every_sound[:n],
        "initials": np.where(initials == 0, every_sound[:n], initials),
        "either_sound": np.stack([every_sound[:n], every_sound[names.alias]]),
        "abridged": np.stack([join_keys(sounds[family], starts[given]), join_keys(sounds[given], part_of_family)]),
        "gram": trigram_keys(names),
    }


def _turned_round(names: Names, given: NDArray[np.int32], family: NDArray[np.int32]) -> NDArray[np.bool_]:
    """Which records seem to have their names the wrong way round: an initial for a family name, or two words that more others bear the other way."""
    sizes = np.append(np.diff(names.words.vocabulary.offsets), 0)
    as_given, as_family = np.append(names.given_counts, 0), np.append(names.family_counts, 0)
    other_way = as_family[given] + as_given[family] > as_given[given] + as_family[family]
    return np.asarray((given >= 0) & (family >= 0) & (other_way | (sizes[family] == 1)))


def trigram_keys(names: Names, **which: int) -> Keys:
    """Keys of the rarest trigrams of each record's name, uint64[most, n]; a name is looked at once, however many bear it. which : as `rarest_trigrams` takes it"""
    off, ids = joining.taken(names.off, names.ids, names.first)
    return rarest_trigrams(off, ids, names.words.vocabulary, **which)[:, names.code[: len(names.alias)]]
