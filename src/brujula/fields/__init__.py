"""One file per field kind, nothing else. `kinds()` finds them; a new file is a new kind."""

from __future__ import annotations

import importlib
import pkgutil
from functools import cache

from brujula.core.kind import Kind


@cache
def kinds() -> dict[str, Kind]:
    """Every kind by name, from the modules of this package."""
    found = {}
    for module in sorted(pkgutil.iter_modules(__path__), key=lambda m: m.name):
        members = vars(importlib.import_module(f"{__name__}.{module.name}")).values()
        for member in members:
            if (
                isinstance(member, type)
                and issubclass(member, Kind)
                and member is not Kind
                and member.__module__.endswith(module.name)
            ):
                found[member.name] = member()
    return found
