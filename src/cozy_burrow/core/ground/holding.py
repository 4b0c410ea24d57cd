"""Does it stay where it is? The grip of the foam against weight and jolts, upside down, on edge, on a wall, by hand."""

from __future__ import annotations

import itertools
import math
from typing import Literal

import shapely
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.arrange.facts import facts_of
from cozy_burrow.core.container.bay import headroom_mm, lid_touch_mm
from cozy_burrow.core.depth.hold import Calibration, Hold, Wall, gives_mm, hold_of
from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.geometry.placing import direction
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.ground.gaps import edge_gap_of, neighbours, widest_wanted_mm, worst_gap
from cozy_burrow.core.ground.gluing import glued_share
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.ground.sits import sitting_in
from cozy_burrow.core.kit.zones import GRAVITY_N_G, balance_height_mm
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Placement, Record

HAND_N = 40.0  # two fingers and a thumb pull so much without tools; what holds harder is pried out

CaseName = Literal["upside down", "jolt", "on edge", "on the wall", "by hand"]
Says = Literal["holds", "captive", "unsure", "gives way"]
_LEAVES_MM = 1.0  # so much more air than pocket, and it might come out


class HoldCase(Record, frozen=True, kw_only=True):
    """One way in which a thing is tried: the force to be held (by hand: not to be passed), and what is said."""

    name: CaseName
    needed_n: float
    says: Says
    by_lid: bool = False


class Holding(Record, frozen=True, kw_only=True):
    """How a thing holds: grip with its range, weight, and each case that this kind of container asks about.

    air_mm: how far it may rise before it meets what closes over it. deep_mm: how far it must rise to leave its pocket.
    """

    hold: Hold
    weight_n: float
    weighed: bool
    cases: tuple[HoldCase, ...]
    air_mm: float = math.inf
    deep_mm: float = 0.0

    @property
    def captive(self) -> bool:
        """Whether it cannot leave: its pocket is deeper than the air above it. It may rattle."""
        return self.air_mm + _LEAVES_MM < self.deep_mm

    @property
    def worst(self) -> HoldCase:
        """The case that says the worst."""
        order = ("gives way", "unsure", "captive", "holds")
        return min(self.cases, key=lambda one: (order.index(one.says), -one.needed_n))


def holding_of(ground: Ground, key: str, calibration: Calibration | None = None) -> Holding:
    """Return how a placed thing holds."""
    pocket = ground.pockets[key]
    placement = next(one for one in ground.insert.placements if one.id == key)
    hold = hold_of(
        pocket,
        ground.layers,
        ground.insert.sheets,
        ground.rules,
        walls=walls_beside(ground, key),
        calibration=calibration,
        glued_share=glued_share(ground, key),
    )
    weight = facts_of(pocket.item).mass_g * GRAVITY_N_G
    touch = lid_touch_mm(ground.bay)
    # What the lid presses on stays; what another tier lies on has nowhere to go.
    proud_mm = sitting_in(ground, key).proud_mm
    held_down = ground.bay.above == "tier" or (touch is not None and proud_mm > touch)
    air_mm = max(0.0, (headroom_mm(ground.bay) if touch is None else touch) - proud_mm)
    deep_mm = pocket.seating.bottom_mm
    caught = air_mm + _LEAVES_MM < deep_mm and not held_down
    cases: list[HoldCase] = []
    out_mm = centre_out_mm(pocket)
    if ground.bay.container.kind == "case":
        cases.append(_against(hold, "upside down", weight, by_lid=held_down, caught=caught))
        cases.append(_against(hold, "jolt", weight * ground.rules.jolt, by_lid=held_down, caught=caught))
        cases.append(
            _against(hold, "on edge", _tipping_n(pocket, None, weight * 1.0, out_mm), by_lid=held_down, caught=caught)
        )
    elif ground.bay.container.kind == "wall":
        cases.append(
            _against(hold, "on the wall", _tipping_n(pocket, (placement, ground), weight, out_mm), caught=caught)
        )
    cases.append(_by_hand(hold))
    return Holding(
        hold=hold,
        weight_n=weight,
        weighed=pocket.item.mass_g is not None,
        cases=tuple(cases),
        air_mm=air_mm,
        deep_mm=deep_mm,
    )


