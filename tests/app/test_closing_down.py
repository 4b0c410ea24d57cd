"""A window that closes: what is at work hears of it, is waited for a second at most, and changes nothing any more."""

from __future__ import annotations

import os
import subprocess
import sys
import threading
import time
import unittest
from pathlib import Path

from PySide6.QtCore import QThreadPool

from cozy_burrow.app.desk.tasks import Task, stop_all
from cozy_burrow.core.progress import Token
from cozy_burrow.demo.shipped import demo_project
from tests.app.qt import QtCase, wait_until
from tests.app.screens import at_gather

STUBBORN = """
import sys, threading, time
from PySide6.QtCore import QTimer
from cozy_burrow.app import opening as program
from cozy_burrow.app.start import Start
from cozy_burrow.app.desk.tasks import Task

def stubborn(token):
    time.sleep(100_000)

def close(window):
    Task(stubborn, window).begin()
    QTimer.singleShot(200, window.close)

real = program.open_window
def opened(wanted):
    app, window = real(wanted)
    QTimer.singleShot(0, lambda: close(window))
    return app, window
program.open_window = opened
begin = time.monotonic()
status = program.run(Start(), None)
"""


class ClosingDown(QtCase):
    def test_a_search_that_runs_ends_with_the_window_and_lays_nothing(self) -> None:
        window = self.window(demo_project(), stage="lay-out")
        before = window.workspace.project
        window.arranging.begin("all")
        self.assertTrue(wait_until(lambda: bool(window.arranging.results)))
        window.workspace.saved = window.workspace.project
        self.assertTrue(window.close())
        self.assertTrue(QThreadPool.globalInstance().waitForDone(3_600_000))
        wait_until(lambda: not window.arranging.is_arranging)
        self.assertIs(window.workspace.project, before)
        self.assertEqual(list((self.folder / "recovery").iterdir()), [])  # nothing is kept after the end

    def test_a_photo_that_is_being_read_is_cut_off(self) -> None:
        window = self.window(demo_project(), stage="gather")
        at_gather(window).add.pictures.take_demo_photo()
        task = at_gather(window).add.pictures.latest.task
        assert task is not None
        self.assertTrue(wait_until(lambda: bool(_children())))
        window.workspace.saved = window.workspace.project
        window.close()
        self.assertTrue(wait_until(lambda: not _children()))
        self.assertFalse(window.retouch.is_open)

    def test_everything_that_runs_is_asked_to_stop(self) -> None:
        began, stopped = threading.Event(), threading.Event()

        def work(token: Token) -> None:
            began.set()
            try:
                while True:
                    token.step(0.5)
                    time.sleep(0.001)
            finally:
                stopped.set()

        tasks = [Task(work) for _ in range(2)]
        for task in tasks:
            task.begin()
        self.assertTrue(wait_until(began.is_set))
        stop_all()  # the other one, which waits for its turn, is never begun
        self.assertTrue(stopped.wait(3_600))
        self.assertTrue(QThreadPool.globalInstance().waitForDone(3_600_000))

    def test_threads_that_end_after_things_came_to_rest_in_them(self) -> None:
        """A solver that belonged to its thread took the whole process along, half a minute after a search."""
        words = [sys.executable, "-X", "faulthandler", "-m", "tests.app.ending_threads"]
        root = Path(__file__).resolve().parents[2]
        done = subprocess.run(words, cwd=root, capture_output=True, text=True, timeout=3_600, check=False)
        self.assertEqual((done.returncode, done.stdout), (0, "all at rest\n"), done.stderr)

    def test_what_does_not_hear_ends_with_the_process(self) -> None:
        """It sleeps for a day in a thread; without being cut off the process would wait for it."""
        env = os.environ | {
            "QT_QPA_PLATFORM": "offscreen",
            "XDG_STATE_HOME": str(self.folder),
            "XDG_CONFIG_HOME": str(self.folder),
        }
        done = subprocess.run(
            [sys.executable, "-c", STUBBORN], env=env, capture_output=True, text=True, timeout=3_600, check=False
        )
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertNotIn("Traceback", done.stderr)


def _children() -> list[str]:
    """Return the picture readers that this process has started and that are alive."""
    found = []
    for task in Path("/proc/self/task").iterdir():
        for child in (task / "children").read_text().split():
            try:
                line = Path(f"/proc/{child}/cmdline").read_text()
            except OSError:
                continue
            if "cozy_burrow.jobs.apart" in line:
                found.append(child)
    return found


if __name__ == "__main__":
    unittest.main()
