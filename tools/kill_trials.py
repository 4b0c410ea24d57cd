"""Kill a real window with kill -9 at random moments while it edits and saves; count what opens and what is lost."""

from __future__ import annotations

import argparse
import os
import random
import signal
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

CHILD = """
import sys, time
from pathlib import Path
from msgspec.structs import replace
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication
from cozy_burrow.app.settings import Settings
from cozy_burrow.app.theme.theme import apply_theme, load_fonts, load_theme
from cozy_burrow.app.window import Window
from cozy_burrow.demo.shipped import demo_project
folder, every = Path(sys.argv[1]), int(sys.argv[2])
app = QApplication([]); load_fonts(); apply_theme(app, load_theme("light"))
window = Window(demo_project(), Settings(folder), theme="light", scale=1.0)
window.show()
window.workspace.do("x", replace(window.workspace.project, title=repr(time.time())))
window.desk.save_to(folder / "mine.burrow")
print("ready", flush=True)
edit, keep = QTimer(), QTimer()
edit.timeout.connect(
    lambda: window.workspace.do("x", replace(window.workspace.project, title=repr(time.time()))))
keep.timeout.connect(lambda: window.desk.save_to(folder / "mine.burrow"))
edit.start(60); keep.start(every)
app.exec()
"""


def trial(seed: int) -> tuple[bool, float]:
    """Run one window, kill it, and return whether the saved project opens and how many seconds of edits are lost."""
    from cozy_burrow.storage.project_file import load
    from cozy_burrow.storage.recovery import RecoveryStore

    chance = random.Random(seed)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        every = chance.choice((80, 3_000, 60_000))  # saving nearly all the time, now and then, or never again
        child = subprocess.Popen(
            [sys.executable, "-c", CHILD, name, str(every)],
            env=os.environ | {"QT_QPA_PLATFORM": "offscreen"},
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
        )
        assert child.stdout is not None and child.stdout.readline().strip() == b"ready"
        time.sleep(chance.uniform(0.05, 14.0))
        child.send_signal(signal.SIGKILL)
        child.wait()
        killed = time.time()
        newest = float(load(folder / "mine.burrow").title)
        store = RecoveryStore(folder)
        for copy in store.left_behind():
            newest = max(newest, float(store.bring_back(copy)[0].title))
        store.close()
        return True, killed - newest


def main() -> None:
    """Run the trials and print the worst."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--trials", type=int, default=100)
    parser.add_argument("--side-by-side", type=int, default=4)
    wanted = parser.parse_args()
    with ThreadPoolExecutor(wanted.side_by_side) as pool:
        found = list(pool.map(trial, range(wanted.trials)))
    opened = sum(1 for good, _ in found if good)
    lost = sorted(seconds for _, seconds in found)
    middle = lost[len(lost) // 2]
    print(f"{opened} of {len(found)} saved projects open; edits lost: median {middle:.1f} s, most {lost[-1]:.1f} s")


if __name__ == "__main__":
    main()
