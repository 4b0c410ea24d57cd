"""Lanes: a first layout as a fitter makes one where there is room. Strips across the hand's way, all of one base line.

Block   a piece at one of its angles: how wide along the lane, how deep towards the hand
Column  blocks behind each other that together are no deeper than their lane
Lane    columns beside each other, their front ends on one line

An order of blocks becomes lanes in one way: a block goes behind the last column's where there is depth, else beside it,
else it begins the next lane. Which order and which angles are best is sought by annealing on bounds alone, which is
quick; whether it keeps its walls is asked of the true shapes afterwards.
Source of the pattern: three-stage guillotine patterns of cutting and packing (Gilmore and Gomory 1965).
"""

from __future__ import annotations

import itertools
import math
import random
from collections.abc import Sequence

import numpy as np

from cozy_burrow.core.arrange.pieces import Bed, Piece, wanted_among
from cozy_burrow.core.arrange.placing_in import lying_of
from cozy_burrow.core.arrange.wishes import Aims
from cozy_burrow.core.errors import Cancelled
from cozy_burrow.core.geometry.placing import direction, placed
from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.progress import Token

_SLACK_MM = 0.02
_STEPS_A_PIECE, _FEWEST, _MOST = 250, 2000, 4000
_HOT, _COLD = 0.06, 0.001
_HOPELESS = 0.3  # of the depth that the best order still reaches beyond after a fifth of the steps
_SAME_BREADTH = 1.3  # a block this much wider than its column is no part of it
# What a layout in lanes is worth less for, by trial; what counts is their order: nothing beside what does not fit,
# then groups and directions, then depth that is wasted.
_BEYOND, _WASTE, _DEPTH, _GROUP, _ACROSS, _HANDLE, _USE, _SIZES = 50.0, 1.0, 0.3, 0.12, 0.06, 0.6, 0.6, 0.05


class Block(Frozen):
    """A piece in a form at an angle. start: where its bounds begin along the lane and from the hand, from its origin.

    before: how far its pulls reach towards the hand before the things in it; those are what stands on the line.
    """

    __slots__ = ("angle_deg", "away", "before", "deep", "form", "lies_along", "start", "wide")

    def __init__(self, piece: Piece, number: int, angle_deg: float, frame: Frame) -> None:
        form = piece.forms[number]
        self.form = number
        left, top, right, bottom = placed(form.shape, x_mm=0.0, y_mm=0.0, angle_deg=angle_deg).bounds
        low, high = frame.of(left, top), frame.of(right, bottom)
        self.angle_deg = angle_deg
        self.start = (min(low[0], high[0]), min(low[1], high[1]))
        self.wide, self.deep = abs(high[0] - low[0]), abs(high[1] - low[1])
        seen = [one.shape.bounds for one in lying_of(form, 0.0, 0.0, angle_deg)]
        first = [min(frame.of(one[0], one[1])[1], frame.of(one[2], one[3])[1]) for one in seen]
        self.before = max(0.0, min(first) - self.start[1]) if first else 0.0
        facing: list[float] = []
        axes: list[float] = []
        for part in form.parts:
            if part.facts is None:
                continue
            turn = angle_deg + part.angle_deg
            cos, sin = direction(turn)
            if part.facts.handle is not None:
                x, y = part.facts.handle
                facing.append(frame.of(cos * x - sin * y, sin * x + cos * y)[1])
            if part.facts.axis_deg is not None:
                cos, sin = direction(turn + part.facts.axis_deg)
                axes.append(abs(frame.of(cos, sin)[0]))
        self.away = sum(1.0 + one for one in facing) / 2 if facing else 0.0  # how many handles point from the hand
        self.lies_along = sum(axes) / len(axes) if axes else -1.0


class Frame(Frozen):
    """Along the lane and away from the hand, both from the corner that is filled first, for a room in the plan."""

    __slots__ = ("_along", "_away", "_corner", "deep", "wide")

    def __init__(self, aims: Aims, bed: Bed, corner: float) -> None:
        """corner: -1.0, the lanes begin at the low end of their axis; 1.0 at the high one."""
        left, top, right, bottom = bed.room
        sign = 1.0 if corner < 0 else -1.0
        if aims.hand in {"front", "back"}:
            self.wide, self.deep = right - left, bottom - top
            self._along = (sign, 0.0)
            self._away = (0.0, -1.0 if aims.hand == "front" else 1.0)
        else:
            self.wide, self.deep = bottom - top, right - left
            self._along = (0.0, sign)
            self._away = (1.0 if aims.hand == "left" else -1.0, 0.0)
        x = right if -1.0 in (self._along[0], self._away[0]) else left
        y = bottom if -1.0 in (self._along[1], self._away[1]) else top
        self._corner = (x, y)

    def of(self, x: float, y: float) -> tuple[float, float]:
        """Return a plan direction as along and away."""
        return self._along[0] * x + self._along[1] * y, self._away[0] * x + self._away[1] * y

    def in_plan(self, along: float, away: float) -> tuple[float, float]:
        """Return the plan point so far along and away from the corner."""
        x = self._corner[0] + along * self._along[0] + away * self._away[0]
        return x, self._corner[1] + along * self._along[1] + away * self._away[1]


