"""Room won: all pieces in as short a part of the bed as can be found, pressed towards its left side.

From a valid layout the strip is made shorter, what now reaches out is put where it overlaps least, the crowd is
calmed, settled on the true shapes and pressed; where that fails, two pieces change places and it is tried again.
"""

from __future__ import annotations

import math
import random
from collections.abc import Callable, Sequence

import numpy as np

from cozy_burrow.core.arrange.contacts import Body, shortfalls
from cozy_burrow.core.arrange.crowd import Crowd, Lair
from cozy_burrow.core.arrange.pieces import Bed
from cozy_burrow.core.arrange.squeeze import Pulling, length_mm, pressed, separated
from cozy_burrow.core.errors import Cancelled
from cozy_burrow.core.progress import Token

CELLS_ACROSS = 150
_ROUNDS = 40
_FIRST_STEP, _LEAST_STEP = 0.12, 0.004
_LEANS = (0, 30, 45, 60, 120, 135, 150)
_ANEW_STEP = 0.03
_SCRAMBLE = 3  # every so many tries without gain everything is thrown in anew
_ENOUGH = 60  # tries without gain


class Shortening:
    """A strip that is made shorter again and again: how much is tried next, and how often that failed."""

    def __init__(self, bed: Bed, *, chance: random.Random, may_turn: bool = True) -> None:
        self.bed, self.chance, self.may_turn = bed, chance, may_turn
        self.share = _FIRST_STEP
        self.failed = 0

    @property
    def is_done(self) -> bool:
        """Whether even the smallest steps have failed often."""
        return self.failed >= _ENOUGH

    def pressed(self, bodies: Sequence[Body]) -> list[Body]:
        """Return valid bodies pressed to the left as they lie."""
        return _pressed_left(list(bodies), self.bed, may_turn=self.may_turn, steps=6)

    def once(self, bodies: Sequence[Body], angles_deg: Sequence[tuple[float, ...]], token: Token) -> list[Body] | None:
        """Return valid bodies that reach less far to the right, or None. Raises Cancelled.

        bodies: valid in the bed. angles_deg: per body, the angles tried besides turns of the wheel and small ones.
        """
        length = length_mm(bodies)
        anew = self.failed % _SCRAMBLE == _SCRAMBLE - 1
        share = max(self.share, _ANEW_STEP) if anew else self.share
        target = length - share * (length - self.bed.room[0])
        found = _within(
            bodies, angles_deg, self.bed, target, self.chance, token, upset=self.failed, may_turn=self.may_turn
        )
        if found is not None and length_mm(found) < length - 0.05:
            self.failed = 0
            return found
        self.failed += 1
        if not anew:
            self.share = max(_LEAST_STEP, self.share * 0.5)
        return None


def shortened(
    bodies: Sequence[Body],
    angles_deg: Sequence[tuple[float, ...]],
    bed: Bed,
    *,
    seed: int,
    token: Token,
    heard: Callable[[Sequence[Body]], None] = lambda _: None,
    may_turn: bool = True,
) -> list[Body]:
    """Return valid bodies that reach less far to the right. Never raises Cancelled: a stop gives the best so far.

    heard: told each gain. Ends by itself only where nothing is won for a long time.
    """
    best = list(bodies)
    if len(best) < 2:
        return best
    work = Shortening(bed, chance=random.Random(seed), may_turn=may_turn)
    try:
        best = work.pressed(best)
        heard(best)
        while not work.is_done:
            token.step(min(0.99, work.failed / _ENOUGH))
            found = work.once(best, angles_deg, token)
            if found is not None:
                best = found
                heard(best)
    except Cancelled:
        pass
    return best


def _pressed_left(bodies: list[Body], bed: Bed, *, may_turn: bool, steps: int = 4) -> list[Body]:
    small = np.zeros((len(bodies), 2))
    small[:, 0] = -0.01
    return pressed(
        bodies, bed, pulling=lambda _: Pulling(small, shorten=1.0), worth=length_mm, steps=steps, may_turn=may_turn
    )


def _within(
    best: Sequence[Body],
    angles_deg: Sequence[tuple[float, ...]],
    bed: Bed,
    target: float,
    chance: random.Random,
    token: Token,
    *,
    upset: int,
    may_turn: bool,
) -> list[Body] | None:
    part = bed.up_to(target)
    if part.area.is_empty:
        return None
    whole = bed.up_to(min(bed.room[2], target + 0.12 * (target - bed.room[0]) + 30.0))
    left, top, right, bottom = whole.room
    cell = max(0.8, math.sqrt((right - left) * (bottom - top)) / CELLS_ACROSS)
    lair = Lair(whole, cell_mm=cell)
    lair.right_mm = target
    angles = [tuple(dict.fromkeys((*each, body.angle_deg))) for each, body in zip(angles_deg, best)]
    crowd = Crowd(lair, [body.form for body in best], angles, chance)
    crowd.astray = max(2, min(4, 60 // len(best))) if may_turn else 0  # few pieces leave time for more
    for index, body in enumerate(best):
        crowd.lay_at(index, body.x_mm, body.y_mm, body.angle_deg)
    movers = [index for index, body in enumerate(best) if body.shape.bounds[2] > target]
    if upset % _SCRAMBLE == _SCRAMBLE - 1:
        movers = _scrambled(crowd, part, chance, may_turn=may_turn)
    elif upset:
        movers += _swapped(crowd, best, chance, pairs=1 + (upset // 4) % 3)
    for index in movers:
        crowd.move(index)
    if not crowd.calm(token, rounds=_ROUNDS, enough=0.25 * len(best)):
        return None
    loose = [Body(body.form, x, y, angle) for body, (x, y, angle) in zip(best, crowd.positions())]
    settled = separated(loose, whole, may_turn=may_turn, shorten=0.2, token=token)
    if settled is None:
        return None
    settled = _pressed_left(settled, bed, may_turn=may_turn)
    return settled if shortfalls(settled, bed) == (0.0, 0.0) else None


def _scrambled(crowd: Crowd, part: Bed, chance: random.Random, *, may_turn: bool) -> list[int]:
    """Throw everything in anew, leaning one way: no exchange of places turns a whole set onto the diagonal."""
    left, top, right, bottom = part.room
    lean = float(chance.choice(_LEANS)) if may_turn else 0.0
    crowd.angles_deg = tuple(tuple(round((angle + lean) % 360.0, 6) for angle in each[:4]) for each in crowd.angles_deg)
    order = list(range(len(crowd.forms)))
    chance.shuffle(order)
    for index in order:
        along = crowd.angles_deg[index][:: 2 if len(crowd.angles_deg[index]) == 4 else 1]
        crowd.lay_at(index, chance.uniform(left, right), chance.uniform(top, bottom), chance.choice(along))
    return order


def _swapped(crowd: Crowd, bodies: Sequence[Body], chance: random.Random, *, pairs: int) -> list[int]:
    """Let pieces of much the same size change places; return which. One that lies alone has none to change with."""
    if len(bodies) < 2:
        return []
    order = sorted(range(len(bodies)), key=lambda index: -bodies[index].shape.area)
    swapped: list[int] = []
    for _ in range(pairs):
        first = order[min(len(order) - 1, int(len(order) * chance.random() ** 1.5))]
        second = chance.choice([index for index in order if index != first])
        a, b = bodies[first], bodies[second]
        crowd.lay_at(first, b.x_mm, b.y_mm, a.angle_deg)
        crowd.lay_at(second, a.x_mm, a.y_mm, b.angle_deg)
        swapped += [first, second]
    return swapped
