"""What could be done where no whole layers let a thing lie level: a slice put back, another seat, another sheet."""

from __future__ import annotations

from typing import Literal

from msgspec.structs import replace

from cozy_burrow.core.container.bay import Bay
from cozy_burrow.core.depth.advice import Advice, Case, best_of, with_risers
from cozy_burrow.core.depth.seat import seat_for
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import SEATS, Item, Placement, Record, Rules, Seat, Sheet

THIN_MM, THICK_MM = 3.2, 10.0  # the two families of layers that are sold
_TRIED_SEATS = 2  # more would not be read

OptionKind = Literal["layers", "riser", "seat", "sheet"]


class Option(Record, frozen=True, kw_only=True):
    """One way out and what it gives; `sheets`: the stack that it needs, where that is another."""

    kind: OptionKind
    advice: Advice
    sheets: tuple[Sheet, ...] = ()


def options_for(item: Item, placement: Placement | None, bay: Bay, rules: Rules) -> tuple[Option, ...]:
    """Return ways to seat an item that are good, the least trouble first: whole layers, a slice, a seat, a sheet."""
    return _options(item, seat_for(item, placement, rules), bay, rules)


@memo(rows=512)
def _options(item: Item, seat: Seat, bay: Bay, rules: Rules) -> tuple[Option, ...]:
    advice = best_of(Case(item, seat, bay, rules))
    if advice.good:
        return (Option(kind="layers", advice=advice),)
    found: list[Option] = []
    risen = with_risers(Case(item, seat, bay, rules))
    if risen is not None:
        found.append(Option(kind="riser", advice=risen))
    others = [best_of(Case(item, other, bay, rules)) for other in SEATS if other != seat]
    others = sorted((one for one in others if one.good), key=lambda one: _away(one, seat))
    found += [Option(kind="seat", advice=one) for one in others[:_TRIED_SEATS]]
    sheets = tuple(_other_pitch(sheet) for sheet in bay.sheets)
    if sheets != bay.sheets:
        other = best_of(Case(item, seat, replace(bay, sheets=sheets), rules))
        if other.good:
            found.append(Option(kind="sheet", advice=other, sheets=sheets))
    return tuple(found)


def _away(advice: Advice, seat: Seat) -> int:
    """Return how far one seat is from another in depth: half, flush, deep; proud and lid lie between."""
    order: list[Seat] = ["half", "proud", "lid", "judged", "flush", "deep"]
    return abs(order.index(advice.seat) - order.index(seat))


def _other_pitch(sheet: Sheet) -> Sheet:
    """Return a sheet as thick in the other family of layers; plain and cubed foam as they are."""
    if sheet.material != "layered":
        return sheet
    pitch_mm = THIN_MM if sheet.pitch_mm > (THIN_MM + THICK_MM) / 2 else THICK_MM
    if sheet.thickness_mm < 2 * pitch_mm:
        return sheet
    return replace(sheet, pitch_mm=pitch_mm, board_id="")


def seated(placement: Placement, option: Option) -> Placement:
    """Return the placement seated as an option says, its layers set."""
    advice = option.advice
    risers_mm = advice.risers_mm if any(advice.risers_mm) else None
    seat = advice.seat if option.kind == "seat" else placement.seat
    return replace(placement, seat=seat, zone_layers=advice.zone_layers, risers_mm=risers_mm)
