"""Rows of things that should share one trench: same direction, side by side, balance points in reach of one line."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

import numpy as np
from msgspec.structs import replace
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.geometry.placing import to_plan
from cozy_burrow.core.ground.grips import reach_in_row
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.model.records import FingerPull, Placement, Point
from cozy_burrow.core.pulls.areas import pull_area
from cozy_burrow.core.pulls.choose import axis_of
from cozy_burrow.core.pulls.reach import bottom_of, layers_for_fingers, wanted_depth
from cozy_burrow.core.pulls.rows import leaves_island
from cozy_burrow.core.pulls.trench import trench as trench_along
from cozy_burrow.core.pulls.trench import trench_line

LEAST_SERVED = 3  # things: two have a pair each, unless these have no room
_SAME_WAY_DEG = 8.0
_NEIGHBOUR_MM = 40.0  # between surfaces: a trench over a wider bridge is foam wasted
_IN_LINE_NEIGHBOUR_MM = 70.0
_SHORT_MM = 0.3  # by which a trench may end above what fingers want
_SHIFTS = tuple(
    sign * share / 8 for share in range(9) for sign in ((1, -1) if share else (1,))
)  # of the way to either end of what the row allows

Fits = Callable[[BaseGeometry, frozenset[str], int], bool]
Sits = Callable[[FingerPull], bool]


class Lying(Frozen):
    """A thing as it lies in the plan: its axis as an angle below 180, its balance point, how far off a grip may be."""

    __slots__ = ("angle_deg", "balance", "key", "placement", "pocket", "window_mm")

    def __init__(
        self, pocket: Pocket, placement: Placement, angle_deg: float, balance: Point, window_mm: float
    ) -> None:
        self.pocket, self.placement, self.key = pocket, placement, pocket.owner
        self.angle_deg, self.balance, self.window_mm = angle_deg, balance, window_mm

    def along(self, angle_deg: float) -> float:
        """Return the balance point's place along a direction."""
        angle = math.radians(angle_deg)
        return self.balance[0] * math.cos(angle) + self.balance[1] * math.sin(angle)


def lying(pocket: Pocket, placement: Placement, *, needs: bool) -> Lying:
    """Return how a thing lies; what needs no pull may be crossed anywhere."""
    axis = axis_of(pocket.local)
    angle = (axis.angle_deg + placement.angle_deg) % 180.0
    return Lying(pocket, placement, angle, to_plan(placement, axis.balance), axis.window_mm if needs else 1e4)


def _turned(first: Lying, second: Lying) -> float:
    return abs((first.angle_deg - second.angle_deg + 90.0) % 180.0 - 90.0)


def lines_up(one: Lying, other: Lying, along_mm: float) -> float | None:
    """Return where on `one` a pair lies in line with a neighbour's, which lies `along_mm` from its balance point.

    None where they do not lie side by side, or fingers could not hold it there.
    """
    if _turned(one, other) > _SAME_WAY_DEG / 2 or one.key == other.key:
        return None
    if one.pocket.surface.distance(other.pocket.surface) > _IN_LINE_NEIGHBOUR_MM:
        return None
    axis = axis_of(other.pocket.local)
    line_at = np.array(to_plan(other.placement, axis.at(along_mm)))
    mine = axis_of(one.pocket.local)
    direction = np.array(to_plan(one.placement, mine.at(1.0))) - np.array(to_plan(one.placement, mine.at(0.0)))
    along = float((line_at - np.array(one.balance)) @ direction)
    return along if abs(along) <= one.window_mm else None


def rows_in(things: Sequence[Lying]) -> list[list[Lying]]:
    """Return rows of things that one straight trench can cross within the window of each, side by side, in order."""
    rows: list[list[Lying]] = []
    for group in _same_way(things):
        across = group[0].angle_deg + 90.0
        for thing in sorted(group, key=lambda one: one.along(across)):
            row = next((row for row in rows if _joins(thing, row)), None)
            if row is None:
                rows.append([thing])
            else:
                row.append(thing)
    return [row for row in rows if len(row) >= LEAST_SERVED]


