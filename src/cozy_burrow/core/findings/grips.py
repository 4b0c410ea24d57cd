"""Grips: can a hand get hold of each thing, and does each pull do what it is there for?"""

from __future__ import annotations

from collections.abc import Iterator

from cozy_burrow.core.container.bay import Bay, headroom_mm
from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.depth.seated import judged_seating
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.findings.finding import Finding, Mend
from cozy_burrow.core.findings.kinds import Told, kind
from cozy_burrow.core.findings.mend_kinds import ADD_PULL, ON_EDGE, REMOVE_PULL
from cozy_burrow.core.ground.grips import Grip, grip_of
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.kit.several import on_edge
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.pull_kinds import kind_of_pull
from cozy_burrow.core.model.records import Item, Point, Rules
from cozy_burrow.core.pulls.areas import LEAST_OPENING_MM2
from cozy_burrow.core.pulls.placed import PlacedPull
from cozy_burrow.core.pulls.press import PUSH_N, RISES_MM
from cozy_burrow.core.pulls.reach import FINGER_FLAT, SPAN_MM, along_needed_mm, away_needed_mm
from cozy_burrow.core.tolerances import FOAM_GIVES_MM, SLOT_MM
from cozy_burrow.core.tongue import tr


def _no_grip_text(one: Told) -> str:
    if one.finding.value < 0:
        below = one.figure(-one.finding.value)
        return tr(
            "{who} lies {below} below the surface and has no finger pull; without one it must stick up {limit}.",
            who=one.who,
            below=below,
            limit=one.limit,
        )
    return tr(
        "{who} sticks up {value} and has no finger pull; without one it must stick up {limit}.",
        who=one.who,
        value=one.value,
        limit=one.limit,
    )


def _poor_text(one: Told) -> str:
    """Return what is wrong with a grip, with its figure."""
    value, limit = one.value, one.limit
    match one.finding.extra:
        case "narrow":
            return tr("the opening beside it is {value}, a fingertip needs {limit}.", value=value, limit=limit)
        case "shallow":
            return tr("its pull ends {value} above where fingers hold it.", value=value)
        case "deep":
            return tr("the opening beside it is {value}, so far down fingers need {limit}.", value=value, limit=limit)
        case "askew":
            return tr(
                "gripped this far from its balance point it turns with {value}, fingers hold {limit}.",
                value=value,
                limit=limit,
            )
        case "wide":
            return tr("the hand must span {value}, it can span {limit}.", value=value, limit=limit)
        case "lies":
            return tr(
                "a push on its press point lifts the other end {value}, {limit} needed.", value=value, limit=limit
            )
        case "heavy":
            return tr("its press point needs a push of {value}, a finger gives {limit}.", value=value, limit=limit)
        case _:
            return tr("its finger pull misses it.")


NO_GRIP = kind(
    "NO_GRIP",
    tr("No way to lift it out"),
    tr("It sticks up too little to be held, and has no finger pull."),
    stage="grip",
    says=_no_grip_text,
)
GRIP_POOR = kind(
    "GRIP_POOR",
    tr("Hard to lift out"),
    tr("What can't be taken with two fingers is pried out, and the foam tears with it."),
    stage="grip",
    against="unsaid",
    says=lambda one: f"{one.who}: {_poor_text(one)}",
)
PULL_SMALL = kind(
    "PULL_SMALL",
    tr("Finger pull too small"),
    tr("A fingertip needs about one square centimetre beside the tool."),
    stage="grip",
    says=lambda one: tr(
        "The finger pull opens {value} beside {who}, {limit} needed.", value=one.value, who=one.who, limit=one.limit
    ),
)
PULL_ASTRAY = kind(
    "PULL_ASTRAY",
    tr("Finger pull misses"),
    tr("The finger pull no longer touches what it is there for."),
    stage="grip",
    against="unsaid",
    says=lambda one: tr("A finger pull no longer reaches {who}.", who=one.who),
)


