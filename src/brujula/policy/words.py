"""What a policy does, in plain words."""

from __future__ import annotations

from brujula.policy.model import Policy

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
    out = [
        f"A policy for {policy.entity}s.",
        _MODES[policy.outcomes.mode],
        _UNSURE[policy.outcomes.unsure],
        _SEVERAL[policy.outcomes.several],
        _DUPLICATES[policy.outcomes.duplicates],
        f"When records are merged, {_SURVIVOR[policy.outcomes.survivor]}.",
        _TWICE[policy.outcomes.twice],
        f"Two records are the same from a probability of {policy.match.same_from:g}, unsure from {policy.match.unsure_from:g}.",
        f"Compared: {', '.join(policy.match.compare)}.",
    ]
    if policy.outcomes.inactive in _INACTIVE:
        out.append(_INACTIVE[policy.outcomes.inactive])
    if policy.outcomes.moved in _MOVED:
        out.append(_MOVED[policy.outcomes.moved])
    if policy.match.risk is not None:
        out.append(f"Of the automatic matches a share of {policy.match.risk:g} may be wrong: the threshold follows from that.")
    if policy.match.staff is not None:
        out.append(f"At most a share of {policy.match.staff:g} of the rows is held for want of evidence.")
    if policy.list.label or policy.list.date:
        out.append(
            f"The list is {policy.list.label or 'one without a name'}{', of ' + policy.list.date if policy.list.date else ''}."
        )
    if policy.match.key:
        out.append(
            f"A record with the row's {policy.match.key} is the row's record; records that share one are held for a person."
        )
    if policy.match.ids != "auto":
        out.append("Ids in the list are the records' ids." if policy.match.ids == "ours" else "Ids in the list are ignored.")
    if policy.select.existing:
        out.append(f"Existing records take part when {' and '.join(policy.select.existing)}.")
    if policy.suppress.list:
        out.append(f"Rows of those listed in {policy.suppress.list} are left alone.")
    out += [f"Rows are left alone when {condition}." for condition in policy.suppress.rows]
    out += [f"Records are kept out when {condition}." for condition in policy.suppress.records]
    if policy.trust.order:
        out.append(f"Sources from the most trusted down: {', '.join(policy.trust.order)}.")
    out += [f"Sources of {field} from the most trusted down: {', '.join(order)}." for field, order in policy.trust.fields.items()]
    if policy.give_back.fields:
        out.append(f"Given back with the list: {', '.join(policy.give_back.fields)} of the record each row is.")
    out += [
        f"New records {'whose ' + ' and '.join(rule.when) + ' ' if rule.when else ''}go to {', '.join(rule.to)}{' in turn' if len(rule.to) > 1 else ''}."
        for rule in policy.owner
    ]
    if policy.files.most:
        out.append(f"Load-ready files have at most {policy.files.most:,} rows each.")
    if policy.outcomes.losers == "deactivate":
        out.append("Records merged into another are left in as inactive, and no longer matched.")
    if policy.outcomes.stay:
        out.append(f"These records stay whatever else: {', '.join(policy.outcomes.stay)}.")
    if policy.files.follow_up:
        out.append(f"Load-ready files mark records less sure than {policy.files.follow_up:g} for somebody to follow up.")
    out += [
        f'Rows of {c.list} belong to {"the rows whose " + chr(34) + c.of + chr(34) if c.of else "the records whose id"} is in their "{c.parent}".'
        for c in policy.child
    ]
    if policy.store.table:
        shown = ", ".join(f"{c} is {f}" for c, f in policy.store.columns.items())
        out.append(f"Existing records are in the table {policy.store.table}, by its {policy.store.id}: {shown}.")
    if policy.store.changed == "stop":
        out.append("A load writes nothing at all when a record was changed since the plan.")
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
            + ("" if rule.bridge else " No third who is like both joins the two.")
            + (f" Where in either list hardly two share a {rule.alone}, that decides." if rule.alone else "")
            + (" Where two of one list meet it as often, it holds nothing." if rule.crowded else "")
            + (" As far as two of one list meet it, what it holds is doubted." if rule.within else "")
            + (" It speaks only where the lists have many that meet it side by side." if rule.beside else "")
            + (
                ""
                if rule.until == 1.0
                else f" From a probability of {rule.until:g} by the evidence alone, the next rule or the evidence decides."
            )
        )
    return out
