"""Foam that must stand: walls between pockets at every layer, foam to the edge, slivers inside one opening."""

from __future__ import annotations

from collections.abc import Iterator

import shapely
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.findings.finding import Finding, Mend
from cozy_burrow.core.findings.kinds import Kind, Told, kind
from cozy_burrow.core.findings.mend_kinds import MOVE_CLEAR, REMOVE_PULL
from cozy_burrow.core.foam.layers import Layer
from cozy_burrow.core.geometry.placing import to_plan
from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.ground.gaps import Gap, edge_gap_of, neighbours, widest_wanted_mm, worst_gap
from cozy_burrow.core.ground.ground import Cutout, Ground
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.pull_kinds import kind_of_pull
from cozy_burrow.core.model.records import FingerPull, Point, Rules
from cozy_burrow.core.pulls.areas import pull_area
from cozy_burrow.core.pulls.placed import PlacedPull
from cozy_burrow.core.tolerances import RULE_SLACK_MM
from cozy_burrow.core.tongue import tr

_SLIVER_MM2 = 6.5  # a scrap of foam of this size tears off and sticks to the glove


def _overlap(one: Told) -> str:
    said = {"who": one.who, "layer": one.layer, "limit": one.limit}
    if one.finding.subject == "pull":
        return tr("The finger pulls of {who} overlap{layer}; {limit} of foam needed between them.", **said)
    return tr("The pockets of {who} overlap{layer}; {limit} of foam needed between them.", **said)


POCKETS_MEET = kind(
    "POCKETS_MEET",
    tr("Pockets overlap"),
    tr("One hole for two items holds neither of them."),
    stage="lay-out",
    against="unsaid",
    says=_overlap,
)
THIN_WALL = kind(
    "THIN_WALL",
    tr("Wall too thin"),
    tr("Thin walls tear while the pocket is peeled, and bend when a tool leans on them."),
    stage="lay-out",
    says=lambda one: tr(
        "{value} of foam between {who}{layer}, {limit} needed.",
        value=one.value,
        who=one.who,
        layer=one.layer,
        limit=one.limit,
    ),
)
WALL_THIN_FOR_DEPTH = kind(
    "WALL_THIN_FOR_DEPTH",
    tr("Wall thin for its depth"),
    tr("The deeper a wall stands free, the thicker it must be to stay upright."),
    stage="lay-out",
    says=lambda one: tr(
        "{value} of foam between {who}{layer} meets your minimum; {limit} is advised at this depth.",
        value=one.value,
        who=one.who,
        layer=one.layer,
        limit=one.limit,
    ),
)
THIN_EDGE = kind(
    "THIN_EDGE",
    tr("Edge too thin"),
    tr("A thin outer wall is floppy, and tears when the insert is lifted."),
    stage="lay-out",
    says=lambda one: tr(
        "{value} of foam from {who} to the edge, {limit} needed.", value=one.value, who=one.who, limit=one.limit
    ),
)
OUTSIDE_BLANK = kind(
    "OUTSIDE_BLANK",
    tr("Outside the foam"),
    tr("There is no foam to cut here."),
    stage="lay-out",
    says=lambda one: tr("{who} reaches {value} beyond the foam.", who=one.who, value=one.figure(-one.finding.value)),
)
IN_SPARE = kind(
    "IN_SPARE",
    tr("In a reserved area"),
    tr("The area was reserved for something that is still to come."),
    stage="lay-out",
    against="alone",
    says=lambda one: tr("{who} covers {value} of a reserved area.", who=one.who, value=one.value),
)
SLIVER = kind(
    "SLIVER",
    tr("Sliver of foam"),
    tr("Scraps this thin tear off and are lost in the pocket."),
    stage="grip",
    against="alone",
    says=lambda one: tr(
        "A scrap of foam of {value} stays between the pocket of {who} and its finger pull.",
        value=one.value,
        who=one.who,
    ),
)


def spare_findings(ground: Ground) -> Iterator[Finding]:
    """Yield what lies in an area that is kept free."""
    for ring in ground.insert.spare:
        area = Polygon(ring)
        for key, pocket in ground.pockets.items():
            taken = pocket.surface.intersection(area)
            if taken.area > _SLIVER_MM2:
                yield Finding(
                    severity="care",
                    code=IN_SPARE.code,
                    placements=(key,),
                    value=float(taken.area),
                    limit=0.0,
                    unit="mm²",
                    where_mm=(float(taken.centroid.x), float(taken.centroid.y)),
                    mends=(MOVE_CLEAR.at(key),),
                )


def wall_findings(ground: Ground) -> Iterator[Finding]:
    """Yield what is wrong between pockets, pulls and the blank's edge."""
    layers, rules = ground.layers, ground.rules
    for first, second in neighbours(ground, within_mm=widest_wanted_mm(ground)):
        yield from _between(first, second, layers, rules)
    for cutout in ground.cutouts:
        gap = edge_gap_of(ground, cutout)
        if not gap.inside:
            yield _edge(cutout, gap, OUTSIDE_BLANK)
        elif gap.short_mm > RULE_SLACK_MM:
            yield _edge(cutout, gap, THIN_EDGE)


