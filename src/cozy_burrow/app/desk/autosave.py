"""Recovery copies while somebody works: two seconds after a change, at most ten while changes go on.

What is kept is the project and what lies on the retouch bench; the copy is dropped once neither holds unsaved work. It
is written beside the window: a disk that is busy may take seconds to say that it has it.
"""

from __future__ import annotations

import time
from collections.abc import Callable

from PySide6.QtCore import QObject, QTimer, Signal

from cozy_burrow.app.desk.bench_session import RetouchSession
from cozy_burrow.app.desk.tasks import Task
from cozy_burrow.app.desk.workspace import Workspace
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
        self._writing: Task | None = None
        self._turn = 0  # of what is to be kept: what is dropped meanwhile is not written any more
        self._is_there = False  # a copy was begun since the last one was dropped
        self._is_stale = False  # what is being written is to be dropped after it
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.keep_aside)
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
            self._turn += 1
            self._drop_aside()
            return
        now = time.monotonic()
        if self._waiting_since is None:
            self._waiting_since = now
        if now - self._waiting_since >= LONGEST_S:
            self.keep_aside()
        else:
            self._timer.start(QUIET_MS)

    def keep_aside(self) -> None:
        """Write the recovery copy beside the window, if there is anything new; while one is written, once it is."""
        self._timer.stop()
        if self._writing is not None:
            self._timer.start(QUIET_MS)
            return
        copy = self._copy()
        if copy is None:
            return
        work, write = copy
        turn = self._turn
        task = Task(lambda _: write(lambda: turn == self._turn), self, elsewhere=True)
        task.done.connect(lambda _: self._hear_kept(work, turn))
        task.failed.connect(self._hear_failure)
        task.finished.connect(self._hear_end)
        self._writing = task
        task.begin()

    def _drop_aside(self) -> None:
        """Take the copy away beside the window: one that is written just now would hold it up as long."""
        if self._writing is not None:
            self._is_stale = True
        elif self._is_there:
            self._is_there = False
            task = self._writing = Task(lambda _: self.store.drop(), self, elsewhere=True)
            task.finished.connect(self._hear_end)
            task.begin()

    def keep(self) -> None:
        """Write the recovery copy now, if there is anything new, and come back when the disk has it."""
        self._timer.stop()
        copy = self._copy()
        if copy is None:
            return
        work, write = copy
        try:
            write(lambda: True)
        except UnusableInput as error:  # a full disk, a folder taken away: saving itself still may do
            self.failed.emit(error.what, error.where)
        else:
            self._kept = work

    def _copy(self) -> tuple[tuple[object, ...], Callable[[Callable[[], bool]], None]] | None:
        """Return what is to be kept and what writes it, as both are now; None where there is nothing new."""
        self._waiting_since = None
        table = self._bench.table if self._bench.has_work else None
        project, path, mark = self._workspace.project, self._workspace.path, self.mark()
        work = (project, table)
        if not self._has_work or (self._kept and all(one is other for one, other in zip(work, self._kept))):
            return None
        self._is_there = True
        capture = self._bench.capture if table is not None else None
        recipe = capture.recipe if capture is not None else None

        def write(wanted: Callable[[], bool]) -> None:
            bench = picture = b""
            if table is not None and capture is not None and recipe is not None:
                from cozy_burrow.jobs.bench_copy import bench_to_bytes

                bench, picture = bench_to_bytes(recipe, table), capture.data
            self.store.keep(project, path, mark=mark, bench=bench, picture=picture, wanted=wanted)

        return work, write

    def _hear_kept(self, work: tuple[object, ...], turn: int) -> None:
        if turn == self._turn:
            self._kept = work

    def _hear_failure(self, error: Exception) -> None:
        if not isinstance(error, UnusableInput):
            raise error
        self.failed.emit(error.what, error.where)

    def _hear_end(self) -> None:
        self._writing = None
        if self._is_stale:
            self._is_stale = False
            if not self._has_work:
                self._drop_aside()
