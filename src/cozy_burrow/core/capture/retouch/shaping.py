"""Mending an outline by hand: every change is a new outline, places are points that the fitter marks on or near it.

Stretch   the part of a ring between two marks, the shorter way round
"""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import affinity
from shapely.geometry import LineString, Point, Polygon
from shapely.ops import split

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import checked_outline, outline_of, polygon_of, polygons_in
from cozy_burrow.core.model.records import Outline
from cozy_burrow.core.model.records import Point as Spot
from cozy_burrow.core.tongue import tr

Points = NDArray[np.float64]

_WHERE = "retouch"
_LEAST_PART_MM2 = 10.0
_ARC_STEP_MM = 0.4


def moved_point(outline: Outline, *, ring: int, index: int, to: Spot) -> Outline:
    """Return the outline with one point elsewhere. ring 0 is the outer one, 1 and on the holes."""
    rings = [list(one) for one in (outline.outer, *outline.holes)]
    rings[ring][index] = to
    return _checked(Polygon(rings[0], rings[1:]))


def straightened(outline: Outline, first: Spot, second: Spot) -> Outline:
    """Return the outline with the stretch between two marks drawn straight."""
    return _with_stretch(outline, first, second, lambda part: np.array([part[0], part[-1]]))


def rounded(outline: Outline, first: Spot, second: Spot) -> Outline:
    """Return the outline with the stretch between two marks made one arc, through both ends and nearest to the rest."""
    return _with_stretch(outline, first, second, _arc_through_ends)


def smoothed(outline: Outline, first: Spot, second: Spot) -> Outline:
    """Return the outline with the stretch between two marks smoothed over 4 mm; its ends stay."""

    def smooth(part: Points) -> Points:
        from scipy.ndimage import gaussian_filter1d

        length = float(np.hypot(*np.diff(part, axis=0).T).sum())
        count = max(8, round(length / _ARC_STEP_MM))
        way = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(part, axis=0).T))])
        stops = np.linspace(0.0, way[-1], count)
        even = np.column_stack([np.interp(stops, way, part[:, k]) for k in (0, 1)])
        # What is left over a straight line between the ends, turned over beyond them, keeps them where they are.
        line = np.linspace(even[0], even[-1], count)
        rest = even - line
        turned = np.vstack([-rest[:0:-1], rest, -rest[-2::-1]])
        smooth = gaussian_filter1d(turned, 2.0 / (length / count), axis=0)
        return np.asarray(line + smooth[count - 1 : 2 * count - 1])

    return _with_stretch(outline, first, second, smooth)


def widened(outline: Outline, by_mm: float) -> Outline:
    """Return the outline larger all round by `by_mm`, smaller where negative; corners stay sharp."""
    if abs(by_mm) < 1e-6:
        return outline
    shape = polygon_of(outline).buffer(by_mm, join_style="mitre", mitre_limit=2.0)
    parts = polygons_in(shape)
    if not parts:
        raise UnusableInput(
            tr("nothing is left of it {by:g} mm smaller all round", by=-by_mm), where=_WHERE, remedy=tr("take less off")
        )
    return _checked(parts[0])


def mirrored_half(outline: Outline, first: Spot, second: Spot) -> Outline:
    """Return the outline made alike on both sides of the line through two marks: the half on its left, mirrored.

    For a thing that is known to be symmetric and of which the camera saw one side better.
    """
    shape = polygon_of(outline)
    halves = _cut(shape, first, second)
    dx, dy = second[0] - first[0], second[1] - first[1]
    left = [one for one in halves if _side(one.representative_point(), first, (dx, dy)) > 0]
    kept = shapely.union_all(left)
    angle = math.atan2(dy, dx)
    cos, sin = math.cos(2 * angle), math.sin(2 * angle)
    x, y = first
    matrix = (cos, sin, sin, -cos, x - cos * x - sin * y, y - sin * x + cos * y)
    both = shapely.union_all([kept, affinity.affine_transform(kept, matrix)], grid_size=1e-4)
    return _checked(polygons_in(both)[0])


def with_knob(outline: Outline, first: Spot, second: Spot, *, width_mm: float) -> tuple[Outline, Outline]:
    """Return the outline with a rounded piece from mark to mark added to it, and that piece alone.

    For what the photo did not show: a knob at the side, a clip. Both marks in one place make a circle.
    Raises UnusableInput where the piece would not touch the thing.
    """
    if not 0.5 <= width_mm <= 500.0:
        raise UnusableInput(
            tr("a knob {width:g} mm wide", width=width_mm), where=_WHERE, remedy=tr("give 0.5 to 500 mm")
        )
    spine = LineString([first, second]) if math.dist(first, second) > 1e-6 else Point(first)
    piece = spine.buffer(width_mm / 2, quad_segs=24)
    shape = polygon_of(outline)
    if not piece.intersects(shape):
        raise UnusableInput(tr("the knob does not touch the item"), where=_WHERE, remedy=tr("begin it on the item"))
    return _checked(polygons_in(shape.union(piece))[0]), outline_of(piece)


