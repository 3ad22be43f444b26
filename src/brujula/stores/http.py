"""Existing records in a service spoken to over HTTP; the journal of loads stands beside it, in a file of this machine.

Conditional requests (RFC 9110), JSON Merge Patch (RFC 7396), problem details (RFC 9457); every change carries an Idempotency-Key, so that one
whose answer was lost can be sent again and is done once.
"""

from __future__ import annotations

import fcntl
import os
import re
import time
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import AbstractContextManager, contextmanager
from pathlib import Path
from types import TracebackType
from typing import IO, Any
from urllib.parse import quote

import httpx
import pyarrow as pa
from sqlalchemy.engine import Connection

from brujula.errors import StoreError
from brujula.policy.entities import ENTITIES
from brujula.stores.sql import SqlStore

PATHS = {"contact": "contacts", "account": "accounts"}
TOKEN = "BRUJULA_TOKEN"
JOURNALS = "BRUJULA_JOURNALS"
BATCH = 200
_PAGE = 1_000
_FEW = 20  # records that are asked for one by one; more are read page by page
_TRIES = 8
_AGAIN = (429, 500, 502, 503, 504)
_FIRST_WAIT, _LONGEST_WAIT = 0.05, 30.0


def journal_of(url: str) -> Path:
    """The file that holds the journal of a service's loads: in the folder BRUJULA_JOURNALS names, else in the user's data folder."""
    parsed = httpx.URL(url)
    name = re.sub(r"[^a-z0-9.]+", "-", f"{parsed.host}-{parsed.port or ''}{parsed.path}".lower()).strip("-")
    data = os.environ.get("XDG_DATA_HOME") or str(Path.home() / ".local" / "share")
    return Path(os.environ.get(JOURNALS) or Path(data) / "brujula") / f"{name}.db"


