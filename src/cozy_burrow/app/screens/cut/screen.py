"""Cut: sheet and layer left, the empty foam in the middle, the cuts in order below."""

from __future__ import annotations

from PySide6.QtWidgets import QWidget

from cozy_burrow.app.frame.hint import hint
from cozy_burrow.app.frame.house import House
from cozy_burrow.app.frame.screen import Screen
from cozy_burrow.app.scene.layer import PlanLayer
from cozy_burrow.app.screens.cut.cut_panel import CutPanel
from cozy_burrow.app.screens.cut.on_plan import CutLayer
from cozy_burrow.core.tongue import tr


class CutScreen(Screen):
    """What is cut."""

    stage = "cut"

    def __init__(self, house: House) -> None:
        super().__init__(house)
        self._layer = CutLayer(house.workspace, house.plan.handling)
        self.panel = CutPanel(house.workspace)
        self.panel.layer_shown.connect(self._show_layer)
        self.panel.cuts_shown.connect(self._layer.show_cuts)
        self.panel.export_wanted.connect(house.desk.ask_export)
        self.panel.print_wanted.connect(lambda: house.command("project.print"))

    @property
    def left(self) -> QWidget:
        """Sheet and layer."""
        return self.panel

    @property
    def below(self) -> QWidget:
        """The cuts."""
        return self.panel.view

    @property
    def layer(self) -> PlanLayer:
        """Numbers of the cuts."""
        return self._layer

    def entered(self) -> None:
        """The foam is peeled as far as it was."""
        self.panel.peel()
        hint(
            "write",
            self.panel.export_button,
            tr("Done with the plan? Templates at 1:1, the order of the cuts and labels come from here."),
            self.house.settings,
            self.house.dressing,
        )

    def _show_layer(self, layer: int) -> None:
        if self.house.stage() == self.stage:
            self.house.plan.show_layer(layer)


SCREEN = CutScreen