def with_hole(outline: Outline, first: Spot, second: Spot, *, width_mm: float) -> Outline:
    """Return the outline with a rounded hole or notch from mark to mark: paper that looked like a face of the thing.

    Raises UnusableInput where nothing, or more than one thing, would be left.
    """
    if not 0.5 <= width_mm <= 500.0:
        raise UnusableInput(
            tr("a hole {width:g} mm wide", width=width_mm), where=_WHERE, remedy=tr("give 0.5 to 500 mm")
        )
    spine = LineString([first, second]) if math.dist(first, second) > 1e-6 else Point(first)
    left = polygons_in(polygon_of(outline).difference(spine.buffer(width_mm / 2, quad_segs=24)), least_area_mm2=1.0)
    if len(left) != 1:
        raise UnusableInput(tr("the hole would cut the item apart"), where=_WHERE, remedy=tr("make it smaller"))
    return _checked(left[0])


def parted(outline: Outline, first: Spot, second: Spot) -> list[Outline]:
    """Return the things that touch each other in one outline, parted along the line through two marks, left first.

    The line cuts only where it lies between the marks and a little beyond, so that it parts one touch and no other.
    """
    shape = polygon_of(outline)
    length = max(math.dist(first, second), 1e-6)
    reach = 1 + 4.0 / length
    middle = ((first[0] + second[0]) / 2, (first[1] + second[1]) / 2)
    ends = [
        (middle[0] + (one[0] - middle[0]) * reach, middle[1] + (one[1] - middle[1]) * reach) for one in (first, second)
    ]
    parts = polygons_in(split(shape, LineString(ends)), least_area_mm2=_LEAST_PART_MM2)
    if len(parts) < 2:
        raise UnusableInput(
            tr("the line does not part it"),
            where=_WHERE,
            remedy=tr("put the marks on either side of where items touch"),
        )
    parts.sort(key=lambda one: (one.centroid.x, one.centroid.y))
    return [_checked(one) for one in parts]


def without_hole(outline: Outline, at: Spot) -> Outline:
    """Return the outline with the hole at a place filled. Raises UnusableInput where there is none."""
    kept = [hole for hole in outline.holes if not Polygon(hole).buffer(0.5).contains(Point(at))]
    if len(kept) == len(outline.holes):
        raise UnusableInput(tr("there is no hole"), where=_WHERE, remedy=tr("put the mark into the hole"))
    return Outline(outer=outline.outer, holes=tuple(kept))


def scaled(outline: Outline, factor: float) -> Outline:
    """Return the outline larger by a factor about its middle, from the length that a calliper says."""
    if not 0.5 <= factor <= 2.0:
        raise UnusableInput(
            tr("a factor of {factor:.2f} is no error of measuring", factor=factor),
            where=_WHERE,
            remedy=tr("check both lengths"),
        )
    left, top, right, bottom = polygon_of(outline).bounds
    middle = ((left + right) / 2, (top + bottom) / 2)
    return _checked(affinity.scale(polygon_of(outline), factor, factor, origin=(*middle, 0.0)))


def on_outline(outline: Outline, at: Spot, *, within_mm: float) -> Spot:
    """Return the point of the outline nearest to a place, the place itself where that is farther off."""
    rim = polygon_of(outline).boundary
    near = rim.interpolate(rim.project(Point(at)))
    return (near.x, near.y) if near.distance(Point(at)) <= within_mm else at


def _checked(shape: Polygon) -> Outline:
    return checked_outline(shape, where=_WHERE)


def _side(point: Point, start: Spot, along: Spot) -> float:
    return along[0] * (point.y - start[1]) - along[1] * (point.x - start[0])


def _cut(shape: Polygon, first: Spot, second: Spot) -> list[Polygon]:
    """Return the parts of a shape on both sides of the whole line through two places."""
    length = math.dist(first, second)
    if length < 1e-6:
        raise UnusableInput(tr("both marks lie in one place"), where=_WHERE, remedy=tr("move one of them"))
    left, top, right, bottom = shape.bounds
    reach = (math.hypot(right - left, bottom - top) + length) * 2 / length
    dx, dy = (second[0] - first[0]) * reach, (second[1] - first[1]) * reach
    line = LineString([(first[0] - dx, first[1] - dy), (second[0] + dx, second[1] + dy)])
    parts = polygons_in(split(shape, line))
    if len(parts) < 2:
        raise UnusableInput(tr("the line misses the item"), where=_WHERE, remedy=tr("lay it across the item"))
    return parts


