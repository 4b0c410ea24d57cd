"""Hold and room above the foam: what comes loose on the road or off the wall, what is too tight, what strikes a rib."""

from __future__ import annotations

import math
from collections.abc import Iterator

import shapely
from shapely.geometry import Polygon

from cozy_burrow.core.depth.hold import CUT_MM, STRAINED_MM, Hold
from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.findings.finding import Finding, Mend, Severity
from cozy_burrow.core.findings.kinds import Kind, Told, kind
from cozy_burrow.core.findings.mend_kinds import FIT_LINE, FIT_SNUG, LOWER_SEAT, MOVE_CLEAR
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.ground.holding import HAND_N, holding_of
from cozy_burrow.core.ground.sits import sitting_in
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Placement, Rules
from cozy_burrow.core.tolerances import SLIVER_AREA_MM2
from cozy_burrow.core.tongue import tr


def _helps(one: Told) -> str:
    return _HELPS.get(one.finding.subject, _HELPS["fit"])


def _loose_text(one: Told) -> str:
    pulls = _PULLS[one.finding.extra].format(limit=one.limit)
    if one.finding.value < 0.05:
        return tr(
            "Nothing holds {who}: its pocket is larger than it is; {pulls}. {helps}",
            who=one.who,
            pulls=pulls,
            helps=_HELPS["fit"],
        )
    at_most = tr("nothing to") if one.finding.subject == "fit" else tr("at most")
    return tr(
        "{who} is held with {at_most} {value}; {pulls}. {helps}",
        who=one.who,
        at_most=at_most,
        value=one.value,
        pulls=pulls,
        helps=_helps(one),
    )


# What throws it or lets it fall, by the case that was tried.
_PULLS: dict[str, str] = {
    "upside down": tr("upside down it pulls with {limit}"),
    "jolt": tr("a jolt pulls with {limit}"),
    "on edge": tr("on edge it tips out with {limit}"),
    "on the wall": tr("on the wall its weight tips it out with {limit}"),
}
_HELPS = {
    "fit": tr("A snug pocket, the lid's foam on it, or a strap would hold it."),
    "walls": tr("The foam beside it bends away: thicker walls, the lid's foam on it, or a strap would hold it."),
    "depth": tr("Deeper in the foam, the lid's foam on it, or a strap would hold it."),
}


LOOSE = kind(
    "LOOSE",
    tr("Loose"),
    tr("What leaves its pocket on the road hits everything else. An estimate: try a coupon or a pull test."),
    stage="grip",
    says=_loose_text,
)
TOO_TIGHT = kind(
    "TOO_TIGHT",
    tr("Too tight"),
    tr("An item that has to be pried out tears its foam, and is left lying about instead."),
    stage="grip",
    against="above",
    says=lambda one: tr(
        "{who} is held with {value} at least, fingers pull {limit}. Cut its pocket on the line.",
        who=one.who,
        value=one.value,
        limit=one.limit,
    ),
)
CAPTIVE = kind(
    "CAPTIVE",
    tr("Captive"),
    tr("What closes over it is nearer than its pocket is deep, so it can't leave; it may rattle all the same."),
    stage="grip",
    says=lambda one: tr(
        "{who} can't fall out: its pocket is {limit} deep, with {value} of air above. It may rattle. {helps}",
        who=one.who,
        limit=one.limit,
        value=one.value,
        helps=_helps(one),
    ),
)
SQUEEZED = kind(
    "SQUEEZED",
    tr("Squeezed out"),
    tr("Below its middle foam presses a round item up as well as in: a shallow snug pocket pushes it out."),
    stage="grip",
    says=lambda one: tr(
        "{who} lies {value} deep in a snug pocket, which pushes it out; {limit} needed. Sink it "
        "deeper, or cut its pocket on the line.",
        who=one.who,
        value=one.value,
        limit=one.limit,
    ),
)
STRIKES = kind(
    "STRIKES",
    tr("Hits a rib or latch"),
    tr("A rib, post or latch is where the item sticks out of the foam."),
    stage="sink",
    against="above",
    says=lambda one: tr(
        "{who} sticks up {value} under ‘{extra}’, {limit} of room there.",
        who=one.who,
        value=one.value,
        extra=one.finding.extra,
        limit=one.limit,
    ),
)


