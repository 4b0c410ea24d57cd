"""Straighten: edges that nearly share a line come to share it, and nearly straight things lie straight."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely

from cozy_burrow.core.arrange.contacts import Body
from cozy_burrow.core.arrange.pieces import Bed, wanted_between
from cozy_burrow.core.progress import make_way

NEAR_MM = 9.0  # edges farther apart than this were meant to be apart
_DONE_MM = 0.02
ASKEW_DEG = 15.0  # farther askew, and it was meant


def neatened(bodies: Sequence[Body], bed: Bed) -> list[Body]:
    """Return the bodies with edges moved onto common lines where every wall still holds; valid if they were.

    One after the other, front and back edges first: each takes the nearest line of an edge or a middle that some
    other body has already, within NEAR_MM, if it may lie there.
    """
    now = list(bodies)
    if len(now) < 2:
        return now
    order = sorted(range(len(now)), key=lambda index: -now[index].shape.area)
    for index in order:
        now[index] = _straightened(now, index, bed)
    for axis in (1, 0):
        lines: list[float] = [bed.room[axis], bed.room[axis + 2]]
        for index in order:
            now[index] = _onto_line(now, index, axis, lines, bed)
            low, high = _ends(now[index], axis)
            lines += [low, high]
    return now


def _straightened(now: Sequence[Body], index: int, bed: Bed) -> Body:
    """Return a body that is a little askew laid straight, there or a few millimetres off, if it may lie so."""
    body = now[index]
    askew = (body.angle_deg - body.form.straight_deg + 45.0) % 90.0 - 45.0
    if abs(askew) < 1e-6 or abs(askew) > ASKEW_DEG:
        return body
    others = [other for n, other in enumerate(now) if n != index]
    for dx, dy in ((0, 0), (1, 0), (-1, 0), (0, 1), (0, -1), (3, 0), (-3, 0), (0, 3), (0, -3)):
        moved = Body(body.form, body.x_mm + dx, body.y_mm + dy, body.angle_deg - askew)
        if may_lie(moved, others, bed):
            return moved
    return body


def _ends(body: Body, axis: int) -> tuple[float, float]:
    bounds = shapely.bounds(body.shape)
    return float(bounds[axis]), float(bounds[axis + 2])


def _onto_line(now: Sequence[Body], index: int, axis: int, lines: Sequence[float], bed: Bed) -> Body:
    body = now[index]
    known = np.array(lines)
    shifts: list[float] = []
    for end in _ends(body, axis):
        away = known - end
        shifts += away[np.abs(away) < NEAR_MM].tolist()
    if any(abs(shift) < _DONE_MM for shift in shifts):
        return body
    for shift in sorted(shifts, key=abs)[:4]:
        dx, dy = (shift, 0.0) if axis == 0 else (0.0, shift)
        moved = Body(body.form, body.x_mm + dx, body.y_mm + dy, body.angle_deg)
        if may_lie(moved, [other for n, other in enumerate(now) if n != index], bed):
            return moved
    return body


def may_lie(body: Body, others: Sequence[Body], bed: Bed) -> bool:
    """Return whether a body keeps every wall and lies in the bed. Exact."""
    make_way()
    if not bed.area.covers(body.shape):
        return False
    for area, wall_mm in bed.fixed:
        if shapely.distance(body.shape, area) < bed.wanted(body.form, wall_mm):
            return False
    if not others:
        return True
    shapes = np.array([other.shape for other in others], dtype=object)
    wanted = np.array([wanted_between(body.form, other.form) for other in others])
    near = shapely.distance(shapely.box(*body.shape.bounds), shapely.envelope(shapes)) < wanted
    if not near.any():
        return True
    return bool((shapely.distance(body.shape, shapes[near]) >= wanted[near]).all())
