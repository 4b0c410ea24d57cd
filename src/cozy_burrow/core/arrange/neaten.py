"""Straighten: what lies nearly straight comes to lie straight; and whether a body may lie where it does."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely

from cozy_burrow.core.arrange.contacts import Body
from cozy_burrow.core.arrange.pieces import Bed, wanted_between
from cozy_burrow.core.arrange.squeeze import separated
from cozy_burrow.core.progress import Token, make_way

ASKEW_DEG = 15.0  # farther askew, and it was meant
_MAKING_WAY = 16  # steps of others making way: fourteen spanners lay straight after that, all but one after ten


def straightened(bodies: Sequence[Body], bed: Bed, token: Token | None = None) -> list[Body]:
    """Return the bodies with those that lie a little askew laid straight where every wall holds; valid if they were.

    token: with it others make way, without turning, for what is straight only so; those first that are least askew.
    Takes some seconds where much lies close together; the token is asked before every step, and may raise Cancelled.
    """
    now = list(bodies)
    for index in sorted(range(len(now)), key=lambda index: -now[index].shape.area):
        now[index] = _straightened(now, index, bed)
    for index in sorted(range(len(now)), key=lambda index: abs(askew_deg(now[index]))):
        if token is not None and _is_a_little_askew(now[index]):
            tried = [*now[:index], _turned(now[index]), *now[index + 1 :]]
            now = separated(tried, bed, steps=_MAKING_WAY, may_turn=False, token=token) or now
    return now


def askew_deg(body: Body) -> float:
    """Return by how much a body lies off the nearest of the four straight ways, -45 to 45."""
    return (body.angle_deg - body.form.straight_deg + 45.0) % 90.0 - 45.0


def _is_a_little_askew(body: Body) -> bool:
    return 1e-6 < abs(askew_deg(body)) <= ASKEW_DEG


def _turned(body: Body, dx: float = 0.0, dy: float = 0.0) -> Body:
    """Return a body straight, and moved."""
    return Body(body.form, body.x_mm + dx, body.y_mm + dy, body.angle_deg - askew_deg(body))


def _straightened(now: Sequence[Body], index: int, bed: Bed) -> Body:
    """Return a body that is a little askew laid straight, there or a few millimetres off, if it may lie so."""
    body = now[index]
    if not _is_a_little_askew(body):
        return body
    others = [other for n, other in enumerate(now) if n != index]
    for dx, dy in ((0, 0), (1, 0), (-1, 0), (0, 1), (0, -1), (3, 0), (-3, 0), (0, 3), (0, -3)):
        moved = _turned(body, dx, dy)
        if may_lie(moved, others, bed):
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
