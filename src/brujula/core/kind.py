"""What a kind of field declares: headings, standard form, keys, grades with starting weights, joins, examples."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, ClassVar, NamedTuple

import numpy as np
from numpy.typing import NDArray

from brujula.core.batch import Batch, Column, Keys, Texts

GRADES = ("blank", "differs", "partial", "close", "same")
"""How well two values agree, from least to most telling."""


@dataclass(frozen=True)
class Level:
    """One way two values of a field can stand to each other.

    name  : shown in reasons ("nickname", "one letter off")
    grade : the word it counts as in rules and in pairs.csv
    m     : share of true matches expected at this level (starting value, refined from the data)
    u     : share of random pairs at this level (starting value; refined from random pairs)
    rare  : True when agreeing on a rare value weighs more than on a common one
    alone : where it does, how many others are reckoned to bear a value that nobody else in the lists is seen to bear
    bounded: True when it says no more than plain agreement on a value as common would
    others: where the level is for what is rare in the lists, how many others of all records are reckoned to stand so to a record; 0 = u
            is a share of random pairs, of which too few stand so to be counted
    unit  : True when the agreement speaks of a household or an employer, which others share: such
            evidence is counted together, up to a cap (core/weigh)
    silent: True when it speaks neither for nor against, and is there for rules to name
    little: True when it is agreement on all that is known of both, which may be little: it never speaks against
    most  : bits it says at most, where what else is compared says part of it already (a name, of which country somebody is)
    """

    name: str
    grade: str
    m: float
    u: float
    rare: bool = False
    unit: bool = False
    alone: float = 0.15
    silent: bool = False
    little: bool = False
    most: float = 60.0
    bounded: bool = False
    others: float = 0.0


@dataclass(frozen=True)
class Comparison:
    """One compared aspect of a kind: its levels in the order of the kernel's codes (0.. ; -1 is blank).

    field : the name in rules, reasons and pairs.csv
    """

    field: str
    levels: tuple[Level, ...]

    def __hash__(self) -> int:
        return hash(self.field)  # asked hundreds of times a question

    def code(self, level: str) -> int:
        """The code of a level by name."""
        return next(i for i, x in enumerate(self.levels) if x.name == level)

    @property
    def levels_and_blank(self) -> range:
        """Every code: -1 for blank, then the levels'."""
        return range(-1, len(self.levels))

    @cached_property
    def grade_ranks(self) -> NDArray[np.int8]:
        """Rank in GRADES of each level code, with blank (-1) as the last entry."""
        return np.array([GRADES.index(x.grade) for x in self.levels] + [0], np.int8)


@dataclass(frozen=True)
class Compared:
    """Levels of many pairs on one comparison.

    levels : int8[n_pairs], -1 = a side is blank
    common : float32[n_pairs], share of records that carry the agreed value (0 = not known, over 1 = it is nobody's own)
    """

    levels: NDArray[np.int8]
    common: NDArray[np.float32]


@dataclass(frozen=True)
class Example:
    """Two values of a kind and the grade each comparison gives them; read by people and by tests."""

    left: Mapping[str, str]
    right: Mapping[str, str]
    grades: Mapping[str, str]


class Who(NamedTuple):
    """Who each record is by name, uint64[n], 0 = not told: exactly, roughly, so that the spellings of one person count once, and whose place it is, if a name may stand for several places."""

    exact: Keys
    rough: Keys
    house: Keys

    @classmethod
    def nobody(cls, n: int) -> Who:
        """Of n records none of whom is named."""
        nobody = np.zeros(n, np.uint64)
        return cls(nobody, nobody, nobody)


Identity = Callable[[], Who]


class Kind:
    """A kind of field. Subclass in one file under `fields/`; every attribute is part of the contract.

    parts       : fields it spans; they are cleaned, compared and replaced as a block
    beside      : fields of other kinds that may give what this one compares where its own are blank (a mailbox gives a name, or a firm)
    headings    : per part, the headings it is known by, folded to lower-case words, with | between
    comparisons : what is graded
    alone       : the key of which a value may be one record's alone, if the lists show it (`core.steps.sharing.strangers`); "" = none
    by_two      : the level of those that share a value of that key which no third record has: what chance brings together are pairs; "" = none
    personal    : keys that hardly more than one record of a kind has: a pair found by one is looked at whatever else differs
    survivorship: default rule for which value stays
    identity    : the names of the keys that say who a record is (`Who`), for the kind that does; else none
    """

    name: ClassVar[str]
    parts: ClassVar[tuple[str, ...]] = ()
    beside: ClassVar[tuple[str, ...]] = ()
    headings: ClassVar[Mapping[str, str]] = {}
    comparisons: ClassVar[tuple[Comparison, ...]] = ()
    alone: ClassVar[str] = ""
    by_two: ClassVar[str] = ""
    personal: ClassVar[tuple[str, ...]] = ()
    survivorship: ClassVar[str] = "fill"
    identity: ClassVar[tuple[str, ...]] = ()
    examples: ClassVar[Sequence[Example]] = ()

    def is_told(self, batch: Batch) -> bool:
        """Whether the lists have anything that this kind compares."""
        return any(part in batch.columns for part in self.parts)

    def clean(self, column: Column) -> Column:
        """The column with this kind's placeholders and unusable values made blank."""
        raise NotImplementedError

    def standardise(self, batch: Batch, identity: Identity) -> Any:
        """Standard forms of all records, for this kind's `keys` and `compare`.

        identity : gives who each record is by name, and waits until that is known; not for the kind that says so itself
        """
        raise NotImplementedError

    def join(self, first: str, second: str) -> str:
        """Two values as one, for kinds whose values are united or appended; `first` comes back when it holds the other already."""
        return first or second

    def strict(self, values: Texts) -> NDArray[np.bool_]:
        """Per text, whether it is the strict answer (an opt-out), for kinds that survive by the strictest."""
        return np.zeros(len(values), bool)

    def counts(self, standard: Any) -> Any:
        """What `settle` needs of all records: how common their values are. None for kinds that count nothing."""
        return None

    def settle(self, standard: Any, counts: Any) -> Any:
        """The standard forms of a few records with their values as common as among all the records `counts` was taken of."""
        return standard

    def joined(self, held: Any, records: NDArray[np.int32], asked: Any, who: Who) -> Any:
        """The standard forms of some of the records held, and of others behind them, for `compare` alone; columns are joined as such.

        who : of all of these
        """
        if not isinstance(held, Column):
            raise NotImplementedError
        return held.joined(records, asked)

    def keys(self, standard: Any) -> dict[str, Keys]:
        """Named keys per record (uint64, 0 = no key) from which passes are made."""
        return {}

    def index_keys(self, standard: Any, asked: bool) -> dict[str, Keys]:
        """Keys that depend on who else is there, as an index has them that is asked about others later: in place of those of `keys`.

        asked : of the one record asked about, else of those kept
        """
        return {}

    def compare(self, standard: Any, left: NDArray[np.int32], right: NDArray[np.int32]) -> dict[str, Compared]:
        """Levels of each pair (left[i], right[i]) per comparison, named by its field."""
        return {}


@dataclass(frozen=True)
class Standards:
    """Standard forms of a batch, kind by kind."""

    of: Mapping[str, Any]
    keys: Mapping[str, Keys] = field(default_factory=dict)
