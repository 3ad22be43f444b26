"""What a policy does, in plain words."""

from __future__ import annotations

from collections.abc import Iterator

from brujula.policy.model import Policy, RulePolicy

_MODES = {
    "create-and-update": "Rows nobody is like are created; rows that are an existing record update it.",
    "create-only": "Rows nobody is like are created; rows that are an existing record are skipped.",
    "update-only": "Rows that are an existing record update it; rows nobody is like are skipped.",
    "allow-duplicates": "Every row is created, whoever is like it.",
}
_UNSURE = {
    "review": "Unsure rows are held for a person.",
    "create": "Unsure rows are created.",
    "skip": "Unsure rows are skipped.",
}
_DUPLICATES = {
    "merge": "Existing records found to be duplicates of each other are merged.",
    "review": "Existing records found to be duplicates of each other are held for a person.",
    "leave": "Existing records found to be duplicates of each other are left; the row goes to the one that would stay.",
}
_SEVERAL = {
    "review": "A row that is like several people is held for a person.",
    "best": "A row that is like several people goes to the one that clearly leads, else it is held for a person.",
    "newest": "A row that is like several people goes to the record changed last.",
    "all": "A row that is like several people updates them all.",
}
_TWICE = {
    "fold": "Rows of the list that stand for one are folded together.",
    "first": "Of rows of the list that stand for one, only the first is used.",
    "last": "Of rows of the list that stand for one, only the last is used.",
    "most-complete": "Of rows of the list that stand for one, only the fullest is used.",
}
_INACTIVE = {
    "skip": "Rows that are an inactive record are skipped.",
    "revive": "Rows that are an inactive record make it active again.",
    "leave-out": "Inactive records take no part.",
}
_MOVED = {
    "update": "A contact who is at another account now is tied to it; the old one is noted.",
    "review": "A contact who is at another account now is held for a person.",
    "create": "A contact who is at another account now is created once more.",
}
_SURVIVOR = {
    "most-complete": "the fullest record stays",
    "oldest": "the oldest record stays",
    "newest": "the record changed last stays",
    "most-trusted": "the record of the most trusted source stays",
    "most-linked": "the record that most others point at stays",
}
_SURVIVAL = {
    "fill": "filled where the record has none",
    "replace": "replaced by the list's",
    "keep": "kept",
    "append": "appended",
    "union": "united",
    "strictest": "the stricter stays",
    "longest": "the longest stays",
    "newest": "the newest stays",
    "most_trusted": "the most trusted source's stays",
    "most_frequent": "what most of them say stays",
}


def in_words(policy: Policy) -> list[str]:
    """Sentences, one a line."""
    return [
        f"A policy for {policy.entity}s.",
        *_outcomes(policy),
        *_taking_part(policy),
        *_loading(policy),
        *_columns(policy),
        "Rules, which stand above the evidence:",
        *(_rule(rule) for rule in policy.rule),
    ]


def _outcomes(policy: Policy) -> Iterator[str]:
    outcomes, match = policy.outcomes, policy.match
    yield from (_MODES[outcomes.mode], _UNSURE[outcomes.unsure], _SEVERAL[outcomes.several], _DUPLICATES[outcomes.duplicates])
    yield f"When records are merged, {_SURVIVOR[outcomes.survivor]}."
    yield _TWICE[outcomes.twice]
    yield f"Two records are the same from a probability of {match.same_from:g}, unsure from {match.unsure_from:g}."
    yield f"Compared: {', '.join(match.compare)}."
    if outcomes.inactive in _INACTIVE:
        yield _INACTIVE[outcomes.inactive]
    if outcomes.moved in _MOVED:
        yield _MOVED[outcomes.moved]
    if match.risk is not None:
        yield f"Of the automatic matches a share of {match.risk:g} may be wrong: the threshold follows from that."
    if match.staff is not None:
        yield f"At most a share of {match.staff:g} of the rows is held for want of evidence."


