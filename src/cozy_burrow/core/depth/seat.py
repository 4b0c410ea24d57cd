"""How deep an item goes: whole layers under each zone, from a seat rule or by hand, and how it then stands.

The item lies level. A seat rule speaks of the zone that is thickest: its underside comes to rest on the layer
boundary nearest to what the rule wants, and every other zone gets the fewest layers that let it hang clear.
"""

from __future__ import annotations

from msgspec.structs import replace

from cozy_burrow.core.container.bay import Bay, headroom_mm, stack_mm
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
from cozy_burrow.core.tolerances import SIT_SLACK_MM

_LEAST_DEPTH_MM = 3.0  # shallower and nothing is held
_BY_CONTAINER: dict[str, Seat] = {"drawer": "half", "case": "lid", "wall": "deep"}


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


def default_seat(bay: Bay) -> Seat:
    """Return the seat that fits: drawer half, case proud to its lid, wall deep, below another tier as deep as it must.

    Flush is the boundary nearest to the thickness: under a tier what then stands out by a few mm would lift it.
    """
    return "lid" if bay.above == "tier" else _BY_CONTAINER[bay.container.kind]


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
        placement.risers_mm if placement is not None else None,
        bay.sheets,
        floor_of(bay, rules.floor_layers),
        headroom_mm(bay),
        rules.proud_to_hold_mm,
    )


@memo(rows=4096)
def _seating(
    item: Item,
    seat: Seat,
    by_hand: tuple[int, ...] | None,
    put_back_mm: tuple[float, ...] | None,
    sheets: tuple[Sheet, ...],
    floor: int,
    room_mm: float,
    proud_to_hold_mm: float,
) -> Seating:
    layers = layers_of(sheets)
    bottoms = tuple(layer.bottom_mm for layer in layers)
    most = max(1, len(bottoms) - floor)
    if by_hand is not None and len(by_hand) == len(item.zones):
        zone_layers = tuple(min(max(1, count), len(bottoms)) for count in by_hand)
        risers_mm = put_back_mm if put_back_mm and len(put_back_mm) == len(item.zones) else (0.0,) * len(item.zones)
        datum_mm = min(
            bottoms[count - 1] - riser + zone.lowest_mm
            for count, riser, zone in zip(zone_layers, risers_mm, item.zones)
        )
        seating = _resting(item, datum_mm, zone_layers, by_hand=True)
        return replace(seating, risers_mm=risers_mm) if any(risers_mm) else seating
    thickest = max(item.zones, key=lambda zone: zone.thickness_mm)
    count = _layers_for(seat, item, thickest, bottoms[:most], room_mm, proud_to_hold_mm)
    depth_mm = bottoms[count - 1]
    if any(layer.plain for layer in layers[:most]):
        wanted_mm = _wanted_mm(seat, item, thickest, room_mm, proud_to_hold_mm)
        depth_mm = _on_a_riser(wanted_mm, depth_mm, layers[:most], last=most == len(layers))
    datum_mm = depth_mm + thickest.lowest_mm
    deepest_mm = datum_mm - min(zone.lowest_mm for zone in item.zones)
    held_up = deepest_mm > bottoms[most - 1] + SIT_SLACK_MM
    if held_up:
        datum_mm -= deepest_mm - bottoms[most - 1]
    zone_layers = tuple(_clear_layers(zone, datum_mm, bottoms[:most]) for zone in item.zones)
    risers_mm = tuple(
        max(0.0, bottoms[count - 1] - (datum_mm - zone.lowest_mm)) if layers[count - 1].plain else 0.0
        for count, zone in zip(zone_layers, item.zones)
    )
    seating = _resting(item, datum_mm, zone_layers, held_up=held_up)
    return replace(seating, risers_mm=risers_mm) if any(risers_mm) else seating


def _wanted_mm(seat: Seat, item: Item, thickest: Zone, room_mm: float, proud_to_hold_mm: float) -> float | None:
    """Return the depth under the thickest zone that a seat asks for where any depth can be had; None: the deepest."""
    height_mm = max(zone.highest_mm for zone in item.zones) - thickest.lowest_mm
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
    """Return how much foam stays under the item where that is least, risers that are put back counted."""
    layers, whole = layers_of(sheets), stack_mm(sheets)
    risers = seating.risers_mm or (0.0,) * len(seating.zone_layers)
    return min(whole - layers[count - 1].bottom_mm + riser for count, riser in zip(seating.zone_layers, risers))
