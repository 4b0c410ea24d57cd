"""Straight runs and arcs in a measured outline, where the points support them within their noise, never beyond.

Run   a stretch of the outline that one straight line or one arc of a circle stays near
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon

from cozy_burrow.core.geometry.rings import polygons_in

Points = NDArray[np.float64]

_STEP_MM = 0.4
_LEAST_LINE_MM = 6.0
_LEAST_ARC_MM = 8.0
_LEAST_TURN = 0.6  # radians: a flatter arc has no radius that could be trusted
_LEAST_RADIUS_MM, _MOST_RADIUS_MM = 1.5, 400.0
_WITHIN = 3.0  # times the noise
_CORNER_REACH_MM = 2.0  # two lines that end nearer than this to where they cross meet in a corner
_SMOOTH_MM = 0.5


@dataclass(frozen=True)
class Run:
    """Points first to last (counted round the ring) near a line or, with a radius, near an arc about a centre."""

    first: int
    last: int
    start: tuple[float, float]
    end: tuple[float, float]
    centre: tuple[float, float] | None = None
    radius_mm: float = 0.0


def faired(shape: Polygon, *, noise_mm: float) -> Polygon:
    """Return an outline with its straight runs straight, its arcs round, the rest a little smoothed.

    noise_mm: standard deviation of the points across the outline. No point moves farther than three times that, but
    for corners, where two straight runs are led on to where they cross.
    """
    rings = [_faired_ring(shapely.get_coordinates(ring)[:-1], noise_mm) for ring in (shape.exterior, *shape.interiors)]
    found = Polygon(rings[0], [ring for ring in rings[1:] if len(ring) >= 3])
    if not found.is_valid:
        parts = polygons_in(shapely.make_valid(found))
        if not parts or parts[0].area < 0.98 * shape.area:
            return shape
        found = parts[0]
    return found


def straight_and_round_runs(points: Points, *, within_mm: float) -> list[Run]:
    """Return the runs of a closed ring (n, 2), longest first found, none overlapping, in order round the ring."""
    count = len(points)
    if count < 12:
        return []
    start = _corner_most(points)
    turned = np.roll(points, -start, axis=0)
    doubled = np.vstack([turned, turned[:1]])
    runs: list[Run] = []
    at = 0
    while at < count - 4:
        line = _longest(doubled, at, within_mm, _fits_line)
        arc = _longest(doubled, at, within_mm, _fits_arc)
        best = None
        if line is not None and _length(doubled, at, line) >= _LEAST_LINE_MM:
            best = _as_line(doubled, at, line)
        if arc is not None and (line is None or arc - at > 1.3 * (line - at)):
            made = _as_arc(doubled, at, arc)
            if made is not None and _length(doubled, at, arc) >= _LEAST_ARC_MM:
                best = made
        if best is None:
            at += 2
            continue
        runs.append(best)
        at = best.last
    return [
        Run(
            first=(run.first + start) % count,
            last=(run.last + start) % count,
            start=run.start,
            end=run.end,
            centre=run.centre,
            radius_mm=run.radius_mm,
        )
        for run in runs
    ]


def _faired_ring(ring: Points, noise_mm: float) -> Points:
    even = evenly(ring, _STEP_MM)
    within = max(0.03, _WITHIN * noise_mm)
    runs = straight_and_round_runs(even, within_mm=within)
    count = len(even)
    smooth = _smoothed(even)
    taken = np.zeros(count, dtype=bool)
    made: list[tuple[int, Points]] = []
    for index, run in enumerate(runs):
        span = (run.last - run.first) % count or count
        inner = (run.first + np.arange(span + 1)) % count
        taken[inner] = True
        if run.centre is not None:
            made.append((run.first, _arc_points(run, even[inner])))
            continue
        start, end = np.array(run.start), np.array(run.end)
        before, after = runs[index - 1], runs[(index + 1) % len(runs)]
        start = _corner(before, run, count) if len(runs) > 1 else start
        end = _corner(run, after, count, at_end=True) if len(runs) > 1 else end
        made.append((run.first, np.array([start, end])))
    for free in np.flatnonzero(~taken):
        made.append((int(free), smooth[free : free + 1]))
    made.sort(key=lambda one: one[0])
    points = np.concatenate([one for _, one in made]) if made else smooth
    apart = np.hypot(*(points - np.roll(points, 1, axis=0)).T)
    points = points[apart > 1e-6]
    thin = shapely.get_coordinates(shapely.simplify(Polygon(points), 0.01, preserve_topology=True))[:-1]
    return np.asarray(thin if len(thin) >= 3 else points)


def evenly(ring: Points, step_mm: float) -> Points:
    """Return points about step_mm apart along a closed ring (n, 2)."""
    closed = np.vstack([ring, ring[:1]])
    way = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(closed, axis=0).T))])
    count = max(12, round(float(way[-1]) / step_mm))
    stops = np.arange(count) * (way[-1] / count)
    return np.column_stack([np.interp(stops, way, closed[:, k]) for k in (0, 1)])


def _smoothed(points: Points) -> Points:
    """Return points smoothed by a moving parabola: unlike a mean it does not pull bends inwards."""
    from scipy.ndimage import correlate1d

    reach = max(2, round(2 * _SMOOTH_MM / _STEP_MM))
    if len(points) <= 2 * reach + 1:
        return points
    # The value in the middle of the parabola nearest to a window is a weighted sum (Savitzky and Golay 1964).
    steps = np.arange(-reach, reach + 1, dtype=float)
    weights = np.linalg.pinv(np.column_stack([np.ones_like(steps), steps, steps**2]))[0]
    return np.asarray(correlate1d(points, weights, axis=0, mode="wrap"))


def _corner_most(points: Points) -> int:
    """Return the index where the ring turns most sharply: a run does not go over it."""
    reach = min(4, len(points) // 4)
    before, after = points - np.roll(points, reach, axis=0), np.roll(points, -reach, axis=0) - points
    cross = before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]
    return int(np.abs(np.arctan2(cross, (before * after).sum(axis=1))).argmax())


def _longest(points: Points, first: int, within_mm: float, fits: Callable[[Points, float], bool]) -> int | None:
    """Return the last index up to which points from `first` on fit, found by doubling and halving."""
    good, step = None, 8
    top = len(points) - 1
    reach = first + step
    while reach <= top and fits(points[first : reach + 1], within_mm):
        good, step = reach, step * 2
        reach = first + step
    low, high = (good if good is not None else first + 4), min(reach, top)
    if high <= low:
        return good
    while low < high:
        middle = (low + high + 1) // 2
        if fits(points[first : middle + 1], within_mm):
            good = low = middle
        else:
            high = middle - 1
    return good


def _fits_line(points: Points, within_mm: float) -> bool:
    apart = points - _middle(points)
    across = _normal(apart)
    off = apart @ across
    if np.abs(off).max() > within_mm:
        return False
    # A flat bend stays near a line too, but its points lie to one side in the middle: noise does not.
    along = apart @ np.array([across[1], -across[0]])
    square = along**2 - float((along**2).mean())
    bend = float(off @ square) / max(float(square @ square), 1e-9)
    return abs(bend) * float(np.ptp(along)) ** 2 / 4 <= 0.5 * within_mm


def _middle(points: Points) -> Points:
    """Return the mean of points; asked thousands of times, where NumPy's own looks at its arguments for too long."""
    return np.asarray(np.add.reduce(points, axis=0) / len(points))


