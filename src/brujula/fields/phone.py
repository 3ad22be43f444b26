"""A phone number, land line or mobile: country code, trunk zero, extension, shared lines."""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
import pyarrow as pa
from numpy.typing import NDArray

from brujula.core.batch import Batch, Column, Keys, Texts
from brujula.core.kernels import contact as kernel
from brujula.core.kernels.edits import scratch
from brujula.core.kernels.hashing import join_keys as mix_keys
from brujula.core.kind import Compared, Comparison, Example, Identity, Kind, Level, Who
from brujula.core.steps import joining
from brujula.core.steps.parallel import in_chunks
from brujula.core.steps.patterns import replaced
from brujula.core.steps.placeholders import PLACEHOLDERS
from brujula.core.steps.sharing import Counts, owners
from brujula.core.steps.text import without


class Phones(NamedTuple):
    """Numbers of n records: codes int32[n, columns] into the distinct texts, -1 where there is no usable number.

    area   : per text, the first three digits of a whole number; 0 = not known
    shares : per text, the share of the records that give the number;  desk_shares : with that extension
    areas  : float32[1000], per area, the share of the records that give a number of it
    placed : bool[n], the record says what place it is of
    """

    codes: NDArray[np.int32]
    number: NDArray[np.uint64]
    size: NDArray[np.int8]
    extension: NDArray[np.int32]
    area: NDArray[np.int16]
    owners: NDArray[np.int32]
    shares: NDArray[np.float32]
    desk_shares: NDArray[np.float32]
    areas: NDArray[np.float32]
    placed: NDArray[np.bool_]


def parse(texts: Texts) -> tuple[NDArray[np.uint64], NDArray[np.int8], NDArray[np.int32]]:
    """National number, its size in digits (0 = no number) and extension of each text."""
    n = len(texts)
    number, size, extension = np.zeros(n, np.uint64), np.zeros(n, np.int8), np.zeros(n, np.int32)
    kernel.parse_phones(texts.offsets, texts.data, number, size, extension, np.empty(24, np.uint8))
    return number, size, extension


def last_nine(texts: pa.Array) -> pa.Array:
    """The last nine digits of each text: what two spellings of one number have in common, whatever their country code or trunk zero."""
    return replaced(replaced(texts, r"\D", ""), r"^.*(.{9})$", r"\1")


def _area(number: NDArray[np.uint64], size: NDArray[np.int8]) -> NDArray[np.int16]:
    """The first three digits of the national number: an area, part of one, or a range of mobile numbers; 0 where it is too short to hold one."""
    whole = np.where(size >= 8, number, np.uint64(0))
    first = whole // np.uint64(10) ** np.maximum(size.astype(np.int64) - 3, 0).astype(np.uint64)
    return np.asarray(first, np.int16)


def _key(number: NDArray[np.uint64], size: NDArray[np.int8], digits: int = 7) -> Keys:
    """The last seven digits, hashed: what every way of writing a number keeps; or so many."""
    last = np.where(size > 0, number % np.uint64(10**digits) + np.uint64(1), np.uint64(0))
    out = np.zeros(len(last), np.uint64)
    mix_keys(last, last, out)
    return out


def _line(number: NDArray[np.uint64], size: NDArray[np.int8]) -> Keys:
    """A key of one line: two areas have the same last seven digits. Of a number without its area there is no more."""
    return np.where(size > 7, _key(number, size, 10), _key(number, size))


def _desk(number: NDArray[np.uint64], size: NDArray[np.int8], extension: NDArray[np.int32]) -> Keys:
    """A key of a line with its extension; 0 where there is none."""
    out = np.zeros(len(number), np.uint64)
    mix_keys(_line(number, size), np.where(extension >= 0, extension, 0).astype(np.uint64) + np.uint64(1), out)
    return np.where(extension >= 0, out, np.uint64(0))


