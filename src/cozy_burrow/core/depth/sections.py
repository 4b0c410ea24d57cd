"""What part of a zone lies below a level plane: the opening that one foam layer needs for it.

A body is let down from above, so the opening at a level is the widest that the body is anywhere below it.
"""

from __future__ import annotations

import math

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.geometry.axes import half_widths, long_axis_deg
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.memo import Frozen, memo
from cozy_burrow.core.model.records import Zone

_STATION_STEP_MM = 1.0
_MOST_STATIONS = 600
_ROOT_SHARES = (np.arange(1, 8) / 8.0) ** 2  # of the way to the next station: even steps of a root
_EMPTY = Polygon()


class Revolved(Frozen):
    """A lying round zone by stations along its axis: x, low and high y, vertical half axis, in mm."""

    __slots__ = ("angle_deg", "centre_mm", "half_mm", "high_mm", "low_mm", "origin", "x_mm")

    def __init__(
        self,
        origin: tuple[float, float],
        angle_deg: float,
        x_mm: NDArray[np.float64],
        low_mm: NDArray[np.float64],
        high_mm: NDArray[np.float64],
        half_mm: NDArray[np.float64],
        centre_mm: float,
    ) -> None:
        self.origin, self.angle_deg = origin, angle_deg
        self.x_mm, self.low_mm, self.high_mm, self.half_mm = x_mm, low_mm, high_mm, half_mm
        self.centre_mm = centre_mm


def _axis(zone: Zone) -> tuple[tuple[float, float], float]:
    if zone.axis is not None:
        (x0, y0), (x1, y1) = zone.axis
        if math.hypot(x1 - x0, y1 - y0) > 1e-6:
            return (x0, y0), math.degrees(math.atan2(y1 - y0, x1 - x0))
    region = polygon_of(zone.region)
    centre = region.centroid
    return (centre.x, centre.y), long_axis_deg(region)


def _turn(points: NDArray[np.float64], angle_deg: float) -> NDArray[np.float64]:
    cos, sin = math.cos(math.radians(angle_deg)), math.sin(math.radians(angle_deg))
    turned: NDArray[np.float64] = points @ np.array([[cos, sin], [-sin, cos]])
    return turned


