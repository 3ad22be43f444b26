"""Loading 100,000 actions beside the plain driver making the same writes, per store; reading a million records back."""

from __future__ import annotations

import os
import sqlite3
import time
from pathlib import Path

import pyarrow as pa

import brujula
from benchmarks import lists
from brujula.intake.write import write_csv
from brujula.standin.serve import serving
from brujula.stores import open_store
from brujula.stores.sql import RECORDS

N = 100_000


def plan_folder(folder: Path, n: int) -> Path:
    """A plan that creates n contacts, written without planning: loading is what is timed."""
    made = lists.contacts(n, 3)
    (folder / "list.csv").write_text("given_name,family_name\nAda,Quist\n")
    old = folder / "old.csv"
    old.write_text("id,given_name,family_name\n1,Bo,Orr\n")
    brujula.plan(str(folder / "list.csv"), against=str(old)).write(folder / "plan")
    labels = [f"A{i + 1}" for i in range(n)]
    columns = {
        "first_name": "given_name",
        "last_name": "family_name",
        "email": "email",
        "phone": "phone",
        "account": "account",
        "city": "city",
    }
    changes = [
        pa.table({"action": labels, "record_id": [""] * n, "field": [f] * n, "before": [""] * n, "after": made[c].astype(str), "from": [f"row {i + 1}" for i in range(n)], "why": ["new record"] * n})
        for c, f in columns.items()
    ]  # fmt: skip
    write_csv(pa.concat_tables(changes), folder / "plan" / "changes.csv")
    write_csv(
        pa.table({"action": labels, "kind": ["create"] * n, "record_id": [""] * n, "merged_ids": [""] * n, "rows": [""] * n}),
        folder / "plan" / "actions.csv",
    )
    write_csv(
        pa.table({"row": ["1"], "digest": ["0"], "action": [""], "record_id": [""]}).slice(0, 0), folder / "plan" / "rows.csv"
    )
    write_csv(
        pa.table({"given_name": ["x"], "record_id": [""], "outcome": [""]}).slice(0, 0), folder / "plan" / "incoming_with_ids.csv"
    )
    return folder / "plan"


def _values(n: int) -> dict[str, list[str]]:
    """Field to its n values."""
    made = lists.contacts(n, 3)
    of = {
        "given_name": "first_name",
        "family_name": "last_name",
        "email": "email",
        "phone": "phone",
        "account": "account",
        "city": "city",
    }
    return {f: made[c].astype(str).tolist() for f, c in of.items()}


def databases(folder: Path, postgres: str = "") -> None:
    """SQLite, and PostgreSQL where a URL of an empty database is given."""
    plan = plan_folder(folder, N)
    values, blank = _values(N), [None] * N
    columns = [c.name for c in RECORDS["contact"].columns]
    names = ",".join(columns)
    records = list(zip([f"X{i}" for i in range(N)], *(values.get(c, blank) for c in columns[1:]), strict=True))
    changes = [
        (1, k * N + i, f"A{i}", f"X{i}", f, None, v, f"row {i}", "new record")
        for k, (f, of) in enumerate(values.items())
        for i, v in enumerate(of)
    ]
    for url in (f"sqlite:///{folder}/crm.db", *([postgres] if postgres else [])):
        start = time.perf_counter()
        brujula.load(plan, into=url)
        ours = time.perf_counter() - start
        start = time.perf_counter()
        if url.startswith("sqlite"):
            plain = sqlite3.connect(folder / "plain.db")
            plain.execute("PRAGMA journal_mode=WAL")
            plain.execute(f"CREATE TABLE contact ({names}, PRIMARY KEY (id))")
            plain.execute(
                "CREATE TABLE change (load, seq, action, record_id, field, before, after, source, why, PRIMARY KEY (load, seq))"
            )
            plain.execute("CREATE INDEX by_record ON change (record_id)")
            plain.executemany(f"INSERT INTO contact VALUES ({','.join('?' * len(records[0]))})", records)
            plain.executemany("INSERT INTO change VALUES (?,?,?,?,?,?,?,?,?)", changes)
            plain.commit()
        else:
            import psycopg

            with psycopg.connect(url) as connection, connection.cursor() as cursor:
                cursor.execute("CREATE TABLE plain_contact (LIKE contact INCLUDING ALL)")
                cursor.execute("CREATE TABLE plain_change (LIKE brujula_change INCLUDING ALL)")
                cursor.executemany(f"INSERT INTO plain_contact ({names}) VALUES ({','.join(['%s'] * len(records[0]))})", records)
                cursor.executemany("INSERT INTO plain_change VALUES (%s,%s,%s,%s,%s,%s,%s,%s,%s)", changes)
        theirs = time.perf_counter() - start
        start = time.perf_counter()
        with open_store(url) as store:
            n = store.read("contact").num_rows
        print(
            f"{url.partition(':')[0]}: {N:,} actions and their journal {ours:.1f} s, the plain driver {theirs:.1f} s, ratio {ours / theirs:.2f}; {n:,} records read in {time.perf_counter() - start:.1f} s"
        )


def service(folder: Path, n: int = 20_000) -> None:
    """The simulated service, and the same batches sent by httpx alone."""
    import httpx

    os.environ["BRUJULA_JOURNALS"] = str(folder / "journals")
    (folder / "http").mkdir(exist_ok=True)
    plan = plan_folder(folder / "http", n)
    with serving(0, str(folder / "service.db")) as url:
        start = time.perf_counter()
        brujula.load(plan, into=url)
        ours = time.perf_counter() - start
    values = _values(n)
    rows = [dict(zip(values, line, strict=True)) for line in zip(*values.values(), strict=True)]
    with serving(0, str(folder / "plain-service.db")) as url, httpx.Client(base_url=url) as client:
        start = time.perf_counter()
        told = [{"do": "create", "duplicates": "allow", "values": row} for row in rows]
        for at in range(0, n, 200):
            client.post("/batch/contacts", json={"operations": told[at : at + 200]}).raise_for_status()
        theirs = time.perf_counter() - start
    print(f"service: {n:,} actions {ours:.1f} s, plain batches {theirs:.1f} s, ratio {ours / theirs:.2f}")
