"""A starting policy for a list: every column with the field it would be taken for, and the choices there are, as comments."""

from __future__ import annotations

import json

from brujula.intake.mapping import Suggestion, entity_of, suggest
from brujula.intake.raw import RawList
from brujula.policy.model import OutcomesPolicy

_CHOICES = """
[outcomes]
mode = "{mode}"          # create-and-update, create-only, update-only
unsure = "{unsure}"                   # review, create, skip
duplicates = "{duplicates}"                # merge, review: existing records found to be the same

# [update]                          # what becomes of a field of a record that exists; without a line here, blanks are filled
# job_title = "replace"             # fill, replace, keep, append, union, strictest

# required = ["email"]              # rows without it are rejected (put this line above the first [section])

# [[rule]]                          # asked before the default rules; `brujula policy show` lists those
# name = "same mailbox, same person"
# verdict = "same"                  # same, unsure, different
# all = ["email is same", "given_name at least partial"]
"""


def starting_policy(raw: RawList, entity: str | None = None) -> str:
    """The policy as TOML text. entity : contact or account; found from the columns when left out."""
    entity = entity or entity_of(raw.table)
    lines = [f"# A policy for lists like {raw.name}.", f'entity = "{entity}"', "", "[columns]"]
    lines += [
        f"{json.dumps(s.column, ensure_ascii=False)} = {json.dumps(s.field)}{_comment(s)}" for s in suggest(raw.table, entity)
    ]
    defaults = OutcomesPolicy()
    return "\n".join(lines) + "\n" + _CHOICES.format(mode=defaults.mode, unsure=defaults.unsure, duplicates=defaults.duplicates)


def _comment(suggestion: Suggestion) -> str:
    why = suggestion.why.replace("\n", " ")
    return f"  # {suggestion.confidence:.0%} sure: {why}" if suggestion.field else "  # left out: no field fits"
