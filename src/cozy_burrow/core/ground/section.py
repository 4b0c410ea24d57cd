"""The section: the ground beneath a line across the plan, to scale.

s runs along the line from its start, z down from the foam's surface, both in mm. Strata are the layers where
the line runs through the blank, bites what is taken out of them, bodies the items standing in their pockets.
"""

from __future__ import annotations

import math

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.errors import GEOSException
from shapely.geometry import LineString, Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.container.bay import Bay, stack_mm
from cozy_burrow.core.container.level import level_polygon
from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.depth.sections import heights_at
from cozy_burrow.core.depth.settling import Pose
from cozy_burrow.core.foam.layers import Layer
from cozy_burrow.core.geometry.placing import points_to_item
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.ground.ground import Cutout, Ground
from cozy_burrow.core.ground.sits import rocked_in, sits_known, sitting_in
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Placement, Point, Record, Zone
from cozy_burrow.core.tolerances import SAME_POINT_MM

Span = tuple[float, float]
_AROUND_MM = 12.0  # an item may reach this far beyond the bounds of its snug pocket
_STEP_MM = 0.5  # along the line, on bodies with a curved section
_GRID_MM = 1e-6  # on which a line is met where exact arithmetic fails: far below what counts as one point


class Bite(Record, frozen=True, kw_only=True):
    """A span of one layer that is taken out, and by which pocket (placement) or pull it is owned."""

    layer: int
    span: Span
    kind: str
    owner: str


class Body(Record, frozen=True, kw_only=True):
    """The cut through one zone of one item: a closed ring of (s, z), the layers under that zone, the riser in it.

    rocked: the same ring as a light push would tip it; empty where it stands firm.
    """

    placement: str
    zone: int
    ring: tuple[Point, ...]
    span: Span
    floor_layers: int
    riser_mm: float = 0.0
    rocked: tuple[Point, ...] = ()


class SectionCut(Record, frozen=True, kw_only=True):
    """What a line across the plan shows.

    foam: where the line runs through the top sheet's blank; sheet_foam: the same for every sheet. walls: lines of
    (s, z) along the container's inside from rim to floor. obstacles: s and z of what stands into the inside.
    rim_z_mm, floor_z_mm: heights of rim and floor; lid_foam_mm: z of the lid foam's underside and top.
    above_mm: height of the tiers on top; lower_edges: for every sheet how far its lower edge is cut in, and from how
    far above it. rough: some things stand as they were seated; how they come to rest is not known yet.
    """

    start: Point
    end: Point
    length_mm: float
    foam: tuple[Span, ...]
    sheet_foam: tuple[tuple[Span, ...], ...]
    walls: tuple[tuple[Point, ...], ...]
    obstacles: tuple[tuple[float, float, float, float], ...]
    layers: tuple[Layer, ...]
    bites: tuple[Bite, ...]
    bodies: tuple[Body, ...]
    stack_mm: float
    container_mm: float
    rim_z_mm: float
    floor_z_mm: float
    lid_foam_mm: tuple[float, float] | None
    above_mm: float
    lower_edges: tuple[tuple[float, float], ...]
    rough: bool = False


def section_line(ground: Ground) -> tuple[Point, Point]:
    """Return the insert's section line, or one from left to right across the middle of the blank."""
    if ground.insert.section_line is not None:
        return ground.insert.section_line
    left, top, right, bottom = ground.blank.bounds
    middle = (top + bottom) / 2
    return (left - 8.0, middle), (right + 8.0, middle)


