"""Load, look, undo, in any store: `python examples/stores.py [URL]`; without one, in the simulated CRM that ships with Brujula.

A URL is such as postgresql://reed@localhost/crm or http://127.0.0.1:8077; its store should be an empty one.
"""

import os
import sys
from contextlib import nullcontext
from importlib.resources import files
from pathlib import Path
from tempfile import TemporaryDirectory

import brujula
from brujula.standin.faults import Faults
from brujula.standin.serve import serving
from brujula.stores import open_store

DATA = Path(str(files("brujula.demo") / "data"))


def first_records(store: str, folder: str) -> None:
    """Fill the store: a database takes a list as it stands, ids and all; a service gives ids itself, so its list is planned."""
    if store.startswith("http"):
        policy = Path(folder) / "all.toml"
        policy.write_text('[outcomes]\nmode = "allow-duplicates"\n')
        brujula.plan(DATA / "contacts.csv", against=store, policy=str(policy)).write(f"{folder}/first")
        brujula.load(f"{folder}/first", into=store)
    else:
        brujula.load(DATA / "contacts.csv", into=store)


with TemporaryDirectory() as folder:
    os.environ.setdefault("BRUJULA_JOURNALS", folder)
    # Every 25th request is answered by an error, every 40th loses its answer: nothing of it is seen in the end.
    place = nullcontext(sys.argv[1]) if len(sys.argv) > 1 else serving(0, f"{folder}/crm.db", Faults(error=25, lost=40))
    with place as store:
        first_records(store, folder)
        with open_store(store) as opened:
            before = opened.read("contact")
        plan = brujula.plan(DATA / "workshop-roster.csv", against=store)
        print(plan.counts)
        plan.write(f"{folder}/plan")
        done = brujula.load(f"{folder}/plan", into=store)
        print(f"{done.id}: {done.created} created, {done.updated} updated, {done.merged} merged, {done.held} held")
        for action, why in done.reasons[:3]:
            print(f"  held {action}: {why}")
        for x in brujula.history(store):
            print(x.id, x.state, x.list.rpartition("/")[2], f"{x.created} created, {x.updated} updated")
        brujula.undo(done.id, into=store)
        with open_store(store) as opened:
            print("the store is as it was:", opened.read("contact").equals(before))
