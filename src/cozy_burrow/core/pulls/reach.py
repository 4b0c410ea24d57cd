"""How well a hand gets hold of a thing by a pull: room beside it, depth below its middle, how level it lifts.

Grip     the places on the outline that the fingers take hold of, on one side or on both
Opening  what is free beside the outline in a pull: a fingertip must go in
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.depth.sections import heights_at
from cozy_burrow.core.foam.layers import Layer
from cozy_burrow.core.geometry.axes import long_axis_deg
from cozy_burrow.core.geometry.offset import mitred
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.kit.zones import GRAVITY_N_G, centre_of_mass
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Point, Record, Zone

FINGER_FLAT = 0.7  # a fingertip is so much thinner than it is broad
PAST_MIDDLE_MM = 2.0  # fingers go so far below the widest line of a round thing, or they slip off it
HOLD_MM = 8.0  # of side to press on; a thing thinner than that is taken by all of it
# A fingertip is round and 11 mm thick: it slips over a thin edge on the floor. So much of it must be reachable, the
# thing's own side or room below its underside: 3 mm deeper than the floor beside a rule of 1 mm.
EDGE_MM = 4.0
JOINT_MM = 25.0  # a fingertip and its first joint; deeper down the knuckles must go in too
_KNUCKLE_AWAY, _KNUCKLE_ALONG = 0.75, 1.0  # more room for each millimetre below that: 22 x 31 at a depth of 40
# Friction of two pads holds μ·N·r each: with a comfortable pinch of 20 N, half of what most hands manage, μ = 0.5 on
# steel or wood and pads of 8 mm radius (two thirds of which act), 2 · 0.5 · 20 · 5.3 = 106 N·mm.
PINCH_MOMENT_NMM = 100.0
HOOK_MOMENT_NMM = 60.0  # one finger under an edge, the thumb on the other
_EDGE_MM = 0.2  # inside the outline, where a way is sure to cross the thing
SPAN_MM = 85.0  # between finger and thumb

Trouble = Literal["narrow", "shallow", "deep", "askew", "wide", "misses"]


class Reach(Record, frozen=True, kw_only=True):
    """What a pull gives for one thing.

    sides: on how many sides fingers go in. opening_mm: room beyond the outline on the narrower one. along_mm: the
    breadth of that room along the outline. past_mm: how far the pull reaches below what must be reached. off_mm: from
    the middle of the grip to the balance point. moment_nmm, limit_nmm: what that pulls at the fingers, may. span_mm:
    between the fingers. at: middle of the grip in item coordinates. down_mm: how far below the surface the fingers
    must go there. troubles: what is wrong, the worst first.
    """

    sides: int
    opening_mm: float
    along_mm: float
    past_mm: float
    off_mm: float
    moment_nmm: float
    limit_nmm: float
    span_mm: float
    at: Point
    down_mm: float
    troubles: tuple[Trouble, ...]


class _Opening(Record, frozen=True, kw_only=True):
    """Room on one side: its depth away from the outline, its breadth along it, where it meets the outline."""

    away_mm: float
    along_mm: float
    at: Point


def reach_of(
    pocket: Pocket,
    parts: Sequence[BaseGeometry],
    bottom_mm: float,
    *,
    mass_g: float,
    finger_mm: float,
    others: BaseGeometry | None = None,
) -> Reach:
    """Return what openings in item coordinates, cut down to bottom_mm, give a hand; others: what else stands there."""
    local = pocket.local
    outline = polygon_of(local.item.outline)
    openings = [one for part in parts for one in _openings(outline, part, others, finger_mm)]
    openings.sort(key=lambda one: -min(one.away_mm / FINGER_FLAT, one.along_mm))
    if not openings:
        return _nothing(local)
    wide_enough = [one for one in openings if _lets_in(one, finger_mm)]
    first, *rest = wide_enough or openings
    opposite = next((one for one in rest if not _same_side(outline, first.at, one.at)), None)
    chosen = [first] if opposite is None else [first, opposite]
    at = np.mean([one.at for one in chosen], axis=0)
    balance = np.array(centre_of_mass(local.item))
    span = float(np.hypot(*(np.array(chosen[0].at) - np.array(chosen[-1].at)))) if len(chosen) == 2 else 0.0
    # Held on one side, the thumb lies opposite: the middle of the grip is the outline's middle there.
    off = float(np.hypot(*(at - balance))) if len(chosen) == 2 else _along(outline, at, balance)
    moment = mass_g * GRAVITY_N_G * off
    limit = PINCH_MOMENT_NMM if len(chosen) == 2 else HOOK_MOMENT_NMM
    down = wanted_depth(local, (float(at[0]), float(at[1])))
    past = bottom_mm - down
    narrow = chosen[-1]
    troubles: list[Trouble] = []
    if not _lets_in(narrow, finger_mm):
        troubles.append("narrow")
    if past < -0.5:
        troubles.append("shallow")
    away_mm, along_mm = min(one.away_mm for one in chosen), min(one.along_mm for one in chosen)
    knuckles = away_mm >= away_needed_mm(down, finger_mm) and along_mm >= along_needed_mm(down, finger_mm)
    if not knuckles and "narrow" not in troubles:
        troubles.append("deep")
    if moment > limit:
        troubles.append("askew")
    if span > SPAN_MM:
        troubles.append("wide")
    return Reach(
        sides=len(chosen),
        opening_mm=away_mm,
        along_mm=along_mm,
        past_mm=past,
        off_mm=off,
        moment_nmm=moment,
        limit_nmm=limit,
        span_mm=span,
        at=(float(at[0]), float(at[1])),
        down_mm=down,
        troubles=tuple(troubles),
    )


def _nothing(pocket: Pocket) -> Reach:
    return Reach(
        sides=0,
        opening_mm=0.0,
        along_mm=0.0,
        past_mm=0.0,
        off_mm=0.0,
        moment_nmm=0.0,
        limit_nmm=PINCH_MOMENT_NMM,
        span_mm=0.0,
        at=centre_of_mass(pocket.item),
        down_mm=0.0,
        troubles=("misses",),
    )


def away_needed_mm(down_mm: float, finger_mm: float) -> float:
    """Return the room beside a thing that fingers need to reach so far below the surface."""
    return FINGER_FLAT * finger_mm + _KNUCKLE_AWAY * max(0.0, down_mm - JOINT_MM) - 0.2


def along_needed_mm(down_mm: float, finger_mm: float) -> float:
    """Return the room along a thing that fingers need to reach so far below the surface."""
    return finger_mm + _KNUCKLE_ALONG * max(0.0, down_mm - JOINT_MM) - 0.5


def _lets_in(opening: _Opening, finger_mm: float) -> bool:
    return opening.along_mm >= along_needed_mm(0.0, finger_mm) and opening.away_mm >= away_needed_mm(0.0, finger_mm)


def _openings(
    outline: BaseGeometry, part: BaseGeometry, others: BaseGeometry | None, finger_mm: float
) -> list[_Opening]:
    free = part.difference(outline)
    if others is not None and not others.is_empty:
        free = free.difference(others)
    ring = _ring_beside(outline, round(FINGER_FLAT * finger_mm / 2, 2))
    found = []
    for piece in shapely.get_parts(free):
        if piece.distance(outline) > 0.01 or piece.area < 1.0:
            continue
        # Where the middle of a fingertip runs: its breadth must lie inside the opening there.
        runs = shapely.get_parts(shapely.line_merge(piece.intersection(ring)))
        along = max((float(line.length) for line in runs), default=0.0)
        corners = shapely.points(shapely.get_coordinates(piece))
        away = shapely.distance(corners, outline)
        touching = shapely.get_coordinates(piece)[away < 0.05]
        middle = touching.mean(axis=0) if len(touching) else shapely.get_coordinates(piece.centroid)[0]
        found.append(_Opening(away_mm=float(away.max()), along_mm=along, at=(float(middle[0]), float(middle[1]))))
    return found


@memo(rows=1024)
def _ring_beside(outline: BaseGeometry, by_mm: float) -> BaseGeometry:
    return outline.buffer(by_mm, quad_segs=8).boundary


def _same_side(outline: BaseGeometry, first: Point, second: Point) -> bool:
    """Return whether two places lie on one side of the thing: the way between them does not cross it."""
    line = shapely.LineString([first, second])
    # A way along an edge does not cross it: only what runs inside counts.
    return bool(line.length < 1e-6 or line.intersection(_inside(outline)).length < 0.5 * line.length)


@memo(rows=1024)
def _inside(outline: BaseGeometry) -> BaseGeometry:
    return mitred(outline, -_EDGE_MM)


def _along(outline: Polygon, at: NDArray[np.float64], balance: NDArray[np.float64]) -> float:
    """Return the distance from a place to the balance point along the thing's longer axis."""
    axis = math.radians(long_axis_deg(outline))
    return float(abs((at - balance) @ np.array([math.cos(axis), math.sin(axis)])))