def cut_along(ground: Ground, start: Point, end: Point, *, soon: bool = False) -> SectionCut:
    """Return the section of the ground along the line from start to end (plan coordinates).

    soon: somebody waits: how a thing comes to rest is shown only where that is known already.
    """
    length = math.hypot(end[0] - start[0], end[1] - start[1])
    line = LineString([start, end])
    unit = ((end[0] - start[0]) / max(length, 1e-9), (end[1] - start[1]) / max(length, 1e-9))
    bites: list[Bite] = []
    extent = line.bounds
    for cutout in ground.cutouts:
        if _near(cutout.bounds, extent):
            bites += _bites_of(cutout, line, start, unit)
    by_id = {one.id: one for one in ground.insert.placements}
    bodies: list[Body] = []
    rough = False
    for key, pocket in ground.pockets.items():
        if _near(_item_bounds(pocket), extent):
            known = not soon or sits_known(ground, key)
            rough |= not known
            seated = Pose(datum_mm=pocket.seating.datum_mm), None
            poses = (sitting_in(ground, key).pose, rocked_in(ground, key)) if known else seated
            bodies += _bodies_of(pocket, poses, by_id[key], start, unit, length)
    return SectionCut(
        start=start,
        end=end,
        length_mm=length,
        foam=tuple(spans_along(ground.blank, line, start, unit)),
        sheet_foam=tuple(tuple(spans_along(blank.polygon, line, start, unit)) for blank in ground.blanks),
        walls=_walls(ground.bay, start, end),
        obstacles=_obstacles(ground.bay, line, start, unit),
        layers=ground.layers,
        bites=tuple(bites),
        bodies=tuple(bodies),
        stack_mm=stack_mm(ground.insert.sheets),
        container_mm=ground.bay.container.height_mm,
        rim_z_mm=ground.bay.top_mm - ground.bay.container.height_mm,
        floor_z_mm=ground.bay.top_mm,
        lid_foam_mm=_lid_foam(ground.bay),
        above_mm=ground.bay.above_mm,
        lower_edges=tuple(
            (one.bevel_mm, one.bottom_mm - one.top_mm) if one.bevel_mm > 0 else (one.chamfer_mm, one.chamfer_mm)
            for one in ground.blanks
        ),
        rough=rough,
    )


@memo(rows=16)
def _walls(bay: Bay, start: Point, end: Point) -> tuple[tuple[Point, ...], ...]:
    """Return the inside's outer walls along the line, a polyline each from the rim to the floor."""
    container, line = bay.container, LineString([start, end])
    length = max(line.length, 1e-9)
    unit = ((end[0] - start[0]) / length, (end[1] - start[1]) / length)
    low, high = [], []
    round_from = max(0.0, container.height_mm - container.base_edge_radius_mm)
    depths = {0.0, round_from, container.height_mm}
    if container.base_edge_radius_mm > 0:
        depths |= {container.height_mm - container.base_edge_radius_mm * share**2 for share in np.linspace(0, 1, 9)}
    for depth in sorted(depths):
        spans = spans_along(level_polygon(container, depth), line, start, unit)
        if spans:
            z = bay.top_mm - container.height_mm + depth
            low.append((spans[0][0], z))
            high.append((spans[-1][1], z))
    return (tuple(low), tuple(high)) if len(low) > 1 else ()


def _obstacles(bay: Bay, line: LineString, start: Point, unit: Point) -> tuple[tuple[float, float, float, float], ...]:
    found = []
    for one in bay.container.obstacles:
        high = bay.container.height_mm if one.high_mm is None else one.high_mm
        for low_s, high_s in spans_along(Polygon(one.ring), line, start, unit):
            found.append((low_s, bay.top_mm - high, high_s, bay.top_mm - one.low_mm))
    return tuple(found)


def _lid_foam(bay: Bay) -> tuple[float, float] | None:
    lid = bay.container.lid
    if lid is None or bay.above == "tier":
        return None
    rim = bay.top_mm - bay.container.height_mm
    return rim - lid.depth_mm + lid.foam_mm, rim - lid.depth_mm


Bounds = tuple[float, float, float, float]


def crosses_same(old: Ground, new: Ground, start: Point, end: Point) -> bool:
    """Return whether the line shows the same in both: nothing that differs between them comes near it."""
    if old.layers != new.layers or old.bay is not new.bay:
        return False
    extent = LineString([start, end]).bounds
    changed = set(old.cutouts) ^ set(new.cutouts)
    return not any(_near(_wider(cutout.bounds), extent) for cutout in changed)


def _wider(bounds: Bounds) -> Bounds:
    left, top, right, bottom = bounds
    return left - _AROUND_MM, top - _AROUND_MM, right + _AROUND_MM, bottom + _AROUND_MM


def _near(bounds: Bounds, extent: Bounds) -> bool:
    left, top, right, bottom = extent
    return not (bounds[0] > right or bounds[2] < left or bounds[1] > bottom or bounds[3] < top)


