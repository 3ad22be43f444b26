"""`python -m brujula.standin`: serve the simulated CRM on this machine."""

from __future__ import annotations

import argparse

from brujula.standin.faults import Faults
from brujula.standin.serve import serving


def main() -> None:
    """Read the options and serve until interrupted."""
    told = argparse.ArgumentParser(prog="python -m brujula.standin", description="A simulated CRM service, on this machine only.")
    told.add_argument("--port", type=int, default=8077)
    told.add_argument("--data", default=":memory:", help="its SQLite file; in memory when left out")
    told.add_argument("--token", default="", help="what requests must carry as Authorization: Bearer")
    for name, what in (("error", "answer 500"), ("lost", "do it, then drop the connection"), ("half", "break off in the middle of the answer"), ("slow", "wait first")):  # fmt: skip
        told.add_argument(f"--{name}", type=int, default=0, metavar="N", help=f"every Nth request: {what}")
    told.add_argument("--rate", type=int, default=0, metavar="N", help="requests a second before it says: too many")
    given = told.parse_args()
    faults = Faults(given.error, given.lost, given.half, given.slow, rate=given.rate)
    with serving(given.port, given.data, faults, given.token) as url:
        print(f"{url}  (its description: {url}/openapi.json)", flush=True)
        try:
            import signal

            signal.pause()
        except KeyboardInterrupt:
            pass


if __name__ == "__main__":
    main()
