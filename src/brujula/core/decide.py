"""Deciding: what becomes of every incoming row."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.arrays import NONE, SAME, UNSURE, Judged
from brujula.core.group import Groups, roots, unite

OUTCOMES = ("create", "update", "unchanged", "merge", "review", "skip", "reject")
CREATE, UPDATE, UNCHANGED, MERGE, REVIEW, SKIP, REJECT = range(7)
_LEAD = 3.0  # bits by which the best candidate must lead one outside its group
_FAR = 8.0  # bits by which it must lead one of its group that is not surely the same


@dataclass(frozen=True)
class Decided:
    """Outcomes of n incoming rows.

    outcome    : int8[n]
    confidence : float64[n], 0..1: of the link, or of there being none
    because    : int8[n], one of the B_ codes
    cause      : int64[n], the judged pair that decided, -1 = none
    group      : int32[n_existing + n], group of every record and row
    open_row, open_record, open_pair : candidates of rows under review, the likeliest first
    also_row, also_record : further records that rows update besides their own, where the policy lets a row go to all it is like
    """

    outcome: NDArray[np.int8]
    confidence: NDArray[np.float64]
    because: NDArray[np.int8]
    cause: NDArray[np.int64]
    group: NDArray[np.int32]
    open_row: NDArray[np.int32]
    open_record: NDArray[np.int32]
    open_pair: NDArray[np.int64]
    also_row: NDArray[np.int32]
    also_record: NDArray[np.int32]


# Why a row has its outcome; the words are made where reasons are shown.
(
    B_NEW,
    B_ONE,
    B_SEVERAL,
    B_UNSURE,
    B_CLAIMED,
    B_SPLIT,
    B_UPDATE_ONLY,
    B_CREATE_ONLY,
    B_REJECT,
    B_UNSURE_CREATE,
    B_UNSURE_SKIP,
    B_SUPPRESSED,
    B_INACTIVE,
    B_TWICE,
    B_INSISTED,
    B_NEWEST,
    B_LEFT,
    B_MOVED,
    B_ALL,
    B_FIRST,
) = range(20)


@dataclass(frozen=True)
class Choices:
    """What the policy chooses; the words are the policy's.

    mode, unsure, several, duplicates, twice, inactive, moved : as in the policy's outcomes
    """

    mode: str = "create-and-update"
    unsure: str = "review"
    several: str = "best"
    duplicates: str = "merge"
    twice: str = "fold"
    inactive: str = "update"
    moved: str = "keep"


@dataclass(frozen=True)
class Facts:
    """What deciding needs to know of rows and records besides the pairs.

    rejected, suppressed : bool[n_incoming]
    nameless : bool[n_incoming], rows of which nobody new can be made
    couple   : bool[n_incoming], rows that name two people
    inactive : bool[n_existing]
    ids      : of the existing records
    rank     : int64[n_existing], who would stay if all were merged: the lowest
    changed  : int64[n_existing], when a record was last changed, as a rank: the highest is the newest
    filled   : int32[n_incoming], how many fields a row fills
    account  : int64[n_existing + n_incoming], number of the account each is tied to, -1 = none
    loaded   : int32[n_incoming], the record each row was loaded into before, -1 = none
    """

    rejected: NDArray[np.bool_]
    suppressed: NDArray[np.bool_]
    nameless: NDArray[np.bool_]
    couple: NDArray[np.bool_]
    inactive: NDArray[np.bool_]
    ids: pa.Array
    rank: NDArray[np.int64]
    changed: NDArray[np.int64]
    filled: NDArray[np.int32]
    account: NDArray[np.int64]
    loaded: NDArray[np.int32]


def decide(judged: Judged, groups: Groups, n_existing: int, n_incoming: int, facts: Facts, how: Choices) -> Decided:
    """Outcome of every row from verdicts and groups."""
    rows = _Rows(judged, groups, n_existing, n_incoming, facts, how)
    rows.torn_between_records()
    rows.with_duplicates()
    rows.with_rivals()
    rows.unsure()
    rows.as_the_policy_wants()
    rows.nobody_named()
    rows.given_twice()
    return rows.decided()


class _Rows:
    """What becomes of the rows, step by step: each step changes what those before it said.

    outcome, because, cause, of : as in `Decided`
    linked : per row, how many existing records its group had at first
    pair, row, record : the judged pairs of a row and a record that were not told apart
    inside, open, rival : which of these lie within a group; are not, and stay open; are as good as the row's best
    """

    def __init__(self, judged: Judged, groups: Groups, n_existing: int, n_incoming: int, facts: Facts, how: Choices) -> None:
        self.judged, self.facts, self.how = judged, facts, how
        self.n_existing, self.n_incoming = n_existing, n_incoming
        self.of = groups.of.copy()
        self.linked = self._records_in_groups()[self.of[n_existing:]]
        self.outcome = np.where(self.linked == 0, CREATE, np.where(self.linked == 1, UPDATE, MERGE)).astype(np.int8)
        self.because = np.where(self.linked == 0, B_NEW, np.where(self.linked == 1, B_ONE, B_SEVERAL)).astype(np.int8)
        left, right = judged.graded.pairs.left, judged.graded.pairs.right
        self.pair = np.flatnonzero((left >= n_existing) & (right < n_existing) & (judged.verdict != NONE))
        self.row, self.record = left[self.pair] - n_existing, right[self.pair]
        self.inside = groups.of[left[self.pair]] == groups.of[self.record]
        self.open = ~self.inside & (judged.verdict[self.pair] >= UNSURE)
        best, self.cause = self._best_of(self.inside)
        refused = np.zeros(len(left), bool)
        refused[groups.refused] = True
        self.rival = self.open & ((judged.verdict[self.pair] == SAME) | refused[self.pair])
        if how.several != "review":
            # However far behind, the other record may be the other one of two.
            self.rival &= (judged.total[self.pair] > best[self.row] - _LEAD) | facts.couple[self.row]

    def _say(self, rows: NDArray[np.bool_] | NDArray[np.int64], outcome: int, because: int) -> None:
        self.outcome[rows], self.because[rows] = outcome, because

    def _n_groups(self) -> int:
        return int(self.of.max(initial=-1)) + 1

    def _records_in_groups(self) -> NDArray[np.int64]:
        return np.bincount(self.of[: self.n_existing], minlength=self._n_groups())

    def _each_alone(self, rows: NDArray[np.bool_]) -> None:
        self.of[self.n_existing :][rows] = self._n_groups() + np.arange(int(rows.sum()))

    def _best_of(self, chosen: NDArray[np.bool_]) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
        """Highest evidence per row among some of its pairs, and the pair that has it."""
        at = np.flatnonzero(chosen)
        at = at[np.argsort(-self.facts.rank[self.record[at]], kind="stable")]  # of two as good, who would stay
        return _best(self.row[at], self.judged.total[self.pair[at]], self.pair[at], self.n_incoming)

    def torn_between_records(self) -> None:
        """Rows whose group has records that links among themselves do not hold together go to a person, but for those surely one with some of them."""
        n, n_groups = self.n_existing, self._n_groups()
        piece = _pieces(self.judged, self.of, n)
        torn = (self.outcome == MERGE) & _split_groups(piece, self.of, n_groups)[self.of[n:]]
        if self.how.several == "best":
            likelier = _far_likelier(self.judged, self.of, piece, torn & ~self.facts.couple)
            told, pieces = np.flatnonzero(likelier >= 0), np.unique(likelier[likelier >= 0])
            mine = np.isin(piece, pieces)
            self.of[:n][mine] = n_groups + np.searchsorted(pieces, piece[mine])
            self.of[n + told] = n_groups + np.searchsorted(pieces, likelier[told])
            several = self._records_in_groups()[self.of[n + told]] > 1
            self.outcome[told], self.because[told] = np.where(several, MERGE, UPDATE), np.where(several, B_SEVERAL, B_FIRST)
            torn[told] = False
        self._say(torn, REVIEW, B_SPLIT)
        # What others link does not open again what was done with a row.
        done = np.flatnonzero(torn & (self.facts.loaded >= 0))
        own, number = np.unique(self.facts.loaded[done], return_inverse=True)
        n_groups = self._n_groups()
        self.of[own], self.of[n + done] = n_groups + np.arange(len(own)), n_groups + number
        self._say(done, UPDATE, B_ONE)

    def with_duplicates(self) -> None:
        """Rows that stand for several records, where the policy merges none."""
        merged = self.outcome == MERGE
        if self.how.duplicates == "review":
            self.outcome[merged] = REVIEW
        elif self.how.duplicates == "leave":
            self.of = _only_survivors(self.of, self.facts.rank, self.n_existing, np.unique(self.of[self.n_existing :][merged]))
            self._say(merged, UPDATE, B_LEFT)

    def with_rivals(self) -> None:
        """Rows that have a record, and another outside their group that is as good."""
        claimed = np.zeros(self.n_incoming, bool)
        claimed[self.row[self.rival]] = True
        claimed &= self.linked > 0
        if self.how.several == "all":
            sure = claimed & np.isin(self.outcome, (UPDATE, MERGE))
            self.because[sure] = B_ALL
            claimed &= ~sure
        self._say(claimed, REVIEW, B_CLAIMED)
        if self.how.several == "newest" and claimed.any():
            wanted = self.inside | self.rival
            chosen = _newest(self.row, self.record, self.pair, wanted, self.facts.changed, self.n_incoming)
            taken = claimed & (chosen >= 0)
            self.of[self.n_existing :][taken] = self.of[self.judged.graded.pairs.right[chosen[taken]]]
            self.cause[taken] = chosen[taken]
            self._say(taken, UPDATE, B_NEWEST)

    def unsure(self) -> None:
        """Rows without a record that have open candidates, or of whose group some row has."""
        doubtful = np.zeros(self._n_groups(), bool)
        doubtful[self.of[self.n_existing + self.row[self.open]]] = True
        held = (self.linked == 0) & doubtful[self.of[self.n_existing :]]
        outcome, because = {"review": (REVIEW, B_UNSURE), "create": (CREATE, B_UNSURE_CREATE)}.get(
            self.how.unsure, (SKIP, B_UNSURE_SKIP)
        )
        self._say(held, outcome, because)

    def as_the_policy_wants(self) -> None:
        """Records that are left alone, rows of people who moved, and whether any are made or updated at all."""
        how, n = self.how, self.n_existing
        if how.inactive == "skip":
            alive = np.bincount(self.of[:n][~self.facts.inactive], minlength=self._n_groups())
            self._say((self.outcome == UPDATE) & (alive[self.of[n:]] == 0), SKIP, B_INACTIVE)
        if how.moved in ("review", "create"):
            gone = _moved(self.outcome, self.of, self.facts.account, n)
            self._say(gone, *((REVIEW, B_MOVED) if how.moved == "review" else (CREATE, B_INSISTED)))
            if how.moved == "create":
                self._each_alone(gone)
        if how.mode == "update-only":
            self._say(self.outcome == CREATE, SKIP, B_UPDATE_ONLY)
        elif how.mode == "create-only":
            self._say((self.outcome == UPDATE) | (self.outcome == MERGE), SKIP, B_CREATE_ONLY)
        elif how.mode == "allow-duplicates":
            again = np.isin(self.outcome, (UPDATE, MERGE, REVIEW))
            self._each_alone(again)
            self._say(again, CREATE, B_INSISTED)

    def nobody_named(self) -> None:
        """Rows of which nobody new can be made, those who want no mail, and those that were rejected as they were read."""
        facts, group = self.facts, self.of[self.n_existing :]
        made = self.outcome == CREATE
        named = np.bincount(group[made & ~facts.nameless & ~facts.rejected], minlength=self._n_groups())
        self._say(made & facts.nameless & (named[group] == 0), REJECT, B_REJECT)
        self._say(facts.suppressed, SKIP, B_SUPPRESSED)
        self._say(facts.rejected, REJECT, B_REJECT)

    def given_twice(self) -> None:
        """Rows that say once more what another row of the list stands for."""
        if self.how.twice != "fold":
            self._say(_spare(self.outcome, self.of[self.n_existing :], self.how.twice, self.facts.filled), SKIP, B_TWICE)

    def decided(self) -> Decided:
        """The outcomes, how sure they are, and the candidates that are open."""
        judged, outcome, row = self.judged, self.outcome, self.row
        cause = np.where(self.cause >= 0, self.cause, self._best_of(self.open)[1])
        p = np.append(judged.probability, 0.0)[cause]
        confidence = np.where(outcome == CREATE, 1.0 - self._likeliest(), np.where(self.linked > 0, np.maximum(p, 0.5), p))
        also = self.rival & (self.because[row] == B_ALL) & np.isin(outcome[row], (UPDATE, MERGE))
        group = self.of[self.n_existing :]
        wanted = self.open | self.inside
        open_row, open_record, open_pair = _open(outcome, row, self.record, self.pair, wanted, group, judged, self.facts.ids)
        first = np.append(True, open_row[1:] != open_row[:-1]) if len(open_row) else np.zeros(0, bool)
        cause[open_row[first]] = open_pair[first]
        return Decided(
            outcome,
            np.asarray(np.round(np.where(outcome == REJECT, 1.0, confidence), 4), np.float64),
            self.because,
            cause,
            self.of,
            open_row,
            open_record,
            open_pair,
            *_further(row[also], self.record[also], self.of, self.facts.rank),
        )

    def _likeliest(self) -> NDArray[np.float64]:
        """Probability of each row's likeliest candidate, which may have been missed; what a rule says is in it."""
        left, right = self.judged.graded.pairs.left, self.judged.graded.pairs.right
        near = np.flatnonzero((left >= self.n_existing) & (right < self.n_existing))
        likeliest = np.zeros(self.n_incoming)
        np.maximum.at(likeliest, left[near] - self.n_existing, self.judged.probability[near])
        return likeliest


