"""Where straight ways cross outlines: for thousands of ways at a time, by a tree of the outline's segments."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

Values = NDArray[np.float64]


def met_by(
    start: Values, end: Values, rings: Sequence[shapely.LinearRing]
) -> tuple[NDArray[np.int64], NDArray[np.float64]]:
    """Return which ways from start to end (n, 2) meet rings, once for each time, and at what share of the way.

    A way along a segment meets it where that begins and ends, by its neighbours.
    """
    corners = [shapely.get_coordinates(ring) for ring in rings]
    first = np.concatenate([ring[:-1] for ring in corners])
    last = np.concatenate([ring[1:] for ring in corners])
    tree = shapely.STRtree(np.asarray(shapely.linestrings(np.stack([first, last], axis=1))))
    way, segment = tree.query(shapely.linestrings(np.stack([start, end], axis=1)))
    along, across = (end - start)[way], (last - first)[segment]
    between = first[segment] - start[way]
    turn = _cross(along, across)
    turn = np.where(np.abs(turn) < 1e-12, np.nan, turn)
    share, place = _cross(between, across) / turn, _cross(between, along) / turn
    met = (share >= 0) & (share <= 1) & (place >= 0) & (place <= 1)
    return np.asarray(way[met]), np.asarray(share[met])


def crossings(points: Values, outward: Values, ring: shapely.LinearRing, reach_mm: float) -> Values:
    """Return how far along the normal of each point a ring is met, the nearest way in or out; nan where it is not."""
    way, share = met_by(points - reach_mm * outward, points + reach_mm * outward, [ring])
    far = (2 * share - 1) * reach_mm
    nearest = np.full(len(points), np.nan)
    order = np.argsort(-np.abs(far), kind="stable")
    nearest[way[order]] = far[order]  # the nearest is set last
    return nearest


def _cross(one: Values, other: Values) -> Values:
    return np.asarray(one[:, 0] * other[:, 1] - one[:, 1] * other[:, 0])
