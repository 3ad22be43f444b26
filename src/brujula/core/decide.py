"""Deciding: what becomes of every incoming row."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
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
    rank: NDArray[np.int64]
    changed: NDArray[np.int64]
    filled: NDArray[np.int32]
    account: NDArray[np.int64]
    loaded: NDArray[np.int32]


def decide(judged: Judged, groups: Groups, n_existing: int, n_incoming: int, facts: Facts, how: Choices) -> Decided:
    """Outcome of every row from verdicts and groups."""
    pairs, of = judged.graded.pairs, groups.of.copy()
    row_group = of[n_existing:]
    n_groups = int(of.max(initial=-1)) + 1
    n_in_group = np.bincount(of[:n_existing], minlength=n_groups)
    linked = n_in_group[row_group]
    outcome = np.where(linked == 0, CREATE, np.where(linked == 1, UPDATE, MERGE)).astype(np.int8)
    because = np.where(linked == 0, B_NEW, np.where(linked == 1, B_ONE, B_SEVERAL)).astype(np.int8)
    piece = _pieces(judged, of, n_existing)
    torn = (outcome == MERGE) & _split_groups(piece, of, n_groups)[row_group]
    if how.several == "best":
        likelier = _far_likelier(judged, of, piece, torn & ~facts.couple)
        told, pieces = np.flatnonzero(likelier >= 0), np.unique(likelier[likelier >= 0])
        mine = np.isin(piece, pieces)
        of[:n_existing][mine] = n_groups + np.searchsorted(pieces, piece[mine])
        of[n_existing + told] = n_groups + np.searchsorted(pieces, likelier[told])
        n_groups += len(pieces)
        outcome[told] = np.where(np.bincount(of[:n_existing], minlength=n_groups)[of[n_existing + told]] > 1, MERGE, UPDATE)
        because[told], torn[told] = np.where(outcome[told] == MERGE, B_SEVERAL, B_FIRST), False
    outcome[torn], because[torn] = REVIEW, B_SPLIT
    # What others link does not open again what was done with a row.
    done = np.flatnonzero(torn & (facts.loaded >= 0))
    own, number = np.unique(facts.loaded[done], return_inverse=True)
    of[own], of[n_existing + done] = n_groups + np.arange(len(own)), n_groups + number
    outcome[done], because[done] = UPDATE, B_ONE
    if how.duplicates == "review":
        outcome[outcome == MERGE] = REVIEW
    elif how.duplicates == "leave":
        left_alone = outcome == MERGE
        of = _only_survivors(of, facts.rank, n_existing, np.unique(row_group[left_alone]))
        outcome[left_alone], because[left_alone] = UPDATE, B_LEFT
    left, right = pairs.left, pairs.right
    across = np.flatnonzero((left >= n_existing) & (right < n_existing) & (judged.verdict != NONE))
    row, record = left[across] - n_existing, right[across]
    inside = groups.of[left[across]] == groups.of[record]
    best, cause = _best(row[inside], judged.total[across][inside], across[inside], n_incoming)
    open_now = ~inside & (judged.verdict[across] >= UNSURE)
    refused = np.zeros(len(left), bool)
    refused[groups.refused] = True
    rival = open_now & ((judged.verdict[across] == SAME) | refused[across])
    if how.several != "review":
        # However far behind, the other record may be the other one of two.
        rival &= (judged.total[across] > best[row] - _LEAD) | facts.couple[row]
    claimed = np.zeros(n_incoming, bool)
    claimed[row[rival]] = True
    claimed &= linked > 0
    if how.several == "all":
        sure = claimed & np.isin(outcome, (UPDATE, MERGE))
        because[sure] = B_ALL
        claimed &= ~sure
    outcome[claimed], because[claimed] = REVIEW, B_CLAIMED
    if how.several == "newest" and claimed.any():
        chosen = _newest(row, record, across, inside | rival, facts.changed, n_incoming)
        taken = claimed & (chosen >= 0)
        of[n_existing:][taken] = of[right[chosen[taken]]]
        cause[taken] = chosen[taken]
        outcome[taken], because[taken] = UPDATE, B_NEWEST
    # A row without a record takes the open candidates of every row in its group.
    doubtful = np.zeros(int(of.max(initial=-1)) + 1, bool)
    doubtful[of[left[across]][open_now]] = True
    held = (linked == 0) & doubtful[row_group]
    outcome[held], because[held] = REVIEW, B_UNSURE
    _, unsure_cause = _best(row[open_now], judged.total[across][open_now], across[open_now], n_incoming)
    if how.unsure != "review":
        outcome[held] = CREATE if how.unsure == "create" else SKIP
        because[held] = B_UNSURE_CREATE if how.unsure == "create" else B_UNSURE_SKIP
    if how.inactive == "skip":
        alive = np.bincount(of[:n_existing][~facts.inactive], minlength=int(of.max(initial=-1)) + 1)
        idle = (outcome == UPDATE) & (alive[of[n_existing:]] == 0)
        outcome[idle], because[idle] = SKIP, B_INACTIVE
    if how.moved in ("review", "create"):
        gone = _moved(outcome, of, facts.account, n_existing)
        outcome[gone], because[gone] = (REVIEW, B_MOVED) if how.moved == "review" else (CREATE, B_INSISTED)
        if how.moved == "create":
            of[n_existing:][gone] = int(of.max(initial=-1)) + 1 + np.arange(int(gone.sum()))
    if how.mode == "update-only":
        stop = outcome == CREATE
        outcome[stop], because[stop] = SKIP, B_UPDATE_ONLY
    elif how.mode == "create-only":
        stop = (outcome == UPDATE) | (outcome == MERGE)
        outcome[stop], because[stop] = SKIP, B_CREATE_ONLY
    elif how.mode == "allow-duplicates":
        again = np.isin(outcome, (UPDATE, MERGE, REVIEW))
        of[n_existing:][again] = int(of.max(initial=-1)) + 1 + np.arange(int(again.sum()))
        outcome[again], because[again] = CREATE, B_INSISTED
    made = outcome == CREATE
    named = np.bincount(of[n_existing:][made & ~facts.nameless & ~facts.rejected], minlength=int(of.max(initial=-1)) + 1)
    nobody = made & facts.nameless & (named[of[n_existing:]] == 0)
    outcome[nobody], because[nobody] = REJECT, B_REJECT
    outcome[facts.suppressed], because[facts.suppressed] = SKIP, B_SUPPRESSED
    outcome[facts.rejected], because[facts.rejected] = REJECT, B_REJECT
    if how.twice != "fold":
        spare = _spare(outcome, of[n_existing:], how.twice, facts.filled)
        outcome[spare], because[spare] = SKIP, B_TWICE
    cause = np.where(cause >= 0, cause, unsure_cause)
    p = np.append(judged.probability, 0.0)[cause]
    # The likeliest of a row's candidates is what may have been missed; what a rule says is in its probability.
    near = np.flatnonzero((left >= n_existing) & (right < n_existing))
    likeliest = np.zeros(n_incoming)
    np.maximum.at(likeliest, left[near] - n_existing, judged.probability[near])
    confidence = np.where(outcome == CREATE, 1.0 - likeliest, np.where(linked > 0, np.maximum(p, 0.5), p))
    row_group = of[n_existing:]
    also = rival & (because[row] == B_ALL) & np.isin(outcome[row], (UPDATE, MERGE))
    open_row, open_record, open_pair = _open(outcome, row, record, across, open_now | inside, of, n_existing, row_group, judged)
    first = np.append(True, open_row[1:] != open_row[:-1]) if len(open_row) else np.zeros(0, bool)
    cause[open_row[first]] = open_pair[first]
    return Decided(
        outcome,
        np.asarray(np.round(np.where(outcome == REJECT, 1.0, confidence), 4), np.float64),
        because,
        cause,
        of,
        open_row,
        open_record,
        open_pair,
        *_further(row[also], record[also], of, facts.rank),
    )


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


def _open(
    outcome: NDArray[np.int8],
    row: NDArray[np.int32],
    record: NDArray[np.int32],
    pair: NDArray[np.int64],
    wanted: NDArray[np.bool_],
    of: NDArray[np.int32],
    n_existing: int,
    row_group: NDArray[np.int32],
    judged: Judged,
) -> tuple[NDArray[np.int32], NDArray[np.int32], NDArray[np.int64]]:
    """Candidates of the rows under review: their own, or for want of any, those of the rows in their group."""
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
    order = np.lexsort((record, -np.round(judged.total[pair], 6), row))
    return row[order], record[order], pair[order]