class HttpStore:
    """Records in a service, and the journal beside it. A token in the environment variable BRUJULA_TOKEN goes with every request.

    sleep : how waiting is done between tries
    """

    def __init__(self, url: str, sleep: Callable[[float], None] = time.sleep) -> None:
        self.url = url.rstrip("/")
        parsed = httpx.URL(self.url)
        self.shown = str(parsed.copy_with(userinfo=b""))
        self._sleep = sleep
        headers = {"Accept": "application/json", "User-Agent": "brujula"}
        if os.environ.get(TOKEN):
            headers["Authorization"] = f"Bearer {os.environ[TOKEN]}"
        self._client = httpx.Client(base_url=self.url, headers=headers, timeout=60.0)
        self._path = journal_of(self.url)
        self._journal: SqlStore | None = None

    @property
    def journal(self) -> SqlStore:
        """The journal beside the service."""
        if self._journal is None:
            self._beside("").close()
            self._journal = SqlStore(f"sqlite:///{self._path}", True, journal_only=True)
        return self._journal

    def _beside(self, suffix: str) -> IO[str]:
        """The journal's file, or one beside it, open to be written to; its folder is made. Raises StoreError where it cannot be."""
        try:
            self._path.parent.mkdir(parents=True, exist_ok=True)
            return (self._path.with_suffix(suffix) if suffix else self._path).open("a")
        except OSError as error:
            raise StoreError(f"{self._path.parent}: the journal of {self.shown} cannot be kept there: {error.strerror}") from None

    def __enter__(self) -> HttpStore:
        return self

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None) -> None:
        self._client.close()
        if self._journal is not None:
            self._journal.engine.dispose()

    def reading(self) -> AbstractContextManager[Connection]:
        """A connection to the journal that writes nothing."""
        return self.journal.reading()

    def writing(self) -> AbstractContextManager[Connection]:
        """One transaction of the journal."""
        return self.journal.writing()

    @contextmanager
    def alone(self, patience: float = 60.0) -> Iterator[None]:
        """No other load to this service beside ours. Raises StoreError when another one is not done in time."""
        with self._beside(".lock") as held:
            until = time.monotonic() + patience
            while True:
                try:
                    fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
                    break
                except OSError:
                    if time.monotonic() > until:
                        raise StoreError(f"{self.shown}: another load is under way; run this again when it is done") from None
                    self._sleep(0.2)
            yield

    def read(self, entity: str) -> pa.Table:
        """All records of an entity as text columns, by id."""
        records = sorted(self.records(entity), key=lambda r: str(r["id"]))
        return pa.table({f: pa.array([r.get(f) or "" for r in records], pa.large_string()) for f in ENTITIES[entity].fields})

    def records(self, entity: str) -> Iterator[dict[str, Any]]:
        """Every record as the service gives it, page by page."""
        after: int | None = 0
        while after is not None:
            page = self.ask("GET", f"/{PATHS[entity]}", params={"limit": _PAGE, "after": after}).json()
            yield from page["items"]
            after = page["next"]

    def fetch(self, entity: str, ids: Sequence[str]) -> dict[str, dict[str, Any]]:
        """Records by id, with their versions; those that are not there are left out."""
        if len(ids) > _FEW:
            wanted = set(ids)
            return {r["id"]: r for r in self.records(entity) if r["id"] in wanted}
        found = {}
        for record in ids:
            answer = self.ask("GET", f"/{PATHS[entity]}/{quote(record, safe='')}", accepted=(404,))
            if answer.status_code == 200:
                found[record] = answer.json()
        return found

    def batch(self, kind: str, operations: Sequence[Mapping[str, Any]]) -> list[dict[str, Any]]:
        """Several operations in one request; the result of each. kind : contacts or accounts"""
        results: list[dict[str, Any]] = self.ask("POST", f"/batch/{kind}", json={"operations": list(operations)}).json()[
            "results"
        ]
        if len(results) != len(operations):
            raise StoreError(f"{self.shown}: {len(operations)} operations were sent, {len(results)} results came back")
        return results

    def ask(self, method: str, path: str, accepted: tuple[int, ...] = (), **more: Any) -> httpx.Response:
        """One request, sent again with growing waits when the answer is lost or the service asks for patience.

        Raises StoreError, in the service's own words, for what it refuses and does not stand in `accepted`, and when it does not answer.
        """
        trouble = ""
        for tried in range(_TRIES):
            try:
                answer = self._client.request(method, path, **more)
                answer.json() if answer.content and answer.status_code < 300 else None
            except (httpx.TransportError, ValueError) as error:
                trouble = f"no whole answer ({type(error).__name__})"
                wait = min(_FIRST_WAIT * 2**tried, 5.0)
            else:
                if answer.status_code < 300 or answer.status_code in accepted:
                    return answer
                trouble = self._words(answer)
                if answer.status_code not in _AGAIN:
                    raise StoreError(f"{self.shown}{path}: {trouble}")
                wait = min(_seconds(answer.headers.get("Retry-After"), _FIRST_WAIT * 2**tried), _LONGEST_WAIT)
            if tried + 1 < _TRIES:
                self._sleep(wait)
        raise StoreError(f"{self.shown}{path}: {trouble}, {_TRIES} times; run this again when the service is well")

    def _words(self, answer: httpx.Response) -> str:
        """What a refusal says."""
        if answer.status_code == 401:
            return f"the service does not know us; put its token into the environment variable {TOKEN}"
        try:
            told = answer.json()
            return f"{told['title']}: {told.get('detail', '')}".strip(": ")
        except (ValueError, KeyError, TypeError):
            return f"answered {answer.status_code} {answer.reason_phrase}"

    def remembered(self, entity: str) -> dict[str, str]:
        """As `SqlStore.remembered`, from the journal."""
        return self.journal.remembered(entity)

    def aliases(self, entity: str) -> dict[str, str]:
        """As `SqlStore.aliases`, from the journal."""
        return self.journal.aliases(entity)

    def pointing(self, entity: str) -> dict[str, int]:
        """Id to how many point at that record."""
        counts = self.journal.pointing(entity)
        if entity == "account":
            for kind, field in (("contact", "account_id"), ("account", "parent_id")):
                for record in self.records(kind):
                    if record.get(field):
                        counts[record[field]] = counts.get(record[field], 0) + 1
        return counts

    def decisions(self) -> list[dict[str, str]]:
        """What people decided of pairs, from the journal."""
        return self.journal.decisions()

    def add_decisions(self, lines: Sequence[dict[str, str]]) -> None:
        """Keep more decisions in the journal."""
        self.journal.add_decisions(lines)


def _seconds(text: str | None, otherwise: float) -> float:
    """Retry-After in seconds; a date, or nothing, gives the other."""
    return float(text) if text and text.isdigit() else otherwise
