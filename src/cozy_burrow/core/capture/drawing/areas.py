"""From drawn loops to areas: fill rules, nesting, joining ends, specks."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString, Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.tolerances import JOIN_ENDS_MM, LARGEST_LENGTH_MM, SPECK_SHARE
from cozy_burrow.core.tongue import tr

Points = NDArray[np.float64]
MOST_POINTS = 400_000
MOST_BYTES = 24_000_000
MOST_FACES = 20_000


def filled_by_rule(loops: Sequence[Points], *, even_odd: bool) -> BaseGeometry:
    """Return the area that a path of several loops fills, by the even-odd or the nonzero rule.

    loops: (n, 2) each, first point not repeated; they may cross themselves and each other.
    """
    rings = [Polygon(loop) for loop in loops if len(loop) >= 3]
    if not rings:
        return Polygon()
    if len(rings) == 1 and rings[0].is_valid:
        return rings[0]
    lines = shapely.union_all([ring.exterior for ring in rings])
    faces = polygons_in(shapely.polygonize([lines]))
    if len(faces) > MOST_FACES:
        raise UnusableInput(
            tr("a path crosses itself more than {most_faces} times", most_faces=MOST_FACES),
            where=tr("a path"),
            remedy=tr("simplify the drawing"),
        )
    kept = []
    for face in faces:
        winding = sum(_winding(loop, face.representative_point()) for loop in loops)
        if (winding % 2 if even_odd else winding) != 0:
            kept.append(face)
    return shapely.union_all(kept) if kept else Polygon()


def _winding(loop: Points, point: shapely.Point) -> int:
    """Return how often a loop runs round a point, by the crossings of a ray to the right."""
    x, y = point.x, point.y
    start, end = loop, np.roll(loop, -1, axis=0)
    side = (end[:, 0] - start[:, 0]) * (y - start[:, 1]) - (x - start[:, 0]) * (end[:, 1] - start[:, 1])
    up = (start[:, 1] <= y) & (end[:, 1] > y) & (side > 0)
    down = (start[:, 1] > y) & (end[:, 1] <= y) & (side < 0)
    return int(up.sum()) - int(down.sum())


def nested(loops: Sequence[BaseGeometry]) -> BaseGeometry:
    """Return the area of loops drawn as lines: one inside another is a hole, one inside a hole an island."""
    sound = [part for loop in loops for part in polygons_in(shapely.make_valid(loop))]
    sound.sort(key=lambda one: -one.area)
    area: BaseGeometry = Polygon()
    for index, loop in enumerate(sound):
        inner = loop.representative_point()
        depth = sum(1 for other in sound[:index] if other.contains(inner) and other.contains(loop))
        area = area.union(loop) if depth % 2 == 0 else area.difference(loop)
    return area


def joined(lines: Sequence[Points], *, within_mm: float = JOIN_ENDS_MM) -> tuple[list[Polygon], int]:
    """Return the loops that drawn lines close, their ends joined where near, and how many lines stay open."""
    from scipy.spatial import cKDTree

    loops = [line for line in lines if len(line) > 3 and np.hypot(*(line[0] - line[-1])) <= within_mm]
    open_lines = [line for line in lines if len(line) >= 2 and np.hypot(*(line[0] - line[-1])) > within_mm]
    found = [Polygon(line[:-1]) for line in loops if len(line) >= 4]
    if not open_lines:
        return found, 0
    ends = np.array([point for line in open_lines for point in (line[0], line[-1])])
    parent = list(range(len(ends)))

    def root(one: int) -> int:
        while parent[one] != one:
            parent[one] = parent[parent[one]]
            one = parent[one]
        return one

    for first, second in cKDTree(ends).query_pairs(within_mm):
        parent[root(first)] = root(second)
    snapped = []
    for index, line in enumerate(open_lines):
        moved = line.copy()
        moved[0], moved[-1] = ends[root(2 * index)], ends[root(2 * index + 1)]
        snapped.append(LineString(moved))
    merged = shapely.get_parts(shapely.line_merge(shapely.MultiLineString(snapped)))
    closed = [line for line in merged if line.is_closed and len(line.coords) >= 4]
    return found + [Polygon(line.coords) for line in closed], len(merged) - len(closed)


def separate_outlines(area: BaseGeometry, *, where: str) -> list[Polygon]:
    """Return the separate parts of an area, largest first, specks left out; raises UnusableInput for none."""
    parts = polygons_in(area)
    if not parts:
        raise UnusableInput(
            tr("nothing in it is a filled or closed shape"),
            where=where,
            remedy=tr("close the outline and save it again"),
        )
    return [part for part in parts if part.area >= SPECK_SHARE * parts[0].area]


def check_points(lines: Sequence[Points], *, where: str) -> None:
    """Raise UnusableInput where a drawn figure is not a number, or lies beyond ten times ten metres."""
    for line in lines:
        if not np.isfinite(line).all():
            raise UnusableInput(
                tr("the drawing holds figures that are not numbers"), where=where, remedy=tr("export it again")
            )
        if float(np.abs(line).max()) > 10 * LARGEST_LENGTH_MM:
            raise UnusableInput(
                tr("the drawing is larger than ten metres"), where=where, remedy=tr("check the unit it was saved in")
            )
