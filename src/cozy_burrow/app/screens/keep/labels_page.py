"""Labels: for drawers, inserts, places and the floors of pockets; onto sheets, tapes, or the label printer."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtWidgets import QCheckBox, QComboBox, QPushButton, QWidget

from cozy_burrow.app.desk import ask
from cozy_burrow.app.desk.aside import Aside
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.frame.paged_panel import RefusingPage
from cozy_burrow.app.look.count_box import CountBox
from cozy_burrow.app.look.fields import Form, head, soft, verdict
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.tongue import tr, trn
from cozy_burrow.devices.label_printer import LabelPrinter, SimulatedLabelPrinter
from cozy_burrow.export.label_sheets_pdf import Label, LabelSheet, floor_labels_pdf, label_sheets, label_sheets_pdf
from cozy_burrow.jobs.labels import WHAT_NAMES, floor_pieces, labels_of
from cozy_burrow.storage.whole_file import write_whole


class LabelsPage(RefusingPage):
    """Chooses what is labelled and on what; writes it."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        self.printer: LabelPrinter = SimulatedLabelPrinter()
        self.aside = Aside(workspace, self)
        self.aside.changed.connect(self._follow_if_seen)
        self.column.addWidget(head(tr("Labels")))
        form = Form()
        self.what = QComboBox()
        self.what.setAccessibleName(tr("What gets a label"))
        for what, text in WHAT_NAMES.items():
            self.what.addItem(text, what)
        self.sheet = QComboBox()
        self.sheet.setAccessibleName(tr("Label sheet or tape"))
        for name, sheet in label_sheets().items():
            self.sheet.addItem(sheet_words(sheet), name)
        for box in (self.what, self.sheet):
            box.setMinimumContentsLength(6)
            box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            box.activated.connect(lambda _: self.follow())
        self.start = CountBox()
        self.start.setAccessibleName(tr("First free place of the sheet"))
        self.start.setToolTip(tr("Counted along the rows, from the top left: sheets that were begun are used up"))
        self.start.valueChanged.connect(lambda _: self.follow())
        form.addRow(tr("For"), self.what)
        form.addRow(tr("Onto"), self.sheet)
        form.addRow(tr("From place"), self.start)
        self.column.addLayout(form)
        self.all_inserts = QCheckBox(tr("of all inserts"))
        self.picture = QCheckBox(tr("with the item's outline"))
        for check in (self.all_inserts, self.picture):
            check.toggled.connect(lambda _: self.follow())
            self.column.addWidget(check)
        self.verdict = verdict()
        self.column.addWidget(self.verdict)
        self.write_button = self._button(tr("Write the labels…"), self._ask)
        self.write_button.setObjectName("main")
        self.printer_button = self._button(tr("Print on the label printer"), self.print_tape)
        self.printer_button.setToolTip(tr("The stand-in shipped with the program: no printer is plugged in"))
        self.column.addWidget(head(tr("At the bottom of the pockets")))
        self.column.addWidget(
            soft(tr("As large as each floor allows, at true size: an empty place then says what is missing."))
        )
        self.floor_button = self._button(tr("Write the floor labels…"), self._ask_floor)
        self.column.addStretch(1)
        self.follow()

    def _button(self, text: str, do: Callable[[], object]) -> QPushButton:
        button = QPushButton(text)
        button.clicked.connect(lambda _=False: do())
        self.column.addWidget(button)
        return button

    @property
    def _sheet(self) -> LabelSheet:
        return label_sheets()[str(self.sheet.currentData())]

    def follow(self) -> None:
        """Show how many labels there are, and how many sheets they need."""
        sheet, labels = self._sheet, self._labels()
        self.start.blockSignals(True)
        self.start.setRange(1, sheet.count)
        self.start.blockSignals(False)
        self.start.setEnabled(not sheet.is_tape)
        self.picture.setEnabled(self.what.currentData() == "places")
        count = len(labels)
        told = trn("{count} label", "{count} labels", count)
        if count and not sheet.is_tape:
            sheets = -(-(self.start.value() - 1 + count) // sheet.count)
            told = trn("{labels} on {count} sheet.", "{labels} on {count} sheets.", sheets, labels=told)
        elif count:
            told = tr("{labels}, cut to their length.", labels=told)
        else:
            told = tr("Nothing to label yet.")
        self.verdict.setText(told)
        self.write_button.setEnabled(bool(count))
        self.printer_button.setEnabled(bool(count))
        self.floor_button.setEnabled(bool(self._workspace.insert.placements) and not self.aside.is_busy)

    def _labels(self) -> list[Label]:
        only = None if self.all_inserts.isChecked() else self._workspace.insert_id
        return labels_of(
            self._workspace.project, self.what.currentData(), insert_id=only, with_picture=self.picture.isChecked()
        )

    def _ask(self) -> None:
        path = ask.target(self, tr("Write the labels"), "labels.pdf", tr("PDF (*.pdf)"), ".pdf")
        if path is not None:
            self.write(path)

    def write(self, path: Path) -> None:
        """Write the labels that are chosen."""
        self._write(path, lambda: label_sheets_pdf(self._labels(), self._sheet, start=self.start.value()))

    def _write(self, path: Path, make: Callable[[], bytes]) -> None:
        try:
            write_whole(path, make())
        except UnusableInput as error:
            self.refused.emit(error.sentence())
        else:
            self.refused.emit("")
            self._workspace.said.emit(tr("Wrote {name}: print at 100 %", name=path.name))

    def print_tape(self) -> None:
        """Print the labels that are chosen onto the tape that is in the printer."""
        tape = LabelSheet(height_mm=self.printer.tape_mm)
        count = self.printer.print_labels(label_sheets_pdf(self._labels(), tape))
        self._workspace.said.emit(trn("{count} label printed on the tape", "{count} labels printed on the tape", count))

    def _ask_floor(self) -> None:
        path = ask.target(self, tr("Write the floor labels"), "floor-labels.pdf", tr("PDF (*.pdf)"), ".pdf")
        if path is not None:
            self.write_floor(path)

    def write_floor(self, path: Path) -> None:
        """Write the labels for the floors of the insert that is shown, worked out beside the window."""
        insert_id = self._workspace.insert_id

        def done(found: tuple[bytes, list[str]]) -> None:
            data, without = found
            self._write(path, lambda: data)
            if without:
                names = ", ".join(without[:4])
                self.refused.emit(
                    trn(
                        "No room for a label on the floor of {names}",
                        "No room for labels on the floors of {names}",
                        len(without),
                        names=names,
                    )
                )

        def work(project: Project) -> tuple[bytes, list[str]]:
            pieces, without = floor_pieces(project, insert_id)
            return floor_labels_pdf(pieces), without

        self.aside.run(work, done)


def sheet_words(sheet: LabelSheet) -> str:
    """Return what a sheet is called: what can be counted and measured on it."""
    if sheet.is_tape:
        return tr("Tape, {height:g} mm", height=sheet.height_mm)
    paper = sheet.paper.upper() if sheet.paper != "letter" else "Letter"
    return tr(
        "{paper}: {columns} × {rows}, {width:g} × {height:g} mm",
        paper=paper,
        columns=sheet.columns,
        rows=sheet.rows,
        width=round(sheet.width_mm, 1),
        height=round(sheet.height_mm, 1),
    )
