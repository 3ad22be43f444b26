"""Reading beside pandas, and standard forms by kind."""

from __future__ import annotations

import subprocess
import sys
import time
from collections.abc import Sequence
from pathlib import Path

import numpy as np
import pyarrow as pa
from numpy.typing import NDArray

from benchmarks import lists
from brujula.core.batch import Batch, Column
from brujula.core.kind import Who
from brujula.demo import maker
from brujula.fields import kinds

_READ = """
import sys, time
def most(): return next(int(x.split()[1]) for x in open("/proc/self/status") if x.startswith("VmHWM")) / 1024
path, warm = sys.argv[1:3]
{read}
read(warm); before = most(); start = time.perf_counter(); read(path)
print(time.perf_counter() - start, most() - before)
"""
_OURS = "from brujula.intake.read import read_list as read"
_THEIRS = "import pandas as pd\ndef read(p): return pd.read_csv(p, engine='pyarrow', dtype=str)"


def reading(folder: Path) -> None:
    """Seconds and extra memory of reading 1,000,000 contacts, ours and pandas', each in a process of its own, three times."""
    old, new = lists.write(folder, 1_000_000, 1_000)
    size = old.stat().st_size / 2**20
    best: dict[str, tuple[float, float]] = {}
    for name, read in (("ours", _OURS), ("pandas", _THEIRS)) * 3:
        done = subprocess.run(
            [sys.executable, "-c", _READ.format(read=read), str(old), str(new)], check=True, capture_output=True, text=True
        )
        seconds, extra = map(float, done.stdout.split())
        best[name] = min(best.get(name, (9e9, 0.0)), (seconds, extra))
    speed = best["pandas"][0] / best["ours"][0]
    print(
        f"reading {size:.0f} MiB: {best['ours'][0]:.2f} s, {best['ours'][1] / size:.1f} times the file in extra memory; "
        f"pandas with pyarrow {best['pandas'][0]:.2f} s; {speed:.2f} of its speed"
    )


def standard_forms(n: int = 200_000) -> None:
    """Distinct values of six fields brought into standard form on one core, kind by kind."""
    rng = np.random.default_rng(5)

    def draw(words: Sequence[str]) -> NDArray[np.str_]:
        return np.array(words)[rng.integers(0, len(words), n)]

    number = np.arange(n).astype(str)
    family = np.char.add(draw(maker.FAMILY), np.char.add(" ", np.char.add(draw(maker.STEMS), number)))
    texts = {
        "given_name": draw(maker.GIVEN),
        "family_name": family,
        "email": np.char.add(np.char.add("ada.", number), "@reed.example"),
        "phone": rng.integers(2_010_000_000, 9_899_999_999, n).astype(str),
        "account": np.char.add(np.char.add(draw(maker.STEMS), np.char.add(" ", number)), " High School"),
        "street": np.char.add(np.char.add(number, " "), draw(maker.STREETS)),
        "city": np.char.add(draw([t[0] for t in maker.TOWNS]), number),
    }
    batch = Batch("contact", 0, n, {f: Column.of(pa.array(v, pa.large_string())) for f, v in texts.items()})
    identity = np.arange(1, n + 1, dtype=np.uint64)
    total = 0.0
    for name in ("person_name", "email", "phone", "company", "postal_address"):
        kind = kinds()[name]
        small = Batch("contact", 0, 5, {f: Column(c.values, c.codes[:5]) for f, c in batch.columns.items()})
        kind.standardise(small, lambda: Who(*[identity[:5]] * 3))
        start = time.process_time()
        cleaned = Batch("contact", 0, n, {f: kind.clean(c) if f in kind.parts else c for f, c in batch.columns.items()})
        kind.keys(kind.standardise(cleaned, lambda: Who(identity, identity, identity)))
        spent = time.process_time() - start
        total += spent
        print(f"   {name}: {n / spent:,.0f} a second and core")
    print(f"standard forms of {n:,} contacts with distinct values: {n / total:,.0f} contacts a second and core")
