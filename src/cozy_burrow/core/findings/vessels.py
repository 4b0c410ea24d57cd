"""The container itself: surveys that contradict themselves, walls that meet, tiers that stick, weight and balance."""

from __future__ import annotations

import math
from collections.abc import Iterator

import shapely
from shapely.geometry import Polygon

from cozy_burrow.core.container.bay import Bay, bay_of, tiers_of
from cozy_burrow.core.container.blank import Blank, blanks_of, fixing_points
from cozy_burrow.core.container.level import level_polygon
from cozy_burrow.core.container.survey import impossible, pair_text, solve_survey
from cozy_burrow.core.findings.finding import Finding, Mend, Severity
from cozy_burrow.core.findings.kinds import Kind, Told, kind
from cozy_burrow.core.findings.mend_kinds import LIFT_STRAPS, MOVE_CLEAR
from cozy_burrow.core.ground.carrying import HANGS_ASKEW_DEG, carried
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Container, Project
from cozy_burrow.core.tolerances import RULE_SLACK_MM
from cozy_burrow.core.tongue import tr, trn

STICKS_MM = 4.0  # foam is pressed in by so much at each side without tearing
SURE_MM = 2.0  # corners less sure than this make blanks that do not grip, or do not go in
LEAST_LIP_MM = 0.1  # less is no lip, and divides by nothing
BENDS_SHARE = 0.12  # foam stretched by more on its outside creases or tears between its layers


def _short_text(one: Told) -> str:
    found = one.finding
    more = trn("{count} more distance is needed", "{count} more distances are needed", round(found.value))
    return tr("{more}; tape {extra} next.", more=more, extra=found.extra) if found.extra else f"{more}."


def _unsure_text(one: Told) -> str:
    extra = one.finding.extra
    helps = tr("taping {extra} helps most", extra=extra) if extra else tr("tape more distances between corners")
    return tr(
        "The corners are sure to ± {value}, ± {limit} allowed; {helps}.", value=one.value, limit=one.limit, helps=helps
    )


SURVEY_BROKEN = kind(
    "SURVEY_BROKEN",
    tr("Distances contradict each other"),
    tr("No outline can have these distances: the straight way is never longer than the way round."),
    stage="measure",
    against="above",
    says=lambda one: tr(
        "{extra} was taped as {value}, but the way round by other corners is only {limit}.",
        extra=one.finding.extra,
        value=one.value,
        limit=one.limit,
    ),
)
SURVEY_SHORT = kind(
    "SURVEY_SHORT",
    tr("Survey not finished"),
    tr("With fewer distances the corners can still move against each other."),
    stage="measure",
    against="unsaid",
    says=_short_text,
)
SURVEY_UNSURE = kind(
    "SURVEY_UNSURE",
    tr("Corners not sure"),
    tr("A blank cut from unsure corners rattles, or does not go in."),
    stage="measure",
    against="above",
    says=_unsure_text,
)
TAPE_AGAIN = kind(
    "TAPE_AGAIN",
    tr("Tape one distance again"),
    tr("One distance does not go with the others: a slip of the tape shifts corners by millimetres."),
    stage="measure",
    against="above",
    says=lambda one: tr(
        "{extra} is {value} off from what the other distances say: tape it again.",
        extra=one.finding.extra,
        value=one.value,
    ),
)
DRAFT_CLOSES = kind(
    "DRAFT_CLOSES",
    tr("Taper closes up"),
    tr("With this taper the walls have met before the sheet's height: there is no inside left to fill."),
    stage="measure",
    against="unsaid",
    says=lambda one: tr("{about}: the walls meet {value} below the rim.", about=one.about, value=one.value),
)
TIER_STUCK = kind(
    "TIER_STUCK",
    tr("Does not lift out"),
    tr("What is wider than the opening above it must be squeezed past, and tears."),
    stage="measure",
    against="above",
    says=lambda one: tr(
        "{about} must be pressed in by {value} to come out, {limit} allowed.",
        about=one.about,
        value=one.value,
        limit=one.limit,
    ),
)
LIP_CREASES = kind(
    "LIP_CREASES",
    tr("Creases at the lip"),
    tr("The blank must be bent to pass the front lip; foam this thick creases. Thinner sheets go in."),
    stage="measure",
    against="above",
    says=lambda one: tr(
        "Passing the front lip stretches the foam by {value}, {limit} allowed.", value=one.value, limit=one.limit
    ),
)
NO_STRAPS = kind(
    "NO_STRAPS",
    tr("Nothing to lift it by"),
    tr("A tier that fits snugly has nothing to be held by: a strap under it lifts it level."),
    stage="measure",
    against="unsaid",
    says=lambda one: tr("{about} has no lift strap.", about=one.about),
)
ON_FIXING = kind(
    "ON_FIXING",
    tr("Too close to a screw"),
    tr("A screw or bolt comes through here: the knife would meet it, and the panel would lose its hold."),
    stage="lay-out",
    says=lambda one: tr(
        "{who} comes within {value} of a fixing point, {limit} needed.", who=one.who, value=one.value, limit=one.limit
    ),
)
HEAVY = kind(
    "HEAVY",
    tr("Heavy to lift"),
    tr("Above the limit two people lift. Your local rule counts; the figure is yours to set."),
    stage="measure",
    against="above",
    says=lambda one: tr(
        "{about} weighs {value:.1f} kg loaded; above {limit} two people lift.",
        about=one.about,
        value=one.finding.value,
        limit=one.limit,
    ),
)
HANGS_ASKEW = kind(
    "HANGS_ASKEW",
    tr("Hangs to one side"),
    tr("A case that hangs to one side pulls at the wrist and bangs against the leg."),
    stage="lay-out",
    against="above",
    says=lambda one: (
        tr("{about} hangs {value:.0f}° to the right of its handle.", about=one.about, value=one.finding.value)
        if one.finding.extra == "right"
        else tr("{about} hangs {value:.0f}° to the left of its handle.", about=one.about, value=one.finding.value)
    ),
)


