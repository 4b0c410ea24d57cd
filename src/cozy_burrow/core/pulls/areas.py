"""What finger pulls take out of the foam, and how large one must be."""

from __future__ import annotations

import math
from typing import Literal

import shapely
from shapely.geometry import LineString, Point
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.kit.zones import centre_of_mass
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.pull_kinds import kind_of_pull
from cozy_burrow.core.model.records import FingerPull, Rules
from cozy_burrow.core.pulls.reach import along_needed_mm, away_needed_mm, wanted_depth

LEAST_OPENING_MM2 = 100.0  # beside the pocket: less lets no fingertip in
_CIRCLE_STEP_MM = 5.0  # in which circles are drawn and saws are sold
_SNUG_EDGE_MM = 2.0  # a circle's middle lies on the snug pocket's edge, a millimetre inside the thing's


def needs_pull(pocket: Pocket, rules: Rules) -> bool:
    """Return whether the item stands out too little to be held."""
    return pocket.seating.proud_mm < rules.proud_to_hold_mm


def knuckle_circle_mm(pocket: Pocket, rules: Rules) -> float:
    """Return the diameter of a circle on a pocket's edge through which fingers reach as far down as they must."""
    down_mm = wanted_depth(pocket.local, centre_of_mass(pocket.item))
    room = max(2 * away_needed_mm(down_mm, rules.finger_mm) + _SNUG_EDGE_MM, along_needed_mm(down_mm, rules.finger_mm))
    return max(rules.circle_mm, math.ceil(room / _CIRCLE_STEP_MM) * _CIRCLE_STEP_MM)


@memo(rows=512)
def pull_area(pull: FingerPull) -> BaseGeometry:
    """Return the area of the pull in its own coordinates: circles, or a straight band, with round ends in a trench."""
    kind = kind_of_pull(pull)
    if kind.is_band:
        ends: Literal["round", "flat"] = "round" if kind.shape == "round band" else "flat"
        return LineString(pull.points_mm).buffer(pull.width_mm / 2, quad_segs=16, cap_style=ends)
    discs = [Point(point).buffer(pull.width_mm / 2, quad_segs=16) for point in pull.points_mm]
    return shapely.union_all(discs)
