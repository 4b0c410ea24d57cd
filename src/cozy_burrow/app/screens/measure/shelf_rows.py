"""The shelf: sheets and offcuts as they really are, four sides, a diagonal, the hollow of each edge."""

from __future__ import annotations

from collections.abc import Callable
from typing import cast

from msgspec.structs import replace
from PySide6.QtWidgets import QComboBox, QGridLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from cozy_burrow.app.desk.stores_desk import StoresDesk
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import LengthField, soft
from cozy_burrow.app.look.long_words import row_of
from cozy_burrow.app.screens.measure.page import Page, narrow
from cozy_burrow.core.foam.boards import measured_outline
from cozy_burrow.core.model.edits import free_id
from cozy_burrow.core.model.names import SIDE_NAMES
from cozy_burrow.core.model.vessels import SIDES, Four, Piece
from cozy_burrow.core.tongue import tr


class ShelfRows(QWidget):
    """A choice of piece and its measures."""

    def __init__(self, workspace: Workspace, stores: StoresDesk, page: Page) -> None:
        super().__init__(page)
        self._workspace, self._stores, self._page, self._current = workspace, stores, page, 0
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        self.chooser = QComboBox()
        self.chooser.setAccessibleName(tr("Piece on the shelf"))
        narrow(self.chooser)
        self.chooser.activated.connect(self._choose)
        layout.addWidget(self.chooser)
        grid = QGridLayout()
        grid.addWidget(QLabel(tr("taped")), 0, 1)
        grid.addWidget(QLabel(tr("hollow")), 0, 2)
        self.sides: list[LengthField] = []
        self.bows: list[LengthField] = []
        for n, side in enumerate(SIDES):
            taped, bow = (
                LengthField(tr("{side} side", side=SIDE_NAMES[side]), least_mm=1.0),
                LengthField(tr("Hollow of the {side} edge", side=SIDE_NAMES[side])),
            )
            taped.entered.connect(lambda mm, n=n: self._set_side(n, mm))
            bow.entered.connect(lambda mm, n=n: self._set_bow(n, mm))
            grid.addWidget(QLabel(SIDE_NAMES[side]), n + 1, 0)
            grid.addWidget(taped, n + 1, 1)
            grid.addWidget(bow, n + 1, 2)
            self.sides.append(taped)
            self.bows.append(bow)
        self.diagonal = LengthField(tr("Diagonal, back left to front right"), least_mm=1.0, optional=True)
        self.diagonal.setPlaceholderText(tr("square"))
        self.diagonal.entered.connect(lambda mm: self._change(lambda one: replace(one, diagonal_mm=mm)))
        grid.addWidget(QLabel(tr("diagonal")), 5, 0)
        grid.addWidget(self.diagonal, 5, 1)
        for field in (*self.sides, *self.bows, self.diagonal):
            field.refused.connect(page.refused)
        layout.addLayout(grid)
        self._about = soft("")
        layout.addWidget(self._about)
        self.board = QComboBox()
        self.board.setAccessibleName(tr("Foam of a piece to add"))
        narrow(self.board)
        layout.addWidget(self.board)
        self.add = QPushButton(tr("Put a piece of it on the shelf"))
        self.add.clicked.connect(self._add)
        self.remove = QPushButton(tr("Take this piece away"))
        self.remove.clicked.connect(self._remove)
        layout.addWidget(self.add)
        layout.addWidget(self.remove)

    def _piece(self) -> Piece | None:
        shelf = self._stores.stores.shelf
        return shelf[min(self._current, len(shelf) - 1)] if shelf else None

    def follow(self) -> None:
        """Show the chosen piece."""
        shelf, unit = self._stores.stores.shelf, self._workspace.unit
        self._current = min(self._current, max(0, len(shelf) - 1))
        self.chooser.clear()
        for piece in shelf:
            left, top, right, bottom = measured_outline(piece).bounds
            wide, deep = (self._workspace.length(size, digits=0) for size in (right - left, bottom - top))
            self.chooser.addItem(f"{row_of(piece.board.name)}, {wide} × {deep}")
        if not shelf:
            self.chooser.addItem(tr("the shelf is empty"))
        self.chooser.setCurrentIndex(self._current)
        boards = self._stores.stores.boards
        if self.board.count() != len(boards):
            self.board.clear()
            self.board.addItems([row_of(board.name) for board in boards])
        one = self._piece()
        for field in (*self.sides, *self.bows, self.diagonal, self.remove):
            field.setEnabled(one is not None)
        if one is None:
            self._about.setText(tr("Offcuts of a job that is cut come here by themselves."))
            return
        for field, value in zip((*self.sides, *self.bows), (*one.sides_mm, *one.bow_mm)):
            field.show_length(value, unit)
        self.diagonal.show_length(one.diagonal_mm, unit)
        self._about.setText(one.note or tr("Blanks are laid on the piece as it is, not as its label says."))

    def _choose(self, index: int) -> None:
        self._current = index
        self.follow()

    def _set_side(self, side: int, value: float) -> None:
        self._change(lambda one: replace(one, sides_mm=_with(one.sides_mm, side, value)))

    def _set_bow(self, side: int, value: float) -> None:
        self._change(lambda one: replace(one, bow_mm=_with(one.bow_mm, side, value)))

    def _change(self, change: Callable[[Piece], Piece]) -> None:
        one = self._piece()
        if one is None:
            return
        changed = change(one)
        shelf = tuple(changed if piece.id == one.id else piece for piece in self._stores.stores.shelf)
        if not self._stores.take(replace(self._stores.stores, shelf=shelf)):
            self.follow()

    def _add(self) -> None:
        stores = self._stores.stores
        board = stores.boards[max(0, self.board.currentIndex())]
        new = Piece(
            id=free_id("piece", [piece.id for piece in stores.shelf]),
            board=board,
            sides_mm=(board.width_mm, board.depth_mm, board.width_mm, board.depth_mm),
        )
        self._current = len(stores.shelf)
        self._stores.take(replace(stores, shelf=(*stores.shelf, new)))

    def _remove(self) -> None:
        one = self._piece()
        kept = tuple(piece for piece in self._stores.stores.shelf if one is None or piece.id != one.id)
        self._stores.take(replace(self._stores.stores, shelf=kept))


def _with(four: Four, index: int, value: float) -> Four:
    return cast(Four, tuple(value if n == index else old for n, old in enumerate(four)))