def _moved(outcome: NDArray[np.int8], of: NDArray[np.int32], account: NDArray[np.int64], n_existing: int) -> NDArray[np.bool_]:
    """Rows that are one record which is tied to another account than they are."""
    held = np.full(int(of.max(initial=-1)) + 1, -1, np.int64)
    tied = np.flatnonzero(account[:n_existing] >= 0)
    held[of[tied]] = account[tied]
    theirs, own = held[of[n_existing:]], account[n_existing:]
    return np.asarray((outcome == UPDATE) & (theirs >= 0) & (own >= 0) & (theirs != own), bool)


def _only_survivors(
    of: NDArray[np.int32], rank: NDArray[np.int64], n_existing: int, chosen: NDArray[np.int32]
) -> NDArray[np.int32]:
    """Groups in which, of the chosen ones, only the record that would survive is left; the others stand alone."""
    of = of.copy()
    records = np.flatnonzero(np.isin(of[:n_existing], chosen))
    order = records[np.lexsort((rank[records], of[records]))]
    spare = order[1:][of[order][1:] == of[order][:-1]]
    of[spare] = int(of.max(initial=-1)) + 1 + np.arange(len(spare))
    return of


def _further(
    row: NDArray[np.int32], record: NDArray[np.int32], of: NDArray[np.int32], rank: NDArray[np.int64]
) -> tuple[NDArray[np.int32], NDArray[np.int32]]:
    """Rows and the further records they update: of records that are one, only the one that would stay, so that none is merged unsaid."""
    order = np.lexsort((rank[record], of[record]))
    chosen = np.full(int(of.max(initial=-1)) + 1, -1, np.int32)
    chosen[of[record][order][::-1]] = record[order][::-1]
    pairs = np.unique(np.stack([row, chosen[of[record]]], axis=1), axis=0).astype(np.int32)
    return pairs[:, 0], pairs[:, 1]


