"""Taking the parallax out: from the outline as it is seen on the paper to the true one at the height of its edge.

A point at the height h above the paper is seen on the paper farther from the point below the lens, by the factor
H / (H - h) for a lens at the height H (similar triangles).

Swell   that factor.
Round   one widest line at the height of the edge: the outline shrinks towards the point below the lens by the swell.
        From the side a round flank hides its widest line behind its curve, by e / cos(view) - e on either side for a
        curve of radius e: that is taken off too. Handles, shafts and rods are about as round as they are wide.
Straight   walls stand upright from the paper to the edge. The outline seen is then what all levels cover together: on
        the side away from the lens the top edge, towards it the foot. A point belongs to the thing where the whole
        way from it out to its swollen place is covered.
"""

from __future__ import annotations

import math
from typing import Literal, TypeVar

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import affinity
from shapely.geometry import MultiLineString, Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.capture.photo.camera import Camera
from cozy_burrow.core.capture.photo.crossings import met_by
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.tongue import tr

Sides = Literal["round", "straight"]
G = TypeVar("G", bound=BaseGeometry)
_STEP_MM = 0.6  # a gap narrower than this on the way is not seen
_ROUND_SHARE = 0.5  # of a full round: between a rod (1) and a sharp widest line (0)
_MOST_ROUND_MM = 12.0  # handles are no rounder; what is larger is a case with edges
_TIP = 0.01
_KNOT_MM, _SMOOTH_MM = 0.8, 1.2


def swell(camera: Camera, height_mm: float) -> float:
    """Return how much larger a thing's edge is seen on the paper. Raises UnusableInput above half the lens's height."""
    high = camera.height_mm
    if height_mm > 0.5 * high:
        raise UnusableInput(
            tr(
                "an edge {height:.0f} mm up is more than half as high as the camera ({high:.0f} mm)",
                height=height_mm,
                high=high,
            ),
            where="--thickness",
            remedy=tr("give the height of the edge above the mat, or take the photo from farther away"),
        )
    return high / (high - height_mm)


def true_outline(seen: Polygon, camera: Camera, *, height_mm: float, sides: Sides) -> list[Polygon]:
    """Return the outline of a thing of which `seen` is what it covers on the paper, in mat millimetres."""
    if height_mm <= 0:
        return [seen]
    factor = swell(camera, height_mm)
    foot = camera.eye_mm[:2]
    if sides == "round":
        return _within_curve(_scaled(seen, 1 / factor, foot), camera, height_mm)
    left, top, right, bottom = seen.bounds
    reach = max(math.hypot(x - foot[0], y - foot[1]) for x in (left, right) for y in (top, bottom))
    count = max(1, min(40, math.ceil(reach * (factor - 1) / _STEP_MM)))
    kept: BaseGeometry = seen
    for step in range(1, count + 1):
        kept = kept.intersection(_scaled(seen, 1 / factor ** (step / count), foot))
    return polygons_in(shapely.set_precision(kept, 1e-6))


def at_height(lines: MultiLineString, camera: Camera, *, height_mm: float) -> MultiLineString:
    """Return lines seen on the paper as they lie at the height of an edge."""
    if lines.is_empty or height_mm <= 0:
        return lines
    return _scaled(lines, 1 / swell(camera, height_mm), camera.eye_mm[:2])


def _within_curve(edge: Polygon, camera: Camera, height_mm: float) -> list[Polygon]:
    """Return an outline at the height of its edge without what the curve of its flanks adds from the side."""
    rings = [_ring_within(np.asarray(ring.coords)[:-1], edge, camera, height_mm) for ring in _rings(edge)]
    parts = polygons_in(shapely.make_valid(Polygon(rings[0], rings[1:])))
    # Where a corner is drawn in from both sides its tip may come loose.
    return [part for part in parts if part.area > _TIP * parts[0].area]


def _rings(edge: Polygon) -> list[shapely.LinearRing]:
    """Return the rings with their points near each other, the thing on the left of each."""
    fine = shapely.segmentize(shapely.orient_polygons(edge), _KNOT_MM)
    return [fine.exterior, *fine.interiors]


def _ring_within(points: NDArray[np.float64], edge: Polygon, camera: Camera, height_mm: float) -> NDArray[np.float64]:
    from scipy.ndimage import gaussian_filter1d

    along = np.roll(points, -1, axis=0) - np.roll(points, 1, axis=0)
    along /= np.maximum(np.hypot(*along.T), 1e-9)[:, None]
    outward = np.column_stack([along[:, 1], -along[:, 0]])
    slant = ((points - np.array(camera.eye_mm[:2])) * outward).sum(axis=1) / (camera.height_mm - height_mm)
    most_mm = min(height_mm, _MOST_ROUND_MM)
    radius = _ROUND_SHARE * np.minimum(most_mm, _half_widths(points, outward, edge, most_mm))
    hidden = radius * (np.hypot(1.0, slant) - 1)
    return points - gaussian_filter1d(hidden, _SMOOTH_MM / _KNOT_MM, mode="wrap")[:, None] * outward


def _half_widths(
    points: NDArray[np.float64], outward: NDArray[np.float64], edge: Polygon, most_mm: float
) -> NDArray[np.float64]:
    """Return half of how thick a thing is behind each point of its outline, straight inwards, most_mm at most."""
    start, end = points - 0.05 * outward, points - 2 * most_mm * outward
    way, share = met_by(start, end, [edge.exterior, *edge.interiors])
    far = np.full(len(points), 2 * most_mm - 0.05)
    np.minimum.at(far, way, share * (2 * most_mm - 0.05))
    return np.asarray((far + 0.05) / 2)


def _scaled(shape: G, factor: float, about: tuple[float, float]) -> G:
    return affinity.scale(shape, factor, factor, origin=(about[0], about[1], 0.0))
