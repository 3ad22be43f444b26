"""What a policy does, in plain words."""

from __future__ import annotations

from brujula.policy.model import Policy

_MODES = {
    "create-and-update": "Rows nobody is like are created; rows that are an existing record update it.",
    "create-only": "Rows nobody is like are created; rows that are an existing record are skipped.",
    "update-only": "Rows that are an existing record update it; rows nobody is like are skipped.",
}
_UNSURE = {
    "review": "Unsure rows are held for a person.",
    "create": "Unsure rows are created.",
    "skip": "Unsure rows are skipped.",
}
_DUPLICATES = {
    "merge": "Existing records found to be duplicates of each other are merged.",
    "review": "Existing records found to be duplicates of each other are held for a person.",
}
_SURVIVAL = {
    "fill": "filled where the record has none",
    "replace": "replaced by the list's",
    "keep": "kept",
    "append": "appended",
    "union": "united",
    "strictest": "the stricter stays",
}


def in_words(policy: Policy) -> list[str]:
    """Sentences, one a line."""
    out = [
        f"A policy for {policy.entity}s.",
        _MODES[policy.outcomes.mode],
        _UNSURE[policy.outcomes.unsure],
        _DUPLICATES[policy.outcomes.duplicates],
        f"Two records are the same from a probability of {policy.match.same_from:g}, unsure from {policy.match.unsure_from:g}.",
        f"Compared: {', '.join(policy.match.compare)}.",
    ]
    if policy.match.labels:
        out.append(f"Weights and probabilities are fitted to the pairs judged in {policy.match.labels}.")
    out += [
        f'Column "{column}" is {field}.' if field else f'Column "{column}" is left out.'
        for column, field in policy.columns.items()
    ]
    if policy.list.rest:
        out.append(f"Columns no field is found for are kept as {policy.list.rest}.")
    if policy.entity == "contact" and not policy.list.people:
        out.append("A row is one person, however many its headings number.")
    out += [f"{field} is laid together from {pattern}." for field, pattern in policy.combine.items()]
    out += [f'Column "{column}" is taken apart into {pattern}.' for column, pattern in policy.split.items()]
    out += [f'{field} is "{text}" for every row.' for field, text in policy.constant.items()]
    out += [f'{field} is "{text}" where the list has none.' for field, text in policy.defaults.items()]
    out += [f"{field} is written in {case} case." for field, case in policy.case.items() if case != "as-is"]
    out += [
        f"{field} may be {', '.join(values)}; anything else is left out and named." for field, values in policy.allowed.items()
    ]
    out += [f"{field}: {_SURVIVAL[how]}." for field, how in policy.update.items()]
    if policy.required:
        out.append(f"A row without {', '.join(policy.required)} is rejected.")
    out.append("Rules, which stand above the evidence:")
    for rule in policy.rule:
        unless = f"; unless {'; or '.join(rule.unless)}" if rule.unless else ""
        out.append(
            f'  "{rule.name}": {rule.verdict} when {"; and ".join(rule.all)}{unless}'
            + (f". {rule.why[:1].upper()}{rule.why[1:]}." if rule.why else ".")
        )
    return out
