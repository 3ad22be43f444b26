"""`python -m benchmarks.harder FOLDER OUT SEED`: a labelled list made harder, to see what a second dose of slips and changes costs.

FOLDER holds `existing.csv`, `incoming.csv` and `truth.csv` (list, key, entity); OUT gets the same three, the truth untouched. Every cell can
be damaged once more: a slip of the finger, a short name, an initial, a new mailbox or phone, a move, another employer, a wording of the
firm's name, a gap. Rows are damaged twice as often as records. The headings are those of the lists this was written for (COLUMNS).
"""

from __future__ import annotations

import random
import re
import shutil
import sys
import zlib
from collections.abc import Sequence
from pathlib import Path

import pandas as pd

COLUMNS = {
    "given": ("given name", "first_name", "first name"),
    "family": ("surname", "last_name", "last name"),
    "mail": ("e-mail", "email"),
    "phone": ("mobile", "phone", "tel"),
    "title": ("position", "job_title"),
    "firm": ("organisation", "company", "name"),
    "street": ("address line 1", "street"),
    "town": ("town", "city"),
    "region": ("county/state", "state"),
    "code": ("zip/postcode", "postal_code"),
    "web": ("web", "website"),
}
PERSON = {
    "slip given": 0.04, "slip family": 0.055, "slip firm": 0.03, "slip street": 0.02, "slip town": 0.02, "slip mail": 0.025, "slip phone": 0.012,
    "initial": 0.025, "short": 0.027, "middle": 0.06, "swapped": 0.022, "half surname": 0.02, "surname": 0.015, "private": 0.15, "role": 0.03,
    "local": 0.05, "job": 0.04, "moved": 0.02, "form": 0.1, "dropped": 0.01, "added": 0.02, "joined": 0.01, "acronym": 0.01,
    "gap": 0.06, "case": 0.05,
}  # fmt: skip
FIRM = {
    "slip firm": 0.085, "slip street": 0.025, "slip town": 0.02, "slip phone": 0.012, "moved": 0.06, "form": 0.2, "dropped": 0.025, "added": 0.055,
    "joined": 0.032, "acronym": 0.016, "order": 0.015, "short words": 0.1, "domain": 0.03, "line": 0.04, "gap": 0.06, "case": 0.05,
}  # fmt: skip
SHORT = dict(
    w.split(":")
    for w in "james:jim william:bill robert:bob richard:dick margaret:peggy elizabeth:liz katherine:kate michael:mike thomas:tom "
    "edward:ted john:jack francisco:paco jose:pepe guadalupe:lupe johannes:hans joseph:joe patricia:pat susan:sue alexander:alex "
    "daniel:dan david:dave christopher:chris matthew:matt anthony:tony steven:steve andrew:drew nicholas:nick samuel:sam benjamin:ben "
    "jennifer:jen jessica:jess deborah:deb barbara:barb pamela:pam cynthia:cindy kimberly:kim rebecca:becky victoria:vicky "
    "timothy:tim gregory:greg kenneth:ken ronald:ron donald:don charles:charlie peter:pete manuel:manolo dolores:lola".split()
)
FORMS = ["Inc.", "LLC", "Ltd.", "Co.", "Corp.", "Group", "Company", ""]
WORDS = {"services": "Svcs", "management": "Mgmt", "international": "Intl", "manufacturing": "Mfg", "brothers": "Bros", "center": "Ctr",
         "university": "Univ", "engineering": "Eng", "construction": "Constr", "systems": "Sys", "solutions": "Soln", "industries": "Ind"}  # fmt: skip
MIDDLE = "ABCDEFGHJKLMNPRST"
NEXT_KEY = dict(zip("qwertyuiopasdfghjklzxcvbnm", "wertyuiopqsdfghjklaxcvbnmz", strict=True))


def slip(text: str, draw: random.Random) -> str:
    """One slip of the finger: a letter left out, doubled, swapped with the next, or its neighbour."""
    letters = [i for i, c in enumerate(text) if c.isalnum() and i]
    if len(letters) < 3:
        return text
    i, what = draw.choice(letters), draw.randrange(4)
    if what == 0:
        return text[:i] + text[i + 1 :]
    if what == 1:
        return text[:i] + text[i] + text[i:]
    if what == 2 and i + 1 < len(text):
        return text[:i] + text[i + 1] + text[i] + text[i + 2 :]
    new = str(draw.randrange(10)) if text[i].isdigit() else NEXT_KEY.get(text[i].lower(), "e")
    return text[:i] + new + text[i + 1 :]


def mailbox(row: dict[str, str], draw: random.Random, domain: str) -> str:
    given, family = (re.sub("[^a-z]", "", row.get(c, "").lower()) or "x" for c in ("given", "family"))
    return (
        draw.choice([f"{given}.{family}", f"{given[0]}{family}", f"{family}{given[0]}", f"{given}{family}{draw.randrange(99)}"])
        + "@"
        + domain
    )


