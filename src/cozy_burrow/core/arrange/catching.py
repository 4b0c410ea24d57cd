"""What a thing that is carried by hand catches on: a line of its neighbours' ends or middles, a gap like theirs.

Catch    a line that it came to lie on, or a gap that became like another, as it is to be shown
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import cache

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.arrange.beside import across_gap
from cozy_burrow.core.arrange.sliding import Floats, run_between, segments_of
from cozy_burrow.core.model.records import Point, Record

CATCH_MM = 1.5  # nearer than this, and a line or a gap was meant
_BESIDE_MM = 90.0  # farther neighbours do not draw
_SAME_MM = 0.05
_MOST_RUNS = 4096
_FACING = 0.4  # of the smaller one's breadth

Neighbours = tuple[tuple[int, float] | None, tuple[int, float] | None]  # the next thing before and after, and its gap
Beside = Callable[[int, int], Neighbours]  # of a thing along an axis


class Catch(Record, frozen=True):
    """From where to where it is drawn; gap_mm: of a gap, None of a line."""

    start: Point
    end: Point
    gap_mm: float | None = None


class Seen:
    """What an eye goes by: the things without their pulls, as bounds and rims; made once a gesture.

    What it has measured between two of them it keeps.
    """

    __slots__ = ("_runs", "bounds", "rims")

    def __init__(self, shapes: Sequence[BaseGeometry]) -> None:
        self.bounds: Floats = shapely.bounds(np.array(shapes, dtype=object)).reshape(-1, 4)
        self.rims = tuple([segments_of(shape, axis) for shape in shapes] for axis in (0, 1))
        self._runs: dict[tuple[int, int, int, float, float], tuple[float, float]] = {}

    def run(self, still: int, moving: int, by: tuple[float, float], axis: int) -> tuple[float, float]:
        """Return `run_between` two of them, the second shifted against the first by `by` from where they began.

        Kept: most of what is asked in a drag is how far those are apart that nobody moves.
        """
        key = (still, moving, axis, round(by[0], 4), round(by[1], 4))
        found = self._runs.get(key)
        if found is None:
            if len(self._runs) >= _MOST_RUNS:
                self._runs.clear()
            step = (key[4], key[3]) if axis == 0 else (key[3], key[4])  # rims are across, along
            moved = self.rims[axis][moving] + np.tile(step, 2)
            found = self._runs[key] = run_between(self.rims[axis][still], moved)
        return found


def caught(seen: Seen, shifts: Floats, to: Point) -> tuple[Point, tuple[Catch, ...]]:
    """Return the shift of the first thing at which it catches near `to`, and what it caught on there.

    seen: where they began. shifts (n, 2): where the others are now. Lines go before gaps where both are as near.
    """
    home = seen.bounds
    bounds = home + np.tile(shifts, 2)
    shift = [to[0], to[1]]

    @cache
    def beside(number: int, axis: int) -> Neighbours:  # of one that nobody carries: the same before and after the catch
        return _neighbours(seen, shifts, bounds, number, bounds[number], shifts[number].tolist(), axis)

    @cache
    def beside_it(x: float, y: float, axis: int) -> Neighbours:
        return _neighbours(seen, shifts, bounds, 0, home[0] + np.array((x, y, x, y)), (x, y), axis)

    for axis in (0, 1):
        mine = home[0] + np.tile(np.array(shift), 2)
        by = _to_line(bounds, mine, axis)
        even = _to_even_gap(beside_it(*shift, axis), beside, axis)
        if by is None or (even is not None and abs(even) < abs(by)):
            by = even
        shift[axis] += by or 0.0
    there = shift[0], shift[1]
    mine = home[0] + np.tile(np.array(shift), 2)
    found = [line for axis in (0, 1) for line in _lines(bounds, mine, axis)]
    for axis in (0, 1):
        found += _even_gaps(beside_it(*there, axis), beside, bounds, mine, axis)
    return there, tuple(found)


def _ends(bounds: Floats, axis: int) -> Floats:
    low, high = bounds[..., axis], bounds[..., axis + 2]
    return np.stack([low, high, (low + high) / 2])


def _near(bounds: Floats, mine: Floats, axis: int) -> NDArray[np.bool_]:
    """Return who is beside the carried thing, so that their ends may share a line along the axis."""
    across = 1 - axis
    between = np.maximum(bounds[:, across] - mine[across + 2], mine[across] - bounds[:, across + 2])
    near: NDArray[np.bool_] = between < _BESIDE_MM
    near[0] = False
    return near


def _to_line(bounds: Floats, mine: Floats, axis: int) -> float | None:
    others = bounds[_near(bounds, mine, axis)]
    if not len(others):
        return None
    away = _ends(others, axis) - _ends(mine, axis)[:, None]
    nearest = float(away.flat[int(np.abs(away).argmin())])
    return nearest if abs(nearest) <= CATCH_MM else None


def _lines(bounds: Floats, mine: Floats, axis: int) -> list[Catch]:
    """Return the lines that it lies on, each as long as all that lie on it."""
    near = _near(bounds, mine, axis)
    ends, own = _ends(bounds, axis), _ends(mine, axis)
    across = 1 - axis
    found = []
    for kind in range(3):
        on = near & (np.abs(ends[kind] - own[kind]) < _SAME_MM)
        if not on.any():
            continue
        start = min(float(mine[across]), float(bounds[on, across].min()))
        end = max(float(mine[across + 2]), float(bounds[on, across + 2].max()))
        at = float(own[kind])
        found.append(Catch((at, start), (at, end)) if axis == 0 else Catch((start, at), (end, at)))
    return found[:1]  # front and back and middle of things alike say the same


def _neighbours(
    seen: Seen,
    shifts: Floats,
    bounds: Floats,
    number: int,
    at: Floats,
    by: Sequence[float],
    axis: int,
) -> Neighbours:
    """Return (number, gap) of the next thing before and after one along an axis.

    at: its bounds. by: its shift from where it began.
    """
    across = 1 - axis
    shared = np.minimum(bounds[:, across + 2], at[across + 2]) - np.maximum(bounds[:, across], at[across])
    breadth = np.minimum(bounds[:, across + 2] - bounds[:, across], at[across + 2] - at[across])
    facing = shared >= _FACING * breadth
    facing[number] = False
    on_least, back_least = bounds[:, axis] - at[axis + 2], at[axis] - bounds[:, axis + 2]
    least = np.maximum(on_least, back_least)  # no gap between true shapes is less than that between their bounds
    facing &= least < _BESIDE_MM
    before: tuple[int, float] | None = None
    after: tuple[int, float] | None = None
    candidates = np.flatnonzero(facing)
    for n in candidates[np.argsort(least[candidates], kind="stable")].tolist():
        if (after is not None and on_least[n] > after[1]) or (before is not None and back_least[n] > before[1]):
            continue  # it lies behind the one that is known
        other_x, other_y = shifts[n].tolist()
        back, on = seen.run(n, number, (by[0] - other_x, by[1] - other_y), axis)
        if on < _BESIDE_MM and (after is None or (on, n) < after[::-1]):
            after = (n, on)
        if back < _BESIDE_MM and (before is None or (back, n) < before[::-1]):
            before = (n, back)
    return before, after


def _to_even_gap(own: Neighbours, beside: Beside, axis: int) -> float | None:
    """Return the least move that makes the gap on one side like the other, or like the one beyond the neighbour.

    own: who is beside the carried thing. beside: tells it of another one.
    """
    before, after = own
    moves: list[float] = []
    if before is not None and after is not None:
        moves.append((after[1] - before[1]) / 2)
    for one, sign in ((before, 1.0), (after, -1.0)):
        if one is None:
            continue
        n, gap = one
        beyond = beside(n, axis)[0 if sign > 0 else 1]
        if beyond is not None and beyond[0] != 0:
            moves.append(sign * (beyond[1] - gap))
    near = [move for move in moves if abs(move) <= CATCH_MM]
    return min(near, key=abs) if near else None


def _even_gaps(own: Neighbours, beside: Beside, bounds: Floats, mine: Floats, axis: int) -> list[Catch]:
    """Return the gaps beside it that are like each other or like the next one."""
    before, after = own
    found: list[Catch] = []
    if before is not None and after is not None and abs(before[1] - after[1]) < _SAME_MM:
        found += [_drawn(bounds[before[0]], mine, axis, before[1]), _drawn(mine, bounds[after[0]], axis, after[1])]
    for one, side in ((before, 0), (after, 1)):
        if one is None:
            continue
        n, gap = one
        beyond = beside(n, axis)[side]
        if beyond is None or beyond[0] == 0 or abs(beyond[1] - gap) >= _SAME_MM:
            continue
        pair = [(bounds[beyond[0]], bounds[n]), (bounds[n], mine)]
        for first, second in pair if side == 0 else [(two, first) for first, two in pair]:
            drawn = _drawn(first, second, axis, gap)
            if drawn not in found:
                found.append(drawn)
    return found


def _drawn(first: Floats, second: Floats, axis: int, gap_mm: float) -> Catch:
    return Catch(*across_gap(first.tolist(), second.tolist(), axis), round(gap_mm, 3))
