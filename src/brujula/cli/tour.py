"""The tour: the whole job on the shipped data, with commentary."""

from __future__ import annotations

import shutil
from collections.abc import Mapping
from importlib.resources import as_file, files
from pathlib import Path

import pyarrow as pa
from rich.markup import escape

from brujula import run
from brujula.cli import show
from brujula.cli.commands import history, inspect
from brujula.errors import UsageError
from brujula.intake.write import write_csv
from brujula.loading.apply import load
from brujula.loading.folder import summary
from brujula.loading.place import cannot
from brujula.loading.undo import undo
from brujula.stores import open_database
from brujula.together import plan_together

LISTS = ("contacts.csv", "accounts.csv", "workshop-roster.csv", "district-roster.csv", "leave-alone.csv")
_SEEN = {
    "update": "a record that gains something",
    "merge": "a row that shows two records to be one",
    "review": "a row left open",
    "reject": "a row that cannot be used",
}


def tour(folder: Path) -> None:
    """Run the example in a folder. Raises UsageError when the folder holds something else, PlanError when it cannot be made."""
    if folder.exists() and any(folder.iterdir()) and not (folder / LISTS[0]).exists():
        raise UsageError(f"{folder}: something else is in this folder; name another with --out")
    shutil.rmtree(folder, ignore_errors=True)
    try:
        folder.mkdir(parents=True)
    except OSError as error:
        raise cannot(folder, error) from None
    for name in LISTS:
        with as_file(files("brujula.demo") / "data" / name) as source:
            shutil.copy(source, folder / name)
    out = show.console()
    store = f"sqlite:///{folder}/crm.db"
    out.print(
        "[bold]Second Reed[/bold] lends musical instruments. A workshop sends its roster; the CRM holds 2,000 contacts. All of it is made up."
    )
    _step(f"1. The CRM's export becomes a store: brujula load {folder}/contacts.csv --into {store}")
    for name in LISTS[:2]:
        filled = load(folder / name, into=store)
        out.print(f"{filled.created:,} {filled.entity}s")
    with open_database(store) as opened:
        before = opened.dump()
    _step(f"2. What did the workshop send? brujula inspect {folder}/{LISTS[2]}")
    inspect.inspect(str(folder / LISTS[2]))
    _step(f"3. What becomes of every row? brujula plan {folder}/{LISTS[2]} --against {store} --out {folder}/plan")
    plan = run.plan(str(folder / LISTS[2]), store)
    plan.write(folder / "plan")
    show.summary(summary(plan), f"{folder}/plan")
    out.print()
    lines = plan.outcomes_table.to_pylist()
    for outcome, what in _SEEN.items():
        line = next((x for x in lines if x["outcome"] == outcome), None)
        if line:
            out.print(f"[bold]{what}[/bold], row {line['row']}: {escape(line['reason'])}")
    _step(f"4. The load: brujula load {folder}/plan --into {store}")
    done = load(folder / "plan", into=store)
    out.print(
        f"{done.id}: {done.created:,} created, {done.updated:,} updated, {done.merged:,} merged; {done.fields:,} values written, each in the journal"
    )
    _step("5. The same list again finds nothing left to do but what is open")
    again = run.plan(str(folder / LISTS[2]), store)
    out.print(_counted(again.counts))
    _step(f"6. And back: brujula undo {done.id} --into {store}")
    undo(done.id, into=store)
    with open_database(store) as opened:
        same = opened.dump() == before
    out.print("The store is as it was, value for value." if same else "[red]The store is not as it was.[/red]")
    history.history(store)
    _more(folder, store)
    out.print(
        f"\nLook at [bold]{escape(str(folder))}/plan/report.html[/bold]. Then try your own: brujula plan YOUR-LIST.csv --against YOUR-EXPORT.csv --out plan"
    )


def _more(folder: Path, store: str) -> None:
    """A second list with accounts in it, people to be left alone, and an export that was edited and comes back."""
    out = show.console()
    _step(
        f"7. A district's roster names schools too: brujula plan {folder}/{LISTS[3]} --against {store} --accounts {store} --out {folder}/district"
    )
    both = plan_together(str(folder / LISTS[3]), store, store)
    both.write(folder / "district")
    if both.accounts:
        out.print(f"accounts: {_counted(both.accounts.counts)}")
    out.print(f"contacts: {_counted(both.counts)}")
    made = load(folder / "district", into=store)
    out.print(f"{made.id}: {made.created:,} contacts created, {made.updated:,} updated, each tied to its account")
    policy = folder / "alone.toml"
    policy.write_text(f'[suppress]\nlist = "{LISTS[4]}"\n', "utf-8")
    _step(f"8. Some asked to be left alone: brujula plan {folder}/{LISTS[2]} --against {store} --policy {policy} ...")
    alone = run.plan(str(folder / LISTS[2]), store, str(policy))
    out.print(_counted(alone.counts))
    line = next(x for x in alone.outcomes_table.to_pylist() if x["outcome"] == "skip")
    out.print(f"[bold]a row left alone[/bold], row {line['row']}: {escape(line['reason'])}")
    _step(f"9. An export, edited and brought back, goes by its ids: brujula export {store} --out {folder}/export.csv")
    with open_database(store) as opened:
        lines = opened.read("contact").slice(0, 200).to_pylist()
    lines[3]["phone"], lines[5]["phone"], lines[7]["family_name"] = "212-555-0101", "212-555-0102", "Marsh"
    write_csv(pa.Table.from_pylist(lines), folder / "export.csv")
    back = run.plan(str(folder / "export.csv"), store)
    out.print(_counted(back.counts))
    for change in back.changes_table.to_pylist():
        out.print(
            f"  {change['record_id']}: {change['field']} {escape(change['before'])} -> {escape(change['after'])} ({change['why']})"
        )


def _counted(counts: Mapping[str, int]) -> str:
    return ", ".join(f"{n:,} {name}" for name, n in counts.items() if n)


def _step(text: str) -> None:
    show.console().print(f"\n[bold color(25)]{escape(text)}[/]")
