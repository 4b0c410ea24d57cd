"""Sink: seats and layers left, the plan or a picture a layer in the middle, the section below."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QWidget

from cozy_burrow.app.frame.house import House
from cozy_burrow.app.frame.screen import Screen
from cozy_burrow.app.scene.layer import PlanLayer
from cozy_burrow.app.screens.sink.on_plan import SinkLayer
from cozy_burrow.app.screens.sink.sink_panel import SinkPanel
from cozy_burrow.core.model.stages import Stage

if TYPE_CHECKING:
    from cozy_burrow.app.screens.sink.peel_view import PeelView


class SinkScreen(Screen):
    """Depths."""

    stage = "sink"
    is_deep = True

    def __init__(self, house: House) -> None:
        super().__init__(house)
        self.panel = SinkPanel(house.workspace)
        self.panel.lid_raised.connect(house.section.raise_lid)
        self.panel.peel_wanted.connect(lambda _: house.show_stage("sink"))
        self._layer = SinkLayer(house.workspace, house.plan.handling)

    @cached_property
    def peel(self) -> PeelView:
        """A picture a layer."""
        from cozy_burrow.app.screens.sink.peel_view import PeelView

        return PeelView(self.house.workspace, self.house.theme(), self.house.scale)

    @property
    def left(self) -> QWidget:
        """Seats, layers, lid."""
        return self.panel

    @property
    def middle(self) -> QWidget:
        """The plan, or a picture a layer."""
        return self.peel if self.panel.peel_button.isChecked() else self.house.plan

    @property
    def layer(self) -> PlanLayer:
        """Pale items."""
        return self._layer

    def left_for(self, stage: Stage) -> None:
        """The lid is up again."""
        self.panel.closing.glide.finish()
        self.house.section.raise_lid(0.0)

    def close_lid(self) -> None:
        """Go there and bring the lid down, or raise it."""
        self.house.show_stage("sink")
        self.panel.closing.toggle()

    def show_peel(self) -> None:
        """Go there and show a picture a layer, or the plan again."""
        self.house.show_stage("sink")
        self.panel.peel_button.toggle()


SCREEN = SinkScreen
