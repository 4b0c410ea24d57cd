"""Depth advice: the whole layers under each zone that give the wanted seat, level and steady, with least foam out.

A resting thing is held by at most three zones, and every other zone needs just the layers that let it hang clear. So it
is enough to look at what one, two or three zones give together, nearest to the wanted depth first; nothing better can
be found by trying every combination. Where nothing lies level and steady, slices of the plug are put back.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.container.bay import Bay, headroom_mm
from cozy_burrow.core.depth.pocket import allowance_for, cut_pocket
from cozy_burrow.core.depth.seat import seat_for, seated_by_hand, seated_by_rule
from cozy_burrow.core.depth.settling import Pose, settle
from cozy_burrow.core.depth.sitting import LEVEL_DEG, ROCKS_BELOW, Sitting, resting_on, sitting_of
from cozy_burrow.core.depth.underside import Places, keel_rise, touching
from cozy_burrow.core.foam.layers import floor_of, layers_of
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.kit.zones import centre_of_mass
from cozy_burrow.core.model.memo import Frozen, memo
from cozy_burrow.core.model.records import Item, Placement, Record, Rules, Seat
from cozy_burrow.core.tolerances import FOAM_GIVES_MM, SIT_SLACK_MM

_SLOPE = math.tan(math.radians(LEVEL_DEG))
_MOST_ZONES_IN_THREES = 6
_MOST_OFF_MM = 8.0  # farther from the wanted depth it is another seat
_SLICE_MM = 0.5  # to which a slice of foam can be cut
_LEAST_RISER_MM = 1.0


class Advice(Record, frozen=True, kw_only=True):
    """Layers under each zone, slices put back there, and what that gives.

    off_mm: how far the thickest zone's underside lies from where the seat wants it. foam_mm3: what is taken out.
    steps: how many different depths. good: level, steady, under the lid.
    """

    seat: Seat
    zone_layers: tuple[int, ...]
    risers_mm: tuple[float, ...]
    sitting: Sitting
    off_mm: float
    foam_mm3: float
    steps: int
    good: bool

    @property
    def cost(self) -> tuple[float, float, int]:
        """What counts, the most important first: the wanted depth, the foam, the steps."""
        return round(self.off_mm, 1), round(self.foam_mm3), self.steps


class Case(Frozen):
    """One item over one stack: where each zone can touch, the layers' bottoms, the depth that is wanted."""

    def __init__(self, item: Item, seat: Seat, bay: Bay, rules: Rules) -> None:
        layers = layers_of(bay.sheets)
        most = max(1, len(layers) - floor_of(bay, rules.floor_layers))
        by_rule = seated_by_rule(item, seat, bay, rules)
        thickest = max(item.zones, key=lambda zone: zone.thickness_mm)
        self.item, self.seat, self.bay, self.rules = item, seat, bay, rules
        self.plain = any(layer.plain for layer in layers[:most])
        self.bottoms_mm = np.array([layer.bottom_mm for layer in layers[:most]])
        self.wanted_mm, self.room_mm = by_rule.datum_mm - thickest.lowest_mm, headroom_mm(bay)
        regions = [polygon_of(zone.region) for zone in item.zones]
        self.places = [touching(zone, region) for zone, region in zip(item.zones, regions)]
        self.areas = [float(region.area) for region in regions]
        self.rises = [keel_rise(zone) for zone in item.zones]
        self.rising = max(self.rises) > SIT_SLACK_MM
        self.centre = centre_of_mass(item)
        self.thickest = max(range(len(item.zones)), key=lambda n: item.zones[n].thickness_mm)
        middle = regions[self.thickest].centroid
        self.middle = np.array([[middle.x, middle.y]])
        self.tried: dict[tuple[tuple[int, ...], tuple[float, ...]], Advice] = {}

    def off_mm(self, pose: Pose) -> float:
        """Return how far the thickest zone's underside lies from the wanted depth."""
        under = float(pose.depth_at(self.middle)[0]) - self.item.zones[self.thickest].lowest_mm
        return abs(under - self.wanted_mm)

    def judged(self, zone_layers: tuple[int, ...], risers_mm: tuple[float, ...] = ()) -> Advice:
        """Return what these layers, and slices put back, give."""
        risers_mm = risers_mm or (0.0,) * len(zone_layers)
        known = self.tried.get((zone_layers, risers_mm))
        if known is not None:
            return known
        floors = [self.bottoms_mm[count - 1] - riser for count, riser in zip(zone_layers, risers_mm)]
        if self.rising:
            sitting = self._in_its_pocket(zone_layers, risers_mm)
        else:
            sitting = resting_on(self.item, _together(self.places, floors, zone_layers))
        foam = sum(area * float(floor) for area, floor in zip(self.areas, floors))
        found = Advice(
            seat=self.seat,
            zone_layers=zone_layers,
            risers_mm=risers_mm,
            sitting=sitting,
            off_mm=self.off_mm(sitting.pose),
            foam_mm3=foam,
            steps=len(set(zone_layers)),
            good=sitting.level and not sitting.rocks and sitting.proud_mm <= self.room_mm + FOAM_GIVES_MM,
        )
        self.tried[zone_layers, risers_mm] = found
        return found

    def _in_its_pocket(self, zone_layers: tuple[int, ...], risers_mm: tuple[float, ...]) -> Sitting:
        """Return how it sits where thinner parts of a zone have shallower floors: the pocket itself says where."""
        by_hand = seated_by_hand(self.item, zone_layers, risers_mm, self.bay)
        pocket = cut_pocket(self.item, by_hand, self.bay, self.rules)
        return sitting_of(pocket, layers_of(self.bay.sheets), snug_mm=-allowance_for(self.item, self.rules))


