"""Where an item can touch its pocket's floor: places on its underside, and how far down each of them can go.

Ledge    the part of a layer's lower boundary that lies bare: cut out of this layer, not of the next
Place    a point of the plan in item coordinates with the depth below the surface that the datum reaches there
         when the underside touches the ledge under it
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.depth.sections import heights_at, revolved, spread_of
from cozy_burrow.core.foam.layers import Layer
from cozy_burrow.core.geometry.offset import mitred
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.memo import Frozen, memo
from cozy_burrow.core.model.records import Zone

GIVES_MM = 0.2  # a ledge that reaches under the item by less is pressed aside
LEAST_LEDGE_MM = 1.5  # a fin of foam narrower than that bends aside, and carries nothing
_HAIR_MM = 0.4  # a narrower strip of ledge is pressed aside: what a knife may leave, and the tips of corners
_BOUNDARY_STEP_MM = 1.0  # along the rim of a ledge under a round thing
_ACROSS = np.array([-0.95, -0.7, -0.4, -0.15, 0.0, 0.15, 0.4, 0.7, 0.95])  # of the half width, where it may roll
_MOST_STATIONS = 24

Cut = tuple[BaseGeometry, int]  # an area in item coordinates, and how many layers are out of it


class Places(Frozen):
    """All places at which an item can touch: xy (n, 2) in item coordinates, depth_mm (n), zone and layer (n).

    Layer 0 is the foam's surface; layer k the lower boundary of the k-th layer.
    """

    __slots__ = ("depth_mm", "layer", "xy", "zone")

    def __init__(
        self,
        xy: NDArray[np.float64],
        depth_mm: NDArray[np.float64],
        zone: NDArray[np.int64],
        layer: NDArray[np.int64],
    ) -> None:
        self.xy, self.depth_mm, self.zone, self.layer = xy, depth_mm, zone, layer


def places_of(pocket: Pocket, layers: tuple[Layer, ...], snug_mm: float, cuts: tuple[Cut, ...] = ()) -> Places:
    """Return where the item of a pocket can touch foam.

    snug_mm: by how much the pocket is smaller than its item all round (negative: larger); so much foam gives way beside
    it, and is no ledge. cuts: what else is taken out under it, pulls and other pockets.
    """
    local = pocket.local
    found: list[tuple[NDArray[np.float64], NDArray[np.float64], int, int]] = []
    for index, number, bare, raised_mm in bare_floors(local, snug_mm, cuts):
        depth_mm = layers[number - 1].bottom_mm - raised_mm if number else 0.0
        xy, height = touching(local.item.zones[index], bare)
        if len(xy):
            found.append((xy, depth_mm + height, index, number))
    if not found:  # a pocket so small that nothing of the item fits it: it lies on the surface
        xy, height = touching(local.item.zones[0], polygon_of(local.item.zones[0].region))
        found.append((xy, height, 0, 0))
    return Places(
        np.concatenate([xy for xy, *_ in found]),
        np.concatenate([depth for _, depth, *_ in found]),
        np.concatenate([np.full(len(xy), zone) for xy, _, zone, _ in found]),
        np.concatenate([np.full(len(xy), layer) for xy, _, _, layer in found]),
    )


def bare_floors(
    local: Pocket, snug_mm: float, cuts: tuple[Cut, ...] = ()
) -> Iterator[tuple[int, int, BaseGeometry, float]]:
    """Yield (zone, layer, floor, height of the riser on it) for each ledge under each zone, in item coordinates.

    Layer 0 is the foam's surface beside the pocket; layer k the lower boundary of the k-th.
    """
    seating = local.seating
    wide = _widened(local.layers, max(0.0, snug_mm + GIVES_MM), cuts)
    floors = _floors(wide)
    gives: dict[int, BaseGeometry] = {}
    for index, zone in enumerate(local.item.zones):
        region = polygon_of(zone.region)
        riser_mm = seating.risers_mm[index] if seating.risers_mm else 0.0
        for number, floor in enumerate(floors):
            bare = region.intersection(floor) if number else region.difference(floors[0])
            if bare.is_empty:
                continue
            if number < len(wide) and bare.area < 0.9 * region.area:
                # The foam below a ledge goes on under the wall beside it: only what stands free on both sides gives.
                if number not in gives:
                    gives[number] = _with_fins(wide[number])
                bare = _no_hairs(bare.difference(gives[number]))
                if bare.is_empty:
                    continue
            yield index, number, bare, riser_mm if number == seating.zone_layers[index] else 0.0


def _with_fins(opening: BaseGeometry) -> BaseGeometry:
    """Return an opening with the fins of foam in and beside it that are too narrow to carry anything."""
    half = LEAST_LEDGE_MM / 2
    return mitred(mitred(opening, half), -half - 1e-6)


def _no_hairs(area: BaseGeometry) -> BaseGeometry:
    core = mitred(area, -_HAIR_MM / 2)
    return core if core.is_empty else mitred(core, _HAIR_MM / 2 + 1e-6).intersection(area)


def _widened(areas: tuple[BaseGeometry, ...], give_mm: float, cuts: tuple[Cut, ...]) -> list[BaseGeometry]:
    """Return what is open in every layer, as far as foam gives beside a thing."""
    wide: list[BaseGeometry] = []
    seen: dict[int, BaseGeometry] = {}
    deepest = max([len(areas), *(count for _, count in cuts)])
    for number in range(1, deepest + 1):
        area = areas[number - 1] if number <= len(areas) else None
        grown = seen.get(id(area)) if area is not None else Polygon()
        if grown is None:
            assert area is not None
            grown = mitred(area, give_mm)  # as it was shrunk: sharp corners come back whole
            seen[id(area)] = grown
        more = [cut for cut, count in cuts if count >= number]
        wide.append(shapely.union_all([grown, *more]) if more else grown)
    return wide


def _floors(wide: list[BaseGeometry]) -> list[BaseGeometry]:
    """Return the ledge at every depth from the first layer's down; in front of them what is cut out of the surface."""
    deepest = len(wide)
    found: list[BaseGeometry] = []
    for number in range(deepest + 1):
        if number == 0:
            found.append(wide[0])
        elif number < deepest:
            same = wide[number - 1] is wide[number]
            found.append(Polygon() if same else wide[number - 1].difference(wide[number]))
        else:
            found.append(wide[number - 1])
    return found


