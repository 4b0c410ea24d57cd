"""The rim of a container as a polygon, and rounding its corners.

A rim is kept as sharp corners with a radius each where they are known, so that walls can lean and corners be
rounded at every level anew; a rim from a card template is a dense ring whose bends are in the ring itself.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import Polygon

from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Container, Point
from cozy_burrow.core.tolerances import FLATTEN_MM


def sharp_corners(container: Container) -> tuple[NDArray[np.float64], tuple[float, ...]] | None:
    """Return the rim's corners, (n, 2) clockwise as seen from above, and the radius of each; None for a free outline.

    Clockwise on screen (y towards the person) is positive shoelace area.
    """
    if container.corners:
        points = np.array([(one.x_mm, one.y_mm) for one in container.corners])
        radii = tuple(one.radius_mm for one in container.corners)
        if signed_area(points) < 0:
            points, radii = points[::-1], radii[::-1]
        return points, radii
    if container.outline is not None:
        return None
    width, depth = container.width_mm, container.depth_mm
    points = np.array([(0.0, 0.0), (width, 0.0), (width, depth), (0.0, depth)])
    return points, (container.corner_radius_mm,) * 4


def signed_area(points: NDArray[np.float64]) -> float:
    """Return the shoelace area of a ring: positive for clockwise as seen from above."""
    x, y = points[:, 0], points[:, 1]
    return float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum() / 2)


@memo(rows=64)
def rim_polygon(container: Container) -> Polygon:
    """Return the opening in plan coordinates."""
    found = sharp_corners(container)
    if found is None:
        assert container.outline is not None
        return polygon_of(container.outline)
    return rounded(*found)


def rounded(points: NDArray[np.float64], radii: Sequence[float]) -> Polygon:
    """Return the polygon of a sharp ring with each corner rounded by an arc of its radius.

    points: (n, 2). An arc that would use more than half of a neighbouring edge is made smaller, so that neighbours
    never run into each other. Chords lie within a quarter of FLATTEN_MM of the arc.
    """
    ring: list[Point] = []
    count = len(points)
    for index in range(count):
        before, here, after = points[index - 1], points[index], points[(index + 1) % count]
        ring += _corner_arc(before, here, after, radii[index])
    return Polygon(ring)


def _corner_arc(
    before: NDArray[np.float64], here: NDArray[np.float64], after: NDArray[np.float64], radius: float
) -> list[Point]:
    into, out = here - before, after - here
    first, second = float(np.hypot(*into)), float(np.hypot(*out))
    if radius <= 0 or first < 1e-9 or second < 1e-9:
        return [(float(here[0]), float(here[1]))]
    into, out = into / first, out / second
    turn = math.atan2(float(into[0] * out[1] - into[1] * out[0]), float(into @ out))
    if abs(turn) < 1e-6:
        return [(float(here[0]), float(here[1]))]
    reach = min(radius * math.tan(abs(turn) / 2), first / 2, second / 2)
    radius = reach / math.tan(abs(turn) / 2)
    start = here - reach * into
    side = 1.0 if turn > 0 else -1.0
    centre = start + radius * side * np.array([-into[1], into[0]])
    begin = math.atan2(*(start - centre)[::-1])
    step = 2 * math.acos(max(0.0, 1 - FLATTEN_MM / 4 / max(radius, FLATTEN_MM)))
    pieces = max(2, math.ceil(abs(turn) / max(step, 0.02)))
    angles = begin + turn * np.arange(pieces + 1) / pieces
    return [(float(centre[0] + radius * math.cos(a)), float(centre[1] + radius * math.sin(a))) for a in angles]
