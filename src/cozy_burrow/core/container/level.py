"""The inside of a container at a level: the rim, leaned in by the draft, rounded at the corners and at the floor.

Depths go down from the rim. A wall that leans by the angle a is inset by z·tan(a) at the depth z. The base edge
is an arc of radius R that touches wall and floor: with the floor at depth H its centre lies at the depth
c = H - R and at the inset (R + c·sin a)/cos a, and below the depth c + R·sin a the arc is the wall.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString, Point, Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.container.rim import rim_polygon, rounded, sharp_corners, signed_area
from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Container


def wall_inset_mm(draft_deg: float, depth_mm: float) -> float:
    """Return how far a wall stands in at a depth below the rim, its lean alone."""
    return depth_mm * math.tan(math.radians(draft_deg))


def base_inset_mm(draft_deg: float, depth_mm: float, *, height_mm: float, radius_mm: float) -> float:
    """Return how much farther the round base edge stands in than the wall at a depth below the rim."""
    if radius_mm <= 0:
        return 0.0
    lean = math.radians(draft_deg)
    centre_z = height_mm - radius_mm
    if depth_mm <= centre_z + radius_mm * math.sin(lean):
        return 0.0
    centre_x = (radius_mm + centre_z * math.sin(lean)) / math.cos(lean)
    below = min(radius_mm, depth_mm - centre_z)
    arc_x = centre_x - math.sqrt(max(0.0, radius_mm**2 - below**2))
    return max(0.0, arc_x - wall_inset_mm(draft_deg, depth_mm))


def chamfer_mm(container: Container, blank_depth_mm: float) -> float:
    """Return the leg of the 45° chamfer that lets a blank lie on the floor inside the round base edge.

    The blank stands upright at the inset that the wall has at `blank_depth_mm`. The cut goes from where the arc
    leaves the wall to where it meets the floor or beyond: a chord of the arc, so that the whole of it lies clear.
    The largest of the four walls counts.
    """
    radius, height = container.base_edge_radius_mm, container.height_mm
    if radius <= 0:
        return 0.0
    legs = []
    for draft in container.draft_deg:
        lean = math.radians(draft)
        centre_x = (radius + (height - radius) * math.sin(lean)) / math.cos(lean)
        along_floor = centre_x - wall_inset_mm(draft, blank_depth_mm)
        legs.append(max(along_floor, radius * (1 - math.sin(lean))))
    return max(0.0, *legs)


def level_polygon(container: Container, depth_mm: float, *, base_edge: bool = True) -> Polygon:
    """Return the inside at a depth below the rim, obstacles left out of account; empty where the walls have met.

    base_edge: whether the round at the floor counts (a chamfered blank does without).
    """
    return _level(container, round(min(max(0.0, depth_mm), container.height_mm), 6), base_edge)


@memo(rows=256)
def _level(container: Container, depth_mm: float, base_edge: bool) -> Polygon:
    if depth_mm == 0 or (not any(container.draft_deg) and (not base_edge or container.base_edge_radius_mm <= 0)):
        return _upright(container, depth_mm)
    found = sharp_corners(container)
    if found is None:
        ring = np.array(rim_polygon(container).exterior.coords[:-1])
        if signed_area(ring) < 0:
            ring = ring[::-1]
        insets, _ = _insets(container, ring, depth_mm, base_edge)
        return stepped_in(ring, insets)
    ring, radii = found
    insets, extra = _insets(container, ring, depth_mm, base_edge)
    sharp = moved_edges(ring, insets)
    if sharp is None:
        return stepped_in(ring, insets)
    both = (extra + np.roll(extra, 1)) / 2  # of the two walls that meet in the corner
    wanted = [max(0.0, _radius_at(container, radius, depth_mm) - e) for radius, e in zip(radii, both)]
    return rounded(sharp, wanted)


def _upright(container: Container, depth_mm: float) -> Polygon:
    found = sharp_corners(container)
    if found is None or container.base_corner_radius_mm is None or depth_mm == 0:
        return rim_polygon(container)
    ring, radii = found
    return rounded(ring, [_radius_at(container, radius, depth_mm) for radius in radii])


def _radius_at(container: Container, radius_mm: float, depth_mm: float) -> float:
    """Return a corner's radius at a depth: straight from the rim's to the base's where that was measured."""
    if container.base_corner_radius_mm is None:
        return radius_mm
    return radius_mm + (container.base_corner_radius_mm - radius_mm) * depth_mm / container.height_mm