def grip_findings(ground: Ground) -> Iterator[Finding]:
    """Yield things that cannot be gripped or only badly, and pulls that reach nothing or open too little."""
    for key, pocket in ground.pockets.items():
        grip = grip_of(ground, key)
        mends = (ADD_PULL.at(key), *(_edge_mend(ground, key) if not grip.good else ()))
        if grip.how == "none":
            yield Finding(
                severity="care",
                code=NO_GRIP.code,
                placements=(key,),
                value=grip.proud_mm,
                limit=ground.rules.proud_to_hold_mm,
                unit="mm",
                where_mm=_centre(pocket),
                mends=mends,
            )
        elif not grip.good:
            trouble, value, limit, unit = trouble_of(grip, ground.rules)
            yield Finding(
                severity="care",
                code=GRIP_POOR.code,
                placements=(key,),
                value=value,
                limit=limit,
                unit=unit,
                where_mm=_centre(pocket),
                extra=trouble,
                mends=mends,
            )
    for pull in ground.pulls:
        serves = tuple(one for one in pull.pull.serves if one in ground.pockets)
        astray = tuple(one for one in serves if one not in pull.reaches)
        if astray:
            yield Finding(
                severity="care",
                code=PULL_ASTRAY.code,
                placements=astray,
                value=0.0,
                limit=0.0,
                unit="mm",
                where_mm=_centre(ground.pockets[astray[0]]) if pull.area.is_empty else _middle(pull),
                subject=pull.pull.id,
                mends=(REMOVE_PULL.at(pull.pull.id),),
            )
            continue
        if not kind_of_pull(pull.pull).opens:
            continue
        beside = min(_beside(pull, ground.pockets[owner]) for owner in serves)
        if beside < LEAST_OPENING_MM2:
            yield Finding(
                severity="care",
                code=PULL_SMALL.code,
                placements=serves,
                value=beside,
                limit=LEAST_OPENING_MM2,
                unit="mm²",
                where_mm=_middle(pull),
                subject=pull.pull.id,
                mends=(REMOVE_PULL.at(pull.pull.id),),
            )


def _edge_mend(ground: Ground, key: str) -> tuple[Mend, ...]:
    """Return standing it on edge for what lies flat and thin: fingers get hold of what stands, a slit is soon cut."""
    item = ground.pockets[key].item
    return (ON_EDGE.at(key),) if _may_stand(item, ground.bay, ground.rules) else ()


@memo(rows=512)
def _may_stand(item: Item, bay: Bay, rules: Rules) -> bool:
    if item.thickness_mm > SLOT_MM:
        return False
    try:
        return stands_in(on_edge(item), bay, rules)
    except UnusableInput:
        return False


def stands_in(item: Item, bay: Bay, rules: Rules) -> bool:
    """Return whether an item, seated by judgement, is at least half sunk and clears what is above."""
    seating = judged_seating(item, bay, rules)
    sunk_mm = item.thickness_mm - seating.proud_mm
    return seating.proud_mm <= max(0.0, headroom_mm(bay)) + FOAM_GIVES_MM and sunk_mm >= item.thickness_mm / 2 - 1.0


def trouble_of(grip: Grip, rules: Rules) -> tuple[str, float, float, str]:
    """Return the worst trouble of a grip that is not good, its figure, its limit and their unit."""
    if grip.press is not None:
        if grip.press.rise_mm < RISES_MM:
            return "lies", grip.press.rise_mm, RISES_MM, "mm"
        return "heavy", grip.press.push_n, PUSH_N, "N"
    reach = grip.reach
    assert reach is not None and reach.troubles
    match reach.troubles[0]:
        case "narrow" if reach.along_mm < rules.finger_mm:
            return "narrow", reach.along_mm, rules.finger_mm, "mm"
        case "narrow":
            return "narrow", reach.opening_mm, FINGER_FLAT * rules.finger_mm, "mm"
        case "shallow":
            return "shallow", -reach.past_mm, 0.0, "mm"
        case "deep" if reach.opening_mm < away_needed_mm(reach.down_mm, rules.finger_mm):
            return "deep", reach.opening_mm, away_needed_mm(reach.down_mm, rules.finger_mm), "mm"
        case "deep":
            return "deep", reach.along_mm, along_needed_mm(reach.down_mm, rules.finger_mm), "mm"
        case "askew":
            return "askew", reach.moment_nmm, reach.limit_nmm, "N·mm"
        case "wide":
            return "wide", reach.span_mm, SPAN_MM, "mm"
        case "misses":
            return "misses", 0.0, rules.finger_mm, "mm"


def _centre(pocket: Pocket) -> Point:
    left, top, right, bottom = pocket.surface.bounds
    return (left + right) / 2, (top + bottom) / 2


def _middle(pull: PlacedPull) -> Point:
    return float(pull.area.centroid.x), float(pull.area.centroid.y)


@memo(rows=4096)
def _beside(pull: PlacedPull, pocket: Pocket) -> float:
    """Return the area in mm² that the smallest part of a pull opens beside a pocket."""
    return min(float(part.difference(pocket.surface).area) for part in pull.parts)
