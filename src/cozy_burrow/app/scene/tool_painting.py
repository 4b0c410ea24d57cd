"""How a thing of the kit is painted from above."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QPainter, QPen

from cozy_burrow.app.look.theme.theme import Theme
from cozy_burrow.app.scene.paths import area_path
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.records import Item


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
