"""Policies from TOML: a file is laid over the entity's default; all its mistakes are told at once."""

from __future__ import annotations

import re
import tomllib
from functools import cache
from importlib.resources import files
from pathlib import Path
from typing import Any, get_args

from pydantic import BaseModel, ValidationError

from brujula.errors import PolicyError, UsageError, instead
from brujula.intake.conditions import check
from brujula.policy.entities import ENTITIES
from brujula.policy.model import Policy


@cache
def _default(entity: str) -> dict[str, Any]:
    if entity not in ENTITIES:
        raise UsageError(f'"{entity}" is no entity; accepted: {", ".join(ENTITIES)}')
    return tomllib.loads((files("brujula.policy") / f"{entity}.toml").read_text("utf-8"))


@cache
def default_policy(entity: str) -> Policy:
    """The policy that ships for an entity."""
    return Policy.model_validate(_default(entity))


def read_policy(path: str | Path, entity: str | None = None) -> Policy:
    """Read a policy file. entity : what the call says the rows are; a file that says otherwise is an error.

    Raises PolicyError naming file, key, value, and the nearest known key.
    """
    path = Path(path)
    try:
        text = path.read_text("utf-8")
        given = tomllib.loads(text)
    except FileNotFoundError:
        raise PolicyError(f"{path}: no such policy file") from None
    except (tomllib.TOMLDecodeError, UnicodeDecodeError) as error:
        raise PolicyError(f"{path}: not a TOML 1.0 file: {error}") from None
    named = given.get("entity")
    if entity and named and named != entity:
        raise PolicyError(f'{path}, entity: the policy is for "{named}", the call says "{entity}"')
    base = _default(entity or (named if named in ENTITIES else "contact"))
    laid = base | {k: v for k, v in given.items() if k != "rule"}
    for section in ("match", "outcomes"):
        if isinstance(given.get(section), dict):
            laid[section] = base.get(section, {}) | given[section]
    labels = laid.get("match", {}).get("labels")
    if isinstance(labels, str) and labels:
        laid["match"]["labels"] = str(path.parent / labels)  # beside the policy, wherever it is used from
    suppressed = laid.get("suppress", {})
    if isinstance(suppressed, dict) and isinstance(suppressed.get("list"), str) and suppressed["list"]:
        laid["suppress"] = suppressed | {"list": str(path.parent / suppressed["list"])}
    if isinstance(laid.get("child"), list):
        laid["child"] = [
            c | {"list": str(path.parent / c["list"])} if isinstance(c, dict) and isinstance(c.get("list"), str) else c
            for c in laid["child"]
        ]
    laid["rule"] = [*given.get("rule", ()), *base["rule"]] if isinstance(given.get("rule", []), list) else given["rule"]
    laid["allowed"] = _value_lists(laid.get("allowed", {}))
    try:
        policy = Policy.model_validate(laid)
    except ValidationError as error:
        raise PolicyError("\n".join(f"{path}, {_placed(_mistake(e), text)}" for e in error.errors())) from None
    wrong = [_unknown(f'columns."{column}"', field, policy.entity) for column, field in policy.columns.items() if field]
    for section in ("update", "combine", "constant", "defaults", "case", "allowed", "required"):
        shown = "default" if section == "defaults" else section
        wrong += [_unknown(shown, field, policy.entity) for field in getattr(policy, section)]
    wrong += [_unknown(f'store.columns."{column}"', field, policy.entity) for column, field in policy.store.columns.items()]
    if bool(policy.store.table) != bool(policy.store.columns):
        wrong.append("store: a table of your own needs both table and columns")
    wrong += [_pattern(f'split."{column}"', pattern, policy.entity) for column, pattern in policy.split.items()]
    wrong += [
        f'combine.{f}: "{p}" names no column; accepted: a pattern such as "{{Street}} {{No}}"'
        for f, p in policy.combine.items()
        if "{" not in p
    ]
    wrong += [_unknown(f"trust.fields.{f}", f, policy.entity) for f in policy.trust.fields]
    wrong += [_unknown("give_back.fields", f, policy.entity) for f in policy.give_back.fields]
    wrong += [_unknown("match.key", policy.match.key, policy.entity)] if policy.match.key else []
    if found := [w for w in wrong if w]:
        raise PolicyError("\n".join(f"{path}, {_placed(w, text)}" for w in found))
    for where, conditions in (
        ("select.existing", policy.select.existing),
        ("suppress.rows", policy.suppress.rows),
        ("suppress.records", policy.suppress.records),
        *((f"owner.{i}.when", rule.when) for i, rule in enumerate(policy.owner, 1)),
    ):
        check(conditions, ENTITIES[policy.entity].fields, f"{path}, {where}")
    return policy


