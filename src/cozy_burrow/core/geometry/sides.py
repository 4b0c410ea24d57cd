"""An area made wider or narrower at the sides that look one way, as a wall is shaved or a strip glued along it."""

from __future__ import annotations

import math

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.geometry.rings import polygons_in

Sides = tuple[tuple[float, float], ...]  # degrees of the way that an edge looks, millimetres outwards
_GRID_MM = 1e-4
_NOTHING_MM = 1e-6


def sided(area: BaseGeometry, sides: Sides) -> BaseGeometry:
    """Return an area with every edge that looks one way moved outwards by so much, or inwards where that is negative.

    Exactly the sum or the difference with a stretch of that length and direction: an edge that looks elsewhere stays,
    a bend goes over into it smoothly.
    """
    for side_deg, by_mm in sides:
        if abs(by_mm) < _NOTHING_MM or area.is_empty:
            continue
        # What a shave takes lies outwards of the edge, what a strip fills inwards: both are what the edge sweeps over.
        swept = _swept(area, by_mm * math.cos(math.radians(side_deg)), by_mm * math.sin(math.radians(side_deg)))
        overlay = shapely.union if by_mm > 0 else shapely.difference
        area = overlay(area, swept, grid_size=_GRID_MM)
    return shapely.union_all(polygons_in(area))


def _swept(area: BaseGeometry, dx: float, dy: float) -> BaseGeometry:
    """Return what all edges of an area sweep over when they are moved."""
    found: list[BaseGeometry] = []
    for polygon in polygons_in(area):
        for ring in (polygon.exterior, *polygon.interiors):
            points = shapely.get_coordinates(ring)
            start, end = points[:-1], points[1:]
            flat = np.abs((end - start) @ np.array([-dy, dx])) < _NOTHING_MM
            moved = points + np.array([dx, dy])
            corners = np.stack([start, end, moved[1:], moved[:-1]], axis=1)[~flat]
            found += list(shapely.polygons(corners))
    return shapely.union_all(found, grid_size=_GRID_MM)


def faced_mm(outline: BaseGeometry, sides: Sides) -> float:
    """Return by how much a thing has more room all round, on average, where its pocket was eased at some sides.

    What is eased at one side is shared by that and the other, half each; a side counts by the share of the thing's edge
    that it faces: for a convex outline the edge's parts across a direction add up to twice its breadth there.
    """
    if not sides or outline.length <= 0:
        return 0.0
    points = shapely.get_coordinates(outline)
    total = 0.0
    for side_deg, by_mm in sides:
        turn = math.radians(side_deg)
        across = points @ (-math.sin(turn), math.cos(turn))
        total += by_mm / 2 * min(1.0, 2.0 * float(np.ptp(across)) / float(outline.length))
    return total
