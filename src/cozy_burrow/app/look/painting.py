"""Painting that always ends: an error in a paint handler leaves no painter at work, which would crash Qt.

What could not be painted is shown as such, hatched, and the error goes where every lost error goes: kept once in the
report, however often the place is painted again.
"""

from __future__ import annotations

import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import wraps
from typing import TypeVar

from PySide6.QtCore import QRect, QRectF, Qt
from PySide6.QtGui import QBrush, QPainter, QPaintEvent, QPixmap
from PySide6.QtWidgets import QWidget

W = TypeVar("W", bound=QWidget)


def paints(body: Callable[[W, QPainter], None]) -> Callable[[W, QPaintEvent], None]:
    """Make a paintEvent of a method that paints with a painter it is given."""

    @wraps(body)
    def paintEvent(self: W, event: QPaintEvent) -> None:
        with painting(self) as painter:
            body(self, painter)

    return paintEvent


@contextmanager
def painting(widget: QWidget) -> Iterator[QPainter]:
    """Give a painter on a widget, and end it whatever happens."""
    painter = QPainter(widget)
    try:
        with guarded(painter, widget.rect()):
            yield painter
    finally:
        painter.end()


@contextmanager
def drawing_on(picture: QPixmap) -> Iterator[QPainter]:
    """Give a painter on a picture, and end it whatever happens; an error goes on to who paints the picture."""
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    try:
        yield painter
    finally:
        painter.end()


@contextmanager
def guarded(painter: QPainter, place: QRect | QRectF) -> Iterator[None]:
    """Paint with a painter that belongs to Qt: it goes back as it came; `place` is hatched where that fails."""
    painter.save()
    failed: Exception | None = None
    try:
        yield
    except Exception as error:
        failed = error
    finally:
        painter.restore()
    if failed is not None:
        _hatch(painter, place)
        sys.excepthook(type(failed), failed, failed.__traceback__)


@contextmanager
def saved(painter: QPainter) -> Iterator[None]:
    """Let a painter be moved, turned and dressed for a while; it comes back as it was, whatever happens."""
    painter.save()
    try:
        yield
    finally:
        painter.restore()


def _hatch(painter: QPainter, place: QRect | QRectF) -> None:
    """Show a place as unpainted, in the palette's own colours."""
    painter.save()
    colour = painter.pen().color()
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QBrush(colour, Qt.BrushStyle.BDiagPattern))
    painter.drawRect(QRectF(place))
    painter.restore()


def sharpness(painter: QPainter) -> float:
    """Return how many dots of the screen a pixel is."""
    device = painter.device()
    return float(device.devicePixelRatioF()) if device is not None else 1.0
