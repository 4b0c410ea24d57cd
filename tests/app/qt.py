"""One application for all tests of the interface; how to wait; every Qt warning and lost error is a failure."""

from __future__ import annotations

import os
import sys
import tempfile
import threading
import unittest
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any
from unittest.mock import patch

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import (
    QEventLoop,
    QMessageLogContext,
    QPoint,
    QPointF,
    Qt,
    QThreadPool,
    QTimer,
    QtMsgType,
    qInstallMessageHandler,
)
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from cozy_burrow.app.desk import ask
from cozy_burrow.app.desk.aside import at_rest
from cozy_burrow.app.desk.collecting import collect_here
from cozy_burrow.app.desk.judge import Judge
from cozy_burrow.app.desk.settings import PLAN_LOOK, PLAN_NAMES, Settings
from cozy_burrow.app.desk.tasks import Task
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.theme.theme import ThemeName, apply_theme, load_fonts, load_theme
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.model.records import Project
from cozy_burrow.jobs import apart

# What this Qt says of a screen that is not there; nothing of the program's.
_EXPECTED = ("propagateSizeHints", "XDG_RUNTIME_DIR", "does not support raise()")
_messages: list[str] = []
_LOOK_MS = 5
NEVER_MS = 3_600_000  # a pause that no test waits for


def _hear(kind: QtMsgType, context: QMessageLogContext, text: str) -> None:
    if kind != QtMsgType.QtDebugMsg and not any(word in text for word in _EXPECTED):
        _messages.append(text)


def application() -> QApplication:
    """Return the one application, dressed."""
    app = QApplication.instance()
    if not isinstance(app, QApplication):
        app = QApplication(["test"])
        app.setStyle("Fusion")
        load_fonts()
        qInstallMessageHandler(_hear)
        collect_here(app)
    return app


def wait_until(condition: Callable[[], bool], *, looks: int = 720_000) -> bool:
    """Run the event loop until a condition holds; False where it never did in so many looks, 5 ms apart or more.

    Looks and not minutes are counted: on a machine that hardly comes to this process it looks as seldom as it works.
    They last for an hour at least, since what is waited for may be done by a process that has still less of it.
    """
    loop = QEventLoop()
    held = condition()
    left = looks

    def look() -> None:
        nonlocal held, left
        left -= 1
        if condition():  # what comes in before the loop has ended may change it again
            held = True
        if held or left <= 0:
            loop.quit()

    ask = QTimer()
    ask.timeout.connect(look)
    ask.start(_LOOK_MS)
    if not held:
        loop.exec()
    return held


def _by_another_clock(pace: str) -> None:
    """Let all work beside the window be done before it is asked for again, or long after."""
    begin, execute = Task.begin, Task.execute
    ended: dict[Task, threading.Event] = {}

    def at_once(task: Task) -> None:
        ended[task] = threading.Event()
        begin(task)
        ended[task].wait(_AT_ONCE_S)
        del ended[task]

    def told(task: Task) -> None:
        execute(task)
        if task in ended:
            ended[task].set()

    def late(task: Task) -> None:
        QTimer.singleShot(_LATE_MS, task, lambda: begin(task))

    Task.begin, Task.execute = (at_once, told) if pace == "at-once" else (late, execute)  # type: ignore[method-assign]


def _timers_first() -> None:
    """Let every pause of the window be over before the next key is pressed, as where a key takes a second."""
    interval, start = QTimer.setInterval, QTimer.start

    def shorter(pause_ms: int) -> int:
        return pause_ms if pause_ms >= NEVER_MS else min(pause_ms, 1)

    def begin(timer: QTimer, *pause_ms: int) -> None:
        start(timer, *map(shorter, pause_ms))

    QTimer.setInterval = lambda timer, pause_ms: interval(timer, shorter(pause_ms))  # type: ignore[method-assign]
    QTimer.start = begin  # type: ignore[method-assign,assignment]


# No outcome may hang on how fast a machine is: TEST_PACE=at-once, =late or =timers-first shows one that does.
_AT_ONCE_S, _LATE_MS = 10.0, 400
if _PACE := os.environ.get("TEST_PACE"):
    _timers_first() if _PACE == "timers-first" else _by_another_clock(_PACE)


