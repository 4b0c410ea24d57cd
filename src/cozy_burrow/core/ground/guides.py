"""Guide lines: where parts lie that hang over the foam. Nothing is cut for them; a fitter may want to see it."""

from __future__ import annotations

import shapely
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.depth.pocket import Pocket, floating_zones
from cozy_burrow.core.geometry.placing import to_plan
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Placement, Point

_GRID_MM = 1e-4  # of arithmetic on parts that touch
_TOUCHES_MM = 0.01  # where a floating part begins at a sunk one there is no line
Line = tuple[Point, ...]


def guide_lines(ground: Ground) -> tuple[Line, ...]:
    """Return the outlines of floating parts beyond their pockets, in plan coordinates; none where nobody asked."""
    if not ground.rules.guides:
        return ()
    return tuple(line for one in ground.insert.placements for line in _placed_lines(ground.pockets[one.id], one))


def _placed_lines(pocket: Pocket, placement: Placement) -> tuple[Line, ...]:
    return tuple(tuple(to_plan(placement, point) for point in line) for line in _lines(pocket.local))


@memo(rows=1024)
def _lines(pocket: Pocket) -> tuple[Line, ...]:
    hanging = floating_zones(pocket.item, pocket.seating)
    if not hanging:
        return ()
    regions = [polygon_of(zone.region) for zone in pocket.item.zones]
    edge: BaseGeometry = shapely.union_all([regions[index] for index in hanging], grid_size=_GRID_MM).boundary
    sunk = [region.buffer(_TOUCHES_MM) for index, region in enumerate(regions) if index not in hanging]
    covered = shapely.union_all([pocket.surface, *sunk], grid_size=_GRID_MM)
    beyond = shapely.line_merge(edge.difference(covered, grid_size=_GRID_MM))
    found = [shapely.get_coordinates(part) for part in shapely.get_parts(beyond)]
    return tuple(tuple((float(x), float(y)) for x, y in part) for part in found if len(part) > 1)
