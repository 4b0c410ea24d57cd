"""The answer of `plan` and `check` as one JSON object."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.findings.grips import NO_GRIP
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.findings.telling import finding_text
from cozy_burrow.core.ground.arranging import LeftOver
from cozy_burrow.core.ground.gripping import could_grip
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.model.edits import item_of, unplaced
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.wish_words import too_long

_NOT_YET = (tr("it lies in no insert yet"), "no_time")  # nobody has looked for a place for it


def report(project: Project, *, seconds: float, left_over: tuple[LeftOver, ...] = ()) -> dict[str, Any]:
    """Return what lies where and everything found, in the form that the command line's contract gives."""
    kind = project.containers[0].kind
    why = {(one.item_id, one.copy): (_why(one, kind), one.why) for one in left_over}
    laid = [
        {"name": item_of(project, one.item_id).name, "copy": one.copy}
        for insert in project.inserts
        for one in insert.placements
    ]
    missing = [
        {"name": item.name, "copy": copy} | dict(zip(("why", "code"), why.get((item.id, copy), _NOT_YET)))
        for item, copy in unplaced(project)
    ]
    findings = findings_of(project)
    why_no_grip = _why_no_grip(project, findings)
    return {
        "placed": laid,
        "unplaced": missing,
        "used_area_mm2": round(sum(ground_of(project, one).taken_out(1).area for one in project.inserts), 1),
        "insert_area_mm2": round(sum(ground_of(project, one).blank.area for one in project.inserts), 1),
        "seconds": round(seconds, 2),
        "findings": [as_plain(project, finding, why_no_grip) for finding in findings],
    }


def must_be_mended(answer: dict[str, Any]) -> bool:
    """Return whether something is unplaced or a stop is there."""
    return bool(answer["unplaced"]) or any(one["severity"] == "stop" for one in answer["findings"])


def _why(one: LeftOver, kind: str) -> str:
    if one.why == "too_large":
        return too_long(one, "mm", where=kind)
    if one.why == "no_time":
        return tr("not tried for lack of time; give the search more with --seconds")
    return tr("no room left that keeps walls and edges")


def _why_no_grip(project: Project, findings: Sequence[Finding]) -> dict[str, str]:
    """Return why things have no finger pull, by placement: worked out here and not at every step of a drag."""
    without = {finding.placements[0] for finding in findings if finding.code == NO_GRIP.code}
    why: dict[str, str] = {}
    for insert in project.inserts:
        here = [one.id for one in insert.placements if one.id in without]
        for key, could in could_grip(project, insert.id, here).items() if here else ():
            why[key] = (
                tr(" There is room for one: none was asked for.")
                if could
                else tr(" There is no room beside it for one that keeps walls and edge.")
            )
    return why


def as_plain(project: Project, finding: Finding, why_no_grip: Mapping[str, str] | None = None) -> dict[str, Any]:
    """Return a finding in the form that the command line's contract gives."""
    return {
        "severity": finding.severity,
        "code": finding.code,
        "items": [placement_name(project, key) for key in finding.placements],
        "text": finding_text(project, finding)
        + ((why_no_grip or {}).get(finding.placements[0], "") if finding.code == NO_GRIP.code else ""),
        "value": round(finding.value, 3),
        "limit": round(finding.limit, 3),
        "unit": finding.unit,
        "where_mm": None if finding.where_mm is None else [round(v, 2) for v in finding.where_mm],
    }
