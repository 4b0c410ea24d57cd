"""How an item is seated in a bay, and its pocket there: by hand, by the seat that is named, else by judgement."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterable, Iterator
from functools import lru_cache
from typing import Any

import numpy as np
import shapely
from msgspec.structs import replace
from shapely.geometry import MultiPolygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.container.bay import Bay, headroom_mm
from cozy_burrow.core.depth.advice import Advice, Case, best_of
from cozy_burrow.core.depth.pocket import Pocket, allowance_for, cut_pocket, is_cut, sketched_pocket
from cozy_burrow.core.depth.seat import (
    Seating,
    judged_layers,
    seat_for,
    seated_at,
    seated_by_hand,
    seated_by_rule,
)
from cozy_burrow.core.depth.sitting import sitting_of, tips_over
from cozy_burrow.core.foam.layers import Layer, layers_of
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.geometry.rings import as_multi
from cozy_burrow.core.geometry.sides import Sides
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Item, Placement, Rules
from cozy_burrow.core.tolerances import FOAM_GIVES_MM

_SEATS_DEPEND_ON = (
    "floor_layers",
    "proud_to_hold_mm",
    "allowance_mm",
    "snug_mm",
    "easy_mm",
    "least_foam_mm",
    "knife_radius_mm",
)
_MOST_TRIES = 12  # a seat is judged while somebody waits for the plan; where the underside rises a try takes 10 ms
_OTHER_DEPTHS = 3  # beside the best that are tried where a thing would not lie firm
_CUBE_GOES = 1 / 3  # of a cube in the way: with less, the soft foam is pressed aside


def seating_of(item: Item, placement: Placement | None, bay: Bay, rules: Rules) -> Seating:
    """Return how one item comes to rest in an insert: by layers set by hand, by its seat, else by judgement."""
    by_hand = placement.zone_layers if placement is not None else None
    if by_hand is not None and len(by_hand) == len(item.zones):
        return seated_by_hand(item, by_hand, placement.risers_mm if placement is not None else None, bay)
    seat = seat_for(item, placement, rules)
    return judged_seating(item, bay, rules) if seat == "judged" else seated_by_rule(item, seat, bay, rules)


def judged_seating(item: Item, bay: Bay, rules: Rules) -> Seating:
    """Return how a good fitter would seat an item that names no seat: as `judged_layers` says, level and steady.

    Where it would not lie so at the depth that is best, other layers under single zones are tried about that depth,
    then the other depths; where nothing helps it stays as it is, and a finding tells.
    """
    return _judged(item, bay, _what_seats(rules))


def _what_seats(rules: Rules) -> Rules:
    """Return the rules with only those that a seat depends on, the same ones for the same figures."""
    return _only(tuple(getattr(rules, name) for name in _SEATS_DEPEND_ON))


@lru_cache(maxsize=64)
def _only(figures: tuple[float | None, ...]) -> Rules:
    return replace(Rules(), **dict(zip(_SEATS_DEPEND_ON, figures)))


@memo(rows=4096)
def _judged(item: Item, bay: Bay, rules: Rules) -> Seating:
    first = seated_by_rule(item, "judged", bay, rules)
    if lies_firm(item, first, bay, rules):
        return first
    layers, case = layers_of(bay.sheets), Case(item, "judged", bay, rules)
    tries: list[Callable[[], Iterable[Seating]]] = [
        lambda: () if any(first.risers_mm) else _nudged(first, item, bay),  # does mostly; plain foam has no layers
        lambda: () if len(item.zones) == 1 else (_seated_as(best_of(case, most=_MOST_TRIES), item, bay),),
        lambda: (
            seated_at(item, layers[count - 1].bottom_mm, bay, rules)
            for count in judged_layers(item, bay, rules)[1 : 1 + _OTHER_DEPTHS]
        ),
    ]
    for seating in itertools.chain.from_iterable(one() for one in tries):
        deep = _deep_enough(item, seating, bay, first)
        if deep and (any(first.risers_mm) or not any(seating.risers_mm)) and lies_firm(item, seating, bay, rules):
            return seating
    return first


def _nudged(seating: Seating, item: Item, bay: Bay) -> Iterator[Seating]:
    """Yield the seating with a layer less or more under one zone, the thinnest zone first."""
    order = sorted(range(len(item.zones)), key=lambda n: item.zones[n].thickness_mm)
    for by, zone in itertools.product((-1, 1), order):
        layers = tuple(count + (by if n == zone else 0) for n, count in enumerate(seating.zone_layers))
        if 1 <= layers[zone] <= max(seating.zone_layers):  # deeper than its deepest part it need not go
            yield seated_by_hand(item, layers, None, bay, by_hand=False)


def lies_firm(item: Item, seating: Seating, bay: Bay, rules: Rules) -> bool:
    """Return whether an item lies level and steady in its own pocket, and no higher than what is above."""
    room_mm = max(0.0, headroom_mm(bay)) + FOAM_GIVES_MM
    if len(item.zones) == 1 and item.zones[0].section == "flat":
        return seating.proud_mm <= room_mm  # on its whole underside
    pocket = cut_pocket(item, seating, bay, rules)
    layers, snug_mm = layers_of(bay.sheets), -allowance_for(item, rules)
    sitting = sitting_of(pocket, layers, snug_mm=snug_mm)
    return sitting.level and sitting.proud_mm <= room_mm and not tips_over(pocket, layers, snug_mm=snug_mm)


def _seated_as(advice: Advice, item: Item, bay: Bay) -> Seating:
    return seated_by_hand(item, advice.zone_layers, advice.risers_mm, bay, by_hand=False)


def _deep_enough(item: Item, seating: Seating, bay: Bay, first: Seating) -> bool:
    """Return whether at least half of the thickest zone lies in the foam, or as much as at first."""
    thickest = max(item.zones, key=lambda zone: zone.thickness_mm)
    least_mm = min(thickest.thickness_mm / 2, first.datum_mm - thickest.lowest_mm)
    return seating.datum_mm - thickest.lowest_mm >= least_mm - FOAM_GIVES_MM


def local_pocket(item: Item, placement: Placement | None, bay: Bay, rules: Rules) -> Pocket:
    """Return the pocket of an item as it would be cut in this bay, in item coordinates."""
    seating = seating_of(item, placement, bay, rules)
    if placement is None:
        return cut_pocket(item, seating, bay, rules)
    return cut_pocket(item, seating, bay, rules, placement.eased_mm, _sides(placement))


def _sides(placement: Placement) -> Sides:
    return tuple((one.side_deg, one.by_mm) for one in placement.eased_sides)


@memo(rows=4096)
def placed_pocket(item: Item, placement: Placement, bay: Bay, rules: Rules) -> Pocket:
    """Return the pocket of a placement in plan coordinates."""
    return _laid(local_pocket(item, placement, bay, rules), placement, bay)


def takes_long(item: Item, placement: Placement, bay: Bay, rules: Rules) -> bool:
    """Return whether an item's seat must still be judged or its pocket cut, which may take a quarter of a second."""
    if _must_be_judged(item, placement, bay, rules):
        return True
    seating = seating_of(item, placement, bay, rules)
    return not is_cut(item, seating, bay, rules, placement.eased_mm, _sides(placement))


