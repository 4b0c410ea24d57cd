"""The gallery: the kit drawn to one scale, each thing from above and from its side, groups together."""

from __future__ import annotations

from PySide6.QtCore import QAbstractListModel, QModelIndex, QPersistentModelIndex, QRectF, QSize, Qt
from PySide6.QtGui import QFontMetrics, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QListView, QStyle, QStyledItemDelegate, QStyleOptionViewItem, QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.painting import guarded, painting, saved
from cozy_burrow.app.look.theme.theme import Theme, type_font
from cozy_burrow.app.scene.paths import ring_path
from cozy_burrow.app.scene.small_pictures import Portraits
from cozy_burrow.app.scene.tool_painting import colour_of
from cozy_burrow.core.depth.side_view import side_view
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.edits import next_copy
from cozy_burrow.core.model.records import Item
from cozy_burrow.core.tongue import tr

_Index = QModelIndex | QPersistentModelIndex
ITEM = Qt.ItemDataRole.UserRole
FIRST_STEPS = tr(
    "Nothing is gathered yet.\n\nBy photo: print the mat, lay items on its white, photograph "
    "it from above. The photo comes to a\nbench where outlines are checked and mended, then "
    "into the kit.\n\nBy calliper: name an item, then distance 0, diameter 32; distance 95, "
    "diameter 32; distance 95,\ndiameter 6; distance 210, diameter 6. Enter goes from field "
    "to field.\n\nBoxes, round items, scans, traced sheets, drawings and whole tables are on "
    "the left as well.\n\nOr look round first: Ctrl+Space, then “demo”."
)


class KitModel(QAbstractListModel):
    """The items of the kit by group, then by length.

    longest_mm: how long the longest is; tallest_mm: how high the highest picture from above and from the side is. Cards
    are painted by these rows, not by the project: it may be another one already when Qt paints between two listeners.
    """

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._workspace = workspace
        self._take(self._sorted())
        workspace.document_changed.connect(self._follow)

    def _take(self, items: list[Item]) -> None:
        self._rows = items
        self.longest_mm = max((_length(item) for item in items), default=1.0)
        self.tallest_mm = max((_height(item) for item in items), default=1.0)

    def _sorted(self) -> list[Item]:
        return sorted(self._workspace.project.items, key=lambda item: (item.group, -_length(item), item.name))

    def rowCount(self, parent: _Index = QModelIndex()) -> int:  # noqa: B008
        """Number of items."""
        return 0 if parent.isValid() else len(self._rows)

    def data(self, index: _Index, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        """Name, description and the item itself."""
        if not index.isValid() or index.row() >= len(self._rows):
            return None
        item = self._rows[index.row()]
        if role == ITEM:
            return item
        if role == Qt.ItemDataRole.DisplayRole:
            return item.name
        if role in {Qt.ItemDataRole.ToolTipRole, Qt.ItemDataRole.AccessibleTextRole}:
            return tr(
                "{name}: {size}, {quantity} of it, {group}",
                name=item.name,
                size=self._size(item),
                quantity=item.quantity,
                group=item.group or tr("no group"),
            )
        return None

    def _size(self, item: Item) -> str:
        left, top, right, bottom = polygon_of(item.outline).bounds
        length = self._workspace.length
        return tr(
            "{right} × {bottom}, {thickness} thick",
            right=length(right - left),
            bottom=length(bottom - top),
            thickness=length(item.thickness_mm),
        )

    def row_of(self, item_id: str | None) -> int:
        """Return the row of an item, -1 for none."""
        return next((row for row, item in enumerate(self._rows) if item.id == item_id), -1)

    def _follow(self) -> None:
        touched = self._workspace.touched
        if not (touched.kit or touched.words):
            return
        new = self._sorted()
        if [item.id for item in new] == [item.id for item in self._rows]:
            self._take(new)
            if new:
                self.dataChanged.emit(self.index(0), self.index(len(new) - 1))
            return
        self.beginResetModel()
        self._take(new)
        self.endResetModel()


def _length(item: Item) -> float:
    left, _, right, _ = polygon_of(item.outline).bounds
    return float(right - left)


class _Card(QStyledItemDelegate):
    def __init__(self, workspace: Workspace, theme: Theme, scale: float, parent: QWidget) -> None:
        super().__init__(parent)
        self._workspace, self.theme, self._scale = workspace, theme, scale
        self.size = QSize(220, 170)
        self._portraits = Portraits(self)
        self._portraits.changed.connect(self._show_more)

    def sizeHint(self, option: QStyleOptionViewItem, index: _Index) -> QSize:
        return self.size

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: _Index) -> None:
        with guarded(painter, option.rect):
            self._paint(painter, option, index)

    def _paint(self, painter: QPainter, option: QStyleOptionViewItem, index: _Index) -> None:
        item: Item = index.data(ITEM)
        kit, theme = index.model(), self.theme
        assert isinstance(kit, KitModel)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        card = QRectF(option.rect).adjusted(4, 4, -4, -4)
        with saved(painter):
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(QPen(theme.colour("accent" if chosen else "line"), 3 if chosen else 1))
            painter.setBrush(theme.colour("panel"))
            painter.drawRoundedRect(card, 8, 8)
            painter.setFont(type_font("figure", self._scale))
            line = QFontMetrics(painter.font()).height()
            painter.setPen(theme.colour("ink"))
            top = QRectF(card.left() + 10, card.top() + 6, card.width() - 20, line)
            count = f" × {item.quantity}" if item.quantity > 1 else ""
            name = QFontMetrics(painter.font()).elidedText(
                item.name + count, Qt.TextElideMode.ElideMiddle, round(top.width())
            )
            painter.drawText(top, Qt.AlignmentFlag.AlignLeft, name)
            painter.setFont(type_font("small", self._scale))
            painter.setPen(theme.colour("ink_soft"))
            low = QRectF(card.left() + 10, card.bottom() - line - 4, card.width() - 20, line)
            painter.drawText(low, Qt.AlignmentFlag.AlignLeft, item.group or tr("no group"))
            waiting = next_copy(self._workspace.project, item) is not None
            painter.drawText(low, Qt.AlignmentFlag.AlignRight, tr("in the tray") if waiting else tr("laid in"))
            room = QRectF(card.left() + 8, top.bottom() + 4, card.width() - 16, low.top() - top.bottom() - 8)
            scale = min(room.width() / kit.longest_mm, room.height() / max(1.0, kit.tallest_mm))
            self._views(painter, item, room, scale)

    def _show_more(self) -> None:
        parent = self.parent()
        if isinstance(parent, QListView):
            parent.viewport().update()

    def _views(self, painter: QPainter, item: Item, room: QRectF, scale: float) -> None:
        """Paint the item from above and below it from its side, at the scale that fits the largest of the kit."""
        bounds = polygon_of(item.outline).bounds
        depth = bounds[3] - bounds[1]
        total = depth + item.thickness_mm + 8.0
        y = room.center().y() - total * scale / 2 + depth * scale / 2
        with saved(painter):
            painter.translate(room.center().x(), y)
            painter.scale(scale, scale)
            self._portraits.paint(painter, item, self.theme)
        paint_side(painter, item, self.theme, room.center().x(), y + (depth / 2 + 8.0) * scale, scale)


