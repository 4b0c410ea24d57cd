"""What a fitter wishes of a layout, each as a score from 0 to 1 with its figure, and the styles that weigh them.

together   things of a group lie side by side             figure: mm between neighbours of a group
rows       sets lie in rows, sorted by size               figure: share of neighbours in size that are so in place
aligned    axes lie in few directions                     figure: share of length along the two main ones
lines      ends of neighbours share lines                 figure: share of things that share one (`tidiness`)
gaps       gaps along a row are even                      figure: share of next gaps that are equal (`tidiness`)
symmetry   left and right are alike                       figure: share of pockets that mirror (`symmetry`)
at_hand    what is used more lies nearer to the hand      figure: share of pairs in the right order
handles    handles point towards the hand                 figure: share that does
balance    weight lies where the handle (or middle) is    figure: mm that it lies off
room       what is left over is one area                  figure: mm² of the largest rectangle in it
Hard rules are no wishes: whatever is scored here keeps them.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping, Sequence
from typing import Literal, get_args

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.arrange.facts import Facts
from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.model.records import Point, Record
from cozy_burrow.core.model.vessels import Side

WishName = Literal["together", "rows", "aligned", "lines", "gaps", "symmetry", "at_hand", "handles", "balance", "room"]
StyleName = Literal["tidy", "tight", "balanced"]
WISHES: tuple[WishName, ...] = get_args(WishName)
STYLES: dict[StyleName, dict[WishName, float]] = {
    "tidy": {
        "together": 3,
        "rows": 4,
        "aligned": 4,
        "lines": 4,
        "gaps": 2,
        "symmetry": 0,
        "at_hand": 2,
        "handles": 1,
        "balance": 0.5,
        "room": 1.5,
    },
    "tight": {
        "together": 1,
        "rows": 0.5,
        "aligned": 0.5,
        "lines": 0.5,
        "gaps": 0,
        "symmetry": 0,
        "at_hand": 0.5,
        "handles": 0.2,
        "balance": 0,
        "room": 8,
    },
    "balanced": {
        "together": 2,
        "rows": 2,
        "aligned": 2,
        "lines": 1,
        "gaps": 1,
        "symmetry": 0,
        "at_hand": 1,
        "handles": 0.5,
        "balance": 8,
        "room": 0.5,
    },
}
TOWARD: dict[Side, Point] = {"front": (0.0, 1.0), "back": (0.0, -1.0), "left": (-1.0, 0.0), "right": (1.0, 0.0)}
_RANK = {"daily": 0, "weekly": 1, "expected": 1, "rare": 2}
_FAR_MM = 60.0  # so much more than the least between neighbours of a group, and they count as half apart
_STRAIGHT_DEG = 2.0
_BESIDE = 0.5  # of the shorter one's length that two neighbours in a row share
_AS_NEAR = 0.15  # of the way across: so much farther, and it is as good as even whether it is nearer or not
_ON_ONE_LINE = 0.01  # the same for the figure
_ROW_GAP_MM = 30.0  # wider, and two things do not stand side by side


class Lying(Frozen):
    """A copy where it lies: facts, its bare pocket in plan coordinates, and how it is turned."""

    __slots__ = ("angle_deg", "facts", "key", "shape", "x_mm", "y_mm")

    def __init__(
        self, key: tuple[str, int], facts: Facts, shape: BaseGeometry, x_mm: float, y_mm: float, angle_deg: float
    ) -> None:
        self.key, self.facts, self.shape = key, facts, shape
        self.x_mm, self.y_mm, self.angle_deg = x_mm, y_mm, angle_deg

    @property
    def axis_deg(self) -> float | None:
        """Direction of its length in the plan, 0 to 180."""
        return None if self.facts.axis_deg is None else (self.facts.axis_deg + self.angle_deg) % 180.0

    def to_plan(self, point: Point) -> Point:
        """Return an item point in plan coordinates."""
        angle = math.radians(self.angle_deg)
        cos, sin = math.cos(angle), math.sin(angle)
        return self.x_mm + cos * point[0] - sin * point[1], self.y_mm + sin * point[0] + cos * point[1]

    @property
    def balance(self) -> Point:
        """Its centre of mass in the plan."""
        return self.to_plan(self.facts.balance)

    @property
    def handle(self) -> Point | None:
        """Unit vector towards its handle in the plan."""
        if self.facts.handle is None:
            return None
        x, y = self.to_plan(self.facts.handle)
        return x - self.x_mm, y - self.y_mm


class Aims(Frozen):
    """What the wishes are measured against: the room, the side that the hand comes from, where weight should lie.

    target: plan point for the centre of mass. along: "x", "y" where only that direction counts (a handle on a
    wall), "both" for the middle of a drawer. least_mm: the wall that stands between neighbours anyway.
    """

    __slots__ = ("along", "hand", "least_mm", "others", "room", "target")

    def __init__(
        self,
        room: tuple[float, float, float, float],
        *,
        hand: Side = "front",
        target: Point | None = None,
        along: Literal["x", "y", "both"] = "both",
        least_mm: float = 12.0,
        others: Sequence[tuple[float, Point]] = (),
    ) -> None:
        """others: (mass in g, point) of what lies in other tiers of the container and is carried along."""
        self.others = tuple(others)
        self.room, self.hand, self.along, self.least_mm = room, hand, along, least_mm
        left, top, right, bottom = room
        self.target: Point = target if target is not None else ((left + right) / 2, (top + bottom) / 2)

    def in_room(self, room: tuple[float, float, float, float]) -> Aims:
        """Return the same aims for another room round the same middle."""
        return Aims(
            room,
            hand=self.hand,
            target=self.target,
            along=self.along,
            least_mm=self.least_mm,
            others=self.others,
        )

    def from_hand(self, point: Point) -> float:
        """Return how far a point lies from the hand's side, 0 at that side to 1 at the other."""
        left, top, right, bottom = self.room
        x, y = TOWARD[self.hand]
        width, depth = max(1.0, right - left), max(1.0, bottom - top)
        return (
            (right - point[0]) / width * (x > 0)
            + (point[0] - left) / width * (x < 0)
            + (bottom - point[1]) / depth * (y > 0)
            + (point[1] - top) / depth * (y < 0)
        )