def _insets(
    container: Container, ring: NDArray[np.float64], depth_mm: float, base_edge: bool
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return for each edge of a clockwise ring how far it has moved in, and how much of that is the base edge."""
    along = np.roll(ring, -1, axis=0) - ring
    length = np.maximum(np.hypot(along[:, 0], along[:, 1]), 1e-12)
    outward = np.column_stack([along[:, 1], -along[:, 0]]) / length[:, None]
    back, right, front, left = container.draft_deg
    side = np.where(outward[:, 0] > 0, _tan(right), _tan(left))
    face = np.where(outward[:, 1] > 0, _tan(front), _tan(back))
    # A slanting wall leans as an ellipse between its two neighbours would: the same draft all round stays the same.
    sign = np.sign(side * outward[:, 0] ** 2 + face * outward[:, 1] ** 2)
    lean = sign * np.hypot(side * outward[:, 0], face * outward[:, 1])
    walls = depth_mm * lean
    extra = np.zeros(len(ring))
    if base_edge and container.base_edge_radius_mm > 0:
        extra = np.array(
            [
                base_inset_mm(
                    math.degrees(math.atan(one)),
                    depth_mm,
                    height_mm=container.height_mm,
                    radius_mm=container.base_edge_radius_mm,
                )
                for one in lean
            ]
        )
    return walls + extra, extra


def _tan(angle_deg: float) -> float:
    return math.tan(math.radians(angle_deg))


def moved_edges(ring: NDArray[np.float64], insets: NDArray[np.float64]) -> NDArray[np.float64] | None:
    """Return a clockwise ring with each edge moved in by its own inset; None where edges vanish or cross.

    ring: (n, 2); insets: (n,), of the edge from point i to i + 1; negative moves out.
    """
    along = np.roll(ring, -1, axis=0) - ring
    length = np.hypot(along[:, 0], along[:, 1])
    if (length < 1e-9).any():
        return None
    unit = along / length[:, None]
    inward = np.column_stack([-unit[:, 1], unit[:, 0]])
    base = ring + inward * insets[:, None]
    before_unit, before_base = np.roll(unit, 1, axis=0), np.roll(base, 1, axis=0)
    cross = before_unit[:, 0] * unit[:, 1] - before_unit[:, 1] * unit[:, 0]
    straight = np.abs(cross) < 1e-6
    gap = base - before_base
    reach = (gap[:, 0] * unit[:, 1] - gap[:, 1] * unit[:, 0]) / np.where(straight, 1.0, cross)
    moved = before_base + before_unit * reach[:, None]
    moved[straight] = base[straight]
    new_along = np.roll(moved, -1, axis=0) - moved
    if ((new_along * unit).sum(axis=1) <= 1e-6).any():
        return None
    return moved if Polygon(moved).is_valid else None


def stepped_in(ring: NDArray[np.float64], insets: Sequence[float] | NDArray[np.float64]) -> Polygon:
    """Return the largest part of a ring's inside that keeps each edge's own distance: for rings of many points."""
    bands: list[BaseGeometry] = []
    count = len(ring)
    for index in range(count):
        here, after, inset = ring[index], ring[(index + 1) % count], float(insets[index])
        if inset <= 0:
            continue
        bands.append(LineString([here, after]).buffer(inset, cap_style="flat"))
        before = ring[index - 1]
        into, out = here - before, after - here
        if into[0] * out[1] - into[1] * out[0] < 0:  # a corner that points inwards: the bands leave a wedge open
            bands.append(Point(here).buffer(min(inset, max(0.0, float(insets[index - 1])))))
    left = Polygon(ring).difference(shapely.union_all(bands)) if bands else Polygon(ring)
    parts = polygons_in(left)
    return parts[0] if parts else Polygon()
