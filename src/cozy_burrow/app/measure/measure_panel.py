"""Measure: the inside, its survey, the foam that fills it, the boards to buy, the load, the rules; one page each."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QButtonGroup,
    QGridLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from cozy_burrow.app.fields import panel
from cozy_burrow.app.measure.carry_page import CarryPage
from cozy_burrow.app.measure.foam_page import FoamPage
from cozy_burrow.app.measure.inside_page import InsidePage
from cozy_burrow.app.measure.page import Page
from cozy_burrow.app.measure.pages import PAGES, PageName
from cozy_burrow.app.measure.rules_page import RulesPage
from cozy_burrow.app.measure.sheets_page import SheetsPage
from cozy_burrow.app.measure.survey_page import SurveyPage
from cozy_burrow.app.stores_desk import StoresDesk
from cozy_burrow.app.workspace import Workspace


class MeasurePanel(QWidget):
    """A button a page. `turned` tells which one is shown, so that the scene can follow."""

    turned = Signal(str)

    def __init__(self, workspace: Workspace, stores: StoresDesk, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        panel(self)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(6, 6, 6, 6)
        self.inside = InsidePage(workspace)
        self.survey = SurveyPage(workspace)
        self.foam = FoamPage(workspace, stores)
        self.sheets = SheetsPage(workspace, stores)
        self.carry = CarryPage(workspace)
        self.rules = RulesPage(workspace)
        pages: tuple[Page, ...] = (self.inside, self.survey, self.foam, self.sheets, self.carry, self.rules)
        self.page: PageName = "Inside"
        self._stack = QStackedWidget()
        grid = QGridLayout()
        grid.setSpacing(4)
        group = QButtonGroup(self)
        self.buttons: dict[str, QPushButton] = {}
        for number, (name, page) in enumerate(zip(PAGES, pages)):
            button = QPushButton(name)
            button.setCheckable(True)
            button.clicked.connect(lambda _=False, name=name: self.show_page(name))
            group.addButton(button)
            grid.addWidget(button, number // 3, number % 3)
            self.buttons[name] = button
            area = QScrollArea()
            area.setWidgetResizable(True)
            area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
            area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            area.setWidget(page)
            self._stack.addWidget(area)
            page.refused.connect(self._say)
        layout.addLayout(grid)
        layout.addWidget(self._stack, 1)
        self._refused = QLabel()
        self._refused.setObjectName("refused")
        self._refused.setWordWrap(True)
        self._refused.hide()
        layout.addWidget(self._refused)
        self.buttons["Inside"].setChecked(True)
        if stores.trouble:
            self._say(stores.trouble)

    def show_page(self, name: PageName) -> None:
        """Turn to a page."""
        self.page = name
        self.buttons[name].setChecked(True)
        self._stack.setCurrentIndex(PAGES.index(name))
        self.turned.emit(name)

    def stop(self) -> None:
        """Stop what is being worked out: the window closes."""
        for page in (self.foam, self.sheets):
            page.stop()

    def _say(self, sentence: str) -> None:
        self._refused.setText(sentence)
        self._refused.setVisible(bool(sentence))
