"""Garbage is collected on the interface's thread only.

Left to itself, Python collects in whichever thread happens to allocate. A search that does so may take away a timer or
a picture that Qt has just let go of, from a thread it does not belong to, under the feet of the event loop: the
program then crashes. So collecting by itself is off, and a timer does it where it is safe.
"""

from __future__ import annotations

import gc

from PySide6.QtCore import QObject, QTimer
from PySide6.QtWidgets import QApplication

_EVERY_MS = 300
_WHOLE_EVERY = 60  # small collections between two of everything


class Collector(QObject):
    """Collects young garbage a few times a second, everything now and then while no mouse button is held."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        gc.disable()
        self._since_whole = 0
        self._timer = QTimer(self)
        self._timer.timeout.connect(self.collect)
        self._timer.start(_EVERY_MS)

    def collect(self) -> None:
        """Collect as much as is due."""
        young, middle, _ = gc.get_count()
        first, second, _ = gc.get_threshold()
        if young <= first:
            return
        self._since_whole += 1
        if self._since_whole > _WHOLE_EVERY and not QApplication.mouseButtons():
            self._since_whole = 0
            gc.collect()
        else:
            gc.collect(1 if middle > second else 0)


def collect_here(app: QApplication) -> None:
    """Collect on this thread from now on, once an application."""
    if app.findChild(Collector) is None:
        Collector(app)
