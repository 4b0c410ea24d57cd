"""Cut: sheet and layer left, the empty foam in the middle, the cuts in order below."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QWidget

from cozy_burrow.app.desk.bench_desk import BenchDesk
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
        self.bench = BenchDesk(house.settings, house.plan)
        self.bench.refused.connect(house.workspace.said.emit)
        self.panel = CutPanel(house.workspace, self.bench)
        self.panel.bench_wanted.connect(self.to_bench)
        self.panel.tools_wanted.connect(self.ask_tools)
        self.panel.price_wanted.connect(self.ask_price)
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

    def to_bench(self) -> None:
        """Cut the sheet that is shown, line by line."""
        from cozy_burrow.app.screens.cut.bench_mode import BenchMode

        house = self.house
        house.show_stage("cut")
        self.panel.follow()
        there = [one for one in self.panel.window().findChildren(BenchMode) if one.isVisible()]
        if there or not self.panel.bench_button.isEnabled():
            return
        mode = BenchMode(
            house.workspace,
            self.bench,
            self.panel.sheet_number,
            house.theme(),
            self.panel.window(),
            stores=house.stores.stores,
        )
        mode.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        house.dressing.add(mode)
        mode.showFullScreen()

    def ask_tools(self) -> None:
        """Ask what the fitter owns."""
        from cozy_burrow.app.screens.cut.tools_card import ToolsCard

        self.house.dressing.show_card(ToolsCard(self.bench, self.house.workspace.unit, self.panel.window()))

    def ask_price(self) -> None:
        """Ask what work costs, and say what the job comes to."""
        from cozy_burrow.app.screens.cut.price_card import PriceCard

        house = self.house
        card = PriceCard(house.workspace, house.stores, house.desk.workshop, self.panel.window())
        self.bench.changed.connect(card.ask)
        house.dressing.show_card(card)

    def _show_layer(self, layer: int) -> None:
        if self.house.stage() == self.stage:
            self.house.plan.show_layer(layer)


SCREEN = CutScreen
