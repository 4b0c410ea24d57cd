"""What is long never runs in the window's own thread: a session is played while every call in that thread is counted.

Seconds would hang on the machine; calls do not. The longest stretches in milliseconds: `benchmarks/awake.py`.
"""

from __future__ import annotations

import sys
import time
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from types import FrameType
from unittest.mock import patch

from PySide6.QtCore import QPointF, Qt, QThreadPool
from PySide6.QtTest import QTest

from cozy_burrow.app.desk import arranging as arranging_module
from cozy_burrow.app.desk.judge import Judge
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core import arrange, capture
from cozy_burrow.core.ground.arranging import arranged
from tests.app.qt import QtCase, plan_pixel
from tests.app.screens import at_gather
from tests.core.arrange.shapes import StopsAfter
from tests.core.capture.scenes import photo
from tests.makers import box, project, rod, van_drawer

# What the window's thread has no business in: searching, reading pictures, judging everything, writing papers.
_LONG = {
    "search": (Path(arrange.__file__).parent, ("search.py", "squeeze.py", "strip.py", "crowd.py", "by_itself.py")),
    "reading": (Path(capture.__file__).parent / "photo", ()),
}
_MOST_CALLS = 60_000  # in one turn of the loop; some 50 ms where nothing else is at work


class Turns:
    """Counts the calls of one turn of the event loop after another, and what long work was begun there."""

    def __init__(self, pump: Callable[[], None]) -> None:
        self._pump = pump
        self.calls, self.most, self.most_at = 0, 0, ""
        self.long: Counter[str] = Counter()

    def _count(self, frame: FrameType, event: str, _: object) -> None:
        if event not in ("call", "c_call"):
            return
        self.calls += 1
        if event == "c_call":  # told of the frame that calls, which was looked at when it began
            return
        path = frame.f_code.co_filename
        for name, (folder, files) in _LONG.items():
            if (
                path.startswith(str(folder))
                and (not files or path.endswith(files))
                and frame.f_code.co_name != "<module>"
            ):
                self.long[f"{name}: {frame.f_code.co_qualname}"] += 1

    @contextmanager
    def counted(self, what: str) -> Iterator[None]:
        """Count what is done here as one turn."""
        self.calls = 0
        sys.setprofile(self._count)
        try:
            yield
        finally:
            sys.setprofile(None)
            if self.calls > self.most:
                self.most, self.most_at = self.calls, what

    def until(self, condition: Callable[[], bool], what: str) -> None:
        """Give the loop its turns until a condition holds."""
        while not condition():
            with self.counted(what):
                self._pump()
            time.sleep(0.001)


class LoopStaysFree(QtCase):
    def setUp(self) -> None:
        super().setUp()
        for change in (
            patch.object(Judge, "at_once", False),
            patch.object(Workspace, "patience_s", -1.0),
            patch.object(arranging_module, "ARRANGE_SECONDS", 3.0),
        ):
            change.start()
            self.addCleanup(change.stop)

    def test_a_session_of_searching_reading_writing_and_dragging(self) -> None:
        window = self.window(van_drawer(), stage="lay-out")
        turns = Turns(self.app.processEvents)
        turns.until(lambda: window.workspace.is_judged, "first judged")
        for stage in ("gather", "measure", "sink", "grip", "cut", "lay-out"):  # a first page may take its time
            window.show_stage(stage)
            turns.until(lambda: window.workspace.is_judged, f"at {stage}")
        turns.most = 0

        at_gather(window).add.pictures.take_photo(photo(15.0, "straight"), "bench.jpg")
        turns.until(lambda: window.retouch.is_open, "reading a photo")
        window.retouch.close()

        with turns.counted("begin a search"):
            window.arranging.begin()
        turns.until(lambda: bool(window.arranging.results) or not window.arranging.is_arranging, "searching")
        self.carry(window, turns)
        turns.until(lambda: not window.arranging.is_arranging, "searching after a drag")

        folder = self.folder / "papers"
        with turns.counted("begin to write"):
            window.desk.export_to(folder)
        turns.until(lambda: any(folder.glob("*.pdf")), "writing papers")
        turns.until(lambda: QThreadPool.globalInstance().activeThreadCount() == 0, "writing the last of them")

        self.assertEqual(turns.long, Counter())
        self.assertLess(turns.most, _MOST_CALLS, turns.most_at)

    def carry(self, window: Window, turns: Turns) -> None:
        """Drag the first item of the plan."""
        placement = window.workspace.insert.placements[0]
        view, at = window.plan.viewport(), plan_pixel(window, placement.x_mm, placement.y_mm)
        left, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
        QTest.mousePress(view, left, none, at.toPoint())
        for step in range(1, 9):
            with turns.counted("a step of a drag"):
                QTest.mouseMove(view, (at + QPointF(2 * step, step)).toPoint())
                self.app.processEvents()
        with turns.counted("letting go"):
            QTest.mouseRelease(view, left)

    def test_the_counter_finds_what_is_long(self) -> None:
        turns = Turns(self.app.processEvents)
        with turns.counted("a search in the wrong place"):
            arranged(project(box(), rod()), "insert-1", seed=1, token=StopsAfter(20))
        self.assertTrue(turns.long)
        self.assertGreater(turns.most, _MOST_CALLS)