def _together(
    places: Sequence[tuple[NDArray[np.float64], NDArray[np.float64]]], floors: Sequence[float], layers: Sequence[int]
) -> Places:
    return Places(
        np.concatenate([xy for xy, _ in places]),
        np.concatenate([height + floor for (_, height), floor in zip(places, floors)]),
        np.concatenate([np.full(len(xy), index) for index, (xy, _) in enumerate(places)]),
        np.concatenate([np.full(len(xy), layer) for (xy, _), layer in zip(places, layers)]),
    )


def advice_for(item: Item, placement: Placement | None, bay: Bay, rules: Rules) -> Advice:
    """Return the best layers for an item in a bay, by the seat that counts; not good where nothing is."""
    return _advice(item, seat_for(item, placement, rules), bay, rules)


@memo(rows=1024)
def _advice(item: Item, seat: Seat, bay: Bay, rules: Rules) -> Advice:
    return best_of(Case(item, seat, bay, rules))


def best_of(case: Case, *, most: int | None = None) -> Advice:
    """Return the best advice for a case: the good one that costs least; the nearest to level where none is good.

    Plain foam has no layers to choose from: it is cut through, and slices of the plug carry every zone. most: after so
    many tries the best so far will do.
    """
    risen = with_risers(case) if case.plain else None
    if risen is not None:
        return risen
    best: Advice | None = None
    for nearest_mm, zone_layers in _candidates(case):
        if best is not None and nearest_mm > best.off_mm + 0.05:
            break
        if most is not None and len(case.tried) >= most:
            break
        found = case.judged(zone_layers)
        if found.good and (best is None or found.cost < best.cost):
            best = found
    if best is not None:
        return best
    by_rule = _clearing(case, _wanted_pose(case), {}, SIT_SLACK_MM)
    if by_rule is not None:
        case.judged(by_rule)
    if not case.tried:  # nothing clears its floor: the deepest that there is
        case.judged((len(case.bottoms_mm),) * len(case.places))
    return min(case.tried.values(), key=lambda one: (_misses_by(one), one.cost))


def _wanted_pose(case: Case) -> Pose:
    return Pose(datum_mm=case.wanted_mm + case.item.zones[case.thickest].lowest_mm)


def _misses_by(advice: Advice) -> float:
    """Return how many times its limit the tilt is, or the limit the steadiness, whichever is worse."""
    sitting = advice.sitting
    return round(max(sitting.tilt_deg / LEVEL_DEG, ROCKS_BELOW / max(0.001, sitting.steady)), 2)


def _candidates(case: Case) -> Iterator[tuple[float, tuple[int, ...]]]:
    """Yield (least distance from the wanted depth, layers under each zone), the nearest first."""
    if case.rising:
        yield from _around(case)
        return
    supports = sorted(_supports(case), key=lambda one: (one[0], len(one[1]), one[1:]))
    seen: set[tuple[int, ...]] = set()
    for nearest_mm, zones, counts in supports:
        pose = _held_by(case, zones, counts)
        if pose.slope_x**2 + pose.slope_y**2 > (1.01 * _SLOPE) ** 2 and seen:
            continue  # whatever else is taken out, these zones alone let it lie no nearer to level
        for slack_mm in (0.0, SIT_SLACK_MM):
            layers = _clearing(case, pose, dict(zip(zones, counts)), slack_mm)
            if layers is not None and layers not in seen:
                seen.add(layers)
                yield nearest_mm, layers
    if not seen:  # thicker than all foam: the deepest that there is
        yield 0.0, (len(case.bottoms_mm),) * len(case.places)


