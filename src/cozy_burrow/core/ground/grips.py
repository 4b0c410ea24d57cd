"""Can it be got out? For each thing that lies in the ground what a hand finds, and what is wrong with that."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import shapely

from cozy_burrow.core.arrange.facts import facts_of
from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.geometry.placing import placed, to_item
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.ground.sits import proud_in
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.pull_kinds import kind_of_pull
from cozy_burrow.core.model.records import FingerPull, Placement, Point, Record, Rules
from cozy_burrow.core.pulls.choose import reach_of_circles
from cozy_burrow.core.pulls.placed import PlacedPull
from cozy_burrow.core.pulls.press import Press, press_of
from cozy_burrow.core.pulls.reach import Reach, bottom_of, reach_of

_BESIDE_MM = 40.0  # a thing farther away leaves fingers all the room they need
How = Literal["hook", "hollow", "proud", "pull", "press", "ribbon", "none"]


class Grip(Record, frozen=True, kw_only=True):
    """What a hand finds on one thing. pull: the id of the one that serves best; reach or press: what that gives."""

    how: How
    proud_mm: float
    pull: str = ""
    reach: Reach | None = None
    press: Press | None = None

    @property
    def good(self) -> bool:
        """Whether it comes out without a struggle."""
        if self.how == "pull":
            return self.reach is not None and not self.reach.troubles
        if self.how == "press":
            return self.press is not None and self.press.works
        return self.how != "none"

    @property
    def possible(self) -> bool:
        """Whether it comes out at all."""
        return self.how != "none" and (self.reach is None or "misses" not in self.reach.troubles)


def grip_of(ground: Ground, key: str) -> Grip:
    """Return how a placed thing is got out."""
    pocket = ground.pockets[key]
    proud_mm = proud_in(ground, key)
    placement = next(one for one in ground.insert.placements if one.id == key)
    best: Grip | None = None
    for pull in ground.pulls:
        if key in pull.reaches:
            grip = _by_pull(ground, pocket, placement, pull, proud_mm)
            if best is None or _rank(grip) < _rank(best):
                best = grip
    if pocket.item.held_by is not None and (best is None or not best.good):
        return Grip(how=pocket.item.held_by, proud_mm=proud_mm)
    if proud_mm >= ground.rules.proud_to_hold_mm and (best is None or not best.good):
        return Grip(how="proud", proud_mm=proud_mm)
    return best or Grip(how="none", proud_mm=proud_mm)


def _rank(grip: Grip) -> tuple[bool, int]:
    return not grip.good, len(grip.reach.troubles) if grip.reach is not None else 0


def _by_pull(ground: Ground, pocket: Pocket, placement: Placement, pull: PlacedPull, proud_mm: float) -> Grip:
    kind = kind_of_pull(pull.pull)
    if not kind.cuts:
        return Grip(how="ribbon", proud_mm=proud_mm, pull=pull.pull.id)
    if not kind.opens:
        press = press_of(pocket, pull.pull, pull.layers, ground.layers, ground.rules)
        return Grip(how="press", proud_mm=proud_mm, pull=pull.pull.id, press=press)
    bottom_mm = bottom_of(ground.layers, pull.layers)
    if kind.shared:
        by_id = {one.id: one for one in ground.insert.placements}
        row = [(ground.pockets[one], by_id[one]) for one in pull.pull.serves if one in ground.pockets]
        reach = reach_in_row(pocket, placement, pull.pull, row, bottom_mm, ground.rules)
    else:
        reach = reach_of_circles(pocket.local, pull.pull, bottom_mm, ground.rules)  # known again while it is carried
    return Grip(how="pull", proud_mm=proud_mm, pull=pull.pull.id, reach=reach)


def reach_in_row(
    pocket: Pocket,
    placement: Placement,
    trench: FingerPull,
    row: Sequence[tuple[Pocket, Placement]],
    bottom_mm: float,
    rules: Rules,
) -> Reach:
    """Return what a trench gives for one thing of a row, with its neighbours' bodies in the way of the fingers."""
    near = [(one, at) for one, at in row if one.owner != pocket.owner and _beside(one, pocket)]
    return _in_row(
        pocket.local,
        tuple(_to_item(placement, point) for point in trench.points_mm),
        trench.width_mm,
        tuple(one.local for one, _ in near),
        tuple(_relative(placement, at) for _, at in near),
        bottom_mm,
        rules,
    )


def _beside(one: Pocket, other: Pocket) -> bool:
    left, top, right, bottom = one.surface.bounds
    low_x, low_y, high_x, high_y = other.surface.bounds
    return bool(
        left < high_x + _BESIDE_MM
        and right > low_x - _BESIDE_MM
        and top < high_y + _BESIDE_MM
        and bottom > low_y - _BESIDE_MM
    )


def _to_item(placement: Placement, point: Point) -> Point:
    x, y = to_item(placement, point)
    return round(x, 3), round(y, 3)


def _relative(placement: Placement, other: Placement) -> tuple[float, float, float]:
    x, y = to_item(placement, (other.x_mm, other.y_mm))
    return round(x, 3), round(y, 3), round(other.angle_deg - placement.angle_deg, 3)


@memo(rows=1024)
def _in_row(
    pocket: Pocket,
    points: tuple[Point, ...],
    width_mm: float,
    others: tuple[Pocket, ...],
    places: tuple[tuple[float, float, float], ...],
    bottom_mm: float,
    rules: Rules,
) -> Reach:
    # All in the thing's own coordinates: a row that is carried as a whole is known already.
    band = shapely.LineString(points).buffer(width_mm / 2, quad_segs=16)
    outlines = [
        placed(polygon_of(other.item.outline), x_mm=x, y_mm=y, angle_deg=angle)
        for other, (x, y, angle) in zip(others, places)
    ]
    beside = shapely.union_all(outlines) if outlines else None
    mass_g = facts_of(pocket.item).mass_g
    return reach_of(pocket, [band], bottom_mm, mass_g=mass_g, finger_mm=rules.finger_mm, others=beside)
