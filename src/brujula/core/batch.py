"""A table of records as columns of distinct values and codes: cost follows distinct values, not rows."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

_TEXT = pa.large_string()
Codes = NDArray[np.int32]
Keys = NDArray[np.uint64]


@dataclass(frozen=True)
class Texts:
    """n texts as Arrow lays them out: offsets int64[n + 1] into UTF-8 bytes uint8."""

    offsets: NDArray[np.int64]
    data: NDArray[np.uint8]

    def __len__(self) -> int:
        return len(self.offsets) - 1

    @classmethod
    def of(cls, values: pa.Array | Iterable[str]) -> Texts:
        """From an Arrow string array without nulls (no copy of the bytes) or any strings."""
        array = values if isinstance(values, pa.Array) else pa.array(list(values), pa.large_string())
        if array.type != _TEXT:
            array = array.cast(_TEXT)
        _, offsets, data = array.buffers()
        if len(array) == 0 or offsets is None:
            return cls(np.zeros(1, np.int64), np.zeros(0, np.uint8))
        starts = np.frombuffer(offsets, np.int64)[array.offset : array.offset + len(array) + 1]
        raw = np.frombuffer(data, np.uint8) if data is not None else np.zeros(0, np.uint8)
        # Kernels are compiled for writable arrays only; a buffer Arrow may not hand out for writing is copied.
        return cls(starts if starts.flags.writeable else starts.copy(), raw if raw.flags.writeable else raw.copy())

    def sizes(self, which: Codes) -> NDArray[np.int64]:
        """Bytes of some of the texts; 0 for none (-1)."""
        return np.where(which < 0, 0, self.offsets.take(which + 1) - self.offsets.take(which))

    def arrow(self) -> pa.LargeStringArray:
        """The same texts as an Arrow array (no copy)."""
        return self._array

    @cached_property
    def _array(self) -> pa.LargeStringArray:
        return pa.LargeStringArray.from_buffers(len(self), pa.py_buffer(self.offsets), pa.py_buffer(self.data))


@dataclass(frozen=True)
class Column:
    """One field of all records: its distinct values, and per record the index of its value (-1 = blank)."""

    values: Texts
    codes: Codes

    def __len__(self) -> int:
        return len(self.codes)

    @property
    def filled(self) -> NDArray[np.bool_]:
        """Which records have a value."""
        return self.codes >= 0

    def counts(self) -> NDArray[np.int64]:
        """How many records carry each distinct value."""
        return np.bincount(self.codes[self.codes >= 0], minlength=len(self.values))

    def take(self, records: NDArray[np.int32]) -> Column:
        """The column of some records, with their values only."""
        used, codes = np.unique(self.codes[records], return_inverse=True)
        blank = int(bool(len(used)) and bool(used[0] < 0))
        texts = self.values.arrow().take(pa.array(used[blank:]))
        return Column(Texts.of(texts), (codes - blank).astype(np.int32))

    def joined(self, records: NDArray[np.int32], other: Column) -> Column:
        """The column of some records, and all of another behind it; each value stands there once."""
        own = self.take(records)
        coded = pa.concat_arrays([own.values.arrow(), other.values.arrow()]).dictionary_encode()
        behind = np.where(other.codes >= 0, other.codes + len(own.values), -1)
        codes = np.append(coded.indices.to_numpy(), -1)[np.concatenate([own.codes, behind])]
        return Column(Texts.of(coded.dictionary), codes.astype(np.int32))

    def or_else(self, other: Column) -> Column:
        """The column with another's values where its own are blank."""
        behind = np.where(other.codes >= 0, other.codes + len(self.values), -1)
        coded = pa.concat_arrays([self.values.arrow(), other.values.arrow()]).dictionary_encode()
        codes = np.append(coded.indices.to_numpy(), -1)[np.where(self.filled, self.codes, behind)]
        return Column(Texts.of(coded.dictionary), codes.astype(np.int32))

    def texts(self, records: NDArray[np.int32]) -> pa.Array:
        """The values of some records, "" where it is blank."""
        codes = self.codes[records]
        return pc.fill_null(self.values.arrow().take(pa.array(codes, mask=codes < 0)), "")

    def where(self, keep: NDArray[np.bool_]) -> Column:
        """The same column with the distinct values not kept made blank."""
        codes = self.codes.copy()
        full = codes >= 0
        codes[full] = np.where(keep[codes[full]], codes[full], -1)
        return Column(self.values, codes)

    @classmethod
    def of(cls, values: pa.Array | pa.ChunkedArray) -> Column:
        """From an Arrow string array; null, and text of white space only, is blank. Spaces at the ends go."""
        if isinstance(values, pa.ChunkedArray):
            values = values.combine_chunks()
        if isinstance(values, pa.ChunkedArray):
            values = pa.concat_arrays(values.chunks) if values.num_chunks else pa.array([], pa.large_string())
        coded = pc.utf8_trim_whitespace(values.cast(pa.large_string())).dictionary_encode()
        codes = coded.indices.fill_null(-1).to_numpy(zero_copy_only=False).astype(np.int32)
        codes[codes == pc.index(coded.dictionary, "").as_py()] = -1
        return cls(Texts.of(coded.dictionary), codes)


_NO_TEXTS = Texts(np.zeros(1, np.int64), np.zeros(0, np.uint8))


def blank_column(n: int) -> Column:
    """A column in which every one of n records is blank."""
    return Column(_NO_TEXTS, np.full(n, -1, np.int32))


@dataclass(frozen=True)
class Batch:
    """Records of one entity: the existing ones first, then the incoming rows.

    counting : which count where it matters how many have a value, of copies of a record one; None = all
    left_out : columns of the lists that no field takes, by heading
    ages     : int16[n], how old each list says that people are, -1 = not told; None = neither says it
    known_as : another name of each firm; None = neither list gives any
    lines    : phone numbers beside those of the fields, column by column
    """

    entity: str
    n_existing: int
    n_incoming: int
    columns: Mapping[str, Column]
    counting: NDArray[np.bool_] | None = None
    left_out: Mapping[str, Column] = field(default_factory=dict)
    ages: NDArray[np.int16] | None = None
    known_as: Column | None = None
    lines: tuple[Column, ...] = ()

    def __len__(self) -> int:
        return self.n_existing + self.n_incoming

    def column(self, field: str) -> Column:
        """The field's column; all blank when neither list has it."""
        return self.columns.get(field) or blank_column(len(self))

    def has(self, field: str) -> bool:
        """Whether any record carries the field."""
        column = self.columns.get(field)
        return column is not None and bool(column.filled.any())
