"""How high the edge of a thing is, from two views of it: between two cameras an outline moves over the paper.

What a camera sees of a thing, taken back to the height z of its edge, is its outline; from two cameras these are the
same outline only at the true z. Where they lie apart by a gap across the outline, a step in height closes it by

    rate = (p - foot a) . n / (H a - z)  -  (p - foot b) . n / (H b - z)

for a point p with the normal n, cameras H above the points `foot` of the paper (similar triangles, derived by z). So
z is the weighted least squares of gaps against rates, a few times over. A straight wall shows its top edge only on
the side away from a camera; towards it stands the foot, which does not move.

Gap    from the outline of the first view to that of the second, along the first one's normal
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon

from cozy_burrow.core.capture.photo.camera import Camera
from cozy_burrow.core.capture.photo.crossings import crossings
from cozy_burrow.core.capture.photo.sides import Sides, true_outline
from cozy_burrow.core.geometry.rings import polygons_in

Values = NDArray[np.float64]

_STARTS_MM = (20.0, 1.0, 40.0, 8.0)
_SAME_MM = 0.2  # of what is found from below and from above: what lies between leads there too
_REACHES_MM = (9.0, 4.0, 2.0, 1.2)  # how far the other outline is looked for, step by step
_THIN_MM = 0.03
_GOOD_MM = 0.25  # outlines that agree like this are no chance
_KNOT_MM = 0.8
_FINE_REACH_MM, _ROUGH_KNOT_MM, _ROUGH_POINTS = 2.0, 2.4, 80  # on the way to where they nearly meet, fewer will do
_EDGE_ERROR_MM, _MOST_SQUARES = 0.15, 100.0  # of one edge against another; farther off, something else was seen
_USUAL_TIMES = 2.0  # likelier, before anything is seen, is the way that walls mostly stand
_ALIKE_MM = 6.0  # errors of edges hang together over so much of a rim
_FLAT_MM = 0.1  # what a page that is not quite flat moves edges by from one view to the other
_HIGHEST = 0.4  # of the camera's height
_LEAST_RATE = 0.02  # between cameras nearer than this, in shares of their height, nothing moves
_LEAST_POINTS = 30
_LEAST_DIFFERENCE_MM, _SURE_TIMES = 1.5, 4.0
_SLICE_MM, _LEAST_PART = 4.0, 0.12


@dataclass(frozen=True)
class View:
    """What one camera sees of a thing. unsure_mm: of where the page is (standard deviation)."""

    seen: Polygon
    camera: Camera
    unsure_mm: float


@dataclass(frozen=True)
class Height:
    """A height of an edge above the paper and its standard deviation, in mm."""

    edge_mm: float
    sigma_mm: float


@dataclass(frozen=True)
class Walls:
    """A way in which a thing's walls may stand, how likely it is (a share of 1), and what pairs of views tell then.

    heights: one of each pair, None of a pair of cameras that stand too near to each other.
    """

    sides: Sides
    share: float
    heights: tuple[Height | None, ...]


@dataclass(frozen=True)
class Step:
    """Two heights in one thing: before and after a place along its axis."""

    at_mm: tuple[float, float]
    along: tuple[float, float]
    before: Height
    after: Height


def height_of(first: View, second: View, *, sides: Sides, guess_mm: float = 5.0) -> Height | None:
    """Return the height of the edge that two views agree on, None where they can't tell: too near to each other."""
    first, second = _lighter(first), _lighter(second)
    if not _can_tell(first, second):
        return None
    tried: list[tuple[float, tuple[Height, float]]] = []
    for start in (guess_mm, *_STARTS_MM):
        found = _fitted(first, second, start, sides)
        if found is None:
            continue
        height = found[0].edge_mm
        around = [
            one.edge_mm
            for other, (one, _) in tried
            if min(start, other) <= height <= max(start, other) and abs(one.edge_mm - height) < _SAME_MM
        ]
        tried.append((start, found))
        if found[1] < _GOOD_MM or around:
            break
    best = min(tried, key=lambda one: one[1][1], default=None)
    return None if best is None else best[1][0]


