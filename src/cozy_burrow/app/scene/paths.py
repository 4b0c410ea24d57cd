"""Areas of the core as paths for the painter; a path is kept as long as its geometry."""

from __future__ import annotations

import shapely
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainterPath, QPolygonF
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.model.memo import memo


@memo(rows=4096)
def area_path(area: BaseGeometry) -> QPainterPath:
    """Return the path of an area, holes left open."""
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.OddEvenFill)
    for polygon in polygons_in(area):
        for line in (polygon.exterior, *polygon.interiors):
            path.addPolygon(QPolygonF([QPointF(x, y) for x, y in shapely.get_coordinates(line).tolist()]))
    return path


def ring_path(ring: tuple[tuple[float, float], ...]) -> QPainterPath:
    """Return the path of one closed ring."""
    path = QPainterPath()
    path.addPolygon(QPolygonF([QPointF(x, y) for x, y in ring]))
    path.closeSubpath()
    return path
