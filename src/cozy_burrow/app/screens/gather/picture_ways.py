"""The ways in that begin with a picture: a photo on the mat, a flatbed scan, a sheet with pen lines."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from cozy_burrow.app.desk import ask
from cozy_burrow.app.desk.bench_session import RetouchSession
from cozy_burrow.app.desk.latest import Latest
from cozy_burrow.app.desk.settings import PAPER, SCALE_ACROSS, SCALE_DOWN, Settings
from cozy_burrow.app.desk.tasks import Task
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.count_box import CountBox
from cozy_burrow.app.look.fields import Form, LengthField, NextOnEnter, soft
from cozy_burrow.app.look.reading_bar import ReadingBar
from cozy_burrow.app.screens.gather.mat_hint import scale_hint
from cozy_burrow.core.capture.paper.pen import Pen, Reading
from cozy_burrow.core.capture.photo.mat import MOST_PAGES, PAPERS
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.progress import Token
from cozy_burrow.core.tongue import tr, trn
from cozy_burrow.jobs.apart import run_apart
from cozy_burrow.jobs.capture import Capture, Printed, Recipe, captured, read_picture
from cozy_burrow.jobs.mat import printed_stretch, write_mat_apart

_PICTURES = tr("Pictures (*.jpg *.jpeg *.png *.tif *.tiff *.heic *.heif)")
_READINGS: tuple[tuple[Reading, str], ...] = (
    ("middle", tr("middle of the line")),
    ("inner", tr("inner edge")),
    ("outer", tr("outer edge")),
)


class PictureWays(QWidget):
    """Both pages with what they share: one task at a time, its progress, what was refused."""

    refused = Signal(str)

    def __init__(
        self, workspace: Workspace, session: RetouchSession, settings: Settings, may_clear: Callable[[], bool]
    ) -> None:
        """may_clear: asks whether what is on the bench may go for another picture."""
        super().__init__()
        self._workspace, self._session, self._settings = workspace, session, settings
        self._may_clear = may_clear
        self.latest = Latest(workspace, self)
        self.latest.refused.connect(self.refused)
        self.photo = self._photo_page()
        self.paper = self._paper_page()

    # Pages

    def _photo_page(self) -> QWidget:
        page = QWidget()
        layout = QVBoxLayout(page)
        layout.addWidget(soft(tr("1 Print the mat at 100 %, lay it flat.")))
        row = QHBoxLayout()
        self.mat_paper, self.mat_pages = QComboBox(), CountBox()
        self.mat_paper.addItems([name.capitalize() for name in PAPERS])
        self.mat_paper.setCurrentText(self._settings.text(PAPER).capitalize())
        self.mat_paper.setAccessibleName(tr("Paper of the mat"))
        self.mat_paper.currentTextChanged.connect(self._set_paper)
        self.mat_pages.setRange(1, MOST_PAGES)
        self.mat_pages.setSuffix(tr(" page"))
        self.mat_pages.setAccessibleName(tr("Pages of the mat"))
        self.mat_pages.setToolTip(tr("For larger items: pages laid side by side in any way, found as one mat"))
        row.addWidget(self.mat_paper)
        row.addWidget(self.mat_pages)
        layout.addLayout(row)
        self.print_mat = QPushButton(tr("Write the mat…"))
        self.print_mat.clicked.connect(self.ask_mat)
        layout.addWidget(self.print_mat)
        form = Form()
        self.scale_across, self.scale_down = (
            LengthField(tr("Scale at the top, measured"), least_mm=1.0, optional=True),
            LengthField(tr("Scale at the left, measured"), least_mm=1.0, optional=True),
        )
        for field, key in ((self.scale_across, SCALE_ACROSS), (self.scale_down, SCALE_DOWN)):
            field.setText(self._settings.text(key))
            field.editingFinished.connect(self._keep_scales)
        form.addRow(tr("Top scale"), self.scale_across)
        form.addRow(tr("Left scale"), self.scale_down)
        layout.addLayout(form)
        self._scale_hint = soft("")
        layout.addWidget(self._scale_hint)
        layout.addWidget(
            soft(
                tr(
                    "2 Lay items on the white, apart. Strap springs shut, coil bendy straps. 3 Photograph "
                    "from above, 45 to 90 cm away."
                )
            )
        )
        form = Form()
        self.usual_thickness = LengthField(tr("Usual thickness"), least_mm=0.1)
        self.usual_thickness.setText("10")
        self.usual_thickness.setToolTip(
            tr("For a start; each item's own thickness is set on the bench, with no new photo.")
        )
        form.addRow(tr("Thickness"), self.usual_thickness)
        layout.addLayout(form)
        self.choose_photo = QPushButton(tr("Choose a photo…"))
        self.choose_photo.setObjectName("main")
        self.choose_photo.clicked.connect(self._ask_photo)
        layout.addWidget(self.choose_photo)
        self.demo_photo = QPushButton(tr("Take a photo of demo items"))
        self.demo_photo.setToolTip(tr("A simulated camera renders items of the demo kit on the mat"))
        self.demo_photo.clicked.connect(self.take_demo_photo)
        layout.addWidget(self.demo_photo)
        layout.addStretch(1)
        layout.addWidget(self._bar())
        self._show_scale_hint()
        return page

    def _paper_page(self) -> QWidget:
        page = QWidget()
        layout = QVBoxLayout(page)
        layout.addWidget(soft(tr("Items on a flatbed scanner, or the sheet on which they were drawn round.")))
        form = Form()
        self.dpi = NextOnEnter()
        self.dpi.setPlaceholderText(tr("from the file"))
        self.dpi.setAccessibleName(tr("Dots to the inch of the scan"))
        form.addRow(tr("Scan, dpi"), self.dpi)
        layout.addLayout(form)
        self.choose_scan = QPushButton(tr("Choose a scan of items…"))
        self.choose_scan.clicked.connect(self._ask_scan)
        layout.addWidget(self.choose_scan)
        layout.addSpacing(8)
        form = Form()
        self.tip, self.touch = (
            LengthField(tr("Width of the pen's line"), least_mm=0.0),
            LengthField(tr("Edge it touched"), least_mm=0.0),
        )
        self.tip.setText("0.8")
        self.touch.setText("0")
        self.touch.setToolTip(tr("The height of the widest edge, where a leaning pen touches the item"))
        self.lean = NextOnEnter("0")
        self.lean.setAccessibleName(tr("Lean of the pen in degrees"))
        self.lean.setToolTip(tr("Positive where the pen's top leans over the item, so that its line lies farther out"))
        self.reading = QComboBox()
        self.reading.addItems([text for _, text in _READINGS])
        self.reading.setAccessibleName(tr("Which part of the line is read"))
        self.on_mat = QCheckBox(tr("drawn on the mat, a photo of it"))
        for label, field in (
            (tr("Pen's line"), self.tip),
            (tr("Lean, degrees"), self.lean),
            (tr("Touches at"), self.touch),
            (tr("Read"), self.reading),
        ):
            form.addRow(label, field)
        layout.addLayout(form)
        layout.addWidget(self.on_mat)
        self.choose_sheet = QPushButton(tr("Choose a traced sheet…"))
        self.choose_sheet.clicked.connect(self._ask_sheet)
        layout.addWidget(self.choose_sheet)
        layout.addStretch(1)
        layout.addWidget(self._bar())
        return page

    def _bar(self) -> QWidget:
        bar = ReadingBar(self.stop)
        self.latest.progressed.connect(bar.show_share)
        return bar

    # The mat

    def _set_paper(self, name: str) -> None:
        self._settings.set(PAPER, name.lower())
        self._show_scale_hint()

    def _show_scale_hint(self) -> None:
        self._scale_hint.setText(scale_hint(self._workspace, self.mat_paper.currentText().lower()))

    def _keep_scales(self) -> None:
        for field, key in ((self.scale_across, SCALE_ACROSS), (self.scale_down, SCALE_DOWN)):
            self._settings.set(key, field.text().strip())

    def printed_mm(self) -> Printed:
        """Return the measured scales. Raises UnusableInput."""
        values = []
        for field in (self.scale_across, self.scale_down):
            field.set_unit(self._workspace.unit)
            values.append(field.value())
        printed_stretch(self.mat_paper.currentText().lower(), across_mm=values[0], down_mm=values[1])
        return values[0], values[1]

    def ask_mat(self) -> None:
        """Ask where the mat that is chosen goes, and write it."""
        name = f"mat-{self.mat_paper.currentText().lower()}.pdf"
        path = ask.target(self, tr("Write the mat"), name, tr("PDF (*.pdf)"), ".pdf")
        if path is not None:
            self.write_mat(path)

    def write_mat(self, path: Path) -> None:
        """Write the mat that is chosen to a file, beside the window; what goes wrong is told."""
        paper, pages = self.mat_paper.currentText().lower(), self.mat_pages.value()
        task = Task(lambda token: run_apart(write_mat_apart, path, paper, pages, token=token), self, elsewhere=True)
        told = tr("Wrote {name}: print it at 100 %, then measure both scales", name=path.name)
        task.done.connect(lambda _: self._workspace.said.emit(told))
        task.failed.connect(self._fail)
        task.begin()

    # Pictures

    def _ask_photo(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, tr("Choose a photo"), "", _PICTURES)
        if path:
            self.take_photo_file(Path(path))

    def take_photo_file(self, path: Path) -> None:
        """Read a photo from a file; what cannot be used is told."""
        self._try(lambda: self.take_photo(read_picture(path), path.name))

    def take_photo(self, data: bytes, source: str) -> None:
        """Read a photo in the background. Raises UnusableInput for figures that cannot be."""
        printed = self.printed_mm()
        self.usual_thickness.set_unit(self._workspace.unit)
        thickness = self.usual_thickness.value() or 10.0
        self._read(data, Recipe(way="photo", source=source, thickness_mm=thickness, printed_mm=printed))

    def take_demo_photo(self) -> None:
        """Let the simulated camera take a photo, and read it."""
        self.usual_thickness.set_unit(self._workspace.unit)

        from cozy_burrow.demo.photo import demo_capture

        if self._begin(lambda token: run_apart(demo_capture, token=token)):
            self._workspace.said.emit(tr("The simulated camera takes a photo…"))

    def _ask_scan(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, tr("Choose a scan"), "", _PICTURES)
        if path:
            self._try(lambda: self.take_scan(read_picture(Path(path)), Path(path).name))

    def take_scan(self, data: bytes, source: str) -> None:
        """Read a scan in the background. Raises UnusableInput."""
        self._read(data, Recipe(way="scan", source=source, dpi=self._dpi()))

    def _ask_sheet(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, tr("Choose a traced sheet"), "", _PICTURES)
        if path:
            self._try(lambda: self.take_sheet(read_picture(Path(path)), Path(path).name))

    def take_sheet(self, data: bytes, source: str) -> None:
        """Read a traced sheet in the background. Raises UnusableInput."""
        for field in (self.tip, self.touch):
            field.set_unit(self._workspace.unit)
        pen = Pen(
            tip_mm=self.tip.value() or 0.0,
            touch_mm=self.touch.value() or 0.0,
            lean_deg=_figure(self.lean.text() or "0", where=tr("lean of the pen")),
            reading=_READINGS[self.reading.currentIndex()][0],
        )
        recipe = Recipe(
            way="tracing",
            source=source,
            dpi=self._dpi(),
            pen=pen,
            on_mat=self.on_mat.isChecked(),
            printed_mm=self.printed_mm(),
        )
        self._read(data, recipe)

    def _dpi(self) -> float | None:
        text = self.dpi.text().strip()
        return _figure(text, where="dpi") if text else None

    # Work

    def _try(self, action: Callable[[], object]) -> None:
        try:
            action()
        except UnusableInput as error:
            self.refused.emit(error.sentence())

    def _read(self, data: bytes, recipe: Recipe) -> None:
        self._begin(lambda token: run_apart(captured, data, recipe, token=token))

    def _begin(self, work: Callable[[Token], Capture]) -> bool:
        """Begin to read a picture, unless what is on the bench is to stay there."""
        self.stop()
        self.refused.emit("")
        if self._session.has_work:
            if not self._may_clear():
                return False
            self._session.close()
        self.latest.begin(
            work, self._take, overtaken=tr("The picture was read for another project; choose it again for this one")
        )
        return True

    def stop(self) -> None:
        """Stop reading the picture."""
        self.latest.stop()

    def _take(self, capture: Capture) -> None:
        if self._session.has_work and not self._may_clear():  # something was done there while this one was read
            return
        self._session.open(capture)
        count = len(capture.table.drafts)
        self._workspace.said.emit(
            trn("{count} item found; set its thickness", "{count} items found; set each one's thickness", count)
        )

    def _fail(self, error: Exception) -> None:
        if not isinstance(error, UnusableInput):
            raise error  # on the interface's thread, where the crash guard keeps the work
        self.refused.emit(error.sentence())


def _figure(text: str, *, where: str) -> float:
    try:
        return float(text.replace(",", ".").replace("−", "-").strip().rstrip("°"))
    except ValueError:
        raise UnusableInput(tr("not a number: ‘{text}’", text=text), where=where, remedy=tr("type a number")) from None
