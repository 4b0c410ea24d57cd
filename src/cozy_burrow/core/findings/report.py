"""Everything the program has to say about a plan, the weightiest first."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator

from cozy_burrow.core.container.bay import bay_of
from cozy_burrow.core.depth.seated import placed_pocket
from cozy_burrow.core.findings.finding import WEIGHT, Finding
from cozy_burrow.core.findings.floppy import floppy_findings
from cozy_burrow.core.findings.gluing import gluing_findings
from cozy_burrow.core.findings.grips import grip_findings
from cozy_burrow.core.findings.heights import height_findings
from cozy_burrow.core.findings.holds import hold_findings, strike_findings
from cozy_burrow.core.findings.kinds import KINDS, kind
from cozy_burrow.core.findings.mend_kinds import LAY_IN, LAY_UNDER
from cozy_burrow.core.findings.seats import seat_findings
from cozy_burrow.core.findings.showing import showing_findings
from cozy_burrow.core.findings.sits import sitting_findings
from cozy_burrow.core.findings.slits import slit_findings
from cozy_burrow.core.findings.vessels import container_findings, fixing_findings
from cozy_burrow.core.findings.walls import sliver_findings, spare_findings, wall_findings
from cozy_burrow.core.ground.grips import grip_of
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.ground.sits import sitting_in
from cozy_burrow.core.model.edits import placement_id, unplaced
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.relief.emptiness import shown_of
from cozy_burrow.core.tongue import tr, trn

_JUDGES: tuple[Callable[[Ground], Iterable[Finding]], ...] = (
    wall_findings,
    height_findings,
    seat_findings,
    sitting_findings,
    grip_findings,
    hold_findings,
    strike_findings,
    sliver_findings,
    slit_findings,
    floppy_findings,
    showing_findings,
    fixing_findings,
    spare_findings,
    gluing_findings,
)
MOST_NAMED = 3  # things without a place that get a finding each


UNPLACED = kind(
    "UNPLACED",
    tr("Not placed yet"),
    tr("What has no place goes missing without anyone noticing."),
    stage="lay-out",
    against="unsaid",
    says=lambda one: trn(
        "{who} is not placed yet.", "{who} are not placed yet.", len(one.finding.placements), who=one.who
    ),
)


@memo(rows=32)
def insert_findings(ground: Ground) -> tuple[Finding, ...]:
    """Return the findings of one insert, the weightiest first."""
    return tuple(sorted((finding for judge in _JUDGES for finding in judge(ground)), key=_order))


def findings_of(project: Project) -> tuple[Finding, ...]:
    """Return all findings of a project: of its inserts, and of what lies in none."""
    found = [finding for insert in project.inserts for finding in insert_findings(ground_of(project, insert))]
    for container in project.containers:
        if any(insert.container_id == container.id for insert in project.inserts):
            found += container_findings(project, container)
    missing = tuple(placement_id(item.id, copy) for item, copy in unplaced(project))
    # A kit that is not laid out yet is one thing to do, not forty.
    groups = (missing,) if len(missing) > MOST_NAMED else tuple((key,) for key in missing)
    for keys in groups:
        if keys:
            mends = tuple(one.at(keys[0]) for one in (LAY_IN, LAY_UNDER)) if len(keys) == 1 else ()
            found.append(
                Finding(
                    severity="stop",
                    code=UNPLACED.code,
                    placements=keys,
                    value=float(len(keys)),
                    limit=0.0,
                    unit="",
                    mends=mends,
                )
            )
    return tuple(sorted(found, key=_order))


def judging(project: Project, *, first: str = "") -> Iterator[None]:
    """Work out, a little at a time, what findings_of then finds again in the caches: so a window stays awake.

    first: the insert that is looked at comes before the others. A step is a few milliseconds; whoever stops
    half way has lost nothing but has judged nothing.
    """
    for insert in sorted(project.inserts, key=lambda one: one.id != first):
        bay = bay_of(project, insert)
        by_id = {item.id: item for item in project.items}
        for one in insert.placements:
            placed_pocket(by_id[one.item_id], one, bay, project.rules)
            yield
        ground = ground_of(project, insert)
        if insert_findings.knows(ground):
            continue
        for key in ground.pockets:
            sitting_in(ground, key)
            yield
            grip_of(ground, key)
            yield
            shown_of(ground, key)
            yield
        for judge in _JUDGES:
            for _ in judge(ground):
                pass
            yield
    for container in project.containers:
        if any(insert.container_id == container.id for insert in project.inserts):
            for _ in container_findings(project, container):
                pass
            yield


def _order(finding: Finding) -> tuple[int, str, float, tuple[str, ...], str]:
    short = finding.value - finding.limit if KINDS[finding.code].against == "above" else finding.limit - finding.value
    return WEIGHT[finding.severity], finding.code, -short, finding.placements, finding.subject
