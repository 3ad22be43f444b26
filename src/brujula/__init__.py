"""Brujula decides what becomes of every row of a contact or account list before anything is loaded, loads it, and can take it back.

The public names load when first used.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

__version__ = "0.1.0"

_WHERE = {
    "plan": "brujula.run", "sweep": "brujula.run", "check": "brujula.lookup", "Lookup": "brujula.lookup", "Plan": "brujula.planning", "Policy": "brujula.policy.model", "inspect": "brujula.intake.profile",
    "load": "brujula.loading.apply", "undo": "brujula.loading.undo", "history": "brujula.loading.journal", "Load": "brujula.loading.journal",
    "open_store": "brujula.stores", "Problem": "brujula.problems",
    "BrujulaError": "brujula.errors", "InputError": "brujula.errors", "PolicyError": "brujula.errors", "PlanError": "brujula.errors",
    "UsageError": "brujula.errors", "StoreError": "brujula.errors",
}
__all__ = [*_WHERE, "__version__"]  # noqa: PLE0604

if TYPE_CHECKING:
    from brujula.errors import BrujulaError, InputError, PlanError, PolicyError, StoreError, UsageError
    from brujula.intake.profile import inspect
    from brujula.loading.apply import load
    from brujula.loading.journal import Load, history
    from brujula.loading.undo import undo
    from brujula.planning import Plan
    from brujula.policy.model import Policy
    from brujula.problems import Problem
    from brujula.lookup import Lookup, check
    from brujula.run import plan, sweep
    from brujula.stores import open_store


def __getattr__(name: str) -> Any:
    if name not in _WHERE:
        raise AttributeError(f"brujula has no {name!r}; it has {', '.join(sorted(_WHERE))}")
    from importlib import import_module

    return getattr(import_module(_WHERE[name]), name)


def __dir__() -> list[str]:
    return sorted(__all__)