def _giving(codes: NDArray[np.int32], lines: Keys, who: Who) -> NDArray[np.int32]:
    """How many people give each number. codes : int32[n, columns], -1 = none;  lines : a key per number"""
    flat, out = codes.T.reshape(-1), np.zeros(len(lines), np.int32)
    giving = owners(np.append(lines, np.uint64(0))[flat], np.tile(who.rough, codes.shape[1]))
    out[flat[flat >= 0]] = giving[flat >= 0]
    return out


def _together(keys: Keys, given: NDArray[np.float64]) -> NDArray[np.float32]:
    """What texts of one key have together."""
    _, group = np.unique(keys, return_inverse=True)
    return np.asarray(np.bincount(group, weights=given, minlength=1)[group], np.float32)


class Phone(Kind):
    """One number in any spelling; a slip of a digit; a line that several people share."""

    name = "phone"
    personal = ("number",)
    alone = "number"
    parts = ("phone", "mobile")
    headings = {
        "phone": """phone | phones | telephone | tel | phone number | telephone number | tel no | phone no | work phone | business
            phone | office phone | telefon | telefonnummer | telefono | numero de telefono | telefone | numero de
            telephone | telefoon | telefoonnummer | numer telefonu | landline | direct line | day phone | main phone
            | phone 1 | contact number | home phone | call | festnetz | fijo | fixe | telefono fijo | numero di
            telefono | telephone fixe | tel fixe | switchboard | centralita | zentrale | standard | centralino | telefon stacjonarny | vaste telefoon | telefon dienstlich | telefon geschaftlich | telephone bureau | evening phone | ph | ph no | numero | tel nr""",
        "mobile": """mobile | mobile phone | cell | cell phone | cellphone | handy | mobil | mobiltelefon | movil | celular |
            portable | cellulare | telemovel | mobiel | komorka | mobile number | telefono movil | mobilnummer | gsm | cell number | cell no | mobile no | tel portable | telephone portable | telefon komorkowy | mobiel nummer | handynummer | nr kom | numero de celular | telefone celular | tel mobile""",
    }
    comparisons = (
        Comparison(
            "phone",
            (
                Level("different", "differs", 0.28, 0.995),
                Level("another number of the area", "differs", 0.02, 0.001, rare=True, unit=True),
                Level("the same behind another area", "differs", 0.004, 0.0002),
                Level("same but for the last digits", "partial", 0.04, 0.0004, unit=True),
                Level("shared line", "partial", 0.07, 0.0001, rare=True, unit=True),
                Level("a digit off", "close", 0.03, 0.000012),
                Level("same", "same", 0.56, 0.00005, rare=True),
            ),
        ),
    )
    examples = (
        Example({"phone": "+1 (212) 555-0147"}, {"phone": "2125550147"}, {"phone": "same"}),
        Example({"phone": "0044 1632 960 123"}, {"phone": "01632 960123"}, {"phone": "same"}),
        Example({"phone": "(212) 555-0147"}, {"mobile": "212.555.0147"}, {"phone": "same"}),
        Example({"phone": "212-555-0147 x12"}, {"phone": "212-555-0147 ext. 31"}, {"phone": "partial"}),
        Example({"phone": "+44 1632 960 123-630"}, {"phone": "01632 960 123"}, {"phone": "same"}),
        Example({"phone": "+33 1 99 00 12 34-63"}, {"phone": "01 99 00 12 34"}, {"phone": "partial"}),
        Example({"phone": "212-555-0174"}, {"phone": "212-555-0147"}, {"phone": "close"}),
        Example({"phone": "212-555-0147"}, {"phone": "305-555-0147"}, {"phone": "differs"}),
        Example({"phone": "0172 9925904"}, {"phone": "0172 9968532"}, {"phone": "differs"}),
        Example({"phone": "000-0000"}, {"phone": "000-0000"}, {"phone": "blank"}),
    )

    def clean(self, column: Column) -> Column:
        """Placeholders and what has fewer than six digits are blank."""
        column = without(column, PLACEHOLDERS, r"^\D*(\d\D*){0,5}$")
        return column.where(parse(column.values)[1] > 0)

    def standardise(self, batch: Batch, identity: Identity) -> Phones:
        """National numbers of all columns, with how many people give each."""
        columns = [*(batch.column(p) for p in self.parts), *map(self.clean, batch.lines)]
        texts = Texts.of(pa.concat_arrays([c.values.arrow() for c in columns]))
        behind = np.cumsum([0, *(len(c.values) for c in columns)])
        codes = np.stack([np.where(c.codes >= 0, c.codes + at, -1) for c, at in zip(columns, behind, strict=False)], axis=1)
        number, size, extension = parse(texts)
        last = _line(number, size)
        flat = codes.T.reshape(-1)
        counted = flat if batch.counting is None else flat[np.tile(batch.counting, len(columns))]
        given = np.bincount(counted[counted >= 0], minlength=len(texts)) / max(len(batch), 1)
        share, desk_share = (_together(keys, given) for keys in (last, _desk(number, size, extension)))
        area = _area(number, size)
        areas = (np.bincount(area[flat[flat >= 0]], minlength=kernel.N_AREAS) / max(len(batch), 1)).astype(np.float32)
        placed = (batch.column("city").codes >= 0) | (batch.column("postal_code").codes >= 0)
        return Phones(
            np.ascontiguousarray(codes.astype(np.int32)),
            number,
            size,
            extension,
            area,
            _giving(codes, last, identity()),
            share,
            desk_share,
            areas,
            placed,
        )

    def joined(self, held: Phones, records: NDArray[np.int32], asked: Phones, who: Who) -> Phones:
        """Numbers of some of the records held, and of others behind them."""
        width = max(held.codes.shape[1], asked.codes.shape[1])
        own, other = (
            np.pad(c, ((0, 0), (0, width - c.shape[1])), constant_values=-1) for c in (held.codes[records], asked.codes)
        )
        values = joining.Values.of(own.reshape(-1))
        each = ("number", "size", "extension", "area", "owners", "shares", "desk_shares")
        joined = Phones(
            codes=values.codes(own.reshape(-1), other.reshape(-1)).reshape(-1, width),
            areas=held.areas,
            placed=joining.rows(held.placed, records, asked.placed),
            **{f: values.each(getattr(held, f), getattr(asked, f)) for f in each},
        )
        giving = _giving(joined.codes, _line(joined.number, joined.size), who)
        return joined._replace(owners=np.maximum(joined.owners, giving))

    def counts(self, standard: Phones) -> tuple[Counts, NDArray[np.float32]]:
        """People per number; share of the records per area."""
        return Counts(_line(standard.number, standard.size), standard.owners), standard.areas

    def settle(self, standard: Phones, counts: tuple[Counts, NDArray[np.float32]]) -> Phones:
        """Lines and areas as shared as among all records."""
        lines, areas = counts
        shared = lines.of(_line(standard.number, standard.size), 1)
        return standard._replace(owners=np.maximum(shared, standard.owners).astype(np.int32), areas=areas)

    def keys(self, standard: Phones) -> dict[str, Keys]:
        """`number`: the last seven digits of each of a record's numbers, shape (columns, n); `extension`: where one is given, the line with it."""
        lines, desks = _key(standard.number, standard.size), _desk(standard.number, standard.size, standard.extension)
        return {name: np.append(key, np.uint64(0))[standard.codes.T] for name, key in (("number", lines), ("extension", desks))}

    def compare(self, standard: Phones, left: Any, right: Any) -> dict[str, Compared]:
        """One comparison, phone: the best over all numbers of both sides. The area counts where a side does not say its place, which would say it again."""
        out, agreed = np.empty(len(left), np.int8), np.empty(len(left), np.int32)
        s = standard
        shares = np.concatenate([s.shares, np.zeros(1, np.float32), s.areas, s.desk_shares])

        def part(a: int, b: int) -> None:
            room = np.empty((2, 20), np.uint8), scratch()
            kernel.compare_phones(
                left[a:b],
                right[a:b],
                s.codes,
                s.number,
                s.size,
                s.extension,
                s.area,
                s.owners,
                s.placed,
                out[a:b],
                agreed[a:b],
                *room,
            )

        in_chunks(part, len(left))
        return {"phone": Compared(out, shares.take(agreed))}
