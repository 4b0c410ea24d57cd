"""Where fingers go: a first suggestion per item, from its balance point and the reach of its pocket.

A pair of circles sits across the item's long axis at its centre of mass, so that it lifts level; each circle's
middle lies on the pocket's edge, so that half of it opens beside the item.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal

import shapely
from shapely.geometry import LineString, Point
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.geometry.axes import long_axis_deg, spread_across
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.kit.zones import centre_of_mass
from cozy_burrow.core.model import records
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.pull_kinds import CIRCLE, CIRCLE_PAIR, PULL_KINDS, kind_of_pull
from cozy_burrow.core.model.records import FingerPull, Rules
from cozy_burrow.core.progress import make_way
from cozy_burrow.core.pulls.reach import along_needed_mm, away_needed_mm, wanted_depth

LEAST_OPENING_MM2 = 100.0  # beside the pocket: less lets no fingertip in
_SLIDES = (
    0.0,
    0.12,
    -0.12,
    0.24,
    -0.24,
    0.34,
    -0.34,
)  # shares of the length, tried outward from the balance point


_WIDE = (CIRCLE_PAIR.name, CIRCLE.name)
_CIRCLE_STEP_MM = 5.0  # in which circles are drawn and saws are sold
_SNUG_EDGE_MM = 2.0  # a circle's middle lies on the snug pocket's edge, a millimetre inside the thing's


class PullShape(records.Record, frozen=True, kw_only=True):
    """A kind of pull and its size, before it has a place."""

    kind: str
    width_mm: float


def shapes_to_try(rules: Rules, pocket: Pocket) -> tuple[PullShape, ...]:
    """Return the kinds in order of preference: the pair of circles, the pair of notches, one circle, one notch.

    Where fingers must reach far down, circles that let their knuckles in come first.
    """
    wide_mm = knuckle_circle_mm(pocket, rules)
    return (
        *(PullShape(kind=kind, width_mm=wide_mm) for kind in _WIDE if wide_mm > rules.circle_mm),
        PullShape(kind=CIRCLE_PAIR.name, width_mm=rules.circle_mm),
        PullShape(kind=CIRCLE_PAIR.name, width_mm=rules.notch_mm),
        PullShape(kind=CIRCLE.name, width_mm=rules.circle_mm),
        PullShape(kind=CIRCLE.name, width_mm=rules.notch_mm),
    )


def knuckle_circle_mm(pocket: Pocket, rules: Rules) -> float:
    """Return the diameter of a circle on a pocket's edge through which fingers reach as far down as they must."""
    down_mm = wanted_depth(pocket.local, centre_of_mass(pocket.item))
    room = max(2 * away_needed_mm(down_mm, rules.finger_mm) + _SNUG_EDGE_MM, along_needed_mm(down_mm, rules.finger_mm))
    return max(rules.circle_mm, math.ceil(room / _CIRCLE_STEP_MM) * _CIRCLE_STEP_MM)


def needs_pull(pocket: Pocket, rules: Rules) -> bool:
    """Return whether the item stands out too little to be held."""
    return pocket.seating.proud_mm < rules.proud_to_hold_mm


@memo(rows=4096)
def candidates(pocket: Pocket, shape: PullShape) -> tuple[FingerPull, ...]:
    """Return pulls of one kind for a pocket in item coordinates, the best place first.

    Each opens at least LEAST_OPENING_MM2 per circle beside the pocket's surface. Empty where none does.
    """
    item, surface = pocket.item, pocket.surface
    outline = polygon_of(item.outline)
    axis_deg = long_axis_deg(outline)
    cos, sin = math.cos(math.radians(axis_deg)), math.sin(math.radians(axis_deg))
    balance = centre_of_mass(item)
    along = shapely.get_coordinates(outline) @ [cos, sin]
    length = float(along.max() - along.min())
    found: list[FingerPull] = []
    for slide in _SLIDES:
        make_way()
        at = (balance[0] + slide * length * cos, balance[1] + slide * length * sin)
        ends = spread_across(surface, at, angle_deg=axis_deg + 90.0)
        if ends is None:
            continue
        choices: Sequence[tuple[records.Point, ...]] = (
            (ends,) if PULL_KINDS[shape.kind].both_sides else ((ends[1],), (ends[0],))
        )
        for points in choices:
            if all(_opens_enough(point, shape.width_mm, surface) for point in points):
                found.append(FingerPull(id="", kind=shape.kind, serves=(), points_mm=points, width_mm=shape.width_mm))
    return tuple(found)


def _opens_enough(point: records.Point, width_mm: float, surface: BaseGeometry) -> bool:
    disc = Point(point).buffer(width_mm / 2)
    return bool(disc.difference(surface).area >= LEAST_OPENING_MM2)


@memo(rows=4096)
def pull_area(pull: FingerPull) -> BaseGeometry:
    """Return the area of the pull in its own coordinates: circles, or a straight band, with round ends in a trench."""
    kind = kind_of_pull(pull)
    if kind.is_band:
        ends: Literal["round", "flat"] = "round" if kind.shape == "round band" else "flat"
        return LineString(pull.points_mm).buffer(pull.width_mm / 2, quad_segs=16, cap_style=ends)
    discs = [Point(point).buffer(pull.width_mm / 2, quad_segs=16) for point in pull.points_mm]
    return shapely.union_all(discs)
