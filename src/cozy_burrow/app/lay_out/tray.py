"""The tray: what has no place yet, to drag onto the plan or lay in with Enter; arranging for the fitter."""

from __future__ import annotations

from PySide6.QtCore import QMimeData, Qt, Signal
from PySide6.QtGui import QDrag, QKeyEvent
from PySide6.QtWidgets import (
    QAbstractItemView,
    QGridLayout,
    QListWidget,
    QListWidgetItem,
    QProgressBar,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from cozy_burrow.app.fields import head, panel, soft
from cozy_burrow.app.following import FollowingPanel
from cozy_burrow.app.text_plate import TextPlate
from cozy_burrow.app.workspace import Workspace
from cozy_burrow.core.model.edits import placement_id, unplaced
from cozy_burrow.jobs.wording import placement_name

MIME = "application/x-cozy-burrow-thing"


class TrayList(QListWidget):
    """Things without a place; a drag carries the thing's key."""

    lay_in = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setDragEnabled(True)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setAccessibleName("Tray: things that have no place yet")
        self.itemDoubleClicked.connect(lambda row: self.lay_in.emit(row.data(Qt.ItemDataRole.UserRole)))

    def startDrag(self, actions: Qt.DropAction) -> None:
        """Carry the chosen thing."""
        key = self.currentIndex().data(Qt.ItemDataRole.UserRole)
        if key is None:
            return
        data = QMimeData()
        data.setData(MIME, str(key).encode())
        drag = QDrag(self)
        drag.setMimeData(data)
        drag.exec(Qt.DropAction.CopyAction)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter lays the chosen thing in."""
        row = self.currentItem()
        if event.key() in {Qt.Key.Key_Return, Qt.Key.Key_Enter} and row is not None:
            self.lay_in.emit(row.data(Qt.ItemDataRole.UserRole))
            return
        super().keyPressEvent(event)


class TrayPanel(FollowingPanel):
    """Tray and the fitter's moves."""

    lay_in = Signal(str)
    arrange = Signal()
    stop = Signal()
    command = Signal(str)

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        panel(self)
        layout = QVBoxLayout(self)
        self._head = head("")
        layout.addWidget(self._head)
        self.list = TrayList()
        self.list.lay_in.connect(self.lay_in)
        layout.addWidget(self.list, 1)
        self._hint = soft("")
        layout.addWidget(self._hint)
        self._rest = QWidget()  # takes the room when there is no list
        self.arrange_button = QPushButton("Arrange for me")
        self.arrange_button.setObjectName("main")
        self.arrange_button.setToolTip("Lays everything that is not locked. Ctrl+Return")
        self.arrange_button.clicked.connect(self.arrange)
        layout.addWidget(self.arrange_button)
        self.progress = QProgressBar()
        self.progress.setRange(0, 1000)
        self.progress.setAccessibleName("Progress of arranging")
        self.progress.hide()
        layout.addWidget(self.progress)
        self.stop_button = QPushButton("Stop, keep the best so far")
        self.stop_button.clicked.connect(self.stop)
        self.stop_button.hide()
        layout.addWidget(self.stop_button)
        grid = QGridLayout()
        layout.addLayout(grid)
        moves = (
            ("lay.turn_right", "Turn 90°"),
            ("lay.swap_ends", "Swap ends"),
            ("lay.lock", "Lock"),
            ("lay.take_out", "To the tray"),
            ("lay.align_left", "Align left"),
            ("lay.align_right", "Align right"),
            ("lay.align_back", "Align back"),
            ("lay.align_front", "Align front"),
        )
        for index, (command, text) in enumerate(moves):
            button = QPushButton(text)
            button.clicked.connect(lambda _=False, command=command: self.command.emit(command))
            grid.addWidget(button, index // 2, index % 2)
        self._about = TextPlate(lines=4)
        layout.addWidget(self._about)
        layout.addWidget(self._rest, 1)
        self._seen: object = None
        self.follow()

    def follow(self) -> None:
        """Show the document as it is now."""
        self._follow_selection()
        waiting = unplaced(self._workspace.project)
        seen = (tuple((item.id, item.name, copy) for item, copy in waiting), bool(self._workspace.project.items))
        if seen == self._seen:
            return
        self._seen = seen
        chosen = self.list.currentRow()
        self.list.clear()
        for item, copy in waiting[:500]:
            key = placement_id(item.id, copy)
            row = QListWidgetItem(placement_name(self._workspace.project, key))
            row.setData(Qt.ItemDataRole.UserRole, key)
            self.list.addItem(row)
        if waiting:
            self.list.setCurrentRow(min(max(0, chosen), self.list.count() - 1))
        self._head.setText(f"In the tray: {len(waiting)}" if waiting else "The tray is empty")
        self.list.setVisible(bool(waiting))
        self._rest.setVisible(not waiting)
        self._hint.setText(
            "Drag onto the foam, or press Enter to lay it where it fits."
            if waiting
            else ("Everything has its place." if self._workspace.project.items else "Gather things first.")
        )

    def _follow_selection(self) -> None:
        workspace = self._workspace
        if not workspace.selection:
            self._about.setText("Nothing selected. Click a thing, or press Tab on the plan.")
            return
        if len(workspace.selection) > 1:
            self._about.setText(f"{len(workspace.selection)} things selected")
            return
        key = workspace.selection[0]
        placement = next(one for one in workspace.insert.placements if one.id == key)
        locked = ", locked" if placement.locked else ""
        self._about.setText(
            f"{placement_name(workspace.project, key)}\nmiddle at {workspace.length(placement.x_mm)} from the left, "
            f"{workspace.length(placement.y_mm)} from the back, turned {placement.angle_deg:g}°{locked}"
        )

    def show_progress(self, fraction: float | None) -> None:
        """Show how far the search is; None: it is over."""
        searching = fraction is not None
        self.progress.setVisible(searching)
        self.stop_button.setVisible(searching)
        self.arrange_button.setEnabled(not searching)
        if fraction is not None:
            self.progress.setValue(round(fraction * 1000))
