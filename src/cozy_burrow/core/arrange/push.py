"""One thing is carried, its neighbours make way: as little as it takes, never through a wall, back home when they can.

Sled     a thing with its own pulls, or a whole row that shares a trench: it slides, it does not turn
Home     where a sled lay when the carrying began; two that are both at home are left in peace
Sixty sleds must make way within a frame, so they are looked at with thinned outlines and a margin for that.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.arrange.catching import Catch, Seen, caught
from cozy_burrow.core.arrange.contacts import Body
from cozy_burrow.core.arrange.pieces import Bed, wanted_among
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Point

_THIN_MM = 0.1  # outlines are thinned by this; walls are kept wider by twice as much
_MORE_MM = 0.02  # beyond that, so that rounding does not bring the next push
_MOST_PUSHES = 90
_LONGEST_MM = 8.0  # one push: a sled that is run over leaves in several

Floats = NDArray[np.float64]


class Sleds:
    """Everything in an insert while one sled, the first, is carried. `shifts` tells where each is from home."""

    def __init__(
        self,
        bodies: Sequence[Body],
        bed: Bed,
        *,
        locked: frozenset[int] = frozenset(),
        seen: Sequence[BaseGeometry] = (),
    ) -> None:
        """seen: what an eye lines up of each, its pockets without the pulls; nothing: the whole bodies."""
        self._bed, self._locked = bed, locked
        self._seen = Seen(seen or [body.shape for body in bodies])
        self._true = [body.shape for body in bodies]
        thin = [_thinned(body) for body in bodies]
        self._thin: list[BaseGeometry] = thin
        self._home = shapely.bounds(np.array(self._true, dtype=object)).reshape(-1, 4)
        count = len(bodies)
        self._wanted = wanted_among([body.form for body in bodies]) + 2 * _THIN_MM
        self._to_fixed = [[bed.wanted(body.form, wall) for _, wall in bed.fixed] for body in bodies]
        self.shifts = np.zeros((count, 2))
        self._now: list[BaseGeometry] = list(thin)
        shapely.prepare(bed.area)

    def carry(self, to: Point) -> bool:
        """Move the carried sled to a shift from its home; the others make way. Return whether there was room.

        Where there was none the others lie as before, and the carried one where the hand holds it.
        """
        before = self.shifts.copy()
        shapes = list(self._now)
        self._place(0, np.array(to))
        if self._may_be(0) and self._settle():
            return True
        self.shifts, self._now = before, shapes
        self._place(0, np.array(to))
        return False

    def snapped(self, to: Point) -> tuple[Point, tuple[Catch, ...]]:
        """Return a shift of the carried sled at which it catches on a line or a gap of the others, and on what."""
        return caught(self._seen, self.shifts, to)

    def put(self, shifts: Floats) -> None:
        """Put all sleds where they were at another time."""
        for n in range(len(shifts)):
            self._place(n, shifts[n])

    def _place(self, n: int, shift: Floats) -> None:
        shift = np.round(shift, 4)
        self.shifts[n] = shift
        self._now[n] = self._thin[n] if not shift.any() else shapely.transform(self._thin[n], lambda p: p + shift)

    def _settle(self) -> bool:
        self._go_home()
        waiting: deque[int] = deque([0, *(n for n in range(1, len(self._now)) if self.shifts[n].any())])
        rank = {0: 0}  # who was disturbed earlier stays, who comes later makes way
        pushes = 0
        while waiting:
            n = waiting.popleft()
            for other, lacking in self._lacking(n):
                later = len(rank)
                still, mover = (n, other) if rank.get(n, later) <= rank.get(other, later) else (other, n)
                pushes += 1
                if mover == 0 or mover in self._locked or pushes > _MOST_PUSHES:
                    return False
                if not self._push(mover, still, lacking):
                    return False
                rank.setdefault(still, len(rank))
                rank.setdefault(mover, len(rank))
                waiting.append(mover)
                if mover == n:
                    break
                if self._short(n, mover) > 0:
                    waiting.append(n)
        return True

    def _go_home(self) -> None:
        """Let those that were pushed before go home where nobody is in the way."""
        away = np.hypot(self.shifts[:, 0], self.shifts[:, 1])
        for n in np.argsort(away, kind="stable").tolist():
            if n == 0 or away[n] == 0:
                continue
            pushed_to = self.shifts[n].copy()
            self._place(n, np.zeros(2))
            if self._lacking(n):
                self._place(n, pushed_to)

    def _near(self, n: int) -> NDArray[np.int64]:
        bounds = self._home + np.tile(self.shifts, 2)
        reach = self._wanted[n]
        near = (
            (bounds[:, 0] - reach < bounds[n, 2])
            & (bounds[:, 2] + reach > bounds[n, 0])
            & (bounds[:, 1] - reach < bounds[n, 3])
            & (bounds[:, 3] + reach > bounds[n, 1])
        )
        near[n] = False
        if not self.shifts[n].any():
            near &= self.shifts.any(axis=1)  # two at home are left in peace
        return np.flatnonzero(near)

    def _lacking(self, n: int) -> list[tuple[int, float]]:
        """Return (other, missing wall) of those that a sled stands too near to, the worst first."""
        near = self._near(n)
        if not len(near):
            return []
        gaps = shapely.distance(self._now[n], np.array([self._now[m] for m in near.tolist()], dtype=object))
        short = self._wanted[n, near] - gaps
        order = np.argsort(-short, kind="stable")
        return [(int(near[at]), float(short[at])) for at in order.tolist() if short[at] > 0]

    def _short(self, n: int, other: int) -> float:
        return float(self._wanted[n, other] - shapely.distance(self._now[n], self._now[other]))

    def _push(self, mover: int, still: int, lacking: float) -> bool:
        gap = float(self._wanted[mover, still] - lacking)
        if gap > 1e-6:
            ends = shapely.get_coordinates(shapely.shortest_line(self._now[still], self._now[mover]))
            way = (ends[1] - ends[0]) / gap
        else:
            a, b = self._now[still].centroid, self._now[mover].centroid
            way = np.array([b.x - a.x, b.y - a.y])
            length = float(np.hypot(way[0], way[1]))
            way = way / length if length > 1e-9 else np.array([1.0, 0.0])
        step = min(lacking + _MORE_MM, _LONGEST_MM)
        start = self.shifts[mover].copy()
        for move in (way * step, *_slides(way, step)):
            self._place(mover, start + move)
            if self._may_be(mover):
                return True
        self._place(mover, start)
        return False

    def _may_be(self, n: int) -> bool:
        """Return whether a sled lies in the bed, clear of what is fixed. Exact."""
        left, top, right, bottom = self._home[n] + np.tile(self.shifts[n], 2)
        room = self._bed.room
        slack = 1e-9
        if left < room[0] - slack or top < room[1] - slack or right > room[2] + slack or bottom > room[3] + slack:
            return False
        if self._bed.is_box and not self._bed.fixed:
            return True
        shift = self.shifts[n]
        shape = shapely.transform(self._true[n], lambda points: points + shift)
        if not self._bed.is_box and not self._bed.area.covers(shape):
            return False
        return all(
            float(shapely.distance(shape, area)) >= wanted
            for (area, _), wanted in zip(self._bed.fixed, self._to_fixed[n])
        )


@memo(rows=1024)
def _thinned(body: Body) -> BaseGeometry:
    return body.shape.simplify(_THIN_MM)


def _slides(way: Floats, step: float) -> list[Floats]:
    """Return moves along one axis that still lead away: what a sled at an edge does."""
    found: list[Floats] = []
    for axis in (0, 1):
        if abs(way[axis]) > 0.15:
            move = np.zeros(2)
            move[axis] = min(_LONGEST_MM, step / abs(way[axis])) * np.sign(way[axis])
            found.append(move)
    return sorted(found, key=lambda move: float(np.abs(move).sum()))
