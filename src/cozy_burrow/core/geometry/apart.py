"""Small texts that want to stand at the same place, each as near to it as there is room."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import cache

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.model.records import Point

_WAYS = 16  # directions that are tried at each distance

Floats = NDArray[np.float64]


def apart_within(
    places: Sequence[Point],
    sizes: Sequence[Point],
    *,
    room: float,
    steps: int,
    inside: tuple[float, float, float, float],
    beside: Sequence[tuple[float, float, float, float]] = (),
) -> list[Point | None]:
    """Return the middles of boxes that overlap nowhere; None for one that finds no place within so many steps of room.

    places: where each wants its middle; sizes: widths and heights. room: between two boxes, and the step of the search.
    inside: left, top, right, bottom that no box may reach beyond. beside: boxes like that which stand there already.
    """
    found: list[Point | None] = []
    taken = np.array(beside, dtype=np.float64).reshape(-1, 4)
    for place, (width, height) in zip(places, sizes):
        at = np.asarray(place) + room * _round(steps)
        half = np.array((width / 2, height / 2))
        boxes = np.hstack([at - half, at + half])
        free = (boxes[:, :2] >= inside[:2]).all(axis=1) & (boxes[:, 2:] <= inside[2:]).all(axis=1)
        wider = taken + np.array((-room, -room, room, room))
        over = (boxes[:, None, :2] < wider[None, :, 2:]) & (boxes[:, None, 2:] > wider[None, :, :2])
        free &= ~over.all(axis=2).any(axis=1)
        if not free.any():
            found.append(None)
            continue
        nearest = int(free.argmax())
        taken = np.vstack([taken, boxes[nearest]])
        found.append((float(at[nearest, 0]), float(at[nearest, 1])))
    return found


@cache
def _round(steps: int) -> Floats:
    """Return (n, 2) offsets in steps, the nearest first."""
    rings = [
        (distance * math.cos(math.tau * way / _WAYS), distance * math.sin(math.tau * way / _WAYS))
        for distance in range(1, steps + 1)
        for way in range(_WAYS)
    ]
    return np.array([(0.0, 0.0), *rings])