def _newest(
    row: NDArray[np.int32],
    record: NDArray[np.int32],
    pair: NDArray[np.int64],
    wanted: NDArray[np.bool_],
    changed: NDArray[np.int64],
    n: int,
) -> NDArray[np.int64]:
    """Per row the pair with the record changed last among those it is like, -1 = none."""
    take = np.flatnonzero(wanted)
    order = take[np.lexsort((-record[take], changed[record[take]]))]
    out = np.full(n, -1, np.int64)
    out[row[order]] = pair[order]
    return out


def _spare(outcome: NDArray[np.int8], group: NDArray[np.int32], twice: str, filled: NDArray[np.int32]) -> NDArray[np.int64]:
    """Rows that act for what another row of the list already stands for."""
    acting = np.flatnonzero(np.isin(outcome, (CREATE, UPDATE, MERGE)))
    first = {"first": acting, "last": -acting, "most-complete": -filled[acting].astype(np.int64)}[twice]
    order = acting[np.lexsort((acting, first, group[acting]))]
    return np.asarray(order[1:][group[order][1:] == group[order][:-1]], np.int64)


def _pieces(judged: Judged, of: NDArray[np.int32], n_existing: int) -> NDArray[np.int32]:
    """Per existing record, the one that stands for those of its group that links among themselves hold together."""
    pairs = judged.graded.pairs
    among = np.flatnonzero(
        (judged.verdict == SAME) & (pairs.left < n_existing) & (pairs.right < n_existing) & (of[pairs.left] == of[pairs.right])
    )
    none = np.zeros(0, np.int32)
    return roots(unite((pairs.left[among], pairs.right[among]), (none, none), n_existing, n_existing)[0])


