"""Small texts that want to stand at the same place, each as near to it as there is room."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence

from cozy_burrow.core.model.records import Point

_WAYS = 16  # directions that are tried at each distance
_MOST_STEPS = 60


def apart(places: Sequence[Point], sizes: Sequence[Point], *, room: float = 1.0) -> list[Point]:
    """Return the middles of boxes that overlap nowhere, each as near its place as those before it leave room.

    places: where each wants its middle; sizes: widths and heights. room: between two boxes, and the step of the search.
    What finds no place within sixty steps stands where it wanted.
    """
    found: list[Point] = []
    for number, (place, size) in enumerate(zip(places, sizes)):
        before = list(zip(found, sizes[:number]))
        free = (one for one in _round(place, room) if all(_are_apart(one, size, *other, room) for other in before))
        found.append(next(free, place))
    return found


def _round(place: Point, step: float) -> itertools.chain[Point]:
    """Return places, the nearest first."""
    rings = (
        (
            place[0] + distance * step * math.cos(math.tau * way / _WAYS),
            place[1] + distance * step * math.sin(math.tau * way / _WAYS),
        )
        for distance in range(1, _MOST_STEPS + 1)
        for way in range(_WAYS)
    )
    return itertools.chain([place], rings)


def _are_apart(one: Point, size: Point, other: Point, other_size: Point, room: float) -> bool:
    return (
        abs(one[0] - other[0]) >= (size[0] + other_size[0]) / 2 + room
        or abs(one[1] - other[1]) >= (size[1] + other_size[1]) / 2 + room
    )
