"""Recovery copies while somebody works: two seconds after a change, at most ten while changes go on."""

from __future__ import annotations

import contextlib
import time

from PySide6.QtCore import QObject, QTimer

from cozy_burrow.app.workspace import Workspace
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Project
from cozy_burrow.storage.recovery import RecoveryStore

QUIET_MS = 2_000
LONGEST_S = 10.0


class Autosave(QObject):
    """Keeps the recovery copy of a workspace up to date."""

    def __init__(self, workspace: Workspace, store: RecoveryStore, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._workspace, self.store = workspace, store
        self._kept: Project | None = None
        self._waiting_since: float | None = None
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.keep)
        workspace.document_changed.connect(self._changed)

    def _changed(self) -> None:
        if not self._workspace.is_dirty:
            self._timer.stop()
            self._waiting_since, self._kept = None, None
            self.store.drop()
            return
        now = time.monotonic()
        if self._waiting_since is None:
            self._waiting_since = now
        if now - self._waiting_since >= LONGEST_S:
            self.keep()
        else:
            self._timer.start(QUIET_MS)

    def keep(self) -> None:
        """Write the recovery copy now, if there is anything new."""
        self._timer.stop()
        self._waiting_since = None
        project = self._workspace.project
        if project is self._kept or not self._workspace.is_dirty:
            return
        with contextlib.suppress(UnusableInput):  # a full disk: saving itself will say so
            self.store.keep(project, self._workspace.path)
            self._kept = project
