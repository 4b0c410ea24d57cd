"""How far each stage of the work is: untouched, under way or fine, worked out from the plan and never ticked."""

from __future__ import annotations

from typing import Literal

from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.model.records import Project, Record

Stage = Literal["gather", "measure", "lay-out", "sink", "grip", "cut"]
State = Literal["untouched", "under way", "fine"]
STAGES: tuple[Stage, ...] = ("gather", "measure", "lay-out", "sink", "grip", "cut")

_STAGE_OF: dict[str, Stage] = {
    "UNPLACED": "lay-out",
    "POCKETS_MEET": "lay-out",
    "THIN_WALL": "lay-out",
    "WALL_THIN_FOR_DEPTH": "lay-out",
    "THIN_EDGE": "lay-out",
    "OUTSIDE_BLANK": "lay-out",
    "FLOOR_GONE": "sink",
    "TOO_HIGH": "sink",
    "HELD_UP": "sink",
    "SEAT_COSTS": "sink",
    "LIES_ASKEW": "sink",
    "UNDER": "sink",
    "STRIKES": "sink",
    "LOOSE": "grip",
    "TOO_TIGHT": "grip",
    "CAPTIVE": "grip",
    "SQUEEZED": "grip",
    "ROCKS": "sink",
    "STACK_TOO_HIGH": "measure",
    "NO_GRIP": "grip",
    "GRIP_POOR": "grip",
    "PULL_SMALL": "grip",
    "PULL_ASTRAY": "grip",
    "SLIVER": "grip",
    "SLIT": "cut",
    "SURVEY_BROKEN": "measure",
    "SURVEY_SHORT": "measure",
    "SURVEY_UNSURE": "measure",
    "TAPE_AGAIN": "measure",
    "DRAFT_CLOSES": "measure",
    "TIER_STUCK": "measure",
    "LIP_CREASES": "measure",
    "NO_STRAPS": "measure",
    "ON_FIXING": "lay-out",
    "IN_SPARE": "lay-out",
    "HEAVY": "measure",
    "HANGS_ASKEW": "lay-out",
}


class Progress(Record, frozen=True, kw_only=True):
    """One stage: its state, and how many findings of weight belong to it."""

    stage: Stage
    state: State
    stops: int
    cares: int


def stage_of(finding: Finding) -> Stage:
    """Return the stage where a finding is mended."""
    return _STAGE_OF[finding.code]


def progress(project: Project, findings: tuple[Finding, ...]) -> tuple[Progress, ...]:
    """Return how far each stage is."""
    laid = any(insert.placements for insert in project.inserts)
    measured = project.containers != Project().containers
    found: list[Progress] = []
    for stage in STAGES:
        stops = sum(1 for one in findings if one.severity == "stop" and (stage == "cut" or stage_of(one) == stage))
        cares = sum(1 for one in findings if one.severity == "care" and stage_of(one) == stage)
        begun = {"gather": bool(project.items), "measure": bool(project.items) or measured}.get(stage, laid)
        if not begun:
            state: State = "untouched"
        elif stops or (stage == "grip" and cares):
            state = "under way"
        else:
            state = "fine"
        found.append(Progress(stage=stage, state=state, stops=stops, cares=cares))
    return tuple(found)
