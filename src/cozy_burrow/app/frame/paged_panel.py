"""A panel of pages with a button each; a page is made when it is first turned to."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, TypeVar

from PySide6.QtCore import QRectF, Signal
from PySide6.QtGui import QPainter, QPalette
from PySide6.QtWidgets import QButtonGroup, QGridLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from cozy_burrow.app.desk.following import FollowingPanel
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import Column
from cozy_burrow.app.look.long_words import Words
from cozy_burrow.app.look.painting import paints
from cozy_burrow.app.look.theme.dressing import Dressing, Pages

_ACROSS = 3


class RefusingPage(FollowingPanel):
    """A page that says what it refuses below all pages. `refused` carries a sentence, empty once all is well."""

    refused = Signal(str)

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(6, 4, 6, 4)


Made = TypeVar("Made", bound=RefusingPage)


class PagedPanel(QWidget):
    """`turned` tells which page is shown, for the scene. A page is the property of its name in small letters.

    Whoever derives turns to the first page, once what its pages need is there.
    """

    turned = Signal(str)
    page: str

    def __init__(self, dressing: Dressing, names: Mapping[Any, str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(6, 6, 6, 6)
        self._stack = Pages(dressing)
        self._areas: dict[str, QScrollArea] = {}
        self._top = QWidget()
        grid = QGridLayout(self._top)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(4)
        group = QButtonGroup(self)
        self.buttons: dict[str, QPushButton] = {}
        for number, (name, text) in enumerate(names.items()):
            button = QPushButton(text)
            button.setCheckable(True)
            button.clicked.connect(lambda _=False, name=name: self.show_page(name))
            group.addButton(button)
            grid.addWidget(button, number // _ACROSS, number % _ACROSS)
            self.buttons[name] = button
        layout.addWidget(self._top)
        layout.addWidget(self._stack, 1)
        self._refused = Words()
        self._refused.setObjectName("refused")
        self._refused.hide()
        layout.addWidget(self._refused)

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

    def put(self, name: str, page: Made) -> Made:
        """Take in a page that was just made."""
        area = Column()
        area.setWidget(page)
        self._areas[name] = area
        self._stack.addWidget(area)
        page.refused.connect(self.say)
        return page

    def show_page(self, name: str) -> None:
        """Turn to a page."""
        self.page = name
        getattr(self, name.lower())
        self.buttons[name].setChecked(True)
        self._stack.setCurrentWidget(self._areas[name])
        self.turned.emit(name)

    def say(self, sentence: str) -> None:
        """Say what was refused; an empty sentence: all is well."""
        self._refused.setText(sentence)
        self._refused.setVisible(bool(sentence))
