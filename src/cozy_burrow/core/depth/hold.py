"""How hard foam holds a thing: an estimate with its range, from interference, stiffness, friction and contact.

    grip = mu · p · A,    p = stiffness · (interference / strained depth) / 0.25

interference     how much the pocket is smaller than the thing on each side, mm
stiffness        stress that presses the foam in by a quarter of its thickness, kPa (N/mm² is a thousandth); foam data
                 sheets give it, and up to about that much the curve is straight enough
strained depth   how far behind the wall the foam gives: as far as the wall is thick, at most STRAINED_MM; beyond, a
                 strip pressed against a block spreads its strain (as a footing does in soil: about its own height). A
                 wall that stands free bends as well, see `gives_mm`
A                side of the thing that touches foam: the rim of its pocket in each layer times the height in it, mm²;
                 half of that where the side is round, since foam touches it at the edge of each layer only
mu               friction of foam on steel, wood or plastic: 0.3 to 0.7 dry, less with wax or oil

Below the middle of a round thing the foam presses it up as well as in: at an edge where the radius stands at t from the
vertical, mu · sin t - cos t of the pressure keeps it down (`net_share`). Sunk less than about half of its radius it is
squeezed out, however tight the pocket.

Foam that was glued in gives at its seam, and was cut by hand twice: half of the sides that are such foam counts, and
for the lower end of the range none of them.

It holds for interference from 0 to a quarter of the strained depth, dry foam, things pulled straight out. A thing that
is wedged by its shape holds better, a worn pocket worse: foam gives up a third to a half of its pressure in the weeks
in which a thing lies in it. Pull tests with a scale take the place of the guesses.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal

from msgspec.structs import replace

from cozy_burrow.core.depth.pocket import Pocket, allowance_in
from cozy_burrow.core.foam.layers import Layer
from cozy_burrow.core.geometry.rings import polygon_of
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
_GLUED_COUNTS = 0.5  # of the grip of foam that was glued in
_LEAST_WALL_MM = 3.0  # thinner foam is given up
TIGHTER_MM = 0.2  # a cut that went a little inside its line
Change = Literal["tighter", "stiffer", "rougher", "thinner"]


class Calibration(Record, frozen=True, kw_only=True):
    """What pull tests say: measured over estimated, how far single tests lie from that as a share, how many."""

    factor: float = 1.0
    spread: float = 0.0
    tests: int = 0


class Hold(Record, frozen=True, kw_only=True):
    """The force in newtons that pulls a thing straight out, from low_n to high_n, and what it comes from.

    interference_mm: negative where the pocket is larger. net_share: of the friction that is left of a round thing's
    being pressed up; squeezed: nothing is left, the foam presses it out. thinner_mm: the strained depth if the foam
    beside it were a third thinner.
    """

    grip_n: float
    low_n: float
    high_n: float
    interference_mm: float
    contact_mm2: float
    stiffness_kpa: float
    strained_mm: float
    friction: float
    pressure_kpa: float
    net_share: float = 1.0
    thinner_mm: float = 0.0
    glued_share: float = 0.0  # of its sides that are foam which was glued in

    @property
    def squeezed(self) -> bool:
        """Whether the foam presses the thing out of its pocket."""
        return self.net_share <= 0 and self.interference_mm > 0


class Wall(Record, frozen=True, kw_only=True):
    """Foam beside a thing: how thick, how deep and how long it stands; free where nothing backs it up."""

    thick_mm: float
    deep_mm: float = 0.0
    long_mm: float = 0.0


def gives_mm(wall: Wall) -> float:
    """Return how thick a block of foam would give as much as a wall does, under the same pressure all over its side.

    It is pressed in: its own thickness t. And it bends, as a cantilever of depth h (deflection p · h⁴ / 8 E I with
    I = t³ / 12: a block of 1.5 h⁴ / t³) and as a beam built in at both ends of its length l (p · l⁴ / 384 E I: a block
    of l⁴ / 32 t³); whichever is stiffer carries more, so that their stiffnesses add.
    """
    thick = max(_LEAST_WALL_MM, wall.thick_mm)
    upright, along = 1.5 * wall.deep_mm**4 / thick**3, wall.long_mm**4 / (32 * thick**3)
    bends = upright * along / (upright + along) if upright > 0 and along > 0 else 0.0
    return min(STRAINED_MM, thick) + bends


def strained_mm(walls: Sequence[Wall]) -> float:
    """Return the strained depth of a thing between walls: both of its sides press with the same force.

    The two that give most count; where fewer are known the other side is foam as thick as it strains.
    """
    gives = sorted((gives_mm(wall) for wall in walls), reverse=True)[:2]
    return sum([*gives, *[STRAINED_MM] * (2 - len(gives))]) / 2


def stiffness_of(sheet: Sheet) -> float:
    """Return the stiffness of a sheet in kPa from its density: 40 at 30 kg/m³, with the power 1.5 of density."""
    return float(STIFFNESS_KPA * (max(1.0, sheet.density_kg_m3) / _DENSITY_KG_M3) ** _DENSER)


def modulus_of(sheet: Sheet) -> float:
    """Return stress over strain of a sheet in N/mm², from its stiffness."""
    return stiffness_of(sheet) / _STIFF_AT / 1000.0


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


@memo(rows=2048)
def net_share(pocket: Pocket, friction: float) -> float:
    """Return the share of its friction that keeps a thing down, 1 of a flat side; below 0 it is pressed out.

    A round thing is pressed most at the foam's surface, where its pocket is widest. Below its middle the radius to that
    edge stands at t from the vertical, with cos t the height below the middle over the radius; further down it rests.
    """
    seating, share, whole = pocket.seating, 0.0, 0.0
    for zone in pocket.item.zones:
        under_mm, top_mm = seating.datum_mm - zone.lowest_mm, seating.datum_mm - zone.highest_mm
        sunk_mm = under_mm - max(0.0, top_mm)
        if sunk_mm <= 0:
            continue
        radius, middle_mm = (under_mm - top_mm) / 2, (under_mm + top_mm) / 2
        cos = min(1.0, max(0.0, -middle_mm) / radius) if zone.section == "round" else 0.0
        weight = polygon_of(zone.region).length * sunk_mm
        share, whole = share + weight * (math.sqrt(1 - cos**2) - cos / friction), whole + weight
    return share / whole if whole > 0 else 1.0


def hold_of(
    pocket: Pocket,
    layers: tuple[Layer, ...],
    sheets: Sequence[Sheet],
    rules: Rules,
    *,
    walls: Sequence[Wall],
    calibration: Calibration | None = None,
    glued_share: float = 0.0,
) -> Hold:
    """Return how hard foam holds a thing between walls of foam. glued_share: of its sides that was glued in."""
    stiffness = min(stiffness_of(sheets[layer.sheet - 1]) for layer in layers[: max(1, pocket.depth_layers)])
    thinner = [replace(wall, thick_mm=wall.thick_mm * 2 / 3) for wall in walls]
    return grip_force(
        interference_mm=-allowance_in(pocket, rules),
        contact_mm2=contact_of(pocket.local, layers),
        stiffness_kpa=stiffness,
        strained_mm=max(_LEAST_WALL_MM, strained_mm(walls)),
        thinner_mm=max(_LEAST_WALL_MM, strained_mm(thinner)),
        friction=rules.friction,
        net_share=net_share(pocket.local, rules.friction),
        calibration=calibration or Calibration(),
        glued_share=glued_share,
    )


def grip_force(
    *,
    interference_mm: float,
    contact_mm2: float,
    stiffness_kpa: float,
    strained_mm: float,
    friction: float,
    calibration: Calibration,
    net_share: float = 1.0,
    thinner_mm: float | None = None,
    glued_share: float = 0.0,
) -> Hold:
    """Return the grip force and its range from the figures of the formula above.

    The range is the root of the sum of squares of what is unsure; with pull tests their own spread takes the place of
    what they measured: foam, friction and strained depth. A knife keeps to its line within CUT_MM: so a pocket on the
    line holds between nothing and what that much interference would.
    """
    per_mm = friction * stiffness_kpa / _STIFF_AT / 1000.0 * contact_mm2 * calibration.factor * max(0.0, net_share)
    tight = max(0.0, interference_mm)
    grip = per_mm * min(tight / strained_mm, 1.0)
    tightest = per_mm * min(max(0.0, interference_mm + CUT_MM) / strained_mm, 1.0)
    if calibration.tests:
        # Each test halves nothing but its own error: the mean of n is sure to spread / root n.
        rest = max(_LEAST_UNSURE, calibration.spread / math.sqrt(calibration.tests))
    else:
        rest = math.sqrt(_UNSURE_FOAM**2 + _UNSURE_FRICTION**2 + _UNSURE_DEPTH**2)
    unsure = math.hypot(CUT_MM / tight, rest) if tight > 0 else math.inf
    return Hold(
        grip_n=grip * (1.0 - (1.0 - _GLUED_COUNTS) * glued_share),
        low_n=grip * (1.0 - glued_share) / (1.0 + unsure) if tight > CUT_MM else 0.0,
        high_n=grip + math.hypot(max(0.0, tightest - grip), grip * rest),
        interference_mm=interference_mm,
        contact_mm2=contact_mm2,
        stiffness_kpa=stiffness_kpa,
        strained_mm=strained_mm,
        friction=friction,
        pressure_kpa=stiffness_kpa * min(tight / strained_mm, 1.0) / _STIFF_AT,
        net_share=net_share,
        thinner_mm=strained_mm * 2 / 3 if thinner_mm is None else thinner_mm,
        glued_share=glued_share,
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
        ("thinner", hold.grip_n * (hold.strained_mm / hold.thinner_mm - 1.0) if hold.thinner_mm > 0 else 0.0),
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