def _normal(apart: Points) -> Points:
    """Return the unit normal of the line nearest to points about their mean."""
    xx, xy, yy = float(apart[:, 0] @ apart[:, 0]), float(apart[:, 0] @ apart[:, 1]), float(apart[:, 1] @ apart[:, 1])
    angle = 0.5 * math.atan2(2 * xy, xx - yy)
    return np.array([-math.sin(angle), math.cos(angle)])


def _circle(points: Points) -> tuple[Points, float]:
    """Return centre and radius of the circle nearest to points about their mean (Kåsa 1976: algebraic)."""
    x, y = points.T
    square = x * x + y * y
    xx, xy, yy = float(x @ x), float(x @ y), float(y @ y)
    det = xx * yy - xy * xy
    if det <= 1e-9 * (xx + yy) ** 2:
        return np.zeros(2), math.inf
    p, q = float(x @ square) / 2, float(y @ square) / 2
    centre = np.array([(p * yy - q * xy) / det, (q * xx - p * xy) / det])
    return centre, math.sqrt(float(square.mean()) + float(centre @ centre))


def _fits_arc(points: Points, within_mm: float) -> bool:
    middle = _middle(points)
    centre, radius = _circle(points - middle)
    if not _LEAST_RADIUS_MM <= radius <= _MOST_RADIUS_MM:
        return False
    off = np.hypot(*(points - middle - centre).T) - radius
    return bool(np.abs(off).max() <= within_mm)


