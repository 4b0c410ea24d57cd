"""A straight trench across things that lie side by side: the one place where its line and its pull are made."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence

import numpy as np
import shapely
from shapely.geometry import LineString
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.geometry.axes import long_axis_deg
from cozy_burrow.core.geometry.placing import to_plan
from cozy_burrow.core.kit.zones import centre_of_mass
from cozy_burrow.core.model.pull_kinds import TRENCH
from cozy_burrow.core.model.records import FingerPull, Placement, Point, Rules

PAST_MM = 8.0  # with the round end of the band about a fingertip past the outer pockets
_FAR_MM = 1e4


def trench_line(areas: Iterable[BaseGeometry], *, axis_deg: float, at_mm: float) -> tuple[Point, Point] | None:
    """Return the ends of a trench's middle line across areas, PAST_MM beyond the outermost; None where it misses one.

    The line runs at right angles to an axis, `at_mm` along it from the origin.
    """
    angle = math.radians(axis_deg)
    axis, across = np.array([math.cos(angle), math.sin(angle)]), np.array([-math.sin(angle), math.cos(angle)])
    line = LineString([at_mm * axis - _FAR_MM * across, at_mm * axis + _FAR_MM * across])
    ends: list[float] = []
    for area in areas:
        met = shapely.get_coordinates(area.intersection(line))
        if len(met) < 2:
            return None
        ends += [float((met @ across).min()), float((met @ across).max())]
    if not ends:
        return None
    first, last = (at_mm * axis + reach * across for reach in (min(ends) - PAST_MM, max(ends) + PAST_MM))
    return (
        (round(float(first[0]), 2), round(float(first[1]), 2)),
        (round(float(last[0]), 2), round(float(last[1]), 2)),
    )


def trench(ends: tuple[Point, Point], serves: Iterable[str], rules: Rules, *, id_: str = "") -> FingerPull:
    """Return the trench along a line, for the placements that it serves."""
    return FingerPull(id=id_, kind=TRENCH.name, serves=tuple(serves), points_mm=ends, width_mm=rules.trench_mm)


def band_of(ends: tuple[Point, Point], width_mm: float) -> BaseGeometry:
    """Return what a trench along a line opens: a band with round ends."""
    return LineString(ends).buffer(width_mm / 2, quad_segs=16)


def trench_for(things: Sequence[tuple[Pocket, Placement]], *, id_: str, rules: Rules) -> FingerPull:
    """Return a straight trench across pockets (in plan coordinates, with where they lie), near each balance point.

    Its direction is across the mean long axis. Whether it crosses each of them, findings judge.
    """
    balance = np.array([to_plan(placement, centre_of_mass(pocket.item)) for pocket, placement in things])
    middle = balance.mean(axis=0)
    # Axes are lines, not arrows: the mean is taken of twice the angle.
    angles = [2 * math.radians(_axis_in_plan(pocket)) for pocket, _ in things]
    axis = math.atan2(sum(map(math.sin, angles)), sum(map(math.cos, angles))) / 2
    at_mm = float(middle @ np.array([math.cos(axis), math.sin(axis)]))
    surface = shapely.union_all([pocket.surface for pocket, _ in things])
    ends = trench_line([surface], axis_deg=math.degrees(axis), at_mm=at_mm)
    here = (float(middle[0]), float(middle[1]))
    return trench(ends or (here, here), (pocket.owner for pocket, _ in things), rules, id_=id_)


def _axis_in_plan(pocket: Pocket) -> float:
    return long_axis_deg(max(pocket.surface.geoms, key=lambda part: part.area))
