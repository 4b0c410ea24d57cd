"""Price of the job: what an hour, a blade and laying out cost; what it comes to is worked out beside the window."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PySide6.QtWidgets import QDialog, QLineEdit, QPushButton, QVBoxLayout, QWidget

from cozy_burrow.app.desk.stores_desk import StoresDesk
from cozy_burrow.app.desk.tasks import Task
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import Form, NumberField, head, soft, verdict
from cozy_burrow.core.bench.price import Price
from cozy_burrow.core.model.vessels import Stores
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.price import MADE_OF, job_price, price_text
from cozy_burrow.jobs.workshop import Workshop
from cozy_burrow.storage.stores_file import MOST_RATE

_MOST_LAYOUT_H = 100.0


class PriceCard(QDialog):
    """Keeps every answer at once, with the price list; says the price."""

    def __init__(
        self,
        workspace: Workspace,
        stores: StoresDesk,
        workshop: Callable[[], Workshop],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._workspace, self._stores, self._workshop = workspace, stores, workshop
        self._task: Task | None = None
        self.setWindowTitle(tr("Price of the job"))
        self.setMinimumWidth(460)
        column = QVBoxLayout(self)
        column.addWidget(head(tr("For those who are paid for it")))
        form = Form()
        column.addLayout(form)
        self.currency = QLineEdit()
        self.currency.setMaxLength(8)
        self.currency.setAccessibleName(tr("Currency"))
        self.currency.editingFinished.connect(self._take_currency)
        form.addRow(tr("Currency"), self.currency)
        self.hour = NumberField(tr("An hour of work"), least=0.0, most=MOST_RATE, optional=True)
        self.hour.setPlaceholderText(tr("empty: no price"))
        self.hour.entered.connect(lambda value: self._take(hour_rate=value))
        form.addRow(tr("An hour of work"), self.hour)
        self.blade = NumberField(tr("A blade"), least=0.0, most=MOST_RATE)
        self.blade.entered.connect(lambda value: self._take(blade_price=value))
        form.addRow(tr("A blade"), self.blade)
        self.layout_h = NumberField(tr("Measuring and laying out an insert"), least=0.0, most=_MOST_LAYOUT_H, unit=" h")
        self.layout_h.entered.connect(lambda value: self._take(layout_h=value))
        form.addRow(tr("Measuring and laying out an insert"), self.layout_h)
        self.told = verdict(tip=MADE_OF)
        column.addWidget(self.told)
        column.addWidget(soft(tr("Time and price go onto the job sheet as soon as an hour has a price.")))
        self.trouble = verdict()
        self.trouble.hide()
        column.addWidget(self.trouble)
        for field in (self.hour, self.blade, self.layout_h):
            field.refused.connect(self._refuse)
        close = QPushButton(tr("Close"))
        close.setAutoDefault(False)
        close.clicked.connect(self.close)
        column.addWidget(close)
        stores.changed.connect(self._follow)
        stores.refused.connect(self._refuse)
        workspace.document_changed.connect(self.ask)
        self.finished.connect(lambda _: self._stop())
        self._follow()

    def _follow(self) -> None:
        stores = self._stores.stores
        if not (self.currency.hasFocus() and self.currency.isModified()):
            self.currency.setText(stores.currency)
        self.hour.show_number(stores.hour_rate)
        self.blade.show_number(stores.blade_price)
        self.layout_h.show_number(stores.layout_h)
        self.ask()

    def _take_currency(self) -> None:
        self.currency.setModified(False)
        self._take(currency=self.currency.text().strip())

    def _take(self, **changes: object) -> None:
        stores: Stores = replace(self._stores.stores, **changes)
        if stores != self._stores.stores:
            self._stores.take(stores)

    def _refuse(self, sentence: str) -> None:
        self.trouble.setText(sentence)
        self.trouble.setVisible(bool(sentence))

    def ask(self) -> None:
        """Work the price out anew, where there is one."""
        self._stop()
        project, workshop = self._workspace.project, self._workshop()
        if workshop.stores.hour_rate is None:
            self.told.setText(tr("No price: an hour of work has none."))
            return
        self.told.setText(tr("Working out the price…"))
        self._task = task = Task(lambda token: job_price(project, workshop, token=token), self)
        inserts = sum(1 for insert in project.inserts if insert.placements)
        task.done.connect(lambda price: self._show(task, price, workshop.stores.currency, inserts))
        task.failed.connect(_raise)
        task.begin()

    def _show(self, task: Task, price: Price | None, currency: str, inserts: int) -> None:
        if task is not self._task:
            return
        self._task = None
        if price is None:
            self.told.setText(tr("Nothing lies in any insert yet."))
        else:
            text = price_text(price, currency, inserts=inserts)
            self.told.setText(text[:1].upper() + text[1:] + ".")

    @property
    def is_busy(self) -> bool:
        """Whether the price is being worked out."""
        return self._task is not None

    def _stop(self) -> None:
        if self._task is not None:
            self._task.stop()
            self._task = None


def _raise(error: Exception) -> None:
    raise error  # on the interface's thread, where the crash guard keeps the work
