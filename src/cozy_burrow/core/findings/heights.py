"""Heights: the floor that stays, the room above, the stack in its container."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec.structs import replace

from cozy_burrow.core.container.bay import Bay, headroom_mm, stack_mm
from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.depth.seat import floor_left_mm
from cozy_burrow.core.depth.seated import judged_seating
from cozy_burrow.core.depth.sitting import Sitting
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.findings.kinds import kind
from cozy_burrow.core.findings.mend_kinds import FEWER_LAYERS, LOWER_SEAT, ON_FACE, SEAT_BY_RULE, THINNER_STACK
from cozy_burrow.core.foam.layers import LEAST_FLOOR_MM
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.ground.sits import sitting_in
from cozy_burrow.core.kit.several import on_face
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Item, Point, Rules, Sheet
from cozy_burrow.core.tolerances import FOAM_GIVES_MM, RULE_SLACK_MM
from cozy_burrow.core.tongue import tr

_AT_ANY_DEPTH = "at any depth"  # that an item is too high
STACK_TOO_HIGH = kind(
    "STACK_TOO_HIGH",
    tr("Stack too high"),
    tr("The sheets together do not go into the container."),
    stage="measure",
    against="above",
    says=lambda one: tr("The sheets are {value} high, the container is {limit}.", value=one.value, limit=one.limit),
)
FLOOR_GONE = kind(
    "FLOOR_GONE",
    tr("Floor too thin"),
    tr("The knife comes out underneath, and nothing carries the tool."),
    stage="sink",
    says=lambda one: tr(
        "{value} of foam left under {who}, {limit} needed.", value=one.value, who=one.who, limit=one.limit
    ),
)
TOO_HIGH = kind(
    "TOO_HIGH",
    tr("Too high"),
    tr("The drawer, the lid or the tier above will not close over it."),
    stage="sink",
    against="above",
    says=lambda one: (
        tr("{who} sticks up {value}, {limit} of room.", who=one.who, value=one.value, limit=one.limit)
        + " "
        + (
            tr("Even on the floor of the foam it is too high: lay it on another side, or in a higher container.")
            if one.finding.extra == _AT_ANY_DEPTH
            else tr("Sink it deeper, or take thicker foam.")
        )
    ),
)
HELD_UP = kind(
    "HELD_UP",
    tr("Can't go deeper: floor"),
    tr("At its seat it would lie deeper, but the floor of the foam must stay."),
    stage="sink",
    against="above",
    says=lambda one: tr(
        "{who} rests {value} deep; the floor starts at {limit}.", who=one.who, value=one.value, limit=one.limit
    ),
)


def height_findings(ground: Ground) -> Iterator[Finding]:
    """Yield what is too deep, too high or does not go in."""
    insert, bay = ground.insert, ground.bay
    height, headroom = stack_mm(insert.sheets), headroom_mm(bay)
    if bay.top_mm > bay.container.height_mm + RULE_SLACK_MM and bay.above != "tier":
        yield Finding(
            severity="stop",
            code=STACK_TOO_HIGH.code,
            placements=(),
            value=bay.top_mm,
            limit=bay.container.height_mm,
            unit="mm",
            mends=(THINNER_STACK.at(insert.id),) if len(insert.sheets) > 1 else (),
        )
    floor_mm = height - ground.layers[-ground.floor_layers].top_mm if ground.floor_layers else 0.0
    if ground.layers[-1].plain and ground.floor_layers == 1:
        floor_mm = LEAST_FLOOR_MM  # cut through, with so much of the plug glued back
    for key, pocket in ground.pockets.items():
        for finding in _pocket_heights(pocket, sitting_in(ground, key), insert.sheets, max(0.0, headroom), floor_mm):
            if finding.code == TOO_HIGH.code and _may_lie(pocket.item, bay, ground.rules):
                yield replace(finding, mends=(*finding.mends, ON_FACE.at(key)))
            else:
                yield finding


@memo(rows=512)
def _may_lie(item: Item, bay: Bay, rules: Rules) -> bool:
    """Return whether an item is a disc that would clear what is above if it lay on its face."""
    try:
        laid = on_face(item)
    except UnusableInput:
        return False
    return judged_seating(laid, bay, rules).proud_mm <= max(0.0, headroom_mm(bay)) + FOAM_GIVES_MM


@memo(rows=4096)
def _pocket_heights(
    pocket: Pocket, sitting: Sitting, sheets: tuple[Sheet, ...], headroom_mm: float, floor_mm: float
) -> tuple[Finding, ...]:
    seating, key, where = pocket.seating, pocket.owner, _middle(pocket.surface.bounds)
    found: list[Finding] = []
    left = floor_left_mm(seating, sheets)
    if left < floor_mm - RULE_SLACK_MM:
        found.append(
            Finding(
                severity="stop",
                code=FLOOR_GONE.code,
                placements=(key,),
                value=left,
                limit=floor_mm,
                unit="mm",
                where_mm=where,
                mends=(FEWER_LAYERS.at(key), SEAT_BY_RULE.at(key)),
            )
        )
    if sitting.proud_mm > headroom_mm + FOAM_GIVES_MM:
        could_go_deeper = pocket.item.thickness_mm <= stack_mm(sheets) - floor_mm + headroom_mm + FOAM_GIVES_MM
        found.append(
            Finding(
                severity="stop",
                code=TOO_HIGH.code,
                placements=(key,),
                value=sitting.proud_mm,
                limit=headroom_mm,
                unit="mm",
                where_mm=where,
                extra="" if could_go_deeper else _AT_ANY_DEPTH,
                mends=(LOWER_SEAT.at(key),) if could_go_deeper else (),
            )
        )
    if seating.held_up:
        found.append(
            Finding(
                severity="note",
                code=HELD_UP.code,
                placements=(key,),
                value=seating.bottom_mm,
                limit=stack_mm(sheets) - floor_mm,
                unit="mm",
                where_mm=where,
            )
        )
    return tuple(found)


def _middle(bounds: tuple[float, float, float, float]) -> Point:
    return (bounds[0] + bounds[2]) / 2, (bounds[1] + bounds[3]) / 2
