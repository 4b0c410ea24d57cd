"""Waiting until a window stands still, for who measures what is seen in it."""

from __future__ import annotations

from PySide6.QtCore import QEventLoop, QThreadPool, QTimer
from PySide6.QtWidgets import QApplication

from cozy_burrow.app.desk.aside import at_rest
from cozy_burrow.app.shell.window import Window

_ROUNDS = 8
_PAUSE_MS = 500  # what begins a little after the last change has begun by then


def settle_whole(window: Window) -> None:
    """Wait until nothing works beside the window, and what came of it has found its place.

    Work of any kind: what is told of it late would change a line after all others have found theirs. A line that breaks
    tells how high it is only once it knows how wide, and so do those round it: a few rounds each. Timers come last in a
    round: what one of them asks for in the last round is done after it.
    """
    app = QApplication.instance()
    assert app is not None
    pool = QThreadPool.globalInstance()
    calm = 0
    while calm < _ROUNDS:
        app.processEvents()
        calm += 1
        pauses = window.findChildren(QTimer)
        if pool.activeThreadCount() > 0 or not at_rest(window):
            calm = 0
            pool.waitForDone()
        elif any(one.isActive() and one.isSingleShot() and one.interval() <= _PAUSE_MS for one in pauses):
            calm = 0
            app.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
    for _ in range(_ROUNDS):
        app.sendPostedEvents()
