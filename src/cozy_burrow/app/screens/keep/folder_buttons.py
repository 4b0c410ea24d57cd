"""My items from a folder of open files, and to one."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import SignalInstance
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QPushButton, QWidget

from cozy_burrow.app.desk.kept_desk import KeptDesk
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.core.model.records import Item
from cozy_burrow.core.tongue import tr, trn
from cozy_burrow.jobs.things_folder import read_folder, write_folder
from cozy_burrow.storage.kept_files import Kept


class FolderButtons(QWidget):
    """Two buttons side by side. refused: where it is told what could not be read or written."""

    def __init__(
        self, workspace: Workspace, things: KeptDesk, refused: SignalInstance, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self._workspace, self._things, self._refused = workspace, things, refused
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        self.import_button = QPushButton(tr("From a folder…"))
        self.import_button.clicked.connect(self._ask_import)
        self.export_button = QPushButton(tr("To a folder…"))
        self.export_button.clicked.connect(self._ask_export)
        row.addWidget(self.import_button)
        row.addWidget(self.export_button)

    def _ask_import(self) -> None:
        folder = QFileDialog.getExistingDirectory(self, tr("Items from a folder"))
        if folder:
            self.import_from(Path(folder))

    def import_from(self, folder: Path) -> None:
        """Keep all items of a folder."""
        troubles: list[str] = []

        def find() -> list[tuple[Item, str]]:
            items, told = read_folder(folder)
            troubles.extend(told)
            return [(item, "") for item in items]

        def tell(kept: list[Kept[Item]]) -> None:
            if kept:
                told = trn("{count} item is kept now", "{count} items are kept now", len(kept))
                self._workspace.said.emit(told)
            if troubles:
                self._refused.emit(troubles[0])

        self._things.keep_many(find, tell)

    def _ask_export(self) -> None:
        folder = QFileDialog.getExistingDirectory(self, tr("Items to a folder"))
        if folder:
            self.export_to(Path(folder))

    def export_to(self, folder: Path) -> None:
        """Write everything that is kept into a folder."""
        keys, read = [one.key for one in self._things.shelf.kept], self._things.reader()

        def tell(written: tuple[int, tuple[str, ...]]) -> None:
            count, troubles = written
            self._workspace.said.emit(trn("{count} item written", "{count} items written", count))
            if troubles:
                self._refused.emit(troubles[0])

        self._things.beside(lambda token: write_folder(keys, read, folder, token=token), tell)
