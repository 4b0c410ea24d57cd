"""Measure: the inside, its survey, the foam that fills it, the boards to buy, the load, the rules; one page each."""

from __future__ import annotations

from functools import cached_property
from typing import TypeVar

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QPainter, QPalette
from PySide6.QtWidgets import (
    QButtonGroup,
    QGridLayout,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from cozy_burrow.app.desk.stores_desk import StoresDesk
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.long_words import Words
from cozy_burrow.app.look.painting import paints
from cozy_burrow.app.look.theme.dressing import Dressing, Pages
from cozy_burrow.app.screens.measure.carry_page import CarryPage
from cozy_burrow.app.screens.measure.foam_page import FoamPage
from cozy_burrow.app.screens.measure.inside_page import InsidePage
from cozy_burrow.app.screens.measure.page import Page
from cozy_burrow.app.screens.measure.pages import PAGE_NAMES, PAGES, PageName
from cozy_burrow.app.screens.measure.rules_page import RulesPage
from cozy_burrow.app.screens.measure.sheets_page import SheetsPage
from cozy_burrow.app.screens.measure.survey_page import SurveyPage

Made = TypeVar("Made", bound=Page)


class MeasurePanel(QWidget):
    """A button a page; pages are made when first turned to. `turned` tells which one is shown, for the scene."""

    turned = Signal(str)

    def __init__(
        self, workspace: Workspace, stores: StoresDesk, dressing: Dressing, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self._workspace, self._stores = workspace, stores
        layout = QVBoxLayout(self)
        layout.setContentsMargins(6, 6, 6, 6)
        self.page: PageName = "Inside"
        self._stack = Pages(dressing)
        self._areas: dict[str, QScrollArea] = {}
        self._top = QWidget()
        grid = QGridLayout(self._top)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(4)
        group = QButtonGroup(self)
        self.buttons: dict[str, QPushButton] = {}
        for number, name in enumerate(PAGES):
            button = QPushButton(PAGE_NAMES[name])
            button.setCheckable(True)
            button.clicked.connect(lambda _=False, name=name: self.show_page(name))
            group.addButton(button)
            grid.addWidget(button, number // 3, number % 3)
            self.buttons[name] = button
        layout.addWidget(self._top)
        layout.addWidget(self._stack, 1)
        self._refused = Words()
        self._refused.setObjectName("refused")
        self._refused.hide()
        layout.addWidget(self._refused)
        self.show_page("Inside")
        if stores.trouble:
            self._say(stores.trouble)

    @paints
    def paintEvent(self, painter: QPainter) -> None:
        """Paint the raised panel that others get from their sheet: one on this whole would be one on all its pages."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(self.palette().color(QPalette.ColorRole.Mid))
        painter.setBrush(self.palette().color(QPalette.ColorRole.AlternateBase))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 8, 8)

    def dressed_parts(self) -> tuple[QWidget, ...]:
        """What is dressed besides the pages: these are many, and few are seen."""
        return self._top, self._refused

    @cached_property
    def inside(self) -> InsidePage:
        """Kind, rim, draft, lid and handle."""
        return self._put("Inside", InsidePage(self._workspace))

    @cached_property
    def survey(self) -> SurveyPage:
        """Distances between corners."""
        return self._put("Survey", SurveyPage(self._workspace))

    @cached_property
    def foam(self) -> FoamPage:
        """Sheets of the insert, and better stacks."""
        return self._put("Foam", FoamPage(self._workspace, self._stores))

    @cached_property
    def sheets(self) -> SheetsPage:
        """Boards to buy and to cut."""
        return self._put("Sheets", SheetsPage(self._workspace, self._stores))

    @cached_property
    def carry(self) -> CarryPage:
        """Weight and balance."""
        return self._put("Carry", CarryPage(self._workspace))

    @cached_property
    def rules(self) -> RulesPage:
        """What must stay."""
        return self._put("Rules", RulesPage(self._workspace))

    def _put(self, name: PageName, page: Made) -> Made:
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setWidget(page)
        self._areas[name] = area
        self._stack.addWidget(area)
        page.refused.connect(self._say)
        return page

    def show_page(self, name: PageName) -> None:
        """Turn to a page."""
        self.page = name
        getattr(self, name.lower())
        self.buttons[name].setChecked(True)
        self._stack.setCurrentWidget(self._areas[name])
        self.turned.emit(name)

    def stop(self) -> None:
        """Stop what is being worked out: the window closes."""
        for name in ("foam", "sheets"):
            if name in self.__dict__:
                getattr(self, name).stop()

    def _say(self, sentence: str) -> None:
        self._refused.setText(sentence)
        self._refused.setVisible(bool(sentence))