Line = tuple[Point, Point, bool]  # from, to, and whether that is as wished


class Wish(Frozen):
    """How far one wish is met: score 0 to 1, None where it does not apply; its figure; and its picture."""

    __slots__ = ("areas", "figure", "lines", "name", "score")

    def __init__(
        self,
        name: WishName,
        score: float | None,
        figure: float = 0.0,
        *,
        lines: Sequence[Line] = (),
        areas: Sequence[tuple[BaseGeometry, str]] = (),
    ) -> None:
        self.name, self.score, self.figure = name, score, figure
        self.lines, self.areas = tuple(lines), tuple(areas)


class Scores(Record, frozen=True, kw_only=True):
    """All wishes of a layout and what they come to under weights, 0 to 100."""

    wishes: tuple[Wish, ...]
    total: float

    def of(self, name: WishName) -> Wish:
        """Return one wish."""
        return next(wish for wish in self.wishes if wish.name == name)


def weighed(wishes: Sequence[Wish], weights: Mapping[WishName, float]) -> float:
    """Return what wishes come to, 0 to 100: the mean by weight of those that apply."""
    counted = [(weights.get(wish.name, 0.0), wish.score) for wish in wishes if wish.score is not None]
    total = sum(weight for weight, _ in counted)
    return 100.0 * sum(weight * score for weight, score in counted) / total if total > 0 else 100.0


def together(lying: Sequence[Lying], aims: Aims) -> Wish:
    """Return how close the members of each group lie, by the shortest tree that links them."""
    groups: dict[str, list[Lying]] = {}
    for one in lying:
        if one.facts.group:
            groups.setdefault(one.facts.group, []).append(one)
    lines: list[Line] = []
    areas: list[tuple[BaseGeometry, str]] = []
    met = links = 0.0
    gaps: list[float] = []
    for name, members in sorted(groups.items()):
        if len(members) < 2:
            continue
        shapes = np.array([one.shape for one in members], dtype=object)
        matrix = shapely.distance(shapes[:, None], shapes[None, :])
        for i, j in _tree(matrix):
            more = max(0.0, float(matrix[i, j]) - aims.least_mm)
            met += 1.0 / (1.0 + (more / _FAR_MM) ** 2)
            links += 1
            gaps.append(float(matrix[i, j]))
            lines.append((_middle(members[i]), _middle(members[j]), more < _FAR_MM / 2))
        areas.append((shapely.convex_hull(shapely.union_all(shapes)), name))
    if not links:
        return Wish("together", None)
    return Wish("together", met / links, float(np.mean(gaps)), lines=lines, areas=areas)


