"""Work on the open document beside the window: what may take a second must not hold it up for one.

The outcome belongs to the document that it was worked out for; where another one is open by then, it is dropped.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from PySide6.QtCore import QObject, Signal

from cozy_burrow.app.desk.tasks import Task
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.progress import Token
from cozy_burrow.core.tongue import tr

T = TypeVar("T")


class Aside(QObject):
    """Does one thing at a time. `changed`: it has begun, or ended and `done` was heard. `progressed`: how far it is."""

    changed = Signal()
    progressed = Signal(float)

    def __init__(self, workspace: Workspace, parent: QObject) -> None:
        super().__init__(parent)
        self._workspace = workspace
        self._task: Task | None = None

    @property
    def is_busy(self) -> bool:
        """Whether something is being worked out."""
        return self._task is not None

    def run(self, work: Callable[[Project], T], done: Callable[[T], object], *, tell: bool = True) -> bool:
        """Begin work on the document; False where other work is not done yet.

        done: hears the outcome on the interface's thread, if the document is still the same. tell: say so if not.
        What the work refuses is said.
        """
        return self.run_long(lambda project, _: work(project), done, tell=tell)

    def run_long(self, work: Callable[[Project, Token], T], done: Callable[[T], object], *, tell: bool = True) -> bool:
        """Begin work that says how far it is and can be stopped, as `run` does."""
        if self._task is not None:
            return False
        project = self._workspace.project
        task = Task(lambda token: work(project, token), self)
        self._task = task
        task.progressed.connect(self.progressed)

        def take(outcome: T) -> None:
            if self._workspace.project is project:
                done(outcome)
            elif tell:
                self._workspace.refused.emit(tr("The plan was changed meanwhile, so nothing was done; try again"))
            self._end(task)

        def refuse(error: Exception) -> None:
            if not isinstance(error, UnusableInput):
                raise error  # on the interface's thread, where the crash guard keeps the work
            self._workspace.refused.emit(error.sentence())
            self._end(task)

        task.done.connect(take)
        task.failed.connect(refuse)
        task.finished.connect(lambda: self._end(task))
        self.changed.emit()
        task.begin()
        return True

    def stop(self) -> None:
        """Ask the work to stop: it ends with nothing, or with the best so far."""
        if self._task is not None:
            self._task.stop()

    def _end(self, task: Task) -> None:
        """End with what is told: a thread that tidies up after it must not keep buttons grey beside what is shown."""
        if self._task is task:
            self._task = None
            self.changed.emit()


def at_rest(root: QObject) -> bool:
    """Return whether nothing is being worked out for any part of a window."""
    return not any(one.is_busy for one in root.findChildren(Aside))
