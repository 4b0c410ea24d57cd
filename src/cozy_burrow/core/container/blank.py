"""The blanks: one outline a sheet, cut to the container at the sheet's own height, a little larger so that it grips.

A knife cuts upright, a leaning wall does not: a blank is cut to the inside at half its sheet's height, and is then
as much too narrow at its top as it is too wide at its bottom; both figures are given. The lowest sheet of a
container with a round base edge is chamfered instead of cut smaller; where that round reaches higher than the sheet is
thick, every sheet that it reaches is bevelled over its whole thickness.
"""

from __future__ import annotations

import math

import numpy as np
import shapely
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.container.bay import Bay
from cozy_burrow.core.container.level import chamfer_mm, level_polygon
from cozy_burrow.core.container.rim import rim_polygon
from cozy_burrow.core.geometry.offset import mitred
from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.model.memo import Frozen, memo
from cozy_burrow.core.model.records import Container, Outline, Point
from cozy_burrow.core.model.vessels import Obstacle
from cozy_burrow.core.tolerances import SAME_POINT_MM

THIN_NOTCH_MM = 4.0  # narrower than a blade can cut both sides of: one slit, and the foam gives
_TOUCH_MM = 0.01


class Blank(Frozen):
    """The outer cut of one sheet, counted from the top of its insert.

    depth_mm: depth below the rim of the level that it is cut to. loose_mm, tight_mm: how much narrower than the wall
    it is at its top and how much wider at its bottom, a side, where that is most (before the press fit).
    chamfer_mm: leg of the 45° chamfer along its lower edge. bevel_mm: how far its lower edge is cut in below its upper
    one, where that is most. slits: single cuts that take thin ribs.
    """

    __slots__ = (
        "bevel_mm",
        "bottom_mm",
        "chamfer_mm",
        "depth_mm",
        "loose_mm",
        "polygon",
        "sheet",
        "slits",
        "tight_mm",
        "top_mm",
    )

    def __init__(
        self,
        sheet: int,
        polygon: Polygon,
        *,
        depth_mm: float,
        top_mm: float,
        bottom_mm: float,
        loose_mm: float,
        tight_mm: float,
        chamfer_mm: float,
        bevel_mm: float,
        slits: tuple[tuple[Point, Point], ...],
    ) -> None:
        self.sheet, self.polygon, self.depth_mm, self.slits = sheet, polygon, depth_mm, slits
        self.top_mm, self.bottom_mm = top_mm, bottom_mm
        self.loose_mm, self.tight_mm = loose_mm, tight_mm
        self.chamfer_mm, self.bevel_mm = chamfer_mm, bevel_mm


def inside_polygon(container: Container) -> Polygon:
    """Return the opening of the container in plan coordinates, bounds' back left corner at (0, 0)."""
    return rim_polygon(container)


@memo(rows=64)
def blanks_of(bay: Bay) -> tuple[Blank, ...]:
    """Return the blank of every sheet, top first. Where the container has no inside at a level, its blank is empty."""
    found: list[Blank] = []
    height = bay.container.height_mm
    top_mm = height - bay.top_mm
    for number, sheet in enumerate(bay.sheets, start=1):
        bottom_mm = top_mm + sheet.thickness_mm
        lowest = number == len(bay.sheets) and bay.below_mm == 0
        found.append(_blank(bay, number, top_mm, bottom_mm, lowest))
        top_mm = bottom_mm
    return tuple(found)


