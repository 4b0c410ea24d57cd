"""Everything the program has to say about a plan, the weightiest first."""

from __future__ import annotations

from cozy_burrow.core.findings.finding import WEIGHT, Finding, Mend
from cozy_burrow.core.findings.grips import grip_findings
from cozy_burrow.core.findings.heights import height_findings
from cozy_burrow.core.findings.walls import sliver_findings, wall_findings
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.model.edits import placement_id, unplaced
from cozy_burrow.core.model.records import Project


def insert_findings(ground: Ground) -> tuple[Finding, ...]:
    """Return the findings of one insert, the weightiest first."""
    found = [
        *wall_findings(ground),
        *height_findings(ground),
        *grip_findings(ground),
        *sliver_findings(ground),
    ]
    return tuple(sorted(found, key=_order))


def findings_of(project: Project) -> tuple[Finding, ...]:
    """Return all findings of a project: of its inserts, and of what lies in none."""
    found = [finding for insert in project.inserts for finding in insert_findings(ground_of(project, insert))]
    for item, copy in unplaced(project):
        key = placement_id(item.id, copy)
        found.append(
            Finding(
                severity="stop",
                code="UNPLACED",
                placements=(key,),
                value=0.0,
                limit=1.0,
                unit="",
                mends=(Mend(kind="lay_in", target=key),),
            )
        )
    return tuple(sorted(found, key=_order))


def _order(finding: Finding) -> tuple[int, str, float, tuple[str, ...]]:
    short = finding.value - finding.limit if finding.code == "TOO_HIGH" else finding.limit - finding.value
    return WEIGHT[finding.severity], finding.code, -short, finding.placements
