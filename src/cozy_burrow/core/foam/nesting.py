"""Blanks side by side: for a few of them, every small box that they go into together, and how they lie in it.

Cluster    some blanks laid together, with the box round them
Frontier   for a set of blanks, the clusters of which none is both wider and deeper than another

Clusters are joined two and two, beside or below each other, in every way, box to box: a saw cuts right through. With a
knife the true outlines of pairs are slid together until they touch, at heights where a corner of one meets a corner
of the other, so that a notch takes a neighbour's end; more than two are joined as boxes again (sliding those too took
minutes for eight odd blanks). For rectangles the frontier is exact up to four blanks (a pinwheel needs five).
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon

from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.model.vessels import Cutting
from cozy_burrow.core.progress import make_way

_SAME_MM = 1e-6
_MOST_OFFSETS = 16
_MOST_KEPT = 12  # clusters of one frontier that are joined on: the squarest ones
_BOXY = 0.97  # of its box filled: rounded corners give no room to a neighbour
_FEW = 16  # points of a ring: more are made fewer before sliding
_COARSE_MM = 0.4  # how far the coarse ring may stand off: as much as a knife wanders
MOST_TOGETHER = 6  # blanks tried on one board in every way: the ways grow threefold with each
FEW_TOGETHER = 4  # of more than MANY blanks, for the same reason; rows then lay as many as go
MANY = 8


class Cluster(Frozen):
    """Blanks laid together, back left at (0, 0): rings (n, 2) by their number in the order that was asked.

    boxes: whether all of them nearly fill their upright boxes: nothing is gained by sliding those.
    coarse: the rings with few points, each covering the true one.
    """

    __slots__ = ("boxes", "coarse", "depth_mm", "laid", "width_mm")

    def __init__(
        self,
        laid: tuple[tuple[int, NDArray[np.float64]], ...],
        coarse: tuple[NDArray[np.float64], ...],
        width_mm: float,
        depth_mm: float,
        boxes: bool,
    ) -> None:
        self.coarse = coarse
        self.laid, self.width_mm, self.depth_mm, self.boxes = laid, width_mm, depth_mm, boxes


class _Join(NamedTuple):
    """Two clusters, the second moved by dx, dy; across: with x and y exchanged."""

    width_mm: float
    depth_mm: float
    first: Cluster
    second: Cluster
    dx: float
    dy: float
    across: bool


class Nester:
    """Works out frontiers of sets of blanks, each once. Boxes larger than the largest board are left out."""

    def __init__(
        self,
        blanks: Sequence[Polygon],
        *,
        cutting: Cutting,
        kerf_mm: float,
        may_turn: bool,
        largest_mm: tuple[float, float],
    ) -> None:
        self._blanks = blanks
        self._cutting, self._kerf_mm, self._may_turn = cutting, kerf_mm if cutting == "saw" else 0.0, may_turn
        self._long, self._short = max(largest_mm) + 1e-6, min(largest_mm) + 1e-6
        self._known: dict[int, tuple[Cluster, ...]] = {}

    def frontier(self, chosen: int) -> tuple[Cluster, ...]:
        """Return the frontier of a set of blanks, given as bits of their numbers; empty where they go on no board."""
        known = self._known.get(chosen)
        if known is None:
            known = self._single(chosen) if chosen & (chosen - 1) == 0 else self._joined(chosen)
            self._known[chosen] = known
        return known

    def rows(self, numbers: Sequence[int], width_mm: float, depth_mm: float) -> Cluster | None:
        """Return as many of these blanks as go on a board in plain rows, deepest first; None where none goes.

        No search: for many small blanks, of which trying every set would take minutes.
        """
        shapes = [min(self._single(1 << n), key=lambda one: one.depth_mm, default=None) for n in numbers]
        known = sorted((one for one in shapes if one is not None), key=lambda one: (-one.depth_mm, -one.width_mm))
        laid: list[tuple[int, NDArray[np.float64]]] = []
        rows: list[list[float]] = []  # each: where its next blank begins, its back, its depth
        for one in known:
            for row in rows:
                if row[0] + one.width_mm <= width_mm + 1e-6 and one.depth_mm <= row[2] + 1e-6:
                    break
            else:
                back = rows[-1][1] + rows[-1][2] + self._kerf_mm if rows else 0.0
                if back + one.depth_mm > depth_mm + 1e-6 or one.width_mm > width_mm + 1e-6:
                    continue
                row = [0.0, back, one.depth_mm]
                rows.append(row)
            laid += [(n, ring + np.array([row[0], row[1]])) for n, ring in one.laid]
            row[0] += one.width_mm + self._kerf_mm
        return _cluster(tuple(laid), tuple(ring for _, ring in laid), boxes=True) if laid else None

    def _single(self, chosen: int) -> tuple[Cluster, ...]:
        number = chosen.bit_length() - 1
        blank = self._blanks[number]
        left, top, right, bottom = blank.bounds
        box = bool(blank.area >= (right - left) * (bottom - top) * _BOXY)
        both = (np.array(blank.exterior.coords)[:-1], np.array(_coarse(blank).exterior.coords)[:-1])
        turns = [both]
        if self._may_turn:
            turns.append((both[0][:, ::-1] * [1.0, -1.0], both[1][:, ::-1] * [1.0, -1.0]))
        if self._cutting == "knife" and not box:
            turns += [(-ring, -coarse) for ring, coarse in turns]
        found = [_cluster(((number, ring),), (coarse,), boxes=box) for ring, coarse in turns]
        return tuple(one for one in found if self._goes_on_a_board(one.width_mm, one.depth_mm))

    def _goes_on_a_board(self, width_mm: float, depth_mm: float) -> bool:
        return max(width_mm, depth_mm) <= self._long and min(width_mm, depth_mm) <= self._short

    def _joined(self, chosen: int) -> tuple[Cluster, ...]:
        lowest = chosen & -chosen
        found: list[_Join] = []
        part = (chosen - 1) & chosen
        while part:
            if part & lowest:
                for first in self.frontier(part):
                    for second in self.frontier(chosen ^ part):
                        make_way()
                        found += self._joins(first, second)
            part = (part - 1) & chosen
        return self._pruned(found)

    def _joins(self, first: Cluster, second: Cluster) -> list[_Join]:
        kerf = self._kerf_mm
        found = [
            _join(first, second, first.width_mm + kerf, 0.0, across=False),
            _join(first, second, first.depth_mm + kerf, 0.0, across=True),
        ]
        if self._cutting == "saw" or (first.boxes and second.boxes) or len(first.laid) + len(second.laid) > 2:
            return found
        for across in (False, True):
            right, left = _edges(first, across), _edges(second, across)
            deep, other = (first.width_mm, second.width_mm) if across else (first.depth_mm, second.depth_mm)
            ys = np.unique(np.round(np.subtract.outer(right[:, [1, 3]].ravel(), left[:, [1, 3]].ravel()), 3))
            ys = ys[np.abs(ys) < deep]
            for offset in (0.0, deep - other, *ys[:: max(1, -(-len(ys) // _MOST_OFFSETS))]):
                make_way()
                found.append(_join(first, second, _slide(right, left, float(offset)), float(offset), across=across))
        return found

    def _pruned(self, joins: list[_Join]) -> tuple[Cluster, ...]:
        small = [one for one in joins if self._goes_on_a_board(one.width_mm, one.depth_mm)]
        small.sort(key=lambda one: (round(one.width_mm, 6), round(one.depth_mm, 6)))
        kept: list[Cluster] = []
        for one in small:
            if not kept or one.depth_mm < kept[-1].depth_mm - _SAME_MM:
                kept.append(_made(one))
        if len(kept) > _MOST_KEPT and not all(one.boxes for one in kept):
            kept.sort(key=lambda one: max(one.width_mm, one.depth_mm))
            kept = sorted(kept[:_MOST_KEPT], key=lambda one: one.width_mm)
        return tuple(kept)


def _join(first: Cluster, second: Cluster, dx: float, dy: float, *, across: bool) -> _Join:
    w1, d1, w2, d2 = first.width_mm, first.depth_mm, second.width_mm, second.depth_mm
    if across:
        w1, d1, w2, d2 = d1, w1, d2, w2
    width = max(w1, dx + w2) - min(0.0, dx)
    depth = max(d1, dy + d2) - min(0.0, dy)
    return _Join(depth if across else width, width if across else depth, first, second, dx, dy, across)


def _made(join: _Join) -> Cluster:
    shift = np.array([join.dy, join.dx] if join.across else [join.dx, join.dy])
    moved = tuple((n, ring + shift) for n, ring in join.second.laid)
    coarse = tuple(ring + shift for ring in join.second.coarse)
    boxes = join.first.boxes and join.second.boxes
    return _cluster((*join.first.laid, *moved), (*join.first.coarse, *coarse), boxes=boxes)


def _cluster(
    laid: tuple[tuple[int, NDArray[np.float64]], ...], coarse: tuple[NDArray[np.float64], ...], *, boxes: bool
) -> Cluster:
    every = np.concatenate([ring for _, ring in laid])
    low, high = every.min(axis=0), every.max(axis=0)
    wide, deep = (float(value) for value in high - low)
    return Cluster(tuple((n, ring - low) for n, ring in laid), tuple(ring - low for ring in coarse), wide, deep, boxes)


def _coarse(blank: Polygon) -> Polygon:
    """Return an outline of few points that covers a blank and keeps its bounds: arcs of many chords cost time."""
    if shapely.get_num_coordinates(blank) <= _FEW:
        return blank
    wider = blank.buffer(_COARSE_MM, join_style="mitre").simplify(_COARSE_MM)
    found = wider.intersection(shapely.box(*blank.bounds))
    return found if isinstance(found, Polygon) else blank


def _edges(cluster: Cluster, across: bool) -> NDArray[np.float64]:
    """Return all edges as rows x0, y0, x1, y1; across: with x and y exchanged."""
    rows = []
    for ring in cluster.coarse:
        points = ring[:, ::-1] if across else ring
        rows.append(np.column_stack([points, np.roll(points, -1, axis=0)]))
    return np.concatenate(rows)


def _slide(first: NDArray[np.float64], second: NDArray[np.float64], offset: float) -> float:
    """Return how far right the second must stand so that it just touches the first, set `offset` farther to the front.

    Both outlines are straight between their corners, so the gap is smallest at the height of a corner of either.
    """
    shifted = second + np.array([0.0, offset, 0.0, offset])
    ys = np.unique(np.concatenate([first[:, [1, 3]].ravel(), shifted[:, [1, 3]].ravel()]))
    if len(ys) > 1:  # just inside each stretch too: a level edge ends there
        middles = (ys[:-1] + ys[1:]) / 2
        ys = np.concatenate([ys[:-1] + 1e-7, ys[1:] - 1e-7, middles])
    right, left = _reach(first, ys, 1.0), -_reach(shifted, ys, -1.0)
    both = np.isfinite(right) & np.isfinite(left)
    return float((right[both] - left[both]).max()) if both.any() else -1e9


def _reach(edges: NDArray[np.float64], ys: NDArray[np.float64], side: float) -> NDArray[np.float64]:
    """Return how far the edges reach to one side at each height; -inf where there is nothing."""
    x0, y0, x1, y1 = (edges[:, n, None] for n in range(4))
    low, high = np.minimum(y0, y1), np.maximum(y0, y1)
    steep = np.where(np.abs(y1 - y0) < 1e-12, 1.0, y1 - y0)
    x = x0 + (x1 - x0) * (ys[None, :] - y0) / steep
    met = (ys[None, :] >= low) & (ys[None, :] <= high) & (high - low > 1e-12)
    found: NDArray[np.float64] = np.where(met, side * x, -np.inf).max(axis=0)
    return found
