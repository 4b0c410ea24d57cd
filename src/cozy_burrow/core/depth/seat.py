"""How deep an item goes: whole layers under each zone, from a seat or by hand, and how it then stands.

The item lies level. A seat speaks of the zone that is thickest: its underside comes to rest on the layer boundary
nearest to what the seat wants, and every other zone gets the fewest layers that let it hang clear. Where nobody names
a seat it is chosen by judgement: `judged_layers` says how deep, `seated` whether it then lies firm.
"""

from __future__ import annotations

from cozy_burrow.core.container.bay import Bay, headroom_mm, lid_touch_mm, stack_mm
from cozy_burrow.core.foam.layers import LEAST_FLOOR_MM, Layer, floor_of, layers_of
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import (
    Item,
    Placement,
    Record,
    Rules,
    Seat,
    Sheet,
    Zone,
)
from cozy_burrow.core.tolerances import FOAM_GIVES_MM, SIT_SLACK_MM

_LEAST_DEPTH_MM = 3.0  # shallower and nothing is held
_TOUCHED_MM = 0.5  # so far the lid's foam is pressed in at least, for a thing to count as touched


class Seating(Record, frozen=True, kw_only=True):
    """Where an item comes to rest.

    datum_mm: depth of its datum plane below the foam's surface. zone_layers: layers taken out under each zone.
    proud_mm: how far its highest point stands above the surface; negative: sunk.
    bottom_mm: depth of its lowest point. by_hand: the layers were set by hand. held_up: the floor kept it higher
    than the seat wanted. risers_mm: how much of the plug is put back under each zone, where plain foam was cut through
    or where nothing else carries it.
    """

    datum_mm: float
    zone_layers: tuple[int, ...]
    proud_mm: float
    bottom_mm: float
    risers_mm: tuple[float, ...] = ()
    by_hand: bool = False
    held_up: bool = False


def seat_for(item: Item, placement: Placement | None, rules: Rules) -> Seat:
    """Return the seat that counts: the placement's, else the item's, else the project's, else by judgement."""
    named = placement.seat if placement is not None and placement.seat is not None else item.seat or rules.seat
    return named or "judged"


def judged_layers(item: Item, bay: Bay, rules: Rules) -> tuple[int, ...]:
    """Return how many layers a good fitter would take out under the thickest zone, the best number first.

    At least half of it lies in the foam, and it is never higher than what is above. The lid's foam touches it where
    that can be, as lightly as may be: then it cannot jump. Else in a drawer it is half sunk, so that a hand gets hold
    of it; in a case and on a wall flush, since that holds best of all that fingers can follow; under a tier it goes
    no deeper than it must. Where nothing of that can be, it is as deep as the foam allows.
    """
    bottoms = _usable(bay, rules)[0]
    thickest = _thickest(item)
    height_mm, room_mm, touch_mm = _height_mm(item), headroom_mm(bay), lid_touch_mm(bay)
    proud = {count: height_mm - bottom for count, bottom in enumerate(bottoms, start=1)}
    allowed = [
        count
        for count, bottom in enumerate(bottoms, start=1)
        if bottom >= thickest.thickness_mm / 2 - FOAM_GIVES_MM and proud[count] <= room_mm + FOAM_GIVES_MM
    ]
    if not allowed:
        return (len(bottoms),)
    touched: list[int] = []
    if touch_mm is not None and touch_mm < room_mm:
        touched = [count for count in reversed(allowed) if proud[count] > touch_mm + _TOUCHED_MM]
    if bay.above != "tier" and bay.container.kind != "drawer":
        allowed.sort(key=lambda count: (round(abs(bottoms[count - 1] - thickest.thickness_mm), 6), count))
    return (*touched, *(count for count in allowed if count not in touched))


def _judged_mm(item: Item, bay: Bay) -> float:
    """Return the same as a depth in mm, where foam without layers gives any."""
    thickness_mm, height_mm = _thickest(item).thickness_mm, _height_mm(item)
    room_mm, touch_mm = headroom_mm(bay), lid_touch_mm(bay)
    least_mm = max(thickness_mm / 2, height_mm - room_mm)
    if touch_mm is not None and touch_mm < room_mm and height_mm - touch_mm - 2 * _TOUCHED_MM >= least_mm:
        return height_mm - touch_mm - 2 * _TOUCHED_MM
    flush = bay.above != "tier" and bay.container.kind != "drawer"
    return max(least_mm, thickness_mm) if flush else least_mm


