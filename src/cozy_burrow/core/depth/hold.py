"""How hard foam holds a thing: an estimate with its range, from interference, stiffness, friction and contact.

    grip = mu · p · A,    p = stiffness · (interference / strained depth) / 0.25

interference     how much the pocket is smaller than the thing on each side, mm
stiffness        stress that presses the foam in by a quarter of its thickness, kPa (N/mm² is a thousandth); foam data
                 sheets give it, and up to about that much the curve is straight enough
strained depth   how far behind the wall the foam gives: as far as the wall is thick, at most STRAINED_MM; beyond, a
                 strip pressed against a block spreads its strain (as a footing does in soil: about its own height)
A                side of the thing that touches foam: the rim of its pocket in each layer times the height in it, mm²;
                 half of that where the side is round, since foam touches it at the edge of each layer only
mu               friction of foam on steel, wood or plastic: 0.3 to 0.7 dry, less with wax or oil

It holds for interference from 0 to a quarter of the strained depth, dry foam, things pulled straight out. A thing that
is wedged by its shape holds better, a worn pocket worse. Pull tests with a scale take the place of the guesses.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal

from cozy_burrow.core.depth.pocket import Pocket, allowance_for
from cozy_burrow.core.foam.layers import Layer
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Record, Rules, Sheet

STRAINED_MM = 15.0
STIFFNESS_KPA = 40.0  # closed-cell polyethylene of 30 kg/m³ at 25 %
_DENSITY_KG_M3 = 30.0
_DENSER = 1.5  # stiffness grows with density to the power 1 (closed cells, faces stretch) to 2 (edges bend)
_STIFF_AT = 0.25
# How unsure each figure is, as a share of itself: cut (0.3 mm of 1), foam of one batch, friction, strained depth.
CUT_MM = 0.3
_UNSURE_FOAM, _UNSURE_FRICTION, _UNSURE_DEPTH = 0.3, 0.4, 0.3
_LEAST_UNSURE = 0.2  # however many pull tests there are
_ROUND_TOUCHES = 0.5
TIGHTER_MM = 0.2  # a cut that went a little inside its line
Change = Literal["tighter", "stiffer", "rougher", "thinner"]


class Calibration(Record, frozen=True, kw_only=True):
    """What pull tests say: measured over estimated, how far single tests lie from that as a share, how many."""

    factor: float = 1.0
    spread: float = 0.0
    tests: int = 0


class Hold(Record, frozen=True, kw_only=True):
    """The force in newtons that pulls a thing straight out, from low_n to high_n, and what it comes from."""

    grip_n: float
    low_n: float
    high_n: float
    interference_mm: float
    contact_mm2: float
    stiffness_kpa: float
    strained_mm: float
    friction: float
    pressure_kpa: float


def stiffness_of(sheet: Sheet) -> float:
    """Return the stiffness of a sheet in kPa from its density: 40 at 30 kg/m³, with the power 1.5 of density."""
    return float(STIFFNESS_KPA * (max(1.0, sheet.density_kg_m3) / _DENSITY_KG_M3) ** _DENSER)


@memo(rows=2048)
def contact_of(pocket: Pocket, layers: tuple[Layer, ...]) -> float:
    """Return the area of the sides of a thing that touch foam, in mm²."""
    area = 0.0
    seating, item = pocket.seating, pocket.item
    top_mm = max(0.0, seating.datum_mm - max(zone.highest_mm for zone in item.zones))
    rounded = sum(zone.section == "round" for zone in item.zones) / len(item.zones)
    for layer, cut in zip(layers, pocket.layers):
        low = min(layer.bottom_mm, seating.bottom_mm)
        high = max(layer.top_mm, top_mm)
        if low > high:
            area += float(cut.length) * (low - high)
    return area * (1.0 - rounded * (1.0 - _ROUND_TOUCHES))


def hold_of(
    pocket: Pocket,
    layers: tuple[Layer, ...],
    sheets: Sequence[Sheet],
    rules: Rules,
    *,
    wall_mm: float,
    calibration: Calibration | None = None,
) -> Hold:
    """Return how hard foam holds a thing; `wall_mm`: the thinnest foam beside its pocket."""
    interference = max(0.0, -allowance_for(pocket.item, rules))
    contact = contact_of(pocket.local, layers)
    stiffness = min(stiffness_of(sheets[layer.sheet - 1]) for layer in layers[: max(1, pocket.depth_layers)])
    return grip_force(
        interference_mm=interference,
        contact_mm2=contact,
        stiffness_kpa=stiffness,
        strained_mm=max(3.0, min(STRAINED_MM, wall_mm)),
        friction=rules.friction,
        calibration=calibration or Calibration(),
    )


def grip_force(
    *,
    interference_mm: float,
    contact_mm2: float,
    stiffness_kpa: float,
    strained_mm: float,
    friction: float,
    calibration: Calibration,
) -> Hold:
    """Return the grip force and its range from the figures of the formula above.

    The range is the root of the sum of squares of what is unsure; with pull tests their own spread takes the place of
    what they measured: foam, friction and strained depth.
    """
    strain = min(interference_mm / strained_mm, 1.0)
    pressure = stiffness_kpa * strain / _STIFF_AT
    grip = friction * pressure / 1000.0 * contact_mm2 * calibration.factor
    cut = CUT_MM / max(CUT_MM, interference_mm)
    if calibration.tests:
        # Each test halves nothing but its own error: the mean of n is sure to spread / root n.
        own = max(_LEAST_UNSURE, calibration.spread / math.sqrt(calibration.tests))
        unsure = math.hypot(cut, own)
    else:
        unsure = math.sqrt(cut**2 + _UNSURE_FOAM**2 + _UNSURE_FRICTION**2 + _UNSURE_DEPTH**2)
    return Hold(
        grip_n=grip,
        low_n=grip / (1.0 + unsure) if interference_mm > 0 else 0.0,
        high_n=grip * (1.0 + unsure),
        interference_mm=interference_mm,
        contact_mm2=contact_mm2,
        stiffness_kpa=stiffness_kpa,
        strained_mm=strained_mm,
        friction=friction,
        pressure_kpa=pressure,
    )


def sensitivity(hold: Hold) -> tuple[tuple[Change, float], ...]:
    """Return by how many newtons the grip changes with each figure.

    All but the last are straight lines in the formula, so that a change is the same up and down.
    """
    per_mm = hold.grip_n / hold.interference_mm if hold.interference_mm > 0 else 0.0
    return (
        ("tighter", TIGHTER_MM * per_mm),
        ("stiffer", 0.1 * hold.grip_n),
        ("rougher", hold.grip_n * 0.1 / hold.friction if hold.friction > 0 else 0.0),
        ("thinner", 0.5 * hold.grip_n),
    )


def calibrated(tests: Sequence[tuple[float, float]]) -> Calibration:
    """Return what pull tests say; each is (estimated, measured) in newtons. The middle one counts, so a slip does not.

    spread: the middle distance of single ratios from their middle, times 1.48, as a share (robust standard deviation).
    """
    ratios = sorted(measured / estimated for estimated, measured in tests if estimated > 0 and measured > 0)
    if not ratios:
        return Calibration()
    middle = _median(ratios)
    spread = 1.48 * _median(sorted(abs(one - middle) for one in ratios)) / middle
    return Calibration(factor=middle, spread=spread, tests=len(ratios))


def _median(ordered: Sequence[float]) -> float:
    half = len(ordered) // 2
    return ordered[half] if len(ordered) % 2 else (ordered[half - 1] + ordered[half]) / 2
