"""The drawing on the item bench: one item large, from above and from its side; a line across it splits its zones."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from cozy_burrow.app.look.painting import paints, saved
from cozy_burrow.app.look.theme.theme import Theme, type_font
from cozy_burrow.app.scene.tool_painting import paint_tool
from cozy_burrow.app.screens.gather.gallery import paint_side
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.records import Item, Point
from cozy_burrow.core.tongue import tr


class ItemCanvas(QWidget):
    """The item from above and from its side; a line dragged across it splits its zones."""

    split = Signal(object, object)

    def __init__(self, theme: Theme, scale: float) -> None:
        super().__init__()
        self.theme, self._scale = theme, scale
        self.item: Item | None = None
        self._drag: tuple[QPointF, QPointF] | None = None
        self.setMinimumSize(round(96 * scale), round(120 * scale))
        self.setAccessibleName(tr("Drawing of the item; drag a line across it to split it into zones"))
        self.setCursor(Qt.CursorShape.CrossCursor)

    def _frame(self, item: Item) -> tuple[float, QPointF]:
        bounds = polygon_of(item.outline).bounds
        width, depth = bounds[2] - bounds[0], bounds[3] - bounds[1]
        scale = min((self.width() - 40) / width, (self.height() - 44) / (depth + item.thickness_mm + 10))
        total = (depth + item.thickness_mm + 10) * scale
        return scale, QPointF(self.width() / 2, (self.height() - total) / 2 + depth * scale / 2 + 6)

    def to_item(self, at: QPointF) -> Point:
        """Return the item's coordinates of a point on this widget."""
        assert self.item is not None
        scale, origin = self._frame(self.item)
        return (at.x() - origin.x()) / scale, (at.y() - origin.y()) / scale

    @paints
    def paintEvent(self, painter: QPainter) -> None:
        """Paint both views, the numbers of the zones, and the line being dragged."""
        theme = self.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(theme.colour("line"), 1))
        painter.setBrush(theme.colour("paper"))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 6, 6)
        if self.item is None:
            return
        scale, origin = self._frame(self.item)
        with saved(painter):
            painter.translate(origin)
            painter.scale(scale, scale)
            paint_tool(painter, self.item, theme, worn=True)
        bounds = polygon_of(self.item.outline).bounds
        paint_side(painter, self.item, theme, origin.x(), origin.y() + (bounds[3] + 10) * scale, scale)
        painter.setFont(type_font("figure", self._scale))
        for number, zone in enumerate(self.item.zones, start=1):
            inside = polygon_of(zone.region).representative_point()
            at = QPointF(origin.x() + inside.x * scale, origin.y() + inside.y * scale)
            painter.setPen(QPen(theme.colour("tool_line"), 1.4))
            painter.setBrush(theme.colour("paper"))
            size = 10 * self._scale
            painter.drawEllipse(at, size, size)
            painter.setPen(theme.colour("ink"))
            card = QRectF(at.x() - size, at.y() - size, 2 * size, 2 * size)
            painter.drawText(card, Qt.AlignmentFlag.AlignCenter, str(number))
        if self._drag is not None:
            painter.setPen(QPen(theme.colour("accent"), 2.5))
            painter.drawLine(*self._drag)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Begin a line."""
        if self.item is not None and event.button() == Qt.MouseButton.LeftButton:
            self._drag = (event.position(), event.position())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Draw the line on."""
        if self._drag is not None:
            self._drag = (self._drag[0], event.position())
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Split along the line, if it is one."""
        drag, self._drag = self._drag, None
        self.update()
        if self.item is not None and drag is not None and (drag[1] - drag[0]).manhattanLength() > 12:
            self.split.emit(self.to_item(drag[0]), self.to_item(drag[1]))
