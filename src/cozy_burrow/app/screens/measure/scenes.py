"""What the middle of the window shows at Measure: the plan, or a scene made for the page that is turned to."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QMainWindow, QWidget

from cozy_burrow.app.desk.stores_desk import StoresDesk
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.theme.dressing import Pages
from cozy_burrow.app.look.theme.theme import Theme
from cozy_burrow.app.screens.measure.pages import PageName

if TYPE_CHECKING:
    from cozy_burrow.app.screens.measure.boards_view import BoardsView
    from cozy_burrow.app.screens.measure.carry_page import CarryView
    from cozy_burrow.app.screens.measure.measure_panel import MeasurePanel
    from cozy_burrow.app.screens.measure.stack_view import StackView
    from cozy_burrow.app.screens.measure.survey_canvas import SurveyCanvas

WIDE_PAGES = {"Survey", "Foam", "Sheets", "Carry"}  # their scenes take the room of the section too
SCENES = ("survey_canvas", "stack_view", "boards_view", "carry_view")


class MeasureScenes(QMainWindow):
    """Scenes are made when first asked for, each wired to its page."""

    workspace: Workspace
    stores: StoresDesk
    type_scale: float
    stage: str
    _theme: Theme
    above: Pages

    @cached_property
    def survey_canvas(self) -> SurveyCanvas:
        """The survey drawn to scale, in the middle while it is worked on."""
        from cozy_burrow.app.screens.measure.survey_canvas import SurveyCanvas

        canvas, page = SurveyCanvas(self.workspace, self._theme, self.type_scale), self.measure.survey
        page.pair_shown.connect(canvas.show_pair)
        canvas.pair_chosen.connect(page.choose_pair)
        canvas.corner_moved.connect(page.move_corner)
        self.above.addWidget(canvas)
        return canvas

    @cached_property
    def stack_view(self) -> StackView:
        """Stacks side by side, in the middle while foam is chosen."""
        from cozy_burrow.app.screens.measure.stack_view import StackView

        view, page = StackView(self.workspace, self._theme, self.type_scale), self.measure.foam
        page.found.connect(lambda ranked: view.show_stacks(ranked, self.stores.stores.currency))
        view.used.connect(page.use_stack)
        view.show_stacks(page.ranked, self.stores.stores.currency)
        self.above.addWidget(view)
        return view

    @cached_property
    def boards_view(self) -> BoardsView:
        """Boards as they are cut, in the middle while sheets are bought."""
        from cozy_burrow.app.screens.measure.boards_view import BoardsView

        view, page = BoardsView(self.workspace, self._theme, self.type_scale), self.measure.sheets
        page.planned.connect(view.show_purchase)
        view.show_purchase(page.purchase)
        self.above.addWidget(view)
        return view

    @cached_property
    def carry_view(self) -> CarryView:
        """The container hanging from its handle."""
        from cozy_burrow.app.screens.measure.carry_page import CarryView

        view = CarryView(self.workspace, self._theme, self.type_scale)
        self.above.addWidget(view)
        return view

    def measure_scene(self) -> QWidget | None:
        """Return what the middle shows for the page of Measure that is turned to; None: the plan."""
        match self.measure.page:
            case "Survey":
                return self.survey_canvas
            case "Foam":
                return self.stack_view
            case "Sheets":
                return self.boards_view
            case "Carry":
                return self.carry_view
        return None

    @property
    def measure(self) -> MeasurePanel:
        """The pages of Measure."""
        raise NotImplementedError

    @property
    def is_measuring_widely(self) -> bool:
        """Whether the scene is one that takes the room of the section too."""
        return self.stage == "measure" and self.measure.page in WIDE_PAGES

    def show_measure(self, page: PageName) -> None:
        """Go to a page of Measure."""
        self._show_measure_stage()
        self.measure.show_page(page)

    def _turn_measure(self) -> None:
        if self.stage == "measure":
            self._show_measure_stage()

    def _show_measure_stage(self) -> None:
        raise NotImplementedError
