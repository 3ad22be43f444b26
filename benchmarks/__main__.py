"""`python -m benchmarks [small|large]`: timings as ratios of two things in one run.

small: 20,000 rows against 100,000 contacts.  large: 200,000 against 1,000,000, and half of both for the growth. Each whole job is a process
of its own; beside ours stands the same job written by hand in SQL (duckdb, two threads). Kernels are timed beside duckdb's, reading beside pandas'.
"""

from __future__ import annotations

import json
import resource
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import duckdb
import numpy as np
import pyarrow as pa

from benchmarks import intake, lists, stores
from benchmarks.kernels import measure_pairs
from brujula.core.batch import Texts
from brujula.core.kernels.edits import scratch
from brujula.core.steps.parallel import in_chunks
from brujula.demo import maker

SIZES = {"small": [(100_000, 20_000)], "large": [(500_000, 100_000), (1_000_000, 200_000)]}


def timed(command: list[str]) -> tuple[float, float]:
    """Wall seconds and peak GiB of a process (the largest child so far: run the smaller first)."""
    start = time.perf_counter()
    subprocess.run(command, check=False, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    return time.perf_counter() - start, resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 2**20


def jobs(size: str, folder: Path) -> None:
    """Whole jobs: ours beside the one written by hand."""
    last = 0.0
    for n_existing, n_incoming in SIZES[size]:
        old, new = lists.write(folder, n_existing, n_incoming)
        brujula = [
            str(Path(sys.executable).parent / "brujula"),
            "plan",
            str(new),
            "--against",
            str(old),
            "--out",
            str(folder / "plan"),
        ]
        ours, peak = timed(brujula)
        by_hand, _ = timed([sys.executable, "-m", "benchmarks.by_hand", str(old), str(new), str(folder / "by_hand.csv")])
        found = json.loads((folder / "plan" / "summary.json").read_text())
        print(
            f"{n_incoming:,} rows against {n_existing:,}: {ours:.1f} s, peak {peak:.2f} GiB; by hand {by_hand:.1f} s; ratio {ours / by_hand:.2f}"
            + (f"; {ours / last:.2f} times the half" if last else "")
        )
        print("   stages:", found["seconds"], f"{found['candidate_pairs'] / n_incoming:.1f} candidate pairs a row")
        page = (folder / "plan" / "report.html").stat().st_size / 2**20
        print(
            f"   page {page:.1f} MB; reading, matching and deciding {found['seconds']['all']:.1f} s, start and writing the folder {ours - found['seconds']['all']:.1f} s"
        )
        last = ours


def kernels() -> None:
    """Edit distance and Jaro-Winkler over the same pairs, two threads each."""
    rng = np.random.default_rng(3)
    words = np.array([maker.plain(a + b) for a in maker.FAMILY for b in maker.GIVEN[:40]])
    left, right = words[rng.integers(0, len(words), 2_000_000)], words[rng.integers(0, len(words), 2_000_000)]
    table = pa.table({"a": left, "b": right})
    connection = duckdb.connect()
    connection.execute("SET enable_progress_bar = false")
    connection.execute("SET threads = 2")
    connection.register("t", table)
    connection.execute("CREATE TABLE pairs AS SELECT * FROM t")
    a, b = Texts.of(pa.array(left, pa.large_string())), Texts.of(pa.array(right, pa.large_string()))
    for ours, theirs in (("osa", "damerau_levenshtein"), ("jaro_winkler", "jaro_winkler_similarity")):
        out = np.zeros(len(left), np.float64)
        which = 0 if ours == "osa" else 1
        measure_pairs(a.offsets[:2], a.data, b.offsets[:2], b.data, which, out[:1], scratch())

        def part(at: int, end: int, which: int = which, out: np.ndarray = out) -> None:
            measure_pairs(a.offsets[at : end + 1], a.data, b.offsets[at : end + 1], b.data, which, out[at:end], scratch())

        start = time.perf_counter()
        in_chunks(part, len(left))
        mine = time.perf_counter() - start
        start = time.perf_counter()
        connection.execute(f"SELECT sum({theirs}(a, b)) FROM pairs").fetchall()
        other = time.perf_counter() - start
        print(f"{ours}: {mine:.2f} s for {len(left):,} pairs; {theirs}: {other:.2f} s; ratio {mine / other:.2f}")


if __name__ == "__main__":
    size = sys.argv[1] if len(sys.argv) > 1 else "small"
    if size not in SIZES:
        raise SystemExit(__doc__)
    kernels()
    intake.standard_forms()
    with tempfile.TemporaryDirectory() as name:
        intake.reading(Path(name))
        stores.databases(Path(name))
        stores.service(Path(name))
        jobs(size, Path(name))
