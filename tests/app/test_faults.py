"""Parts that fail: a solver without an answer or one that breaks, a font that is gone; and no network is asked."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import textwrap
import unittest
from pathlib import Path
from typing import Any
from unittest.mock import patch

from cozy_burrow.app.desk.crash import CrashGuard
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.ground.arranging import arranged
from cozy_burrow.core.progress import Quiet
from cozy_burrow.export import lettering
from cozy_burrow.jobs.export import unasked, write_export
from tests.app.qt import QtCase, wait_until
from tests.makers import box, laid, project, rod

KIT = [box(name="block"), rod(name="rod"), box(80, 30, 10, "plate"), box(40, 40, 20, "cube")]


class _NoAnswer:
    x = None
    status, success, message = 4, False, "numerical trouble"


def no_answer(*_: Any, **__: Any) -> _NoAnswer:
    """A solver that gives up."""
    return _NoAnswer()


def broken(*_: Any, **__: Any) -> Any:
    """A solver that breaks."""
    raise RuntimeError("the solver broke")


class Solvers(QtCase):
    def test_a_layout_is_found_where_the_programme_has_no_answer(self) -> None:
        with patch("scipy.optimize.linprog", no_answer):
            found = arranged(project(*KIT), "insert-1", seed=1, token=Quiet(), steps=60).project
        self.assertEqual(len(found.inserts[0].placements), len(KIT))
        self.assertFalse([one for one in findings_of(found) if one.severity == "stop"])

    def test_a_solver_that_breaks_leaves_the_plan_as_it_was_and_is_said(self) -> None:
        plan = project(*KIT)
        window = self.window(plan, stage="lay-out")
        with patch("scipy.optimize.linprog", broken):
            window.arranging.begin("all")
            self.assertTrue(wait_until(lambda: not window.arranging.is_arranging))
        self.assertIs(window.workspace.project, plan)
        (error,) = self.uncaught  # comes to the guard, which keeps the work and says a sentence
        self.uncaught.clear()
        said: list[str] = []
        guard = CrashGuard(self.folder, keep_work=window.autosave.keep, say=said.append)
        guard.caught(type(error), error, error.__traceback__)
        self.assertRegex(
            said[0], r"^Something in the program went wrong. Your work is kept. You can go on or save now."
        )
        window.arranging.begin("all")
        self.assertTrue(wait_until(lambda: window.arranging.best is not None))
        window.arranging.stop()


class Fonts(unittest.TestCase):
    def test_papers_without_the_font_are_one_sentence_and_nothing_is_half_written(self) -> None:
        lettering.register_fonts.cache_clear()
        self.addCleanup(lettering.register_fonts.cache_clear)
        plan = laid(project(box()), (60, 60))
        with tempfile.TemporaryDirectory() as name:
            out = Path(name) / "papers"
            with (
                patch.object(lettering, "asset", lambda *names: Path(name) / names[-1]),
                self.assertRaisesRegex(UnusableInput, "font that belongs to the program"),
            ):
                write_export(plan, out, kinds=unasked())
            self.assertEqual([one for one in Path(name).rglob("*") if one.is_file()], [])
            (Path(name) / "Lato-Regular.ttf").write_bytes(b"no font")
            with (
                patch.object(lettering, "asset", lambda *names: Path(name) / names[-1]),
                self.assertRaisesRegex(UnusableInput, "Lato-Regular"),
            ):
                write_export(plan, out, kinds=unasked())


SESSION = """
import sys
asked = []
def hear(event, args):
    if event in {"socket.getaddrinfo", "socket.gethostbyname", "urllib.Request"}:
        asked.append((event, args))
    elif event in {"socket.connect", "socket.bind", "socket.sendto"} and isinstance(args[1], tuple):
        asked.append((event, args[1]))
sys.addaudithook(hear)
from cozy_burrow.cli.main import run
assert run(sys.argv[1:]) in {0, 1}
assert not asked, asked
assert "PySide6.QtNetwork" not in sys.modules
print("nothing asked")
"""


class Network(unittest.TestCase):
    def test_neither_window_nor_commands_ask_a_network(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            env = os.environ | {"QT_QPA_PLATFORM": "offscreen", "HOME": name}
            kit = Path(name) / "kit.csv"
            kit.write_text("name,length,width,thickness\nblock,60,20,12\n")
            for words in (
                ["plan", str(kit), f"{name}/a.burrow", "--container", "200x120x60", "--foam", "40/10", "--steps", "20"],
                ["export", f"{name}/a.burrow", f"{name}/papers"],
                ["--demo", "--shot", f"{name}/a.png", "--stage", "lay-out"],
            ):
                done = subprocess.run(
                    [sys.executable, "-c", textwrap.dedent(SESSION), *words],
                    env=env, capture_output=True, text=True, check=False,
                )  # fmt: skip
                self.assertEqual(done.returncode, 0, done.stderr)
                self.assertIn("nothing asked", done.stdout)
