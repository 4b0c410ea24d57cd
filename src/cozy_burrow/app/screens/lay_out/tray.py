"""The tray: what has no place yet, to drag onto the plan or lay in with Enter."""

from __future__ import annotations

from PySide6.QtCore import QMimeData, QModelIndex, QPersistentModelIndex, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QDrag, QIcon, QKeyEvent, QPainter, QPixmap
from PySide6.QtWidgets import (
    QAbstractItemView,
    QListWidget,
    QListWidgetItem,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
)

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.long_words import row_of
from cozy_burrow.app.look.painting import guarded, saved
from cozy_burrow.app.scene.small_pictures import Portraits
from cozy_burrow.app.scene.tool_painting import outline_tool
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.edits import placement_id, unplaced
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Item
from cozy_burrow.core.tongue import tr

MIME = "application/x-cozy-burrow-thing"
_MOST_ROWS = 500
_ITEM = Qt.ItemDataRole.UserRole + 1
_PICTURE = QSize(64, 22)  # of an item beside its name
_MOST_PER_MM = 1.2  # pixels: what is small is not shown larger than that


class _Row(QStyledItemDelegate):
    """A row with its item's picture where an icon would be."""

    def __init__(self, parent: QListWidget) -> None:
        super().__init__(parent)
        blank = QPixmap(_PICTURE)
        blank.fill(Qt.GlobalColor.transparent)
        self.room = QIcon(blank)
        self._portraits = Portraits(self)
        self._portraits.changed.connect(parent.viewport().update)

    def paint(
        self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:
        super().paint(painter, option, index)
        item = index.data(_ITEM)
        if isinstance(item, Item):
            with guarded(painter, option.rect):
                self._picture(painter, option, index, item)

    def _picture(
        self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex, item: Item
    ) -> None:
        whole = QStyleOptionViewItem(option)
        self.initStyleOption(whole, index)
        style = whole.widget.style()
        room = QRectF(style.subElementRect(QStyle.SubElement.SE_ItemViewItemDecoration, whole, whole.widget))
        room.adjust(1, 1, -1, -1)
        left, top, right, bottom = polygon_of(item.outline).bounds
        scale = min(_MOST_PER_MM, room.width() / (right - left), room.height() / (bottom - top))
        with saved(painter):
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.translate(room.center())
            painter.scale(scale, scale)
            painter.translate(-(left + right) / 2, -(top + bottom) / 2)
            self._portraits.put(painter, item)
            outline_tool(painter, item, whole.palette.text().color())


class TrayList(QListWidget):
    """Things without a place; a drag carries the thing's key."""

    lay_in = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self._seen: object = None
        self.setIconSize(_PICTURE)
        self._rows = _Row(self)
        self.setItemDelegate(self._rows)
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
            row = QListWidgetItem(row_of(placement_name(workspace.project, key)))
            row.setData(Qt.ItemDataRole.UserRole, key)
            row.setData(_ITEM, item)
            row.setIcon(self._rows.room)
            self.addItem(row)
        if waiting:
            self.setCurrentRow(min(max(0, chosen), self.count() - 1))
        return bool(waiting)
