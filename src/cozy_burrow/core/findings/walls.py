"""Foam that must stand: walls between pockets at every layer, foam to the edge, slivers inside one opening."""

from __future__ import annotations

from collections.abc import Iterator

import shapely
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.findings.finding import Finding, Mend
from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.ground.gaps import Gap, edge_gap_of, neighbours, widest_wanted_mm, worst_gap
from cozy_burrow.core.ground.ground import Cutout, Ground
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Point
from cozy_burrow.core.tolerances import RULE_SLACK_MM

_SLIVER_MM2 = 6.0  # a scrap of foam of this size tears off and sticks to the glove


def wall_findings(ground: Ground) -> Iterator[Finding]:
    """Yield what is wrong between pockets, pulls and the blank's edge."""
    for first, second in neighbours(ground, within_mm=widest_wanted_mm(ground)):
        yield from _between(ground, first, second)
    for cutout in ground.cutouts:
        gap = edge_gap_of(ground, cutout)
        if not gap.inside:
            yield _edge(cutout, gap, "OUTSIDE_BLANK")
        elif gap.short_mm > RULE_SLACK_MM:
            yield _edge(cutout, gap, "THIN_EDGE")


def _between(ground: Ground, first: Cutout, second: Cutout) -> Iterator[Finding]:
    gap = worst_gap(first, second, ground.layers, ground.rules, False)
    owners = tuple(sorted(first.owners)) + tuple(sorted(second.owners))
    if gap.short_mm > RULE_SLACK_MM:
        yield Finding(
            severity="stop",
            code="THIN_WALL" if gap.gap_mm > 0 else "POCKETS_MEET",
            placements=owners,
            value=gap.gap_mm,
            limit=gap.wanted_mm,
            unit="mm",
            where_mm=gap.middle_mm,
            layer=gap.layer,
            subject=_subject(first, second),
            mends=_clear_mends(first) + _clear_mends(second),
        )
        return
    if ground.rules.wall_mm is None:
        return
    by_depth = worst_gap(first, second, ground.layers, ground.rules, True)
    if by_depth.short_mm > RULE_SLACK_MM:
        yield Finding(
            severity="care",
            code="WALL_THIN_FOR_DEPTH",
            placements=owners,
            value=by_depth.gap_mm,
            limit=by_depth.wanted_mm,
            unit="mm",
            where_mm=by_depth.middle_mm,
            layer=by_depth.layer,
            subject=_subject(first, second),
        )


def _subject(first: Cutout, second: Cutout) -> str:
    kinds = {first.kind, second.kind}
    return "pull" if "pull" in kinds else "pocket"


def _clear_mends(cutout: Cutout) -> tuple[Mend, ...]:
    if cutout.kind == "pull":
        return (Mend(kind="remove_pull", target=cutout.name),)
    return (Mend(kind="move_clear", target=cutout.name),)


def _edge(cutout: Cutout, gap: Gap, code: str) -> Finding:
    return Finding(
        severity="stop",
        code="OUTSIDE_BLANK" if code == "OUTSIDE_BLANK" else "THIN_EDGE",
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
    by_owner: dict[str, list[Cutout]] = {}
    for cutout in ground.cutouts:
        if cutout.kind == "pull":
            for owner in cutout.owners:
                by_owner.setdefault(owner, []).append(cutout)
    for owner, pulls in by_owner.items():
        pocket = next((one for one in ground.cutouts if one.kind == "pocket" and one.name == owner), None)
        if pocket is None:
            continue
        worst = _sliver((pocket, *pulls), ground.rules.least_foam_mm)
        if worst is not None:
            area_mm2, where = worst
            yield Finding(
                severity="care",
                code="SLIVER",
                placements=(owner,),
                value=area_mm2,
                limit=_SLIVER_MM2,
                unit="mm²",
                where_mm=where,
                layer=1,
            )


@memo(rows=2048)
def _sliver(cutouts: tuple[Cutout, ...], least_foam_mm: float) -> tuple[float, Point] | None:
    together: BaseGeometry = shapely.union_all([one.areas[0] for one in cutouts])
    half = least_foam_mm / 2
    closed = together.buffer(half).buffer(-half)
    scraps = polygons_in(closed.difference(together.buffer(0.05)), least_area_mm2=_SLIVER_MM2)
    if not scraps:
        return None
    middle = scraps[0].representative_point()
    return float(scraps[0].area), (middle.x, middle.y)
