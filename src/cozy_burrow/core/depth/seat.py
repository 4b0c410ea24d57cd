"""How deep an item goes: whole layers under each zone, from a seat rule or by hand, and how it then stands.

The item lies level. A seat rule speaks of the zone that is thickest: its underside comes to rest on the layer
boundary nearest to what the rule wants, and every other zone gets the fewest layers that let it hang clear.
"""

from __future__ import annotations

from cozy_burrow.core.container.bay import Bay, headroom_mm, stack_mm
from cozy_burrow.core.foam.layers import floor_layers, layers_of
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
from cozy_burrow.core.tolerances import SIT_SLACK_MM

_BY_CONTAINER: dict[str, Seat] = {"drawer": "half", "case": "lid", "wall": "deep"}


class Seating(Record, frozen=True, kw_only=True):
    """Where an item comes to rest.

    datum_mm: depth of its datum plane below the foam's surface. zone_layers: layers taken out under each zone.
    proud_mm: how far its highest point stands above the surface; negative: sunk.
    bottom_mm: depth of its lowest point. by_hand: the layers were set by hand. held_up: the floor kept it higher
    than the seat wanted.
    """

    datum_mm: float
    zone_layers: tuple[int, ...]
    proud_mm: float
    bottom_mm: float
    by_hand: bool = False
    held_up: bool = False


def default_seat(bay: Bay) -> Seat:
    """Return the seat that fits: drawer half, case proud to its lid, wall deep, below another tier flush."""
    return "flush" if bay.above == "tier" else _BY_CONTAINER[bay.container.kind]


def seat_for(item: Item, placement: Placement | None, bay: Bay, rules: Rules) -> Seat:
    """Return the seat that counts: the placement's, else the item's, else the project's, else the container's."""
    if placement is not None and placement.seat is not None:
        return placement.seat
    return item.seat or rules.seat or default_seat(bay)


def seating_of(item: Item, placement: Placement | None, bay: Bay, rules: Rules) -> Seating:
    """Return how one item comes to rest in an insert, by its seat or by the layers set by hand."""
    return _seating(
        item,
        seat_for(item, placement, bay, rules),
        placement.zone_layers if placement is not None else None,
        bay.sheets,
        floor_layers(bay.sheets, rules.floor_layers, whole_bottom=bay.whole_bottom),
        headroom_mm(bay),
        rules.proud_to_hold_mm,
    )


@memo(rows=4096)
def _seating(
    item: Item,
    seat: Seat,
    by_hand: tuple[int, ...] | None,
    sheets: tuple[Sheet, ...],
    floor: int,
    room_mm: float,
    proud_to_hold_mm: float,
) -> Seating:
    bottoms = tuple(layer.bottom_mm for layer in layers_of(sheets))
    most = max(1, len(bottoms) - floor)
    if by_hand is not None and len(by_hand) == len(item.zones):
        zone_layers = tuple(min(max(1, count), len(bottoms)) for count in by_hand)
        datum_mm = min(bottoms[count - 1] + zone.lowest_mm for count, zone in zip(zone_layers, item.zones))
        return _resting(item, datum_mm, zone_layers, by_hand=True)
    thickest = max(item.zones, key=lambda zone: zone.thickness_mm)
    count = _layers_for(seat, item, thickest, bottoms[:most], room_mm, proud_to_hold_mm)
    datum_mm = bottoms[count - 1] + thickest.lowest_mm
    deepest_mm = datum_mm - min(zone.lowest_mm for zone in item.zones)
    held_up = deepest_mm > bottoms[most - 1] + SIT_SLACK_MM
    if held_up:
        datum_mm -= deepest_mm - bottoms[most - 1]
    zone_layers = tuple(_clear_layers(zone, datum_mm, bottoms[:most]) for zone in item.zones)
    return _resting(item, datum_mm, zone_layers, held_up=held_up)


def _resting(
    item: Item, datum_mm: float, zone_layers: tuple[int, ...], *, by_hand: bool = False, held_up: bool = False
) -> Seating:
    return Seating(
        datum_mm=datum_mm,
        zone_layers=zone_layers,
        proud_mm=max(zone.highest_mm for zone in item.zones) - datum_mm,
        bottom_mm=datum_mm - min(zone.lowest_mm for zone in item.zones),
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
    height_mm = max(zone.highest_mm for zone in item.zones) - thickest.lowest_mm
    if seat == "proud":
        deep_enough = [n for n, bottom in enumerate(bottoms, start=1) if height_mm - bottom >= proud_to_hold_mm]
        return max(deep_enough, default=1)
    low_enough = [n for n, bottom in enumerate(bottoms, start=1) if height_mm - bottom <= room_mm + 1e-9]
    return min(low_enough, default=len(bottoms))


def _clear_layers(zone: Zone, datum_mm: float, bottoms: tuple[float, ...]) -> int:
    """Return the fewest layers whose removal lets the zone's underside hang at its height."""
    under_mm = datum_mm - zone.lowest_mm
    for count, bottom in enumerate(bottoms, start=1):
        if bottom >= under_mm - SIT_SLACK_MM:
            return count
    return len(bottoms)


def floor_left_mm(seating: Seating, sheets: tuple[Sheet, ...]) -> float:
    """Return how much foam stays under the deepest layer taken out for the item."""
    layers = layers_of(sheets)
    return stack_mm(sheets) - layers[max(seating.zone_layers) - 1].bottom_mm
