"""The page: text of the lists stays text, the counts are the summary's, all of it in one file."""

import json
import re
import shutil
import subprocess
import sys

import pandas as pd
import pytest

import brujula
from brujula.demo.generate import CONTACT_HEADINGS, make

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
    assert not re.search(r'(src|href)="(?!#)', html)
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


FLAGS = "--headless --no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking --disable-component-update --disable-sync --virtual-time-budget=4000 --enable-logging=stderr --dump-dom"
needs_browser = pytest.mark.skipif(shutil.which("chromium") is None, reason="chromium is not on this machine")


def _opened(page, tmp_path, script=""):
    """The page's elements after its scripts ran in a real browser, and what the browser complained of."""
    path = tmp_path / "opened.html"
    path.write_text(page.read_text().replace("</body>", f"<script>{script}</script></body>"))
    done = subprocess.run(
        ["chromium", *FLAGS.split(), f"--user-data-dir={tmp_path}/profile", path.as_uri()],
        capture_output=True,
        text=True,
        timeout=120,
    )
    return done.stdout, [line for line in done.stderr.splitlines() if "CONSOLE" in line]


@needs_browser
def test_a_browser_shows_filters_and_searches(tmp_path):
    """In a real browser: no complaint, hostile text as text, the counts of the summary, a filter and a search that work."""
    old = pd.DataFrame([["1", "Ada", "Quist", "ada@quist.example"]], columns=["id", "first_name", "last_name", "email"])
    names = [["Ada", "Quist", "ada@quist.example"], [HOSTILE, "Wren", "w@wren.example"], ["Bo", "Orr", "bo@orr.example"]]
    brujula.plan(pd.DataFrame(names, columns=["first_name", "last_name", "email"]), against=old).write(tmp_path / "plan")
    page = tmp_path / "plan" / "report.html"
    whole, complaints = _opened(page, tmp_path)
    assert complaints == []
    assert "&lt;script&gt;alert(1)&lt;/script&gt;" in whole
    assert whole.count('<tr class="main"') == 3
    filtered, _ = _opened(page, tmp_path, "document.querySelector('[data-outcome=create]').click()")
    assert filtered.count('<tr class="main"') == 2
    searched, _ = _opened(page, tmp_path, "const s = document.getElementById('search'); s.value = 'orr'; s.oninput()")
    assert searched.count('<tr class="main"') == 1
    picked, _ = _opened(page, tmp_path, "const k = document.getElementById('kind'); k.value = 'one record'; k.onchange()")
    assert picked.count('<tr class="main"') == 1
    unsure, _ = _opened(page, tmp_path, "const b = document.getElementById('below'); b.value = '0.01'; b.oninput()")
    assert unsure.count('<tr class="main"') == 0
    detailed, complaints = _opened(page, tmp_path, "document.querySelector('#list tbody tr').click()")
    assert complaints == []
    assert 'class="evidence"' in detailed


@needs_browser
def test_a_browser_opens_the_inspected_list(tmp_path):
    """The page of inspect opens without complaint, and hostile headings and values are text."""
    (tmp_path / "list.csv").write_text(f"Name,{HOSTILE}\nAda Quist,{HOSTILE}\n")
    from brujula.intake.profile import inspect
    from brujula.reporting import inspected

    page = tmp_path / "list.html"
    inspected.write_page(inspect(str(tmp_path / "list.csv")), page)
    whole, complaints = _opened(page, tmp_path)
    assert complaints == []
    assert "&lt;script&gt;alert(1)" in whole


def test_figures_say_what_the_plan_says(tmp_path):
    """Each figure that has something to show is there, as an image with a name, in bytes that do not change."""
    from brujula.reporting.figures import figures

    old = pd.DataFrame(
        [[str(i), f"Given{i}", f"Family{i}", f"g{i}@x{i}.example", "web" if i % 2 else "import"] for i in range(60)]
        + [["90", "Given1", "Family1", "g1@x1.example", "web"]],
        columns=["id", "first_name", "last_name", "email", "source"],
    )
    plan = brujula.plan(old.drop(columns=["id", "source"]).assign(city="Yarrow").iloc[:40], against=old)
    found = figures(plan)()
    assert [f.heading for f in found] == [
        "How sure the pairs are",
        "What the links rest on",
        "How full the records are",
        "Where duplicates come from",
        "How many stand for one",
    ]
    assert all('role="img"' in f.svg for f in found)
    assert "2 of 31" in found[3].svg
    assert [f.svg for f in figures(plan)()] == [f.svg for f in found]


DRAWN = """
import sys
from brujula.reporting import drawing
sketches = [drawing.Counts(["2", "3"], [40, 2]), drawing.Shares(["web <b>"], [3], [9], "source"), drawing.Evidence(["e-mail"], [1.0], [-0.5])]
drawing.begin()
if "kill" in sys.argv:
    drawing._hand._process.kill()
elsewhere = drawing.draw(sketches)()
assert ("matplotlib" in sys.modules) == ("kill" in sys.argv)
assert elsewhere == [sketch.svg() for sketch in sketches]
"""


@pytest.mark.parametrize("fate", ["work", "kill"])
def test_figures_are_the_same_wherever_they_are_drawn(fate):
    """A process of its own draws the same bytes; where it dies they are drawn all the same."""
    subprocess.run([sys.executable, "-c", DRAWN, fate], check=True)


def test_duplicates_of_no_known_source_are_no_figure():
    """Sources are known of others only: the figure is left out, the page is made."""
    given = [[str(i), f"Given{i}", f"Family{i}", f"g{i}@x{i}.example", "web"] for i in range(60)]
    old = pd.DataFrame(
        [*given, *([str(i), "Ada", "Quist", "ada@quist.example", ""] for i in (90, 91))],
        columns=["id", "first_name", "last_name", "email", "source"],
    )
    from brujula.reporting.figures import figures

    plan = brujula.plan(old.drop(columns=["id", "source"]).assign(city="Yarrow"), against=old)
    assert "Where duplicates come from" not in [f.heading for f in figures(plan)()]


def test_long_names_leave_room_for_the_bars(tmp_path):
    """Sources of any length, in any letters and signs, are cut to what fits beside the axes."""
    world = make(11, 300, 60, 60)
    old = pd.DataFrame(world.contacts, columns=CONTACT_HEADINGS)
    old["source"] = old["source"].map(lambda s: f"{s} $x^$ " + "very long 長い " * 20)
    brujula.sweep(old, entity="contact").write(tmp_path / "sweep")
    html = (tmp_path / "sweep" / "report.html").read_text()
    told = re.findall(r"<text[^>]*>([^<]*…)</text>", html)
    assert told and all(len(t.strip()) <= 28 for t in told)


def test_a_notebook_shows_the_plan():
    """Counts and the first rows of each outcome, text as text."""
    old = pd.DataFrame([["1", "Ada", "Quist", "ada@quist.example"]], columns=["id", "first_name", "last_name", "email"])
    new = pd.DataFrame(
        [["Ada", "Quist", "ada@quist.example"], ["<b>Bo", "Orr", "bo@orr.example"]], columns=["first_name", "last_name", "email"]
    )
    shown = brujula.plan(new, against=old)._repr_html_()
    assert "2 rows of frame" in shown and "1 create, 1 unchanged" in shown
    assert shown.count("<tr>") == 3
