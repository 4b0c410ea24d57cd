"""The cuts of a sheet as a table: in order, with how each is cut; a row is dragged to where it shall have its turn."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QAbstractTableModel, QEvent, QMimeData, QModelIndex, QPersistentModelIndex, Qt, Signal
from PySide6.QtGui import QResizeEvent, QShowEvent
from PySide6.QtWidgets import QAbstractItemView, QTableView, QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.tables import rows_by_letters
from cozy_burrow.core.bench.work import BenchCut
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.bench_words import breaks_text, care_texts, method_text, passes_text, steps_text, why_text
from cozy_burrow.jobs.cut_words import blade_text
from cozy_burrow.jobs.templates import cut_name

_Index = QModelIndex | QPersistentModelIndex
_HEADS = (tr("No."), tr("What"), tr("How"), tr("Layers out"), tr("Blade, each pass"), tr("Length"))
_FIGURES = {0, 4, 5}  # stand at the right of their column
_WIDE, _HOW = 1, 2  # the columns that take what room is left: names first, then both alike
_LEAST_LETTERS = 18  # of a name
_ROW = "application/x-cozy-burrow-cut"


class CutTable(QAbstractTableModel):
    """The cuts of one sheet in order. `moved`: a row was dropped where another has its place, both as they were."""

    moved = Signal(int, int)

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._workspace = workspace
        self.cuts: tuple[BenchCut, ...] = ()
        self._texts: list[tuple[str, ...]] = []

    def show_cuts(self, cuts: tuple[BenchCut, ...]) -> None:
        """Show the cuts of a sheet."""
        self.beginResetModel()
        self.cuts = cuts
        self._texts = [self._row(one) for one in cuts]
        self.endResetModel()

    def retell(self) -> None:
        """Say the same cuts anew: things may be called otherwise, lengths may be in another unit."""
        texts = [self._row(one) for one in self.cuts]
        if texts != self._texts:
            self._texts = texts
            self.dataChanged.emit(self.index(0, 0), self.index(len(texts) - 1, len(_HEADS) - 1))

    def rowCount(self, parent: _Index = QModelIndex()) -> int:  # noqa: B008
        """Number of cuts."""
        return 0 if parent.isValid() else len(self.cuts)

    def columnCount(self, parent: _Index = QModelIndex()) -> int:  # noqa: B008
        """Number of columns."""
        return 0 if parent.isValid() else len(_HEADS)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        """Heads of the columns, each where the cells below it stand."""
        if orientation != Qt.Orientation.Horizontal:
            return None
        if role == Qt.ItemDataRole.TextAlignmentRole:
            side = Qt.AlignmentFlag.AlignRight if section in _FIGURES else Qt.AlignmentFlag.AlignLeft
            return int(side | Qt.AlignmentFlag.AlignVCenter)
        return _HEADS[section] if role == Qt.ItemDataRole.DisplayRole else None

    def data(self, index: _Index, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        """One cell."""
        if not index.isValid() or index.row() >= len(self.cuts):
            return None
        if role == Qt.ItemDataRole.DisplayRole:
            return self._texts[index.row()][index.column()]
        if role == Qt.ItemDataRole.TextAlignmentRole and index.column() in _FIGURES:
            return int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        if role == Qt.ItemDataRole.ToolTipRole:
            return self._tip(self.cuts[index.row()])
        return None

    def _row(self, one: BenchCut) -> tuple[str, ...]:
        cut, workspace = one.cut, self._workspace
        span = (
            tr("{first} to {last}", first=cut.from_layer, last=cut.to_layer)
            if cut.to_layer > cut.from_layer
            else f"{cut.to_layer}"
        )
        return (
            f"! {cut.number}" if cut.breaks else str(cut.number),
            cut_name(workspace.project, cut),
            method_text(one),
            span + (tr(" · right through") if cut.through else ""),
            passes_text(one, workspace.unit),
            workspace.length(cut.length_mm, digits=0),
        )

    def _tip(self, one: BenchCut) -> str:
        """Return why a cut has its turn, how it is done, what to look out for, a line each."""
        unit = self._workspace.unit
        now = tr("Why now: {why}.", why=why_text(one.cut))
        if one.cut.breaks:
            now = tr("Your order: {breaks}.", breaks=breaks_text(one.cut))
        depth = tr("Blade: {blade}.", blade=blade_text(one.cut, unit))
        return "\n".join((now, steps_text(one), depth, *care_texts(one, unit)))

    # Dragging a row

    def flags(self, index: _Index) -> Qt.ItemFlag:
        """Rows can be dragged, and dropped between rows."""
        plain = super().flags(index)
        return plain | (Qt.ItemFlag.ItemIsDragEnabled if index.isValid() else Qt.ItemFlag.ItemIsDropEnabled)

    def supportedDropActions(self) -> Qt.DropAction:
        """A row goes elsewhere; there are no two of it."""
        return Qt.DropAction.MoveAction

    def mimeTypes(self) -> list[str]:
        """Only rows of this table are taken."""
        return [_ROW]

    def mimeData(self, indexes: Sequence[QModelIndex]) -> QMimeData:
        """Return which row is dragged."""
        data = QMimeData()
        rows = {index.row() for index in indexes if index.isValid()}
        if rows:
            data.setData(_ROW, str(min(rows)).encode())
        return data

    def dropMimeData(self, data: QMimeData, action: Qt.DropAction, row: int, column: int, parent: _Index) -> bool:
        """Tell where a row was dropped. Nothing is moved here: the plan says in which order cuts come."""
        text = bytes(data.data(_ROW).data()).decode("ascii", "replace")
        if action != Qt.DropAction.MoveAction or not text.isdigit() or int(text) >= len(self.cuts):
            return False
        before = row if row >= 0 else parent.row() if parent.isValid() else len(self.cuts)
        first = int(text)
        self.moved.emit(first, before - 1 if before > first else before)
        return False  # a view that is told yes takes the row away itself


class CutView(QTableView):
    """Shows the cuts. Columns are measured when there is something new in them, not whenever the table is resized."""

    def __init__(self, table: CutTable, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._names_px = self._how_px = 0  # what is written there needs so much
        self.setModel(table)
        self.setAccessibleName(tr("Cuts in order"))
        self.verticalHeader().hide()
        self.setShowGrid(False)
        self.setAlternatingRowColors(True)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setTabKeyNavigation(False)
        self.setDragDropMode(QAbstractItemView.DragDropMode.InternalMove)
        self.setDragDropOverwriteMode(False)
        self.setDropIndicatorShown(True)
        self.setToolTip(tr("Drag a cut to another place, or move it by Alt+Up and Alt+Down"))

    def fit_columns(self) -> None:
        """Make every column as wide as what is in it, and every row as high as its letters want."""
        rows_by_letters(self)
        self.resizeColumnsToContents()
        self._names_px, self._how_px = self.columnWidth(_WIDE), self.columnWidth(_HOW)
        self._fill()

    def _fill(self) -> None:
        """Let the names have what the figures leave, and enough to be told apart: then the table runs sideways.

        On a wide window half of what they don't need goes to the column after them: an eye finds its way across.
        """
        others = sum(self.columnWidth(column) for column in range(len(_HEADS)) if column not in {_WIDE, _HOW})
        least = self.fontMetrics().averageCharWidth() * _LEAST_LETTERS
        left = self.viewport().width() - others - self._how_px
        spare = max(0, left - max(least, self._names_px)) // 2
        self.setColumnWidth(_HOW, self._how_px + spare)
        self.setColumnWidth(_WIDE, max(least, left - spare))

    def resizeEvent(self, event: QResizeEvent) -> None:
        """The names take up what there is."""
        super().resizeEvent(event)
        self._fill()

    def changeEvent(self, event: QEvent) -> None:
        """Letters of another size need other columns."""
        super().changeEvent(event)
        if event.type() in {QEvent.Type.FontChange, QEvent.Type.StyleChange} and self.isVisible():
            self.fit_columns()

    def showEvent(self, event: QShowEvent) -> None:
        """Letters may have changed while nobody saw them."""
        super().showEvent(event)
        self.fit_columns()
