"""Pulls that would serve one thing, the best first: kind and place weighed by balance, depth, room and habit.

A place is a distance along the thing's long axis from its balance point. The window of places is as wide as the moment
that fingers can hold; inside it the handle is preferred to other parts, and the balance point to all.
"""

from __future__ import annotations

import math

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.arrange.facts import facts_of
from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.foam.layers import Layer
from cozy_burrow.core.geometry.axes import long_axis_deg, spread_across
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.kit.zones import GRAVITY_N_G, centre_of_mass
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.pull_kinds import PULL_KINDS, PullKind
from cozy_burrow.core.model.records import FingerPull, Point, Record, Rules
from cozy_burrow.core.progress import make_way
from cozy_burrow.core.pulls.areas import LEAST_OPENING_MM2, knuckle_circle_mm, pull_area
from cozy_burrow.core.pulls.placed import pull_layers
from cozy_burrow.core.pulls.reach import (
    HOOK_MOMENT_NMM,
    PINCH_MOMENT_NMM,
    SPAN_MM,
    Reach,
    bottom_of,
    reach_of,
    zone_at,
)

_STEP_MM = 6.0
_LEAST_WINDOW_MM = 12.0  # thing so heavy that the balance point must be hit: as well as a hand can
_MOST_SHARE = 0.32  # of the length: farther out nobody would look for it
_TROUBLE_COST = 3.0
_OFF_HANDLE_COST = 0.3


class Choice(Record, frozen=True, kw_only=True):
    """A pull in item coordinates, where it lies along the axis, and what it costs as far as its place says.

    side: 0 or 1, where it lies on one side of the thing only.
    """

    pull: FingerPull
    along_mm: float
    cost: float
    side: int = 0


class Axis(Record, frozen=True, kw_only=True):
    """The long axis of a thing: its direction, its balance point, and how far from it a grip may lie either way."""

    angle_deg: float
    balance: Point
    window_mm: float
    low_mm: float
    high_mm: float

    def at(self, along_mm: float) -> Point:
        """Return the point on the axis so far from the balance point."""
        cos, sin = math.cos(math.radians(self.angle_deg)), math.sin(math.radians(self.angle_deg))
        return self.balance[0] + along_mm * cos, self.balance[1] + along_mm * sin


@memo(rows=2048)
def axis_of(pocket: Pocket) -> Axis:
    """Return the axis of a pocket's thing, in item coordinates."""
    item = pocket.item
    outline = polygon_of(item.outline)
    angle = long_axis_deg(outline)
    cos, sin = math.cos(math.radians(angle)), math.sin(math.radians(angle))
    balance = centre_of_mass(item)
    along = (shapely.get_coordinates(outline) - np.array(balance)) @ np.array([cos, sin])
    low, high = float(along.min()), float(along.max())
    weight_n = facts_of(item).mass_g * GRAVITY_N_G
    window = max(_LEAST_WINDOW_MM, min(PINCH_MOMENT_NMM / max(weight_n, 1e-6), _MOST_SHARE * (high - low)))
    return Axis(angle_deg=angle, balance=balance, window_mm=window, low_mm=low, high_mm=high)


def choices_for(pocket: Pocket, rules: Rules) -> tuple[Choice, ...]:
    """Return pulls for a pocket in item coordinates, the best first; what they give is asked of `judged`."""
    return _choices(pocket.local, rules)


@memo(rows=2048)
def _choices(pocket: Pocket, rules: Rules) -> tuple[Choice, ...]:
    count = math.floor(axis_of(pocket).window_mm / _STEP_MM)
    steps = sorted(range(-count, count + 1), key=lambda step: (abs(step), step))
    found = [one for step in steps for one in choices_at(pocket, rules, along_mm=step * _STEP_MM)]
    return tuple(sorted(found, key=lambda one: one.cost))


def pulls_to_try(pocket: Pocket, layers: tuple[Layer, ...], most: int, rules: Rules) -> tuple[FingerPull, ...]:
    """Return the best pull of every kind, size and side that serves a pocket's thing, in its coordinates.

    They come in the order in which they would be given.
    """
    found: dict[tuple[str, float, int], FingerPull] = {}
    for one in choices_for(pocket, rules):
        make_way()
        key = (one.pull.kind, one.pull.width_mm, one.side)
        if key not in found and judged(pocket, one.pull, layers, most, rules) is not None:
            found[key] = one.pull
    return tuple(found.values())


