"""An item seen from its side: along x as in its outline, heights about the datum upward."""

from __future__ import annotations

import numpy as np

from cozy_burrow.core.depth.sections import revolved
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.records import Item, Ring, Zone


def side_view(item: Item) -> tuple[Ring, ...]:
    """Return a ring of (x, height) for each zone, in the order of the zones."""
    return tuple(_zone_side(zone) for zone in item.zones)


def _zone_side(zone: Zone) -> Ring:
    left, _, right, _ = polygon_of(zone.region).bounds
    if zone.section == "round":
        body = revolved(zone)
        if abs(np.sin(np.radians(body.angle_deg))) < 1e-6:
            sign = 1.0 if np.cos(np.radians(body.angle_deg)) > 0 else -1.0
            x = sign * body.x_mm + body.origin[0]
            upper, lower = body.centre_mm + body.half_mm, body.centre_mm - body.half_mm
            return (*zip(x.tolist(), upper.tolist()), *reversed(list(zip(x.tolist(), lower.tolist()))))
    if zone.axis is not None and zone.under_end_mm is not None and zone.top_end_mm is not None:
        (x0, _), (x1, _) = zone.axis
        return ((x0, zone.top_mm), (x1, zone.top_end_mm), (x1, zone.under_end_mm), (x0, zone.under_mm))
    return ((left, zone.top_mm), (right, zone.top_mm), (right, zone.under_mm), (left, zone.under_mm))
