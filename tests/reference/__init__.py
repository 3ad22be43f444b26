"""Slow, obvious twins of the kernels."""

import re


def osa(a: str, b: str) -> int:
    """Optimal string alignment distance, whole table."""
    d = [[max(i, j) if 0 in (i, j) else 0 for j in range(len(b) + 1)] for i in range(len(a) + 1)]
    for i in range(1, len(a) + 1):
        for j in range(1, len(b) + 1):
            d[i][j] = min(d[i - 1][j] + 1, d[i][j - 1] + 1, d[i - 1][j - 1] + (a[i - 1] != b[j - 1]))
            if i > 1 and j > 1 and a[i - 1] == b[j - 2] and a[i - 2] == b[j - 1]:
                d[i][j] = min(d[i][j], d[i - 2][j - 2] + 1)
    return d[-1][-1]


def jaro_winkler(a: str, b: str) -> float:
    """Jaro-Winkler by flags, as in Winkler 1990."""
    if not a or not b:
        return 0.0
    reach = max(max(len(a), len(b)) // 2 - 1, 0)
    taken = [False] * len(a)
    left, right = [], []
    for j, c in enumerate(b):
        for i in range(max(0, j - reach), min(len(a), j + reach + 1)):
            if not taken[i] and a[i] == c:
                taken[i] = True
                right.append(c)
                break
    left = [c for c, t in zip(a, taken, strict=True) if t]
    if not left:
        return 0.0
    m, moved = len(left), sum(x != y for x, y in zip(left, right, strict=True))
    jaro = (m / len(a) + m / len(b) + (m - moved / 2) / m) / 3
    prefix = 0
    while prefix < min(4, len(a), len(b)) and a[prefix] == b[prefix]:
        prefix += 1
    return jaro + prefix * 0.1 * (1 - jaro)


def groups(n: int, links: list[tuple[int, int]], apart: list[tuple[int, int]]) -> list[int]:
    """Groups by following links in order, none across a pair held apart; numbered by first member."""
    of = list(range(n))
    for a, b in links:
        ga, gb = of[a], of[b]
        if ga == gb or any({of[x], of[y]} == {ga, gb} for x, y in apart):
            continue
        of = [ga if g == gb else g for g in of]
    order = {g: i for i, g in enumerate(dict.fromkeys(of))}
    return [order[g] for g in of]


def stands_in(text, word):
    """Whether the word stands in the text, an e behind a, o and u being optional in it."""
    return re.search("".join(c + "e?" if c in "aou" else c for c in word), text) is not None
