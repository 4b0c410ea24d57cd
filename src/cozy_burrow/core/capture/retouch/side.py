"""A second photo, of the same thing lying on its side: how thick it is along its length, zone by zone.

Both views share the thing's long axis. Along it, a zone reaches from one share of the length to another; what the side
view shows there, from its lowest to its highest point, is the zone's thickness.
"""

from __future__ import annotations

import numpy as np
import shapely
from msgspec.structs import replace
from shapely import affinity
from shapely.geometry import Polygon

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.axes import long_axis_deg
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.records import Item, Record
from cozy_burrow.core.tongue import tr

_SLICES = 80
_ALIKE = 0.06  # the two views' lengths may differ by this share


class Reach(Record, frozen=True, kw_only=True):
    """Where a zone lies along the axis, as shares of the length, and its heights above the lowest point."""

    start: float
    end: float
    under_mm: float
    top_mm: float


def zones_from_side(item: Item, side: Polygon, *, turned: bool = False, upside_down: bool = False) -> Item:
    """Return the item with the heights that its side view shows, its lowest point as datum.

    turned: the side view's left end is the item's right end; upside_down: its upper rim lay on the table.
    Raises UnusableInput where the two are not as long as each other.
    """
    reaches = side_reaches(item, side, turned=turned, upside_down=upside_down)
    zones = tuple(
        replace(zone, under_mm=reach.under_mm, top_mm=reach.top_mm, under_end_mm=None, top_end_mm=None)
        for zone, reach in zip(item.zones, reaches)
    )
    return replace(item, zones=zones)


def side_reaches(item: Item, side: Polygon, *, turned: bool, upside_down: bool) -> list[Reach]:
    """Return for every zone where it lies and how high it reaches."""
    shape = _along_x(polygon_of(item.outline), polygon_of(item.outline))
    seen = _along_x(side, side)
    if turned or upside_down:
        seen = affinity.scale(seen, -1.0 if turned else 1.0, -1.0 if upside_down else 1.0, origin=(0.0, 0.0, 0.0))
    length = shape.bounds[2] - shape.bounds[0]
    other = seen.bounds[2] - seen.bounds[0]
    if abs(length - other) > _ALIKE * length:
        raise UnusableInput(
            tr("from above it is {length:.1f} mm long, from its side {other:.1f} mm", length=length, other=other),
            where=item.name,
            remedy=tr("photograph the same item on its side, and set the height of the edge for that photo"),
        )
    low = seen.bounds[3]  # y runs down the page: the table is where it is largest
    found = []
    for zone in item.zones:
        region = _along_x(polygon_of(zone.region), polygon_of(item.outline))
        start, end = ((region.bounds[k] - shape.bounds[0]) / length for k in (0, 2))
        inset = min(0.1 * (end - start), 1.5 / length)  # at its ends a zone shows its neighbour
        tops, unders = [], []
        for share in np.linspace(start + inset, end - inset, _SLICES):
            x = seen.bounds[0] + share * other
            cut = seen.intersection(shapely.LineString([(x, seen.bounds[1] - 1), (x, seen.bounds[3] + 1)]))
            if not cut.is_empty:
                unders.append(low - cut.bounds[3])
                tops.append(low - cut.bounds[1])
        if not tops:
            raise UnusableInput(tr("the side view has a gap"), where=item.name, remedy=tr("take the photo again"))
        found.append(
            Reach(
                start=start,
                end=end,
                under_mm=round(float(np.percentile(unders, 10)), 2),
                top_mm=round(float(np.percentile(tops, 90)), 2),
            )
        )
    return found


def _along_x(shape: Polygon, of: Polygon) -> Polygon:
    """Return a shape turned so that the long axis of another lies along x."""
    angle = long_axis_deg(of)
    turned = affinity.rotate(shape, -angle, origin=(0.0, 0.0))
    whole = affinity.rotate(of, -angle, origin=(0.0, 0.0))
    middle = whole.envelope.centroid
    return affinity.translate(turned, -middle.x, -middle.y)