def walls_as(pairs: Sequence[tuple[View, View]], sides: Sides, *, guess_mm: float = 5.0) -> Walls:
    """Return the heights that pairs of views tell where somebody knows how the walls stand."""
    heights = tuple(height_of(*pair, sides=sides, guess_mm=guess_mm) for pair in pairs)
    return Walls(sides, 1.0, heights)


def walls_of(pairs: Sequence[tuple[View, View]], *, usual: Sides, guess_mm: float = 5.0) -> tuple[Walls, ...]:
    """Return how a thing's walls may stand and how likely each way is, as its views tell, the likelier one first.

    A thing with upright walls shows its foot on the side towards each camera, a round one its widest line all round:
    told the wrong way, the outlines of two cameras don't meet at any height. The usual way is the likelier one before
    that, and the only one where cameras stand too near to each other to tell.
    """
    other: Sides = "straight" if usual == "round" else "round"
    ways = [walls_as(pairs, sides, guess_mm=guess_mm) for sides in (usual, other)]
    left = [[_left_over(*pair, way.sides, height) for pair, height in zip(pairs, way.heights)] for way in ways]
    told = [a - b for a, b in zip(*left) if a is not None and b is not None]
    if not told:  # the usual way, unless no height at all comes of it and one does of the other
        return (max(ways, key=lambda way: any(height is not None for height in way.heights)),)
    # Errors of edges are about normal: the likelihood of a way goes by half of its squares.
    share = 1 / (1 + _USUAL_TIMES * math.exp(min(600.0, -sum(told) / 2)))
    likely = [replace(ways[0], share=1 - share), replace(ways[1], share=share)]
    return tuple(sorted(likely, key=lambda way: -way.share))


def mixed(heights: Sequence[tuple[float, Height]]) -> Height:
    """Return the height and standard deviation of what is one of some heights, each as likely as its share."""
    mean = sum(share * one.edge_mm for share, one in heights)
    return Height(mean, math.sqrt(sum(share * (one.sigma_mm**2 + (one.edge_mm - mean) ** 2) for share, one in heights)))


def _left_over(first: View, second: View, sides: Sides, height: Height | None) -> float | None:
    """Return what a height leaves of the gaps between two views: squares in the errors that edges have.

    None where the cameras stand too near to each other.
    """
    if height is None:
        return None
    gaps = _gaps(_lighter(first), _lighter(second), height.edge_mm, sides, reach_mm=_REACHES_MM[0])
    if gaps is None:
        return None
    squares = np.minimum((gaps.gap / _EDGE_ERROR_MM) ** 2, _MOST_SQUARES)
    return (float(np.sum(squares)) + _MOST_SQUARES * gaps.lost) * _KNOT_MM / _ALIKE_MM


def step_of(first: View, second: View, height: Height, *, sides: Sides) -> Step | None:
    """Return the two heights of a thing and where they meet, None where one height explains all."""
    first, second = _lighter(first), _lighter(second)
    gaps = _gaps(first, second, height.edge_mm, sides, reach_mm=9.0)
    if gaps is None or len(gaps.gap) < 2 * _LEAST_POINTS:
        return None
    along, middle = _axis(gaps.points)
    way = (gaps.points - middle) @ along
    stops = np.arange(way.min() + _LEAST_PART * np.ptp(way), way.max() - _LEAST_PART * np.ptp(way), _SLICE_MM)
    one = _cost(gaps, np.ones(len(way), dtype=bool))
    best = min(((_cost(gaps, way < stop) + _cost(gaps, way >= stop), float(stop)) for stop in stops), default=None)
    if best is None or one - best[0] < _SURE_TIMES**2 * 2:
        return None
    heights = [_part(gaps, side, height.edge_mm, first, second) for side in (way < best[1], way >= best[1])]
    before, after = heights
    if before is None or after is None:
        return None
    apart = abs(before.edge_mm - after.edge_mm)
    if apart < max(_LEAST_DIFFERENCE_MM, _SURE_TIMES * math.hypot(before.sigma_mm, after.sigma_mm)):
        return None
    x, y = middle + best[1] * along
    return Step(at_mm=(float(x), float(y)), along=(float(along[0]), float(along[1])), before=before, after=after)