def container_findings(project: Project, container: Container) -> Iterator[Finding]:
    """Yield what is wrong with a container, whatever lies in it."""
    yield from _survey_findings(container)
    tiers = tiers_of(project, container.id)
    for insert in tiers:
        yield from _bay_findings(bay_of(project, insert), insert.id)
    for insert in tiers if len(tiers) > 1 else ():
        if not insert.lift_straps:
            strap = LIFT_STRAPS.at(insert.id)
            yield _about(container, NO_STRAPS, "note", subject=insert.id, mends=(strap,))
    if container.kind != "case":
        return  # nobody carries a drawer or a wall by its handle
    load = carried(project, container)
    if load.whole.mass_g > project.rules.two_lift_kg * 1000:
        value, limit = load.whole.mass_g / 1000, project.rules.two_lift_kg
        yield _about(container, HEAVY, "care", value=value, limit=limit, unit="kg")
    if load.sideways_deg is not None and load.things_g > 0 and abs(load.sideways_deg) > HANGS_ASKEW_DEG:
        side = "right" if load.sideways_deg > 0 else "left"
        value = abs(load.sideways_deg)
        yield _about(container, HANGS_ASKEW, "care", value=value, limit=HANGS_ASKEW_DEG, unit="°", extra=side)


def _about(
    container: Container,
    what: Kind,
    severity: Severity,
    *,
    value: float = 0.0,
    limit: float = 0.0,
    unit: str = "",
    subject: str = "",
    extra: str = "",
    mends: tuple[Mend, ...] = (),
) -> Finding:
    return Finding(
        severity=severity,
        code=what.code,
        placements=(),
        value=value,
        limit=limit,
        unit=unit,
        subject=subject or container.id,
        extra=extra,
        mends=mends,
    )


@memo(rows=16)
def _survey_findings(container: Container) -> tuple[Finding, ...]:
    if not container.taped:
        return ()
    broken = impossible(container.taped)
    if broken is not None:
        one, longest = broken
        pair = pair_text(one.first, one.second)
        return (_about(container, SURVEY_BROKEN, "stop", value=one.length_mm, limit=longest, unit="mm", extra=pair),)
    found = solve_survey(container.corners, container.taped)
    if found.missing:
        pair = pair_text(*found.next_pair) if found.next_pair else ""
        return (_about(container, SURVEY_SHORT, "stop", value=float(found.missing), extra=pair),)
    if found.suspect is not None:
        slip = found.residuals[found.suspect]
        pair = pair_text(slip.taped.first, slip.taped.second)
        return (_about(container, TAPE_AGAIN, "care", value=abs(slip.off_mm), limit=SURE_MM, unit="mm", extra=pair),)
    if found.sure_mm > SURE_MM:
        pair = pair_text(*found.next_pair) if found.next_pair else ""
        return (_about(container, SURVEY_UNSURE, "care", value=found.sure_mm, limit=SURE_MM, unit="mm", extra=pair),)
    return ()


