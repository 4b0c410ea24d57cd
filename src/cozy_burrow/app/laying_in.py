"""Laying things in: one that fits best, one that was dropped, or all of them arranged in the background."""

from __future__ import annotations

import time

from PySide6.QtCore import QObject, Signal

from cozy_burrow.app.tasks import Task
from cozy_burrow.app.workspace import Workspace
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.ground.arranging import Arranged, arranged
from cozy_burrow.core.ground.fitting import laid_in
from cozy_burrow.core.model.edits import item_of, lay_in
from cozy_burrow.core.model.records import Point, Project
from cozy_burrow.core.progress import Deadline

ARRANGE_SECONDS = 20.0


class LayingIn(QObject):
    """Puts things from the tray into the insert. `progressed` tells the share of the time, None at the end."""

    progressed = Signal(object)

    def __init__(self, workspace: Workspace, parent: QObject) -> None:
        super().__init__(parent)
        self.workspace = workspace
        self._task: Task | None = None

    @property
    def is_arranging(self) -> bool:
        """Whether a search is running."""
        return self._task is not None

    def lay_in_best(self, key: str) -> None:
        """Lay a thing from the tray where it fits best."""
        item_id, _, copy = key.rpartition("#")
        workspace = self.workspace
        item = item_of(workspace.project, item_id)
        laid = laid_in(workspace.project, workspace.insert_id, item, int(copy))
        if laid is None:
            self.workspace.said.emit(
                f"There is no room left for ‘{item.name}’ that keeps walls and edges; drag it to see why"
            )
            return
        workspace.do(f"Lay ‘{item.name}’ in", laid)
        workspace.select((key,))

    def drop(self, key: str, at: Point) -> None:
        """Lay a thing from the tray at a point of the plan."""
        item_id = key.rpartition("#")[0]
        workspace = self.workspace
        try:
            project = lay_in(
                workspace.project, workspace.insert_id, item_id, x_mm=round(at[0], 1), y_mm=round(at[1], 1)
            )
        except UnusableInput as error:
            self.workspace.said.emit(error.sentence())
            return
        workspace.do(f"Lay ‘{item_of(project, item_id).name}’ in", project)
        workspace.select((workspace.insert.placements[-1].id,))

    def arrange(self) -> None:
        """Arrange everything that is not locked, off this thread."""
        if self._task is not None:
            return
        workspace = self.workspace
        before, insert_id = workspace.project, workspace.insert_id
        if not before.items:
            self.workspace.said.emit("Gather things first")
            return
        seed = len(workspace.history.steps)

        def work(token: object) -> Arranged:
            deadline = Deadline(ARRANGE_SECONDS, inner=token)  # type: ignore[arg-type]
            return arranged(before, insert_id, seed=seed, token=deadline)

        task = Task(work, self)
        self._task = task
        begin = time.monotonic()
        task.progressed.connect(lambda _: self.progressed.emit(min(1.0, (time.monotonic() - begin) / ARRANGE_SECONDS)))
        task.done.connect(lambda result: self._take_arranged(before, result))
        task.failed.connect(self._hear_failure)
        task.finished.connect(self._end_task)
        self.progressed.emit(0.0)
        task.begin()

    def stop(self) -> None:
        """Stop the search; the best so far is kept."""
        if self._task is not None:
            self._task.stop()

    def _take_arranged(self, before: Project, result: Arranged) -> None:
        if self.workspace.project is not before:
            self.workspace.said.emit("The plan was changed meanwhile, so the arrangement was dropped; arrange again")
            return
        self.workspace.do("Arrange", result.project)
        if result.left_over:
            self.workspace.said.emit(f"{len(result.left_over)} things found no room; the care list names them")

    def _hear_failure(self, error: Exception) -> None:
        raise error  # on the interface's thread, where the crash guard keeps the work

    def _end_task(self) -> None:
        self._task = None
        self.progressed.emit(None)
