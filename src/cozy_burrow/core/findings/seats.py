"""Seats: what a seat that somebody named costs, where the program by itself would take other layers."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from cozy_burrow.core.container.bay import headroom_mm, lid_touch_mm
from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.depth.seat import Seating, seat_for
from cozy_burrow.core.depth.seated import judged_seating
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.findings.kinds import Told, kind
from cozy_burrow.core.findings.mend_kinds import SEAT_JUDGED
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.model.records import Item
from cozy_burrow.core.tolerances import FOAM_GIVES_MM
from cozy_burrow.core.tongue import tr

FOLLOW_MM = 8.0  # below the surface: so far the first joint of a finger reaches over the rim
Cost = Literal["untouched", "shallow", "buried"]


def _costs_text(one: Told) -> str:
    match one.finding.extra:
        case "untouched":
            low = one.finding.value < 0
            lies = (
                tr("lies {value} below the surface", value=one.figure(-one.finding.value))
                if low
                else tr("sticks up {value}", value=one.value)
            )
            return tr(
                "At its seat {who} {lies}; the lid's foam touches only what sticks up more than {limit}.",
                who=one.who,
                lies=lies,
                limit=one.limit,
            )
        case "shallow":
            return tr(
                "At its seat {who} is sunk {value} only; half of it is {limit}.",
                who=one.who,
                value=one.value,
                limit=one.limit,
            )
        case _:
            return tr(
                "At its seat {who} lies {value} below the surface; fingers reach down {limit} easily.",
                who=one.who,
                value=one.value,
                limit=one.limit,
            )


SEAT_COSTS = kind(
    "SEAT_COSTS",
    tr("What its seat costs"),
    tr("You chose its seat, so it is kept; by judgement the program would remove other layers."),
    stage="sink",
    against="unsaid",
    says=_costs_text,
)


def seat_findings(ground: Ground) -> Iterator[Finding]:
    """Yield what named seats cost; a thing that stands too high or askew by its seat is told as that."""
    for placement in ground.insert.placements:
        pocket = ground.pockets.get(placement.id)
        if pocket is None or pocket.seating.by_hand or placement.id in ground.under:
            continue
        if seat_for(pocket.item, placement, ground.rules) == "judged":
            continue
        judged = judged_seating(pocket.item, ground.bay, ground.rules)
        if judged.zone_layers != pocket.seating.zone_layers:
            yield from _costs(ground, pocket, judged)


def _costs(ground: Ground, pocket: Pocket, judged: Seating) -> Iterator[Finding]:
    named = pocket.seating
    touch_mm = lid_touch_mm(ground.bay)
    if named.proud_mm > headroom_mm(ground.bay) + FOAM_GIVES_MM:
        return
    half_mm = max(zone.thickness_mm for zone in pocket.item.zones) / 2
    if touch_mm is not None and named.proud_mm <= touch_mm < judged.proud_mm:
        yield _finding(pocket, "untouched", named.proud_mm, touch_mm)
    elif ground.bay.container.kind != "drawer" and _sunk_mm(pocket.item, named) < half_mm - FOAM_GIVES_MM:
        yield _finding(pocket, "shallow", _sunk_mm(pocket.item, named), half_mm)
    elif named.proud_mm < -FOLLOW_MM and judged.proud_mm > named.proud_mm:
        yield _finding(pocket, "buried", -named.proud_mm, FOLLOW_MM)


def _sunk_mm(item: Item, seating: Seating) -> float:
    """Return how deep the underside of an item's thickest zone lies."""
    return seating.datum_mm - max(item.zones, key=lambda zone: zone.thickness_mm).lowest_mm


def _finding(pocket: Pocket, cost: Cost, value_mm: float, limit_mm: float) -> Finding:
    left, top, right, bottom = pocket.surface.bounds
    return Finding(
        severity="note",
        code=SEAT_COSTS.code,
        placements=(pocket.owner,),
        value=value_mm,
        limit=limit_mm,
        unit="mm",
        where_mm=((left + right) / 2, (top + bottom) / 2),
        extra=cost,
        mends=(SEAT_JUDGED.at(pocket.owner),),
    )
