"""How a thing of the kit is painted from above."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QPainter, QPen

from cozy_burrow.app.look.theme.theme import Theme
from cozy_burrow.app.scene.paths import area_path
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.records import Item
from cozy_burrow.core.relief.finish import finish_of


def paint_tool(painter: QPainter, item: Item, theme: Theme, *, alpha: float = 1.0, worn: bool = False) -> None:
    """Paint an item seen from above in its own coordinates: parts that stand higher are paler.

    worn: in the colours of what its parts are made of.
    """
    tops = [zone.highest_mm for zone in item.zones]
    highest, lowest = max(tops), min(tops)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for number, zone in sorted(enumerate(item.zones), key=lambda one: one[1].highest_mm):
        share = 1.0 if highest == lowest else (zone.highest_mm - lowest) / (highest - lowest)
        plain = theme.colour("tool" if share > 0.5 else "tool_deep", alpha)
        colour = colour_of(item, number) if worn else plain
        painter.fillPath(area_path(polygon_of(zone.region)), colour)
    outline_tool(painter, item, theme.colour("tool_line"))
    if len(item.zones) > 1:
        pen = QPen(theme.colour("tool_line", 0.55), 1.0)
        pen.setCosmetic(True)
        painter.setPen(pen)
        for zone in item.zones:
            painter.drawPath(area_path(polygon_of(zone.region)))


def outline_tool(painter: QPainter, item: Item, colour: QColor) -> None:
    """Draw the edge of an item seen from above, in its own coordinates."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    pen = QPen(colour, 1.2)
    pen.setCosmetic(True)
    painter.setPen(pen)
    painter.drawPath(area_path(polygon_of(item.outline)))


def colour_of(item: Item, part: int) -> QColor:
    """Return the colour of what a part of an item is made of."""
    return QColor(*finish_of(item, part, "").colour)