@memo(rows=4096)
def _item_bounds(pocket: Pocket) -> Bounds:
    """Return the bounds of the item in its pocket: a snug pocket is a little smaller than its item."""
    return _wider(pocket.surface.bounds)


def spans_along(area: BaseGeometry, line: LineString, start: Point, unit: Point) -> list[Span]:
    """Return the stretches of the line inside an area, as distances from its start, in order."""
    try:
        met = area.intersection(line)
    except GEOSException:  # edges that all but lie on each other; on a grid they do or do not
        met = shapely.intersection(area, line, grid_size=_GRID_MM)
    spans = []
    for part in shapely.get_parts(met):
        points = shapely.get_coordinates(part)
        along = (points - np.array(start)) @ np.array(unit)
        if len(along) >= 2 and along.max() - along.min() > SAME_POINT_MM:
            spans.append((float(along.min()), float(along.max())))
    return sorted(spans)


def _bites_of(cutout: Cutout, line: LineString, start: Point, unit: Point) -> list[Bite]:
    return [
        Bite(layer=number, span=span, kind=cutout.kind, owner=cutout.name)
        for number, area in enumerate(cutout.areas, start=1)
        for span in spans_along(area, line, start, unit)
    ]


def _bodies_of(
    pocket: Pocket, poses: tuple[Pose, Pose | None], placement: Placement, start: Point, unit: Point, length_mm: float
) -> list[Body]:
    pose, rocked = poses
    ends = np.array([start, (start[0] + unit[0] * length_mm, start[1] + unit[1] * length_mm)])
    local = points_to_item(placement, ends)
    found: list[Body] = []
    for index, zone in enumerate(pocket.item.zones):
        for span, ring in _zone_rings(zone, _as_point(local[0]), _as_point(local[1])):
            found.append(
                Body(
                    placement=placement.id,
                    zone=index,
                    ring=_standing(ring, pose, local, length_mm),
                    span=span,
                    floor_layers=pocket.seating.zone_layers[index],
                    riser_mm=pocket.seating.risers_mm[index] if pocket.seating.risers_mm else 0.0,
                    rocked=_standing(ring, rocked, local, length_mm) if rocked is not None else (),
                )
            )
    return found


def _standing(ring: tuple[Point, ...], pose: Pose, local: NDArray[np.float64], length_mm: float) -> tuple[Point, ...]:
    """Return a ring of (s, height about the datum) as (s, z), with the datum where the pose has it along the line."""
    first, last = pose.depth_at(local)
    slope = float(last - first) / max(length_mm, SAME_POINT_MM)
    return tuple((s, float(first) + slope * s - height) for s, height in ring)


def _as_point(row: NDArray[np.float64]) -> Point:
    return float(row[0]), float(row[1])


@memo(rows=512)
def _zone_rings(zone: Zone, start: Point, end: Point) -> tuple[tuple[Span, tuple[Point, ...]], ...]:
    """Return for each stretch of the line on the zone its span and a ring of (s, height about the datum)."""
    length = math.hypot(end[0] - start[0], end[1] - start[1])
    if length < SAME_POINT_MM:
        return ()
    unit = ((end[0] - start[0]) / length, (end[1] - start[1]) / length)
    found = []
    for low, high in spans_along(polygon_of(zone.region), LineString([start, end]), start, unit):
        level = zone.section == "flat"
        count = 2 if level else max(3, min(400, math.ceil((high - low) / _STEP_MM)))
        share = np.linspace(0.0, 1.0, count)
        if zone.section == "round":  # closer together at both ends, where a circle rises steeply
            share = (1 - np.cos(share * math.pi)) / 2
        near = min(1e-5, (high - low) / 4)
        s = low + near + share * (high - low - 2 * near)
        points = np.array(start) + s[:, None] * np.array(unit)
        under, top = heights_at(zone, points)
        kept = np.isfinite(under)
        s, under, top = s[kept], under[kept], top[kept]
        ring = [*zip(s.tolist(), top.tolist()), *reversed(list(zip(s.tolist(), under.tolist())))]
        if len(ring) >= 3:
            found.append(((low, high), tuple(ring)))
    return tuple(found)
