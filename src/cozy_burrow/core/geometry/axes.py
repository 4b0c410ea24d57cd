"""The long axis of a shape, and how far it reaches to either side of a line."""

from __future__ import annotations

import math

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString, Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.model.records import Point


def long_axis_deg(polygon: Polygon) -> float:
    """Return the direction of the long side of the smallest rectangle round the polygon, -90 < angle <= 90."""
    rectangle = shapely.minimum_rotated_rectangle(polygon)
    corners = shapely.get_coordinates(rectangle)
    if len(corners) < 4:
        return 0.0
    sides = np.diff(corners[:3], axis=0)
    lengths = np.hypot(sides[:, 0], sides[:, 1])
    # Squares have no long side: the first that is within a thousandth wins, and then the flatter one.
    dx, dy = sides[0] if lengths[0] >= lengths[1] * 0.999 else sides[1]
    if abs(lengths[0] - lengths[1]) <= 0.001 * max(lengths):
        dx, dy = min(sides, key=lambda side: abs(side[1]))
    angle = math.degrees(math.atan2(dy, dx))
    angle = (angle + 90.0) % 180.0 - 90.0
    return 90.0 if angle <= -90.0 + 1e-9 else angle


def spread_across(polygon: BaseGeometry, at: Point, *, angle_deg: float) -> tuple[Point, Point] | None:
    """Return the two outermost points where a line through `at` meets the shape, in the line's direction."""
    cos, sin = math.cos(math.radians(angle_deg)), math.sin(math.radians(angle_deg))
    left, top, right, bottom = polygon.bounds
    reach = math.hypot(right - left, bottom - top) + math.hypot(at[0] - left, at[1] - top) + 1.0
    line = LineString([(at[0] - reach * cos, at[1] - reach * sin), (at[0] + reach * cos, at[1] + reach * sin)])
    met = shapely.get_coordinates(polygon.intersection(line))
    if len(met) < 2:
        return None
    along = (met - np.array(at)) @ np.array([cos, sin])
    low, high = met[int(along.argmin())], met[int(along.argmax())]
    return (float(low[0]), float(low[1])), (float(high[0]), float(high[1]))


def half_widths(
    ring: NDArray[np.float64], stations: NDArray[np.float64]
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return (low, high) y of a ring at each x of `stations`; NaN where the ring is not met.

    ring: (n, 2), first point not repeated. Where the ring is met more than twice, its outermost reach counts.
    """
    start, end = ring, np.roll(ring, -1, axis=0)
    x0, x1 = start[:, 0][:, None], end[:, 0][:, None]
    y0, y1 = start[:, 1][:, None], end[:, 1][:, None]
    inside = (np.minimum(x0, x1) <= stations) & (stations <= np.maximum(x0, x1)) & (x0 != x1)
    with np.errstate(divide="ignore", invalid="ignore"):
        y = y0 + (stations - x0) * (y1 - y0) / (x1 - x0)
    low = np.where(inside, y, np.inf).min(axis=0)
    high = np.where(inside, y, -np.inf).max(axis=0)
    missed = ~inside.any(axis=0)
    low[missed] = high[missed] = np.nan
    return low, high