def _lighter(view: View) -> View:
    """Return a view with as few points as its outline needs: it is brought to many heights."""
    parts = polygons_in(Polygon(view.seen.exterior).simplify(_THIN_MM))
    return View(parts[0] if parts else view.seen, view.camera, view.unsure_mm)


@dataclass(frozen=True)
class _Gaps:
    """lost: of how many points of the first outline the second one is not met."""

    points: Values
    gap: Values
    rate: Values
    lost: int = 0


def _can_tell(first: View, second: View) -> bool:
    """Return whether a height could move the outline of one view over that of the other enough to be told.

    Rates are largest for round walls, weighted alike, and grow with the height by H / (H - z) at most.
    """
    ring = first.seen.exterior
    points, outward = _with_normals(ring, max(24, int(ring.length / _ROUGH_KNOT_MM)))
    rates = [_rate(points, outward, view.camera, 0.0, "round") for view in (first, second)]
    return bool(np.sqrt(np.mean((rates[0] - rates[1]) ** 2)) / (1 - _HIGHEST) > _LEAST_RATE)


def _fitted(first: View, second: View, start_mm: float, sides: Sides) -> tuple[Height, float] | None:
    z, found = start_mm, None
    for reach in _REACHES_MM:
        found = _gaps(first, second, z, sides, reach_mm=reach, roughly=reach > _FINE_REACH_MM)
        if found is None or len(found.gap) < _LEAST_POINTS:
            return None
        change, _, _ = _solved(found)
        z = float(np.clip(z + np.clip(change, -15.0, 15.0), 0.0, _HIGHEST * first.camera.height_mm))
    if found is None:
        return None
    _, spread, strength = _solved(found)
    if strength <= 0 or math.sqrt(strength / len(found.gap)) < _LEAST_RATE:
        return None
    lost = 1 - len(found.gap) / max(1, _due(first.seen))
    return Height(z, _sigma(found, spread, strength, z, first, second)), spread + 0.5 * lost


def _due(seen: Polygon) -> int:
    return int(seen.exterior.length / _KNOT_MM)


def _sigma(gaps: _Gaps, spread: float, strength: float, z: float, first: View, second: View) -> float:
    """Return the standard deviation of a height: of edges, of where the pages are, and of how high the cameras are."""
    alike = max(1.0, _ALIKE_MM / _KNOT_MM)
    edges = spread * math.sqrt(alike / strength) * _disagreement(gaps)
    page = math.hypot(first.unsure_mm, second.unsure_mm, _FLAT_MM)
    # A page moved by one amount between the views moves the height most where all rates point one way.
    moved = page / math.sqrt(strength / len(gaps.gap)) / math.sqrt(2)
    return math.hypot(edges, moved, 0.003 * z)


def _disagreement(gaps: _Gaps) -> float:
    """Return how many times farther apart than edges err the outlines lie that no height closes, 1 at least.

    By so much less is believed of what they say (Birge 1932). A tenth is left out: strays are heard little anyway.
    """
    change, _, _ = _solved(gaps)
    squares = ((gaps.gap + change * gaps.rate) / _EDGE_ERROR_MM) ** 2
    usual = squares[squares <= np.percentile(squares, 90)]
    return math.sqrt(max(1.0, float(usual.mean())))


def _solved(gaps: _Gaps) -> tuple[float, float, float]:
    """Return the change of height that closes the gaps, how far they spread then, and how strongly they say so."""
    weight = np.ones(len(gaps.gap))
    change = 0.0
    for _ in range(6):
        strength = float(np.sum(weight * gaps.rate**2))
        if strength <= 1e-12:
            return 0.0, math.inf, 0.0
        change = -float(np.sum(weight * gaps.rate * gaps.gap)) / strength
        left = gaps.gap + change * gaps.rate
        spread = max(0.02, 1.48 * float(np.median(np.abs(left))))
        weight = 1 / np.maximum(1.0, np.abs(left) / (1.5 * spread))
    return change, spread, strength


