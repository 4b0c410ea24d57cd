"""The section line: laid along a thing or across it, turned about it, moved."""

from __future__ import annotations

import math

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.core.geometry.axes import long_axis_deg
from cozy_burrow.core.geometry.placing import to_plan
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.ground.section import section_line
from cozy_burrow.core.model.edits import change_insert, placement_of
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.tongue import tr


def section_along(workspace: Workspace, *, across: bool) -> None:
    """Lay the section line through the selected thing, along its long axis or across it, from edge to edge."""
    workspace.do(tr("Move the section"), _section_at(workspace, 90.0 if across else 0.0))


def turn_section(workspace: Workspace, by_deg: float) -> None:
    """Turn the section line about the middle of the selected thing, as on a turntable."""
    (x0, y0), (x1, y1) = section_line(workspace.ground)
    placement = placement_of(workspace.insert, workspace.selection[0])
    outline = polygon_of(workspace.ground.pockets[placement.id].item.outline)
    now_deg = math.degrees(math.atan2(y1 - y0, x1 - x0)) - long_axis_deg(outline) - placement.angle_deg
    turn_section_to(workspace, now_deg + by_deg)


def turn_section_to(workspace: Workspace, angle_deg: float) -> None:
    """Lay the section line through the selected thing at an angle to its long axis; a row of turns is one step."""
    workspace.do(tr("Rotate the section"), _section_at(workspace, round(angle_deg, 1)), in_gesture=True)


def _section_at(workspace: Workspace, angle_deg: float) -> Project:
    placement = placement_of(workspace.insert, workspace.selection[0])
    outline = polygon_of(workspace.ground.pockets[placement.id].item.outline)
    middle = to_plan(placement, (outline.centroid.x, outline.centroid.y))
    angle = math.radians(long_axis_deg(outline) + placement.angle_deg + angle_deg)
    cos, sin = math.cos(angle), math.sin(angle)
    if cos < -1e-9 or (abs(cos) <= 1e-9 and sin < 0):
        cos, sin = -cos, -sin
    left, top, right, bottom = workspace.ground.blank.bounds

    def reach(sign: float) -> float:
        spans = []
        for step, low, high, at in ((sign * cos, left, right, middle[0]), (sign * sin, top, bottom, middle[1])):
            if abs(step) > 1e-9:
                spans.append(((high if step > 0 else low) - at) / step)
        return max(5.0, min(spans) + 8.0)

    back, ahead = reach(-1.0), reach(1.0)
    line = (
        (round(middle[0] - back * cos, 1), round(middle[1] - back * sin, 1)),
        (round(middle[0] + ahead * cos, 1), round(middle[1] + ahead * sin, 1)),
    )
    return change_insert(workspace.project, workspace.insert_id, section_line=line)


def shift_section(workspace: Workspace, by_mm: float) -> None:
    """Move the section line to the front, or to the back."""
    (x0, y0), (x1, y1) = section_line(workspace.ground)
    line = ((x0, y0 + by_mm), (x1, y1 + by_mm))
    workspace.do(
        tr("Move the section"),
        change_insert(workspace.project, workspace.insert_id, section_line=line),
        in_gesture=True,
    )