class _Column:
    """deep: from the line back; before: how far its first block's pulls reach before the line."""

    __slots__ = ("before", "deep", "members", "start", "wide")

    def __init__(self, start: float, member: int, block: Block) -> None:
        self.start, self.wide, self.before = start, block.wide, block.before
        self.deep = block.deep - block.before
        self.members = [(member, 0.0)]


class _Lane:
    __slots__ = ("back", "before", "columns", "used", "wall_mm")

    def __init__(self) -> None:
        self.columns: list[_Column] = []
        self.back = self.before = self.used = self.wall_mm = 0.0

    @property
    def deep(self) -> float:
        """From where its first pull begins to where its last thing or pull ends."""
        return self.before + self.back

    def add(self, start: float, member: int, block: Block, wall_mm: float) -> None:
        """Begin a column."""
        column = _Column(start, member, block)
        self.columns.append(column)
        self.used = start + block.wide
        self.back, self.before = max(self.back, column.deep), max(self.before, column.before)
        self.wall_mm = max(self.wall_mm, wall_mm)


def is_stopped(token: Token, fraction: float) -> bool:
    """Take a step; return whether the token stops the work."""
    try:
        token.step(fraction)
    except Cancelled:
        return True
    return False


class Lanes:
    """All pieces in lanes of one room; `found` seeks the best order, `spots` says where each then lies."""

    def __init__(self, pieces: Sequence[Piece], bed: Bed, aims: Aims, *, corner: float = -1.0) -> None:
        """Every piece in one of its best forms. Raises ValueError where one goes in at none of its angles."""
        self.pieces, self.frame = tuple(pieces), Frame(aims, bed, corner)
        forms = [piece.forms[0] for piece in pieces]
        self.walls = wanted_among(forms) + _SLACK_MM if forms else np.zeros((0, 0))
        self.wall_of = [form.wall_mm for form in forms]
        self.blocks: list[list[Block]] = []
        for piece in pieces:
            best = [n for n in range(len(piece.forms)) if piece.worse(n) <= piece.worse(0)]
            every = [Block(piece, n, angle, self.frame) for n in best for angle in piece.angles_deg]
            fitting = [one for one in every if one.wide <= self.frame.wide and one.deep <= self.frame.deep]
            if not fitting:
                raise ValueError(piece.key)
            self.blocks.append(sorted(fitting, key=lambda one: (one.away, one.form, one.angle_deg)))
        lean = {"daily": 1.0, "rare": -1.0}
        known = [[part.facts for part in form.parts if part.facts is not None] for form in forms]
        self.use = [sum(lean.get(one.use, 0.0) for one in each) / max(1, len(each)) for each in known]

    def found(self, chance: random.Random, token: Token) -> tuple[list[tuple[int, int]], float]:
        """Return the best order found as (piece, number of its block), and how far it reaches beyond the room in mm.

        A token that stops it gets the best until then: it is no less a layout. Raises Cancelled where it stops it
        before anything was tried.
        """
        token.step(0.0)
        order = [(n, 0) for n in self._grouped()]
        if not order:
            return [], 0.0
        least = sum(min(one.wide * one.deep for one in blocks) for blocks in self.blocks)
        if least > self.frame.wide * self.frame.deep:
            return order, math.inf
        steps = max(_FEWEST, min(_MOST, _STEPS_A_PIECE * len(order)))
        now = best = self._cost(order)
        kept = list(order)
        for step in range(steps):
            if step % 50 == 49 and is_stopped(token, step / steps):
                break
            if step == steps // 5 and self._beyond(self._decoded(kept)) > _HOPELESS * self.frame.deep:
                break
            tried = self._changed(order, chance)
            cost = self._cost(tried)
            heat = _HOT * (_COLD / _HOT) ** (step / steps)
            if cost <= now or chance.random() < math.exp((now - cost) / heat):
                order, now = tried, cost
                if cost < best - 1e-9:
                    kept, best = list(tried), cost
        return kept, self._beyond(self._decoded(kept))

    def _grouped(self) -> list[int]:
        """Return the pieces group by group, the largest group first, in it the largest piece first."""
        weight: dict[str, float] = {}
        for piece in self.pieces:
            weight[piece.group] = weight.get(piece.group, 0.0) + piece.size[0]
        return sorted(
            range(len(self.pieces)),
            key=lambda n: (
                -weight[self.pieces[n].group],
                self.pieces[n].group,
                -self.pieces[n].size[0],
                self.pieces[n].key,
            ),
        )

    def _changed(self, order: Sequence[tuple[int, int]], chance: random.Random) -> list[tuple[int, int]]:
        """Return an order in which one or some changed places, or one was turned."""
        tried = list(order)
        count = len(tried)
        dice = chance.random()
        if dice < 0.3 or count < 2:
            at = chance.randrange(count)
            piece, _ = tried[at]
            tried[at] = (piece, chance.randrange(len(self.blocks[piece])))
        elif dice < 0.6:
            one = tried.pop(chance.randrange(count))
            tried.insert(chance.randrange(count), one)
        elif dice < 0.85:
            first, second = chance.randrange(count), chance.randrange(count)
            tried[first], tried[second] = tried[second], tried[first]
        else:
            first, second = sorted((chance.randrange(count + 1), chance.randrange(count + 1)))
            run = tried[first:second]
            del tried[first:second]
            at = chance.randrange(len(tried) + 1)
            tried[at:at] = run
        return tried

    def _decoded(self, order: Sequence[tuple[int, int]]) -> list[_Lane]:
        lanes: list[_Lane] = []
        lane: _Lane | None = None
        for n, number in order:
            block = self.blocks[n][number]
            if lane is not None:
                column = lane.columns[-1]
                last, _ = column.members[-1]
                behind = column.deep + float(self.walls[last, n])
                fits = behind + block.deep <= lane.back and block.wide <= _SAME_BREADTH * column.wide
                wide = max(column.wide, block.wide)
                if fits and column.start + wide <= self.frame.wide:
                    column.members.append((n, behind))
                    column.deep, column.wide = behind + block.deep, wide
                    lane.used, lane.wall_mm = column.start + wide, max(lane.wall_mm, self.wall_of[n])
                    continue
                beside = max(float(self.walls[member, n]) for member, _ in column.members)
                start = lane.used + beside
                if start + block.wide <= self.frame.wide:
                    lane.add(start, n, block, self.wall_of[n])
                    continue
            lane = _Lane()
            lane.add(0.0, n, block, self.wall_of[n])
            lanes.append(lane)
        return lanes

    def _depth(self, lanes: Sequence[_Lane]) -> float:
        walls = sum(min(first.wall_mm, second.wall_mm) + _SLACK_MM for first, second in itertools.pairwise(lanes))
        return sum(lane.deep for lane in lanes) + walls

    def _beyond(self, lanes: Sequence[_Lane]) -> float:
        return max(0.0, self._depth(lanes) - self.frame.deep)

    def in_room(self, order: Sequence[tuple[int, int]]) -> list[tuple[int, int]]:
        """Return the part of an order whose lanes lie in the room."""
        lanes = self._decoded(order)
        while lanes and self._beyond(lanes) > 0.0:
            lanes.pop()
        return list(order[: sum(len(column.members) for lane in lanes for column in lane.columns)])

    def _cost(self, order: Sequence[tuple[int, int]]) -> float:
        lanes = self._decoded(order)
        depth = self._depth(lanes)
        area = self.frame.wide * self.frame.deep
        waste = sum((lane.back - column.deep) * column.wide for lane in lanes for column in lane.columns)
        waste += sum((self.frame.wide - lane.used) * lane.deep for lane in lanes[:-1])
        cost = _BEYOND * max(0.0, depth - self.frame.deep) / self.frame.deep
        cost += _WASTE * waste / area + _DEPTH * depth / self.frame.deep
        changes = across = uneven = 0
        for (n, number), (m, other) in itertools.pairwise(order):
            first, second = self.pieces[n], self.pieces[m]
            if first.group != second.group:
                changes += 1
                continue
            one, two = self.blocks[n][number].lies_along, self.blocks[m][other].lies_along
            across += one >= 0 and two >= 0 and abs(one - two) > 0.5
            uneven += first.size[1] < second.size[1]
        cost += _GROUP * (changes - len({piece.group for piece in self.pieces}) + 1)
        cost += _ACROSS * across + _SIZES * uneven / len(order)
        cost += _HANDLE * sum(self.blocks[n][number].away for n, number in order) / len(order)
        return cost + _USE * self._out_of_reach(lanes) / len(order)

    def _out_of_reach(self, lanes: Sequence[_Lane]) -> float:
        away, far = 0.0, 0.0
        for lane in lanes:
            middle = (away + lane.deep / 2) / self.frame.deep
            far += sum(self.use[n] * middle for column in lane.columns for n, _ in column.members if self.use[n])
            away += lane.deep + lane.wall_mm
        return far

    def spots(self, order: Sequence[tuple[int, int]]) -> list[tuple[Piece, int, float, float, float]]:
        """Return (piece, form, x, y, angle) of every piece of an order, each in the middle of its column's width."""
        chosen = dict(order)
        found = []
        away = 0.0
        lanes = self._decoded(order)
        for number, lane in enumerate(lanes):
            if number:
                away += min(lanes[number - 1].wall_mm, lane.wall_mm) + _SLACK_MM
            for column in lane.columns:
                for n, behind in column.members:
                    block = self.blocks[n][chosen[n]]
                    along = column.start + (column.wide - block.wide) / 2 - block.start[0]
                    front = behind if behind else -block.before
                    x, y = self.frame.in_plan(along, away + lane.before + front - block.start[1])
                    found.append((self.pieces[n], block.form, x, y, block.angle_deg))
            away += lane.deep
        return found