def seated_by_rule(item: Item, seat: Seat, bay: Bay, rules: Rules) -> Seating:
    """Return how an item comes to rest level by a seat, whether or not it stays so."""
    return _by_rule(item, seat, bay, rules.floor_layers, rules.proud_to_hold_mm)


@memo(rows=4096)
def _by_rule(item: Item, seat: Seat, bay: Bay, floor_layers: int | None, proud_to_hold_mm: float) -> Seating:
    rules = Rules(floor_layers=floor_layers, proud_to_hold_mm=proud_to_hold_mm)
    bottoms, layers = _usable(bay, rules)
    if seat == "judged":
        count = judged_layers(item, bay, rules)[0]
        wanted_mm: float | None = max(_LEAST_DEPTH_MM, _judged_mm(item, bay))
    else:
        count = _layers_for(seat, item, _thickest(item), bottoms, headroom_mm(bay), proud_to_hold_mm)
        wanted_mm = _wanted_mm(seat, item, _thickest(item), headroom_mm(bay), proud_to_hold_mm)
    depth_mm = bottoms[count - 1]
    if any(layer.plain for layer in layers):
        depth_mm = _on_a_riser(wanted_mm, depth_mm, layers, last=len(layers) == len(layers_of(bay.sheets)))
    return seated_at(item, depth_mm, bay, rules)


def seated_at(item: Item, depth_mm: float, bay: Bay, rules: Rules) -> Seating:
    """Return how an item comes to rest level with its thickest zone's underside at a depth, or where the floor is."""
    bottoms, layers = _usable(bay, rules)
    datum_mm = depth_mm + _thickest(item).lowest_mm
    deepest_mm = datum_mm - min(zone.lowest_mm for zone in item.zones)
    held_up = deepest_mm > bottoms[-1] + SIT_SLACK_MM
    if held_up:
        datum_mm -= deepest_mm - bottoms[-1]
    zone_layers = tuple(_clear_layers(zone, datum_mm, bottoms) for zone in item.zones)
    risers_mm = tuple(
        max(0.0, bottoms[count - 1] - (datum_mm - zone.lowest_mm)) if layers[count - 1].plain else 0.0
        for count, zone in zip(zone_layers, item.zones)
    )
    return _resting(item, datum_mm, zone_layers, risers_mm, held_up=held_up)


def seated_by_hand(
    item: Item, zone_layers: tuple[int, ...], risers_mm: tuple[float, ...] | None, bay: Bay, *, by_hand: bool = True
) -> Seating:
    """Return how an item comes to rest level on layers that were set for each of its zones."""
    return _by_hand(item, zone_layers, risers_mm, bay.sheets, by_hand)


@memo(rows=4096)
def _by_hand(
    item: Item,
    wanted: tuple[int, ...],
    put_back_mm: tuple[float, ...] | None,
    sheets: tuple[Sheet, ...],
    by_hand: bool,
) -> Seating:
    bottoms = tuple(layer.bottom_mm for layer in layers_of(sheets))
    zone_layers = tuple(min(max(1, count), len(bottoms)) for count in wanted)
    risers_mm = put_back_mm if put_back_mm and len(put_back_mm) == len(item.zones) else (0.0,) * len(item.zones)
    datum_mm = min(
        bottoms[count - 1] - riser + zone.lowest_mm for count, riser, zone in zip(zone_layers, risers_mm, item.zones)
    )
    return _resting(item, datum_mm, zone_layers, risers_mm, by_hand=by_hand)


def _usable(bay: Bay, rules: Rules) -> tuple[tuple[float, ...], tuple[Layer, ...]]:
    """Return the layers that may be taken out, all but the floor, at least one: their lower boundaries, themselves."""
    layers = layers_of(bay.sheets)
    usable = layers[: max(1, len(layers) - floor_of(bay, rules.floor_layers))]
    return tuple(layer.bottom_mm for layer in usable), usable


