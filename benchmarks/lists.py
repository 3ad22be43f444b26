"""Large made-up lists for timing: drawn by numpy from the words of Second Reed, a share of the rows known, varied and new."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pandas as pd

from brujula.demo import maker as g


def contacts(n: int, seed: int) -> pd.DataFrame:
    """n contacts of about n / 12 accounts; phones are ten random digits, for the range kept for fiction is too small."""
    rng = np.random.default_rng(seed)
    family = np.array(g.FAMILY + [a + b.lower() for a in g.FAMILY[::3] for b in g.FAMILY[::5]])
    given = np.array(g.GIVEN)[rng.zipf(1.3, n) % len(g.GIVEN)]
    surname = family[(rng.zipf(1.15, n) + rng.integers(0, 40, n)) % len(family)]
    n_firms = max(n // 12, 1)
    stems = np.array(g.STEMS)
    firm_name = np.char.add(
        np.char.add(stems[rng.integers(0, len(stems), n_firms)], " "),
        np.char.add(
            np.char.add(stems[rng.integers(0, len(stems), n_firms)], " "),
            np.array(g.SCHOOLS + g.BANDS + g.WORKSHOPS)[rng.integers(0, 18, n_firms)],
        ),
    )
    at = rng.integers(0, n_firms, n)
    town = rng.integers(0, len(g.TOWNS), n_firms)
    towns, states, zones = (np.array(x) for x in zip(*g.TOWNS, strict=True))
    plain = np.array([g.plain(x) for x in given]), np.array([g.plain(x) for x in surname])
    private = rng.random(n) < 0.3
    number = rng.integers(10, 9999, n).astype(str)
    local = np.char.add(np.char.add(plain[0], "."), plain[1])
    domain = np.char.add(np.char.add("firm", at.astype(str)), ".example")
    email = np.where(
        private, np.char.add(np.char.add(local, number), "@postbox.example"), np.char.add(np.char.add(local, "@"), domain)
    )
    phone = np.where(rng.random(n) < 0.3, 2_000_000_000 + at * 7, rng.integers(2_010_000_000, 9_899_999_999, n)).astype(str)
    street = np.char.add(np.char.add((1 + at % 900).astype(str), " "), np.array(g.STREETS)[at % len(g.STREETS)])
    return pd.DataFrame(
        {
            "id": np.char.add("C-", np.arange(n).astype(str)),
            "first_name": given,
            "last_name": surname,
            "email": email,
            "phone": phone,
            "job_title": np.array(g.ROLES)[rng.integers(0, len(g.ROLES), n)],
            "account": firm_name[at],
            "street": street,
            "city": towns[town[at]],
            "state": states[town[at]],
            "postal_code": np.char.add(zones[town[at]], (at % 1000).astype(str)),
        }
    )


def incoming(existing: pd.DataFrame, n: int, seed: int) -> pd.DataFrame:
    """n rows: 60 % known ones, some letters, mailboxes and phones changed or gone, the others new."""
    rng = np.random.default_rng(seed)
    known = existing.iloc[rng.choice(len(existing), int(n * 0.6), replace=False)].drop(columns="id")
    rows = pd.concat([known, contacts(n - len(known), seed + 1).drop(columns="id")], ignore_index=True)
    rows = rows.iloc[rng.permutation(len(rows))].reset_index(drop=True)
    for column, share in (("email", 0.2), ("phone", 0.25), ("street", 0.3), ("account", 0.2)):
        rows.loc[rng.random(len(rows)) < share, column] = ""
    slip = rng.random(len(rows)) < 0.06
    rows.loc[slip, "last_name"] = rows.loc[slip, "last_name"].str.replace(r"^(..)(.)(.)", r"\1\3\2", regex=True)
    upper = rng.random(len(rows)) < 0.05
    rows.loc[upper, "last_name"] = rows.loc[upper, "last_name"].str.upper()
    return rows.rename(
        columns={
            "first_name": "Given name",
            "last_name": "Surname",
            "email": "E-mail",
            "phone": "Tel",
            "account": "School or band",
        }
    )


def write(folder: Path, n_existing: int, n_incoming: int, seed: int = 11) -> tuple[Path, Path]:
    """Both lists as CSV files."""
    folder.mkdir(parents=True, exist_ok=True)
    old, new = folder / f"existing-{n_existing}.csv", folder / f"incoming-{n_incoming}-{n_existing}.csv"
    existing = contacts(n_existing, seed)
    existing.to_csv(old, index=False)
    incoming(existing, n_incoming, seed + 5).to_csv(new, index=False)
    return old, new
