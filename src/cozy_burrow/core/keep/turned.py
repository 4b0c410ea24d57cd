"""Whether a thing lies in its place end for end."""

from __future__ import annotations

import shapely
from msgspec.structs import replace

from cozy_burrow.core.depth.settling import Pose
from cozy_burrow.core.model.records import Placement, Point
from cozy_burrow.core.relief.field import Lying


def end_for_end(one: Lying) -> tuple[Placement, Point]:
    """Return where a thing lies in its pocket the other way round, and the point about which it is turned by half.

    That is the middle of the narrowest rectangle round its outline: so it finds room in its pocket best.
    """
    middle, where = shapely.oriented_envelope(one.outline).centroid, one.placement
    turned = replace(
        where,
        x_mm=2 * middle.x - where.x_mm,
        y_mm=2 * middle.y - where.y_mm,
        angle_deg=(where.angle_deg + 180.0) % 360.0,
    )
    return turned, (middle.x, middle.y)


def lying_turned(one: Lying) -> Lying:
    """Return a thing as it lies end for end, as deep as it was and level."""
    return Lying(one.item, end_for_end(one)[0], Pose(datum_mm=one.pose.datum_mm))
