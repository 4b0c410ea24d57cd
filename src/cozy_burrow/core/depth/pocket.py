"""The pocket of one item as it comes to rest: for each foam layer, the area that is taken out, in item coordinates.

Outline, profile, seat, allowance and section make it; then it is made cuttable: foam fins inside it that are
thinner than the least foam are given up, islands in it too, and no layer is wider than the one above it.
"""

from __future__ import annotations

import numpy as np
import shapely
from shapely.geometry import MultiPolygon, Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.container.bay import Bay
from cozy_burrow.core.depth.seat import Seating
from cozy_burrow.core.depth.sections import reach_below
from cozy_burrow.core.foam.layers import Layer, layers_of
from cozy_burrow.core.geometry.rings import as_multi, filled, polygon_of, polygons_in
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
_GRID_MM = 1e-4  # of arithmetic on strips that nearly touch
_TIP_SHARE = (
    0.5  # of the square of a disc's radius: so much and more stays before the disc in the tip of a sharp corner
)


class Pocket(Frozen):
    """Areas taken out, `layers[0]` from the top layer, only as many as are not empty; and how the item rests."""

    __slots__ = ("item", "layers", "local", "owner", "seating")

    def __init__(
        self, owner: str, item: Item, seating: Seating, layers: tuple[MultiPolygon, ...], local: Pocket | None = None
    ) -> None:
        self.owner, self.item, self.seating, self.layers = owner, item, seating, layers
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


def cut_pocket(item: Item, seating: Seating, bay: Bay, rules: Rules) -> Pocket:
    """Return the pocket of an item that comes to rest so, in item coordinates."""
    least_mm = max(rules.least_foam_mm, 2 * rules.knife_radius_mm) if rules.least_foam_mm > 0 else 0.0
    return _cut_pocket(item, seating, layers_of(bay.sheets), allowance_for(item, rules), least_mm)


@memo(rows=4096)
def _cut_pocket(
    item: Item, seating: Seating, layers: tuple[Layer, ...], allowance_mm: float, least_foam_mm: float
) -> Pocket:
    floating = _floating(item, seating)
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
        bare = parts[0] if len(parts) == 1 else shapely.union_all(parts, grid_size=_GRID_MM)
        area = _cuttable(grown(bare, allowance_mm), least_foam_mm)
        below = filled(area.union(below)) if not below.is_empty else filled(area)
        dense = shapely.get_num_coordinates(below) > _DENSE
        cut.append(as_multi(below.simplify(_SMOOTH_MM) if dense else below))
    cut.reverse()
    return Pocket("", item, seating, tuple(one for one in cut if not one.is_empty))


def _floating(item: Item, seating: Seating) -> frozenset[int]:
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
    inner = area.buffer(-by_mm, join_style="mitre")
    reach = SLOT_MM / 2 + by_mm
    wide = area.buffer(-reach, join_style="mitre").buffer(reach + 0.05, quad_segs=_CLOSING_ARC)
    thin = [part for part in shapely.get_parts(area.difference(wide)) if part.area > _TIP_SHARE * reach**2]
    if not thin:
        return inner
    near = shapely.union_all(thin).buffer(by_mm + 0.1, join_style="mitre").intersection(area)
    slots = shapely.difference(near, _shaved(area, near, by_mm), grid_size=_GRID_MM)
    clean = slots.buffer(-_SPLINTER_MM, join_style="mitre").buffer(_SPLINTER_MM, join_style="mitre")
    kept = polygons_in(shapely.intersection(clean, area, grid_size=_GRID_MM))
    return shapely.union_all([*polygons_in(inner), *kept], grid_size=_GRID_MM)


def _shaved(area: BaseGeometry, near: BaseGeometry, by_mm: float) -> BaseGeometry:
    """Return what a snug fit leaves standing inside the edge of thin parts: a strip as wide as the part allows.

    A part's width is measured from the middle of each short piece of its edge straight across.
    """
    found: list[BaseGeometry] = []
    reach = SLOT_MM + 2 * by_mm
    for polygon in polygons_in(area):
        for number, ring in enumerate((polygon.exterior, *polygon.interiors)):
            points = shapely.get_coordinates(shapely.segmentize(ring, _EDGE_STEP_MM))
            start, end = points[:-1], points[1:]
            along = end - start
            length = np.hypot(*along.T)
            kept = length > 1e-9
            start, end, along, length = start[kept], end[kept], along[kept], length[kept]
            inward = np.column_stack([-along[:, 1], along[:, 0]]) / length[:, None]
            if ring.is_ccw == (number > 0):  # inside lies to the left of an outer ring that turns left
                inward = -inward
            middle = (start + end) / 2
            ways = shapely.linestrings(np.stack([middle + 1e-4 * inward, middle + reach * inward], axis=1))
            met = shapely.distance(shapely.points(middle), shapely.intersection(ways, polygon.boundary))
            width = np.where(np.isfinite(met), met, reach)
            strip = np.clip((width - SLOT_MM) / 2, 0.0, by_mm)
            deep = inward * strip[:, None]
            pieces = shapely.polygons(np.stack([start, end, end + deep, start + deep], axis=1))
            bends = shapely.buffer(shapely.points(end), np.minimum(strip, np.roll(strip, -1)), quad_segs=4)
            here = (strip > SAME_POINT_MM) & shapely.dwithin(pieces, near, by_mm)
            found += [*np.asarray(pieces)[here], *bends[here]]
    return shapely.union_all(found) if found else Polygon()


def _cuttable(area: BaseGeometry, least_foam_mm: float) -> BaseGeometry:
    """Return the area with foam fins and notches narrower than `least_foam_mm` given up."""
    if least_foam_mm <= 0:
        return area
    half = least_foam_mm / 2
    closed = area.buffer(half, quad_segs=_CLOSING_ARC).buffer(-half, quad_segs=_CLOSING_ARC)
    if abs(closed.area - area.area) < _NOTHING_MM2:
        return area  # nothing to give up
    return closed.union(area)  # straight edges come back a few micrometres short
