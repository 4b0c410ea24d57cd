"""The demo as `make demo` opens it where there is no display, and a picture of it painted without one."""

from __future__ import annotations

import signal
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from PIL import Image

from tests.real_window.at_hand import ROOT, real_display


def no_display() -> dict[str, str]:
    """Return an environment without any display."""
    return {name: value for name, value in real_display().items() if name != "DISPLAY"}


class Demo(unittest.TestCase):
    def test_the_demo_opens_and_stays_open(self) -> None:
        with subprocess.Popen(
            [sys.executable, "tools/run_demo.py"],
            cwd=ROOT,
            env=no_display(),
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            start_new_session=True,
            text=True,
        ) as child:
            assert child.stdout is not None
            said = child.stdout.readline()  # however long a busy machine takes to come so far
            with self.assertRaises(subprocess.TimeoutExpired, msg=said):
                child.wait(5)
            child.send_signal(signal.SIGTERM)
            said += child.stdout.read()
        self.assertIn("no display", said)
        self.assertEqual(len(said.splitlines()), 1, said)


class Pictures(unittest.TestCase):
    def test_a_picture_is_painted_without_a_display(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            out = Path(name) / "a.png"
            words = [sys.executable, "-m", "cozy_burrow", "--demo", "--shot", str(out), "--stage", "sink"]
            done = subprocess.run(
                [*words, "--size", "1000x700", "--theme", "lamp"],
                env=no_display(),
                capture_output=True,
                text=True,
                check=False,
            )
            self.assertEqual(done.returncode, 0, done.stderr)
            self.assertEqual(Image.open(out).size, (1000, 700))
