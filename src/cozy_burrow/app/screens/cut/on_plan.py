"""The plan at Cut: the numbers of the cuts, where the template bears them."""

from __future__ import annotations

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.scene.handling import Handling
from cozy_burrow.app.scene.layer import ItemsLayer
from cozy_burrow.app.scene.overlay import Overlay
from cozy_burrow.core.bench.cut import Cut


class CutLayer(ItemsLayer):
    """No items are seen here: the foam is empty."""

    tool_alpha = 0.0
    shows_section = False

    @property
    def shows_names(self) -> bool:
        """The numbers of the cuts are enough to read."""
        return False

    def __init__(self, workspace: Workspace, handling: Handling) -> None:
        super().__init__(workspace, handling)
        self.cuts: tuple[Cut, ...] = ()

    def show_cuts(self, cuts: tuple[Cut, ...]) -> None:
        """Number these cuts."""
        self.cuts = cuts
        self.changed.emit()

    def paint_last(self, overlay: Overlay) -> None:
        """Paint the numbers; those of the selection are filled."""
        selected = set(self.workspace.selection)
        for cut in self.cuts:
            overlay.number(str(cut.number), cut.label_mm, chosen=bool(set(cut.owners) & selected))