def _around(case: Case) -> Iterator[tuple[float, tuple[int, ...]]]:
    """Yield the same for an item with undersides that rise: the layers that clear it level, and one more or less.

    Where its floors lie follows from how deep it lies, so that the depths at which a zone would rest are tried in turn.
    """
    wanted = case.wanted_mm + case.item.zones[case.thickest].lowest_mm
    depths = {round(float(b) + float(height.min()), 6) for _, height in case.places for b in case.bottoms_mm} | {wanted}
    seen: set[tuple[int, ...]] = set()
    nudges = list(itertools.product((0, 1, -1), repeat=len(case.places))) if len(case.places) <= 3 else []
    nudges = sorted(nudges or [(0,) * len(case.places)], key=lambda one: sum(map(abs, one)))
    for datum in sorted(depths, key=lambda depth: abs(depth - wanted)):
        off = abs(datum - wanted)
        if off > _MOST_OFF_MM:
            return
        level = _clearing(case, Pose(datum_mm=datum), {}, SIT_SLACK_MM)
        for nudge in nudges if level is not None else ():
            assert level is not None
            layers = tuple(min(max(1, n + by), len(case.bottoms_mm)) for n, by in zip(level, nudge))
            if layers not in seen:
                seen.add(layers)
                yield off, layers


def _supports(case: Case) -> Iterator[tuple[float, tuple[int, ...], tuple[int, ...]]]:
    """Yield (least distance from the wanted depth, zones, layers under them) that can hold the item near level."""
    levels = [case.bottoms_mm[:, None] + height.min() for _, height in case.places]
    wanted = case.wanted_mm + case.item.zones[case.thickest].lowest_mm  # as a depth of the datum
    counts = range(1, len(case.bottoms_mm) + 1)
    reach = [float(np.hypot(*(xy - case.middle).T).max()) for xy, _ in case.places]
    for zone in range(len(levels)):
        for count in counts:
            off = abs(float(levels[zone][count - 1, 0]) - wanted)
            yield max(0.0, off - _SLOPE * reach[zone]), (zone,), (count,)
    most = 3 if len(levels) <= _MOST_ZONES_IN_THREES else 2
    for size in range(2, most + 1):
        for zones in itertools.combinations(range(len(levels)), size):
            apart = max(_apart(case, a, b) for a, b in itertools.combinations(zones, 2))
            for chosen in itertools.product(counts, repeat=size):
                depths = [float(levels[zone][count - 1, 0]) for zone, count in zip(zones, chosen)]
                if max(depths) - min(depths) > _SLOPE * apart + max(case.rises[zone] for zone in zones):
                    continue  # so far apart in height that one of them would not touch, or the thing lie askew
                off = min(abs(depth - wanted) for depth in depths)
                yield max(0.0, off - _SLOPE * max(reach[zone] for zone in zones)), zones, chosen


def _apart(case: Case, first: int, second: int) -> float:
    one, other = case.places[first][0], case.places[second][0]
    low = np.minimum(one.min(axis=0), other.min(axis=0))
    high = np.maximum(one.max(axis=0), other.max(axis=0))
    return float(np.hypot(*(high - low)))


def _held_by(case: Case, zones: tuple[int, ...], counts: tuple[int, ...]) -> Pose:
    xy = np.concatenate([case.places[zone][0] for zone in zones])
    depth = np.concatenate(
        [case.places[zone][1] + case.bottoms_mm[count - 1] for zone, count in zip(zones, counts)],
    )
    return settle(xy, depth, case.centre)


def _clearing(case: Case, pose: Pose, given: dict[int, int], slack_mm: float) -> tuple[int, ...] | None:
    """Return the fewest layers under each zone that let the item take a pose; None where it would go into the floor."""
    found = []
    for zone, (xy, height) in enumerate(case.places):
        count = given.get(zone)
        if count is None:
            need = float((pose.depth_at(xy) - height).max())
            count = 1 + int(np.searchsorted(case.bottoms_mm, need - slack_mm - 1e-6))
            if count > len(case.bottoms_mm):
                return None
        found.append(count)
    return tuple(found)


def with_risers(case: Case) -> Advice | None:
    """Return the layers of the level seat nearest to what is wanted, with the fewest slices of foam put back.

    None where no slice helps: what sticks out above would still not clear the lid, or the weight lies beyond all zones.
    """
    lowest = [float(height.min()) for _, height in case.places]
    datum = case.wanted_mm + case.item.zones[case.thickest].lowest_mm
    counts: list[int] = []
    for low in lowest:
        count = 1 + int(np.searchsorted(case.bottoms_mm, datum - low - SIT_SLACK_MM))
        if count > len(case.bottoms_mm):
            return None
        counts.append(count)
    gaps = [float(case.bottoms_mm[count - 1]) - (datum - low) for count, low in zip(counts, lowest)]
    loose = [zone for zone, gap in enumerate(gaps) if gap >= _LEAST_RISER_MM]
    for size in (len(loose),) if case.plain else (1, 2, 3):
        found = []
        for zones in itertools.combinations(loose, size):
            risers = tuple(
                math.floor(gap / _SLICE_MM + 1e-6) * _SLICE_MM if zone in zones else 0.0
                for zone, gap in enumerate(gaps)
            )
            found.append(case.judged(tuple(counts), risers))
        good = [one for one in found if one.good]
        if good:
            return min(good, key=lambda one: (one.cost, sum(one.risers_mm)))
    return None
