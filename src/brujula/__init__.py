"""Brujula decides what becomes of every row of a contact or account list before anything is loaded, loads it, and can take it back.

The public names load when first used.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

__version__ = "0.1.0"

_WHERE = {
    name: f"brujula.{module}"
    for module, names in {
        "run": "plan sweep",
        "planning": "Plan",
        "policy.model": "Policy",
        "intake.profile": "inspect",
        "lookup": "check Lookup",
        "loading.apply": "load",
        "loading.undo": "undo",
        "loading.journal": "history Load",
        "stores": "open_store",
        "problems": "Problem",
        "errors": "BrujulaError InputError PolicyError PlanError UsageError StoreError",
    }.items()
    for name in names.split()
}

if TYPE_CHECKING:
    from brujula.errors import (
        BrujulaError as BrujulaError,
        InputError as InputError,
        PlanError as PlanError,
        PolicyError as PolicyError,
        StoreError as StoreError,
        UsageError as UsageError,
    )
    from brujula.intake.profile import inspect as inspect
    from brujula.loading.apply import load as load
    from brujula.loading.journal import Load as Load, history as history
    from brujula.loading.undo import undo as undo
    from brujula.lookup import Lookup as Lookup, check as check
    from brujula.planning import Plan as Plan
    from brujula.policy.model import Policy as Policy
    from brujula.problems import Problem as Problem
    from brujula.run import plan as plan, sweep as sweep
    from brujula.stores import open_store as open_store
else:
    __all__ = sorted([*_WHERE, "__version__"])


def __getattr__(name: str) -> Any:
    if name not in _WHERE:
        raise AttributeError(f"brujula has no {name!r}; it has {', '.join(sorted(_WHERE))}")
    from importlib import import_module

    return getattr(import_module(_WHERE[name]), name)


def __dir__() -> list[str]:
    return sorted([*_WHERE, "__version__"])
