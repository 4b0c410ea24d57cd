"""Grips: can a hand get hold of each thing, and does each pull do what it is there for?"""

from __future__ import annotations

from collections.abc import Iterator

from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.findings.finding import Finding, Mend
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Point
from cozy_burrow.core.pulls.placed import PlacedPull
from cozy_burrow.core.pulls.suggest import LEAST_OPENING_MM2, needs_pull


def grip_findings(ground: Ground) -> Iterator[Finding]:
    """Yield things that cannot be gripped, and pulls that reach nothing or open too little."""
    reached = {owner for pull in ground.pulls for owner in pull.reaches}
    for key, pocket in ground.pockets.items():
        if key not in reached and needs_pull(pocket, ground.rules):
            left, top, right, bottom = pocket.surface.bounds
            yield Finding(
                severity="care",
                code="NO_GRIP",
                placements=(key,),
                value=pocket.seating.proud_mm,
                limit=ground.rules.proud_to_hold_mm,
                unit="mm",
                where_mm=((left + right) / 2, (top + bottom) / 2),
                mends=(Mend(kind="add_pull", target=key),),
            )
    for pull in ground.pulls:
        serves = tuple(one for one in pull.pull.serves if one in ground.pockets)
        astray = tuple(one for one in serves if one not in pull.reaches)
        if astray:
            yield Finding(
                severity="care",
                code="PULL_ASTRAY",
                placements=astray,
                value=0.0,
                limit=0.0,
                unit="mm",
                where_mm=_middle(pull),
                subject=pull.pull.id,
                mends=(Mend(kind="remove_pull", target=pull.pull.id),),
            )
            continue
        beside = min(_beside(pull, ground.pockets[owner]) for owner in serves)
        if beside < LEAST_OPENING_MM2:
            yield Finding(
                severity="care",
                code="PULL_SMALL",
                placements=serves,
                value=beside,
                limit=LEAST_OPENING_MM2,
                unit="mm²",
                where_mm=_middle(pull),
                subject=pull.pull.id,
                mends=(Mend(kind="remove_pull", target=pull.pull.id),),
            )


def _middle(pull: PlacedPull) -> Point:
    return float(pull.area.centroid.x), float(pull.area.centroid.y)


@memo(rows=4096)
def _beside(pull: PlacedPull, pocket: Pocket) -> float:
    """Return the area in mm² that the smallest part of a pull opens beside a pocket."""
    return min(float(part.difference(pocket.surface).area) for part in pull.parts)
