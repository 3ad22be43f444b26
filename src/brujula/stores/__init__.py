"""Where existing records live and loads go."""

from __future__ import annotations

from brujula.errors import UsageError
from brujula.stores.sql import SqlStore

__all__ = ["SqlStore", "open_store"]


def open_store(url: str, create: bool = False) -> SqlStore:
    """Open a store by its URL: `sqlite:///crm.db` or `postgresql://user@host/name`.

    create : make the tables where they are missing; without it a store that is not there is an error
    Raises UsageError for a URL that names no store we know, StoreError when it cannot be opened.
    """
    scheme = url.split("://")[0]
    if scheme not in ("sqlite", "postgresql"):
        raise UsageError(
            f'{url.split("@")[-1]}: no store of the kind "{scheme}"; accepted: sqlite:///FILE, postgresql://USER@HOST/NAME'
        )
    return SqlStore(url, create)
