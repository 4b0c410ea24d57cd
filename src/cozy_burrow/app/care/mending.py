"""Mends of the care list, worked out beside the window: finding a thing a place may take a second in a full plan."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QObject, Signal

from cozy_burrow.app.tasks import Task
from cozy_burrow.app.workspace import Workspace
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.findings.finding import Finding, Mend
from cozy_burrow.core.model.records import Project
from cozy_burrow.jobs.wording import mend_text


class Mending(QObject):
    """Carries out one mend at a time, on the document that it was asked for."""

    changed = Signal()

    def __init__(self, workspace: Workspace, parent: QObject) -> None:
        super().__init__(parent)
        self._workspace = workspace
        self._task: Task | None = None

    @property
    def is_busy(self) -> bool:
        """Whether a mend is being worked out."""
        return self._task is not None

    def take(self, finding: Finding, mends: Sequence[Mend]) -> bool:
        """Begin to carry out the first of these that can be; False where another is still being worked out."""
        if self._task is not None:
            return False
        from cozy_burrow.core.findings.mends import mended_first  # it knows half the core: not at every start

        project, insert_id = self._workspace.project, self._workspace.insert_id
        task = Task(lambda _: mended_first(project, finding, mends, insert_id=insert_id), self)
        self._task = task
        task.done.connect(lambda found: self._made(project, *found))
        task.failed.connect(self._refused)
        task.finished.connect(self._end)
        self.changed.emit()
        task.begin()
        return True

    def _made(self, before: Project, mend: Mend, project: Project) -> None:
        if self._workspace.project is not before:
            self._workspace.refused.emit("The plan was changed meanwhile, so nothing was mended; try again")
            return
        self._workspace.do(mend_text(before, mend), project)

    def _refused(self, error: Exception) -> None:
        if not isinstance(error, UnusableInput):
            raise error  # on the interface's thread, where the crash guard keeps the work
        self._workspace.refused.emit(error.sentence())

    def _end(self) -> None:
        self._task = None
        self.changed.emit()
