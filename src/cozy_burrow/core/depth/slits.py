"""Where a pocket is so thin that a knife cannot cut a strip out of it: one slit does, and the foam gives.

A slit is a part of an opening that is narrower than STRIP_MM over its whole length.
"""

from __future__ import annotations

import shapely
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.geometry.offset import mitred, rounded
from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Point, Record
from cozy_burrow.core.tolerances import STRIP_MM

_LEAST_LENGTH = 3.0  # times as long as it is wide: less is the tip of a corner


class Slit(Record, frozen=True, kw_only=True):
    """A thin part of an opening: its length, its mean width, and a place in it."""

    length_mm: float
    width_mm: float
    at: Point


@memo(rows=2048)
def slits_in(area: BaseGeometry) -> tuple[Slit, ...]:
    """Return the parts of an opening that are cut as one slit, the longest first.

    A strip of length l and width w has the area l · w and the rim 2 · (l + w), which gives both.
    """
    half = STRIP_MM / 2
    strips = area.difference(rounded(mitred(area, -half), half + 0.02, arc=8))
    found = []
    for part in polygons_in(strips, least_area_mm2=_LEAST_LENGTH * 0.1**2):
        around = part.exterior.length / 2
        length = (around + max(0.0, around**2 - 4 * part.area) ** 0.5) / 2
        width = part.area / length
        if length >= _LEAST_LENGTH * STRIP_MM and width < STRIP_MM:
            dot = part.representative_point()
            found.append(Slit(length_mm=float(length), width_mm=float(width), at=(float(dot.x), float(dot.y))))
    return tuple(sorted(found, key=lambda slit: (-slit.length_mm, slit.at)))


def is_slit(area: BaseGeometry) -> bool:
    """Return whether a whole opening is one slit."""
    return bool(shapely.is_empty(area.buffer(-STRIP_MM / 2)))
