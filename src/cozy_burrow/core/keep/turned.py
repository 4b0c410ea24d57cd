"""Whether a thing lies in its place end for end."""

from __future__ import annotations

import shapely
from msgspec.structs import replace

from cozy_burrow.core.depth.settling import Pose
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.records import Item, Placement, Point
from cozy_burrow.core.relief.field import Lying


def end_for_end(item: Item, placement: Placement) -> tuple[Placement, Point]:
    """Return where a thing lies in its pocket the other way round, and the point about which it is turned by half.

    That is the middle of the narrowest rectangle round its outline: so it finds room in its pocket best.
    """
    outline = polygon_of(item.outline)
    there = placed(outline, x_mm=placement.x_mm, y_mm=placement.y_mm, angle_deg=placement.angle_deg)
    middle = shapely.oriented_envelope(there).centroid
    turned = replace(
        placement,
        x_mm=2 * middle.x - placement.x_mm,
        y_mm=2 * middle.y - placement.y_mm,
        angle_deg=(placement.angle_deg + 180.0) % 360.0,
    )
    return turned, (middle.x, middle.y)


def lying_turned(one: Lying) -> Lying:
    """Return a thing as it lies end for end, as deep as it was and level."""
    return Lying(one.item, end_for_end(one.item, one.placement)[0], Pose(datum_mm=one.pose.datum_mm))
