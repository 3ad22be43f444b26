"""Which of many names hang together by pairs of them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from brujula.core.group import roots, unite


def parts(pairs: Sequence[tuple[str, str]]) -> dict[str, int]:
    """The number of the connected part that each name is in."""
    number = {name: i for i, name in enumerate(dict.fromkeys(name for pair in pairs for name in pair))}
    ends = np.array([[number[a], number[b]] for a, b in pairs], np.int32).reshape(-1, 2)
    none, n = np.zeros(0, np.int32), len(number)
    parent, _ = unite((ends[:, 0].copy(), ends[:, 1].copy()), (none, none), n, n)
    return dict(zip(number, roots(parent).tolist(), strict=True))
