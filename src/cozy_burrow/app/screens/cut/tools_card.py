"""My tools: what the fitter owns beside a knife. It decides how lines are cut, and is kept from job to job."""

from __future__ import annotations

from PySide6.QtWidgets import QCheckBox, QDialog, QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from cozy_burrow.app.desk import ask
from cozy_burrow.app.desk.bench_desk import BenchDesk
from cozy_burrow.app.look.fields import head, soft, verdict
from cozy_burrow.core.bench.methods import Tools
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.tongue import tr, trn
from cozy_burrow.core.units import Unit, format_length
from cozy_burrow.export.paper import CAUTIONS
from cozy_burrow.jobs.my_tools import saws_from


class ToolsCard(QDialog):
    """Asks, and keeps every answer at once."""

    def __init__(self, desk: BenchDesk, unit: Unit, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._desk, self._unit = desk, unit
        self.setWindowTitle(tr("My tools"))
        self.setMinimumWidth(460)
        column = QVBoxLayout(self)
        column.addWidget(head(tr("Besides a knife I have")))
        owned = desk.tools
        self.rule = self._box(column, tr("a steel rule to cut along"), owned.rule)
        self.narrow = self._box(column, tr("a narrow blade for bends"), owned.narrow_blade)
        self.pin = self._box(column, tr("a hot pin or iron for notches"), owned.hot_pin)
        row = QHBoxLayout()
        column.addLayout(row)
        row.addWidget(QLabel(tr("hole saws and stencils of")))
        self.saws = QLineEdit(", ".join(format_length(saw, unit, suffix=False) for saw in owned.saws_mm))
        self.saws.setAccessibleName(tr("Diameters of hole saws and stencils, parted by commas"))
        self.saws.setPlaceholderText(tr("none; write 25, 40"))
        self.saws.editingFinished.connect(self._keep)
        row.addWidget(self.saws, 1)
        row.addWidget(QLabel("in" if unit == "inch" else "mm"))
        self.warm = self._box(column, tr("I warm the saws (smoother walls)"), owned.warms_saws)
        column.addWidget(soft(CAUTIONS[1]))
        column.addWidget(soft(CAUTIONS[2]))
        self.told = verdict(tip=tr("A saw is used where its circle is within 1 mm of the line"))
        self.told.hide()
        column.addWidget(self.told)
        column.addWidget(head(tr("My log")))
        self.log = soft("")
        self.log.setToolTip(tr("Kept in {path}", path=desk.path))
        column.addWidget(self.log)
        row = QHBoxLayout()
        column.addLayout(row)
        self.copy_button = QPushButton(tr("Save a copy…"))
        self.copy_button.clicked.connect(self._ask_copy)
        self.forget_button = QPushButton(tr("Delete my log…"))
        self.forget_button.clicked.connect(self._ask_forget)
        for button in (self.copy_button, self.forget_button):
            button.setAutoDefault(False)
            row.addWidget(button)
        desk.changed.connect(self._tell_log)
        self._tell_log()
        close = QPushButton(tr("Close"))
        close.setAutoDefault(False)
        close.clicked.connect(self.close)
        column.addWidget(close)

    def _box(self, column: QVBoxLayout, text: str, is_owned: bool) -> QCheckBox:
        box = QCheckBox(text)
        box.setChecked(is_owned)
        box.toggled.connect(lambda _: self._keep())
        column.addWidget(box)
        return box

    def _tell_log(self) -> None:
        count = len(self._desk.log)
        said = trn("{count} finished sheet, kept here only.", "{count} finished sheets, kept here only.", count)
        self.log.setText(self._desk.trouble or said)
        self.copy_button.setEnabled(count > 0)
        self.forget_button.setEnabled(count > 0 or bool(self._desk.trouble))

    def _ask_copy(self) -> None:
        path = ask.target(self, tr("Save a copy of my log"), "bench-log.csv", tr("Table (*.csv)"), ".csv")
        if path is not None:
            self._tell(self._desk.copy_to(path))

    def _ask_forget(self) -> None:
        text = tr("All times and blades that you have logged are deleted. Forecasts start again from what is usual.")
        if ask.which(self, tr("Delete my log"), text, (tr("Delete it"), tr("Keep it"))) == 0:
            self._tell(self._desk.forget())

    def _tell(self, trouble: str) -> None:
        self.told.setText(trouble)
        self.told.setVisible(bool(trouble))

    def _keep(self) -> None:
        try:
            tools = Tools(
                rule=self.rule.isChecked(),
                narrow_blade=self.narrow.isChecked(),
                saws_mm=saws_from(self.saws.text(), unit=self._unit),
                warms_saws=self.warm.isChecked(),
                hot_pin=self.pin.isChecked(),
            )
            if tools != self._desk.tools:
                self._desk.own(tools)
        except UnusableInput as error:
            self._tell(error.sentence())
        else:
            self._tell("")
