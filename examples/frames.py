"""The same with pandas frames: no files, no store."""

import pandas as pd

import brujula

existing = pd.DataFrame(
    [
        {"id": "C-1", "first_name": "Robert", "last_name": "Ames", "email": "bob@ames.example", "phone": "(212) 555-0147"},
        {"id": "C-2", "first_name": "María", "last_name": "García López", "email": "", "phone": "305-555-0101"},
        {"id": "C-3", "first_name": "Ada", "last_name": "Quist", "email": "ada@quist.example", "phone": ""},
    ]
)
incoming = pd.DataFrame(
    [
        {"Name": "Ames, Bob", "Mail": "BOB@ames.example", "Tel": "", "School": "Harrow Academy", "Town": "Alder Falls"},
        {"Name": "Maria Garcia", "Mail": "", "Tel": "+1 305 555 0101", "School": "", "Town": ""},
        {"Name": "Carla Wren", "Mail": "carla@wren.example", "Tel": "", "School": "", "Town": "Rookwood"},
    ]
)

plan = brujula.plan(incoming, against=existing)
print(plan.outcomes[["row", "outcome", "record_id", "confidence", "reason"]].to_string(index=False))
print(plan.changes[["record_id", "field", "before", "after", "from"]].to_string(index=False))

answer = brujula.check({"given_name": "Ada", "family_name": "Quist", "email": "ada@quist.example"}, against=existing)
print(answer.sentence)
print("rows that would write nothing:", plan.counts["unchanged"], "unchanged")
