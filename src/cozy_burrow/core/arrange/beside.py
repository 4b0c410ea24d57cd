"""Who lies beside whom along an axis, and what gap is between them: what an eye goes along when it judges a row.

RowGap   foam between two neighbours along an axis, where they face each other
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.arrange.sliding import run_between, segments_of
from cozy_burrow.core.model.records import Point, Record

NEAR_MM = 80.0  # farther apart, and no eye compares them
_FACING = 0.5  # of the smaller one's breadth that two neighbours face each other with
_INSIDE_ROW = 0.3  # of the smaller one's length by which two that stand beside each other may overlap along the axis


class RowGap(Record, frozen=True):
    """Of neighbours along an axis: their numbers, the nearer to its beginning first, and the foam between in mm.

    within: both are of one group. What stands together may stand closer than group and group; an eye compares like
    with like.
    """

    first: int
    second: int
    gap_mm: float
    within: bool = False


def gaps_along(shapes: Sequence[BaseGeometry], axis: int, groups: Sequence[str] = ()) -> list[RowGap]:
    """Return the gaps between next neighbours along an axis (0: x, 1: y); a third one between them parts two.

    The foam is taken where it is thinnest along the axis: what a rule laid across a row shows. groups: of the shapes.
    """
    if len(shapes) < 2:
        return []
    bounds = shapely.bounds(np.array(shapes, dtype=object)).reshape(-1, 4)
    facing = _facing(bounds, axis) & (bounds[None, :, axis] - bounds[:, None, axis + 2] < NEAR_MM)
    middle = bounds[:, axis] + bounds[:, axis + 2]
    facing &= middle[:, None] < middle[None]
    rims = [segments_of(shape, axis) for shape in shapes]
    gaps = np.full((len(shapes), len(shapes)), np.inf)
    for i, j in np.argwhere(facing).tolist():
        _, on = run_between(rims[j], rims[i])
        if on < NEAR_MM:
            gaps[i, j] = on
    parted = np.full_like(gaps, np.inf)  # the larger of both gaps to whoever stands between, the least of them
    for between in np.flatnonzero(np.isfinite(gaps).any(axis=0) & np.isfinite(gaps).any(axis=1)).tolist():
        np.minimum(parted, np.maximum(gaps[:, between, None], gaps[None, between]), out=parted)
    next_to = np.isfinite(gaps) & ~(parted < gaps)
    return [
        RowGap(i, j, float(gaps[i, j]), bool(groups) and bool(groups[i]) and groups[i] == groups[j])
        for i, j in np.argwhere(next_to).tolist()
    ]


def across_gap(first: Sequence[float], second: Sequence[float], axis: int) -> tuple[Point, Point]:
    """Return where the gap between two bounds is drawn: in the middle of what faces each other."""
    across = 1 - axis
    at = (float(max(first[across], second[across])) + float(min(first[across + 2], second[across + 2]))) / 2
    start, end = sorted((float(first[axis + 2]), float(second[axis])))
    return ((start, at), (end, at)) if axis == 0 else ((at, start), (at, end))


def _facing(bounds: NDArray[np.float64], axis: int) -> NDArray[np.bool_]:
    """Return which pairs face each other along an axis, and do not lie within each other's length."""
    across = 1 - axis
    low, high = bounds[:, across], bounds[:, across + 2]
    shared = np.minimum.outer(high, high) - np.maximum.outer(low, low)
    start, end = bounds[:, axis], bounds[:, axis + 2]
    within = np.minimum.outer(end, end) - np.maximum.outer(start, start)
    facing = shared >= _FACING * np.minimum.outer(high - low, high - low)
    found: NDArray[np.bool_] = facing & (within <= _INSIDE_ROW * np.minimum.outer(end - start, end - start))
    return found


def in_rows(shapes: Sequence[BaseGeometry], axis: int) -> NDArray[np.bool_]:
    """Return (n, n): who stands beside whom in a row across the axis, so that their ends may share a line along it."""
    bounds = shapely.bounds(np.array(shapes, dtype=object)).reshape(-1, 4)
    across = 1 - axis
    near = np.maximum.outer(bounds[:, across], bounds[:, across])
    near = near - np.minimum.outer(bounds[:, across + 2], bounds[:, across + 2]) < NEAR_MM
    low, high = bounds[:, axis], bounds[:, axis + 2]
    away = np.maximum.outer(low, low) - np.minimum.outer(high, high)
    start, end = bounds[:, across], bounds[:, across + 2]
    within = np.minimum.outer(end, end) - np.maximum.outer(start, start)
    beside = within <= _INSIDE_ROW * np.minimum.outer(end - start, end - start)
    found: NDArray[np.bool_] = near & beside & (away < NEAR_MM / 2)
    np.fill_diagonal(found, False)
    return found
