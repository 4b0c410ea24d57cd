"""A pull of a wished kind for one thing, at its best place; walls are then judged like any other's."""

from __future__ import annotations

import math
from collections.abc import Callable

from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.foam.layers import Layer
from cozy_burrow.core.geometry.axes import spread_across
from cozy_burrow.core.model.pull_kinds import PRESS, RIBBON
from cozy_burrow.core.model.records import FingerPull, Rules
from cozy_burrow.core.pulls.choose import axis_of, choices_for
from cozy_burrow.core.pulls.press import press_points

RIBBON_MM = 12.0  # its width
_RIBBON_OUT_MM = 30.0  # beyond the thing on either side: an end to take hold of


def pull_of_kind(pocket: Pocket, kind: str, layers: tuple[Layer, ...], most: int, rules: Rules) -> FingerPull | None:
    """Return a pull of a kind in item coordinates, serving nothing yet; None where that kind does nothing for it."""
    local = pocket.local
    special = _SPECIAL.get(kind)
    if special is not None:
        return special(local, layers, most, rules)
    return next((one.pull for one in choices_for(local, rules) if one.pull.kind == kind), None)


def _press(pocket: Pocket, layers: tuple[Layer, ...], most: int, rules: Rules) -> FingerPull | None:
    found = press_points(pocket, layers, most, rules)
    return found[0][0] if found else None


def _ribbon(pocket: Pocket, layers: tuple[Layer, ...], most: int, rules: Rules) -> FingerPull | None:
    axis = axis_of(pocket)
    ends = spread_across(pocket.surface, axis.balance, angle_deg=axis.angle_deg + 90.0)
    if ends is None:
        return None
    span = max(1e-9, math.dist(*ends))
    out = ((ends[1][0] - ends[0][0]) / span * _RIBBON_OUT_MM, (ends[1][1] - ends[0][1]) / span * _RIBBON_OUT_MM)
    points = ((ends[0][0] - out[0], ends[0][1] - out[1]), (ends[1][0] + out[0], ends[1][1] + out[1]))
    return FingerPull(id="", kind=RIBBON.name, serves=(), points_mm=points, width_mm=RIBBON_MM)


# Kinds that are not looked for beside the thing, place by place.
_SPECIAL: dict[str, Callable[[Pocket, tuple[Layer, ...], int, Rules], FingerPull | None]] = {
    PRESS.name: _press,
    RIBBON.name: _ribbon,
}
