"""Decisions: what a person said about a pair, kept beside the records and used in every later plan and sweep."""

from __future__ import annotations

import csv
import getpass
import tempfile
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict, dataclass, fields, replace
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from brujula.errors import InputError
from brujula.review.linked import parts


@dataclass(frozen=True)
class Decision:
    """What a person said of two records, or of a row and a record.

    left, right : a record's id, or `row:` and the key of what the row said
    verdict     : same or different
    seen_left, seen_right : keys of the identifying values that were seen; when they change the decision no longer holds
    """

    left: str
    right: str
    verdict: str
    who: str
    decided_at: str
    seen_left: str
    seen_right: str
    remark: str = ""


NAMES = tuple(f.name for f in fields(Decision))


def decided_now(left: str, right: str, verdict: str, seen: tuple[str, str], remark: str = "") -> Decision:
    """A decision of this moment and this user, its sides in order of name."""
    (a, seen_a), (b, seen_b) = sorted([(left, seen[0]), (right, seen[1])])
    try:
        who = getpass.getuser()
    except (KeyError, OSError):
        who = "unknown"
    return Decision(a, b, verdict, who, datetime.now(UTC).isoformat(timespec="seconds"), seen_a, seen_b, remark)


def latest(decisions: Iterable[Decision]) -> list[Decision]:
    """The last decision on each pair; a pair whose last one is `taken back` has none."""
    found = {(d.left, d.right): d for d in decisions}
    return [d for d in found.values() if d.verdict in ("same", "different")]


def contradictions(decisions: Iterable[Decision]) -> list[str]:
    """Pairs called different that others make the same by way of a third, in words."""
    every = latest(decisions)
    part = parts((d.left, d.right) for d in every if d.verdict == "same")
    return [
        f"{d.left} and {d.right} are called different, yet other decisions make them the same"
        for d in every
        if d.verdict == "different" and part.get(d.left, d.left) == part.get(d.right, d.right)
    ]


def beside(existing: str) -> Path:
    """The file of decisions that belongs to a file of existing records."""
    return Path(f"{existing}.decisions.csv")


def kept(existing: Any) -> list[Decision]:
    """Decisions kept beside existing records: in the store, or in a file beside theirs. Raises InputError for a damaged file."""
    if isinstance(existing, str) and "://" in existing:
        from brujula.stores import open_store

        with open_store(existing, journal_only=True) as store:
            return [Decision(**line) for line in store.decisions()]
    if not (isinstance(existing, str) or hasattr(existing, "__fspath__")):
        return []
    path = beside(str(existing))
    if not path.exists():
        return []
    return read_decisions(path)


def read_decisions(path: Path) -> list[Decision]:
    """A file of decisions, as they are kept and exported. Raises InputError for one that is damaged."""
    with path.open(encoding="utf-8", newline="") as stream:
        lines = list(csv.DictReader(stream))
    for number, line in enumerate(lines, 2):
        if set(line) != set(NAMES) or line["verdict"] not in ("same", "different", "taken back"):
            raise InputError(
                f"{path}, line {number}: no decision; accepted: the columns {', '.join(NAMES)}, verdict same, different or taken back"
            )
    return [Decision(**line) for line in lines]


def keep(existing: str, new: Sequence[Decision]) -> None:
    """Add decisions to those kept; a file appears whole or stays as it was."""
    if not new:
        return
    if "://" in existing:
        from brujula.stores import open_store

        with open_store(existing, journal_only=True) as store:
            store.add_decisions([asdict(d) for d in new])
        return
    write_decisions(beside(existing), [*kept(existing), *new])


def write_decisions(path: Path, every: Iterable[Decision]) -> None:
    """A file of decisions; it appears whole or stays as it was."""
    with tempfile.NamedTemporaryFile("w", encoding="utf-8", newline="", dir=path.parent, delete=False) as stream:
        writer = csv.DictWriter(stream, NAMES)
        writer.writeheader()
        writer.writerows(asdict(d) for d in every)
    Path(stream.name).replace(path)


def taken_back(decision: Decision) -> Decision:
    """The decision that makes another one void."""
    return replace(decided_now(decision.left, decision.right, "taken back", (decision.seen_left, decision.seen_right)))


def as_lines(decisions: Iterable[Decision]) -> list[Mapping[str, str]]:
    """Decisions that stand, numbered, for showing."""
    return [
        {
            "no": str(i),
            "left": d.left,
            "right": d.right,
            "verdict": d.verdict,
            "who": d.who,
            "when": d.decided_at,
            "remark": d.remark,
        }
        for i, d in enumerate(latest(decisions), 1)
    ]
