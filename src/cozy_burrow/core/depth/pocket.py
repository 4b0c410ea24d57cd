"""The pocket of one item as it comes to rest: for each foam layer, the area that is taken out, in item coordinates.

Outline, profile, seat, allowance and section make it; then it is made cuttable: foam fins inside it that are
thinner than the least foam are given up, islands in it too, and no layer is wider than the one above it.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import MultiPolygon, Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.container.bay import Bay
from cozy_burrow.core.depth.seat import Seating
from cozy_burrow.core.depth.sections import reach_below
from cozy_burrow.core.foam.layers import Layer, layers_of
from cozy_burrow.core.geometry.offset import mitred, rounded
from cozy_burrow.core.geometry.rings import as_multi, filled, polygon_of, polygons_in
from cozy_burrow.core.geometry.sides import Sides, faced_mm, sided
from cozy_burrow.core.model.memo import Frozen, memo
from cozy_burrow.core.model.records import Item, Rules, Zone
from cozy_burrow.core.tolerances import SAME_POINT_MM, SLOT_MM

_ARC = 16  # segments in a quarter circle: 0.005 mm inside a 4 mm radius
_CLOSING_ARC = 8  # 0.007 mm on the 1.5 mm radius of a foam corner
_NOTHING_MM2 = 0.1
_DENSE = 60  # with fewer corners there is nothing to gain from smoothing
_SMOOTH_MM = 0.01
_EDGE_STEP_MM = 2.0  # pieces of an edge for which a width is measured
_SPLINTER_MM = 0.05
_ALIKE_MM = 0.01  # strips that differ by less are one
_GRID_MM = 1e-4  # of arithmetic on strips that nearly touch
_TIP_SHARE = (
    0.5  # of the square of a disc's radius: so much and more stays before the disc in the tip of a sharp corner
)


class Pocket(Frozen):
    """Areas taken out, `layers[0]` from the top layer, only as many as are not empty; and how the item rests.

    eased_mm: how much wider all round than by its item's fit; it was shaved at the bench. Negative: foam was glued in.
    What was done at one side counts by the share of the edge that it faces.
    """

    __slots__ = ("eased_mm", "item", "layers", "local", "owner", "seating")

    def __init__(
        self,
        owner: str,
        item: Item,
        seating: Seating,
        layers: tuple[MultiPolygon, ...],
        local: Pocket | None = None,
        eased_mm: float = 0.0,
    ) -> None:
        self.owner, self.item, self.seating, self.layers, self.eased_mm = owner, item, seating, layers, eased_mm
        self.local = local or self  # the same pocket in item coordinates; itself where it lies in them

    @property
    def depth_layers(self) -> int:
        """How many layers deep the pocket is."""
        return len(self.layers)

    @property
    def surface(self) -> MultiPolygon:
        """Its shape at the foam's surface."""
        return self.layers[0]


def allowance_for(item: Item, rules: Rules) -> float:
    """Return how much the pocket is larger all round than the item; negative is snug.

    By the item's own fit, else by one figure for all, else snug: foam gives, and about 1 mm smaller all round holds
    without squeezing. Boxes lie on the line: their walls do not give.
    """
    if item.fit is None and rules.allowance_mm is not None:
        return rules.allowance_mm
    match item.fit or ("line" if item.provenance.way == "box" else "snug"):
        case "snug":
            return -rules.snug_mm
        case "easy":
            return rules.easy_mm
        case _:
            return 0.0


def allowance_in(pocket: Pocket, rules: Rules) -> float:
    """Return how much a pocket is larger all round than its item; negative is snug."""
    return allowance_for(pocket.item, rules) + pocket.eased_mm


def cut_pocket(
    item: Item, seating: Seating, bay: Bay, rules: Rules, eased_mm: float = 0.0, sides: Sides = ()
) -> Pocket:
    """Return the pocket of an item that comes to rest so, in item coordinates. eased_mm, sides: as placements have it.

    sides: pairs of degrees and millimetres.
    """
    return _cut_pocket(item, seating, *_depends_on(item, bay, rules), eased_mm, sides)


def is_cut(item: Item, seating: Seating, bay: Bay, rules: Rules, eased_mm: float = 0.0, sides: Sides = ()) -> bool:
    """Return whether `cut_pocket` knows its answer, so that it costs nothing."""
    return _cut_pocket.knows(item, seating, *_depends_on(item, bay, rules), eased_mm, sides)


def _depends_on(item: Item, bay: Bay, rules: Rules) -> tuple[tuple[Layer, ...], float, float]:
    least_mm = max(rules.least_foam_mm, 2 * rules.knife_radius_mm) if rules.least_foam_mm > 0 else 0.0
    return layers_of(bay.sheets), allowance_for(item, rules), least_mm


