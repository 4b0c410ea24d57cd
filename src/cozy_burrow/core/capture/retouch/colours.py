"""Where a thing on the bench changes its colour: the line at which two items touch, or a handle ends.

A picture does not say which of the two it is, so this only proposes where the marks could stand.
"""

from __future__ import annotations

import math

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString, Polygon

from cozy_burrow.core.model.records import Point

Pixels = NDArray[np.uint8]
_RIM_MM = 1.0  # shaded, or of what lies beside it
_MOST_POINTS = 12_000
_LEVEL_COUNTS = 0.4  # gleam and shade change how bright a thing is, and not its hue
_FEWEST, _LEAST_SHARE = 300, 0.06
_LEAST_APART, _LEAST_SPREADS = 0.06, 2.2  # of full colour; of how far either colour spreads
_MOST_ASTRAY = 0.08  # of all points, on the other colour's side of the line
_STEP_DEG = 3.0
_NEARLY, _TRIED = 0.03, 9  # of the area: lines so little worse than the best one, and how many of those
_WAY_COSTS_MM = 1.0  # a millimetre of the line through the thing, in square millimetres on the wrong side
_BESIDE_MM = 3.0


def colours_meet(shape: Polygon, pixels: Pixels, origin_mm: Point, cell_mm: float) -> tuple[Point, Point] | None:
    """Return the ends of the straight line at which a thing's two colours meet; None where it has no two.

    shape: what the thing covers in the picture, mm. pixels: (rows, columns, 3), the first cell at origin_mm.
    """
    places, colours = _inside(shape, pixels, origin_mm, cell_mm)
    if len(places) < _FEWEST:
        return None
    other = _two_colours(colours)
    if other is None:
        return None
    normal, along = _parting_line(shape, places, other)
    aside = places @ normal - along
    astray = float(((aside > 0) != other).mean())
    if min(astray, 1 - astray) > _MOST_ASTRAY:
        return None
    return _ends(shape, normal, along, aside, places, other)


def _inside(
    shape: Polygon, pixels: Pixels, origin_mm: Point, cell_mm: float
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return places (n, 2) evenly within a shape, and their colours (n, 3)."""
    inner = shape.buffer(-_RIM_MM)
    if inner.is_empty:
        return np.empty((0, 2)), np.empty((0, 3))
    left, top, right, bottom = inner.bounds
    step = max(cell_mm, math.sqrt(inner.area / _MOST_POINTS))
    grid = np.stack(np.meshgrid(np.arange(left, right, step), np.arange(top, bottom, step)), axis=-1).reshape(-1, 2)
    places = grid[shapely.contains_xy(inner, grid[:, 0], grid[:, 1])]
    rows, columns = pixels.shape[:2]
    column, row = (((places[:, k] - origin_mm[k]) / cell_mm).astype(int) for k in (0, 1))
    seen = (column >= 0) & (row >= 0) & (column < columns) & (row < rows)
    return places[seen], pixels[row[seen], column[seen]].astype(float) / 255.0


def _two_colours(colours: NDArray[np.float64]) -> NDArray[np.bool_] | None:
    """Return which of some colours (n, 3) are of the second kind; None where they are all of one.

    They are parted where they differ most: along their main axis, at the place that leaves each side least spread
    (Otsu's threshold).
    """
    level = colours.mean(axis=1, keepdims=True)
    seen = np.hstack([colours - level, _LEVEL_COUNTS * level])
    seen -= seen.mean(axis=0)
    axis = np.linalg.svd(seen, full_matrices=False)[2][0]
    value = seen @ axis
    counts, edges = np.histogram(value, bins=96)
    share = np.cumsum(counts) / counts.sum()
    middles = (edges[:-1] + edges[1:]) / 2
    mean = np.cumsum(counts * middles) / counts.sum()
    between = (mean[-1] * share - mean) ** 2 / np.maximum(share * (1 - share), 1e-9)
    between[(share < _LEAST_SHARE) | (share > 1 - _LEAST_SHARE)] = 0.0
    other = value > edges[int(between.argmax()) + 1]
    if not _LEAST_SHARE <= float(other.mean()) <= 1 - _LEAST_SHARE:
        return None
    first, second = value[~other], value[other]
    apart = float(np.median(second) - np.median(first))
    spread = max(float(np.median(np.abs(one - np.median(one)))) * 1.48 for one in (first, second))
    return np.asarray(other) if apart > max(_LEAST_APART, _LEAST_SPREADS * spread) else None


def _parting_line(
    shape: Polygon, places: NDArray[np.float64], other: NDArray[np.bool_]
) -> tuple[NDArray[np.float64], float]:
    """Return the line, its normal and how far along that it lies, that parts the colours best.

    That has the least area on the wrong side and the least way through the thing: things touch where it is narrow.
    """
    best = (math.inf, np.array([1.0, 0.0]), 0.0)
    a_point_mm2 = shape.area / len(places)
    total, count = int(other.sum()), len(other)
    for turn_deg in np.arange(0.0, 180.0, _STEP_DEG):
        normal = np.array([math.cos(math.radians(turn_deg)), math.sin(math.radians(turn_deg))])
        far = places @ normal
        order = np.argsort(far)
        before = np.cumsum(other[order])  # of the second kind, on the near side
        wrong = before + (count - np.arange(1, count + 1)) - (total - before)
        wrong = np.minimum(wrong, count - wrong)[:-1] * a_point_mm2
        near = np.flatnonzero(wrong < wrong.min() + _NEARLY * shape.area)
        for at in np.unique(near[np.linspace(0, len(near) - 1, _TRIED).astype(int)]).tolist():
            along = float(far[order[at : at + 2]].mean())
            cost = float(wrong[at]) + _WAY_COSTS_MM * float(_line(shape, normal, along).intersection(shape).length)
            if cost < best[0]:
                best = (cost, normal, along)
    return best[1], best[2]


def _line(shape: Polygon, normal: NDArray[np.float64], along: float) -> LineString:
    """Return a line as far as any shape of that size reaches."""
    left, top, right, bottom = shape.bounds
    way = np.array([-normal[1], normal[0]])
    middle = normal * along + way * float(np.dot(way, ((left + right) / 2, (top + bottom) / 2)))
    reach = math.hypot(right - left, bottom - top)
    return LineString([middle - reach * way, middle + reach * way])


def _ends(
    shape: Polygon,
    normal: NDArray[np.float64],
    along: float,
    aside: NDArray[np.float64],
    places: NDArray[np.float64],
    other: NDArray[np.bool_],
) -> tuple[Point, Point] | None:
    """Return the ends of the line in the shape, from the first crossing that parts colours to the last."""
    way = np.array([-normal[1], normal[0]])
    middle = normal * along
    crossings = shapely.get_parts(shape.intersection(_line(shape, normal, along)))
    down = places @ way
    spots: list[float] = []
    for one in crossings:
        ends = shapely.get_coordinates(one) @ way
        first, last = float(ends.min()), float(ends.max())
        near = (down > first - 0.5) & (down < last + 0.5) & (np.abs(aside) < _BESIDE_MM)
        sides = [other[near & (aside > 0)], other[near & (aside < 0)]]
        if all(len(side) for side in sides) and abs(float(sides[0].mean()) - float(sides[1].mean())) > 0.5:
            spots += [first, last]
    if not spots:
        return None
    start, end = (middle + spot * way for spot in (min(spots), max(spots)))
    return (float(start[0]), float(start[1])), (float(end[0]), float(end[1]))
