"""Small sections that show what the reserved words mean: loose, too tight, captive, squeezed out, not level."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPen, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from cozy_burrow.app.look.painting import paints
from cozy_burrow.app.look.theme.theme import Theme
from cozy_burrow.core.findings.holds import CAPTIVE, LOOSE, SQUEEZED, TOO_TIGHT
from cozy_burrow.core.findings.sits import LIES_ASKEW
from cozy_burrow.core.tongue import tr

WIDE, HIGH = 132.0, 66.0
_TOP = 24.0  # of the foam; above it there is air


class Sketch(QWidget):
    """One of the drawings, as high as a few lines of text."""

    def __init__(self, theme: Theme, scale: float, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._theme, self._scale = theme, scale
        self._drawing: _Drawing | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setVisible(False)

    def show_code(self, code: str | None) -> None:
        """Show what a finding's word means; nothing where it has no drawing."""
        self._drawing = DRAWINGS.get(code) if code is not None else None
        self.setVisible(self._drawing is not None)
        self.setAccessibleName(tr("Drawing: {shows}", shows=self._drawing.shows) if self._drawing is not None else "")
        self.update()

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""
        self._theme = theme
        self.update()

    def sizeHint(self) -> QSize:
        """As large as the drawing."""
        return QSize(round(WIDE * self._scale), round(HIGH * self._scale))

    @paints
    def paintEvent(self, painter: QPainter) -> None:
        """Paint foam, pocket, thing and what happens to it."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.scale(self._scale, self._scale)
        if self._drawing is not None:
            self._drawing.paint(self, painter)

    def loose(self, painter: QPainter) -> None:
        """Paint a thing that leaves its pocket."""
        self._foam(painter, (44, 88), 56)
        self._box(painter, QRectF(50, 30, 32, 26))
        self._arrow(painter, QPointF(66, 28), QPointF(66, 4))

    def too_tight(self, painter: QPainter) -> None:
        """Paint a thing that foam presses from both sides."""
        self._foam(painter, (50, 82), 56)
        self._box(painter, QRectF(48, 18, 36, 38))
        self._arrow(painter, QPointF(22, 42), QPointF(46, 42))
        self._arrow(painter, QPointF(110, 42), QPointF(86, 42))

    def captive(self, painter: QPainter) -> None:
        """Paint a thing that a lid keeps in."""
        self._foam(painter, (44, 88), 60)
        self._box(painter, QRectF(47, 40, 38, 20))
        painter.fillRect(QRectF(4, 4, WIDE - 8, 10), self._theme.colour("lid"))
        self._arrow(painter, QPointF(66, 38), QPointF(66, 16))
        self._arrow(painter, QPointF(66, 16), QPointF(66, 38))

    def squeezed(self, painter: QPainter) -> None:
        """Paint a round thing that the edges of its pocket lift."""
        self._foam(painter, (54, 78), 33)
        self._thing(painter)
        painter.drawEllipse(QPointF(66, 16.5), 15, 15)
        self._arrow(painter, QPointF(41, 38), QPointF(53, 26))
        self._arrow(painter, QPointF(91, 38), QPointF(79, 26))

    def not_level(self, painter: QPainter) -> None:
        """Paint a thing with one end up."""
        self._foam(painter, (28, 104), 50)
        painter.translate(66, 34)
        painter.rotate(-math.degrees(math.atan2(18, 76)))
        self._box(painter, QRectF(-40, -7, 80, 14))

    def _foam(self, painter: QPainter, pocket: tuple[float, float], floor: float) -> None:
        painter.fillRect(QRectF(4, _TOP, WIDE - 8, HIGH - _TOP), self._theme.colour("strata_b"))
        painter.fillRect(QRectF(pocket[0], _TOP, pocket[1] - pocket[0], floor - _TOP), self._theme.colour("paper"))
        painter.setPen(QPen(self._theme.colour("shade"), 1.4))
        left, right = pocket
        line = [(4, _TOP), (left, _TOP), (left, floor), (right, floor), (right, _TOP), (WIDE - 4, _TOP)]
        painter.drawPolyline(QPolygonF([QPointF(x, y) for x, y in line]))

    def _thing(self, painter: QPainter) -> None:
        painter.setPen(QPen(self._theme.colour("tool_line"), 1.6))
        painter.setBrush(self._theme.colour("tool"))

    def _box(self, painter: QPainter, rect: QRectF) -> None:
        self._thing(painter)
        painter.drawRoundedRect(rect, 2, 2)

    def _arrow(self, painter: QPainter, start: QPointF, end: QPointF) -> None:
        painter.setPen(QPen(self._theme.colour("stop"), 2.2, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        painter.drawLine(start, end)
        way = math.atan2(end.y() - start.y(), end.x() - start.x())
        for side in (2.6, -2.6):
            painter.drawLine(end, end + QPointF(6 * math.cos(way + side), 6 * math.sin(way + side)))


class _Drawing(NamedTuple):
    shows: str
    paint: Callable[[Sketch, QPainter], None]


DRAWINGS = {
    LOOSE.code: _Drawing(tr("an item with air on both sides, and an arrow out of its pocket"), Sketch.loose),
    TOO_TIGHT.code: _Drawing(
        tr("foam that presses an item from both sides harder than fingers pull"), Sketch.too_tight
    ),
    CAPTIVE.code: _Drawing(
        tr("an item deep in its pocket under a lid that is nearer than the pocket is deep"), Sketch.captive
    ),
    SQUEEZED.code: _Drawing(tr("a shallow round item that the edges of its pocket press upwards"), Sketch.squeezed),
    LIES_ASKEW.code: _Drawing(
        tr("an item with one end on the floor of its pocket and the other on its edge"), Sketch.not_level
    ),
}
