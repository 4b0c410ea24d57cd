"""Measure: pages left; in the middle the plan, or the scene of the page that is turned to."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QWidget

from cozy_burrow.app.frame.house import House
from cozy_burrow.app.frame.screen import Screen
from cozy_burrow.app.scene.layer import PlanLayer
from cozy_burrow.app.screens.measure.measure_panel import MeasurePanel
from cozy_burrow.app.screens.measure.on_plan import MeasureLayer
from cozy_burrow.app.screens.measure.pages import PageName

if TYPE_CHECKING:
    from cozy_burrow.app.screens.measure.boards_view import BoardsView
    from cozy_burrow.app.screens.measure.carry_page import CarryView
    from cozy_burrow.app.screens.measure.shopping_table import ShoppingTable
    from cozy_burrow.app.screens.measure.stack_view import StackView
    from cozy_burrow.app.screens.measure.survey_canvas import SurveyCanvas

_WIDE_PAGES = {"Survey", "Foam", "Sheets", "Carry"}  # their scenes take the room of the section too


class MeasureScreen(Screen):
    """Scenes are made when first asked for, each wired to its page."""

    stage = "measure"

    def __init__(self, house: House) -> None:
        super().__init__(house)
        self.panel = MeasurePanel(house.workspace, house.stores, house.dressing)
        self.panel.turned.connect(lambda _: self._turn())
        self._layer = MeasureLayer(house.workspace)

    def _turn(self) -> None:
        if self.house.stage() == "measure":
            self.house.show_stage("measure")

    @cached_property
    def survey_canvas(self) -> SurveyCanvas:
        """The survey drawn to scale."""
        from cozy_burrow.app.screens.measure.survey_canvas import SurveyCanvas
        from cozy_burrow.app.screens.measure.survey_heard import hear_survey

        house, page = self.house, self.panel.survey
        canvas = SurveyCanvas(house.workspace, house.theme(), house.scale)
        page.pair_shown.connect(canvas.show_pair)
        canvas.pair_chosen.connect(page.choose_pair)
        canvas.corner_moved.connect(page.move_corner)
        hear_survey(canvas, house.workspace)
        return canvas

    @cached_property
    def stack_view(self) -> StackView:
        """Stacks of foam side by side."""
        from cozy_burrow.app.screens.measure.stack_view import StackView

        house, page = self.house, self.panel.foam
        view = StackView(house.workspace, house.theme(), house.scale)
        page.found.connect(lambda ranked: view.show_stacks(ranked, house.stores.stores.currency))
        view.used.connect(page.use_stack)
        view.show_stacks(page.ranked, house.stores.stores.currency)
        return view

    @cached_property
    def boards_view(self) -> BoardsView:
        """Boards as they are cut."""
        from cozy_burrow.app.screens.measure.boards_view import BoardsView

        house, page = self.house, self.panel.sheets
        view = BoardsView(house.workspace, house.theme(), house.scale)
        page.planned.connect(view.show_purchase)
        view.show_purchase(page.purchase)
        return view

    @cached_property
    def shopping(self) -> ShoppingTable:
        """What is to be bought."""
        from cozy_burrow.app.screens.measure.shopping_table import ShoppingTable

        page = self.panel.sheets
        table = ShoppingTable(self.house.workspace, self.house.stores)
        page.planned.connect(table.show_purchase)
        table.show_purchase(page.purchase)
        return table

    @cached_property
    def carry_view(self) -> CarryView:
        """The container hanging from its handle."""
        from cozy_burrow.app.screens.measure.carry_page import CarryView

        return CarryView(self.house.workspace, self.house.theme(), self.house.scale)

    @property
    def left(self) -> QWidget:
        """The pages."""
        return self.panel

    @property
    def middle(self) -> QWidget:
        """The scene of the page, or the plan."""
        match self.panel.page:
            case "Survey":
                return self.survey_canvas
            case "Foam":
                return self.stack_view
            case "Sheets":
                return self.boards_view
            case "Carry":
                return self.carry_view
            case "Inside" | "Rules":
                return self.house.plan

    @property
    def below(self) -> QWidget | None:
        """The section, unless the scene takes its room; below the boards, what is to be bought."""
        if self.panel.page == "Sheets":
            return self.shopping
        return None if self.panel.page in _WIDE_PAGES else self.house.section

    @property
    def layer(self) -> PlanLayer:
        """Measures of the inside."""
        return self._layer

    def show_page(self, name: PageName) -> None:
        """Go to a page of Measure."""
        self.house.show_stage("measure")
        self.panel.show_page(name)


SCREEN = MeasureScreen
