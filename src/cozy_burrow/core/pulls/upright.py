"""Things of a row turned upright, their length along y, and how far each moves along it so that ends come to a line."""

from __future__ import annotations

import math
from collections.abc import Sequence

import shapely
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.arrange.facts import Facts
from cozy_burrow.core.arrange.pieces import Form
from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.model.records import Point
from cozy_burrow.core.pulls.forms import footprint
from cozy_burrow.core.pulls.on_line import onto_lines

_OFF_BALANCE = 0.13  # of its length that the trench may lie off a thing's balance point


class Upright(Frozen):
    """A thing turned upright, at the origin its balance point, or where no trench asks for that its middle."""

    __slots__ = ("angle_deg", "balanced", "bare", "body", "facts", "form", "is_turned", "key", "pocket", "shape")

    def __init__(
        self,
        key: tuple[str, int],
        pocket: Pocket,
        facts: Facts,
        angle_deg: float,
        form: Form,
        *,
        balanced: bool,
        is_turned: bool = False,
    ) -> None:
        self.balanced, self.is_turned = balanced, is_turned
        self.key, self.pocket, self.facts, self.angle_deg, self.form = key, pocket, facts, angle_deg, form
        turned = placed(footprint(pocket, form.wall_mm), x_mm=0.0, y_mm=0.0, angle_deg=angle_deg)
        angle = math.radians(angle_deg)
        x, y = facts.balance if balanced else _middle(pocket.surface)
        self.bare = (math.cos(angle) * x - math.sin(angle) * y, math.sin(angle) * x + math.cos(angle) * y)
        self.shape: BaseGeometry = shapely.transform(turned, lambda points: points - self.bare)
        outline = placed(polygon_of(pocket.item.outline), x_mm=0.0, y_mm=0.0, angle_deg=angle_deg)
        self.body: BaseGeometry = shapely.transform(outline, lambda points: points - self.bare)

    def turned(self) -> Upright:
        """Return the same thing with its ends exchanged."""
        turned_deg = self.angle_deg + 180.0
        return Upright(
            self.key,
            self.pocket,
            self.facts,
            turned_deg,
            self.form,
            balanced=self.balanced,
            is_turned=not self.is_turned,
        )


def upright_deg(facts: Facts) -> float:
    """Return the turn that lays a thing's length along y, its handle to the front."""
    if facts.axis_deg is None:
        return 90.0 if facts.length_mm > facts.width_mm else 0.0
    turn = 90.0 - facts.axis_deg
    if facts.handle is not None:
        angle = math.radians(turn)
        if math.sin(angle) * facts.handle[0] + math.cos(angle) * facts.handle[1] < 0:
            turn += 180.0
    return turn % 360.0


def away_to_lines(row: Sequence[Upright]) -> list[float]:
    """Return how far each moves along its length, so that near ends come to one line, those of turned ones to another.

    None farther than leaves the trench near its balance. The line of turned ones is as near as may be to where the
    longest of the others ends: then the row is flush at both sides.
    """
    away = [0.0] * len(row)
    flush: float | None = None
    for is_turned in (False, True):
        members = [n for n, one in enumerate(row) if one.is_turned == is_turned]
        ends = [float(row[n].shape.bounds[1 if is_turned else 3]) for n in members]
        most = [row[n].facts.length_mm * (_OFF_BALANCE if row[n].balanced else 1.0) for n in members]
        for n, end, come in zip(members, ends, onto_lines(ends, most, near_mm=flush)):
            away[n] = round(come - end, 2)
        flush = min((float(row[n].shape.bounds[1]) + away[n] for n in members), default=None)
    return away


def _middle(area: BaseGeometry) -> Point:
    left, top, right, bottom = area.bounds
    return (left + right) / 2, (top + bottom) / 2