@contextmanager
def work_waits() -> Iterator[None]:
    """Within it, what is to be worked out beside a window is not begun: it comes as late as one likes."""
    waiting: list[Task] = []
    with patch.object(Task, "begin", lambda task: waiting.append(task)):
        yield
    for task in waiting:
        task.begin()


def painted(window: Window) -> bool:
    """Wait until a shown window is in front and has been painted."""
    window.activateWindow()
    return wait_until(
        lambda: window.isActiveWindow() and window.windowHandle().isExposed() and not window.grab().isNull()
    )


def settle(window: Window) -> None:
    """Wait until everything that is worked out beside a window has been shown."""
    application().processEvents()
    assert wait_until(lambda: at_rest(window))
    application().sendPostedEvents()  # what the last timer asked for: layouts


# Findings come in one go in tests: what a list shows after a change must not depend on how busy the machine is.
Judge.at_once, Workspace.patience_s = True, 1e9
# Nobody looks at these windows: what is waited for beside them may take as much of a busy machine as they.
apart.NICE = 0


class QtCase(unittest.TestCase):
    """Gives settings of their own, closes windows, fails on a warning of Qt.

    The plan is a drawing, unless a class says that it wants it lit: that takes a second a window.
    """

    lit = False

    def setUp(self) -> None:
        self.app = application()
        _messages.clear()
        self.uncaught: list[BaseException] = []
        hook, sys.excepthook = sys.excepthook, lambda kind, error, trace: self.uncaught.append(error)
        self.addCleanup(setattr, sys, "excepthook", hook)
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.asked: list[str] = []
        self.answers: list[str] = []  # to the questions to come, in their order, by the words on the button
        answered = patch.object(ask, "which", self._answer)
        answered.start()
        self.addCleanup(answered.stop)

    def _answer(self, parent: object, title: str, text: str, choices: tuple[str, ...]) -> int:
        self.asked.append(text)
        if not self.answers:
            raise AssertionError(f"nobody answers: {text} {choices}")
        return choices.index(self.answers.pop(0))

    def tearDown(self) -> None:
        QThreadPool.globalInstance().waitForDone(3_600_000)
        for widget in self.app.topLevelWidgets():
            if isinstance(widget, Window):
                widget.workspace.saved = widget.workspace.project
                widget.retouch.close()
            widget.close()
            widget.deleteLater()
        self.app.processEvents()
        self.assertEqual(_messages, [])
        if self.uncaught:  # raised in a slot or a paint event, where no test sees it otherwise
            raise self.uncaught[0]

    def window(
        self,
        project: Project,
        *,
        theme: ThemeName = "light",
        scale: float = 1.0,
        stage: Any = None,
        size: tuple[int, int] = (1280, 800),
    ) -> Window:
        """Return a shown window."""
        apply_theme(self.app, load_theme(theme), scale=scale)
        settings = Settings(self.folder)
        settings.set(PLAN_LOOK, "picture" if self.lit else "drawing")
        settings.set(PLAN_NAMES, "yes" if self.lit else "no")
        window = Window(project, settings, theme=theme, scale=scale)
        if self.lit:
            window.plan.wait_for_light()
        window.resize(*size)
        window.show()
        if stage is not None:
            window.show_stage(stage)
        self.app.processEvents()
        return window


def key(widget: QWidget, code: Qt.Key, modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
    """Press a key on a widget."""
    QTest.keyClick(widget, code, modifier)
    QApplication.processEvents()


def drag(widget: QWidget, start: QPointF, end: QPointF, *, steps: int = 8) -> None:
    """Press, carry and let go on a widget, with the left button."""
    QTest.mouseMove(widget, start.toPoint())
    QTest.mousePress(widget, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start.toPoint())
    for step in range(1, steps + 1):
        at = start + (end - start) * (step / steps)
        QTest.mouseMove(widget, QPoint(round(at.x()), round(at.y())))
        QApplication.processEvents()
    QTest.mouseRelease(widget, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, end.toPoint())
    QApplication.processEvents()


def plan_pixel(window: Window, x_mm: float, y_mm: float) -> QPointF:
    """Return where a place of the plan is on its viewport."""
    return QPointF(window.plan.viewportTransform().map(QPointF(x_mm, y_mm)))