def _taking_part(policy: Policy) -> Iterator[str]:
    match, told, suppress = policy.match, policy.list, policy.suppress
    if told.label or told.date:
        yield f"The list is {told.label or 'one without a name'}{', of ' + told.date if told.date else ''}."
    if match.key:
        yield f"A record with the row's {match.key} is the row's record; records that share one are held for a person."
    if match.ids != "auto":
        yield "Ids in the list are the records' ids." if match.ids == "ours" else "Ids in the list are ignored."
    if policy.select.existing:
        yield f"Existing records take part when {' and '.join(policy.select.existing)}."
    if suppress.list:
        yield f"Rows of those listed in {suppress.list} are left alone."
    yield from (f"Rows are left alone when {condition}." for condition in suppress.rows)
    yield from (f"Records are kept out when {condition}." for condition in suppress.records)
    if policy.trust.order:
        yield f"Sources from the most trusted down: {', '.join(policy.trust.order)}."
    for field, order in policy.trust.fields.items():
        yield f"Sources of {field} from the most trusted down: {', '.join(order)}."


def _loading(policy: Policy) -> Iterator[str]:
    files, store = policy.files, policy.store
    if policy.give_back.fields:
        yield f"Given back with the list: {', '.join(policy.give_back.fields)} of the record each row is."
    for owner in policy.owner:
        which = f"whose {' and '.join(owner.when)} " if owner.when else ""
        yield f"New records {which}go to {', '.join(owner.to)}{' in turn' if len(owner.to) > 1 else ''}."
    if files.most:
        yield f"Load-ready files have at most {files.most:,} rows each."
    if policy.outcomes.losers == "deactivate":
        yield "Records merged into another are left in as inactive, and no longer matched."
    if policy.outcomes.stay:
        yield f"These records stay whatever else: {', '.join(policy.outcomes.stay)}."
    if files.follow_up:
        yield f"Load-ready files mark records less sure than {files.follow_up:g} for somebody to follow up."
    for child in policy.child:
        whose = f'the rows whose "{child.of}"' if child.of else "the records whose id"
        yield f'Rows of {child.list} belong to {whose} is in their "{child.parent}".'
    if store.table:
        shown = ", ".join(f"{column} is {field}" for column, field in store.columns.items())
        yield f"Existing records are in the table {store.table}, by its {store.id}: {shown}."
    if store.changed == "stop":
        yield "A load writes nothing at all when a record was changed since the plan."
    if policy.match.labels:
        yield f"Weights and probabilities are fitted to the pairs judged in {policy.match.labels}."


def _columns(policy: Policy) -> Iterator[str]:
    for column, field in policy.columns.items():
        yield f'Column "{column}" is {field}.' if field else f'Column "{column}" is left out.'
    if policy.list.rest:
        yield f"Columns no field is found for are kept as {policy.list.rest}."
    if policy.entity == "contact" and not policy.list.people:
        yield "A row is one person, however many its headings number."
    yield from (f"{field} is laid together from {pattern}." for field, pattern in policy.combine.items())
    yield from (f'Column "{column}" is taken apart into {pattern}.' for column, pattern in policy.split.items())
    yield from (f'{field} is "{text}" for every row.' for field, text in policy.constant.items())
    yield from (f'{field} is "{text}" where the list has none.' for field, text in policy.defaults.items())
    yield from (f"{field} is written in {case} case." for field, case in policy.case.items() if case != "as-is")
    for field, values in policy.allowed.items():
        yield f"{field} may be {', '.join(values)}; anything else is left out and named."
    yield from (f"{field}: {_SURVIVAL[how]}." for field, how in policy.update.items())
    if policy.required:
        yield f"A row without {', '.join(policy.required)} is rejected."


def _rule(rule: RulePolicy) -> str:
    unless = f"; unless {'; or '.join(rule.unless)}" if rule.unless else ""
    more = {
        "No third who is like both joins the two.": not rule.bridge,
        f"Where in either list hardly two share a {rule.alone}, that decides.": bool(rule.alone),
        "Where two of one list meet it as often, it holds nothing.": rule.crowded,
        "As far as two of one list meet it, what it holds is doubted.": rule.within,
        "It speaks only where the lists have many that meet it side by side.": rule.beside,
        f"From a probability of {rule.until:g} by the evidence alone, the next rule or the evidence decides.": rule.until != 1.0,
    }
    said = f'  "{rule.name}": {rule.verdict} when {"; and ".join(rule.all)}{unless}.'
    why = f" {rule.why[:1].upper()}{rule.why[1:]}." if rule.why else ""
    return said + why + "".join(f" {sentence}" for sentence, holds in more.items() if holds)