def _same_way(things: Sequence[Lying]) -> list[list[Lying]]:
    groups: list[list[Lying]] = []
    for thing in things:
        group = next((group for group in groups if _turned(thing, group[0]) <= _SAME_WAY_DEG), None)
        if group is None:
            groups.append([thing])
        else:
            group.append(thing)
    return groups


def _joins(thing: Lying, row: list[Lying]) -> bool:
    if _turned(thing, row[0]) > _SAME_WAY_DEG:
        return False
    if thing.pocket.surface.distance(row[-1].pocket.surface) > _NEIGHBOUR_MM:
        return False
    window = row_window([*row, thing])
    across = row[0].angle_deg + 90.0
    return window is not None and thing.along(across) - row[-1].along(across) > 1.0


def row_window(row: Sequence[Lying]) -> tuple[float, float] | None:
    """Return from where to where along the row's direction a trench may lie, or None where nowhere."""
    angle = row[0].angle_deg
    low = max(one.along(angle) - one.window_mm for one in row)
    high = min(one.along(angle) + one.window_mm for one in row)
    return (low, high) if low <= high else None


def trench_across(
    row: Sequence[Lying], needing: frozenset[str], ground: Ground, fits: Fits, most: int, sits: Sits
) -> tuple[FingerPull, tuple[str, ...]] | None:
    """Return the trench across a row nearest to all balance points, and which of those that need one it gives a hold.

    It keeps walls, edge and every island, and all that it crosses lies firm; None where no place does that, or where
    it would serve fewer than LEAST_SERVED.
    """
    window = row_window(row)
    if window is None:
        return None
    angle = row[0].angle_deg
    places = [one.along(angle) for one in row if one.key in needing]
    middle = min(max(float(np.median(places)), window[0]), window[1])
    best: tuple[FingerPull, tuple[str, ...]] | None = None
    for shift in _SHIFTS:
        at = middle + shift * ((window[1] - middle) if shift > 0 else (middle - window[0]))
        ends = trench_line((one.pocket.surface for one in row), axis_deg=angle, at_mm=at)
        trench = trench_along(ends, (one.key for one in row), ground.rules) if ends is not None else None
        if trench is None or not _stands(trench, row, ground, fits, most):
            continue
        trench = _no_deeper(trench, row, needing, ground, most)
        held = _held(trench, row, needing, ground, most)
        if len(held) >= LEAST_SERVED and (best is None or len(held) > len(best[1])) and sits(trench):
            best = trench, held
        if best is not None and len(best[1]) == len(places):
            break
    return best


def _stands(trench: FingerPull, row: Sequence[Lying], ground: Ground, fits: Fits, most: int) -> bool:
    area = pull_area(trench)
    depth = _depth(row, ground, most)
    if not fits(area, frozenset(trench.serves), depth):
        return False
    for number in range(depth):
        areas = [one.pocket.layers[number] for one in row if one.pocket.depth_layers > number]
        if leaves_island([*areas, area]):
            return False
    return True


def _depth(row: Sequence[Lying], ground: Ground, most: int) -> int:
    return min(most, max(layers_for_fingers(one.pocket, ground.layers) for one in row))


def _no_deeper(
    trench: FingerPull, row: Sequence[Lying], needing: frozenset[str], ground: Ground, most: int
) -> FingerPull:
    """Return the trench as deep as the deepest grip of those that need it; deeper, it takes floors away."""
    wanted = [wanted_depth(one.pocket.local, axis_of(one.pocket.local).balance) for one in row if one.key in needing]
    depth = _depth(row, ground, most)
    enough = next((n for n in range(1, depth) if bottom_of(ground.layers, n) >= max(wanted) - _SHORT_MM), depth)
    return replace(trench, layers=enough) if enough < depth else trench


def _held(
    trench: FingerPull, row: Sequence[Lying], needing: frozenset[str], ground: Ground, most: int
) -> tuple[str, ...]:
    bottom_mm = bottom_of(ground.layers, trench.layers or _depth(row, ground, most))
    lying_here = [(one.pocket, one.placement) for one in row]
    held = []
    for one in row:
        if one.key in needing:
            reach = reach_in_row(one.pocket, one.placement, trench, lying_here, bottom_mm, ground.rules)
            if not set(reach.troubles) - {"shallow"}:
                held.append(one.key)
    return tuple(held)
