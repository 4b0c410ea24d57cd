"""Areas grown and shrunk: what comes back is always sound.

GEOS now and then gives an area that crosses itself when it shrinks one, and where several areas touch at a point it
may lose one of them altogether (one in a hundred ragged shapes). So areas are shrunk one by one, and what comes back
crossing itself is taken with round corners, or mended. Where corners lie within a millionth of a millionth of a
millimetre of each other it divides by nought, and gives what is right all the same: nobody needs to be warned of that.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable

import numpy as np
import shapely
from shapely.geometry import MultiPolygon, Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.geometry.rings import polygons_in

_ARC = 16  # segments of a quarter


def mitred(area: BaseGeometry, by_mm: float) -> BaseGeometry:
    """Return an area larger by so much all round, or smaller (below 0), its corners sharp as they were."""
    return _offset(area, by_mm, lambda one: one.buffer(by_mm, join_style="mitre"))


def rounded(area: BaseGeometry, by_mm: float, *, arc: int = _ARC) -> BaseGeometry:
    """Return an area larger by so much all round, or smaller (below 0), round where it went round a corner."""
    return _offset(area, by_mm, lambda one: one.buffer(by_mm, quad_segs=arc))


def _offset(area: BaseGeometry, by_mm: float, taken: Callable[[BaseGeometry], BaseGeometry]) -> BaseGeometry:
    with np.errstate(divide="ignore", invalid="ignore"):
        if by_mm >= 0:
            return _sound(taken(area), area, by_mm)
        return _together([_sound(taken(one), one, by_mm) for one in _apart(area)])


def _apart(area: BaseGeometry) -> list[Polygon]:
    return [area] if isinstance(area, Polygon) else polygons_in(area)


def _together(parts: Iterable[BaseGeometry]) -> BaseGeometry:
    """Return areas that have nothing in common as one geometry."""
    kept = [part for part in parts if not part.is_empty]
    if len(kept) == 1:
        return kept[0]
    return MultiPolygon([polygon for part in kept for polygon in polygons_in(part)])


def _sound(found: BaseGeometry, area: BaseGeometry, by_mm: float) -> BaseGeometry:
    if found.is_valid:
        return found
    again = area.buffer(by_mm, quad_segs=_ARC)
    if again.is_valid:
        return again
    return MultiPolygon(polygons_in(shapely.make_valid(again, method="structure", keep_collapsed=False)))
