"""How high the top of a thing's part is at many points at once: as `depth.sections` has it, from a table.

A picture asks at a million points; a body of revolution is read from a table with TABLE_MM between its stations, which
is true within that much along its axis.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.depth.sections import revolved
from cozy_burrow.core.model.memo import Frozen, memo
from cozy_burrow.core.model.records import Zone

TABLE_MM = 0.05
_LONGEST = 40_000  # stations of one table
Values = NDArray[np.float32]


class _Table(Frozen):
    """A round part along its axis: where that begins, how it lies; per station middle, half width, half height."""

    __slots__ = ("angle_deg", "centre_mm", "half", "middle", "origin", "start_mm", "step_mm", "wide")

    def __init__(
        self,
        origin: tuple[float, float],
        angle_deg: float,
        start_mm: float,
        step_mm: float,
        centre_mm: float,
        middle: Values,
        wide: Values,
        half: Values,
    ) -> None:
        self.origin, self.angle_deg, self.start_mm, self.step_mm = origin, angle_deg, start_mm, step_mm
        self.centre_mm, self.middle, self.wide, self.half = centre_mm, middle, wide, half


@memo(rows=1024)
def _table(zone: Zone) -> _Table:
    body = revolved(zone)
    start, end = float(body.x_mm[0]), float(body.x_mm[-1])
    step = max(TABLE_MM, (end - start) / _LONGEST)
    at = np.arange(start, end + step, step)
    middle, wide, half = (
        np.interp(at, body.x_mm, each).astype(np.float32)
        for each in ((body.low_mm + body.high_mm) / 2, (body.high_mm - body.low_mm) / 2, body.half_mm)
    )
    return _Table(body.origin, body.angle_deg, start, step, body.centre_mm, middle, np.maximum(wide, 1e-6), half)


def top_at(zone: Zone, x: Values, y: Values) -> Values:
    """Return the height of a part's top above the datum at points of its item (n) that lie on it."""
    if zone.section == "round":
        return _round_top(_table(zone), x, y)
    if zone.axis is not None and zone.under_end_mm is not None and zone.top_end_mm is not None:
        (x0, y0), (x1, y1) = zone.axis
        along = (x1 - x0, y1 - y0)
        long = along[0] ** 2 + along[1] ** 2
        share = np.clip(((x - np.float32(x0)) * along[0] + (y - np.float32(y0)) * along[1]) / long, 0.0, 1.0)
        return np.asarray(zone.top_mm + share * (zone.top_end_mm - zone.top_mm), dtype=np.float32)
    return np.full(x.shape, zone.top_mm, dtype=np.float32)


def _round_top(table: _Table, x: Values, y: Values) -> Values:
    cos, sin = math.cos(math.radians(table.angle_deg)), math.sin(math.radians(table.angle_deg))
    x, y = x - np.float32(table.origin[0]), y - np.float32(table.origin[1])
    station = ((x * cos + y * sin - table.start_mm) / table.step_mm + 0.5).astype(np.int32)
    np.clip(station, 0, len(table.middle) - 1, out=station)
    aside = (y * cos - x * sin - table.middle[station]) / table.wide[station]
    rise = np.sqrt(np.maximum(1.0 - aside * aside, 0.0))
    return np.asarray(table.centre_mm + table.half[station] * rise, dtype=np.float32)
