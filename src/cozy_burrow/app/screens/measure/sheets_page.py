"""Sheets: the cheapest way to cut all blanks of the job, the price list, and the shelf that outlives the job."""

from __future__ import annotations

from pathlib import Path

from msgspec.structs import replace
from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QPushButton, QWidget

from cozy_burrow.app.desk import ask
from cozy_burrow.app.desk.stores_desk import StoresDesk
from cozy_burrow.app.desk.tasks import Task
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import Form, head, soft, verdict
from cozy_burrow.app.look.fold import Fold
from cozy_burrow.app.screens.measure.board_rows import BoardRows
from cozy_burrow.app.screens.measure.boards_view import offcut_words
from cozy_burrow.app.screens.measure.page import Page, narrow
from cozy_burrow.app.screens.measure.shelf_rows import ShelfRows
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.foam.purchase import Purchase
from cozy_burrow.core.tongue import tr, trn
from cozy_burrow.jobs.boards import SHORT_WORDS, purchase_for, shelf_after, wanted_blanks
from cozy_burrow.jobs.files import write_all


class SheetsPage(Page):
    """`planned`: the purchase, or None while it is worked out."""

    planned = Signal(object)

    def __init__(self, workspace: Workspace, stores: StoresDesk, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        self._stores = stores
        self._task: Task | None = None
        self._asked: tuple[object, ...] | None = None
        self.purchase: Purchase | None = None
        self.column.addWidget(head(tr("Buy and cut")))
        self._text = verdict(
            tip=tr(
                "The cheapest of all ways to cut the job's blanks from shelf and price list, packs and delivery in it."
            )
        )
        self.column.addWidget(self._text)
        form = Form()
        self.cutting = QComboBox()
        self.cutting.setAccessibleName(tr("Cut by"))
        narrow(self.cutting)
        self.cutting.addItem(tr("knife, free cuts"), "knife")
        self.cutting.addItem(tr("saw, straight through"), "saw")
        self.cutting.activated.connect(
            lambda index: stores.take(replace(stores.stores, cutting=self.cutting.itemData(index)))
        )
        form.addRow(tr("Cut by"), self.cutting)
        self.kerf = self.length(
            form,
            tr("Saw's kerf"),
            lambda: stores.stores.kerf_mm,
            lambda mm: stores.take(replace(stores.stores, kerf_mm=mm)),
        )
        self._form = form
        self.column.addLayout(form)
        self.print_plan = QPushButton(tr("Write the plan as PDF…"))
        self.print_plan.clicked.connect(self._ask_where)
        self.column.addWidget(self.print_plan)
        self.done = QPushButton(tr("Cut: keep the offcuts"))
        self.done.setToolTip(tr("Takes used pieces off the shelf and puts offcuts and whole boards on it."))
        self.done.clicked.connect(self._keep_offcuts)
        self.column.addWidget(self.done)
        self._saw = soft(tr("Saw: guards on, a push stick, no gloves near the blade; the maker's instructions count."))
        self.column.addWidget(self._saw)
        self.boards = BoardRows(workspace, stores, self)
        self.shelf = ShelfRows(workspace, stores, self)
        self.prices, self.pieces = Fold(tr("Price list")), Fold(tr("On the shelf, as measured"))
        for fold, held in ((self.prices, self.boards), (self.pieces, self.shelf)):
            fold.column.addWidget(held)
            self.column.addWidget(fold)
        self.column.addStretch(1)
        stores.changed.connect(self._follow_if_seen)
        stores.refused.connect(lambda sentence: self._hear(tr("price list"), sentence))
        self.follow()

    def follow(self) -> None:
        """Show the plan, and ask for a new one where what it depends on has changed."""
        super().follow()
        stores = self._stores.stores
        self.cutting.setCurrentIndex(self.cutting.findData(stores.cutting))
        self._form.setRowVisible(self.kerf, stores.cutting == "saw")
        self._saw.setVisible(stores.cutting == "saw")
        self.boards.follow()
        self.shelf.follow()
        self._ask()

    def _ask(self) -> None:
        if not self.isVisible():
            return  # worked out only while somebody looks
        project, stores = self._workspace.project, self._stores.stores
        asked = (stores, *((one.name, one.sheet, one.outline.wkb) for one in wanted_blanks(project)))
        if asked == self._asked:
            return
        self._asked = asked
        self.stop()
        self.purchase = None
        self.planned.emit(None)
        self._text.setText(tr("Working out how to cut…"))
        task = Task(lambda token: purchase_for(project, stores, token=token), self)
        task.done.connect(lambda purchase: self._take(asked, purchase))
        self._task = task
        task.begin()

    def stop(self) -> None:
        """Stop the search that is under way."""
        if self._task is not None:
            self._task.stop()

    def _take(self, asked: object, purchase: Purchase) -> None:
        if asked is not self._asked:
            return
        self.purchase = purchase
        self._text.setText("\n".join((*self._sums(purchase), *self._cautions(purchase))))
        self.done.setEnabled(bool(purchase.boards))
        self.print_plan.setEnabled(bool(purchase.boards))
        self.planned.emit(purchase)

    def words(self, purchase: Purchase) -> str:
        """Return the plan in words, as it is printed."""
        kept = [text for one in purchase.boards if (text := offcut_words(one, self._workspace))]
        worth = [tr("Worth keeping: ") + "; ".join(kept)] if kept else []  # on screen they are drawn
        return "\n".join((*self._bill(purchase), *self._sums(purchase), *worth, *self._cautions(purchase)))

    def _bill(self, purchase: Purchase) -> list[str]:
        """Return what is bought and taken off the shelf; on screen that is a table."""
        money = self._stores.stores.currency
        lines = []
        for order in purchase.orders:
            said = {"pack": order.board.pack, "name": order.board.name, "price": f"{money}{order.cost:.2f}"}
            if order.board.pack == 1:
                lines.append(
                    trn("{count} board: {name}, {price}", "{count} boards: {name}, {price}", order.packs, **said)
                )
            else:
                lines.append(
                    trn(
                        "{count} pack of {pack}: {name}, {price}",
                        "{count} packs of {pack}: {name}, {price}",
                        order.packs,
                        **said,
                    )
                )
        lines += [
            tr("delivery, {name}: {money}{cost:.2f}", name=name or "unnamed", money=money, cost=cost)
            for name, cost in purchase.deliveries
        ]
        shelf = sum(1 for one in purchase.boards if one.piece is not None)
        if shelf:
            lines.append(tr("{shelf} from the shelf", shelf=shelf))
        return lines

    def _sums(self, purchase: Purchase) -> list[str]:
        """Return what the plan comes to."""
        if not purchase.boards:
            return []
        return [
            tr("Together {money}{cost:.2f}.", money=self._stores.stores.currency, cost=purchase.cost),
            tr(
                "Of the foam cut into, {kept_share:.0%} goes to the shelf and {waste_share:.0%} is waste.",
                kept_share=purchase.kept_share,
                waste_share=purchase.waste_share,
            ),
        ]

    def _cautions(self, purchase: Purchase) -> list[str]:
        """Return what must be known of the plan."""
        lines = [f"{one.name}: {SHORT_WORDS[why]}." for one, why in purchase.short]
        if not purchase.proven and purchase.boards:
            lines.append(tr("Not every way to cut so many blanks was tried: a cheaper plan may exist."))
        return lines

    def _keep_offcuts(self) -> None:
        if self.purchase is not None and self._stores.take(shelf_after(self._stores.stores, self.purchase)):
            self._workspace.said.emit(tr("The shelf is up to date"))

    def _ask_where(self) -> None:
        path = ask.target(self, tr("Write the cutting plan"), "boards.pdf", tr("PDF (*.pdf)"), ".pdf")
        if path is not None:
            self.write_plan(path)

    def write_plan(self, path: Path) -> None:
        """Write the plan as a PDF."""
        from cozy_burrow.export.boards_pdf import boards_pdf

        if self.purchase is None:
            return
        words = self.words(self.purchase)
        try:
            data = boards_pdf(self.purchase, title=self._workspace.project.title, words=words)
            write_all(path.parent, {path.name: data})
        except UnusableInput as error:
            self._hear(tr("cutting plan"), error.sentence())
            return
        self._workspace.said.emit(tr("Cutting plan written to {name}", name=path.name))
