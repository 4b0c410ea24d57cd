"""What the middle of the window shows at Measure: the plan, or a scene made for the page that is turned to."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QWidget

from cozy_burrow.app.desk.stores_desk import StoresDesk
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.theme.dressing import Pages
from cozy_burrow.app.look.theme.theme import Theme

if TYPE_CHECKING:
    from cozy_burrow.app.screens.measure.boards_view import BoardsView
    from cozy_burrow.app.screens.measure.carry_page import CarryView
    from cozy_burrow.app.screens.measure.measure_panel import MeasurePanel
    from cozy_burrow.app.screens.measure.stack_view import StackView
    from cozy_burrow.app.screens.measure.survey_canvas import SurveyCanvas

WIDE_PAGES = {"Survey", "Foam", "Sheets", "Carry"}  # their scenes take the room of the section too


class MeasureScenes:
    """Scenes are made when first asked for, each wired to its page.

    theme: as it is now. panel: the pages of Measure, which may be made by being asked for. above: where scenes go.
    """

    def __init__(
        self,
        workspace: Workspace,
        stores: StoresDesk,
        *,
        theme: Callable[[], Theme],
        scale: float,
        above: Pages,
        panel: Callable[[], MeasurePanel],
    ) -> None:
        self._workspace, self._stores = workspace, stores
        self._theme, self._scale, self._above, self._panel = theme, scale, above, panel

    @cached_property
    def survey_canvas(self) -> SurveyCanvas:
        """The survey drawn to scale, in the middle while it is worked on."""
        from cozy_burrow.app.screens.measure.survey_canvas import SurveyCanvas

        canvas, page = SurveyCanvas(self._workspace, self._theme(), self._scale), self._panel().survey
        page.pair_shown.connect(canvas.show_pair)
        canvas.pair_chosen.connect(page.choose_pair)
        canvas.corner_moved.connect(page.move_corner)
        self._above.addWidget(canvas)
        return canvas

    @cached_property
    def stack_view(self) -> StackView:
        """Stacks side by side, in the middle while foam is chosen."""
        from cozy_burrow.app.screens.measure.stack_view import StackView

        view, page = StackView(self._workspace, self._theme(), self._scale), self._panel().foam
        page.found.connect(lambda ranked: view.show_stacks(ranked, self._stores.stores.currency))
        view.used.connect(page.use_stack)
        view.show_stacks(page.ranked, self._stores.stores.currency)
        self._above.addWidget(view)
        return view

    @cached_property
    def boards_view(self) -> BoardsView:
        """Boards as they are cut, in the middle while sheets are bought."""
        from cozy_burrow.app.screens.measure.boards_view import BoardsView

        view, page = BoardsView(self._workspace, self._theme(), self._scale), self._panel().sheets
        page.planned.connect(view.show_purchase)
        view.show_purchase(page.purchase)
        self._above.addWidget(view)
        return view

    @cached_property
    def carry_view(self) -> CarryView:
        """The container hanging from its handle."""
        from cozy_burrow.app.screens.measure.carry_page import CarryView

        view = CarryView(self._workspace, self._theme(), self._scale)
        self._above.addWidget(view)
        return view

    def shown(self) -> QWidget | None:
        """Return what the middle shows for the page of Measure that is turned to; None: the plan."""
        match self._panel().page:
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
    def takes_all(self) -> bool:
        """Whether the scene is one that takes the room of the section too."""
        return self._panel().page in WIDE_PAGES