def sketched_pocket(item: Item, seating: Seating, bay: Bay) -> Pocket:
    """Return the pocket as drawn in a hurry: the item's own outline, as deep as its zones, in item coordinates.

    A tenth of the work of `cut_pocket`, and off by what its fit, its rounding and its thin fins make of it.
    """
    regions = [polygon_of(zone.region) for zone in item.zones]
    whole = as_multi(polygon_of(item.outline))
    areas: list[MultiPolygon] = []
    deepest = min(len(layers_of(bay.sheets)), max(1, *seating.zone_layers))
    for number in range(1, deepest + 1):
        deep = [region for region, count in zip(regions, seating.zone_layers) if count >= number]
        shallower = len(deep) < len(regions) and number > 1
        areas.append(as_multi(shapely.union_all(deep, grid_size=_GRID_MM)) if shallower else whole)
    return Pocket("", item, seating, tuple(one for one in areas if not one.is_empty))


@memo(rows=4096)
def _cut_pocket(
    item: Item,
    seating: Seating,
    layers: tuple[Layer, ...],
    allowance_mm: float,
    least_foam_mm: float,
    eased_mm: float,
    sides: Sides,
) -> Pocket:
    floating = floating_zones(item, seating)
    needed = [
        [] if index in floating else _zone_areas(zone, count, seating.datum_mm, layers)
        for index, (zone, count) in enumerate(zip(item.zones, seating.zone_layers))
    ]
    cut: list[MultiPolygon] = []
    below: BaseGeometry = MultiPolygon()
    before: list[BaseGeometry] = []
    for number in range(max(len(areas) for areas in needed), 0, -1):
        parts = [areas[number - 1] for areas in needed if len(areas) >= number]
        if len(parts) == len(before) and all(part is other for part, other in zip(parts, before)):
            cut.append(cut[-1])  # the layer below needs the very same: one shape for both, worked out once
            continue
        before = parts
        area = _opening(tuple(parts), allowance_mm + eased_mm, least_foam_mm)
        if sides:
            area = sided(area, sides)
        below = filled(area.union(below)) if not below.is_empty else filled(area)
        dense = shapely.get_num_coordinates(below) > _DENSE
        cut.append(as_multi(below.simplify(_SMOOTH_MM) if dense else below))
    cut.reverse()
    eased = eased_mm + faced_mm(polygon_of(item.outline), sides)
    return Pocket("", item, seating, tuple(one for one in cut if not one.is_empty), eased_mm=eased)


@memo(rows=4096)
def _opening(parts: tuple[BaseGeometry, ...], allowance_mm: float, least_foam_mm: float) -> BaseGeometry:
    """Return what is cut for parts that need these areas; the same areas come back at many seats that are tried."""
    bare = parts[0] if len(parts) == 1 else shapely.union_all(parts, grid_size=_GRID_MM)
    return _cuttable(grown(bare, allowance_mm), least_foam_mm)


def floating_zones(item: Item, seating: Seating) -> frozenset[int]:
    """Return the zones that hang in the air over the foam: nothing is cut for them.

    Only where the others make one pocket: two holes joined by what hangs between them would be drawn apart.
    """
    found = frozenset(n for n, zone in enumerate(item.zones) if zone.lowest_mm >= seating.datum_mm)
    sunk = [polygon_of(zone.region) for n, zone in enumerate(item.zones) if n not in found]
    if not found or not sunk or len(polygons_in(shapely.union_all(sunk, grid_size=_GRID_MM))) > 1:
        return frozenset()
    return found


def _zone_areas(zone: Zone, count: int, datum_mm: float, layers: tuple[Layer, ...]) -> list[BaseGeometry]:
    """Return what the zone needs in each of its `count` layers."""
    areas = [reach_below(zone, round(datum_mm - layer.top_mm, 6)) for layer in layers[:count]]
    region = polygon_of(zone.region)
    # Where less than half of a zone dips into the foam its own line is cut one layer deep all the same: the
    # item then lies where it was drawn, and its pocket stays one shape.
    if areas[0].area < 0.5 * region.area:
        areas[0] = region
    for index in range(1, count):  # layers taken out by hand below the item: as wide as the last that it needs
        if areas[index].is_empty:
            areas[index] = areas[index - 1]
    return areas


def grown(area: BaseGeometry, by_mm: float) -> BaseGeometry:
    """Return the area larger all round, or smaller: by less where it is thin, and no thinner than SLOT_MM.

    A slot is as wide as its part up to SLOT_MM, else SLOT_MM, until it is less by all that was asked:
    max(min(width, SLOT_MM), width - 2 · by). So a thicker part never gets a narrower slot than a thinner one.
    """
    if abs(by_mm) < SAME_POINT_MM:
        return area  # nothing that could be cut; a buffer that small breaks in its arithmetic
    if by_mm > 0:
        return area.buffer(by_mm, quad_segs=_ARC)
    return _snug(area, -by_mm)