def _height(item: Item) -> float:
    bounds = polygon_of(item.outline).bounds
    return float(bounds[3] - bounds[1]) + item.thickness_mm + 8.0


def paint_side(painter: QPainter, item: Item, theme: Theme, x: float, top_y: float, scale: float) -> None:
    """Paint an item from its side, its highest point at top_y, centred on x."""
    highest = max(zone.highest_mm for zone in item.zones)
    with saved(painter):
        painter.translate(x, top_y + highest * scale)
        painter.scale(scale, -scale)
        pen = QPen(theme.colour("tool_line"), 1.2)
        pen.setCosmetic(True)
        painter.setPen(pen)
        for number, ring in enumerate(side_view(item)):
            painter.setBrush(colour_of(item, number))
            painter.drawPath(ring_path(ring))


class Gallery(QListView):
    """Cards of the kit; choosing one shows it on the item bench below."""

    def __init__(self, workspace: Workspace, theme: Theme, scale: float, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._workspace, self._scale, self._columns = workspace, scale, 0
        self.kit = KitModel(workspace, self)
        self.setModel(self.kit)
        self._card = _Card(workspace, theme, scale, self)
        self.setItemDelegate(self._card)
        self.setViewMode(QListView.ViewMode.IconMode)
        self.setResizeMode(QListView.ResizeMode.Adjust)
        self.setMovement(QListView.Movement.Static)
        self.setUniformItemSizes(True)
        self.setVerticalScrollMode(QListView.ScrollMode.ScrollPerPixel)
        self.setAccessibleName(tr("Gallery of the kit"))
        self.selectionModel().currentChanged.connect(self._choose)
        workspace.item_chosen.connect(self._follow)
        self._follow()  # the first look at Gather comes after much may have been chosen elsewhere

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""
        self._card.theme = theme
        self.viewport().update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the cards; where there is none yet, say how to begin."""
        super().paintEvent(event)
        if self.kit.rowCount():
            return
        with painting(self.viewport()) as painter:
            painter.setPen(self.palette().text().color())
            painter.setFont(type_font("body", self._scale))
            room = QRectF(self.viewport().rect()).adjusted(40, 20, -40, -20)
            painter.drawText(room, int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap), FIRST_STEPS)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """As many columns as fit, cards as wide as they share."""
        width = self.viewport().width() - 2
        columns = max(1, width // round(190 * self._scale))
        was_seen = self.viewport().rect().intersects(self.visualRect(self.currentIndex()))
        self._card.size = QSize(width // columns, round(158 * self._scale))
        super().resizeEvent(event)
        if self.currentIndex().isValid() and (columns != self._columns or was_seen):
            self.doItemsLayout()  # with other columns the chosen one's row is another one
            self.scrollTo(self.currentIndex())
        self._columns = columns

    def _choose(self, index: QModelIndex) -> None:
        item = index.data(ITEM)
        self._workspace.choose_item(item.id if item is not None else None)

    def _follow(self) -> None:
        row = self.kit.row_of(self._workspace.item_id)
        if row != self.currentIndex().row():
            self.setCurrentIndex(self.kit.index(row) if row >= 0 else QModelIndex())
