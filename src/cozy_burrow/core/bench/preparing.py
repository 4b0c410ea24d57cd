"""What is done at a sheet before its first cut, and the pieces that are glued after its last one."""

from __future__ import annotations

import itertools
import math

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.bench.cut import SheetCuts
from cozy_burrow.core.bench.methods import PASS_MM
from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.records import Point, Ring

LEAST_RISER_MM = 0.5  # thinner than foam can be sliced
_SQUARE_SHARE = 0.999  # of its bounds that a blank fills, and it is cut by its sizes alone


def blank_passes(thickness_mm: float) -> int:
    """Return in how many passes a knife goes through a sheet."""
    return max(1, math.ceil(thickness_mm / PASS_MM - 1e-9))


def is_square(blank: Ring) -> bool:
    """Whether a blank is a rectangle along the axes: then its sizes say everything."""
    shape = shapely.Polygon(blank)
    return bool(shape.area >= _SQUARE_SHARE * shapely.box(*shape.bounds).area)


def pinned_in(plan: SheetCuts) -> tuple[int, ...]:
    """Return the numbers of up to four openings, far apart, in which a template is pinned: that foam comes out anyway.

    Towards each corner of all cuts the nearest, taken together so that no opening holds two pins.
    """
    pockets = [cut for cut in plan.cuts if cut.kind == "pocket" and not cut.slit]
    places = {cut.name: cut for cut in reversed(pockets)}  # a pin an opening, at its first line
    if not places:
        return ()
    cuts = list(places.values())
    at = np.array([cut.label_mm for cut in cuts])
    low, high = at.min(axis=0), at.max(axis=0)
    corners = [(x, y) for x in (low[0], high[0]) for y in (low[1], high[1])]
    away = np.array([np.hypot(*(at - corner).T) for corner in corners])
    wanted = min(len(corners), len(cuts))
    near = sorted({int(n) for row in away for n in np.argsort(row, kind="stable")[:4]})
    if wanted < len(corners):
        return tuple(sorted(cut.number for cut in cuts))
    ways = np.array(list(itertools.permutations(near, wanted)))
    best = ways[int(sum(away[row, ways[:, row]] for row in range(wanted)).argmin())]  # of equals the first
    return tuple(sorted(cuts[n].number for n in best.tolist()))


def riser_sizes_mm(pocket: Pocket) -> tuple[Point | None, ...]:
    """Return how long and wide the piece is that goes back under each zone; None where none does.

    The piece of the plug that lies under the zone, by its smallest rectangle, however that is turned.
    """
    local, seating = pocket.local, pocket.seating
    found: list[Point | None] = []
    for zone, count, riser in zip(pocket.item.zones, seating.zone_layers, seating.risers_mm):
        if riser <= LEAST_RISER_MM or not local.layers:
            found.append(None)
            continue
        floor = local.layers[min(count, len(local.layers)) - 1]
        piece = floor.intersection(polygon_of(zone.region))
        found.append(_sides(piece if piece.area > 1.0 else floor))
    return tuple(found)


def _sides(piece: BaseGeometry) -> Point:
    around = shapely.get_coordinates(piece.minimum_rotated_rectangle)
    if len(around) < 4:
        return 0.0, 0.0
    sides = np.hypot(*(around[1:3] - around[:2]).T)
    return float(sides.max()), float(sides.min())