def _tree(matrix: NDArray[np.float64]) -> list[tuple[int, int]]:
    """Return the links of the shortest tree over all points of a distance matrix (Prim)."""
    count = len(matrix)
    inside = np.zeros(count, dtype=bool)
    inside[0] = True
    nearest = np.zeros(count, dtype=np.int64)
    away = matrix[0].copy()
    links = []
    for _ in range(count - 1):
        away[inside] = np.inf
        new = int(away.argmin())
        links.append((int(nearest[new]), new))
        inside[new] = True
        closer = matrix[new] < away
        nearest[closer] = new
        away = np.minimum(away, matrix[new])
    return links


def rows(lying: Sequence[Lying], aims: Aims) -> Wish:
    """Return which share of neighbours in size of each set lie side by side in a row that goes one way."""
    sets: dict[str, list[Lying]] = {}
    for one in lying:
        if one.facts.set_name:
            sets.setdefault(one.facts.set_name, []).append(one)
    lines: list[Line] = []
    good = pairs = 0
    for members in sets.values():
        if len(members) < 2:
            continue
        members.sort(key=lambda one: (one.facts.length_mm, one.facts.width_mm, one.key))
        steps = [_step(first, second) for first, second in itertools.pairwise(members)]
        ways = [step for step in steps if step is not None]
        main = 1 if sum(1 if way > 0 else -1 for way in ways) >= 0 else -1
        for first, second, step in zip(members, members[1:], steps):
            alike = abs(first.facts.length_mm - second.facts.length_mm) < 1.0
            fine = step is not None and (step * main > 0 or alike)
            good += fine
            pairs += 1
            lines.append((_middle(first), _middle(second), fine))
    return Wish("rows", good / pairs, good / pairs, lines=lines) if pairs else Wish("rows", None)


def _step(first: Lying, second: Lying) -> float | None:
    """Return how far the second stands to the right of (or in front of) the first, None where not side by side."""
    a, b = first.axis_deg, second.axis_deg
    if a is None or b is None or abs((a - b + 90.0) % 180.0 - 90.0) > _STRAIGHT_DEG:
        return None
    angle = math.radians(a)
    along = np.array([math.cos(angle), math.sin(angle)])
    across = np.array([-along[1], along[0]])
    if across[0] < -1e-9 or (abs(across[0]) < 1e-9 and across[1] < 0):
        across = -across
    ends = [shapely.get_coordinates(one.shape) for one in (first, second)]
    reach = [(float((points @ along).min()), float((points @ along).max())) for points in ends]
    shared = min(reach[0][1], reach[1][1]) - max(reach[0][0], reach[1][0])
    if shared < _BESIDE * min(high - low for low, high in reach):
        return None
    if shapely.distance(first.shape, second.shape) > _ROW_GAP_MM:
        return None
    return float((np.array(_middle(second)) - np.array(_middle(first))) @ across)


def aligned(lying: Sequence[Lying], aims: Aims) -> Wish:
    """Return which share of all length lies along the two most used directions."""
    axes = [(one, one.axis_deg) for one in lying]
    known = [(one, axis) for one, axis in axes if axis is not None]
    if len(known) < 2:
        return Wish("aligned", None)
    angles = np.array([axis for _, axis in known])
    weights = np.array([one.facts.length_mm for one, _ in known])
    apart = np.abs((angles[:, None] - angles[None, :] + 90.0) % 180.0 - 90.0)
    near = apart <= _STRAIGHT_DEG
    first = int((near * weights[None, :]).sum(axis=1).argmax())
    left = np.where(near[first], 0.0, weights)
    second = int((near * left[None, :]).sum(axis=1).argmax())
    along = near[first] | (near[second] & (left[second] > 0))
    share = float(weights[along].sum() / weights.sum())
    lines: list[Line] = []
    for (one, axis), fine in zip(known, along.tolist()):
        x, y = _middle(one)
        dx, dy = (one.facts.length_mm / 2 * f(math.radians(axis)) for f in (math.cos, math.sin))
        lines.append(((x - dx, y - dy), (x + dx, y + dy), bool(fine)))
    return Wish("aligned", share, share, lines=lines)


