"""What lies under a finger: the thing, or the finger pull, at a point of the plan."""

from __future__ import annotations

import math

from shapely.geometry import Point as ShapelyPoint

from cozy_burrow.core.geometry.placing import to_item, to_plan
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.model.pull_kinds import kind_of_pull
from cozy_burrow.core.model.records import Point


def thing_at(ground: Ground, point: Point, *, reach_mm: float = 2.0) -> str | None:
    """Return the placement whose item lies at the point or within reach of it, the smallest first."""
    by_id = {one.id: one for one in ground.insert.placements}
    found: list[tuple[float, float, str]] = []
    for key, pocket in ground.pockets.items():
        local = ShapelyPoint(to_item(by_id[key], point))
        outline = polygon_of(pocket.item.outline)
        away = float(outline.distance(local))
        if away <= reach_mm:
            found.append((away, outline.area, key))
    return min(found)[2] if found else None


def pull_at(ground: Ground, point: Point) -> tuple[str, int] | None:
    """Return the finger pull at the point and which of its points is meant (-1: the whole trench)."""
    at = ShapelyPoint(point)
    for pull in reversed(ground.pulls):
        if not pull.area.covers(at):
            continue
        ends = pull_points(ground, pull.pull.id)
        distances = [math.dist(point, end) for end in ends]
        nearest = distances.index(min(distances))
        if kind_of_pull(pull.pull).shared and distances[nearest] > pull.pull.width_mm:
            return pull.pull.id, -1
        return pull.pull.id, nearest
    return None


def pull_points(ground: Ground, pull_id: str) -> tuple[Point, ...]:
    """Return the points of a pull in plan coordinates."""
    pull = next(one.pull for one in ground.pulls if one.pull.id == pull_id)
    if kind_of_pull(pull).shared:
        return pull.points_mm
    carrier = next(one for one in ground.insert.placements if one.id in pull.serves)
    return tuple(to_plan(carrier, point) for point in pull.points_mm)


def within(ground: Ground, left: float, top: float, right: float, bottom: float) -> tuple[str, ...]:
    """Return the placements whose pockets lie wholly within a rectangle."""
    found = []
    for key, pocket in ground.pockets.items():
        bounds = pocket.surface.bounds
        if bounds[0] >= left and bounds[1] >= top and bounds[2] <= right and bounds[3] <= bottom:
            found.append(key)
    return tuple(found)
