"""Recovery copies while somebody works: two seconds after a change, at most ten while changes go on.

What is kept is the project and what lies on the retouch bench; the copy is dropped once neither holds unsaved work.
"""

from __future__ import annotations

import time
from collections.abc import Callable

from PySide6.QtCore import QObject, QTimer, Signal

from cozy_burrow.app.retouch.session import RetouchSession
from cozy_burrow.app.workspace import Workspace
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.storage.recovery import RecoveryStore
from cozy_burrow.storage.whole_file import Mark

QUIET_MS = 2_000
LONGEST_S = 10.0


class Autosave(QObject):
    """Keeps the recovery copy of a workspace and its bench up to date. `failed`: why none can be kept, and where."""

    failed = Signal(str, str)

    def __init__(
        self, workspace: Workspace, bench: RetouchSession, store: RecoveryStore, parent: QObject | None = None
    ) -> None:
        super().__init__(parent)
        self._workspace, self._bench, self.store = workspace, bench, store
        self.mark: Callable[[], Mark | None] = lambda: None  # what the project's file was when it was last seen
        self._kept: tuple[object, ...] = ()
        self._waiting_since: float | None = None
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.keep)
        workspace.document_changed.connect(self.follow)
        bench.changed.connect(self.follow)

    @property
    def _has_work(self) -> bool:
        return self._workspace.is_dirty or self._bench.has_work

    def follow(self) -> None:
        """Something has changed: keep it soon, or take the copy away where everything is saved."""
        if not self._has_work:
            self._timer.stop()
            self._waiting_since, self._kept = None, ()
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
        table = self._bench.table if self._bench.has_work else None
        work = (self._workspace.project, table)
        if not self._has_work or (self._kept and all(one is other for one, other in zip(work, self._kept))):
            return
        bench = picture = b""
        capture = self._bench.capture
        if table is not None and capture is not None and capture.recipe is not None:
            from cozy_burrow.jobs.bench_copy import bench_to_bytes

            bench, picture = bench_to_bytes(capture.recipe, table), capture.data
        try:
            self.store.keep(
                self._workspace.project, self._workspace.path, mark=self.mark(), bench=bench, picture=picture
            )
        except UnusableInput as error:  # a full disk, a folder taken away: saving itself still may do
            self.failed.emit(error.what, error.where)
        else:
            self._kept = work
