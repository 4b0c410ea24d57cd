"""Two screens of different scale: a window that is carried over looks as one that was opened there, and back again."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
# Two screens of 1400 x 900 side by side; the right one is drawn at double density by Qt's own scaling.
PLAIN = {"y": 0, "width": 1400, "height": 900, "logicalDpi": 96, "logicalBaseDpi": 96, "dpr": 1}
SCREENS = {"screens": [{"name": "left", "x": 0} | PLAIN, {"name": "right", "x": 1400} | PLAIN]}

CARRIED = """
import json, sys
from tests.app.qt import QtCase
from tests.app.settled import settle_whole
from tests.makers import van_drawer

case = QtCase()
case.setUp()
project, said = van_drawer(), {}

def opened(x):
    window = case.window(project)
    window.resize(1280, 800)
    window.move(x, 20)
    window.show()
    return window

def seen(window, x):
    window.move(x, 20)
    window.activateWindow()
    settle_whole(window)
    return window.grab()

carried, there = opened(20), opened(1420)
for stage in sys.argv[1:]:
    for window in (carried, there):
        window.show_stage(stage)
    before, over, other, back = seen(carried, 20), seen(carried, 1420), seen(there, 1420), seen(carried, 20)
    said[stage] = {
        "scales": [one.devicePixelRatio() for one in (before, over, back)],
        "as if opened there": over.toImage() == other.toImage(),
        "as before": back.toImage() == before.toImage(),
    }
case.doCleanups()
print(json.dumps(said))
"""
STAGES = ("gather", "measure", "lay-out", "sink", "grip", "cut", "keep")


class TwoScreens(unittest.TestCase):
    def test_a_window_that_is_carried_over_is_drawn_anew_at_every_stage(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "screens.json"
            file.write_text(json.dumps(SCREENS))
            # Pictures are compared once nothing works any more: what another pace holds back is not seen to be due.
            env = {name: text for name, text in os.environ.items() if name != "TEST_PACE"} | {
                "QT_QPA_PLATFORM": f"offscreen:configfile={file}", "QT_SCREEN_SCALE_FACTORS": "left=1;right=2",
            }  # fmt: skip
            words = [sys.executable, "-c", CARRIED, *STAGES]
            done = subprocess.run(words, cwd=ROOT, env=env, capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 0, done.stderr)
        said = json.loads(done.stdout.splitlines()[-1])
        self.assertEqual(list(said), list(STAGES))
        for stage, one in said.items():
            with self.subTest(stage=stage):
                self.assertEqual(one, {"scales": [1.0, 2.0, 1.0], "as if opened there": True, "as before": True})


if __name__ == "__main__":
    unittest.main()
