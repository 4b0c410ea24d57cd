"""One thing of the kit as it lies in the plan."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPen
from PySide6.QtWidgets import QGraphicsItem, QStyleOptionGraphicsItem, QWidget

from cozy_burrow.app.scene.paths import area_path
from cozy_burrow.app.theme.theme import Theme
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.records import Item, Placement


def paint_tool(painter: QPainter, item: Item, theme: Theme, *, alpha: float = 1.0) -> None:
    """Paint an item seen from above in its own coordinates: parts that stand higher are paler."""
    tops = [zone.highest_mm for zone in item.zones]
    highest, lowest = max(tops), min(tops)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for zone in sorted(item.zones, key=lambda one: one.highest_mm):
        share = 1.0 if highest == lowest else (zone.highest_mm - lowest) / (highest - lowest)
        colour = theme.colour("tool" if share > 0.5 else "tool_deep", alpha)
        painter.fillPath(area_path(polygon_of(zone.region)), colour)
    pen = QPen(theme.colour("tool_line"), 1.6)
    pen.setCosmetic(True)
    painter.setPen(pen)
    painter.drawPath(area_path(polygon_of(item.outline)))
    if len(item.zones) > 1:
        pen = QPen(theme.colour("tool_line", 0.55), 1.0)
        pen.setCosmetic(True)
        painter.setPen(pen)
        for zone in item.zones:
            painter.drawPath(area_path(polygon_of(zone.region)))


class ToolItem(QGraphicsItem):
    """Shows one placement; what it means is asked of the core."""

    def __init__(self, item: Item, placement: Placement, theme: Theme, name: str) -> None:
        super().__init__()
        self.item, self._theme = item, theme
        self.alpha = 0.92
        self.setZValue(2)
        self.show_placement(placement, name)

    def show_placement(self, placement: Placement, name: str) -> None:
        """Follow a placement."""
        self.setPos(placement.x_mm, placement.y_mm)
        self.setRotation(placement.angle_deg)
        self.setToolTip(f"{name}\n{self.item.group}".strip())

    def set_alpha(self, alpha: float) -> None:
        """Let the pocket shine through."""
        if alpha != self.alpha:
            self.alpha = alpha
            self.update()

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""
        self._theme = theme
        self.update()

    def boundingRect(self) -> QRectF:
        """The item's bounds and the width of its line."""
        return area_path(polygon_of(self.item.outline)).boundingRect().adjusted(-1, -1, 1, 1)

    def shape(self) -> QPainterPath:
        """The outline: what a finger touches."""
        return area_path(polygon_of(self.item.outline))

    def paint(self, painter: QPainter, option: QStyleOptionGraphicsItem, widget: QWidget | None = None) -> None:
        """Paint the item."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint_tool(painter, self.item, self._theme, alpha=self.alpha)