def damage(row: dict[str, str], others: list[dict[str, str]], rates: dict[str, float], draw: random.Random, middle: str) -> None:
    """What happens to one row, each thing at its rate. middle : the initial of the middle name, which somebody has one of."""
    for what, rate in rates.items():
        if draw.random() >= rate:
            continue
        kind, _, column = what.partition(" ")
        firm, other = row.get("firm", "").split(), draw.choice(others)
        if kind == "slip":
            row[column] = slip(row.get(column, ""), draw)
        elif what == "initial" and row["given"]:
            row["given"] = row["given"][0] + draw.choice(["", "."])
        elif what == "short":
            row["given"] = SHORT.get(row["given"].lower(), row["given"])
        elif what == "middle" and row["given"] and " " not in row["given"]:
            row["given"] += " " + middle + draw.choice(["", "."])
        elif what == "swapped":
            row["given"], row["family"] = row["family"], row["given"]
        elif what == "half surname" and re.search("[ -]", row["family"]) and not re.search(r"\b([JS]r|I+)\b", row["family"]):
            row["family"] = re.split("[ -]", row["family"])[0]
        elif what == "surname":
            row["family"] = draw.choice([other["family"], row["family"] + "-" + other["family"]])
        elif what == "private" and "@" in other["mail"] and not other["firm"]:
            row["mail"] = mailbox(row, draw, other["mail"].split("@")[1])
        elif what == "role" and "@" in row["mail"] and row["firm"]:
            row["mail"] = draw.choice(["info", "office", "sales"]) + "@" + row["mail"].split("@")[1]
        elif what == "local" and "@" in row["mail"]:
            row["mail"] = draw.choice([mailbox(row, draw, row["mail"].split("@")[1]), row["mail"].replace("@", "+news@")])
        elif what == "job" and other["firm"]:
            row["firm"], row["title"] = other["firm"], other["title"]
            row["mail"] = mailbox(row, draw, other["mail"].split("@")[1]) if "@" in other["mail"] else ""
        elif what == "moved":
            row["street"], row["code"] = (
                other["street"] and f"{draw.randrange(1, 900)} " + re.sub(r"\d+ ?", "", other["street"]),
                "",
            )
        elif what == "form" and firm:
            row["firm"] = " ".join(
                [w for w in firm if w.strip(".").lower() not in ("inc", "llc", "ltd", "co", "corp", "company")]
                + [draw.choice(FORMS)]
            ).strip()
        elif what == "dropped" and len(firm) > 2:
            del firm[draw.randrange(1, len(firm))]
            row["firm"] = " ".join(firm)
        elif what == "added" and firm:
            row["firm"] = draw.choice(
                [f"The {row['firm']}", f"{row['firm']} {row.get('town', '')}".strip(), f"{row['firm']} Group"]
            )
        elif what == "joined" and len(firm) > 1:
            row["firm"] = "".join(firm[:2]) + " " + " ".join(firm[2:])
        elif what == "acronym" and len(firm) > 2:
            row["firm"] = "".join(w[0] for w in firm[:4])
        elif what == "order" and len(firm) > 2:
            row["firm"] = " ".join(firm[1:2] + firm[:1] + firm[2:])
        elif what == "short words":
            row["firm"] = " ".join(WORDS.get(w.lower(), w) for w in firm)
        elif what == "domain" and row["web"]:
            row["web"] = re.sub("[^a-z]", "", row["firm"].lower()) + str(draw.randrange(3000)) + ".example"
        elif what == "line" and row["phone"]:
            row["phone"] = row["phone"][:-3] + str(draw.randrange(100, 999))
        elif what == "gap":
            row[draw.choice([c for c in row if c not in ("given", "family", "firm")])] = ""
        elif what == "case":
            column = draw.choice(["firm", "family"]) if "family" in row else "firm"
            row[column] = draw.choice([str.upper, str.lower])(row[column])


def harder(path: Path, to: Path, draw: random.Random, times: float, entities: Sequence[str]) -> None:
    """One list, damaged cell by cell; rates times `times`. entities : who each row is."""
    table = pd.read_csv(path, dtype=str, keep_default_na=False)
    known = {key: c for key, names in COLUMNS.items() for c in table.columns if c.lower() in names}
    rows = [dict(zip(known, cells, strict=True)) for cells in table[list(known.values())].itertuples(index=False)]
    rates = {k: v * times for k, v in (PERSON if "given" in known else FIRM).items()}
    others = [dict(row) for row in rows]
    for row, entity in zip(rows, entities, strict=True):
        damage(row, others, rates, draw, MIDDLE[zlib.crc32(entity.encode()) % len(MIDDLE)])
    for key, column in known.items():
        table[column] = [row[key] for row in rows]
    table.to_csv(to, index=False)


if __name__ == "__main__":
    source, out, draw = Path(sys.argv[1]), Path(sys.argv[2]), random.Random(int(sys.argv[3]))
    out.mkdir(parents=True, exist_ok=True)
    truth = pd.read_csv(source / "truth.csv", dtype=str, keep_default_na=False)
    for name, times in (("existing", 0.5), ("incoming", 1.0)):
        harder(source / f"{name}.csv", out / f"{name}.csv", draw, times, truth.query("list == @name")["entity"].tolist())
    shutil.copy(source / "truth.csv", out / "truth.csv")
