"""Starting: a display out of reach, pictures that leave nothing behind, a demo that ends what it started."""

from __future__ import annotations

import os
import shutil
import signal
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path

from cozy_burrow.core.model.records import Project
from cozy_burrow.storage.recovery import RecoveryStore

ROOT = Path(__file__).resolve().parents[2]
_DISPLAYS = ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")


def start(*words: str, home: str, **variables: str) -> subprocess.CompletedProcess[str]:
    """Call the program with these variables and no display but theirs."""
    env = {name: value for name, value in os.environ.items() if name not in _DISPLAYS}
    env |= {"XDG_STATE_HOME": home, "XDG_CONFIG_HOME": home} | variables
    command = [sys.executable, "-m", "cozy_burrow", *words]
    return subprocess.run(command, env=env, capture_output=True, text=True, timeout=3_600, check=False)


class Displays(unittest.TestCase):
    def test_a_display_that_cannot_be_reached_is_one_sentence(self) -> None:
        with tempfile.TemporaryDirectory() as home:
            for variables in (
                {"DISPLAY": ":7777"},
                {"DISPLAY": "nonsense"},
                {"WAYLAND_DISPLAY": "none", "XDG_RUNTIME_DIR": home},
                {"QT_QPA_PLATFORM": "xcb"},
                {"QT_QPA_PLATFORM": "nonsense"},
            ):
                with self.subTest(variables):
                    done = start(home=home, **variables)
                    self.assertEqual((done.returncode, done.stdout), (2, ""), done.stderr)
                    self.assertEqual(len(done.stderr.splitlines()), 1, done.stderr)
                    self.assertTrue(done.stderr.startswith("cozy-burrow: "), done.stderr)

    def test_a_picture_says_nothing_and_leaves_nothing_behind(self) -> None:
        with tempfile.TemporaryDirectory() as home, tempfile.TemporaryDirectory() as out:
            picture = Path(out) / "a.png"
            done = start("--shot", str(picture), home=home, TMPDIR=home, DISPLAY=":7777")
            self.assertEqual((done.returncode, done.stdout, done.stderr), (0, "", ""))
            self.assertTrue(picture.exists())
            self.assertEqual(list(Path(home).iterdir()), [])
            done = start("--shot", "/dev/null/a.png", home=home, TMPDIR=home)
            self.assertEqual((done.returncode, len(done.stderr.splitlines())), (2, 1), done.stderr)
            self.assertEqual(list(Path(home).iterdir()), [])


class Servers(unittest.TestCase):
    @unittest.skipUnless(shutil.which("Xvfb"), "needs Xvfb")
    def test_a_server_is_not_left_alone_between_asking_and_the_window(self) -> None:
        """It ends when its last client leaves: one that was only asked would be gone by the time the window comes."""
        ready, tell = os.pipe()
        server = subprocess.Popen(
            ["Xvfb", f":{200 + (os.getpid() + 401) % 800}", "-displayfd", str(tell), "-terminate"],
            pass_fds=(tell,),
            stderr=subprocess.DEVNULL,
        )
        os.close(tell)
        self.addCleanup(server.wait)
        self.addCleanup(server.kill)
        with os.fdopen(ready) as stream:
            display = f":{stream.readline().strip()}"
        code = (
            "from cozy_burrow.app.look.display import choose_platform; choose_platform(for_picture=False); "
            "import time; time.sleep(0.5); from PySide6.QtWidgets import QApplication; QApplication([]); print('there')"
        )
        env = {name: value for name, value in os.environ.items() if name not in _DISPLAYS} | {"DISPLAY": display}
        done = subprocess.run([sys.executable, "-c", code], env=env, capture_output=True, text=True, check=False)
        self.assertEqual(done.stdout.strip(), "there", done.stderr)


class Demo(unittest.TestCase):
    @unittest.skipUnless(shutil.which("Xvfb"), "needs Xvfb")
    def test_told_to_end_it_ends_the_window_and_its_display_and_says_nothing(self) -> None:
        for sign in (signal.SIGTERM, signal.SIGINT):
            with self.subTest(sign), tempfile.TemporaryDirectory() as home:
                env = {name: value for name, value in os.environ.items() if name not in _DISPLAYS}
                env |= {"XDG_STATE_HOME": home, "XDG_CONFIG_HOME": home}
                demo = subprocess.Popen(
                    [sys.executable, str(ROOT / "tools" / "run_demo.py")],
                    env=env,
                    stdout=subprocess.PIPE,
                    stderr=subprocess.STDOUT,
                    text=True,
                )
                while len(children := _children(demo.pid)) < 2:
                    self.assertIsNone(demo.poll())
                    time.sleep(0.05)
                demo.send_signal(sign)
                said, _ = demo.communicate()
                self.assertEqual(demo.returncode, 0)
                self.assertEqual(len(said.splitlines()), 1, said)
                self.assertEqual([child for child in children if Path(f"/proc/{child}").exists()], [])


def _children(process: int) -> list[str]:
    path = Path(f"/proc/{process}/task/{process}/children")
    return path.read_text().split() if path.exists() else []


class Locks(unittest.TestCase):
    def test_locks_of_programs_that_are_gone_are_cleared_and_those_with_a_copy_stay(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name) / "recovery"
            folder.mkdir()
            for stem in ("dead", "left"):
                (folder / f"{stem}.lock").write_bytes(b"")
            living = RecoveryStore(Path(name))
            living.keep(Project(), None)
            (folder / "left.burrow").write_bytes(living.copy_path.read_bytes())
            (folder / "left.lock").write_bytes(b"")
            store = RecoveryStore(Path(name))
            self.assertEqual(
                {path.stem for path in folder.glob("*.lock")}, {"left", living.copy_path.stem, store.copy_path.stem}
            )
            self.assertEqual([copy.stem for copy in store.left_behind()], ["left"])
            living.close()
            store.close()
            self.assertEqual({path.stem for path in folder.glob("*.lock")}, {"left"})


if __name__ == "__main__":
    unittest.main()