def wanted_depth(pocket: Pocket, at: Point) -> float:
    """Return the depth below the surface that fingers must reach at a place of a thing as it is seated."""
    zone = zone_at(pocket.item.zones, at)
    datum_mm = pocket.seating.datum_mm
    under_mm, top_mm = datum_mm - zone.lowest_mm, datum_mm - zone.highest_mm
    if zone.under_end_mm is not None:  # a wedge is as thick as it is at this place
        nearest = shapely.get_coordinates(shapely.shortest_line(shapely.Point(at), polygon_of(zone.region)))[-1:]
        under, top = heights_at(zone, nearest)
        under_mm, top_mm = datum_mm - float(under[0]), datum_mm - float(top[0])
    if zone.section == "round":
        return max(min(under_mm, (under_mm + top_mm) / 2 + PAST_MIDDLE_MM), top_mm + EDGE_MM)
    return max(min(under_mm, top_mm + HOLD_MM), top_mm + EDGE_MM)


def layers_for_fingers(pocket: Pocket, layers: Sequence[Layer]) -> int:
    """Return how many layers a pull beside a thing goes down: as its pocket, or deeper where it is thin all over."""
    thick = max(pocket.item.zones, key=lambda zone: zone.thickness_mm)
    if thick.thickness_mm >= EDGE_MM:
        return pocket.depth_layers
    wanted_mm = pocket.seating.datum_mm - thick.highest_mm + EDGE_MM
    deep = next((layer.number for layer in layers if layer.bottom_mm >= wanted_mm - 0.5), len(layers))
    return max(deep, pocket.depth_layers)


def zone_at(zones: Sequence[Zone], at: Point) -> Zone:
    """Return the zone nearest to a place; where several meet, the thickest."""
    dot = shapely.Point(at)
    return min(zones, key=lambda zone: (round(float(polygon_of(zone.region).distance(dot)), 3), -zone.thickness_mm))


def bottom_of(layers: Sequence[Layer], count: int) -> float:
    """Return how deep a pull of so many layers goes."""
    return layers[count - 1].bottom_mm if count else 0.0
