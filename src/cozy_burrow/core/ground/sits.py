"""How each thing sits in the ground as it will be: in its pocket, with pulls and other pockets under it counted."""

from __future__ import annotations

import shapely
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.depth.pocket import Pocket, allowance_for
from cozy_burrow.core.depth.sitting import Sitting, sitting_of
from cozy_burrow.core.geometry.placing import points_to_item
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Placement
from cozy_burrow.core.pulls.suggest import pull_area

_LEAST_MM2 = 1.0  # of another cut under the thing


def sitting_in(ground: Ground, key: str) -> Sitting:
    """Return how a placed thing comes to rest."""
    pocket = ground.pockets[key]
    return sitting_of(
        pocket, ground.layers, snug_mm=-allowance_for(pocket.item, ground.rules), cuts=_other_cuts(ground, key, pocket)
    )


def _other_cuts(ground: Ground, key: str, pocket: Pocket) -> tuple[tuple[BaseGeometry, int], ...]:
    """Return what else is taken out under a thing and deeper than the shallowest part of its pocket."""
    shallowest = min(pocket.seating.zone_layers)
    found: list[tuple[BaseGeometry, int]] = []
    for pull in ground.pulls:
        if pull.layers <= shallowest or not _meet(pull.area, pocket):
            continue
        if pull.pull.kind not in {"trench", "press"} and pull.pull.serves[0] == key:
            found.append((pull_area(pull.pull), pull.layers))  # moves with it: the same shape at every step of a drag
        else:
            found.append((_in_item(pull.area, _placement(ground, key)), pull.layers))
    for other in ground.pockets.values():
        if other.owner == key or other.depth_layers <= shallowest or not _meet(other.surface, pocket):
            continue
        seen: list[BaseGeometry] = []
        for number in range(other.depth_layers, shallowest, -1):  # the deepest first; the same shape once
            area = other.layers[number - 1]
            if not any(area is one for one in seen):
                seen.append(area)
                found.append((_in_item(area, _placement(ground, key)), number))
    return tuple(found)


def _meet(area: BaseGeometry, pocket: Pocket) -> bool:
    left, top, right, bottom = area.bounds
    low_x, low_y, high_x, high_y = pocket.surface.bounds
    if left > high_x or right < low_x or top > high_y or bottom < low_y:
        return False
    return bool(area.intersection(pocket.surface).area > _LEAST_MM2)


def _placement(ground: Ground, key: str) -> Placement:
    return next(one for one in ground.insert.placements if one.id == key)


@memo(rows=512)
def _in_item(area: BaseGeometry, placement: Placement) -> BaseGeometry:
    return shapely.transform(area, lambda points: points_to_item(placement, points))