def _as_line(points: Points, first: int, last: int) -> Run:
    # The ends lie in corners that the lens has rounded: the line goes by what lies between.
    inner = points[first + 2 : last - 1] if last - first > 8 else points[first : last + 1]
    middle = inner.mean(axis=0)
    apart = inner - middle
    across = _normal(apart)
    along = np.array([across[1], -across[0]])
    ends = [middle + ((points[k] - middle) @ along) * along for k in (first, last)]
    return Run(first=first, last=last, start=tuple(map(float, ends[0])), end=tuple(map(float, ends[1])))  # type: ignore[arg-type]


def _as_arc(points: Points, first: int, last: int) -> Run | None:
    part = points[first : last + 1]
    middle = part.mean(axis=0)
    centre, radius = _circle(part - middle)
    centre = centre + middle
    angles = np.unwrap(np.arctan2(*(part - centre).T[::-1]))
    if abs(angles[-1] - angles[0]) < _LEAST_TURN:
        return None
    ends = [centre + radius * np.array([np.cos(a), np.sin(a)]) for a in (angles[0], angles[-1])]
    return Run(
        first=first,
        last=last,
        start=(float(ends[0][0]), float(ends[0][1])),
        end=(float(ends[1][0]), float(ends[1][1])),
        centre=(float(centre[0]), float(centre[1])),
        radius_mm=radius,
    )


def _arc_points(run: Run, part: Points) -> Points:
    centre = np.array(run.centre)
    angles = np.unwrap(np.arctan2(*(part - centre).T[::-1]))
    return np.asarray(centre + run.radius_mm * np.column_stack([np.cos(angles), np.sin(angles)]))


def _length(points: Points, first: int, last: int) -> float:
    return float(np.hypot(*np.diff(points[first : last + 1], axis=0).T).sum())


def _corner(before: Run, after: Run, count: int, *, at_end: bool = False) -> Points:
    """Return where two neighbouring straight runs cross, if both end near it; otherwise the end that was asked for."""
    own = np.array(before.end if at_end else after.start)
    gap = (after.first - before.last) % count
    if before.centre is not None or after.centre is not None or gap * _STEP_MM > 2 * _CORNER_REACH_MM:
        return own
    a, b, c, d = (np.array(one) for one in (before.start, before.end, after.start, after.end))
    first, second = b - a, d - c
    cross = first[0] * second[1] - first[1] * second[0]
    lengths = float(np.hypot(*first) * np.hypot(*second))
    if abs(cross) < 0.2 * lengths:
        return own
    share = ((c - a)[0] * second[1] - (c - a)[1] * second[0]) / cross
    corner = a + share * first
    near = max(np.hypot(*(corner - b)), np.hypot(*(corner - c)))
    return np.asarray(corner) if near <= _CORNER_REACH_MM and np.hypot(*(corner - own)) < 1.5 else own
