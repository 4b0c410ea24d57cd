"""Rows of a list with the picture of an item where an icon would be."""

from __future__ import annotations

from PySide6.QtCore import QModelIndex, QPersistentModelIndex, QRectF, QSize, Qt
from PySide6.QtGui import QIcon, QPainter, QPixmap
from PySide6.QtWidgets import QListWidget, QListWidgetItem, QStyle, QStyledItemDelegate, QStyleOptionViewItem

from cozy_burrow.app.look.long_words import row_of
from cozy_burrow.app.look.painting import guarded, saved
from cozy_burrow.app.scene.small_pictures import Portraits
from cozy_burrow.app.scene.tool_painting import outline_tool
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.records import Item

_ITEM = Qt.ItemDataRole.UserRole + 1
_PICTURE = QSize(64, 22)  # of an item beside its name
_MOST_PER_MM = 1.2  # pixels: what is small is not shown larger than that


class ItemRows(QStyledItemDelegate):
    """Paints the rows of one list; `row` makes them."""

    def __init__(self, parent: QListWidget) -> None:
        super().__init__(parent)
        blank = QPixmap(_PICTURE)
        blank.fill(Qt.GlobalColor.transparent)
        self._room = QIcon(blank)
        parent.setIconSize(_PICTURE)
        parent.setItemDelegate(self)
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

    def row(self, text: str, key: str, item: Item) -> QListWidgetItem:
        """Return a row for an item. key: its data."""
        row = QListWidgetItem(row_of(text))
        row.setData(Qt.ItemDataRole.UserRole, key)
        row.setData(_ITEM, item)
        row.setIcon(self._room)
        return row
