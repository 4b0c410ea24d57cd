"""The plan at Lay out: the picture of a wish, or a layout that a search has found and nobody has taken yet."""

from __future__ import annotations

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.scene.handling import Handling
from cozy_burrow.app.scene.layer import ItemsLayer
from cozy_burrow.app.scene.overlay import Overlay
from cozy_burrow.core.arrange.wishes import Wish
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.ground.ground import Ground


class LayOutLayer(ItemsLayer):
    """Gaps round the selection, a wish, a ghost."""

    def __init__(self, workspace: Workspace, handling: Handling) -> None:
        super().__init__(workspace, handling)
        self.wish: Wish | None = None
        self.ghost: Ground | None = None

    @property
    def shows_gaps(self) -> bool:  # type: ignore[override]
        """A wish's picture says enough."""
        return self.wish is None

    @property
    def shows_names(self) -> bool:
        """A ghost and a wish have words of their own."""
        return super().shows_names and self.wish is None and self.ghost is None

    def show_wish(self, wish: Wish | None) -> None:
        """Lay the picture of a wish over the plan; None takes it away."""
        self.wish = wish
        self.changed.emit()

    def show_ghost(self, ground: Ground | None) -> None:
        """Show a layout that is not taken yet over what lies there; None: no more."""
        if ground is not self.ghost:
            self.ghost = ground
            self.changed.emit()

    def paint(self, overlay: Overlay, pointed: Finding | None) -> None:
        """Paint the ghost alone while there is one and no hand is at work."""
        if self.ghost is None or self.hand.is_holding:
            super().paint(overlay, pointed)
            return
        self.paint_lines(overlay)
        overlay.ghost(self.ghost)

    def paint_under(self, overlay: Overlay) -> None:
        """Paint what the wish looks at."""
        if self.wish is not None:
            overlay.wish(self.wish)