def _part(gaps: _Gaps, side: NDArray[np.bool_], z: float, first: View, second: View) -> Height | None:
    part = _Gaps(gaps.points[side], gaps.gap[side], gaps.rate[side])
    if len(part.gap) < _LEAST_POINTS:
        return None
    change, spread, strength = _solved(part)
    if strength <= 0 or math.sqrt(strength / len(part.gap)) < _LEAST_RATE:
        return None
    return Height(max(0.0, z + change), _sigma(part, spread, strength, z + change, first, second))


def _cost(gaps: _Gaps, side: NDArray[np.bool_]) -> float:
    """Return how badly one height explains the gaps of a side: squares in the errors that edges have, bounded."""
    part = _Gaps(gaps.points[side], gaps.gap[side], gaps.rate[side])
    if len(part.gap) < 8:
        return math.inf
    change, _, _ = _solved(part)
    left = (part.gap + change * part.rate) / _EDGE_ERROR_MM
    return float(np.sum(np.minimum(left**2, _MOST_SQUARES))) * _KNOT_MM / _ALIKE_MM


def _axis(points: Values) -> tuple[Values, Values]:
    """Return the direction in which points spread most, and their middle."""
    middle = points.mean(axis=0)
    _, _, turned = np.linalg.svd(points - middle, full_matrices=False)
    return turned[0], middle


def _gaps(
    first: View, second: View, z_mm: float, sides: Sides, *, reach_mm: float, roughly: bool = False
) -> _Gaps | None:
    """Return the gaps between the outlines that two views give for one height, None where one of them gives none."""
    one, other = (_largest_outline(view, z_mm, sides) for view in (first, second))
    if one is None or other is None:
        return None
    ring = shapely.orient_polygons(one).exterior
    knot_mm = max(_KNOT_MM, min(_ROUGH_KNOT_MM, float(ring.length) / _ROUGH_POINTS)) if roughly else _KNOT_MM
    count = max(24, int(ring.length / knot_mm))
    points, outward = _with_normals(ring, count)
    gap = crossings(points, outward, other.exterior, reach_mm)
    rates = [_rate(points, outward, view.camera, z_mm, sides) for view in (first, second)]
    met = ~np.isnan(gap)
    return _Gaps(points[met], gap[met], (rates[0] - rates[1])[met], int(np.count_nonzero(~met)))


def _with_normals(ring: shapely.LinearRing, count: int) -> tuple[Values, Values]:
    """Return so many points of a ring, as far from each other along it, and the normals there (n, 2).

    They point outwards where the ring runs anticlockwise.
    """
    corners = shapely.get_coordinates(ring)
    way = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(corners, axis=0).T))])
    at = np.arange(count) * way[-1] / count
    points = np.column_stack([np.interp(at, way, corners[:, axis]) for axis in (0, 1)])
    along = np.roll(points, -2, axis=0) - np.roll(points, 2, axis=0)
    along /= np.maximum(np.hypot(*along.T), 1e-9)[:, None]
    return points, np.column_stack([along[:, 1], -along[:, 0]])


def _rate(points: Values, outward: Values, camera: Camera, z_mm: float, sides: Sides) -> Values:
    slant = ((points - np.array(camera.eye_mm[:2])) * outward).sum(axis=1) / (camera.height_mm - z_mm)
    return np.asarray(np.maximum(slant, 0.0) if sides == "straight" else slant)


def _largest_outline(view: View, z_mm: float, sides: Sides) -> Polygon | None:
    found = true_outline(view.seen, view.camera, height_mm=z_mm, sides=sides)
    return max(found, key=lambda one: float(one.area), default=None)
