"""The shopping list of a job: what, which size, how many, at which price, and what it comes to."""

from __future__ import annotations

from collections.abc import Iterator

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem, QWidget

from cozy_burrow.app.desk.stores_desk import StoresDesk
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.tables import rows_by_letters
from cozy_burrow.core.foam.purchase import Purchase
from cozy_burrow.core.model.vessels import Board, Piece
from cozy_burrow.core.tongue import tr, trn

_HEADS = (tr("What"), tr("Size"), tr("How many"), tr("Price"), tr("Sum"))
_WORDS = 2  # columns; those after them are figures
_Row = tuple[str, str, str, str, str]


def _side(column: int) -> Qt.AlignmentFlag:
    """Where cells of a column stand, and its head over them."""
    side = Qt.AlignmentFlag.AlignLeft if column < _WORDS else Qt.AlignmentFlag.AlignRight
    return side | Qt.AlignmentFlag.AlignVCenter


class ShoppingTable(QTableWidget):
    """One row a kind of board, one a delivery, what comes from the shelf, and the sum."""

    def __init__(self, workspace: Workspace, stores: StoresDesk, parent: QWidget | None = None) -> None:
        super().__init__(0, len(_HEADS), parent)
        self._workspace, self._stores = workspace, stores
        for column, text in enumerate(_HEADS):
            head = QTableWidgetItem(text)
            head.setTextAlignment(_side(column))
            self.setHorizontalHeaderItem(column, head)
        self.setAccessibleName(tr("Shopping list"))
        self.verticalHeader().hide()
        self.setShowGrid(False)
        self.setAlternatingRowColors(True)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setTabKeyNavigation(False)
        self.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        self.horizontalHeader().setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)

    def changeEvent(self, event: QEvent) -> None:
        """Larger letters want higher rows."""
        super().changeEvent(event)
        if event.type() in {QEvent.Type.FontChange, QEvent.Type.StyleChange}:
            rows_by_letters(self)

    def show_purchase(self, purchase: Purchase | None) -> None:
        """Show a plan; None: it is being worked out."""
        rows = list(self._rows(purchase)) if purchase is not None else []
        self.setRowCount(len(rows))
        for number, row in enumerate(rows):
            is_sum = number == len(rows) - 1
            for column, text in enumerate(row):
                cell = QTableWidgetItem(text)
                cell.setTextAlignment(_side(column))
                if is_sum:
                    font = QFont(self.font())
                    font.setBold(True)
                    cell.setFont(font)
                self.setItem(number, column, cell)

    def _rows(self, purchase: Purchase) -> Iterator[_Row]:
        for order in purchase.orders:
            board = order.board
            pack = "" if board.pack == 1 else " " + trn("(pack of {count})", "(packs of {count})", board.pack)
            price = tr("no price") if board.price is None else self._money(board.price)
            yield board.name, self._size(board), f"{order.packs}{pack}", price, self._money(order.cost)
        for piece, count in self._from_shelf(purchase):
            wide, deep = self._sides(piece)
            name = tr("from the shelf: {name}", name=piece.board.name) + (f" ({piece.note})" if piece.note else "")
            yield name, f"{wide} × {deep}", str(count), "–", "–"
        for supplier, cost in purchase.deliveries:
            name = tr("delivery, {name}", name=supplier or tr("unnamed"))
            yield name, "", "1", self._money(cost), self._money(cost)
        if purchase.boards:
            yield tr("Together"), "", "", "", self._money(purchase.cost)

    def _from_shelf(self, purchase: Purchase) -> list[tuple[Piece, int]]:
        pieces = [one.piece for one in purchase.boards if one.piece is not None]
        return [(piece, 1) for piece in pieces]

    def _money(self, sum_: float) -> str:
        return f"{self._stores.stores.currency}{sum_:.2f}"

    def _size(self, board: Board) -> str:
        length = self._workspace.length
        sides = (length(side, digits=0) for side in (board.width_mm, board.depth_mm, board.thickness_mm))
        return " × ".join(sides)

    def _sides(self, piece: Piece) -> tuple[str, str]:
        length, (back, right, front, left) = self._workspace.length, piece.sides_mm
        return length(min(back, front), digits=0), length(min(right, left), digits=0)