def _snug(area: BaseGeometry, by_mm: float) -> BaseGeometry:
    inner = mitred(area, -by_mm)
    reach = SLOT_MM / 2 + by_mm
    core = mitred(area, -reach)
    if mitred(core, reach + 0.05).covers(area):
        return inner
    wide = rounded(core, reach + 0.05, arc=4)
    beyond = shapely.difference(area, wide, grid_size=_GRID_MM)
    thin = polygons_in(beyond, least_area_mm2=_TIP_SHARE * reach**2)
    if not thin:
        return inner
    # Where two areas only touch, what they share is a line, and an overlay takes no areas with lines among them.
    around = mitred(shapely.union_all(thin, grid_size=_GRID_MM), by_mm + 0.1)
    near = as_multi(shapely.intersection(around, area, grid_size=_GRID_MM))
    slots = shapely.difference(near, _shaved(area, near, by_mm), grid_size=_GRID_MM)
    clean = mitred(mitred(slots, -_SPLINTER_MM), _SPLINTER_MM)
    kept = polygons_in(shapely.intersection(clean, area, grid_size=_GRID_MM))
    return shapely.union_all([*polygons_in(inner), *kept], grid_size=_GRID_MM)


def _shaved(area: BaseGeometry, near: BaseGeometry, by_mm: float) -> BaseGeometry:
    """Return what a snug fit leaves standing inside the edge of thin parts: a strip as wide as the part allows.

    A part's width is measured from the middle of each short piece of its edge straight across.
    """
    found: list[BaseGeometry] = []
    for polygon in polygons_in(area):
        for number, ring in enumerate((polygon.exterior, *polygon.interiors)):
            corners = shapely.get_coordinates(ring)
            # Inside lies to the left of an outer ring that turns left; here every ring is taken the way that it does.
            if ring.is_ccw == (number > 0):
                corners = corners[::-1]
            found += _strips(corners, polygon, near, by_mm)
    return shapely.union_all(found) if found else Polygon()


def _strips(corners: NDArray[np.float64], polygon: Polygon, near: BaseGeometry, by_mm: float) -> Iterator[BaseGeometry]:
    """Yield the strips inside one ring (n, 2), its inside to the left, and what fills bends between them."""
    edge = np.diff(corners, axis=0)
    length = np.hypot(*edge.T)
    kept = length > 1e-9
    start, edge, length = corners[:-1][kept], edge[kept], length[kept]
    count = np.maximum(1, np.ceil(length / _EDGE_STEP_MM)).astype(int)
    of = np.repeat(np.arange(len(edge)), count)
    step = np.arange(len(of)) - np.repeat(np.cumsum(count) - count, count)
    low, high = step / count[of], (step + 1) / count[of]
    inward = (np.column_stack([-edge[:, 1], edge[:, 0]]) / length[:, None])[of]
    middle = start[of] + edge[of] * ((low + high) / 2)[:, None]
    # What is thin is mostly a blade of a whole tool: the other pieces need no width.
    asked = shapely.dwithin(shapely.points(middle), near, by_mm + _EDGE_STEP_MM)
    if not asked.any():
        return
    wanted = np.flatnonzero(asked)
    of, low, high, inward, middle = of[wanted], low[wanted], high[wanted], inward[wanted], middle[wanted]
    reach = SLOT_MM + 2 * by_mm
    ways = shapely.linestrings(np.stack([middle + 1e-4 * inward, middle + reach * inward], axis=1))
    met = shapely.distance(shapely.points(middle), shapely.intersection(ways, polygon.boundary))
    strip = np.clip((np.where(np.isfinite(met), met, reach) - SLOT_MM) / 2, 0.0, by_mm)
    # Pieces of one edge that shave alike are one strip.
    parted = (np.diff(of) > 0) | (np.diff(wanted) > 1) | (np.abs(np.diff(strip)) > _ALIKE_MM)
    first = np.flatnonzero(np.concatenate([[True], parted]))
    last = np.concatenate([first[1:], [len(of)]]) - 1
    begin = start[of[first]] + edge[of[first]] * low[first][:, None]
    end = start[of[last]] + edge[of[last]] * high[last][:, None]
    wide, deep = strip[first], inward[first] * strip[first][:, None]
    pieces = np.asarray(shapely.polygons(np.stack([begin, end, end + deep, begin + deep], axis=1)))
    here = (wide > SAME_POINT_MM) & shapely.dwithin(pieces, near, by_mm)
    yield from pieces[here]
    following = np.roll(np.arange(len(first)), -1)
    joined = np.hypot(*(begin[following] - end).T) < SAME_POINT_MM
    way, then = edge[of[first]], edge[of[first[following]]]
    hollow = way[:, 0] * then[:, 1] - way[:, 1] * then[:, 0] < -1e-12  # it turns right: the strips gape there
    filled_in = np.minimum(wide, wide[following])
    bends = here & joined & hollow & (filled_in > SAME_POINT_MM)
    yield from np.asarray(shapely.buffer(shapely.points(end[bends]), filled_in[bends], quad_segs=4))


def _cuttable(area: BaseGeometry, least_foam_mm: float) -> BaseGeometry:
    """Return the area with foam fins and notches narrower than `least_foam_mm` given up."""
    if least_foam_mm <= 0:
        return area
    half = least_foam_mm / 2
    closed = rounded(rounded(area, half, arc=_CLOSING_ARC), -half, arc=_CLOSING_ARC)
    if abs(closed.area - area.area) < _NOTHING_MM2:
        return area  # nothing to give up
    return closed.union(area)  # straight edges come back a few micrometres short
