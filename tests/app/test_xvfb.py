"""A real window under Xvfb: the whole job, and the demo as `make demo` opens it."""

from __future__ import annotations

import os
import shutil
import signal
import subprocess
import sys
import time
import unittest
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]


def real_display() -> dict[str, str]:
    """Return an environment in which Qt opens a real window."""
    return {name: value for name, value in os.environ.items() if name != "QT_QPA_PLATFORM"}


@unittest.skipUnless(shutil.which("xvfb-run"), "Xvfb is not installed")
class RealWindow(unittest.TestCase):
    def run_script(self, name: str, says: str) -> None:
        """Run a script of this folder in a real window and look for its last word."""
        words = ["xvfb-run", "-a", "-s", "-screen 0 1400x900x24", sys.executable, "-m", f"tests.app.{name}"]
        done = subprocess.run(words, cwd=ROOT, env=real_display(), capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 0, done.stdout + done.stderr)
        self.assertIn(says, done.stdout)

    def test_the_whole_job_by_keys_and_mouse(self) -> None:
        self.run_script("under_xvfb", "the whole job is done")

    def test_a_photo_comes_into_the_kit_by_keys_and_mouse(self) -> None:
        self.run_script("capture_under_xvfb", "the photo is in the kit")

    def test_a_survey_becomes_a_blank_and_a_template_by_keys_and_mouse(self) -> None:
        self.run_script("survey_under_xvfb", "the template is written")

    def test_a_drawer_is_laid_out_stopped_locked_picked_and_pushed(self) -> None:
        self.run_script("arrange_under_xvfb", "the drawer is laid out")

    def test_a_box_for_ten_lines_that_catch_and_gaps_that_are_typed(self) -> None:
        self.run_script("order_under_xvfb", "it lies in order")

    def test_a_mallet_is_seated_closed_over_pulled_out_and_all_taken_back(self) -> None:
        self.run_script("sink_under_xvfb", "it lies level and comes out")

    def test_a_drawer_from_the_start_page_to_paper(self) -> None:
        self.run_script("start_under_xvfb", "the papers are printed")

    def test_a_practice_piece_is_printed_cut_mended_and_noted(self) -> None:
        self.run_script("bench_under_xvfb", "the sheet is cut")

    def test_a_drawer_in_use_is_called_refitted_found_compared_and_labelled(self) -> None:
        self.run_script("keep_under_xvfb", "the drawer is in use")

    def test_the_demo_opens_and_stays_open(self) -> None:
        words = [sys.executable, "tools/run_demo.py"]
        env = real_display()
        env.pop("DISPLAY", None)
        child = subprocess.Popen(
            words,
            cwd=ROOT,
            env=env,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            start_new_session=True,
            text=True,
        )
        time.sleep(5)
        running = child.poll() is None
        child.send_signal(signal.SIGTERM)
        said, _ = child.communicate()
        self.assertTrue(running, said)
        self.assertIn("no display", said)


class Pictures(unittest.TestCase):
    def test_a_picture_is_painted_without_a_display(self) -> None:
        import tempfile

        with tempfile.TemporaryDirectory() as name:
            out = Path(name) / "a.png"
            env = {key: value for key, value in os.environ.items() if key not in {"DISPLAY", "QT_QPA_PLATFORM"}}
            words = [sys.executable, "-m", "cozy_burrow", "--demo", "--shot", str(out), "--stage", "sink"]
            done = subprocess.run(
                [*words, "--size", "1000x700", "--theme", "lamp"], env=env, capture_output=True, text=True, check=False
            )
            self.assertEqual(done.returncode, 0, done.stderr)
            from PIL import Image

            self.assertEqual(Image.open(out).size, (1000, 700))
