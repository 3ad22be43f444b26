"""Where existing records live and loads go."""

from __future__ import annotations

import os
import re
from typing import TYPE_CHECKING

from brujula.errors import UsageError, path_as_text
from brujula.policy.model import StorePolicy
from brujula.stores.sql import SqlStore

if TYPE_CHECKING:
    from brujula.stores.http import HttpStore

__all__ = ["SqlStore", "expanded", "is_service", "open_database", "open_store"]


def is_service(url: str) -> bool:
    """Whether a URL is that of a service spoken to over HTTP."""
    return url.startswith(("http://", "https://"))


def expanded(url: str) -> str:
    """The URL with `${NAME}` replaced by the environment variable of that name. Raises UsageError for one that is not set."""

    def value(found: re.Match[str]) -> str:
        if found[1] not in os.environ:
            raise UsageError(f"{url.split('@')[-1]}: the environment variable {found[1]} is not set")
        return os.environ[found[1]]

    return re.sub(r"\$\{(\w+)\}", value, url)


def open_store(
    url: str, create: bool = False, own: StorePolicy | None = None, journal_only: bool = False
) -> SqlStore | HttpStore:
    """Open a store by its URL: `sqlite:///crm.db`, `postgresql://user@host/name` or `http://host:port`.

    create : make the tables where they are missing; without it a store that is not there is an error
    own    : the user's table that holds the records, where they are not in ours
    journal_only : what is kept beside the records is all that is wanted
    `${NAME}` in the URL stands for an environment variable, so that a password need not be written down.

    Raises UsageError for a URL that names no store we know, StoreError when it cannot be opened.
    """
    if is_service(url):
        from brujula.stores.http import HttpStore

        return HttpStore(expanded(url))
    return open_database(url, create, own, journal_only)


def open_database(url: str, create: bool = False, own: StorePolicy | None = None, journal_only: bool = False) -> SqlStore:
    """Open a store that is a database, as `open_store` does."""
    if (shown := path_as_text(url)) != url:
        raise UsageError(f"{shown.split('@')[-1]}: a store's URL has to be text (UTF-8); name its file otherwise")
    scheme = url.split("://")[0]
    if scheme not in ("sqlite", "postgresql"):
        raise UsageError(
            f'{url.split("@")[-1]}: no store of the kind "{scheme}"; accepted: sqlite:///FILE, postgresql://USER@HOST/NAME, http://HOST'
        )
    return SqlStore(expanded(url), create, own, journal_only)
