"""A cursor that says so where something takes longer than a blink: a page made for the first time, a file opened."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication


@contextmanager
def busy() -> Iterator[None]:
    """Show the waiting cursor meanwhile."""
    QGuiApplication.setOverrideCursor(Qt.CursorShape.WaitCursor)
    try:
        yield
    finally:
        QGuiApplication.restoreOverrideCursor()
