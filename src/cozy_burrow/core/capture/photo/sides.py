"""Taking the parallax out: from the outline as it is seen on the paper to the true one at the height of its edge.

A point at the height h above the paper is seen on the paper farther from the point below the lens, by the factor
H / (H - h) for a lens at the height H (similar triangles).

Swell   that factor.
Round   one widest line at the height of the edge: the outline shrinks towards the point below the lens by the swell.
Straight   walls stand upright from the paper to the edge. The outline seen is then what all levels cover together: on
        the side away from the lens the top edge, towards it the foot. A point belongs to the thing where the whole
        way from it out to its swollen place is covered.
"""

from __future__ import annotations

import math
from typing import Literal

import shapely
from shapely import affinity
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.capture.photo.camera import Camera
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.tongue import tr

Sides = Literal["round", "straight"]
_STEP_MM = 0.6  # a gap narrower than this on the way is not seen


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
        return polygons_in(_scaled(seen, 1 / factor, foot))
    left, top, right, bottom = seen.bounds
    reach = max(math.hypot(x - foot[0], y - foot[1]) for x in (left, right) for y in (top, bottom))
    count = max(1, min(40, math.ceil(reach * (factor - 1) / _STEP_MM)))
    kept: BaseGeometry = seen
    for step in range(1, count + 1):
        kept = kept.intersection(_scaled(seen, 1 / factor ** (step / count), foot))
    return polygons_in(shapely.set_precision(kept, 1e-6))


def _scaled(shape: Polygon, factor: float, about: tuple[float, float]) -> Polygon:
    return affinity.scale(shape, factor, factor, origin=(about[0], about[1], 0.0))
