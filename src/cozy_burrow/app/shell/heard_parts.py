"""What a screen reader finds on the plan and on the section: each item where it is, with what is wrong with it."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from PySide6.QtCore import QPointF, QRect, QRectF

from cozy_burrow.app.desk.selected import place_words
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.reader_parts import Part, ReaderParts
from cozy_burrow.app.scene.plan_view import PlanView
from cozy_burrow.app.section.section_view import SectionView
from cozy_burrow.core.findings.kinds import KINDS
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.tongue import tr, trn


def hear_plan(plan: PlanView, workspace: Workspace) -> ReaderParts:
    """Give every item of the plan, and every finger pull, a name and a place for a reader."""
    return ReaderParts(plan.viewport(), lambda: plan_parts(plan, workspace))


def hear_section(section: SectionView, workspace: Workspace) -> ReaderParts:
    """Give every item that the section shows a name and a place for a reader."""
    return ReaderParts(section, lambda: section_parts(section, workspace))


def plan_parts(plan: PlanView, workspace: Workspace) -> Sequence[Part]:
    """Return the items of the plan as they lie, then the pulls."""
    ground, project = workspace.ground, workspace.project
    found = []
    for key, pocket in ground.pockets.items():
        said = [place_words(workspace, key)]
        layers = pocket.depth_layers
        said.append(trn("{count} layer deep", "{count} layers deep", layers))
        said += [KINDS[one.code].title for one in workspace.findings_seen if key in one.placements]
        found.append(
            Part(
                key=key,
                name=placement_name(project, key),
                about=", ".join(said),
                where=_on(plan, pocket.surface.bounds),
                is_chosen=key in workspace.selection,
                choose=partial(workspace.select, (key,)),
            )
        )
    for pull in ground.pulls:
        names = ", ".join(f"‘{placement_name(project, key)}’" for key in pull.pull.serves)
        found.append(
            Part(
                key=f"pull {pull.pull.id}",
                name=tr("Finger pull of {names}", names=names),
                about=trn("{count} layer deep", "{count} layers deep", pull.layers),
                where=_on(plan, pull.area.bounds),
                is_chosen=False,
                choose=partial(workspace.select, tuple(pull.pull.serves)),
            )
        )
    return found


def _on(plan: PlanView, bounds: tuple[float, float, float, float]) -> QRect:
    left, top, right, bottom = bounds
    shown = plan.viewportTransform().mapRect(QRectF(QPointF(left, top), QPointF(right, bottom)))
    return shown.toAlignedRect()


def section_parts(section: SectionView, workspace: Workspace) -> Sequence[Part]:
    """Return the items that the line crosses, from left to right: a part of each with its own thickness is one."""
    frame, cut = section.frame(), section.cut
    found = []
    for body in sorted(cut.bodies, key=lambda one: one.span):
        heights = [z for _, z in body.ring]
        found.append(
            Part(
                key=f"{body.placement} {body.zone}",
                name=placement_name(workspace.project, body.placement),
                about=trn(
                    "{count} layer taken out, it lies from {low} to {high} below the surface",
                    "{count} layers taken out, it lies from {low} to {high} below the surface",
                    body.floor_layers,
                    low=workspace.length(min(heights)),
                    high=workspace.length(max(heights)),
                ),
                where=frame.rect(body.span[0], min(heights), body.span[1], max(heights)).toAlignedRect(),
                is_chosen=body.placement in workspace.selection and body.zone == workspace.zone,
                choose=partial(_choose, workspace, body.placement, body.zone),
            )
        )
    return found


def _choose(workspace: Workspace, key: str, zone: int) -> None:
    workspace.select((key,))
    workspace.zone = zone