def _placed(mistake: str, text: str) -> str:
    """A mistake with the line of its key, where the file has the key on a line of its own."""
    *section, key = (k.strip('"') for k in re.findall(r'"[^"]*"|[^.":]+', mistake.partition(": ")[0]))
    number = next((int(k) for k in section if k.isdigit()), 0)
    name = r"\s*\.\s*".join(f'"?{re.escape(k)}"?' for k in section if not k.isdigit())
    lines = text.splitlines()
    heads = [i for i, line in enumerate(lines) if re.match(r"\s*\[", line)]
    own = [i for i in heads if name and re.match(rf"\s*\[+\s*{name}\s*\]+", lines[i])]
    start = own[number] if number < len(own) else -1
    if name and start < 0:
        return mistake
    end = next((i for i in heads if i > start), len(lines))
    at = next((i for i in range(start + 1, end) if re.match(rf'\s*"?{re.escape(key)}"?\s*=', lines[i])), start)
    return f"{mistake} (line {at + 1})" if at >= 0 else mistake


def _value_lists(allowed: Any) -> Any:
    """A plain list of values means each of them, without synonyms."""
    if not isinstance(allowed, dict):
        return allowed
    plain = {f: dict.fromkeys(v, ()) for f, v in allowed.items() if isinstance(v, list) and all(isinstance(x, str) for x in v)}
    return allowed | plain


def _unknown(where: str, field: str, entity: str) -> str:
    """The mistake of a field that does not exist, or ""."""
    known = ENTITIES[entity].fields
    if field in known:
        return ""
    return f'{where}: no field "{field}"; {instead(field, known)}'


def _pattern(where: str, pattern: str, entity: str) -> str:
    """The mistake in a pattern of fields, or ""."""
    fields = re.findall(r"\{([^{}]*)\}", pattern)
    if not fields or re.search(r"\}\{", pattern) or len(set(fields)) < len(fields):
        return f'{where}: "{pattern}" is no pattern of fields; accepted: such as "{{city}}, {{region}} {{postal_code}}", text between any two'
    return next((m for f in fields if (m := _unknown(where, f, entity))), "")


def _mistake(error: Any) -> str:
    """One of pydantic's findings in our words."""
    loc = [str(x) for x in error["loc"]]
    where = ".".join(loc)
    if error["type"] == "extra_forbidden":
        return f'{where}: unknown key "{loc[-1]}"; {instead(loc[-1], _model_at(loc[:-1]).model_fields)}'
    value = error.get("input")
    shown = f' "{value}"' if isinstance(value, (str, int, float, bool)) else ""
    return f"{where}:{shown} {error['msg'].replace('Input should be', 'should be')}"


def _model_at(path: list[str]) -> type[BaseModel]:
    """The model that stands at a path of keys."""
    model: type[BaseModel] = Policy
    for key in path:
        if key.isdigit():
            continue
        annotation = model.model_fields[key].annotation
        inner = next((a for a in (annotation, *get_args(annotation)) if isinstance(a, type) and issubclass(a, BaseModel)), None)
        if inner is None:
            return model
        model = inner
    return model
