"""How far each stage of the work is: untouched, under way or fine, worked out from the plan and never ticked."""

from __future__ import annotations

from typing import Literal

from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.findings.telling import kind_of
from cozy_burrow.core.model.records import Project, Record
from cozy_burrow.core.model.stages import STAGES, Stage

State = Literal["untouched", "under way", "fine"]


class Progress(Record, frozen=True, kw_only=True):
    """One stage: its state, and how many findings of weight belong to it."""

    stage: Stage
    state: State
    stops: int
    cares: int


def stage_of(finding: Finding) -> Stage:
    """Return the stage where a finding is mended."""
    return kind_of(finding).stage


def progress(project: Project, findings: tuple[Finding, ...]) -> tuple[Progress, ...]:
    """Return how far each stage is."""
    laid = any(insert.placements for insert in project.inserts)
    measured = project.containers != Project().containers
    found: list[Progress] = []
    for stage in STAGES:
        stops = sum(1 for one in findings if one.severity == "stop" and (stage == "cut" or stage_of(one) == stage))
        cares = sum(1 for one in findings if one.severity == "care" and stage_of(one) == stage)
        called = bool(project.roll_calls)
        begun = {"gather": bool(project.items), "measure": bool(project.items) or measured, "keep": called}.get(
            stage, laid
        )
        if not begun:
            state: State = "untouched"
        elif stops or (stage == "grip" and cares) or (stage == "keep" and not _all_home(project)):
            state = "under way"
        else:
            state = "fine"
        found.append(Progress(stage=stage, state=state, stops=stops, cares=cares))
    return tuple(found)


def _all_home(project: Project) -> bool:
    """Whether everything was in its place at the last roll call of every insert that had one."""
    last = {call.insert_id: call for call in project.roll_calls}
    return not any(last[insert.id].absent for insert in project.inserts if insert.id in last)
