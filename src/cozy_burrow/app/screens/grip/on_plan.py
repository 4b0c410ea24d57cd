"""The plan at Grip: pulls with their verdicts, or foam that is too thin, or how firmly each item is held."""

from __future__ import annotations

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.scene.handling import Handling
from cozy_burrow.app.scene.layer import ItemsLayer
from cozy_burrow.app.scene.overlay import Overlay
from cozy_burrow.app.screens.grip import overlay_grips


class GripLayer(ItemsLayer):
    """`over` is what is looked at: pulls, walls or hold."""

    tool_alpha = 0.55
    shows_gaps = True
    takes_pulls = True

    def __init__(self, workspace: Workspace, handling: Handling) -> None:
        super().__init__(workspace, handling)
        self.over = "pulls"

    def show_over(self, name: str) -> None:
        """Choose what is looked at."""
        self.over = name
        self.changed.emit()

    def paint_under(self, overlay: Overlay) -> None:
        """Paint thin foam."""
        if self.over == "walls":
            overlay_grips.thin_walls(overlay, self.workspace.ground, self.workspace.unit)

    def paint_over(self, overlay: Overlay) -> None:
        """Paint verdicts or forces."""
        if self.over != "walls":
            overlay_grips.grips(overlay, self.workspace.ground, self.workspace, hold=self.over == "hold")
