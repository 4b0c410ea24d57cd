"""The start, when nothing is open: a new drawer, case or wall from its sizes, the last projects, the demo, a photo."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, QObject, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from cozy_burrow.app.look.fields import LengthField, head, soft
from cozy_burrow.app.look.long_words import Words
from cozy_burrow.app.shell.recent_card import RecentCard, Reliefs
from cozy_burrow.core.container.starts import STARTS
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.foam.beginning import BEGINNINGS, LARGEST_MM, Begun, begun_project
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.model.stages import STAGES
from cozy_burrow.core.tongue import tr

if TYPE_CHECKING:
    from cozy_burrow.app.shell.window import Window

_NAMES: dict[Begun, str] = {"drawer": tr("New drawer"), "case": tr("New case"), "wall": tr("New wall")}
_DEEP: dict[Begun, tuple[str, str, str]] = {
    "drawer": (tr("Width"), tr("Depth"), tr("Height")),
    "case": (tr("Width"), tr("Depth"), tr("Height of the base")),
    "wall": (tr("Width"), tr("Height"), tr("Depth of the frame")),
}
_SHOWN = 6  # of the last projects
_COLUMNS = 2
_LARGE_PX = 320  # high: the demo's card where it is the only one


class NewCard(QFrame):
    """One kind of container: two or three sizes and a button. `begun`: the project that they make."""

    begun = Signal(object)
    refused = Signal(str)

    def __init__(self, kind: Begun) -> None:
        super().__init__()
        self._kind = kind
        self.setObjectName("panel")
        start = STARTS[BEGINNINGS[kind]]
        grid = QGridLayout(self)
        grid.addWidget(head(_NAMES[kind]), 0, 0, 1, 3)
        self.fields = []
        for column, (name, size) in enumerate(zip(_DEEP[kind], (start.width_mm, start.depth_mm, start.height_mm))):
            field = LengthField(f"{_NAMES[kind]}: {name}", least_mm=1.0, most_mm=LARGEST_MM)
            field.show_length(size, "mm")
            field.refused.connect(self.refused)
            grid.addWidget(soft(name), 1, column)
            grid.addWidget(field, 2, column)
            self.fields.append(field)
            field.entered.connect(lambda mm, n=column: self._set(n, mm))
        self._sizes = [start.width_mm, start.depth_mm, start.height_mm]
        self.button = QPushButton(tr("Begin"))
        self.button.setAccessibleName(_NAMES[kind])
        self.button.clicked.connect(self._begin)
        grid.addWidget(self.button, 2, 3)
        for column in range(3):
            grid.setColumnStretch(column, 1)

    def _set(self, number: int, length_mm: float) -> None:
        self._sizes[number] = length_mm

    def _begin(self) -> None:
        wrong = next((one for one in self.fields if one.trouble), None)
        if wrong is not None:
            wrong.setFocus()
            return
        try:
            project = begun_project(self._kind, *self._sizes)
        except UnusableInput as error:
            self.refused.emit(error.sentence())
            return
        self.begun.emit(project)


class StartPage(QFrame):
    """Lies over the middle of the window until something is chosen."""

    def __init__(self, window: Window) -> None:
        middle = window.frame.middle
        super().__init__(middle)
        self._window, self._middle = window, middle
        self.setObjectName("start")
        self.setAutoFillBackground(True)
        self.setAccessibleName(tr("Start"))
        self.reliefs = Reliefs(self)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QFrame.Shape.NoFrame)
        page = QWidget()
        scroll.setWidget(page)
        whole.addWidget(scroll)
        row = QHBoxLayout(page)
        row.setContentsMargins(36, 28, 36, 28)
        row.setSpacing(36)
        row.addLayout(self._build_new(), 5)
        row.addLayout(self._build_last(), 6)
        middle.installEventFilter(self)
        self._is_left = False
        for gone in (window.workspace.document_changed, window.desk.opened, window.path.chosen):
            gone.connect(self.leave)
        for stage in STAGES:
            window.actions_by_id[f"stage.{stage}"].triggered.connect(self.leave)
        window.dressing.add(self)
        self._fit()
        self.show()
        self.raise_()
        self.cards["drawer"].fields[0].setFocus()
        self.cards["drawer"].fields[0].selectAll()

    def _build_new(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(12)
        title = head(tr("What do you fit foam into?"))
        column.addWidget(title)
        column.addWidget(soft(tr("Inside sizes; all of them can be changed later.")))
        self.cards: dict[Begun, NewCard] = {kind: NewCard(kind) for kind in _NAMES}
        self.told = Words()
        self.told.setObjectName("verdict")
        self.told.hide()
        for card in self.cards.values():
            card.begun.connect(self._begin)
            card.refused.connect(self._say)
            column.addWidget(card)
        column.addWidget(self.told)
        column.addSpacing(8)
        column.addWidget(head(tr("Or begin with the items")))
        self.photograph = self._button(tr("Photograph items…"), self._photograph)
        self.photograph.setToolTip(tr("Print the mat, lay items on it, photograph it from above"))
        self.measure = self._button(tr("Measure items with a calliper…"), self._calliper)
        for button in (self.photograph, self.measure):
            column.addWidget(button)
        column.addStretch(1)
        return column

    def _build_last(self) -> QVBoxLayout:
        window = self._window
        column = QVBoxLayout()
        column.setSpacing(12)
        recent = window.settings.recent()[:_SHOWN]
        column.addWidget(head(tr("Last projects") if recent else tr("Look round first")))
        grid = QGridLayout()
        grid.setSpacing(12)
        column.addLayout(grid)
        self.recent: list[RecentCard] = []
        for number, path in enumerate(recent):
            card = RecentCard(path, self.reliefs, window.type_scale)
            card.clicked.connect(lambda _=False, path=path: window.desk.open_path(path))
            grid.addWidget(card, number // _COLUMNS, number % _COLUMNS)
            self.recent.append(card)
        if recent:
            column.addWidget(self._button(tr("Open the demo"), window.desk.open_demo))
        else:
            demo = RecentCard(None, self.reliefs, window.type_scale, high_px=_LARGE_PX)
            demo.clicked.connect(lambda: window.desk.open_demo())
            grid.addWidget(demo, 0, 0)
            self.recent.append(demo)
        column.addWidget(self._button(tr("Open a project…"), window.desk.ask_open))
        column.addStretch(1)
        return column

    def _button(self, text: str, press: Callable[[], object]) -> QPushButton:
        button = QPushButton(text)
        button.clicked.connect(lambda: press())
        return button

    def _begin(self, project: Project) -> None:
        window = self._window
        window.workspace.open(project, None)
        window.desk.opened.emit()
        window.show_stage("measure")

    def _photograph(self) -> None:
        self.leave()
        self._window.actions_by_id["gather.photo"].trigger()

    def _calliper(self) -> None:
        self.leave()
        self._window.show_stage("gather")

    def _say(self, text: str) -> None:
        self.told.setText(text)
        self.told.setVisible(bool(text))

    def leave(self, *_: object) -> None:
        """Something is open, or begun: the page goes."""
        if not self._is_left:
            self._is_left = True
            self.hide()
            self._middle.removeEventFilter(self)
            self.deleteLater()

    def _fit(self) -> None:
        self.setGeometry(self._middle.rect())

    def sizeHint(self) -> QSize:
        """As large as what it lies over."""
        return self._middle.size()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Stay as large as the middle."""
        if watched is self._middle and event.type() == QEvent.Type.Resize:
            self._fit()
        return False

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Escape leads to the empty project."""
        if event.key() == Qt.Key.Key_Escape:
            self.leave()
            return
        super().keyPressEvent(event)
