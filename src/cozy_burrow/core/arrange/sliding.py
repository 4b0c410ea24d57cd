"""How far things may slide along one axis before the foam between them gets too thin, all of them at once.

Run       how far one shape may slide along an axis until it meets another: measured on the true shapes
Sliding   what every pair, the edge of the bed and what is fixed in it allow: bounds on differences of slides

With all else kept, whether two things keep their wall depends on the difference of their slides alone, and it may lie
anywhere in one interval round nought. A system of such bounds has an answer exactly where no ring of them adds up to
less than nothing, and the shortest paths between its unknowns are the tightest bounds that follow from it. Source:
Bellman 1958; Cormen, Leiserson, Rivest, Stein: Introduction to Algorithms, difference constraints.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.arrange.contacts import Body
from cozy_burrow.core.arrange.pieces import Bed, wanted_among
from cozy_burrow.core.progress import make_way

Floats = NDArray[np.float64]
_INSIDE_MM = 0.001  # walls are drawn by so much thinner: what only just keeps them does not count as touching
_SPARE_MM = 0.02  # kept of every run: arcs of walls are drawn with corners
_THIN_MM = 0.01
_UPRIGHT_MM = 1e-9


def segments_of(shape: BaseGeometry, axis: int) -> Floats:
    """Return every straight stretch of a shape's rim as (n, 4): across, along, across, along; axis: 0 x, 1 y."""
    rings = shapely.get_rings(shapely.get_parts(shape))
    points, ring = shapely.get_coordinates(rings, return_index=True)
    if axis == 0:
        points = points[:, ::-1]
    same = ring[1:] == ring[:-1]
    found: Floats = np.hstack([points[:-1][same], points[1:][same]])
    return found


def run_between(still: Floats, moving: Floats) -> tuple[float, float]:
    """Return how far `moving` may slide back and on along the axis until it meets `still`; inf where it never does.

    Both as `segments_of` gives them, and apart. Where they first meet a corner of one meets a stretch of the other.
    """
    apart = np.concatenate([_apart(moving[:, :2], still), -_apart(still[:, :2], moving)])
    on, back = apart[apart >= 0], -apart[apart <= 0]
    return float(back.min(initial=np.inf)), float(on.min(initial=np.inf))


def _apart(corners: Floats, stretches: Floats) -> Floats:
    """Return how far along the axis each corner is from each stretch that lies there."""
    first, last = stretches[:, 0], stretches[:, 2]
    low, high = np.minimum(first, last), np.maximum(first, last)
    across = corners[:, :1]
    there = (low <= across) & (across <= high) & (high - low > _UPRIGHT_MM)
    corner, stretch = there.nonzero()  # few of all: only these are worked out
    first, start, last, end = stretches[stretch].T
    across, along = corners[corner].T
    found: Floats = start + (across - first) / (last - first) * (end - start) - along
    return found


class Sliding:
    """Bounds on how far bodies slide along one axis. most[i, j]: j may slide at most so much farther on than i.

    The last row and column are the foam itself, which stays. Bodies must be valid where they lie.
    """

    def __init__(self, bodies: Sequence[Body], bed: Bed, *, axis: int) -> None:
        self.axis, self.count = axis, len(bodies)
        count = len(bodies)
        self.most: Floats = np.full((count + 1, count + 1), np.inf)
        np.fill_diagonal(self.most, 0.0)
        self._among(bodies)
        self._in_bed(bodies, bed)
        self.pairs = self.most.copy()  # before anything follows from anything: what a programme needs as rows
        for middle in range(count + 1):
            np.minimum(self.most, self.most[:, middle, None] + self.most[None, middle], out=self.most)

    def _among(self, bodies: Sequence[Body]) -> None:
        if len(bodies) < 2:
            return
        wanted = wanted_among([body.form for body in bodies])
        across = 1 - self.axis
        bounds = shapely.bounds(np.array([body.shape for body in bodies], dtype=object)).reshape(-1, 4)
        low, high = bounds[:, across], bounds[:, across + 2]
        overlap = (low[:, None] - wanted < high[None]) & (low[None] - wanted < high[:, None])
        bare = [segments_of(body.shape, self.axis) for body in bodies]
        walled: dict[tuple[int, float], Floats] = {}
        for i, j in np.argwhere(np.triu(overlap, 1)).tolist():
            make_way()
            key = (i, round(float(wanted[i, j]), 6))
            if key not in walled:
                walled[key] = segments_of(_walled(bodies[i].shape, key[1]), self.axis)
            back, on = run_between(walled[key], bare[j])
            self._bound(i, j, back, on)

    def _in_bed(self, bodies: Sequence[Body], bed: Bed) -> None:
        foam = self.count
        edge = None if bed.is_box else segments_of(bed.area, self.axis)
        walled: dict[tuple[int, float], Floats] = {}
        for n, body in enumerate(bodies):
            bounds, own = body.shape.bounds, segments_of(body.shape, self.axis)
            back = bounds[self.axis] - bed.room[self.axis]
            on = bed.room[self.axis + 2] - bounds[self.axis + 2]
            self._bound(foam, n, back, on)
            if edge is not None:
                self._bound(foam, n, *run_between(edge, own))
            for number, (area, wall_mm) in enumerate(bed.fixed):
                wanted = bed.wanted(body.form, wall_mm)
                key = (number, round(wanted, 6))
                if key not in walled:
                    walled[key] = segments_of(_walled(area, wanted), self.axis)
                self._bound(foam, n, *run_between(walled[key], own))

    def _bound(self, first: int, second: int, back: float, on: float) -> None:
        """Let the second slide at most `back` and `on` against the first."""
        self.most[first, second] = min(self.most[first, second], max(0.0, on - _SPARE_MM))
        self.most[second, first] = min(self.most[second, first], max(0.0, back - _SPARE_MM))

    def may_tie(self, first: int, second: int, by: float) -> bool:
        """Return whether the second may slide by exactly so much more than the first."""
        return bool(-self.most[second, first] <= by <= self.most[first, second])

    def tie(self, first: int, second: int, by: float) -> None:
        """Let the second slide by exactly so much more than the first, from now on; `may_tie` must have said so."""
        self._at_most(first, second, by)
        self._at_most(second, first, -by)

    def within(self, first: int, second: int, on: float) -> None:
        """Let the second slide at most so much farther on than the first, where that leaves any answer."""
        if on >= -self.most[second, first]:
            self._at_most(first, second, on)

    def _at_most(self, first: int, second: int, on: float) -> None:
        self.pairs[first, second] = min(self.pairs[first, second], on)
        if on < self.most[first, second]:
            through = self.most[:, first, None] + on + self.most[None, second]
            np.minimum(self.most, through, out=self.most)

    def rows(self) -> tuple[NDArray[np.int64], NDArray[np.int64], Floats]:
        """Return (first, second, most): every bound that was measured or tied; the foam is number `count`."""
        first, second = np.nonzero(np.isfinite(self.pairs))
        off = first != second
        first, second = first[off], second[off]
        return first, second, self.pairs[first, second]


def _walled(shape: BaseGeometry, wall_mm: float) -> BaseGeometry:
    grown: BaseGeometry = shape.buffer(max(0.0, wall_mm - _INSIDE_MM), quad_segs=12).simplify(_THIN_MM)
    return grown
