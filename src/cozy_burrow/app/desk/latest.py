"""Work whose outcome counts while it is the latest: a file or a picture that is read for what is open now."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from PySide6.QtCore import QObject, Signal

from cozy_burrow.app.desk.tasks import Task
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.progress import Token

T = TypeVar("T")


class Latest(QObject):
    """One piece of work at a time, done elsewhere; what a later one, a stop or another document overtook is dropped.

    progressed: how far it is, 0 when it begins, 1 when it has ended in whatever way. refused: why it gave nothing;
    empty when it begins.
    """

    progressed = Signal(float)
    refused = Signal(str)

    def __init__(self, workspace: Workspace, parent: QObject) -> None:
        super().__init__(parent)
        self._workspace = workspace
        self.task: Task | None = None

    @property
    def is_busy(self) -> bool:
        """Whether something is being worked out."""
        return self.task is not None

    def begin(self, work: Callable[[Token], T], done: Callable[[T], object], *, overtaken: str = "") -> None:
        """Begin, in place of what is under way. overtaken: what is said where another document is open by the end."""
        self.stop()
        self.refused.emit("")
        task = self.task = Task(work, self, elsewhere=True)
        opened = self._workspace.opened_count

        def take(outcome: T) -> None:
            if task is self.task:
                if opened == self._workspace.opened_count:
                    done(outcome)
                elif overtaken:
                    self._workspace.said.emit(overtaken)

        def fail(error: Exception) -> None:
            if not isinstance(error, UnusableInput):
                raise error  # on the interface's thread, where the crash guard keeps the work
            if task is self.task:
                self.refused.emit(error.sentence())

        task.progressed.connect(lambda share: self.progressed.emit(min(0.99, share)) if task is self.task else None)
        task.done.connect(take)
        task.failed.connect(fail)
        task.finished.connect(lambda: self._end(task))
        self.progressed.emit(0.0)
        task.begin()

    def stop(self) -> None:
        """Drop what is under way."""
        task, self.task = self.task, None
        if task is not None:
            task.stop()
            self.progressed.emit(1.0)

    def _end(self, task: Task) -> None:
        if task is self.task:
            self.task = None
            self.progressed.emit(1.0)
