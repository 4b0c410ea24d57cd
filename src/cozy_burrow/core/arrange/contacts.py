"""Where shapes come near each other, as linear rows: how a small move or turn of each changes the foam between them.

Body     a shape that may move: its form, where it lies
Contact  a place where two bodies, or a body and the edge of the bed, come near: point, direction, distance

For small moves the distance between two near points grows by the part of their moves along the line that joins
them. A body turned by t about its origin moves a point that lies r away by t x r across. Rows made of that are
exact to first order; whoever solves them measures anew afterwards.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.arrange.pieces import Bed, Form, wanted_between
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.model.memo import Frozen

Floats = NDArray[np.float64]
_ROWS_A_PAIR = 7  # more say the same again


class Body(Frozen):
    """One form where it lies. Moved by making it anew."""

    __slots__ = ("angle_deg", "form", "points", "shape", "x_mm", "y_mm")

    def __init__(self, form: Form, x_mm: float, y_mm: float, angle_deg: float) -> None:
        # Rounded first and judged afterwards: what is written into a project is what was found valid.
        x_mm, y_mm, angle_deg = round(float(x_mm), 4), round(float(y_mm), 4), round(float(angle_deg) % 360.0, 6)
        self.form, self.x_mm, self.y_mm, self.angle_deg = form, x_mm, y_mm, angle_deg
        self.shape: BaseGeometry = placed(form.shape, x_mm=x_mm, y_mm=y_mm, angle_deg=angle_deg)
        self.points: Floats = shapely.get_coordinates(
            placed(form.rim, x_mm=x_mm, y_mm=y_mm, angle_deg=angle_deg),
        )

    @property
    def reach_mm(self) -> float:
        """Distance of the farthest point from the origin."""
        return self.form.reach_mm


class Contacts:
    """Rows: first and second body (-1: does not move), points on them, unit direction first to second, distances."""

    __slots__ = ("distance", "first", "first_at", "second", "second_at", "toward", "wanted")

    def __init__(
        self,
        first: NDArray[np.int64],
        second: NDArray[np.int64],
        first_at: Floats,
        second_at: Floats,
        toward: Floats,
        distance: Floats,
        wanted: Floats,
    ) -> None:
        self.first, self.second, self.first_at, self.second_at = first, second, first_at, second_at
        self.toward, self.distance, self.wanted = toward, distance, wanted


def near_pairs(bodies: Sequence[Body], reach_mm: float) -> NDArray[np.int64]:
    """Return (n, 2) indices of bodies whose bounds come within reach of each other, first below second."""
    bounds = shapely.bounds(np.array([body.shape for body in bodies], dtype=object)).reshape(-1, 4)
    near = (
        (bounds[:, None, 0] - reach_mm <= bounds[None, :, 2])
        & (bounds[None, :, 0] - reach_mm <= bounds[:, None, 2])
        & (bounds[:, None, 1] - reach_mm <= bounds[None, :, 3])
        & (bounds[None, :, 1] - reach_mm <= bounds[:, None, 3])
    )
    return np.argwhere(np.triu(near, 1))


def shortfalls(bodies: Sequence[Body], bed: Bed) -> tuple[float, float]:
    """Return the largest (missing wall, reach beyond the bed) of bodies among each other and in a bed, at least 0.

    Exact, on the true shapes. Overlaps count as the whole wall missing.
    """
    missing = beyond = 0.0
    if not bodies:
        return 0.0, 0.0
    shapes = np.array([body.shape for body in bodies], dtype=object)
    widest = max(body.form.wall_mm for body in bodies)
    pairs = near_pairs(bodies, widest)
    if len(pairs):
        wanted = np.array([wanted_between(bodies[i].form, bodies[j].form) for i, j in pairs.tolist()])
        gaps = shapely.distance(shapes[pairs[:, 0]], shapes[pairs[:, 1]])
        missing = max(0.0, float((wanted - gaps).max()))
    for area, wall_mm in bed.fixed:
        wanted = np.array([bed.wanted(body.form, wall_mm) for body in bodies])
        missing = max(missing, float((wanted - shapely.distance(shapes, area)).max()))
    inside = shapely.covers(bed.area, shapes)
    for shape in shapes[~inside]:
        beyond = max(beyond, float(shapely.distance(shapely.points(shapely.get_coordinates(shape)), bed.area).max()))
        beyond = max(beyond, 1e-9)
    return missing, beyond


def contacts_of(bodies: Sequence[Body], bed: Bed, *, reach_mm: float) -> Contacts:
    """Return every contact at which less than `reach_mm` of foam is to spare."""
    found: list[tuple[Floats, ...]] = []
    widest = max((body.form.wall_mm for body in bodies), default=0.0)
    pairs = near_pairs(bodies, widest + reach_mm)
    if len(pairs):
        shapes = np.array([body.shape for body in bodies], dtype=object)
        wanted = np.array([wanted_between(bodies[i].form, bodies[j].form) for i, j in pairs.tolist()])
        gaps = shapely.distance(shapes[pairs[:, 0]], shapes[pairs[:, 1]])
        close = gaps < wanted + reach_mm
        for (i, j), foam in zip(pairs[close].tolist(), wanted[close].tolist()):
            for one, other in ((i, j), (j, i)):
                shapely.prepare(bodies[other].shape)
                rows = _between(bodies[one], bodies[other].shape, foam, reach_mm)
                if rows is not None:
                    found.append(_labelled(rows, one, other, foam))
    for area, wall_mm in bed.fixed:
        shapely.prepare(area)
        for i, body in enumerate(bodies):
            foam = bed.wanted(body.form, wall_mm)
            rows = _between(body, area, foam, reach_mm)
            if rows is not None:
                found.append(_labelled(rows, i, -1, foam))
    for i, body in enumerate(bodies):
        rows = _at_edge(body, bed, reach_mm)
        if rows is not None:
            found.append(_labelled(rows, i, -1, 0.0))
    if not found:
        none = np.zeros((0, 2))
        whole = np.zeros(0, dtype=np.int64)
        return Contacts(whole, whole, none, none, none, np.zeros(0), np.zeros(0))
    first, second, at, other, toward, distance, wanted = (np.concatenate(column) for column in zip(*found))
    return Contacts(first.astype(np.int64), second.astype(np.int64), at, other, toward, distance, wanted)


def _labelled(rows: tuple[Floats, Floats, Floats, Floats], i: int, j: int, wanted: float) -> tuple[Floats, ...]:
    at, other, toward, distance = rows
    count = len(distance)
    return np.full(count, float(i)), np.full(count, float(j)), at, other, toward, distance, np.full(count, wanted)


def _between(
    body: Body, other: BaseGeometry, wanted: float, reach_mm: float
) -> tuple[Floats, Floats, Floats, Floats] | None:
    """Return rows from the points of a body to another shape; points inside the other are pushed out of it."""
    left, top, right, bottom = other.bounds
    reach = wanted + reach_mm
    points = body.points
    close = points[
        (points[:, 0] > left - reach)
        & (points[:, 0] < right + reach)
        & (points[:, 1] > top - reach)
        & (points[:, 1] < bottom + reach)
    ]
    if not len(close):
        return None
    geometry = np.asarray(shapely.points(close))
    keep = shapely.dwithin(geometry, other, reach)  # prepared: ten times quicker than the distances of all
    if not keep.any():
        return None
    close, geometry = close[keep], geometry[keep]
    distance = shapely.distance(geometry, other)
    order = _spread_out(close, distance)
    close, geometry, distance = close[order], geometry[order], distance[order]
    inside = distance < 1e-9
    target = other.boundary if inside.any() else other
    ends = shapely.get_coordinates(shapely.shortest_line(geometry, target)).reshape(-1, 2, 2)
    across = ends[:, 1] - ends[:, 0]
    length = np.hypot(across[:, 0], across[:, 1])
    clear = length > 1e-9
    if not clear.any():
        return None
    close, ends, across, length, inside = close[clear], ends[clear], across[clear], length[clear], inside[clear]
    sign = np.where(inside, -1.0, 1.0)
    return close, ends[:, 1], across / length[:, None] * sign[:, None], length * sign


def _spread_out(points: Floats, distance: Floats) -> NDArray[np.int64]:
    """Return which of the points to keep: the nearest in each stretch, so that no far end swings round unseen."""
    if len(points) <= _ROWS_A_PAIR:
        return np.arange(len(points))
    span = points.max(axis=0) - points.min(axis=0)
    along = points[:, int(span[1] > span[0])]
    stretch = ((along - along.min()) / max(1e-9, float(span.max())) * (_ROWS_A_PAIR - 1e-6)).astype(np.int64)
    order = np.lexsort((distance, stretch))
    first = np.flatnonzero(np.diff(stretch[order], prepend=-1))
    kept: NDArray[np.int64] = order[first]
    return kept


def _at_edge(body: Body, bed: Bed, reach_mm: float) -> tuple[Floats, Floats, Floats, Floats] | None:
    """Return rows from the points of a body to the edge of the bed, outside it with distances below zero."""
    left, top, right, bottom = bed.room
    points = body.points
    if bed.is_box:
        low = points.min(axis=0) - reach_mm
        high = points.max(axis=0) + reach_mm
        if low[0] > left and low[1] > top and high[0] < right and high[1] < bottom:
            return None
        found = []
        for axis, side, sign in ((0, left, -1.0), (0, right, 1.0), (1, top, -1.0), (1, bottom, 1.0)):
            spare: Floats = (side - points[:, axis]) * sign
            near = np.flatnonzero(spare < reach_mm)
            if len(near):
                toward = np.zeros(2)
                toward[axis] = sign
                for index in near[_spread_out(points[near], spare[near])]:
                    found.append((points[index], points[index], toward, spare[index]))
        if not found:
            return None
        at, other, toward_all, distance = (np.array(column) for column in zip(*found))
        return at, other, toward_all, distance
    geometry = np.asarray(shapely.points(points))
    distance = shapely.distance(geometry, bed.area.boundary)
    inside = shapely.intersects_xy(bed.area, points)
    signed: Floats = np.asarray(np.where(inside, distance, -distance))
    close = np.flatnonzero((signed < reach_mm) & (distance > 1e-9))
    if not len(close):
        return None
    close = close[_spread_out(points[close], signed[close])]
    ends = shapely.get_coordinates(shapely.shortest_line(geometry[close], bed.area.boundary)).reshape(-1, 2, 2)
    across = ends[:, 1] - ends[:, 0]
    toward_edge = across / distance[close][:, None] * np.where(inside[close], 1.0, -1.0)[:, None]
    return points[close], ends[:, 1], toward_edge, signed[close]
