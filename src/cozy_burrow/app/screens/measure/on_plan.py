"""The plan at Measure: the inside with its measures, walls that can be pulled, obstacles that can be carried."""

from __future__ import annotations

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.scene.layer import PlanLayer
from cozy_burrow.app.scene.overlay import Overlay
from cozy_burrow.app.screens.measure.box_handling import BoxHandling
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.tongue import tr

_OUT_MM = 18.0  # how far a measure stands from what it measures
_FAR_OUT_MM = 34.0


class MeasureLayer(PlanLayer):
    """Measures of the inside and of the blank, and where they can be taken hold of."""

    tool_alpha = 0.35
    margin_mm = 40.0
    reach_px = 12.0

    def __init__(self, workspace: Workspace) -> None:
        self.box_hand = BoxHandling(workspace)
        super().__init__(workspace, self.box_hand)

    def paint(self, overlay: Overlay, pointed: Finding | None) -> None:
        """Paint floor, handle, measures and grips."""
        box, ground = self.workspace.container, self.workspace.ground
        width, depth = box.width_mm, box.depth_mm
        left, top, right, bottom = ground.blank.bounds if not ground.blank.is_empty else (0, 0, width, depth)
        length = self.workspace.length
        overlay.floor_line(box)
        overlay.handle(box)
        overlay.measure((0.0, -_OUT_MM), (width, -_OUT_MM), tr("inside {width}", width=length(width)))
        overlay.measure((-_FAR_OUT_MM, 0.0), (-_FAR_OUT_MM, depth), tr("inside {depth}", depth=length(depth)))
        overlay.measure(
            (left, bottom + _OUT_MM), (right, bottom + _OUT_MM), tr("blank {right}", right=length(right - left))
        )
        overlay.measure(
            (right + _FAR_OUT_MM, top), (right + _FAR_OUT_MM, bottom), tr("blank {bottom}", bottom=length(bottom - top))
        )
        for at in self.box_hand.grips().values():
            overlay.grip(at)
