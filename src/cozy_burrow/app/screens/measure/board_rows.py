"""The price list: one board at a time, what it costs, its size; the fitter's own boards beside the shipped ones."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace
from PySide6.QtWidgets import QComboBox, QPushButton, QVBoxLayout, QWidget

from cozy_burrow.app.desk.stores_desk import StoresDesk
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import Form, LengthField, NextOnEnter, NumberField, soft
from cozy_burrow.app.look.long_words import row_of
from cozy_burrow.app.screens.measure.page import Page, narrow
from cozy_burrow.core.model.edits import free_id
from cozy_burrow.core.model.vessels import Board, Supplier
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.board_words import board_text


class BoardRows(QWidget):
    """A choice of board and its figures."""

    def __init__(self, workspace: Workspace, stores: StoresDesk, page: Page) -> None:
        super().__init__(page)
        self._workspace, self._stores, self._page, self._current = workspace, stores, page, 0
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        self.chooser = QComboBox()
        self.chooser.setAccessibleName(tr("Board of the price list"))
        narrow(self.chooser)
        self.chooser.activated.connect(self._choose)
        layout.addWidget(self.chooser)
        form = Form()
        self.name = NextOnEnter()
        self.name.setAccessibleName(tr("Name of the board"))
        self.name.editingFinished.connect(self._rename)
        form.addRow(tr("Name"), self.name)
        self.price = NumberField(tr("Price of a pack"), least=0, most=1e6, optional=True)
        self.price.setPlaceholderText(tr("not to be had"))
        self.price.entered.connect(lambda value: self._set(price=value))
        self.pack = NumberField(tr("Sheets in a pack"), least=1, most=1000)
        self.pack.entered.connect(lambda value: self._set(pack=round(value)))
        form.addRow(tr("Price"), self.price)
        form.addRow(tr("a pack of"), self.pack)
        self.lengths: dict[str, LengthField] = {}
        for text, key in (
            (tr("Width"), "width_mm"),
            (tr("Depth"), "depth_mm"),
            (tr("Thickness"), "thickness_mm"),
            (tr("Layer"), "pitch_mm"),
        ):
            field = LengthField(tr("{text} of the board", text=text), least_mm=0.0)
            field.entered.connect(lambda mm, key=key: self._set(**{key: mm}))
            field.refused.connect(page.refused)
            form.addRow(text, field)
            self.lengths[key] = field
        self.seller = NextOnEnter()
        self.seller.setAccessibleName(tr("Who sells it"))
        self.seller.editingFinished.connect(self._set_seller)
        form.addRow(tr("Sold by"), self.seller)
        self.delivery = NumberField(tr("Delivery"), least=0, most=1e5)
        self.delivery.entered.connect(lambda value: self._set_supplier(delivery=value))
        self.free = NumberField(tr("Delivery is free from"), least=0, most=1e6, optional=True)
        self.free.setPlaceholderText(tr("never"))
        self.free.entered.connect(lambda value: self._set_supplier(free_from=value))
        form.addRow(tr("Delivery"), self.delivery)
        form.addRow(tr("free from"), self.free)
        for number in (self.price, self.pack, self.delivery, self.free):
            number.refused.connect(page.refused)
        layout.addLayout(form)
        self._about = soft("")
        layout.addWidget(self._about)
        self.add = QPushButton(tr("Add a board like this one"))
        self.add.clicked.connect(self._add)
        self.remove = QPushButton(tr("Take it off the list"))
        self.remove.clicked.connect(self._remove)
        layout.addWidget(self.add)
        layout.addWidget(self.remove)

    def _board(self) -> Board | None:
        boards = self._stores.stores.boards
        return boards[min(self._current, len(boards) - 1)] if boards else None

    def follow(self) -> None:
        """Show the chosen board."""
        boards, money = self._stores.stores.boards, self._stores.stores.currency
        self._current = min(self._current, max(0, len(boards) - 1))
        self.chooser.clear()
        for board in boards:
            self.chooser.addItem(row_of(board.name) + ("" if board.price is None else f"   {money}{board.price:.2f}"))
        self.chooser.setCurrentIndex(self._current)
        one = self._board()
        if one is None:
            return
        if not self.name.hasFocus():
            self.name.setText(one.name)
        if not self.seller.hasFocus():
            self.seller.setText(one.supplier)
        self.price.show_number(one.price)
        self.pack.show_number(one.pack)
        for key, field in self.lengths.items():
            field.show_length(getattr(one, key), self._workspace.unit)
        self.lengths["pitch_mm"].setEnabled(one.material == "layered")
        seller = self._supplier(one.supplier)
        self.delivery.show_number(seller.delivery)
        self.free.show_number(seller.free_from)
        self._about.setText(board_text(one))

    def _supplier(self, name: str) -> Supplier:
        return next((one for one in self._stores.stores.suppliers if one.name == name), Supplier(name=name))

    def _choose(self, index: int) -> None:
        self._current = index
        self.follow()

    def _set(self, **fields: Any) -> None:
        one = self._board()
        if one is None:
            return
        if one.material != "layered" and "thickness_mm" in fields:
            fields["pitch_mm"] = fields["thickness_mm"]
        changed = replace(one, **fields)
        boards = tuple(changed if board.id == one.id else board for board in self._stores.stores.boards)
        if not self._stores.take(replace(self._stores.stores, boards=boards)):
            self.follow()

    def _rename(self) -> None:
        text = " ".join(self.name.text().split())
        one = self._board()
        if one is not None and text != one.name:
            self._set(name=text)

    def _set_seller(self) -> None:
        one = self._board()
        if one is not None and self.seller.text().strip() != one.supplier:
            self._set(supplier=self.seller.text().strip())

    def _set_supplier(self, **fields: Any) -> None:
        one = self._board()
        if one is None:
            return
        changed = replace(self._supplier(one.supplier), **fields)
        others = tuple(seller for seller in self._stores.stores.suppliers if seller.name != changed.name)
        self._stores.take(replace(self._stores.stores, suppliers=(*others, changed)))

    def _add(self) -> None:
        one = self._board() or Board(id="own-0", name=tr("my own foam"))
        boards = self._stores.stores.boards
        new = replace(one, id=free_id("own", [board.id for board in boards]), name=tr("{name}, my own", name=one.name))
        self._current = len(boards)
        self._stores.take(replace(self._stores.stores, boards=(*boards, new)))

    def _remove(self) -> None:
        one = self._board()
        kept = tuple(board for board in self._stores.stores.boards if one is None or board.id != one.id)
        self._stores.take(replace(self._stores.stores, boards=kept))