def _split_groups(piece: NDArray[np.int32], of: NDArray[np.int32], n_groups: int) -> NDArray[np.bool_]:
    """Groups whose existing records are not held together by links among themselves."""
    n_existing = len(piece)
    return np.asarray(np.bincount(of[:n_existing][piece == np.arange(n_existing)], minlength=n_groups) > 1, bool)


def _far_likelier(judged: Judged, of: NDArray[np.int32], piece: NDArray[np.int32], asked: NDArray[np.bool_]) -> NDArray[np.int32]:
    """Per row of a group of several pieces (`_pieces`), the piece it is surely one with and that no other comes near, -1 = none.

    asked : bool[n_incoming]. Where rows of one group would be told to go to different pieces, none is: they are like each other.
    """
    pairs, n_existing = judged.graded.pairs, len(piece)
    out = np.full(len(asked), -1, np.int32)
    at = np.flatnonzero((pairs.left >= n_existing) & (pairs.right < n_existing) & (judged.verdict != NONE))
    row, record = pairs.left[at] - n_existing, pairs.right[at]
    take = asked[row] & (of[pairs.left[at]] == of[record])
    at, row, mine = at[take], row[take], piece[record[take]]
    best, cause = _best(row, judged.total[at], np.arange(len(at)), len(asked))
    chosen = np.append(mine, -1)[cause]
    others = mine != chosen[row]
    second, _ = _best(row[others], judged.total[at][others], at[others], len(asked))
    sure = (cause >= 0) & (np.append(judged.verdict[at], NONE)[cause] == SAME) & (best >= second + _FAR)
    told = np.flatnonzero(sure)
    group = of[n_existing + told]
    low, high = np.full(int(of.max(initial=-1)) + 1, n_existing, np.int32), np.full(int(of.max(initial=-1)) + 1, -1, np.int32)
    np.minimum.at(low, group, chosen[told])
    np.maximum.at(high, group, chosen[told])
    told = told[low[group] == high[group]]
    out[told] = chosen[told]
    return out


