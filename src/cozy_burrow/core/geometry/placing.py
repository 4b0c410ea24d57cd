"""From item coordinates to plan coordinates and back: turn clockwise as seen from above, then move."""

from __future__ import annotations

import math
from typing import TypeVar

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.model.records import Placement, Point

G = TypeVar("G", bound=BaseGeometry)


def direction(angle_deg: float) -> tuple[float, float]:
    """Return (cos, sin), exact at quarter turns so that four of them change nothing."""
    quarters = angle_deg / 90.0
    if abs(quarters - round(quarters)) < 1e-12:
        return ((1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.0, -1.0))[round(quarters) % 4]
    angle = math.radians(angle_deg)
    return math.cos(angle), math.sin(angle)


def placed(geometry: G, *, x_mm: float, y_mm: float, angle_deg: float) -> G:
    """Return the geometry turned about (0, 0) and moved to (x, y)."""
    cos, sin = direction(angle_deg)
    matrix = np.array([[cos, sin], [-sin, cos]])
    shift = np.array([x_mm, y_mm])
    moved: G = shapely.transform(geometry, lambda points: points @ matrix + shift)
    return moved


def to_plan(placement: Placement, point: Point) -> Point:
    """Return an item point in plan coordinates."""
    cos, sin = direction(placement.angle_deg)
    x, y = point
    return placement.x_mm + cos * x - sin * y, placement.y_mm + sin * x + cos * y


def to_item(placement: Placement, point: Point) -> Point:
    """Return a plan point in the coordinates of the placed item."""
    cos, sin = direction(placement.angle_deg)
    x, y = point[0] - placement.x_mm, point[1] - placement.y_mm
    return cos * x + sin * y, -sin * x + cos * y


def points_to_item(placement: Placement, points: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return plan points (n, 2) in the coordinates of the placed item."""
    cos, sin = direction(placement.angle_deg)
    matrix = np.array([[cos, -sin], [sin, cos]])
    moved: NDArray[np.float64] = (points - np.array([placement.x_mm, placement.y_mm])) @ matrix
    return moved
