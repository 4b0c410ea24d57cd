"""Papers onto a printer, at true size: pages are made by another process, and put on paper beside the window."""

from __future__ import annotations

import os
from collections.abc import Callable, Sequence
from pathlib import Path

from PySide6.QtCore import QObject, QRectF, Signal, SignalInstance
from PySide6.QtGui import QImage, QPageLayout, QPageSize, QPainter
from PySide6.QtPrintSupport import QPrinter

from cozy_burrow.app.desk.tasks import Task
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.progress import Token
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.apart import run_apart
from cozy_burrow.jobs.printing import NEEDS_BLANK_MM, PrintedPage, pages_to_print
from cozy_burrow.jobs.workshop import ANY, Workshop

_MM_PER_INCH = 25.4
BAR_MM = 100.0
Pages = tuple[PrintedPage, ...]


class Printing(QObject):
    """One thing at a time. `made`: the pages are there; `printed`: so many are on paper; `failed`: a sentence."""

    made = Signal(object)
    printed = Signal(int)
    failed = Signal(str)

    def __init__(self, workspace: Workspace, parent: QObject, workshop: Workshop = ANY) -> None:
        super().__init__(parent)
        self.workshop = workshop
        self._workspace = workspace
        self._task: Task | None = None

    @property
    def is_busy(self) -> bool:
        """Whether pages are being made, or put on paper."""
        return self._task is not None

    def make(self, printer: QPrinter, kinds: Sequence[str]) -> None:
        """Make the pages of some papers for the sheets of a printer."""
        project, size = self._workspace.project, _sheet_mm(printer)
        self._begin(
            lambda token: run_apart(pages_to_print, project, tuple(kinds), *size, self.workshop, token=token),
            self.made,
        )

    def put(self, printer: QPrinter, pages: Pages, *, bar_mm: float = BAR_MM) -> None:
        """Put pages on paper as one job. bar_mm: how long this printer has made the bar of a hundred millimetres."""
        self._begin(lambda token: put_on_paper(printer, pages, BAR_MM / bar_mm, token), self.printed)

    def stop(self) -> None:
        """Begin no further page."""
        if self._task is not None:
            self._task.stop()

    def _begin(self, work: Callable[[Token], object], done: SignalInstance) -> None:
        task = self._task = Task(work, self, elsewhere=True)
        task.finished.connect(lambda: self._end(task))
        task.done.connect(lambda outcome: self._tell(task, done, outcome))
        task.failed.connect(self._hear)
        task.begin()

    def _tell(self, task: Task, done: SignalInstance, outcome: object) -> None:
        self._end(task)  # whoever hears it may begin the next
        done.emit(outcome)

    def _end(self, task: Task) -> None:
        if self._task is task:
            self._task = None

    def _hear(self, error: Exception) -> None:
        if not isinstance(error, UnusableInput):
            raise error  # on the interface's thread, where the crash guard keeps the work
        self._task = None
        self.failed.emit(error.sentence())


def put_on_paper(printer: QPrinter, pages: Pages, stretch: float, token: Token) -> int:
    """Print pages as one job, larger by a factor about their middles; return how many. Raises UnusableInput."""
    printer.setFullPage(True)
    name = printer.outputFileName()
    if name and not os.access(Path(name).parent, os.W_OK):
        raise UnusableInput(tr("no file can be written there"), where=name, remedy=tr("choose another folder"))
    painter = QPainter()
    try:
        for number, page in enumerate(pages):
            token.step(number / len(pages))
            _turn(printer, page)
            if not (printer.newPage() if number else painter.begin(printer)):
                raise UnusableInput(
                    tr("the printer takes no page"),
                    where=printer.printerName() or printer.outputFileName(),
                    remedy=tr("see whether it is switched on, or print to a file"),
                )
            dots = printer.resolution() / _MM_PER_INCH
            sheet = printer.paperRect(QPrinter.Unit.DevicePixel)
            place = QRectF(0, 0, page.width_mm * dots * stretch, page.height_mm * dots * stretch)
            place.moveCenter(QRectF(0, 0, sheet.width(), sheet.height()).center())
            painter.drawImage(place, QImage.fromData(page.dots_png))
    finally:
        if painter.isActive():
            painter.end()
    return len(pages)


def _turn(printer: QPrinter, page: PrintedPage) -> None:
    lying = page.width_mm > page.height_mm
    printer.setPageOrientation(QPageLayout.Orientation.Landscape if lying else QPageLayout.Orientation.Portrait)


def _sheet_mm(printer: QPrinter) -> tuple[float, float]:
    size = printer.pageLayout().pageSize().size(QPageSize.Unit.Millimeter)
    return float(size.width()), float(size.height())


def cut_off_mm(printer: QPrinter) -> float:
    """Return how far beyond what templates leave blank a printer leaves its sheets blank; 0 where all is printed."""
    layout = printer.pageLayout()  # a copy
    layout.setUnits(QPageLayout.Unit.Millimeter)
    least = layout.minimumMargins()
    widest = max(least.left(), least.top(), least.right(), least.bottom())
    return max(0.0, float(widest) - NEEDS_BLANK_MM)


def is_file(printer: QPrinter) -> bool:
    """Return whether it prints into a file, which has its true size whatever paper it comes on."""
    return printer.outputFormat() == QPrinter.OutputFormat.PdfFormat or bool(printer.outputFileName())