@memo(rows=32768)
def _between(first: Cutout, second: Cutout, layers: tuple[Layer, ...], rules: Rules) -> tuple[Finding, ...]:
    gap = worst_gap(first, second, layers, rules, False)
    owners = tuple(sorted(first.owners)) + tuple(sorted(second.owners))
    if gap.short_mm > RULE_SLACK_MM:
        return (
            Finding(
                severity="stop",
                code=(THIN_WALL if gap.gap_mm > 0 else POCKETS_MEET).code,
                placements=owners,
                value=gap.gap_mm,
                limit=gap.wanted_mm,
                unit="mm",
                where_mm=gap.middle_mm,
                layer=gap.layer,
                subject=_subject(first, second),
                mends=_clear_mends(first) + _clear_mends(second),
            ),
        )
    by_depth = worst_gap(first, second, layers, rules, True)
    if rules.wall_mm is None or by_depth.short_mm <= RULE_SLACK_MM:
        return ()
    return (
        Finding(
            severity="care",
            code=WALL_THIN_FOR_DEPTH.code,
            placements=owners,
            value=by_depth.gap_mm,
            limit=by_depth.wanted_mm,
            unit="mm",
            where_mm=by_depth.middle_mm,
            layer=by_depth.layer,
            subject=_subject(first, second),
        ),
    )


def _subject(first: Cutout, second: Cutout) -> str:
    kinds = {first.kind, second.kind}
    return "pull" if "pull" in kinds else "pocket"


def _clear_mends(cutout: Cutout) -> tuple[Mend, ...]:
    if cutout.kind == "pull":
        return (REMOVE_PULL.at(cutout.name),)
    return (MOVE_CLEAR.at(cutout.name),)


def _edge(cutout: Cutout, gap: Gap, what: Kind) -> Finding:
    return Finding(
        severity="stop",
        code=what.code,
        placements=tuple(sorted(cutout.owners)),
        value=gap.gap_mm,
        limit=gap.wanted_mm,
        unit="mm",
        where_mm=gap.middle_mm,
        layer=1,
        subject=cutout.kind,
        mends=_clear_mends(cutout),
    )


def sliver_findings(ground: Ground) -> Iterator[Finding]:
    """Yield scraps of foam thinner than the least foam that pulls leave beside their own pockets."""
    by_owner: dict[str, list[PlacedPull]] = {}
    for pull in ground.pulls:
        for owner in ground.pockets.keys() & set(pull.pull.serves):
            by_owner.setdefault(owner, []).append(pull)
    placements = {one.id: one for one in ground.insert.placements}
    for owner, pulls in by_owner.items():
        pocket, least_mm = ground.pockets[owner], ground.rules.least_foam_mm
        if not any(kind_of_pull(pull.pull).shared for pull in pulls):
            # Pulls that move with their thing: worked out where it does not move, so that a drag need not.
            worst = _sliver_beside(pocket.local, tuple(pull.pull for pull in pulls), least_mm)
            where = to_plan(placements[owner], worst[1]) if worst is not None else (0.0, 0.0)
        else:
            # By area: a trench stays the same one when another of the things that it serves has moved.
            worst = _sliver_placed(pocket, tuple(pull.area for pull in pulls), least_mm)
            where = worst[1] if worst is not None else (0.0, 0.0)
        if worst is not None:
            yield Finding(
                severity="care",
                code=SLIVER.code,
                placements=(owner,),
                value=worst[0],
                limit=_SLIVER_MM2,
                unit="mm²",
                where_mm=where,
                layer=1,
            )


@memo(rows=2048)
def _sliver_beside(pocket: Pocket, pulls: tuple[FingerPull, ...], least_foam_mm: float) -> tuple[float, Point] | None:
    return _sliver(shapely.union_all([pocket.surface, *map(pull_area, pulls)]), least_foam_mm)


@memo(rows=2048)
def _sliver_placed(pocket: Pocket, areas: tuple[BaseGeometry, ...], least_foam_mm: float) -> tuple[float, Point] | None:
    return _sliver(shapely.union_all([pocket.surface, *areas]), least_foam_mm)


def _sliver(together: BaseGeometry, least_foam_mm: float) -> tuple[float, Point] | None:
    """Return the largest scrap that a closing by the least foam would fill, and a point in it."""
    half = least_foam_mm / 2
    closed = together.buffer(half, quad_segs=4).buffer(-half, quad_segs=4)
    if closed.area - together.area < _SLIVER_MM2:
        return None  # all scraps together are too small: the costly difference is spared
    scraps = polygons_in(closed.difference(together), least_area_mm2=_SLIVER_MM2)
    if not scraps:
        return None
    middle = scraps[0].representative_point()
    return float(scraps[0].area), (middle.x, middle.y)
