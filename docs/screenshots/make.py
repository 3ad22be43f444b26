"""Makes the pictures of docs/screenshots from the demo data. Needs Debian's chromium, xvfb, xterm and imagemagick."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path

HERE = Path(__file__).parent
BIN = Path(sys.executable).parent
DISPLAY = ":97"


def page(html: Path, picture: str) -> None:
    """A page in headless chromium, 1280 by 800."""
    with tempfile.TemporaryDirectory() as profile:
        flags = "--headless --no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking --disable-component-update --disable-sync --hide-scrollbars"
        command = [
            "chromium",
            *flags.split(),
            f"--user-data-dir={profile}",
            "--window-size=1280,800",
            f"--screenshot={HERE / picture}",
            html.as_uri(),
        ]
        subprocess.run(command, check=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)


def terminal(commands: str, picture: str, folder: Path, seconds: float) -> None:
    """A shell's output in a real terminal on a virtual screen."""
    script = folder / "run.sh"
    script.write_text(f"cd {folder}\nPATH={BIN}:$PATH\nPS1='$ '\nexport TERM=xterm-256color\n{commands}\nsleep 60\n")
    env = {**os.environ, "DISPLAY": DISPLAY, "TERM": "xterm-256color"}
    xterm = [
        "xterm",
        "-geometry",
        "156x52+0+0",
        "-fa",
        "DejaVu Sans Mono",
        "-fs",
        "10",
        "-bg",
        "#fbfbf9",
        "-fg",
        "#1d2733",
        "-e",
        "bash",
        str(script),
    ]
    window = subprocess.Popen(xterm, env=env)
    time.sleep(seconds)
    if window.poll() is not None:
        sys.exit(f"no terminal for {picture}")
    subprocess.run(["import", "-window", "root", str(HERE / picture)], env=env, check=True)
    window.kill()


def main() -> None:
    """All pictures."""
    missing = [tool for tool in ("chromium", "Xvfb", "xterm", "import") if shutil.which(tool) is None]
    if missing:
        sys.exit(f"not on this machine: {', '.join(missing)}")
    # Without -noreset it begins anew when a window closes, and takes no other meanwhile.
    screen = subprocess.Popen(
        ["Xvfb", DISPLAY, "-noreset", "-screen", "0", "1280x800x24"], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
    )
    time.sleep(6)
    if screen.poll() is not None:
        sys.exit(f"no screen {DISPLAY}: is there one already?")
    try:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            run = {"cwd": folder, "check": False, "stdout": subprocess.DEVNULL}
            subprocess.run([BIN / "brujula", "demo", "--out", "demo"], **run)
            for file in ("contacts.csv", "workshop-roster.csv", "accounts.csv"):
                shutil.copy(folder / "demo" / file, folder / file)
            said = "echo '$ brujula {0}'; brujula {0}"
            terminal(said.format("demo") + " | tail -50", "demo.png", folder, 26)
            terminal(said.format("inspect workshop-roster.csv --against contacts.csv"), "inspect.png", folder, 8)
            subprocess.run(
                [BIN / "brujula", "inspect", "workshop-roster.csv", "--against", "contacts.csv", "--page", "inspect.html"], **run
            )
            page(folder / "inspect.html", "inspect-page.png")
            terminal(said.format("plan workshop-roster.csv --against contacts.csv --out plan"), "plan.png", folder, 12)
            terminal(
                "brujula load contacts.csv --into sqlite:///crm.db >/dev/null; brujula plan workshop-roster.csv --against sqlite:///crm.db --out p >/dev/null;"
                + said.format("load p --into sqlite:///crm.db")
                + ";"
                + said.format("history sqlite:///crm.db")
                + ";"
                + said.format("undo L2 --into sqlite:///crm.db")
                + ";"
                + said.format("history sqlite:///crm.db")
                + ";"
                + said.format(
                    "check contacts.csv given_name=Charlotte family_name=Whitlock email=charlottewhitlock608@postbox.example"
                )
                + ";"
                + said.format("plan nosuch.csv --against contacts.csv --out p"),
                "load-undo.png",
                folder,
                40,
            )
            terminal(
                "export BRUJULA_JOURNALS=$PWD; python -m brujula.standin --port 8097 --data service.db --error 9 --lost 13 & sleep 2;"
                "echo '[outcomes]' > all.toml; echo 'mode = \"allow-duplicates\"' >> all.toml;"
                "brujula plan contacts.csv --against http://127.0.0.1:8097 --policy all.toml --out f >/dev/null; brujula load f --into http://127.0.0.1:8097 >/dev/null;"
                "brujula plan workshop-roster.csv --against http://127.0.0.1:8097 --out s >/dev/null; clear;"
                + ";".join(
                    said.format(f"{c} http://127.0.0.1:8097") for c in ("load s --into", "history", "undo L2 --into", "history")
                ),
                "service.png",
                folder,
                60,
            )
            terminal(said.format("review plan"), "review.png", folder, 6)
            page(folder / "plan" / "report.html", "report.png")
            opened = (folder / "plan" / "report.html").read_text("utf-8")
            look = "const f = document.querySelector('.figures'); f.open = true; while (f.previousElementSibling) f.previousElementSibling.remove()"
            (folder / "figures.html").write_text(opened.replace("</body>", f"<script>{look}</script></body>"), "utf-8")
            page(folder / "figures.html", "figures.png")
            subprocess.run([BIN / "brujula", "sweep", "contacts.csv", "--out", "sweep"], **run)
            page(folder / "sweep" / "report.html", "sweep.png")
    finally:
        screen.kill()


if __name__ == "__main__":
    main()
