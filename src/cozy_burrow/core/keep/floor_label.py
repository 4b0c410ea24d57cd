"""Where a label fits at the bottom of a pocket, and how large it may be: read when the item is out.

The largest box of the label's proportions within the floor: along the pocket's long axis, or across it.
"""

from __future__ import annotations

import numpy as np
import shapely
from shapely import affinity
from shapely.geometry import Polygon, box

from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.geometry.axes import long_axis_deg
from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.model.records import Record

TO_WALL_MM = 2.0  # a label that touches the wall comes off with the first peel
LEAST_HIGH_MM, MOST_HIGH_MM = 4.0, 16.0
_ALONG, _ACROSS = 25, 9
_STEP_MM = 0.1


class FloorLabel(Record, frozen=True, kw_only=True):
    """A label on a floor: its size, its middle in the plan, how it is turned there."""

    width_mm: float
    height_mm: float
    x_mm: float
    y_mm: float
    angle_deg: float


def floor_of(pocket: Pocket) -> Polygon:
    """Return the largest area of a pocket's deepest layer, in the plan; empty where it has none."""
    parts = polygons_in(pocket.layers[-1]) if pocket.layers else []
    return max(parts, key=lambda part: part.area, default=Polygon())


def floor_label(floor: Polygon, proportion: float) -> FloorLabel | None:
    """Return the largest label of a proportion (width to height) that lies on a floor; None where none is readable."""
    room = max(polygons_in(floor.buffer(-TO_WALL_MM)), key=lambda part: part.area, default=None)
    if room is None:
        return None
    axis = long_axis_deg(room)
    found = [one for turn in (axis, axis + 90.0) if (one := _largest(room, turn, proportion)) is not None]
    return max(found, key=lambda one: one.height_mm, default=None)


def _largest(room: Polygon, turn_deg: float, proportion: float) -> FloorLabel | None:
    flat = affinity.rotate(room, -turn_deg, origin=(0, 0))
    left, top, right, low = flat.bounds
    x, y = (
        axis.ravel()
        for axis in np.meshgrid(np.linspace(left, right, _ALONG + 2)[1:-1], np.linspace(top, low, _ACROSS + 2)[1:-1])
    )
    inside = shapely.contains_xy(flat, x, y)
    shapely.prepare(flat)
    height, best = LEAST_HIGH_MM - _STEP_MM, None
    for cx, cy in zip(x[inside].tolist(), y[inside].tolist()):
        while height < MOST_HIGH_MM and flat.covers(_box(cx, cy, height + _STEP_MM, proportion)):
            height, best = height + _STEP_MM, (cx, cy)
    if best is None:
        return None
    at = affinity.rotate(shapely.Point(best), turn_deg, origin=(0, 0))
    upright = (turn_deg + 90.0) % 180.0 - 90.0  # never upside down to whoever stands in front
    return FloorLabel(width_mm=height * proportion, height_mm=height, x_mm=at.x, y_mm=at.y, angle_deg=round(upright, 2))


def _box(x: float, y: float, height: float, proportion: float) -> Polygon:
    half_x, half_y = height * proportion / 2, height / 2
    return box(x - half_x, y - half_y, x + half_x, y + half_y)
