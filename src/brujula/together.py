"""Contacts and their accounts out of one list: accounts are decided first, and contacts are tied to the ones found or made."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula import run
from brujula.core import decide as deciding
from brujula.core.batch import Texts
from brujula.core.steps.text import fold
from brujula.errors import InputError
from brujula.fitting import quiet
from brujula.intake import astray, sources, turned
from brujula.intake.entity import entity_of
from brujula.intake.numbers import agreed
from brujula.intake.raw import RawList
from brujula.intake.shape import Shaped, as_it_is, shape
from brujula.loading.naming import NEW
from brujula.planning import Plan
from brujula.policy.entities import ENTITIES
from brujula.policy.model import Policy
from brujula.tables.mailboxes import free

_PLACE = ("street", "city", "region", "postal_code", "country")


@dataclass(frozen=True)
class Tied:
    """Per contact row: the line of the list of accounts it belongs to (-1 = none), and the account it is tied to, "" where none is sure."""

    line: NDArray[np.int64]
    account_id: pa.Array


def plan_together(
    incoming: Any,
    against: Any,
    accounts: Any,
    policy: Policy | str | None = None,
    account_policy: Policy | str | None = None,
    on_step: Callable[[str], None] = quiet,
) -> Plan:
    """Decide on a list of contacts and on the accounts it names.

    against, accounts : existing contacts and existing accounts: paths, store URLs or frames
    The plan of the accounts hangs on the contacts' plan as `accounts`; a contact row gets the account_id of the account its own is,
    or `new:` and the action that creates it. A row whose account is open gets none.

    Raises as `plan` does.
    """
    chosen = policy if isinstance(policy, Policy) else Policy.read(policy, "contact") if policy else Policy.default("contact")
    theirs = (
        account_policy
        if isinstance(account_policy, Policy)
        else Policy.read(account_policy, "account")
        if account_policy
        else Policy.default("account")
    )
    on_step("reading")
    rows = sources.read_source(incoming, chosen.list, "contact")
    held = as_it_is(sources.read_source(against, None, "contact"), "contact", not sources.is_url(against))
    listed = turned.in_place(shape(rows, chosen, "contact", held), held, chosen.columns.values())
    listed, held = agreed(astray.not_used(listed, held), held)
    found = sources.read_source(accounts, None, "account")
    if not sources.is_url(accounts) and entity_of(found.table) != "account":
        raise InputError(f"{found.name}: holds contacts, not accounts; columns are {', '.join(found.table.column_names)}")
    firms = as_it_is(found, "account", not sources.is_url(accounts))
    lines, line_of = accounts_of(listed, sources.record_ids(firms))
    on_step("accounts")
    first = run.decide_on(lines, firms, theirs, sources.memory(accounts, "account"), on_step)
    tied = _tied(first, line_of)
    listed = _with_account(listed, tied)
    second = run.decide_on(listed, held, chosen, sources.memory(against, "contact"), on_step, accounts=tied.account_id)
    return replace(second, accounts=first)


def accounts_of(listed: Shaped, ids: pa.Array | None = None) -> tuple[Shaped, NDArray[np.int64]]:
    """The accounts a list of contacts names, each once, and per row its line among them (-1 = none).

    ids : those of the existing accounts; rows that give one of them name one account, whatever they call it

    Rows name one account when the names fold to the same words and town, and mail domain or website do not contradict. A value
    of an account is the one most of its rows give.
    """
    n = listed.raw.table.num_rows
    name = _text(listed, "account", n)
    words = fold(Texts.of(name))
    folded = [" ".join(map(str, words.ids[a:b].tolist())) for a, b in zip(words.offsets[:-1], words.offsets[1:], strict=True)]
    city = pc.utf8_lower(_text(listed, "city", n)).to_pylist()
    domain = _work_domain(_text(listed, "email", n)).to_pylist()
    site = _text(listed, "website", n).to_pylist()
    own = _text(listed, "account_id", n)
    own = pc.if_else(pc.is_in(own, value_set=ids.cast(pa.large_string())), own, "") if ids is not None else pa.array([""] * n)
    key = [f"{f}|{c}" if f else "" for f, c in zip(folded, city, strict=True)]
    key = [f"id {i}" if i else k for i, k in zip(own.to_pylist(), key, strict=True)]
    number: dict[str, int] = {}
    line = np.array([number.setdefault(k, len(number)) if k else -1 for k in key], np.int64)
    firms_of: dict[str, set[int]] = {}
    for d, at in zip(domain, line.tolist(), strict=True):
        firms_of.setdefault(d, set()).add(at)
    # A domain that people of several accounts use is a provider's, listed or not.
    domain = [d if len(firms_of[d]) < 3 else "" for d in domain]
    web = pa.array([s or d for s, d in zip(site, domain, strict=True)], pa.large_string())
    columns = {"id": own} if pc.any(pc.not_equal(own, "")).as_py() else {}
    columns |= {"name": name, "website": web} | {f: _text(listed, f, n) for f in _PLACE if f in listed.values}
    made = {f: _most_given(v, line, len(number)) for f, v in columns.items()}
    raw = RawList(f"{listed.raw.name} (accounts)", pa.table(made), (f"{len(number):,} accounts named by {n:,} rows",))
    values = {f: pa.chunked_array([v]) for f, v in made.items()}
    return Shaped(raw, values, {f: listed.columns["account_id"] if f == "id" else f for f in made}), line


def _text(listed: Shaped, field: str, n: int) -> pa.Array:
    if field not in listed.values:
        return pa.array([""] * n, pa.large_string())
    whole = pc.utf8_trim_whitespace(listed.values[field]).combine_chunks()
    return pa.concat_arrays(whole.chunks) if isinstance(whole, pa.ChunkedArray) else whole


def _work_domain(mail: pa.Array) -> pa.Array:
    """Domain of each address that is no provider's; "" for the others."""
    domain = pc.replace_substring_regex(pc.utf8_lower(mail), r"^[^@]*@?", "")
    return pc.if_else(free(domain), "", domain)


