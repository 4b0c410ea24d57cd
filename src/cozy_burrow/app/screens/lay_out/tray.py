"""The tray: what has no place yet, to drag onto the plan or lay in with Enter."""

from __future__ import annotations

from PySide6.QtCore import QMimeData, Qt, Signal
from PySide6.QtGui import QDrag, QKeyEvent
from PySide6.QtWidgets import QAbstractItemView, QListWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.scene.item_rows import ItemRows
from cozy_burrow.core.model.edits import placement_id, unplaced
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.tongue import tr

MIME = "application/x-cozy-burrow-thing"
_MOST_ROWS = 500


class TrayList(QListWidget):
    """Things without a place; a drag carries the thing's key."""

    lay_in = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self._seen: object = None
        self._rows = ItemRows(self)
        self.setDragEnabled(True)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setAccessibleName(tr("Tray: items that have no place yet"))
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

    def show_waiting(self, workspace: Workspace) -> bool | None:
        """Show what lies nowhere; return whether there is any, None where nothing changed."""
        waiting = unplaced(workspace.project)
        seen = (tuple((item.id, item.name, copy) for item, copy in waiting), bool(workspace.project.items))
        if seen == self._seen:
            return None
        self._seen = seen
        chosen = self.currentRow()
        self.clear()
        for item, copy in waiting[:_MOST_ROWS]:
            key = placement_id(item.id, copy)
            self.addItem(self._rows.row(placement_name(workspace.project, key), key, item))
        if waiting:
            self.setCurrentRow(min(max(0, chosen), self.count() - 1))
        return bool(waiting)
