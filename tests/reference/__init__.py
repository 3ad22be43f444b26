"""Slow, obvious twins of the kernels."""

import math
import os
import re
from collections import Counter


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


def place_in(text, word):
    """Where the word stands in the text, an e behind a, o and u being optional in it; empty where it does not."""
    found = re.search("".join(c + "e?" if c in "aou" else c for c in word[:-1]) + word[-1], text)
    return range(*found.span()) if found else range(0)


def slip(a, b):
    """0 equal, 1 a slip, 2 similar, 3 not: an edit counts by how long the shorter word is and whether both begin alike."""
    short, d, first = min(len(a), len(b)), osa(a, b), a[0] == b[0]
    if a == b:
        return 0
    if short < 3 or abs(len(a) - len(b)) > 3:
        return 3
    if (d == 1 and (short >= 5 or (short == 4 and first))) or (d == 2 and short >= 8 and first):
        return 1
    return 2 if d == 1 or (d == 2 and short >= 5) or (d == 3 and short >= 8 and first) else 3


def same_but_umlauts(a, b):
    """The same once ae, oe, ue and aa are written with one letter; an e behind a double a is one too."""
    return a == b or any(same_but_umlauts(x, b) for x in _shorter(a)) or any(same_but_umlauts(a, x) for x in _shorter(b))


def _shorter(word):
    return [
        word[:i] + word[i + 1 :]
        for i in range(1, len(word))
        if (word[i] == "e" and word[i - 1] in "aou") or word[i - 1 : i + 1] == "aa"
    ]


def same_but_i(a, b):
    """The same once y, i and j (but a first j) are one i, however many stand together; a last letter behind a consonant is not all that differs."""
    if len(a) == len(b) > 1 and a != b and a[:-1] == b[:-1] and a[-2] not in "yij":
        return False
    return len({re.sub(r"^[yi][yij]*|(?<=.)[yij]+", "i", word, flags=re.S) for word in (a, b)}) == 1


def is_skeleton(a, b):
    """Both begin alike; what the shorter has besides are no vowels and stand in the rest of the longer in order."""
    alike = len(os.path.commonprefix([a, b]))
    rest = iter(b[alike:])
    return 2 <= len(a) < len(b) and alike > 0 and all(c not in "aeiou" and c in rest for c in a[alike:])


def text_distance(a, b):
    """Edit distance up to 9; 9 where the digits differ or the lengths do by more than three."""
    digits = [re.sub(r"\D", "", x) for x in (a, b)]
    return 9 if digits[0] != digits[1] or abs(len(a) - len(b)) > 3 else min(osa(a, b), 9)


def letters_apart(a, b):
    """Letters, and whether any digit, that stand in one of two words only."""
    return len({c if c.isalpha() else "9" for c in a} ^ {c if c.isalpha() else "9" for c in b})


def street(words, units, markers, marks, types, numerals):
    """House number, unit and name words."""
    unit, names, plain, told = "", [], [], []
    kinds = [next((k for k, of in enumerate((markers, marks, types, numerals)) if w in of), 4) for w in words]
    marker, mark, type_, numeral, name = range(5)
    pairs = list(zip(kinds, kinds[1:], strict=False))
    classes = kinds
    follows = [words[k + 1 : k + 2] for k in range(len(words))]
    kinds = [
        name if kind == marker and after and after[0] not in units and kinds[k + 1] not in (marker, mark) else kind
        for k, (kind, after) in enumerate(zip(kinds, follows, strict=True))
    ]
    numbered = pairs[:1] == [(type_, numeral)] and (mark, numeral) in pairs[2:]
    behind = None
    for k, (word, kind) in enumerate(zip(words, kinds, strict=True)):
        if kind in (marker, mark):
            behind = marker if marker in (behind, kind) else mark
            continue
        if behind == marker and word in units:
            unit = word
        elif kind == numeral and not (numbered and k == 1):
            (told if behind == mark and not told else plain).append((k, word))
        else:
            names.append(word)
        behind = None
    told_at = told[0][0] if told else len(words)
    number = ""
    for k, word in plain:
        next_named = classes[k + 1 : k + 2] == [name]
        if not number and (k < told_at or (k == told_at + 1 and next_named and not numbered)):
            number = word
        else:
            unit = unit or word
    for _, word in told:
        number, unit = (word, unit) if not number else (number, unit or word)
    return number, unit, names


def rarest_trigrams(texts, most):
    """Per text, how many texts have each of its rarest trigrams that others have too."""
    grams = [{t[i : i + 3] for i in range(len(t) - 2)} if len(t) >= 5 else set() for t in texts]
    often = Counter(g for found in grams for g in found)
    return [sorted(often[g] for g in found if often[g] > 1)[:most] for found in grams]


def evidence(level, share, m, u, counted, typical, alone, exact, bounded, n, prior):
    """Bits of one agreement (Fellegi and Sunter 1969; Winkler 1989)."""

    def of_exact(share, same):
        smoothed = (max(share * n - 2, alone[same]) + prior * counted[same] * 0.5) / (n + prior)
        if share * n < 0.5:
            smoothed = min(smoothed, share + 0.005 / n)
        return max(smoothed, (share * n - 2 - 2 * math.sqrt(share * n)) / n)

    if level < 0:
        return 0.0
    chance = u[level]
    if alone[level] and share > 0:
        if exact[level]:
            chance = of_exact(share, level)
        elif typical[level]:
            chance *= min(max(math.sqrt(share / typical[level]), 0.2), 5.0)
        if bounded[level]:
            least = [of_exact(min(share, 3 / n), x) * m[level] / m[x] for x in range(len(exact)) if exact[x]]
            chance = max([chance, *least])
        chance = min(max(chance, 1e-9), 0.9)
    return math.log2(m[level] / chance)


def fold(text):
    """Folded words of a text of ASCII letters, digits, spaces and punctuation; dots join single letters."""
    text = re.sub(r"(?<![a-z0-9])([a-z])\.(?=[a-z](?![a-z0-9]))", r"\1", text.lower().replace("'", "").replace("`", ""))
    text = text.replace("&", " and ").replace("#", " # ")
    return re.findall(r"[a-z0-9]+|#", text)


def first_filled(actions, values):
    """Per action the place of its first member that has a value, -1 = none."""
    at, out = 0, []
    for members in actions:
        out.append(next((at + k for k, m in enumerate(members) if values[m] >= 0), -1))
        at += len(members)
    return out
