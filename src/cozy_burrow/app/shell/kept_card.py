"""What is kept on this computer beside projects: what for, where, how much; and a way to delete it."""

from __future__ import annotations

import math
from pathlib import Path

from platformdirs import user_cache_path
from PySide6.QtCore import QUrl
from PySide6.QtGui import QDesktopServices
from PySide6.QtWidgets import QDialog, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from cozy_burrow.app.desk import ask
from cozy_burrow.app.desk.settings import APP, Settings
from cozy_burrow.app.look.fields import grow, head, rows, soft, verdict
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.tongue import decimal, tr, trn
from cozy_burrow.storage.kept_here import Held, Home, delete, held


class KeptCard(QDialog):
    """A row a kind; what is chosen is told below, and may be deleted."""

    def __init__(self, settings: Settings, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._settings = settings
        self._held: tuple[Held, ...] = ()
        self.setWindowTitle(tr("Kept on this computer"))
        self.setMinimumWidth(560)
        column = QVBoxLayout(self)
        column.addWidget(head(tr("Kept here, beside your projects")))
        column.addWidget(soft(tr("Nothing of it leaves this computer: the program uses no network.")))
        self.list = rows(tr("What is kept, and how much"), least_px=190)
        self.list.currentRowChanged.connect(lambda _: self._tell())
        column.addWidget(self.list)
        self.told = verdict()
        column.addWidget(self.told)
        row = QHBoxLayout()
        column.addLayout(row)
        self.open_button = QPushButton(tr("Open its folder"))
        self.open_button.clicked.connect(self._open)
        self.delete_button = QPushButton(tr("Delete…"))
        self.delete_button.clicked.connect(self._ask)
        close = QPushButton(tr("Close"))
        close.clicked.connect(self.close)
        for button in (self.open_button, self.delete_button, close):
            button.setAutoDefault(False)
            row.addWidget(button)
        self._look()

    def _look(self) -> None:
        homes: dict[Home, Path] = {
            "settings": self._settings.folder,
            "state": self._settings.state_folder,
            "cache": user_cache_path(APP),
        }
        self._settings.write()
        self._held = held(homes)
        row = max(0, self.list.currentRow())
        self.list.blockSignals(True)
        self.list.clear()
        self.list.addItems([f"{one.kind.name}: {size_words(one)}" for one in self._held])
        self.list.setCurrentRow(row)
        self.list.blockSignals(False)
        self._tell()

    @property
    def chosen(self) -> Held:
        """What the row that is chosen tells of."""
        return self._held[self.list.currentRow()]

    def _tell(self) -> None:
        one = self.chosen
        self.told.setText(f"{one.kind.why}\n{one.folder}")
        self.delete_button.setEnabled(one.kind.may_go and bool(one.files))
        self.open_button.setEnabled(one.folder.is_dir())
        grow(self)

    def _open(self) -> None:
        QDesktopServices.openUrl(QUrl.fromLocalFile(str(self.chosen.folder)))

    def _ask(self) -> None:
        one = self.chosen
        text = tr(
            "‘{name}’ is deleted: {size}. It can’t be undone. Windows that are open show it until they are closed.",
            name=one.kind.name,
            size=size_words(one),
        )
        if ask.which(self, tr("Delete what is kept"), text, (tr("Delete it"), tr("Keep it"))) != 0:
            return
        trouble = ""
        try:
            delete(one)
        except UnusableInput as error:
            trouble = error.sentence()
        self._look()
        if trouble:
            self.told.setText(trouble)


def size_words(one: Held) -> str:
    """Return how much there is of it."""
    if not one.files:
        return tr("nothing")
    size = one.size_bytes / 1000.0
    told = decimal(f"{size / 1000:.1f}") + " MB" if size >= 1000 else f"{math.ceil(size)} kB"
    return trn("{count} file, {size}", "{count} files, {size}", len(one.files), size=told)