def _best(
    row: NDArray[np.int32], total: NDArray[np.float64], pair: NDArray[np.int64], n: int
) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """Highest evidence per row, and the pair that has it (-inf and -1 where there is none)."""
    best, cause = np.full(n, -np.inf), np.full(n, -1, np.int64)
    order = np.argsort(total, kind="stable")
    best[row[order]] = total[order]
    cause[row[order]] = pair[order]
    return best, cause


def _by_id(ids: pa.Array, record: NDArray[np.int32]) -> NDArray[np.int64]:
    """Ranks of records by their ids, wherever they stand in their list: shorter ones first, so that C-2 goes before C-10."""
    some, at = np.unique(record, return_inverse=True)
    text = ids.take(pa.array(some))
    sort = pc.sort_indices(pa.table({"size": pc.utf8_length(text), "id": text}), [("size", "ascending"), ("id", "ascending")])
    rank = np.empty(len(some), np.int64)
    rank[sort.to_numpy()] = np.arange(len(some))
    return rank[at]


def _open(
    outcome: NDArray[np.int8],
    row: NDArray[np.int32],
    record: NDArray[np.int32],
    pair: NDArray[np.int64],
    wanted: NDArray[np.bool_],
    row_group: NDArray[np.int32],
    judged: Judged,
    ids: pa.Array,
) -> tuple[NDArray[np.int32], NDArray[np.int32], NDArray[np.int64]]:
    """Candidates of the rows under review: their own, or for want of any, those of the rows in their group; of two as good, in the order of their ids."""
    take = wanted & (judged.verdict[pair] >= UNSURE)
    row, record, pair = row[take], record[take], pair[take]
    review = np.flatnonzero(outcome == REVIEW).astype(np.int32)
    own = np.zeros(len(outcome), bool)
    own[row] = True
    poor = review[~own[review]]
    if len(poor):
        by_group = np.argsort(row_group[row], kind="stable")
        sorted_groups = row_group[row][by_group]
        low, high = (
            np.searchsorted(sorted_groups, row_group[poor], "left"),
            np.searchsorted(sorted_groups, row_group[poor], "right"),
        )
        counts = high - low
        at = by_group[np.repeat(low, counts) + np.arange(counts.sum()) - np.repeat(np.cumsum(counts) - counts, counts)]
        row, record, pair = (
            np.concatenate([row, np.repeat(poor, counts).astype(np.int32)]),
            np.concatenate([record, record[at]]),
            np.concatenate([pair, pair[at]]),
        )
    keep = outcome[row] == REVIEW
    row, record, pair = row[keep], record[keep], pair[keep]
    order = np.lexsort((-judged.total[pair], record, row))
    row, record, pair = row[order], record[order], pair[order]
    fresh = np.append(True, (row[1:] != row[:-1]) | (record[1:] != record[:-1])) if len(row) else np.zeros(0, bool)
    row, record, pair = row[fresh], record[fresh], pair[fresh]
    order = np.lexsort((_by_id(ids, record), -np.round(judged.total[pair], 6), row))
    return row[order], record[order], pair[order]