def _most_given(values: pa.Array, line: NDArray[np.int64], n: int) -> pa.Array:
    """Per line the value most of its rows give, of equals the first in order of the alphabet; "" where none gives any."""
    coded = values.dictionary_encode()
    rank = np.argsort(np.argsort(np.array(coded.dictionary.to_pylist(), object).astype(str), kind="stable"), kind="stable")
    code = coded.indices.to_numpy(zero_copy_only=False)
    use = (line >= 0) & pc.not_equal(values, "").to_numpy(zero_copy_only=False)
    pair, counts = np.unique(np.stack([line[use], code[use]]), axis=1, return_counts=True)
    order = np.lexsort((rank[pair[1]] if len(rank) else pair[1], -counts, pair[0]))
    owner, first = np.unique(pair[0][order], return_index=True)
    at = np.full(n, -1, np.int64)
    at[owner] = pair[1][order][first]
    return pc.fill_null(coded.dictionary.take(pa.array(at, mask=at < 0)), "")


def _tied(accounts: Plan, line: NDArray[np.int64]) -> Tied:
    """Per contact row the id of the account its line is or becomes."""
    known = np.isin(accounts.outcome, (deciding.UPDATE, deciding.UNCHANGED, deciding.MERGE))
    table = accounts.outcomes_table
    found = pc.replace_substring_regex(table["record_id"].combine_chunks(), ";.*$", "")
    new = pc.binary_join_element_wise(
        pa.scalar(NEW, pa.large_string()), table["action"].combine_chunks(), pa.scalar("", pa.large_string())
    )
    ids = pc.if_else(pa.array(known), found, pc.if_else(pa.array(accounts.outcome == deciding.CREATE), new, ""))
    whole = pa.concat_arrays([ids.cast(pa.large_string()), pa.array([""], pa.large_string())])
    return Tied(line, whole.take(pa.array(np.where(line < 0, len(whole) - 1, line))))


def _with_account(listed: Shaped, tied: Tied) -> Shaped:
    values = dict(listed.values) | {"account_id": pa.chunked_array([tied.account_id])}
    order = {f: values[f] for f in ENTITIES["contact"].fields if f in values}
    return replace(listed, values=order, columns={**listed.columns, "account_id": "the account of the row"})
