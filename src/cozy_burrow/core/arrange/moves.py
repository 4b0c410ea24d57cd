"""What a search tries on a layout: each move changes the plan in place and returns whether it did anything."""

from __future__ import annotations

import random
from collections.abc import Callable

import numpy as np
import shapely

from cozy_burrow.core.arrange.placing_in import Laid, Leaning
from cozy_burrow.core.arrange.plan import Plan
from cozy_burrow.core.model.records import Point

Move = Callable[[Plan, Leaning, random.Random], bool]
_NOISE = 0.12


def _middle(laid: Laid) -> Point:
    body = shapely.union_all([one.shape for one in laid.lying]) if laid.lying else None
    if body is None:
        return laid.x_mm, laid.y_mm
    return float(body.centroid.x), float(body.centroid.y)


def repack(plan: Plan, leaning: Leaning, chance: random.Random) -> bool:
    """Take up a piece and its nearest neighbours, and lay them anew with what is left over, in another order."""
    if not plan.laid:
        return False
    centre = _middle(chance.choice(plan.laid))
    away = sorted(plan.laid, key=lambda one: float(np.hypot(*np.subtract(_middle(one), centre))))
    lifted = away[: chance.randint(2, 6)]
    return _again(plan, leaning, chance, lifted)


def regroup(plan: Plan, leaning: Leaning, chance: random.Random) -> bool:
    """Take up a whole group, and lay it anew."""
    groups = sorted({one.piece.group for one in plan.laid if one.piece.group})
    if not groups:
        return False
    group = chance.choice(groups)
    return _again(plan, leaning, chance, [one for one in plan.laid if one.piece.group == group])


def _again(plan: Plan, leaning: Leaning, chance: random.Random, lifted: list[Laid]) -> bool:
    waiting = [*plan.left, *(one.piece for one in lifted)]
    plan.left = []
    plan.lift(lifted)
    waiting.sort(key=lambda piece: -piece.size[0] * chance.uniform(0.5, 1.5))
    for piece in waiting:
        plan.lay(piece, leaning, chance=chance, noise=_NOISE)
    return True


def swap(plan: Plan, leaning: Leaning, chance: random.Random) -> bool:
    """Let two pieces of much the same size change places, each as near as it fits."""
    if len(plan.laid) < 2:
        return False
    order = sorted(plan.laid, key=lambda one: one.piece.size)
    at = chance.randrange(len(order) - 1)
    first, second = order[at], order[min(len(order) - 1, at + chance.randint(1, 3))]
    to_first, to_second = _middle(second), _middle(first)
    plan.lift([first, second])
    turned = chance.random() < 0.5 and second.angle_deg in first.piece.angles_deg
    laid = plan.lay_near(first.piece, first.form, second.angle_deg if turned else first.angle_deg, to_first)
    turned = turned and first.angle_deg in second.piece.angles_deg
    also = plan.lay_near(second.piece, second.form, first.angle_deg if turned else second.angle_deg, to_second)
    return laid and also


def alternate(plan: Plan, leaning: Leaning, chance: random.Random) -> bool:
    """Turn a piece end for end, or by a quarter, where it lies or as near as it fits."""
    if not plan.laid:
        return False
    one = chance.choice(plan.laid)
    others = [angle for angle in one.piece.angles_deg if angle != one.angle_deg]
    if not others:
        return False
    half = [angle for angle in others if abs((angle - one.angle_deg) % 360.0 - 180.0) < 1.0]
    angle = half[0] if half and chance.random() < 0.7 else chance.choice(others)
    at = _middle(one)
    plan.lift([one])
    return plan.lay_near(one.piece, one.form, angle, at)


def order_set(plan: Plan, leaning: Leaning, chance: random.Random) -> bool:
    """Let two things of a set that are in the wrong order change places."""
    sets: dict[str, list[Laid]] = {}
    for one in plan.laid:
        if len(one.lying) == 1 and one.lying[0].facts.set_name:
            sets.setdefault(one.lying[0].facts.set_name, []).append(one)
    members = [each for _, each in sorted(sets.items()) if len(each) > 1]
    if not members:
        return False
    row = chance.choice(members)
    row.sort(key=lambda one: one.lying[0].facts.length_mm)
    places = [_middle(one) for one in row]
    axis = int(np.ptp([p[1] for p in places]) > np.ptp([p[0] for p in places]))
    places.sort(key=lambda place: place[axis], reverse=chance.random() < 0.3)
    plan.lift(row)
    angle = row[0].angle_deg
    lie = [
        plan.lay_near(one.piece, one.form, angle if angle in one.piece.angles_deg else one.angle_deg, place)
        for one, place in zip(row, places)
    ]
    return all(lie)


def gather_row(plan: Plan, leaning: Leaning, chance: random.Random) -> bool:
    """Take up a row that fell apart with some neighbours of it, and lay it as a whole, then the neighbours round it."""
    apart = [row for row in plan.rows if plan.is_apart(row)]
    if not apart:
        return False
    row = chance.choice(apart)
    keys = set(row.keys)
    members = [one for one in plan.laid if keys.issuperset(one.piece.keys)]
    if sum(one.piece.copies for one in members) < row.copies:  # some of it lies nowhere, or in a longer row
        return False
    centre = _middle(chance.choice(members))
    others = [one for one in plan.laid if keys.isdisjoint(one.piece.keys)]
    others.sort(key=lambda one: float(np.hypot(*np.subtract(_middle(one), centre))))
    others = others[: chance.randint(1, 8)]
    plan.lift([*members, *others])
    if not plan.lay_whole(row, leaning, chance=chance, noise=_NOISE):
        return False
    waiting = [*plan.left, *(one.piece for one in others)]
    plan.left = []
    for piece in sorted(waiting, key=lambda piece: -piece.size[0] * chance.uniform(0.5, 1.5)):
        plan.lay(piece, leaning, chance=chance, noise=_NOISE)
    return True


def roomier(plan: Plan, leaning: Leaning, chance: random.Random) -> bool:
    """Give a piece that took a smaller form a better one, as near as that fits."""
    small = [one for one in plan.laid if one.piece.worse(one.form) > 0]
    if not small:
        return False
    one = chance.choice(small)
    at = _middle(one)
    plan.lift([one])
    for form in range(one.form):
        if one.piece.worse(form) < one.piece.worse(one.form) and plan.lay_near(one.piece, form, one.angle_deg, at):
            return True
    return False


MOVES: tuple[tuple[Move, float], ...] = (
    (repack, 0.35),
    (regroup, 0.15),
    (swap, 0.2),
    (alternate, 0.15),
    (gather_row, 0.15),
    (order_set, 0.1),
    (roomier, 0.05),
)