@memo(rows=32)
def hold_findings(ground: Ground) -> tuple[Finding, ...]:
    """Return what is loose, captive or squeezed out where things travel or hang, by estimate, and what is too tight."""
    if ground.bay.container.kind == "drawer":
        return ()  # it lies there by its weight; what is too tight is told at Grip
    found: list[Finding] = []
    for key, pocket in ground.pockets.items():
        holding = holding_of(ground, key)
        hold = holding.hold
        tried = [case for case in holding.cases if case.name != "by hand"]
        loose = [case for case in tried if case.says == "gives way"]
        on_line = (FIT_LINE.at(key),)
        if hold.squeezed and any(not case.by_lid for case in tried):
            sunk = pocket.seating.bottom_mm
            found.append(
                _of(
                    ground,
                    key,
                    SQUEEZED,
                    "care",
                    value=sunk,
                    limit=_least_sunk_mm(pocket, ground.rules),
                    mends=on_line,
                )
            )
        elif loose:
            worst = max(loose, key=lambda case: case.needed_n)
            snug = pocket.item.fit != "snug" and hold.interference_mm <= 0
            found.append(
                _of(
                    ground,
                    key,
                    LOOSE,
                    "care",
                    value=hold.high_n,
                    limit=worst.needed_n,
                    extra=worst.name,
                    subject=_why_loose(hold),
                    mends=(FIT_SNUG.at(key),) if snug else (),
                )
            )
        elif holding.air_mm > 0 and any(case.says == "captive" for case in tried):  # too high is said as that
            why = _why_loose(hold)
            found.append(_of(ground, key, CAPTIVE, "note", value=holding.air_mm, limit=holding.deep_mm, subject=why))
        if any(case.name == "by hand" and case.says == "gives way" for case in holding.cases):
            found.append(_of(ground, key, TOO_TIGHT, "note", value=hold.low_n, limit=HAND_N, mends=on_line))
    return tuple(found)


def _why_loose(hold: Hold) -> str:
    """Return what would help first, as a word: the fit, the walls beside it, or more of it in the foam."""
    if hold.interference_mm <= CUT_MM:
        return "fit"
    return "walls" if hold.strained_mm > 2 * STRAINED_MM else "depth"


def _least_sunk_mm(pocket: Pocket, rules: Rules) -> float:
    """Return how deep a round thing must lie for friction to win: mu · sin t = cos t where tan t is 1 / mu."""
    radius = max(zone.thickness_mm for zone in pocket.item.zones if zone.section == "round") / 2
    return radius * (1.0 - rules.friction / math.hypot(1.0, rules.friction))


def _of(
    ground: Ground,
    key: str,
    what: Kind,
    severity: Severity,
    *,
    value: float,
    limit: float,
    extra: str = "",
    subject: str = "",
    mends: tuple[Mend, ...] = (),
) -> Finding:
    left, top, right, bottom = ground.pockets[key].surface.bounds
    return Finding(
        severity=severity,
        code=what.code,
        placements=(key,),
        value=value,
        limit=limit,
        unit="mm" if what in {CAPTIVE, SQUEEZED} else "N",
        where_mm=((left + right) / 2, (top + bottom) / 2),
        extra=extra,
        subject=subject,
        mends=mends,
    )


def strike_findings(ground: Ground) -> Iterator[Finding]:
    """Yield things that stand out of the foam into a rib, post or latch bulge above it."""
    container, top_mm = ground.bay.container, ground.bay.top_mm
    over = [
        (one, Polygon(one.ring))
        for one in container.obstacles
        if (container.height_mm if one.high_mm is None else one.high_mm) > top_mm
    ]
    if not over:
        return
    placements = {one.id: one for one in ground.insert.placements}
    for key in ground.pockets:
        proud_mm = sitting_in(ground, key).proud_mm
        if proud_mm <= 0:
            continue
        outline = _outline(ground, placements[key])
        for obstacle, area in over:
            above = max(0.0, obstacle.low_mm - top_mm)
            if proud_mm > above and outline.intersection(area).area > SLIVER_AREA_MM2:
                middle = outline.intersection(area).centroid
                yield Finding(
                    severity="stop",
                    code=STRIKES.code,
                    placements=(key,),
                    value=proud_mm,
                    limit=above,
                    unit="mm",
                    where_mm=(float(middle.x), float(middle.y)),
                    extra=obstacle.name,
                    mends=(MOVE_CLEAR.at(key), LOWER_SEAT.at(key)),
                )


def _outline(ground: Ground, placement: Placement) -> shapely.Polygon:
    item = ground.pockets[placement.id].item
    return placed(polygon_of(item.outline), x_mm=placement.x_mm, y_mm=placement.y_mm, angle_deg=placement.angle_deg)
