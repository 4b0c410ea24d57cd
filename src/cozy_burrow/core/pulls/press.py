"""Press points: the floor under one end goes deeper, so that a push there tips the other end up.

The thing turns about the edge of the deeper floor: its weight lies on the one side of that edge, the finger on the
other. How far the far end comes up, and how hard one has to push, follow from the sitting model.
"""

from __future__ import annotations

import math

import numpy as np
import shapely
from msgspec.structs import replace
from shapely.geometry import LineString

from cozy_burrow.core.arrange.facts import facts_of
from cozy_burrow.core.depth.pocket import Pocket, allowance_in
from cozy_burrow.core.depth.settling import settle
from cozy_burrow.core.depth.underside import places_of
from cozy_burrow.core.foam.layers import Layer
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.kit.zones import GRAVITY_N_G, centre_of_mass
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.pull_kinds import PRESS
from cozy_burrow.core.model.records import FingerPull, Record, Rules
from cozy_burrow.core.pulls.areas import pull_area
from cozy_burrow.core.pulls.choose import axis_of

RISES_MM = 8.0  # of the far end: then it can be taken
PUSH_N = 10.0  # one finger, without effort
_SHARES = (0.22, 0.3, 0.38)  # of the length that the deeper floor takes
_FINGER_IN_MM = 8.0  # from the end to the middle of the fingertip that pushes


class Press(Record, frozen=True, kw_only=True):
    """What a push at the end does: the force in newtons that tips it, how far the other end rises, how far it turns."""

    push_n: float
    rise_mm: float
    turn_deg: float

    @property
    def works(self) -> bool:
        """Whether a finger can do it, and the other end can then be taken."""
        return self.rise_mm >= RISES_MM and self.push_n <= PUSH_N


def press_of(pocket: Pocket, pull: FingerPull, layers_out: int, layers: tuple[Layer, ...], rules: Rules) -> Press:
    """Return what a press point gives; `layers_out`: how deep its floor lies."""
    return _press(pocket.local, pull, layers_out, layers, rules)


@memo(rows=1024)
def _press(pocket: Pocket, pull: FingerPull, layers_out: int, layers: tuple[Layer, ...], rules: Rules) -> Press:
    item = pocket.item
    end, inner = np.array(pull.points_mm[0]), np.array(pull.points_mm[1])
    along = (inner - end) / max(1e-9, float(np.hypot(*(inner - end))))
    push_at = end + along * _FINGER_IN_MM
    cut = pull_area(pull)
    places = places_of(pocket, layers, -allowance_in(pocket, rules), ((cut, layers_out),))
    centre = np.array(centre_of_mass(item))
    rest = settle(places.xy, places.depth_mm, (float(centre[0]), float(centre[1])))
    tipped = settle(places.xy, places.depth_mm, (float(push_at[0]), float(push_at[1])))
    outline = shapely.get_coordinates(polygon_of(item.outline))
    far = outline[[int(np.argmax((outline - end) @ along))]]
    rise = float((rest.depth_at(far) - tipped.depth_at(far))[0])
    # Balance about the edge of the deeper floor: push · (edge - finger) = weight · (weight's place - edge).
    edge = float((inner - end) @ along)
    weight_n = facts_of(item).mass_g * GRAVITY_N_G
    lever = edge - _FINGER_IN_MM
    push_n = weight_n * max(0.0, float((centre - end) @ along) - edge) / lever if lever > 1.0 else math.inf
    return Press(push_n=push_n, rise_mm=rise, turn_deg=tipped.tilt_deg)


def press_points(pocket: Pocket, layers: tuple[Layer, ...], most: int, rules: Rules) -> list[tuple[FingerPull, Press]]:
    """Return press points that work, in item coordinates, the one that cuts least first."""
    local = pocket.local
    axis = axis_of(local)
    deepest = local.depth_layers
    found: list[tuple[float, FingerPull, Press]] = []
    ends = sorted((axis.low_mm, axis.high_mm), key=abs, reverse=True)
    for end in ends:
        for share in _SHARES:
            inner = end - math.copysign(share * (axis.high_mm - axis.low_mm), end)
            if inner * end <= 0:
                continue  # the weight itself would lie over the deeper floor
            band = LineString([axis.at(end), axis.at(inner)])
            wide = float(local.surface.intersection(band.buffer(500.0, cap_style="flat")).area) / band.length
            pull = FingerPull(
                id="", kind=PRESS.name, serves=(), points_mm=(axis.at(end), axis.at(inner)), width_mm=2 * wide + 10.0
            )
            for count in range(deepest + 1, most + 1):
                press = press_of(local, pull, count, layers, rules)
                if press.works:
                    cut = band.length * (layers[count - 1].bottom_mm - layers[deepest - 1].bottom_mm)
                    found.append((cut, replace(pull, layers=count), press))
                    break
    return [(pull, press) for _, pull, press in sorted(found, key=lambda one: one[0])]
