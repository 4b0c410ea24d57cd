"""What the arrangement moves about: pieces with a few forms each, and the bed that they are laid in.

Piece    one copy of one item
Form     one shape the piece may take (with roomy pulls, with small ones, with none), best first
Fixed    a shape that lies already and stays
Spot     where a piece came to lie, and in which form
"""

from __future__ import annotations

from collections.abc import Sequence

import shapely
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.geometry.axes import long_axis_deg
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.model.records import Record


class Form(Frozen):
    """A shape in item coordinates with the wall that must stand round it, and what the caller calls it."""

    __slots__ = ("shape", "tag", "wall_mm")

    def __init__(self, shape: BaseGeometry, wall_mm: float, tag: object = None) -> None:
        self.shape, self.wall_mm, self.tag = shape, wall_mm, tag


class Piece(Frozen):
    """One copy of an item: its forms, best first, the angles that it may lie at, and the group it belongs to."""

    __slots__ = ("angles_deg", "forms", "group", "key", "size")

    def __init__(
        self,
        key: tuple[str, int],
        forms: Sequence[Form],
        *,
        group: str = "",
        angles_deg: tuple[float, ...] | None = None,
    ) -> None:
        self.key, self.forms, self.group = key, tuple(forms), group
        self.angles_deg = angles_deg if angles_deg is not None else tidy_angles(forms[-1].shape)
        left, top, right, bottom = shapely.minimum_rotated_rectangle(forms[0].shape).bounds
        self.size = (float(forms[0].shape.area), float(max(right - left, bottom - top)))


class Bed(Frozen):
    """The area inside which every shape must lie (the blank less its edge), and what lies there to stay."""

    __slots__ = ("area", "fixed")

    def __init__(self, area: BaseGeometry, fixed: Sequence[tuple[BaseGeometry, float]] = ()) -> None:
        self.area, self.fixed = area, tuple(fixed)


class Spot(Record, frozen=True, kw_only=True):
    """Where a piece came to lie."""

    key: tuple[str, int]
    form: int
    x_mm: float
    y_mm: float
    angle_deg: float


def tidy_angles(shape: BaseGeometry) -> tuple[float, ...]:
    """Return the angles that lay the shape's long axis along the plan's axes; half turns only where they differ."""
    parts = polygons_in(shape)
    hull = parts[0] if len(parts) == 1 else shape.convex_hull
    assert isinstance(hull, Polygon)
    base = -long_axis_deg(hull)
    angles = [base % 360.0, (base + 90.0) % 360.0]
    straight = placed(shape, x_mm=0.0, y_mm=0.0, angle_deg=angles[0])
    half_turn = placed(shape, x_mm=0.0, y_mm=0.0, angle_deg=angles[0] + 180.0)
    if straight.symmetric_difference(half_turn).area > 0.01 * straight.area:
        angles += [(base + 180.0) % 360.0, (base + 270.0) % 360.0]
    return tuple(round(angle, 6) for angle in angles)


def fits_at_all(shape: BaseGeometry, bed: Bed) -> bool:
    """Return whether the shape is no longer than the bed's diagonal; a quick no before a long search."""
    left, top, right, bottom = bed.area.bounds
    diagonal: float = float(((right - left) ** 2 + (bottom - top) ** 2) ** 0.5)
    return longest_mm(shape) <= diagonal and shape.area <= bed.area.area


def longest_mm(shape: BaseGeometry) -> float:
    """Return the largest distance between two points of the shape."""
    corners = shapely.get_coordinates(shape.convex_hull)
    spread = corners[:, None, :] - corners[None, :, :]
    return float((spread**2).sum(axis=2).max() ** 0.5)