def touching(zone: Zone, bare: BaseGeometry) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return the points (n, 2) of a zone over a level floor that can touch it first, and their heights (n).

    Flat and tapered undersides are planes: whatever way the item tilts, a corner of the convex hull touches first.
    A round one can touch along its keel, beside it as it rolls, and on the rim of its floor.
    """
    if zone.section != "round":
        xy = shapely.get_coordinates(bare.convex_hull)[:-1]
        if zone.under_end_mm is None:
            return xy, np.full(len(xy), zone.under_mm)
        under, _ = heights_at(zone, xy)
        kept = np.isfinite(under)
        return xy[kept], under[kept]
    keel, low = _keel(zone)
    over: NDArray[np.bool_] = shapely.intersects_xy(bare, keel[:, 0], keel[:, 1])
    rim = _rim(bare)
    under, _ = heights_at(zone, rim)
    kept = np.isfinite(under)
    return np.concatenate([keel[over], rim[kept]]), np.concatenate([low[over], under[kept]])


def _rim(bare: BaseGeometry) -> NDArray[np.float64]:
    return shapely.get_coordinates(shapely.segmentize(bare.boundary, _BOUNDARY_STEP_MM))


@memo(rows=1024)
def _keel(zone: Zone) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return points (n, 2) along the lowest line of a round zone and beside it, and their heights (n)."""
    body = revolved(zone)
    chosen = stations_that_count(zone)
    middle, reach = (body.low_mm + body.high_mm) / 2, (body.high_mm - body.low_mm) / 2
    x = np.repeat(body.x_mm[chosen], len(_ACROSS))
    y = (middle[chosen, None] + reach[chosen, None] * _ACROSS).ravel()
    points = spread_of(body, np.column_stack([x, y]))
    under, _ = heights_at(zone, points)
    on = np.isfinite(under)
    return points[on], under[on]


def keel_rise(zone: Zone) -> float:
    """Return by how much the lowest line of a zone's underside rises and falls."""
    if zone.section == "round":
        return float(np.ptp(revolved(zone).half_mm))
    return 0.0 if zone.under_end_mm is None else abs(zone.under_end_mm - zone.under_mm)


@memo(rows=1024)
def stations_that_count(zone: Zone) -> NDArray[np.int64]:
    """Return a round zone's stations between which its keel is straight within a hundredth of a mm, not too many."""
    body = revolved(zone)
    line = shapely.linestrings(np.column_stack([body.x_mm, body.half_mm]))
    kept = shapely.get_coordinates(shapely.simplify(line, 0.01))[:, 0]
    chosen: NDArray[np.int64] = np.flatnonzero(np.isin(body.x_mm, kept))
    if len(chosen) > _MOST_STATIONS:
        chosen = chosen[np.unique(np.linspace(0, len(chosen) - 1, _MOST_STATIONS).astype(int))]
    return chosen