def _blank(bay: Bay, number: int, top_mm: float, bottom_mm: float, lowest: bool) -> Blank:
    container, middle_mm = bay.container, (top_mm + bottom_mm) / 2
    chamfer = chamfer_mm(container, middle_mm) if lowest and bottom_mm > 0 else 0.0
    chamfered = 0 < chamfer <= bottom_mm - top_mm
    if not chamfered:
        chamfer = 0.0
    reached = container.base_edge_radius_mm > 0 and bottom_mm > container.height_mm - container.base_edge_radius_mm
    bevelled = reached and not chamfered and bottom_mm > 0
    # A bevel is a chord of the round: cut to the sheet's top and in to its bottom, the whole of it lies clear.
    cut_at_mm = max(0.0, top_mm) if bevelled else middle_mm
    inside = level_polygon(container, cut_at_mm, base_edge=not chamfered)
    above = level_polygon(container, top_mm, base_edge=not chamfered)
    below = level_polygon(container, bottom_mm, base_edge=not chamfered)
    cut: BaseGeometry = grown_parallel(inside, bay.press_fit_mm)
    slits, notched = [], False
    for obstacle in container.obstacles:
        if not _in_height(obstacle, container, top_mm, bottom_mm):
            continue
        slit = thin_slit(obstacle, inside)
        if slit is not None:
            slits.append(slit)
        else:
            cut = cut.difference(Polygon(obstacle.ring))
            notched = True
    if notched:  # no strip as thin as the press fit is left behind a rib that stands on the wall
        thin = bay.press_fit_mm / 2 + 0.05
        cut = mitred(mitred(cut, -thin), thin)
    parts = polygons_in(cut)
    polygon = parts[0] if parts else Polygon()
    return Blank(
        number,
        polygon,
        depth_mm=cut_at_mm,
        top_mm=top_mm,
        bottom_mm=bottom_mm,
        loose_mm=_farthest(above, inside),
        tight_mm=0.0 if bevelled else _farthest(inside, below),
        chamfer_mm=chamfer,
        bevel_mm=_farthest(inside, below) if bevelled else 0.0,
        slits=tuple(slits),
    )


@memo(rows=128)
def grown_parallel(area: Polygon, by_mm: float) -> Polygon:
    """Return the area larger by the same all round, sharp corners sharp and arcs parallel."""
    if abs(by_mm) < SAME_POINT_MM or area.is_empty:
        return area
    parts = polygons_in(mitred(area, by_mm))
    return parts[0] if parts else Polygon()


def _farthest(outer: Polygon, inner: Polygon) -> float:
    """Return how far the inner outline stays behind the outer one where that is most; 0 where they are the same."""
    if outer is inner or outer.is_empty or inner.is_empty:
        return 0.0
    return float(shapely.distance(shapely.points(shapely.get_coordinates(outer)), inner).max())


def _in_height(obstacle: Obstacle, container: Container, top_mm: float, bottom_mm: float) -> bool:
    high = container.height_mm if obstacle.high_mm is None else obstacle.high_mm
    low_of_sheet, high_of_sheet = container.height_mm - bottom_mm, container.height_mm - top_mm
    return obstacle.low_mm < high_of_sheet - _TOUCH_MM and high > low_of_sheet + _TOUCH_MM


def thin_slit(obstacle: Obstacle, inside: Polygon) -> tuple[Point, Point] | None:
    """Return the single cut that takes a rib too thin for a notch: its middle line; None for anything wider."""
    shape = Polygon(obstacle.ring).intersection(inside.buffer(0.01))
    if shape.is_empty:
        return None
    box = np.array(shapely.get_coordinates(shapely.minimum_rotated_rectangle(shape)))
    if len(box) < 5:
        return None
    first, second = math.dist(box[0], box[1]), math.dist(box[1], box[2])
    if min(first, second) >= THIN_NOTCH_MM or obstacle.kind in {"post", "fixing"}:
        return None
    ends = (box[[0, 1]].mean(axis=0), box[[2, 3]].mean(axis=0))
    if second < first:
        ends = (box[[1, 2]].mean(axis=0), box[[3, 0]].mean(axis=0))
    return (float(ends[0][0]), float(ends[0][1])), (float(ends[1][0]), float(ends[1][1]))


@memo(rows=64)
def fixing_points(container: Container) -> tuple[Polygon, ...]:
    """Return the fixing points that no pocket may lie over, at whatever depth."""
    return tuple(Polygon(one.ring) for one in container.obstacles if one.kind == "fixing")


def as_outline(polygon: Polygon) -> Outline:
    """Return a polygon as an outline moved so that its bounds begin at (0, 0): the rim from a card template."""
    from cozy_burrow.core.geometry.rings import outline_of, shifted

    left, top, _, _ = polygon.bounds
    return shifted(outline_of(polygon), dx_mm=-left, dy_mm=-top)
