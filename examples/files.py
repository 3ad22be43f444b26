"""From two files to a loaded store and back: plan, look, load, plan again, undo."""

from importlib.resources import files
from pathlib import Path
from tempfile import TemporaryDirectory

import brujula
from brujula.stores import open_store

DATA = Path(str(files("brujula.demo") / "data"))

with TemporaryDirectory() as folder:
    store = f"sqlite:///{folder}/crm.db"
    brujula.load(DATA / "contacts.csv", into=store)
    with open_store(store) as opened:
        before = opened.dump()

    plan = brujula.plan(DATA / "workshop-roster.csv", against=store)
    print(plan.counts)
    print(plan.explain(row=21))
    plan.write(f"{folder}/plan")

    done = brujula.load(f"{folder}/plan", into=store)
    print(f"{done.id}: {done.created} created, {done.updated} updated, {done.merged} merged")
    print("again:", brujula.plan(DATA / "workshop-roster.csv", against=store).counts)

    brujula.undo(done.id, into=store)
    with open_store(store) as opened:
        print("the store is as it was:", opened.dump() == before)