def _must_be_judged(item: Item, placement: Placement, bay: Bay, rules: Rules) -> bool:
    by_hand = placement.zone_layers is not None and len(placement.zone_layers) == len(item.zones)
    judged = not by_hand and seat_for(item, placement, rules) == "judged"
    return judged and not _judged.knows(item, bay, _what_seats(rules))


def guessed_pocket(item: Item, placement: Placement, bay: Bay, rules: Rules) -> Pocket:
    """Return a pocket as sketched, at the depth that an item would have if it lay firm there: nobody has tried yet."""
    unsure = _must_be_judged(item, placement, bay, rules)
    seating = seated_by_rule(item, "judged", bay, rules) if unsure else seating_of(item, placement, bay, rules)
    return _laid(sketched_pocket(item, seating, bay), placement, bay)


def _laid(pocket: Pocket, placement: Placement, bay: Bay) -> Pocket:
    once = {
        id(layer): placed(layer, x_mm=placement.x_mm, y_mm=placement.y_mm, angle_deg=placement.angle_deg)
        for layer in pocket.layers
    }
    layers: tuple[Any, ...] = tuple(once[id(layer)] for layer in pocket.layers)  # one shape stays one shape
    if any(sheet.material == "cubed" for sheet in bay.sheets):
        layers = plucked(layers, layers_of(bay.sheets))
    return Pocket(placement.id, pocket.item, pocket.seating, layers, pocket, pocket.eased_mm)


def plucked(areas: tuple[MultiPolygon, ...], layers: tuple[Layer, ...]) -> tuple[MultiPolygon, ...]:
    """Return areas per layer with those in cubed foam snapped to whole cubes, counted from the container's corner.

    A cube goes where more than a third of it is in the way: less is pressed aside. What is wider below than above
    is widened above, so that the thing still goes in.
    """
    found: list[MultiPolygon] = []
    below: BaseGeometry = MultiPolygon()
    for area, layer in reversed(tuple(zip(areas, layers))):
        taken = _cubes(area, layer.cell_mm) if layer.cell_mm > 0 else area
        below = taken if below.is_empty else taken.union(below)
        found.append(as_multi(below))
    return tuple(reversed(found))


def _cubes(area: BaseGeometry, cell_mm: float) -> BaseGeometry:
    left, top, right, bottom = area.bounds
    xs = np.arange(np.floor(left / cell_mm), np.ceil(right / cell_mm)) * cell_mm
    ys = np.arange(np.floor(top / cell_mm), np.ceil(bottom / cell_mm)) * cell_mm
    x, y = (grid.ravel() for grid in np.meshgrid(xs, ys))
    cubes = shapely.box(x, y, x + cell_mm, y + cell_mm)
    covered = shapely.area(shapely.intersection(cubes, area)) / cell_mm**2
    wanted = covered > _CUBE_GOES
    if not wanted.any():
        wanted[int(np.argmax(covered))] = True
    return shapely.union_all(cubes[wanted])
