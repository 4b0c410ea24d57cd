"""Outlines that were drawn round things on paper: the line is found, its width and the pen's lean are taken out.

The pen's tip has a width, so its line lies half of that outside the thing. A pen that leans touches the thing not at
the paper but at the height of its widest edge; its tip stands off by that height times the tangent of the lean:
outwards where the top of the pen leans over the thing, inwards (negative) where it leans away.

Reading   which part of the line is taken: the middle of it, or its inner or outer edge
"""

from __future__ import annotations

import math
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon

from cozy_burrow.core.capture.paper.scan import flat_scan, glass_of
from cozy_burrow.core.capture.photo.edges import Ground, refined
from cozy_burrow.core.capture.photo.flat import Flat, lay_flat, light_of
from cozy_burrow.core.capture.photo.picture import Picture
from cozy_burrow.core.capture.photo.pose import Sight
from cozy_burrow.core.capture.photo.sighting import see_mat
from cozy_burrow.core.capture.photo.trace import SeenThing, Stretch, Traced, true_rim
from cozy_burrow.core.capture.runs import faired
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.model.records import Record
from cozy_burrow.core.progress import Quiet, Token
from cozy_burrow.core.tongue import tr

Points = NDArray[np.float64]
Reading = Literal["middle", "inner", "outer"]

MOST_LEAN_DEG = 45.0
_INK = 0.72  # of the paper's light: a line is darker
_LEAST_AREA_MM2 = 60.0
_GAP_MM = 1.2
_LEAST_LINE_MM, _MOST_LINE_MM = 0.25, 8.0


class Pen(Record, frozen=True, kw_only=True):
    """The pen and how it was held. tip_mm: width of its line; touch_mm: the height at which it touched the thing."""

    tip_mm: float = 0.8
    lean_deg: float = 0.0
    touch_mm: float = 0.0
    reading: Reading = "middle"

    @property
    def outside_mm(self) -> float:
        """How far the part of the line that is read lies outside the thing."""
        share = {"inner": 0.0, "middle": 0.5, "outer": 1.0}[self.reading]
        return share * self.tip_mm + self.touch_mm * math.tan(math.radians(self.lean_deg))


def checked_pen(pen: Pen) -> Pen:
    """Return a pen that can be; raises UnusableInput for the rest."""
    if not 0.0 <= pen.tip_mm <= _MOST_LINE_MM:
        raise UnusableInput(
            tr("a tip of {tip:g} mm", tip=pen.tip_mm), where="pen", remedy=tr("give the width of the line it draws")
        )
    if abs(pen.lean_deg) > MOST_LEAN_DEG:
        raise UnusableInput(
            tr("a lean of {lean:g} degrees", lean=pen.lean_deg), where="pen", remedy=tr("give at most 45 degrees")
        )
    if not 0.0 <= pen.touch_mm <= 500.0:
        raise UnusableInput(
            tr("a touch {touch:g} mm up", touch=pen.touch_mm), where="pen", remedy=tr("give the height of the edge")
        )
    return pen


def traced_on_scan(
    picture: Picture, pen: Pen, *, where: str, dpi: float | None = None, token: Token | None = None
) -> list[Traced]:
    """Return the outlines drawn on a scanned sheet, in scan millimetres. Raises UnusableInput where no line closes."""
    token = token or Quiet()
    glass = glass_of(picture, dpi=dpi, where=where)
    flat, light = flat_scan(picture, glass)
    token.step(0.3)
    return _outlines(flat, Ground(light, (0, 0), glass, flat.blur_mm), checked_pen(pen), where)


def traced_on_mat(
    picture: Picture, pen: Pen, *, where: str, stretch: Stretch | None = None, token: Token | None = None
) -> tuple[list[Traced], Sight]:
    """Return the outlines drawn on the white field of a mat in a photo of it, in mat millimetres, and its sight."""
    token = token or Quiet()
    sight = see_mat(picture, where=where, stretch=stretch)
    token.step(0.3)
    light, first = light_of(picture.pixels, sight)
    flat = lay_flat(light, first, sight)
    token.step(0.6)
    ground = Ground(light, first, flat.view or sight.camera, flat.blur_mm, flat.dots)
    return _outlines(flat, ground, checked_pen(pen), where), sight


def _outlines(flat: Flat, ground: Ground, pen: Pen, where: str) -> list[Traced]:
    import cv2

    level = flat.even.mean(axis=-1)
    ink = ((level < _INK) & flat.on & flat.known).astype(np.uint8)
    size = 2 * round(_GAP_MM / 2 / flat.cell_mm) + 1
    closed = cv2.morphologyEx(ink, cv2.MORPH_CLOSE, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size)))
    contours, tree = cv2.findContours(closed, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    found: list[Traced] = []
    for number, contour in enumerate(contours):
        if tree[0][number][3] >= 0 or tree[0][number][2] < 0 or len(contour) < 40:
            continue
        holes = []
        child = int(tree[0][number][2])
        while child >= 0:
            holes.append(contours[child])
            child = int(tree[0][child][0])
        inner = max(holes, key=lambda one: float(cv2.contourArea(one)))
        if cv2.contourArea(inner) * flat.cell_mm**2 < _LEAST_AREA_MM2:
            continue
        rims = [
            flat.to_mat(true_rim(one.reshape(-1, 2).astype(float), inner=within))
            for one, within in ((contour, False), (inner, True))
        ]
        one = _outline(rims[0], rims[1], ground, pen)
        if one is not None:
            found.append(one)
    if not found:
        raise UnusableInput(
            tr("no closed pen line is seen on the paper"),
            where=where,
            remedy=tr("close the line and make it dark enough"),
        )
    return sorted(found, key=lambda one: one.shape.bounds[0])


def _outline(outer_mm: Points, inner_mm: Points, ground: Ground, pen: Pen) -> Traced | None:
    shape = Polygon(outer_mm)
    line_mm = (shape.area - Polygon(inner_mm).area) / max(1.0, shape.exterior.length)
    if not _LEAST_LINE_MM <= line_mm <= _MOST_LINE_MM:
        return None
    reach = min(0.8, 0.45 * line_mm)  # no farther, or the other edge of the line is taken
    edges = [refined(ground, outer_mm, reach_mm=reach), refined(ground, inner_mm, inner=True, reach_mm=reach)]
    outer, inner = (edge.points_mm for edge in edges)
    match pen.reading:
        case "outer":
            ring = outer
        case "inner":
            ring = inner
        case _:
            line = shapely.LinearRing(inner)
            nearest = shapely.line_interpolate_point(line, shapely.line_locate_point(line, shapely.points(outer)))
            ring = (outer + shapely.get_coordinates(nearest)) / 2
    drawn = polygons_in(shapely.make_valid(Polygon(ring)))
    if not drawn:
        return None
    # What was drawn round a corner of the thing is an arc about it, which shrinks back to the corner.
    thing = polygons_in(Polygon(drawn[0].exterior).buffer(-pen.outside_mm, quad_segs=16))
    if not thing:
        return None
    spread = max(0.02, edges[0].spread_mm, edges[1].spread_mm)
    sure = float(np.hypot(spread, 0.15))  # a hand on a rim: what remains when tip and lean are taken out
    return Traced(
        shape=faired(thing[0], noise_mm=max(0.04, spread)),
        sure_mm=sure,
        seen=SeenThing(shape=drawn[0], spread_mm=spread),
    )
