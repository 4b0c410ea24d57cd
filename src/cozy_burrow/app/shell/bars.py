"""The bar above: project, inserts, stages, undo, commands; and the line below: what is said, where the cursor is."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QAction, QResizeEvent
from PySide6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QLabel,
    QMenu,
    QPushButton,
    QSizePolicy,
    QStatusBar,
    QToolButton,
    QWidget,
)

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import shortened
from cozy_burrow.app.look.theme.dressing import Dressing
from cozy_burrow.app.scene.plan_view import PlanView
from cozy_burrow.app.shell.insert_chooser import InsertChooser
from cozy_burrow.app.shell.stage_path import StagePath
from cozy_burrow.app.shell.turn_button import TurnButton
from cozy_burrow.core.model.records import Point
from cozy_burrow.core.tongue import tr

_BESIDE_PX = 8
_PROJECT = ("new", "open", "save", "save_as", "export", "demo")


class Bar(QWidget):
    """What stands above: command does a command by its name."""

    def __init__(self, workspace: Workspace, path: StagePath, scale: float, command: Callable[[str], object]) -> None:
        super().__init__()
        self._scale = scale
        self.setObjectName("bar")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground, True)
        row = QHBoxLayout(self)
        row.setContentsMargins(10, 2, 10, 2)
        self.project_button = QToolButton()
        self.project_button.setToolTip(tr("Open, save, write papers"))
        self.project_button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.menu = QMenu(self.project_button)
        self.project_button.setMenu(self.menu)
        row.addWidget(self.project_button)
        self.inserts = InsertChooser(workspace, scale)
        row.addWidget(self.inserts)
        row.addWidget(path, 1)
        self._path = path
        self.undo_button = TurnButton(tr("Undo"), scale, back=True)
        self.redo_button = TurnButton(tr("Redo"), scale, back=False)
        buttons: tuple[tuple[QPushButton, str], ...] = (
            (self.undo_button, "edit.undo"),
            (self.redo_button, "edit.redo"),
            (QPushButton(tr("Commands")), "help.commands"),
        )
        for button, name in buttons:
            button.clicked.connect(lambda _=False, name=name: command(name))
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            row.addWidget(button)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Share the room out anew."""
        super().resizeEvent(event)
        self._share_room()

    def _share_room(self) -> None:
        """Large type in a narrow window: the names of the stages come before the words of undo and redo."""
        turns = (self.undo_button, self.redo_button)
        longer = sum(button.long_width - button.sizeHint().width() for button in turns)
        short = self.width() - self.sizeHint().width() + self._path.sizeHint().width() - longer < self._path.readable_px
        for button in turns:
            button.shorten(short)

    def fill_menu(
        self, action: Callable[[str], QAction], recent: list[Path], open_path: Callable[[Path], object]
    ) -> None:
        """Fill the project's menu: what can be done with it, and what was open lately."""
        self.menu.clear()
        for name in _PROJECT:
            self.menu.addAction(action(f"project.{name}"))
        if recent:
            self.menu.addSeparator()
            for path in recent:
                self.menu.addAction(tr("Open {name}", name=path.name)).triggered.connect(
                    lambda _=False, path=path: open_path(path)
                )
        self.menu.addSeparator()
        self.menu.addAction(action("help.page"))
        self.menu.addAction(action("project.quit"))

    def show_project(self, title: str, *, dirty: bool, undo: str | None, redo: str | None) -> None:
        """Show what is open, whether it is saved, and what can be taken back or done again."""
        self.project_button.setText(f"{'* ' if dirty else ''}{shortened(title, 24, self._scale)} ▾")
        for button, word, label, nothing in (
            (self.undo_button, tr("Undo"), undo, tr("Nothing to undo")),
            (self.redo_button, tr("Redo"), redo, tr("Nothing to redo")),
        ):
            button.setEnabled(label is not None)
            button.setToolTip(f"{word}: {label}" if label else nothing)
        self._share_room()


class KeysShown(QLabel):
    """Keys worth knowing, parted by three blanks: as many as have room, none of them cut off."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self._parts = text.split("   ")
        self.setObjectName("soft")
        self.setToolTip(text)
        self.setIndent(_BESIDE_PX)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Show what fits."""
        super().resizeEvent(event)
        texts = ["   ".join(self._parts[:count]) for count in range(len(self._parts), 0, -1)]
        wide = self.fontMetrics().horizontalAdvance
        self.setText(next((text for text in texts if wide(text) <= self.width() - _BESIDE_PX), ""))


class StatusLine:
    """The window's status bar."""

    def __init__(
        self,
        bar: QStatusBar,
        dressing: Dressing,
        *,
        flip_units: Callable[[], object],
        flip_theme: Callable[[], object],
        plan: PlanView,
    ) -> None:
        self._cursor, self._scale = QLabel(), QLabel()
        self.unit_button, self.theme_button = QPushButton(), QPushButton()
        self.look_button, self.fill_button = QPushButton(), QPushButton()
        self.unit_button.setToolTip(tr("Millimetres or inches. Ctrl+U"))
        self.unit_button.clicked.connect(flip_units)
        self.theme_button.clicked.connect(flip_theme)
        self.look_button.setToolTip(tr("Plan as a picture, or as a drawing. D"))
        self.look_button.clicked.connect(lambda: plan.look_lit(not plan.is_lit))
        self.fill_button.setToolTip(tr("Plan with its items, or the empty places. W"))
        self.fill_button.clicked.connect(lambda: plan.look_filled(not plan.is_filled))
        for widget in (
            self._cursor,
            self._scale,
            self.fill_button,
            self.look_button,
            self.unit_button,
            self.theme_button,
        ):
            bar.addPermanentWidget(widget)
        plan.look_changed.connect(lambda: self.show_look(lit=plan.is_lit, filled=plan.is_filled))
        self.show_look(lit=plan.is_lit, filled=plan.is_filled)
        bar.setSizeGripEnabled(False)
        bar.addWidget(KeysShown(tr("Alt+1 to 7: stages   Ctrl+Space: find a command   F8: next check   F1: help")), 1)
        dressing.add(bar)
        # Its dress changes its height, upon which it lays itself out anew and shows what a message hid: do so now.
        QApplication.sendEvent(bar, QEvent(QEvent.Type.LayoutRequest))

    def show_cursor(self, point: Point, length: Callable[[float], str], true_size: float) -> None:
        """Show where the cursor is on the plan, and how large that is painted."""
        self._cursor.setText(
            tr("{point} right, {point_2} from the back", point=length(point[0]), point_2=length(point[1]))
        )
        self._scale.setText(tr("{true_size:.0%} of true size", true_size=true_size))

    def show_look(self, *, lit: bool, filled: bool) -> None:
        """Show how the plan would look after a press."""
        self.look_button.setText(tr("Drawing") if lit else tr("Picture"))
        self.fill_button.setText(tr("Empty") if filled else tr("Filled"))

    def show_choices(self, *, unit: str, is_light: bool) -> None:
        """Show the unit, and the theme that a press would give."""
        self.unit_button.setText("mm" if unit == "mm" else tr("inches"))
        self.theme_button.setText(tr("Dark") if is_light else tr("Light"))
