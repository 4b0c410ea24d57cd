"""The change sheet: asked where it goes, made beside the window, written."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtWidgets import QPushButton

from cozy_burrow.app.desk import ask
from cozy_burrow.app.desk.aside import Aside
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.frame.paged_panel import RefusingPage
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.tongue import tr
from cozy_burrow.storage.whole_file import write_whole

Make = Callable[[Project], bytes]


class SheetButton(QPushButton):
    """wanted: returns what makes the sheet of the document that is open; None where there is nothing to write."""

    def __init__(
        self, workspace: Workspace, aside: Aside, page: RefusingPage, wanted: Callable[[], Make | None]
    ) -> None:
        super().__init__(tr("Write the change sheet…"))
        self._workspace, self._aside, self._page, self._wanted = workspace, aside, page, wanted
        self.setToolTip(tr("For whoever cuts only the difference: plan, list, and every piece at 1:1"))
        self.clicked.connect(self._ask)

    def _ask(self) -> None:
        make = self._wanted()
        if make is None:
            return
        path = ask.target(self, tr("Write the change sheet"), "change-sheet.pdf", tr("PDF (*.pdf)"), ".pdf")
        if path is not None:
            self._aside.run(make, lambda data: self._write(path, data))

    def _write(self, path: Path, data: bytes) -> None:
        try:
            write_whole(path, data)
        except UnusableInput as error:
            self._page.refused.emit(error.sentence())
        else:
            self._workspace.said.emit(tr("Wrote {name}", name=path.name))
