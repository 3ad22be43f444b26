"""Which of many names hang together by pairs of them."""

from __future__ import annotations

from collections.abc import Iterable


def parts(pairs: Iterable[tuple[str, str]]) -> dict[str, str]:
    """For each name the name its connected part goes by. Plain Python: a review must not wait for the kernels to be read in."""
    parent: dict[str, str] = {}

    def root(x: str) -> str:
        while parent.setdefault(x, x) != x:
            parent[x] = parent[parent[x]]
            x = parent[x]
        return x

    for a, b in pairs:
        parent[root(a)] = root(b)
    return {x: root(x) for x in parent}
