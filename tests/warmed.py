"""What the process that commands are forked off has made already: patterns, tables of words, templates, fonts.

Importing it plans a few rows of each kind, and draws the page. The lists are too short for threads, of which none would follow into a fork.
"""

import tempfile
from pathlib import Path

import brujula.cli.main  # noqa: F401
import brujula.stores  # noqa: F401
from brujula import plan
from brujula.loading import apply  # noqa: F401

PEOPLE = (
    "id,first_name,last_name,email,phone,street,city\nC-1,Ada,Quist,ada@quist.example,212-555-0147,12 Mill Street,Birchmere\n"
)
FIRMS = "id,name,website,phone,street,city\nF-1,Harrow Violins,harrow.example,212-555-0147,12 Mill Street,Birchmere\n"

with tempfile.TemporaryDirectory() as place:
    for kind, held in (("contact", PEOPLE), ("account", FIRMS)):
        (listed := Path(place) / f"{kind}.csv").write_text(held)
        plan(str(listed), against=str(listed), entity=kind).write(Path(place) / kind)