def along_of(pocket: Pocket, pull: FingerPull) -> float:
    """Return how far from the balance point, along the axis, a pull in item coordinates lies."""
    axis = axis_of(pocket.local)
    middle = np.mean(np.array(pull.points_mm), axis=0) - np.array(axis.balance)
    angle = math.radians(axis.angle_deg)
    return float(middle @ np.array([math.cos(angle), math.sin(angle)]))


def choices_at(pocket: Pocket, rules: Rules, *, along_mm: float) -> list[Choice]:
    """Return pulls of every kind at one place along a thing."""
    local = pocket.local
    axis = axis_of(local)
    ends = spread_across(local.surface, axis.at(along_mm), angle_deg=axis.angle_deg + 90.0)
    span = math.dist(*ends) if ends is not None else 0.0
    if ends is None or span < 1e-6:
        return []
    out = ((ends[1][0] - ends[0][0]) / span, (ends[1][1] - ends[0][1]) / span)
    middle = ((ends[0][0] + ends[1][0]) / 2, (ends[0][1] + ends[1][1]) / 2)
    moment = facts_of(local.item).mass_g * GRAVITY_N_G * abs(along_mm)
    place = 0.1 * abs(along_mm) / max(1.0, axis.high_mm - axis.low_mm)
    if len(local.item.zones) > 1 and not _on_handle(local, middle):
        place += _OFF_HANDLE_COST
    if span > SPAN_MM:
        place += _TROUBLE_COST
    found = []
    for kind, width_mm, dear in _kinds(rules, local):
        both, shift = kind.both_sides, kind.out * width_mm / 2
        first = (ends[0][0] - shift * out[0], ends[0][1] - shift * out[1])
        second = (ends[1][0] + shift * out[0], ends[1][1] + shift * out[1])
        limit = PINCH_MOMENT_NMM if both else HOOK_MOMENT_NMM
        for side, points in enumerate([(first, second)] if both else [(second,), (first,)]):
            pull = FingerPull(id="", kind=kind.name, serves=(), points_mm=points, width_mm=width_mm)
            cost = dear + moment / limit + place + 0.01 * side
            found.append(Choice(pull=pull, along_mm=along_mm, cost=cost, side=side))
    return found


def _kinds(rules: Rules, pocket: Pocket) -> list[tuple[PullKind, float, float]]:
    """Return the kinds that the program chooses by itself, their widths and costs: those that let knuckles in first."""
    wide_mm = knuckle_circle_mm(pocket, rules)
    chosen = [(kind, kind.cost) for kind in PULL_KINDS.values() if kind.cost is not None]
    found = [(kind, wide_mm, cost) for kind, cost in chosen if kind.widens] if wide_mm > rules.circle_mm else []
    found += [(kind, float(getattr(rules, kind.size)), cost) for kind, cost in chosen]
    if rules.notch_mm < rules.circle_mm:
        found += [(kind, rules.notch_mm, cost + kind.narrows) for kind, cost in chosen if kind.narrows is not None]
    return found


def judged(pocket: Pocket, pull: FingerPull, layers: tuple[Layer, ...], most: int, rules: Rules) -> Reach | None:
    """Return what a pull in item coordinates gives as deep as its pocket; None where it opens too little to be one."""
    return _judged(pocket.local, pull, layers, most, rules)


@memo(rows=4096)
def _judged(pocket: Pocket, pull: FingerPull, layers: tuple[Layer, ...], most: int, rules: Rules) -> Reach | None:
    if min(float(part.difference(pocket.surface).area) for part in _discs(pull)) < LEAST_OPENING_MM2:
        return None
    count = pull_layers(pull_area(pull), [pocket], layers, wanted=pull.layers, most=most)
    reach = reach_of_circles(pocket, pull, bottom_of(layers, count), rules)
    return None if "misses" in reach.troubles else reach


@memo(rows=4096)
def reach_of_circles(pocket: Pocket, pull: FingerPull, bottom_mm: float, rules: Rules) -> Reach:
    """Return what circles or notches, cut down to a depth, give for the thing in whose coordinates they lie."""
    mass_g = facts_of(pocket.item).mass_g
    return reach_of(pocket.local, _discs(pull), bottom_mm, mass_g=mass_g, finger_mm=rules.finger_mm)


def _discs(pull: FingerPull) -> list[BaseGeometry]:
    return [shapely.Point(point).buffer(pull.width_mm / 2, quad_segs=16) for point in pull.points_mm]


def _on_handle(pocket: Pocket, at: Point) -> bool:
    """Return whether a grip lies on the part that is made to be held: the thickest, and a round one before all."""
    zones = pocket.item.zones
    rounded = [zone for zone in zones if zone.section == "round"]
    handle = max(rounded or zones, key=lambda zone: zone.thickness_mm)
    return zone_at(zones, at) is handle
