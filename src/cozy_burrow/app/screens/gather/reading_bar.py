"""How far a picture is read, with a button that stops it; and what to measure on the mat before."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QHBoxLayout, QProgressBar, QPushButton, QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.core.capture.photo.mat import mat_page
from cozy_burrow.core.tongue import tr


class ReadingBar(QWidget):
    """Hidden until something is read."""

    def __init__(self, stop: Callable[[], object]) -> None:
        super().__init__()
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        bar = QProgressBar()
        bar.setRange(0, 100)
        bar.setAccessibleName(tr("Progress of reading the picture"))
        button = QPushButton(tr("Stop"))
        button.clicked.connect(stop)
        layout.addWidget(bar, 1)
        layout.addWidget(button)
        self.hide()


def scale_hint(workspace: Workspace, paper: str) -> str:
    """Return how long the printed scales of a paper's mat are, if the printer is true."""
    page, length = mat_page(paper), workspace.length
    return tr(
        "Measure both printed scales once: {scale_x} and {scale_y} if the printer is true.",
        scale_x=length(page.scale_x_mm),
        scale_y=length(page.scale_y_mm),
    )
