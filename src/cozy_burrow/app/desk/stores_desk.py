"""Price list and shelf on the desk: kept beside the settings from job to job, changed only here."""

from __future__ import annotations

from PySide6.QtCore import QObject, Signal

from cozy_burrow.app.desk.settings import Settings
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.foam.boards import shipped_stores
from cozy_burrow.core.model.vessels import Stores
from cozy_burrow.core.tongue import tr
from cozy_burrow.storage.stores_file import checked_stores, load_stores, save_stores


class StoresDesk(QObject):
    """Holds the stores; `changed` tells of every change. A damaged file is told and left as it is."""

    changed = Signal()
    refused = Signal(str)

    def __init__(self, settings: Settings, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._folder = settings.state_folder
        self.trouble = ""
        try:
            self.stores: Stores = load_stores(self._folder)
        except UnusableInput as error:
            self.stores, self.trouble = shipped_stores(), error.sentence()
        self._kept: Stores = self.stores  # what the file held when it was last read or written

    def show_demo(self) -> None:
        """Show the demo's prices and shelf as long as the fitter has none of their own; nothing is kept of them."""
        from cozy_burrow.demo.build import demo_stores

        if not self.stores.shelf and all(board.price is None for board in self.stores.boards):
            self.stores = demo_stores()
            self.changed.emit()

    def take(self, stores: Stores) -> bool:
        """Keep other stores; says why where they cannot be, and returns whether they were kept.

        What another window has kept meanwhile is joined with them.
        """
        try:
            if self.trouble:  # a damaged file is not written over
                kept = checked_stores(stores, where=tr("the price list"))
            else:
                kept = self._kept = save_stores(stores, self._folder, base=self._kept)
        except UnusableInput as error:
            self.refused.emit(error.sentence())
            return False
        self.stores = kept
        self.refused.emit(self.trouble)
        self.changed.emit()
        return True

    def look_again(self) -> None:
        """Show what another window has kept since; nothing happens where that cannot be read now."""
        if self.trouble:
            return
        try:
            now = load_stores(self._folder)
        except UnusableInput:
            return
        if now != self._kept:
            self.stores = self._kept = now
            self.changed.emit()
