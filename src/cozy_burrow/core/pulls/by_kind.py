"""A pull of a wished kind for one thing, at its best place; walls are then judged like any other's."""

from __future__ import annotations

import math

from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.foam.layers import Layer
from cozy_burrow.core.geometry.axes import spread_across
from cozy_burrow.core.model.records import FingerPull, PullKind, Rules
from cozy_burrow.core.pulls.choose import axis_of, choices_for
from cozy_burrow.core.pulls.press import press_points

RIBBON_MM = 12.0  # its width
_RIBBON_OUT_MM = 30.0  # beyond the thing on either side: an end to take hold of
SINGLE_KINDS: tuple[PullKind, ...] = ("circle_pair", "notch_pair", "circle", "notch", "press", "ribbon")


def pull_of_kind(
    pocket: Pocket, kind: PullKind, layers: tuple[Layer, ...], most: int, rules: Rules
) -> FingerPull | None:
    """Return a pull of a kind in item coordinates, serving nothing yet; None where that kind does nothing for it."""
    local = pocket.local
    if kind == "press":
        found = press_points(local, layers, most, rules)
        return found[0][0] if found else None
    if kind == "ribbon":
        axis = axis_of(local)
        ends = spread_across(local.surface, axis.balance, angle_deg=axis.angle_deg + 90.0)
        if ends is None:
            return None
        span = max(1e-9, math.dist(*ends))
        out = ((ends[1][0] - ends[0][0]) / span * _RIBBON_OUT_MM, (ends[1][1] - ends[0][1]) / span * _RIBBON_OUT_MM)
        points = ((ends[0][0] - out[0], ends[0][1] - out[1]), (ends[1][0] + out[0], ends[1][1] + out[1]))
        return FingerPull(id="", kind="ribbon", serves=(), points_mm=points, width_mm=RIBBON_MM)
    return next((one.pull for one in choices_for(local, rules) if one.pull.kind == kind), None)