def spread_of(body: Revolved, points: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return item coordinates (n, 2) of points that are given along and across a body's axis."""
    spread: NDArray[np.float64] = _turn(points, body.angle_deg) + np.array(body.origin)
    return spread


def _sorted_once(values: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return values in order without doubles; np.unique would bring masked arrays along, 25 ms of every start."""
    ordered = np.sort(values)
    kept: NDArray[np.float64] = ordered[np.concatenate([[True], np.diff(ordered) > 0])]
    return kept


@memo(rows=1024)
def revolved(zone: Zone) -> Revolved:
    """Return the stations of a round zone.

    The vertical half axis at a station is half the local width, scaled so that the widest place is as high as
    the zone is thick: a true body of revolution where width and thickness agree, an ellipse where they do not.
    """
    origin, angle_deg = _axis(zone)
    ring = _turn(np.array(zone.region.outer) - np.array(origin), -angle_deg)
    start, end = float(ring[:, 0].min()), float(ring[:, 0].max())
    step = max(_STATION_STEP_MM, (end - start) / _MOST_STATIONS)
    near = 1e-4  # just inside the ends and to both sides of each corner: widths jump there
    corners = _sorted_once(np.round(ring[:, 0], 6))
    if len(corners) > _MOST_STATIONS:
        corners = corners[:: math.ceil(len(corners) / _MOST_STATIONS)]
    x = _sorted_once(np.concatenate([np.arange(start, end, step), corners - near, corners + near]))
    x = x[(x >= start + near / 2) & (x <= end - near / 2)]
    low, high = half_widths(ring, x)
    kept = np.isfinite(low)
    x, low, high = x[kept], low[kept], high[kept]
    x[0], x[-1] = start, end  # neighbouring zones must touch
    half_width = (high - low) / 2
    scale = (zone.top_mm - zone.under_mm) / 2 / max(float(half_width.max()), 1e-9)
    return Revolved(origin, angle_deg, x, low, high, half_width * scale, (zone.top_mm + zone.under_mm) / 2)


@memo(rows=8192)
def reach_below(zone: Zone, height_mm: float) -> BaseGeometry:
    """Return the plan area of the zone's body that lies below a plane `height_mm` above the datum.

    Flat: the region, once the plane is above its underside. Tapered: the part of the region whose underside is
    below the plane. Round: the chord at the plane, half width = local half width x sqrt(1 - (u/b)^2) at u
    above the middle of a section with vertical half axis b; the full width at and above the middle.
    """
    region = polygon_of(zone.region)
    if height_mm <= zone.lowest_mm + 1e-9:
        return _EMPTY
    if zone.section == "round":
        return _round_below(zone, region, height_mm)
    if zone.under_end_mm is not None and zone.axis is not None:
        return _tapered_below(zone, region, height_mm)
    return region


def _round_below(zone: Zone, region: Polygon, height_mm: float) -> BaseGeometry:
    body = revolved(zone)
    above = height_mm - body.centre_mm
    if above >= -1e-9:
        return region
    at = _to_the_ends(body, -above)
    low, high, half = (np.interp(at, body.x_mm, each) for each in (body.low_mm, body.high_mm, body.half_mm))
    chord = np.sqrt(np.clip(1 - (above / np.maximum(half, 1e-9)) ** 2, 0.0, 1.0))
    middle, reach = (low + high) / 2, (high - low) / 2 * chord
    parts = []
    inside = half > -above + 1e-7  # where it just touches the plane does not count, whichever way it was rounded
    edges = np.flatnonzero(np.diff(np.concatenate([[False], inside, [False]]).astype(int)))
    for first, last in zip(edges[::2], edges[1::2]):
        first, last = max(0, first - 1), min(len(at), last + 1)  # with the places where it just touches the plane
        if last - first < 3:
            continue
        x, y, r = at[first:last], middle[first:last], reach[first:last]
        ring = np.concatenate([np.column_stack([x, y - r]), np.column_stack([x, y + r])[::-1]])
        parts.append(Polygon(_turn(ring, body.angle_deg) + np.array(body.origin)).simplify(0.002))
    return shapely.union_all([shapely.make_valid(part) for part in parts]).intersection(region)


def _to_the_ends(body: Revolved, half_mm: float) -> NDArray[np.float64]:
    """Return the stations of a body, with those where its half axis is half_mm, and some from there inwards.

    Between stations the half axis runs straight, so the places are exact; the chord opens there like a root, which a
    straight line from one station to the next would cut short.
    """
    x, half = body.x_mm, body.half_mm
    crossing = np.flatnonzero((half[:-1] > half_mm) != (half[1:] > half_mm))
    if not len(crossing):
        return x
    before, after = half[crossing], half[crossing + 1]
    ends = x[crossing] + (half_mm - before) / (after - before) * (x[crossing + 1] - x[crossing])
    # Towards the side that lies below the plane, over a whole station: the place may lie close before one.
    wide = np.where(after > half_mm, x[np.minimum(crossing + 2, len(x) - 1)], x[np.maximum(crossing - 1, 0)])
    between = ends[:, None] + (wide - ends)[:, None] * _ROOT_SHARES[None, :]
    return _sorted_once(np.concatenate([x, ends, between.ravel()]))


def _tapered_below(zone: Zone, region: Polygon, height_mm: float) -> BaseGeometry:
    assert zone.axis is not None and zone.under_end_mm is not None
    if max(zone.under_mm, zone.under_end_mm) < height_mm:
        return region
    (x0, y0), (x1, y1) = zone.axis
    length = math.hypot(x1 - x0, y1 - y0)
    share = (height_mm - zone.under_mm) / (zone.under_end_mm - zone.under_mm)
    reach = 4 * length + 1000.0
    span = (-reach, share * length) if zone.under_end_mm > zone.under_mm else (share * length, reach)
    corners = np.array([(span[0], -reach), (span[1], -reach), (span[1], reach), (span[0], reach)])
    angle_deg = math.degrees(math.atan2(y1 - y0, x1 - x0))
    return region.intersection(Polygon(_turn(corners, angle_deg) + np.array([x0, y0])))


@memo(rows=1024)
def _a_little_wider(zone: Zone) -> BaseGeometry:
    """Return the zone's region with its own edge well inside, prepared for many questions."""
    region = polygon_of(zone.region).buffer(1e-6)
    shapely.prepare(region)
    return region


def heights_at(zone: Zone, points: NDArray[np.float64]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return (underside, top) heights above the datum of the zone's body at item points (n, 2); NaN off the zone."""
    on = shapely.intersects_xy(_a_little_wider(zone), points[:, 0], points[:, 1])
    if zone.section == "round":
        body = revolved(zone)
        local = _turn(points - np.array(body.origin), -body.angle_deg)
        middle = np.interp(local[:, 0], body.x_mm, (body.low_mm + body.high_mm) / 2)
        wide = np.maximum(np.interp(local[:, 0], body.x_mm, (body.high_mm - body.low_mm) / 2), 1e-9)
        half = np.interp(local[:, 0], body.x_mm, body.half_mm)
        rise = half * np.sqrt(np.clip(1 - ((local[:, 1] - middle) / wide) ** 2, 0.0, 1.0))
        under, top = body.centre_mm - rise, body.centre_mm + rise
    elif zone.axis is not None and zone.under_end_mm is not None and zone.top_end_mm is not None:
        (x0, y0), (x1, y1) = zone.axis
        along = np.array([x1 - x0, y1 - y0])
        share = np.clip((points - np.array([x0, y0])) @ along / float(along @ along), 0.0, 1.0)
        under = zone.under_mm + share * (zone.under_end_mm - zone.under_mm)
        top = zone.top_mm + share * (zone.top_end_mm - zone.top_mm)
    else:
        under, top = np.full(len(points), zone.under_mm), np.full(len(points), zone.top_mm)
    return np.where(on, under, np.nan), np.where(on, top, np.nan)
