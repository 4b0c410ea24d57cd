"""Grip: finger pulls left, the plan in the middle, the section below."""

from __future__ import annotations

from PySide6.QtWidgets import QWidget

from cozy_burrow.app.frame.house import House
from cozy_burrow.app.frame.screen import Screen
from cozy_burrow.app.scene.layer import PlanLayer
from cozy_burrow.app.screens.grip.grip_panel import GripPanel
from cozy_burrow.app.screens.grip.on_plan import GripLayer


class GripScreen(Screen):
    """How items come out again."""

    stage = "grip"
    is_deep = True

    def __init__(self, house: House) -> None:
        super().__init__(house)
        self.panel = GripPanel(house.workspace, house.stores)
        self._layer = GripLayer(house.workspace, house.plan.handling)
        self.panel.over_chosen.connect(self._layer.show_over)

    @property
    def left(self) -> QWidget:
        """The pulls."""
        return self.panel

    @property
    def layer(self) -> PlanLayer:
        """Verdicts, thin foam or hold."""
        return self._layer


SCREEN = GripScreen
