"""Print: which papers, on which printer, and once the first template lies there, how long its bar really is."""

from __future__ import annotations

from PySide6.QtPrintSupport import QPrintDialog, QPrinter
from PySide6.QtWidgets import QCheckBox, QDialog, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from cozy_burrow.app.desk.printing import BAR_MM, Pages, Printing, cut_off_mm, is_file
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import LengthField, head, soft, verdict
from cozy_burrow.core.tongue import tr, trn
from cozy_burrow.jobs.papers import PAPERS
from cozy_burrow.jobs.workshop import ANY, Workshop

_LEAST_BAR_MM, _MOST_BAR_MM = 80.0, 120.0  # beyond, it is another bar, or the printer fits pages to its sheets
_TRUE_MM = 0.2  # of the bar: nearer than that nobody measures it


class PrintCard(QDialog):
    """Asks, prints, tells."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None, *, workshop: Workshop = ANY) -> None:
        super().__init__(parent)
        self._workspace = workspace
        self._printing = Printing(workspace, self, workshop)
        self._printer: QPrinter | None = None
        self._pages: Pages = ()
        self._bar_mm = BAR_MM
        self.setWindowTitle(tr("Print"))
        self.setMinimumWidth(440)
        column = QVBoxLayout(self)
        column.addWidget(head(tr("What goes on paper")))
        self.choices = {kind: QCheckBox(name) for kind, (name, _) in PAPERS.items()}
        for kind, box in self.choices.items():
            box.setChecked(kind == "templates")
            box.toggled.connect(lambda _: self._show_state())
            column.addWidget(box)
        column.addWidget(
            soft(tr("Everything is printed at 100 %. Switch off “fit to page” in the printer's own settings."))
        )
        self.told = verdict(tip=tr("The first template is printed alone, so that a wrong size costs one sheet."))
        column.addWidget(self.told)
        self._asking = self._build_asking()
        column.addWidget(self._asking)
        row = QHBoxLayout()
        column.addLayout(row)
        self.choose_button = QPushButton(tr("Choose a printer…"))
        self.choose_button.setObjectName("main")
        self.choose_button.clicked.connect(self._choose)
        row.addWidget(self.choose_button, 1)
        close = QPushButton(tr("Close"))
        close.clicked.connect(self.close)
        row.addWidget(close)
        self._printing.made.connect(self._take)
        self._printing.printed.connect(self._hear_printed)
        self._printing.failed.connect(self._say)
        self.finished.connect(lambda _: self._printing.stop())
        self._say("")
        self._show_state()

    def _build_asking(self) -> QWidget:
        asking = QWidget()
        row = QHBoxLayout(asking)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(QLabel(tr("How long is the bar on paper?")))
        self.bar = LengthField(tr("Length of the printed bar"), least_mm=_LEAST_BAR_MM, most_mm=_MOST_BAR_MM)
        self.bar.setToolTip(tr("Measure between the outer ends of the bar at the foot of the page, with a steel rule."))
        self.bar.show_length(BAR_MM, self._workspace.unit)
        self.bar.entered.connect(self._set_bar)
        self.bar.refused.connect(self._say)
        row.addWidget(self.bar, 1)
        self.rest_button = QPushButton(tr("Print the rest"))
        self.rest_button.setObjectName("main")
        self.rest_button.clicked.connect(self._print_rest)
        row.addWidget(self.rest_button)
        asking.hide()
        return asking

    @property
    def is_busy(self) -> bool:
        """Whether pages are being made, or put on paper."""
        return self._printing.is_busy

    def _kinds(self) -> tuple[str, ...]:
        return tuple(kind for kind, box in self.choices.items() if box.isChecked())

    def _show_state(self) -> None:
        self.choose_button.setEnabled(bool(self._kinds()) and not self.is_busy and self._asking.isHidden())
        self.rest_button.setEnabled(not self.is_busy)
        for box in self.choices.values():
            box.setEnabled(not self.is_busy and self._asking.isHidden())
        layout = self.layout()
        if layout is not None and self.isVisible():  # what is told needs more or fewer lines
            layout.activate()
            self.resize(self.width(), max(self.minimumHeight(), layout.totalHeightForWidth(self.width())))

    def _say(self, text: str) -> None:
        self.told.setText(text)
        self.told.setVisible(bool(text))
        self._show_state()

    def _choose(self) -> None:
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        dialog = QPrintDialog(printer, self)
        accepted = dialog.exec() == QDialog.DialogCode.Accepted
        dialog.deleteLater()
        if accepted:
            self.print_on(printer)

    def print_on(self, printer: QPrinter) -> None:
        """Print what is chosen: the first template alone where a bar can be measured on paper."""
        self._printer, self._bar_mm = printer, BAR_MM
        self._printing.make(printer, self._kinds())
        self._say(tr("The pages are being made…"))

    def _take(self, pages: Pages) -> None:
        assert self._printer is not None
        self._pages = pages
        if not pages:
            self._say(tr("Nothing to print: nothing lies in any insert."))
            return
        first = self._asks(self._printer) and pages[0].paper == "templates"
        self._printing.put(self._printer, pages[:1] if first else pages)
        self._say(tr("Page 1 is being printed…") if first else tr("The pages are being printed…"))
        self._asking.setVisible(first)
        self._show_state()

    def _asks(self, printer: QPrinter) -> bool:
        """Return whether the bar can come out wrong: a file is as long as it says."""
        return not is_file(printer)

    def _hear_printed(self, count: int) -> None:
        assert self._printer is not None
        if not self._asking.isHidden():
            self._say(
                tr("Page 1 of {count} is printed. Measure the bar at its foot.", count=len(self._pages))
                + self._cut_words()
            )
            self.bar.setFocus()
            self.bar.selectAll()
            return
        self._say(trn("{count} page is printed.", "{count} pages are printed.", count) + self._cut_words())

    def _cut_words(self) -> str:
        assert self._printer is not None
        off = cut_off_mm(self._printer)
        if off <= 0 or self._pages[0].paper != "templates":
            return ""
        return " " + tr(
            "This printer leaves {off} more blank at an edge than the templates do: what pages share there is cut off.",
            off=self._workspace.length(off),
        )

    def _set_bar(self, length_mm: float) -> None:
        self._bar_mm = length_mm

    def _print_rest(self) -> None:
        assert self._printer is not None
        if self.bar.trouble:  # a size that is not known is no size to print at
            self.bar.setFocus()
            return
        self._asking.hide()
        is_true = abs(self._bar_mm - BAR_MM) <= _TRUE_MM
        pages = self._pages[1:] if is_true else self._pages
        if not pages:
            self._say(tr("The only page is true to size. Nothing else is to be printed."))
            return
        self._printing.put(self._printer, pages, bar_mm=BAR_MM if is_true else self._bar_mm)
        self._say(
            tr("The other pages are being printed…")
            if is_true
            else tr(
                "All pages are being printed, page 1 again, {percent:.1f} % of the size that they had.",
                percent=100.0 * BAR_MM / self._bar_mm,
            )
        )
