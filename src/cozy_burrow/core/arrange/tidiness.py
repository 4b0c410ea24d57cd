"""Two wishes that an eye has first: ends of neighbours on common lines, and even gaps along a row.

lines   ends or middles share lines, and few of them           figure: share of things that share one
gaps    next gaps along a row are equal                        figure: share that are, within a millimetre
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from cozy_burrow.core.arrange.beside import RowGap, across_gap, gaps_along, in_rows
from cozy_burrow.core.arrange.sliding import Floats
from cozy_burrow.core.arrange.wishes import Aims, Line, Lying, Wish

ON_LINE_MM = 0.5  # nearer, and nobody sees that two ends miss each other
EVEN_MM = 1.0  # the same of two gaps
_UNEVEN_MM = 6.0  # so much between two gaps, and they count as half even


def lines(lying: Sequence[Lying], aims: Aims, *, picture: bool = True) -> Wish:
    """Return how far things share lines of front ends, back ends or middles.

    Half of the score is the share of things that share one with a neighbour in their row, half how few lines all of
    them need: two rows one behind the other on two lines are calmer than two that miss each other.
    """
    if len(lying) < 2:
        return Wish("lines", None)
    shapes = [one.shape for one in lying]
    bounds = shapely.bounds(np.array(shapes, dtype=object)).reshape(-1, 4)
    shares = np.zeros(len(lying), dtype=bool)
    has_neighbour = np.zeros(len(lying), dtype=bool)
    drawn: list[Line] = []
    for axis in (0, 1):
        beside = in_rows(shapes, axis)
        has_neighbour |= beside.any(axis=1)
        low, high = bounds[:, axis], bounds[:, axis + 2]
        for ends in (low, high, (low + high) / 2):
            on_line = beside & (np.abs(np.subtract.outer(ends, ends)) <= ON_LINE_MM)
            shares |= on_line.any(axis=1)
            if picture:
                drawn += _common(on_line, ends, bounds, axis)
    counted = int(has_neighbour.sum())
    if not counted:
        return Wish("lines", None)
    if picture:
        drawn += [_own_front(bounds[n], aims) for n in np.flatnonzero(has_neighbour & ~shares).tolist()]
    share = float((shares & has_neighbour).sum() / counted)
    few = 1.0 - (_lines_needed(bounds) - 1) / (len(lying) - 1)
    return Wish("lines", (share + few) / 2, share, lines=drawn)


def _lines_needed(bounds: Floats) -> int:
    """Return how few lines there are such that each thing has an end or its middle on one; by taking the fullest."""
    bounds = bounds[np.lexsort(np.round(bounds, 1).T)]  # two lines may be as full: the same comes first in any order
    ends = [np.stack([bounds[:, a], bounds[:, a + 2], (bounds[:, a] + bounds[:, a + 2]) / 2], axis=1) for a in (0, 1)]
    beyond = [one[None] - one.reshape(-1, 1, 1) for one in ends]  # of every end behind every line
    on = np.concatenate([((one >= 0) & (one <= ON_LINE_MM)).any(axis=2) for one in beyond])
    waiting = np.ones(len(bounds), dtype=bool)
    count = 0
    while waiting.any():
        waiting &= ~on[int((on & waiting).sum(axis=1).argmax())]
        count += 1
    return count


def _common(on_line: NDArray[np.bool_], ends: Floats, bounds: Floats, axis: int) -> list[Line]:
    """Return each line from where its first thing begins to where its last one ends."""
    from scipy.sparse.csgraph import connected_components

    across = 1 - axis
    count, part = connected_components(on_line, directed=False)
    found: list[Line] = []
    for number in range(count):
        on = np.flatnonzero(part == number)
        if len(on) < 2:
            continue
        at = float(np.median(ends[on]))
        start, end = float(bounds[on, across].min()), float(bounds[on, across + 2].max())
        found.append(((start, at), (end, at), True) if axis == 1 else ((at, start), (at, end), True))
    return found


def _own_front(bounds: Floats, aims: Aims) -> Line:
    """Return the end nearest to the hand of a thing that shares no line, as a line of its own."""
    left, top, right, bottom = (float(one) for one in bounds)
    match aims.hand:
        case "front":
            return (left, bottom), (right, bottom), False
        case "back":
            return (left, top), (right, top), False
        case "left":
            return (left, top), (left, bottom), False
        case _:
            return (right, top), (right, bottom), False


def gaps(lying: Sequence[Lying], aims: Aims) -> Wish:
    """Return how even gaps are that follow each other along a row, in both directions of the plan.

    Those within a group are compared with each other, and those between groups.
    """
    shapes = [one.shape for one in lying]
    met: list[float] = []
    drawn: list[Line] = []
    for axis in (0, 1):
        found = gaps_along(shapes, axis, [one.facts.group for one in lying])
        fine: dict[RowGap, bool] = {}
        next_to: dict[tuple[int, bool], list[RowGap]] = {}
        for gap in found:
            next_to.setdefault((gap.first, gap.within), []).append(gap)
        for first, second in ((one, two) for one in found for two in next_to.get((one.second, one.within), ())):
            unlike = abs(first.gap_mm - second.gap_mm)
            met.append(1.0 if unlike <= EVEN_MM else 1.0 / (1.0 + (unlike / _UNEVEN_MM) ** 2))
            for one in (first, second):
                fine[one] = fine.get(one, False) or unlike <= EVEN_MM
        drawn += [
            (*across_gap(shapes[one.first].bounds, shapes[one.second].bounds, axis), is_fine)
            for one, is_fine in fine.items()
        ]
    if not met:
        return Wish("gaps", None)
    even = sum(one == 1.0 for one in met) / len(met)
    return Wish("gaps", sum(met) / len(met), even, lines=drawn)
