"""The way in by files: a drawing for one item, a table for a whole kit; both are read beside the window."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QFileDialog, QPushButton, QVBoxLayout, QWidget

from cozy_burrow.app.desk.latest import Latest
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import Form, LengthField, soft
from cozy_burrow.app.look.reading_bar import ReadingBar
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.kit.shapes import outline_item, renamed
from cozy_burrow.core.model.edits import free_id
from cozy_burrow.core.model.records import Item
from cozy_burrow.core.progress import Token
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.drawings import READER
from cozy_burrow.jobs.kit_file import KitRead, read_kit
from cozy_burrow.jobs.outlines import read_one_outline


class FilesWay(QWidget):
    """One table at a time, or some drawings. `found`: their items, and what is to be said. `refused`: why none.

    Drawings that were dropped before a thickness was typed wait for it.
    """

    found = Signal(list, str)
    refused = Signal(str)

    def __init__(self, workspace: Workspace, name: Callable[[], str]) -> None:
        """name: what was typed for the next item, or nothing."""
        super().__init__()
        self._workspace, self._name = workspace, name
        self._latest = Latest(workspace, self)  # nearly all of it is done by the child that reads drawings
        self._latest.refused.connect(self.refused)
        self._waiting: tuple[Path, ...] = ()
        layout = QVBoxLayout(self)
        layout.addWidget(soft(tr("An SVG or DXF drawing gives the outline; its thickness is typed here.")))
        form = Form()
        self.thickness = LengthField(tr("Thickness"), least_mm=0.1)
        form.addRow(tr("Thickness"), self.thickness)
        self.thickness.returnPressed.connect(self._go_on)
        layout.addLayout(form)
        self.choose_drawing = QPushButton(tr("Choose a drawing…"))
        self.choose_drawing.clicked.connect(self._ask_drawing)
        layout.addWidget(self.choose_drawing)
        layout.addSpacing(12)
        layout.addWidget(soft(tr("A table (CSV) brings a whole kit at once; the help page lists its columns.")))
        self.choose_table = QPushButton(tr("Choose a table…"))
        self.choose_table.clicked.connect(self._ask_table)
        layout.addWidget(self.choose_table)
        layout.addStretch(1)
        self._bar = ReadingBar(self.stop, tr("Progress of reading the file"))
        self._latest.progressed.connect(self._bar.show_share)
        layout.addWidget(self._bar)

    @property
    def is_reading(self) -> bool:
        """Whether a file is being read."""
        return self._latest.is_busy

    def _ask_drawing(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, tr("Choose a drawing"), "", tr("Drawings (*.svg *.dxf)"))
        if path:
            self.take_drawings((Path(path),))

    def take_drawings(self, paths: tuple[Path, ...]) -> None:
        """Read each drawing as an item of the typed thickness, which is asked for first."""
        self.thickness.set_unit(self._workspace.unit)
        try:
            thickness = self.thickness.value()
        except UnusableInput as error:
            self._waiting = paths
            self.refused.emit(error.sentence())
            self.thickness.setFocus()
            return
        assert thickness is not None
        self._waiting = ()
        typed = self._name()
        names = [typed if typed and len(paths) == 1 else path.stem for path in paths]

        def read(token: Token) -> KitRead:
            items: list[Item] = []
            refused: list[UnusableInput] = []
            for n, (path, name) in enumerate(zip(paths, names)):
                token.step(n / len(paths))  # stopped before it began, it must not keep the reader from the next file
                try:
                    outline, way = read_one_outline(path)
                    made = outline_item(
                        free_id("item", ()), name, outline, thickness_mm=thickness, way=way, source=path.name
                    )
                except UnusableInput as error:
                    refused.append(error)
                    continue
                items.append(renamed(made, name))
            if not items:
                raise refused[0]
            return KitRead(
                items=tuple(items), remarks=tuple(tr("not taken: {why}", why=one.sentence()) for one in refused)
            )

        self._begin(read)

    def _go_on(self) -> None:
        """Enter in the field that was asked for: what waited for it is read."""
        if self._waiting:
            self.take_drawings(self._waiting)

    def _ask_table(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, tr("Choose a table"), "", tr("Tables (*.csv)"))
        if path:
            self.take_table(Path(path))

    def take_table(self, path: Path) -> None:
        """Read a kit table with the drawings that it names."""
        unit = self._workspace.unit
        self._begin(lambda token: read_kit(path, unit=unit, token=token))

    def _begin(self, read: Callable[[Token], KitRead]) -> None:
        self.stop()
        self._latest.begin(
            read, self._take, overtaken=tr("The file was read for another project; choose it again for this one")
        )

    def stop(self) -> None:
        """Stop reading; nothing comes into the kit."""
        self._waiting = ()
        if self._latest.is_busy:
            self._latest.stop()
            READER.stop()

    def _take(self, kit: KitRead) -> None:
        self.found.emit(list(kit.items), " ".join(f"{remark[0].upper()}{remark[1:]}." for remark in kit.remarks))
