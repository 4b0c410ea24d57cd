"""The four marks that a photo of an open drawer is laid onto the plan by: what is printed, and where it is stuck.

A mark is a square sticker: a black pattern with a white rim, by which it is found on dark foam. Its corner that is
named goes to the foam's corner, or on the frame with the pattern's own corner there, and the pattern stands as in the
plan: its top to the back.

Stuck   how far the pattern's corner lies within the foam's corner, along both edges: by the sticker's rim where the
        sticker's corner went to the foam's, nothing where the pattern's did, less than nothing on the frame
"""

from __future__ import annotations

from typing import Literal

import numpy as np
import shapely
import shapely.ops
from numpy.typing import NDArray
from shapely.geometry import LineString, Polygon
from shapely.geometry import Point as Point2
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Record
from cozy_burrow.core.tongue import tr

USUAL_MM, LEAST_MM, MOST_MM = 20.0, 8.0, 60.0
FIRST_NUMBER = 960  # the pages of mats use those below
_RIM_CELLS, _CELLS = 1.5, 7
Corner = Literal["left back", "right back", "right front", "left front"]
CORNERS: tuple[Corner, ...] = ("left back", "right back", "right front", "left front")
CORNER_NAMES: dict[Corner, str] = {
    "left back": tr("left back"),
    "right back": tr("right back"),
    "right front": tr("right front"),
    "left front": tr("left front"),
}
Point = tuple[float, float]
Quad = NDArray[np.float64]


class Mark(Record, frozen=True, kw_only=True):
    """One of the four. number: that it is told by for people, 1 to 4; size_mm: of its black square."""

    number: int
    size_mm: float = USUAL_MM

    @property
    def pattern(self) -> int:
        """The number of its pattern in the dictionary."""
        return FIRST_NUMBER + self.number - 1

    @property
    def corner(self) -> Corner:
        """The corner that goes to the foam's corner."""
        return CORNERS[self.number - 1]

    @property
    def rim_mm(self) -> float:
        """The white round the pattern."""
        return rim_mm(self.size_mm)

    @property
    def sticker_mm(self) -> float:
        """The side of the whole sticker."""
        return self.size_mm + 2 * self.rim_mm


def rim_mm(size_mm: float) -> float:
    """Return how broad the white rim round a pattern of a size is: it is found by it, so a cell and a half."""
    return size_mm * _RIM_CELLS / _CELLS


def marks(size_mm: float = USUAL_MM) -> tuple[Mark, ...]:
    """Return the four marks, 1 to 4. Raises UnusableInput for a size that cannot be cut out, or is a poster."""
    if not LEAST_MM <= size_mm <= MOST_MM:
        raise UnusableInput(
            tr("a mark of {size:g} mm", size=size_mm),
            where="--size",
            remedy=tr("give {least:g} to {most:g} mm", least=LEAST_MM, most=MOST_MM),
        )
    return tuple(Mark(number=number, size_mm=size_mm) for number in range(1, 5))


def stuck(number: int, corner: Point, *, size_mm: float, inset_mm: float) -> Quad:
    """Return the corners (4, 2) of a mark's pattern in the plan, clockwise from its left back one.

    corner: the foam's. inset_mm: how far within it the pattern's lies.
    """
    name = CORNERS[number - 1]
    x = corner[0] + inset_mm if name.startswith("left") else corner[0] - inset_mm - size_mm
    y = corner[1] + inset_mm if name.endswith("back") else corner[1] - inset_mm - size_mm
    return np.array([[x, y], [x + size_mm, y], [x + size_mm, y + size_mm], [x, y + size_mm]])


def size_that_fits(foam: Polygon, taken: BaseGeometry) -> float | None:
    """Return the largest usual size whose stickers lie on whole foam in all corners; None where none does.

    taken: everything that is cut out or lies over the foam.
    """
    for size_mm in (USUAL_MM, 16.0, 14.0, 12.0, 10.0, LEAST_MM):
        rim = rim_mm(size_mm)
        stickers = [
            Polygon(stuck(number, corner, size_mm=size_mm, inset_mm=rim)).buffer(rim, join_style="mitre")
            for number, corner in enumerate(foam_corners(foam), start=1)
        ]
        whole = [one.difference(foam).area < 0.02 * one.area and one.disjoint(taken) for one in stickers]
        if all(whole):
            return size_mm
    return None


def box_corners(foam: Polygon) -> tuple[Point, ...]:
    """Return the corners 1 to 4 of the box round a foam."""
    left, back, right, front = foam.bounds
    return (left, back), (right, back), (right, front), (left, front)


def foam_corners(foam: Polygon) -> tuple[Point, ...]:
    """Return the corners 1 to 4 of a foam: where its corner is round or cut off, where the way inwards meets it.

    The way goes at 45 degrees, as a sticker does that is pushed into the corner.
    """
    found = []
    left, back, right, front = foam.bounds
    reach = min(right - left, front - back) / 2
    for (x, y), (in_x, in_y) in zip(box_corners(foam), ((1, 1), (-1, 1), (-1, -1), (1, -1))):
        way = LineString([(x, y), (x + in_x * reach, y + in_y * reach)])
        met = way.intersection(foam)
        nearest = shapely.ops.nearest_points(Point2(x, y), met)[1] if not met.is_empty else Point2(x, y)
        found.append((nearest.x, nearest.y))
    return tuple(found)