@memo(rows=32)
def _bay_findings(bay: Bay, insert_id: str) -> tuple[Finding, ...]:
    container = bay.container
    blanks = blanks_of(bay)
    closed = [blank for blank in blanks if blank.polygon.is_empty]
    if closed:
        return (_about(container, DRAFT_CLOSES, "stop", value=closed[0].depth_mm, unit="mm", subject=insert_id),)
    found = []
    stuck = max((stuck_mm(container, blank) for blank in blanks), default=0.0)
    if stuck > STICKS_MM + RULE_SLACK_MM:
        found.append(_about(container, TIER_STUCK, "care", value=stuck, limit=STICKS_MM, unit="mm", subject=insert_id))
    bend = lip_bend(bay)
    if bend is not None and bend[1] > BENDS_SHARE:
        found.append(_about(container, LIP_CREASES, "care", value=bend[1] * 100, limit=BENDS_SHARE * 100, unit="%"))
    return tuple(found)


def stuck_mm(container: Container, blank: Blank) -> float:
    """Return how far a blank must be pressed in on its way up to the rim, at most: walls and obstacles above it."""
    worst = 0.0
    for depth in {0.0, *(max(0.0, blank.top_mm) * share for share in (0.25, 0.5, 0.75, 1.0))}:
        worst = max(worst, _beyond(blank.polygon, level_polygon(container, depth, base_edge=False)))
    low_mm = container.height_mm - max(0.0, blank.top_mm)
    for obstacle in container.obstacles:
        high = container.height_mm if obstacle.high_mm is None else obstacle.high_mm
        if high > low_mm:
            shape = Polygon(obstacle.ring)
            caught = blank.polygon.intersection(shape)
            if not caught.is_empty:
                # The foam gives way by the narrower side of what stands over it.
                left, top, right, bottom = caught.bounds
                worst = max(worst, min(right - left, bottom - top))
    return worst


def _beyond(blank: Polygon, opening: Polygon) -> float:
    if opening.is_empty:
        return math.inf
    return float(shapely.distance(shapely.points(shapely.get_coordinates(blank)), opening).max())


def lip_bend(bay: Bay) -> tuple[float, float] | None:
    """Return how high the blank must be bent to pass a drawer's front lip, and how much its outside is stretched.

    An arc of length L over a chord shorter by the lip rises by h = sqrt(3·c·(L - c)/8); its radius is L²/8h, and the
    outside of the thickest sheet (they go in one by one) is stretched by t/2r. None without a lip worth the name.
    """
    container = bay.container
    if container.front_lip_mm < LEAST_LIP_MM:
        return None
    length = container.depth_mm + 2 * bay.press_fit_mm
    chord = container.depth_mm - container.front_lip_mm
    rise = math.sqrt(3 * chord * (length - chord) / 8)
    radius = length**2 / (8 * rise)
    return rise, max(sheet.thickness_mm for sheet in bay.sheets) / (2 * radius)


def fixing_findings(ground: Ground) -> Iterator[Finding]:
    """Yield pockets and pulls that come too near to a fixing point, at whatever depth."""
    edge_mm = ground.rules.edge_mm
    for point in fixing_points(ground.bay.container):
        for cutout in ground.cutouts:
            gap = float(point.distance(cutout.areas[0]))
            if gap < edge_mm - RULE_SLACK_MM:
                middle = point.centroid
                yield Finding(
                    severity="stop",
                    code=ON_FIXING.code,
                    placements=tuple(sorted(cutout.owners)),
                    value=gap,
                    limit=edge_mm,
                    unit="mm",
                    where_mm=(float(middle.x), float(middle.y)),
                    mends=(MOVE_CLEAR.at(cutout.name),) if cutout.kind == "pocket" else (),
                )