def _with_stretch(outline: Outline, first: Spot, second: Spot, change: Callable[[Points], Points]) -> Outline:
    """Return the outline with the stretch between two marks replaced; both must lie near the same ring."""
    rings = [np.array(one) for one in (outline.outer, *outline.holes)]
    lines = [shapely.LinearRing(one) for one in rings]
    nearest = [min(range(len(lines)), key=lambda n: lines[n].distance(Point(spot))) for spot in (first, second)]
    if nearest[0] != nearest[1]:
        raise UnusableInput(tr("the marks lie on different rims"), where=_WHERE, remedy=tr("put both on one rim"))
    ring = rings[nearest[0]]
    line = lines[nearest[0]]
    start, end = (float(line.project(Point(spot))) for spot in (first, second))
    if abs(start - end) < 0.05:
        raise UnusableInput(
            tr("both marks lie in one place"), where=_WHERE, remedy=tr("move one of them along the rim")
        )
    way = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(np.vstack([ring, ring[:1]]), axis=0).T))])
    low, high = min(start, end), max(start, end)
    if high - low > way[-1] / 2:  # the shorter way round goes over the first point
        low, high = high, low + way[-1]
    stops = np.concatenate([way[:-1], way[:-1] + way[-1]])
    points = np.vstack([ring, ring])
    within = (stops > low + 1e-9) & (stops < high - 1e-9)
    ends = [np.array(line.interpolate(at % way[-1]).coords[0]) for at in (low, high)]
    part = np.vstack([ends[0], points[within], ends[1]])
    new = np.asarray(change(part))
    rest = (stops > high + 1e-9) & (stops < low + way[-1] - 1e-9)
    rings[nearest[0]] = np.vstack([new, points[rest]])
    return _checked(Polygon(rings[0], rings[1:]))


def _arc_through_ends(part: Points) -> Points:
    """Return an arc from the first to the last point, its bulge the one nearest to the points between."""
    even = _evenly(part)
    chord = part[-1] - part[0]
    length = float(np.hypot(*chord))
    across = np.array([-chord[1], chord[0]]) / length
    rise = (even - part[0]) @ across
    along = (even - part[0]) @ chord / length
    # For a flat arc the rise is a parabola; its best bulge starts a search over true arcs.
    shape = 4 * along * (length - along) / length**2
    bulge = float(rise @ shape / max(float(shape @ shape), 1e-9))
    best = min(np.linspace(0.5 * bulge, 1.6 * bulge, 56), key=lambda one: _arc_error(even, part[0], chord, float(one)))
    return _arc(part[0], chord, float(best))


def _evenly(part: Points) -> Points:
    """Return points about as far apart as arcs are drawn, along an open line."""
    way = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(part, axis=0).T))])
    stops = np.linspace(0.0, way[-1], max(8, round(float(way[-1]) / _ARC_STEP_MM)))
    return np.column_stack([np.interp(stops, way, part[:, k]) for k in (0, 1)])


def _circle_of(start: Points, chord: Points, bulge: float) -> tuple[Points, float]:
    length = float(np.hypot(*chord))
    across = np.array([-chord[1], chord[0]]) / length
    radius = (length**2 / 4 + bulge**2) / (2 * bulge)
    return start + chord / 2 + (bulge - radius) * across, abs(radius)


def _arc_error(even: Points, start: Points, chord: Points, bulge: float) -> float:
    if abs(bulge) < 1e-6:
        return math.inf
    centre, radius = _circle_of(start, chord, bulge)
    return float(np.mean((np.hypot(*(even - centre).T) - radius) ** 2))


def _arc(start: Points, chord: Points, bulge: float) -> Points:
    if abs(bulge) < 0.02:
        return np.array([start, start + chord])
    centre, radius = _circle_of(start, chord, bulge)
    length = float(np.hypot(*chord))
    top = start + chord / 2 + bulge * np.array([-chord[1], chord[0]]) / length
    angles = [math.atan2(*(one - centre)[::-1]) for one in (start, top, start + chord)]
    first = math.remainder(angles[1] - angles[0], math.tau)
    second = math.remainder(angles[2] - angles[1], math.tau)
    turns = np.linspace(0.0, first + second, max(6, round(abs(first + second) * radius / _ARC_STEP_MM)))
    return np.asarray(centre + radius * np.column_stack([np.cos(angles[0] + turns), np.sin(angles[0] + turns)]))


def thinned(outline: Outline, *, within_mm: float = 0.02) -> Outline:
    """Return the outline with the points left out that a blade could not tell."""
    return _checked(shapely.simplify(polygon_of(outline), within_mm))
