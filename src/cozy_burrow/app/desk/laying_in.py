"""Laying things in: one where it fits best, one where it was dropped."""

from __future__ import annotations

from PySide6.QtCore import QObject

from cozy_burrow.app.desk.aside import Aside
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.ground.fitting import laid_in
from cozy_burrow.core.model.edits import copy_of, insert_of, item_of, lay_in, placement_id, unplaced
from cozy_burrow.core.model.records import Point, Project
from cozy_burrow.core.tongue import tr


class LayingIn(QObject):
    """Puts things from the tray into the insert."""

    def __init__(self, workspace: Workspace, parent: QObject) -> None:
        super().__init__(parent)
        self.workspace = workspace
        self.aside = Aside(workspace, self)
        self._waiting: list[tuple[int, str]] = []  # the document that each was asked for in, and the thing
        self.aside.changed.connect(self._go_on)

    def lay_in_best(self, key: str) -> None:
        """Lay a thing from the tray where it fits best, once those asked for before it lie."""
        self._waiting.append((self.workspace.opened_count, key))
        self._go_on()

    def _go_on(self) -> None:
        """Begin with the next that still waits for its place; what was laid in or taken away meanwhile does not."""
        while self._waiting and not self.aside.is_busy:
            document, key = self._waiting.pop(0)
            waits = {placement_id(item.id, copy) for item, copy in unplaced(self.workspace.project)}
            if document == self.workspace.opened_count and key in waits:
                self._begin(key)

    def _begin(self, key: str) -> None:
        workspace, insert_id = self.workspace, self.workspace.insert_id

        def work(project: Project) -> tuple[str, Project | None]:
            item, copy = copy_of(project, key)
            return item.name, laid_in(project, insert_id, item, copy)

        def done(found: tuple[str, Project | None]) -> None:
            name, laid = found
            if laid is None:
                room = tr("There is no room left for ‘{name}’ that keeps walls and edges", name=name)
                workspace.said.emit(tr("{room}; drag it to see why", room=room))
                return
            workspace.do(tr("Lay ‘{name}’ in", name=name), laid)
            workspace.select((key,))

        self.aside.run(work, done)

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
        laid = insert_of(project, workspace.insert_id).placements[-1].id
        workspace.do(tr("Lay ‘{name}’ in", name=item_of(project, item_id).name), project)
        workspace.select((laid,))  # a field that hears of the change and finishes may have taken it out again
