"""Which of My items lies there? A photo of some on the mat is read beside the window, their outlines are looked for."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QFileDialog, QPushButton, QVBoxLayout, QWidget

from cozy_burrow.app.desk.latest import Latest
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.reading_bar import ReadingBar
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.apart import run_apart
from cozy_burrow.storage.whole_file import read_whole

_PICTURES = tr("Pictures (*.jpg *.jpeg *.png *.heic *.tif *.tiff)")


class LikePhoto(QWidget):
    """`seen`: the items whose outlines the photo shows, in its order. `refused`: why it shows none."""

    seen = Signal(object)
    refused = Signal(str)

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._latest = Latest(workspace, self)
        self._latest.refused.connect(self.refused)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.button = QPushButton(tr("Like in a photo…"))
        self.button.setToolTip(tr("A photo of it on the printed mat: the likest of My items come first"))
        self.button.clicked.connect(self._ask)
        column.addWidget(self.button)
        bar = ReadingBar(self._latest.stop)
        self._latest.progressed.connect(bar.show_share)
        column.addWidget(bar)

    def _ask(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, tr("Choose a photo"), "", _PICTURES)
        if path:
            self.read_file(Path(path))

    def read_file(self, path: Path) -> None:
        """Read a photo from a file; what cannot be used is told."""
        try:
            self.read(read_whole(path), path.name)
        except UnusableInput as error:
            self.refused.emit(error.sentence())

    def read(self, data: bytes, source: str) -> None:
        """Read a photo in a process of its own."""
        from cozy_burrow.jobs.capture import outlines_in  # half a second of imports that few who come here need

        self._latest.begin(lambda token: run_apart(outlines_in, data, source, token=token), self.seen.emit)
