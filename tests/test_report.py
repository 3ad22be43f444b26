"""The page: text of the lists stays text, the counts are the summary's, all of it in one file."""

import json
import re

import pandas as pd

import brujula

HOSTILE = "<script>alert(1)</script>"


def test_page_is_safe_and_whole(tmp_path):
    """Hostile text is data; nothing is fetched; the counts on the page equal summary.json."""
    old = pd.DataFrame([["1", "Ada", "Quist", "ada@quist.example"]], columns=["id", "first_name", "last_name", "email"])
    new = pd.DataFrame(
        [["Ada", "Quist", "ada@quist.example", "Rookwood"], [HOSTILE, "</script><b>", "x@y.example", "&"]],
        columns=["first_name", "last_name", "email", "city"],
    )
    brujula.plan(new, against=old).write(tmp_path / "plan")
    html = (tmp_path / "plan" / "report.html").read_text()
    assert HOSTILE not in html and "<b></td>" not in html
    assert not re.search(r'(src|href)="', html)
    shown = dict(re.findall(r'data-outcome="(\w+)" aria-pressed="false"><b>([\d,]+)</b>', html))
    assert {k: int(v) for k, v in shown.items()} == json.loads((tmp_path / "plan" / "summary.json").read_text())["outcomes"]
    data = json.loads(re.search(r'id="data">(.*?)</script>', html, re.S)[1])
    assert any(HOSTILE in side for row in data["rows"] for side in row["sides"])


def test_sweep_has_its_page(tmp_path):
    """Groups of duplicates are on the sweep's page."""
    old = pd.DataFrame(
        [["1", "Ada", "Quist", "ada@quist.example"], ["2", "Ada", "Quist", "ada@quist.example"]],
        columns=["id", "first_name", "last_name", "email"],
    )
    brujula.sweep(old, entity="contact").write(tmp_path / "sweep")
    assert '"group": "G1"' in (tmp_path / "sweep" / "report.html").read_text()
