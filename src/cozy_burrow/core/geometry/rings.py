"""Outlines as polygons and back: cleaning, centring, drawing plain shapes.

Rings are closed without repeating the first point. In plan coordinates (x right, y towards the person) an
outer ring has positive shoelace area and a hole negative; `outline_of` sees to it.
"""

from __future__ import annotations

import math

import numpy as np
import shapely
from shapely.geometry import MultiPolygon, Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Outline, Point, Ring
from cozy_burrow.core.tolerances import FLATTEN_MM, LARGEST_LENGTH_MM, SLIVER_AREA_MM2, SMALLEST_LENGTH_MM
from cozy_burrow.core.tongue import tr

_DECIMALS = 4  # a tenth of a micrometre is kept; more only makes files longer


@memo(rows=4096)
def polygon_of(outline: Outline) -> Polygon:
    """Return the outline as a Shapely polygon."""
    return Polygon(outline.outer, outline.holes)


def outline_of(polygon: Polygon, *, decimals: int = _DECIMALS) -> Outline:
    """Return a polygon as an Outline: outer ring of positive area, holes of negative."""
    turned = shapely.orient_polygons(polygon)

    def ring(line: BaseGeometry) -> Ring:
        points = np.round(shapely.get_coordinates(line)[:-1], decimals) + 0.0
        return tuple((float(x), float(y)) for x, y in points)

    return Outline(outer=ring(turned.exterior), holes=tuple(ring(hole) for hole in turned.interiors))


def polygons_in(geometry: BaseGeometry, *, least_area_mm2: float = 0.0) -> list[Polygon]:
    """Return the polygons of any geometry, those of more than `least_area_mm2`, largest first."""
    if geometry.is_empty:
        return []
    parts = shapely.get_parts(geometry)
    found = [part for part in parts if isinstance(part, Polygon) and part.area > least_area_mm2]
    for part in parts:
        if not isinstance(part, Polygon) and hasattr(part, "geoms"):
            found += polygons_in(part, least_area_mm2=least_area_mm2)
    return sorted(found, key=lambda one: -one.area)


def filled(geometry: BaseGeometry) -> BaseGeometry:
    """Return the geometry with every hole filled."""
    return shapely.union_all([Polygon(part.exterior) for part in polygons_in(geometry)])


def as_multi(geometry: BaseGeometry) -> MultiPolygon:
    """Return the polygons of a geometry as a MultiPolygon, scraps of arithmetic left out."""
    return MultiPolygon(polygons_in(geometry, least_area_mm2=SLIVER_AREA_MM2))


def checked_outline(polygon: Polygon, *, where: str) -> Outline:
    """Return a sound outline of a polygon that came from outside.

    Raises UnusableInput where it crosses itself beyond a scrap, has no area, or no believable size.
    """
    if polygon.is_empty or not np.isfinite(shapely.get_coordinates(polygon)).all():
        raise UnusableInput(
            tr("the outline holds figures that are not numbers"), where=where, remedy=tr("export it again")
        )
    if not polygon.is_valid:
        mended = shapely.make_valid(polygon)
        parts = polygons_in(mended)
        if not parts or parts[0].area < 0.98 * sum(part.area for part in parts):
            raise UnusableInput(
                tr("the outline crosses itself"), where=where, remedy=tr("redraw it without the crossing")
            )
        polygon = parts[0]
    left, top, right, bottom = polygon.bounds
    if min(right - left, bottom - top) < SMALLEST_LENGTH_MM or polygon.area <= 0:
        raise UnusableInput(tr("the outline has no area"), where=where, remedy=tr("draw a closed shape"))
    if max(right - left, bottom - top) > LARGEST_LENGTH_MM:
        raise UnusableInput(
            tr("the outline is longer than ten metres"), where=where, remedy=tr("check the unit of the drawing")
        )
    return outline_of(polygon)


def shifted(outline: Outline, *, dx_mm: float, dy_mm: float) -> Outline:
    """Return the outline moved."""

    def moved(ring: Ring) -> Ring:
        return tuple((round(x + dx_mm, _DECIMALS) + 0.0, round(y + dy_mm, _DECIMALS) + 0.0) for x, y in ring)

    return Outline(outer=moved(outline.outer), holes=tuple(moved(hole) for hole in outline.holes))


def centre_shift(outline: Outline) -> Point:
    """Return the shift that puts the middle of the outline's bounds at (0, 0)."""
    left, top, right, bottom = polygon_of(outline).bounds
    return -(left + right) / 2, -(top + bottom) / 2


def ellipse_ring(width_mm: float, height_mm: float) -> Ring:
    """Return an ellipse about (0, 0) whose chords stay within FLATTEN_MM of the curve."""
    largest = max(width_mm, height_mm) / 2
    # Sagitta of a chord over the angle a on radius r is r (1 - cos(a/2)).
    step = 2 * math.acos(max(0.0, 1 - FLATTEN_MM / largest)) if largest > FLATTEN_MM else 1.0
    count = min(720, max(16, 4 * math.ceil(math.tau / step / 4)))
    angles = np.arange(count) * (math.tau / count)
    return tuple((float(width_mm / 2 * math.cos(a)), float(height_mm / 2 * math.sin(a))) for a in angles)


def rectangle(width_mm: float, depth_mm: float, *, radius_mm: float = 0.0) -> Polygon:
    """Return a rectangle from (0, 0) to (width, depth) with rounded corners."""
    shape = shapely.box(0, 0, width_mm, depth_mm)
    radius_mm = min(radius_mm, width_mm / 2 - 0.01, depth_mm / 2 - 0.01)
    if radius_mm > 0:
        shape = shape.buffer(-radius_mm, join_style="mitre").buffer(radius_mm, quad_segs=24)
    return shape if isinstance(shape, Polygon) else Polygon()