def at_hand(lying: Sequence[Lying], aims: Aims) -> Wish:
    """Return how surely what is used more often lies no farther from the hand's side, over all pairs of unlike use.

    Taken at the end that is nearest to the hand: things on one line are as near as each other, however long they are.
    """
    ranks = np.array([_RANK[one.facts.use] for one in lying])
    if len(set(ranks.tolist())) < 2:
        return Wish("at_hand", None)
    away = np.array([aims.from_hand(_nearest(one, aims.hand)) for one in lying])
    more = ranks[:, None] < ranks[None, :]
    apart = (away[None, :] - away[:, None])[more]
    score = float((1.0 / (1.0 + np.exp(-(apart + _AS_NEAR) / 0.08))).mean())
    middle = float(np.median(away))
    x, y = TOWARD[aims.hand]
    lines: list[Line] = []
    for one, rank, far in zip(lying, ranks.tolist(), away.tolist()):
        if rank == 1:
            continue
        fine = far <= middle if rank == 0 else far >= middle
        bx, by = one.balance
        sign = 1.0 if rank == 0 else -1.0
        lines.append(((bx, by), (bx + 18 * x * sign, by + 18 * y * sign), fine))
    return Wish("at_hand", score, float((apart >= -_ON_ONE_LINE).mean()), lines=lines)


def _nearest(one: Lying, hand: Side) -> Point:
    """Return the middle of the end of a thing's bounds that is nearest to the hand."""
    left, top, right, bottom = one.shape.bounds
    x, y = TOWARD[hand]
    return (left + right) / 2 + x * (right - left) / 2, (top + bottom) / 2 + y * (bottom - top) / 2


def handles(lying: Sequence[Lying], aims: Aims) -> Wish:
    """Return how far handles point towards the hand; things that lie across count half."""
    x, y = TOWARD[aims.hand]
    met: list[float] = []
    lines: list[Line] = []
    for one in lying:
        toward = one.handle
        if toward is None:
            continue
        facing = toward[0] * x + toward[1] * y
        met.append((1.0 + facing) / 2)
        bx, by = one.balance
        lines.append(((bx, by), (bx + 30 * toward[0], by + 30 * toward[1]), facing > -0.5))
    if not met:
        return Wish("handles", None)
    return Wish("handles", float(np.mean(met)), float(np.mean([one > 0.75 for one in met])), lines=lines)


def balance(lying: Sequence[Lying], aims: Aims) -> Wish:
    """Return how near the centre of mass of all things lies to where it should."""
    weights = [*((one.facts.mass_g, one.balance) for one in lying), *aims.others]
    total = sum(mass for mass, _ in weights)
    if total <= 0 or not lying:
        return Wish("balance", None)
    x = sum(mass * at[0] for mass, at in weights) / total
    y = sum(mass * at[1] for mass, at in weights) / total
    dx, dy = x - aims.target[0], y - aims.target[1]
    left, top, right, bottom = aims.room
    match aims.along:
        case "x":
            off, span, aim = abs(dx), right - left, (aims.target[0], y)
        case "y":
            off, span, aim = abs(dy), bottom - top, (x, aims.target[1])
        case _:
            off, span, aim = math.hypot(dx, dy), math.hypot(right - left, bottom - top), aims.target
    score = max(0.0, 1.0 - off / max(1.0, 0.15 * span))
    return Wish("balance", score, off, lines=[((x, y), aim, score > 0.8)])


def _middle(one: Lying) -> Point:
    centre = one.shape.centroid
    return float(centre.x), float(centre.y)