def _thickest(item: Item) -> Zone:
    return max(item.zones, key=lambda zone: zone.thickness_mm)


def _height_mm(item: Item) -> float:
    """Return how high an item's highest point lies above the underside of its thickest zone."""
    return max(zone.highest_mm for zone in item.zones) - _thickest(item).lowest_mm


def _wanted_mm(seat: Seat, item: Item, thickest: Zone, room_mm: float, proud_to_hold_mm: float) -> float | None:
    """Return the depth under the thickest zone that a seat asks for where any depth can be had; None: the deepest."""
    height_mm = _height_mm(item)
    wanted = {
        "half": thickest.thickness_mm * 0.5,
        "flush": thickest.thickness_mm,
        "proud": height_mm - proud_to_hold_mm,
        "lid": height_mm - room_mm,
    }
    return max(_LEAST_DEPTH_MM, wanted[seat]) if seat in wanted else None


def _on_a_riser(wanted_mm: float | None, bound_mm: float, layers: tuple[Layer, ...], *, last: bool) -> float:
    """Return the depth that a riser gives in plain foam; bound_mm, the boundary, where the depth is not in any.

    The lowest sheet of a stack, cut through, keeps LEAST_FLOOR_MM of its plug as floor.
    """
    deepest_mm = layers[-1].bottom_mm - (LEAST_FLOOR_MM if last and layers[-1].plain else 0.0)
    wanted_mm = deepest_mm if wanted_mm is None else min(wanted_mm, deepest_mm)
    inside = next((layer for layer in layers if layer.bottom_mm >= wanted_mm - SIT_SLACK_MM), layers[-1])
    return wanted_mm if inside.plain else bound_mm


def _resting(
    item: Item,
    datum_mm: float,
    zone_layers: tuple[int, ...],
    risers_mm: tuple[float, ...],
    *,
    by_hand: bool = False,
    held_up: bool = False,
) -> Seating:
    return Seating(
        datum_mm=datum_mm,
        zone_layers=zone_layers,
        proud_mm=max(zone.highest_mm for zone in item.zones) - datum_mm,
        bottom_mm=datum_mm - min(zone.lowest_mm for zone in item.zones),
        risers_mm=risers_mm if any(risers_mm) else (),
        by_hand=by_hand,
        held_up=held_up,
    )


def _layers_for(
    seat: Seat,
    item: Item,
    thickest: Zone,
    bottoms: tuple[float, ...],
    room_mm: float,
    proud_to_hold_mm: float,
) -> int:
    """Return the layers under the thickest zone: at least one, at most those in `bottoms`."""
    if seat == "deep":
        return len(bottoms)
    if seat in {"half", "flush"}:
        wanted_mm = thickest.thickness_mm * (0.5 if seat == "half" else 1.0)
        # Of two boundaries equally near, the shallower: too small can be enlarged, too large cannot be undone.
        return 1 + min(range(len(bottoms)), key=lambda n: (round(abs(bottoms[n] - wanted_mm), 6), n))
    height_mm = _height_mm(item)
    if seat == "proud":
        deep_enough = [n for n, bottom in enumerate(bottoms, start=1) if height_mm - bottom >= proud_to_hold_mm]
        return max(deep_enough, default=1)
    low_enough = [n for n, bottom in enumerate(bottoms, start=1) if height_mm - bottom <= room_mm + FOAM_GIVES_MM]
    return min(low_enough, default=len(bottoms))


def _clear_layers(zone: Zone, datum_mm: float, bottoms: tuple[float, ...]) -> int:
    """Return the fewest layers whose removal lets the zone's underside hang at its height."""
    under_mm = datum_mm - zone.lowest_mm
    for count, bottom in enumerate(bottoms, start=1):
        if bottom >= under_mm - SIT_SLACK_MM:
            return count
    return len(bottoms)


def floor_left_mm(seating: Seating, sheets: tuple[Sheet, ...]) -> float:
    """Return how much foam stays under the item where that is least, risers that are put back counted."""
    layers, whole = layers_of(sheets), stack_mm(sheets)
    risers = seating.risers_mm or (0.0,) * len(seating.zone_layers)
    return min(whole - layers[count - 1].bottom_mm + riser for count, riser in zip(seating.zone_layers, risers))
