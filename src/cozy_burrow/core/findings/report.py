"""Everything the program has to say about a plan, the weightiest first."""

from __future__ import annotations

from cozy_burrow.core.findings.finding import WEIGHT, Finding, Mend
from cozy_burrow.core.findings.grips import grip_findings
from cozy_burrow.core.findings.heights import height_findings
from cozy_burrow.core.findings.holds import hold_findings, strike_findings
from cozy_burrow.core.findings.sits import sitting_findings
from cozy_burrow.core.findings.vessels import container_findings, fixing_findings
from cozy_burrow.core.findings.walls import sliver_findings, spare_findings, wall_findings
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.model.edits import placement_id, unplaced
from cozy_burrow.core.model.records import Project

MOST_NAMED = 3  # things without a place that get a finding each


def insert_findings(ground: Ground) -> tuple[Finding, ...]:
    """Return the findings of one insert, the weightiest first."""
    found = [
        *wall_findings(ground),
        *height_findings(ground),
        *sitting_findings(ground),
        *grip_findings(ground),
        *hold_findings(ground),
        *strike_findings(ground),
        *sliver_findings(ground),
        *fixing_findings(ground),
        *spare_findings(ground),
    ]
    return tuple(sorted(found, key=_order))


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
            mends = tuple(Mend(kind=kind, target=keys[0]) for kind in ("lay_in", "lay_under")) if len(keys) == 1 else ()
            found.append(
                Finding(
                    severity="stop",
                    code="UNPLACED",
                    placements=keys,
                    value=float(len(keys)),
                    limit=0.0,
                    unit="",
                    mends=mends,
                )
            )
    return tuple(sorted(found, key=_order))


def _order(finding: Finding) -> tuple[int, str, float, tuple[str, ...], str]:
    short = finding.value - finding.limit if finding.code == "TOO_HIGH" else finding.limit - finding.value
    return WEIGHT[finding.severity], finding.code, -short, finding.placements, finding.subject