def _against(hold: Hold, name: CaseName, needed_n: float, *, by_lid: bool = False, caught: bool = False) -> HoldCase:
    says: Says = "holds"
    if not by_lid and needed_n > 1e-9:
        says = "holds" if hold.low_n >= needed_n else ("unsure" if hold.high_n >= needed_n else "gives way")
        if caught and says != "holds":
            says = "captive"
    return HoldCase(name=name, needed_n=needed_n, says=says, by_lid=by_lid)


def _by_hand(hold: Hold) -> HoldCase:
    says: Says = "holds" if hold.grip_n <= HAND_N else ("unsure" if hold.low_n <= HAND_N else "gives way")
    return HoldCase(name="by hand", needed_n=HAND_N, says=says)


def centre_out_mm(pocket: Pocket) -> float:
    """Return how far the thing's centre of mass lies above the foam's surface; below zero: in the foam."""
    return balance_height_mm(pocket.item) - pocket.seating.datum_mm


def _tipping_n(pocket: Pocket, lies: tuple[Placement, Ground] | None, weight_n: float, out_mm: float) -> float:
    """Return the grip that keeps a thing from tipping out about the lower edge of its pocket.

    Weight pulls at the centre of mass, `out` in front of the surface; the foam holds in the middle of the thing, half
    its height above that edge: grip · height / 2 >= weight · out. None where its centre lies in the foam. On a wall the
    height is taken along the way down, on edge along the shorter side, which is the worst.
    """
    if out_mm <= 0:
        return 0.0
    outline = polygon_of(pocket.item.outline)
    if lies is None:
        rectangle = shapely.get_coordinates(shapely.minimum_rotated_rectangle(outline))
        height = min(math.dist(rectangle[0], rectangle[1]), math.dist(rectangle[1], rectangle[2]))
    else:
        placement, ground = lies
        cos, sin = direction(placement.angle_deg)
        points = shapely.get_coordinates(outline)
        down = ground.bay.container.down
        x, y = (0.0, 1.0) if down in {"front", "back"} else (1.0, 0.0)
        along = points[:, 0] * (cos * x + sin * y) + points[:, 1] * (-sin * x + cos * y)
        height = float(along.max() - along.min())
    return weight_n * out_mm / max(1.0, height / 2)


def thinnest_wall_mm(ground: Ground, key: str) -> float:
    """Return the thinnest foam beside a thing's pocket: to its neighbours or to the edge."""
    return min(wall.thick_mm for wall in walls_beside(ground, key))


def walls_beside(ground: Ground, key: str) -> tuple[Wall, ...]:
    """Return the foam beside a thing's pocket: walls to its neighbours, which stand free, and what is at the edge.

    A wall stands as deep as the shallower of two pockets, and as long as the shorter. At the edge the container backs
    it up.
    """
    return _walls(ground)[key]


@memo(rows=8)
def _walls(ground: Ground) -> dict[str, tuple[Wall, ...]]:
    """Return the foam beside every pocket; each pair of neighbours is looked at once."""
    reach = widest_wanted_mm(ground)
    found: dict[str, dict[frozenset[str], Wall]] = {key: {} for key in ground.pockets}
    for first, second in neighbours(ground, within_mm=reach):
        gap = worst_gap(first, second, ground.layers, ground.rules, False).gap_mm
        shared = min(len(first.areas), len(second.areas))
        wall = Wall(
            thick_mm=max(0.0, gap),
            deep_mm=ground.layers[shared - 1].bottom_mm,
            long_mm=min(_length(first.areas[0]), _length(second.areas[0])),
        )
        for mine, other in ((first, second), (second, first)):
            for key in mine.owners & found.keys():
                _keep_weaker(found[key], other.owners, wall)
    for cutout in ground.cutouts:
        gap = edge_gap_of(ground, cutout).gap_mm
        for key in cutout.owners & found.keys():
            _keep_weaker(found[key], frozenset(), Wall(thick_mm=min(reach, max(0.0, gap))))
    return {key: tuple(walls.values()) for key, walls in found.items()}


def _keep_weaker(walls: dict[frozenset[str], Wall], towards: frozenset[str], wall: Wall) -> None:
    """Keep a wall if none towards the same neighbour gives more: pocket and pulls of one thing are one side."""
    if towards not in walls or gives_mm(walls[towards]) < gives_mm(wall):
        walls[towards] = wall


@memo(rows=4096)
def _length(area: BaseGeometry) -> float:
    """Return the longer side of an opening, however it lies."""
    corners = shapely.get_coordinates(shapely.oriented_envelope(area))
    return float(max(math.dist(one, other) for one, other in itertools.pairwise(corners)))
