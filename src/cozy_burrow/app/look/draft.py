"""Small drawings in the theme's colours: foam in a cut or from above, items, arrows, numbers; each drawn in one place.

A drawing is a record with its size and what it shows in words; it is painted on whatever it is asked for: a panel
beside a check, a page of the help.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen, QPixmap, QPolygonF

from cozy_burrow.app.look.painting import drawing_on, saved
from cozy_burrow.app.look.theme.theme import Theme, type_font

Pairs = Sequence[tuple[float, float]]


class Draft:
    """A painter that knows how foam, items and arrows look. Units are pixels at 100 %."""

    def __init__(self, painter: QPainter, theme: Theme) -> None:
        self.painter, self._theme = painter, theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)

    def foam(self, outline: Pairs) -> None:
        """Fill foam, as it is seen in a cut, and draw the line round it."""
        self._area(outline, "strata_b", QPen(self._theme.colour("shade"), 1.4))

    def layers(self, left: float, right: float, heights: Sequence[float]) -> None:
        """Draw the borders between layers."""
        self.painter.setPen(QPen(self._theme.colour("strata_a").lighter(125), 1.0))
        for y in heights:
            self.painter.drawLine(QPointF(left, y), QPointF(right, y))

    def top(self, rect: QRectF) -> None:
        """Draw foam as it is seen from above."""
        self.painter.setPen(QPen(self._theme.colour("foam_edge"), 1.4))
        self.painter.setBrush(self._theme.colour("foam_top"))
        self.painter.drawRoundedRect(rect, 3, 3)

    def opening(self, rect: QRectF, *, round_by: float = 2.0) -> None:
        """Draw a pocket or a pull as it is seen from above."""
        self.painter.setPen(QPen(self._theme.colour("shade"), 1.2))
        self.painter.setBrush(self._theme.colour("pocket_deep"))
        self.painter.drawRoundedRect(rect, round_by, round_by)

    def pull(self, rect: QRectF, *, round_by: float) -> None:
        """Draw room for fingers as it is seen from above."""
        self.painter.setPen(QPen(self._theme.colour("shade"), 1.2))
        self.painter.setBrush(self._theme.colour("pull"))
        self.painter.drawRoundedRect(rect, round_by, round_by)

    def air(self, rect: QRectF) -> None:
        """Take foam away where a pocket is, in a cut."""
        self.painter.fillRect(rect, self._theme.colour("paper"))

    def box(self, rect: QRectF) -> None:
        """Draw an item with straight sides."""
        self._item()
        self.painter.drawRoundedRect(rect, 2, 2)

    def ball(self, middle: QPointF, radius: float) -> None:
        """Draw a round item, seen from its end."""
        self._item()
        self.painter.drawEllipse(middle, radius, radius)

    def lid(self, rect: QRectF) -> None:
        """Draw a lid, or what else closes over an item."""
        self.painter.fillRect(rect, self._theme.colour("lid"))

    def paper(self, outline: Pairs) -> None:
        """Draw a sheet of paper."""
        self._area(outline, "paper", QPen(self._theme.colour("line_strong"), 1.2))

    def solid(self, outline: Pairs) -> None:
        """Draw something hard that is no item: a wall, a camera."""
        self._area(outline, "bench", QPen(self._theme.colour("tool_line"), 1.4))

    def dots(self, points: Pairs) -> None:
        """Draw fine dots."""
        self.painter.setPen(Qt.PenStyle.NoPen)
        self.painter.setBrush(self._theme.colour("ink"))
        for x, y in points:
            self.painter.drawEllipse(QPointF(x, y), 1.0, 1.0)

    def line(self, points: Pairs, *, dashed: bool = False, thick: float = 1.6) -> None:
        """Draw a line that says something of the drawing."""
        style = Qt.PenStyle.DashLine if dashed else Qt.PenStyle.SolidLine
        self.painter.setPen(QPen(self._theme.colour("accent"), thick, style, Qt.PenCapStyle.RoundCap))
        self.painter.drawPolyline(QPolygonF([QPointF(x, y) for x, y in points]))

    def arrow(self, start: QPointF, end: QPointF) -> None:
        """Draw an arrow."""
        self.painter.setPen(QPen(self._theme.colour("stop"), 2.2, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        self.painter.drawLine(start, end)
        way = math.atan2(end.y() - start.y(), end.x() - start.x())
        for side in (2.6, -2.6):
            self.painter.drawLine(end, end + QPointF(6 * math.cos(way + side), 6 * math.sin(way + side)))

    def number(self, number: int, x: float, y: float) -> None:
        """Write a number that the words beside the drawing speak of."""
        painter, theme = self.painter, self._theme
        painter.setPen(QPen(theme.colour("ink"), 1.2))
        painter.setBrush(theme.colour("paper"))
        painter.drawEllipse(QPointF(x, y), 8, 8)
        painter.setFont(type_font("small", 1.0))
        painter.drawText(QRectF(x - 8, y - 8, 16, 16), Qt.AlignmentFlag.AlignCenter, str(number))

    def turned(self, middle: QPointF, angle_deg: float, paint: Callable[[], None]) -> None:
        """Paint something turned about its middle."""
        with saved(self.painter):
            self.painter.translate(middle)
            self.painter.rotate(angle_deg)
            paint()

    def _item(self) -> None:
        self.painter.setPen(QPen(self._theme.colour("tool_line"), 1.6))
        self.painter.setBrush(self._theme.colour("tool"))

    def _area(self, outline: Pairs, role: str, pen: QPen) -> None:
        self.painter.setPen(pen)
        self.painter.setBrush(self._theme.colour(role))
        self.painter.drawPolygon(QPolygonF([QPointF(x, y) for x, y in outline]))


class Drawing(NamedTuple):
    """A small drawing. shows: what is seen on it, for whoever does not see it; empty where words stand beside it."""

    wide: float
    high: float
    paint: Callable[[Draft], None]
    shows: str = ""

    def picture(self, theme: Theme, *, scale: float, ratio: float) -> QPixmap:
        """Return it as a picture, at a scale of type, for a screen with so many points to the pixel."""
        found = QPixmap(round(self.wide * scale * ratio), round(self.high * scale * ratio))
        found.fill(Qt.GlobalColor.transparent)
        with drawing_on(found) as painter:
            painter.scale(scale * ratio, scale * ratio)
            self.paint(Draft(painter, theme))
        found.setDevicePixelRatio(ratio)
        return found
