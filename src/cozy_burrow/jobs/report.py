"""The answer of `plan` and `check` as one JSON object."""

from __future__ import annotations

from typing import Any

from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.ground.arranging import LeftOver
from cozy_burrow.core.ground.fitting import fitting_pull
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.model.edits import item_of, unplaced
from cozy_burrow.core.model.records import Project
from cozy_burrow.jobs.wish_words import too_long
from cozy_burrow.jobs.wording import finding_text, placement_name

_NOT_YET = ("it lies in no insert yet", "no_time")  # nobody has looked for a place for it


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
    return {
        "placed": laid,
        "unplaced": missing,
        "used_area_mm2": round(sum(ground_of(project, one).taken_out(1).area for one in project.inserts), 1),
        "insert_area_mm2": round(sum(ground_of(project, one).blank.area for one in project.inserts), 1),
        "seconds": round(seconds, 2),
        "findings": [_plain(project, finding) for finding in findings],
    }


def must_be_mended(answer: dict[str, Any]) -> bool:
    """Return whether something is unplaced or a stop is there."""
    return bool(answer["unplaced"]) or any(one["severity"] == "stop" for one in answer["findings"])


def _why(one: LeftOver, kind: str) -> str:
    if one.why == "too_large":
        return too_long(one, "mm", where=kind)
    if one.why == "no_time":
        return "not tried for lack of time; give the search more with --seconds"
    return "no room left that keeps walls and edges"


def _why_no_grip(project: Project, finding: Finding) -> str:
    """Return why a thing has no finger pull: worked out here and not at every step of a drag."""
    if finding.code != "NO_GRIP":
        return ""
    key = finding.placements[0]
    insert = next(one for one in project.inserts if any(here.id == key for here in one.placements))
    if fitting_pull(project, insert, key) is None:
        return " There is no room beside it for one that keeps walls and edge."
    return " There is room for one: none was asked for."


def _plain(project: Project, finding: Finding) -> dict[str, Any]:
    return {
        "severity": finding.severity,
        "code": finding.code,
        "items": [placement_name(project, key) for key in finding.placements],
        "text": finding_text(project, finding) + _why_no_grip(project, finding),
        "value": round(finding.value, 3),
        "limit": round(finding.limit, 3),
        "unit": finding.unit,
        "where_mm": None if finding.where_mm is None else [round(v, 2) for v in finding.where_mm],
    }
