"""Measure: the inside, its survey, the foam that fills it, the boards to buy, the load, the rules; one page each."""

from __future__ import annotations

from functools import cached_property

from PySide6.QtWidgets import QWidget

from cozy_burrow.app.desk.stores_desk import StoresDesk
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.frame.paged_panel import PagedPanel
from cozy_burrow.app.look.theme.dressing import Dressing
from cozy_burrow.app.screens.measure.carry_page import CarryPage
from cozy_burrow.app.screens.measure.foam_page import FoamPage
from cozy_burrow.app.screens.measure.inside_page import InsidePage
from cozy_burrow.app.screens.measure.pages import PAGE_NAMES, PageName
from cozy_burrow.app.screens.measure.rules_page import RulesPage
from cozy_burrow.app.screens.measure.sheets_page import SheetsPage
from cozy_burrow.app.screens.measure.survey_page import SurveyPage


class MeasurePanel(PagedPanel):
    """The pages of Measure."""

    page: PageName

    def __init__(
        self, workspace: Workspace, stores: StoresDesk, dressing: Dressing, parent: QWidget | None = None
    ) -> None:
        super().__init__(dressing, PAGE_NAMES, parent)
        self._workspace, self._stores = workspace, stores
        self.show_page("Inside")
        if stores.trouble:
            self.say(stores.trouble)

    @cached_property
    def inside(self) -> InsidePage:
        """Kind, rim, draft, lid and handle."""
        return self.put("Inside", InsidePage(self._workspace))

    @cached_property
    def survey(self) -> SurveyPage:
        """Distances between corners."""
        return self.put("Survey", SurveyPage(self._workspace))

    @cached_property
    def foam(self) -> FoamPage:
        """Sheets of the insert, and better stacks."""
        return self.put("Foam", FoamPage(self._workspace, self._stores))

    @cached_property
    def sheets(self) -> SheetsPage:
        """Boards to buy and to cut."""
        return self.put("Sheets", SheetsPage(self._workspace, self._stores))

    @cached_property
    def carry(self) -> CarryPage:
        """Weight and balance."""
        return self.put("Carry", CarryPage(self._workspace))

    @cached_property
    def rules(self) -> RulesPage:
        """What must stay."""
        return self.put("Rules", RulesPage(self._workspace))

    def stop(self) -> None:
        """Stop what is being worked out: the window closes."""
        for name in ("foam", "sheets"):
            if name in self.__dict__:
                getattr(self, name).stop()
