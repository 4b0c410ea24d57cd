"""What every job in a real window begins and ends with, and how a test starts one under Xvfb."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
import unittest
from collections.abc import Callable
from pathlib import Path

from cozy_burrow.app.desk.settings import Settings
from cozy_burrow.app.look.theme.theme import apply_theme, load_theme
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.model.stages import Stage
from tests.app.qt import application, painted

ROOT = Path(__file__).resolve().parents[2]
_DONE = "the job is done"
_FIRST_DISPLAY, _DISPLAYS = 100, 90  # those of run_demo begin at 200


def at_hand(project: Project, folder: Path, *, stage: Stage | None = None) -> Window:
    """Return a window on a project, not shown yet, on a real display; its settings go into the folder."""
    os.environ["QT_QPA_PLATFORM"] = "xcb"
    app = application()
    assert app.platformName() == "xcb", app.platformName()
    apply_theme(app, load_theme("light"))
    window = Window(project, Settings(folder), theme="light", scale=1.0, stage=stage)
    window.resize(1280, 800)
    return window


def bring_to_front(window: Window) -> None:
    """Show it and wait until it has been painted."""
    window.show()
    assert painted(window)


def put_away(window: Window) -> None:
    """Close it, with nothing asked."""
    window.workspace.saved = window.workspace.project
    window.close()


def go_through(job: Callable[[Path], None]) -> None:
    """Do a job with a folder of its own, and say that it came to its end."""
    with tempfile.TemporaryDirectory() as name:
        job(Path(name))
    print(_DONE, flush=True)


def real_display() -> dict[str, str]:
    """Return an environment in which Qt opens a real window."""
    return {name: value for name, value in os.environ.items() if name != "QT_QPA_PLATFORM"}


@unittest.skipUnless(shutil.which("xvfb-run"), "Xvfb is not installed")
class RealWindow(unittest.TestCase):
    """Does a job of this folder in a process and on a display of its own."""

    def done(self, job: str, *, within: tuple[str, ...] = ()) -> None:
        """Run a module of this folder, within another program, and look for its last word."""
        # Several of them run side by side: each begins to look for a free display at another number.
        first = _FIRST_DISPLAY + os.getpid() % _DISPLAYS
        server = ["xvfb-run", "-a", "-n", str(first), "-s", "-screen 0 1400x900x24"]
        words = [*server, *within, sys.executable, "-m", f"tests.real_window.{job}"]
        done = subprocess.run(words, cwd=ROOT, env=real_display(), capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 0, done.stdout + done.stderr)
        self.assertIn(_DONE, done.stdout)
