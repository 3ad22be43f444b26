"""What a load did, written into the plan folder: what was loaded, what was not and why, the new ids."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from pathlib import Path

import pyarrow as pa

from brujula.intake.write import write_csv
from brujula.loading.journal import Load
from brujula.loading.naming import OURS, PREFIX
from brujula.loading.opened import read_table


def write_results(folder: Path, load: Load, actions: Sequence[Mapping[str, str]], records: Mapping[str, str]) -> None:
    """loaded.csv: a line an action carried out; failed.csv: the rows of those that were not, as they came, with the store's reason;
    incoming_with_ids.csv with the ids of the records that were created."""
    done = [a for a in actions if a["action"] in records]
    write_csv(
        pa.table(
            {
                "load": pa.array([load.id] * len(done), pa.large_string()),
                "action": pa.array([a["action"] for a in done], pa.large_string()),
                "kind": pa.array([a["kind"] for a in done], pa.large_string()),
                "record_id": pa.array([records[a["action"]] for a in done], pa.large_string()),
                "rows": pa.array([a["rows"] for a in done], pa.large_string()),
            }
        ),
        folder / "loaded.csv",
    )
    for path in folder.glob(f"{PREFIX}*.csv"):
        _name_parents(path, records)
    listed = read_table(folder, "incoming_with_ids")
    if listed.num_rows == 0:
        return
    id_column = "brujula record_id" if "brujula record_id" in listed.column_names else "record_id"
    outcome_column = "brujula outcome" if "brujula outcome" in listed.column_names else "outcome"
    ids = listed[id_column].to_pylist()
    for action in done:
        if action["kind"] == "create":
            for row in action["rows"].split(";"):
                ids[int(row) - 1] = records[action["action"]]
    at = listed.column_names.index(id_column)
    write_csv(listed.set_column(at, id_column, pa.array(ids, pa.large_string())), folder / "incoming_with_ids.csv")
    why = {row: reason for a, reason in load.reasons for x in actions if x["action"] == a for row in x["rows"].split(";") if row}
    failed = sorted(int(r) for r in why)
    path = folder / "failed.csv"
    if not failed:
        path.unlink(missing_ok=True)
        return
    kept = listed.drop_columns([id_column, outcome_column]).take(pa.array([r - 1 for r in failed]))
    name = "problem" if "problem" not in kept.column_names else "brujula problem"
    write_csv(kept.append_column(name, pa.array([why[str(r)] for r in failed], pa.large_string())), path)


def _name_parents(path: Path, records: Mapping[str, str]) -> None:
    """The ids of new records into a file of child rows."""
    table = read_table(path.parent, path.stem)
    id_column, action_column = ((f"brujula {n}" if f"brujula {n}" in table.column_names else n) for n in OURS[:2])
    ids = [records.get(a, i) for a, i in zip(table[action_column].to_pylist(), table[id_column].to_pylist(), strict=True)]
    at = table.column_names.index(id_column)
    write_csv(table.set_column(at, id_column, pa.array(ids, pa.large_string())), path)
