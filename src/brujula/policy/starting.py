"""A starting policy for a list: every column with the field it would be taken for, and the choices there are, as comments."""

from __future__ import annotations

import json

from brujula.intake import people
from brujula.intake.entity import entity_of
from brujula.intake.mapping import Suggestion, suggest
from brujula.intake.raw import RawList
from brujula.intake.shape import shape
from brujula.policy.model import OutcomesPolicy, Policy

_CHOICES = """
# [list]
# rest = "notes"                    # columns no field was found for: "" leaves them out, notes or tags keeps them
# people = false                    # do not make several rows of `Contact 1 name ... Contact 2 name ...`

# [combine]                         # a field from several columns
# street = "{{Street}} {{House no}}"

# [split]                           # several fields from one column
# "Place" = "{{city}}, {{region}} {{postal_code}}"

# [constant]                        # the same for every row
# source = "district roster"

# [default]                         # where the list has none
# country = "US"

# [case]                            # as-is, title, upper, lower
# family_name = "title"

# [allowed.{choice}]                # values, each with its synonyms; anything else is left out and named
# School = ["school", "k-12", "Schule"]

[outcomes]
mode = "{mode}"          # create-and-update, create-only, update-only
unsure = "{unsure}"                   # review, create, skip
duplicates = "{duplicates}"                # merge, review: existing records found to be the same

# [update]                          # what becomes of a field of a record that exists; without a line here, blanks are filled
# {replaced} = "replace"             # fill, replace, keep, append, union, strictest

# [[rule]]                          # asked before the default rules; `brujula policy show` lists those
# name = "same mailbox, same {who}"
# verdict = "same"                  # same, unsure, different
# all = ["email is same", "{named} at least partial"]
"""


def starting_policy(raw: RawList, entity: str | None = None) -> str:
    """The policy as TOML text. entity : contact or account; found from the columns when left out."""
    entity = entity or entity_of(raw.table)
    lines = [
        f"# A policy for lists like {raw.name}.",
        f'entity = "{entity}"',
        '# required = ["email"]              # rows without it are rejected',
        "",
        "[columns]",
    ]
    # A column that makes a field together with others, or several fields, stays unnamed: what is named is one field, and nothing else is.
    shaped = shape(raw, Policy.default(entity), entity)
    listed = shaped.columns
    made: dict[str, list[str]] = {}
    for field, said in listed.items():
        for column in said.split(" + ") if said not in raw.table.column_names else [said]:
            made.setdefault(column, []).append(field)
    # So does one of several people's in a row: it is read under the heading of them all.
    places = None if shaped.person is None else people.of_people(raw.table.column_names)
    for head, column in ((h, c) for slot in (places.slots if places else ()) for h, c in slot.items()):
        made.setdefault(column, []).extend(made.get(head, ["nothing"]))
    for s in suggest(raw.table, entity):
        column, fields = json.dumps(s.column, ensure_ascii=False), made.get(s.column, [])
        alone = not fields or (fields == [s.field] and listed[s.field] == s.column)
        lines.append(f"{column} = {json.dumps(s.field)}{_comment(s)}" if alone else f"# {column}  counts as {', '.join(fields)}")
    defaults = OutcomesPolicy()
    of_people = {"choice": "owner", "replaced": "job_title", "who": "person", "named": "given_name"}
    of_firms = {"choice": "industry", "replaced": "industry", "who": "organisation", "named": "name"}
    words = of_people if entity == "contact" else of_firms
    chosen = {"mode": defaults.mode, "unsure": defaults.unsure, "duplicates": defaults.duplicates}
    return "\n".join(lines) + "\n" + _CHOICES.format(**chosen, **words)


def _comment(suggestion: Suggestion) -> str:
    why = suggestion.why.replace("\n", " ")
    return f"  # {suggestion.confidence:.0%} sure: {why}" if suggestion.field else "  # left out: no field fits"
