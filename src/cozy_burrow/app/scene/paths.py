"""Areas of the core as paths for the painter; a path is kept as long as its geometry."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainterPath, QPolygonF
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.model.memo import memo


@memo(rows=4096)
def area_path(area: BaseGeometry) -> QPainterPath:
    """Return the path of an area, holes left open."""
    return _path(area)


def _path(area: BaseGeometry) -> QPainterPath:
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.OddEvenFill)
    for polygon in polygons_in(area):
        for line in (polygon.exterior, *polygon.interiors):
            path.addPolygon(QPolygonF([QPointF(x, y) for x, y in shapely.get_coordinates(line).tolist()]))
    return path


def coarse_paths(areas: Sequence[BaseGeometry], within_mm: float) -> list[QPainterPath]:
    """Return paths that are nowhere off by more than within_mm: of small pictures, where finer corners are not seen."""
    return [_path(area) for area in shapely.simplify(np.array(areas, dtype=object), within_mm)]


def ring_path(ring: tuple[tuple[float, float], ...]) -> QPainterPath:
    """Return the path of one closed ring."""
    path = QPainterPath()
    path.addPolygon(QPolygonF([QPointF(x, y) for x, y in ring]))
    path.closeSubpath()
    return path
